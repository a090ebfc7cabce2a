using System.Collections.Concurrent;
using System.Globalization;
using System.Runtime.InteropServices;
using System.Text;
using HarfBuzzSharp;

namespace Kivren.Core.Type;

/// <summary>A face: the bytes of a font file, its measures in font units, and the words shaped in it so far.
/// Safe to use from several threads; what it answers depends on the file alone.</summary>
public sealed class Face
{
    private readonly Font _font;
    private readonly ConcurrentDictionary<string, ShapedWord> _words = new(StringComparer.Ordinal);
    private readonly ConcurrentDictionary<string, ShapedWord>.AlternateLookup<ReadOnlySpan<char>> _bySpan;
    private readonly ConcurrentDictionary<int, bool> _covers = new();
    private readonly int[] _asciiCovered = new int[128];

    [ThreadStatic] private static HarfBuzzSharp.Buffer? t_buffer;

    public Face(string name, string family, int weight, bool italic, byte[] bytes)
    {
        Name = name;
        Family = family;
        Weight = weight;
        Italic = italic;
        Bytes = bytes;
        var handle = GCHandle.Alloc(bytes, GCHandleType.Pinned);
        var blob = new Blob(handle.AddrOfPinnedObject(), bytes.Length, MemoryMode.ReadOnly);
        HarfBuzzFace = new HarfBuzzSharp.Face(blob, 0);
        UnitsPerEm = HarfBuzzFace.UnitsPerEm;
        if (UnitsPerEm <= 0 || HarfBuzzFace.GlyphCount <= 0)
            throw new InvalidDataException($"The face file '{name}' holds no usable glyphs.");
        _font = new Font(HarfBuzzFace);
        _font.SetScale(UnitsPerEm, UnitsPerEm);
        _font.SetFunctionsOpenType();
        _bySpan = _words.GetAlternateLookup<ReadOnlySpan<char>>();
        var extents = _font.GetFontExtentsForDirection(Direction.LeftToRight);
        Ascent = extents.Ascender;
        Descent = -extents.Descender;
        for (var c = 0; c < 128; c++) _asciiCovered[c] = _font.TryGetNominalGlyph((uint)c, out _) ? 1 : 0;
        Space = Shape(" ").Width;
        HyphenGlyph = Shape("-");
        XHeight = _font.TryGetGlyph('x', out var x) && _font.TryGetGlyphExtents(x, out var box) ? box.YBearing : UnitsPerEm / 2;
        CapHeight = _font.TryGetGlyph('H', out var h) && _font.TryGetGlyphExtents(h, out var hbox) ? hbox.YBearing : UnitsPerEm * 7 / 10;
    }

    public string Name { get; }
    public string Family { get; }
    public int Weight { get; }
    public bool Italic { get; }
    public byte[] Bytes { get; }
    public HarfBuzzSharp.Face HarfBuzzFace { get; }
    public int UnitsPerEm { get; }
    public int Ascent { get; }
    public int Descent { get; }
    public int XHeight { get; }
    public int CapHeight { get; }

    /// <summary>Width of the word space in font units.</summary>
    public int Space { get; }
    public ShapedWord HyphenGlyph { get; }

    /// <summary>Whether the face has a glyph for the code point.</summary>
    public bool Covers(int codePoint) =>
        codePoint < 128 ? _asciiCovered[codePoint] == 1
        : codePoint is 0x00AD or 0x200B or 0x2060 or 0xFEFF
        || _covers.GetOrAdd(codePoint, static (c, font) => font.TryGetNominalGlyph((uint)c, out _), _font);

    public int GlyphCount => HarfBuzzFace.GlyphCount;

    /// <summary>The advance the file gives a glyph, in font units, before kerning.</summary>
    public int Advance(ushort glyph) => _font.GetHorizontalGlyphAdvance(glyph);

    /// <summary>The word's glyphs with kerning and ligatures, shaped once for all sizes; with what the face kerns
    /// against the spaces on either side, so that words and spaces add up to the run shaped whole.</summary>
    public ShapedWord Word(ReadOnlySpan<char> text)
    {
        if (_bySpan.TryGetValue(text, out var word)) return word;
        var s = text.ToString();
        var shaped = Shape(s);
        if (s.Length > 0 && s[0] != ' ')
        {
            shaped.KernAfter = Shape(s + " ").Width - shaped.Width - Space;
            shaped.KernBefore = Shape(" " + s).Width - shaped.Width - Space;
        }
        return _words.GetOrAdd(s, shaped);
    }

    private ShapedWord Shape(string text)
    {
        var buffer = t_buffer ??= new HarfBuzzSharp.Buffer();
        buffer.ClearContents();
        buffer.AddUtf16(text.AsSpan());
        buffer.GuessSegmentProperties();
        buffer.Direction = Direction.LeftToRight;
        _font.Shape(buffer);
        var infos = buffer.GetGlyphInfoSpan();
        var positions = buffer.GetGlyphPositionSpan();
        var glyphs = new ushort[infos.Length];
        var clusters = new ushort[infos.Length];
        var advances = new short[infos.Length];
        short[]? dx = null, dy = null;
        var width = 0;
        for (var i = 0; i < infos.Length; i++)
        {
            glyphs[i] = (ushort)infos[i].Codepoint;
            clusters[i] = (ushort)infos[i].Cluster;
            advances[i] = (short)positions[i].XAdvance;
            width += positions[i].XAdvance;
            if (positions[i].XOffset != 0 || positions[i].YOffset != 0)
            {
                (dx ??= new short[infos.Length])[i] = (short)positions[i].XOffset;
                (dy ??= new short[infos.Length])[i] = (short)positions[i].YOffset;
            }
        }
        return new ShapedWord(text, glyphs, clusters, advances, dx, dy, width);
    }

    public override string ToString() => Name;
}

/// <summary>A word in glyphs; all measures in font units.</summary>
public sealed class ShapedWord(string text, ushort[] glyphs, ushort[] clusters, short[] advances, short[]? dx, short[]? dy, int width)
{
    public string Text { get; } = text;
    public ushort[] Glyphs { get; } = glyphs;

    /// <summary>For each glyph the index of the first character that it stands for.</summary>
    public ushort[] Clusters { get; } = clusters;
    public short[] Advances { get; } = advances;
    public short[]? OffsetsX { get; } = dx;
    public short[]? OffsetsY { get; } = dy;
    public int Width { get; } = width;

    /// <summary>What the face adds to a word space after (before) this word.</summary>
    public int KernAfter { get; internal set; }
    public int KernBefore { get; internal set; }

    /// <summary>The index of the glyph that starts at character <paramref name="at"/>, or -1 inside a ligature.</summary>
    public int GlyphAt(int at)
    {
        if (at == Text.Length) return Glyphs.Length;
        for (var g = 0; g < Clusters.Length; g++)
            if (Clusters[g] == at) return g;
        return -1;
    }

    /// <summary>The characters that the glyphs from <paramref name="from"/> up to <paramref name="to"/> stand for.</summary>
    public ReadOnlySpan<char> Characters(int from, int to)
    {
        var start = from < Clusters.Length ? Clusters[from] : Text.Length;
        var end = to < Clusters.Length ? Clusters[to] : Text.Length;
        return Text.AsSpan(start, Math.Max(0, end - start));
    }

    public int WidthOf(int from, int to)
    {
        if (from == 0 && to == Glyphs.Length) return Width;
        var sum = 0;
        for (var g = from; g < to; g++) sum += Advances[g];
        return sum;
    }
}
