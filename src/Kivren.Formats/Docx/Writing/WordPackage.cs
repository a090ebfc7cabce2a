using System.IO.Compression;
using System.Text;
using System.Xml;
using System.Xml.Linq;
using Kivren.Core.Content;
using Kivren.Formats.Package;
using Kivren.Formats.Pictures;
using static Kivren.Formats.Docx.Writing.Ooxml;

namespace Kivren.Formats.Docx.Writing;

/// <summary>The parts of a word-processing file beside its text: notes, pictures, links, lists (ECMA-376, part 2).</summary>
internal sealed class WordPackage(Manual manual, Func<string, byte[]?> pictures)
{
    private static readonly XNamespace Rels = "http://schemas.openxmlformats.org/package/2006/relationships",
        Types = "http://schemas.openxmlformats.org/package/2006/content-types";
    private const string Office = "http://schemas.openxmlformats.org/officeDocument/2006/relationships/",
        Word = "application/vnd.openxmlformats-officedocument.wordprocessingml.";

    private readonly List<(string Id, string Type, string Target, bool External)> _relations = [];
    private readonly List<(string Path, string? Type, byte[] Bytes)> _parts = [];
    private readonly List<XElement> _notes = [];
    private readonly Dictionary<string, (string Relation, int Width, int Height)?> _pictures = new(StringComparer.Ordinal);
    private readonly Dictionary<string, string> _links = new(StringComparer.Ordinal);
    private readonly HashSet<string> _marks = new(StringComparer.Ordinal);
    private readonly HashSet<Id> _rangeEnds = [];
    private readonly Dictionary<string, string> _openRanges = new(StringComparer.Ordinal);
    private readonly List<XElement> _lists = [];
    private int _drawings,
        _related;

    // ---- what points, and what is pointed at ----

    /// <summary>Says before the text is written which bookmarks it will have.</summary>
    public void WillMark(string name) => _marks.Add(name);

    public bool IsMarked(string name) => _marks.Contains(name);

    public void WillEndRange(Id entry) => _rangeEnds.Add(entry);

    public bool HasRangeEnd(Id entry) => _rangeEnds.Contains(entry);

    public void BeginRange(string mark, string id) => _openRanges[mark] = id;

    /// <returns>the bookmark that ends here; null where none is open</returns>
    public string? EndRange(string mark) => _openRanges.Remove(mark, out var id) ? id : null;

    /// <summary>Ends of bookmarks whose text never came.</summary>
    public IEnumerable<XElement> EndAll()
    {
        foreach (var id in _openRanges.Values)
            yield return El("bookmarkEnd", At("id", id));
        _openRanges.Clear();
    }

    // ---- parts ----

    private string Relate(string type, string target, bool external = false)
    {
        // Unlike those of templates.
        var id = "kr" + N(++_related);
        _relations.Add((id, Office + type, target, external));
        return id;
    }

    /// <returns>the relation that a link names; null for an address that none can name</returns>
    public string? Link(string address)
    {
        if (_links.TryGetValue(address, out var known))
            return known;
        return Uri.TryCreate(address, UriKind.Absolute, out var uri)
            ? _links[address] = Relate("hyperlink", uri.AbsoluteUri, external: true)
            : null;
    }

    public IEnumerable<XElement> Notes => _notes;

    /// <returns>the number of the note</returns>
    public int Note(IEnumerable<XElement> words)
    {
        var id = _notes.Count + 1;
        // Its place is taken before its words are made: they may call notes themselves.
        _notes.Add(El("footnote", At("id", N(id))));
        _notes[id - 1]
            .Add(
                El(
                    "p",
                    El("pPr", Val("pStyle", WordStyleSheet.Note.Id)),
                    El("r", El("rPr", Val("rStyle", WordStyleSheet.NoteCall.Id)), El("footnoteRef")),
                    Run(" "),
                    words.ToList()
                )
            );
        return id;
    }

    /// <summary>A list of its own, that begins with its own number.</summary>
    /// <param name="kind">index of the kind of list</param>
    /// <returns>its number</returns>
    public int List(int kind, int start)
    {
        var id = _lists.Count + 1;
        _lists.Add(
            El(
                "num",
                At("numId", N(id)),
                Val("abstractNumId", N(kind)),
                El("lvlOverride", At("ilvl", "0"), Val("startOverride", N(Math.Max(1, start))))
            )
        );
        return id;
    }

