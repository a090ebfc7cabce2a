using System.Globalization;
using System.Xml.Linq;
using Kivren.Core.Content;
using Kivren.Formats.Import;

namespace Kivren.Formats.Docx;

// Tables, their rows and cells.
public sealed partial class WordReader
{
    private void Table(XElement tbl, List<SourceBlock> blocks)
    {
        var at = _place + 1;
        var rows = new List<(XElement Row, List<(SourceCell Cell, int Column, bool Continues)> Cells)>();
        foreach (var tr in Rows(tbl))
        {
            var column = tr.One("trPr").One("gridBefore").Number("val") ?? 0;
            var cells = new List<(SourceCell, int, bool)>();
            foreach (var tc in Cells(tr))
            {
                var properties = tc.One("tcPr");
                var wide = Math.Clamp(properties.One("gridSpan").Number("val") ?? 1, 1, 1000);
                var merge = properties.One("vMerge");
                var alignment = tc.Many("p").FirstOrDefault().One("pPr").Val("jc") switch
                {
                    "right" or "end" => CellAlignment.Right,
                    "center" => CellAlignment.Centre,
                    _ => (CellAlignment?)null,
                };
                cells.Add(
                    (
                        new SourceCell(Blocks(tc)) { ColumnSpan = wide, Alignment = alignment },
                        column,
                        merge is not null && merge.Get("val") is not "restart"
                    )
                );
                column += wide;
            }
            rows.Add((tr, cells));
        }
        // Cells merged downward: the first takes those below it.
        var made = new List<SourceRow>();
        for (var r = 0; r < rows.Count; r++)
            made.Add(
                new SourceRow(
                    rows[r]
                        .Cells.Where(c => !c.Continues || !Above(r, c.Column))
                        .Select(c =>
                        {
                            var high = 1;
                            while (r + high < rows.Count && rows[r + high].Cells.Any(b => b.Column == c.Column && b.Continues))
                                high++;
                            var below = Enumerable
                                .Range(r + 1, high - 1)
                                .SelectMany(b => rows[b].Cells.First(x => x.Column == c.Column).Cell.Blocks)
                                .Where(b => new[] { b }.Words().Trim().Length > 0);
                            return c.Cell with { RowSpan = high, Blocks = [.. c.Cell.Blocks, .. below] };
                        })
                        .ToArray()
                )
            );
        bool Above(int r, int column) => r > 0 && rows[r - 1].Cells.Any(c => c.Column == column);
        if (made.Count == 0)
            return;
        if (made is [{ Cells.Count: 1 }] && _depth < 3)
        {
            // One cell with a rule round it: a box.
            blocks.Add(new SourceGroup(at, "Box (a table of one cell)", made[0].Cells[0].Blocks));
            return;
        }
        blocks.Add(new SourceTable(at, HeaderRows(tbl, rows.Select(r => r.Row).ToList(), made), made));
    }

    private static IEnumerable<XElement> Rows(XElement tbl) =>
        tbl.Elements()
            .SelectMany(e =>
                e.Name.LocalName switch
                {
                    "tr" => [e],
                    "sdt" => e.One("sdtContent").Many("tr"),
                    "customXml" or "ins" => e.Many("tr"),
                    _ => Array.Empty<XElement>(),
                }
            );

    private static IEnumerable<XElement> Cells(XElement tr) =>
        tr.Elements()
            .SelectMany(e =>
                e.Name.LocalName switch
                {
                    "tc" => [e],
                    "sdt" => e.One("sdtContent").Many("tc"),
                    "customXml" => e.Many("tc"),
                    _ => Array.Empty<XElement>(),
                }
            );

    private int HeaderRows(XElement tbl, List<XElement> rows, List<SourceRow> made)
    {
        var told = rows.TakeWhile(r => r.One("trPr").On("tblHeader")).Count();
        if (told > 0)
            return Math.Min(told, rows.Count - 1 > 0 ? rows.Count - 1 : told);
        var look = tbl.One("tblPr").One("tblLook");
        var firstRow =
            look.Get("firstRow") is "1" or "true"
            || (int.TryParse(look.Get("val"), NumberStyles.HexNumber, CultureInfo.InvariantCulture, out var bits) && (bits & 0x20) != 0);
        var styled =
            tbl.One("tblPr").Val("tblStyle") is { } style
            && _styles.NameOf(style) is { } name
            && !name.Contains("Grid", StringComparison.OrdinalIgnoreCase)
            && !name.Contains("Normal", StringComparison.OrdinalIgnoreCase);
        if (made.Count < 2)
            return 0;
        return firstRow && styled ? Math.Min(made.Count - 1, made[0].Cells.Max(c => c.RowSpan)) : StrongRows.Heads(made);
    }
}
