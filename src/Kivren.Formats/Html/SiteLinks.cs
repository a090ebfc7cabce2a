using System.Text.RegularExpressions;
using AngleSharp.Dom;
using Kivren.Formats.Import.Sites;

namespace Kivren.Formats.Html;

/// <summary>What a page says of its place in its site: its contents lists, the page behind it, the page above it.</summary>
internal static partial class SiteLinks
{
    private const int MostLines = 5_000,
        MostDepth = 12,
        FewestRows = 4,
        LongestLine = 120;

    private static readonly string[] Kinds =
    [
        "part",
        "chapter",
        "appendix",
        "preface",
        "glossary",
        "bibliography",
        "index",
        "colophon",
        "refentry",
        "sect1",
        "sect2",
        "sect3",
        "sect4",
        "section",
    ];

    public static SitePage Of(string file, IDocument page, IElement main)
    {
        var lines = new List<ContentsLine>();
        var leads = new HashSet<IElement>();
        foreach (var list in page.QuerySelectorAll("ul, ol, dl, table").Where(l => l.ParentElement?.Closest("ul, ol, dl, table") is null))
            if (list.LocalName == "table")
                Rows(list);
            else if (LeadOf(list) is { } lead)
            {
                // A head that leads to a page is a line itself, and parts nothing; what stands under it stands in that.
                if (leads.Add(lead))
                    Line(lead, list, 1);
                Read(list, 2);
            }
            else
                Read(list, 1);
        foreach (var holder in page.QuerySelectorAll("div, section, td, body"))
            Paragraphs(holder);
        Broken();
        string Rel(string rel) =>
            page.QuerySelectorAll($"link[rel~='{rel}' i], a[rel~='{rel}' i]")
                .Select(e => e.GetAttribute("href") ?? "")
                .FirstOrDefault(h => IsFile(h))
                is { } href
                ? Resolved(href)
                : "";
        string Key(string key) =>
            page.QuerySelectorAll($"a[accesskey='{key}' i]").Select(e => e.GetAttribute("href") ?? "").FirstOrDefault(IsFile) is { } href
                ? Resolved(href)
                : "";
        return new SitePage(
            lines,
            Rel("next") is { Length: > 0 } next ? next : Key("n"),
            Rel("up") is { Length: > 0 } up ? up
                : Rel("parent") is { Length: > 0 } parent ? parent
                : Key("u")
        )
        {
            ContentsPage = Rel("contents") is { Length: > 0 } contents ? contents : Rel("toc"),
            IndexPage = Rel("index"),
            Kind = KindOf(main),
            SendsTo = SendsTo(file, page),
            IsForm = main.QuerySelector("form input:not([type='hidden' i]):not([type='submit' i])") is not null,
            WindowTitle = Words(page.QuerySelector("head > title") is { } title ? title : page.CreateTextNode("")),
        };

        string Resolved(string href) => SitePage.Resolved(file, Uri.UnescapeDataString(href));

        void Read(IElement list, int depth)
        {
            if (depth > MostDepth)
                return;
            foreach (var item in list.Children.SelectMany(c => c.LocalName == "div" ? c.Children : (IEnumerable<IElement>)[c]))
            {
                if (lines.Count >= MostLines)
                    return;
                if (item.LocalName is "li" or "dt")
                    Line(item, list, depth);
                foreach (
                    var inner in item.LocalName is "ul" or "ol" or "dl"
                        ? [item]
                        : item.QuerySelectorAll("ul, ol, dl")
                            .Where(l => l.ParentElement?.Closest("ul, ol, dl, li, dd") is var holder && ReferenceEquals(holder, item))
                )
                    // An item that leads nowhere is no line: it names the list in it, whose lines stand where it does.
                    Read(inner, item.LocalName == "li" && !LeadsItself(item) ? depth : depth + 1);
            }
        }

        // A table of lines that each lead somewhere is a list; one that lays out a page holds lists in its cells.
        void Rows(IElement table)
        {
            // Rows without words only keep others apart.
            var rows = table.QuerySelectorAll("tr").Where(r => Words(r).Length > 0).ToList();
            var cells = table.QuerySelectorAll("td").Where(c => Words(c).Length > 0).ToList();
            if (rows.Count >= FewestRows && rows.All(r => r.QuerySelectorAll("a[href]").Length == 1))
                foreach (var row in rows)
                    Line(row, table, DepthOf(row));
            // So is one in columns, where nearly each cell is a link.
            else if (
                cells.Count >= FewestRows
                && cells.Count(c => c.QuerySelectorAll("a[href]") is { Length: 1 } links && Words(links[0]) == Words(c)) * 10
                    >= cells.Count * 9
            )
                foreach (var cell in InOrder(cells))
                    Line(cell, table, 1);
            else
                foreach (var list in table.QuerySelectorAll("ul, ol, dl").Where(l => l.ParentElement?.Closest("ul, ol, dl") is null))
                    Read(list, 1);
        }

        // Paragraphs one under another that each are a link are a list as well; how deep each stands its number says, else its class.
        void Paragraphs(IElement holder)
        {
            var rows = holder
                .Children.Where(c =>
                    c.LocalName is "p" or "div" && c.QuerySelectorAll("a[href]").Length == 1 && c.QuerySelector("p, div, li") is null
                )
                .ToList();
            if (rows.Count < FewestRows || rows.Count * 2 < holder.ChildElementCount)
                return;
            foreach (var row in rows)
                Line(row, holder, DepthOf(row));
        }

        // Across, unless it is down the columns that the words are in their order.
        static List<IElement> InOrder(List<IElement> cells)
        {
            var down = cells
                .GroupBy(c => c.ParentElement!.Children.TakeWhile(o => !ReferenceEquals(o, c)).Count())
                .OrderBy(g => g.Key)
                .SelectMany(g => g)
                .ToList();
            static int Rising(List<IElement> all) =>
                all.Zip(all.Skip(1)).Count(p => string.Compare(Words(p.First), Words(p.Second), StringComparison.OrdinalIgnoreCase) <= 0);
            return Rising(down) > Rising(cells) ? down : cells;
        }

        static int DepthOf(IElement row) =>
            NumberBefore().Match(Words(row)) is { Success: true } number ? number.Value.Count(c => c == '.') + 1
            : LevelIn().Match(row.ClassName ?? "") is { Success: true } level ? level.Value[0] - '0'
            : 1;

        // Old pages end their lines by breaks: those that begin with a link are a list, where no other list says more.
        void Broken()
        {
            var named = lines.Where(l => l is { IsText: true, IsWithin: false }).Select(l => l.File).Distinct().Count();
            var broken = BrokenLines.In(main).Where(l => l.Letters < LongestLine && IsFile(l.Link.GetAttribute("href")!)).ToList();
            if (broken.Count < FewestRows || broken.Select(l => l.Link.GetAttribute("href")!.Split('#')[0]).Distinct().Count() <= named)
                return;
            var isNumbered = broken.Count(l => NumberBefore().Match(Words(l.Link)).Value.Contains('.', StringComparison.Ordinal)) > 1;
            var indents = broken.Select(l => l.Indent).Distinct().Order().ToList();
            lines.AddRange(
                broken
                    .Take(Math.Max(0, MostLines - lines.Count))
                    .Select(l => new ContentsLine(
                        Resolved(l.Link.GetAttribute("href")!),
                        isNumbered && NumberBefore().Match(Words(l.Link)) is { Success: true } number
                            ? number.Value.Count(c => c == '.') + 1
                            : Math.Min(MostDepth, 1 + indents.IndexOf(l.Indent)),
                        Words(l.Link),
                        "",
                        l.Group,
                        IsText: true,
                        l.Link.GetAttribute("href")!.Contains('#', StringComparison.Ordinal),
                        Words(l.Link).Length * 2 < l.Letters
                    ))
            );
        }

        void Line(IElement item, IElement list, int depth)
        {
            var link = item.QuerySelectorAll("a[href]")
                .FirstOrDefault(a => ReferenceEquals(a.Closest(item.LocalName == "td" ? "td" : "li, dt, tr") ?? item, item));
            if (link is null || link.GetAttribute("href") is not { } href || !IsFile(href))
                return;
            // A line of a list says little but what it leads to, or begins with it; a head is all that it says.
            var all = Words(item);
            var words = leads.Contains(item) ? all : Words(link);
            // The number before it is of what it leads to.
            if (NumberBefore().Match(all) is { Success: true } number && !words.StartsWith(number.Value, StringComparison.Ordinal))
                all = all[number.Length..].TrimStart('.', ' ');
            var own = all.Length - item.QuerySelectorAll("ul, ol, dl").Sum(l => Words(l).Length);
            var begins =
                own < LongestLine && all.IndexOf(words, StringComparison.Ordinal) is >= 0 and var at && !all[..at].Any(char.IsLetter);
            if (words.Length == 0 || (words.Length * 2 < own && !begins) || SiteFurniture.IsWayWord(words))
                return;
            var kind = item.ClassList.Concat(item.QuerySelectorAll("span").Where(s => s.Contains(link)).SelectMany(s => s.ClassList))
                .FirstOrDefault(c => Kinds.Contains(c))
                ?? "";
            lines.Add(
                new ContentsLine(
                    Resolved(href),
                    depth,
                    words,
                    kind,
                    GroupOf(list),
                    main.Contains(list) && list.Closest("nav, aside, header, footer") is null,
                    href.Contains('#', StringComparison.Ordinal),
                    words.Length * 2 < own
                )
            );
        }
    }

