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

namespace Kivren.Formats.Pdf;

/// <summary>Writes a composition as PDF (composition.md 12). Screen: tagged structure, links, outline, page labels, metadata,
/// language (PDF/UA-1). Print: trim and bleed, crop marks, black in black ink alone, output intent, no links. The same
/// composition gives the same bytes.</summary>
public static class PdfWriter
{
    /// <param name="picture">the bytes of a picture by asset name, or null when it is missing</param>
    /// <param name="progress">told how many pages are written</param>
    public static PdfWritten Write(
        ComposedManual manual,
        Func<string, byte[]?> picture,
        Stream output,
        Action<int>? progress = null,
        PdfOptions? options = null,
        CancellationToken cancel = default
    )
    {
        using var file = new PdfFile(output);
        return new Job(manual, null, picture, file, options ?? new PdfOptions(), progress, cancel).Run();
    }

    /// <summary>Writes a cover, always for print.</summary>
    /// <param name="shown">what it shows, composed</param>
    public static PdfWritten WriteCover(
        ComposedManual shown,
        CoverSheet sheet,
        Func<string, byte[]?> picture,
        Stream output,
        PdfOptions options,
        CancellationToken cancel = default
    )
    {
        using var file = new PdfFile(output);
        return new Job(shown, sheet, picture, file, options with { Kind = PdfKind.Print, PageMultiple = 1 }, null, cancel).Run();
    }

    private sealed class Job
    {
        private readonly ComposedManual _manual;
        private readonly PdfFile _file;
        private readonly Action<int>? _progress;
        private readonly CancellationToken _cancel;
        private readonly PdfFaces _faces;
        private readonly PdfPictures _pictures;
        private readonly int[] _pageIds;
        private readonly PdfOptions _options;
        private readonly StructureTree? _structure;
        private readonly CoverSheet? _cover;
        private int _mostInk;

        private bool Screen => _options.Kind == PdfKind.Screen;

        /// <param name="cover">the one sheet that is written in place of the pages; or null</param>
        public Job(
            ComposedManual manual,
            CoverSheet? cover,
            Func<string, byte[]?> picture,
            PdfFile file,
            PdfOptions options,
            Action<int>? progress,
            CancellationToken cancel
        )
        {
            (_manual, _cover, _file, _options, _progress, _cancel) = (manual, cover, file, options, progress, cancel);
            if (Screen)
                _structure = new StructureTree(manual.Text, file, manual.Pages.Count);
            _faces = new PdfFaces(file, manual.Look);
            _pictures = new PdfPictures(picture, file, _faces, options.Kind);
            _pageIds = Enumerable.Range(0, cover is null ? manual.Pages.Count : 1).Select(_ => file.Allocate()).ToArray();
        }

        public PdfWritten Run()
        {
            var root = _file.Allocate();
            var pages = _file.Allocate();
            var master = _manual.Look.Master;
            foreach (var asset in _manual.Text.Manual.Assets.Where(a => a.IsPicture).OrderBy(a => a.Name, StringComparer.Ordinal))
                _pictures.Write(asset);
            WritePages(pages);
            var kids = _pageIds.ToList();
            // A print file's pages come in whole sheets; what is added is blank.
            while (!Screen && kids.Count % Math.Max(1, _options.PageMultiple) != 0)
            {
                kids.Add(
                    _file.Object(
                        new PdfDictionary("Page")
                        {
                            { "Parent", PdfValue.To(pages) },
                            PrintMarks.Boxes(master.Width.Millipoints, master.Height.Millipoints, master.Bleed.Millipoints, _options.Marks),
                            { "Resources", new PdfDictionary() },
                        }
                    )
                );
            }
            foreach (var face in _faces.Used)
                face.Write(_file);
            _file.Object(
                pages,
                new PdfDictionary("Pages") { { "Count", kids.Count }, { "Kids", PdfValue.Array(kids.Select(PdfValue.To)) } }
            );
            _file.Object(root, Catalog(pages));
            _file.Close(root, _file.Object(Information()));
            return new PdfWritten([.. _faces.Used.Select(f => f.Face.PrintName)])
            {
                MostInk = Math.Max(_mostInk, _pictures.MostInk),
                HasPhotographs = _pictures.HasPhotographs,
            };
        }

        /// <summary>A page as it is painted, before it has its place in the file.</summary>
        private readonly record struct Painted(PageContent Content, DisplayPage Display, byte[] Packed);

