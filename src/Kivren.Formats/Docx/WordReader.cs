using System.Globalization;
using System.Text;
using System.Xml;
using System.Xml.Linq;
using DocumentFormat.OpenXml.Packaging;
using Kivren.Core.Content;
using Kivren.Formats.Import;

namespace Kivren.Formats.Docx;

/// <summary>Reads word-processor documents (Office Open XML, ISO/IEC 29500, transitional and strict).</summary>
public sealed class WordReader
{
    private const int MostDepth = 40;
    private const long EmuOfTwip = 635;

    /// <summary>A picture no higher than this stands in the line (English metric units: a quarter of an inch).</summary>
    private const long SmallPicture = 914_400 / 4;

    private readonly string _file;
    private readonly CancellationToken _cancel;
    private readonly Action<double>? _progress;
    private readonly Dictionary<string, byte[]> _pictures = new(StringComparer.Ordinal);
    private readonly List<ReportLine> _met = [];
    private readonly HashSet<string> _toldOnce = [];
    private readonly Dictionary<string, (string By, string Text)> _comments = new(StringComparer.Ordinal);
    private readonly Dictionary<string, XElement> _footnotes = new(StringComparer.Ordinal),
        _endnotes = new(StringComparer.Ordinal);
    private readonly List<WordField> _fields = [];
    private readonly List<(string Bookmark, IndexEntry Entry)> _ranges = [];
    private WordStyles _styles = new(null);
    private WordNumbering _numbering = new(null);
    private OpenXmlPart? _part,
        _footnotesPart,
        _endnotesPart;
    private int _place,
        _total = 1,
        _depth;

    /// <summary>Width of the source's lines in English metric units; that of a page of A4 unless it says so.</summary>
    private long _measure = 9026 * EmuOfTwip;
    private Tracked _tracked;
    private List<SourceSpan> _joined = [];

    private WordReader(string file, Action<double>? progress, CancellationToken cancel)
    {
        _file = file;
        _progress = progress;
        _cancel = cancel;
    }

    /// <param name="progress">told how much of the file is read, from 0 to 1</param>
    /// <exception cref="SourceFormatException">the file is no such document, protected, or has no text</exception>
    /// <exception cref="OperationCanceledException">when <paramref name="cancel"/> was asked for</exception>
    public static SourceDocument Read(string file, byte[] bytes, Action<double>? progress = null, CancellationToken cancel = default)
    {
        if (bytes.AsSpan().StartsWith((ReadOnlySpan<byte>)[0xD0, 0xCF, 0x11, 0xE0]))
            throw new SourceFormatException(
                $"{file} is protected by a password, or is of the old binary form. Open it in the program that made it, take the "
                    + $"password off or save it as .docx, and bring it in again."
            );
        ZipGuard.Check(file, bytes);
        try
        {
            return new WordReader(file, progress, cancel).Document(bytes);
        }
        catch (Exception e)
            when (e
                    is InvalidDataException
                        or OpenXmlPackageException
                        or XmlException
                        or FileFormatException
                        or IOException
                        or KeyNotFoundException
                        or InvalidOperationException
                        or ArgumentException
                        or UriFormatException
            )
        {
            throw new SourceFormatException($"{file} is damaged and cannot be read: {e.Message}");
        }
    }

