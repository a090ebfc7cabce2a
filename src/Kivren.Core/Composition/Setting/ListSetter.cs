using Kivren.Core.Content;
using Kivren.Core.Looks;
using Kivren.Core.Type;

namespace Kivren.Core.Composition;

/// <summary>Items and steps with their labels hung in the list's own margin.</summary>
internal static class ListSetter
{
    /// <param name="keepUpTo">items of no more lines than this are kept together</param>
    /// <param name="labelRight">labels end alike, as numbers do, instead of beginning alike</param>
    public static void Set(BlockSetter at, IReadOnlyList<Item> items, Frame frame, Dress labelDress, int keepUpTo, bool labelRight)
    {
        var look = at.Look;
        var hang = look.ListHang.Millipoints;
        var gap = look.ItemGap.Millipoints;
        var first = true;
        foreach (var item in items)
        {
            if (!first)
                at.Stack.Space(gap);
            first = false;
            at.Stack.Mark(item.Id);
            var start = at.Stack.Count;
            var label = BlockSetter.Label(at.Reads.Label(item.Id), labelDress);
            var hangs = frame.Gives(hang);
            if (!hangs)
            {
                // Nested so deep that there is no room to hang it: it has a line of its own.
                at.Stack.Add(
                    frame.Dress.Leading.Millipoints,
                    [new DrawnLine(label, frame.Left, frame.Dress.Baseline.Millipoints, item.Id)]
                );
                at.Stack.KeepNext(Keep.Whole);
            }
            var inFirst = true;
            foreach (var block in item.Blocks)
            {
                if (!inFirst && block is (Paragraph or Steps or ItemList))
                    at.Stack.Space(gap);
                inFirst = false;
                at.Inner(block, frame.Indented(hang));
            }
            if (at.Stack.Count == start)
                at.Stack.Add(frame.Dress.Leading.Millipoints, []);
            if (!hangs)
                continue;
            var x = labelRight
                ? frame.Left + hang - look.Blocks.NumberGap.Millipoints - label.Width
                : frame.Left + hang - Math.Max(label.Width + look.Blocks.BulletGap.Millipoints, look.Blocks.BulletHang.Millipoints);
            at.Stack.Extend(start, 0, 0, [new DrawnLine(label, Math.Max(frame.Left, x), frame.Dress.Baseline.Millipoints, item.Id)]);
            if (at.Stack.Count - start <= keepUpTo)
                at.Stack.KeepTogether(start, Keep.Together);
        }
    }
}