        /// <summary>Paints pages some at a time on as many threads as there are, and the next while these are written.</summary>
        private void WritePages(int parent)
        {
            const int batch = 64;
            Task<Painted[]> From(int first) =>
                Task.Run(() => Paint(first, Math.Min(batch, _pageIds.Length - first)), CancellationToken.None);
            var coming = From(0);
            try
            {
                for (var start = 0; start < _pageIds.Length; start += batch)
                {
                    _cancel.ThrowIfCancellationRequested();
                    var painted = coming.GetAwaiter().GetResult();
                    if (start + batch < _pageIds.Length)
                        coming = From(start + batch);
                    for (var i = 0; i < painted.Length; i++)
                    {
                        var (content, display, packed) = painted[i];
                        PdfFace.Use(content);
                        _mostInk = Math.Max(_mostInk, content.MostInk);
                        var stream = _file.Allocate();
                        _file.Packed(stream, [], "FlateDecode", packed);
                        WritePage(start + i, parent, stream, content, display);
                    }
                    _progress?.Invoke(start + painted.Length);
                }
            }
            finally
            {
                // Whatever stopped the writing, nothing goes on behind the caller's back.
                coming.ContinueWith(t => _ = t.Exception, TaskScheduler.Default).Wait(CancellationToken.None);
            }
        }

        private Painted[] Paint(int first, int count)
        {
            var painted = new Painted[Math.Max(0, count)];
            Parallel.For(0, painted.Length, i =>
            {
                var display = _cover?.Page ?? DisplayList.Of(_manual.Pages[first + i], _manual.Look);
                var marked = !Screen && _options.Marks;
                var content = new PageContent(_faces, display.Height, _options.Kind);
                content.Paint(marked ? WithInfo(display, first + i) : display, _pictures.Find, _structure);
                var marks = marked
                    ? PrintMarks.Of(display.Width, display.Height, _manual.Look.Master.Bleed.Millipoints, _cover?.Folds ?? [])
                    : "";
                painted[i] = new Painted(content, display, PdfFile.Deflate(Encoding.Latin1.GetBytes(content + marks)));
            });
            return painted;
        }

        /// <summary>A page with what a printer reads under it.</summary>
        private DisplayPage WithInfo(DisplayPage page, int sheet) =>
            page with
            {
                Items =
                [
                    .. page.Items,
                    .. PrintMarks.Info(
                        page,
                        _manual.Look.Master.Bleed.Millipoints,
                        $"{_manual.Text.Manual.Title}, {_manual.Text.Edition.Name} · {WhichSheet(sheet)}"
                    ),
                ],
            };

        private string WhichSheet(int sheet) =>
            _cover is not null
                ? "cover"
                : string.Create(
                    CultureInfo.InvariantCulture,
                    $"page {_manual.Pages[sheet].Folio} · sheet {sheet + 1} of {_manual.Pages.Count}"
                );

        private string PdfDate => _options.Moment.UtcDateTime.ToString("'D:'yyyyMMddHHmmss'Z'", CultureInfo.InvariantCulture);

        private PdfDictionary Catalog(int pages)
        {
            var outline = Screen ? Outline.Write(_manual, _file, _options.OutlineDepth, target => Destination(target) ?? WholePage(0)) : 0;
            var structure = _structure is { } tree && _pageIds.Length > 0 ? tree.Write(_pageIds) : 0;
            var metadata = _file.Stream(
                new PdfDictionary("Metadata") { { "Subtype", PdfValue.Name("XML") } },
                Encoding.UTF8.GetBytes(Xmp(_manual.Text.Manual.Title))
            );
            PdfDictionary? labels = _cover is null ? Labels() : null;
            var catalog = new PdfDictionary("Catalog")
            {
                { "Pages", PdfValue.To(pages) },
                { "PageLabels", labels },
                { "Lang", PdfValue.Ascii(_manual.Text.Manual.Language) },
                {
                    "ViewerPreferences",
                    new PdfDictionary
                    {
                        { "DisplayDocTitle", true },
                        { "Direction", LanguageWords.IsFromRight(_manual.Text.Manual.Language) ? PdfValue.Name("R2L") : null },
                    }
                },
                { "PageMode", PdfValue.Name(outline > 0 ? "UseOutlines" : "UseNone") },
                { "PageLayout", PdfValue.Name(_options.Facing ? "TwoPageRight" : "OneColumn") },
                { "Metadata", PdfValue.To(metadata) },
            };
            if (outline > 0)
                catalog.Add("Outlines", PdfValue.To(outline));
            if (structure > 0)
                catalog.Add(
                    new PdfDictionary
                    {
                        {
                            "MarkInfo",
                            new PdfDictionary { { "Marked", true } }
                        },
                        { "StructTreeRoot", PdfValue.To(structure) },
                    }
                );
            if (!Screen)
                catalog.Add("OutputIntents", PdfValue.Array(PrintMarks.Intent(_file, _options)));
            return catalog;
        }

