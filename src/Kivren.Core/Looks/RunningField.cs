namespace Kivren.Core.Looks;

public enum PageEdge
{
    Head,
    Foot,
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
public sealed record RunningField(PageEdge Edge, FieldPlace Place, string Pattern, Dress Dress);
