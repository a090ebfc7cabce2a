using System.Text.RegularExpressions;
using AngleSharp.Dom;
using AngleSharp.Html.Parser;
using Markdig.Syntax.Inlines;

namespace Kivren.Formats.Markdown;

/// <summary>HTML tags among the words of a text (CommonMark, 6.6): which are elements of a page, and where each ends. What stands in
/// angle brackets and is no element, such as a word to be filled in, is text.</summary>
internal static partial class MarkdownTags
{
    /// <summary>Elements that stand among words; those whose names are as often a writer's own are not among them.</summary>
    private static readonly HashSet<string> Known = new(StringComparer.OrdinalIgnoreCase)
    {
        "a",
        "abbr",
        "b",
        "bdi",
        "bdo",
        "big",
        "br",
        "center",
        "cite",
        "code",
        "del",
        "details",
        "dfn",
        "div",
        "em",
        "font",
        "i",
        "img",
        "ins",
        "kbd",
        "mark",
        "nobr",
        "p",
        "picture",
        "q",
        "s",
        "samp",
        "small",
        "span",
        "strike",
        "strong",
        "sub",
        "summary",
        "sup",
        "tt",
        "u",
        "var",
        "wbr",
    };

    private static readonly HashSet<string> Empty = new(StringComparer.OrdinalIgnoreCase) { "br", "img", "wbr" };

    [GeneratedRegex(@"^<(?<end>/?)(?<name>[A-Za-z][A-Za-z0-9]*)(?=[\s/>])", RegexOptions.CultureInvariant)]
    private static partial Regex Named();

    private static Match? Element(Inline node) =>
        node is HtmlInline html && Named().Match(html.Tag) is { Success: true } tag && Known.Contains(tag.Groups["name"].Value)
            ? tag
            : null;

    /// <summary>The tag is one of an element of a page, at its beginning or its end.</summary>
    public static bool Is(HtmlInline tag) => Element(tag) is not null;

    /// <summary>The element that a tag begins; null where it begins none.</summary>
    public static IElement? Begun(HtmlInline tag) =>
        Element(tag) is { } element && element.Groups["end"].Length == 0
            ? new HtmlParser().ParseDocument(tag.Tag).Body!.FirstElementChild
            : null;

    /// <summary>For each node that begins an element the place of the one that ends it, among nodes side by side; 0 where none
    /// does.</summary>
    public static int[] Ends(IReadOnlyList<Inline> nodes)
    {
        var ends = new int[nodes.Count];
        if (!nodes.Any(n => n is HtmlInline))
            return ends;
        var open = new Dictionary<string, Stack<int>>(StringComparer.OrdinalIgnoreCase);
        for (var at = 0; at < nodes.Count; at++)
        {
            if (Element(nodes[at]) is not { } tag || tag.Groups["name"].Value is var name && Empty.Contains(name))
                continue;
            if (!open.TryGetValue(name, out var begun))
                open[name] = begun = new Stack<int>();
            if (tag.Groups["end"].Length == 0)
                begun.Push(at);
            else if (begun.TryPop(out var from))
                ends[from] = at;
        }
        return ends;
    }
}