    /// <summary>What the page's markup calls the whole of it, by the element that holds all its words; "".</summary>
    private static string KindOf(IElement main)
    {
        const int most = 6;
        var at = main;
        for (var n = 0; n < most; n++)
        {
            if (at.ClassList.Select(c => c.ToLowerInvariant()).FirstOrDefault(Kinds.Contains) is { } kind)
                return kind;
            // Bars and rules may stand beside it.
            var held = at.Children.Where(c => c.LocalName is "div" or "section" or "article" or "body" or "main").ToList();
            if (held.MaxBy(c => c.TextContent.Length) is not { } next || next.TextContent.Length * 10 < at.TextContent.Length * 8)
                return "";
            at = next;
        }
        return "";
    }

    [GeneratedRegex(@"^([0-9]{1,3}|[A-Z](?=[.\s]))(\.[0-9]{1,3})*(?=\.?\s)", RegexOptions.CultureInvariant)]
    private static partial Regex NumberBefore();

    [GeneratedRegex(@"[1-6](?=$|\s)", RegexOptions.CultureInvariant)]
    private static partial Regex LevelIn();

    /// <summary>Where a page leads at once: content="0; url=other.html#place"; of a page of frames, to the one with its text.</summary>
    private static string SendsTo(string file, IDocument page)
    {
        var frames = page.QuerySelectorAll("frameset frame[src]").Where(f => IsFile(f.GetAttribute("src")!)).ToList();
        if (frames.Count > 0)
        {
            var main = frames.FirstOrDefault(f => FrameOfText().IsMatch(f.GetAttribute("name") ?? "")) ?? frames[^1];
            return SitePage.Resolved(file, Uri.UnescapeDataString(main.GetAttribute("src")!)) + "#";
        }
        var content = page.QuerySelector("meta[http-equiv='refresh' i]")?.GetAttribute("content") ?? "";
        var at = content.IndexOf("url=", StringComparison.OrdinalIgnoreCase);
        if (at < 0 || content[(at + 4)..].Trim(' ', '\'', '"') is not { Length: > 0 } href || !IsFile(href))
            return "";
        var place = href.IndexOf('#', StringComparison.Ordinal) is >= 0 and var mark ? href[mark..] : "#";
        return SitePage.Resolved(file, Uri.UnescapeDataString(href)) + Uri.UnescapeDataString(place);
    }

