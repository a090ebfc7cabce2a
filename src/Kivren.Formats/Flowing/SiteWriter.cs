using System.Globalization;
using System.IO.Compression;
using System.Text;
using System.Text.Json;
using System.Xml.Linq;
using Kivren.Core.Content;
using Kivren.Core.Numbering;
using Kivren.Formats.Package;
using static Kivren.Formats.Flowing.Xhtml;

namespace Kivren.Formats.Flowing;

/// <summary>A folder of web pages that opens from disk as it opens from a server: it asks nothing of any other address, reads
/// without script, and has search and pop-ups where script runs.</summary>
public static class SiteWriter
{
    /// <summary>The page that a site begins with.</summary>
    public const string Start = "index.html";

    /// <summary>The site as one file to be unpacked.</summary>
    /// <returns>the faces in it</returns>
    public static IReadOnlyList<string> WriteZip(
        FlowingBook book,
        OutputChoice choice,
        Func<string, byte[]?> pictures,
        Stream output,
        Action<int>? told = null,
        CancellationToken cancel = default
    )
    {
        using var zip = new ZipArchive(output, ZipArchiveMode.Create, leaveOpen: true);
        var faces = new List<string>();
        foreach (var (name, bytes) in Files(book, choice, pictures, told, cancel))
        {
            if (name.StartsWith("fonts/", StringComparison.Ordinal))
                faces.Add(Path.GetFileNameWithoutExtension(name));
            zip.Put(name, bytes);
        }
        return faces;
    }

    /// <summary>Each file with its path in the folder, in a fixed order.</summary>
    public static IEnumerable<(string Name, byte[] Bytes)> Files(
        FlowingBook book,
        OutputChoice choice,
        Func<string, byte[]?> pictures,
        Action<int>? told = null,
        CancellationToken cancel = default
    )
    {
        var used = new BookPictures(book.Manual, pictures);
        var site = new Site(book, choice.Splits == SplitAt.Nowhere);
        var sections = new List<XElement>();
        for (var p = 0; p < book.Pages.Count; p++)
        {
            cancel.ThrowIfCancellationRequested();
            var section = new BlockMarkup(book, p, MarkupDialect.Site, used.Address).Section();
            if (site.OnePage)
                sections.Add(section);
            else
                yield return (site.NameOf(p), Page(site.Whole(p, section), declared: false));
            told?.Invoke(p + 1);
        }
        yield return (Start, Page(site.First(sections), declared: false));
        var (css, fonts) = FlowingStyle.Of(book);
        yield return ("site.css", Encoding.UTF8.GetBytes(css + Resources.Text("site.css") + choice.OwnStyle));
        yield return ("site.js", Resources.Bytes("site.js"));
        yield return ("search/minisearch.js", Resources.Bytes("minisearch.js"));
        yield return ("search/texts.js", Encoding.UTF8.GetBytes(SearchTexts.Of(book, site.AddressOf)));
        if (SearchTexts.Terms(book) is { } terms)
            yield return ("search/terms.js", Encoding.UTF8.GetBytes(terms));
        foreach (var (name, bytes) in fonts)
            yield return ("fonts/" + name, bytes);
        foreach (var (_, address, bytes) in used.Files)
            yield return (address, bytes);
    }

    /// <summary>What all pages of one site have in common.</summary>
    private sealed class Site(FlowingBook book, bool onePage)
    {
        private readonly List<FlowingEntry> _contents = FlowingContents.Of(book);

        public bool OnePage => onePage;

        public string NameOf(int page) => book.Pages[page].Name + MarkupDialect.Site.Ending;

        public string AddressOf(Id target) => (onePage ? Start : "") + book.Address(target, -1, MarkupDialect.Site.Ending);

        private static string Title(string words) => words.Length > 0 ? words : "…";

        private XElement Head(string title) =>
            El(
                "head",
                El("meta", A("charset", "utf-8")),
                El("meta", A("name", "viewport"), A("content", "width=device-width, initial-scale=1")),
                El("title", Clean(title)),
                El("link", A("rel", "stylesheet"), A("href", "site.css")),
                El("script", A("src", "site.js"), A("defer", "defer"))
            );

        private XElement Top() =>
            El(
                "header",
                A("class", "site-top"),
                El("a", A("class", "skip"), A("href", "#main"), book.Words["toText"]),
                El("a", A("class", "site-title"), A("href", onePage ? "#main" : Start), Clean(book.Manual.Title)),
                El("a", A("class", "to-way"), A("href", "#way"), book.Words["contents"]),
                El(
                    "form",
                    A("class", "search"),
                    A("role", "search"),
                    A("hidden", "hidden"),
                    A("data-found", book.Words["found"]),
                    A("data-nothing", book.Words["nothingFound"]),
                    El("label", A("for", "sought"), book.Words["search"]),
                    El("input", A("id", "sought"), A("type", "search"), A("autocomplete", "off"))
                )
            );

