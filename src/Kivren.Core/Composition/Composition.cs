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

    /// <summary>The words that it prints by itself.</summary>
    public LanguageWords Words => Look.Words;
    public required ManualNumbers Numbers { get; init; }
    public required IndexTree Index { get; init; }
    public required IReadOnlyList<ComposedPage> Pages { get; init; }
    public required IReadOnlyList<DivisionPages> Divisions { get; init; }
    public required IReadOnlyList<LooseEnd> LooseEnds { get; init; }

    /// <summary>Loose ends that a writer put aside, with the reason.</summary>
    public required IReadOnlyList<LooseEnd> LetBe { get; init; }

    /// <summary>Passes until it settled, and blocks that had to be held.</summary>
    public required int Passes { get; init; }
    public required int Held { get; init; }

    /// <summary>Where an identity stands: sheet and height within the text area; null when it is not in this text.</summary>
    public (int Sheet, int Y)? Find(Id id)
    {
        if (Numbers.Find(id) is not { } found)
            return null;
        var division = Divisions[found.Division];
        return division.Cut.Places.TryGetValue(Numbers.Resolve(id), out var place) ? (division.StretchSheet + place.Page, place.Y) : null;
    }

    /// <summary>Where an atom of a division stands (index entries are no targets and are found by their division).</summary>
    public (int Sheet, int Y)? FindIn(Id divisionId, Id atom)
    {
        foreach (var division in Divisions)
            if (division.Numbers.Division.Id == divisionId && division.Cut.Places.TryGetValue(atom, out var place))
                return (division.StretchSheet + place.Page, place.Y);
        return null;
    }

    /// <summary>What a cross-reference prints in this composition.</summary>
    public string Print(CrossReference reference) =>
        References.ReferenceText.Of(reference, Numbers.Find(reference.Target)?.Target, Look, Places);

    /// <summary>The words that an atom or a run comes to in a line; none for what prints no words there.</summary>
    public string Printed(Inline inline) =>
        inline switch
        {
            TextRun run => run.Text,
            LineBreak => " ",
            CrossReference reference => Print(reference),
            VariableUse variable => Text.Variable(variable.Name) ?? "",
            _ => "",
        };

    private IReadOnlyList<IndexLine>? _indexLines;

    /// <summary>The lines of the index as they are printed, group heads among them.</summary>
    public IReadOnlyList<IndexLine> IndexLines => _indexLines ??= IndexLine.Of(Index, Look.Index, Index.Places(((PageTable)Places).Locate));

    /// <summary>Where things came to stand, for whoever prints a reference.</summary>
    public required References.IReferencePlaces Places { get; init; }
}

/// <summary>The pages of one division. Divisions that run on share the cut of their stretch, and the page on which one ends
/// and the next begins.</summary>
/// <param name="StretchSheet">sheet of the stretch's first page</param>
/// <param name="First">the division's first page within the cut</param>
/// <param name="End">the page after its last</param>
public sealed record DivisionPages(DivisionNumbers Numbers, Cut Cut, int StretchSheet, int First, int End)
{
    public int FirstSheet => StretchSheet + First;
    public int EndSheet => StretchSheet + End;
}
