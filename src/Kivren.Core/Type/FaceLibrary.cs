using System.Reflection;

namespace Kivren.Core.Type;

/// <summary>The faces that ship with Kivren, read once.</summary>
public static class FaceLibrary
{
    private static readonly Lazy<Dictionary<string, Face>> Shipped = new(Load);

    public static IReadOnlyCollection<Face> All => Shipped.Value.Values;
    public static Face Serif => Shipped.Value["SourceSerif4_400Regular"];
    public static Face SerifItalic => Shipped.Value["SourceSerif4_400Regular_Italic"];
    public static Face SerifStrong => Shipped.Value["SourceSerif4_600SemiBold"];
    public static Face SerifStrongItalic => Shipped.Value["SourceSerif4_600SemiBold_Italic"];
    public static Face Sans => Shipped.Value["SourceSans3_400Regular"];
    public static Face SansItalic => Shipped.Value["SourceSans3_400Regular_Italic"];
    public static Face SansStrong => Shipped.Value["SourceSans3_600SemiBold"];
    public static Face SansBold => Shipped.Value["SourceSans3_700Bold"];
    public static Face Code => Shipped.Value["SourceCodePro_400Regular"];
    public static Face CodeStrong => Shipped.Value["SourceCodePro_600SemiBold"];

    /// <summary>The face asked for characters that the text's own face lacks.</summary>
    public static Face Symbols => Shipped.Value["DejaVuSans"];

    /// <summary>Letters and signs of equations, with a MATH table.</summary>
    public static Face Mathematics => Shipped.Value["STIXTwoMath_400Regular"];

    private static Dictionary<string, Face> Load()
    {
        var assembly = Assembly.GetExecutingAssembly();
        var faces = new Dictionary<string, Face>(StringComparer.Ordinal);
        foreach (
            var resource in assembly
                .GetManifestResourceNames()
                .Where(n => n.StartsWith("face:", StringComparison.Ordinal))
                .Order(StringComparer.Ordinal)
        )
        {
            var name = resource["face:".Length..];
            using var stream = assembly.GetManifestResourceStream(resource)!;
            var bytes = new byte[stream.Length];
            stream.ReadExactly(bytes);
            var family =
                name.StartsWith("SourceSerif4", StringComparison.Ordinal) ? "Source Serif 4"
                : name.StartsWith("SourceSans3", StringComparison.Ordinal) ? "Source Sans 3"
                : name.StartsWith("SourceCodePro", StringComparison.Ordinal) ? "Source Code Pro"
                : name.StartsWith("STIX", StringComparison.Ordinal) ? "STIX Two Math"
                : "DejaVu Sans";
            var weight =
                name.Contains("_600", StringComparison.Ordinal) ? 600
                : name.Contains("_700", StringComparison.Ordinal) ? 700
                : 400;
            faces.Add(name, new Face(name, family, weight, name.EndsWith("Italic", StringComparison.Ordinal), bytes));
        }
        return faces;
    }
}
