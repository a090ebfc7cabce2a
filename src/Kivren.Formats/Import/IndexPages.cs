using System.Text.RegularExpressions;
using Kivren.Core.Content;

namespace Kivren.Formats.Import;

/// <summary>An index that a source has as a page of its own, whose terms lead to named places: each comes in as an entry at its
/// place, and the page itself is left out, for the manual makes its own.</summary>
internal static partial class IndexPages
{
    /// <summary>Fewer terms than this are a list of links.</summary>
    private const int Fewest = 8,
        Deepest = 3,
        LongestHeading = 200;

    [GeneratedRegex(
        @"^\W*(general |subject )?(index|stichwortverzeichnis|sachregister|register|sachwortverzeichnis|indice|índice)\b(?! of)",
        RegexOptions.IgnoreCase | RegexOptions.CultureInvariant
    )]
    private static partial Regex Named();

    private sealed record Term(string Target, string[] Heading);

    /// <summary>The documents, with what their indexes say put where they point.</summary>
    public static IReadOnlyList<SourceDocument> TakenIn(IReadOnlyList<SourceDocument> documents)
    {
        var terms = new Dictionary<string, List<Term>>(StringComparer.OrdinalIgnoreCase);
        var without = new Dictionary<SourceDocument, IReadOnlyList<SourceBlock>>(ReferenceEqualityComparer.Instance);
        void Take(IEnumerable<Term> own)
        {
            foreach (var term in own)
                if (terms.TryGetValue(term.Target, out var at))
                    at.Add(term);
                else
                    terms.Add(term.Target, [term]);
        }
        foreach (var document in documents)
            if (TermsOf(document) is { } all)
            {
                Take(all);
                without[document] = [new SourceGenerated(document.Blocks[0].Place, Generated.Index, document.Blocks.Words())];
            }
            else if (WithoutIndexes(document, Take) is { } rest)
                without[document] = rest;
        if (without.Count == 0)
            return documents;
        return
        [
            .. documents.Select(d =>
                d with
                {
                    Blocks = BesideHeads(
                        d,
                        [.. without.GetValueOrDefault(d, d.Blocks).Select(b => SourceWalk.WithSpans(b, s => Entered(d, s, terms)))]
                    ),
                }
            ),
        ];
    }

    /// <summary>Entries at the place of a head stand in the paragraph below it, where they are seen and stay.</summary>
    private static List<SourceBlock> BesideHeads(SourceDocument document, List<SourceBlock> blocks)
    {
        bool IsHead(SourceBlock block) => block is SourceParagraph p && document.Styles.GetValueOrDefault(p.Style)?.Level is not null;
        for (var b = 0; b + 1 < blocks.Count; b++)
            if (
                IsHead(blocks[b])
                && blocks[b] is SourceParagraph head
                && blocks[b + 1] is SourceParagraph text
                && !IsHead(text)
                && head.Spans.Any(s => s is SourceAtom { Inline: IndexEntry })
            )
            {
                blocks[b] = head with { Spans = [.. head.Spans.Where(s => s is not SourceAtom { Inline: IndexEntry })] };
                blocks[b + 1] = text with { Spans = [.. head.Spans.Where(s => s is SourceAtom { Inline: IndexEntry }), .. text.Spans] };
            }
        return blocks;
    }

    // ---- indexes that are sections of a page ----

    [GeneratedRegex(
        @"\b(index|indexes|indices|indexe|stichwortverzeichnis|sachregister|register|sachwortverzeichnis|indice|índice)\b",
        RegexOptions.IgnoreCase | RegexOptions.CultureInvariant
    )]
    private static partial Regex CalledIndex();

