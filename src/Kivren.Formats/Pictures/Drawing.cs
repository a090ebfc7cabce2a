using Kivren.Core.Type;

namespace Kivren.Formats.Pictures;

/// <summary>A vector picture as painters need it: filled and stroked outlines and words in our own faces, in the
/// picture's user units with y down.</summary>
public sealed record Drawing(double Width, double Height, IReadOnlyList<DrawingItem> Items);

public abstract record DrawingItem;

/// <summary>An outline of moves (M), lines (L), cubic curves (C) and closings (Z).</summary>
public sealed record OutlineItem(
    IReadOnlyList<Segment> Segments,
    Ink? Fill,
    Ink? Stroke,
    double StrokeWidth,
    IReadOnlyList<double> Dashes,
    bool EvenOdd,
    int Cap,
    int Join
) : DrawingItem;

/// <summary>A word on a baseline under a matrix (a b c d e f, y down).</summary>
public sealed record WordsItem(IReadOnlyList<(ShapedWord Word, double X)> Words, Face Face, double Size, Matrix Place, Ink Fill)
    : DrawingItem;

public readonly record struct Segment(char Kind, double X1, double Y1, double X2 = 0, double Y2 = 0, double X3 = 0, double Y3 = 0);

/// <summary>Red, green and blue from 0 to 1, and how much of it covers.</summary>
public readonly record struct Ink(double R, double G, double B, double Cover);

public readonly record struct Matrix(double A, double B, double C, double D, double E, double F)
{
    public static readonly Matrix Identity = new(1, 0, 0, 1, 0, 0);

    /// <summary>This applied after <paramref name="inner"/>.</summary>
    public Matrix Over(Matrix inner) =>
        new(
            A * inner.A + C * inner.B,
            B * inner.A + D * inner.B,
            A * inner.C + C * inner.D,
            B * inner.C + D * inner.D,
            A * inner.E + C * inner.F + E,
            B * inner.E + D * inner.F + F
        );

    public (double X, double Y) Map(double x, double y) => (A * x + C * y + E, B * x + D * y + F);

    public double Scale => Math.Sqrt(Math.Abs(A * D - B * C));
}
