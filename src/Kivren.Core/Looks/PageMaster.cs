namespace Kivren.Core.Looks;

/// <summary>A page layout: paper, margins, columns, what stands at its edges and behind its text. Mirrored margins have the inner one
/// left on a recto; else it is left on every page. A side column, for hung numbers and sideheads, stands left of the text.</summary>
/// <param name="Name">by which sequences and other masters name it</param>
public sealed record PageMaster(string Name, Length Width, Length Height, Length Inner, Length Outer, Length Top, Length Foot)
{
    /// <summary>The master, standing before it in the look, that it has all from which it does not say itself; null for none.</summary>
    public string? BasedOn { get; init; }
    public bool Mirrored { get; init; } = true;
    public Length SideColumn { get; init; }
    public Length SideGap { get; init; }

    /// <summary>Columns of text, and the gutter between them.</summary>
    public int Columns { get; init; } = 1;
    public Length Gutter { get; init; } = Length.Points(18);

    /// <summary>How far tints and artwork reach beyond the trim.</summary>
    public Length Bleed { get; init; } = Length.Millimetres(3);

    /// <summary>Running heads and feet; none for a bare page.</summary>
    public IReadOnlyList<RunningField> Fields { get; init; } = [];

    /// <summary>Top of the running head's line from the trim, and of the foot's baseline from the lower trim.</summary>
    public Length HeadTop { get; init; } = Length.Points(36);
    public Length FootBaseline { get; init; } = Length.Points(36);

    /// <summary>Space to the rule under the head or over the foot; zero for none.</summary>
    public Length HeadRuleGap { get; init; }
    public Length FootRuleGap { get; init; }

    /// <summary>From the rule over the head to its line, and from the foot's baseline to the rule under it; zero for none.</summary>
    public Length HeadRuleOver { get; init; }
    public Length FootRuleUnder { get; init; }

    /// <summary>On pages turned for a wide table its heads and feet stand where they do on upright pages, turned with the paper; else
    /// they stand as the table does.</summary>
    public bool FurnitureStays { get; init; }

    /// <summary>Of a turned layout whose heads and feet stay: the upright one that says where.</summary>
    internal PageMaster? Upright { get; init; }

    /// <summary>Behind the text.</summary>
    public IReadOnlyList<Artwork> Artwork { get; init; } = [];

    /// <summary>Width and depth of the frame that text stands in.</summary>
    public Length Measure => Width - Inner - Outer - SideColumn - SideGap;
    public Length Depth => Height - Top - Foot;

    /// <summary>Width of each of so many columns.</summary>
    public int ColumnWidth(int columns, Length gutter) => (Measure.Millipoints - gutter.Millipoints * (columns - 1)) / columns;

    /// <summary>Left edge of the text.</summary>
    public Length Left(bool recto) => OuterLeft(recto) + SideColumn + SideGap;

    /// <summary>Left edge of text and side column together.</summary>
    public Length OuterLeft(bool recto) => recto || !Mirrored ? Inner : Outer;

    /// <summary>Whether text set for one stands as well on the other: where on the paper may differ, and how deep it reaches on the
    /// first page of a division.</summary>
    /// <param name="opens">one of them is that of a division’s first page</param>
    public bool HoldsTextOf(PageMaster other, bool opens = false) =>
        Measure == other.Measure
        && (Depth == other.Depth || (opens && Columns == 1))
        && Columns == other.Columns
        && (Columns == 1 || Gutter == other.Gutter)
        && SideColumn + SideGap == other.SideColumn + other.SideGap;

    /// <summary>The same paper turned a quarter, in one column: what was the inner margin stands at the head.</summary>
    public PageMaster Turned() =>
        this with
        {
            Name = Name + ", turned",
            BasedOn = null,
            Width = Height,
            Height = Width,
            Inner = Foot,
            Outer = Top,
            Top = Inner,
            Foot = Outer,
            Mirrored = false,
            SideColumn = default,
            SideGap = default,
            Columns = 1,
            Artwork = [],
        };
}