    /// <summary>A picture in a line.</summary>
    /// <param name="width">points at most</param>
    /// <param name="height">points at most</param>
    /// <returns>null where the manual does not have it, or it cannot be read</returns>
    public XElement? Picture(string name, string alternative, double width, double height)
    {
        if (!_pictures.TryGetValue(name, out var known))
            _pictures[name] = known = Take(name);
        if (known is not var (relation, across, down))
            return null;
        var scale = Math.Min(width / across, height / down);
        var (cx, cy) = (Units(across * scale), Units(down * scale));
        var id = N(++_drawings);
        XElement Extent(string of) => new(Dml + of, new XAttribute("cx", cx), new XAttribute("cy", cy));
        return El(
            "r",
            El(
                "drawing",
                new XElement(
                    Wp + "inline",
                    new XAttribute("distT", 0),
                    new XAttribute("distB", 0),
                    new XAttribute("distL", 0),
                    new XAttribute("distR", 0),
                    new XElement(Wp + "extent", new XAttribute("cx", cx), new XAttribute("cy", cy)),
                    new XElement(
                        Wp + "docPr",
                        new XAttribute("id", id),
                        new XAttribute("name", "Picture " + id),
                        new XAttribute("descr", Flowing.Xhtml.Clean(alternative))
                    ),
                    new XElement(
                        Dml + "graphic",
                        new XElement(
                            Dml + "graphicData",
                            new XAttribute("uri", Pic.NamespaceName),
                            new XElement(
                                Pic + "pic",
                                new XElement(
                                    Pic + "nvPicPr",
                                    new XElement(
                                        Pic + "cNvPr",
                                        new XAttribute("id", id),
                                        new XAttribute("name", Flowing.Xhtml.Clean(name))
                                    ),
                                    new XElement(Pic + "cNvPicPr")
                                ),
                                new XElement(
                                    Pic + "blipFill",
                                    new XElement(Dml + "blip", new XAttribute(R + "embed", relation)),
                                    new XElement(Dml + "stretch", new XElement(Dml + "fillRect"))
                                ),
                                new XElement(
                                    Pic + "spPr",
                                    new XElement(
                                        Dml + "xfrm",
                                        new XElement(Dml + "off", new XAttribute("x", 0), new XAttribute("y", 0)),
                                        Extent("ext")
                                    ),
                                    new XElement(Dml + "prstGeom", new XAttribute("prst", "rect"), new XElement(Dml + "avLst"))
                                )
                            )
                        )
                    )
                )
            )
        );
    }

    /// <summary>Pixels across that a drawing is turned into.</summary>
    private const int DrawingPixels = 1_600;

    private (string Relation, int Width, int Height)? Take(string name)
    {
        if (manual.Assets.FirstOrDefault(a => a.Name == name) is not { Width: > 0, Height: > 0 } asset || pictures(name) is not { } bytes)
            return null;
        var ending = asset.MediaType == "image/jpeg" ? "jpg" : "png";
        try
        {
            if (asset.MediaType == "image/svg+xml")
                bytes = DrawingRaster.Png(SvgDrawing.Read(name, bytes), DrawingPixels);
        }
        catch (PictureFormatException)
        {
            return null;
        }
        var path = $"media/picture{N(_pictures.Count + 1)}.{ending}";
        _parts.Add(("word/" + path, null, bytes));
        return (Relate("image", path), asset.Width, asset.Height);
    }

    /// <returns>the relation of a part</returns>
    public string Part(string type, string path, string contentType, XElement root)
    {
        _parts.Add(("word/" + path, Word + contentType + "+xml", Bytes(root)));
        return Relate(type, path);
    }

    internal static byte[] Bytes(XElement root)
    {
        using var bytes = new MemoryStream();
        using (var xml = XmlWriter.Create(bytes, new XmlWriterSettings { Encoding = new UTF8Encoding(false) }))
            root.Save(xml);
        return bytes.ToArray();
    }

    private readonly List<(string Id, string Type, string Target)> _brought = [];

    /// <summary>What a template has beside its text.</summary>
    private void Bring(WordTemplate template)
    {
        var (parts, relations) = template.Parts();
        _parts.AddRange(parts.Select(p => (p.Path, p.Type, p.Bytes)));
        _brought.AddRange(relations);
    }

