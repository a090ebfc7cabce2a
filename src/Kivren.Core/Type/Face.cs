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

    /// <summary>Words by features and direction; the plain ones, nearly all, stand first.</summary>
    private readonly Words[] _words = new Words[(int)Features.All * 2 + 2];
    private readonly ConcurrentDictionary<int, bool> _covers = new();
    private readonly int[] _asciiCovered = new int[128];

    [ThreadStatic]
    private static HarfBuzzSharp.Buffer? t_buffer;
    private static readonly Language Undetermined = new("und");

    public Face(string name, string family, int weight, bool italic, byte[] bytes)
    {
        Name = name;
        PrintName = name.Replace('_', '-');
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
        for (var i = 0; i < _words.Length; i++)
            _words[i] = new Words();
        var extents = _font.GetFontExtentsForDirection(Direction.LeftToRight);
        Ascent = extents.Ascender;
        Descent = -extents.Descender;
        for (var c = 0; c < 128; c++)
            _asciiCovered[c] = _font.TryGetNominalGlyph((uint)c, out _) ? 1 : 0;
        Space = Shape(" ", Features.None, false).Width;
        HyphenGlyph = Shape("-", Features.None, false);
        XHeight = _font.TryGetGlyph('x', out var x) && _font.TryGetGlyphExtents(x, out var box) ? box.YBearing : UnitsPerEm / 2;
        CapHeight = _font.TryGetGlyph('H', out var h) && _font.TryGetGlyphExtents(h, out var hbox) ? hbox.YBearing : UnitsPerEm * 7 / 10;
    }

    /// <summary>Unlike that of any other face.</summary>
    public string Name { get; }

    /// <summary>As files that it is put into call it.</summary>
    public string PrintName { get; init; }

    /// <summary>Its file may be cut down to the glyphs that are used.</summary>
    public bool MayBeCut { get; init; } = true;

    /// <summary>It does not ship with Kivren.</summary>
    public bool IsOfHouse => Name.StartsWith(FaceFiles.NameBefore, StringComparison.Ordinal);
    public string Family { get; }
    public int Weight { get; }
    public bool Italic { get; }
    public byte[] Bytes { get; }
    public HarfBuzzSharp.Face HarfBuzzFace { get; }
    internal Font Font => _font;
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
        codePoint < 128
            ? _asciiCovered[codePoint] == 1
            : codePoint is 0x00AD or 0x200B or 0x2060 or 0xFEFF
                || _covers.GetOrAdd(codePoint, static (c, font) => font.TryGetNominalGlyph((uint)c, out _), _font);

    /// <summary>The glyph of a code point by itself; 0 for none.</summary>
    public ushort GlyphOf(int codePoint) => _font.TryGetNominalGlyph((uint)codePoint, out var glyph) ? (ushort)glyph : (ushort)0;

    public int GlyphCount => HarfBuzzFace.GlyphCount;

    /// <summary>The advance the file gives a glyph, in font units, before kerning.</summary>
    public int Advance(ushort glyph) => _font.GetHorizontalGlyphAdvance(glyph);

    private sealed class Words
    {
        public Words() => BySpan = Shaped.GetAlternateLookup<ReadOnlySpan<char>>();

        public ConcurrentDictionary<string, ShapedWord> Shaped { get; } = new(StringComparer.Ordinal);
        public ConcurrentDictionary<string, ShapedWord>.AlternateLookup<ReadOnlySpan<char>> BySpan { get; }
    }

    /// <summary>The word's glyphs with kerning and ligatures, shaped once for all sizes; with what the face kerns
    /// against the spaces on either side, so that words and spaces add up to the run shaped whole.</summary>
    public ShapedWord Word(ReadOnlySpan<char> text, Features features = Features.None, bool rightToLeft = false)
    {
        var words = _words[(int)features * 2 + (rightToLeft ? 1 : 0)];
        if (words.BySpan.TryGetValue(text, out var word))
            return word;
        var s = text.ToString();
        var shown = features.HasFlag(Features.Capitals) ? Capitals(s) : s;
        var shaped = Shape(shown, features, rightToLeft);
        if (s.Length > 0 && s[0] != ' ' && !rightToLeft)
        {
            shaped.KernAfter = Shape(shown + " ", features, false).Width - shaped.Width - Space;
            shaped.KernBefore = Shape(" " + shown, features, false).Width - shaped.Width - Space;
        }
        if (shown != s)
            shaped = shaped.Of(s);
        return words.Shaped.GetOrAdd(s, shaped);
    }

    /// <summary>The text in capitals, letter for letter; a sharp s has one where the face has it.</summary>
    private string Capitals(string text) => string.Create(text.Length, (text, this), static (capitals, from) =>
        {
            for (var i = 0; i < capitals.Length; i++)
                capitals[i] = from.text[i] == 'ß' && from.Item2.Covers('ẞ') ? 'ẞ' : char.ToUpperInvariant(from.text[i]);
        });

    private ShapedWord Shape(string text, Features features, bool rightToLeft)
    {
        var buffer = t_buffer ??= new HarfBuzzSharp.Buffer();
        buffer.ClearContents();
        buffer.AddUtf16(text.AsSpan());
        buffer.GuessSegmentProperties();
        // Not the language of the machine.
        buffer.Language = Undetermined;
        buffer.Direction = rightToLeft ? Direction.RightToLeft : Direction.LeftToRight;
        _font.Shape(buffer, OpenType.Of(features));
        var infos = buffer.GetGlyphInfoSpan();
        var positions = buffer.GetGlyphPositionSpan();
        var glyphs = new ushort[infos.Length];
        var clusters = new ushort[infos.Length];
        var advances = new short[infos.Length];
        short[]? dx = null,
            dy = null;
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
        return new ShapedWord(text, glyphs, clusters, advances, dx, dy, width) { RightToLeft = rightToLeft };
    }

    public override string ToString() => Name;
}

