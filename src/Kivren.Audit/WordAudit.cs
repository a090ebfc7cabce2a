using System.IO.Compression;
using System.Text;
using System.Text.RegularExpressions;
using System.Xml.Linq;
using Kivren.Core.Content;
using Kivren.Core.Selection;
using static Kivren.Audit.ShownText;

namespace Kivren.Audit;

/// <summary>Judges a word-processing file from outside (ISO/IEC 29500): its text against the manual's, its fields and links against what
/// they name. It knows nothing of how the file was made.</summary>
public static partial class WordAudit
{
    private const string Words = "blocks, each once and in order",
        LeftOut = "what is left out",
        Fields = "fields and links that arrive",
        Notes = "notes",
        Tables = "tables",
        Pictures = "pictures";

    private static readonly XNamespace W = "http://schemas.openxmlformats.org/wordprocessingml/2006/main",
        R = "http://schemas.openxmlformats.org/officeDocument/2006/relationships",
        Drawing = "http://schemas.openxmlformats.org/drawingml/2006/wordprocessingDrawing";

    /// <param name="look">the file of the look that it was composed in</param>
    public static AuditReport Audit(Stream file, Manual manual, Edition edition, string look)
    {
        var report = new AuditReport();
        using var zip = new ZipArchive(file, ZipArchiveMode.Read, leaveOpen: true);
        var document = Part(zip, "word/document.xml") ?? throw new InvalidDataException("It holds no document.");
        var notes = Part(zip, "word/footnotes.xml");
        var text = Selector.Select(manual, edition.For(Medium.Paper), rules: HouseRules.Of(look).Selecting);
        var body = Letters(TextOf(document));
        JudgeWords(text, body, report);
        JudgeLeftOut(manual, text, body, report);
        JudgeFields(document, Part(zip, "word/_rels/document.xml.rels"), report);
        JudgeNotes(text, document, notes, report);
        JudgeTables(text, document, report);
        JudgePictures(text, document, report);
        return report;
    }

    private static XElement? Part(ZipArchive zip, string path)
    {
        if (zip.GetEntry(path) is not { } entry)
            return null;
        using var stream = entry.Open();
        return XDocument.Load(stream).Root;
    }

    /// <summary>What a reader sees: words of runs and equations; instructions of fields are none.</summary>
    private static string TextOf(XElement part) =>
        string.Concat(part.Descendants().Where(e => e.Name.LocalName == "t").Select(e => e.Value));

    // ---- words ----

    private static void JudgeWords(SelectedText text, string body, AuditReport report)
    {
        var from = 0;
        foreach (var division in text.Divisions)
        foreach (var block in division.Blocks)
        {
            // What is sorted when it is composed is judged piece by piece, wherever that stands.
            var isSorted = block.WithInner().Any(b => b is DefinitionList or ReferenceList);
            foreach (var words in Texts(block).Select(Letters).Where(w => w.Length > 0))
            {
                var at = body.IndexOf(words, isSorted ? 0 : from, StringComparison.Ordinal);
                report.Judge(Words, at >= 0, () =>
                    body.Contains(words, StringComparison.Ordinal)
                        ? $"{division.Title}: “{Short(words)}” stands before what it follows."
                        : $"{division.Title}: “{Short(words)}” is not there."
                );
                if (at >= 0 && !isSorted)
                    from = at + words.Length;
            }
        }
    }

    /// <summary>The texts of a block in the order in which the file has them: a picture stands over its caption, a caption over the rows
    /// or lines that it names. Notes stand apart, and what is computed is not of the text.</summary>
    private static IEnumerable<string> Texts(Block block)
    {
        if (block is ContentsList or IndexList)
            yield break;
        if (block is Listing listing)
        {
            foreach (var run in listing.Caption.OfType<TextRun>())
                yield return run.Text;
            yield return listing.Text;
            yield break;
        }
        if (block is Table table)
            foreach (var run in table.Caption.OfType<TextRun>())
                yield return run.Text;
        var own = block is Table of ? of.Rows.SelectMany(r => r.Cells).Select(c => c.Content) : block.OwnSpans();
        foreach (var run in own.SelectMany(s => s.OfType<TextRun>()))
            yield return run.Text;
        foreach (var inner in block.InnerBlocks().SelectMany(Texts))
            yield return inner;
    }

    // ---- what is left out ----

    /// <summary>Shorter texts may well stand in the file for another reason.</summary>
    private const int TellingLetters = 30;

    private static void JudgeLeftOut(Manual manual, SelectedText text, string body, AuditReport report)
    {
        var taken = text.Divisions.SelectMany(d => d.Blocks).SelectMany(b => b.WithInner()).Select(b => Kept(b.Id)).ToHashSet();
        var said = Letters(string.Concat(text.Divisions.SelectMany(d => d.Blocks).SelectMany(b => b.WithInner()).SelectMany(Texts)));
        foreach (var division in manual.Divisions)
        foreach (var block in division.Blocks.SelectMany(b => b.WithInner()).OfType<Paragraph>())
            if (
                !taken.Contains(block.Id)
                && Letters(string.Concat(block.Content.OfType<TextRun>().Select(r => r.Text))) is { Length: >= TellingLetters } words
                && !said.Contains(words, StringComparison.Ordinal)
            )
                report.Judge(LeftOut, !body.Contains(words, StringComparison.Ordinal), () =>
                    $"{division.Title}: “{Short(words)}” is left out of the edition and is there."
                );
    }

