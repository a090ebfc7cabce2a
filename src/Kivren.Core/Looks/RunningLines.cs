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
}

/// <summary>A field of a running head or foot. Its pattern holds words and sources in braces: {division}, {section}, {head:B},
/// {term}, each with :first or :last of the page, {folio}, {total}, {manual}, {designation}, {variable:NAME}.</summary>
public sealed record RunningField(PageEdge Edge, FieldPlace Place, string Pattern, Dress Dress);

/// <summary>What stands at the edges of a page, by its place in a division.</summary>
public sealed record RunningLines
{
    public required IReadOnlyList<RunningField> First { get; init; }
    public required IReadOnlyList<RunningField> Verso { get; init; }
    public required IReadOnlyList<RunningField> Recto { get; init; }

    /// <summary>Top of the running head's line from the trim, and of the foot's from the lower trim.</summary>
    public required Length HeadTop { get; init; }
    public required Length FootBaseline { get; init; }

    /// <summary>Space to the hairline under the head or over the foot; zero for none.</summary>
    public Length HeadRuleGap { get; init; }
    public Length FootRuleGap { get; init; }

    /// <summary>Some field names the count of all pages.</summary>
    public bool NamesTotal => First.Concat(Verso).Concat(Recto).Any(f => f.Pattern.Contains("{total}", StringComparison.Ordinal));

    public IReadOnlyList<RunningField> Of(bool first, bool recto) =>
        first ? First
        : recto ? Recto
        : Verso;
}
