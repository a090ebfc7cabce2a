using System.Runtime.CompilerServices;
using Kivren.Core.Content;

namespace Kivren.Core.Selection;

/// <summary>What an edition takes of a manual: the text that is composed.</summary>
public sealed record SelectedText(Manual Manual, Edition Edition, IReadOnlyList<Division> Divisions)
{
    /// <summary>The text of a variable in this edition, or null if there is none of that name.</summary>
    public string? Variable(string name) =>
        (Edition.Variables.FirstOrDefault(v => v.Name == name) ?? Manual.Variables.FirstOrDefault(v => v.Name == name))?.Text;
}

/// <summary>Selection: a pure function of manual and edition. A division that nothing is left out of stays the same
/// object, so that what was computed of it stays valid.</summary>
public static class Selector
{
    public static SelectedText Select(Manual manual, Edition edition, SelectionCache? cache = null)
    {
        var taken = new List<Division>(manual.Divisions.Count);
        foreach (var division in manual.Divisions)
        {
            if (!division.AppliesTo.Admits(edition.Chosen) || edition.LeavesOut.Contains(division.Id)) continue;
            taken.Add(cache?.Get(division, edition) ?? Take(division, edition));
        }
        return new SelectedText(manual, edition, taken);
    }

    /// <summary>A head left out takes its whole section with it (content.md, Selection).</summary>
    internal static Division Take(Division division, Edition edition)
    {
        var blocks = TakeBlocks(division.Blocks, edition);
        return ReferenceEquals(blocks, division.Blocks) ? division : division with { Blocks = blocks };
    }

    private static IReadOnlyList<Block> TakeBlocks(IReadOnlyList<Block> blocks, Edition edition)
    {
        if (!blocks.SelectMany(b => b.WithInner()).Any(b => !b.AppliesTo.IsAlways)) return blocks;
        var taken = new List<Block>(blocks.Count);
        HeadLevel? leavingSection = null;
        foreach (var block in blocks)
        {
            if (block is Head head)
            {
                if (leavingSection is { } left && head.Level <= left) leavingSection = null;
                if (leavingSection is null && !head.AppliesTo.Admits(edition.Chosen)) leavingSection = head.Level;
            }
            if (leavingSection is not null || !block.AppliesTo.Admits(edition.Chosen)) continue;
            taken.Add(block switch
            {
                ItemList l => l with { Items = TakeItems(l.Items, edition) },
                Steps s => s with { Items = TakeItems(s.Items, edition) },
                Admonition a => a with { Blocks = TakeBlocks(a.Blocks, edition) },
                _ => block,
            });
        }
        return taken;
    }

    private static List<Item> TakeItems(IReadOnlyList<Item> items, Edition edition) =>
        items.Select(i => (Item: i, Taken: TakeBlocks(i.Blocks, edition)))
            .Where(i => i.Taken.Count > 0 || i.Item.Blocks.Count == 0)
            .Select(i => ReferenceEquals(i.Taken, i.Item.Blocks) ? i.Item : i.Item with { Blocks = i.Taken }).ToList();
}

/// <summary>Keeps what was taken of each division, by identity of division and edition.</summary>
public sealed class SelectionCache
{
    private readonly ConditionalWeakTable<Division, Tuple<Edition, Division>> _taken = [];

    internal Division Get(Division division, Edition edition)
    {
        if (_taken.TryGetValue(division, out var kept) && ReferenceEquals(kept.Item1, edition)) return kept.Item2;
        var taken = Selector.Take(division, edition);
        _taken.AddOrUpdate(division, Tuple.Create(edition, taken));
        return taken;
    }
}