        private XElement Html(string title, params object?[] body) =>
            El(
                "html",
                A("lang", book.Manual.Language),
                LanguageWords.IsFromRight(book.Manual.Language) ? A("dir", "rtl") : null,
                Head(title),
                El("body", body)
            );

        /// <summary>The way through the manual: of the division that is read all heads, of others the title alone.</summary>
        private XElement Way(int? page)
        {
            int? division = page is { } p ? book.Pages[p].Division : null;
            XElement Line(FlowingEntry entry, int depth)
            {
                var here = book.PageOf(entry.Target);
                var isHere = page is not null && here == page && IsStart(entry.Target, page.Value);
                var open =
                    onePage || entry.Under.Exists(u => IsDivision(u.Target)) || (here is { } at && book.Pages[at].Division == division);
                return El(
                    "li",
                    El("a", A("href", AddressFrom(entry.Target, page)), isHere ? A("aria-current", "page") : null, entry.Words),
                    open && entry.Under.Count > 0 && depth < 3 ? El("ol", entry.Under.Select(u => Line(u, depth + 1))) : null
                );
            }
            return El(
                "nav",
                A("class", "way"),
                A("id", "way"),
                A("aria-label", book.Words["contents"]),
                El("ol", _contents.Select(e => Line(e, 1)))
            );
        }

        private bool IsDivision(Id id) => book.Composed.Numbers.Find(id) is ({ Kind: TargetKind.Division }, _);

        private bool IsStart(Id target, int page) => target == (book.Pages[page].Head?.Id ?? book.DivisionOf(book.Pages[page]).Id);

        private string AddressFrom(Id target, int? page) =>
            book.Address(target, page ?? -1, MarkupDialect.Site.Ending) is { Length: > 0 } found ? found : "#main";

        public XElement Whole(int page, XElement section)
        {
            var title = EpubWriter.TitleOf(book, page);
            return Html(
                $"{Title(title)} – {book.Manual.Title}",
                Top(),
                El("div", A("class", "site"), Way(page), El("main", A("id", "main"), section, Turns(page)), OnThisPage(page))
            );
        }

        /// <summary>The start page: title and the whole contents; of a site of one page, all its text.</summary>
        public XElement First(List<XElement> sections) =>
            Html(
                book.Manual.Title,
                Top(),
                El(
                    "div",
                    A("class", "site"),
                    onePage ? Way(null) : null,
                    El(
                        "main",
                        A("id", "main"),
                        onePage
                            ? sections
                            : new object?[]
                            {
                                El("h1", Clean(book.Manual.Title)),
                                book.Composed.Text.Variable("subtitle") is { Length: > 0 } subtitle
                                    ? El("p", A("class", "subtitle"), Clean(subtitle))
                                    : null,
                                El(
                                    "nav",
                                    A("class", "whole"),
                                    A("id", "way"),
                                    A("aria-label", book.Words["contents"]),
                                    FlowingContents.List(_contents, e => El("a", A("href", AddressFrom(e.Target, null)), e.Words))
                                ),
                            }
                    )
                )
            );

        private XElement? Turns(int page)
        {
            XElement? Turn(int to, string kind, string word) =>
                to >= 0 && to < book.Pages.Count
                    ? El(
                        "a",
                        A("class", kind),
                        A("rel", kind),
                        A("href", NameOf(to)),
                        El("span", word),
                        new XText(" "),
                        Clean(Title(EpubWriter.TitleOf(book, to)))
                    )
                    : null;
            return El(
                "nav",
                A("class", "turns"),
                A("aria-label", book.Words["turns"]),
                Turn(page - 1, "prev", book.Words["before"]),
                Turn(page + 1, "next", book.Words["next"])
            );
        }

        private XElement? OnThisPage(int page)
        {
            var own = book.Pages[page];
            var numbers = book.NumbersOf(own);
            var heads = own
                .Blocks.OfType<Head>()
                .Where(h => h.Printed && h.Level <= HeadLevel.C && h.Id != own.Head?.Id)
                .Select(h => (Head: h, Target: numbers.ById.GetValueOrDefault(h.Id)))
                .Where(h => h.Target is not null)
                .ToList();
            if (heads.Count < 2)
                return null;
            var first = heads.Min(h => h.Head.Level);
            return El(
                "nav",
                A("class", "on-this-page"),
                A("aria-labelledby", "on-this-page"),
                El("h2", A("id", "on-this-page"), book.Words["thisPage"]),
                El(
                    "ul",
                    heads.Select(h =>
                        El(
                            "li",
                            A("class", "level-" + ((int)h.Head.Level - (int)first + 1).ToString(CultureInfo.InvariantCulture)),
                            El("a", A("href", "#" + FlowingBook.NameOf(h.Head.Id)), Clean($"{h.Target!.Number} {h.Target.Title}".Trim()))
                        )
                    )
                )
            );
        }
    }
}
