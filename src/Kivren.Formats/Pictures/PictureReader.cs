using System.Globalization;
using System.Security.Cryptography;
using System.Xml;
using Kivren.Core.Content;
using SkiaSharp;

namespace Kivren.Formats.Pictures;

/// <summary>A file that is no picture we can print: what and why.</summary>
public sealed class PictureFormatException(string message) : FormatException(message);

/// <summary>Tells what a picture file is before anything decodes it.</summary>
public static class PictureReader
{
    /// <summary>Larger pictures are refused by their pixel count, before decoding.</summary>
    public const long MostPixels = 60_000_000;
    private const int MostSvgBytes = 8 << 20,
        MostSvgDepth = 200;

    public static Asset Describe(string name, byte[] bytes)
    {
        var hash = Convert.ToHexStringLower(SHA256.HashData(bytes));
        if (LooksLikeSvg(bytes))
        {
            var (width, height) = SvgSize(name, bytes);
            return new Asset(name, "image/svg+xml", width, height, hash);
        }
        using var codec = SKCodec.Create(new SKMemoryStream(bytes));
        if (codec is null || codec.EncodedFormat is not (SKEncodedImageFormat.Png or SKEncodedImageFormat.Jpeg))
            throw new PictureFormatException($"“{name}” is no picture: it is neither PNG, JPEG nor SVG.");
        if ((long)codec.Info.Width * codec.Info.Height > MostPixels)
            throw new PictureFormatException(
                $"“{name}” has {codec.Info.Width} × {codec.Info.Height} pixels, more than a page can use; reduce it below "
                    + $"{MostPixels / 1_000_000} million."
            );
        return new Asset(
            name,
            codec.EncodedFormat == SKEncodedImageFormat.Png ? "image/png" : "image/jpeg",
            codec.Info.Width,
            codec.Info.Height,
            hash
        );
    }

    /// <summary>A picture as every painter takes it: of another well-known raster format as PNG; a photograph that says which way up
    /// it is, turned that way. What is PNG, JPEG or SVG already, or no picture, as it is.</summary>
    public static byte[] Printable(byte[] bytes)
    {
        if (bytes.Length < 4 || LooksLikeSvg(bytes))
            return bytes;
        using var codec = SKCodec.Create(new SKMemoryStream(bytes));
        if (
            codec
                is {
                    EncodedOrigin: not (SKEncodedOrigin.TopLeft or 0),
                    EncodedFormat: SKEncodedImageFormat.Png or SKEncodedImageFormat.Jpeg
                }
            && (long)codec.Info.Width * codec.Info.Height <= MostPixels
        )
            return Upright(codec) ?? bytes;
        if (
            codec is null
            || codec.EncodedFormat is SKEncodedImageFormat.Png or SKEncodedImageFormat.Jpeg
            || (long)codec.Info.Width * codec.Info.Height > MostPixels
        )
            return bytes;
        using var bitmap = SKBitmap.Decode(codec);
        return bitmap?.Encode(SKEncodedImageFormat.Png, 100).ToArray() ?? bytes;
    }

    private static byte[]? Upright(SKCodec codec)
    {
        using var lying = SKBitmap.Decode(codec);
        if (lying is null)
            return null;
        var turned =
            codec.EncodedOrigin
            is SKEncodedOrigin.LeftTop
                or SKEncodedOrigin.RightTop
                or SKEncodedOrigin.RightBottom
                or SKEncodedOrigin.LeftBottom;
        int width = turned ? lying.Height : lying.Width,
            height = turned ? lying.Width : lying.Height;
        using var upright = new SKBitmap(lying.Info.WithSize(width, height));
        using (var canvas = new SKCanvas(upright))
        {
            // Where a point of the picture as it lies comes to stand (Exif 2.32, Orientation).
            canvas.SetMatrix(
                codec.EncodedOrigin switch
                {
                    SKEncodedOrigin.TopRight => new SKMatrix(-1, 0, width, 0, 1, 0, 0, 0, 1),
                    SKEncodedOrigin.BottomRight => new SKMatrix(-1, 0, width, 0, -1, height, 0, 0, 1),
                    SKEncodedOrigin.BottomLeft => new SKMatrix(1, 0, 0, 0, -1, height, 0, 0, 1),
                    SKEncodedOrigin.LeftTop => new SKMatrix(0, 1, 0, 1, 0, 0, 0, 0, 1),
                    SKEncodedOrigin.RightTop => new SKMatrix(0, -1, width, 1, 0, 0, 0, 0, 1),
                    SKEncodedOrigin.RightBottom => new SKMatrix(0, -1, width, -1, 0, height, 0, 0, 1),
                    _ => new SKMatrix(0, 1, 0, -1, 0, height, 0, 0, 1),
                }
            );
            canvas.DrawBitmap(lying, 0, 0, new SKSamplingOptions(SKFilterMode.Nearest));
        }
        return upright.Encode(codec.EncodedFormat, 95).ToArray();
    }

