namespace Kivren.Desk;

/// <summary>A run of a base sequence and the run of the changed one that stands in its place.</summary>
internal readonly record struct Hunk(int From, int To, int Start, int End)
{
    public bool IsInsertion => From == To;
    public bool IsDeletion => Start == End;
}

/// <summary>What was changed between two sequences (E. W. Myers, An O(ND) Difference Algorithm and Its Variations, 1986).</summary>
internal static class SequenceDifference
{
    /// <summary>Texts that differ in more places than this are told apart as one run: the work stays bounded.</summary>
    private const int MostSteps = 600;

    /// <returns>runs in order, none touching another</returns>
    public static List<Hunk> Of<T>(IReadOnlyList<T> before, IReadOnlyList<T> now, IEqualityComparer<T> same)
    {
        int head = 0,
            tail = 0;
        while (head < before.Count && head < now.Count && same.Equals(before[head], now[head]))
            head++;
        while (tail < before.Count - head && tail < now.Count - head && same.Equals(before[^(tail + 1)], now[^(tail + 1)]))
            tail++;
        int n = before.Count - head - tail,
            m = now.Count - head - tail;
        if (n == 0 && m == 0)
            return [];
        if (n == 0 || m == 0)
            return [new Hunk(head, head + n, head, head + m)];
        return Middle(before, now, same, head, n, m) ?? [new Hunk(head, head + n, head, head + m)];
    }

    private static List<Hunk>? Middle<T>(IReadOnlyList<T> before, IReadOnlyList<T> now, IEqualityComparer<T> same, int head, int n, int m)
    {
        var most = Math.Min(n + m, MostSteps);
        var ends = new int[2 * most + 3];
        var trace = new List<int[]>();
        var middle = most + 1;
        for (var d = 0; d <= most; d++)
        {
            trace.Add(ends[(middle - d)..(middle + d + 1)]);
            for (var k = -d; k <= d; k += 2)
            {
                var x =
                    k == -d || (k != d && ends[middle + k - 1] < ends[middle + k + 1]) ? ends[middle + k + 1] : ends[middle + k - 1] + 1;
                var y = x - k;
                while (x < n && y < m && same.Equals(before[head + x], now[head + y]))
                    (x, y) = (x + 1, y + 1);
                ends[middle + k] = x;
                if (x >= n && y >= m)
                    return Back(trace, d, n, m, head);
            }
        }
        return null;
    }

    private static List<Hunk> Back(List<int[]> trace, int steps, int n, int m, int head)
    {
        var hunks = new List<Hunk>();
        int x = n,
            y = m;
        for (var d = steps; d > 0; d--)
        {
            var ends = trace[d];
            int Reached(int k) => k + d >= 0 && k + d < ends.Length ? ends[k + d] : -1;
            var k = x - y;
            var down = k == -d || (k != d && Reached(k - 1) < Reached(k + 1));
            var from = down ? k + 1 : k - 1;
            var (px, py) = (Reached(from), Reached(from) - from);
            // The step itself: one token more or one less, between two diagonals.
            var (sx, sy) = down ? (px, py + 1) : (px + 1, py);
            if (hunks.Count > 0 && hunks[^1].From == head + sx && hunks[^1].Start == head + sy)
                hunks[^1] = hunks[^1] with { From = head + px, Start = head + py };
            else
                hunks.Add(new Hunk(head + px, head + sx, head + py, head + sy));
            (x, y) = (px, py);
        }
        hunks.Reverse();
        return hunks;
    }
}
