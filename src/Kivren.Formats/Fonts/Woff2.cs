using System.Buffers.Binary;
using System.IO.Compression;

namespace Kivren.Formats.Fonts;

/// <summary>Packs a font file as browsers take it (WOFF File Format 2.0, W3C Recommendation), with the tables as they are.</summary>
public static class Woff2
{
    /// <summary>Tags that the format knows by number (4.2); all others are written out.</summary>
    private static readonly string[] Known = """
        cmap head hhea hmtx maxp name OS/2 post cvt_ fpgm glyf loca prep CFF_ VORG EBDT EBLC gasp hdmx kern LTSH
        PCLT VDMX vhea vmtx BASE GDEF GPOS GSUB EBSC JSTF MATH CBDT CBLC COLR CPAL SVG_ sbix acnt avar bdat bloc
        bsln cvar fdsc feat fmtx fvar gvar hsty just lcar mort morx opbd prop trak Zapf Silf Glat Gloc Feat Sill
        """.Split((char[]?)null, StringSplitOptions.RemoveEmptyEntries);

    private const int HeaderLength = 48;
    private const byte ByTag = 63,
        Untransformed = 3 << 6;

    /// <param name="font">a font file with one face</param>
    public static byte[] Pack(byte[] font)
    {
        var count = BinaryPrimitives.ReadUInt16BigEndian(font.AsSpan(4));
        using var directory = new MemoryStream();
        using var tables = new MemoryStream();
        long whole = 12 + 16 * count;
        for (var t = 0; t < count; t++)
        {
            var entry = font.AsSpan(12 + 16 * t, 16);
            var tag = string.Concat(entry[..4].ToArray().Select(b => (char)b));
            var offset = checked((int)BinaryPrimitives.ReadUInt32BigEndian(entry[8..]));
            var length = checked((int)BinaryPrimitives.ReadUInt32BigEndian(entry[12..]));
            var known = Array.IndexOf(Known, tag.Replace(' ', '_'));
            directory.WriteByte((byte)((known < 0 ? ByTag : known) | (tag is "glyf" or "loca" ? Untransformed : 0)));
            if (known < 0)
                directory.Write(entry[..4]);
            WriteBase128(directory, length);
            tables.Write(font, offset, length);
            whole += (length + 3) & ~3;
        }
        using var packed = new MemoryStream();
        using (var brotli = new BrotliStream(packed, CompressionLevel.SmallestSize, leaveOpen: true))
            tables.WriteTo(brotli);
        var compressed = packed.ToArray();
        var unpadded = HeaderLength + (int)directory.Length + compressed.Length;
        var file = new byte[(unpadded + 3) & ~3];
        "wOF2"u8.CopyTo(file);
        font.AsSpan(0, 4).CopyTo(file.AsSpan(4));
        BinaryPrimitives.WriteUInt32BigEndian(file.AsSpan(8), (uint)file.Length);
        BinaryPrimitives.WriteUInt16BigEndian(file.AsSpan(12), count);
        BinaryPrimitives.WriteUInt32BigEndian(file.AsSpan(16), (uint)whole);
        BinaryPrimitives.WriteUInt32BigEndian(file.AsSpan(20), (uint)compressed.Length);
        directory.ToArray().CopyTo(file, HeaderLength);
        compressed.CopyTo(file, HeaderLength + (int)directory.Length);
        return file;
    }

    /// <summary>A number in groups of seven bits, the highest first (4.1).</summary>
    private static void WriteBase128(MemoryStream to, int value)
    {
        for (var shift = 28; shift > 0; shift -= 7)
            if (value >> shift != 0)
                to.WriteByte((byte)(0x80 | value >> shift & 0x7F));
        to.WriteByte((byte)(value & 0x7F));
    }
}