    /// <summary>The blocks with each section that is an index left out, its terms taken; null where there is none.</summary>
    private static List<SourceBlock>? WithoutIndexes(SourceDocument document, Action<IEnumerable<Term>> take)
    {
        var blocks = document.Blocks;
        int? LevelAt(int at) =>
            blocks[at] is SourceParagraph p && p.Spans.Words().Trim().Length > 0 ? document.Styles.GetValueOrDefault(p.Style)?.Level : null;
        int EndOf(int head, int level)
        {
            var end = head + 1;
            while (end < blocks.Count && !(LevelAt(end) is { } other && other <= level))
                end++;
            return end;
        }
        var gone = new bool[blocks.Count];
        var named = Enumerable
            .Range(0, blocks.Count)
            .Where(b => LevelAt(b) is not null && CalledIndex().IsMatch(((SourceParagraph)blocks[b]).Spans.Words()))
            .ToList();
        foreach (var head in named)
        {
            var end = head + 1;
            while (end < blocks.Count && LevelAt(end) is null)
                end++;
            var found = new List<Term>();
            for (var b = head + 1; b < end; b++)
                Gather(document, blocks[b], [], found);
            if (found.Count < Fewest || !IsOfLinks(blocks.Skip(head + 1).Take(end - head - 1)))
                continue;
            take(found);
            Array.Fill(gone, true, head, end - head);
        }
        if (!gone.Contains(true))
            return null;
        // What holds nothing but indexes, and a list of them, goes with them.
        foreach (var head in named.Where(h => !gone[h]))
        {
            var end = EndOf(head, LevelAt(head)!.Value);
            var rest = Enumerable.Range(head + 1, end - head - 1).Where(b => !gone[b]).Select(b => blocks[b]).ToList();
            if (rest.Count < end - head - 1 && (rest.Count == 0 || IsOfLinks(rest)))
                Array.Fill(gone, true, head, end - head);
        }
        var kept = new List<SourceBlock>();
        for (var b = 0; b < blocks.Count; b++)
            if (!gone[b])
                kept.Add(blocks[b]);
            else if (b == 0 || !gone[b - 1])
            {
                var end = b;
                while (end < blocks.Count && gone[end])
                    end++;
                kept.Add(new SourceGenerated(blocks[b].Place, Generated.Index, blocks.Skip(b).Take(end - b).Words()));
            }
        return kept;
    }

    /// <summary>Most lines of blocks are short and lead elsewhere.</summary>
    private static bool IsOfLinks(IEnumerable<SourceBlock> blocks)
    {
        const int longest = 100;
        int linked = 0,
            lines = 0,
            letters = 0;
        foreach (var spans in SourceWalk.Blocks(blocks).SelectMany(SourceWalk.Texts))
        {
            var length = spans.Words().Trim().Length;
            letters += length;
            lines += length > 0 ? 1 : 0;
            linked += spans.Any(s => s is SourceReference) ? 1 : 0;
        }
        return linked * 5 > lines * 3 && letters <= lines * longest;
    }

    private static IReadOnlyList<SourceSpan> Entered(
        SourceDocument document,
        IReadOnlyList<SourceSpan> spans,
        Dictionary<string, List<Term>> terms
    )
    {
        // What stands in a note is entered behind it: a note holds no entries, and stands on the page that it is called on.
        static IEnumerable<string> NamesOf(SourceSpan span) =>
            span switch
            {
                SourceBookmark mark => [mark.Name],
                SourceNote note => SourceWalk.Spans(note.Blocks).OfType<SourceBookmark>().Select(b => b.Name),
                _ => [],
            };
        if (!spans.Any(s => s is SourceBookmark or SourceNote))
            return spans;
        var entered = new List<SourceSpan>(spans.Count + 2);
        foreach (var span in spans)
        {
            entered.Add(span);
            // A place that was named twice takes its entries once.
            foreach (var name in NamesOf(span))
                if (terms.Remove(document.Full(name), out var here))
                    entered.AddRange(here.Select(t => new SourceAtom(new IndexEntry(Id.None, t.Heading))));
        }
        return entered;
    }

    /// <summary>The terms of a page that is an index; null for any other.</summary>
    private static List<Term>? TermsOf(SourceDocument document)
    {
        var head = document.Blocks.OfType<SourceParagraph>().Select(p => p.Spans.Words().Trim()).FirstOrDefault(w => w.Length > 0) ?? "";
        if (document.Blocks.Count == 0 || !(IsIndexName(document.Title) || IsIndexName(head)))
            return null;
        var found = new List<Term>();
        foreach (var block in document.Blocks)
            Gather(document, block, [], found);
        // Places under no word are of no use.
        found.RemoveAll(t => t.Heading.Length == 0);
        // Its words are those of its terms and links, but for letters and a few words about it.
        var (isNamed, linked, headings) = (Named().IsMatch(head), LinkedLetters(document.Blocks), found.Sum(t => t.Heading[^1].Length));
        var told = isNamed ? Math.Max(headings, linked) : headings + linked;
        // A page that is called nothing but the index may say more of each term: what it is, and in what.
        return found.Count >= Fewest && told * (isNamed ? 3 : 2) > document.Blocks.Words().Length ? found : null;
    }

