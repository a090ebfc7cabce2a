using Kivren.Core.Content;

namespace Kivren.Desk;

/// <summary>Which texts of a newer version are which of the earlier one's.</summary>
internal static class Likeness
{
    /// <summary>Texts less alike than this are two texts, not one that changed.</summary>
    private const double Alike = .45;

    /// <summary>Gaps of more pairs than this are tried only near their diagonal: the work stays linear in their length.</summary>
    private const int MostPairs = 40_000,
        Band = 60;

    /// <summary>For each new text the old one that it is a version of, or −1: equal ones in order first, then the likest
    /// between their matched neighbours.</summary>
    internal static int[] Match(
        IReadOnlyList<string> was,
        IReadOnlyList<string> now,
        Func<int, int, bool> may,
        CancellationToken cancel = default
    )
    {
        var partner = new int[now.Count];
        Array.Fill(partner, -1);
        EqualRuns.Of(was, now, partner, cancel);
        // Between two matched neighbours the rest are tried by likeness, best first.
        for (var n = 0; n < now.Count; )
        {
            if (partner[n] >= 0)
            {
                n++;
                continue;
            }
            var end = n;
            while (end < now.Count && partner[end] < 0)
                end++;
            var low = n > 0 ? partner[n - 1] + 1 : 0;
            var high = end < now.Count ? partner[end] : was.Count;
            Likest(was, now, may, partner, (n, end), (low, high), cancel);
            n = end;
        }
        return partner;
    }

    private static void Likest(
        IReadOnlyList<string> was,
        IReadOnlyList<string> now,
        Func<int, int, bool> may,
        int[] partner,
        (int From, int End) news,
        (int From, int End) olds,
        CancellationToken cancel
    )
    {
        int height = news.End - news.From,
            width = olds.End - olds.From;
        if (width == 0)
            return;
        var whole = (long)height * width <= MostPairs;
        var pairs = new List<(double Like, int Old, int New)>();
        for (var i = news.From; i < news.End; i++)
        {
            cancel.ThrowIfCancellationRequested();
            var middle = olds.From + (int)((long)(i - news.From) * width / height);
            var (from, to) = whole ? olds : (Math.Max(olds.From, middle - Band), Math.Min(olds.End, middle + Band));
            for (var o = from; o < to; o++)
                if (may(o, i) && Of(was[o], now[i]) is var like and >= Alike)
                    pairs.Add((like, o, i));
        }
        // Matched so far, in the order of the new texts; their old ones must rise with them.
        var matched = new SortedList<int, int>();
        foreach (var (_, o, i) in pairs.OrderByDescending(p => p.Like).ThenBy(p => p.New).ThenBy(p => p.Old))
        {
            if (partner[i] >= 0)
                continue;
            var at = Place(matched.Keys, i);
            if ((at > 0 && matched.Values[at - 1] >= o) || (at < matched.Count && matched.Values[at] <= o))
                continue;
            partner[i] = o;
            matched.Add(i, o);
        }
    }

    /// <summary>How many of these rising numbers are below one.</summary>
    private static int Place(IList<int> numbers, int number)
    {
        int low = 0,
            high = numbers.Count;
        while (low < high)
        {
            var middle = (low + high) / 2;
            if (numbers[middle] < number)
                low = middle + 1;
            else
                high = middle;
        }
        return low;
    }

    /// <summary>How alike two texts are, 0 to 1: the share of their words that they have in common (Dice's coefficient).</summary>
    internal static double Of(string a, string b)
    {
        if (a == b)
            return 1;
        var counts = new Dictionary<string, int>(StringComparer.Ordinal);
        int left = 0,
            right = 0,
            common = 0;
        foreach (var word in Words(a))
        {
            counts[word] = counts.GetValueOrDefault(word) + 1;
            left++;
        }
        foreach (var word in Words(b))
        {
            right++;
            if (counts.TryGetValue(word, out var n) && n > 0)
            {
                counts[word] = n - 1;
                common++;
            }
        }
        return left + right == 0 ? 1 : 2.0 * common / (left + right);
    }

    private static string[] Words(string text) =>
        text.Split([' ', '\u001e', '\u001f', '\u2028', ',', '.', ';', ':'], StringSplitOptions.RemoveEmptyEntries);

    /// <summary>What a block is known by: its words, its kind and the kinds of what is in it.</summary>
    internal static string TextOf(Block block)
    {
        var text = new System.Text.StringBuilder();
        foreach (var inner in block.WithInner())
        {
            text.Append(inner.GetType().Name).Append('\u001e');
            if (inner is Head h)
                text.Append(h.Level);
            if (inner is Listing l)
                text.Append(l.Text);
            if (inner is Equation e)
                text.Append(e.Source);
            if (inner is Figure f)
                text.Append(f.Asset);
            if (inner is Admonition a)
                text.Append(a.Kind);
            foreach (var spans in inner.OwnSpans())
            {
                foreach (var span in Walk.Flat(spans))
                    if (span is TextRun run)
                        text.Append(run.Text);
                    else if (span is InlineEquation q)
                        text.Append(q.Source);
                    else if (span is InlinePicture p)
                        text.Append(p.Asset);
                text.Append('\u001f');
            }
        }
        return text.ToString();
    }
}