    [GeneratedRegex(@"^(main|content|text|body|doc)", RegexOptions.IgnoreCase | RegexOptions.CultureInvariant)]
    private static partial Regex FrameOfText();

    private static bool IsFile(string href) =>
        href.Length > 0
        && href[0] != '#'
        && !(Uri.TryCreate(href, UriKind.Absolute, out var address) && address.Scheme is not "file")
        && !href.StartsWith("//", StringComparison.Ordinal);

    private static string Words(INode node) =>
        string.Join(' ', node.TextContent.Split((char[]?)null, StringSplitOptions.RemoveEmptyEntries));

    /// <summary>The words that stand over a list: a caption, a head, with no more than a few paragraphs between.</summary>
    private static string GroupOf(IElement list)
    {
        const int most = 3;
        // An item that leads nowhere and holds a list is what the list is about.
        if (list.ParentElement is { LocalName: "li" } item && !LeadsItself(item))
            return string.Concat(item.ChildNodes.TakeWhile(n => !ReferenceEquals(n, list)).Select(n => Words(n) + " ")).Trim();
        for (var at = list; at is not null && at.LocalName is not ("body" or "main"); at = at.ParentElement)
        {
            var before = at.PreviousElementSibling;
            for (var n = 0; before is { LocalName: "p" } && !IsTitle(before) && n < most; n++)
                before = before.PreviousElementSibling;
            if (before is not null)
                return IsTitle(before) && !Leads(before) ? Words(before).TrimEnd('¶', ' ') : "";
        }
        return "";
    }

    private static bool Leads(IElement title) => title.QuerySelectorAll("a[href]").Any(a => IsFile(a.GetAttribute("href")!));

    /// <summary>The head over a list that leads to a page; null where none stands over it, or it leads nowhere.</summary>
    private static IElement? LeadOf(IElement list) =>
        list.PreviousElementSibling is { LocalName: ['h', >= '1' and <= '6'] } head && Leads(head) ? head : null;

    /// <summary>The item leads somewhere, besides what lists in it do. What only opens a list on the screen does not.</summary>
    private static bool LeadsItself(IElement item) =>
        item.QuerySelectorAll("a[href]")
            .Any(a => a.Closest("li") == item && a.GetAttribute("href") is not ("" or "#") and var href && !IsScript(href));

    private static bool IsScript(string? href) => href?.StartsWith("javascript:", StringComparison.OrdinalIgnoreCase) == true;

    private static bool IsTitle(IElement element) =>
        element.LocalName is "h1" or "h2" or "h3" or "h4" or "h5" or "h6" or "summary"
        || element.ClassList.Contains("caption")
        || element.GetAttribute("role") == "heading"
        || (element is { LocalName: "p", ChildElementCount: 1 } && IsBoldAlone(element));

    private static bool IsBoldAlone(IElement paragraph) =>
        paragraph.FirstElementChild is { LocalName: "b" or "strong" } bold && Words(bold) == Words(paragraph);
}
