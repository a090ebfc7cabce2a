using Kivren.Core.Content;
using Kivren.Core.Looks;
using Kivren.Core.Numbering;

namespace Kivren.Core.References;

/// <summary>What a cross-reference prints.</summary>
public static class ReferenceText
{
    /// <summary>Printed where a reference points at nothing: words that claim nothing wrong.</summary>
    public const string Nothing = "[reference to nothing]";

    /// <param name="folio">folio of the target as printed; asked only where the form names it</param>
    public static string Of(CrossReference reference, Target? target, Look look, Func<Id, string> folio)
    {
        if (target is null) return Nothing;
        var form = look.Form(reference.Form);
        var number = target.Number;
        // A form that lives on a number falls back to the title where the target has none.
        if (number.Length == 0 && form.Pattern.Contains("{number}", StringComparison.Ordinal))
            return "“" + target.Title + "”";
        var text = form.Pattern
            .Replace("{name}", target.Name, StringComparison.Ordinal)
            .Replace("{number}", number, StringComparison.Ordinal)
            .Replace("{title}", target.Title, StringComparison.Ordinal);
        return form.NamesFolio ? text.Replace("{folio}", folio(target.Id), StringComparison.Ordinal) : text;
    }
}
