using Kivren.Core.Content;
using Kivren.Core.Type;

namespace Kivren.Core.Composition;

/// <summary>Widths of a table's columns, in millipoints.</summary>
/// <param name="Widths">they add up to the measure, unless all are fixed and narrower</param>
/// <param name="Least">what the columns need so that no word is divided, and so that none is divided where it may not be</param>
/// <param name="Divided">cells with a word that is wider than its column</param>
internal sealed record TableColumns(int[] Widths, long Least, long LeastDivided, int Divided)
{
    /// <summary>Of longer tables every so many rows are looked at, so that no more than these are.</summary>
    private const int MostRows = 100;

    /// <summary>What is left is given away in so many parts.</summary>
    private const int Parts = 48;

    /// <summary>A line of the table's height weighs so many lines of a single cell.</summary>
    private const int TableLine = 10;

    /// <summary>And a divided word so many.</summary>
    private const int DividedWord = 3 * TableLine;

    /// <summary>Fixed columns get what they say. Columns by content get their longest word, unless the table is shorter when that is
    /// divided; and what is left goes where it makes the table shortest, so to columns of text before columns of marks.
    /// Columns by share divide the rest.</summary>
    /// <param name="words">of each cell</param>
    public static TableColumns Of(
        Table table,
        IReadOnlyList<GridCell> cells,
        IReadOnlyList<WordWidths> words,
        int count,
        int measure,
        int gap
    )
    {
        var low = new long[count];
        var parts = new long[count];
        var liked = new long[count];
        ColumnWidth Given(int c) => c < table.Widths.Count ? table.Widths[c] : ColumnWidth.ByContent;
        // Cells of one column first; then cells over several make these wider where they must.
        foreach (var n in Enumerable.Range(0, cells.Count).OrderBy(n => cells[n].Columns))
        {
            var from = cells[n].Column;
            var end = Math.Min(count, from + cells[n].Columns);
            Widen(low, from, end, words[n].Longest + gap + 100);
            Widen(parts, from, end, words[n].Part + gap + 100);
            Widen(liked, from, end, words[n].Widest + gap + 100);
        }
        // Text ends at the right edge: the last column needs no gap.
        foreach (var last in (long[][])[low, parts, liked])
            last[count - 1] = Math.Max(1, last[count - 1] - gap);
        long shares = 0;
        for (var c = 0; c < count; c++)
        {
            if (Given(c) is { Kind: WidthKind.Fixed } given)
                low[c] = parts[c] = liked[c] = Length.Millimetres(given.Amount / 100.0).Millipoints;
            else if (Given(c) is { Kind: WidthKind.Share } share)
                shares += share.Amount;
            liked[c] = Math.Max(liked[c], low[c]);
        }
        var least = low.Sum();
        long[] widths;
        if (parts.Sum() >= measure)
            widths = [.. low.Select(l => least <= measure ? l : measure * l / least)];
        else if (shares > 0 && least <= measure)
        {
            // What fixed columns and columns by content take, the shares have not.
            var all = Enumerable.Range(0, count).ToLookup(c => Given(c).Kind == WidthKind.Share);
            var content = all[false].Sum(c => liked[c]);
            var shareLow = all[true].Sum(c => low[c]);
            var forContent = Math.Min(content, measure - shareLow);
            widths = [.. low];
            Fill(
                widths,
                liked,
                [.. all[false].Where(c => Given(c).Kind == WidthKind.ByContent)],
                forContent - (least - shareLow),
                cells,
                words,
                gap
            );
            foreach (var c in all[true])
                widths[c] += (measure - forContent - shareLow) * Given(c).Amount / shares;
        }
        else
        {
            // No column is wide for the sake of a word that may be divided, unless that is worth it.
            widths = Levelled(low, parts, measure, measure / (count + 1));
            var free = Enumerable.Range(0, count).Where(c => Given(c).Kind != WidthKind.Fixed).ToArray();
            Fill(widths, liked, free, measure - widths.Sum(), cells, words, gap);
        }
        var whole = widths.Select(w => (int)Math.Max(1, w)).ToArray();
        // Roundings go to the last column; with nothing but fixed columns the table may be narrower.
        if (Enumerable.Range(0, count).Any(c => Given(c).Kind != WidthKind.Fixed) || least >= measure)
            whole[^1] = Math.Max(1, whole[^1] + measure - whole.Sum());
        var divided = 0;
        for (var n = 0; n < cells.Count; n++)
        {
            var end = Math.Min(count, cells[n].Column + cells[n].Columns);
            var room = whole.AsSpan(cells[n].Column, end - cells[n].Column).ToArray().Sum() - (end == count ? 0 : gap);
            divided += words[n].Longest > room ? 1 : 0;
        }
        return new TableColumns(whole, least, parts.Sum(), divided);
    }

