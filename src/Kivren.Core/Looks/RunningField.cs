using System.Text.RegularExpressions;

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
/// {designation}, {date}, {variable:NAME}; or it is one picture of the manual, {picture:NAME}.</summary>
public sealed partial record RunningField(PageEdge Edge, FieldPlace Place, string Pattern, Dress Dress)
{
    /// <summary>Of its picture, which stands on its baseline; zero for that of a line.</summary>
    public Length Height { get; init; }

    /// <summary>Name of the picture that it is, or null.</summary>
    internal string? Picture => PictureAlone().Match(Pattern) is { Success: true } match ? match.Groups["name"].Value : null;

    [GeneratedRegex(@"^\{picture:(?<name>[^{}]+)\}$")]
    private static partial Regex PictureAlone();

    /// <summary>Of a free one: from the inner edge of the trim (the left one on pages that are not mirrored) to where its words
    /// begin, have their middle or end, as its place says; and from the upper edge to its baseline.</summary>
    public Length X { get; init; }
    public Length Y { get; init; }
}
