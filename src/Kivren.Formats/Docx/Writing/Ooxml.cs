using System.Globalization;
using System.Xml.Linq;
using Kivren.Core;
using Kivren.Formats.Flowing;

namespace Kivren.Formats.Docx.Writing;

/// <summary>Names and elements of word-processing files (ECMA-376, part 1).</summary>
internal static class Ooxml
{
    public static readonly XNamespace W = "http://schemas.openxmlformats.org/wordprocessingml/2006/main",
        R = "http://schemas.openxmlformats.org/officeDocument/2006/relationships",
        M = "http://schemas.openxmlformats.org/officeDocument/2006/math",
        Wp = "http://schemas.openxmlformats.org/drawingml/2006/wordprocessingDrawing",
        Dml = "http://schemas.openxmlformats.org/drawingml/2006/main",
        Pic = "http://schemas.openxmlformats.org/drawingml/2006/picture";

    private const int TwipsInPoint = 20,
        UnitsInPoint = 12_700;

    public static XElement El(string name, params object?[] content) => new(W + name, content);

    public static XAttribute At(string name, string value) => new(W + name, value);

    /// <summary>An element that says one value.</summary>
    public static XElement Val(string name, string value) => El(name, At("val", value));

    public static string N(int value) => value.ToString(CultureInfo.InvariantCulture);

    /// <summary>A measure in twentieths of a point.</summary>
    public static string Twips(Length length) => N((int)Math.Round(length.InPoints * TwipsInPoint, MidpointRounding.AwayFromZero));

    /// <summary>A measure in the units of drawings.</summary>
    public static long Units(double points) => (long)(points * UnitsInPoint);

    /// <summary>A run of text with its properties; line breaks and tabs are elements of their own.</summary>
    public static XElement Run(string text, params object?[] properties)
    {
        var run = El("r", properties.Any(p => p is not null) ? El("rPr", properties) : null);
        var parts = Xhtml.Clean(text).Split('\n');
        for (var p = 0; p < parts.Length; p++)
        {
            if (p > 0)
                run.Add(El("br"));
            var tabbed = parts[p].Split('\t');
            for (var t = 0; t < tabbed.Length; t++)
            {
                if (t > 0)
                    run.Add(El("tab"));
                if (tabbed[t].Length > 0)
                    run.Add(El("t", new XAttribute(XNamespace.Xml + "space", "preserve"), tabbed[t]));
            }
        }
        return run;
    }

    /// <summary>A field with what it comes to: a reader shows the result, and can compute it anew.</summary>
    public static IEnumerable<XElement> Field(string instruction, IEnumerable<XElement> result)
    {
        yield return El("r", El("fldChar", At("fldCharType", "begin")));
        yield return El("r", El("instrText", new XAttribute(XNamespace.Xml + "space", "preserve"), $" {Xhtml.Clean(instruction)} "));
        yield return El("r", El("fldChar", At("fldCharType", "separate")));
        foreach (var run in result)
            yield return run;
        yield return El("r", El("fldChar", At("fldCharType", "end")));
    }
}
