using System.Text.RegularExpressions;

namespace Kivren.Formats.Import.Sites;

/// <summary>A folder that holds each page in several languages, told by the ends of their names (intro.de.html, intro_fr.md), is one
/// book in one of them: English where it is among them, else the one with the most pages.</summary>
internal static partial class OtherLanguages
{
    /// <summary>So many files in a hundred are there in several languages.</summary>
    private const int LeastShared = 60;

    /// <summary>Numbers of the files in the languages that are not taken; by what they are called.</summary>
    public static IReadOnlyDictionary<int, string> In(IReadOnlyList<SourceDocument> documents)
    {
        var named = Enumerable
            .Range(0, documents.Count)
            .Select(d => (File: d, Name: Named().Match(documents[d].File)))
            .Where(f => f.Name.Success)
            .Select(f => (f.File, Page: f.Name.Groups["page"].Value, Language: f.Name.Groups["language"].Value.ToLowerInvariant()))
            .ToList();
        var shared = named.GroupBy(f => f.Page).Where(g => g.Select(f => f.Language).Distinct().Count() > 1).SelectMany(g => g).ToList();
        if (shared.Count * 100 < LeastShared * documents.Count)
            return new Dictionary<int, string>();
        var languages = shared.GroupBy(f => f.Language).ToList();
        var taken = languages.FirstOrDefault(g => g.Key is "en") is { } english
            ? english.Key
            : languages.OrderByDescending(g => g.Count()).ThenBy(g => g.Key, StringComparer.Ordinal).First().Key;
        return named.Where(f => f.Language != taken && languages.Any(g => g.Key == f.Language)).ToDictionary(f => f.File, f => f.Language);
    }

    [GeneratedRegex(@"^(?<page>.+)[._](?<language>[a-z]{2}([-_][A-Za-z]{2})?)\.[a-z]+$", RegexOptions.CultureInvariant)]
    private static partial Regex Named();
}
