using System.Globalization;
using System.IO.Compression;
using System.Security;
using System.Text;
using Kivren.Core.Content;

namespace Kivren.Formats.Generator;

/// <summary>Makes word-processor documents as departments write them, for tests and benchmarks of import: styles of their
/// own, bold lines for heads, typed numbers, empty paragraphs and page breaks by hand.</summary>
public sealed class WordFile
{
    private const string Main = "http://schemas.openxmlformats.org/wordprocessingml/2006/main";
    private const string Namespaces =
        $"xmlns:w=\"{Main}\" xmlns:r=\"http://schemas.openxmlformats.org/officeDocument/2006/relationships\" "
        + $"xmlns:wp=\"http://schemas.openxmlformats.org/drawingml/2006/wordprocessingDrawing\" "
        + $"xmlns:a=\"http://schemas.openxmlformats.org/drawingml/2006/main\" "
        + $"xmlns:pic=\"http://schemas.openxmlformats.org/drawingml/2006/picture\" "
        + $"xmlns:m=\"http://schemas.openxmlformats.org/officeDocument/2006/math\" "
        + $"xmlns:mc=\"http://schemas.openxmlformats.org/markup-compatibility/2006\" xmlns:v=\"urn:schemas-microsoft-com:vml\"";

    private readonly StringBuilder _body = new();
    private readonly StringBuilder _notes = new();
    private readonly StringBuilder _endnotes = new();
    private readonly StringBuilder _comments = new();
    private readonly Dictionary<string, byte[]> _media = new(StringComparer.Ordinal);
    private readonly Dictionary<string, string> _styles = new(StringComparer.Ordinal);
    private readonly StringBuilder _numbering = new();
    private readonly Dictionary<string, string> _links = new(StringComparer.Ordinal);
    private int _noteCount,
        _commentCount,
        _pictureCount;

    /// <summary>Parts left out of the archive, to make a damaged file.</summary>
    public HashSet<string> Without { get; } = [];
    public string Header { get; init; } = "";
    public string Title { get; init; } = "";

    public static string Escaped(string text) => SecurityElement.Escape(text)!;

