using System.Collections.Concurrent;
using System.Globalization;
using System.Net;
using System.Text;
using Kivren.Core.Composition;
using Kivren.Core.Content;
using Kivren.Core.Display;
using Kivren.Core.Lists;
using Kivren.Core.Looks;
using Kivren.Core.Numbering;
using Kivren.Core.Type;
using Kivren.Formats.Pictures;
using SkiaSharp;

namespace Kivren.Formats.Pdf;

/// <summary>Writes a composition as PDF (composition.md 12). Screen: tagged structure, links, outline, page labels, metadata,
/// language (PDF/UA-1). Print: trim and bleed, crop marks, black in black ink alone, output intent, no links. The same
/// composition gives the same bytes.</summary>
public static class PdfWriter
{
    /// <param name="picture">the bytes of a picture by asset name, or null when it is missing</param>
    /// <param name="progress">told how many pages are written</param>
    public static void Write(
        ComposedManual manual,
        Func<string, byte[]?> picture,
        Stream output,
        Action<int>? progress = null,
        PdfOptions? options = null,
        CancellationToken cancel = default
    )
    {
        using var file = new PdfFile(output);
        new Job(manual, picture, file, options ?? new PdfOptions(), progress, cancel).Run();
    }

    private sealed class Job
    {
        private readonly ComposedManual _manual;
        private readonly Func<string, byte[]?> _picture;
        private readonly PdfFile _file;
        private readonly Action<int>? _progress;
        private readonly CancellationToken _cancel;
        private readonly Dictionary<Face, PdfFace> _faces = [];
        private readonly Dictionary<string, (string Resource, int Id, bool Vector, double Width, double Height)> _pictures = new(
            StringComparer.Ordinal
        );
        private readonly int[] _pageIds;
        private readonly PdfOptions _options;
        private readonly StructureTree? _structure;

        private bool Screen => _options.Kind == PdfKind.Screen;

        public Job(
            ComposedManual manual,
            Func<string, byte[]?> picture,
            PdfFile file,
            PdfOptions options,
            Action<int>? progress,
            CancellationToken cancel
        )
        {
            (_manual, _picture, _file, _options, _progress, _cancel) = (manual, picture, file, options, progress, cancel);
            if (Screen)
                _structure = new StructureTree(manual.Text, file, manual.Pages.Count);
            foreach (var face in FaceLibrary.All.OrderBy(f => f.Name, StringComparer.Ordinal))
                _faces.Add(face, new PdfFace(face, file.Allocate(), "F" + _faces.Count));
            _pageIds = manual.Pages.Select(_ => file.Allocate()).ToArray();
        }

