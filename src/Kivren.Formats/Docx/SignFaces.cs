namespace Kivren.Formats.Docx;

/// <summary>Signs of faces that have signs in the place of letters: which character each is.</summary>
internal static class SignFaces
{
    /// <summary>The Greek letters and signs of the face that printers have carried since their first days (Adobe symbol
    /// encoding).</summary>
    private const string Symbol = " !∀#∃%&∋()∗+,−./0123456789:;<=>?≅ΑΒΧΔΕΦΓΗΙϑΚΛΜΝΟΠΘΡΣΤΥςΩΞΨΖ[∴]⊥_‾αβχδεφγηιϕκλμνοπθρστυϖωξψζ{|}∼";

    private static readonly Dictionary<int, string> SymbolAbove = Signs(
        "A1ϒ A2′ A3≤ A4⁄ A5∞ A6ƒ A7♣ A8♦ A9♥ AA♠ AB↔ AC← AD↑ AE→ AF↓ B0° B1± B2″ B3≥ B4× B5∝ B6∂ B7• B8÷ B9≠ "
            + "BA≡ BB≈ BC… C5⊕ C4⊗ C6∅ C7∩ C8∪ C9⊃ CA⊇ CB⊄ CC⊂ CD⊆ CE∈ CF∉ D0∠ D1∇ D2® D3© D4™ D5∏ D6√ D7⋅ D8¬ D9∧ "
            + "DA∨ DB⇔ DC⇐ DD⇑ DE⇒ DF⇓ E5∑ F2∫"
    );

    private static readonly Dictionary<int, string> Wingdings = Signs(
        "21✏ 22✂ 28☎ 29✆ 2A✉ 4A☺ 4C☹ 6C● 6E■ 6F□ 71❑ 72❒ 75◆ 76❖ A4◉ A7▪ A8☐ AA✦ AB★ D8➢ DF← E0→ E1↑ E2↓ E8→ " + "F0⇨ FB✗ FC✓ FD☒ FE☑"
    );

    /// <param name="code">as the file names it, in the private range or without</param>
    /// <returns>null when the face or the sign is not known</returns>
    public static string? Of(string face, int code)
    {
        var own = code is >= 0xF000 and <= 0xF0FF ? code - 0xF000 : code;
        if (own > 0xFF)
            return null;
        if (face.StartsWith("Wingdings", StringComparison.OrdinalIgnoreCase))
            return face.Length == "Wingdings".Length ? Wingdings.GetValueOrDefault(own) : null;
        if (!face.Equals("Symbol", StringComparison.OrdinalIgnoreCase))
            return null;
        return own is >= 0x20 and <= 0x7E ? Symbol[own - 0x20].ToString() : SymbolAbove.GetValueOrDefault(own);
    }

    /// <summary>Pairs of a code in hexadecimal and its sign.</summary>
    private static Dictionary<int, string> Signs(string pairs) =>
        pairs
            .Split(' ')
            .ToDictionary(
                p =>
                    int.Parse(
                        p.AsSpan(0, 2),
                        System.Globalization.NumberStyles.HexNumber,
                        System.Globalization.CultureInfo.InvariantCulture
                    ),
                p => p[2..]
            );
}
