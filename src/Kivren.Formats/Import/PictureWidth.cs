using System.Globalization;
using System.Text.RegularExpressions;
using Kivren.Core.Content;

namespace Kivren.Formats.Import;

/// <summary>How wide a picture stands, in hundredths of the measure: as its source says, else as wide as it stands in a page on a screen.
/// A small picture is not blown up to the width of the text.</summary>
internal static partial class PictureWidth
{
    /// <summary>Pixels of a usual column of text on a screen.</summary>
    private const double Column = 640;

    private const int Whole = 100,
        Least = 5;

    /// <param name="said">a length as HTML and DocBook write it (“320”, “320px”, “50%”, “8cm”); "" where none is said</param>
    /// <param name="picture">null where its file is not there</param>
    public static int Of(string said, Asset? picture)
    {
        var share =
            Length().Match(said) is { Success: true } length
            && double.TryParse(length.Groups["n"].Value, NumberStyles.Float, CultureInfo.InvariantCulture, out var n)
            && n > 0
                ? length.Groups["unit"].Value.ToLowerInvariant() switch
                {
                    "%" => n,
                    var unit => n * PixelsIn(unit) / Column * Whole,
                }
            // A drawing has no pixels: it fits where it stands.
            : picture is { Width: > 0, MediaType: not "image/svg+xml" } ? picture.Width / Column * Whole
            : Whole;
        return (int)Math.Clamp(Math.Round(share), Least, Whole);
    }

    /// <summary>CSS 2.1, 4.3.2.</summary>
    private static double PixelsIn(string unit) =>
        unit switch
        {
            "in" => 96,
            "cm" => 96 / 2.54,
            "mm" => 96 / 25.4,
            "pt" => 96 / 72d,
            "pc" or "pi" => 16,
            "em" => 16,
            _ => 1,
        };

    [GeneratedRegex(@"^\s*(?<n>[0-9]{1,5}(\.[0-9]{1,4})?)\s*(?<unit>%|px|in|cm|mm|pt|pc|pi|em)?\s*$", RegexOptions.IgnoreCase)]
    private static partial Regex Length();
}