        private PdfDictionary Information()
        {
            var information = new PdfDictionary
            {
                { "Title", PdfValue.Text(_manual.Text.Manual.Title) },
                { "Producer", PdfValue.Ascii("Kivren") },
            };
            if (!Screen)
                information.Add(new PdfDictionary { { "CreationDate", PdfValue.Ascii(PdfDate) }, { "ModDate", PdfValue.Ascii(PdfDate) } });
            if (!Screen)
                information.Add(
                    new PdfDictionary { { "GTS_PDFXVersion", PdfValue.Ascii("PDF/X-4") }, { "Trapped", PdfValue.Name("False") } }
                );
            return information;
        }

        private void WritePage(int sheet, int parent, int stream, PageContent content, DisplayPage display)
        {
            var boxes = Screen
                ? new PdfDictionary { { "MediaBox", PdfValue.Array(0, 0, display.Width / 1000.0, display.Height / 1000.0) } }
                : PrintMarks.Boxes(display.Width, display.Height, _manual.Look.Master.Bleed.Millipoints, _options.Marks);
            var page = new PdfDictionary("Page")
            {
                { "Parent", PdfValue.To(parent) },
                boxes,
                {
                    "Resources",
                    new PdfDictionary { PdfFace.Resources(content), _pictures.Resources(content) }
                },
                { "Contents", PdfValue.To(stream) },
            };
            if (_structure is not null)
            {
                var links = display.Links.Select(l => LeadsSomewhere(l) ? _file.Allocate() : 0).ToArray();
                var keys = _structure.Take(sheet, content.Marks, links);
                for (var l = 0; l < links.Length; l++)
                    if (links[l] > 0)
                        _file.Object(links[l], Link(display.Links[l], display.Height, keys[l]));
                page.Add("Tabs", PdfValue.Name("S"));
                page.Add("StructParents", sheet);
                if (links.Any(l => l > 0))
                    page.Add("Annots", PdfValue.Array(links.Where(l => l > 0).Select(PdfValue.To)));
            }
            _file.Object(_pageIds[sheet], page);
        }

        private bool LeadsSomewhere(LinkArea link) => link.Web is not null || Destination(link.Target) is not null;

        /// <summary>A link that leads somewhere.</summary>
        /// <param name="key">in the parent tree of the structure, or -1</param>
        private PdfDictionary Link(LinkArea link, int height, int key)
        {
            var area = PdfValue.Array(
                link.X / 1000.0,
                (height - link.Y - link.Height) / 1000.0,
                (link.X + link.Width) / 1000.0,
                (height - link.Y) / 1000.0
            );
            var annotation = new PdfDictionary("Annot")
            {
                { "Subtype", PdfValue.Name("Link") },
                { "Rect", area },
                { "Border", PdfValue.Array(0, 0, 0) },
                { "F", 4 },
                { "StructParent", key >= 0 ? key : null },
            };
            if (link.Web is { } web)
                annotation.Add("A", new PdfDictionary { { "S", PdfValue.Name("URI") }, { "URI", PdfValue.Ascii(web) } });
            else
                annotation.Add("Dest", Destination(link.Target));
            annotation.Add("Contents", PdfValue.Text(link.Web ?? link.Words));
            return annotation;
        }

        private PdfValue WholePage(int sheet) => PdfValue.Array(PdfValue.To(_pageIds[sheet]), PdfValue.Name("Fit"));

        private PdfValue? Destination(Id target)
        {
            var at = _manual.Find(target) ?? FindEntry(target);
            if (at is not { } found)
                return null;
            var master = _manual.Pages[found.Sheet].Master;
            var y = master.Height.Millipoints - master.Top.Millipoints - found.Y + 4_000;
            var top = Math.Min(y, master.Height.Millipoints) / 1000.0;
            return PdfValue.Array(PdfValue.To(_pageIds[found.Sheet]), PdfValue.Name("XYZ"), 0, top, PdfValue.Null);
        }

        private Dictionary<Id, Id>? _entryDivisions;

        private (int, int)? FindEntry(Id entry)
        {
            _entryDivisions ??= _manual.Index.Entries.GroupBy(e => e.Entry.Id).ToDictionary(g => g.Key, g => g.First().Division);
            return _entryDivisions.TryGetValue(entry, out var division) ? _manual.FindIn(division, entry) : null;
        }

