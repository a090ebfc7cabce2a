using System.Collections.Concurrent;
using Kivren.Core.Type;
using SkiaSharp;

namespace Kivren.Formats.Svg;

/// <summary>Outlines of glyphs as SVG path data, in the size they are drawn.</summary>
internal static class GlyphOutlines
{
    private static readonly ConcurrentDictionary<Face, SKTypeface> Typefaces = new();

    public static string Of(Face face, ushort glyph, double size)
    {
        var typeface = Typefaces.GetOrAdd(face, f => SKTypeface.FromStream(new MemoryStream(f.Bytes)));
        using var font = new SKFont(typeface, (float)size) { Hinting = SKFontHinting.None, Subpixel = true };
        using var path = font.GetGlyphPath(glyph);
        return path?.ToSvgPathData() ?? "";
    }
}
