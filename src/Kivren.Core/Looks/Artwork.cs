namespace Kivren.Core.Looks;

/// <summary>What a page carries besides its text, behind it: a tint, or a picture of the manual. It is counted from the
/// fold on mirrored pages, else from the left, and may reach beyond the trim, where it bleeds.</summary>
/// <param name="X">from the inner edge of the trim; less than nothing, or wider than the page, bleeds</param>
/// <param name="Y">from the head of the trim</param>
public sealed record Artwork(Length X, Length Y, Length Width, Length Height)
{
    /// <summary>Of a tint: 0 for black to 100 for white.</summary>
    public int Grey { get; init; }

    /// <summary>Name of a colour, in place of the grey.</summary>
    public string? Colour { get; init; }

    /// <summary>Name of a picture of the manual, drawn to fill the place; null for a tint.</summary>
    public string? Picture { get; init; }
}
