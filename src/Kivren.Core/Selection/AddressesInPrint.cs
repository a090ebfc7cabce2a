using System.Runtime.CompilerServices;
using Kivren.Core.Content;

namespace Kivren.Core.Selection;

/// <summary>The web addresses that words link to, said on paper once in each division: a reader of paper cannot follow a word.</summary>
internal static class AddressesInPrint
{
    private static readonly ConditionalWeakTable<Division, Division> Bracketed = [],
        Noted = [];

    /// <returns>the division itself where no words link to an address they do not say; the same for the same</returns>
    public static Division Of(Division division, PrintedAddresses how) =>
        (how == PrintedAddresses.Note ? Noted : Bracketed).GetValue(division, d => Said(d, how));

    private static Division Said(Division division, PrintedAddresses how)
    {
        if (!division.Blocks.Any(b => b.Inlines().Any(i => i is TextRun { Web: not null })))
            return division;
        var said = new HashSet<string>(StringComparer.Ordinal);
        var changed = false;
        // Heads and captions stand in lists and running heads too: they are left as they are.
        var names = new HashSet<IReadOnlyList<Inline>>(ReferenceEqualityComparer.Instance);
        foreach (var block in division.Blocks.SelectMany(b => b.WithInner()))
            if (NameOf(block) is { } name)
                names.Add(name);
        IReadOnlyList<Inline> Spans(IReadOnlyList<Inline> spans, bool isNote)
        {
            if (names.Contains(spans))
                return spans;
            var result = new List<Inline>(spans.Count + 2);
            for (var i = 0; i < spans.Count; i++)
            {
                if (spans[i] is FigureArea)
                {
                    // The key under the figure says its address.
                    result.Add(spans[i]);
                    continue;
                }
                result.Add(spans[i] is Holding holding ? holding with { Content = Spans(holding.Content, true) } : spans[i]);
                if (
                    spans[i] is not TextRun { Web: { } web } run
                    || !WebAddress.Leads(web)
                    || (i + 1 < spans.Count && spans[i + 1] is TextRun next && next.Web == web)
                    || Says(spans, i, Shown(web))
                    || !said.Add(web)
                )
                    continue;
                changed = true;
                var address = new TextRun(Shown(web), Web: web) { AppliesTo = run.AppliesTo };
                if (how == PrintedAddresses.Note && !isNote)
                    result.Add(new Footnote(new Id($"{division.Id.Value}~web{said.Count}"), [address]));
                else
                    result.AddRange([new TextRun(" ("), address, new TextRun(")")]);
            }
            return result;
        }
        var blocks = division.Blocks.Select(b => b.WithSpans(s => Spans(s, false))).ToArray();
        return changed ? division with { Blocks = blocks } : division;
    }

    private static IReadOnlyList<Inline>? NameOf(Block block) =>
        block switch
        {
            Head h => h.Content,
            Figure f => f.Caption,
            Table t => t.Caption,
            Listing l => l.Caption,
            Example e => e.Title,
            Aside a => a.Title,
            _ => null,
        };

    /// <summary>As a reader types it.</summary>
    private static string Shown(string web) =>
        web.StartsWith("mailto:", StringComparison.OrdinalIgnoreCase) || web.StartsWith("tel:", StringComparison.OrdinalIgnoreCase)
            ? web[(web.IndexOf(':', StringComparison.Ordinal) + 1)..]
            : web;

    /// <summary>Whether the words of the link, up to the run at this place, are its address.</summary>
    private static bool Says(IReadOnlyList<Inline> spans, int at, string address)
    {
        var web = ((TextRun)spans[at]).Web;
        var from = at;
        while (from > 0 && spans[from - 1] is TextRun before && before.Web == web)
            from--;
        static string Bare(string text)
        {
            var end = text.IndexOf("://", StringComparison.Ordinal);
            return (end < 0 ? text : text[(end + 3)..]).Trim().TrimEnd('/');
        }
        var words = string.Concat(Enumerable.Range(from, at - from + 1).Select(i => ((TextRun)spans[i]).Text));
        return words.Contains(Bare(address), StringComparison.OrdinalIgnoreCase);
    }
}
