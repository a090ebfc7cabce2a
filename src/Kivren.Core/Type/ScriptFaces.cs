namespace Kivren.Core.Type;

/// <summary>Which face sets a script that the text's own face lacks, in a weight that goes with it. Emphasis in these scripts is told
/// by weight, or by dots: they have no italic.</summary>
public static class ScriptFaces
{
    /// <summary>Names of the files for text with serifs and without, plain and bold.</summary>
    private readonly record struct Family(string Serif, string SerifBold, string Sans, string SansBold);

    private static Family Letters(string serif, string sans) =>
        new(serif + "_400Regular", serif + "_700Bold", sans + "_400Regular", sans + "_700Bold");

    /// <summary>Bold of the Han faces is the one without serifs, as books of these languages have it.</summary>
    private static Family Squares(string region) =>
        new($"NotoSerif{region}_400Regular", $"NotoSans{region}_700Bold", $"NotoSans{region}_400Regular", $"NotoSans{region}_700Bold");

    private static readonly Family[] ByForms = [Squares("JP"), Squares("SC"), Squares("TC"), Squares("KR")];
    private static readonly Family Arabic = Letters("NotoNaskhArabic", "NotoSansArabic"),
        Hebrew = Letters("NotoSerifHebrew", "NotoSansHebrew"),
        Devanagari = Letters("NotoSerifDevanagari", "NotoSansDevanagari"),
        Thai = Letters("NotoSerifThai", "NotoSansThai");

    /// <summary>Whether it is a face for such a script alone: wanted in few manuals, and large.</summary>
    public static bool Has(string name) => name.StartsWith("Noto", StringComparison.Ordinal);

    /// <summary>The face for a character that the style's own lacks; null where none that is here has it.</summary>
    public static Face? For(int character, TextStyle style, Writing writing)
    {
        var script = Scripts.Of(character);
        if (script == Script.Common && !writing.IsSquare)
            return null;
        var family = script switch
        {
            Script.Arabic => Arabic,
            Script.Hebrew => Hebrew,
            Script.Devanagari => Devanagari,
            Script.Thai => Thai,
            Script.Hangul => ByForms[(int)HanForms.Korean],
            Script.Kana => ByForms[(int)HanForms.Japanese],
            _ => ByForms[(int)writing.Han],
        };
        return Covering(family, style, character)
            // A character of one language's that stands in a text of another.
            ?? (script is Script.Han ? ByForms.Select(f => Covering(f, style, character)).FirstOrDefault(f => f is not null) : null);
    }

    private static Face? Covering(in Family family, TextStyle style, int character)
    {
        var serif = style.Face.Family.Contains("Serif", StringComparison.Ordinal);
        var bold = style.Face.Weight >= 600 || (style.StandsOut && style.Dots == EmphasisDots.None);
        var name =
            serif ? (bold ? family.SerifBold : family.Serif)
            : bold ? family.SansBold
            : family.Sans;
        return FaceLibrary.Named(name) is { } face && face.Covers(character) ? face : null;
    }
}
