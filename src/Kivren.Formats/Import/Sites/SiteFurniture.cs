using System.Text.RegularExpressions;
using Kivren.Core.Content;

namespace Kivren.Formats.Import.Sites;

/// <summary>What recurs at the head or foot of many pages of a site and is no text: bars that lead to the next page, the way back up,
/// lines about the site. Known by its recurrence; left out of each page, told once.</summary>
internal static partial class SiteFurniture
{
    /// <summary>Fewer pages show no recurrence.</summary>
    private const int FewestPages = 4;

    /// <summary>A bar of nothing but ways is one on any part of the pages: a site may hold a second book.</summary>
    private const int FewestBars = 3;

    private const string OnlyLeads = " that only leads";

    /// <summary>It stands on this share of the pages, in hundredths.</summary>
    private const int LeastShare = 50;

    /// <summary>Blocks from either edge of a page among which it is looked for.</summary>
    private const int FromEdge = 8,
        BelowHead = 2,
        LongestBar = 160,
        LongestUnderBanner = 40,
        LongestShown = 80;

    /// <param name="LeftOut">what was left out: on how many pages, and some of its words</param>
    public sealed record Found(IReadOnlyList<SourceDocument> Documents, IReadOnlyList<(int Pages, string Words)> LeftOut);

    public static Found LeaveOut(IReadOnlyList<SourceDocument> documents)
    {
        var pages = documents.Count(IsPage);
        if (pages < FewestPages)
            return new Found(documents, []);
        return new Reading(documents, pages).Found();
    }

    private sealed class Reading(IReadOnlyList<SourceDocument> documents, int pages)
    {
        /// <summary>What pages call themselves.</summary>
        private readonly HashSet<string> _titles = documents
            .Where(IsPage)
            .SelectMany(d => new[] { Normal(d.Title), SiteTree.FirstHead(d) })
            .Where(t => t.Length > 0)
            .ToHashSet(StringComparer.OrdinalIgnoreCase);

        /// <summary>The name of the site over its pages, each of which has a title of its own besides.</summary>
        private readonly HashSet<string> _banners = documents
            .Where(IsPage)
            .SelectMany(d => d.Blocks.Take(FromEdge).Where(b => IsHead(d, b)).Select(b => Normal(new[] { b }.Words())).Distinct())
            .GroupBy(words => words)
            .Where(g => g.Count() * 100 >= LeastShare * pages)
            .Select(g => g.Key)
            .ToHashSet();

        public Found Found()
        {
            var seen = new Dictionary<string, (int Pages, string Words)>(StringComparer.Ordinal);
            foreach (var document in documents.Where(IsPage))
            foreach (var (block, print) in Edges(document).Select(b => (b, Print: Print(document, b))).DistinctBy(b => b.Print))
                if (print.Length > 0)
                    seen[print] = seen.TryGetValue(print, out var known) ? (known.Pages + 1, known.Words) : (1, new[] { block }.Words());
            var recurring = seen.Where(s =>
                    s.Value.Pages * 100 >= LeastShare * pages
                    || (s.Key.EndsWith(OnlyLeads, StringComparison.Ordinal) && s.Value.Pages >= FewestBars)
                )
                .ToDictionary(s => s.Key, s => s.Value);
            if (recurring.Count == 0)
                return new Found(documents, []);
            return new Found(
                [.. documents.Select(d => IsPage(d) ? Without(d, recurring.ContainsKey) : d)],
                [.. recurring.Values.Select(v => (v.Pages, Shortened(v.Words)))]
            );
        }

        private SourceDocument Without(SourceDocument document, Func<string, bool> recurs)
        {
            // A bar stands over every section of a page, too.
            var furniture = Edges(document)
                .Concat(document.Blocks.Where(b => b is SourceTable && WaysIn(b).Count > 1))
                .Where(b => recurs(Print(document, b)))
                .ToHashSet<object>(ReferenceEqualityComparer.Instance);
            return furniture.Count == 0 ? document : document with { Blocks = [.. document.Blocks.Where(b => !furniture.Contains(b))] };
        }

        /// <summary>Blocks before the first head that is the page's own, and at the foot.</summary>
        private IEnumerable<SourceBlock> Edges(SourceDocument document)
        {
            var blocks = document.Blocks;
            // What only leads elsewhere may be long: the site's menu over each page.
            var head = new List<SourceBlock>();
            for (int at = 0, others = 0; at < blocks.Count && others < FromEdge; at++)
            {
                if (IsHead(document, blocks[at]) && !IsBanner(document, at))
                    break;
                head.Add(blocks[at]);
                others += OnlyNames(blocks[at]) ? 0 : 1;
            }
            // A page whose only head is the name of the site is called so.
            if (!blocks.Skip(head.Count).Any(b => IsHead(document, b)))
                head = [.. head.TakeWhile(b => !IsHead(document, b))];
            // The name of the site may stand below the page's own head as well.
            var below = blocks.Skip(head.Count + 1).Take(BelowHead).TakeWhile(b => !IsHead(document, b)).ToList();
            return head.Concat(below)
                .Concat(blocks.Skip(Math.Max(head.Count + 1 + below.Count, blocks.Count - FromEdge)).Where(b => !IsHead(document, b)));
        }

        /// <summary>A head that recurs and has no text of its own under it, but the head of the page.</summary>
        private bool IsBanner(SourceDocument document, int at) =>
            _banners.Contains(Normal(new[] { document.Blocks[at] }.Words()))
            && document
                .Blocks.Skip(at + 1)
                .TakeWhile(b => !IsHead(document, b))
                .All(b =>
                    b is not (SourceParagraph or SourceListing) || Normal(new[] { b }.Words()).Length < LongestUnderBanner || IsAllLinks(b)
                );

