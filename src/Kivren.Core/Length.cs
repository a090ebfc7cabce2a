namespace Kivren.Core;

/// <summary>A measure on the page in whole millipoints (1/1000 of a PDF point, 1/72000 inch). All geometry is in this
/// type, so that the same input makes the same pages on every machine.</summary>
public readonly record struct Length(int Millipoints) : IComparable<Length>
{
    public static readonly Length Zero = new(0);

    /// <summary>From points; for the constants of a look only, never inside a computation.</summary>
    public static Length Points(double points) => new((int)Math.Round(points * 1000, MidpointRounding.AwayFromZero));

    /// <summary>From millimetres (25.4 to the inch).</summary>
    public static Length Millimetres(double millimetres) => Points(millimetres * 72 / 25.4);

    public double InPoints => Millipoints / 1000.0;

    public static Length operator +(Length a, Length b) => new(a.Millipoints + b.Millipoints);

    public static Length operator -(Length a, Length b) => new(a.Millipoints - b.Millipoints);

    public static Length operator -(Length a) => new(-a.Millipoints);

    public static Length operator *(Length a, int n) => new(a.Millipoints * n);

    public static Length operator /(Length a, int n) => new(a.Millipoints / n);

    public static bool operator <(Length a, Length b) => a.Millipoints < b.Millipoints;

    public static bool operator >(Length a, Length b) => a.Millipoints > b.Millipoints;

    public static bool operator <=(Length a, Length b) => a.Millipoints <= b.Millipoints;

    public static bool operator >=(Length a, Length b) => a.Millipoints >= b.Millipoints;

    /// <summary>This length scaled by <paramref name="part"/>/<paramref name="whole"/> without leaving whole numbers.</summary>
    public Length Scale(long part, long whole) => new((int)(Millipoints * part / whole));

    public static Length Max(Length a, Length b) => a > b ? a : b;

    public static Length Min(Length a, Length b) => a < b ? a : b;

    public int CompareTo(Length other) => Millipoints.CompareTo(other.Millipoints);
}