/// <summary>A word in glyphs; all measures in font units.</summary>
public sealed class ShapedWord(string text, ushort[] glyphs, ushort[] clusters, short[] advances, short[]? dx, short[]? dy, int width)
{
    public string Text { get; } = text;

    /// <summary>What its glyphs show, character for character: the text, or the text in capitals.</summary>
    public string Shown { get; internal init; } = text;
    public ushort[] Glyphs { get; } = glyphs;

    /// <summary>For each glyph the index of the first character that it stands for.</summary>
    public ushort[] Clusters { get; } = clusters;
    public short[] Advances { get; } = advances;
    public short[]? OffsetsX { get; } = dx;
    public short[]? OffsetsY { get; } = dy;
    public int Width { get; } = width;

    /// <summary>Made of glyphs that its characters do not ask for: a painter must draw the glyphs, not the characters.</summary>
    public bool Built { get; init; }

    /// <summary>Glyphs stand in the order of sight, the last character's first.</summary>
    public bool RightToLeft { get; init; }

    /// <summary>What the face adds to a word space after (before) this word.</summary>
    public int KernAfter { get; internal set; }
    public int KernBefore { get; internal set; }

    /// <summary>The index of the glyph that starts at character <paramref name="at"/>, or -1 inside a ligature.</summary>
    public int GlyphAt(int at)
    {
        if (at == Text.Length)
            return Glyphs.Length;
        for (var g = 0; g < Clusters.Length; g++)
            if (Clusters[g] == at)
                return g;
        return -1;
    }

    /// <summary>The characters that the glyphs from <paramref name="from"/> up to <paramref name="to"/> stand for.</summary>
    public ReadOnlySpan<char> Characters(int from, int to) => Part(Text, from, to);

    /// <summary>The characters that the glyphs show.</summary>
    public ReadOnlySpan<char> ShownCharacters(int from, int to) => Part(Shown, from, to);

    /// <summary>What a glyph of a word that is read from the right must say in so many words, because its face builds letters of parts:
    /// the letter where it is the part that takes room, nothing where it only stands over or under it. Null where the glyph by itself
    /// says what it is.</summary>
    public string? Spelled(int glyph, Face face)
    {
        int first = glyph,
            end = glyph + 1;
        while (first > 0 && Clusters[first - 1] == Clusters[glyph])
            first--;
        while (end < Clusters.Length && Clusters[end] == Clusters[glyph])
            end++;
        var cluster = ShownCharacters(first, end).ToString();
        if (end - first == 1)
            return cluster.Length == 1 ? null : cluster;
        if (CharactersOf(glyph, face).Length > 0)
            return null;
        if (Advances[glyph] == 0)
            return "";
        // What the other parts say by themselves is theirs.
        for (var other = first; other < end; other++)
            if (other != glyph && CharactersOf(other, face) is { Length: > 0 } own)
                cluster = cluster.Replace(own, "", StringComparison.Ordinal);
        return cluster;
    }

    /// <summary>The characters that one glyph shows: those of its cluster, or where several glyphs make up the cluster the one that asks
    /// for this glyph by itself, if any does.</summary>
    public string CharactersOf(int glyph, Face face)
    {
        var cluster = Clusters[glyph];
        if ((glyph > 0 && Clusters[glyph - 1] == cluster) || (glyph + 1 < Clusters.Length && Clusters[glyph + 1] == cluster))
        {
            int first = glyph,
                end = glyph + 1;
            while (first > 0 && Clusters[first - 1] == cluster)
                first--;
            while (end < Clusters.Length && Clusters[end] == cluster)
                end++;
            foreach (var rune in ShownCharacters(first, end).EnumerateRunes())
                if (face.GlyphOf(rune.Value) == Glyphs[glyph])
                    return rune.ToString();
            return "";
        }
        return ShownCharacters(glyph, glyph + 1).ToString();
    }

    /// <summary>The same glyphs, standing for another text of as many characters.</summary>
    internal ShapedWord Of(string written) =>
        new(written, Glyphs, Clusters, Advances, OffsetsX, OffsetsY, Width)
        {
            Shown = Shown,
            RightToLeft = RightToLeft,
            KernAfter = KernAfter,
            KernBefore = KernBefore,
        };

    private ReadOnlySpan<char> Part(string of, int from, int to)
    {
        if (RightToLeft)
        {
            var low = to > from ? Clusters[to - 1] : 0;
            return of.AsSpan(low, Math.Max(0, (from == 0 ? Text.Length : Clusters[from - 1]) - low));
        }
        var start = from < Clusters.Length ? Clusters[from] : Text.Length;
        var end = to < Clusters.Length ? Clusters[to] : Text.Length;
        return of.AsSpan(start, Math.Max(0, end - start));
    }

    public int WidthOf(int from, int to)
    {
        if (from == 0 && to == Glyphs.Length)
            return Width;
        var sum = 0;
        for (var g = from; g < to; g++)
            sum += Advances[g];
        return sum;
    }
}
