using System.Globalization;
using System.IO.Compression;
using System.Security.Cryptography;
using System.Text;
using System.Xml;
using System.Xml.Linq;
using Kivren.Core.Content;
using Kivren.Formats.Package;
using static Kivren.Formats.Flowing.Xhtml;

namespace Kivren.Formats.Flowing;

/// <summary>An EPUB 3 publication (EPUB 3.2; EPUB Accessibility 1.0): one file a division, or a section where it is split.</summary>
public static class EpubWriter
{
    private static readonly XNamespace Opf = "http://www.idpf.org/2007/opf",
        Dc = "http://purl.org/dc/elements/1.1/",
        Container = "urn:oasis:names:tc:opendocument:xmlns:container";

    /// <param name="pages">of the printed book; null for none</param>
    /// <param name="pictures">bytes of the manual's pictures by name</param>
    /// <param name="modified">the moment of the text</param>
    /// <param name="told">with pages written, of all</param>
    /// <returns>the faces in it</returns>
    public static IReadOnlyList<string> Write(
        FlowingBook book,
        PageList? pages,
        OutputChoice choice,
        Func<string, byte[]?> pictures,
        DateTimeOffset modified,
        Stream output,
        Action<int>? told = null,
        CancellationToken cancel = default
    )
    {
        var used = new BookPictures(book.Manual, pictures);
        var (css, fonts) = FlowingStyle.Of(book);
        using var zip = new ZipArchive(output, ZipArchiveMode.Create, leaveOpen: true);
        void Entry(string name, byte[] bytes) => zip.Put(name, bytes);
        // First, and as it is: by it a reading system knows the file (OCF 3.2, 4.3).
        zip.Put("mimetype", "application/epub+zip"u8.ToArray(), CompressionLevel.NoCompression);
        Entry("META-INF/container.xml", Xml(ContainerOf()));
        var mathematics = new HashSet<string>(StringComparer.Ordinal);
        for (var p = 0; p < book.Pages.Count; p++)
        {
            cancel.ThrowIfCancellationRequested();
            var section = new BlockMarkup(book, p, MarkupDialect.Epub, name => "../" + used.Address(name)).Section();
            if (pages is not null)
                PutPages(section, book.Pages[p], book, pages);
            var name = NameOf(book.Pages[p]);
            if (section.Descendants().Any(e => e.Name.LocalName == "math"))
                mathematics.Add(name);
            Entry("book/text/" + name, Page(Whole(book, TitleOf(book, p), "../book.css", section), declared: true));
            told?.Invoke(p + 1);
        }
        Entry("book/contents.xhtml", Page(Whole(book, book.Words["contents"], "book.css", [.. Navigation(book, pages)]), declared: true));
        Entry("book/book.css", Encoding.UTF8.GetBytes(css + choice.OwnStyle));
        foreach (var (name, bytes) in fonts)
            Entry("book/fonts/" + name, bytes);
        foreach (var (_, address, bytes) in used.Files)
            Entry("book/" + address, bytes);
        Entry("book/package.opf", Xml(PackageOf(book, pages, used, fonts, mathematics, modified)));
        return [.. fonts.Select(f => Path.GetFileNameWithoutExtension(f.Name))];
    }

    private static string NameOf(FlowingPage page) => page.Name + MarkupDialect.Epub.Ending;

    internal static string TitleOf(FlowingBook book, int page) =>
        book.Pages[page].Head is { } head ? head.Content.PlainText() : book.DivisionOf(book.Pages[page]).Title;

    private static byte[] Xml(XElement root)
    {
        using var bytes = new MemoryStream();
        using (
            var xml = XmlWriter.Create(
                bytes,
                new XmlWriterSettings
                {
                    Encoding = new UTF8Encoding(false),
                    Indent = true,
                    NewLineChars = "\n",
                }
            )
        )
            root.Save(xml);
        return bytes.ToArray();
    }

    private static XElement ContainerOf() =>
        new(
            Container + "container",
            new XAttribute("version", "1.0"),
            new XElement(
                Container + "rootfiles",
                new XElement(
                    Container + "rootfile",
                    new XAttribute("full-path", "book/package.opf"),
                    new XAttribute("media-type", "application/oebps-package+xml")
                )
            )
        );

