using System.Text;
using System.Text.RegularExpressions;
using System.Xml.Linq;
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

    private readonly string _file;
    private readonly IReadOnlyDictionary<string, byte[]> _found;
    private readonly CancellationToken _cancel;
    private readonly List<ReportLine> _met = [];
    private Dictionary<string, byte[]> _pictures = new(StringComparer.Ordinal);
    private readonly Dictionary<string, StyleFacts> _styles = new(StringComparer.Ordinal);
    private readonly Dictionary<string, IElement> _notes = new(StringComparer.Ordinal);
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
        PagePictures.SayWays(page);
        var body = (INode?)page.Body ?? throw new SourceFormatException($"{_file} has no text.");
        var main = page.QuerySelector("main, [role=main]") ?? (page.QuerySelectorAll("article") is { Length: 1 } one ? one[0] : page.Body!);
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

    // ---- notes ----

    /// <summary>Notes that stand at the foot of a page and are called by a link: they belong where they are called.</summary>
    /// <summary>A note is being read.</summary>
    private bool _inNote;
    private readonly HashSet<string> _called = new(StringComparer.Ordinal);

    private void FindNotes(IElement main)
    {
        foreach (var call in main.QuerySelectorAll("a[href^='#']"))
        {
            if (!IsCall(call))
                continue;
            var id = call.GetAttribute("href")![1..];
            // A note that is called only from inside itself is no note: its words stay in the text.
            if (
                call.Ancestors()
                    .OfType<IElement>()
                    .Any(a => a.Id == id || (a.LocalName == "dd" && a.PreviousElementSibling is { } label && label.Id == id))
            )
                continue;
            if (_notes.ContainsKey(id) || main.QuerySelectorAll("[id]").FirstOrDefault(e => e.Id == id) is not { } note)
                continue;
            _notes[id] = note;
        }
    }

    private static bool IsCall(IElement a) =>
        a.GetAttribute("role") == "doc-noteref"
        || a.ClassList.Contains("footnote-reference")
        || a.ClassList.Contains("footnote-ref")
        || a.GetAttribute("epub:type") == "noteref"
        || (a.ParentElement?.LocalName == "sup" && NoteCall().IsMatch(a.TextContent.Trim()));

    [GeneratedRegex(@"^\[?(\d{1,3}|[*†‡])\]?$")]
    private static partial Regex NoteCall();

    /// <summary>The element that holds the whole note: a definition's text after its label, an item, a paragraph.</summary>
    private static IEnumerable<INode> NoteText(IElement note) =>
        note.LocalName == "dt" && note.NextElementSibling is { LocalName: "dd" } text ? text.ChildNodes : note.ChildNodes;

    private bool IsNote(IElement e) =>
        (e.Id is { Length: > 0 } id && _notes.ContainsKey(id))
        || (e.LocalName == "dd" && e.PreviousElementSibling is { LocalName: "dt", Id: { Length: > 0 } label } && _notes.ContainsKey(label));

    // ---- blocks ----

    /// <param name="but">a child that was read already</param>
    private void Children(INode parent, List<SourceBlock> blocks, int depth, IElement? but = null)
    {
        _cancel.ThrowIfCancellationRequested();
        if (depth > MostDepth)
        {
            var words = WebUtilityText(parent.TextContent);
            if (words.Length > 0)
            {
                Tell(ReportKind.Changed, $"What is nested more than {MostDepth} deep stands as one paragraph.");
                blocks.Add(new SourceParagraph(Line(parent), "p", [new SourceRun(words)]));
            }
            return;
        }
        // Text between blocks is a paragraph of its own.
        var loose = new List<SourceSpan>();
        void Close()
        {
            if (loose.Words().Trim().Length > 0)
                blocks.Add(new SourceParagraph(Line(parent), "p", [.. loose]));
            else if (loose.OfType<SourceBookmark>().Any())
                _carried.AddRange(loose.OfType<SourceBookmark>());
            loose.Clear();
        }
        foreach (var node in parent.ChildNodes)
            if (ReferenceEquals(node, but))
                Close();
            else if (node is IElement element && IsBlock(element))
            {
                Close();
                Block(element, blocks, depth + 1);
            }
            else if (PagePictures.Alone(node, IsBlock) is { } picture)
            {
                Close();
                Picture(picture, [], blocks);
            }
            else
                Spans(node, loose, SpanRoles.None, null);
        Close();
    }

    /// <summary>A sign such as ¶ that links to the very element that it stands in.</summary>
    private static bool IsOwnSign(IElement link)
    {
        var sign = link.TextContent.Trim();
        if (sign.Length is 0 or > 3 || sign.Any(char.IsLetterOrDigit) || link.GetAttribute("href") is not ['#', _, ..] href)
            return false;
        for (var at = link.ParentElement; at is not null; at = at.ParentElement)
            if (at.Id == href[1..])
                return true;
        return false;
    }

    private const string LeftOutWays = "Navigation was left out: the manual makes its own contents list.";

    /// <summary>What links of a page's ways say they are (HTML 4.01, 6.12; the microformats' up).</summary>
    private static readonly string[] Ways = ["next", "prev", "previous", "up", "start", "first", "last", "contents", "toc", "index", "top"];

    /// <summary>A line of ways from this page or section to its neighbours: every link in it says that it is one.</summary>
    private static bool IsWays(IElement element)
    {
        const int mostWords = 400;
        if (element.QuerySelector("a[rel]") is null || element.TextContent.Length > mostWords)
            return false;
        var links = element.QuerySelectorAll("a[href]");
        return links.Any(l => Says(l, "next", "prev", "previous", "up"))
            && links.All(l => Says(l, Ways))
            && element.QuerySelector("h1, h2, h3, h4, h5, h6, img, pre") is null;

        static bool Says(IElement link, params string[] ways) =>
            (link.GetAttribute("rel") ?? "").ToLowerInvariant().Split(' ').Any(r => ways.Contains(r));
    }

    private static bool IsBlock(IElement element) =>
        Blocks_.Contains(element.LocalName)
        || element.QuerySelector("p, table, ul, ol, pre, div, figure") is not null
            && element.LocalName is "a" or "span" or "font" or "section" or "ins" or "del";

    private readonly List<SourceSpan> _carried = [];

    /// <summary>The page's title where it is no head: a box of its own that says what the reader's window shows.</summary>
    private IElement? _title;

    private static bool IsTitle(IElement box) =>
        WebUtilityText(box.TextContent) is { Length: > 0 } words
        && WebUtilityText(box.Owner!.Title ?? "").EndsWith(words, StringComparison.Ordinal)
        && box.QuerySelector("p, table, ul, ol, pre, div, h1, h2, h3, h4, h5, h6") is null;

    /// <summary>What a block is by its markup; heads below a title that is no head stand a level lower.</summary>
    private string NameOf(IElement element) =>
        _title is not null && element.LocalName is ['h', >= '1' and <= '5' and var level] ? $"h{level - '0' + 1}"
        : ReferenceEquals(element, _title) ? "h1"
        : element.LocalName;

    private string Style(IElement element)
    {
        var kind = ReferenceEquals(element, _title)
            ? null
            : element.ClassList.FirstOrDefault(c => c.Length is > 2 and < 40 && !Plain().IsMatch(c));
        var own = NameOf(element);
        var name = kind is null ? own : $"{own}.{kind}";
        if (kind is not null && !_styles.ContainsKey(name) && _styles.TryGetValue(own, out var facts) && facts.Level is not null)
            _styles[name] = facts;
        return name;
    }

    /// <summary>Class names that say how a page is laid out, not what its text is.</summary>
    [GeneratedRegex(
        @"^(simple|first|last|topless|align-|arabic|lower|upper|docutils|literal-block|line|lead-?in$|reference|std|clear|col|row"
            + @"|container|highlight|notranslate|Mso|western|toctree|compound|section|body|content|text)",
        RegexOptions.IgnoreCase
    )]
    private static partial Regex Plain();

    private void Block(IElement element, List<SourceBlock> blocks, int depth)
    {
        if (IsNote(element))
            return;
        if (IsWays(element))
        {
            Tell(ReportKind.LeftOut, LeftOutWays, WebUtilityText(element.TextContent));
            return;
        }
        var at = Line(element);
        var from = blocks.Count;
        if (element.Id is { Length: > 0 } id)
            _carried.Add(new SourceBookmark(id));
        switch (element.LocalName)
        {
            case "h1" or "h2" or "h3" or "h4" or "h5" or "h6" or "p" or "address" or "summary" or "center" or "figcaption" or "dt":
                if (
                    element.QuerySelector("p, table, ul, ol, pre, div") is not null
                    || (element.LocalName == "p" && PagePictures.In(element).Count > 0 && !PagePictures.HasWords(element))
                )
                {
                    Children(element, blocks, depth);
                    break;
                }
                blocks.Add(
                    Paragraph(
                        element,
                        IsMinorTitle(element) ? "minor title"
                            : element.LocalName is "h1" or "h2" or "h3" or "h4" or "h5" or "h6" or "p" ? Style(element)
                            : element.LocalName == "figcaption" ? "caption"
                            : "p"
                    )
                );
                break;
            case "div" when ReferenceEquals(element, _title):
                blocks.Add(Paragraph(element, Style(element)));
                break;
            case "ul" or "ol" or "menu" or "dir":
                List(element, blocks, depth);
                break;
            case "dl":
                Definitions(element, blocks, depth);
                break;
            case "pre":
                blocks.Add(new SourceListing(at, LanguageOf(element), Preformatted(element)) { Caption = Carried() });
                break;
            case "table":
                Table(element, blocks, depth);
                break;
            case "figure":
                Boxed(element, element.Children.FirstOrDefault(c => c.LocalName == "figcaption"), isExample: false, blocks, depth);
                break;
            case "blockquote" or "aside" or "details":
                Group(element, element.LocalName == "details" ? "div" : Style(element), blocks, depth);
                break;
            case "nav":
                if (WebUtilityText(element.TextContent) is { Length: > 0 } navigation)
                    Tell(ReportKind.LeftOut, LeftOutWays, navigation);
                break;
            case "hr":
                break;
            case "div" or "section" when Titled(element) is { } box:
                Boxed(element, box.Title, box.IsExample, blocks, depth);
                break;
            case "div" or "section" when Admonition(element) is { } kind:
                Group(element, kind, blocks, depth);
                break;
            case "div"
                when element.ClassList.Contains("toctree-wrapper")
                    || element.Id == "toc"
                    || element.ClassList.Contains("toc")
                    || element.ClassList.Contains("contents") && element.QuerySelectorAll("a[href^='#']").Length > 3:
                blocks.Add(new SourceGenerated(at, Generated.Contents, WebUtilityText(element.TextContent)));
                break;
            default:
                Children(element, blocks, depth);
                break;
        }
        // A name that nothing took belongs to the first block inside.
        if (_carried.Count > 0 && blocks.Count > from)
            for (var i = from; i < blocks.Count; i++)
                if (blocks[i] is SourceParagraph p)
                {
                    blocks[i] = p with { Spans = [.. Carried(), .. p.Spans] };
                    break;
                }
    }

    private List<SourceSpan> Carried()
    {
        var carried = _carried.ToList();
        _carried.Clear();
        return carried;
    }

    /// <summary>A title of something within the text: never of the manual.</summary>
    private static bool IsMinorTitle(IElement element) =>
        element.LocalName == "p" && element.ClassList.Any(c => c is "title" || c.EndsWith("-title", StringComparison.Ordinal));

    private SourceParagraph Paragraph(IElement element, string style)
    {
        var at = Line(element);
        var spans = Carried();
        foreach (var node in element.ChildNodes)
            Spans(node, spans, IsMinorTitle(element) ? SpanRoles.Strong : SpanRoles.None, null);
        return new SourceParagraph(at, style, spans);
    }

    private List<SourceSpan> CaptionOf(IElement element)
    {
        var spans = Carried();
        foreach (var node in element.ChildNodes)
            Spans(node, spans, SpanRoles.None, null);
        return spans;
    }

    private static string? Admonition(IElement element)
    {
        foreach (
            var name in (ReadOnlySpan<string>)
                ["danger", "warning", "caution", "attention", "notice", "important", "note", "tip", "hint", "sidebar"]
        )
            if (element.ClassList.Contains(name) || element.ClassList.Contains("admonition-" + name))
                return name;
        // One of the site's own kinds.
        return element.ClassList.Contains("admonition") ? "aside" : null;
    }

    private static readonly string[] Boxes =
    [
        "table",
        "figure",
        "example",
        "listing",
        "informaltable",
        "informalfigure",
        "informalexample",
        "equation",
        "programlisting",
        "literal-block-wrapper",
        "table-wrapper",
        "image",
    ];

    /// <summary>The title that stands in a box that holds a table, a figure, a listing or an example; null where it is no such box, or
    /// has none.</summary>
    private static (IElement Title, bool IsExample)? Titled(IElement element)
    {
        if (element.LocalName is not ("div" or "section") || Boxes.FirstOrDefault(element.ClassList.Contains) is not { } box)
            return null;
        var title = element.Children.FirstOrDefault(c =>
            c.LocalName is "p" or "div" or "h3" or "h4" or "h5" or "h6"
            && c.ClassList.Any(n =>
                n is "title" or "caption" or "caption-text" or "code-block-caption" or "figure-title" or "table-title" or "wp-caption-text"
            )
        );
        return title is null ? null : (title, box.EndsWith("example", StringComparison.Ordinal));
    }

    /// <summary>What a box holds, with its title as the caption of it: of its last picture, else of the first table or listing.</summary>
    private void Boxed(IElement element, IElement? title, bool isExample, List<SourceBlock> blocks, int depth)
    {
        var at = Line(element);
        var caption = title is null ? [] : CaptionOf(title);
        var pictures = PagePictures.In(element);
        if (pictures.Count > 0 && !PagePictures.HasWords(element, but: title))
        {
            for (var i = 0; i < pictures.Count; i++)
                Picture(pictures[i], i == pictures.Count - 1 ? caption : [], blocks);
            return;
        }
        var inner = new List<SourceBlock>();
        Children(element, inner, depth + 1, title);
        if (title is null || inner.Count == 0)
        {
            blocks.AddRange(inner);
            if (caption.Words().Trim().Length > 0)
                blocks.Add(new SourceParagraph(at, "caption", caption));
            return;
        }
        var what = inner.FindLastIndex(b => b is SourcePicture);
        if (what < 0)
            what = inner.FindIndex(b => b is SourceTable or SourceListing);
        if (what >= 0 && (!isExample || inner.Count == 1))
            inner[what] = inner[what] switch
            {
                SourceTable t => t with { Caption = [.. caption, .. t.Caption.OfType<SourceBookmark>()] },
                SourcePicture p => p with { Caption = [.. caption, .. p.Caption.OfType<SourceBookmark>()] },
                SourceListing l => l with { Caption = [.. caption, .. l.Caption.OfType<SourceBookmark>()] },
                var other => other,
            };
        else if (isExample)
            inner = [new SourceGroup(at, "example", inner) { Title = caption }];
        else
            inner.Insert(0, new SourceParagraph(at, "caption", caption));
        blocks.AddRange(inner);
    }

    private void Group(IElement element, string style, List<SourceBlock> blocks, int depth)
    {
        var at = Line(element);
        var carried = Carried();
        var inner = new List<SourceBlock>();
        Children(element, inner, depth + 1);
        if (inner is [SourceTable { Caption.Count: 0 } frame] && WithoutSign(frame) is { } framed)
            inner = framed;
        IReadOnlyList<SourceSpan> title = [];
        // The title of a note that only says what it is would say it twice.
        if (
            inner.Count > 0
            && inner[0] is SourceParagraph first
            && element.FirstElementChild is { } head
            && (
                head.ClassList.Any(c => c.Contains("title", StringComparison.Ordinal))
                || (inner.Count > 1 && SignalWords.KindOf(first.Spans.Words().Trim()) is not null)
            )
        )
        {
            inner.RemoveAt(0);
            var named = first.Spans.Words().Trim().TrimEnd(':', '：');
            if (!named.Equals(style, StringComparison.OrdinalIgnoreCase) && SignalWords.KindOf(named) is null)
                title = first.Spans;
            else
                Tell(
                    ReportKind.Changed,
                    "The title of an admonition that only names its kind was taken out: the look prints it.",
                    first.Spans.Words().Trim()
                );
        }
        if (carried.Count > 0 && inner.OfType<SourceParagraph>().FirstOrDefault() is { } p)
            inner[inner.IndexOf(p)] = p with { Spans = [.. carried, .. p.Spans] };
        blocks.Add(new SourceGroup(at, style, inner) { Title = title });
    }

    /// <summary>What stands in a table that only puts a sign beside an admonition's text; null for any other table.</summary>
    private static List<SourceBlock>? WithoutSign(SourceTable frame)
    {
        const int mostRows = 3;
        var cells = frame.Rows.SelectMany(r => r.Cells).ToList();
        static bool IsSign(SourceCell cell) =>
            cell.Blocks.All(b =>
                b is SourcePicture
                || (b is SourceParagraph p && (!p.Spans.Words().Any(char.IsLetter) || SignalWords.KindOf(p.Spans.Words()) is not null))
            );
        var texts = cells.Skip(1).ToList();
        return cells.Count is > 1 and < 4 && frame.Rows.Count <= mostRows && IsSign(cells[0]) && frame.Rows.All(r => r.Cells.Count <= 2)
            ? [.. texts.SelectMany(c => c.Blocks)]
            : null;
    }

    private void List(IElement element, List<SourceBlock> blocks, int depth)
    {
        var at = Line(element);
        var items = new List<SourceItem>();
        foreach (var child in element.Children)
        {
            if (IsNote(child))
                continue;
            var inner = new List<SourceBlock>();
            if (child.Id is { Length: > 0 } id)
                _carried.Add(new SourceBookmark(id));
            if (child.LocalName == "li")
                Children(child, inner, depth + 1);
            else
                Block(child, inner, depth + 1);
            if (_carried.Count > 0 && inner.OfType<SourceParagraph>().FirstOrDefault() is { } p)
                inner[inner.IndexOf(p)] = p with { Spans = [.. Carried(), .. p.Spans] };
            // A list that stands in another without an item of its own belongs to the item before.
            if (child.LocalName is "ul" or "ol" && items.Count > 0)
                items[^1] = new SourceItem([.. items[^1].Blocks, .. inner]);
            else if (inner.Count > 0)
                items.Add(new SourceItem(inner));
        }
        if (items.Count == 0)
            return;
        var kind =
            element.LocalName != "ol"
                ? ListKind.Unordered
                : (element.GetAttribute("type") ?? "") switch
                {
                    "a" or "A" => ListKind.Alpha,
                    "i" or "I" => ListKind.Roman,
                    _ => element.ClassList.Contains("loweralpha") || element.ClassList.Contains("upperalpha") ? ListKind.Alpha
                    : element.ClassList.Contains("lowerroman") || element.ClassList.Contains("upperroman") ? ListKind.Roman
                    : ListKind.Decimal,
                };
        blocks.Add(
            new SourceList(
                at,
                element.LocalName == "ol" ? "ol" : "ul",
                kind,
                int.TryParse(element.GetAttribute("start"), out var start) ? start : 1,
                items
            )
        );
    }

    private void Definitions(IElement element, List<SourceBlock> blocks, int depth)
    {
        var at = Line(element);
        var definitions = new List<SourceDefinition>();
        foreach (var child in element.Children.SelectMany(c => c.LocalName == "div" ? c.Children : (IEnumerable<IElement>)[c]))
        {
            if (IsNote(child))
                continue;
            if (child.LocalName == "dt")
            {
                if (child.Id is { Length: > 0 } id)
                    _carried.Add(new SourceBookmark(id));
                var term = Carried();
                foreach (var node in child.ChildNodes)
                    Spans(node, term, SpanRoles.None, null);
                definitions.Add(new SourceDefinition(Line(child), term, []));
            }
            else
            {
                var inner = new List<SourceBlock>();
                Children(child, inner, depth + 1);
                if (definitions.Count == 0)
                    definitions.Add(new SourceDefinition(Line(child), [], []));
                definitions[^1] = definitions[^1] with { Blocks = [.. definitions[^1].Blocks, .. inner] };
            }
        }
        if (definitions.Count > 0)
            blocks.Add(new SourceDefinitions(at, "dl", definitions));
    }

    private void Table(IElement element, List<SourceBlock> blocks, int depth)
    {
        var at = Line(element);
        var rows = new List<SourceRow>();
        var headers = 0;
        var body = false;
        foreach (var row in element.QuerySelectorAll("tr").Where(r => ReferenceEquals(r.Closest("table"), element)))
        {
            var cells = new List<SourceCell>();
            var inHead = row.ParentElement?.LocalName == "thead" || row.Children.Length > 0 && row.Children.All(c => c.LocalName == "th");
            foreach (var cell in row.Children.Where(c => c.LocalName is "td" or "th"))
            {
                var inner = new List<SourceBlock>();
                Children(cell, inner, depth + 1);
                var align = (cell.GetAttribute("align") ?? cell.GetAttribute("style") ?? "").ToLowerInvariant();
                cells.Add(
                    new SourceCell(inner)
                    {
                        ColumnSpan = Spanned(cell, "colspan"),
                        RowSpan = Spanned(cell, "rowspan"),
                        Alignment =
                            align.Contains("right", StringComparison.Ordinal) ? CellAlignment.Right
                            : align.Contains("center", StringComparison.Ordinal) ? CellAlignment.Centre
                            : null,
                    }
                );
            }
            if (cells.Count == 0)
                continue;
            if (inHead && !body)
                headers++;
            else
                body = true;
            rows.Add(new SourceRow(cells));
        }
        if (rows.Count == 0)
            return;
        var caption = element.Children.FirstOrDefault(c => c.LocalName == "caption") is { } words ? CaptionOf(words) : Carried();
        blocks.Add(new SourceTable(at, Math.Min(headers, rows.Count), rows) { Caption = caption });
    }

    private static int Spanned(IElement cell, string name) => int.TryParse(cell.GetAttribute(name), out var n) ? Math.Clamp(n, 1, 1000) : 1;

    private static string LanguageOf(IElement pre)
    {
        foreach (
            var name in new[] { pre, pre.FirstElementChild, pre.ParentElement, pre.ParentElement?.ParentElement }
                .OfType<IElement>()
                .SelectMany(e => e.ClassList)
        )
            if (name.StartsWith("language-", StringComparison.Ordinal))
                return name[9..];
            else if (name.StartsWith("highlight-", StringComparison.Ordinal) && name != "highlight-default")
                return name[10..];
        return "";
    }

    private static string Preformatted(IElement pre) => pre.TextContent.Replace("\r\n", "\n", StringComparison.Ordinal).Trim('\n');

    private void Picture(IElement image, IReadOnlyList<SourceSpan> caption, List<SourceBlock> blocks)
    {
        var at = Line(image);
        var alternative = WebUtilityText(PagePictures.AlternativeOf(image)).Trim();
        void Stands(string asset) =>
            blocks.Add(new SourcePicture(at, asset, alternative) { Caption = caption.Count > 0 ? caption : Carried() });
        var href = image.Closest("a[href]")?.GetAttribute("href") ?? "";
        if (Asset(image, out var named) is { } asset)
            Stands(asset);
        // A figure stays one without its file: the frame waits for it.
        else if (named.Length > 0 && (caption.Count > 0 || (alternative.Length > 0 && href.Length == 0 && !IsAddress(named))))
            Stands(Path.GetFileName(PathOf(named)));
        else
        {
            TellMissing(named);
            // What stands instead of a picture that leads somewhere leads there.
            if (caption.Count > 0)
                blocks.Add(new SourceParagraph(at, "caption", caption));
            else if (alternative.Length > 0 && href.Length > 0 && !IsAddress(href))
                blocks.Add(new SourceParagraph(at, "p", [new SourceReference(TargetOf(href), "", alternative)]));
            else if (alternative.Length > 0)
                blocks.Add(new SourceParagraph(at, "caption", [new SourceRun(alternative)]));
        }
    }

    private void TellMissing(string named)
    {
        if (named.Length > 0)
            Tell(ReportKind.LeftOut, "A picture was not found beside the page. Bring it in together with the page.", named);
    }

    /// <summary>The file that a picture of the page is, or null when there is none.</summary>
    /// <param name="named">the file that it names; "" when it is within the page</param>
    private string? Asset(IElement picture, out string named)
    {
        named = "";
        if (picture.LocalName == "svg")
        {
            var drawing = $"drawing-{_pictures.Count + 1}.svg";
            _pictures[drawing] = PagePictures.DrawingOf(picture)!;
            return drawing;
        }
        var sources = PagePictures.SourcesOf(picture);
        foreach (var source in sources)
            if (Named(source) is { } name)
                return name;
        var last = sources.Count > 0 ? sources[^1] : "";
        // A page is often kept with another size of its picture than it names.
        var stem = PagePictures.StemOf(PathOf(last));
        var other = _found
            .Where(f => DocumentReader.IsPicture(f.Key) && PagePictures.StemOf(f.Key) == stem)
            .OrderByDescending(f => f.Key.EndsWith(".svg", StringComparison.OrdinalIgnoreCase))
            .ThenByDescending(f => f.Value.Length)
            .ThenBy(f => f.Key, StringComparer.Ordinal)
            .FirstOrDefault();
        if (stem.Length > 0 && other.Value is not null)
        {
            Tell(ReportKind.Changed, $"The picture “{last}” was not found; “{other.Key}” was taken, which is another size of it.");
            return Taken(other.Key, other.Value);
        }
        named = last.StartsWith("data:", StringComparison.OrdinalIgnoreCase) ? "" : last;
        return null;
    }

    private string Taken(string path, byte[] bytes)
    {
        var name = Path.GetFileName(path);
        _pictures[name] = bytes;
        return name;
    }

    private string? Named(string source)
    {
        if (
            source.StartsWith("data:", StringComparison.OrdinalIgnoreCase)
            && source.IndexOf("base64,", StringComparison.Ordinal) is var comma and > 0
        )
        {
            try
            {
                var kind =
                    source.Contains("svg", StringComparison.Ordinal) ? "svg"
                    : source.Contains("jpeg", StringComparison.Ordinal) ? "jpg"
                    : "png";
                var name = $"picture-{_pictures.Count + 1}.{kind}";
                _pictures[name] = Convert.FromBase64String(source[(comma + 7)..]);
                return name;
            }
            catch (FormatException)
            {
                Tell(ReportKind.LeftOut, "A picture inside the page is damaged and was left out.");
                return null;
            }
        }
        if (
            _found.TryGetValue(PathOf(source), out var bytes)
            || _found.TryGetValue(SitePage.Resolved(_file, PathOf(source)), out bytes)
            || _found.TryGetValue(Path.GetFileName(PathOf(source)), out bytes)
        )
            return Taken(PathOf(source), bytes);
        return null;
    }

    private static string PathOf(string source)
    {
        var path = source.Split('#', '?')[0];
        try
        {
            path = Uri.UnescapeDataString(path);
        }
        catch (UriFormatException)
        {
            // The path stands as it was written.
        }
        return path.StartsWith("./", StringComparison.Ordinal) ? path[2..] : path;
    }

    // ---- spans ----

    private void Spans(INode node, List<SourceSpan> spans, SpanRoles roles, string? web, string? style = null)
    {
        switch (node)
        {
            case IText text:
                var data = text.Data.Replace('\n', ' ').Replace('\r', ' ').Replace('\t', ' ');
                if (data.Length > 0)
                    spans.Add(new SourceRun(Collapsed().Replace(data, " "), roles, style, web));
                break;
            case IElement image when PagePictures.IsPicture(image):
                var says = WebUtilityText(PagePictures.AlternativeOf(image)).Trim();
                if (Asset(image, out var missing) is { } asset)
                    spans.Add(new SourceAtom(new InlinePicture(Id.None, asset, says)));
                else
                {
                    TellMissing(missing);
                    if (says.Length > 0)
                        spans.Add(new SourceRun(says, roles, style, web));
                }
                break;
            case IElement element when Unread.Contains(element.LocalName):
                if (element.LocalName is "iframe" or "object" or "embed" or "video" or "audio" or "svg" or "canvas")
                    Tell(
                        ReportKind.LeftOut,
                        $"A <{element.LocalName}> was left out: paper cannot show it.",
                        WebUtilityText(element.TextContent)
                    );
                break;
            case IElement { LocalName: "br" }:
                spans.Add(new SourceAtom(LineBreak.Instance));
                break;
            case IElement { LocalName: "math" } math:
                try
                {
                    spans.Add(
                        new SourceAtom(
                            new InlineEquation(
                                Id.None,
                                LinearEquation.From(XElement.Parse(math.OuterHtml.Replace("&nbsp;", " ", StringComparison.Ordinal))),
                                math.GetAttribute("alttext") ?? ""
                            )
                        )
                    );
                }
                catch (System.Xml.XmlException)
                {
                    spans.Add(new SourceRun(WebUtilityText(math.TextContent), roles, style, web));
                }
                break;
            case IHtmlAnchorElement link:
                Link(link, spans, roles, style);
                break;
            case IElement element:
                if (element.Id is { Length: > 0 } id && !IsNote(element))
                    spans.Add(new SourceBookmark(id));
                if (element.LocalName == "del")
                {
                    spans.Add(new SourceRun(WebUtilityText(element.TextContent), roles, style, web) { Tracked = Tracked.Deleted });
                    break;
                }
                // Numbers that a generator typed in front of heads.
                var own =
                    element.LocalName == "span"
                    && element.ClassList.FirstOrDefault(c =>
                        c is "menuselection" or "kbd" or "term" or "product" or "part-number" or "control" or "key"
                    )
                        is { } kind
                        ? kind
                    : element.LocalName == "span"
                    && (roles & SpanRoles.Code) == 0
                    && element.ClassList.Select(InlineNames.OfClass).FirstOrDefault(c => c is not null) is { } named
                        ? named
                    : style;
                foreach (var child in element.ChildNodes)
                    Spans(child, spans, roles | Roles.GetValueOrDefault(element.LocalName), web, own);
                break;
        }
    }

    [GeneratedRegex(" {2,}")]
    private static partial Regex Collapsed();

    private void Link(IHtmlAnchorElement link, List<SourceSpan> spans, SpanRoles roles, string? style)
    {
        if (link.Id is { Length: > 0 } own)
            spans.Add(new SourceBookmark(own));
        if (link.GetAttribute("name") is { Length: > 0 } name)
            spans.Add(new SourceBookmark(name));
        var href = link.GetAttribute("href") ?? "";
        if (href.StartsWith("mailto:", StringComparison.OrdinalIgnoreCase))
            href = Uri.UnescapeDataString(href);
        // Links of a page to itself or back to a note's call are of no use on paper.
        if (link.ClassList.Any(c => c is "headerlink" or "fn-backref" or "footnote-back" or "anchor") || IsOwnSign(link))
        {
            if (WebUtilityText(link.TextContent) is { Length: > 0 } sign)
                _met.Add(
                    ReportLine.At(ReportKind.LeftOut, _file, "line", Line(link), "A sign that links to its own place was left out.", sign)
                );
            return;
        }
        if (href.StartsWith('#') && _notes.TryGetValue(href[1..], out var note) && IsCall(link))
        {
            if (_inNote)
            {
                // A manual's notes hold no notes, and one that calls itself would never end.
                spans.Add(new SourceRun(link.TextContent, roles, style));
                _met.Add(
                    ReportLine.At(
                        ReportKind.Look,
                        _file,
                        "line",
                        Line(link),
                        "A note is called inside a note; the call stands as text.",
                        WebUtilityText(link.TextContent)
                    )
                );
                return;
            }
            _inNote = true;
            _called.Add(href[1..]);
            var blocks = new List<SourceBlock>();
            var holder = NoteText(note).ToList();
            var loose = new List<SourceSpan>();
            foreach (var node in holder)
                if (node is IElement e && Blocks_.Contains(e.LocalName))
                    Block(e, blocks, 1);
                else
                    Spans(node, loose, SpanRoles.None, null);
            if (loose.Words().Trim().Length > 0)
                blocks.Insert(0, new SourceParagraph(Line(note), "p", loose));
            _inNote = false;
            spans.Add(new SourceNote(blocks));
            _met.Add(
                ReportLine.At(
                    ReportKind.Changed,
                    _file,
                    "line",
                    Line(link),
                    "The sign of a note was taken out: the look makes it.",
                    WebUtilityText(link.TextContent)
                )
            );
            if (note.LocalName == "dt" && WebUtilityText(note.TextContent) is { Length: > 0 } label)
                _met.Add(
                    ReportLine.At(
                        ReportKind.Changed,
                        _file,
                        "line",
                        Line(note),
                        "The sign of a note was taken out: the look makes it.",
                        label
                    )
                );
            return;
        }
        if (href.Length == 0)
        {
            foreach (var child in link.ChildNodes)
                Spans(child, spans, roles, null, style);
            return;
        }
        if (IsAddress(href))
        {
            foreach (var child in link.ChildNodes)
                Spans(child, spans, roles, href, style);
            return;
        }
        var inner = new List<SourceSpan>();
        foreach (var child in link.ChildNodes)
            Spans(child, inner, roles, null, style);
        spans.AddRange(inner.OfType<SourceBookmark>());
        var first = inner.OfType<SourceRun>().Select(r => r.Roles).FirstOrDefault();
        spans.Add(new SourceReference(TargetOf(href), "", inner.Words(), first));
    }

    /// <summary>It leads out of the pages.</summary>
    private static bool IsAddress(string href) =>
        Uri.TryCreate(href, UriKind.Absolute, out var address) && address.Scheme is "http" or "https" or "mailto" or "ftp";

    /// <summary>The place in the pages that a link leads to.</summary>
    private string TargetOf(string href) =>
        href.StartsWith('#')
            ? href[1..]
            : SitePage.Resolved(_file, PathOf(href))
                + "#"
                + (href.Contains('#', StringComparison.Ordinal) ? href[(href.IndexOf('#', StringComparison.Ordinal) + 1)..] : "");
}
