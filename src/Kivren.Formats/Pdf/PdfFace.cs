using System.Globalization;
using System.Text;
using Kivren.Core.Type;

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
        if (!_texts.TryGetValue(glyph, out var known) || string.CompareOrdinal(characters, known) < 0)
            _texts[glyph] = characters;
    }

    public void Write(PdfFile file)
    {
        var glyphs = _texts.Keys.Order().ToArray();
        var name = Tag(glyphs) + "+" + face.Name.Replace("_", "-", StringComparison.Ordinal);
        var data = Subsetter.Subset(face, glyphs);
        var fontFile = file.Stream($"/Length1 {data.Length}", data);
        int Scaled(int units) => units * 1000 / face.UnitsPerEm;
        var flags =
            4
            | (face.Italic ? 64 : 0)
            | (face.Family.Contains("Code", StringComparison.Ordinal) ? 1 : 0)
            | (face.Family.Contains("Serif", StringComparison.Ordinal) ? 2 : 0);
        var descriptor = file.Object(
            $"<</Type/FontDescriptor/FontName/{name}/Flags {flags}/FontBBox[-500 {-Scaled(face.Descent)} 1500 "
                + $"{Scaled(face.Ascent)}]/ItalicAngle {(face.Italic ? -11 : 0)}/Ascent {Scaled(face.Ascent)}/Descent "
                + $"{-Scaled(face.Descent)}/CapHeight {Scaled(face.CapHeight)}/XHeight {Scaled(face.XHeight)}/StemV "
                + $"{(face.Weight >= 600 ? 130 : 80)}/FontFile2 {fontFile} 0 R>>"
        );
        var widths = new StringBuilder();
        for (var i = 0; i < glyphs.Length; )
        {
            var run = i;
            widths.Append(CultureInfo.InvariantCulture, $"{glyphs[i]}[");
            do
            {
                widths.Append(CultureInfo.InvariantCulture, $"{Width(glyphs[run])} ");
                run++;
            } while (run < glyphs.Length && glyphs[run] == glyphs[run - 1] + 1);
            widths.Append(']');
            i = run;
        }
        var descendant = file.Object(
            $"<</Type/Font/Subtype/CIDFontType2/BaseFont/{name}/CIDSystemInfo<</Registry(Adobe)/Ordering(Identity)/Supplement 0>>"
                + $"/FontDescriptor {descriptor} 0 R/DW 0/W[{widths}]/CIDToGIDMap/Identity>>"
        );
        var unicode = file.Stream("", ToUnicode(glyphs));
        file.Object(
            id,
            $"<</Type/Font/Subtype/Type0/BaseFont/{name}/Encoding/Identity-H/DescendantFonts[{descendant} 0 R]/ToUnicode {unicode} 0 R>>"
        );
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
