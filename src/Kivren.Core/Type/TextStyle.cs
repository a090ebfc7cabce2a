namespace Kivren.Core.Type;

/// <summary>How a run of characters is set.</summary>
/// <param name="Face">its face</param>
/// <param name="Size">the em</param>
/// <param name="Rise">how far its baseline stands above that of the line</param>
/// <param name="Tracking">space added after each glyph</param>
public sealed record TextStyle(Face Face, Length Size, Length Rise = default, Length Tracking = default)
{
    /// <summary>A measure in font units at this size.</summary>
    public int Scale(long units) => (int)((units * Size.Millipoints + (units >= 0 ? Face.UnitsPerEm / 2 : -Face.UnitsPerEm / 2)) / Face.UnitsPerEm);
}
