namespace Kivren.Formats.Import;

/// <summary>What became of something that could not come in as it stood.</summary>
public enum ReportKind
{
    LeftOut,
    Changed,
    Kept,
    Look,
}

/// <summary>One line of the report of an import.</summary>
/// <param name="Where">file and place</param>
/// <param name="What">what was met and what became of it</param>
/// <param name="Words">the source's words that are not in the manual; "" when none is missing</param>
public sealed record ReportLine(ReportKind Kind, string Where, string What, string Words = "")
{
    /// <summary>The file, and the place in it as <see cref="SourceBlock.Place"/> counts; 0 where it is about no one place.</summary>
    public string File { get; init; } = "";
    public int Place { get; init; }

    /// <param name="unit">what a place counts: "line" or "paragraph"</param>
    public static ReportLine At(ReportKind kind, string file, string unit, int place, string what, string words = "") =>
        new(kind, $"{file}, {unit} {place}", what, words) { File = file, Place = place };
}

/// <summary>A source document that cannot be read at all: what and why, and what to do.</summary>
public sealed class SourceFormatException(string message) : FormatException(message);
