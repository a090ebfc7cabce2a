using System.Buffers.Binary;
using System.Security.Cryptography;
using Kivren.Core.Looks;
using Kivren.Core.Type;
using Kivren.Formats.Pdf;
using SkiaSharp;

namespace Kivren.Formats.Fonts;

/// <summary>A font file that cannot be used: why, in words for whom it belongs to.</summary>
public sealed class FontFormatException(string message) : FormatException(message);

/// <summary>Reads a font file of a house (OpenType 1.9): whether it is whole, and what its maker allows. What is read is among the
/// process's <see cref="FaceFiles"/> from then on.</summary>
public static class FontReader
{
    public const int MostBytes = 8 << 20;

    /// <summary>Rights as the table OS/2 gives them (fsType): no embedding at all, no cutting down, pictures of letters alone.</summary>
    private const int Restricted = 0x2,
        PreviewAndPrint = 0x4,
        Editable = 0x8,
        NotCut = 0x100,
        BitmapsAlone = 0x200;

    /// <param name="called">name of the file, for messages</param>
    /// <exception cref="FontFormatException">it cannot be used</exception>
    public static FontFile Read(string called, byte[] bytes)
    {
        var hash = Convert.ToHexStringLower(SHA256.HashData(bytes));
        var file = new FontFile(hash, Short(called));
        if (FaceFiles.Find(hash) is not null)
            return file;
        if (!FaceFiles.Add(hash, Make(file, bytes)))
            throw new FontFormatException($"{called}: more font files are in use here than can be held.");
        return file;
    }

    private static string Short(string called)
    {
        var name = new string([.. Path.GetFileName(called).Where(c => !char.IsControl(c))]);
        return name.Length == 0 ? "font"
            : name.Length > 120 ? name[..120]
            : name;
    }

    private static Face Make(FontFile file, byte[] bytes)
    {
        FontFormatException No(string why) => new($"{file.Called}: {why}");
        if (bytes.Length > MostBytes)
            throw No($"the file is larger than {MostBytes >> 20} MB.");
        var kind = bytes.Length < 12 ? 0 : BinaryPrimitives.ReadUInt32BigEndian(bytes);
        switch (kind)
        {
            case 0x74746366:
                throw No("it holds several faces. Give each as a file of its own (.ttf or .otf).");
            case 0x774F4646 or 0x774F4632:
                throw No("it is packed for the web. Give the .ttf or .otf that it was made from.");
            case not (0x00010000 or 0x4F54544F or 0x74727565):
                throw No("this is no font file that can be read (.ttf or .otf).");
        }
        if (!IsWhole(bytes))
            throw No("the file is damaged, or cut short.");
        using var typeface = SKTypeface.FromStream(new MemoryStream(bytes));
        if (typeface is null || typeface.GlyphCount == 0)
            throw No("the file is damaged, or holds no letters.");
        var rights =
            typeface.TryGetTableData(Tag("OS/2"), out var os2) && os2.Length >= 10
                ? BinaryPrimitives.ReadUInt16BigEndian(os2.AsSpan(8))
                : 0;
        // Where several are said, the least restricted counts.
        if ((rights & Restricted) != 0 && (rights & (PreviewAndPrint | Editable)) == 0)
            throw No("its maker does not allow it to be put into documents. Ask for a licence that does, and for its file.");
        if ((rights & BitmapsAlone) != 0)
            throw No("its maker allows pictures of its letters alone to be put into documents.");
        try
        {
            var family = typeface.FamilyName is { Length: > 0 and <= 200 } name ? name : file.Called;
            var face = new Face(
                FaceFiles.NameBefore + file.Hash,
                family,
                typeface.FontWeight,
                typeface.FontSlant != SKFontStyleSlant.Upright,
                bytes
            )
            {
                PrintName = PrintName(family, typeface),
                MayBeCut = (rights & NotCut) == 0,
            };
            var letters = face.Word("ae");
            if (!face.Covers('a') || letters.Width <= 0)
                throw No("it has no letters of the Latin alphabet. Symbols have their places in pictures.");
            // What cannot be cut down now could not be put into a file later.
            Subsetter.Subset(face, letters.Glyphs);
            return face;
        }
        catch (InvalidDataException)
        {
            throw No("the file is damaged.");
        }
    }

    /// <summary>All tables that its head names lie in it (OpenType 1.9, table directory).</summary>
    private static bool IsWhole(byte[] bytes)
    {
        const int Header = 12,
            Entry = 16;
        var count = BinaryPrimitives.ReadUInt16BigEndian(bytes.AsSpan(4));
        if (count == 0 || bytes.Length < Header + count * Entry)
            return false;
        for (var t = 0; t < count; t++)
        {
            var entry = bytes.AsSpan(Header + t * Entry, Entry);
            if (BinaryPrimitives.ReadUInt32BigEndian(entry[8..]) + (long)BinaryPrimitives.ReadUInt32BigEndian(entry[12..]) > bytes.Length)
                return false;
        }
        return true;
    }

    private static uint Tag(string tag) => BinaryPrimitives.ReadUInt32BigEndian([.. tag.Select(c => (byte)c)]);

    /// <summary>Letters, digits and hyphens, as files like names of faces (ISO 32000-1, 9.6.2).</summary>
    private static string PrintName(string family, SKTypeface typeface)
    {
        var letters = string.Concat(family.Where(c => char.IsAsciiLetterOrDigit(c))) is { Length: > 0 } some ? some : "House";
        var slant = typeface.FontSlant == SKFontStyleSlant.Upright ? "" : "Italic";
        return $"{letters[..Math.Min(40, letters.Length)]}-{typeface.FontWeight}{slant}";
    }
}
