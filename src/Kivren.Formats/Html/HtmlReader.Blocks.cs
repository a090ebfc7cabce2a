using System.Text.RegularExpressions;
using AngleSharp.Dom;
using Kivren.Core.Content;
using Kivren.Formats.Import;

namespace Kivren.Formats.Html;

// What a page is made of: groups, boxes, paragraphs.
public sealed partial class HtmlReader
{
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
        if ((!isExample || inner.Count == 1) && Captioned(caption, inner))
            blocks.AddRange(inner);
        else if (isExample)
            blocks.Add(new SourceGroup(at, "example", inner) { Title = caption });
        else
            blocks.AddRange(inner.Prepend(new SourceParagraph(at, "caption", caption)));
    }

    /// <summary>Gives a caption to the last picture of what it stands with, else to the first table or listing.</summary>
    /// <returns>false where there is none</returns>
    private static bool Captioned(List<SourceSpan> caption, List<SourceBlock> with)
    {
        var what = with.FindLastIndex(b => b is SourcePicture);
        if (what < 0)
            what = with.FindIndex(b => b is SourceTable or SourceListing);
        if (what < 0)
            return false;
        with[what] = with[what] switch
        {
            SourceTable t => t with { Caption = [.. caption, .. t.Caption.OfType<SourceBookmark>()] },
            SourcePicture p => p with { Caption = [.. caption, .. p.Caption.OfType<SourceBookmark>()] },
            SourceListing l => l with { Caption = [.. caption, .. l.Caption.OfType<SourceBookmark>()] },
            var other => other,
        };
        return true;
    }

    private void Group(IElement element, string style, List<SourceBlock> blocks, int depth)
    {
        var at = Line(element);
        var carried = Carried();
        var inner = new List<SourceBlock>();
        Children(element, inner, depth + 1);
        if (inner is [SourceTable { Caption.Count: 0 } frame] && WithoutSign(frame) is { } framed)
            inner = TellSign(frame, framed);
        // A sign beside the text said already what it is.
        if (inner is [SourceGroup { Title.Count: 0 } only] && SignalWords.KindOf(only.Style) is not null)
            inner = [.. only.Blocks];
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
                Tell(ReportKind.Changed, OnlyNamesKind, first.Spans.Words().Trim());
        }
        if (carried.Count > 0 && inner.OfType<SourceParagraph>().FirstOrDefault() is { } p)
            inner[inner.IndexOf(p)] = p with { Spans = [.. carried, .. p.Spans] };
        blocks.Add(new SourceGroup(at, style, inner) { Title = title });
    }

    private const string OnlyNamesKind = "The title of an admonition that only names its kind was taken out: the look prints it.";

    private List<SourceBlock> TellSign(SourceTable frame, List<SourceBlock> texts)
    {
        if (frame.Rows[0].Cells[0].Blocks.Words().Trim() is { Length: > 0 } sign && sign.Any(char.IsLetter))
            Tell(ReportKind.Changed, OnlyNamesKind, sign);
        return texts;
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
}
