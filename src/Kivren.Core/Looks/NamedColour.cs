using System.Globalization;
using Kivren.Core.Type;

namespace Kivren.Core.Looks;

/// <summary>A colour named by its use.</summary>
/// <param name="Screen">as #rrggbb</param>
public sealed record NamedColour(string Name, string Screen)
{
    /// <summary>In print, where black ink is the only one: 0 for black up to 100 for white.</summary>
    public int Print { get; init; }

    public static bool IsColour(string text) => text.Length == 7 && text[0] == '#' && text.AsSpan(1).IndexOfAnyExcept(HexDigits) < 0;

    private static readonly System.Buffers.SearchValues<char> HexDigits = System.Buffers.SearchValues.Create("0123456789abcdefABCDEF");

    public Tone Tone =>
        IsColour(Screen)
            ? new Tone(Print, int.Parse(Screen.AsSpan(1), NumberStyles.AllowHexSpecifier, CultureInfo.InvariantCulture))
            : new Tone(Print);
}
