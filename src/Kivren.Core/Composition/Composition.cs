using Kivren.Core.Content;
using Kivren.Core.Indexing;
using Kivren.Core.Looks;
using Kivren.Core.LooseEnds;
using Kivren.Core.Numbering;
using Kivren.Core.Selection;

namespace Kivren.Core.Composition;

/// <summary>A settled composition: every printed number agrees with the page it names.</summary>
public sealed class ComposedManual
{
    public required SelectedText Text { get; init; }
    public required Look Look { get; init; }
    public required ManualNumbers Numbers { get; init; }
    public required IndexTree Index { get; init; }
    public required IReadOnlyList<ComposedPage> Pages { get; init; }
    public required IReadOnlyList<DivisionPages> Divisions { get; init; }
    public required IReadOnlyList<LooseEnd> LooseEnds { get; init; }

    /// <summary>Passes until it settled, and blocks that had to be held.</summary>
    public required int Passes { get; init; }
    public required int Held { get; init; }

    /// <summary>Where an identity stands: sheet and height within the text area; null when it is not in this text.</summary>
    public (int Sheet, int Y)? Find(Id id)
    {
        if (Numbers.Find(id) is not { } found) return null;
        var division = Divisions[found.Division];
        return division.Cut.Places.TryGetValue(Numbers.Resolve(id), out var place) ? (division.FirstSheet + place.Page, place.Y) : null;
    }

    /// <summary>Where an atom of a division stands (index entries are no targets and are found by their division).</summary>
    public (int Sheet, int Y)? FindIn(Id divisionId, Id atom)
    {
        foreach (var division in Divisions)
            if (division.Numbers.Division.Id == divisionId && division.Cut.Places.TryGetValue(atom, out var place))
                return (division.FirstSheet + place.Page, place.Y);
        return null;
    }

    /// <summary>What a cross-reference prints in this composition.</summary>
    public string Print(CrossReference reference) =>
        References.ReferenceText.Of(reference, Numbers.Find(reference.Target)?.Target, Look, id => Find(id) is { } at ? Pages[at.Sheet].Folio : "");
}

/// <summary>The pages of one division.</summary>
public sealed record DivisionPages(DivisionNumbers Numbers, Cut Cut, int FirstSheet)
{
    public int EndSheet => FirstSheet + Cut.Pages.Length;
}
