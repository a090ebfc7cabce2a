using Kivren.Core.Content;

namespace Kivren.Core.Composition;

/// <summary>Widths of a table's columns.</summary>
internal static class TableColumns
{
    /// <summary>Fixed columns get what they say; columns by content their longest word at least, and of what is left what
    /// their cells would like; columns by share divide the rest. Adds up to <paramref name="measure"/> exactly unless the
    /// least widths are wider.</summary>
    /// <param name="natural">a cell's width on one line, and its longest word; millipoints</param>
    /// <param name="least">what the table needs at least</param>
    public static int[] Widths(
        Table table,
        IReadOnlyList<GridCell> cells,
        int count,
        int measure,
        int gap,
        Func<GridCell, (int Widest, int Longest)> natural,
        out long least
    )
    {
        var low = new long[count];
        var liked = new long[count];
        ColumnWidth Of(int c) => c < table.Widths.Count ? table.Widths[c] : ColumnWidth.ByContent;
        // Cells of one column first; then cells over several make these wider where they must.
        foreach (var cell in cells.OrderBy(c => c.Columns))
        {
            var (widest, longest) = natural(cell);
            var end = Math.Min(count, cell.Column + cell.Columns);
            Widen(low, cell.Column, end, longest + gap + 100);
            Widen(liked, cell.Column, end, widest + gap + 100);
        }
        // Text ends at the right edge: the last column needs no gap.
        low[count - 1] = Math.Max(1, low[count - 1] - gap);
        liked[count - 1] = Math.Max(1, liked[count - 1] - gap);
        long shares = 0;
        for (var c = 0; c < count; c++)
        {
            if (Of(c) is { Kind: WidthKind.Fixed } given)
                low[c] = liked[c] = Length.Millimetres(given.Amount / 100.0).Millipoints;
            else if (Of(c) is { Kind: WidthKind.Share } share)
                shares += share.Amount;
            liked[c] = Math.Max(liked[c], low[c]);
        }
        least = low.Sum();
        var widths = new int[count];
        if (least >= measure)
        {
            for (var c = 0; c < count; c++)
                widths[c] = (int)(least <= measure ? low[c] : measure * low[c] / least);
        }
        else if (shares > 0)
        {
            // What fixed columns and columns by content take, the shares have not.
            var content = Enumerable.Range(0, count).Where(c => Of(c).Kind != WidthKind.Share).Sum(c => liked[c]);
            var shareLow = Enumerable.Range(0, count).Where(c => Of(c).Kind == WidthKind.Share).Sum(c => low[c]);
            var forContent = Math.Min(content, measure - shareLow);
            var contentLow = least - shareLow;
            for (var c = 0; c < count; c++)
                widths[c] = (int)(
                    Of(c) is { Kind: WidthKind.Share } share ? low[c] + (measure - forContent - shareLow) * share.Amount / shares
                    : content <= forContent ? liked[c]
                    : low[c] + (forContent - contentLow) * (liked[c] - low[c]) / Math.Max(1, content - contentLow)
                );
        }
        else
        {
            var free = Enumerable.Range(0, count).Where(c => Of(c).Kind == WidthKind.ByContent).ToArray();
            long likedSum = liked.Sum(),
                freeLiked = free.Sum(c => liked[c]);
            for (var c = 0; c < count; c++)
                widths[c] = (int)(
                    Of(c).Kind == WidthKind.Fixed ? low[c]
                    : likedSum <= measure ? liked[c] + (measure - likedSum) * liked[c] / Math.Max(1, freeLiked)
                    : low[c] + (measure - least) * (liked[c] - low[c]) / Math.Max(1, likedSum - least)
                );
        }
        // Roundings go to the last column; with nothing but fixed columns the table may be narrower.
        if (Enumerable.Range(0, count).Any(c => Of(c).Kind != WidthKind.Fixed) || least >= measure)
            widths[count - 1] += measure - widths.Sum();
        for (var c = 0; c < count; c++)
            widths[c] = Math.Max(1, widths[c]);
        return widths;
    }

    private static void Widen(long[] columns, int from, int end, long need)
    {
        var have = columns.AsSpan(from, end - from).ToArray().Sum();
        if (have >= need)
            return;
        for (var c = from; c < end; c++)
            columns[c] += (need - have) / (end - from) + (c == from ? (need - have) % (end - from) : 0);
    }
}
