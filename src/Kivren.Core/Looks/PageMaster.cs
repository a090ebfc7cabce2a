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

    /// <summary>Tinted bands and artwork of the page itself, behind the text.</summary>
    public IReadOnlyList<Band> Bands { get; init; } = [];

    public Length Measure => Width - Inner - Outer - SideColumn - SideGap;
    public Length Depth => Height - Top - Foot;

    /// <summary>Left edge of the text.</summary>
    public Length Left(bool recto) => OuterLeft(recto) + SideColumn + SideGap;

    /// <summary>Left edge of text and side column together.</summary>
    public Length OuterLeft(bool recto) => recto || !Mirrored ? Inner : Outer;

    /// <summary>The same paper turned a quarter: what was the inner margin stands at the head.</summary>
    public PageMaster Turned() => this with { Width = Height, Height = Width, Inner = Foot, Outer = Top, Top = Inner, Foot = Outer, Mirrored = false, SideColumn = default, SideGap = default, Bands = [] };
}

/// <summary>A tinted band from edge to edge that bleeds.</summary>
/// <param name="Grey">0 for black to 100 for white</param>
public readonly record struct Band(Length Top, Length Height, int Grey);
