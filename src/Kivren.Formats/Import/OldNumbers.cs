using System.Text.RegularExpressions;
using Kivren.Core.Content;

namespace Kivren.Formats.Import;

/// <summary>What a number typed in the source was the number of.</summary>
internal enum Numbered
{
    Head,
    Figure,
    Table,
}

/// <summary>The numbers that were typed before heads and captions and taken out: by them the words “Section 4.1”, “Table 4.2” in running
/// text are known for what they named.</summary>
internal sealed partial class OldNumbers
{
    private readonly Dictionary<(Numbered, string), Id?> _of = [];

    /// <summary>A reference typed as words, at its place in a text; <paramref name="Target"/> is null where no one thing had that
    /// number.</summary>
    public readonly record struct Mention(int From, int Length, Id? Target);

    /// <param name="typed">what was taken out, its label with it</param>
    public void Add(Numbered what, string typed, Id id)
    {
        if (Number().Match(typed.Trim()) is not { Success: true } found)
            return;
        var key = (what, Plain(found.Groups["n"].Value));
        // Two that had one number: neither is meant for certain.
        _of[key] = _of.ContainsKey(key) ? null : id;
    }

    public bool IsEmpty => _of.Count == 0;

    /// <summary>The references typed in a text, of kinds that were numbered at all.</summary>
    public IEnumerable<Mention> In(string text)
    {
        if (IsEmpty)
            yield break;
        foreach (Match match in Typed().Matches(text))
        {
            var what = KindOf(match.Groups["w"].Value);
            if (_of.Keys.Any(k => k.Item1 == what))
                yield return new Mention(match.Index, match.Length, _of.GetValueOrDefault((what, Plain(match.Groups["n"].Value))));
        }
    }

    /// <summary>Whether the words are a label and its number, and no more.</summary>
    public static bool IsLabel(string words) => Typed().Match(words) is { Success: true } match && match.Length == words.Length;

    private static Numbered KindOf(string word) =>
        word.ToLowerInvariant() switch
        {
            "table" or "tabelle" or "tableau" or "tabla" or "tabella" or "tabel" => Numbered.Table,
            "figure" or "fig." or "abbildung" or "abb." or "figura" or "afbeelding" => Numbered.Figure,
            _ => Numbered.Head,
        };

    private static string Plain(string number) => number.Replace('-', '.').TrimEnd('.').ToUpperInvariant();

    [GeneratedRegex(@"(?<n>\d{1,3}(?:[.\-]\d{1,3})*|\b[A-Z](?:[.\-]\d{1,3})+|\b[A-Z](?=[.:\s]|$))", RegexOptions.CultureInvariant)]
    private static partial Regex Number();

    [GeneratedRegex(
        @"\b(?<w>section|chapter|appendix|table|figure|fig\.|abschnitt|kapitel|anhang|tabelle|abbildung|abb\.|chapitre|annexe|tableau"
            + @"|capítulo|apéndice|tabla|figura|capitolo|appendice|tabella|hoofdstuk|bijlage|tabel|afbeelding|avsnitt|bilaga)"
            + @"[\s\u00A0]+(?<n>\d{1,3}(?:[.\-]\d{1,3})*|[A-Z](?:[.\-]\d{1,3})+|(?-i:[A-Z])(?![\p{L}\d]))(?![\d])",
        RegexOptions.IgnoreCase | RegexOptions.CultureInvariant
    )]
    private static partial Regex Typed();
}
