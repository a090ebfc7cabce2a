namespace Kivren.Core.Type;

/// <summary>Scripts that are set otherwise than Latin, Greek and Cyrillic, or in faces of their own.</summary>
public enum Script : byte
{
    /// <summary>Letters that the text's own faces have, signs, figures.</summary>
    Common,
    Han,
    Kana,
    Hangul,
    Arabic,
    Hebrew,
    Devanagari,
    Thai,
}

public static class Scripts
{
    /// <summary>Blocks of the Unicode Standard 15.0 by their first and last code point, in order.</summary>
    private static readonly (int From, int To, Script Script)[] Blocks =
    [
        (0x0590, 0x05FF, Script.Hebrew),
        (0x0600, 0x06FF, Script.Arabic),
        (0x0750, 0x077F, Script.Arabic),
        (0x0870, 0x08FF, Script.Arabic),
        (0x0900, 0x097F, Script.Devanagari),
        (0x0E00, 0x0E7F, Script.Thai),
        (0x1100, 0x11FF, Script.Hangul),
        (0x1CD0, 0x1CFF, Script.Devanagari),
        (0x2E80, 0x2FDF, Script.Han),
        (0x3000, 0x303F, Script.Han),
        (0x3040, 0x30FF, Script.Kana),
        (0x3130, 0x318F, Script.Hangul),
        (0x31C0, 0x31EF, Script.Han),
        (0x31F0, 0x31FF, Script.Kana),
        (0x3200, 0x9FFF, Script.Han),
        (0xA8E0, 0xA8FF, Script.Devanagari),
        (0xAC00, 0xD7FF, Script.Hangul),
        (0xF900, 0xFAFF, Script.Han),
        (0xFB1D, 0xFB4F, Script.Hebrew),
        (0xFB50, 0xFDFF, Script.Arabic),
        (0xFE30, 0xFE4F, Script.Han),
        (0xFE70, 0xFEFE, Script.Arabic),
        (0xFF00, 0xFF60, Script.Han),
        (0xFF61, 0xFF9F, Script.Kana),
        (0xFFA0, 0xFFDC, Script.Hangul),
        (0xFFE0, 0xFFEF, Script.Han),
        (0x1B000, 0x1B16F, Script.Kana),
        (0x20000, 0x3FFFD, Script.Han),
    ];

    public static Script Of(int codePoint)
    {
        if (codePoint < 0x0590)
            return Script.Common;
        int low = 0,
            high = Blocks.Length - 1;
        while (low <= high)
        {
            var middle = (low + high) / 2;
            if (codePoint < Blocks[middle].From)
                high = middle - 1;
            else if (codePoint > Blocks[middle].To)
                low = middle + 1;
            else
                return Blocks[middle].Script;
        }
        return Script.Common;
    }

    /// <summary>Set in squares, with their signs, and divided between any two.</summary>
    public static bool IsSquare(this Script script) => script is Script.Han or Script.Kana;

    /// <summary>The script at the last character of what stands before <paramref name="at"/>.</summary>
    internal static Script Before(ReadOnlySpan<char> text, int at) =>
        at <= 0 ? Script.Common
        : at > 1 && char.IsLowSurrogate(text[at - 1]) && char.IsHighSurrogate(text[at - 2])
            ? Of(char.ConvertToUtf32(text[at - 2], text[at - 1]))
        : Of(text[at - 1]);

    internal static Script At(ReadOnlySpan<char> text, int at) =>
        at >= text.Length ? Script.Common
        : at + 1 < text.Length && char.IsHighSurrogate(text[at]) && char.IsLowSurrogate(text[at + 1])
            ? Of(char.ConvertToUtf32(text[at], text[at + 1]))
        : Of(text[at]);
}