    private SourceDocument Document(byte[] bytes)
    {
        WordprocessingDocument document;
        try
        {
            var (mended, missing) = MissingParts.Mended(bytes);
            foreach (var part in missing)
                if (part.EndsWith("document.xml", StringComparison.OrdinalIgnoreCase))
                    throw new SourceFormatException(
                        $"{_file} has no text: the part {part} is missing. Open and save it again in the program that made it."
                    );
                else
                    _met.Add(new ReportLine(ReportKind.Look, _file, $"The part {part} is missing from the file; the rest was read."));
            document = WordprocessingDocument.Open(new MemoryStream(mended), false);
        }
        catch (Exception e)
            when (e
                    is OpenXmlPackageException
                        or FileFormatException
                        or InvalidDataException
                        or XmlException
                        or ArgumentException
                        or InvalidOperationException
            )
        {
            throw new SourceFormatException($"{_file} is no word-processor document: {e.Message}");
        }
        using (document)
        {
            MainDocumentPart main;
            try
            {
                main = document.MainDocumentPart
                    ?? throw new SourceFormatException(
                        $"{_file} has no text: the part word/document.xml is missing. Open and save it again in the program that made it."
                    );
            }
            catch (Exception e) when (e is OpenXmlPackageException or XmlException or InvalidOperationException or KeyNotFoundException)
            {
                throw new SourceFormatException($"{_file} cannot be read: {e.Message}");
            }
            _part = main;
            var root = Root(main, "its text")
                ?? throw new SourceFormatException($"{_file} has no text that can be read: {_met.LastOrDefault()?.What}");
            _styles = new WordStyles(Root(Part(() => main.StyleDefinitionsPart), "its styles"));
            _numbering = new WordNumbering(Root(Part(() => main.NumberingDefinitionsPart), "its numbering"));
            Notes(Root(_footnotesPart = Part(() => main.FootnotesPart), "its footnotes"), _footnotes);
            Notes(Root(_endnotesPart = Part(() => main.EndnotesPart), "its endnotes"), _endnotes);
            foreach (var comment in Root(Part(() => main.WordprocessingCommentsPart), "its comments").Many("comment"))
                if (comment.Get("id") is { } id)
                    _comments[id] = (
                        comment.Get("author") ?? "",
                        string.Join(
                            "\n",
                            comment
                                .Descendants()
                                .Where(e => e.Name.LocalName == "p")
                                .Select(p => string.Concat(p.Descendants().Where(t => t.Name.LocalName == "t").Select(t => t.Value)))
                        )
                    );
            var body = root.One("body");
            _total = Math.Max(1, body?.Descendants().Count(e => e.Name.LocalName == "p") ?? 1);
            var section = body.One("sectPr");
            if (
                section.One("pgSz").Number("w") is { } paper
                && paper - (section.One("pgMar").Number("left") ?? 1440) - (section.One("pgMar").Number("right") ?? 1440)
                    is var measure
                        and > 1440
            )
                _measure = measure * EmuOfTwip;
            var blocks = Blocks(body);
            if (_ranges.Count > 0)
                blocks = new WordRanges(_ranges).In(blocks);
            Furniture(main);
            string? title = null;
            try
            {
                title = document.PackageProperties.Title;
            }
            catch (Exception e) when (e is XmlException or FormatException or IOException)
            {
                Tell(ReportKind.LeftOut, "The document's own title and author cannot be read and were left out.");
            }
            return new SourceDocument(_file, blocks)
            {
                Title = title?.Trim() ?? "",
                Language = LanguageOf(body),
                PlaceWord = "paragraph",
                Styles = _styles.Facts,
                Pictures = _pictures,
                Met = _met,
            };
        }
    }

    /// <summary>The language that most of the text says it is in; "" where none is said.</summary>
    private string LanguageOf(XElement? body)
    {
        var letters = new Dictionary<string, int>(StringComparer.OrdinalIgnoreCase);
        foreach (var run in (body?.Descendants() ?? []).Where(e => e.Name.LocalName == "r"))
        {
            var properties = run.One("rPr");
            var said = properties.On("rtl") ? properties.One("lang").Get("bidi") : properties.Val("lang");
            var language = said ?? _styles.Language ?? "";
            letters[language] =
                letters.GetValueOrDefault(language)
                + run.Elements().Where(t => t.Name.LocalName == "t").Sum(t => t.Value.Count(char.IsLetter));
        }
        return letters.OrderByDescending(l => l.Value).ThenBy(l => l.Key, StringComparer.Ordinal).Select(l => l.Key).FirstOrDefault("");
    }

    private static T? Part<T>(Func<T?> part)
        where T : OpenXmlPart
    {
        try
        {
            return part();
        }
        catch (Exception e) when (e is OpenXmlPackageException or InvalidOperationException or KeyNotFoundException or XmlException)
        {
            return null;
        }
    }

    private XElement? Root(OpenXmlPart? part, string what)
    {
        if (part is null)
            return null;
        try
        {
            using var stream = part.GetStream(FileMode.Open, FileAccess.Read);
            using var copy = new MemoryStream();
            stream.CopyTo(copy);
            try
            {
                using (var depth = Reader(copy))
                    NestingGuard.Xml(_file, depth);
                copy.Position = 0;
                return XDocument.Load(Reader(copy)).Root;
            }
            catch (XmlException e)
            {
                // What stands before the damage can be read; what is known to be written wrongly is mended first.
                var root = SalvagedXml.Read(copy.ToArray());
                if (root is null)
                    throw;
                _met.Add(
                    new ReportLine(
                        ReportKind.Look,
                        $"{_file}, {part.Uri}",
                        $"{char.ToUpperInvariant(what[0])}{what[1..]} is damaged: {e.Message} What could be read came in; compare "
                            + $"the end with the source."
                    )
                );
                return root;
            }
        }
        catch (Exception e)
            when (e is XmlException or InvalidDataException or IOException or InvalidOperationException or KeyNotFoundException)
        {
            _met.Add(
                new ReportLine(
                    ReportKind.LeftOut,
                    $"{_file}, {part.Uri}",
                    $"{char.ToUpperInvariant(what[0])}{what[1..]} cannot be read: {e.Message}"
                )
            );
            return null;
        }
    }

    private static XmlReader Reader(MemoryStream xml)
    {
        xml.Position = 0;
        return XmlReader.Create(
            xml,
            new XmlReaderSettings
            {
                DtdProcessing = DtdProcessing.Prohibit,
                XmlResolver = null,
                IgnoreComments = true,
                IgnoreProcessingInstructions = true,
            }
        );
    }

    private static void Notes(XElement? root, Dictionary<string, XElement> notes)
    {
        foreach (var note in root?.Elements() ?? [])
            if (note.Get("id") is { } id && note.Get("type") is null or "normal")
                notes[id] = note;
    }