        public void Run()
        {
            var root = _file.Allocate();
            var pages = _file.Allocate();
            var master = _manual.Look.Master;
            foreach (var asset in _manual.Text.Manual.Assets.OrderBy(a => a.Name, StringComparer.Ordinal))
                Picture(asset);
            const int batch = 64;
            for (var start = 0; start < _manual.Pages.Count; start += batch)
            {
                _cancel.ThrowIfCancellationRequested();
                var count = Math.Min(batch, _manual.Pages.Count - start);
                var contents = new (PageContent Content, DisplayPage Display, byte[] Packed)[count];
                var first = start;
                Parallel.For(0, count, i =>
                {
                    var display = DisplayList.Of(_manual.Pages[first + i], _manual.Look);
                    var content = new PageContent(_faces, display.Height, _options.Kind);
                    content.Paint(
                        display,
                        a => _pictures.TryGetValue(a, out var p) ? (p.Resource, p.Vector, p.Width, p.Height) : null,
                        _structure
                    );
                    contents[i] = (
                        content,
                        display,
                        PdfFile.Deflate(
                            Encoding.Latin1.GetBytes(
                                content.ToString() + (Screen ? "" : PrintMarks.Of(display.Width, display.Height, master.Bleed.Millipoints))
                            )
                        )
                    );
                });
                for (var i = 0; i < count; i++)
                {
                    var (content, display, packed) = contents[i];
                    Take(content);
                    var stream = _file.Allocate();
                    _file.Stream(stream, "", packed, deflated: true);
                    WritePage(start + i, pages, stream, content, display);
                }
                _progress?.Invoke(start + count);
            }
            var kids = _pageIds.ToList();
            // A print file's pages come in whole sheets; what is added is blank.
            while (!Screen && kids.Count % Math.Max(1, _options.PageMultiple) != 0)
            {
                var boxes = PrintMarks.Boxes(master.Width.Millipoints, master.Height.Millipoints, master.Bleed.Millipoints);
                kids.Add(_file.Object($"<</Type/Page/Parent {pages} 0 R{boxes}/Resources<<>>>>"));
            }
            foreach (var face in _faces.Values.Where(f => f.IsUsed).OrderBy(f => f.Id))
                face.Write(_file);
            _file.Object(pages, $"<</Type/Pages/Count {kids.Count}/Kids[{string.Join(' ', kids.Select(p => $"{p} 0 R"))}]>>");
            var outline = Screen ? Outline.Write(_manual, _file, target => Destination(target) ?? $"[{_pageIds[0]} 0 R/Fit]") : 0;
            var structure =
                _structure is { } tree && _pageIds.Length > 0 ? $"/MarkInfo<</Marked true>>/StructTreeRoot {tree.Write(_pageIds)} 0 R" : "";
            var metadata = _file.Allocate();
            var title = _manual.Text.Manual.Title;
            _file.Stream(metadata, "/Type/Metadata/Subtype/XML", Encoding.UTF8.GetBytes(Xmp(title)));
            _file.Object(
                root,
                $"<</Type/Catalog/Pages {pages} 0 R/PageLabels "
                    + $"{Labels()}/Lang({_manual.Text.Manual.Language})/ViewerPreferences<</DisplayDocTitle true>>"
                    + $"/PageMode{(outline > 0 ? "/UseOutlines" : "/UseNone")}/PageLayout/TwoPageRight/Metadata {metadata} 0 "
                    + $"R{(outline > 0 ? $"/Outlines {outline} 0 R" : "")}{structure}{(Screen ? "" : PrintMarks.Intent(_file, _options))}>>"
            );
            var info = _file.Object(
                $"<</Title{PdfFile.Text(title)}/Producer(Kivren){(Screen ? "" : "/GTS_PDFXVersion(PDF/X-4)/Trapped/False")}>>"
            );
            _file.Close(root, info);
        }

        private static void Take(PageContent content)
        {
            foreach (var (face, texts) in content.Texts)
            foreach (var (glyph, text) in texts)
                face.Use(glyph, text!);
        }

        private void WritePage(int sheet, int parent, int stream, PageContent content, DisplayPage display)
        {
            var fonts = string.Concat(content.Texts.Keys.OrderBy(f => f.Id).Select(f => $"/{f.Resource} {f.Id} 0 R"));
            var pictures = string.Concat(
                content.UsedPictures.Order(StringComparer.Ordinal).Select(p => $"/{_pictures[p].Resource} {_pictures[p].Id} 0 R")
            );
            var boxes = Screen
                ? $"/MediaBox[0 0 {PageContent.Number(display.Width / 1000.0)} {PageContent.Number(display.Height / 1000.0)}]"
                : PrintMarks.Boxes(display.Width, display.Height, _manual.Look.Master.Bleed.Millipoints);
            var extra = "";
            if (_structure is not null)
            {
                var links = display.Links.Select(l => LeadsSomewhere(l) ? _file.Allocate() : 0).ToArray();
                var keys = _structure.Take(sheet, content.Marks, links);
                for (var l = 0; l < links.Length; l++)
                    if (links[l] > 0)
                        _file.Object(links[l], Link(display.Links[l], display.Height, keys[l])!);
                var annotations = string.Concat(links.Where(l => l > 0).Select(l => $"{l} 0 R "));
                extra = $"/Tabs/S/StructParents {sheet}{(annotations.Length > 0 ? $"/Annots[{annotations}]" : "")}";
            }
            _file.Object(
                _pageIds[sheet],
                $"<</Type/Page/Parent {parent} 0 R{boxes}/Resources<</Font<<{fonts}>>/XObject<<{pictures}>>>>/Contents {stream} 0 "
                    + $"R{extra}>>"
            );
        }

