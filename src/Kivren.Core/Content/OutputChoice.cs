namespace Kivren.Core.Content;

public enum OutputKind
{
    PrintPdf,
    ScreenPdf,
    Epub,

    /// <summary>A folder of web pages.</summary>
    Site,

    /// <summary>A word-processing file (Office Open XML).</summary>
    WordDocument,

    /// <summary>DocBook 5 with its pictures, for other tools.</summary>
    DocBook,

    /// <summary>Markdown with its pictures, for other tools.</summary>
    Markdown,

    /// <summary>Back, spine and front on one sheet, for print.</summary>
    CoverPdf,
}

/// <summary>Where a flowing output begins a new page or file.</summary>
public enum SplitAt
{
    Nowhere,
    Division,
    HeadA,
    HeadB,
}

/// <summary>The style of a template that a role is written in.</summary>
/// <param name="Role">as mappings name it, or of the manual's own</param>
/// <param name="Style">its name in the template</param>
public sealed record RoleStyle(string Role, string Style);

/// <summary>An output of an edition with its options; each kind minds those that are said to be its own.</summary>
public sealed record OutputChoice(OutputKind Kind)
{
    public const int MostMultiple = 64,
        MostDepth = 6,
        LongestStyle = 100_000,
        LongestName = 200,
        MostLeaf = 2_000,
        MostRoles = 300;

    /// <summary>Print: pages come to a multiple of this many.</summary>
    public int Multiple { get; init; } = 1;

    /// <summary>Print and cover: crop marks and the page’s info stand outside the trim.</summary>
    public bool Marks { get; init; } = true;

    /// <summary>Print and cover: name of the printer’s own colour profile among what belongs to the manual; empty for the one that
    /// ships.</summary>
    public string Profile { get; init; } = "";

    /// <summary>Cover: thickness of a leaf of the book, in thousandths of a millimetre.</summary>
    public int Leaf { get; init; } = 100;

    /// <summary>Cover: ids of the divisions that its front and its back show; empty for the title page, and for a bare back.</summary>
    public string Front { get; init; } = "";
    public string Back { get; init; } = "";

    /// <summary>EPUB: the validator of the format reads it when it is made.</summary>
    public bool Checked { get; init; }

    /// <summary>Screen PDF: levels of its outline.</summary>
    public int OutlineDepth { get; init; } = MostDepth;

    /// <summary>Screen PDF: no page stays blank for the next to begin on its side.</summary>
    public bool WithoutBlanks { get; init; }

    /// <summary>Screen PDF: a reader shows two facing pages.</summary>
    public bool Facing { get; init; }

    /// <summary>Flowing: where a new page begins.</summary>
    public SplitAt Splits { get; init; } = SplitAt.Division;

    /// <summary>Flowing: rules of style of the house’s own, behind those of the look.</summary>
    public string OwnStyle { get; init; } = "";

    /// <summary>Word processor: name of the template among what belongs to the manual; empty for none.</summary>
    public string Template { get; init; } = "";

    /// <summary>Word processor: the template's styles for roles; others are dressed as in the look.</summary>
    public IReadOnlyList<RoleStyle> RoleStyles { get; init; } = [];

    public bool Equals(OutputChoice? other) =>
        other is not null
        && (Kind, Multiple, Marks, OutlineDepth, WithoutBlanks)
            == (other.Kind, other.Multiple, other.Marks, other.OutlineDepth, other.WithoutBlanks)
        && (Facing, Splits, OwnStyle, Template) == (other.Facing, other.Splits, other.OwnStyle, other.Template)
        && (Profile, Leaf, Front, Back, Checked) == (other.Profile, other.Leaf, other.Front, other.Back, other.Checked)
        && RoleStyles.SequenceEqual(other.RoleStyles);

    public override int GetHashCode() => HashCode.Combine(Kind, Multiple, Marks, OutlineDepth, Splits, OwnStyle, Template);

    /// <summary>Why it cannot go out so; null when it can.</summary>
    public string? Fault() =>
        Multiple is < 1 or > MostMultiple ? $"Pages come to a multiple of 1 to {MostMultiple}."
        : OutlineDepth is < 0 or > MostDepth ? $"An outline has up to {MostDepth} levels."
        : Template.Length > LongestName ? "A template has a shorter name."
        : Profile.Length > LongestName ? "A profile has a shorter name."
        : Leaf is < 10 or > MostLeaf ? "A leaf is from 0.01 to 2 mm thick."
        : Front.Length > LongestName || Back.Length > LongestName ? "A division has a shorter id."
        : RoleStyles.Count > MostRoles || RoleStyles.Any(r => r is null || r.Role.Length > LongestName || r.Style.Length > LongestName)
            ? $"Up to {MostRoles} roles have styles of a template."
        : OwnStyle.Length > LongestStyle ? $"Own rules of style have up to {LongestStyle:N0} letters."
        : null;
}

public static class OutputKinds
{
    public static Medium Medium(this OutputKind kind) =>
        kind switch
        {
            OutputKind.PrintPdf or OutputKind.CoverPdf or OutputKind.WordDocument => Content.Medium.Paper,
            OutputKind.ScreenPdf => Content.Medium.Screen,
            _ => Content.Medium.Flowing,
        };
}
