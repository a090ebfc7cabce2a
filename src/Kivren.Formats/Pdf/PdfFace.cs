using System.Buffers.Binary;
using System.Globalization;
using System.Text;
using Kivren.Core.Type;
using Kivren.Formats.Fonts;

namespace Kivren.Formats.Pdf;

/// <summary>A face as the file uses it: which glyphs, and what characters each stands for.</summary>
internal sealed class PdfFace(Face face, int id, string resource)
{
    private readonly Dictionary<ushort, string> _texts = [];
    private readonly int[] _widths =
    [
        .. Enumerable.Range(0, face.GlyphCount).Select(g => (face.Advance((ushort)g) * 1000 + face.UnitsPerEm / 2) / face.UnitsPerEm),
    ];

    public Face Face => face;
    public int Id => id;

    /// <summary>Name in the resources, such as F0.</summary>
    public string Resource => resource;

    /// <summary>The width readers take for a glyph, in thousandths of the em: a whole number.</summary>
    public int Width(ushort glyph) => _widths[glyph];

    public bool IsUsed => _texts.Count > 0;

    /// <summary>Takes up the glyph with the characters it stands for in ToUnicode: of several the first in order, so that
    /// the file does not depend on which page came first.</summary>
    public void Use(ushort glyph, string characters)
    {
        if (
            !_texts.TryGetValue(glyph, out var known)
            || (characters.Length > 0 && (known.Length == 0 || string.CompareOrdinal(characters, known) < 0))
        )
            _texts[glyph] = characters;
    }

    /// <summary>Takes up all that one page or picture shows.</summary>
    public static void Use(PageContent content)
    {
        foreach (var (face, texts) in content.Texts)
        foreach (var (glyph, text) in texts)
            face.Use(glyph, text!);
    }

    /// <summary>The faces that one page or picture names, as the entry of its resources.</summary>
    public static PdfDictionary Resources(PageContent content)
    {
        var fonts = new PdfDictionary();
        foreach (var face in content.Texts.Keys.OrderBy(f => f.Id))
            fonts.Add(face.Resource, PdfValue.To(face.Id));
        return new PdfDictionary { { "Font", fonts } };
    }

    public void Write(PdfFile file)
    {
        var glyphs = _texts.Keys.Order().ToArray();
        // A face that may not be cut down is put in whole, and says so by a name without a tag.
        var name = PdfValue.Name((face.MayBeCut ? Tag(glyphs) + "+" : "") + face.PrintName);
        var data = face.MayBeCut ? Subsetter.Subset(face, glyphs) : face.Bytes;
        // Outlines in the compact font format stand alone, others in their font file (ISO 32000-1, 9.9).
        var compact = Compact(data);
        var fontFile = compact is { } outlines
            ? file.Stream(new PdfDictionary { { "Subtype", PdfValue.Name("CIDFontType0C") } }, outlines)
            : file.Stream(new PdfDictionary { { "Length1", data.Length } }, data);
        int Scaled(int units) => units * 1000 / face.UnitsPerEm;
        var flags =
            4
            | (face.Italic ? 64 : 0)
            | (face.Family.Contains("Code", StringComparison.Ordinal) ? 1 : 0)
            | (face.Family.Contains("Serif", StringComparison.Ordinal) ? 2 : 0);
        var descriptor = file.Object(
            new PdfDictionary("FontDescriptor")
            {
                { "FontName", name },
                { "Flags", flags },
                { "FontBBox", PdfValue.Array(-500, -Scaled(face.Descent), 1500, Scaled(face.Ascent)) },
                { "ItalicAngle", face.Italic ? -11 : 0 },
                { "Ascent", Scaled(face.Ascent) },
                { "Descent", -Scaled(face.Descent) },
                { "CapHeight", Scaled(face.CapHeight) },
                { "XHeight", Scaled(face.XHeight) },
                { "StemV", face.Weight >= 600 ? 130 : 80 },
                { compact is null ? "FontFile2" : "FontFile3", PdfValue.To(fontFile) },
            }
        );
        var descendantFont = new PdfDictionary("Font")
        {
            { "Subtype", PdfValue.Name(compact is null ? "CIDFontType2" : "CIDFontType0") },
            { "BaseFont", name },
            {
                "CIDSystemInfo",
                new PdfDictionary
                {
                    { "Registry", PdfValue.Ascii("Adobe") },
                    { "Ordering", PdfValue.Ascii("Identity") },
                    { "Supplement", 0 },
                }
            },
            { "FontDescriptor", PdfValue.To(descriptor) },
            { "DW", 0 },
            { "W", Widths(glyphs) },
        };
        if (compact is null)
            descendantFont.Add("CIDToGIDMap", PdfValue.Name("Identity"));
        var descendant = file.Object(descendantFont);
        file.Object(
            id,
            new PdfDictionary("Font")
            {
                { "Subtype", PdfValue.Name("Type0") },
                { "BaseFont", name },
                { "Encoding", PdfValue.Name("Identity-H") },
                { "DescendantFonts", PdfValue.Array(PdfValue.To(descendant)) },
                { "ToUnicode", PdfValue.To(file.Stream([], ToUnicode(glyphs))) },
            }
        );
    }

