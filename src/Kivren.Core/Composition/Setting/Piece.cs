using Kivren.Core.Content;
using Kivren.Core.Type;

namespace Kivren.Core.Composition;

/// <summary>Why a page would rather not turn before a piece; in the order in which keeps are given up, the weakest first.
/// Short is a table or an admonition of few lines.</summary>
public enum Keep : byte
{
    None,
    Hyphen,
    LeadIn,
    Together,
    RowStart,
    Orphan,
    Widow,
    Short,
    TwoLines,
    Head,
    Whole,
}

/// <summary>What it costs to turn the page before a piece, for each kind of keep. Whole numbers, so that ties are
/// decided the same way everywhere.</summary>
public static class TurnCost
{
    public static int Of(Keep keep) =>
        keep switch
        {
            Keep.None => 0,
            Keep.Hyphen => 40,
            Keep.LeadIn => 6_000,
            Keep.Together => 2_500,
            Keep.RowStart => 3_000,
            Keep.Orphan => 8_000,
            Keep.Widow => 9_000,
            Keep.Short => 40_000,
            Keep.TwoLines => 100_000,
            Keep.Head => 300_000,
            _ => 20_000_000,
        };
}

/// <summary>A footnote set in lines.</summary>
public sealed record SetNote(Id Id, string Number, IReadOnlyList<TextLine> Lines, TextLine Label, int Leading, int Baseline);

/// <summary>Where a piece may go: nowhere else; in its place or, when it does not fit, the next top; top or foot of its
/// page; pages of its own after the page of its place.</summary>
public enum Floating : byte
{
    No,
    Here,
    Top,
    Foot,
    OwnPages,
}

/// <summary>A page of its own: a figure, or a part of a table turned to landscape.</summary>
public sealed record Plate(bool Turned, IReadOnlyList<Drawn> Drawn, IReadOnlyList<SetNote> Notes);

/// <summary>The unit that pages are cut into: a line, a row, a figure, an opening. The page may turn before it.</summary>
public struct Piece
{
    /// <summary>Millipoints, without the space before.</summary>
    public int Height;

    /// <summary>Space above, dropped at the head of a page.</summary>
    public int Space;

    /// <summary>By how much of itself that space may grow, in hundredths.</summary>
    public int Stretch;
    public Keep Keep;

    /// <summary>A page (column) must begin here, on the side that it names.</summary>
    public BreakTo? Forced;
    public Floating Floating;

    /// <summary>Reaches over all columns.</summary>
    public bool Spans;

    /// <summary>Stands on the grid of the body's leading where the look keeps one.</summary>
    public bool OnGrid;

    /// <summary>Index of the header rows that stand above this row when it begins a page, or -1.</summary>
    public int Header;
    public IReadOnlyList<Drawn> Drawn;

    /// <summary>Drawn as well, from its top, where the piece before it stands on another page or in another column; and from its
    /// foot, where the piece after it does: what is divided stays open there. Null for most.</summary>
    public IReadOnlyList<Drawn>? AtTop,
        AtFoot;
    public IReadOnlyList<SetNote>? Notes;

    /// <summary>The pages of their own, for <see cref="Floating.OwnPages"/>.</summary>
    public IReadOnlyList<Plate>? Plates;

    /// <summary>The top-level block it is of.</summary>
    public Id Block;

    public readonly bool Floats => Floating != Floating.No;
}

/// <summary>An identity with the piece that carries it, and which of the piece's own pages.</summary>
public readonly record struct PieceMark(Id Id, int Piece, int Plate = 0);

/// <summary>Header rows that repeat, with the caption's line that says so.</summary>
public sealed record HeaderRows(int Height, IReadOnlyList<Drawn> Drawn)
{
    /// <summary>They stand again at the head of every column, not of every page alone.</summary>
    public bool InEachColumn { get; init; }
}
