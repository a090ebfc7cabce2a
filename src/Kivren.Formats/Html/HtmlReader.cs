using System.Text;
using AngleSharp.Dom;
using AngleSharp.Html.Dom;
using AngleSharp.Html.Parser;
using Kivren.Core.Content;
using Kivren.Formats.Import;
using Kivren.Formats.Import.Sites;

namespace Kivren.Formats.Html;

/// <summary>Reads HTML pages: their own text, not the navigation round it.</summary>
public sealed partial class HtmlReader
{
    private const int MostDepth = 60;

    private static readonly HashSet<string> Blocks_ =
    [
        "address",
        "article",
        "aside",
        "blockquote",
        "body",
        "center",
        "details",
        "dd",
        "dir",
        "div",
        "dl",
        "dt",
        "fieldset",
        "figcaption",
        "figure",
        "footer",
        "form",
        "h1",
        "h2",
        "h3",
        "h4",
        "h5",
        "h6",
        "header",
        "hgroup",
        "hr",
        "li",
        "main",
        "menu",
        "nav",
        "ol",
        "p",
        "pre",
        "section",
        "summary",
        "table",
        "ul",
    ];
    private static readonly HashSet<string> Unread =
    [
        "script",
        "style",
        "template",
        "noscript",
        "head",
        "link",
        "meta",
        "input",
        "button",
        "select",
        "textarea",
        "svg",
        "canvas",
        "iframe",
        "object",
        "embed",
        "video",
        "audio",
    ];

    /// <summary>What the inline elements of a page stand for.</summary>
    internal static IReadOnlyDictionary<string, SpanRoles> Roles { get; } =
        new Dictionary<string, SpanRoles>
        {
            ["b"] = SpanRoles.Strong,
            ["strong"] = SpanRoles.Strong,
            ["i"] = SpanRoles.Emphasis,
            ["em"] = SpanRoles.Emphasis,
            ["cite"] = SpanRoles.Emphasis,
            ["u"] = SpanRoles.Emphasis,
            ["code"] = SpanRoles.Code,
            ["tt"] = SpanRoles.Code,
            ["samp"] = SpanRoles.Code,
            ["var"] = SpanRoles.Emphasis,
            ["kbd"] = SpanRoles.Key,
            ["dfn"] = SpanRoles.Term,
            ["sub"] = SpanRoles.Sub,
            ["sup"] = SpanRoles.Sup,
        };

    /// <summary>What classes stand for that are named after the faces of a typesetting language.</summary>
    private static readonly Dictionary<string, SpanRoles> FaceClasses = new()
    {
        ["textbf"] = SpanRoles.Strong,
        ["textit"] = SpanRoles.Emphasis,
        ["textsl"] = SpanRoles.Emphasis,
        ["texttt"] = SpanRoles.Code,
    };

    private readonly string _file;
    private readonly IReadOnlyDictionary<string, byte[]> _found;
    private readonly CancellationToken _cancel;
    private readonly List<ReportLine> _met = [];
    private Dictionary<string, byte[]> _pictures = new(StringComparer.Ordinal);
    private readonly Dictionary<string, StyleFacts> _styles = new(StringComparer.Ordinal);
    private readonly Dictionary<string, IElement> _notes = new(StringComparer.Ordinal);
    private PageLooks? _looks;
    private int _place;

    /// <summary>Lines of the file before what is read.</summary>
    private int _before;

    private HtmlReader(string file, IReadOnlyDictionary<string, byte[]> found, CancellationToken cancel)
    {
        _file = file;
        _found = found;
        _cancel = cancel;
        for (var level = 1; level <= 6; level++)
            _styles[$"h{level}"] = new StyleFacts(level);
        _styles["blockquote"] = new StyleFacts(Role: ImportRole.Quotation);
        _styles["aside"] = new StyleFacts(Role: ImportRole.Aside);
        _styles["minor title"] = new StyleFacts(Role: ImportRole.Body);
        foreach (var (name, role) in InlineNames.Roles)
            _styles[name] = new StyleFacts(Role: role);
    }

    /// <param name="beside">files that the page may name, by their path from it</param>
    /// <exception cref="SourceFormatException">the file holds no page</exception>
    public static SourceDocument Read(
        string file,
        byte[] bytes,
        IReadOnlyDictionary<string, byte[]> beside,
        CancellationToken cancel = default
    ) => new HtmlReader(file, beside, cancel).Document(bytes);

