using System.Globalization;

namespace Kivren.Core.Looks;

/// <summary>A measure as a look's file has it: a number of points, or a number with its unit.</summary>
internal static class LookMeasure
{
    private static readonly (string Unit, double Points)[] Units = [("pt", 1), ("mm", 72 / 25.4), ("cm", 720 / 25.4), ("in", 72)];

    public const string Words = "a number of points, or a number with pt, mm, cm or in behind it";

    public static Length? Read(string text)
    {
        foreach (var (unit, points) in Units)
            if (
                text.EndsWith(unit, StringComparison.Ordinal)
                && double.TryParse(
                    text.AsSpan(0, text.Length - unit.Length).Trim(),
                    NumberStyles.Float,
                    CultureInfo.InvariantCulture,
                    out var number
                )
                && Math.Abs(number * points) <= Most
            )
                return Length.Points(number * points);
        return null;
    }

    /// <summary>More points than any paper has.</summary>
    public const double Most = 20_000;

    /// <summary>Whole tenths of millimetres are said as such where points would be no round number; a number stands for points.</summary>
    public static (decimal? Points, string? Text) Write(Length length)
    {
        if (length.Millipoints % 10 != 0)
        {
            var millimetres = Math.Round(length.InPoints * 25.4 / 72, 1, MidpointRounding.AwayFromZero);
            if (Length.Millimetres(millimetres) == length)
                return (null, millimetres.ToString("0.#", CultureInfo.InvariantCulture) + " mm");
        }
        return (Math.Round((decimal)length.Millipoints / 1000, 3), null);
    }
}
