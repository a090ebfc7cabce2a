using System.Globalization;
using System.Text;

namespace Kivren.Formats.Pdf;

/// <summary>What a print file has around its pages: boxes, crop marks, the printing condition (ISO 15930-7, PDF/X-4).</summary>
internal static class PrintMarks
{
    /// <summary>Paper beyond the bleed on which the marks stand, and their distance from the trim; millipoints.</summary>
    private const int Around = 20_000,
        Gap = 9_000,
        Length = 12_000;

    private static string N(int millipoints) => PageContent.Number(millipoints / 1000.0);

    public static string Boxes(int width, int height, int bleed)
    {
        string Box(int by) => $"[{N(-by)} {N(-by)} {N(width + by)} {N(height + by)}]";
        return $"/MediaBox{Box(bleed + Around)}/BleedBox{Box(bleed)}/TrimBox{Box(0)}";
    }

    /// <summary>Hairlines at the four corners, outside the bleed.</summary>
    public static string Of(int width, int height, int bleed)
    {
        var marks = new StringBuilder("0 0 0 1 K .25 w\n");
        var from = Math.Max(Gap, bleed + 1_000);
        foreach (var x in (ReadOnlySpan<int>)[0, width])
        foreach (var y in (ReadOnlySpan<int>)[0, height])
        {
            int outX = x == 0 ? -1 : 1,
                outY = y == 0 ? -1 : 1;
            marks.Append(
                CultureInfo.InvariantCulture,
                $"{N(x + outX * from)} {N(y)} m {N(x + outX * (from + Length))} {N(y)} l S {N(x)} {N(y + outY * from)} m {N(x)} "
                    + $"{N(y + outY * (from + Length))} l S\n"
            );
        }
        return marks.ToString();
    }

    public static string Intent(PdfFile file, PdfOptions options)
    {
        var profile = options.Profile is { } bytes ? $"/DestOutputProfile {file.Stream("/N 4", bytes)} 0 R" : "";
        return $"/OutputIntents[<</Type/OutputIntent/S/GTS_PDFX/OutputConditionIdentifier({options.Condition})"
            + $"/RegistryName(http://www.color.org)/Info({options.Condition}){profile}>>]";
    }
}