        private static bool IsAllLinks(SourceBlock block) =>
            SourceWalk.Spans([block]).Where(Leads).Sum(l => Normal(new[] { l }.Words()).Length) * 10
            >= Normal(new[] { block }.Words()).Length * 8;

        /// <summary>What a block is, in a form that is the same on all pages it recurs on: its kind and its words; of one that only leads
        /// to other files, its kind and what of its words does not change from page to page.</summary>
        private string Print(SourceDocument document, SourceBlock block)
        {
            var words = Normal(new[] { block }.Words());
            var ways = WaysIn(block);
            if ((words.Length == 0 && ways.Count == 0) || block is SourceListing or SourcePicture)
                return "";
            var kind = block.GetType().Name + (block is SourceParagraph p ? p.Style : "");
            if (IsPath(block))
                return kind + "path" + OnlyLeads;
            // A bar names one way or more, and titles of other pages, which differ from page to page.
            if (
                (ways.Count > 1 && (!WordsBesides(block).Any(char.IsLetter) || NamesPages(block)))
                || (ways.Count == 1 && block is SourceTable && _titles.Contains(WordsBesides(block).Trim(' ', '.')))
            )
                return kind + OnlyLeads;
            return ways.Count > 1 || (ways.Count == 1 && words.Length < LongestBar) || (!IsHead(document, block) && NamesPages(block))
                ? $"{kind} that leads"
                // A line that says where the page was found differs by its address alone.
                : $"{kind}: {Address().Replace(words, "")}";
        }

        /// <summary>What it says besides its links that name ways.</summary>
        private static string WordsBesides(SourceBlock block)
        {
            var rest = Normal(new[] { block }.Words());
            foreach (var way in WaysIn(block).OrderByDescending(w => w.Length))
                rest = rest.Replace(way, " ", StringComparison.Ordinal);
            return rest;
        }

        private static List<string> WaysIn(SourceBlock block)
        {
            var said = SourceWalk.Spans([block]).OfType<SourceReference>().Select(l => l.Words);
            // In a table of signs each says by its description where it leads.
            var shown = block is SourceTable ? SourceWalk.Blocks([block]).OfType<SourcePicture>().Select(p => p.Alternative) : [];
            var small =
                block is SourceTable
                    ? SourceWalk
                        .Spans([block])
                        .OfType<SourceAtom>()
                        .Select(a => a.Inline)
                        .OfType<InlinePicture>()
                        .Select(p => p.Alternative)
                    : [];
            return [.. said.Concat(shown).Concat(small).Where(IsWayWord).Select(Normal).Distinct()];
        }

        private static bool Leads(SourceSpan span) => span is SourceReference or SourceRun { Web: not null };

        /// <summary>The way down to the page, from what it stands in: “Halvik › Ferries › The winch”.</summary>
        private bool IsPath(SourceBlock block) =>
            block is SourceList list
                ? IsPath(list)
                : block is SourceParagraph p
                    && p.Spans.Count(Leads) > 1
                    && Normal(p.Spans.Where(s => !Leads(s)).ToList().Words()) is var rest
                    && rest.Any(c => c is '>' or '›' or '»' or '→' or '/' or '▸')
                    && rest.Trim('>', '›', '»', '→', '/', '▸', ' ') is var page
                    && (!page.Any(char.IsLetterOrDigit) || _titles.Contains(page));

        private bool OnlyNames(SourceBlock block) => SourceWalk.Spans([block]).Any(Leads) && NamesPages(block);

        /// <summary>The same as a list: items that lead to what the page stands in, the last of them the page itself.</summary>
        private bool IsPath(SourceList list)
        {
            var items = list.Items.Select(i => i.Blocks).ToList();
            return items.Count > 1
                && items.SkipLast(1).All(i => SourceWalk.Spans(i).Any(Leads) && i.All(NamesPages))
                && !SourceWalk.Spans(items[^1]).Any(Leads)
                && _titles.Contains(Normal(items[^1].Words()));
        }

        /// <summary>It says nothing but what pages are called, and leads to them: signs and pictures stand for the ways.</summary>
        private bool NamesPages(SourceBlock block) =>
            block switch
            {
                SourceTable t => t.Rows.SelectMany(r => r.Cells).SelectMany(c => c.Blocks).All(NamesPages),
                SourceList l => l.Items.SelectMany(i => i.Blocks).All(NamesPages),
                SourceParagraph p => Normal(p.Spans.Where(s => !Leads(s)).ToList().Words()) is var rest
                    && (!rest.Any(char.IsLetterOrDigit) || _titles.Contains(rest)),
                SourcePicture => true,
                _ => false,
            };
    }

    /// <summary>A page of the site that does more than send its reader to another, or show pictures to press.</summary>
    internal static bool IsPage(SourceDocument document) =>
        document.Site is { SendsTo.Length: 0 } && document.Blocks.Any(b => b is not (SourcePicture or SourceBreak));

    private static bool IsHead(SourceDocument document, SourceBlock block) =>
        block is SourceParagraph p && document.Styles.GetValueOrDefault(p.Style)?.Level is not null;

    /// <summary>Words that name a way through pages, in the languages of many sites.</summary>
    public static bool IsWayWord(string words) =>
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
        "next chapter",
        "previous chapter",
        "next section",
        "previous section",
        "next page",
        "previous page",
        "table of contents",
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

    [GeneratedRegex(@"\bhttps?://\S+", RegexOptions.IgnoreCase | RegexOptions.CultureInvariant)]
    private static partial Regex Address();

    private static string Normal(string words) => string.Join(' ', words.Split((char[]?)null, StringSplitOptions.RemoveEmptyEntries));

    private static string Shortened(string words) =>
        Normal(words) is var whole && whole.Length > LongestShown ? whole[..(LongestShown - 1)] + "…" : whole;
}
