using System.Text.RegularExpressions;
using Kivren.Core.Content;
using Kivren.Formats.Import;
using Markdig.Extensions.CustomContainers;
using Markdig.Syntax;
using SourceSpan = Kivren.Formats.Import.SourceSpan;

namespace Kivren.Formats.Markdown;

/// <summary>Fences that say what they hold, by a name behind their marks: an admonition, an aside, a figure, code, a contents
/// list.</summary>
/// <param name="carried">takes the names that belong to what comes next</param>
/// <param name="inner">the blocks of a text that stands so many lines below the beginning of the file</param>
internal sealed partial class NamedFences(
    MarkdownPictures pictures,
    Action<MarkdownObject, ReportKind, string, string> tell,
    Func<List<SourceSpan>> carried,
    Func<string, int, List<SourceBlock>> inner
)
{
    /// <summary>Frames of screens round text, which paper has not.</summary>
    private static readonly string[] Frames =
    [
        "tab-set",
        "tab-item",
        "tabs",
        "tab",
        "grid",
        "grid-item",
        "grid-item-card",
        "card",
        "dropdown",
        "details",
        "container",
    ];

    /// <summary>What stands between rows of colons; the text that it is where its name is no kind of box.</summary>
    /// <param name="blocks">what it holds</param>
    public IEnumerable<SourceBlock> Of(CustomContainer fence, IReadOnlyList<SourceBlock> blocks, int at)
    {
        var said = Said().Match($"{fence.Info} {fence.Arguments}");
        // Settings of how it looks, under a name in braces.
        if (fence.Info is ['{', ..] && blocks is [SourceParagraph first, ..] && Settings().IsMatch(first.Spans.Words()))
            blocks = [.. blocks.Skip(1)];
        return Boxed(said.Groups["name"].Value.ToLowerInvariant(), said.Groups["title"].Value.Trim(), blocks, at);
    }

    /// <summary>What stands between rows of other marks, under a name in braces; null where the name is only the language of
    /// code.</summary>
    /// <param name="lines">what it holds, as it is written</param>
    public IEnumerable<SourceBlock>? Of(FencedCodeBlock fence, string lines, int at)
    {
        if (InBraces().Match(fence.Info ?? "") is not { Success: true } said)
            return null;
        var name = said.Groups["name"].Value.ToLowerInvariant();
        var all = lines.Split('\n');
        var options = all.TakeWhile(l => l.StartsWith(':')).ToList();
        var text = string.Join('\n', all[options.Count..]);
        var argument = (fence.Arguments ?? "").Trim();
        if (name is "toctree" or "contents")
            return [new SourceGenerated(at, Generated.Contents, text)];
        if (name is "figure" or "image")
            return Figure(argument, options, inner(text, at + options.Count), at);
        if (name is "code-block" or "code" or "sourcecode")
            return [new SourceListing(at, argument, text.Trim('\n')) { Caption = carried() }];
        if (IsBox(name) || Frames.Contains(name))
            return Boxed(name, argument, inner(text, at + options.Count), at);
        if (argument.Length > 0)
            tell(fence, ReportKind.LeftOut, "What a fence asks of another program was left out.", $"{fence.Info} {argument}");
        return null;
    }

    private static bool IsBox(string name) =>
        SignalWords.KindOf(name) is not null || name is "aside" or "sidebar" or "example" or "admonition" or "epigraph";

    /// <summary>What has no box keeps its title as a strong line.</summary>
    private static IEnumerable<SourceBlock> Boxed(string name, string title, IReadOnlyList<SourceBlock> blocks, int at)
    {
        if (!IsBox(name))
            return title.Length == 0 ? blocks : [new SourceParagraph(at, "paragraph", [new SourceRun(title, SpanRoles.Strong)]), .. blocks];
        return
        [
            new SourceGroup(
                at,
                name is "admonition" or "sidebar" ? "aside"
                    : name == "epigraph" ? "quotation"
                    : name,
                blocks
            )
            {
                Title = title.Length > 0 && SignalWords.KindOf(title) is null ? [new SourceRun(title)] : [],
            },
        ];
    }

    private IEnumerable<SourceBlock> Figure(string url, List<string> options, List<SourceBlock> caption, int at) =>
        [
            new SourcePicture(
                at,
                pictures.Of(url) ?? Path.GetFileName(MarkdownPictures.PathOf(url)),
                options.Where(o => o.StartsWith(":alt:", StringComparison.Ordinal)).Select(o => o[5..].Trim()).FirstOrDefault("")
            )
            {
                Caption = caption is [SourceParagraph first, ..] ? [.. carried(), .. first.Spans] : carried(),
            },
            .. caption.Skip(1),
        ];

    /// <summary>The first name after a point in braces, or the first word; a title in brackets, in quotes or as it is.</summary>
    [GeneratedRegex(
        @"^\s*(?:\{(?:[^}.]*\.)?(?<name>[\w+#-]+)[^}]*\}|\.?(?<name>[\w+#-]+))"
            + @"\s*(?:\[(?<title>[^\]]*)\]|""(?<title>[^""]*)""|(?<title>[^{""\[][^{}]*))?",
        RegexOptions.CultureInvariant
    )]
    private static partial Regex Said();

    [GeneratedRegex(@"^\{(?<name>[A-Za-z][\w:-]*)\}$", RegexOptions.CultureInvariant)]
    private static partial Regex InBraces();

    [GeneratedRegex(@"^(?::[\w-]+:[^:]*)+$", RegexOptions.CultureInvariant)]
    private static partial Regex Settings();
}