        // ---- labels, metadata ----

        private PdfDictionary Labels()
        {
            var labels = new List<PdfValue>();
            (string Style, string Prefix, int Next) open = ("", "", 0);
            foreach (var page in _manual.Pages)
            {
                var (style, prefix, number) = Parts(page);
                if (style != open.Style || prefix != open.Prefix || number != open.Next)
                    labels.AddRange([
                        page.Sheet,
                        new PdfDictionary
                        {
                            { "S", style.Length > 0 ? PdfValue.Name(style) : null },
                            { "P", prefix.Length > 0 ? PdfValue.Text(prefix) : null },
                            { "St", number > 0 ? number : null },
                        },
                    ]);
                open = (style, prefix, number + 1);
            }
            return new PdfDictionary { { "Nums", PdfValue.Array(labels) } };
        }

        private (string Style, string Prefix, int Number) Parts(ComposedPage page)
        {
            if (page.FolioFormat == FolioFormat.Roman)
                return ("r", "", NumberFormat.OfRoman(page.Folio));
            // Behind z readers count aa, bb (ISO 32000-1, 12.4.2), folios aa, ab: those are said whole.
            if (page.FolioFormat == FolioFormat.Alpha)
                return page.Folio is [var letter] ? ("a", "", letter - 'a' + 1) : ("", page.Folio, 0);
            var dash = page.Folio.LastIndexOf('-');
            return (
                "D",
                dash >= 0 ? page.Folio[..(dash + 1)] : "",
                int.TryParse(page.Folio[(dash + 1)..], CultureInfo.InvariantCulture, out var number) ? number : page.Sheet + 1
            );
        }

        /// <summary>What PDF/X-4 (ISO 15930-7, 6.10) wants to be said of a file.</summary>
        private string ForPrint()
        {
            var moment = _options.Moment.UtcDateTime.ToString("yyyy-MM-dd'T'HH:mm:ss'Z'", CultureInfo.InvariantCulture);
            var named = $"{_manual.Text.Manual.Id} {_manual.Text.Edition.Name} {moment}";
            var id = new Guid(System.Security.Cryptography.SHA256.HashData(Encoding.UTF8.GetBytes(named)).AsSpan(0, 16));
            return $"<pdfxid:GTS_PDFXVersion>PDF/X-4</pdfxid:GTS_PDFXVersion><pdf:Trapped>False</pdf:Trapped>"
                + $"<xmp:CreateDate>{moment}</xmp:CreateDate><xmp:ModifyDate>{moment}</xmp:ModifyDate>"
                + $"<xmp:MetadataDate>{moment}</xmp:MetadataDate><xmpMM:DocumentID>uuid:{id}</xmpMM:DocumentID>"
                + $"<xmpMM:VersionID>1</xmpMM:VersionID><xmpMM:RenditionClass>default</xmpMM:RenditionClass>";
        }

        private string Xmp(string title) =>
            $"<?xpacket begin=\"\uFEFF\" id=\"W5M0MpCehiHzreSzNTczkc9d\"?><x:xmpmeta xmlns:x=\"adobe:ns:meta/\"><rdf:RDF "
            + $"xmlns:rdf=\"http://www.w3.org/1999/02/22-rdf-syntax-ns#\"><rdf:Description rdf:about=\"\" "
            + $"xmlns:dc=\"http://purl.org/dc/elements/1.1/\" xmlns:pdf=\"http://ns.adobe.com/pdf/1.3/\" "
            + $"xmlns:pdfuaid=\"http://www.aiim.org/pdfua/ns/id/\" xmlns:pdfxid=\"http://www.npes.org/pdfx/ns/id/\" "
            + $"xmlns:xmp=\"http://ns.adobe.com/xap/1.0/\" xmlns:xmpMM=\"http://ns.adobe.com/xap/1.0/mm/\"><dc:title>"
            + $"<rdf:Alt><rdf:li xml:lang=\"x-default\">{WebUtility.HtmlEncode(title)}</rdf:li></rdf:Alt></dc:title><dc:language>"
            + $"<rdf:Bag><rdf:li>{WebUtility.HtmlEncode(_manual.Text.Manual.Language)}</rdf:li></rdf:Bag></dc:language><pdf:Producer>"
            + $"Kivren</pdf:Producer>"
            + $"{(Screen ? "<pdfuaid:part>1</pdfuaid:part>" : ForPrint())}"
            + $"</rdf:Description></rdf:RDF></x:xmpmeta><?xpacket end=\"r\"?>";
    }
}
