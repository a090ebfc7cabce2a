using System.Collections.Concurrent;
using System.Runtime.CompilerServices;
using Kivren.Core.Content;
using Kivren.Core.Type;

namespace Kivren.Core.Looks;

/// <summary>A look with the words that it prints in a language.</summary>
internal static class LookForLanguage
{
    // Beside the look, not in it: the same look gives the same object for the same language, by which caches know it.
    private static readonly ConditionalWeakTable<Look, ConcurrentDictionary<string, Look>> Known = [];

    /// <summary>Looks in a language by the look that they are of: a division in another language than its manual has the words of its
    /// own, whatever the manual's are.</summary>
    private static readonly ConditionalWeakTable<Look, Look> Origins = [];

    public static Look In(this Look look, string? language)
    {
        if (language is null)
            return look;
        var own = Origins.TryGetValue(look, out var origin) ? origin : look;
        return ReferenceEquals(LanguageWords.Of(language), own.Words) && Writing.Of(language) == own.Writing
            ? own
            : Known
                .GetValue(own, static _ => new(StringComparer.OrdinalIgnoreCase))
                .GetOrAdd(language, static (of, own) => Said(own, of), own);
    }

    private static Look Said(Look own, string language)
    {
        var said = Written(Worded(own, LanguageWords.Of(language)), Writing.Of(language)) with { Language = language };
        Origins.Add(said, own);
        return said;
    }

    /// <summary>Every dress knows how what it is worn by is written.</summary>
    private static Look Written(Look look, Writing writing)
    {
        if (writing == look.Writing)
            return look;
        Dress In(Dress dress) => dress.In(writing);
        return look with
        {
            Writing = writing,
            Masters = [.. look.Masters.Select(m => m with { Fields = [.. m.Fields.Select(f => f with { Dress = In(f.Dress) })] })],
            Blank = look.Blank is { } blank ? blank with { Dress = In(blank.Dress) } : null,
            Dresses = [.. look.Dresses.Select(d => d with { Dress = In(d.Dress) })],
            Heads = [.. look.Heads.Select(In)],
            DivisionLabel = In(look.DivisionLabel),
            DivisionTitle = In(look.DivisionTitle),
            ListText = In(look.ListText),
            StepNumber = In(look.StepNumber),
            AdmonitionText = In(look.AdmonitionText),
            SignalWord = In(look.SignalWord),
            AsideText = In(look.AsideText),
            AsideTitle = In(look.AsideTitle),
            Caption = In(look.Caption),
            CaptionLabel = In(look.CaptionLabel),
            ListingText = In(look.ListingText),
            NoteText = In(look.NoteText),
            Term = In(look.Term),
            Table = look.Table with { Text = In(look.Table.Text), Head = In(look.Table.Head) },
            Lists = [.. look.Lists.Select(l => l with { Lines = [.. l.Lines.Select(line => line with { Dress = In(line.Dress) })] })],
            Index = look.Index with { Text = In(look.Index.Text), Group = In(look.Index.Group) },
        };
    }

    private static Look Worded(Look look, LanguageWords words) =>
        look with
        {
            Words = words,
            Masters =
            [
                .. look.Masters.Select(m => m with { Fields = [.. m.Fields.Select(f => f with { Pattern = words.Said(f.Pattern) })] }),
            ],
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
