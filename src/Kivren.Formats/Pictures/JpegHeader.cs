namespace Kivren.Formats.Pictures;

/// <summary>What a JPEG's frame header says (ITU T.81, B.2.2).</summary>
internal static class JpegHeader
{
    /// <summary>How many colour components there are, or null when no frame header is found.</summary>
    public static int? Components(byte[] bytes)
    {
        for (var i = 2; i + 9 < bytes.Length && bytes[i] == 0xFF; )
        {
            var marker = bytes[i + 1];
            var length = bytes[i + 2] << 8 | bytes[i + 3];
            if (marker is >= 0xC0 and <= 0xCF and not (0xC4 or 0xC8 or 0xCC))
                return bytes[i + 9];
            i += 2 + length;
        }
        return null;
    }
}
