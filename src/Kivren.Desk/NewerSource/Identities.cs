using Kivren.Core.Content;

namespace Kivren.Desk;

/// <summary>Which parts of the newer blocks are those of the earlier ones: blocks, items, rows, cells and spans are paired by
/// likeness, in order, each with one at most.</summary>
internal sealed class Identities
{
    private readonly Dictionary<Id, Id> _earlier = [];
    private readonly HashSet<Id> _given = [];

    /// <summary>The identity that a part of the newer version has from now on: the earlier one's, or its own.</summary>
    public Id Of(Id now) => _earlier.GetValueOrDefault(now, now);

    public void Pair(Block was, Block now)
    {
        Give(was.Id, now.Id);
        switch (was, now)
        {
            case (ItemList a, ItemList b):
                Parts(a.Items, b.Items, i => i.Id, i => Text(i.Blocks), (x, y) => Blocks(x.Blocks, y.Blocks));
                break;
            case (Steps a, Steps b):
                Parts(a.Items, b.Items, i => i.Id, i => Text(i.Blocks), (x, y) => Blocks(x.Blocks, y.Blocks));
                break;
            case (DefinitionList a, DefinitionList b):
                Parts(
                    a.Definitions,
                    b.Definitions,
                    d => d.Id,
                    d => d.Term.PlainText() + Text(d.Blocks),
                    (x, y) =>
                    {
                        Spans(x.Term, y.Term);
                        Blocks(x.Blocks, y.Blocks);
                    }
                );
                break;
            case (ReferenceList a, ReferenceList b):
                Parts(
                    a.Documents,
                    b.Documents,
                    d => d.Id,
                    d => d.Designation + ' ' + d.Title.PlainText(),
                    (x, y) => Spans(x.Title, y.Title)
                );
                break;
            case (Table a, Table b):
                Spans(a.Caption, b.Caption);
                Parts(
                    a.Rows,
                    b.Rows,
                    r => r.Id,
                    r => string.Join('\u001f', r.Cells.Select(c => c.Content.PlainText())),
                    (x, y) =>
                    {
                        foreach (var (cell, newer) in x.Cells.Zip(y.Cells))
                        {
                            Give(cell.Id, newer.Id);
                            Spans(cell.Content, newer.Content);
                        }
                    }
                );
                break;
            default:
                foreach (var (spans, newer) in was.OwnSpans().Zip(now.OwnSpans()))
                    Spans(spans, newer);
                Blocks(was.InnerBlocks().ToArray(), now.InnerBlocks().ToArray());
                break;
        }
    }

    private void Give(Id was, Id now)
    {
        if (!was.IsNone && !now.IsNone && !_earlier.ContainsKey(now) && _given.Add(was))
            _earlier[now] = was;
    }

    private static string Text(IReadOnlyList<Block> blocks) => string.Concat(blocks.Select(Likeness.TextOf));

    private void Blocks(IReadOnlyList<Block> was, IReadOnlyList<Block> now) =>
        Parts(was, now, b => b.Id, Likeness.TextOf, Pair, (a, b) => a.GetType() == b.GetType());

    /// <summary>Spans that have an identity: of one kind, the likest first; range ends follow their beginnings.</summary>
    private void Spans(IReadOnlyList<Inline> was, IReadOnlyList<Inline> now)
    {
        var named = (IReadOnlyList<Inline> spans) => spans.Where(s => !Walk.IdOf(s).IsNone).ToArray();
        Parts(
            named(was),
            named(now),
            Walk.IdOf,
            Named,
            (a, b) =>
            {
                if (a is Holding x && b is Holding y)
                    Spans(x.Content, y.Content);
            },
            (a, b) => a.GetType() == b.GetType()
        );
    }

    private static string Named(Inline span) =>
        span switch
        {
            CrossReference r => r.Form,
            IndexEntry e => $"{e.Kind} {string.Join(' ', e.Headings)}",
            Anchor a => a.Name,
            InlineEquation e => e.Source,
            InlinePicture p => p.Asset,
            WriterNote n => n.Text,
            Holding h => h.Content.PlainText(),
            _ => "",
        };

    private void Parts<T>(
        IReadOnlyList<T> was,
        IReadOnlyList<T> now,
        Func<T, Id> id,
        Func<T, string> text,
        Action<T, T> pair,
        Func<T, T, bool>? may = null
    )
    {
        var partner = Likeness.Match(was.Select(text).ToArray(), now.Select(text).ToArray(), (o, n) => may is null || may(was[o], now[n]));
        var paired = partner.Where(p => p >= 0).ToHashSet();
        for (var n = 0; n < now.Count; n++)
        {
            var o = partner[n];
            // One for one is a change, however far it goes.
            if (o < 0 && was.Count == now.Count && !paired.Contains(n) && (may is null || may(was[n], now[n])))
                o = n;
            if (o < 0)
                continue;
            Give(id(was[o]), id(now[n]));
            pair(was[o], now[n]);
        }
    }
}
