using Kivren.Core.Composition;
using Kivren.Core.Content;

namespace Kivren.Formats.Flowing;

/// <summary>The pages of the printed book in flowing text: before which block each begins, so that a reader with the screen finds the
/// page that a reader with the paper names. A page that begins within a block is found where the next block begins.</summary>
public sealed class PageList
{
    private readonly Dictionary<Id, List<(string Folio, int Sheet)>> _before = [];

    /// <summary>Folios in order, each with the name of its place.</summary>
    public IReadOnlyList<(string Folio, string Place, Id Before)> Pages { get; }

    /// <param name="printed">the edition on paper</param>
    public PageList(ComposedManual printed)
    {
        var pages = new List<(string, string, Id)>();
        var sheet = -1;
        foreach (var division in printed.Divisions)
        {
            void Begins(Id id)
            {
                if (!division.Cut.Places.TryGetValue(id, out var place))
                    return;
                for (var at = division.StretchSheet + place.Page; sheet < at; )
                {
                    sheet++;
                    if (printed.Pages[sheet] is not { IsBlank: false, Folio: { Length: > 0 } folio })
                        continue;
                    (_before.TryGetValue(id, out var own) ? own : _before[id] = []).Add((folio, sheet));
                    pages.Add((folio, PlaceOf(sheet), id));
                }
            }
            Begins(division.Numbers.Division.Id);
            foreach (var block in division.Numbers.Division.Blocks.SelectMany(b => b.WithInner()))
                if (block is not (PageBreak or PassageUse))
                    Begins(block.Id);
        }
        Pages = pages;
    }

    private static string PlaceOf(int sheet) => "page-" + (sheet + 1).ToString(System.Globalization.CultureInfo.InvariantCulture);

    /// <summary>The pages that begin before a block.</summary>
    public IEnumerable<(string Folio, string Place)> Before(Id id) =>
        _before.TryGetValue(id, out var own) ? own.Select(p => (p.Folio, PlaceOf(p.Sheet))) : [];
}