        private bool LeadsSomewhere(LinkArea link) => link.Web is not null || Destination(link.Target) is not null;

        /// <param name="key">in the parent tree of the structure, or -1</param>
        private string? Link(LinkArea link, int height, int key)
        {
            string N(int millipoints) => PageContent.Number(millipoints / 1000.0);
            var common =
                $"<</Type/Annot/Subtype/Link/Rect[{N(link.X)} {N(height - link.Y - link.Height)} {N(link.X + link.Width)} "
                + $"{N(height - link.Y)}]/Border[0 0 0]/F 4{(key >= 0 ? $"/StructParent {key}" : "")}";
            if (link.Web is { } web)
                return $"{common}/A<</S/URI/URI({Escape(web)})>>/Contents{PdfFile.Text(web)}>>";
            return Destination(link.Target) is { } to ? $"{common}/Dest{to}/Contents{PdfFile.Text(link.Words)}>>" : null;
        }

        private static string Escape(string address) =>
            string.Concat(
                address.Select(c =>
                    c is '(' or ')' or '\\' ? "\\" + c
                    : c is > ' ' and <= '~' ? c.ToString()
                    : Uri.EscapeDataString(c.ToString())
                )
            );

        private string? Destination(Id target)
        {
            var at = _manual.Find(target) ?? FindEntry(target);
            if (at is not { } found)
                return null;
            var master = _manual.Pages[found.Sheet].IsTurned ? _manual.Look.Master.Turned() : _manual.Look.Master;
            var y = master.Height.Millipoints - master.Top.Millipoints - found.Y + 4_000;
            return $"[{_pageIds[found.Sheet]} 0 R/XYZ 0 {PageContent.Number(Math.Min(y, master.Height.Millipoints) / 1000.0)} null]";
        }

        private Dictionary<Id, Id>? _entryDivisions;

        private (int, int)? FindEntry(Id entry)
        {
            _entryDivisions ??= _manual.Index.Entries.GroupBy(e => e.Entry.Id).ToDictionary(g => g.Key, g => g.First().Division);
            return _entryDivisions.TryGetValue(entry, out var division) ? _manual.FindIn(division, entry) : null;
        }

        // ---- pictures ----

        private void Picture(Asset asset)
        {
            if (_picture(asset.Name) is not { } bytes)
                return;
            var resource = "P" + _pictures.Count;
            var id = _file.Allocate();
            try
            {
                if (asset.MediaType == "image/svg+xml")
                {
                    var drawing = SvgDrawing.Read(asset.Name, bytes);
                    var content = new PageContent(_faces, 0, _options.Kind);
                    content.Paint(drawing);
                    Take(content);
                    var fonts = string.Concat(content.Texts.Keys.OrderBy(f => f.Id).Select(f => $"/{f.Resource} {f.Id} 0 R"));
                    _file.Stream(
                        id,
                        $"/Type/XObject/Subtype/Form/BBox[0 0 {PageContent.Number(drawing.Width)} "
                            + $"{PageContent.Number(drawing.Height)}]/Resources<</Font<<{fonts}>>>>",
                        Encoding.Latin1.GetBytes(content.ToString())
                    );
                    _pictures.Add(asset.Name, (resource, id, true, drawing.Width, drawing.Height));
                }
                else
                {
                    if (asset.MediaType == "image/jpeg" && JpegHeader.Components(bytes) is { } components and (1 or 3))
                        _file.RawStream(
                            id,
                            $"/Type/XObject/Subtype/Image/Width {asset.Width}/Height {asset.Height}/BitsPerComponent "
                                + $"8/ColorSpace/{(components == 1 ? "DeviceGray" : "DeviceRGB")}/Filter/DCTDecode",
                            bytes
                        );
                    else
                        Pixels(id, bytes);
                    _pictures.Add(asset.Name, (resource, id, false, 1, 1));
                }
            }
            catch (PictureFormatException)
            {
                // The composition holds a loose end for it; the page shows an empty frame.
            }
        }

