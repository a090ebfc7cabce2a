using System.Collections.Concurrent;
using System.Collections.Frozen;
using System.Reflection;
using Kivren.Faces;

namespace Kivren.Core.Type;

/// <summary>The faces that ship with Kivren, each read when it is first asked for.</summary>
public static class FaceLibrary
{
    private const string Prefix = "face:";
    private static readonly ConcurrentDictionary<string, Lazy<Face>> Loaded = new(StringComparer.Ordinal);
    private static readonly FrozenDictionary<string, Assembly> Where = new[] { typeof(FaceLibrary).Assembly, EastAsianFaces.Assembly }
        .SelectMany(a =>
            a.GetManifestResourceNames()
                .Where(n => n.StartsWith(Prefix, StringComparison.Ordinal))
                .Select(n => KeyValuePair.Create(n[Prefix.Length..], a))
        )
        .ToFrozenDictionary(StringComparer.Ordinal);

    /// <summary>Names of all, in order.</summary>
    public static IReadOnlyList<string> Names { get; } = [.. Where.Keys.Order(StringComparer.Ordinal)];

    /// <summary>Unlike that of any other build in which its file was another.</summary>
    public static string StampOf(string name) => Where[name].ManifestModule.ModuleVersionId.ToString("N")[..12];

    public static Face Serif => Named("SourceSerif4_400Regular")!;
    public static Face SerifItalic => Named("SourceSerif4_400Regular_Italic")!;
    public static Face SerifStrong => Named("SourceSerif4_600SemiBold")!;
    public static Face SerifStrongItalic => Named("SourceSerif4_600SemiBold_Italic")!;
    public static Face Sans => Named("SourceSans3_400Regular")!;
    public static Face SansItalic => Named("SourceSans3_400Regular_Italic")!;
    public static Face SansStrong => Named("SourceSans3_600SemiBold")!;
    public static Face SansBold => Named("SourceSans3_700Bold")!;
    public static Face Code => Named("SourceCodePro_400Regular")!;
    public static Face CodeStrong => Named("SourceCodePro_600SemiBold")!;

    /// <summary>The face asked for signs that the text's own face lacks.</summary>
    public static Face Symbols => Named("DejaVuSans")!;

    /// <summary>Letters and signs of equations, with a MATH table.</summary>
    public static Face Mathematics => Named("STIXTwoMath_400Regular")!;

    /// <summary>The face of this file name; null where it did not come with the build.</summary>
    public static Face? Named(string name) =>
        Loaded.TryGetValue(name, out var known) ? known.Value
        : Where.ContainsKey(name) ? Loaded.GetOrAdd(name, static n => new Lazy<Face>(() => Load(n))).Value
        : null;

    private static readonly (string Begins, string Family)[] Families =
    [
        ("SourceSerif4", "Source Serif 4"),
        ("SourceSans3", "Source Sans 3"),
        ("SourceCodePro", "Source Code Pro"),
        ("STIX", "STIX Two Math"),
        ("NotoNaskhArabic", "Noto Serif Arabic"),
        ("NotoSerif", "Noto Serif "),
        ("NotoSans", "Noto Sans "),
        ("DejaVu", "DejaVu Sans"),
    ];

    private static Face Load(string name)
    {
        using var stream = Where[name].GetManifestResourceStream(Prefix + name)!;
        var bytes = new byte[stream.Length];
        stream.ReadExactly(bytes);
        var (begins, family) = Families.First(f => name.StartsWith(f.Begins, StringComparison.Ordinal));
        if (family[^1] == ' ')
            family += name[begins.Length..name.IndexOf('_', StringComparison.Ordinal)];
        var weight =
            name.Contains("_600", StringComparison.Ordinal) ? 600
            : name.Contains("_700", StringComparison.Ordinal) ? 700
            : 400;
        return new Face(name, family, weight, name.EndsWith("Italic", StringComparison.Ordinal), bytes);
    }
}
