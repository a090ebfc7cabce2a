using Kivren.Core.Content;

namespace Kivren.Core.Composition;

/// <summary>A piece at its place, from the top left of the text area.</summary>
public readonly record struct PlacedPiece(int Piece, int X, int Y);

/// <summary>Lines [From, To) of a footnote at the foot; Y is the top of the first.</summary>
public readonly record struct PlacedNote(SetNote Note, int From, int To, int Y);

/// <summary>Where an identity fell: the page within its stretch, and its height on it.</summary>
public readonly record struct Place(int Page, int Y);

/// <summary>The body of one page: what of the galley it took and why it ends where it ends. It knows neither its folio
/// nor its running heads, so it is the same object wherever in the book it falls.</summary>
public sealed class CutPage
{
    public required PlacedPiece[] Pieces { get; init; }
    public required PlacedNote[] Notes { get; init; }

    /// <summary>Top of the rule above the notes, or -1.</summary>
    public required int NoteRule { get; init; }
    public required HeaderRows? Header { get; init; }
    public required string Reason { get; init; }

    /// <summary>Stands for all that is drawn in the body.</summary>
    public required ulong BodyKey { get; init; }

    /// <summary>Heads on this page: index of the first in the galley's heads, and how many.</summary>
    public required int FirstHead { get; init; }
    public required int HeadCount { get; init; }

    /// <summary>A keep was given up here: what, in words; else null.</summary>
    public string? GaveUp { get; init; }
    public Id FirstBlock { get; init; }
}

/// <summary>The pages of one stretch with where each identity fell.</summary>
public sealed class Cut
{
    public required Galley Galley { get; init; }
    public required CutPage[] Pages { get; init; }
    public required IReadOnlyDictionary<Id, Place> Places { get; init; }

    /// <summary>Total cost, comparable between cuts of one galley.</summary>
    public required long Cost { get; init; }
}
