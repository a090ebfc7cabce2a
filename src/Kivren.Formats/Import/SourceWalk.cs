namespace Kivren.Formats.Import;

/// <summary>All that stands in the blocks of a source, at every depth: the one place that knows what holds what.</summary>
internal static class SourceWalk
{
    /// <summary>The blocks and all that they hold, cells and items included, each before what it holds.</summary>
    public static IEnumerable<SourceBlock> Blocks(IEnumerable<SourceBlock> blocks) => blocks.SelectMany(b => Blocks(Held(b)).Prepend(b));

    /// <summary>The spans of all of them, and of their notes.</summary>
    public static IEnumerable<SourceSpan> Spans(IEnumerable<SourceBlock> blocks) =>
        Blocks(blocks)
            .SelectMany(Texts)
            .SelectMany(spans => spans)
            .SelectMany(s => s is SourceNote note ? Spans(note.Blocks).Prepend(s) : [s]);

    private static IEnumerable<SourceBlock> Held(SourceBlock block) =>
        block switch
        {
            SourceList l => l.Items.SelectMany(i => i.Blocks),
            SourceDefinitions d => d.Definitions.SelectMany(x => x.Blocks),
            SourceGroup g => g.Blocks,
            SourceTable t => t.Rows.SelectMany(r => r.Cells).SelectMany(c => c.Blocks),
            _ => [],
        };

    /// <summary>A block's own texts: what it says itself, its title or caption, its terms.</summary>
    public static IEnumerable<IReadOnlyList<SourceSpan>> Texts(SourceBlock block) =>
        block switch
        {
            SourceParagraph p => [p.Spans],
            SourceDefinitions d => d.Definitions.Select(x => x.Term),
            SourceGroup g => [g.Title],
            SourceTable t => [t.Caption],
            SourcePicture f => [f.Caption],
            SourceListing l => [l.Caption],
            _ => [],
        };

    /// <summary>The block with all its runs of spans changed, at every depth.</summary>
    public static SourceBlock WithSpans(SourceBlock block, Func<IReadOnlyList<SourceSpan>, IReadOnlyList<SourceSpan>> change)
    {
        IReadOnlyList<SourceBlock> All(IReadOnlyList<SourceBlock> blocks) => [.. blocks.Select(b => WithSpans(b, change))];
        return block switch
        {
            SourceParagraph p => p with { Spans = change(p.Spans) },
            SourceList l => l with { Items = [.. l.Items.Select(i => new SourceItem(All(i.Blocks)))] },
            SourceDefinitions d => d with
            {
                Definitions = [.. d.Definitions.Select(x => x with { Term = change(x.Term), Blocks = All(x.Blocks) })],
            },
            SourceTable t => t with
            {
                Caption = change(t.Caption),
                Rows = [.. t.Rows.Select(r => new SourceRow([.. r.Cells.Select(c => c with { Blocks = All(c.Blocks) })]))],
            },
            SourcePicture p => p with { Caption = change(p.Caption) },
            SourceListing l => l with { Caption = change(l.Caption) },
            SourceGroup g => g with { Title = change(g.Title), Blocks = All(g.Blocks) },
            _ => block,
        };
    }
}