    /// <summary>Running heads and feet are told of with their words: the look makes its own.</summary>
    private void Furniture(MainDocumentPart main)
    {
        foreach (var part in main.Parts.Select(p => p.OpenXmlPart).Where(p => p is HeaderPart or FooterPart))
        {
            var words = string.Join(
                    ' ',
                    Root(part, "a running head")?.Descendants().Where(t => t.Name.LocalName == "t").Select(t => t.Value) ?? []
                )
                .Trim();
            if (words.Length > 0)
                _met.Add(
                    new ReportLine(
                        ReportKind.LeftOut,
                        $"{_file}, {part.Uri}",
                        "A running head or foot was left out: the look makes them.",
                        words
                    )
                );
        }
    }

    private void Tell(ReportKind kind, string what, string words = "") =>
        _met.Add(ReportLine.At(kind, _file, "paragraph", Math.Max(1, _place), what, words));

    private void TellOnce(ReportKind kind, string what)
    {
        if (_toldOnce.Add(what))
            Tell(kind, what);
    }

    // ---- blocks ----

    private List<SourceBlock> Blocks(XElement? container)
    {
        var blocks = new List<SourceBlock>();
        if (container is null)
            return blocks;
        if (++_depth > MostDepth)
        {
            var words = string.Join(' ', container.Descendants().Where(t => t.Name.LocalName == "t").Select(t => t.Value));
            if (words.Length > 0)
            {
                Tell(ReportKind.Changed, $"What is nested more than {MostDepth} deep stands as one paragraph.");
                blocks.Add(new SourceParagraph(++_place, "", [new SourceRun(words)]));
            }
        }
        else
            foreach (var element in container.Elements())
                Block(element, blocks);
        _depth--;
        return blocks;
    }

    private void Block(XElement element, List<SourceBlock> blocks)
    {
        switch (element.Name.LocalName)
        {
            case "p":
                Paragraph(element, blocks);
                break;
            case "tbl":
                Table(element, blocks);
                break;
            case "sdt":
                ContentControl(element, blocks);
                break;
            case "ins" or "moveTo" or "del" or "moveFrom":
                var before = _tracked;
                _tracked = element.Name.LocalName is "ins" or "moveTo" ? Tracked.Inserted : Tracked.Deleted;
                foreach (var inner in element.Elements())
                    Block(inner, blocks);
                _tracked = before;
                break;
            case "customXml" or "smartTag":
                foreach (var inner in element.Elements())
                    Block(inner, blocks);
                break;
            case "AlternateContent":
                foreach (var inner in (element.One("Choice") ?? element.One("Fallback"))?.Elements() ?? [])
                    Block(inner, blocks);
                break;
            case "oMathPara":
                blocks.Add(new SourceEquation(++_place, LinearEquation.From(element), ""));
                break;
            case "bookmarkStart" when element.Get("name") is { } name && Visible(name):
                _joined.Add(new SourceBookmark(name));
                break;
            case "bookmarkEnd":
                break;
            case "altChunk":
                Tell(ReportKind.LeftOut, "Another document stands in this one, unread. Bring it in by itself.");
                break;
        }
    }

    private void ContentControl(XElement element, List<SourceBlock> blocks)
    {
        var content = element.One("sdtContent");
        var gallery = element.One("sdtPr").One("docPartObj").Val("docPartGallery") ?? "";
        if (
            gallery.Contains("Table of Contents", StringComparison.OrdinalIgnoreCase)
            || gallery.Contains("Index", StringComparison.OrdinalIgnoreCase)
        )
        {
            var words = string.Join(
                ' ',
                content
                    ?.Descendants()
                    .Where(e => e.Name.LocalName == "p")
                    .Select(p =>
                        string.Concat(
                            p.Descendants()
                                .Where(t => t.Name.LocalName is "t" or "tab")
                                .Select(t => t.Name.LocalName == "t" ? t.Value : " ")
                        )
                    )
                    ?? []
            );
            _place += content?.Descendants().Count(e => e.Name.LocalName == "p") ?? 0;
            blocks.Add(
                new SourceGenerated(
                    _place,
                    gallery.Contains("Index", StringComparison.OrdinalIgnoreCase) ? Generated.Index : Generated.Contents,
                    words.Trim()
                )
            );
            return;
        }
        foreach (var inner in content?.Elements() ?? [])
            Block(inner, blocks);
    }

    private static bool Visible(string bookmark) => bookmark != "_GoBack";

