using System.Collections.Concurrent;
using System.Runtime.CompilerServices;
using Kivren.Core.Content;

namespace Kivren.Core.Looks;

/// <summary>A look with the words that it prints in a language.</summary>
internal static class LookForLanguage
{
    // Beside the look, not in it: the same look gives the same object for the same language, by which caches know it.
    private static readonly ConditionalWeakTable<Look, ConcurrentDictionary<LanguageWords, Look>> Known = [];

    public static Look In(this Look look, string? language)
    {
        var words = LanguageWords.Of(language);
        return ReferenceEquals(words, look.Words)
            ? look
            : Known.GetValue(look, static _ => new()).GetOrAdd(words, static (w, own) => Made(own, w), look);
    }

    private static Look Made(Look look, LanguageWords words) =>
        look with
        {
            Words = words,
            Numbering = look.Numbering with
            {
                Part = words.Said(look.Numbering.Part),
                Chapter = words.Said(look.Numbering.Chapter),
                Appendix = words.Said(look.Numbering.Appendix),
                Section = words.Said(look.Numbering.Section),
            },
            ReferenceForms = [.. look.ReferenceForms.Select(f => f with { Pattern = words.Pattern(f.Pattern) })],
            Index = look.Index with { Continued = words.Said(look.Index.Continued), Words = words },
        };
}