    /// <summary>A block of a passage has the passage's own id behind that of its use.</summary>
    private static Id Kept(Id id) => new(id.Value[(id.Value.LastIndexOf('/') + 1)..]);

    // ---- fields, links ----

    private static void JudgeFields(XElement document, XElement? relations, AuditReport report)
    {
        var marks = document.Descendants(W + "bookmarkStart").Select(b => (string?)b.Attribute(W + "name") ?? "").ToList();
        report.Judge(Fields, marks.Distinct(StringComparer.OrdinalIgnoreCase).Count() == marks.Count, () => "A bookmark stands twice.");
        var there = marks.ToHashSet(StringComparer.OrdinalIgnoreCase);
        foreach (var instruction in document.Descendants(W + "instrText").Select(i => i.Value.Trim()))
            if (Points().Match(instruction) is { Success: true } points)
                report.Judge(Fields, there.Contains(points.Groups["name"].Value), () =>
                    $"The field “{instruction}” names no place of the file."
                );
        foreach (var link in document.Descendants(W + "hyperlink"))
        {
            if ((string?)link.Attribute(W + "anchor") is { } anchor)
                report.Judge(Fields, there.Contains(anchor), () => $"“{Short(link.Value)}” leads to “{anchor}”, which is not there.");
            if ((string?)link.Attribute(R + "id") is { } id)
                report.Judge(Fields, relations?.Elements().Any(r => (string?)r.Attribute("Id") == id) == true, () =>
                    $"“{Short(link.Value)}” leads nowhere."
                );
        }
        // A reader opens the file and sees what each field comes to, before anything is computed anew.
        foreach (var begun in document.Descendants(W + "p"))
            report.Judge(
                Fields,
                begun.Descendants(W + "fldChar").Count(f => (string?)f.Attribute(W + "fldCharType") == "begin")
                    <= begun.Descendants(W + "fldChar").Count(f => (string?)f.Attribute(W + "fldCharType") == "separate")
                        + begun.Descendants(W + "instrText").Count(i => i.Value.TrimStart().StartsWith("XE", StringComparison.Ordinal)),
                () => $"“{Short(begun.Value)}” has a field that shows nothing."
            );
    }

    [GeneratedRegex(@"^(REF|PAGEREF|NOTEREF)\s+(?<name>\S+)", RegexOptions.CultureInvariant)]
    private static partial Regex Points();

    // ---- notes, tables, pictures ----

    private static void JudgeNotes(SelectedText text, XElement document, XElement? part, AuditReport report)
    {
        var kept = part?.Elements(W + "footnote").ToDictionary(n => (string)n.Attribute(W + "id")!, n => Letters(TextOf(n))) ?? [];
        var called = document
            .Descendants(W + "footnoteReference")
            .Select(c => kept.GetValueOrDefault((string)c.Attribute(W + "id")!, ""))
            .ToList();
        foreach (var note in text.Divisions.SelectMany(d => d.Blocks).SelectMany(b => b.Inlines()).OfType<Footnote>())
        {
            var words = note.Content.OfType<TextRun>().Select(r => Letters(r.Text)).Where(w => w.Length > 0).ToList();
            report.Judge(
                Notes,
                words.Count == 0 || called.Exists(c => words.TrueForAll(w => c.Contains(w, StringComparison.Ordinal))),
                () => $"The note “{Short(note.Content.PlainText())}” is called nowhere."
            );
        }
    }

    private static void JudgeTables(SelectedText text, XElement document, AuditReport report)
    {
        var tables = text
            .Divisions.SelectMany(d => d.Blocks)
            .SelectMany(b => b.WithInner())
            .OfType<Table>()
            .Where(t => t.Rows.Count > 0)
            .ToList();
        var found = document.Descendants(W + "tbl").ToList();
        report.Judge(Tables, tables.Count == found.Count, () => $"There are {found.Count} tables; there should be {tables.Count}.");
        foreach (var (table, own) in tables.Zip(found))
        {
            report.Judge(Tables, own.Elements(W + "tr").Count() == table.Rows.Count, () =>
                $"“{Short(table.Caption.PlainText())}” has {own.Elements(W + "tr").Count()} rows; it should have {table.Rows.Count}."
            );
            report.Judge(Tables, own.Descendants(W + "tblHeader").Count() == Math.Min(table.HeaderRows, table.Rows.Count), () =>
                $"The header rows of “{Short(table.Caption.PlainText())}” are not marked as such."
            );
        }
    }

    private static void JudgePictures(SelectedText text, XElement document, AuditReport report)
    {
        var shown = document
            .Descendants(Drawing + "docPr")
            .Select(d => (string?)d.Attribute("descr") ?? "")
            .ToHashSet(StringComparer.Ordinal);
        foreach (var figure in text.Divisions.SelectMany(d => d.Blocks).SelectMany(b => b.WithInner()).OfType<Figure>())
            if (text.Manual.Assets.Any(a => a.Name == figure.Asset && a is { Width: > 0, Height: > 0 }))
                report.Judge(Pictures, shown.Contains(figure.Alternative), () =>
                    $"The picture “{figure.Asset}” is not there, or does not have its alternative text."
                );
    }
}
