using System.Globalization;
using Kivren.Core;
using Kivren.Core.Display;
using Kivren.Core.Mathematics;
using Kivren.Formats.Svg;
using Kivren.Server.Gates;

namespace Kivren.Server.Manuals;

/// <summary>An equation as the page will have it, while it is typed.</summary>
/// <param name="Svg">its drawing, in points</param>
/// <param name="Height">above the baseline, in points</param>
/// <param name="Depth">below it</param>
/// <param name="Problem">why the source cannot be read, and where; null when it can</param>
public sealed record DrawnEquation(string Svg, double Width, double Height, double Depth, string? Problem);

public static class Equations
{
    public const int LongestSource = 2_000;
    private const double Points = 1_000;
    private static readonly Length Size = Length.Points(11);

    public static void MapEquations(this IEndpointRouteBuilder app) => app.MapGet("/api/equation", (string source, bool? display) =>
        {
            if (!Checks.IsText(source, LongestSource))
                return Refusal.Bad($"An equation has up to {LongestSource} letters.");
            var set = EquationSetter.Set(source, Size, display ?? true);
            var svg = SvgPainter.Paint(DisplayList.OfEquation(set), _ => null);
            return Answered.Ok(new DrawnEquation(svg, set.Width / Points, set.Height / Points, set.Depth / Points, set.Problem));
        });
}
