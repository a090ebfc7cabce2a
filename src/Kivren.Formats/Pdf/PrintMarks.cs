using System.Globalization;
using System.Text;
using Kivren.Core.Content;
using Kivren.Core.Display;
using Kivren.Core.Type;
using static Kivren.Formats.Pdf.PdfNumber;

namespace Kivren.Formats.Pdf;

/// <summary>What a print file has around its pages: boxes, crop marks, the printing condition (ISO 15930-7, PDF/X-4).</summary>
internal static class PrintMarks
{
    /// <summary>Paper beyond the bleed on which the marks stand, and their distance from the trim; millipoints.</summary>
    private const int Around = 20_000,
        Gap = 9_000,
        Length = 12_000;

    /// <param name="marks">whether there is paper around the bleed for marks</param>
    public static PdfDictionary Boxes(int width, int height, int bleed, bool marks)
    {
        PdfValue Box(int by) => PdfValue.Array(-by / 1000.0, -by / 1000.0, (width + by) / 1000.0, (height + by) / 1000.0);
        return new PdfDictionary
        {
            { "MediaBox", Box(bleed + (marks ? Around : 0)) },
            { "BleedBox", Box(bleed) },
            { "TrimBox", Box(0) },
        };
    }

    /// <summary>Hairlines at the four corners, outside the bleed, and broken ones over and under each fold.</summary>
    /// <param name="folds">from the left edge</param>
    public static string Of(int width, int height, int bleed, IReadOnlyList<int> folds)
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
                $"{Points(x + outX * from)} {Points(y)} m {Points(x + outX * (from + Length))} {Points(y)} l S "
                    + $"{Points(x)} {Points(y + outY * from)} m {Points(x)} {Points(y + outY * (from + Length))} l S\n"
            );
        }
        if (folds.Count > 0)
            marks.Append("[2 2] 0 d\n");
        foreach (var x in folds)
        foreach (var (y, outY) in (ReadOnlySpan<(int, int)>)[(0, -1), (height, 1)])
            marks.Append(
                CultureInfo.InvariantCulture,
                $"{Points(x)} {Points(y + outY * from)} m {Points(x)} {Points(y + outY * (from + Length))} l S\n"
            );
        return marks.ToString();
    }

    /// <summary>What stands on the paper under a page, between the marks: which page of what it is.</summary>
    public static IEnumerable<DisplayItem> Info(DisplayPage page, int bleed, string words)
    {
        var styled = new StyledText();
        styled.Add(words, InfoStyle, false);
        // One line, whatever the title: what does not fit beside the marks is left away.
        var line = LineSetter.OfThread.Set(
            styled,
            new Shape(new Kivren.Core.Length(Math.Max(60_000, page.Width - 2 * Length)), default, Alignment.Ragged),
            null
        )[0];
        var y = page.Height + Math.Max(Gap, bleed + 1_000) + InfoStyle.Size.Millipoints;
        return line.Words.Select(
            (word, w) => new WordItem(word, Length + word.X, y, Id.None, ReadingRole.Furniture, w == line.Words.Length - 1)
        );
    }

    private static readonly TextStyle InfoStyle = new(FaceLibrary.Sans, Kivren.Core.Length.Points(6));

    public static PdfDictionary Intent(PdfFile file, PdfOptions options) =>
        new("OutputIntent")
        {
            { "S", PdfValue.Name("GTS_PDFX") },
            { "OutputConditionIdentifier", PdfValue.Ascii("Custom") },
            { "Info", PdfValue.Text(options.Profile.Name) },
            { "DestOutputProfile", PdfValue.To(file.Stream(new PdfDictionary { { "N", 4 } }, options.Profile.Bytes)) },
        };
}
