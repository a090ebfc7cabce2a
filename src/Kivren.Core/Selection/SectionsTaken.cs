using Kivren.Core.Content;

namespace Kivren.Core.Selection;

/// <summary>The sections that an edition takes of a division, in the edition's own order.</summary>
internal static class SectionsTaken
{
    /// <param name="sections">heads, and the division's own id for its text before the first; empty for all</param>
    /// <param name="without">heads whose sections are left out</param>
    /// <returns>the blocks themselves where all are taken</returns>
    public static IReadOnlyList<Block> Of(Division division, IReadOnlyList<Id> sections, IReadOnlyList<Id> without)
    {
        var blocks = division.Blocks;
        if (without.Count > 0 && blocks.Any(b => b is Head && without.Contains(b.Id)))
            blocks = Without(blocks, without);
        if (sections.Count == 0)
            return blocks;
        var taken = new List<Block>(blocks.Count);
        var isTaken = new bool[blocks.Count];
        foreach (var section in sections)
        {
            var from = section == division.Id ? 0 : IndexOf(blocks, section);
            if (from < 0)
                continue;
            var end = section == division.Id ? End(blocks, 0, null) : End(blocks, from + 1, ((Head)blocks[from]).Level);
            var lift = section == division.Id || IsUnderTaken(blocks, isTaken, from) ? 0 : (int)((Head)blocks[from]).Level - 1;
            for (var b = from; b < end; b++)
            {
                if (isTaken[b])
                    continue;
                isTaken[b] = true;
                taken.Add(lift > 0 && blocks[b] is Head head ? head with { Level = (HeadLevel)((int)head.Level - lift) } : blocks[b]);
            }
        }
        return taken;
    }

    /// <summary>A section that stands in one that was taken keeps its level; taken without what it stands under, it is lifted.</summary>
    private static bool IsUnderTaken(IReadOnlyList<Block> blocks, bool[] taken, int at)
    {
        var level = ((Head)blocks[at]).Level;
        for (var b = at - 1; b >= 0; b--)
            if (blocks[b] is Head head && head.Level < level)
                return taken[b];
        return false;
    }

    private static int IndexOf(IReadOnlyList<Block> blocks, Id head)
    {
        for (var b = 0; b < blocks.Count; b++)
            if (blocks[b] is Head && blocks[b].Id == head)
                return b;
        return -1;
    }

    /// <summary>Where a section ends: at the next head of its level or above, or with null at any.</summary>
    internal static int End(IReadOnlyList<Block> blocks, int from, HeadLevel? level)
    {
        while (from < blocks.Count && !(blocks[from] is Head head && (level is null || head.Level <= level)))
            from++;
        return from;
    }

    private static List<Block> Without(IReadOnlyList<Block> blocks, IReadOnlyList<Id> without)
    {
        var left = new List<Block>(blocks.Count);
        for (var b = 0; b < blocks.Count; )
            if (blocks[b] is Head head && without.Contains(head.Id))
                b = End(blocks, b + 1, head.Level);
            else
                left.Add(blocks[b++]);
        return left;
    }
}
