using System.Xml.Linq;
using static Kivren.Formats.Docx.Writing.Ooxml;

namespace Kivren.Formats.Docx.Writing;

/// <summary>The kinds of lists of a word-processing file (ECMA-376, part 1, 17.9).</summary>
internal static class WordLists
{
    public const int Bullets = 1,
        Numbers = 2,
        Letters = 3,
        Roman = 4,
        Steps = 5;

    private const int Levels = 9,
        Hang = 360;

    private static readonly (int Kind, string[] Formats, string Sign)[] Kinds =
    [
        (Bullets, ["bullet"], ""),
        (Numbers, ["decimal"], "."),
        (Letters, ["lowerLetter"], ")"),
        (Roman, ["lowerRoman"], "."),
        (Steps, ["decimal", "lowerLetter"], ""),
    ];

    /// <param name="lists">those of the text, each of one of the kinds</param>
    public static XElement Of(IEnumerable<XElement> lists) =>
        El("numbering", new XAttribute(XNamespace.Xmlns + "w", W), Kinds.Select(Kind), lists);

    private static XElement Kind((int Kind, string[] Formats, string Sign) of) =>
        El(
            "abstractNum",
            At("abstractNumId", N(of.Kind)),
            Val("multiLevelType", "multilevel"),
            Enumerable
                .Range(0, Levels)
                .Select(level =>
                {
                    var format = of.Formats[level % of.Formats.Length];
                    return El(
                        "lvl",
                        At("ilvl", N(level)),
                        Val("start", "1"),
                        Val("numFmt", format),
                        Val("lvlText", format == "bullet" ? (level % 2 == 0 ? "–" : "·") : $"%{level + 1}{of.Sign}"),
                        Val("lvlJc", "left"),
                        El("pPr", El("ind", At("left", N(Hang * (level + 1))), At("hanging", N(Hang))))
                    );
                })
        );
}
