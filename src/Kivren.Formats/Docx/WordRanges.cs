using Kivren.Core.Content;
using Kivren.Formats.Import;

namespace Kivren.Formats.Docx;

/// <summary>Index entries that reach over a bookmark become ranges: one atom where it begins, one where it ends.</summary>
internal sealed class WordRanges(List<(string Bookmark, IndexEntry Entry)> ranges)
{
    /// <summary>Where a bookmark ends.</summary>
    public sealed record End(string Name) : SourceSpan;

    public List<SourceBlock> In(IReadOnlyList<SourceBlock> blocks) => blocks.Select(Block).ToList();

    private SourceBlock Block(SourceBlock block) =>
        block switch
        {
            SourceParagraph p => p with { Spans = Spans(p.Spans) },
            SourceTable t => t with
            {
                Rows = t.Rows.Select(r => new SourceRow(r.Cells.Select(c => c with { Blocks = In(c.Blocks) }).ToArray())).ToArray(),
            },
            SourceGroup g => g with { Blocks = In(g.Blocks) },
            _ => block,
        };

    private List<SourceSpan> Spans(IReadOnlyList<SourceSpan> spans)
    {
        var made = new List<SourceSpan>();
        foreach (var span in spans)
        {
            if (span is not End)
                made.Add(span);
            var (name, kind) = span switch
            {
                SourceBookmark b => (b.Name, EntryKind.RangeStart),
                End e => (e.Name, EntryKind.RangeEnd),
                _ => ("", EntryKind.Point),
            };
            for (var r = 0; r < ranges.Count && name.Length > 0; r++)
                if (ranges[r].Bookmark == name)
                    made.Add(new SourceAtom(ranges[r].Entry with { Id = new Id($"range-{r}"), Kind = kind }));
        }
        return made;
    }
}
