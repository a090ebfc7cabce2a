namespace Kivren.Core.Type;

/// <summary>Breaks a title in lines at sense: in no more lines than it needs, none of them left behind by an article or another short
/// word, gladly after a comma or a colon, and about equally long.</summary>
internal static class TitleFit
{
    /// <summary>Longer texts are no titles.</summary>
    private const int MostItems = 400,
        MostLines = 6;

    /// <summary>What a line is worse for that ends after a short word, or within what is written without spaces where no phrase
    /// ends; and better for after a comma or the like. In squares of the size of the type by which a line falls short of the
    /// longest.</summary>
    private const long AfterShortWord = 60,
        WithinPhrase = 20,
        AfterStop = 12;

    /// <summary>Other breaks of as few lines, where there are better ones; those found stay where there are none.</summary>
    /// <param name="characterAt">the place in the text of a break at an item</param>
    /// <param name="size">of the type, millipoints</param>
    public static void Improve(
        ReadOnlySpan<LineItem> items,
        Func<int, int> characterAt,
        string text,
        int width,
        int size,
        List<FoundBreak> breaks
    )
    {
        var lines = breaks.Count;
        if (lines is < 2 or > MostLines || items.Length > MostItems || breaks.Exists(b => b.Overfull))
            return;
        var ends = new List<int> { -1 };
        for (var i = 0; i < items.Length; i++)
            if (
                items[i].Kind == LineItemKind.Glue
                    ? i > 0 && items[i - 1].Kind == LineItemKind.Box
                    : items[i].Kind == LineItemKind.Penalty && items[i] is { Penalty: < TotalFit.Never, Flagged: false }
            )
            {
                // Lines that the writer ends stay as they are.
                if (items[i].Penalty == TotalFit.Must && i < items.Length - 1)
                    return;
                ends.Add(i);
            }
        var cost = new long[lines + 1, ends.Count];
        var from = new int[lines + 1, ends.Count];
        for (var l = 0; l <= lines; l++)
        for (var e = 0; e < ends.Count; e++)
            cost[l, e] = l == 0 && e == 0 ? 0 : long.MaxValue;
        long all = 0;
        foreach (ref readonly var item in items[..^2])
            all += item.Kind == LineItemKind.Penalty ? 0 : item.Width;
        var even = Math.Min(width, all / lines);
        for (var l = 1; l <= lines; l++)
        for (var e = 1; e < ends.Count; e++)
        {
            var sense = e == ends.Count - 1 ? 0 : Sense(text, characterAt(ends[e]));
            for (var b = e - 1; b >= 0; b--)
            {
                var wide = Width(items, ends[b], ends[e]);
                if (wide > width)
                    break;
                if (cost[l - 1, b] == long.MaxValue)
                    continue;
                var off = (wide - even) / Math.Max(1, size / 2);
                var sum = cost[l - 1, b] + off * off / 4 + sense;
                if (sum < cost[l, e])
                    (cost[l, e], from[l, e]) = (sum, b);
            }
        }
        if (cost[lines, ends.Count - 1] == long.MaxValue)
            return;
        breaks.Clear();
        for (var (l, e) = (lines, ends.Count - 1); l > 0; l--)
        {
            breaks.Add(new FoundBreak(ends[e], false));
            e = from[l, e];
        }
        breaks.Reverse();
    }

    /// <summary>From behind one break up to another; what stands at either end of the line goes.</summary>
    private static long Width(ReadOnlySpan<LineItem> items, int after, int end)
    {
        long width = 0,
            space = 0;
        for (var i = after + 1; i < end; i++)
            if (items[i].Kind == LineItemKind.Glue)
                space += width > 0 ? items[i].Width : 0;
            else if (items[i].Kind == LineItemKind.Box)
            {
                width += space + items[i].Width;
                space = 0;
            }
        return width;
    }

    private static long Sense(string text, int at)
    {
        var end = at;
        while (end > 0 && text[end - 1] == ' ')
            end--;
        if (end == 0)
            return 0;
        var last = text[end - 1];
        if (last is ',' or ':' or ';' or '–' or '—' or '.' or '、' or '：' or '，' or '・')
            return -AfterStop;
        if (last >= FirstSquare)
            return end < text.Length && IsHiragana(last) && !IsHiragana(text[end]) ? 0 : WithinPhrase;
        var start = end;
        while (start > 0 && char.IsLetter(text[start - 1]))
            start--;
        return end - start is > 0 and <= 3 && char.IsLower(text[start]) ? AfterShortWord : 0;
    }

    private const char FirstSquare = '\u2E80';

    /// <summary>Japanese ends its phrases in these.</summary>
    private static bool IsHiragana(char c) => c is >= '\u3041' and <= '\u309F';
}