    private void Paragraph(XElement p, List<SourceBlock> blocks)
    {
        _cancel.ThrowIfCancellationRequested();
        _place++;
        if (_place % 64 == 0)
            _progress?.Invoke(Math.Min(1, (double)_place / _total));
        var at = _place;
        var properties = p.One("pPr");
        var styleId = properties.Val("pStyle") ?? _styles.DefaultParagraph;
        var name = properties.Val("pStyle") is null ? "" : _styles.NameOf(styleId);
        if (name.Equals("Normal", StringComparison.OrdinalIgnoreCase))
            name = "";
        var text = new SpanRun();
        text.Spans.AddRange(_joined);
        _joined = [];
        var swallowing = Swallowing is not null;
        Inlines(p, text);
        if (swallowing || Swallowing is not null)
            Swallowing?.Swallowed.Append(' ');
        var generated = text.Generated;
        var empty =
            text.Spans.Words().Trim().Length == 0 && text.Spans.All(s => s is SourceRun or SourceTab or SourceAtom { Inline: LineBreak });
        if ((swallowing || generated.Count > 0 || Swallowing is not null) && empty)
        {
            blocks.AddRange(generated);
            return;
        }
        blocks.AddRange(generated);
        blocks.AddRange(text.Before);
        var frame = properties.One("framePr").Get("dropCap");
        if (frame is "drop" or "margin")
        {
            // A dropped capital is the first letter of the paragraph that follows.
            _joined = text.Spans;
            blocks.AddRange(text.After);
            return;
        }
        if (_tracked == Tracked.None && properties.One("rPr").One("del") is not null && text.Spans.Count > 0)
        {
            // The mark between two paragraphs was deleted: they are one.
            _joined = text.Spans;
            blocks.AddRange(text.After);
            return;
        }
        var paragraph = new SourceParagraph(at, name, text.Spans)
        {
            List = ListOf(properties, styleId),
            Indent = Indent(properties, styleId),
            BreakBefore = properties.On("pageBreakBefore"),
        };
        var pictures = text.Pictures;
        if (
            pictures.Count > 0
            && paragraph.Spans.Words().Trim().Length == 0
            && !paragraph.Spans.Any(s => s is SourceNote or SourceReference or SourceAtom { Inline: InlineEquation })
        )
        {
            // Nothing but pictures: each is a figure. Named places stay with the first.
            var marks = paragraph.Spans.Where(s => s is SourceBookmark or SourceComment).ToList();
            if (marks.Count > 0)
                _joined = [.. marks, .. _joined];
            blocks.AddRange(pictures.Select(f => f.Picture with { Place = at }));
        }
        else
        {
            var spans = new List<SourceSpan>();
            foreach (var span in paragraph.Spans)
                spans.Add(span);
            blocks.Add(paragraph with { Spans = spans });
            foreach (var (picture, small) in pictures)
                if (!small)
                    blocks.Add(picture with { Place = at });
        }
        blocks.AddRange(text.After);
        if (properties.One("sectPr") is { } section && section.Val("type") is null or "nextPage" or "oddPage" or "evenPage")
            blocks.Add(new SourceBreak(at));
    }

    private ListPlace? ListOf(XElement? properties, string? styleId)
    {
        var numbering = properties.One("numPr") ?? _styles.Property(styleId, "pPr", "numPr");
        if (numbering is null)
            return null;
        var numId = numbering.Val("numId") ?? _styles.Property(styleId, "pPr", "numPr").Val("numId");
        if (numId is null or "0")
            return null;
        return _numbering.Next(
            numId,
            numbering.One("ilvl").Number("val") ?? _styles.Property(styleId, "pPr", "numPr").One("ilvl").Number("val") ?? 0
        );
    }

    /// <summary>How much further in than its style the paragraph stands, in points.</summary>
    private int Indent(XElement? properties, string? styleId)
    {
        static int Left(XElement? ind) =>
            ind is null ? 0 : (ind.Number("left") ?? ind.Number("start") ?? 0) + Math.Min(0, ind.Number("firstLine") ?? 0);
        var own = properties.One("ind");
        return own is null ? 0 : Math.Max(0, (Left(own) - Left(_styles.Property(styleId, "pPr", "ind"))) / 20);
    }

    private void Table(XElement tbl, List<SourceBlock> blocks)
    {
        var at = _place + 1;
        var rows = new List<(XElement Row, List<(SourceCell Cell, int Column, bool Continues)> Cells)>();
        foreach (var tr in Rows(tbl))
        {
            var column = tr.One("trPr").One("gridBefore").Number("val") ?? 0;
            var cells = new List<(SourceCell, int, bool)>();
            foreach (var tc in Cells(tr))
            {
                var properties = tc.One("tcPr");
                var wide = Math.Clamp(properties.One("gridSpan").Number("val") ?? 1, 1, 1000);
                var merge = properties.One("vMerge");
                var alignment = tc.Many("p").FirstOrDefault().One("pPr").Val("jc") switch
                {
                    "right" or "end" => CellAlignment.Right,
                    "center" => CellAlignment.Centre,
                    _ => (CellAlignment?)null,
                };
                cells.Add(
                    (
                        new SourceCell(Blocks(tc)) { ColumnSpan = wide, Alignment = alignment },
                        column,
                        merge is not null && merge.Get("val") is not "restart"
                    )
                );
                column += wide;
            }
            rows.Add((tr, cells));
        }
        // Cells merged downward: the first takes those below it.
        var made = new List<SourceRow>();
        for (var r = 0; r < rows.Count; r++)
            made.Add(
                new SourceRow(
                    rows[r]
                        .Cells.Where(c => !c.Continues || !Above(r, c.Column))
                        .Select(c =>
                        {
                            var high = 1;
                            while (r + high < rows.Count && rows[r + high].Cells.Any(b => b.Column == c.Column && b.Continues))
                                high++;
                            var below = Enumerable
                                .Range(r + 1, high - 1)
                                .SelectMany(b => rows[b].Cells.First(x => x.Column == c.Column).Cell.Blocks)
                                .Where(b => new[] { b }.Words().Trim().Length > 0);
                            return c.Cell with { RowSpan = high, Blocks = [.. c.Cell.Blocks, .. below] };
                        })
                        .ToArray()
                )
            );
        bool Above(int r, int column) => r > 0 && rows[r - 1].Cells.Any(c => c.Column == column);
        if (made.Count == 0)
            return;
        if (made is [{ Cells.Count: 1 }] && _depth < 3)
        {
            // One cell with a rule round it: a box.
            blocks.Add(new SourceGroup(at, "Box (a table of one cell)", made[0].Cells[0].Blocks));
            return;
        }
        blocks.Add(new SourceTable(at, HeaderRows(tbl, rows.Select(r => r.Row).ToList(), made), made));
    }