    private static bool LooksLikeSvg(byte[] bytes)
    {
        var start = System.Text.Encoding.UTF8.GetString(bytes, 0, Math.Min(bytes.Length, 512)).TrimStart('\uFEFF', ' ', '\r', '\n', '\t');
        return start.StartsWith('<')
            && (start.Contains("<svg", StringComparison.Ordinal) || start.StartsWith("<?xml", StringComparison.Ordinal));
    }

    private static (int, int) SvgSize(string name, byte[] bytes)
    {
        if (bytes.Length > MostSvgBytes)
            throw new PictureFormatException($"“{name}” is an SVG of more than {MostSvgBytes >> 20} MB.");
        try
        {
            using var reader = XmlReader.Create(
                new MemoryStream(bytes),
                new XmlReaderSettings
                {
                    DtdProcessing = DtdProcessing.Ignore,
                    XmlResolver = null,
                    MaxCharactersFromEntities = 1,
                }
            );
            double width = 0,
                height = 0;
            var first = true;
            int elements = 0,
                uses = 0;
            while (reader.Read())
            {
                if (reader.NodeType != XmlNodeType.Element)
                    continue;
                if (reader.Depth > MostSvgDepth)
                    throw new PictureFormatException($"“{name}” is nested more than {MostSvgDepth} deep; make it simpler.");
                if (
                    reader.NamespaceURI is not ("" or "http://www.w3.org/2000/svg" or "http://www.w3.org/1999/xlink")
                    && reader.LocalName is not ("metadata" or "RDF")
                    && reader.NamespaceURI.Contains("xhtml", StringComparison.OrdinalIgnoreCase)
                )
                    throw new PictureFormatException($"“{name}” holds a part of a web page, which a printed picture cannot; take it out.");
                for (var more = reader.MoveToFirstAttribute(); more; more = reader.MoveToNextAttribute())
                    if (reader.LocalName.StartsWith("on", StringComparison.OrdinalIgnoreCase) && reader.LocalName.Length > 2)
                        throw new PictureFormatException(
                            $"“{name}” would run something ({reader.LocalName}), which a printed picture cannot; take it out."
                        );
                reader.MoveToElement();
                if (++elements > SvgDrawing.MostElements)
                    throw new PictureFormatException($"“{name}” holds more than {SvgDrawing.MostElements:N0} elements; make it simpler.");
                if (reader.LocalName == "use")
                    uses++;
                if (first)
                {
                    if (reader.LocalName != "svg")
                        throw new PictureFormatException($"“{name}” is no picture: its first element is <{reader.LocalName}>.");
                    var box = reader.GetAttribute("viewBox")?.Split([' ', ','], StringSplitOptions.RemoveEmptyEntries);
                    width = Size(box is { Length: 4 } ? box[2] : reader.GetAttribute("width"));
                    height = Size(box is { Length: 4 } ? box[3] : reader.GetAttribute("height"));
                    first = false;
                }
                if (reader.LocalName is "script" or "foreignObject")
                    throw new PictureFormatException(
                        $"“{name}” holds a <{reader.LocalName}>, which a printed picture cannot; take it out."
                    );
                if (
                    reader.LocalName == "image"
                    || (reader.GetAttribute("href") ?? reader.GetAttribute("href", "http://www.w3.org/1999/xlink")) is { } href
                        && !href.StartsWith('#')
                )
                    throw new PictureFormatException($"“{name}” draws on another file; put what it needs into the picture itself.");
            }
            if (width <= 0 || height <= 0)
                throw new PictureFormatException($"“{name}” does not say how large it is (viewBox, or width and height).");
            // What is used again may add up beyond all bounds.
            if (uses > 0)
                SvgDrawing.Read(name, bytes);
            return Whole(width, height);
        }
        catch (XmlException e)
        {
            throw new PictureFormatException($"“{name}” is no picture: line {e.LineNumber}: {e.Message}");
        }
    }

    private static double Size(string? text)
    {
        if (text is null)
            return 0;
        var digits = new string(text.TakeWhile(c => char.IsAsciiDigit(c) || c == '.').ToArray());
        return double.TryParse(digits, CultureInfo.InvariantCulture, out var value) && value is > 0 and < 1e12 ? value : 0;
    }

    /// <summary>The size of a drawing in whole units. Of a drawing only the proportions count: one whose own units are too small or
    /// too large for whole numbers is measured in others.</summary>
    private static (int, int) Whole(double width, double height)
    {
        const int side = 100_000;
        if (width == Math.Floor(width) && height == Math.Floor(height) && Math.Max(width, height) <= side)
            return ((int)width, (int)height);
        var scale = side / Math.Max(width, height);
        return (Math.Max(1, (int)Math.Round(width * scale)), Math.Max(1, (int)Math.Round(height * scale)));
    }
}
