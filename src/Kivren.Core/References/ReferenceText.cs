using Kivren.Core.Content;
using Kivren.Core.Looks;
using Kivren.Core.Numbering;

namespace Kivren.Core.References;

/// <summary>Where things stand as far as a reference's words depend on it.</summary>
public interface IReferencePlaces
{
    /// <summary>Folio of the target as printed.</summary>
    string Folio(Id target);

    /// <summary>On this page, on the facing page, overleaf, on page 47.</summary>
    string Phrase(Id reference, Id target);

    /// <summary>Whether the target stands before the reference in the order of reading.</summary>
    bool IsAbove(Id reference, Id target);
}

/// <summary>What a cross-reference prints (composition.md 6).</summary>
public static class ReferenceText
{
    /// <summary>Printed where a reference points at nothing: words that claim nothing wrong.</summary>
    public const string Nothing = "[reference to nothing]";

    public static string Of(CrossReference reference, Target? target, Look look, IReferencePlaces places)
    {
        if (reference.Instead is { } instead)
            return instead;
        if (reference.Other is { } other)
        {
            var there = new Target(reference.Target, TargetKind.Anchor, other.Name, other.Number, other.Title);
            // Above and below are said within one manual.
            var said = look.Form(reference.Form) is { NamesDirection: true } ? look.Form("name-number") : look.Form(reference.Form);
            return $"{Of(reference, there, look, said, new PlacesThere(other, look.Words))}, "
                + look.Words["openQuote"]
                + other.ManualTitle
                + look.Words["closeQuote"];
        }
        return target is null ? Nothing : Of(reference, target, look, look.Form(reference.Form), places);
    }

    private sealed class PlacesThere(OtherPlace place, LanguageWords words) : IReferencePlaces
    {
        public string Folio(Id target) => place.Folio;

        public string Phrase(Id reference, Id target) => words["onPage"] + "\u00A0" + place.Folio;

        public bool IsAbove(Id reference, Id target) => false;
    }

    /// <summary>The pattern of a form as it is filled for a target: one that lives on a number says the title where there is none.
    /// </summary>
    public static string PatternFor(Target target, ReferenceForm form, LanguageWords words)
    {
        var text = form.Pattern;
        var quoted = words["openQuote"] + "{title}" + words["closeQuote"];
        // A form that lives on a number falls back to the title where the target has none.
        if (target.Number.Length == 0 && text.Contains("{number}", StringComparison.Ordinal))
            text = text.Replace("{name}\u00A0{number}, {caption}", "{number}", StringComparison.Ordinal)
                .Replace("{number}, " + quoted, "{number}", StringComparison.Ordinal)
                .Replace("{name}\u00A0{number}", "{number}", StringComparison.Ordinal)
                .Replace("{number}", quoted, StringComparison.Ordinal);
        if (target.Name.Length == 0)
            text = text.Replace("{name}\u00A0", "", StringComparison.Ordinal);
        else
            text = text.Replace("{name}\u00A0{number}", LanguageWords.Numbered(target.Name, "{number}"), StringComparison.Ordinal);
        return text;
    }

    private static string Of(CrossReference reference, Target target, Look look, ReferenceForm form, IReferencePlaces places)
    {
        var text = PatternFor(target, form, look.Words);
        text = text.Replace("{name}", target.Name, StringComparison.Ordinal)
            .Replace("{number}", target.Number.Replace(' ', '\u00A0'), StringComparison.Ordinal)
            .Replace("{title}", target.Title, StringComparison.Ordinal)
            .Replace("{caption}", target.Title, StringComparison.Ordinal);
        if (form.NamesFolio)
            text = text.Replace("{folio}", places.Folio(target.Id), StringComparison.Ordinal);
        if (form.NamesPhrase)
            text = text.Replace("{page-phrase}", places.Phrase(reference.Id, target.Id), StringComparison.Ordinal);
        if (form.NamesDirection)
            text = text.Replace(
                "{direction}",
                places.IsAbove(reference.Id, target.Id) ? look.Words["above"] : look.Words["below"],
                StringComparison.Ordinal
            );
        if (look.PageAfterReferences && !form.NamesPage)
            text += $" ({LanguageWords.Numbered(look.Words["page"], places.Folio(target.Id))})";
        return text;
    }
}
