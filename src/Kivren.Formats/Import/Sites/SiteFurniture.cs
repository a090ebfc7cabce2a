namespace Kivren.Formats.Import.Sites;

/// <summary>What recurs at the head or foot of many pages of a site and is no text: bars that lead to the next page, the way back up,
/// lines about the site. Known by its recurrence; left out of each page, told once.</summary>
internal static class SiteFurniture
{
    /// <summary>Fewer pages show no recurrence.</summary>
    private const int FewestPages = 4;

    /// <summary>It stands on this share of the pages, in hundredths.</summary>
    private const int LeastShare = 50;

    /// <summary>Blocks from either edge of a page among which it is looked for.</summary>
    private const int FromEdge = 8,
        LongestBar = 160,
        LongestShown = 80;

    /// <param name="LeftOut">what was left out: on how many pages, and some of its words</param>
    public sealed record Found(IReadOnlyList<SourceDocument> Documents, IReadOnlyList<(int Pages, string Words)> LeftOut);

    public static Found LeaveOut(IReadOnlyList<SourceDocument> documents)
    {
        var pages = documents.Count(d => d.Site is not null);
        if (pages < FewestPages)
            return new Found(documents, []);
        var seen = new Dictionary<string, (int Pages, string Words)>(StringComparer.Ordinal);
        foreach (var document in documents.Where(d => d.Site is not null))
        foreach (var block in Edges(document).DistinctBy(Print))
            if (Print(block) is { Length: > 0 } print)
                seen[print] = seen.TryGetValue(print, out var known) ? (known.Pages + 1, known.Words) : (1, new[] { block }.Words());
        var recurring = seen.Where(s => s.Value.Pages * 100 >= LeastShare * pages).ToDictionary(s => s.Key, s => s.Value);
        if (recurring.Count == 0)
            return new Found(documents, []);
        return new Found(
            [.. documents.Select(d => d.Site is null ? d : Without(d, recurring.ContainsKey))],
            [.. recurring.Values.Select(v => (v.Pages, Shortened(v.Words)))]
        );
    }

    private static SourceDocument Without(SourceDocument document, Func<string, bool> recurs)
    {
        var furniture = Edges(document).Where(b => recurs(Print(b))).ToHashSet<object>(ReferenceEqualityComparer.Instance);
        return furniture.Count == 0 ? document : document with { Blocks = [.. document.Blocks.Where(b => !furniture.Contains(b))] };
    }

    /// <summary>Blocks before the first head, and at the foot.</summary>
    private static IEnumerable<SourceBlock> Edges(SourceDocument document)
    {
        var blocks = document.Blocks;
        var head = blocks.Take(FromEdge).TakeWhile(b => !IsHead(document, b)).ToList();
        return head.Concat(blocks.Skip(Math.Max(head.Count, blocks.Count - FromEdge)).Where(b => !IsHead(document, b)));
    }

    private static bool IsHead(SourceDocument document, SourceBlock block) =>
        block is SourceParagraph p && document.Styles.GetValueOrDefault(p.Style)?.Level is not null;

    /// <summary>What a block is, in a form that is the same on all pages it recurs on: its kind and its words; of one that only leads to
    /// other files, its kind and what of its words does not change from page to page.</summary>
    private static string Print(SourceBlock block)
    {
        var words = Normal(new[] { block }.Words());
        var links = SourceWalk.Spans([block]).OfType<SourceReference>().ToList();
        if (words.Length == 0 || block is SourceListing or SourcePicture)
            return "";
        var ways = links.Where(l => IsWayWord(l.Words)).Select(l => Normal(l.Words)).Distinct().ToList();
        var kind = block.GetType().Name + (block is SourceParagraph p ? p.Style : "");
        // A bar names one way or more, and titles of other pages, which differ from page to page.
        return ways.Count > 1 || (ways.Count == 1 && words.Length < LongestBar) ? $"{kind} that leads" : $"{kind}: {words}";
    }

    /// <summary>Words that name a way through pages, in the languages of many sites.</summary>
    private static bool IsWayWord(string words) =>
        Ways.Contains(words.Trim('«', '»', '‹', '›', '<', '>', '←', '→', ' ', '|').ToLowerInvariant());

    private static readonly HashSet<string> Ways =
    [
        "prev",
        "previous",
        "next",
        "up",
        "home",
        "top",
        "contents",
        "index",
        "back",
        "zurück",
        "weiter",
        "vor",
        "nach oben",
        "anfang",
        "inhalt",
        "précédent",
        "suivant",
        "niveau supérieur",
        "sommaire",
        "anterior",
        "siguiente",
        "subir",
        "inicio",
        "precedente",
        "successivo",
        "indietro",
        "avanti",
        "vorige",
        "volgende",
        "omhoog",
        "thuis",
        "föregående",
        "nästa",
        "upp",
        "hem",
        "назад",
        "вперёд",
        "пред.",
        "след.",
        "наверх",
        "前のページ",
        "次のページ",
        "上に戻る",
        "ホーム",
    ];

    private static string Normal(string words) => string.Join(' ', words.Split((char[]?)null, StringSplitOptions.RemoveEmptyEntries));

    private static string Shortened(string words) =>
        Normal(words) is var whole && whole.Length > LongestShown ? whole[..(LongestShown - 1)] + "…" : whole;
}
