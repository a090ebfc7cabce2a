namespace Kivren.Desk;

/// <summary>Matches equal texts in the same order on both sides: common beginning and end, then texts that stand once on each
/// side (patience difference), then, where little is left, the longest common run. Linear but for what is small.</summary>
internal static class EqualRuns
{
    private const long MostTable = 1_000_000;

    /// <param name="partner">for each new text the old one, filled in; −1 where there is none</param>
    public static void Of(IReadOnlyList<string> was, IReadOnlyList<string> now, int[] partner, CancellationToken cancel) =>
        Between(was, now, partner, 0, was.Count, 0, now.Count, cancel);

    private static void Between(
        IReadOnlyList<string> was,
        IReadOnlyList<string> now,
        int[] partner,
        int oldFrom,
        int oldEnd,
        int newFrom,
        int newEnd,
        CancellationToken cancel
    )
    {
        cancel.ThrowIfCancellationRequested();
        while (oldFrom < oldEnd && newFrom < newEnd && was[oldFrom] == now[newFrom])
            partner[newFrom++] = oldFrom++;
        while (oldFrom < oldEnd && newFrom < newEnd && was[oldEnd - 1] == now[newEnd - 1])
            partner[--newEnd] = --oldEnd;
        if (oldFrom == oldEnd || newFrom == newEnd)
            return;
        var anchors = Anchors(was, now, oldFrom, oldEnd, newFrom, newEnd);
        if (anchors.Count == 0)
        {
            if ((long)(oldEnd - oldFrom) * (newEnd - newFrom) <= MostTable)
                Table(was, now, partner, oldFrom, oldEnd, newFrom, newEnd);
            return;
        }
        foreach (var (o, n) in anchors)
        {
            partner[n] = o;
            Between(was, now, partner, oldFrom, o, newFrom, n, cancel);
            (oldFrom, newFrom) = (o + 1, n + 1);
        }
        Between(was, now, partner, oldFrom, oldEnd, newFrom, newEnd, cancel);
    }

    /// <summary>Texts that stand once on each side, the longest run of them that rises on both.</summary>
    private static List<(int Old, int New)> Anchors(
        IReadOnlyList<string> was,
        IReadOnlyList<string> now,
        int oldFrom,
        int oldEnd,
        int newFrom,
        int newEnd
    )
    {
        var once = new Dictionary<string, int>(StringComparer.Ordinal);
        for (var o = oldFrom; o < oldEnd; o++)
            once[was[o]] = once.ContainsKey(was[o]) ? -1 : o;
        var seen = new Dictionary<string, int>(StringComparer.Ordinal);
        for (var n = newFrom; n < newEnd; n++)
            seen[now[n]] = seen.ContainsKey(now[n]) ? -1 : n;
        var pairs = seen.Where(s => s.Value >= 0 && once.GetValueOrDefault(s.Key, -1) >= 0)
            .Select(s => (Old: once[s.Key], New: s.Value))
            .OrderBy(p => p.New)
            .ToList();
        var tails = new List<int>();
        var before = new int[pairs.Count];
        for (var i = 0; i < pairs.Count; i++)
        {
            int low = 0,
                high = tails.Count;
            while (low < high)
            {
                var middle = (low + high) / 2;
                if (pairs[tails[middle]].Old < pairs[i].Old)
                    low = middle + 1;
                else
                    high = middle;
            }
            before[i] = low > 0 ? tails[low - 1] : -1;
            if (low == tails.Count)
                tails.Add(i);
            else
                tails[low] = i;
        }
        var run = new List<(int, int)>();
        for (var i = tails.Count > 0 ? tails[^1] : -1; i >= 0; i = before[i])
            run.Add(pairs[i]);
        run.Reverse();
        return run;
    }

    private static void Table(
        IReadOnlyList<string> was,
        IReadOnlyList<string> now,
        int[] partner,
        int oldFrom,
        int oldEnd,
        int newFrom,
        int newEnd
    )
    {
        int a = oldEnd - oldFrom,
            b = newEnd - newFrom;
        var length = new int[a + 1, b + 1];
        for (var i = a - 1; i >= 0; i--)
        for (var j = b - 1; j >= 0; j--)
            length[i, j] = was[oldFrom + i] == now[newFrom + j] ? length[i + 1, j + 1] + 1 : Math.Max(length[i + 1, j], length[i, j + 1]);
        for (int i = 0, j = 0; i < a && j < b; )
            if (was[oldFrom + i] == now[newFrom + j])
                partner[newFrom + j++] = oldFrom + i++;
            else if (length[i + 1, j] >= length[i, j + 1])
                i++;
            else
                j++;
    }
}
