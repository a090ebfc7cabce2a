using Kivren.Core.Content;

namespace Kivren.Core.Reuse;

/// <summary>Who uses what is kept once.</summary>
public static class Uses
{
    public static bool Variable(Block block, string name) => block.Inlines().Any(i => i is VariableUse use && use.Name == name);

    public static bool Passage(Block block, string name) => block.WithInner().Any(b => b is PassageUse use && use.Passage == name);

    public static bool Picture(Block block, string name) =>
        block.WithInner().Any(b => b is Figure f && f.Asset == name) || block.Inlines().Any(i => i is InlinePicture p && p.Asset == name);

    /// <summary>How often a passage is used, in other passages too.</summary>
    public static int OfPassage(Manual manual, string name) =>
        manual.Kept().SelectMany(d => d.Blocks).SelectMany(b => b.WithInner()).Count(b => b is PassageUse use && use.Passage == name);

    /// <summary>In how many places something applies to a value, or an edition chooses it.</summary>
    public static int OfValue(Manual manual, string axis, string value)
    {
        bool Names(IReadOnlyList<AxisValues> axes) => axes.Any(a => a.Axis == axis && a.Values.Contains(value));
        return manual
                .Kept()
                .Sum(d => (Names(d.AppliesTo.Axes) ? 1 : 0) + d.Blocks.Sum(b => b.ConditionsIn().Count(c => Names(c.AppliesTo.Axes))))
            + manual.Editions.Count(e => Names(e.Chosen));
    }

    /// <summary>Whether a passage's text would come to stand in itself through blocks that use it.</summary>
    public static bool WouldHoldItself(Manual manual, string passage, Block block)
    {
        var seen = new HashSet<string>(StringComparer.Ordinal);
        var waiting = new Stack<Block>(block.WithInner());
        while (waiting.TryPop(out var next))
            if (next is PassageUse use)
            {
                if (use.Passage == passage)
                    return true;
                if (seen.Add(use.Passage) && manual.Passages.FirstOrDefault(p => p.Name == use.Passage) is { } inner)
                    foreach (var b in inner.Blocks.SelectMany(b => b.WithInner()))
                        waiting.Push(b);
            }
        return false;
    }
}
