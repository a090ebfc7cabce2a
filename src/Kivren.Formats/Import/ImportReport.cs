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
public sealed record ReportLine(ReportKind Kind, string Where, string What, string Words = "");

/// <summary>A source document that cannot be read at all: what and why, and what to do.</summary>
public sealed class SourceFormatException(string message) : FormatException(message);
