using System.Buffers.Binary;
using System.Security.Cryptography;
using System.Text;
using Kivren.Core.Content;

namespace Kivren.Formats.Pdf;

/// <summary>A colour profile that cannot be used: why, in words for whom it belongs to.</summary>
public sealed class ColourProfileException(string message) : FormatException(message);

/// <summary>A colour profile (ICC.1:2010): the printing condition of a print file, or what the colours of pictures mean.</summary>
public sealed class ColourProfile
{
    public const int MostBytes = 16 << 20;

    /// <summary>Of an asset that is a profile.</summary>
    public const string MediaType = "application/vnd.iccprofile";

    private const int Header = 128,
        LongestName = 100;

    private ColourProfile(byte[] bytes, string name)
    {
        (Bytes, Name) = (bytes, name);
        _mostInk = new Lazy<int?>(() => MostInkOf(bytes));
    }

    private readonly Lazy<int?> _mostInk;

    /// <summary>The most ink that it lays on one spot for any colour, in hundredths of a solid; null where its table is of a form that
    /// is not read here.</summary>
    public int? MostInk => _mostInk.Value;

    public byte[] Bytes { get; }

    /// <summary>As the profile calls itself.</summary>
    public string Name { get; }

    /// <summary>The profile as an asset of a manual.</summary>
    public Asset Describe(string file) => new(file, MediaType, 0, 0, Convert.ToHexStringLower(SHA256.HashData(Bytes)));

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

    /// <summary>The largest sum of inks in the table from colours to inks for the perceptual intent, tag B2A0, in its forms of 8 and of
    /// 16 bits (ICC.1:2010, 10.10 and 10.11).</summary>
    private static int? MostInkOf(ReadOnlySpan<byte> bytes)
    {
        if (Tag(bytes, "B2A0") is not { Length: > 52 } found)
            return null;
        var tag = bytes.Slice(found.From, found.Length);
        var wide = Text(tag, 0) == "mft2";
        if (!wide && Text(tag, 0) != "mft1")
            return null;
        var (into, outOf, grid) = (tag[8], tag[9], tag[10]);
        if (into != 3 || outOf != 4 || grid < 2)
            return null;
        var size = wide ? 2 : 1;
        var (entriesIn, entriesOut) = wide
            ? (BinaryPrimitives.ReadUInt16BigEndian(tag[48..]), BinaryPrimitives.ReadUInt16BigEndian(tag[50..]))
            : ((ushort)256, (ushort)256);
        var table = (wide ? 52 : 48) + into * entriesIn * size;
        var points = grid * grid * grid;
        var curves = table + points * outOf * size;
        if (entriesOut < 2 || curves + outOf * entriesOut * size > tag.Length)
            return null;
        var full = wide ? 65535.0 : 255.0;
        var most = 0.0;
        for (var p = 0; p < points; p++)
        {
            var inks = 0.0;
            for (var ink = 0; ink < outOf; ink++)
            {
                var at = Value(tag, table + (p * outOf + ink) * size) / full * (entriesOut - 1);
                var curve = curves + ink * entriesOut * size;
                var low = (int)at;
                var high = Math.Min(low + 1, entriesOut - 1);
                inks += (Value(tag, curve + low * size) * (1 - at + low) + Value(tag, curve + high * size) * (at - low)) / full;
            }
            most = Math.Max(most, inks);
        }
        return (int)Math.Round(most * 100);

        double Value(ReadOnlySpan<byte> of, int at) => wide ? BinaryPrimitives.ReadUInt16BigEndian(of[at..]) : of[at];
    }

    /// <summary>Where a tag stands; null where the profile has none, or not whole.</summary>
    private static (int From, int Length)? Tag(ReadOnlySpan<byte> bytes, string name)
    {
        var count = BinaryPrimitives.ReadUInt32BigEndian(bytes[Header..]);
        for (var t = 0; t < Math.Min(count, 100) && Header + 16 + t * 12 <= bytes.Length; t++)
        {
            var entry = bytes.Slice(Header + 4 + t * 12, 12);
            if (Text(entry, 0) != name)
                continue;
            var (from, size) = (BinaryPrimitives.ReadUInt32BigEndian(entry[4..]), BinaryPrimitives.ReadUInt32BigEndian(entry[8..]));
            return from + (ulong)size > (ulong)bytes.Length ? null : ((int)from, (int)size);
        }
        return null;
    }

    private static string Text(ReadOnlySpan<byte> bytes, int at) => Encoding.ASCII.GetString(bytes.Slice(at, 4));

    /// <summary>The words of the tag desc, in either of its forms; null where they cannot be read.</summary>
    private static string? NameOf(ReadOnlySpan<byte> bytes)
    {
        if (Tag(bytes, "desc") is not { Length: >= 28 } found)
            return null;
        var tag = bytes.Slice(found.From, found.Length);
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
}
