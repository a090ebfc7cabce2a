using System.Xml.Linq;
using Kivren.Core.Mathematics;
using static Kivren.Formats.Docx.Writing.Ooxml;

namespace Kivren.Formats.Docx.Writing;

/// <summary>An equation in the markup of word-processing files (ECMA-376, part 1, 22.1), made of its MathML.</summary>
internal static class WordEquation
{
    /// <returns>null where the source is no equation</returns>
    public static XElement? Of(string source)
    {
        try
        {
            return new XElement(M + "oMath", MathMl.Of(source, "", display: true).Elements().SelectMany(One));
        }
        catch (NotationException)
        {
            return null;
        }
    }

    private static XElement El(string name, params object?[] content) => new(M + name, content);

    private static XElement Arg(string name, XElement of) => El(name, One(of));

    private static XElement Property(string name, string value) => El(name, new XAttribute(M + "val", value));

    private static IEnumerable<XElement> One(XElement math)
    {
        var kids = math.Elements().ToList();
        switch (math.Name.LocalName)
        {
            case "mi" or "mn" or "mo" or "mtext":
                return [Words(math.Value, math.Attribute("mathvariant")?.Value == "normal" || math.Name.LocalName is "mn" or "mtext")];
            case "mspace":
                return [Words("\u2009", true)];
            case "mfrac" when kids.Count == 2:
                return [El("f", Arg("num", kids[0]), Arg("den", kids[1]))];
            case "msqrt":
                return [El("rad", El("radPr", Property("degHide", "1")), El("deg"), El("e", kids.SelectMany(One)))];
            case "mroot" when kids.Count == 2:
                return [El("rad", Arg("deg", kids[1]), Arg("e", kids[0]))];
            case "msub" when kids.Count == 2:
                return [El("sSub", Arg("e", kids[0]), Arg("sub", kids[1]))];
            case "msup" when kids.Count == 2:
                return [El("sSup", Arg("e", kids[0]), Arg("sup", kids[1]))];
            case "msubsup" when kids.Count == 3:
                return [El("sSubSup", Arg("e", kids[0]), Arg("sub", kids[1]), Arg("sup", kids[2]))];
            case "munder" when kids.Count == 2:
                return [El("limLow", Arg("e", kids[0]), Arg("lim", kids[1]))];
            case "mover" when kids.Count == 2:
                return [El("limUpp", Arg("e", kids[0]), Arg("lim", kids[1]))];
            case "munderover" when kids.Count == 3:
                return [El("limUpp", El("e", El("limLow", Arg("e", kids[0]), Arg("lim", kids[1]))), Arg("lim", kids[2]))];
            case "mtable":
                return [El("m", kids.Select(row => El("mr", row.Elements().Select(cell => El("e", cell.Elements().SelectMany(One))))))];
            default:
                return kids.SelectMany(One);
        }
    }

    private static XElement Words(string text, bool upright) =>
        El("r", upright ? El("rPr", Property("sty", "p")) : null, El("t", new XAttribute(XNamespace.Xml + "space", "preserve"), text));
}
