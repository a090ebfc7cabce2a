using Kivren.Core.Content;

namespace Kivren.Core.Indexing;

/// <summary>Forms of the words of headings and phrases.</summary>
public static class HeadingWords
{
    /// <summary>A heading as one line: its texts with commas, as <em>see</em> names it.</summary>
    public static string Said(IReadOnlyList<string> heading) => string.Join(", ", heading);

    /// <summary>As a writer types a heading.</summary>
    public static string Typed(IReadOnlyList<string> heading) => string.Join(" › ", heading);

    /// <summary>The last word in the plural, by the rules of English; null where the language is another or there is no letter to
    /// go by.</summary>
    public static string? Plural(string text, string language)
    {
        if (!IsEnglish(language) || text.Length < 2 || !char.IsLetter(text[^1]))
            return null;
        string Ends(int cut, string end) => text[..^cut] + end;
        return Is(text, "man") ? Ends(2, "en")
            : Is(text, "sis") ? Ends(2, "es")
            : Is(text, "s") || Is(text, "x") || Is(text, "z") || Is(text, "ch") || Is(text, "sh") ? text + "es"
            : Is(text, "y") && !IsVowel(text[^2]) ? Ends(1, "ies")
            : text + "s";
    }

    /// <summary>The last word in the singular, by the rules of English; null where it is none of a plural's forms.</summary>
    public static string? Singular(string text, string language)
    {
        if (!IsEnglish(language) || text.Length < 4 || !char.IsLower(text[^1]))
            return null;
        return Is(text, "men") ? text[..^2] + "an"
            : Is(text, "ies") ? text[..^3] + "y"
            : Is(text, "sses") || Is(text, "xes") || Is(text, "ches") || Is(text, "shes") || Is(text, "zes") ? text[..^2]
            : Is(text, "s") && !Is(text, "ss") && !Is(text, "us") && !Is(text, "is") ? text[..^1]
            : null;
    }

    private static bool IsEnglish(string language) => language.StartsWith("en", StringComparison.OrdinalIgnoreCase);

    private static bool Is(string text, string end) => text.EndsWith(end, StringComparison.Ordinal);

    private static bool IsVowel(char letter) => "aeiou".Contains(char.ToLowerInvariant(letter));

    /// <summary>With a small, or a capital, first letter.</summary>
    public static string Small(string text) => text.Length == 0 ? text : char.ToLowerInvariant(text[0]) + text[1..];

    public static string Capital(string text) => text.Length == 0 ? text : char.ToUpperInvariant(text[0]) + text[1..];

    /// <summary>What two headings share that differ by capitals, hyphens, spaces or a plural alone.</summary>
    public static string Bare(string text)
    {
        var bare = string.Concat(text.Where(char.IsLetterOrDigit)).ToLowerInvariant();
        return bare.Length <= 3 ? bare
            : Is(bare, "ies") ? bare[..^3] + "y"
            : Is(bare, "s") && !Is(bare, "ss") ? bare[..^1]
            : bare;
    }

    /// <summary>What two headings share that have the same words in another order: <c>brake, band</c> and <c>band brake</c>.</summary>
    public static string Shuffled(string text) =>
        string.Join(
            ' ',
            text.Split([' ', ',', '-', '\u00A0'], StringSplitOptions.RemoveEmptyEntries).Select(Bare).Order(StringComparer.Ordinal)
        );

    /// <summary>What each level of an entry is sorted by, as typed: for the last level alone, or level by level with › between.</summary>
    /// <returns>null where a level goes by its own words</returns>
    public static string? FilesAt(IndexEntry entry, int level)
    {
        if (entry.FilesUnder is not { Length: > 0 } files)
            return null;
        if (!files.Contains('›', StringComparison.Ordinal))
            return level == entry.Headings.Count - 1 ? files : null;
        var parts = files.Split('›');
        return level < parts.Length && parts[level].Trim() is { Length: > 0 } part ? part : null;
    }

    /// <summary>The same for an entry with another word at one level.</summary>
    /// <param name="files">empty for the heading's own words</param>
    public static string? WithFilesAt(IndexEntry entry, int level, string files)
    {
        var parts = Enumerable.Range(0, entry.Headings.Count).Select(l => l == level ? files : FilesAt(entry, l) ?? "").ToArray();
        return Together(parts);
    }

    /// <summary>Words of each level, put together as they are typed.</summary>
    public static string? Together(IReadOnlyList<string> parts)
    {
        if (parts.All(p => p.Length == 0))
            return null;
        return parts.SkipLast(1).All(p => p.Length == 0) ? parts[^1]
            : string.Join(" › ", parts).TrimEnd(' ', '›') is var said && said.Contains('›', StringComparison.Ordinal) ? said
            // The first level alone: the sign tells it from the last.
            : said + " ›";
    }
}
