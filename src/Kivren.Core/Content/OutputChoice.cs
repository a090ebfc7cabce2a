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
}

/// <summary>Where a flowing output begins a new page or file.</summary>
public enum SplitAt
{
    Nowhere,
    Division,
    HeadA,
    HeadB,
}

/// <summary>An output of an edition with its options; each kind minds those that are said to be its own.</summary>
public sealed record OutputChoice(OutputKind Kind)
{
    public const int MostMultiple = 64,
        MostDepth = 6,
        LongestStyle = 100_000;

    /// <summary>Print: pages come to a multiple of this many.</summary>
    public int Multiple { get; init; } = 1;

    /// <summary>Print: crop marks and the page’s info stand outside the trim.</summary>
    public bool Marks { get; init; } = true;

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

    /// <summary>Why it cannot go out so; null when it can.</summary>
    public string? Fault() =>
        Multiple is < 1 or > MostMultiple ? $"Pages come to a multiple of 1 to {MostMultiple}."
        : OutlineDepth is < 0 or > MostDepth ? $"An outline has up to {MostDepth} levels."
        : OwnStyle.Length > LongestStyle ? $"Own rules of style have up to {LongestStyle:N0} letters."
        : null;
}

public static class OutputKinds
{
    public static Medium Medium(this OutputKind kind) =>
        kind switch
        {
            OutputKind.PrintPdf or OutputKind.WordDocument => Content.Medium.Paper,
            OutputKind.ScreenPdf => Content.Medium.Screen,
            _ => Content.Medium.Flowing,
        };
}
