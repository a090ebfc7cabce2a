using System.Globalization;
using System.IO.Compression;
using System.Text;
using System.Text.RegularExpressions;
using System.Xml;
using System.Xml.Linq;
using AngleSharp.Dom;
using AngleSharp.Html.Parser;
using Kivren.Core.Content;
using Kivren.Core.Selection;
using static Kivren.Audit.ShownText;

namespace Kivren.Audit;

/// <summary>Judges a book for reading systems or a folder of web pages from outside: it knows the files and the manual and nothing of
/// how the one was made of the other.</summary>
public static partial class FlowingAudit
{
    private const string Words = "blocks, each once and in order",
        Links = "links that arrive",
        LeftOut = "what is left out",
        Pages = "references without pages",
        Pictures = "pictures",
        Lists = "contents and index";

    /// <param name="file">an EPUB, or a zip of web pages</param>
    /// <param name="look">the file of the look that it was composed in</param>
    public static AuditReport Audit(Stream file, Manual manual, Edition edition, string look)
    {
        var report = new AuditReport();
        using var zip = new ZipArchive(file, ZipArchiveMode.Read, leaveOpen: true);
        var book = Book.Read(zip);
        var text = Selector.Select(manual, edition.For(Medium.Flowing), rules: HouseRules.Of(look).Selecting);
        JudgeWords(text, book, report);
        JudgeLeftOut(manual, text, book, report);
        JudgeLinks(book, report);
        JudgePages(book, report);
        return report;
    }

    /// <summary>The pages of a book in the order in which they are read.</summary>
    private sealed class Book(IReadOnlyList<(string Path, IDocument Page)> pages, HashSet<string> files, List<(string, IDocument)> others)
    {
        public IReadOnlyList<(string Path, IDocument Page)> Pages => pages;
        public IEnumerable<(string Path, IDocument Page)> All => pages.Concat(others);
        public HashSet<string> Files => files;

        public static Book Read(ZipArchive zip)
        {
            var parser = new HtmlParser();
            var files = zip.Entries.Select(e => e.FullName).ToHashSet(StringComparer.Ordinal);
            IDocument Page(string path)
            {
                using var stream = zip.GetEntry(path)!.Open();
                return parser.ParseDocument(Closed(new StreamReader(stream, Encoding.UTF8).ReadToEnd()));
            }
            var order = files.Contains("book/package.opf") ? Spine(zip) : SiteOrder(files, Page);
            var read = order.Where(files.Contains).Select(p => (p, Page(p))).ToList();
            var others = files
                .Where(f =>
                    (f.EndsWith(".html", StringComparison.Ordinal) || f.EndsWith(".xhtml", StringComparison.Ordinal)) && !order.Contains(f)
                )
                .Order(StringComparer.Ordinal)
                .Select(p => (p, Page(p)))
                .ToList();
            return new Book(read, files, others);
        }

        /// <summary>XHTML says that an element is empty in a way that a reader of HTML passes over.</summary>
        private static string Closed(string page) => EmptyElement().Replace(page, "<$1$2></$1>");

        private static List<string> Spine(ZipArchive zip)
        {
            using var stream = zip.GetEntry("book/package.opf")!.Open();
            var package = XDocument.Load(stream);
            var items = package
                .Descendants()
                .Where(e => e.Name.LocalName == "item")
                .ToDictionary(e => e.Attribute("id")!.Value, e => "book/" + e.Attribute("href")!.Value);
            return [.. package.Descendants().Where(e => e.Name.LocalName == "itemref").Select(e => items[e.Attribute("idref")!.Value])];
        }

        /// <summary>A reader goes from page to page by “next”, from the first that the start page names; a site of one page is that
        /// page.</summary>
        private static List<string> SiteOrder(HashSet<string> files, Func<string, IDocument> page)
        {
            const string start = "index.html";
            var order = new List<string>();
            if (!files.Contains(start))
                return order;
            var first = page(start);
            var at = first.QuerySelector("nav.whole a")?.GetAttribute("href")?.Split('#')[0];
            if (at is null)
                return [start];
            while (at is { Length: > 0 } && files.Contains(at) && !order.Contains(at))
            {
                order.Add(at);
                at = page(at).QuerySelector("a[rel=next]")?.GetAttribute("href");
            }
            return order;
        }
    }

    [GeneratedRegex("<(a|span|div|p|td|th|section|li|mspace|mo|mi|mrow|script)((?:\\s[^<>]*)?)\\s*/>", RegexOptions.CultureInvariant)]
    private static partial Regex EmptyElement();