    private static IEnumerable<XElement> Rows(XElement tbl) =>
        tbl.Elements()
            .SelectMany(e =>
                e.Name.LocalName switch
                {
                    "tr" => [e],
                    "sdt" => e.One("sdtContent").Many("tr"),
                    "customXml" or "ins" => e.Many("tr"),
                    _ => Array.Empty<XElement>(),
                }
            );

    private static IEnumerable<XElement> Cells(XElement tr) =>
        tr.Elements()
            .SelectMany(e =>
                e.Name.LocalName switch
                {
                    "tc" => [e],
                    "sdt" => e.One("sdtContent").Many("tc"),
                    "customXml" => e.Many("tc"),
                    _ => Array.Empty<XElement>(),
                }
            );

    private int HeaderRows(XElement tbl, List<XElement> rows, List<SourceRow> made)
    {
        var told = rows.TakeWhile(r => r.One("trPr").On("tblHeader")).Count();
        if (told > 0)
            return Math.Min(told, rows.Count - 1 > 0 ? rows.Count - 1 : told);
        var look = tbl.One("tblPr").One("tblLook");
        var firstRow =
            look.Get("firstRow") is "1" or "true"
            || (int.TryParse(look.Get("val"), NumberStyles.HexNumber, CultureInfo.InvariantCulture, out var bits) && (bits & 0x20) != 0);
        var styled =
            tbl.One("tblPr").Val("tblStyle") is { } style
            && _styles.NameOf(style) is { } name
            && !name.Contains("Grid", StringComparison.OrdinalIgnoreCase)
            && !name.Contains("Normal", StringComparison.OrdinalIgnoreCase);
        if (made.Count < 2)
            return 0;
        var strong =
            made[0].Cells.Count > 1
            && made[0]
                .Cells.All(c =>
                    c.Blocks.Words().Trim().Length == 0
                    || c.Blocks.OfType<SourceParagraph>()
                        .SelectMany(p => p.Spans)
                        .OfType<SourceRun>()
                        .Where(r => r.Text.Trim().Length > 0)
                        .All(r => r.Roles.HasFlag(SpanRoles.Strong))
                );
        if (!(firstRow && styled) && !strong)
            return 0;
        // Cells of the first row that reach down make the rows they reach headers too.
        return Math.Min(made.Count - 1, made[0].Cells.Max(c => c.RowSpan));
    }

    // ---- spans ----

    /// <summary>A paragraph's spans as they come, and what stands in it but is a block of its own.</summary>
    private sealed class SpanRun
    {
        public List<SourceSpan> Spans { get; } = [];
        public List<SourceBlock> Before { get; } = [];
        public List<SourceBlock> After { get; } = [];
        public List<SourceBlock> Generated { get; } = [];
        public List<(SourcePicture Picture, bool Small)> Pictures { get; } = [];
    }

    private WordField? Swallowing => _fields.FirstOrDefault(f => f.InResult && f.Generates is not null);

    /// <summary>Adds a span where the innermost open field wants it.</summary>
    private void Add(SpanRun into, SourceSpan span)
    {
        if (Swallowing is { } list)
        {
            if (span is SourceRun run)
                list.Swallowed.Append(run.Text);
            else if (span is SourceTab)
                list.Swallowed.Append(' ');
            return;
        }
        if (_fields.Count > 0)
        {
            var field = _fields[^1];
            if (field.InResult)
                field.Result.Add(span);
            else if (span is SourceBookmark or SourceComment)
                into.Spans.Add(span);
            else if (span is SourceRun run)
                field.Instruction.Append(run.Text);
            return;
        }
        into.Spans.Add(span);
    }