    /// <summary>Reads a piece of a page that stands in a text of another kind.</summary>
    /// <param name="before">lines of the file before it</param>
    /// <param name="pictures">of the whole text: what the piece shows is added</param>
    internal static SourceDocument Piece(
        string file,
        string html,
        int before,
        IReadOnlyDictionary<string, byte[]> beside,
        Dictionary<string, byte[]> pictures,
        CancellationToken cancel
    )
    {
        NestingGuard.Html(file, Encoding.UTF8.GetBytes(html));
        var reader = new HtmlReader(file, beside, cancel) { _before = before, _pictures = pictures };
        var page = new HtmlParser(new HtmlParserOptions { IsKeepingSourceReferences = true }).ParseDocument(html);
        reader._looks = new PageLooks(page);
        var blocks = new List<SourceBlock>();
        reader.Children(page.Body!, blocks, 0);
        foreach (var unread in page.QuerySelectorAll("script, style, template, noscript").Where(e => e.TextContent.Trim().Length > 0))
        {
            reader.Line(unread);
            reader.Tell(
                ReportKind.LeftOut,
                $"A <{unread.LocalName}> was left out: paper cannot run it.",
                WebUtilityText(unread.TextContent)
            );
        }
        // Names at the end are of what follows the piece.
        if (reader.Carried() is { Count: > 0 } names)
            blocks.Add(new SourceParagraph(before + 1, "p", names));
        return new SourceDocument(file, blocks) { Styles = reader._styles, Met = reader._met };
    }

    private SourceDocument Document(byte[] bytes)
    {
        NestingGuard.Html(_file, bytes);
        var parser = new HtmlParser(new HtmlParserOptions { IsKeepingSourceReferences = true });
        IHtmlDocument page;
        try
        {
            var read = TextBytes.Read(bytes);
            page = parser.ParseDocument(XhtmlTags.Closed(read.Text));
            if (read.Guessed is { } guessed)
                _met.Add(TextBytes.Told(_file, guessed));
        }
        catch (Exception e) when (e is InvalidOperationException or FormatException or InsufficientExecutionStackException)
        {
            throw new SourceFormatException($"{_file} cannot be read as a page: {e.Message}");
        }
        LinkedItems.SetIn(page);
        SmallClasses(page);
        _looks = new PageLooks(page);
        PagePictures.SayWays(page);
        var body = (INode?)page.Body ?? throw new SourceFormatException($"{_file} has no text.");
        var main = page.QuerySelector("main, [role=main]") ?? (page.QuerySelectorAll("article") is { Length: 1 } one ? one[0] : page.Body!);
        SetNotesApart(main);
        FindNotes(main);
        _title = main.QuerySelectorAll("div.title").FirstOrDefault(IsTitle);
        var blocks = new List<SourceBlock>();
        Children(main, blocks, 0);
        if (!ReferenceEquals(main, page.Body))
            Outside(page.Body!, main);
        var title = WebUtilityText(page.Title ?? "");
        return new SourceDocument(_file, blocks)
        {
            Title = blocks.OfType<SourceParagraph>().Any(p => p.Style == "h1") ? "" : title,
            Language = page.DocumentElement.GetAttribute("lang") is { Length: > 1 } language ? language : "",
            Styles = _styles,
            Pictures = _pictures,
            Met = _met,
            Site = SiteLinks.Of(_file, page, main),
        };
    }

    /// <summary>Older stylesheets write their classes in capitals.</summary>
    private static void SmallClasses(IDocument page)
    {
        foreach (var element in page.QuerySelectorAll("[class]"))
            if (element.ClassName is { } name && name.Any(char.IsAsciiLetterUpper) && !name.Any(char.IsAsciiLetterLower))
                element.ClassName = name.ToLowerInvariant();
    }

    private static string WebUtilityText(string text) => string.Join(' ', text.Split((char[]?)null, StringSplitOptions.RemoveEmptyEntries));

    private void Outside(IElement body, IElement main)
    {
        var words = new StringBuilder();
        void Walk(INode node)
        {
            if (ReferenceEquals(node, main))
                return;
            if (node is IElement e && Unread.Contains(e.LocalName))
                return;
            if (node is IText text && !string.IsNullOrWhiteSpace(text.Data))
                words.Append(WebUtilityText(text.Data)).Append(' ');
            foreach (var child in node.ChildNodes)
                Walk(child);
        }
        Walk(body);
        if (words.Length > 0)
            _met.Add(
                new ReportLine(
                    ReportKind.LeftOut,
                    _file,
                    "Navigation and other words round the page's own text were left out.",
                    words.ToString().Trim()
                )
            );
    }

    private void Tell(ReportKind kind, string what, string words = "") =>
        _met.Add(ReportLine.At(kind, _file, "line", Math.Max(1, _place), what, words));

    private int Line(INode node)
    {
        for (var at = node; at is not null; at = at.Parent)
            if (at is IElement { SourceReference: { } source })
            {
                _place = source.Position.Line + _before;
                break;
            }
        return _place;
    }
}
