namespace Kivren.Core.Looks;

/// <summary>The geometry of a page; margins are mirrored, so inner is left on a recto.</summary>
public sealed record PageMaster(Length Width, Length Height, Length Inner, Length Outer, Length Top, Length Foot)
{
    public Length Measure => Width - Inner - Outer;
    public Length Depth => Height - Top - Foot;
    public Length Left(bool recto) => recto ? Inner : Outer;
}
