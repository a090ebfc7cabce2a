using Kivren.Core.Content;

namespace Kivren.Formats.Import;

/// <summary>Puts new words into a block that stands, and keeps what the writer added to it: identities at every depth,
/// index entries, anchors, notes, references and conditions.</summary>
public static class Transplant
{
    /// <summary>The block with the words of another of its kind. Parts are matched by likeness; what has no match comes in
    /// with its own identity.</summary>
    public static Block Into(Block stands, Block words)
    {
        if (stands.GetType() != words.GetType())
            return words with { Id = stands.Id, AppliesTo = stands.AppliesTo };
        return (stands, words) switch
        {
            (Paragraph a, Paragraph b) => a with { Content = Spans(a.Content, b.Content) },
            (Head a, Head b) => a with { Level = b.Level, Content = Spans(a.Content, b.Content) },
            (Figure a, Figure b) => a with
            {
                Asset = b.Asset,
                Caption = Spans(a.Caption, b.Caption),
                Alternative = a.Alternative.Length > 0 ? a.Alternative : b.Alternative,
            },
            (Listing a, Listing b) => a with { Text = b.Text, Caption = Spans(a.Caption, b.Caption) },
            (Equation a, Equation b) => a with { Source = b.Source },
            (ItemList a, ItemList b) => a with { Items = Items(a.Items, b.Items) },
            (Steps a, Steps b) => a with { Items = Items(a.Items, b.Items) },
            (Admonition a, Admonition b) => a with { Kind = b.Kind, Blocks = Blocks(a.Blocks, b.Blocks) },
            (Aside a, Aside b) => a with { Title = Spans(a.Title, b.Title), Blocks = Blocks(a.Blocks, b.Blocks) },
            (Example a, Example b) => a with { Title = Spans(a.Title, b.Title), Blocks = Blocks(a.Blocks, b.Blocks) },
            (DefinitionList a, DefinitionList b) => a with
            {
                Definitions = Parts(
                    a.Definitions,
                    b.Definitions,
                    d => d.Term.PlainText() + Text(d.Blocks),
                    (x, y) => x with { Term = Spans(x.Term, y.Term), Blocks = Blocks(x.Blocks, y.Blocks) }
                ),
            },
            (Table a, Table b) => a with
            {
                HeaderRows = b.HeaderRows,
                Caption = Spans(a.Caption, b.Caption),
                Rows = Parts(a.Rows, b.Rows, r => string.Join('\u001f', r.Cells.Select(c => c.Content.PlainText())), Row),
            },
            _ => words with { Id = stands.Id, AppliesTo = stands.AppliesTo },
        };
    }

    private static Row Row(Row stands, Row words) =>
        stands with
        {
            Cells = words
                .Cells.Select(
                    (cell, i) =>
                        i < stands.Cells.Count
                            ? stands.Cells[i] with
                            {
                                Content = Spans(stands.Cells[i].Content, cell.Content),
                                ColumnSpan = cell.ColumnSpan,
                                RowSpan = cell.RowSpan,
                            }
                            : cell
                )
                .ToArray(),
        };

    private static string Text(IReadOnlyList<Block> blocks) => string.Concat(blocks.Select(NewerVersion.TextOf));

    private static Item[] Items(IReadOnlyList<Item> stands, IReadOnlyList<Item> words) =>
        Parts(stands, words, i => Text(i.Blocks), (a, b) => a with { Blocks = Blocks(a.Blocks, b.Blocks) });

    private static Block[] Blocks(IReadOnlyList<Block> stands, IReadOnlyList<Block> words)
    {
        var partner = NewerVersion.Match(
            stands.Select(NewerVersion.TextOf).ToArray(),
            words.Select(NewerVersion.TextOf).ToArray(),
            (o, n) => stands[o].GetType() == words[n].GetType()
        );
        // One for one of the same kind is a change, however far it goes.
        return words
            .Select(
                (b, n) =>
                    partner[n] >= 0 ? Into(stands[partner[n]], b)
                    : stands.Count == words.Count && stands[n].GetType() == b.GetType() && !partner.Contains(n) ? Into(stands[n], b)
                    : b
            )
            .ToArray();
    }

    private static T[] Parts<T>(IReadOnlyList<T> stands, IReadOnlyList<T> words, Func<T, string> text, Func<T, T, T> into)
    {
        var partner = NewerVersion.Match(stands.Select(text).ToArray(), words.Select(text).ToArray(), (_, _) => true);
        return words
            .Select(
                (part, n) =>
                    partner[n] >= 0 ? into(stands[partner[n]], part)
                    : stands.Count == words.Count && !partner.Contains(n) ? into(stands[n], part)
                    : part
            )
            .ToArray();
    }