    private void Inlines(XElement container, SpanRun into, string? web = null)
    {
        foreach (var element in container.Elements())
            switch (element.Name.LocalName)
            {
                case "r":
                    Run(element, into, web);
                    break;
                case "hyperlink":
                    Hyperlink(element, into);
                    break;
                case "ins" or "moveTo" or "del" or "moveFrom":
                    var before = _tracked;
                    _tracked = element.Name.LocalName is "ins" or "moveTo" ? Tracked.Inserted : Tracked.Deleted;
                    Inlines(element, into, web);
                    _tracked = before;
                    break;
                case "fldSimple":
                    _fields.Add(new WordField());
                    _fields[^1].Instruction.Append(element.Get("instr"));
                    _fields[^1].InResult = true;
                    Inlines(element, into, web);
                    EndField(into);
                    break;
                case "bookmarkStart" when element.Get("name") is { } name && Visible(name):
                    _bookmarks[element.Get("id") ?? ""] = name;
                    Add(into, new SourceBookmark(name));
                    break;
                case "bookmarkEnd" when _bookmarks.TryGetValue(element.Get("id") ?? "", out var ended):
                    Add(into, new WordRanges.End(ended));
                    break;
                case "sdt":
                    Inlines(element.One("sdtContent") ?? element, into, web);
                    break;
                case "smartTag" or "customXml" or "dir" or "bdo":
                    Inlines(element, into, web);
                    break;
                case "oMath":
                    Add(into, new SourceAtom(new InlineEquation(Id.None, LinearEquation.From(element), "")));
                    break;
                case "oMathPara":
                    into.After.Add(new SourceEquation(_place, LinearEquation.From(element), ""));
                    break;
                case "AlternateContent":
                    if ((element.One("Choice") ?? element.One("Fallback")) is { } choice)
                        Inlines(choice, into, web);
                    break;
            }
    }

    private readonly Dictionary<string, string> _bookmarks = new(StringComparer.Ordinal);

    private void Hyperlink(XElement element, SpanRun into)
    {
        if (element.Get("anchor") is { } anchor && element.Get("id") is null)
        {
            var inner = new SpanRun();
            Inlines(element, inner);
            into.Pictures.AddRange(inner.Pictures);
            if (Swallowing is not null)
                return;
            Add(into, new SourceReference(anchor, "", inner.Spans.Words()));
            return;
        }
        string? address = null;
        if (element.Get("id") is { } id)
            try
            {
                address = _part!.HyperlinkRelationships.FirstOrDefault(h => h.Id == id)?.Uri.OriginalString;
            }
            catch (Exception e) when (e is UriFormatException or OpenXmlPackageException or InvalidOperationException)
            {
                TellOnce(ReportKind.Changed, "A link leads to an address that cannot be read; its words were kept.");
            }
        Inlines(element, into, address is not null && Uri.TryCreate(address, UriKind.Absolute, out _) ? address : null);
    }

    private SpanRoles Roles(XElement? properties)
    {
        var roles = SpanRoles.None;
        if (properties is null)
            return roles;
        if (properties.On("b"))
            roles |= SpanRoles.Strong;
        if (properties.On("i"))
            roles |= SpanRoles.Emphasis;
        if (properties.On("u"))
            roles |= SpanRoles.Emphasis;
        if (properties.On("smallCaps"))
            roles |= SpanRoles.SmallCaps;
        if (properties.Val("vertAlign") is { } vertical)
            roles |= vertical switch
            {
                "superscript" => SpanRoles.Sup,
                "subscript" => SpanRoles.Sub,
                _ => SpanRoles.None,
            };
        if (WordStyles.IsMono(properties.One("rFonts")))
            roles |= SpanRoles.Code;
        if (properties.On("strike") || properties.On("dstrike"))
            TellOnce(ReportKind.Changed, "Struck-through words came in as plain words.");
        return roles;
    }

