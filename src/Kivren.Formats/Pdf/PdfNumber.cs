namespace Kivren.Formats.Pdf;

/// <summary>Numbers as PDF writes them (ISO 32000-1, 7.3.3): no exponent, no zeros at the end, the same on every machine.</summary>
internal static class PdfNumber
{
    /// <summary>A length of so many thousandths of a point, in points.</summary>
    public static string Points(int millipoints) => Decimal(millipoints, 3);

    /// <summary>To three places.</summary>
    public static string Number(double value) => Decimal((long)Math.Round(value * 1000, MidpointRounding.AwayFromZero), 3);

    /// <summary>A factor of a matrix: small ones keep six places that say something, or a drawing of a large box comes out
    /// narrower than it is, or not at all.</summary>
    public static string Factor(double value) => Decimal((long)Math.Round(value * 1e10, MidpointRounding.AwayFromZero), 10);

    /// <summary>A whole number of tenths, hundredths, …</summary>
    public static string Decimal(long value, int places)
    {
        Span<char> text = stackalloc char[24];
        var at = text.Length;
        var left = Math.Abs(value);
        for (var place = 0; place < places || left > 0 || place == places; place++)
        {
            if (place == places && at < text.Length)
                text[--at] = '.';
            var digit = (char)('0' + left % 10);
            left /= 10;
            if (place >= places || digit != '0' || at < text.Length)
                text[--at] = digit;
        }
        if (value < 0)
            text[--at] = '-';
        return text[at..].ToString();
    }
}
