namespace Kivren.Core.Looks;

/// <summary>How a cross-reference reads: literal words with {name}, {number}, {title} and {folio}.</summary>
public sealed record ReferenceForm(string Name, string Label, string Pattern)
{
    public bool NamesFolio => Pattern.Contains("{folio}", StringComparison.Ordinal);
}
