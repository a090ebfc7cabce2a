using System.Text;

namespace Kivren.Core.Indexing;

/// <summary>A page of the composition as a locator names it.</summary>
/// <param name="Sheet">index of the page in the composition, which sorts roman before arabic before lettered</param>
public readonly record struct LocatedPage(int Sheet, string Folio);

/// <summary>A page or range as printed behind a heading.</summary>
public readonly record struct Locator(LocatedPage From, LocatedPage To, bool Principal)
{
    public string Text => From.Sheet == To.Sheet || From.Folio == To.Folio ? From.Folio : From.Folio + "–" + Elided(From.Folio, To.Folio);

    /// <summary>Merges what falls on one page or into a range already named: each page stands once.</summary>
    public static List<Locator> Merge(List<Locator> found)
    {
        found.Sort(static (a, b) => a.From.Sheet != b.From.Sheet ? a.From.Sheet.CompareTo(b.From.Sheet) : b.To.Sheet.CompareTo(a.To.Sheet));
        var merged = new List<Locator>(found.Count);
        foreach (var locator in found)
        {
            if (merged.Count > 0 && merged[^1] is var last && locator.From.Sheet <= last.To.Sheet)
            {
                var to = locator.To.Sheet > last.To.Sheet ? locator.To : last.To;
                merged[^1] = last with { To = to, Principal = last.Principal || locator.Principal };
            }
            else merged.Add(locator);
        }
        return merged;
    }

    /// <summary>The end of a range without the digits it shares with the start: 123–25, but 100–102 and 8–12 whole.</summary>
    private static string Elided(string from, string to)
    {
        if (from.Length != to.Length || from.Length < 3 || !from.All(char.IsAsciiDigit) || !to.All(char.IsAsciiDigit)) return to;
        var same = 0;
        while (same < to.Length - 2 && from[same] == to[same]) same++;
        return to[same] == '0' ? to : to[same..];
    }
}