    // ---- words ----

    private static void JudgeWords(SelectedText text, Book book, AuditReport report)
    {
        var elements = new Dictionary<string, (int At, IElement Element)>(StringComparer.Ordinal);
        var at = 0;
        foreach (var (path, page) in book.Pages)
        foreach (var element in Main(page).QuerySelectorAll("[id]"))
            if (!elements.TryAdd(element.Id!, (at++, element)))
                report.Failed(Words, $"{path}: “{element.Id}” stands twice.");
        var last = -1;
        foreach (var division in text.Divisions)
        foreach (var block in division.Blocks.SelectMany(InReadingOrder))
        {
            if (block is PageBreak or PassageUse)
                continue;
            var isFound = elements.TryGetValue(NameOf(block.Id), out var found);
            report.Judge(Words, isFound, () => $"{division.Title}: {Told(block)} is not there.");
            if (!isFound)
                continue;
            report.Judge(Words, found.At > last, () => $"{division.Title}: {Told(block)} stands before what it follows.");
            last = found.At;
            JudgeBlock(text, division, block, found.Element, report);
        }
    }

    /// <summary>A glossary and a list of documents are sorted when they are composed: what is in them is judged for itself.</summary>
    private static IEnumerable<Block> InReadingOrder(Block block) =>
        block is DefinitionList or ReferenceList ? [block] : block.InnerBlocks().SelectMany(InReadingOrder).Prepend(block);

    private static IElement Main(IDocument page) => page.QuerySelector("main") ?? page.Body!;

    private static void JudgeBlock(SelectedText text, Division division, Block block, IElement element, AuditReport report)
    {
        var shown = Letters(element.TextContent);
        var from = 0;
        var isInOrder = block is not (DefinitionList or ReferenceList);
        foreach (var run in Texts(block))
        {
            var words = Letters(run);
            if (words.Length == 0)
                continue;
            var at = shown.IndexOf(words, isInOrder ? from : 0, StringComparison.Ordinal);
            report.Judge(Words, at >= 0, () => $"{division.Title}: “{Short(run)}” of {Told(block)} is not there.");
            if (at >= 0)
                from = at + words.Length;
        }
        if (block is Figure figure)
            report.Judge(Pictures, element.QuerySelector("img, video, audio")?.GetAttribute("alt") == figure.Alternative, () =>
                $"{division.Title}: the picture “{figure.Asset}” does not have its alternative text."
            );
        if (block is Table table)
        {
            report.Judge(Words, element.QuerySelectorAll("tr").Length == table.Rows.Count, () =>
                $"{division.Title}: {Told(block)} has {element.QuerySelectorAll("tr").Length} rows; it should have {table.Rows.Count}."
            );
            report.Judge(Words, element.QuerySelectorAll("thead tr").Length == Math.Min(table.HeaderRows, table.Rows.Count), () =>
                $"{division.Title}: the head of {Told(block)} is not marked as one."
            );
        }
        if (LeadsToSome(block, text))
            report.Judge(Lists, element.QuerySelectorAll("a[href]").Length > 0, () => $"{division.Title}: {Told(block)} leads nowhere.");
    }

    /// <summary>A list is there, and something that it would list.</summary>
    private static bool LeadsToSome(Block block, SelectedText text)
    {
        bool Has<T>(Func<T, bool> which) => text.Divisions.SelectMany(d => d.Blocks).SelectMany(b => b.WithInner()).OfType<T>().Any(which);
        return block switch
        {
            IndexList => text.Divisions.SelectMany(d => d.Blocks).SelectMany(b => b.Inlines()).Any(i => i is IndexEntry),
            ContentsList { List: "figures" } => Has<Figure>(f => f.IsCaptioned),
            ContentsList { List: "tables" } => Has<Table>(t => t.Caption.Count > 0),
            ContentsList { List: "listings" } => Has<Listing>(l => l.Caption.Count > 0),
            ContentsList { List: "contents" or "brief" } => text.Divisions.Any(d => d.Kind == DivisionKind.Chapter),
            _ => false,
        };
    }

    /// <summary>The texts of a block and of what stands in it, without what is computed and without notes, which stand apart.</summary>
    private static IEnumerable<string> Texts(Block block) =>
        block switch
        {
            // The caption stands over the lines, whatever the order of the parts.
            Listing l => l.Caption.OfType<TextRun>().Select(r => r.Text).Append(l.Text),
            DefinitionList d => d.Definitions.SelectMany(x =>
                x.Term.OfType<TextRun>().Select(r => r.Text).Concat(x.Blocks.SelectMany(b => b.WithInner()).SelectMany(Texts))
            ),
            ReferenceList r => r.Documents.SelectMany(x => x.Title.OfType<TextRun>().Select(t => t.Text).Prepend(x.Designation)),
            _ => block.OwnSpans().SelectMany(s => s.OfType<TextRun>()).Select(r => r.Text),
        };