    /// <param name="template">that it is put into, or null</param>
    /// <param name="roles">styles of the template for roles</param>
    /// <param name="told">what could not be done as it was asked for</param>
    public void Write(
        Stream output,
        XElement document,
        XElement styles,
        string title,
        WordTemplate? template = null,
        IReadOnlyList<RoleStyle>? roles = null,
        List<string>? told = null
    )
    {
        var lists = WordLists.Of(_lists);
        if (template is not null)
        {
            var merge = new TemplateMerge(template, roles ?? [], styles, manual, told ?? []);
            styles = merge.Styles();
            lists = merge.Lists(lists);
            merge.Put(document);
            foreach (var note in _notes)
                merge.Put(note);
            // Its own running heads stand in place of these.
            if (template.Section is not null)
            {
                _relations.RemoveAll(r => r.Type is Office + "header" or Office + "footer");
                _parts.RemoveAll(p => p.Path is "word/header.xml" or "word/footer.xml");
            }
            Bring(template);
        }
        Part("styles", "styles.xml", "styles", styles);
        Part("numbering", "numbering.xml", "numbering", lists);
        XElement Separator(string id, string type, string line) =>
            El("footnote", At("type", type), At("id", id), El("p", El("r", El(line))));
        Part(
            "footnotes",
            "footnotes.xml",
            "footnotes",
            El(
                "footnotes",
                new XAttribute(XNamespace.Xmlns + "w", W),
                new XAttribute(XNamespace.Xmlns + "r", R),
                new XAttribute(XNamespace.Xmlns + "m", M),
                Separator("-1", "separator", "separator"),
                Separator("0", "continuationSeparator", "continuationSeparator"),
                _notes
            )
        );
        // What notes link to and show is related to the notes, as what the text shows is to the text.
        _parts.Add(("word/_rels/footnotes.xml.rels", null, Bytes(Relations(["hyperlink", "image"]))));
        if (!_brought.Exists(b => b.Type == Office + "settings"))
            Part(
                "settings",
                "settings.xml",
                "settings",
                El(
                    "settings",
                    new XAttribute(XNamespace.Xmlns + "w", W),
                    El("evenAndOddHeaders"),
                    El("compat", Compatible("compatibilityMode", "15"))
                )
            );
        using var zip = new ZipArchive(output, ZipArchiveMode.Create, leaveOpen: true);
        void Entry(string path, byte[] bytes) => zip.Put(path, bytes);
        XElement Override(string part, string type) =>
            new(Types + "Override", new XAttribute("PartName", "/" + part), new XAttribute("ContentType", type));
        XElement Default(string ending, string type) =>
            new(Types + "Default", new XAttribute("Extension", ending), new XAttribute("ContentType", type));
        Entry(
            "[Content_Types].xml",
            Bytes(
                new XElement(
                    Types + "Types",
                    Default("rels", "application/vnd.openxmlformats-package.relationships+xml"),
                    Default("xml", "application/xml"),
                    Default("png", "image/png"),
                    Default("jpg", "image/jpeg"),
                    Override("word/document.xml", Word + "document.main+xml"),
                    Override("docProps/core.xml", "application/vnd.openxmlformats-package.core-properties+xml"),
                    _parts.Where(p => p.Type is not null).Select(p => Override(p.Path, p.Type!))
                )
            )
        );
        Entry(
            "_rels/.rels",
            Bytes(
                new XElement(
                    Rels + "Relationships",
                    Relation("r1", Office + "officeDocument", "word/document.xml", false),
                    Relation(
                        "r2",
                        "http://schemas.openxmlformats.org/package/2006/relationships/metadata/core-properties",
                        "docProps/core.xml",
                        false
                    )
                )
            )
        );
        XNamespace cp = "http://schemas.openxmlformats.org/package/2006/metadata/core-properties",
            dc = "http://purl.org/dc/elements/1.1/";
        Entry(
            "docProps/core.xml",
            Bytes(
                new XElement(
                    cp + "coreProperties",
                    new XElement(dc + "title", Flowing.Xhtml.Clean(title)),
                    new XElement(dc + "language", manual.Language)
                )
            )
        );
        Entry("word/document.xml", Bytes(document));
        Entry("word/_rels/document.xml.rels", Bytes(Relations()));
        foreach (var (path, _, bytes) in _parts)
            Entry(path, bytes);
    }

    private static XElement Compatible(string name, string value) =>
        El("compatSetting", At("name", name), At("uri", "http://schemas.microsoft.com/office/word"), At("val", value));

    /// <param name="kinds">of parts that may be related to; null for all</param>
    private XElement Relations(string[]? kinds = null) =>
        new(
            Rels + "Relationships",
            _relations
                .Where(r => kinds is null || kinds.Contains(r.Type[Office.Length..]))
                .Select(r => Relation(r.Id, r.Type, r.Target, r.External))
                .Concat(kinds is null ? _brought.Select(b => Relation(b.Id, b.Type, b.Target, false)) : [])
        );

    private static XElement Relation(string id, string type, string target, bool external) =>
        new(
            Rels + "Relationship",
            new XAttribute("Id", id),
            new XAttribute("Type", type),
            new XAttribute("Target", target),
            external ? new XAttribute("TargetMode", "External") : null
        );
}
