namespace Kivren.Desk;

/// <summary>Merges two changes of one sequence. Nothing that either put in vanishes: what both put in at one place stands
/// there one after the other; what one took out while the other changed it stays as changed.</summary>
internal static class SequenceMerge
{
    /// <param name="mine">hunks of the base against the later change</param>
    /// <param name="theirs">hunks of the base against the change that is stored</param>
    /// <param name="between">put between two texts that stand for the same place</param>
    /// <param name="both">set when both replaced the same tokens, so that both texts stand there</param>
    public static List<T> Of<T>(
        IReadOnlyList<T> based,
        IReadOnlyList<T> mine,
        IReadOnlyList<T> theirs,
        List<Hunk> myHunks,
        List<Hunk> theirHunks,
        IEqualityComparer<T> same,
        T? between,
        ref bool both
    )
    {
        var merged = new List<T>(Math.Max(mine.Count, theirs.Count) + 8);
        int at = 0,
            m = 0,
            t = 0;
        while (m < myHunks.Count || t < theirHunks.Count)
        {
            // The next cluster of hunks that overlap.
            var from = Math.Min(
                m < myHunks.Count ? myHunks[m].From : int.MaxValue,
                t < theirHunks.Count ? theirHunks[t].From : int.MaxValue
            );
            var to = from;
            int firstMine = m,
                firstTheirs = t;
            while (true)
            {
                if (m < myHunks.Count && Touches(myHunks[m], from, to))
                    to = Math.Max(to, myHunks[m++].To);
                else if (t < theirHunks.Count && Touches(theirHunks[t], from, to))
                    to = Math.Max(to, theirHunks[t++].To);
                else
                    break;
            }
            for (; at < from; at++)
                merged.Add(based[at]);
            var own = Text(based, mine, myHunks, firstMine, m, from, to);
            var other = Text(based, theirs, theirHunks, firstTheirs, t, from, to);
            merged.AddRange(Cluster(based, own, other, myHunks[firstMine..m], theirHunks[firstTheirs..t], same, between, ref both));
            at = to;
        }
        for (; at < based.Count; at++)
            merged.Add(based[at]);
        return merged;
    }

    /// <summary>Overlaps, or puts in at the very place; a hunk that only begins where another ends stands by itself.</summary>
    private static bool Touches(Hunk hunk, int from, int to) => hunk.From < to || hunk.From == from;

    /// <summary>What one side made of the base between two places.</summary>
    private static List<T> Text<T>(IReadOnlyList<T> based, IReadOnlyList<T> changed, List<Hunk> hunks, int first, int end, int from, int to)
    {
        var text = new List<T>();
        var at = from;
        for (var h = first; h < end; h++)
        {
            for (; at < hunks[h].From; at++)
                text.Add(based[at]);
            for (var i = hunks[h].Start; i < hunks[h].End; i++)
                text.Add(changed[i]);
            at = hunks[h].To;
        }
        for (; at < to; at++)
            text.Add(based[at]);
        return text;
    }

    private static List<T> Cluster<T>(
        IReadOnlyList<T> based,
        List<T> mine,
        List<T> theirs,
        List<Hunk> myHunks,
        List<Hunk> theirHunks,
        IEqualityComparer<T> same,
        T? between,
        ref bool both
    )
    {
        if (theirHunks.Count == 0)
            return mine;
        if (myHunks.Count == 0)
            return theirs;
        // Two writers who typed the same letter typed two; who replaced a word by the same word agree.
        if (!(Inserts(myHunks) && Inserts(theirHunks)) && mine.SequenceEqual(theirs, same))
            return mine;
        // One took words out that the other changed or wrote among: what was written stays, the untouched words go.
        if (myHunks.TrueForAll(h => h.IsDeletion) || theirHunks.TrueForAll(h => h.IsDeletion) || Inserts(myHunks) || Inserts(theirHunks))
            return Interleaved(based, mine, theirs, myHunks, theirHunks);
        both = true;
        return between is null ? [.. theirs, .. mine] : [.. theirs, between, .. mine];
    }

    private static bool Inserts(List<Hunk> hunks) => hunks.TrueForAll(h => h.IsInsertion);

    /// <summary>All that either put in, at its place; of the base what neither took out.</summary>
    private static List<T> Interleaved<T>(IReadOnlyList<T> based, List<T> mine, List<T> theirs, List<Hunk> myHunks, List<Hunk> theirHunks)
    {
        var text = new List<T>();
        int from = Math.Min(myHunks[0].From, theirHunks[0].From),
            to = Math.Max(myHunks[^1].To, theirHunks[^1].To);
        for (var at = from; at <= to; at++)
        {
            AddPutIn(text, theirs, theirHunks, at, from);
            AddPutIn(text, mine, myHunks, at, from);
            if (at < to && !Takes(myHunks, at) && !Takes(theirHunks, at))
                text.Add(based[at]);
        }
        return text;
    }

    private static bool Takes(List<Hunk> hunks, int at) => hunks.Exists(h => h.From <= at && at < h.To);

    /// <summary>What a side put in at a place of the base; <paramref name="side"/> is its text of the cluster.</summary>
    private static void AddPutIn<T>(List<T> text, List<T> side, List<Hunk> hunks, int at, int from)
    {
        var place = 0;
        var reached = from;
        foreach (var hunk in hunks)
        {
            place += hunk.From - reached;
            if (hunk.From == at)
                for (var i = 0; i < hunk.End - hunk.Start; i++)
                    text.Add(side[place + i]);
            place += hunk.End - hunk.Start;
            reached = hunk.To;
        }
    }
}
