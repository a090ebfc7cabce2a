using Kivren.Core.Content;
using Kivren.Core.LooseEnds;
using Kivren.Core.Type;

namespace Kivren.Core.Composition;

/// <summary>Heads with their numbers hung before them or in the side column.</summary>
internal static class HeadSetter
{
    public static (int Before, int After) Set(BlockSetter at, Head head)
    {
        if (!head.Printed)
            return (0, 0);
        var dress = at.DressOf(head, at.Look.HeadDress(head.Level));
        var number = at.Reads.Target(head.Id)?.Number ?? "";
        if (head.Content.PlainText().Trim().Length == 0)
            at.Loose(
                LooseEndKind.EmptyHead,
                "",
                $"{(head.Level == HeadLevel.A ? "An" : "A")} {head.Level} head without words. Write it or take it out."
            );
        var styled = new StyledText();
        at.Spans(styled, head.Content, dress, hyphenates: false);
        var hang = 0;
        TextLine? label = null;
        if (number.Length > 0 && !at.Look.NumbersInSide)
        {
            label = BlockSetter.Label(number, dress);
            hang = label.Width + dress.Size.Scale(85, 100).Millipoints;
        }
        var from = at.Stack.Count;
        var inset = dress.HasTint ? dress.TintInset.Millipoints : 0;
        var width = at.WidthOf(dress);
        at.Lines(styled, dress, inset + hang, width - 2 * inset - hang, 0, head.Id, title: true);
        if (label is not null)
            at.Stack.Extend(from, 0, 0, [new DrawnLine(label, inset, dress.Baseline.Millipoints, head.Id)]);
        else if (number.Length > 0)
            at.HangNumber(number, dress, dress, from, head.Id);
        at.Surround(dress, from, 0, width);
        at.Stack.KeepTogether(from, Keep.Whole);
        return (dress.Before.Millipoints, dress.After.Millipoints);
    }
}
