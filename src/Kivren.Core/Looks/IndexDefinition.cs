using Kivren.Core.Content;

namespace Kivren.Core.Looks;

/// <summary>How the index is set (composition.md 8).</summary>
public sealed record IndexDefinition(Dress Text, Dress Group)
{
    public int Columns { get; init; } = 2;
    public Length Gutter { get; init; }
    public Length Indent { get; init; }

    /// <summary>Subheadings run on in the heading's paragraph instead of standing on lines of their own.</summary>
    public bool RunIn { get; init; }

    /// <summary>Entries on consecutive pages join to a range.</summary>
    public bool Joins { get; init; }
    public Elision Elision { get; init; } = Elision.TwoDigits;

    /// <summary>Spaces are passed over in sorting.</summary>
    public bool LetterByLetter { get; init; }
    public bool GroupHeads { get; init; } = true;

    /// <summary>Principal locators are bold.</summary>
    public bool PrincipalBold { get; init; } = true;

    /// <summary>Repeated over subheadings that cross to a new page.</summary>
    internal LanguageWords Words { get; init; } = LanguageWords.English;

    public string Continued { get; init; } = "continued";

    private string? _key;

    /// <summary>All that decides how the index looks, as one string.</summary>
    internal string Key => _key ??= $"{this}{OwnDress.Key(Text)}{OwnDress.Key(Group)}";
}
