namespace Kivren.Core.Looks;

public enum PageEdge
{
    Head,
    Foot,
    Free,
}

/// <summary>Inner is at the fold on mirrored pages, left on others.</summary>
public enum FieldPlace
{
    Inner,
    Centre,
    Outer,
    Left,
    Right,
}

/// <summary>A field of a running head or foot. Its pattern holds words and sources in braces: {division}, {section}, {head:B},
/// {term}, each with :first or :last of the page, {number} and {title} of the division alone, {folio}, {total}, {manual}, {edition},
/// {designation}, {variable:NAME}.</summary>
public sealed record RunningField(PageEdge Edge, FieldPlace Place, string Pattern, Dress Dress)
{
    /// <summary>Of a free one: from the inner edge of the trim (the left one on pages that are not mirrored) to where its words
    /// begin, have their middle or end, as its place says; and from the upper edge to its baseline.</summary>
    public Length X { get; init; }
    public Length Y { get; init; }
}
