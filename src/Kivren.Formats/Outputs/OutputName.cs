using System.Text;
using Kivren.Core.Content;

namespace Kivren.Formats.Outputs;

/// <summary>What the file of an output is called: manual and edition, in letters that every system can keep.</summary>
public static class OutputName
{
    private const int Longest = 120;

    public static string Of(Manual manual, Edition edition, OutputKind kind) =>
        Stem(
            ReferenceEquals(edition, Edition.Whole) || edition.Name == Edition.Whole.Name
                ? manual.Title
                : $"{manual.Title} – {edition.Name}"
        )
        + kind switch
        {
            OutputKind.PrintPdf => Unless("print", edition, OutputKind.ScreenPdf) + ".pdf",
            OutputKind.ScreenPdf => ".pdf",
            OutputKind.Epub => ".epub",
            OutputKind.WordDocument => ".docx",
            OutputKind.DocBook => ", DocBook.zip",
            OutputKind.Markdown => ", Markdown.zip",
            _ => Unless("web pages", edition, null) + ".zip",
        };

    /// <summary>What the file is, where the edition's name does not say it and no other file of it is called so.</summary>
    private static string Unless(string word, Edition edition, OutputKind? other) =>
        edition.Name.Contains(word, StringComparison.OrdinalIgnoreCase) && edition.GoesOutAs.All(o => o.Kind != other) ? "" : ", " + word;

    public static string MediaType(OutputKind kind) =>
        kind switch
        {
            OutputKind.PrintPdf or OutputKind.ScreenPdf => "application/pdf",
            OutputKind.Epub => "application/epub+zip",
            OutputKind.WordDocument => "application/vnd.openxmlformats-officedocument.wordprocessingml.document",
            _ => "application/zip",
        };

    /// <summary>Signs that some system forbids in names become hyphens; no name ends in a dot or is one that a system keeps for
    /// itself.</summary>
    private static string Stem(string title)
    {
        var name = new StringBuilder();
        foreach (var rune in title.EnumerateRunes())
            name.Append(
                Rune.IsControl(rune) || rune.Value is '/' or '\\' or ':' or '*' or '?' or '"' or '<' or '>' or '|' or 0xFFFD
                    ? "-"
                    : rune.ToString()
            );
        var stem = name.ToString().Trim().TrimEnd('.');
        if (stem.Length > Longest)
            stem = stem[..(char.IsHighSurrogate(stem[Longest - 1]) ? Longest - 1 : Longest)].TrimEnd();
        string[] kept = ["con", "prn", "aux", "nul"];
        return stem.Length == 0 || stem.All(c => c is '-' or '.') ? "Manual"
            : kept.Contains(stem, StringComparer.OrdinalIgnoreCase) ? stem + "-"
            : stem;
    }
}
