using Kivren.Core.Content;

namespace Kivren.Core.Composition;

/// <summary>A piece at its place, from the top left of the text area.</summary>
public readonly record struct PlacedPiece(int Piece, int X, int Y);

/// <summary>Lines [From, To) of a footnote at the foot; Y is the top of the first.</summary>
public readonly record struct PlacedNote(SetNote Note, int From, int To, int X, int Y);

/// <summary>A rule above notes, at the left X; it is longer where a note goes on from the page before.</summary>
public readonly record struct NoteRule(int X, int Y, bool Continues);

/// <summary>Header rows that stand again above the rows of a page, from the top left of the text area.</summary>
public readonly record struct PlacedHeader(HeaderRows Rows, int X, int Y);

/// <summary>Where an identity fell: the page within its stretch, and its height on it.</summary>
public readonly record struct Place(int Page, int Y);

/// <summary>The body of one page: what of the galley it took and why it ends where it ends. It knows neither its folio
/// nor its running heads, so it is the same object wherever in the book it falls.</summary>
public sealed class CutPage
{
    public required PlacedPiece[] Pieces { get; init; }
    public PlacedNote[] Notes { get; init; } = [];
    public NoteRule[] NoteRules { get; init; } = [];
    public PlacedHeader[] Headers { get; init; } = [];

    /// <summary>A page of its own instead of pieces, with the piece it belongs to.</summary>
    public Plate? Plate { get; init; }
    public int PlateOf { get; init; } = -1;

    /// <summary>Left empty so that what follows begins on its side.</summary>
    public bool IsBlank => Pieces.Length == 0 && Plate is null && Notes.Length == 0;
    public bool IsTurned => Plate is { Turned: true };
    public required string Reason { get; init; }

    /// <summary>Stands for all that is drawn in the body.</summary>
    public required ulong BodyKey { get; init; }

    /// <summary>Heads on this page: index of the first in the galley's heads, and how many.</summary>
    public required int FirstHead { get; init; }
    public required int HeadCount { get; init; }

    /// <summary>Keeps given up and figures gone astray here, in words.</summary>
    public IReadOnlyList<GivenUp> GaveUp { get; init; } = [];
    public Id FirstBlock { get; init; }

    /// <summary>White left at the foot, millipoints.</summary>
    public int Short { get; init; }
}

/// <summary>Something that could not be kept: the block it happened to, and what happened.</summary>
public readonly record struct GivenUp(Id Block, string Words, bool IsFigure);

/// <summary>The pages of one stretch with where each identity fell.</summary>
public sealed class Cut
{
    public required Galley Galley { get; init; }
    public required CutPage[] Pages { get; init; }
    public required IReadOnlyDictionary<Id, Place> Places { get; init; }

    private int[]? _pageOf;

    /// <summary>The page that each piece of the galley stands on.</summary>
    internal int[] PageOf => _pageOf ??= FindPages();

    private int[] FindPages()
    {
        var pageOf = new int[Galley.Pieces.Length];
        for (var p = 0; p < Pages.Length; p++)
            foreach (var placed in Pages[p].Pieces)
                pageOf[placed.Piece] = p;
        return pageOf;
    }

    /// <summary>Whether everything stands on the same page as in another cut.</summary>
    internal bool SamePlaces(Cut other)
    {
        if (Places.Count != other.Places.Count || Pages.Length != other.Pages.Length)
            return false;
        foreach (var (id, place) in Places)
            if (!other.Places.TryGetValue(id, out var there) || there.Page != place.Page)
                return false;
        return true;
    }

    /// <summary>Total cost, comparable between cuts of one galley.</summary>
    public required long Cost { get; init; }
}
