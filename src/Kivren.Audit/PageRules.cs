using System.Globalization;
using System.Text.Json;

namespace Kivren.Audit;

/// <summary>What a page layout of a look promises: where its text stands, and what stands at its edges. Points.</summary>
public sealed record PageRules
{
    public double Width { get; private init; }
    public double Height { get; private init; }
    public double Inner { get; private init; }
    public double Outer { get; private init; }
    public double Top { get; private init; }
    public double Foot { get; private init; }
    public bool Mirrored { get; private init; } = true;

    /// <summary>On a turned page heads and feet run along its sides.</summary>
    public bool FurnitureStays { get; private init; }

    /// <summary>What hangs left of the text: the side column and its gap.</summary>
    public double Hangs => SideColumn + SideGap;
    private double SideColumn { get; init; }
    private double SideGap { get; init; }

    /// <summary>Patterns of its running heads and feet, and whether each stands free, wherever on the page.</summary>
    public IReadOnlyList<(string Pattern, bool IsFree)> Fields { get; private init; } = [];

    /// <summary>The manual is read from the right: its pages are bound at their other side.</summary>
    public bool FromRight { get; init; }

    /// <summary>From the left edge of what hangs to the right edge of the text.</summary>
    public (double Left, double Right) Frame(bool recto) =>
        (recto || !Mirrored) != FromRight ? (Inner, Width - Outer) : (Outer, Width - Inner);

    /// <param name="from">what it does not say it has of this one</param>
    public static PageRules Of(JsonElement master, PageRules? from)
    {
        from ??= new PageRules();
        double Points(string name, double else_) => master.TryGetProperty(name, out var said) ? Measure(said) : else_;
        return new PageRules
        {
            Width = Points("width", from.Width),
            Height = Points("height", from.Height),
            Inner = Points("inner", from.Inner),
            Outer = Points("outer", from.Outer),
            Top = Points("top", from.Top),
            Foot = Points("foot", from.Foot),
            SideColumn = Points("sideColumn", from.SideColumn),
            SideGap = Points("sideGap", from.SideGap),
            Mirrored = master.TryGetProperty("mirrored", out var mirrored) ? mirrored.GetBoolean() : from.Mirrored,
            FurnitureStays = master.TryGetProperty("furnitureStays", out var stays) ? stays.GetBoolean() : from.FurnitureStays,
            Fields = master.TryGetProperty("fields", out _)
                ?
                [
                    .. HouseRules
                        .Items(master, "fields")
                        .Select(f => (HouseRules.Text(f, "pattern", ""), HouseRules.Text(f, "edge", "") == "free")),
                ]
                : from.Fields,
        };
    }

    private static double Measure(JsonElement said)
    {
        if (said.ValueKind == JsonValueKind.Number)
            return said.GetDouble();
        var text = said.GetString()!;
        var unit = text[^2..];
        return double.Parse(text[..^2], CultureInfo.InvariantCulture)
            * (
                unit == "mm" ? 72 / 25.4
                : unit == "cm" ? 720 / 25.4
                : unit == "in" ? 72
                : 1
            );
    }
}
