using AngleSharp.Dom;
using Kivren.Core.Content;
using Kivren.Formats.Import;

namespace Kivren.Formats.Html;

// Lists, terms and tables.
public sealed partial class HtmlReader
{
    private void List(IElement element, List<SourceBlock> blocks, int depth)
    {
        var at = Line(element);
        var items = new List<SourceItem>();
        foreach (var child in element.Children)
        {
            if (IsNote(child))
                continue;
            var inner = new List<SourceBlock>();
            if (child.Id is { Length: > 0 } id)
                _carried.Add(new SourceBookmark(id));
            if (child.LocalName == "li")
                Children(child, inner, depth + 1);
            else
                Block(child, inner, depth + 1);
            if (_carried.Count > 0 && inner.OfType<SourceParagraph>().FirstOrDefault() is { } p)
                inner[inner.IndexOf(p)] = p with { Spans = [.. Carried(), .. p.Spans] };
            // A list that stands in another without an item of its own belongs to the item before.
            if (child.LocalName is "ul" or "ol" && items.Count > 0)
                items[^1] = new SourceItem([.. items[^1].Blocks, .. inner]);
            else if (inner.Count > 0)
                items.Add(new SourceItem(inner));
        }
        if (items.Count == 0)
            return;
        var kind =
            element.LocalName != "ol"
                ? ListKind.Unordered
                : (element.GetAttribute("type") ?? "") switch
                {
                    "a" or "A" => ListKind.Alpha,
                    "i" or "I" => ListKind.Roman,
                    _ => element.ClassList.Contains("loweralpha") || element.ClassList.Contains("upperalpha") ? ListKind.Alpha
                    : element.ClassList.Contains("lowerroman") || element.ClassList.Contains("upperroman") ? ListKind.Roman
                    : ListKind.Decimal,
                };
        blocks.Add(
            new SourceList(
                at,
                element.LocalName == "ol" ? "ol" : "ul",
                kind,
                int.TryParse(element.GetAttribute("start"), out var start) ? start : 1,
                items
            )
        );
    }

    private void Definitions(IElement element, List<SourceBlock> blocks, int depth)
    {
        var at = Line(element);
        var definitions = new List<SourceDefinition>();
        foreach (var child in element.Children.SelectMany(c => c.LocalName == "div" ? c.Children : (IEnumerable<IElement>)[c]))
        {
            if (IsNote(child))
                continue;
            if (child.LocalName == "dt")
            {
                if (child.Id is { Length: > 0 } id)
                    _carried.Add(new SourceBookmark(id));
                var term = Carried();
                foreach (var node in child.ChildNodes)
                    Spans(node, term, SpanRoles.None, null);
                definitions.Add(new SourceDefinition(Line(child), term, []));
            }
            else
            {
                var inner = new List<SourceBlock>();
                Children(child, inner, depth + 1);
                if (definitions.Count == 0)
                    definitions.Add(new SourceDefinition(Line(child), [], []));
                definitions[^1] = definitions[^1] with { Blocks = [.. definitions[^1].Blocks, .. inner] };
            }
        }
        if (definitions.Count > 0)
            blocks.Add(new SourceDefinitions(at, "dl", definitions));
    }

    private void Table(IElement element, List<SourceBlock> blocks, int depth)
    {
        var at = Line(element);
        var rows = new List<SourceRow>();
        var headers = 0;
        var body = false;
        foreach (var row in element.QuerySelectorAll("tr").Where(r => ReferenceEquals(r.Closest("table"), element)))
        {
            var cells = new List<SourceCell>();
            var inHead = row.ParentElement?.LocalName == "thead" || row.Children.Length > 0 && row.Children.All(c => c.LocalName == "th");
            foreach (var cell in row.Children.Where(c => c.LocalName is "td" or "th"))
            {
                var inner = new List<SourceBlock>();
                Children(cell, inner, depth + 1);
                var align = (cell.GetAttribute("align") ?? cell.GetAttribute("style") ?? "").ToLowerInvariant();
                cells.Add(
                    new SourceCell(inner)
                    {
                        ColumnSpan = Spanned(cell, "colspan"),
                        RowSpan = Spanned(cell, "rowspan"),
                        Alignment =
                            align.Contains("right", StringComparison.Ordinal) ? CellAlignment.Right
                            : align.Contains("center", StringComparison.Ordinal) ? CellAlignment.Centre
                            : null,
                    }
                );
            }
            if (cells.Count == 0)
                continue;
            if (inHead && !body)
                headers++;
            else
                body = true;
            rows.Add(new SourceRow(cells));
        }
        if (rows.Count == 0)
            return;
        var captioned = element.Children.FirstOrDefault(c => c.LocalName == "caption");
        if (headers == 0 && Unframed(element, rows, captioned) is { } held)
        {
            blocks.AddRange(held);
            return;
        }
        var caption = captioned is not null ? CaptionOf(captioned) : Carried();
        if (headers == 0)
            headers = StrongRows.Heads(rows);
        blocks.Add(new SourceTable(at, Math.Min(headers, rows.Count), rows) { Caption = caption });
    }

    /// <summary>What stands in a table that is none: it only frames something, moves it in, or puts a sign beside it; null for any other
    /// table.</summary>
    private List<SourceBlock>? Unframed(IElement element, List<SourceRow> rows, IElement? captioned)
    {
        var at = Line(element);
        var full = rows.SelectMany(r => r.Cells).Where(c => c.Blocks.Any(b => b is not SourceParagraph p || !p.SaysNothing())).ToList();
        if (full.Count == 1)
        {
            var held = full[0].Blocks.ToList();
            if (captioned is not null)
                return Captioned(CaptionOf(captioned), held) ? held : null;
            if (element.ClassList.Any(c => c is "epigraph" or "blockquote"))
                return [new SourceGroup(at, "blockquote", held)];
            // A line round some paragraphs sets them apart from the text.
            var isLined = element.GetAttribute("border") is { Length: > 0 } border && border != "0";
            return isLined && held.All(b => b is SourceParagraph or SourceList) ? [new SourceGroup(at, "aside", held)] : held;
        }
        var table = new SourceTable(at, 0, rows);
        return
            captioned is null
            && rows.Count == 1
            && full.Count == 2
            && WithoutSign(table) is { } texts
            && SignOf(rows[0].Cells[0]) is { } kind
            ? [new SourceGroup(at, kind, TellSign(table, texts))]
            : null;
    }

    /// <summary>The admonition that a cell with nothing but a sign or a word names; null.</summary>
    private static string? SignOf(SourceCell cell) =>
        (
            SignalWords.KindOf(cell.Blocks.Words())
            ?? cell.Blocks.OfType<SourcePicture>().Select(p => SignalWords.KindOf(p.Alternative)).FirstOrDefault(k => k is not null)
        )
            ?.ToString()
            .ToLowerInvariant();

    private static int Spanned(IElement cell, string name) => int.TryParse(cell.GetAttribute(name), out var n) ? Math.Clamp(n, 1, 1000) : 1;

    private static string LanguageOf(IElement pre)
    {
        foreach (
            var name in new[] { pre, pre.FirstElementChild, pre.ParentElement, pre.ParentElement?.ParentElement }
                .OfType<IElement>()
                .SelectMany(e => e.ClassList)
        )
            if (name.StartsWith("language-", StringComparison.Ordinal))
                return name[9..];
            else if (name.StartsWith("highlight-", StringComparison.Ordinal) && name != "highlight-default")
                return name[10..];
        return "";
    }

    private static string Preformatted(IElement pre) => pre.TextContent.Replace("\r\n", "\n", StringComparison.Ordinal).Trim('\n');
}
