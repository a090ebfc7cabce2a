using Kivren.Core.Content;

namespace Kivren.Audit;

/// <summary>What <i>see</i> and <i>see also</i> must say: as written, except where an edition leaves out what they name. Then
/// they name the heading that it stands under, or nothing.</summary>
internal sealed class ExpectedSees
{
    private readonly HashSet<string> _manual = new(StringComparer.OrdinalIgnoreCase);
    private readonly HashSet<string> _edition = new(StringComparer.OrdinalIgnoreCase);

    public ExpectedSees(ExpectedText expected)
    {
        foreach (var block in expected.Manual.Divisions.SelectMany(d => d.Blocks).SelectMany(b => b.WithInner()))
        foreach (var entry in block.OwnSpans().SelectMany(Walk.Flat).OfType<IndexEntry>())
            AddTo(_manual, entry);
        // A heading that only points at what is left out is not there either, for those that point at it.
        var there = expected.Entries.Select(e => e.Entry).ToList();
        bool Falls(IndexEntry e) =>
            (e.See is { Length: > 0 } || e.SeeAlso is { Length: > 0 }) && Said(e.See) is null && Said(e.SeeAlso) is null;
        do
        {
            _edition.Clear();
            foreach (var entry in there)
                AddTo(_edition, entry);
        } while (there.RemoveAll(Falls) > 0);
    }

    private static void AddTo(HashSet<string> names, IndexEntry entry)
    {
        for (var level = 1; level <= entry.Headings.Count; level++)
            names.Add(string.Join(", ", entry.Headings.Take(level)));
    }

    /// <summary>What the index says for it here; null for nothing.</summary>
    public string? Said(string? see)
    {
        if (see is not { Length: > 0 })
            return null;
        var first = see.Split(',')[0];
        return _edition.Contains(see) || !(_manual.Contains(see) || _manual.Contains(first)) ? see
            : _edition.Contains(first) ? (_manual.Contains(see) ? first : see)
            : null;
    }
}
