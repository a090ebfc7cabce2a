using System.Text;
using Kivren.Core.Content;
using Kivren.Core.Type;
using Kivren.Formats.Pictures;
using SkiaSharp;

namespace Kivren.Formats.Pdf;

/// <summary>A picture that stands in the file.</summary>
/// <param name="Resource">its name in the resources, such as P0</param>
/// <param name="Id">its object</param>
/// <param name="Vector">drawn in units of its own; else in a square of one by one</param>
internal sealed record PdfPicture(string Resource, int Id, bool Vector, double Width, double Height);

/// <summary>The pictures of a file, each written once: drawings as drawing operators, photographs as they came, others as their
/// pixels (ISO 32000-1, 8.9 and 8.10).</summary>
/// <param name="bytes">of a picture by asset name, or null when it is missing</param>
internal sealed class PdfPictures(Func<string, byte[]?> bytes, PdfFile file, PdfFaces faces, PdfKind kind)
{
    private readonly Dictionary<string, PdfPicture> _written = new(StringComparer.Ordinal);

    /// <summary>Null when it is missing or cannot be read: the composition holds a loose end for it, the page shows an empty
    /// frame.</summary>
    public PdfPicture? Find(string asset) => _written.GetValueOrDefault(asset);

    /// <summary>The most ink on one spot of its drawings, in hundredths of a solid.</summary>
    public int MostInk { get; private set; }

    public bool HasPhotographs { get; private set; }

    /// <summary>The pictures that one page shows, as the entry of its resources.</summary>
    public PdfDictionary Resources(PageContent content)
    {
        var pictures = new PdfDictionary();
        foreach (var asset in content.UsedPictures.Order(StringComparer.Ordinal))
            pictures.Add(_written[asset].Resource, PdfValue.To(_written[asset].Id));
        return new PdfDictionary { { "XObject", pictures } };
    }

    public void Write(Asset asset)
    {
        if (bytes(asset.Name) is not { } data)
            return;
        var resource = "P" + _written.Count;
        try
        {
            _written.Add(
                asset.Name,
                asset.MediaType == "image/svg+xml" ? Drawing(asset.Name, resource, data)
                    : asset.MediaType == "image/jpeg" && JpegHeader.Components(data) is { } components and (1 or 3)
                        ? Photograph(asset, resource, components, data)
                    : Pixels(asset.Name, resource, data)
            );
        }
        catch (PictureFormatException)
        {
            // Find tells what becomes of it.
        }
    }

    private PdfPicture Drawing(string name, string resource, byte[] data)
    {
        var drawing = SvgDrawing.Read(name, data);
        var content = new PageContent(faces, 0, kind);
        content.Paint(drawing);
        PdfFace.Use(content);
        MostInk = Math.Max(MostInk, content.MostInk);
        var id = file.Stream(
            new PdfDictionary("XObject")
            {
                { "Subtype", PdfValue.Name("Form") },
                { "BBox", PdfValue.Array(0, 0, drawing.Width, drawing.Height) },
                { "Resources", PdfFace.Resources(content) },
            },
            Encoding.Latin1.GetBytes(content.ToString())
        );
        return new PdfPicture(resource, id, true, drawing.Width, drawing.Height);
    }

    private PdfPicture Photograph(Asset asset, string resource, int components, byte[] data)
    {
        var id = file.Allocate();
        file.Packed(id, Image(asset.Width, asset.Height, components == 1 ? Grey : Colours), "DCTDecode", data);
        return new PdfPicture(resource, id, false, 1, 1);
    }

    private PdfPicture Pixels(string name, string resource, byte[] data)
    {
        using var codec = SKCodec.Create(new SKMemoryStream(data));
        if (codec is null)
            throw new PictureFormatException($"“{name}” is no picture.");
        var info = new SKImageInfo(codec.Info.Width, codec.Info.Height, SKColorType.Rgba8888, SKAlphaType.Unpremul);
        // Of a file cut off what came is shown, and the rest stays clear.
        if (codec.GetPixels(info, out var rgba) is not (SKCodecResult.Success or SKCodecResult.IncompleteInput))
            throw new PictureFormatException($"“{name}” cannot be decoded.");
        var count = info.Width * info.Height;
        var rgb = new byte[count * 3];
        var alpha = new byte[count];
        var opaque = true;
        for (var i = 0; i < count; i++)
        {
            rgb[i * 3] = rgba[i * 4];
            rgb[i * 3 + 1] = rgba[i * 4 + 1];
            rgb[i * 3 + 2] = rgba[i * 4 + 2];
            alpha[i] = rgba[i * 4 + 3];
            opaque &= alpha[i] == 255;
        }
        var image = Image(info.Width, info.Height, Colours);
        if (!opaque)
            image.Add("SMask", PdfValue.To(file.Stream(Image(info.Width, info.Height, Grey), alpha)));
        return new PdfPicture(resource, file.Stream(image, rgb), false, 1, 1);
    }

    private static readonly PdfValue Grey = PdfValue.Name("DeviceGray");
    private PdfValue? _colours;

    /// <summary>In print the colours of photographs are said by a profile, for the inks are the printer's (ISO 15930-7, 6.2.4).</summary>
    private PdfValue Colours =>
        _colours ??=
            kind == PdfKind.Print
                ? PdfValue.Array(
                    PdfValue.Name("ICCBased"),
                    PdfValue.To(file.Stream(new PdfDictionary { { "N", 3 } }, ColourProfile.Pictures.Bytes))
                )
                : PdfValue.Name("DeviceRGB");

    private PdfDictionary Image(int width, int height, PdfValue colours)
    {
        HasPhotographs = true;
        return new PdfDictionary("XObject")
        {
            { "Subtype", PdfValue.Name("Image") },
            { "Width", width },
            { "Height", height },
            { "BitsPerComponent", 8 },
            { "ColorSpace", colours },
        };
    }
}
