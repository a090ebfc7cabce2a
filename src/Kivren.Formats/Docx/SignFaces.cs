namespace Kivren.Formats.Docx;

/// <summary>Signs of faces that have signs in the place of letters: which character each is.</summary>
internal static class SignFaces
{
    /// <summary>The Greek letters and signs of the face that printers have carried since their first days (Adobe symbol encoding).</summary>
    private const string Symbol =
        " !∀#∃%&∋()∗+,−./0123456789:;<=>?≅ΑΒΧΔΕΦΓΗΙϑΚΛΜΝΟΠΘΡΣΤΥςΩΞΨΖ[∴]⊥_‾αβχδεφγηιϕκλμνοπθρστυϖωξψζ{|}∼";

    private static readonly Dictionary<int, string> SymbolAbove = new()
    {
        [0xA1] = "ϒ", [0xA2] = "′", [0xA3] = "≤", [0xA4] = "⁄", [0xA5] = "∞", [0xA6] = "ƒ", [0xA7] = "♣", [0xA8] = "♦", [0xA9] = "♥", [0xAA] = "♠",
        [0xAB] = "↔", [0xAC] = "←", [0xAD] = "↑", [0xAE] = "→", [0xAF] = "↓", [0xB0] = "°", [0xB1] = "±", [0xB2] = "″", [0xB3] = "≥", [0xB4] = "×",
        [0xB5] = "∝", [0xB6] = "∂", [0xB7] = "•", [0xB8] = "÷", [0xB9] = "≠", [0xBA] = "≡", [0xBB] = "≈", [0xBC] = "…", [0xC5] = "⊕", [0xC4] = "⊗",
        [0xC6] = "∅", [0xC7] = "∩", [0xC8] = "∪", [0xC9] = "⊃", [0xCA] = "⊇", [0xCB] = "⊄", [0xCC] = "⊂", [0xCD] = "⊆", [0xCE] = "∈", [0xCF] = "∉",
        [0xD0] = "∠", [0xD1] = "∇", [0xD2] = "®", [0xD3] = "©", [0xD4] = "™", [0xD5] = "∏", [0xD6] = "√", [0xD7] = "⋅", [0xD8] = "¬", [0xD9] = "∧",
        [0xDA] = "∨", [0xDB] = "⇔", [0xDC] = "⇐", [0xDD] = "⇑", [0xDE] = "⇒", [0xDF] = "⇓", [0xE5] = "∑", [0xF2] = "∫",
    };

    private static readonly Dictionary<int, string> Wingdings = new()
    {
        [0x21] = "✏", [0x22] = "✂", [0x28] = "☎", [0x29] = "✆", [0x2A] = "✉", [0x4A] = "☺", [0x4C] = "☹", [0x6C] = "●", [0x6E] = "■", [0x6F] = "□",
        [0x71] = "❑", [0x72] = "❒", [0x75] = "◆", [0x76] = "❖", [0xA4] = "◉", [0xA7] = "▪", [0xA8] = "☐", [0xAA] = "✦", [0xAB] = "★", [0xD8] = "➢",
        [0xDF] = "←", [0xE0] = "→", [0xE1] = "↑", [0xE2] = "↓", [0xE8] = "→", [0xF0] = "⇨", [0xFB] = "✗", [0xFC] = "✓", [0xFD] = "☒", [0xFE] = "☑",
    };

    /// <param name="code">as the file names it, in the private range or without</param>
    /// <returns>null when the face or the sign is not known</returns>
    public static string? Of(string face, int code)
    {
        var own = code is >= 0xF000 and <= 0xF0FF ? code - 0xF000 : code;
        if (own > 0xFF) return null;
        if (face.StartsWith("Wingdings", StringComparison.OrdinalIgnoreCase)) return face.Length == "Wingdings".Length ? Wingdings.GetValueOrDefault(own) : null;
        if (!face.Equals("Symbol", StringComparison.OrdinalIgnoreCase)) return null;
        return own is >= 0x20 and <= 0x7E ? Symbol[own - 0x20].ToString() : SymbolAbove.GetValueOrDefault(own);
    }
}
