using System.Globalization;
using System.Xml.Linq;
using DocumentFormat.OpenXml.Packaging;
using Kivren.Core.Content;
using Kivren.Formats.Import;

namespace Kivren.Formats.Docx;

// Drawings, old pictures, boxes of text.
public sealed partial class WordReader
{
    private void Drawing(XElement drawing, SpanRun into)
    {
        var described = drawing.Descendants().FirstOrDefault(e => e.Name.LocalName == "docPr");
        var alternative = described.Get("descr") is { Length: > 0 } words ? words : "";
        var height = drawing.Descendants().FirstOrDefault(e => e.Name.LocalName == "extent")?.Attribute("cy")?.Value;
        var small =
            long.TryParse(height, CultureInfo.InvariantCulture, out var cy)
            && cy <= SmallPicture
            && drawing.Elements().Any(e => e.Name.LocalName == "inline");
        var width =
            long.TryParse(
                drawing.Descendants().FirstOrDefault(e => e.Name.LocalName == "extent")?.Attribute("cx")?.Value,
                CultureInfo.InvariantCulture,
                out var cx
            )
            && cx > 0
                ? (int)Math.Clamp(cx * 100 / _measure, 5, 100)
                : 100;
        // Nearly as wide as the lines is meant to be as wide.
        if (width >= 90)
            width = 100;
        var blips = drawing.Descendants().Where(e => e.Name.LocalName == "blip").ToList();
        foreach (var blip in blips)
        {
            // A drawing kept beside its raster copy is the better one.
            var svg = blip.Descendants().FirstOrDefault(e => e.Name.LocalName == "svgBlip").Get("embed");
            Picture(svg ?? blip.Get("embed"), alternative, small, width, into, svg is null ? null : blip.Get("embed"));
            if (blip.Get("embed") is null && blip.Get("link") is { } link)
                Tell(ReportKind.LeftOut, $"A picture lies outside the document ({LinkOf(link)}); bring it in by itself.");
        }
        foreach (var box in drawing.Descendants().Where(e => e.Name.LocalName == "txbxContent").ToList())
            TextBox(box, into);
        if (blips.Count == 0 && !drawing.Descendants().Any(e => e.Name.LocalName == "txbxContent"))
        {
            var uri = drawing.Descendants().FirstOrDefault(e => e.Name.LocalName == "graphicData").Get("uri") ?? "";
            Tell(
                ReportKind.LeftOut,
                uri.Contains("chart", StringComparison.Ordinal)
                        ? "A chart was left out: it is no picture. Export it as a picture and bring that in."
                    : uri.Contains("diagram", StringComparison.Ordinal)
                        ? "A diagram was left out: it is no picture. Export it as a picture and bring that in."
                    : "A drawn shape was left out. Export it as a picture and bring that in."
            );
        }
    }

    private string LinkOf(string id)
    {
        try
        {
            return _part!.ExternalRelationships.FirstOrDefault(r => r.Id == id)?.Uri.OriginalString ?? id;
        }
        catch (Exception e) when (e is UriFormatException or OpenXmlPackageException)
        {
            return id;
        }
    }

    /// <summary>Pictures and text boxes of the older markup.</summary>
    private void OldPicture(XElement pict, SpanRun into)
    {
        foreach (var data in pict.Descendants().Where(e => e.Name.LocalName == "imagedata").ToList())
            Picture(
                data.Get("id") ?? data.Get("href"),
                data.Ancestors().FirstOrDefault(a => a.Name.LocalName is "shape" or "rect").Get("alt") ?? "",
                false,
                100,
                into,
                null
            );
        foreach (var box in pict.Descendants().Where(e => e.Name.LocalName == "txbxContent").ToList())
            TextBox(box, into);
        if (pict.Name.LocalName == "object")
            TellOnce(ReportKind.Changed, "An object of another program came in as its picture.");
    }

    private void TextBox(XElement box, SpanRun into)
    {
        if (Swallowing is not null)
            return;
        var blocks = Blocks(box);
        if (blocks.Words().Trim().Length > 0)
            into.After.Add(new SourceGroup(_place, "Text box", blocks));
    }

    private void Picture(string? id, string alternative, bool small, int width, SpanRun into, string? otherwise)
    {
        if (id is null || Swallowing is not null)
            return;
        try
        {
            var part = _part!.GetPartById(id);
            var name = Path.GetFileName(part.Uri.OriginalString);
            if (!_pictures.ContainsKey(name))
            {
                using var stream = part.GetStream(FileMode.Open, FileAccess.Read);
                using var copy = new MemoryStream();
                stream.CopyTo(copy);
                _pictures[name] = copy.ToArray();
            }
            if (small)
                Add(into, new SourceAtom(new InlinePicture(Id.None, name, alternative)));
            into.Pictures.Add((new SourcePicture(_place, name, alternative) { Width = width }, small));
        }
        catch (Exception e)
            when (e
                    is ArgumentOutOfRangeException
                        or KeyNotFoundException
                        or OpenXmlPackageException
                        or IOException
                        or InvalidDataException
                        or InvalidOperationException
                        or UriFormatException
            )
        {
            if (otherwise is not null)
                Picture(otherwise, alternative, small, width, into, null);
            else
                Tell(ReportKind.LeftOut, $"A picture is missing from the file ({id}).");
        }
    }
}