    /// <summary>“Index”, “Concept Index”, “Chapter 63 - Concept Index”; not “Index of pages”.</summary>
    public static bool IsIndexName(string title) => Named().IsMatch(title) || (title.Length < LongestName && EndsAsIndex().IsMatch(title));

    private const int LongestName = 60;

    [GeneratedRegex(
        @"\b(index|indexes|indices|stichwortverzeichnis|sachregister|register|indice|índice)\W*$",
        RegexOptions.IgnoreCase | RegexOptions.CultureInvariant
    )]
    private static partial Regex EndsAsIndex();

    private static int LinkedLetters(IEnumerable<SourceBlock> blocks) =>
        SourceWalk.Spans(blocks).OfType<SourceReference>().Sum(r => r.Words.Length);

    private static void Gather(SourceDocument document, SourceBlock block, string[] under, List<Term> found)
    {
        switch (block)
        {
            case SourceList list:
                foreach (var item in list.Items)
                {
                    var path = under;
                    foreach (var inner in item.Blocks)
                        if (inner is SourceParagraph line)
                            path = Line(document, line.Spans, under, found);
                        else
                            Gather(document, inner, path, found);
                }
                break;
            case SourceDefinitions definitions:
                foreach (var definition in definitions.Definitions)
                {
                    var path = Line(document, definition.Term, under, found);
                    foreach (var inner in definition.Blocks)
                        if (inner is SourceParagraph p && IsPlaces(definition, p))
                            found.AddRange(Places(document, p.Spans, path));
                        else
                            Gather(document, inner, path, found);
                }
                break;
            case SourceTable table:
                foreach (var row in table.Rows)
                {
                    // A row of lines is a term and where it stands; of other blocks, columns of terms.
                    var cells = row.Cells.Where(c => c.Blocks.Count > 0).ToList();
                    var lines = cells.TrueForAll(c => c.Blocks.All(b => b is SourceParagraph));
                    var linked = cells.Where(c => c.Blocks.OfType<SourceParagraph>().Any(p => p.Spans.Any(s => s is SourceReference)));
                    foreach (var inner in (lines ? linked.Take(1) : cells).SelectMany(c => c.Blocks))
                        Gather(document, inner, under, found);
                }
                break;
            case SourceGroup group:
                foreach (var inner in group.Blocks)
                    Gather(document, inner, under, found);
                break;
            case SourceParagraph paragraph when paragraph.Spans.Any(s => s is SourceReference):
                Line(document, paragraph.Spans, under, found);
                break;
        }
    }

    /// <summary>One line of the index: its words are a heading, each of its links a place. What stands in the lines under it stands
    /// under that heading.</summary>
    private static string[] Line(SourceDocument document, IReadOnlyList<SourceSpan> spans, string[] under, List<Term> found)
    {
        var links = spans.OfType<SourceReference>().ToList();
        // “drum, Winch”: the link says where; “drum”: it is the term itself.
        var before = spans.TakeWhile(s => s is not SourceReference).ToList().Words().Trim().TrimEnd(',', ':', '–', '—').Trim();
        var words = links.Count == 0 || before.Any(char.IsLetter) ? before : links[0].Words.Trim().TrimEnd(',', ':').Trim();
        if (words.Length is 0 or > LongestHeading)
            return under;
        string[] path = under.Length < Deepest ? [.. under, words] : under;
        found.AddRange(Places(document, links, path));
        return path;
    }

    private static IEnumerable<Term> Places(SourceDocument document, IEnumerable<SourceSpan> spans, string[] heading) =>
        spans
            .OfType<SourceReference>()
            .Where(l => l.Target.Length > 0 && !l.Target.EndsWith('#'))
            .Select(l => new Term(document.Full(l.Target), heading));

    /// <summary>Under a term that leads nowhere itself, a line of nothing but links says where the term stands.</summary>
    private static bool IsPlaces(SourceDefinition definition, SourceParagraph line) =>
        definition.Term.All(s => s is not SourceReference)
        && line.Spans.Any(s => s is SourceReference)
        && !line.Spans.Where(s => s is not SourceReference).ToList().Words().Any(char.IsLetter);
}
