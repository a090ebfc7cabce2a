using System.Xml.Linq;
using Kivren.Core.Content;
using Kivren.Formats.Import;

namespace Kivren.Formats.DocBook;

// Tables and figures.
public sealed partial class DocBookReader
{
    private void Table(XElement element, List<SourceBlock> blocks, int section, int depth)
    {
        var at = Line(element);
        List<SourceSpan> caption =
        [
            .. Named(element),
            .. (Child(element, "title") ?? Child(element, "caption")) is { } title ? SpansOf(title) : [],
        ];
        var rows = new List<SourceRow>();
        var headers = 0;
        var columns = new Dictionary<string, int>(StringComparer.Ordinal);
        var spans = new Dictionary<string, (string, string)>(StringComparer.Ordinal);
        foreach (var column in element.Descendants().Where(e => e.Name.LocalName == "colspec"))
            if (column.Attribute("colname")?.Value is { } named)
                columns.TryAdd(named, columns.Count);
        foreach (var spec in element.Descendants().Where(e => e.Name.LocalName == "spanspec"))
            if (spec.Attribute("spanname")?.Value is { } named)
                spans[named] = (spec.Attribute("namest")?.Value ?? "", spec.Attribute("nameend")?.Value ?? "");
        foreach (
            var row in element
                .Descendants()
                .Where(e =>
                    e.Name.LocalName is "row" or "tr"
                    && ReferenceEquals(e.Ancestors().First(a => a.Name.LocalName is "table" or "informaltable" or "entrytbl"), element)
                )
        )
        {
            var cells = new List<SourceCell>();
            foreach (var entry in row.Elements().Where(e => e.Name.LocalName is "entry" or "td" or "th" or "entrytbl"))
            {
                var inner = new List<SourceBlock>();
                Children(entry, inner, section, depth + 1);
                var (from, to) =
                    entry.Attribute("spanname")?.Value is { } s && spans.TryGetValue(s, out var spec)
                        ? spec
                        : (entry.Attribute("namest")?.Value ?? "", entry.Attribute("nameend")?.Value ?? "");
                var wide =
                    columns.TryGetValue(from, out var a) && columns.TryGetValue(to, out var b) && b > a
                        ? b - a + 1
                        : Number(entry, "colspan", 1);
                cells.Add(
                    new SourceCell(inner)
                    {
                        ColumnSpan = wide,
                        RowSpan = Number(entry, "rowspan", Number(entry, "morerows", 0) + 1),
                        Alignment = entry.Attribute("align")?.Value switch
                        {
                            "right" => CellAlignment.Right,
                            "center" => CellAlignment.Centre,
                            "char" => CellAlignment.Decimal,
                            _ => null,
                        },
                    }
                );
            }
            if (cells.Count == 0)
                continue;
            if (row.Parent!.Name.LocalName == "thead")
                headers++;
            rows.Add(new SourceRow(cells));
        }
        if (rows.Count > 0)
            blocks.Add(new SourceTable(at, headers, rows) { Caption = caption });
    }

    private static int Number(XElement element, string name, int otherwise) =>
        int.TryParse(element.Attribute(name)?.Value, out var n) ? Math.Clamp(n, 1, 100_000) : otherwise;

    private void Figure(XElement element, List<SourceBlock> blocks, int section, int depth)
    {
        var at = Line(element);
        List<SourceSpan> caption = [.. Named(element), .. Child(element, "title") is { } title ? SpansOf(title) : []];
        var media = element.DescendantsAndSelf().Where(e => e.Name.LocalName is "mediaobject" or "inlinemediaobject").ToList();
        if (media.Count == 0)
        {
            _carried.AddRange(caption.OfType<SourceBookmark>());
            var inner = new List<SourceBlock>();
            Children(element, inner, section, depth);
            if (inner is [SourceListing listing])
                inner[0] = listing with { Caption = caption };
            else if (caption.Words().Length > 0)
                inner.Add(new SourceParagraph(at, "caption", caption));
            blocks.AddRange(inner);
            return;
        }
        for (var i = 0; i < media.Count; i++)
        {
            var own = i == media.Count - 1 ? caption : [];
            if (Child(media[i], "caption") is { } under)
                own = [.. own, .. own.Words().Length > 0 ? [new SourceRun(". ")] : Array.Empty<SourceSpan>(), .. SpansOf(under)];
            var texts = media[i]
                .Elements()
                .Concat(element.Elements())
                .Distinct()
                .Where(e => e.Name.LocalName is "textobject" or "alt")
                .Select(SpacedWords)
                .Where(w => w.Length > 0)
                .ToArray();
            var alternative = texts.FirstOrDefault() ?? "";
            foreach (var more in texts.Skip(1))
                Tell(
                    ReportKind.LeftOut,
                    "A second text that stands for the picture was left out: a figure has one alternative text.",
                    more
                );
            if (Asset(media[i], out var named) is { } asset)
                blocks.Add(new SourcePicture(at, asset, alternative) { Caption = own, SaidWidth = WidthOf(media[i]) });
            // A figure stays one without its file: the frame waits for it.
            else if (named.Length > 0)
                blocks.Add(new SourcePicture(at, Path.GetFileName(named), alternative) { Caption = own });
            else if (own.Words().Trim().Length > 0 && alternative.Length > 0)
            {
                Tell(ReportKind.LeftOut, "The alternative text of a picture without a file was left out.", alternative);
                blocks.Add(new SourceParagraph(at, "caption", own));
            }
            else if (own.Words().Trim().Length > 0 || alternative.Length > 0)
                blocks.Add(new SourceParagraph(at, "caption", own.Words().Trim().Length > 0 ? own : [new SourceRun(alternative)]));
        }
    }

    /// <summary>Width of the picture, else of the area that it stands in (5.1, imagedata).</summary>
    private static string WidthOf(XElement media) =>
        media.Descendants().Where(e => e.Name.LocalName == "imagedata") is var data
            ? data.Attributes("contentwidth").Concat(data.Attributes("width")).FirstOrDefault()?.Value ?? ""
            : "";

    /// <summary>The file that a picture is, or null when it is not there.</summary>
    /// <param name="missing">the file that it names then; "" when it names none</param>
    private string? Asset(XElement media, out string missing)
    {
        missing = "";
        var named = media
            .Descendants()
            .Where(e => e.Name.LocalName == "imagedata")
            .Select(e => e.Attribute("fileref")?.Value)
            .OfType<string>()
            .ToList();
        // The drawing before the raster, when a picture is given in several forms.
        named.AddRange(
            named
                .SelectMany(n =>
                    new[] { Path.ChangeExtension(n, ".svg"), Path.ChangeExtension(n, ".png"), Path.ChangeExtension(n, ".jpg") }
                )
                .Except(named)
                .ToArray()
        );
        foreach (var reference in named.OrderByDescending(n => n.EndsWith(".svg", StringComparison.OrdinalIgnoreCase)))
            if (_beside.TryGetValue(reference, out var bytes) || _beside.TryGetValue(Path.GetFileName(reference), out bytes))
            {
                var name = Path.GetFileName(reference);
                _pictures[name] = bytes;
                return name;
            }
        missing = named.Count > 0 ? named[0] : "";
        return null;
    }
}
