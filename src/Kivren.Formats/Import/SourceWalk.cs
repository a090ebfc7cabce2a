namespace Kivren.Formats.Import;

/// <summary>All that stands in the blocks of a source, at every depth.</summary>
internal static class SourceWalk
{
    public static IEnumerable<SourceSpan> Spans(IEnumerable<SourceBlock> blocks) =>
        blocks.SelectMany(b =>
            b switch
            {
                SourceParagraph p => p.Spans,
                SourceList l => Spans(l.Items.SelectMany(i => i.Blocks)),
                SourceDefinitions d => d.Definitions.SelectMany(x => x.Term.Concat(Spans(x.Blocks))),
                SourceGroup g => g.Title.Concat(Spans(g.Blocks)),
                SourceTable t => t.Caption.Concat(Spans(t.Rows.SelectMany(r => r.Cells).SelectMany(c => c.Blocks))),
                SourcePicture f => f.Caption,
                SourceListing l => l.Caption,
                _ => (IEnumerable<SourceSpan>)[],
            }
        );
}
