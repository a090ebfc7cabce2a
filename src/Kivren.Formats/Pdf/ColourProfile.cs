using System.Buffers.Binary;
using System.Text;

namespace Kivren.Formats.Pdf;

/// <summary>A colour profile that cannot be used: why, in words for whom it belongs to.</summary>
public sealed class ColourProfileException(string message) : FormatException(message);

/// <summary>A colour profile (ICC.1:2010): the printing condition of a print file, or what the colours of pictures mean.</summary>
public sealed class ColourProfile
{
    private const int Header = 128,
        MostBytes = 16 << 20,
        LongestName = 100;

    private ColourProfile(byte[] bytes, string name) => (Bytes, Name) = (bytes, name);

    public byte[] Bytes { get; }

    /// <summary>As the profile calls itself.</summary>
    public string Name { get; }

    /// <summary>The one that ships: offset on coated paper.</summary>
    public static ColourProfile Coated { get; } = Shipped("coated-offset.icc");

    /// <summary>What red, green and blue mean in pictures that do not say.</summary>
    internal static ColourProfile Pictures { get; } = Shipped("sRGB.icc");

    private static ColourProfile Shipped(string file)
    {
        using var stream = typeof(ColourProfile).Assembly.GetManifestResourceStream("profile:" + file)!;
        using var copy = new MemoryStream();
        stream.CopyTo(copy);
        return new ColourProfile(copy.ToArray(), NameOf(copy.ToArray()) ?? file);
    }

    /// <summary>The profile of a printer.</summary>
    /// <param name="called">its file, for messages</param>
    /// <exception cref="ColourProfileException">it is none, or not one of printing in the four inks</exception>
    public static ColourProfile OfPrinter(string called, byte[] bytes)
    {
        ColourProfileException No(string why) => new($"{called}: {why}");
        if (bytes.Length > MostBytes)
            throw No($"it is larger than {MostBytes >> 20} MB.");
        if (bytes.Length < Header + 4 || Text(bytes, 36) != "acsp")
            throw No("this is no colour profile (.icc).");
        if (BinaryPrimitives.ReadUInt32BigEndian(bytes) != bytes.Length)
            throw No("the profile is cut short, or damaged.");
        if (Text(bytes, 12) != "prtr" || Text(bytes, 16) != "CMYK")
            throw No($"this is a profile of {Text(bytes, 16).Trim()}, not of printing in the four inks. Ask the printer for theirs.");
        return new ColourProfile(bytes, NameOf(bytes) ?? called);
    }

    private static string Text(ReadOnlySpan<byte> bytes, int at) => Encoding.ASCII.GetString(bytes.Slice(at, 4));

    /// <summary>The words of the tag desc, in either of its forms; null where they cannot be read.</summary>
    private static string? NameOf(ReadOnlySpan<byte> bytes)
    {
        var count = BinaryPrimitives.ReadUInt32BigEndian(bytes[Header..]);
        for (var t = 0; t < Math.Min(count, 100) && Header + 16 + t * 12 <= bytes.Length; t++)
        {
            var entry = bytes.Slice(Header + 4 + t * 12, 12);
            if (Text(entry, 0) != "desc")
                continue;
            var (from, size) = (BinaryPrimitives.ReadUInt32BigEndian(entry[4..]), BinaryPrimitives.ReadUInt32BigEndian(entry[8..]));
            if (from + (ulong)size > (ulong)bytes.Length || size < 28)
                return null;
            var tag = bytes.Slice((int)from, (int)size);
            var (at, length, isWide) =
                Text(tag, 0) == "mluc"
                    ? (BinaryPrimitives.ReadUInt32BigEndian(tag[24..]), BinaryPrimitives.ReadUInt32BigEndian(tag[20..]), true)
                    : (12u, BinaryPrimitives.ReadUInt32BigEndian(tag[8..]), false);
            if (at + (ulong)length > (ulong)tag.Length)
                return null;
            var words = tag.Slice((int)at, (int)length);
            var name = new string([
                .. (isWide ? Encoding.BigEndianUnicode : Encoding.Latin1).GetString(words).Where(c => !char.IsControl(c)).Take(LongestName),
            ]).Trim();
            return name.Length > 0 ? name : null;
        }
        return null;
    }
}
