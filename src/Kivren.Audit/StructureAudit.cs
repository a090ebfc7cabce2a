using Kivren.Core.Content;
using UglyToad.PdfPig;
using UglyToad.PdfPig.Tokens;

namespace Kivren.Audit;

/// <summary>Judges what the file says to those who hear it (PDF/UA-1, ISO 14289-1): its structure, read from the raw
/// dictionaries.</summary>
internal sealed class StructureAudit
{
    private const string Structure = "structure for reading aloud";

    private readonly PdfDocument _document;
    private readonly AuditReport _report;
    private readonly Dictionary<string, int> _counts = new(StringComparer.Ordinal);
    private readonly List<string> _alternatives = [];
    private int _level;

    private StructureAudit(PdfDocument document, AuditReport report) => (_document, _report) = (document, report);

    public static void Judge(string pdf, ExpectedText expected, IReadOnlyList<PrintedPage> pages, AuditReport report)
    {
        using var document = PdfDocument.Open(pdf);
        new StructureAudit(document, report).Run(expected, pages);
    }

    private void Run(ExpectedText expected, IReadOnlyList<PrintedPage> pages)
    {
        var catalog = _document.Structure.Catalog.CatalogDictionary;
        _report.Judge(
            Structure,
            Get(catalog, "MarkInfo") is DictionaryToken mark && Get(mark, "Marked") is BooleanToken { Data: true },
            () => "The file does not say that it is tagged."
        );
        _report.Judge(Structure, Get(catalog, "Lang") is not null, () => "The file does not say its language.");
        if (Get(catalog, "StructTreeRoot") is not DictionaryToken root)
        {
            _report.Judge(Structure, false, () => "The file has no structure tree.");
            return;
        }
        Walk(root, 0);
        foreach (var page in pages)
            _report.Judge(Structure, page.Untagged == 0, () =>
                $"Page {page.Label} has {page.Untagged} letters that are neither text nor furniture."
            );
        var blocks = expected.Divisions.SelectMany(d => d.Division.Blocks).SelectMany(b => b.WithInner()).ToList();
        Count("Table", blocks.OfType<Table>().Count(t => t.Rows.Count > 0));
        Count(
            "Figure",
            blocks.OfType<Figure>().Count()
                + blocks.SelectMany(b => b.OwnSpans()).SelectMany(Core.Content.Walk.Flat).OfType<InlinePicture>().Count()
        );
        Count(
            "TH",
            blocks
                .OfType<Table>()
                .Sum(t =>
                    t.Rows.Select(
                            (r, i) => r.Cells.Select((c, k) => (Cell: c, IsHead: i < t.HeaderRows || (t.HeaderColumn && k == 0) || r.Group))
                        )
                        .Sum(row => row.Count(c => c.IsHead && c.Cell.Content.PlainText().Trim().Length > 0))
                )
        );
        foreach (var said in expected.Alternatives.Where(a => a.Length > 0).Distinct())
            _report.Judge(Structure, _alternatives.Contains(said), () => $"“{said}” is said by no figure or equation of the file.");
    }

    private void Count(string type, int least) =>
        _report.Judge(Structure, _counts.GetValueOrDefault(type) >= least, () =>
            $"The text has {least} elements that must be {type}; the file has {_counts.GetValueOrDefault(type)}."
        );

    private IToken? Get(DictionaryToken dictionary, string name) =>
        dictionary.TryGet(NameToken.Create(name), out var token) ? Resolve(token) : null;

    private IToken Resolve(IToken token) =>
        token is IndirectReferenceToken reference ? _document.Structure.GetObject(reference.Data).Data : token;

    private void Walk(DictionaryToken element, int depth)
    {
        if (depth > 100)
            return;
        if (Get(element, "S") is NameToken type)
            Element(type.Data, element);
        if (Get(element, "K") is not { } kids)
            return;
        foreach (var kid in kids is ArrayToken array ? array.Data.Select(Resolve) : [kids])
            if (kid is DictionaryToken child && (Get(child, "S") is not null || depth == 0))
                Walk(child, depth + 1);
    }

    private void Element(string type, DictionaryToken element)
    {
        _counts[type] = _counts.GetValueOrDefault(type) + 1;
        if (type is "Figure" or "Formula")
        {
            var alternative = Get(element, "Alt") switch
            {
                StringToken s => s.Data,
                HexToken h => h.Data,
                _ => "",
            };
            _alternatives.Add(alternative);
            _report.Judge(Structure, alternative.Length > 0, () =>
                $"A {type.ToLowerInvariant()} has no words for those who cannot see it."
            );
        }
        if (type.Length == 2 && type[0] == 'H' && char.IsAsciiDigit(type[1]))
        {
            var level = type[1] - '0';
            _report.Judge(Structure, level <= _level + 1, () =>
                $"A head of level {level} follows one of level {_level}: levels are skipped."
            );
            _level = level;
        }
    }
}