    /// <summary>A paragraph of runs already made by <see cref="Run"/>, or of plain text.</summary>
    public WordFile P(string text, string? style = null, string properties = "", bool bold = false)
    {
        var runs = text.StartsWith('<') ? text : Run(text, bold ? "<w:b/>" : "");
        _body.Append($"<w:p><w:pPr>{(style is null ? "" : $"<w:pStyle w:val=\"{IdOf(style)}\"/>")}{properties}</w:pPr>{runs}</w:p>");
        return this;
    }

    public WordFile Xml(string xml)
    {
        _body.Append(xml);
        return this;
    }

    public static string Run(string text, string properties = "") =>
        $"<w:r>{(properties.Length > 0 ? $"<w:rPr>{properties}</w:rPr>" : "")}<w:t xml:space=\"preserve\">"
        + $"{Escaped(text).Replace("\t", "</w:t><w:tab/><w:t xml:space=\"preserve\">", StringComparison.Ordinal)}</w:t></w:r>";

    public string Styled(string text, string characterStyle)
    {
        IdOf(characterStyle, "character");
        return Run(text, $"<w:rStyle w:val=\"{IdOf(characterStyle, "character")}\"/>");
    }

    public static string Field(string instruction, string result) =>
        $"<w:r><w:fldChar w:fldCharType=\"begin\"/></w:r><w:r><w:instrText xml:space=\"preserve\">"
        + $"{Escaped(instruction)}</w:instrText></w:r>"
        + $"{(result.Length > 0 ? $"<w:r><w:fldChar w:fldCharType=\"separate\"/></w:r>{Run(result)}" : "")}<w:r><w:fldChar "
        + $"w:fldCharType=\"end\"/></w:r>";

    public static string Bookmark(string name, string runs, int id) =>
        $"<w:bookmarkStart w:id=\"{id}\" w:name=\"{name}\"/>{runs}<w:bookmarkEnd w:id=\"{id}\"/>";

    public string Note(string text, bool end = false)
    {
        var id = ++_noteCount;
        (end ? _endnotes : _notes).Append(
            $"<w:{(end ? "endnote" : "footnote")} w:id=\"{id}\"><w:p>{Run(" " + text)}</w:p></w:{(end ? "endnote" : "footnote")}>"
        );
        return $"<w:r><w:{(end ? "endnote" : "footnote")}Reference w:id=\"{id}\"/></w:r>";
    }

    public string Comment(string by, string text)
    {
        var id = ++_commentCount;
        _comments.Append($"<w:comment w:id=\"{id}\" w:author=\"{Escaped(by)}\"><w:p>{Run(text)}</w:p></w:comment>");
        return $"<w:r><w:commentReference w:id=\"{id}\"/></w:r>";
    }

    public string Link(string address, string words)
    {
        _links.TryAdd(address, $"link{_links.Count + 1}");
        return $"<w:hyperlink r:id=\"{_links[address]}\">{Run(words)}</w:hyperlink>";
    }

    public string Picture(string name, byte[] bytes, string alternative = "", long height = 1_800_000)
    {
        _media[name] = bytes;
        return $"<w:r><w:drawing><wp:inline><wp:extent cx=\"2400000\" cy=\"{height}\"/><wp:docPr id=\"{++_pictureCount}\" "
            + $"name=\"{name}\"{(alternative.Length > 0 ? $" descr=\"{Escaped(alternative)}\"" : "")}/><a:graphic><a:graphicData "
            + $"uri=\"http://schemas.openxmlformats.org/drawingml/2006/picture\"><pic:pic><pic:blipFill><a:blip r:embed=\"{name}\"/>"
            + $"</pic:blipFill></pic:pic></a:graphicData></a:graphic></wp:inline></w:drawing></w:r>";
    }

    /// <summary>A numbered or bulleted list's definition; its number is used by <see cref="InList"/>.</summary>
    public WordFile List(int number, string format = "decimal", int start = 1)
    {
        var levels = string.Concat(
            Enumerable
                .Range(0, 4)
                .Select(l =>
                    $"<w:lvl w:ilvl=\"{l}\"><w:start w:val=\"{(l == 0 ? start : 1)}\"/><w:numFmt "
                    + $"w:val=\"{(format == "decimal" && l == 1 ? "lowerLetter" : format)}\"/><w:lvlText "
                    + $"w:val=\"%{l + 1}.\"/></w:lvl>"
                )
        );
        _abstracts.Append($"<w:abstractNum w:abstractNumId=\"{number}\">{levels}</w:abstractNum>");
        _numbering.Append($"<w:num w:numId=\"{number}\"><w:abstractNumId w:val=\"{number}\"/></w:num>");
        return this;
    }

    private readonly StringBuilder _abstracts = new();

    public static string InList(int number, int level = 0) =>
        $"<w:numPr><w:ilvl w:val=\"{level}\"/><w:numId w:val=\"{number}\"/></w:numPr>";

    /// <summary>A style of the document: its properties as they stand in the file.</summary>
    public WordFile Style(string name, string properties, string type = "paragraph")
    {
        _styles[IdOf(name, type)] =
            $"<w:style w:type=\"{type}\" w:styleId=\"{IdOf(name, type)}\"><w:name w:val=\"{Escaped(name)}\"/>{properties}</w:style>";
        return this;
    }

    private string IdOf(string name, string type = "paragraph")
    {
        var id = string.Concat(name.Where(char.IsLetterOrDigit));
        if (!_styles.ContainsKey(id))
        {
            var level =
                name.StartsWith("Heading ", StringComparison.OrdinalIgnoreCase) && int.TryParse(name[8..], out var l)
                    ? $"<w:pPr><w:outlineLvl w:val=\"{l - 1}\"/></w:pPr>"
                    : "";
            _styles[id] = $"<w:style w:type=\"{type}\" w:styleId=\"{id}\"><w:name w:val=\"{Escaped(name)}\"/>{level}</w:style>";
        }
        return id;
    }

    public static string Table(IEnumerable<IEnumerable<string>> rows, bool header = false) =>
        "<w:tbl><w:tblPr/>"
        + string.Concat(
            rows.Select(
                (row, r) =>
                    $"<w:tr>{(header && r == 0 ? "<w:trPr><w:tblHeader/></w:trPr>" : "")}"
                    + string.Concat(row.Select(cell => cell.StartsWith('<') ? cell : $"<w:tc><w:tcPr/><w:p>{Run(cell)}</w:p></w:tc>"))
                    + "</w:tr>"
            )
        )
        + "</w:tbl>";

    public byte[] ToBytes()
    {
        using var stream = new MemoryStream();
        using (var zip = new ZipArchive(stream, ZipArchiveMode.Create, leaveOpen: true))
        {
            void Part(string path, string xml)
            {
                if (Without.Contains(path))
                    return;
                var entry = zip.CreateEntry(path);
                entry.LastWriteTime = new DateTimeOffset(2000, 1, 1, 0, 0, 0, TimeSpan.Zero);
                using var s = entry.Open();
                s.Write(Encoding.UTF8.GetBytes("<?xml version=\"1.0\" encoding=\"UTF-8\" standalone=\"yes\"?>\n" + xml));
            }
            const string office = "http://schemas.openxmlformats.org/officeDocument/2006/relationships";
            string Type(string part) =>
                $"<Override PartName=\"/word/{part}.xml\" "
                + "ContentType=\"application/vnd.openxmlformats-officedocument.wordprocessingml."
                + $"{(part == "document" ? "document.main" : part)}+xml\"/>";
            var parts = new List<string> { "document", "styles", "numbering", "footnotes", "endnotes", "comments" };
            if (Header.Length > 0)
                parts.Add("header");
            Part(
                "[Content_Types].xml",
                $"<Types xmlns=\"http://schemas.openxmlformats.org/package/2006/content-types\"><Default Extension=\"rels\" "
                    + $"ContentType=\"application/vnd.openxmlformats-package.relationships+xml\"/><Default Extension=\"xml\" "
                    + $"ContentType=\"application/xml\"/><Default Extension=\"png\" ContentType=\"image/png\"/><Default "
                    + $"Extension=\"jpg\" ContentType=\"image/jpeg\"/><Default Extension=\"svg\" ContentType=\"image/svg+xml\"/>"
                    + $"{string.Concat(parts.Select(Type))}<Override PartName=\"/docProps/core.xml\" "
                    + $"ContentType=\"application/vnd.openxmlformats-package.core-properties+xml\"/></Types>"
            );
            Part(
                "_rels/.rels",
                $"<Relationships xmlns=\"http://schemas.openxmlformats.org/package/2006/relationships\"><Relationship Id=\"r1\" "
                    + $"Type=\"{office}/officeDocument\" Target=\"word/document.xml\"/><Relationship Id=\"r2\" "
                    + $"Type=\"http://schemas.openxmlformats.org/package/2006/relationships/metadata/core-properties\" "
                    + $"Target=\"docProps/core.xml\"/></Relationships>"
            );
            Part(
                "docProps/core.xml",
                $"<cp:coreProperties xmlns:cp=\"http://schemas.openxmlformats.org/package/2006/metadata/core-properties\" "
                    + $"xmlns:dc=\"http://purl.org/dc/elements/1.1/\"><dc:title>{Escaped(Title)}</dc:title></cp:coreProperties>"
            );
            string Relationship(string id, string type, string target, string more = "") =>
                $"<Relationship Id=\"{id}\" Type=\"{office}/{type}\" Target=\"{target}\"{more}/>";
            var related = parts
                .Skip(1)
                .Select(p => Relationship(p, p, p + ".xml"))
                .Concat(_media.Keys.Select(m => Relationship(m, "image", "media/" + m)))
                .Concat(_links.Select(l => Relationship(l.Value, "hyperlink", Escaped(l.Key), " TargetMode=\"External\"")));
            Part(
                "word/_rels/document.xml.rels",
                "<Relationships xmlns=\"http://schemas.openxmlformats.org/package/2006/relationships\">"
                    + string.Concat(related)
                    + "</Relationships>"
            );
            Part("word/document.xml", $"<w:document {Namespaces}><w:body>{_body}<w:sectPr/></w:body></w:document>");
            Part(
                "word/styles.xml",
                $"<w:styles {Namespaces}><w:docDefaults><w:rPrDefault><w:rPr><w:lang w:val=\"en-GB\"/></w:rPr></w:rPrDefault>"
                    + $"</w:docDefaults><w:style w:type=\"paragraph\" w:default=\"1\" w:styleId=\"Normal\"><w:name w:val=\"Normal\"/>"
                    + $"</w:style>{string.Concat(_styles.Values)}</w:styles>"
            );
            Part("word/numbering.xml", $"<w:numbering {Namespaces}>{_abstracts}{_numbering}</w:numbering>");
            Part("word/footnotes.xml", $"<w:footnotes {Namespaces}>{_notes}</w:footnotes>");
            Part("word/endnotes.xml", $"<w:endnotes {Namespaces}>{_endnotes}</w:endnotes>");
            Part("word/comments.xml", $"<w:comments {Namespaces}>{_comments}</w:comments>");
            if (Header.Length > 0)
                Part("word/header.xml", $"<w:hdr {Namespaces}><w:p>{Run(Header)}</w:p></w:hdr>");
            foreach (var (name, bytes) in _media)
            {
                if (Without.Contains("word/media/" + name))
                    continue;
                using var s = zip.CreateEntry("word/media/" + name).Open();
                s.Write(bytes);
            }
        }
        return stream.ToArray();
    }

    // ---- a manual as such a file ----

    /// <summary>A manual written the untidy way: C and D heads as bold lines, admonitions behind typed signal words, typed
    /// labels on captions, empty paragraphs and page breaks between.</summary>
    public static WordFile From(Package.Package package)
    {
        var file = new WordFile { Title = package.Manual.Title, Header = package.Manual.Title };
        file.List(1, "bullet");
        var lists = 1;
        var bookmarks = 0;
        string Runs(IReadOnlyList<Inline> spans)
        {
            var runs = new StringBuilder();
            foreach (var span in spans)
                switch (span)
                {
                    case TextRun run:
                        runs.Append(
                            run.Roles.HasFlag(SpanRoles.PartNumber)
                                ? file.Styled(run.Text, "Works part")
                                : Run(
                                    run.Text,
                                    (run.Roles.HasFlag(SpanRoles.Strong) ? "<w:b/>" : "")
                                        + (run.Roles.HasFlag(SpanRoles.Emphasis) ? "<w:i/>" : "")
                                )
                        );
                        break;
                    case VariableUse:
                        runs.Append(Run("Tarn 6"));
                        break;
                    case Footnote note:
                        runs.Append(file.Note(note.Content.PlainText()));
                        break;
                    case CrossReference reference:
                        runs.Append(
                            Field(
                                $" REF b{Math.Abs(reference.Target.Value.GetHashCode(StringComparison.Ordinal)) % 1_000_000} \\h ",
                                "the place named there"
                            )
                        );
                        break;
                    case IndexEntry { Kind: EntryKind.Point } entry:
                        runs.Append(
                            Field(
                                $" XE \"{string.Join(':', entry.Headings.Select(h => h.Replace(":", "\\:", StringComparison.Ordinal)))}\" ",
                                ""
                            )
                        );
                        break;
                    case LineBreak:
                        runs.Append("<w:r><w:br/></w:r>");
                        break;
                }
            return runs.ToString();
        }
        string Named(Id id, string runs) =>
            Bookmark(
                string.Create(CultureInfo.InvariantCulture, $"b{Math.Abs(id.Value.GetHashCode(StringComparison.Ordinal)) % 1_000_000}"),
                runs,
                ++bookmarks
            );
        void Write(Block block)
        {
            switch (block)
            {
                case Head h when h.Level <= HeadLevel.B:
                    file.P(Named(h.Id, Runs(h.Content)), h.Level == HeadLevel.A ? "Heading 2" : "Heading 3");
                    break;
                case Head h:
                    file.P(Run(h.Content.PlainText(), "<w:b/>"));
                    break;
                case Paragraph p:
                    file.P(Runs(p.Content), "Leaflet text");
                    break;
                case ItemList list:
                    foreach (var item in list.Items)
                    foreach (var inner in item.Blocks.OfType<Paragraph>())
                        file.P(Runs(inner.Content), "Leaflet text", InList(1));
                    break;
                case Steps steps:
                    file.List(++lists);
                    foreach (var item in steps.Items)
                    foreach (var inner in item.Blocks.OfType<Paragraph>())
                        file.P(Runs(inner.Content), "Leaflet step", InList(lists));
                    break;
                case Admonition a:
                    file.P(
                        Run(a.Kind.ToString().ToUpperInvariant() + ": ", "<w:b/>")
                            + string.Concat(a.Blocks.OfType<Paragraph>().Select(p => Runs(p.Content)))
                    );
                    break;
                case Table table:
                    file.P("Table 1: " + table.Caption.PlainText(), "Caption");
                    file.Xml(
                        WordFile.Table(
                            table.Rows.Select(r =>
                                r.Cells.Select(c =>
                                    $"<w:tc><w:tcPr>{(c.ColumnSpan > 1 ? $"<w:gridSpan w:val=\"{c.ColumnSpan}\"/>" : "")}</w:tcPr>"
                                    + $"<w:p>{Runs(c.Content)}</w:p></w:tc>"
                                )
                            ),
                            table.HeaderRows > 0
                        )
                    );
                    file.P("");
                    break;
                case Figure figure when package.Picture(figure.Asset) is { } bytes:
                    file.P(file.Picture(figure.Asset, bytes, figure.Alternative));
                    file.P("Figure 1: " + figure.Caption.PlainText(), "Caption");
                    break;
                case Listing listing:
                    foreach (var line in listing.Text.Split('\n'))
                        file.P(Run(line.Length > 0 ? line : " "), "Source code");
                    break;
            }
        }
        foreach (var division in package.Manual.Divisions.Where(d => d.Matter == Matter.Body || d.Kind == DivisionKind.Appendix))
        {
            file.Xml("<w:p><w:r><w:br w:type=\"page\"/></w:r></w:p>");
            file.P(Named(division.Id, Run(division.Title)), "Heading 1");
            foreach (var block in division.Blocks)
                Write(block);
            file.P("");
        }
        return file;
    }
}