    private void Run(XElement r, SpanRun into, string? web)
    {
        var properties = r.One("rPr");
        var roles = Roles(properties);
        var style =
            properties.Val("rStyle") is { } id
            && _styles.NameOf(id) is { Length: > 0 } name
            && name
                is not (
                    "Default Paragraph Font"
                    or "Hyperlink"
                    or "FollowedHyperlink"
                    or "footnote reference"
                    or "endnote reference"
                    or "annotation reference"
                )
                ? name
                : null;
        var hidden = properties.On("vanish");
        foreach (var element in r.Elements())
            switch (element.Name.LocalName)
            {
                case "t" when hidden && Swallowing is null && _fields.Count == 0:
                    Tell(ReportKind.LeftOut, "Hidden words were left out.", element.Value);
                    break;
                case "t":
                    Add(into, new SourceRun(element.Value, roles, style, web) { Tracked = _tracked });
                    break;
                case "delText":
                    Add(into, new SourceRun(element.Value, roles, style, web) { Tracked = Tracked.Deleted });
                    break;
                case "instrText" or "delInstrText":
                    if (_fields.Count > 0 && !_fields[^1].InResult)
                        _fields[^1].Instruction.Append(element.Value);
                    break;
                case "fldChar":
                    FieldCharacter(element.Get("fldCharType"), into);
                    break;
                case "tab" or "ptab":
                    Add(into, SourceTab.Instance);
                    break;
                case "br" when element.Get("type") is "page":
                    (into.Spans.Words().Trim().Length == 0 ? into.Before : into.After).Add(new SourceBreak(_place));
                    break;
                case "br" when element.Get("type") is "column":
                    break;
                case "br" or "cr":
                    Add(into, new SourceAtom(LineBreak.Instance));
                    break;
                case "noBreakHyphen":
                    Add(into, new SourceRun("\u2011", roles, style, web) { Tracked = _tracked });
                    break;
                case "softHyphen":
                    Add(into, new SourceRun("\u00AD", roles, style, web) { Tracked = _tracked });
                    break;
                case "sym":
                    Symbol(element, roles, into);
                    break;
                case "footnoteReference":
                    Note(element, _footnotes, _footnotesPart, into);
                    break;
                case "endnoteReference":
                    TellOnce(ReportKind.Changed, "Endnotes came in as notes: the look says whether notes stand at the foot or at the end.");
                    Note(element, _endnotes, _endnotesPart, into);
                    break;
                case "commentReference" when _comments.TryGetValue(element.Get("id") ?? "", out var comment):
                    Add(into, new SourceComment(comment.By, comment.Text));
                    break;
                case "drawing":
                    Drawing(element, into);
                    break;
                case "pict" or "object":
                    OldPicture(element, into);
                    break;
                case "AlternateContent":
                    if ((element.One("Choice") ?? element.One("Fallback")) is { } choice)
                        Run(new XElement(r.Name, properties, choice.Elements()), into, web);
                    break;
                case "ruby":
                    TellOnce(ReportKind.Changed, "Readings set above words came in behind them, in brackets.");
                    foreach (var part in element.One("rubyBase").Many("r"))
                        Run(part, into, web);
                    if (
                        string.Concat(element.One("rt")?.Descendants().Where(t => t.Name.LocalName == "t").Select(t => t.Value) ?? []) is
                        { Length: > 0 } reading
                    )
                        Add(into, new SourceRun($" ({reading})", roles, style, web) { Tracked = _tracked });
                    break;
            }
    }

    private void Symbol(XElement element, SpanRoles roles, SpanRun into)
    {
        if (!int.TryParse(element.Get("char"), NumberStyles.HexNumber, CultureInfo.InvariantCulture, out var code))
            return;
        if (code is < 0x20 or > 0xFFFF or (>= 0xD800 and <= 0xDFFF))
            return;
        var text = SignFaces.Of(element.Get("font") ?? "", code) ?? (code is >= 0xF000 and <= 0xF0FF ? "\uFFFD" : ((char)code).ToString());
        if (text == "\uFFFD")
            Tell(
                ReportKind.Look,
                $"A sign of the face “{element.Get("font")}” (number {element.Get("char")}) is not known; it stands as �."
            );
        Add(into, new SourceRun(text, roles) { Tracked = _tracked });
    }

    private void Note(XElement reference, Dictionary<string, XElement> notes, OpenXmlPart? part, SpanRun into)
    {
        if (reference.Get("id") is not { } id || !notes.TryGetValue(id, out var note))
            return;
        // A note's own fields must not run into the text's.
        var fields = _fields.ToArray();
        _fields.Clear();
        var place = _place;
        var joined = _joined;
        _joined = [];
        // Links of a note are told in the notes' own part.
        var text = _part;
        _part = part ?? text;
        var blocks = Blocks(note).Where(b => new[] { b }.Words().Trim().Length > 0 || b is SourcePicture).ToList();
        _part = text;
        _joined = joined;
        _place = place;
        _fields.Clear();
        _fields.AddRange(fields);
        Add(into, new SourceNote(blocks));
    }

    // ---- fields ----

    private void FieldCharacter(string? kind, SpanRun into)
    {
        if (kind == "begin")
            _fields.Add(new WordField());
        else if (kind == "separate" && _fields.Count > 0)
            _fields[^1].InResult = true;
        else if (kind == "end" && _fields.Count > 0)
            EndField(into);
    }

    private void EndField(SpanRun into)
    {
        var field = _fields[^1];
        var swallowed = Swallowing;
        _fields.RemoveAt(_fields.Count - 1);
        if (field.Generates is { } kind)
        {
            if (swallowed is null || ReferenceEquals(swallowed, field))
                into.Generated.Add(new SourceGenerated(_place, kind, field.Swallowed.ToString().Trim()));
            return;
        }
        if (Swallowing is not null)
            return;
        if (field.Entry is { } found)
        {
            if (found.Range is { } bookmark)
            {
                _ranges.Add((bookmark, found.Entry));
                return;
            }
            Add(into, new SourceAtom(found.Entry));
        }
        else if (field.Reference is { } reference)
        {
            foreach (var other in field.Result.Where(s => s is SourceBookmark or SourceComment))
                Add(into, other);
            var roles = field.Result.OfType<SourceRun>().Select(r => r.Roles & ~(SpanRoles.Sup | SpanRoles.Sub)).FirstOrDefault();
            Add(into, new SourceReference(reference.Target, reference.Form, field.Result.Words(), roles));
        }
        else
            foreach (var span in field.Result)
                Add(into, span is SourceRun run && field.Web is { } address ? run with { Web = address } : span);
    }

