using System.Text.RegularExpressions;
using Kivren.Formats.Import.Sites;
using Markdig.Extensions.Tables;
using Markdig.Syntax;
using Markdig.Syntax.Inlines;

namespace Kivren.Formats.Markdown;

/// <summary>What a text says of its place among the files it came with: its lists of links to others.</summary>
internal sealed partial class MarkdownContents
{
    private const int MostLines = 5_000,
        MostDepth = 12,
        FewestRows = 4,
        LongestLine = 120,
        LongestGroup = 40;

    private readonly string _file;
    private readonly List<ContentsLine> _lines = [];

    private MarkdownContents(string file) => _file = file;

    public static SitePage Of(string file, MarkdownDocument document)
    {
        var contents = new MarkdownContents(file);
        contents.Read(document, 1);
        return new SitePage(contents._lines, "", "");
    }

    private void Read(ContainerBlock holder, int depth)
    {
        if (depth > MostDepth)
            return;
        for (var at = 0; at < holder.Count && _lines.Count < MostLines; at++)
            switch (holder[at])
            {
                case ListBlock list:
                    Items(list, GroupOf(holder, at), depth);
                    break;
                case Table { Count: >= FewestRows } table
                    when table.OfType<TableRow>().Where(r => !r.IsHeader).All(r => Links(r).Count == 1):
                    foreach (var row in table.OfType<TableRow>().Where(r => !r.IsHeader))
                        Line(Links(row)[0], Words(row), GroupOf(holder, at), depth);
                    break;
                case FencedCodeBlock { Info: "{toctree}" } named:
                    Names(named, GroupOf(holder, at), depth);
                    break;
                case QuoteBlock or Markdig.Extensions.CustomContainers.CustomContainer:
                    Read((ContainerBlock)holder[at], depth + 1);
                    break;
            }
    }

    private void Items(ListBlock list, string group, int depth)
    {
        if (depth > MostDepth)
            return;
        foreach (var item in list.OfType<ListItemBlock>())
        {
            var own = item.OfType<ParagraphBlock>().FirstOrDefault();
            var link = Links(own?.Inline).FirstOrDefault();
            if (link is not null)
                Line(link, MarkdownWords.Plain(own!.Inline), group, depth);
            // An item that leads nowhere and holds a list is what the list is about.
            var inner = link is null && own is not null && depth == 1 ? MarkdownWords.Plain(own.Inline).TrimEnd(':') : group;
            foreach (var below in item.OfType<ListBlock>())
                Items(below, inner, depth + 1);
        }
    }

    private static List<LinkInline> Links(ContainerInline? words) =>
        [.. (words?.Descendants<LinkInline>() ?? []).Where(l => !l.IsImage && IsFile(l.Url) && MarkdownWords.Plain(l).Length > 0)];

    private static List<LinkInline> Links(TableRow row) => [.. row.Descendants<ParagraphBlock>().SelectMany(p => Links(p.Inline))];

    private static string Words(TableRow holder) =>
        string.Join(' ', holder.Descendants<ParagraphBlock>().Select(p => MarkdownWords.Plain(p.Inline)).Where(w => w.Length > 0));

    private static bool IsFile(string? url) =>
        url is { Length: > 0 }
        && url[0] != '#'
        && !url.StartsWith("//", StringComparison.Ordinal)
        && !(Uri.TryCreate(url, UriKind.Absolute, out var address) && address.Scheme is not "file");

    private void Line(LinkInline link, string all, string group, int depth)
    {
        var words = MarkdownWords.Plain(link);
        // A line of a list says little but what it leads to, or begins with it.
        var begins =
            all.Length < LongestLine && all.IndexOf(words, StringComparison.Ordinal) is >= 0 and var at && !all[..at].Any(char.IsLetter);
        var isExplained = words.Length * 2 < all.Length;
        if ((isExplained && !begins) || SiteFurniture.IsWayWord(words))
            return;
        Add(MarkdownPictures.PathOf(link.Url), words, group, depth, link.Url!.Contains('#', StringComparison.Ordinal), isExplained);
    }

    private void Add(string path, string words, string group, int depth, bool isWithin, bool isExplained) =>
        _lines.Add(new ContentsLine(SitePage.Resolved(_file, path), depth, words, "", group, IsText: true, isWithin, isExplained));

    /// <summary>Lines of a fence that name a file each, with what it is called before it or not.</summary>
    private void Names(FencedCodeBlock fence, string group, int depth)
    {
        foreach (var line in (fence.Lines.Lines ?? []).Take(fence.Lines.Count).Select(l => l.Slice.ToString().Trim()))
            if (line.StartsWith(":caption:", StringComparison.Ordinal))
                group = line[":caption:".Length..].Trim();
            else if (line.Length > 0 && line[0] != ':' && Named().Match(line) is { Success: true } named)
                Add(
                    named.Groups["path"].Value.Trim(),
                    named.Groups["words"].Value.Trim(),
                    group,
                    depth,
                    isWithin: false,
                    isExplained: false
                );
    }

    [GeneratedRegex(@"^(?:(?<words>.*\S)\s*<(?<path>[^<>]+)>|(?<path>[^<>]+))$", RegexOptions.CultureInvariant)]
    private static partial Regex Named();

    /// <summary>The words over a list: a head, a bold line or a few words with a colon, with no more than a few paragraphs
    /// between.</summary>
    private static string GroupOf(ContainerBlock holder, int list)
    {
        const int most = 3;
        for (var at = list - 1; at >= 0 && at >= list - 1 - most; at--)
            switch (holder[at])
            {
                case HeadingBlock head:
                    return MarkdownWords.Plain(head.Inline);
                case ParagraphBlock { Inline: { } line } when line.FirstChild is EmphasisInline { DelimiterCount: 2, NextSibling: null }:
                    return MarkdownWords.Plain(line).TrimEnd(':');
                case ParagraphBlock { Inline: { } line } when at == list - 1 && IsLeadIn(MarkdownWords.Plain(line)):
                    return MarkdownWords.Plain(line).TrimEnd(':');
                case ParagraphBlock:
                    break;
                default:
                    return "";
            }
        return "";
    }

    private static bool IsLeadIn(string words) => words.Length < LongestGroup && words.EndsWith(':') && words.Count(c => c == ' ') < 5;
}
