using System.Buffers.Binary;
using System.Globalization;
using System.Security;
using System.Text;

namespace Kivren.Formats.Pictures;

/// <summary>Metafiles (EMF, and WMF with a placeable header), which no printed file can hold: their size is read, and a frame of it with
/// their name stands in their place until a writer puts in what can be printed.</summary>
public static class Metafile
{
    /// <summary>Points by which a frame is at least wide and high, and at most.</summary>
    private const double Least = 24,
        Most = 2_000;

    /// <summary>Its width and height in points, or null when it is no metafile.</summary>
    public static (double Width, double Height)? SizeOf(ReadOnlySpan<byte> bytes)
    {
        static int Int(ReadOnlySpan<byte> at) => BinaryPrimitives.ReadInt32LittleEndian(at);
        static short Short(ReadOnlySpan<byte> at) => BinaryPrimitives.ReadInt16LittleEndian(at);
        // EMF: a header record of type 1, " EMF" at 40, the frame in hundredths of a millimetre at 24.
        if (bytes.Length >= 44 && Int(bytes) == 1 && bytes[40..44].SequenceEqual(" EMF"u8))
            return Sane(
                ((long)Int(bytes[32..]) - Int(bytes[24..])) * 72 / 2540.0,
                ((long)Int(bytes[36..]) - Int(bytes[28..])) * 72 / 2540.0
            );
        // WMF with a placeable header: the box in units, and how many are an inch.
        if (bytes.Length >= 22 && (uint)Int(bytes) == 0x9AC6CDD7)
        {
            var inch = Math.Max((ushort)1, (ushort)Short(bytes[14..]));
            return Sane((Short(bytes[10..]) - Short(bytes[6..])) * 72.0 / inch, (Short(bytes[12..]) - Short(bytes[8..])) * 72.0 / inch);
        }
        // WMF without one: in memory or on disk, a header of nine words; it does not say how large it is.
        if (bytes.Length >= 18 && Short(bytes) is 1 or 2 && Short(bytes[2..]) == 9 && (ushort)Short(bytes[4..]) is 0x0100 or 0x0300)
            return (240, 160);
        return null;
    }

    private static (double, double) Sane(double width, double height) =>
        (Math.Clamp(Math.Abs(width), Least, Most), Math.Clamp(Math.Abs(height), Least, Most));

    /// <summary>A frame of this size with the name in it, as SVG.</summary>
    public static byte[] Frame(string name, double width, double height)
    {
        var letters = Math.Clamp(Math.Min(height / 3, width / Math.Max(1, name.Length) * 1.6), 3, 10);
        static string Said(double points) => points.ToString("0.##", CultureInfo.InvariantCulture);
        var (wide, high) = (Said(width), Said(height));
        var svg = $"""
            <svg xmlns="http://www.w3.org/2000/svg" width="{wide}" height="{high}" viewBox="0 0 {wide} {high}">
            <rect x=".5" y=".5" width="{Said(width - 1)}" height="{Said(height - 1)}"
              fill="none" stroke="#555" stroke-width=".75" stroke-dasharray="4 3"/>
            <text x="{Said(width / 2)}" y="{Said(height / 2 + letters / 3)}" text-anchor="middle"
              font-family="Source Sans 3" font-size="{Said(letters)}" fill="#333">{SecurityElement.Escape(name)}</text>
            </svg>
            """;
        return Encoding.UTF8.GetBytes(svg);
    }
}
