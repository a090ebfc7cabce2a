namespace Kivren.Core.Looks;

/// <summary>How a cross-reference reads: literal words with {name}, {number}, {title}, {caption}, {folio}, {direction} and
/// {page-phrase}.</summary>
public sealed record ReferenceForm(string Name, string Label, string Pattern)
{
    /// <summary>Words that depend on where target and reference stand on the pages.</summary>
    public bool NamesFolio => Pattern.Contains("{folio}", StringComparison.Ordinal);
    public bool NamesPhrase => Pattern.Contains("{page-phrase}", StringComparison.Ordinal);
    public bool NamesDirection => Pattern.Contains("{direction}", StringComparison.Ordinal);
    public bool NamesPage => NamesFolio || NamesPhrase;

    /// <summary>The forms that every shipped look offers.</summary>
    public static readonly IReadOnlyList<ReferenceForm> Usual =
    [
        new("name-number", "Name and number", "{name}\u00A0{number}"),
        new("number", "Number", "{number}"),
        new("title", "Title", "“{title}”"),
        new("number-title", "Number and title", "{number}, “{title}”"),
        new("caption", "Caption", "{name}\u00A0{number}, {caption}"),
        new("page", "Page", "page\u00A0{folio}"),
        new("title-page", "Title and page", "“{title}” on page\u00A0{folio}"),
        new("phrase", "Number and page phrase", "{name}\u00A0{number} {page-phrase}"),
        new("title-phrase", "Title and page phrase", "“{title}” {page-phrase}"),
        new("direction", "Above or below", "{name}\u00A0{number} {direction}"),
    ];
}