        private void Pixels(int id, byte[] bytes)
        {
            using var codec = SKCodec.Create(new SKMemoryStream(bytes));
            var info = new SKImageInfo(codec.Info.Width, codec.Info.Height, SKColorType.Rgba8888, SKAlphaType.Unpremul);
            var rgba = new byte[info.BytesSize];
            unsafe
            {
                fixed (byte* p = rgba)
                    codec.GetPixels(info, (IntPtr)p);
            }
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
            var image = $"/Type/XObject/Subtype/Image/Width {info.Width}/Height {info.Height}/BitsPerComponent 8";
            var mask = opaque ? "" : $"/SMask {_file.Stream(image + "/ColorSpace/DeviceGray", alpha)} 0 R";
            _file.Stream(id, image + "/ColorSpace/DeviceRGB" + mask, rgb);
        }

        // ---- labels, metadata ----

        private string Labels()
        {
            var labels = new StringBuilder("<</Nums[");
            (string Style, string Prefix, int Next) open = ("", "", 0);
            foreach (var page in _manual.Pages)
            {
                var (style, prefix, number) = Parts(page);
                if (style != open.Style || prefix != open.Prefix || number != open.Next)
                    labels.Append(
                        CultureInfo.InvariantCulture,
                        $"{page.Sheet}<</S/{style}{(prefix.Length > 0 ? "/P" + PdfFile.Text(prefix) : "")}/St {number}>>"
                    );
                open = (style, prefix, number + 1);
            }
            return labels.Append("]>>").ToString();
        }

        private (string Style, string Prefix, int Number) Parts(ComposedPage page)
        {
            var format = _manual.Look.SequenceOf(_manual.Divisions[page.Division].Numbers.Division.Kind).Format;
            if (format == FolioFormat.Roman)
                return ("r", "", NumberFormat.OfRoman(page.Folio));
            if (format == FolioFormat.Alpha)
                return ("a", "", page.Folio.Aggregate(0, (n, c) => n * 26 + c - 'a' + 1));
            var dash = page.Folio.LastIndexOf('-');
            return (
                "D",
                dash >= 0 ? page.Folio[..(dash + 1)] : "",
                int.TryParse(page.Folio[(dash + 1)..], CultureInfo.InvariantCulture, out var number) ? number : page.Sheet + 1
            );
        }

        private string Xmp(string title) =>
            $"<?xpacket begin=\"\uFEFF\" id=\"W5M0MpCehiHzreSzNTczkc9d\"?><x:xmpmeta xmlns:x=\"adobe:ns:meta/\"><rdf:RDF "
            + $"xmlns:rdf=\"http://www.w3.org/1999/02/22-rdf-syntax-ns#\"><rdf:Description rdf:about=\"\" "
            + $"xmlns:dc=\"http://purl.org/dc/elements/1.1/\" xmlns:pdf=\"http://ns.adobe.com/pdf/1.3/\" "
            + $"xmlns:pdfuaid=\"http://www.aiim.org/pdfua/ns/id/\" xmlns:pdfxid=\"http://www.npes.org/pdfx/ns/id/\"><dc:title>"
            + $"<rdf:Alt><rdf:li xml:lang=\"x-default\">{WebUtility.HtmlEncode(title)}</rdf:li></rdf:Alt></dc:title><dc:language>"
            + $"<rdf:Bag><rdf:li>{WebUtility.HtmlEncode(_manual.Text.Manual.Language)}</rdf:li></rdf:Bag></dc:language><pdf:Producer>"
            + $"Kivren</pdf:Producer>"
            + $"{(Screen ? "<pdfuaid:part>1</pdfuaid:part>" : "<pdfxid:GTS_PDFXVersion>PDF/X-4</pdfxid:GTS_PDFXVersion>")}"
            + $"</rdf:Description></rdf:RDF></x:xmpmeta><?xpacket end=\"r\"?>";
    }
}