    // ---- pictures ----

    private void Drawing(XElement drawing, SpanRun into)
    {
        var described = drawing.Descendants().FirstOrDefault(e => e.Name.LocalName == "docPr");
        var alternative = described.Get("descr") is { Length: > 0 } words ? words : "";
        var height = drawing.Descendants().FirstOrDefault(e => e.Name.LocalName == "extent")?.Attribute("cy")?.Value;
        var small =
            long.TryParse(height, CultureInfo.InvariantCulture, out var cy)
            && cy <= SmallPicture
            && drawing.Elements().Any(e => e.Name.LocalName == "inline");
        var width =
            long.TryParse(
                drawing.Descendants().FirstOrDefault(e => e.Name.LocalName == "extent")?.Attribute("cx")?.Value,
                CultureInfo.InvariantCulture,
                out var cx
            )
            && cx > 0
                ? (int)Math.Clamp(cx * 100 / _measure, 5, 100)
                : 100;
        // Nearly as wide as the lines is meant to be as wide.
        if (width >= 90)
            width = 100;
        var blips = drawing.Descendants().Where(e => e.Name.LocalName == "blip").ToList();
        foreach (var blip in blips)
        {
            // A drawing kept beside its raster copy is the better one.
            var svg = blip.Descendants().FirstOrDefault(e => e.Name.LocalName == "svgBlip").Get("embed");
            Picture(svg ?? blip.Get("embed"), alternative, small, width, into, svg is null ? null : blip.Get("embed"));
            if (blip.Get("embed") is null && blip.Get("link") is { } link)
                Tell(ReportKind.LeftOut, $"A picture lies outside the document ({LinkOf(link)}); bring it in by itself.");
        }
        foreach (var box in drawing.Descendants().Where(e => e.Name.LocalName == "txbxContent").ToList())
            TextBox(box, into);
        if (blips.Count == 0 && !drawing.Descendants().Any(e => e.Name.LocalName == "txbxContent"))
        {
            var uri = drawing.Descendants().FirstOrDefault(e => e.Name.LocalName == "graphicData").Get("uri") ?? "";
            Tell(
                ReportKind.LeftOut,
                uri.Contains("chart", StringComparison.Ordinal)
                        ? "A chart was left out: it is no picture. Export it as a picture and bring that in."
                    : uri.Contains("diagram", StringComparison.Ordinal)
                        ? "A diagram was left out: it is no picture. Export it as a picture and bring that in."
                    : "A drawn shape was left out. Export it as a picture and bring that in."
            );
        }
    }

    private string LinkOf(string id)
    {
        try
        {
            return _part!.ExternalRelationships.FirstOrDefault(r => r.Id == id)?.Uri.OriginalString ?? id;
        }
        catch (Exception e) when (e is UriFormatException or OpenXmlPackageException)
        {
            return id;
        }
    }

    /// <summary>Pictures and text boxes of the older markup.</summary>
    private void OldPicture(XElement pict, SpanRun into)
    {
        foreach (var data in pict.Descendants().Where(e => e.Name.LocalName == "imagedata").ToList())
            Picture(
                data.Get("id") ?? data.Get("href"),
                data.Ancestors().FirstOrDefault(a => a.Name.LocalName is "shape" or "rect").Get("alt") ?? "",
                false,
                100,
                into,
                null
            );
        foreach (var box in pict.Descendants().Where(e => e.Name.LocalName == "txbxContent").ToList())
            TextBox(box, into);
        if (pict.Name.LocalName == "object")
            TellOnce(ReportKind.Changed, "An object of another program came in as its picture.");
    }

    private void TextBox(XElement box, SpanRun into)
    {
        if (Swallowing is not null)
            return;
        var blocks = Blocks(box);
        if (blocks.Words().Trim().Length > 0)
            into.After.Add(new SourceGroup(_place, "Text box", blocks));
    }

    private void Picture(string? id, string alternative, bool small, int width, SpanRun into, string? otherwise)
    {
        if (id is null || Swallowing is not null)
            return;
        try
        {
            var part = _part!.GetPartById(id);
            var name = Path.GetFileName(part.Uri.OriginalString);
            if (!_pictures.ContainsKey(name))
            {
                using var stream = part.GetStream(FileMode.Open, FileAccess.Read);
                using var copy = new MemoryStream();
                stream.CopyTo(copy);
                _pictures[name] = copy.ToArray();
            }
            if (small)
                Add(into, new SourceAtom(new InlinePicture(Id.None, name, alternative)));
            into.Pictures.Add((new SourcePicture(_place, name, alternative) { Width = width }, small));
        }
        catch (Exception e)
            when (e
                    is ArgumentOutOfRangeException
                        or KeyNotFoundException
                        or OpenXmlPackageException
                        or IOException
                        or InvalidDataException
                        or InvalidOperationException
                        or UriFormatException
            )
        {
            if (otherwise is not null)
                Picture(otherwise, alternative, small, width, into, null);
            else
                Tell(ReportKind.LeftOut, $"A picture is missing from the file ({id}).");
        }
    }
}
