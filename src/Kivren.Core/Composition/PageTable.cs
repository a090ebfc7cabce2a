using Kivren.Core.Content;
using Kivren.Core.Indexing;
using Kivren.Core.Numbering;

namespace Kivren.Core.Composition;

/// <summary>The page numbers one pass found and the next uses. Before the first pass it is neutral: every folio reads as
/// a fixed placeholder, so that a composition is defined from nothing (composition.md 9).</summary>
internal sealed class PageTable(ManualNumbers numbers, IReadOnlyList<DivisionPages>? divisions, FolioScheme scheme)
{
    /// <summary>As wide as most folios, so that the first pass breaks most lines as the last.</summary>
    public const string Placeholder = "000";

    private readonly Dictionary<Id, int> _divisionOf = divisions is null ? [] : divisions.Select((d, i) => (d.Numbers.Division.Id, i)).ToDictionary(d => d.Id, d => d.i);

    public string Folio(Id id)
    {
        if (divisions is null) return Placeholder;
        return numbers.Find(id) is { } found ? Locate(found.Division, numbers.Resolve(id)).Folio : "";
    }

    /// <summary>The page of an atom in a division.</summary>
    public LocatedPage Locate(Id division, Id atom) =>
        divisions is null ? new LocatedPage(0, Placeholder) : _divisionOf.TryGetValue(division, out var d) ? Locate(d, atom) : new LocatedPage(0, "");

    private LocatedPage Locate(int d, Id atom)
    {
        var division = divisions![d];
        if (!division.Cut.Places.TryGetValue(atom, out var place)) return new LocatedPage(division.FirstSheet, scheme.Folio(division.Numbers, division.FirstSheet, division.FirstSheet));
        var sheet = division.FirstSheet + place.Page;
        return new LocatedPage(sheet, scheme.Folio(division.Numbers, sheet, division.FirstSheet));
    }

    /// <summary>Whether both name the same page for everything.</summary>
    public static bool Same(IReadOnlyList<DivisionPages> a, IReadOnlyList<DivisionPages> b, FolioScheme schemeA, FolioScheme schemeB)
    {
        if (schemeA != schemeB || a.Count != b.Count) return false;
        for (var d = 0; d < a.Count; d++)
        {
            if (a[d].FirstSheet != b[d].FirstSheet) return false;
            if (ReferenceEquals(a[d].Cut, b[d].Cut)) continue;
            if (a[d].Cut.Places.Count != b[d].Cut.Places.Count || a[d].Cut.Pages.Length != b[d].Cut.Pages.Length) return false;
            foreach (var (id, place) in a[d].Cut.Places)
                if (!b[d].Cut.Places.TryGetValue(id, out var other) || other.Page != place.Page) return false;
        }
        return true;
    }
}
