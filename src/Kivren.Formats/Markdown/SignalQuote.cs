using Kivren.Core.Content;
using Kivren.Formats.Import;

namespace Kivren.Formats.Markdown;

/// <summary>A quotation that begins with a signal word in bold and a colon is an admonition, in whichever language it is written.</summary>
internal static class SignalQuote
{
    private static readonly AdmonitionKind[] Kinds = Enum.GetValues<AdmonitionKind>();

    private static readonly Dictionary<string, AdmonitionKind> Words = LanguageWords
        .All.SelectMany(words => Kinds.Select(kind => (Word: Bare(words.Signal(kind)), kind)))
        .DistinctBy(w => w.Word)
        .ToDictionary(w => w.Word, w => w.kind, StringComparer.Ordinal);

    public static bool IsSignal(string word) => Words.ContainsKey(Bare(word));

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

    public static SourceGroup? Of(int at, IReadOnlyList<SourceBlock> quoted)
    {
        if (
            quoted is not [SourceParagraph { Spans: [SourceRun { Roles: SpanRoles.Strong } signal, ..] } first, ..]
            || !Words.TryGetValue(Bare(signal.Text), out var kind)
        )
            return null;
        var rest = first.Spans.Skip(1).ToList();
        if (rest is [SourceRun next, ..])
            rest[0] = next with { Text = next.Text.TrimStart(':', '：', '\u00A0', ' ') };
        return new SourceGroup(at, kind.ToString().ToLowerInvariant(), [first with { Spans = rest }, .. quoted.Skip(1)]);
    }
}
