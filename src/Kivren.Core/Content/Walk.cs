using System.Text;

namespace Kivren.Core.Content;

/// <summary>Ways through the tree of blocks and spans.</summary>
public static class Walk
{
    /// <summary>The block and all blocks inside it, in the order they are read.</summary>
    public static IEnumerable<Block> WithInner(this Block block)
    {
        yield return block;
        foreach (var inner in block.InnerBlocks())
        foreach (var b in inner.WithInner())
            yield return b;
    }

    public static IEnumerable<Block> InnerBlocks(this Block block) =>
        block switch
        {
            ItemList list => list.Items.SelectMany(i => i.Blocks),
            Steps steps => steps.Items.SelectMany(i => i.Blocks),
            Admonition admonition => admonition.Blocks,
            Aside aside => aside.Blocks,
            Example example => example.Blocks,
            DefinitionList list => list.Definitions.SelectMany(d => d.Blocks),
            _ => [],
        };

    /// <summary>The runs of spans that belong to this block itself, not to blocks inside it, in reading order.</summary>
    public static IEnumerable<IReadOnlyList<Inline>> OwnSpans(this Block block) =>
        block switch
        {
            Paragraph p => [p.Content],
            Head h => [h.Content],
            Figure f => [f.Caption],
            Listing l => [l.Caption],
            Aside a => [a.Title],
            Example e => [e.Title],
            DefinitionList d => d.Definitions.Select(x => x.Term),
            ReferenceList r => r.Documents.Select(x => x.Title),
            Table t => t.Rows.SelectMany(r => r.Cells).Select(c => c.Content).Prepend(t.Caption),
            _ => [],
        };

    /// <summary>Parts of a figure's picture that lead somewhere, in the order of their numbers.</summary>
    public static IEnumerable<FigureArea> Areas(this Figure figure) => figure.Caption.OfType<FigureArea>();

    /// <summary>Every inline of the block and of the blocks inside it; one that holds words is followed by them.</summary>
    public static IEnumerable<Inline> Inlines(this Block block) => block.WithInner().SelectMany(b => b.OwnSpans()).SelectMany(Flat);

    public static IEnumerable<Inline> Flat(IReadOnlyList<Inline> spans)
    {
        foreach (var inline in spans)
        {
            yield return inline;
            if (inline is Holding holding)
                foreach (var inner in Flat(holding.Content))
                    yield return inner;
        }
    }

    /// <summary>The identity of a span; none of text, variables and line breaks, which have none.</summary>
    public static Id IdOf(Inline inline) =>
        inline switch
        {
            CrossReference r => r.Id,
            IndexEntry e => e.Id,
            Anchor a => a.Id,
            InlineEquation e => e.Id,
            InlinePicture p => p.Id,
            WriterNote n => n.Id,
            Holding h => h.Id,
            _ => Id.None,
        };

    /// <summary>The typed words alone: no atoms, no notes.</summary>
    public static string PlainText(this IReadOnlyList<Inline> spans)
    {
        if (spans.Count == 1 && spans[0] is TextRun only)
            return only.Text;
        var text = new StringBuilder();
        foreach (var inline in spans)
            if (inline is TextRun run)
                text.Append(run.Text);
            else if (inline is LineBreak)
                text.Append(' ');
        return text.ToString();
    }
}
