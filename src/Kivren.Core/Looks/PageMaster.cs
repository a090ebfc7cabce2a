namespace Kivren.Core.Looks;

/// <summary>The geometry of a page. Mirrored margins have the inner one left on a recto; else it is left on every page.
/// A side column, for hung numbers and sideheads, stands left of the text.</summary>
public sealed record PageMaster(Length Width, Length Height, Length Inner, Length Outer, Length Top, Length Foot)
{
    public bool Mirrored { get; init; } = true;
    public Length SideColumn { get; init; }
    public Length SideGap { get; init; }

    /// <summary>How far tints and artwork reach beyond the trim.</summary>
    public Length Bleed { get; init; } = Length.Millimetres(3);

    public Length Measure => Width - Inner - Outer - SideColumn - SideGap;
    public Length Depth => Height - Top - Foot;

    /// <summary>Left edge of the text.</summary>
    public Length Left(bool recto) => OuterLeft(recto) + SideColumn + SideGap;

    /// <summary>Left edge of text and side column together.</summary>
    public Length OuterLeft(bool recto) => recto || !Mirrored ? Inner : Outer;

    /// <summary>The same paper turned a quarter: what was the inner margin stands at the head.</summary>
    public PageMaster Turned() =>
        this with
        {
            Width = Height,
            Height = Width,
            Inner = Foot,
            Outer = Top,
            Top = Inner,
            Foot = Outer,
            Mirrored = false,
            SideColumn = default,
            SideGap = default,
        };
}
