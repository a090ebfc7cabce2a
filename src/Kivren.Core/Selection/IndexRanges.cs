using Kivren.Core.Content;

namespace Kivren.Core.Selection;

/// <summary>An index range that loses its end closes at the last block taken before it.</summary>
internal static class IndexRanges
{
    public static IReadOnlyList<Block> Close(IReadOnlyList<Block> whole, IReadOnlyList<Block> taken)
    {
        static IEnumerable<IndexEntry> Entries(Block block) => block.Inlines().OfType<IndexEntry>().Where(e => e.Kind != EntryKind.Point);
        var kept = taken.SelectMany(Entries).Select(e => (e.Id, e.Kind)).ToHashSet();
        var closed = taken as List<Block> ?? [.. taken];
        var last = -1;
        foreach (var block in whole)
        {
            var at = closed.FindIndex(Math.Max(0, last), b => b.Id == block.Id);
            if (at >= 0)
                last = at;
            foreach (
                var end in Entries(block)
                    .Where(e =>
                        e.Kind == EntryKind.RangeEnd
                        && kept.Contains((e.Id, EntryKind.RangeStart))
                        && !kept.Contains((e.Id, EntryKind.RangeEnd))
                    )
            )
                for (var b = last; b >= 0; b--)
                    if (WithEnd(closed[b], end) is { } with)
                    {
                        closed[b] = with;
                        break;
                    }
        }
        return closed;
    }

    private static Block? WithEnd(Block block, IndexEntry end) =>
        block switch
        {
            Paragraph p => p with { Content = [.. p.Content, end] },
            Head h => h with { Content = [.. h.Content, end] },
            _ => null,
        };
}
