using System.Xml;
using System.Xml.Linq;
using DocumentFormat.OpenXml.Packaging;
using Kivren.Core.Content;
using Kivren.Formats.Import;

namespace Kivren.Formats.Docx;

/// <summary>Reads word-processor documents (Office Open XML, ISO/IEC 29500, transitional and strict).</summary>
public sealed partial class WordReader
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
}