    private static XElement Whole(FlowingBook book, string title, string style, params object[] body) =>
        El(
            "html",
            new XAttribute(XNamespace.Xmlns + "epub", MarkupDialect.Ops),
            new XAttribute(XNamespace.Xml + "lang", book.Manual.Language),
            A("lang", book.Manual.Language),
            LanguageWords.IsFromRight(book.Manual.Language) ? A("dir", "rtl") : null,
            El(
                "head",
                El("meta", A("charset", "utf-8")),
                El("title", Clean(title.Length > 0 ? title : book.Manual.Title)),
                El("link", A("rel", "stylesheet"), A("href", style), A("type", "text/css"))
            ),
            El("body", body)
        );

    /// <summary>Where pages of the printed book begin, before the elements of the blocks that they begin with.</summary>
    private static void PutPages(XElement section, FlowingPage page, FlowingBook book, PageList pages)
    {
        var places = section.DescendantsAndSelf().Where(e => e.Attribute("id") is not null).ToDictionary(e => e.Attribute("id")!.Value);
        void Put(Id id)
        {
            if (!places.TryGetValue(FlowingBook.NameOf(id), out var element))
                return;
            var marks = pages
                .Before(id)
                .Select(p =>
                    El("span", A("id", p.Place), MarkupDialect.Epub.Type("pagebreak"), A("role", "doc-pagebreak"), A("aria-label", p.Folio))
                )
                .ToArray();
            // Between blocks no words may stand, but within them.
            if (element.Name.LocalName is "p" or "li" or "dt" or "h1" or "h2" or "h3" or "h4" or "h5" or "h6")
                element.AddFirst(marks);
            else if (marks.Length > 0 && element.Attribute("class")?.Value.StartsWith("division", StringComparison.Ordinal) == true)
                element.AddFirst(El("div", A("class", "marks"), marks));
            else if (marks.Length > 0)
                element.AddBeforeSelf(El("div", A("class", "marks"), marks));
        }
        if (page.Opens)
            Put(book.DivisionOf(page).Id);
        foreach (var block in page.Blocks.SelectMany(b => b.WithInner()))
            Put(block.Id);
    }

    // ---- navigation ----

    private static IEnumerable<XElement> Navigation(FlowingBook book, PageList? pages)
    {
        XElement Nav(string type, string title, params object?[] content) =>
            El(
                "nav",
                MarkupDialect.Epub.Type(type),
                A("aria-label", title),
                type == "toc" ? A("role", "doc-toc") : A("hidden", "hidden"),
                El("h1", title),
                content
            );
        var toc = FlowingContents.Of(book);
        yield return Nav(
            "toc",
            book.Words["contents"],
            FlowingContents.List(toc, entry => El("a", A("href", "text/" + book.Address(entry.Target, -1, ".xhtml")!), entry.Words))
        );
        var landmarks = new List<XElement>();
        void Landmark(string type, string title, DivisionKind kind)
        {
            if (book.Pages.FirstOrDefault(p => book.DivisionOf(p).Kind == kind) is { } page)
                landmarks.Add(El("li", El("a", MarkupDialect.Epub.Type(type), A("href", "text/" + NameOf(page)), title)));
        }
        Landmark("titlepage", book.Words["titlePage"], DivisionKind.TitlePage);
        Landmark("toc", book.Words["contents"], DivisionKind.Contents);
        Landmark("bodymatter", book.Words["toText"], DivisionKind.Chapter);
        Landmark("glossary", book.Words["glossary"], DivisionKind.Glossary);
        Landmark("index", book.Words["index"], DivisionKind.Index);
        if (landmarks.Count > 0)
            yield return Nav("landmarks", book.Words["partsOfBook"], El("ol", landmarks));
        if (pages is not null)
        {
            var listed = pages
                .Pages.Where(p => book.PageOf(p.Before) is not null)
                .Select(p => El("li", El("a", A("href", $"text/{NameOf(book.Pages[book.PageOf(p.Before)!.Value])}#{p.Place}"), p.Folio)))
                .ToList();
            if (listed.Count > 0)
                yield return Nav("page-list", book.Words["printedPages"], El("ol", listed));
        }
    }

    // ---- the package ----

