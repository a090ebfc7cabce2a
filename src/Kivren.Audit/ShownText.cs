using System.Text;

namespace Kivren.Audit;

/// <summary>Text as files show it, for comparing and for telling.</summary>
internal static class ShownText
{
    private const int FirstLetters = 40;

    /// <summary>Letters and signs alone: white space and what only says where lines may break are no part of what is compared.</summary>
    public static string Letters(string text)
    {
        var letters = new StringBuilder(text.Length);
        foreach (var rune in text.EnumerateRunes())
            if (!Rune.IsWhiteSpace(rune) && !Rune.IsControl(rune) && rune.Value is not (0xAD or 0x200B or 0x2060 or 0xFEFF))
                letters.Append(rune);
        return letters.ToString();
    }

    public static string Short(string text) => text.Length <= FirstLetters ? text : text[..FirstLetters] + "…";
}