    private static void Widen(long[] columns, int from, int end, long need)
    {
        var have = columns.AsSpan(from, end - from).ToArray().Sum();
        if (have >= need)
            return;
        for (var c = from; c < end; c++)
            columns[c] += (need - have) / (end - from) + (c == from ? (need - have) % (end - from) : 0);
    }

    /// <summary>Every column as wide as its words want, up to one level for all, but no narrower than its words allow.</summary>
    /// <param name="highest">the level is no higher</param>
    private static long[] Levelled(long[] low, long[] parts, long measure, long highest)
    {
        long[] At(long level) => [.. low.Select((l, c) => Math.Max(parts[c], Math.Min(l, level)))];
        long from = 0,
            to = highest;
        while (from < to)
        {
            var level = (from + to + 1) / 2;
            if (At(level).Sum() <= measure)
                from = level;
            else
                to = level - 1;
        }
        return At(from);
    }

    /// <summary>Gives what is left, in parts, each to the column where it takes most from the height of the table; what makes nothing
    /// shorter is divided by what the columns would like.</summary>
    private static void Fill(
        long[] widths,
        long[] liked,
        int[] free,
        long left,
        IReadOnlyList<GridCell> cells,
        IReadOnlyList<WordWidths> words,
        int gap
    )
    {
        if (free.Length == 0 || left <= 0)
            return;
        if (free.Sum(c => liked[c] - widths[c]) > left)
            left -= Shorten(widths, liked, free, left, cells, words, gap);
        else
            foreach (var c in free)
            {
                left -= liked[c] - widths[c];
                widths[c] = liked[c];
            }
        var wants = free.Sum(c => liked[c] - widths[c]);
        var (by, sum) = wants > 0 ? (widths.Select((w, c) => liked[c] - w).ToArray(), wants) : (liked, free.Sum(c => liked[c]));
        foreach (var c in free)
            widths[c] += left * by[c] / Math.Max(1, sum);
    }

    private static long Shorten(
        long[] widths,
        long[] liked,
        int[] free,
        long left,
        IReadOnlyList<GridCell> cells,
        IReadOnlyList<WordWidths> words,
        int gap
    )
    {
        var every = 1 + cells[^1].Row / MostRows;
        var looked = Enumerable
            .Range(0, cells.Count)
            .Where(n => cells[n] is { Rows: 1, Columns: 1 } && cells[n].Row % every == 0)
            .ToArray();
        var byColumn = looked.ToLookup(n => cells[n].Column);
        var lines = new Dictionary<int, int[]>();
        foreach (var n in looked)
        {
            if (!lines.TryGetValue(cells[n].Row, out var row))
                lines[cells[n].Row] = row = new int[widths.Length];
            row[cells[n].Column] = words[n].LinesIn(widths[cells[n].Column] - gap);
        }
        long given = 0,
            part = Math.Max(1, left / Parts);
        while (given < left)
        {
            var best = (Gain: 0L, Add: 1L, Column: -1);
            foreach (var c in free)
                for (var steps = 1; steps <= Parts; steps *= 3)
                {
                    var add = Math.Min(Math.Min(steps * part, left - given), liked[c] - widths[c]);
                    if (add <= 0)
                        continue;
                    var gain = 0L;
                    foreach (var n in byColumn[c])
                    {
                        var row = lines[cells[n].Row];
                        var fewer = words[n].LinesIn(widths[c] + add - gap);
                        gain += DividedWord * (words[n].WiderThan(widths[c] - gap) - words[n].WiderThan(widths[c] + add - gap));
                        if (fewer == row[c])
                            continue;
                        var others = 0;
                        for (var o = 0; o < row.Length; o++)
                            if (o != c)
                                others = Math.Max(others, row[o]);
                        gain += TableLine * (Math.Max(others, row[c]) - Math.Max(others, fewer)) + row[c] - fewer;
                    }
                    if (gain * best.Add > best.Gain * add)
                        best = (gain, add, c);
                }
            if (best.Column < 0)
                break;
            widths[best.Column] += best.Add;
            given += best.Add;
            foreach (var n in byColumn[best.Column])
                lines[cells[n].Row][best.Column] = words[n].LinesIn(widths[best.Column] - gap);
        }
        return given;
    }
}
