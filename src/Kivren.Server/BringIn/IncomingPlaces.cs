using Kivren.Core.Content;
using Kivren.Formats.Import;

namespace Kivren.Server.BringIn;

/// <summary>Where the blocks that come in stand in their files.</summary>
internal sealed class IncomingPlaces
{
    private readonly Dictionary<string, List<(int Place, int Block)>> _byFile = new(StringComparer.Ordinal);

    /// <param name="files">their names, as <see cref="Origin.File"/> counts them</param>
    public IncomingPlaces(Shaped shaped, IReadOnlyList<string> files)
    {
        var n = 0;
        foreach (var (division, _, block) in Listed(shaped))
        {
            var origin = OriginOf(block, block?.Id ?? division.Id, shaped);
            if (origin.Place > 0 && origin.File < files.Count)
            {
                if (!_byFile.TryGetValue(files[origin.File], out var places))
                    _byFile[files[origin.File]] = places = [];
                places.Add((origin.Place, n));
            }
            n++;
        }
        foreach (var places in _byFile.Values)
            places.Sort();
    }

    /// <summary>What comes in, in its order; a division's title stands first among its own.</summary>
    public static IEnumerable<(Division Division, int File, Block? Block)> Listed(Shaped shaped) =>
        shaped.Divisions.SelectMany((d, i) => d.Blocks.Select(b => (d, shaped.FileOf[i], (Block?)b)).Prepend((d, shaped.FileOf[i], null)));

    /// <summary>The block that a line of the report is about, or the last before it, as they are listed; -1 for none.</summary>
    public int BlockOf(ReportLine line)
    {
        if (line.Place == 0 || !_byFile.TryGetValue(line.File, out var places))
            return -1;
        var after = places.FindIndex(p => p.Place > line.Place);
        return after == 0 ? places[0].Block : places[after < 0 ? places.Count - 1 : after - 1].Block;
    }

    /// <summary>A list's own line is that of its first item.</summary>
    public static Origin OriginOf(Block? block, Id id, Shaped shaped)
    {
        if (shaped.Origins.TryGetValue(id, out var own) && own.Line.Length > 0)
            return own;
        if (block is not null)
            foreach (var inner in block.InnerBlocks())
                if (shaped.Origins.TryGetValue(inner.Id, out var first))
                    return first;
        return own;
    }
}