    private static XElement PackageOf(
        FlowingBook book,
        PageList? pages,
        BookPictures pictures,
        IReadOnlyList<(string Name, byte[] Bytes)> fonts,
        HashSet<string> mathematics,
        DateTimeOffset modified
    )
    {
        XElement Item(string id, string href, string type, string? properties = null) =>
            new(
                Opf + "item",
                new XAttribute("id", id),
                new XAttribute("href", href),
                new XAttribute("media-type", type),
                properties is null ? null : new XAttribute("properties", properties)
            );
        XElement Meta(string property, string value) => new(Opf + "meta", new XAttribute("property", property), value);
        XElement Named(string name, string value, string? id = null) =>
            new(Dc + name, id is null ? null : new XAttribute("id", id), Clean(value));
        string N(int n) => n.ToString(CultureInfo.InvariantCulture);
        var text = book.Composed.Text;
        var hasPictures = pictures.Files.Any();
        string[] features =
        [
            "structuralNavigation",
            "tableOfContents",
            "readingOrder",
            "alternativeText",
            .. mathematics.Count > 0 ? ["MathML"] : Array.Empty<string>(),
            .. book.Composed.Index.Headings.Count > 0 ? ["index"] : Array.Empty<string>(),
            .. pages is { Pages.Count: > 0 } ? ["printPageNumbers"] : Array.Empty<string>(),
        ];
        return new XElement(
            Opf + "package",
            new XAttribute("version", "3.0"),
            new XAttribute("unique-identifier", "id"),
            new XAttribute(XNamespace.Xml + "lang", book.Manual.Language),
            new XElement(
                Opf + "metadata",
                new XAttribute(XNamespace.Xmlns + "dc", Dc),
                Named("identifier", IdentifierOf(text.Manual.Id.Value + "\n" + text.Edition.Name), "id"),
                Named("title", text.Variable("title") ?? book.Manual.Title),
                Named("language", book.Manual.Language),
                text.Variable("firm") is { Length: > 0 } firm ? Named("publisher", firm) : null,
                Meta("dcterms:modified", modified.UtcDateTime.ToString("yyyy-MM-dd'T'HH:mm:ss'Z'", CultureInfo.InvariantCulture)),
                Meta("schema:accessMode", "textual"),
                hasPictures ? Meta("schema:accessMode", "visual") : null,
                Meta("schema:accessModeSufficient", "textual"),
                features.Select(f => Meta("schema:accessibilityFeature", f)),
                Meta("schema:accessibilityHazard", "none"),
                Meta(
                    "schema:accessibilitySummary",
                    "Heads, lists, tables and notes are marked as what they are; pictures and equations have alternative text."
                ),
                pages is { Pages.Count: > 0 } ? Named("source", book.Manual.Title + ", in print") : null
            ),
            new XElement(
                Opf + "manifest",
                Item("contents", "contents.xhtml", "application/xhtml+xml", "nav"),
                Item("style", "book.css", "text/css"),
                book.Pages.Select(
                    (p, i) =>
                        Item(
                            "p" + N(i + 1),
                            "text/" + NameOf(p),
                            "application/xhtml+xml",
                            mathematics.Contains(NameOf(p)) ? "mathml" : null
                        )
                ),
                fonts.Select((f, i) => Item("f" + N(i + 1), "fonts/" + f.Name, "font/woff2")),
                pictures.Files.Select((f, i) => Item("i" + N(i + 1), f.Address, f.MediaType))
            ),
            new XElement(
                Opf + "spine",
                LanguageWords.IsFromRight(book.Manual.Language) ? new XAttribute("page-progression-direction", "rtl") : null,
                book.Pages.Select((_, i) => new XElement(Opf + "itemref", new XAttribute("idref", "p" + N(i + 1))))
            )
        );
    }

    /// <summary>The same for every output of an edition: a name-based identifier (RFC 9562, 5.5).</summary>
    private static string IdentifierOf(string name)
    {
        var hash = SHA256.HashData(Encoding.UTF8.GetBytes(name)).AsSpan(0, 16).ToArray();
        hash[6] = (byte)(hash[6] & 0x0F | 0x80);
        hash[8] = (byte)(hash[8] & 0x3F | 0x80);
        return "urn:uuid:" + new Guid(hash, bigEndian: true);
    }
}
