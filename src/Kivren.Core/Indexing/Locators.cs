using Kivren.Core.Content;
using Kivren.Core.Looks;

namespace Kivren.Core.Indexing;

/// <summary>A page of the composition as a locator names it.</summary>
/// <param name="Sheet">index of the page in the composition, which sorts roman before arabic before lettered</param>
public readonly record struct LocatedPage(int Sheet, string Folio);

/// <summary>A page or range as printed behind a heading.</summary>
/// <param name="Illustration">it names a figure or a table, and nothing else on that page</param>
public readonly record struct Locator(LocatedPage From, LocatedPage To, bool Principal, bool Illustration = false)
{
    public string Text(Elision elision) =>
        From.Sheet == To.Sheet || From.Folio == To.Folio ? From.Folio : From.Folio + "–" + Elided(From.Folio, To.Folio, elision);

    /// <summary>Merges what falls on one page or into a range already named: each page stands once.</summary>
    /// <param name="joins">consecutive pages become a range</param>
    public static List<Locator> Merge(List<Locator> found, bool joins = false)
    {
        found.Sort(static (a, b) => a.From.Sheet != b.From.Sheet ? a.From.Sheet.CompareTo(b.From.Sheet) : b.To.Sheet.CompareTo(a.To.Sheet));
        var merged = new List<Locator>(found.Count);
        foreach (var locator in found)
        {
            if (
                merged.Count > 0
                && merged[^1] is var last
                && (
                    locator.From.Sheet <= last.To.Sheet
                    || (
                        joins
                        && locator.From.Sheet == last.To.Sheet + 1
                        && !locator.Principal
                        && !last.Principal
                        && locator.Illustration == last.Illustration
                    )
                )
            )
            {
                var to = locator.To.Sheet > last.To.Sheet ? locator.To : last.To;
                merged[^1] = last with
                {
                    To = to,
                    Principal = last.Principal || locator.Principal,
                    Illustration = last.Illustration && locator.Illustration,
                };
            }
            else
                merged.Add(locator);
        }
        return merged;
    }

    /// <summary>The end of a range without digits it shares with the start: to two digits 123–25, but 100–102 and 8–12
    /// whole; to what changes 123–5, but 110–11.</summary>
    private static string Elided(string from, string to, Elision elision)
    {
        if (
            elision == Elision.Whole
            || from.Length != to.Length
            || from.Length < 3
            || !from.All(char.IsAsciiDigit)
            || !to.All(char.IsAsciiDigit)
        )
            return to;
        var keep = elision == Elision.TwoDigits ? 2 : 1;
        var same = 0;
        while (same < to.Length - keep && from[same] == to[same])
            same++;
        // Numbers from eleven to nineteen are said as one word and keep their ten.
        if (elision == Elision.Changed && same == to.Length - 1 && to[^2] == '1')
            same--;
        return to[same] == '0' ? to : to[same..];
    }
}
