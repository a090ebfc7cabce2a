using System.Globalization;
using System.Text;
using System.Text.RegularExpressions;
using Kivren.Core.Content;

namespace Kivren.Formats.Outputs;

/// <summary>What the file of an output is called: manual and edition, in letters that every system can keep.</summary>
public static partial class OutputName
{
    private const int Longest = 120;

    public static string Of(Manual manual, Edition edition, OutputKind kind, DateTimeOffset? moment = null) =>
        edition.FilesCalled.Trim().Length > 0 ? ByRule(edition.FilesCalled, manual, edition, kind, moment) : Usual(manual, edition, kind);

    /// <summary>By the edition's own rule. Two files of an edition never have one name: what tells them apart is added.</summary>
    private static string ByRule(string rule, Manual manual, Edition edition, OutputKind kind, DateTimeOffset? moment)
    {
        string Filled(OutputKind of) =>
            Field()
                .Replace(rule, field => field.Groups[1].Value switch
                    {
                        "manual" => manual.Title,
                        "edition" => edition.Name,
                        "output" => Words[of],
                        "date" => moment?.UtcDateTime.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture) ?? "",
                        var name => (
                            edition.Variables.FirstOrDefault(v => v.Name == name) ?? manual.Variables.FirstOrDefault(v => v.Name == name)
                        )?.Text
                            ?? field.Value,
                    });
        string Named(OutputKind of) => Stem(Filled(of)) + Ending(of);
        var name = Named(kind);
        return edition.GoesOutAs.Any(o => o.Kind != kind && string.Equals(Named(o.Kind), name, StringComparison.OrdinalIgnoreCase))
            ? $"{Stem(Filled(kind))}, {Words[kind]}{Ending(kind)}"
            : name;
    }

    [GeneratedRegex(@"\{([^{}]+)\}", RegexOptions.CultureInvariant)]
    private static partial Regex Field();

    private static readonly Dictionary<OutputKind, string> Words = new()
    {
        [OutputKind.PrintPdf] = "print",
        [OutputKind.CoverPdf] = "cover",
        [OutputKind.ScreenPdf] = "screen",
        [OutputKind.Epub] = "EPUB",
        [OutputKind.Site] = "web pages",
        [OutputKind.WordDocument] = "document",
        [OutputKind.DocBook] = "DocBook",
        [OutputKind.Markdown] = "Markdown",
    };

    private static string Ending(OutputKind kind) =>
        kind switch
        {
            OutputKind.PrintPdf or OutputKind.CoverPdf or OutputKind.ScreenPdf => ".pdf",
            OutputKind.Epub => ".epub",
            OutputKind.WordDocument => ".docx",
            _ => ".zip",
        };

    private static string Usual(Manual manual, Edition edition, OutputKind kind) =>
        Stem(
            ReferenceEquals(edition, Edition.Whole) || edition.Name == Edition.Whole.Name
                ? manual.Title
                : $"{manual.Title} – {edition.Name}"
        )
        + kind switch
        {
            OutputKind.PrintPdf => Unless(Words[kind], edition, OutputKind.ScreenPdf),
            OutputKind.Site => Unless(Words[kind], edition, null),
            OutputKind.CoverPdf or OutputKind.DocBook or OutputKind.Markdown => ", " + Words[kind],
            _ => "",
        }
        + Ending(kind);

    /// <summary>What the file is, where the edition's name does not say it and no other file of it is called so.</summary>
    private static string Unless(string word, Edition edition, OutputKind? other) =>
        edition.Name.Contains(word, StringComparison.OrdinalIgnoreCase) && edition.GoesOutAs.All(o => o.Kind != other) ? "" : ", " + word;

    public static string MediaType(OutputKind kind) =>
        kind switch
        {
            OutputKind.PrintPdf or OutputKind.CoverPdf or OutputKind.ScreenPdf => "application/pdf",
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