    /// <summary>New words with the atoms of the old: each stands where the word before it stands now. Notes and references
    /// that the new words bring themselves are not doubled.</summary>
    public static IReadOnlyList<Inline> Spans(IReadOnlyList<Inline> stands, IReadOnlyList<Inline> words)
    {
        if (stands.PlainText() == words.PlainText() && stands.OfType<Footnote>().Count() == words.OfType<Footnote>().Count())
            return stands;
        var old = Tokens(stands);
        var tokens = Tokens(words);
        var partner = new Dictionary<int, int>();
        foreach (var (o, n) in Common(old, tokens))
            partner[o] = n;
        var inserts = new SortedDictionary<int, List<Inline>>();
        for (var o = 0; o < old.Count; o++)
        {
            if (old[o].Inline is TextRun || !Keeps(old[o].Inline, words))
                continue;
            // After the nearest word before it that still stands; at the beginning when none does.
            var at = 0;
            for (var before = o - 1; before >= 0; before--)
                if (partner.TryGetValue(before, out var n))
                {
                    at = n + 1;
                    break;
                }
            (inserts.TryGetValue(at, out var list) ? list : inserts[at] = []).Add(old[o].Inline);
        }
        var made = new List<Inline>();
        void Add(Inline inline)
        {
            if (
                inline is TextRun run
                && made.Count > 0
                && made[^1] is TextRun last
                && last.Roles == run.Roles
                && last.Web == run.Web
                && last.OwnRole == run.OwnRole
                && last.AppliesTo == run.AppliesTo
            )
                made[^1] = last with { Text = last.Text + run.Text };
            else
                made.Add(inline);
        }
        for (var n = 0; n <= tokens.Count; n++)
        {
            foreach (var kept in inserts.GetValueOrDefault(n) ?? [])
                Add(kept);
            if (n == tokens.Count)
                break;
            // A word that stays keeps the roles and conditions that the writer gave it.
            var from = partner.FirstOrDefault(p => p.Value == n, new KeyValuePair<int, int>(-1, -1)).Key;
            Add(
                from >= 0 && old[from].Inline is TextRun was && tokens[n].Inline is TextRun ? was
                : from >= 0 && old[from].Inline is not TextRun ? old[from].Inline
                : tokens[n].Inline
            );
        }
        return made;
    }

    private static bool Keeps(Inline atom, IReadOnlyList<Inline> words) =>
        atom switch
        {
            IndexEntry e => !words.OfType<IndexEntry>().Any(w => w.Headings.SequenceEqual(e.Headings) && w.Kind == e.Kind),
            Anchor or WriterNote or VariableUse or InlinePicture or InlineEquation => true,
            Footnote f => !words.OfType<Footnote>().Any(w => NewerVersion.Likeness(w.Content.PlainText(), f.Content.PlainText()) > .5),
            CrossReference r => !words.OfType<CrossReference>().Any(w => w.Target == r.Target),
            _ => false,
        };

    private readonly record struct Token(string Text, Inline Inline);

    private static List<Token> Tokens(IReadOnlyList<Inline> spans)
    {
        var tokens = new List<Token>();
        foreach (var span in spans)
            if (span is TextRun run)
            {
                var at = 0;
                for (var i = 1; i <= run.Text.Length; i++)
                    if (i == run.Text.Length || char.IsLetterOrDigit(run.Text[i]) != char.IsLetterOrDigit(run.Text[i - 1]))
                    {
                        tokens.Add(new Token(run.Text[at..i], run with { Text = run.Text[at..i] }));
                        at = i;
                    }
            }
            else
                tokens.Add(
                    new Token(
                        span is IndexEntry e ? "\u0001" + string.Join('\u0002', e.Headings)
                            : span is CrossReference r ? "\u0003" + r.Target.Value
                            : span is LineBreak ? "\u2028"
                            : "\u0004" + span.GetHashCode(),
                        span
                    )
                );
        return tokens;
    }

    private static IEnumerable<(int, int)> Common(List<Token> a, List<Token> b)
    {
        var length = new int[a.Count + 1, b.Count + 1];
        for (var i = a.Count - 1; i >= 0; i--)
        for (var j = b.Count - 1; j >= 0; j--)
            length[i, j] = a[i].Text == b[j].Text ? length[i + 1, j + 1] + 1 : Math.Max(length[i + 1, j], length[i, j + 1]);
        for (int i = 0, j = 0; i < a.Count && j < b.Count; )
            if (a[i].Text == b[j].Text)
                yield return (i++, j++);
            else if (length[i + 1, j] >= length[i, j + 1])
                i++;
            else
                j++;
    }
}
