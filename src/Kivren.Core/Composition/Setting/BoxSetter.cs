using Kivren.Core.Content;
using Kivren.Core.Type;

namespace Kivren.Core.Composition;

/// <summary>Boxes with a title on a tint: asides, and examples, which carry a number.</summary>
internal static class BoxSetter
{
    private const int Inset = 9_000,
        Tint = 92,
        Short = 12;

    public static void Set(
        BlockSetter at,
        Id id,
        (string Name, string Number)? number,
        IReadOnlyList<Inline> title,
        IReadOnlyList<Block> blocks,
        Frame frame
    )
    {
        var look = at.Look;
        var from = at.Stack.Count;
        var (left, width) = (frame.Inset(Inset).Left, frame.Inset(Inset).Width);
        if (number is not null || title.Count > 0)
        {
            var styled = new StyledText();
            if (number is not null)
                styled.Add(
                    $"{number.Value.Name}\u00A0{number.Value.Number}" + (title.Count > 0 ? "\u2002" : ""),
                    look.AsideTitle.Plain,
                    false
                );
            at.Spans(styled, title, look.AsideTitle, hyphenates: false);
            at.Lines(styled, look.AsideTitle, left, width, 0, id);
            at.Stack.KeepTogether(from, Keep.Whole);
            at.Stack.Space(look.AsideTitle.After.Millipoints);
            at.Stack.KeepNext(Keep.Head);
        }
        var first = true;
        foreach (var block in blocks)
        {
            if (!first)
                at.Stack.Space(4_000);
            first = false;
            at.Inner(block, new Frame(left, width, look.AsideText, number is null ? "aside" : "example"));
        }
        if (at.Stack.Count == from)
            at.Stack.Add(look.AsideText.Leading.Millipoints, []);
        if (at.Stack.Count - from <= Short)
            at.Stack.KeepTogether(from, Keep.Short);
        // The tint reaches over each piece and the space above it, so that a box may turn the page between its lines.
        for (var p = from; p < at.Stack.Count; p++)
        {
            var above = p == from ? Inset - 2_000 : at.Stack.TakeSpace(p);
            var below = p == at.Stack.Count - 1 ? Inset - 2_000 : 0;
            at.Stack.Extend(p, above, below, [new DrawnRule(frame.Left, 0, frame.Width, at.Stack.HeightOf(p) + above + below, Tint)]);
        }
    }
}
