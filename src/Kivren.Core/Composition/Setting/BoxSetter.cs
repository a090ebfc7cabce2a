using Kivren.Core.Content;
using Kivren.Core.Type;

namespace Kivren.Core.Composition;

/// <summary>Boxes with a title on a tint: asides, and examples, which carry a number.</summary>
internal static class BoxSetter
{
    /// <summary>Boxes of no more lines than this stand whole.</summary>
    private const int Short = 12;

    /// <summary>The edge of a box that is cut: the tint goes on so far past the text, and a strip of it after a gap.</summary>
    private const int OpenEdge = 3_500,
        OpenGap = 1_000,
        OpenStrip = 900;

    /// <summary>By so much less is the inset above and below, where the lines have white of their own.</summary>
    private const int LessAbove = 2_000;

    public static void Set(
        BlockSetter at,
        Block box,
        (string Name, string Number)? number,
        IReadOnlyList<Inline> title,
        IReadOnlyList<Block> blocks,
        Frame frame
    )
    {
        var look = at.Look;
        var text = at.DressOf(box, look.AsideText);
        var from = at.Stack.Count;
        var inset = look.Blocks.BoxInset.Millipoints;
        var tone = text.HasTint ? text.TintTone : look.Palette.Tone(look.Blocks.BoxColour, look.Blocks.BoxTint);
        var (left, width) = (frame.Inset(inset).Left, frame.Inset(inset).Width);
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
            at.Lines(styled, look.AsideTitle, left, width, 0, box.Id, title: true);
            at.Stack.KeepTogether(from, Keep.Whole);
            at.Stack.Space(look.AsideTitle.After.Millipoints);
            at.Stack.KeepNext(Keep.Head);
        }
        var titled = at.Stack.Count - from;
        var first = true;
        foreach (var block in blocks)
        {
            if (!first)
                at.Stack.Space(look.Blocks.BoxGap.Millipoints);
            first = false;
            at.Inner(block, new Frame(left, width, text, number is null ? "aside" : "example"));
        }
        if (at.Stack.Count == from)
            at.Stack.Add(text.Leading.Millipoints, []);
        if (at.Stack.Count - from <= Short)
            at.Stack.KeepTogether(from, Keep.Short);
        else
            at.Stack.KeepTwo(from + titled);
        // The tint reaches over each piece and the space above it, so that a box may turn the page between its lines.
        var edge = Math.Max(0, inset - LessAbove);
        for (var p = from; p < at.Stack.Count; p++)
        {
            var above = p == from ? edge : at.Stack.TakeSpace(p);
            var below = p == at.Stack.Count - 1 ? edge : 0;
            at.Stack.Extend(p, above, below, [new DrawnRule(frame.Left, 0, frame.Width, at.Stack.HeightOf(p) + above + below, tone)]);
        }
        DrawnRule Strip(int y, int height) => new(frame.Left, y, frame.Width, height, tone);
        at.Stack.Open(
            from,
            [Strip(-OpenEdge, OpenEdge), Strip(-OpenEdge - OpenGap - OpenStrip, OpenStrip)],
            [Strip(0, OpenEdge), Strip(OpenEdge + OpenGap, OpenStrip)]
        );
    }
}