    /// <summary>The table of outlines in the compact font format; null for a font with others.</summary>
    private static byte[]? Compact(byte[] font)
    {
        const int Header = 12,
            Entry = 16;
        for (var t = 0; t < BinaryPrimitives.ReadUInt16BigEndian(font.AsSpan(4)); t++)
        {
            var entry = font.AsSpan(Header + t * Entry, Entry);
            if (entry[..4].SequenceEqual("CFF "u8))
                return font.AsSpan(
                        (int)BinaryPrimitives.ReadUInt32BigEndian(entry[8..]),
                        (int)BinaryPrimitives.ReadUInt32BigEndian(entry[12..])
                    )
                    .ToArray();
        }
        return null;
    }

    /// <summary>The widths of glyphs, each run of neighbours behind its first (ISO 32000-1, 9.7.4.3).</summary>
    private PdfValue Widths(ushort[] glyphs)
    {
        var widths = new List<PdfValue>();
        for (var i = 0; i < glyphs.Length; )
        {
            var run = new List<PdfValue>();
            widths.Add(glyphs[i]);
            do run.Add(Width(glyphs[i++]));
            while (i < glyphs.Length && glyphs[i] == glyphs[i - 1] + 1);
            widths.Add(PdfValue.Array(run));
        }
        return PdfValue.Array(widths);
    }

    private byte[] ToUnicode(ushort[] glyphs)
    {
        var map = new StringBuilder(
            "/CIDInit/ProcSet findresource begin\n12 dict "
                + "begin\nbegincmap\n/CIDSystemInfo<</Registry(Adobe)/Ordering(UCS)/Supplement 0>>def\n/CMapName/Adobe-Identity-UCS "
                + "def\n/CMapType 2 def\n1 begincodespacerange\n<0000><FFFF>\nendcodespacerange\n"
        );
        var mapped = glyphs.Where(g => _texts[g].Length > 0).ToArray();
        for (var i = 0; i < mapped.Length; i += 100)
        {
            var count = Math.Min(100, mapped.Length - i);
            map.Append(CultureInfo.InvariantCulture, $"{count} beginbfchar\n");
            for (var k = i; k < i + count; k++)
                map.Append(
                    CultureInfo.InvariantCulture,
                    $"<{mapped[k]:X4}><{Convert.ToHexString(Encoding.BigEndianUnicode.GetBytes(_texts[mapped[k]]))}>\n"
                );
            map.Append("endbfchar\n");
        }
        map.Append("endcmap\nCMapName currentdict/CMap defineresource pop\nend\nend");
        return Encoding.Latin1.GetBytes(map.ToString());
    }

    /// <summary>Six capitals from the glyphs taken (ISO 32000-1, 9.6.4).</summary>
    private static string Tag(ushort[] glyphs)
    {
        uint hash = 2166136261;
        foreach (var glyph in glyphs)
            hash = (hash ^ glyph) * 16777619;
        var tag = "";
        for (var i = 0; i < 6; i++, hash /= 26)
            tag += (char)('A' + hash % 26);
        return tag;
    }
}
