using System.Buffers;
using System.Globalization;
using System.Text;

namespace Kivren.Formats.Pdf;

/// <summary>A value of an object as the file writes it (ISO 32000-1, 7.3). Only here are words escaped: whatever a writer calls
/// a manual or says of a picture, the object around it stays whole.</summary>
internal class PdfValue(string written)
{
    /// <summary>In Latin-1.</summary>
    public virtual string Written => written;

    public static implicit operator PdfValue(int number) => new(number.ToString(CultureInfo.InvariantCulture));

    public static implicit operator PdfValue(double number) => new(PdfNumber.Number(number));

    public static implicit operator PdfValue(bool yes) => new(yes ? "true" : "false");

    public static readonly PdfValue Null = new("null");

    private static readonly SearchValues<char> Regular = SearchValues.Create([
        .. Enumerable.Range('!', '~' - '!' + 1).Select(c => (char)c).Except("#%()/<>[]{}"),
    ]);

    /// <summary>Anything but regular characters is written as its number (7.3.5).</summary>
    public static PdfValue Name(string name)
    {
        if (!name.AsSpan().ContainsAnyExcept(Regular))
            return new PdfValue("/" + name);
        var text = new StringBuilder("/", name.Length + 8);
        foreach (var b in Encoding.UTF8.GetBytes(name))
            if (Regular.Contains((char)b))
                text.Append((char)b);
            else
                text.Append(CultureInfo.InvariantCulture, $"#{b:X2}");
        return new PdfValue(text.ToString());
    }

    /// <summary>Another object, by its number.</summary>
    public static PdfValue To(int id) => new(id.ToString(CultureInfo.InvariantCulture) + " 0 R");

    /// <summary>A text string: words for people, UTF-16 with its mark, in hexadecimal (7.9.2.2).</summary>
    public static PdfValue Text(string text) => new("<FEFF" + Convert.ToHexString(Encoding.BigEndianUnicode.GetBytes(text)) + ">");

    /// <summary>A string of ASCII such as a language or an address; what is no ASCII is percent-encoded UTF-8 (RFC 3986).</summary>
    public static PdfValue Ascii(string text)
    {
        var written = new StringBuilder("(", text.Length + 8);
        foreach (var b in Encoding.UTF8.GetBytes(text))
            if (b is (byte)'(' or (byte)')' or (byte)'\\')
                written.Append('\\').Append((char)b);
            else if (b is > (byte)' ' and < 127)
                written.Append((char)b);
            else
                written.Append(CultureInfo.InvariantCulture, $"%{b:X2}");
        return new PdfValue(written.Append(')').ToString());
    }

    public static PdfValue Hex(byte[] bytes) => new("<" + Convert.ToHexString(bytes) + ">");

    public static PdfValue Array(params IEnumerable<PdfValue> items) => new("[" + string.Join(' ', items.Select(i => i.Written)) + "]");
}
