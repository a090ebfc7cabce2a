using System.Runtime.InteropServices;
using Kivren.Core.Type;

namespace Kivren.Core.Mathematics;

/// <summary>Constants of a MATH table (OpenType 1.9, MathConstants), numbered as HarfBuzz numbers them.</summary>
internal enum MathConstant
{
    ScriptPercent = 0,
    ScriptScriptPercent = 1,
    DisplayOperatorMinHeight = 3,
    AxisHeight = 5,
    AccentBaseHeight = 6,
    SubscriptShiftDown = 8,
    SubscriptTopMax = 9,
    SubscriptBaselineDropMin = 10,
    SuperscriptShiftUp = 11,
    SuperscriptBottomMin = 13,
    SuperscriptBaselineDropMax = 14,
    SubSuperscriptGapMin = 15,
    SpaceAfterScript = 17,
    UpperLimitGapMin = 18,
    UpperLimitBaselineRiseMin = 19,
    LowerLimitGapMin = 20,
    LowerLimitBaselineDropMin = 21,
    NumeratorShiftUp = 32,
    NumeratorDisplayShiftUp = 33,
    DenominatorShiftDown = 34,
    DenominatorDisplayShiftDown = 35,
    NumeratorGapMin = 36,
    NumeratorDisplayGapMin = 37,
    FractionRule = 38,
    DenominatorGapMin = 39,
    DenominatorDisplayGapMin = 40,
    OverbarGap = 43,
    OverbarRule = 44,
    RadicalGap = 49,
    RadicalDisplayGap = 50,
    RadicalRule = 51,
    RadicalExtraAscender = 52,
    RadicalKernBeforeDegree = 53,
    RadicalKernAfterDegree = 54,
    RadicalDegreeRaisePercent = 55,
}

/// <summary>A glyph at a height above the foot of what it helps to build.</summary>
internal readonly record struct BuiltPart(ushort Glyph, int At);

/// <summary>The mathematics face: its constants, and fences and radicals at any height. All in font units.</summary>
internal static unsafe class MathFace
{
    private const string Library = "libHarfBuzzSharp";
    private const int TopToBottom = 6;

    public static Face Face { get; } = FaceLibrary.Mathematics;

    public static int Constant(MathConstant constant) => hb_ot_math_get_constant(Face.Font.Handle, (int)constant);

    public static int ItalicCorrection(ushort glyph) => hb_ot_math_get_glyph_italics_correction(Face.Font.Handle, glyph);

    public static ushort Glyph(int codePoint) => Face.Font.TryGetNominalGlyph((uint)codePoint, out var glyph) ? (ushort)glyph : (ushort)0;

    /// <summary>Height above and depth below the baseline, and advance.</summary>
    public static (int Height, int Depth, int Width) Extents(ushort glyph)
    {
        Face.Font.TryGetGlyphExtents(glyph, out var box);
        return (box.YBearing, -(box.YBearing + box.Height), Face.Advance(glyph));
    }

    /// <summary>The glyph, a larger form of it, or an assembly of parts, at least this high over all.</summary>
    public static IReadOnlyList<BuiltPart> Stretch(ushort glyph, int height, out int reached)
    {
        var variants = stackalloc Variant[64];
        uint count = 64;
        hb_ot_math_get_glyph_variants(Face.Font.Handle, glyph, TopToBottom, 0, &count, variants);
        reached = 0;
        var largest = glyph;
        for (var v = 0; v < count; v++)
        {
            largest = (ushort)variants[v].Glyph;
            reached = variants[v].Advance;
            if (reached >= height)
                return [new BuiltPart(largest, 0)];
        }
        var parts = stackalloc Part[32];
        uint partCount = 32;
        int correction;
        hb_ot_math_get_glyph_assembly(Face.Font.Handle, glyph, TopToBottom, 0, &partCount, parts, &correction);
        if (partCount == 0)
        {
            if (count == 0)
            {
                var (up, down, _) = Extents(glyph);
                reached = up + down;
            }
            return [new BuiltPart(largest, 0)];
        }
        return Assembled(new ReadOnlySpan<Part>(parts, (int)partCount), height, out reached);
    }

    /// <summary>Extenders repeated as often as it takes; then all joints closed alike, for the height wanted if they can.</summary>
    private static List<BuiltPart> Assembled(ReadOnlySpan<Part> parts, int height, out int reached)
    {
        var least = hb_ot_math_get_min_connector_overlap(Face.Font.Handle, TopToBottom);
        for (var repeat = 0; ; repeat++)
        {
            var chain = new List<Part>();
            foreach (ref readonly var part in parts)
                for (var n = (part.Flags & 1) != 0 ? repeat : 1; n > 0; n--)
                    chain.Add(part);
            if (chain.Count == 0)
                continue;
            var full = chain.Sum(p => p.FullAdvance);
            var joints = chain.Count - 1;
            if (full - joints * least < height && repeat < 400)
                continue;
            var overlap = joints == 0 ? 0 : Math.Max(least, (full - height) / joints);
            for (var i = 0; i < joints; i++)
                overlap = Math.Min(overlap, Math.Max(least, Math.Min(chain[i].EndConnector, chain[i + 1].StartConnector)));
            var built = new List<BuiltPart>(chain.Count);
            var at = 0;
            foreach (var part in chain)
            {
                built.Add(new BuiltPart((ushort)part.Glyph, at));
                at += part.FullAdvance - overlap;
            }
            reached = at + overlap;
            return built;
        }
    }

    [StructLayout(LayoutKind.Sequential)]
    private struct Variant
    {
        public uint Glyph;
        public int Advance;
    }

    [StructLayout(LayoutKind.Sequential)]
    private struct Part
    {
        public uint Glyph;
        public int StartConnector,
            EndConnector,
            FullAdvance;
        public uint Flags;
    }

    [DllImport(Library)]
    private static extern int hb_ot_math_get_constant(IntPtr font, int constant);

    [DllImport(Library)]
    private static extern int hb_ot_math_get_glyph_italics_correction(IntPtr font, uint glyph);

    [DllImport(Library)]
    private static extern uint hb_ot_math_get_glyph_variants(
        IntPtr font,
        uint glyph,
        int direction,
        uint start,
        uint* count,
        Variant* variants
    );

    [DllImport(Library)]
    private static extern uint hb_ot_math_get_glyph_assembly(
        IntPtr font,
        uint glyph,
        int direction,
        uint start,
        uint* count,
        Part* parts,
        int* correction
    );

    [DllImport(Library)]
    private static extern int hb_ot_math_get_min_connector_overlap(IntPtr font, int direction);
}