    private static string Told(Block block) =>
        block.OwnSpans().FirstOrDefault()?.PlainText() is { Length: > 0 } words
            ? $"the {block.GetType().Name.ToLowerInvariant()} “{Short(words)}”"
            : $"a {block.GetType().Name.ToLowerInvariant()}";

    // ---- what is left out ----

    private static void JudgeLeftOut(Manual manual, SelectedText text, Book book, AuditReport report)
    {
        var taken = text
            .Divisions.SelectMany(d => d.Blocks)
            .SelectMany(b => b.WithInner())
            .Select(b => NameOf(b.Id))
            .ToHashSet(StringComparer.Ordinal);
        var there = book.All.SelectMany(p => p.Page.QuerySelectorAll("[id]")).Select(e => e.Id!).ToHashSet(StringComparer.Ordinal);
        foreach (var division in manual.Divisions)
        foreach (var block in division.Blocks.SelectMany(b => b.WithInner()))
            if (NameOf(block.Id) is var name && !taken.Contains(name))
                report.Judge(LeftOut, !there.Contains(name), () =>
                    $"{division.Title}: {Told(block)} is left out of the edition and is there."
                );
    }

    // ---- links ----

    private static void JudgeLinks(Book book, AuditReport report)
    {
        var ids = book.All.ToDictionary(
            p => p.Path,
            p => p.Page.QuerySelectorAll("[id]").Select(e => e.Id!).ToList(),
            StringComparer.Ordinal
        );
        foreach (var (path, own) in ids)
            report.Judge(Links, own.Distinct().Count() == own.Count, () => $"{path}: a name stands twice.");
        foreach (var (path, page) in book.All)
        {
            foreach (var link in page.QuerySelectorAll("a[href], link[href], img[src], script[src]"))
            {
                var address = link.GetAttribute("href") ?? link.GetAttribute("src") ?? "";
                if (Uri.TryCreate(address, UriKind.Absolute, out var web) && web.Scheme is "http" or "https" or "mailto" or "tel")
                {
                    report.Judge(Links, link.LocalName == "a", () => $"{path} fetches “{address}” from elsewhere.");
                    continue;
                }
                var parts = address.Split('#', 2);
                var target = parts[0].Length == 0 ? path : Beside(path, Uri.UnescapeDataString(parts[0]));
                report.Judge(Links, book.Files.Contains(target), () => $"{path} leads to “{address}”, which is not there.");
                if (parts.Length == 2 && parts[1].Length > 0 && ids.TryGetValue(target, out var there))
                    report.Judge(Links, there.Contains(parts[1]), () => $"{path} leads to “{address}”: the file has no such place.");
            }
        }
    }

    private static string Beside(string path, string address)
    {
        var parts = new List<string>(path.Split('/')[..^1]);
        foreach (var part in address.Split('/'))
            if (part == ".." && parts.Count > 0)
                parts.RemoveAt(parts.Count - 1);
            else if (part != ".")
                parts.Add(part);
        return string.Join('/', parts);
    }

    // ---- pages ----

    /// <summary>Where there are no pages no reference may send a reader to one.</summary>
    private static void JudgePages(Book book, AuditReport report)
    {
        foreach (var (path, page) in book.Pages)
        foreach (var reference in page.QuerySelectorAll("a.ref"))
            report.Judge(Pages, !NamesPage().IsMatch(reference.TextContent), () => $"{path}: a reference reads “{reference.TextContent}”.");
    }

    [GeneratedRegex(@"\bpages?\s+[0-9ivxlc]+\b|overleaf|facing page|on this page", RegexOptions.CultureInvariant | RegexOptions.IgnoreCase)]
    private static partial Regex NamesPage();

    /// <summary>The name of an identity in files, as docs/editions.md says: anchors are permanent.</summary>
    private static string NameOf(Id id) =>
        "k-"
        + string.Concat(
            id.Value.Select(c =>
                char.IsAsciiLetterOrDigit(c) || c is '-' or '.'
                    ? c.ToString()
                    : "_" + ((int)c).ToString("x", CultureInfo.InvariantCulture) + "_"
            )
        );
}
