using System.Collections.Concurrent;
using System.IO.Hashing;
using System.Runtime.InteropServices;

namespace Kivren.Core.Composition;

/// <summary>Where a page begins, and its side.</summary>
internal readonly record struct PageState(PageStart Start, int Side);

/// <summary>Turns found before, by the shape of their galley. Cutting reads heights, spaces and keeps, not words: where a
/// reference prints another number and its line stays a line, the pages turn where they turned.</summary>
internal sealed class KnownTurns
{
    /// <summary>Stretches whose turns are kept before those of long ago are dropped.</summary>
    private const int Most = 4_000;

    private ConcurrentDictionary<UInt128, Turns> _kept = [];

    public sealed record Turns(IReadOnlyList<PageState> Path, long Cost);

    public Turns Of(Galley galley, bool onRecto, Func<Turns> find)
    {
        if (_kept.Count > Most)
            _kept = [];
        var shape = Shape(galley, onRecto);
        if (_kept.TryGetValue(shape, out var known))
            return known;
        return _kept[shape] = find();
    }

    /// <summary>All of a galley that turns depend on.</summary>
    private static UInt128 Shape(Galley galley, bool onRecto)
    {
        var hash = new XxHash128();
        Span<int> values = stackalloc int[8];
        foreach (ref readonly var piece in galley.Pieces.AsSpan())
        {
            values[0] = piece.Height;
            values[1] = piece.Space;
            values[2] = (int)piece.Keep | ((int)piece.Floating << 8) | (piece.OnGrid ? 1 << 16 : 0) | (piece.Spans ? 1 << 17 : 0);
            values[3] = piece.Forced is { } forced ? (int)forced + 1 : 0;
            values[4] = piece.Header < 0 ? -1 : galley.Headers[piece.Header].Height;
            values[5] = piece.Plates?.Count ?? -1;
            values[6] = piece.Notes?.Count ?? 0;
            values[7] = onRecto ? 1 : 0;
            hash.Append(MemoryMarshal.AsBytes(values));
            if (piece.Notes is null)
                continue;
            foreach (var note in piece.Notes)
            {
                ReadOnlySpan<int> lines = [note.Lines.Count, note.Leading];
                hash.Append(MemoryMarshal.AsBytes(lines));
            }
        }
        return hash.GetCurrentHashAsUInt128();
    }
}
