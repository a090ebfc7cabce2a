using System.Collections.Concurrent;

namespace Kivren.Core.Content;

/// <summary>The words that a manual prints by itself, in a language: what a chapter and a figure are called, on page, see also, the
/// signal words, quotation marks. A text file for each language (Languages/*.txt) that a translator can read; a language without one
/// has the English words.</summary>
public sealed class LanguageWords
{
    private const string Prefix = "words:",
        Fallback = "en";
    private static readonly ConcurrentDictionary<string, LanguageWords?> Known = new(StringComparer.OrdinalIgnoreCase);
    private readonly Dictionary<string, string> _words;

    private LanguageWords(Dictionary<string, string> words) => _words = words;

    public static LanguageWords English { get; } = Read(Fallback)!;

    /// <summary>Those of every language that has a file.</summary>
    public static IEnumerable<LanguageWords> All =>
        typeof(LanguageWords)
            .Assembly.GetManifestResourceNames()
            .Where(n => n.StartsWith(Prefix, StringComparison.Ordinal))
            .Order(StringComparer.Ordinal)
            .Select(n => Of(n[Prefix.Length..]));

    /// <param name="language">a tag such as de-AT; its first part tells</param>
    public static LanguageWords Of(string? language) =>
        language is { Length: > 1 } && Known.GetOrAdd(Named(language), Read) is { } words ? words : English;

    /// <summary>Whether it is read from the right.</summary>
    public static bool IsFromRight(string? language) => Type.Writing.Of(language).RightToLeft;

    /// <summary>Norwegian is known by three names, Chinese is written in two ways.</summary>
    private static string Named(string language) =>
        language.Split('-', '_')[0].ToLowerInvariant() switch
        {
            "no" or "nn" => "nb",
            "iw" => "he",
            "zh" or "yue" when Type.Writing.Of(language).Han == Type.HanForms.Traditional => "zh-hant",
            var first => first,
        };

    private static LanguageWords? Read(string language)
    {
        if (!language.All(c => char.IsAsciiLetterLower(c) || c == '-'))
            return null;
        using var stream = typeof(LanguageWords).Assembly.GetManifestResourceStream(Prefix + language);
        if (stream is null)
            return null;
        var words = new Dictionary<string, string>(StringComparer.Ordinal);
        using var reader = new StreamReader(stream);
        while (reader.ReadLine() is { } line)
            if (line.IndexOf(" = ", StringComparison.Ordinal) is var at and > 0)
                words[line[..at]] = line[(at + 3)..];
        return new LanguageWords(words);
    }

    /// <summary>All names of words, in the order of the English file.</summary>
    public static IEnumerable<string> Names => English._words.Keys;

    public string this[string name] => _words.GetValueOrDefault(name) ?? English._words[name];

    private const string Place = "{n}";

    /// <summary>What stands before a number and behind it.</summary>
    public static (string Before, string Behind) Around(string name, string between = "\u00A0") =>
        name.IndexOf(Place, StringComparison.Ordinal) is >= 0 and var at ? (name[..at], name[(at + Place.Length)..])
        : name.Length > 0 ? (name + between, "")
        : ("", "");

    /// <summary>A number with what it counts: behind the name, or in the place that the name has for it.</summary>
    public static string Numbered(string name, string number, string between = "\u00A0") =>
        number.Length == 0
            ? name.Replace(Place, "", StringComparison.Ordinal)
            : Around(name, between) switch
            {
                var (a, b) => a + number + b,
            };

    /// <summary>The signal word.</summary>
    public string Signal(AdmonitionKind kind) => this[kind.ToString().ToLowerInvariant()];

    /// <summary>A word of a look in this language: one that is the usual English word; a look's own stays.</summary>
    public string Said(string word)
    {
        if (ReferenceEquals(this, English))
            return word;
        foreach (var (name, english) in English._words)
            if (english == word)
                return this[name];
        return word;
    }

    /// <summary>The pattern of a form of references with its words and quotation marks in this language.</summary>
    public string Pattern(string pattern) =>
        ReferenceEquals(this, English)
            ? pattern
            : pattern
                .Replace("on page\u00A0{folio}", Numbered(this["onPage"], "\u0001"), StringComparison.Ordinal)
                .Replace("page\u00A0{folio}", Numbered(this["page"], "\u0001"), StringComparison.Ordinal)
                .Replace("\u0001", "{folio}", StringComparison.Ordinal)
                .Replace("“", this["openQuote"], StringComparison.Ordinal)
                .Replace("”", this["closeQuote"], StringComparison.Ordinal);
}
