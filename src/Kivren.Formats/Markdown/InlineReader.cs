using System.Text.RegularExpressions;
using AngleSharp.Dom;
using Kivren.Core.Content;
using Kivren.Formats.Html;
using Kivren.Formats.Import;
using Kivren.Formats.Import.Sites;
using Markdig.Extensions.Footnotes;
using Markdig.Syntax;
using Markdig.Syntax.Inlines;
using Footnote = Markdig.Extensions.Footnotes.Footnote;
using LineBreak = Kivren.Core.Content.LineBreak;
using Node = Markdig.Syntax.Inlines.Inline;
using SourceSpan = Kivren.Formats.Import.SourceSpan;

namespace Kivren.Formats.Markdown;

/// <summary>Reads the words of a paragraph: emphasis, code, links, notes, pictures, and the tags of HTML among them.</summary>
/// <param name="tell">what was met, at which node</param>
/// <param name="noteText">the blocks of a note</param>
internal sealed partial class InlineReader(
    string file,
    MarkdownHeads heads,
    MarkdownPictures pictures,
    Action<MarkdownObject, ReportKind, string, string> tell,
    Func<Footnote, IReadOnlyList<SourceBlock>> noteText
)
{
    /// <summary>Tags within tags deeper than this are not told apart.</summary>
    private const int MostDepth = 60;

    private bool _inNote;

    /// <summary>What a run of words stands for.</summary>
    private readonly record struct Marks(SpanRoles Roles, string? Web, string? Style, int Depth)
    {
        public Marks With(SpanRoles more) => this with { Roles = Roles | more, Depth = Depth + 1 };
    }

    public List<SourceSpan> Read(ContainerInline? container)
    {
        var spans = new List<SourceSpan>();
        if (container is not null)
            Add(container, default, spans);
        return spans;
    }

    private void Add(ContainerInline container, Marks marks, List<SourceSpan> spans)
    {
        var nodes = container.ToList();
        Add(nodes, MarkdownTags.Ends(nodes), 0, nodes.Count, marks, spans);
    }

    /// <param name="ends">where the element ends that a node begins</param>
    private void Add(List<Node> nodes, int[] ends, int from, int to, Marks marks, List<SourceSpan> spans)
    {
        void Text(string text, SpanRoles more = SpanRoles.None, string? address = null) =>
            spans.Add(new SourceRun(text, marks.Roles | more, marks.Style, address ?? marks.Web));
        for (var at = from; at < to; at++)
            switch (nodes[at])
            {
                case LiteralInline l when l.NextSibling is CodeInline && RoleBefore().Match(l.Content.ToString()) is { Success: true } role:
                    Text(l.Content.ToString()[..role.Index]);
                    at++;
                    Named(role.Groups["name"].Value, (CodeInline)nodes[at], marks, spans);
                    break;
                case LiteralInline l:
                    Text(l.Content.ToString());
                    break;
                case CodeInline c:
                    Text(c.Content, SpanRoles.Code);
                    break;
                case HtmlEntityInline e:
                    Text(e.Transcoded.ToString());
                    break;
                case AutolinkInline a:
                    Text(a.Url, address: a.IsEmail ? "mailto:" + a.Url : a.Url);
                    break;
                case LineBreakInline { IsHard: true }:
                    spans.Add(new SourceAtom(LineBreak.Instance));
                    break;
                case LineBreakInline:
                    Text(" ");
                    break;
                case EmphasisInline { DelimiterChar: '~' } struck:
                    spans.Add(new SourceRun(MarkdownWords.Plain(struck), marks.Roles) { Tracked = Tracked.Deleted });
                    break;
                case EmphasisInline e:
                    Add(e, marks.With(e.DelimiterCount >= 2 ? SpanRoles.Strong : SpanRoles.Emphasis), spans);
                    break;
                case FootnoteLink { IsBackLink: false } link when _inNote:
                    // A manual's notes hold no notes, and one that calls itself would never end.
                    Text($"[{link.Footnote.Label?.TrimStart('^')}]");
                    tell(link, ReportKind.Look, "A note is called inside a note; the call stands as text.", "");
                    break;
                case FootnoteLink { IsBackLink: false } link:
                    _inNote = true;
                    spans.Add(new SourceNote(noteText(link.Footnote)));
                    _inNote = false;
                    break;
                case FootnoteLink:
                    break;
                case LinkInline { IsImage: true } image:
                    Picture(image, image.Url ?? "", MarkdownWords.Plain(image), marks, spans);
                    break;
                case LinkInline link:
                    Link(link.Url ?? "", marks, spans, (m, to) => Add(link, m, to));
                    break;
                case HtmlInline html when html.Tag.StartsWith("<!--", StringComparison.Ordinal):
                    tell(html, ReportKind.LeftOut, "A comment was left out.", CommentOf(html.Tag));
                    break;
                case HtmlInline html when marks.Depth < MostDepth && MarkdownTags.Begun(html) is { } element:
                    // One that nothing ends holds nothing.
                    var (begun, end) = (at, ends[at] > at && ends[at] < to ? ends[at] : at);
                    Element(html, element, marks, spans, (m, held) => Add(nodes, ends, begun + 1, end, m, held));
                    at = end;
                    break;
                case HtmlInline html when MarkdownTags.Is(html):
                    break;
                case HtmlInline html:
                    Text(html.Tag, SpanRoles.Code);
                    tell(html, ReportKind.Changed, "What stands in angle brackets and is no element of a page stands as text.", html.Tag);
                    break;
                case ContainerInline inner:
                    Add(inner, marks, spans);
                    break;
            }
    }

    /// <summary>A name in braces before code says what the code is: a command, a reference.</summary>
    [GeneratedRegex(@"(?<![$\w{\\])\{(?<name>[A-Za-z][\w:+.-]*)\}$", RegexOptions.CultureInvariant)]
    private static partial Regex RoleBefore();

    [GeneratedRegex(@"^(?<words>.*?)\s*<(?<target>[^<>]+)>$", RegexOptions.CultureInvariant)]
    private static partial Regex Pointed();

    private void Named(string role, CodeInline code, Marks marks, List<SourceSpan> spans)
    {
        var pointed = Pointed().Match(code.Content);
        var target = pointed.Success ? pointed.Groups["target"].Value : code.Content;
        var words = pointed.Success ? pointed.Groups["words"].Value : "";
        if (role is "ref" or "numref" or "doc" or "any")
            spans.Add(
                new SourceReference(
                    role == "doc" ? SitePage.Resolved(file, target) + "#" : target,
                    words.Length > 0 ? ""
                        : role == "numref" ? "name-number"
                        : "title",
                    words.Length > 0 ? words : target,
                    marks.Roles
                )
            );
        else if (HtmlReader.Roles.TryGetValue(role, out var own))
            spans.Add(new SourceRun(code.Content, marks.Roles | own, marks.Style, marks.Web));
        else if (InlineNames.Roles.ContainsKey(role))
            spans.Add(new SourceRun(code.Content, marks.Roles, role, marks.Web));
        else
            spans.Add(new SourceRun(code.Content, marks.Roles | SpanRoles.Code, marks.Style, marks.Web));
    }

    private void Element(HtmlInline tag, IElement element, Marks marks, List<SourceSpan> spans, Action<Marks, List<SourceSpan>> inner)
    {
        foreach (
            var name in new[] { element.Id, element.LocalName == "a" ? element.GetAttribute("name") : null }.OfType<string>().Distinct()
        )
            spans.Add(new SourceBookmark(name));
        switch (element.LocalName)
        {
            case "br":
                spans.Add(new SourceAtom(LineBreak.Instance));
                break;
            case "img":
                Picture(tag, element.GetAttribute("src") ?? "", element.GetAttribute("alt") ?? "", marks, spans);
                break;
            case "a":
                Link(element.GetAttribute("href") ?? "", marks, spans, inner);
                break;
            case "del":
                var struck = new List<SourceSpan>();
                inner(marks, struck);
                spans.Add(new SourceRun(struck.Words(), marks.Roles) { Tracked = Tracked.Deleted });
                break;
            default:
                var more = marks.With(HtmlReader.Roles.GetValueOrDefault(element.LocalName));
                inner(
                    element.ClassList.Select(InlineNames.OfClass).FirstOrDefault(c => c is not null) is { } named
                        ? more with
                        {
                            Style = named,
                        }
                        : more,
                    spans
                );
                break;
        }
    }

    /// <param name="inner">reads what the link holds</param>
    private void Link(string url, Marks marks, List<SourceSpan> spans, Action<Marks, List<SourceSpan>> inner)
    {
        if (Uri.TryCreate(url, UriKind.Absolute, out var address) && address.Scheme is not "file")
        {
            inner(marks with { Web = url, Depth = marks.Depth + 1 }, spans);
            return;
        }
        var held = new List<SourceSpan>();
        inner(marks with { Depth = marks.Depth + 1 }, held);
        // A picture that leads somewhere is a picture.
        if (url.Length < 2 || held.Any(s => s is SourceAtom { Inline: InlinePicture }))
        {
            spans.AddRange(held);
            return;
        }
        spans.AddRange(held.OfType<SourceBookmark>());
        var roles = held.OfType<SourceRun>().Select(r => r.Roles).FirstOrDefault(marks.Roles);
        spans.Add(new SourceReference(url[0] == '#' ? heads.Of(url[1..]) : Target(url), "", held.Words().Trim(), roles));
    }

    /// <summary>The place in another file that a link leads to.</summary>
    private string Target(string url)
    {
        var mark = url.IndexOf('#', StringComparison.Ordinal);
        return $"{SitePage.Resolved(file, MarkdownPictures.PathOf(url))}#{(mark < 0 ? "" : Unescaped(url[(mark + 1)..]))}";
    }

    /// <summary>What a comment says, in one line.</summary>
    public static string CommentOf(string tag) =>
        string.Join(' ', tag.Trim().TrimStart('<', '!', '-').TrimEnd('>', '-').Split((char[]?)null, StringSplitOptions.RemoveEmptyEntries));

    private static string Unescaped(string text)
    {
        try
        {
            return Uri.UnescapeDataString(text);
        }
        catch (UriFormatException)
        {
            return text;
        }
    }

    private void Picture(MarkdownObject node, string url, string says, Marks marks, List<SourceSpan> spans)
    {
        if (pictures.Of(url) is { } asset)
            spans.Add(new SourceAtom(new InlinePicture(Id.None, asset, says)));
        else
        {
            tell(
                node,
                ReportKind.LeftOut,
                says.Length > 0
                    ? "A picture was not found beside the text; its description is kept as words."
                    : "A picture was not found beside the text.",
                url
            );
            if (says.Length > 0)
                spans.Add(new SourceRun(says, marks.Roles, marks.Style, marks.Web));
        }
    }
}
