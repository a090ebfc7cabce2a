using System.Text.RegularExpressions;
using Kivren.Core.Content;
using Kivren.Core.Selection;

namespace Kivren.Audit;

/// <summary>Judges running heads and feet: each page says at its edges what its layout promises of what is in force there, and nothing
/// of what is not.</summary>
internal sealed partial class RunningHeadAudit(
    ExpectedText expected,
    SelectedText text,
    IReadOnlyList<PrintedPage> pages,
    Matching matching,
    HouseRules rules,
    AuditReport report
)
{
    private const string RunningHeads = "running heads";

    /// <summary>Stands for words that are not judged.</summary>
    private const char Anything = '\u0001';

    public void Judge()
    {
        var lists = Lists();
        var begun = expected.Divisions.Select(d => matching.Page(d.At)).ToArray();
        var top = -1;
        for (var p = 0; p < pages.Count; p++)
        {
            // The division that the page's first line of text is of; a page without text goes on with the one before.
            var lines = matching.FlowLines.Where(l => l.Page == p).ToList();
            var first = lines.Select(l => l.From).Concat(lists.Where(l => l.Pages.Contains(p)).Select(l => l.At)).DefaultIfEmpty(-1).Min();
            var opens = false;
            if (first >= 0)
            {
                var at = expected.Divisions.FindLastIndex(d => d.At <= first);
                // The title is the first line where it is printed; titles of the front are not.
                opens = at >= 0 && begun[at] == p && at != top;
                top = Math.Max(top, at);
            }
            if (top < 0 || pages[p].Lines.Count == 0)
                continue;
            var last = Array.FindLastIndex(begun, b => b >= 0 && b <= p);
            var ends = !begun.Any(b => b == p + 1) ? p == pages.Count - 1 : true;
            Page(
                pages[p],
                rules.Page(expected.Divisions[top].Division.Kind, p % 2 == 0, opens, ends && !opens),
                rules.Turned(expected.Divisions[top].Division.Kind),
                Math.Max(last, top),
                begun
            );
        }
    }

    /// <summary>Where in the text each generated list stands, and the pages that it takes.</summary>
    private List<(int At, List<int> Pages)> Lists()
    {
        var lists = new List<(int, List<int>)>();
        for (var at = 0; (at = expected.Flow.IndexOf(ExpectedText.GeneratedList, at)) >= 0; at++)
            lists.Add(
                (at, lists.Count < matching.Lists.Count ? [.. matching.Lists[lists.Count].Select(l => l.Page).Distinct().Order()] : [])
            );
        return lists;
    }

    /// <summary>What stands in pieces beside each other, as a number and a title of another direction do, is one.</summary>
    private static void Join(List<string> edges, string words)
    {
        for (var from = 0; from < edges.Count; from++)
        for (var to = from + 2; to <= edges.Count; to++)
            if (Same(string.Concat(edges[from..to]), words))
            {
                edges[from] = string.Concat(edges[from..to]);
                edges.RemoveRange(from + 1, to - from - 1);
                return;
            }
    }

    private void Page(PrintedPage page, PageRules layout, PageRules landscape, int inForce, int[] begun)
    {
        var turned = (page.Width > page.Height) != (layout.Width > layout.Height);
        if (turned && !landscape.FurnitureStays)
            return;
        if (turned)
            layout = landscape;
        var edges = page
            .Furniture.Where(f => turned ? f.Turned : f.Y > page.Height - layout.Top || f.Y < layout.Foot)
            .Select(f => f.Words)
            .ToList();
        var said = layout
            .Fields.Select(f => (Words: Expected(rules.Words.Said(f.Pattern), page, inForce, begun), f.IsFree))
            .Where(f => f.Words.Length > 0)
            .ToList();
        var should = said.ConvertAll(f => f.Words);
        foreach (var words in should)
            Join(edges, words);
        foreach (var free in said.Where(f => f.IsFree).Select(f => f.Words))
            report.Judge(RunningHeads, page.Furniture.Any(f => Same(f.Words, free)), () =>
                $"Page {page.Label} does not say “{free.Replace(Anything, '…')}”, which stands free on it."
            );
        foreach (var words in said.Where(f => !f.IsFree).Select(f => f.Words))
            report.Judge(
                RunningHeads,
                edges.Any(e => Same(e, words) || (e.Contains(words, StringComparison.Ordinal) && IsOfSeveral(e, should))),
                () => $"Page {page.Label} says “{string.Join(" / ", edges)}” at its edges; the rule says “{words.Replace(Anything, '…')}”."
            );
        foreach (var edge in edges)
            report.Judge(
                RunningHeads,
                should.Exists(w => Same(edge, w)) || edge == string.Concat(should) || IsOfSeveral(edge, should),
                () => $"Page {page.Label} says “{edge}” at its edge, which nothing in force there says."
            );
    }

    /// <summary>Fields that stand close beside one another are read as one line.</summary>
    private static bool IsOfSeveral(string edge, List<string> should) =>
        should.Exists(a => should.Exists(b => !ReferenceEquals(a, b) && Same(edge, a + b)));

    private static bool Same(string said, string should) =>
        said == should
        || (said.EndsWith('…') && should.StartsWith(said[..^1], StringComparison.Ordinal))
        || (
            should.Contains(Anything)
            && Regex.IsMatch(said, "^" + Regex.Escape(should).Replace(Anything.ToString(), ".*", StringComparison.Ordinal) + "$")
        );

    private string Expected(string pattern, PrintedPage page, int inForce, int[] begun)
    {
        var division = expected.Divisions[inForce];
        string Title(ExpectedDivision d) => d.Division.ShortTitle is { Length: > 0 } own ? own : d.Division.Title;
        IEnumerable<(ExpectedHead Head, int Page)> Heads() =>
            division.Heads.Select(h => (h, matching.Page(h.At))).Where(h => h.Item2 >= 0 && h.Item2 <= page.Index);
        string Head(HeadLevel level, bool earliest)
        {
            // What a head of a higher level ended is not in force.
            var above = Heads().Where(h => h.Head.Level < level).Select(h => h.Head.At).DefaultIfEmpty(-1);
            var own = Heads().Where(h => h.Head.Level == level).ToList();
            var here = own.FirstOrDefault(h => h.Page == page.Index);
            var found = earliest && here.Head is not null ? here : own.LastOrDefault(h => earliest || h.Head.At > above.Max());
            if (found.Head is null)
                return "";
            return found.Head.Number + (found.Head.ShortTitle is { Length: > 0 } own_ ? own_ : found.Head.Title);
        }
        return FinishedFile.Normal(
            Source()
                .Replace(pattern, m =>
                {
                    var (source, argument, which) = (m.Groups["source"].Value, m.Groups["argument"].Value, m.Groups["which"].Value);
                    var named = argument.Length == 1 ? (HeadLevel)(argument[0] - 'A' + 1) : HeadLevel.A;
                    return source switch
                    {
                        "folio" => page.Label,
                        "total" => pages.Count.ToString(System.Globalization.CultureInfo.InvariantCulture),
                        "manual" => text.Manual.Title,
                        "edition" => text.Edition.Name,
                        "number" => division.Number,
                        "title" => Title(division),
                        "designation" => text.Variable("designation") ?? "",
                        "date" => text.Variable("date") ?? "",
                        // Pictures say no words.
                        "picture" => "",
                        "variable" => text.Variable(argument) ?? "",
                        "division" when which != "first" => division.Number + Title(division),
                        "section" when argument.Length == 0 => Head(HeadLevel.A, false) is { Length: > 0 } head
                            ? head
                            : division.Number + Title(division),
                        "head" or "section" when which != "first" => Head(named, false),
                        _ => Anything.ToString(),
                    };
                })
        );
    }

    [GeneratedRegex(@"\{(?<source>[a-z-]+)(?::(?<argument>(?!first\}|last\})[^}:]+))?(?::(?<which>first|last))?\}")]
    private static partial Regex Source();
}
