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

    /// <summary>The documents, with what their index pages say put where it points.</summary>
    public static IReadOnlyList<SourceDocument> TakenIn(IReadOnlyList<SourceDocument> documents)
    {
        var terms = new Dictionary<string, List<Term>>(StringComparer.OrdinalIgnoreCase);
        var pages = new HashSet<SourceDocument>(ReferenceEqualityComparer.Instance);
        foreach (var document in documents)
            if (TermsOf(document) is { } own)
            {
                pages.Add(document);
                foreach (var term in own)
                    if (terms.TryGetValue(term.Target, out var at))
                        at.Add(term);
                    else
                        terms.Add(term.Target, [term]);
            }
        if (pages.Count == 0)
            return documents;
        return
        [
            .. documents.Select(d =>
                pages.Contains(d)
                    ? d with
                    {
                        Blocks = [new SourceGenerated(d.Blocks[0].Place, Generated.Index, d.Blocks.Words())],
                    }
                    : d with
                    {
                        Blocks = [.. d.Blocks.Select(b => WithSpans(b, s => Entered(d, s, terms)))],
                    }
            ),
        ];
    }

    private static IReadOnlyList<SourceSpan> Entered(
        SourceDocument document,
        IReadOnlyList<SourceSpan> spans,
        Dictionary<string, List<Term>> terms
    )
    {
        if (!spans.Any(s => s is SourceBookmark))
            return spans;
        var entered = new List<SourceSpan>(spans.Count + 2);
        foreach (var span in spans)
        {
            entered.Add(span);
            // A place that was named twice takes its entries once.
            if (span is SourceBookmark mark && terms.Remove(document.Full(mark.Name), out var here))
                entered.AddRange(here.Select(t => new SourceAtom(new IndexEntry(Id.None, t.Heading))));
        }
        return entered;
    }

    /// <summary>The terms of a page that is an index; null for any other.</summary>
    private static List<Term>? TermsOf(SourceDocument document)
    {
        var head = document.Blocks.OfType<SourceParagraph>().Select(p => p.Spans.Words().Trim()).FirstOrDefault(w => w.Length > 0) ?? "";
        if (document.Blocks.Count == 0 || !(Named().IsMatch(document.Title) || Named().IsMatch(head)))
            return null;
        var found = new List<Term>();
        foreach (var block in document.Blocks)
            Gather(document, block, [], found);
        // Its words are those of its terms, but for letters and a few words about it.
        var told = found.Sum(t => t.Heading[^1].Length);
        return found.Count >= Fewest && told * 2 > document.Blocks.Words().Length ? found : null;
    }

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
                        Gather(document, inner, path, found);
                }
                break;
            case SourceTable table:
                foreach (var inner in table.Rows.SelectMany(r => r.Cells).SelectMany(c => c.Blocks))
                    Gather(document, inner, under, found);
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
        var words = (links.Count > 0 ? links[0].Words : spans.Words()).Trim().TrimEnd(',', ':').Trim();
        if (words.Length is 0 or > LongestHeading)
            return under;
        string[] path = under.Length < Deepest ? [.. under, words] : under;
        foreach (var link in links)
            if (link.Target.Length > 0 && !link.Target.EndsWith('#'))
                found.Add(new Term(document.Full(link.Target), path));
        return path;
    }

    /// <summary>The block with all its runs of spans changed, at every depth.</summary>
    private static SourceBlock WithSpans(SourceBlock block, Func<IReadOnlyList<SourceSpan>, IReadOnlyList<SourceSpan>> change)
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
