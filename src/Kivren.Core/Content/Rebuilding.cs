namespace Kivren.Core.Content;

/// <summary>Makes a block anew with other identities or other spans, at every depth.</summary>
public static class Rebuilding
{
    /// <param name="id">the identity that takes the place of each identity of blocks, items, rows and cells</param>
    /// <param name="spans">what takes the place of each run of spans; atoms inside are its own matter</param>
    /// <param name="picture">the name that takes the place of each name of a picture in figures; null leaves them</param>
    /// <param name="program">what takes the place of the program text of each listing; null leaves it</param>
    public static Block Rebuilt(
        this Block block,
        Func<Id, Id> id,
        Func<IReadOnlyList<Inline>, IReadOnlyList<Inline>> spans,
        Func<string, string>? picture = null,
        Func<string, string>? program = null
    )
    {
        Block[] Blocks(IReadOnlyList<Block> blocks) => blocks.Select(b => b.Rebuilt(id, spans, picture, program)).ToArray();
        Item[] Items(IReadOnlyList<Item> items) => items.Select(i => i with { Id = id(i.Id), Blocks = Blocks(i.Blocks) }).ToArray();
        var named = block with { Id = id(block.Id) };
        return named switch
        {
            Paragraph p => p with { Content = spans(p.Content) },
            Head h => h with { Content = spans(h.Content) },
            Figure f => f with { Caption = spans(f.Caption), Asset = picture is null ? f.Asset : picture(f.Asset) },
            Listing l => l with { Caption = spans(l.Caption), Text = program is null ? l.Text : program(l.Text) },
            ItemList l => l with { Items = Items(l.Items) },
            Steps s => s with { Items = Items(s.Items) },
            DefinitionList d => d with
            {
                Definitions = d
                    .Definitions.Select(x => x with { Id = id(x.Id), Term = spans(x.Term), Blocks = Blocks(x.Blocks) })
                    .ToArray(),
            },
            ReferenceList r => r with { Documents = r.Documents.Select(x => x with { Id = id(x.Id), Title = spans(x.Title) }).ToArray() },
            Admonition a => a with { Blocks = Blocks(a.Blocks) },
            Aside a => a with { Title = spans(a.Title), Blocks = Blocks(a.Blocks) },
            Example e => e with { Title = spans(e.Title), Blocks = Blocks(e.Blocks) },
            Table t => t with
            {
                Caption = spans(t.Caption),
                Rows = t
                    .Rows.Select(r =>
                        r with
                        {
                            Id = id(r.Id),
                            Cells = r.Cells.Select(c => c with { Id = id(c.Id), Content = spans(c.Content) }).ToArray(),
                        }
                    )
                    .ToArray(),
            },
            _ => named,
        };
    }

    /// <summary>The block with its pictures under other names, in figures and in lines of text.</summary>
    public static Block WithPictures(this Block block, Func<string, string> picture)
    {
        IReadOnlyList<Inline> Spans(IReadOnlyList<Inline> spans) =>
            spans.Any(s => s is InlinePicture or Holding)
                ? spans
                    .Select(s =>
                        s switch
                        {
                            InlinePicture p => p with { Asset = picture(p.Asset) },
                            Holding h => h with { Content = Spans(h.Content) },
                            _ => s,
                        }
                    )
                    .ToArray()
                : spans;
        return block.Rebuilt(i => i, Spans, picture);
    }

    /// <summary>The block with other identities at every depth, of spans too, and other targets of references.</summary>
    public static Block Renamed(this Block block, Func<Id, Id> id, Func<Id, Id> target) =>
        block.Rebuilt(id, spans => spans.Select(s => s.Renamed(id, target)).ToArray());

    private static Inline Renamed(this Inline inline, Func<Id, Id> id, Func<Id, Id> target) =>
        inline switch
        {
            // What stands in another manual keeps its identity.
            CrossReference r => r with { Id = id(r.Id), Target = r.Other is null ? target(r.Target) : r.Target },
            IndexEntry e => e with { Id = id(e.Id) },
            Anchor a => a with { Id = id(a.Id) },
            InlineEquation e => e with { Id = id(e.Id) },
            InlinePicture p => p with { Id = id(p.Id) },
            WriterNote n => n with { Id = id(n.Id) },
            Holding h => h with { Id = id(h.Id), Content = h.Content.Select(i => i.Renamed(id, target)).ToArray() },
            _ => inline,
        };

    /// <summary>The block with every run of spans changed, identities as they are.</summary>
    public static Block WithSpans(this Block block, Func<IReadOnlyList<Inline>, IReadOnlyList<Inline>> spans) =>
        block.Rebuilt(i => i, spans);

    /// <summary>The block with the blocks directly inside it changed.</summary>
    public static Block WithInnerBlocks(this Block block, Func<IReadOnlyList<Block>, IReadOnlyList<Block>> change) =>
        block switch
        {
            ItemList l => l with { Items = l.Items.Select(i => i with { Blocks = change(i.Blocks) }).ToArray() },
            Steps s => s with { Items = s.Items.Select(i => i with { Blocks = change(i.Blocks) }).ToArray() },
            DefinitionList d => d with { Definitions = d.Definitions.Select(x => x with { Blocks = change(x.Blocks) }).ToArray() },
            Admonition a => a with { Blocks = change(a.Blocks) },
            Aside a => a with { Blocks = change(a.Blocks) },
            Example e => e with { Blocks = change(e.Blocks) },
            _ => block,
        };
}
