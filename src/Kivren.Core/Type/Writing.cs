using System.Collections.Concurrent;

namespace Kivren.Core.Type;

/// <summary>Whose forms of the characters that China, Japan and Korea share.</summary>
public enum HanForms : byte
{
    Japanese,
    Simplified,
    Traditional,
    Korean,
}

/// <summary>Where a language puts a dot to each character that is emphasized; no script that has them has an italic (JLREQ 3.3.9,
/// CLREQ 3.5.2).</summary>
public enum EmphasisDots : byte
{
    None,
    Above,
    Below,
}

/// <summary>How a language is written: its direction, and whose forms its Han characters have.</summary>
public sealed record Writing(bool RightToLeft, HanForms Han, bool IsSquare)
{
    /// <summary>From the left, in letters.</summary>
    public static Writing Plain { get; } = new(false, HanForms.Japanese, false);

    private static readonly ConcurrentDictionary<string, Writing> Known = new(StringComparer.OrdinalIgnoreCase);
    private static readonly HashSet<string> FromRight = new(StringComparer.Ordinal)
    {
        "ar",
        "he",
        "iw",
        "fa",
        "ur",
        "ps",
        "sd",
        "ug",
        "yi",
        "ckb",
        "dv",
        "syr",
    };

    /// <param name="language">a tag of BCP 47, such as ar-EG or zh-Hant; null for none</param>
    public static Writing Of(string? language) => language is { Length: > 1 } ? Known.GetOrAdd(language, Read) : Plain;

    private static Writing Read(string language)
    {
        var parts = language.ToLowerInvariant().Split('-', '_');
        var script = parts.Skip(1).FirstOrDefault(p => p.Length == 4) ?? "";
        return script is "arab" or "hebr" || (FromRight.Contains(parts[0]) && script is not "latn" and not "cyrl")
                ? (script == "hebr" || parts[0] is "he" or "iw" or "yi" ? RightToLeftOne : Arabic)
            : parts[0] is "hi" or "mr" or "ne" or "sa" ? Indic
            : parts[0] is "th" ? Thai
            : parts[0] is "ja" ? Japanese
            : parts[0] is "ko" ? Korean
            : parts[0] is "zh" or "yue" or "wuu" ? (IsTraditional(parts, script) ? Traditional : Simplified)
            : Plain;
    }

    private static bool IsTraditional(string[] parts, string script) =>
        script == "hant" || (script.Length == 0 && (parts[0] == "yue" || parts.Any(p => p is "tw" or "hk" or "mo")));

    /// <summary>Lines stand so many hundredths as far apart as those of Latin letters, for what stands above and below their letters, or
    /// for squares that fill the line.</summary>
    public int Leading { get; init; } = 100;

    /// <summary>A paragraph that begins with an indent is set in by so many squares, the first below a head too (JLREQ 3.1.3, CLREQ 3.2.2);
    /// 0 where the look says how far.</summary>
    public int IndentSquares { get; init; }

    public EmphasisDots Dots { get; init; }

    private static readonly Writing RightToLeftOne = Plain with { RightToLeft = true },
        Arabic = RightToLeftOne with { Leading = 112 },
        Indic = Plain with { Leading = 112 },
        Thai = Plain with { Leading = 116 },
        Japanese =
            new(false, HanForms.Japanese, true)
            {
                Leading = 120,
                IndentSquares = 1,
                Dots = EmphasisDots.Above,
            },
        Korean = new(false, HanForms.Korean, false) { Leading = 116 },
        Simplified =
            new(false, HanForms.Simplified, true)
            {
                Leading = 120,
                IndentSquares = 2,
                Dots = EmphasisDots.Below,
            },
        Traditional = Simplified with { Han = HanForms.Traditional };
}
