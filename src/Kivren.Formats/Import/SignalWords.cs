using System.Text.RegularExpressions;
using Kivren.Core.Content;

namespace Kivren.Formats.Import;

/// <summary>The words that admonitions begin with, in whichever language a source is written.</summary>
internal static class SignalWords
{
    private static readonly AdmonitionKind[] Kinds = Enum.GetValues<AdmonitionKind>();

    /// <summary>Words besides those that a manual prints itself.</summary>
    private static readonly (string Word, AdmonitionKind Kind)[] Others =
    [
        ("Attention", AdmonitionKind.Caution),
        ("Important", AdmonitionKind.Notice),
        ("Hint", AdmonitionKind.Tip),
        ("Wichtig", AdmonitionKind.Notice),
        ("Важно", AdmonitionKind.Notice),
        ("注", AdmonitionKind.Note),
    ];

    private static readonly Dictionary<string, AdmonitionKind> ByWord = LanguageWords
        .All.SelectMany(words => Kinds.Select(kind => (Word: words.Signal(kind), kind)))
        .Concat(Others)
        .Select(w => (Word: Bare(w.Item1), w.Item2))
        .DistinctBy(w => w.Word)
        .ToDictionary(w => w.Word, w => w.Item2, StringComparer.Ordinal);

    /// <summary>A pattern of any of them.</summary>
    public static string Pattern { get; } =
        string.Join(
            '|',
            LanguageWords
                .All.SelectMany(words => Kinds.Select(words.Signal))
                .Concat(Others.Select(o => o.Word))
                .Distinct(StringComparer.OrdinalIgnoreCase)
                .OrderByDescending(w => w.Length)
                .Select(Regex.Escape)
        );

    /// <returns>null where the word is none of them</returns>
    public static AdmonitionKind? KindOf(string word) => ByWord.TryGetValue(Bare(word), out var kind) ? kind : null;

    // Greek capitals are written without their accents.
    private const string Accented = "άέήίόύώϊϋΐΰ",
        Unaccented = "αεηιουωιυιυ";

    private static string Bare(string word) =>
        string.Concat(
                word.ToLowerInvariant()
                    .Where(c => !char.IsPunctuation(c))
                    .Select(c => Accented.IndexOf(c, StringComparison.Ordinal) is >= 0 and var at ? Unaccented[at] : c)
            )
            .Trim();
}
