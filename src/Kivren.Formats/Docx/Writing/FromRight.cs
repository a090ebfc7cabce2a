using System.Xml.Linq;
using Kivren.Core.Type;
using static Kivren.Formats.Docx.Writing.Ooxml;

namespace Kivren.Formats.Docx.Writing;

/// <summary>Text that is read from the right (ECMA-376, part 1): paragraphs begin at the right (17.3.1.6), runs of its letters take their
/// signs along (17.3.2.30), tables have their first column at the right (17.4.1), pages are bound at the right (17.6.1).</summary>
internal static class FromRight
{
    /// <summary>What stands behind the property in its parent, by the schema.</summary>
    private static readonly HashSet<string> BehindInParagraph =
    [
        "adjustRightInd",
        "snapToGrid",
        "spacing",
        "ind",
        "contextualSpacing",
        "mirrorIndents",
        "suppressOverlap",
        "jc",
        "textDirection",
        "textAlignment",
        "textboxTightWrap",
        "outlineLvl",
        "divId",
        "cnfStyle",
        "rPr",
        "sectPr",
        "pPrChange",
    ];

    private static readonly HashSet<string> BehindInRun = ["cs", "em", "lang", "eastAsianLayout", "specVanish", "oMath"];
    private static readonly HashSet<string> BeforeInTable = ["tblStyle", "tblpPr", "tblOverlap"];

    public static void Turn(IEnumerable<XElement> text)
    {
        foreach (var element in text.SelectMany(e => e.DescendantsAndSelf()).ToList())
            if (element.Name == W + "p")
                Put(Properties(element, "pPr"), "bidi", BehindInParagraph.Contains);
            else if (element.Name == W + "tbl" && element.Element(W + "tblPr") is { } table)
                Put(table, "bidiVisual", name => !BeforeInTable.Contains(name));
            else if (element.Name == W + "sectPr")
                element.Add(El("bidi"), El("rtlGutter"));
            else if (element.Name == W + "r" && IsFromRight(string.Concat(element.Elements(W + "t").Select(t => t.Value))))
                Put(Properties(element, "rPr"), "rtl", BehindInRun.Contains);
    }

    /// <summary>Letters of such a script, or figures and signs alone: Latin words and program text keep their direction.</summary>
    private static bool IsFromRight(string words) => words.Length > 0 && (Bidi.IsNeeded(words) || !words.Any(char.IsLetter));

    private static XElement Properties(XElement of, string name)
    {
        if (of.Element(W + name) is { } there)
            return there;
        var made = El(name);
        of.AddFirst(made);
        return made;
    }

    private static void Put(XElement properties, string name, Func<string, bool> isBehind)
    {
        if (properties.Element(W + name) is not null)
            return;
        if (properties.Elements().FirstOrDefault(e => isBehind(e.Name.LocalName)) is { } behind)
            behind.AddBeforeSelf(El(name));
        else
            properties.Add(El(name));
    }
}
