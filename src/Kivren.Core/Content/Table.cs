namespace Kivren.Core.Content;

/// <summary>How a cell's lines stand; decimal aligns the decimal signs of a column.</summary>
public enum CellAlignment
{
    Left,
    Centre,
    Right,
    Decimal,
}

public enum WidthKind
{
    ByContent,
    Share,
    Fixed,
}

/// <summary>A column's width: by its content, a share of what is left, or fixed.</summary>
/// <param name="Amount">shares, or hundredths of a millimetre; nothing by content</param>
public readonly record struct ColumnWidth(WidthKind Kind, int Amount)
{
    public static readonly ColumnWidth ByContent = new(WidthKind.ByContent, 0);
}

/// <summary>A table with <paramref name="HeaderRows"/> rows that repeat on every page it reaches.</summary>
public sealed record Table(
    Id Id,
    int HeaderRows,
    IReadOnlyList<CellAlignment> Columns,
    IReadOnlyList<Inline> Caption,
    IReadOnlyList<Row> Rows
) : Block(Id)
{
    /// <summary>Widths of the first columns; the rest go by content.</summary>
    public IReadOnlyList<ColumnWidth> Widths { get; init; } = [];

    /// <summary>The first column heads its rows.</summary>
    public bool HeaderColumn { get; init; }

    /// <summary>Turns to landscape pages when it is wider than the measure.</summary>
    public bool MayTurn { get; init; } = true;
}

public sealed record Row(Id Id, IReadOnlyList<Cell> Cells)
{
    public AppliesTo AppliesTo { get; init; } = AppliesTo.Always;

    /// <summary>Heads a group of rows.</summary>
    public bool Group { get; init; }
}

/// <summary>A cell; it may reach over several columns and rows. Cells covered by another are not there.</summary>
public sealed record Cell(Id Id, IReadOnlyList<Inline> Content)
{
    public int ColumnSpan { get; init; } = 1;
    public int RowSpan { get; init; } = 1;

    /// <summary>Its own alignment, or null for that of its column.</summary>
    public CellAlignment? Alignment { get; init; }
}

/// <summary>A cell at its place in the grid that spans make.</summary>
public readonly record struct GridCell(Cell Cell, int Row, int Column, int Rows, int Columns);

public static class TableGrid
{
    /// <summary>Each cell's place: a cell takes the first column of its row that no span from above covers. Spans that
    /// reach past the last row or into the header's end are cut there.</summary>
    public static (List<GridCell> Cells, int Columns) Of(Table table)
    {
        var cells = new List<GridCell>();
        var covered = new List<int>(); // for each column, how many more rows a span from above reaches
        var columns = 0;
        for (var r = 0; r < table.Rows.Count; r++)
        {
            var end = r < table.HeaderRows ? Math.Min(table.HeaderRows, table.Rows.Count) : table.Rows.Count;
            var column = 0;
            foreach (var cell in table.Rows[r].Cells)
            {
                while (column < covered.Count && covered[column] > 0)
                    column++;
                var wide = Math.Clamp(cell.ColumnSpan, 1, 1000);
                var high = Math.Clamp(cell.RowSpan, 1, end - r);
                for (var c = column; c < column + wide; c++)
                {
                    while (covered.Count <= c)
                        covered.Add(0);
                    covered[c] = Math.Max(covered[c], high);
                }
                cells.Add(new GridCell(cell, r, column, high, wide));
                column += wide;
            }
            columns = Math.Max(columns, covered.Count);
            for (var c = 0; c < covered.Count; c++)
                covered[c] = Math.Max(0, covered[c] - 1);
        }
        return (cells, Math.Max(1, columns));
    }
}
