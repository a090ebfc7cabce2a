using Kivren.Core.Content;

namespace Kivren.Core.Composition;

/// <summary>Widths of a table's columns by their content.</summary>
internal static class TableColumns
{
    private const int Gap = 6_000;

    /// <summary>Each column gets its longest word at least; what is left is shared by what the cells would like. Adds up
    /// to <paramref name="measure"/> exactly.</summary>
    /// <param name="natural">a cell's width on one line, and its longest word; millipoints</param>
    public static int[] Widths(Table table, int measure, Func<Cell, (int Widest, int Longest)> natural)
    {
        var count = Math.Max(1, table.Rows.Select(r => r.Cells.Count).DefaultIfEmpty(0).Max());
        var least = new long[count];
        var liked = new long[count];
        foreach (var row in table.Rows)
            for (var c = 0; c < row.Cells.Count; c++)
            {
                var (widest, longest) = natural(row.Cells[c]);
                least[c] = Math.Max(least[c], longest + Gap + 100);
                liked[c] = Math.Max(liked[c], widest + Gap + 100);
            }
        least[count - 1] = Math.Max(1, least[count - 1] - Gap);
        liked[count - 1] = Math.Max(1, liked[count - 1] - Gap);
        long leastSum = least.Sum(), likedSum = liked.Sum();
        var widths = new int[count];
        long given = 0;
        for (var c = 0; c < count; c++)
        {
            long width = likedSum <= measure ? liked[c] + (measure - likedSum) * liked[c] / likedSum
                : leastSum >= measure ? measure * least[c] / leastSum
                : least[c] + (measure - leastSum) * (liked[c] - least[c]) / Math.Max(1, likedSum - leastSum);
            if (c == count - 1) width = measure - given;
            widths[c] = (int)Math.Max(1, width);
            given += widths[c];
        }
        return widths;
    }
}
