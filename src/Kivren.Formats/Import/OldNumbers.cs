using System.Buffers;
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
    private readonly HashSet<Numbered> _kinds = [];

    /// <summary>A reference typed as words, at its place in a text; <paramref name="Target"/> is null where no one thing had that
    /// number. <paramref name="Form"/> prints the name too, where the words have it as the manual prints it.</summary>
    public readonly record struct Mention(int From, int Length, Id? Target, string Form);

    /// <param name="typed">what was taken out, its label with it</param>
    public void Add(Numbered what, string typed, Id id)
    {
        if (Number().Match(typed.Trim()) is not { Success: true } found)
            return;
        var key = (what, LabelWords.Plain(found.Groups["n"].Value));
        // Two that had one number: neither is meant for certain.
        _of[key] = _of.ContainsKey(key) ? null : id;
        _kinds.Add(what);
    }

    public bool IsEmpty => _of.Count == 0;

    /// <summary>The references typed in a text, of kinds that were numbered at all.</summary>
    public IEnumerable<Mention> In(string text, string language)
    {
        if (IsEmpty || !text.AsSpan().ContainsAny(Signs(language)))
            yield break;
        foreach (Match match in Typed(language).Matches(text))
        {
            var what = KindOf(match);
            if (!_kinds.Contains(what))
                continue;
            var number = match.Groups["n"];
            var target = _of.GetValueOrDefault((what, LabelWords.Plain(number.Value)));
            // Words as grammar bends them stay: the reference prints the number alone.
            yield return Exact(language).Match(match.Value) is { Success: true } exact && exact.Length == match.Length
                ? new Mention(match.Index, match.Length, target, "name-number")
                : new Mention(number.Index, number.Length, target, "number");
        }
    }

    /// <summary>Whether the words are a label and its number, and no more.</summary>
    public static bool IsLabel(string words, string language) =>
        Exact(language).Match(words) is { Success: true } match && match.Length == words.Length;

    private static Numbered KindOf(Match match) =>
        match.Groups["table"].Success ? Numbered.Table
        : match.Groups["figure"].Success ? Numbered.Figure
        : Numbered.Head;

    private static readonly System.Collections.Concurrent.ConcurrentDictionary<(string, bool), Regex> ByLanguage = new();

    private static readonly System.Collections.Concurrent.ConcurrentDictionary<string, SearchValues<string>> SignsOf = new();

    private static SearchValues<string> Signs(string language) =>
        SignsOf.GetOrAdd(language, static of =>
            SearchValues.Create(
                [
                    .. LabelWords.Signs(
                        of,
                        LabelWords.Table,
                        LabelWords.Figure,
                        LabelWords.Chapter,
                        LabelWords.Section,
                        LabelWords.Appendix,
                        LabelWords.Annex
                    ),
                ],
                StringComparison.OrdinalIgnoreCase
            )
        );

    private static Regex Typed(string language) => ByLanguage.GetOrAdd((language, true), of => Compiled(of.Item1, bends: true));

    private static Regex Exact(string language) => ByLanguage.GetOrAdd((language, false), of => Compiled(of.Item1, bends: false));

    private static Regex Compiled(string language, bool bends)
    {
        string Of(string number, params ReadOnlySpan<string> names) => LabelWords.LabelsIn(language, number, bends, names);
        return new Regex(
            $"(?<table>{Of(LabelWords.OfThing, LabelWords.Table)})|(?<figure>{Of(LabelWords.OfThing, LabelWords.Figure)})|"
                + Of(InText, LabelWords.Chapter, LabelWords.Section, LabelWords.Appendix, LabelWords.Annex),
            RegexOptions.IgnoreCase | RegexOptions.CultureInvariant
        );
    }

    /// <summary>A division's number in running text: no Roman one, and a letter alone is a capital.</summary>
    private const string InText = @"(?<n>\d{1,3}(?:[.\-]\d{1,3})*|(?-i:\p{Lu})(?:[.\-]\d{1,3})*|[一二三四五六七八九十百]{1,4})";

    [GeneratedRegex(
        @"(?<n>\d{1,3}(?:[.\-–]\d{1,3})*|\b\p{Lu}(?:[.\-–]\d{1,3})+|\b\p{Lu}(?=[.:：\s]|$)|[一二三四五六七八九十百]{1,4})",
        RegexOptions.CultureInvariant
    )]
    private static partial Regex Number();
}
