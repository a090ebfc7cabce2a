namespace Kivren.Core.Type;

/// <summary>Signs of units that stay with the number before them.</summary>
public static class Units
{
    private static readonly HashSet<string> Signs = new(StringComparer.Ordinal)
    {
        "m", "mm", "cm", "km", "m²", "m³", "mm²", "cm²", "l", "ml", "g", "kg", "t", "N", "kN", "Nm", "kNm", "Pa", "kPa", "MPa", "bar", "s", "min", "h", "ms", "Hz", "kHz", "MHz",
        "V", "kV", "mV", "A", "mA", "Ah", "W", "kW", "Wh", "kWh", "Ω", "°C", "K", "%", "‰", "°", "m/s", "m/s²", "km/h", "N/mm²", "kn", "rpm", "l/min", "l/s", "l/h", "m³/h", "kg/m³", "kg/m", "kN/m", "dB", "lx", "lm", "J", "kJ", "pt",
    };

    public static HashSet<string>.AlternateLookup<ReadOnlySpan<char>> Spans { get; } = Signs.GetAlternateLookup<ReadOnlySpan<char>>();
    public static IReadOnlySet<string> Known => Signs;
}
