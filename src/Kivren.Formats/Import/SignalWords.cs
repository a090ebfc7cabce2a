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
        ("Anmerkung", AdmonitionKind.Note),
        ("Remarque", AdmonitionKind.Note),
        ("Opmerking", AdmonitionKind.Note),
        ("Notera", AdmonitionKind.Note),
        ("Anmärkning", AdmonitionKind.Note),
        ("Anmerkning", AdmonitionKind.Note),
        ("Bemærk", AdmonitionKind.Note),
        ("Huomautus", AdmonitionKind.Note),
        ("Poznámka", AdmonitionKind.Note),
        ("Notatka", AdmonitionKind.Note),
        ("Megjegyzés", AdmonitionKind.Note),
        ("Примечание", AdmonitionKind.Note),
        ("Замечание", AdmonitionKind.Note),
        ("Примітка", AdmonitionKind.Note),
        ("Σημείωση", AdmonitionKind.Note),
        ("注記", AdmonitionKind.Note),
        ("注释", AdmonitionKind.Note),
        ("附註", AdmonitionKind.Note),
        ("참고", AdmonitionKind.Note),
        ("Importante", AdmonitionKind.Notice),
        ("Belangrijk", AdmonitionKind.Notice),
        ("Viktigt", AdmonitionKind.Notice),
        ("Viktig", AdmonitionKind.Notice),
        ("Vigtigt", AdmonitionKind.Notice),
        ("Tärkeää", AdmonitionKind.Notice),
        ("Ważne", AdmonitionKind.Notice),
        ("Důležité", AdmonitionKind.Notice),
        ("Fontos", AdmonitionKind.Notice),
        ("Важливо", AdmonitionKind.Notice),
        ("Σημαντικό", AdmonitionKind.Notice),
        ("重要", AdmonitionKind.Notice),
        ("중요", AdmonitionKind.Notice),
        ("Astuce", AdmonitionKind.Tip),
        ("Conseil", AdmonitionKind.Tip),
        ("Sugerencia", AdmonitionKind.Tip),
        ("Consejo", AdmonitionKind.Tip),
        ("Suggerimento", AdmonitionKind.Tip),
        ("Dica", AdmonitionKind.Tip),
        ("Подсказка", AdmonitionKind.Tip),
        ("Совет", AdmonitionKind.Tip),
        ("Порада", AdmonitionKind.Tip),
        ("Podpowiedź", AdmonitionKind.Tip),
        ("Wskazówka", AdmonitionKind.Tip),
        ("ヒント", AdmonitionKind.Tip),
        ("ティップ", AdmonitionKind.Tip),
        ("提示", AdmonitionKind.Tip),
        ("팁", AdmonitionKind.Tip),
        ("Attenzione", AdmonitionKind.Caution),
        ("Atención", AdmonitionKind.Caution),
        ("Atenção", AdmonitionKind.Caution),
        ("Precaución", AdmonitionKind.Caution),
        ("Внимание", AdmonitionKind.Caution),
        ("Осторожно", AdmonitionKind.Caution),
        ("Увага", AdmonitionKind.Caution),
        ("小心", AdmonitionKind.Caution),
        ("주의", AdmonitionKind.Caution),
        ("Avertissement", AdmonitionKind.Warning),
        ("Advertencia", AdmonitionKind.Warning),
        ("Avvertenza", AdmonitionKind.Warning),
        ("Avvertimento", AdmonitionKind.Warning),
        ("Waarschuwing", AdmonitionKind.Warning),
        ("Предупреждение", AdmonitionKind.Warning),
        ("Попередження", AdmonitionKind.Warning),
        ("Ostrzeżenie", AdmonitionKind.Warning),
        ("Varování", AdmonitionKind.Warning),
        ("Figyelmeztetés", AdmonitionKind.Warning),
        ("경고", AdmonitionKind.Warning),
        ("Let op", AdmonitionKind.Caution),
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
