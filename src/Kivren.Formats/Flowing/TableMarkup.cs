using System.Globalization;
using System.Xml.Linq;
using Kivren.Core.Content;
using static Kivren.Formats.Flowing.Xhtml;

namespace Kivren.Formats.Flowing;

/// <summary>A table as XHTML: header cells say what they head, and what is wider than the page scrolls by itself.</summary>
internal static class TableMarkup
{
    public static IEnumerable<XElement> Of(
        Table table,
        InlineMarkup spans,
        XAttribute id,
        Func<object?[]> caption,
        Func<IReadOnlyList<Footnote>, XElement?> notes
    )
    {
        var before = spans.TakeNotes();
        var (grid, columns) = TableGrid.Of(table);
        var places = grid.ToDictionary(c => c.Cell.Id);
        var made = El("table", El("caption", caption()), Widths(table, columns));
        var words = table.Caption.PlainText();
        XElement? body = null;
        for (var r = 0; r < table.Rows.Count; r++)
        {
            var row = table.Rows[r];
            var header = r < table.HeaderRows;
            if (body is null || (header ? body.Name.LocalName != "thead" : body.Name.LocalName != "tbody" || row.Group))
                made.Add(body = El(header ? "thead" : "tbody"));
            body.Add(
                El(
                    "tr",
                    row.Group ? A("class", "group") : null,
                    row.Cells.Select(cell => places.TryGetValue(cell.Id, out var place) ? Cell(table, row, place, header, spans) : null),
                    // A row that is shorter than the table ends in empty cells.
                    Enumerable
                        .Repeat(0, columns - grid.Where(c => c.Row <= r && r < c.Row + c.Rows).Sum(c => c.Columns))
                        .Select(_ => El("td"))
                )
            );
        }
        yield return El(
            "div",
            A("class", "table"),
            id,
            A("role", "group"),
            A("tabindex", "0"),
            A("aria-label", words.Length > 0 ? words : "Table"),
            made
        );
        if (notes(spans.TakeNotes()) is { } own)
            yield return own;
        spans.PutBack(before);
    }

    private static XElement Cell(Table table, Row row, GridCell place, bool header, InlineMarkup spans)
    {
        var cell = place.Cell;
        var heads =
            header ? (place.Columns > 1 ? "colgroup" : "col")
            : row.Group ? "rowgroup"
            : table.HeaderColumn && place.Column == 0 ? "row"
            : null;
        var alignment = cell.Alignment ?? (place.Column < table.Columns.Count ? table.Columns[place.Column] : CellAlignment.Left);
        return El(
            heads is null ? "td" : "th",
            Maybe("scope", heads),
            Reach("colspan", place.Columns),
            Reach("rowspan", place.Rows),
            alignment == CellAlignment.Left ? null : A("class", alignment.ToString().ToLowerInvariant()),
            spans.Of(cell.Content)
        );
    }

    private static XAttribute? Reach(string name, int cells) => cells > 1 ? A(name, cells.ToString(CultureInfo.InvariantCulture)) : null;

    /// <summary>Columns by share keep their share; all others go by what they hold.</summary>
    private static XElement? Widths(Table table, int columns)
    {
        var shares = Enumerable.Range(0, columns).Select(c => c < table.Widths.Count ? table.Widths[c] : ColumnWidth.ByContent).ToList();
        var all = shares.Where(s => s.Kind == WidthKind.Share).Sum(s => s.Amount);
        return shares.TrueForAll(s => s.Kind == WidthKind.Share && s.Amount > 0)
            ? El(
                "colgroup",
                shares.Select(s =>
                    El("col", A("style", $"width: {(s.Amount * 100m / all).ToString("0.#", CultureInfo.InvariantCulture)}%"))
                )
            )
            : null;
    }
}
