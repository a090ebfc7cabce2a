using Kivren.Core.Content;
using Kivren.Core.Looks;
using Kivren.Core.Type;

namespace Kivren.Core.Composition;

/// <summary>An aside at the right of a paragraph whose first lines are narrower for it (composition.md 2).</summary>
internal static class BesideSetter
{
    /// <summary>Lines by which it may reach below the paragraph.</summary>
    private const int MostWhite = 2;

    public static Dress Set(BlockSetter at, Paragraph paragraph, Aside aside)
    {
        var look = at.Look;
        var dress = at.DressOf(paragraph, look.DressOf(paragraph.Role, at.Standing()));
        var width = Math.Min(look.AsideBeside.Millipoints, at.Measure / 2);
        at.Stack.Mark(aside.Id);
        var box = at.Stack.Count;
        BoxSetter.Set(at, aside, null, aside.Title, aside.Blocks, new Frame(at.Measure - width, width, look.AsideText, "aside"));
        var height = at.Stack.HeightFrom(box);
        var leading = dress.Leading.Millipoints;
        var narrow = (height + leading - 1) / leading;
        at.Stack.Mark(paragraph.Id);
        var styled = new StyledText();
        at.Spans(styled, paragraph.Content, dress, dress.Hyphenates);
        var lines = at.SetLines(
            styled,
            new Shape(
                new Length(at.Measure),
                default,
                dress.Alignment,
                narrow,
                new Length(at.Measure - width - look.Blocks.BesideGap.Millipoints)
            ),
            dress.Hyphenates
        );
        // The box is drawn with the first line; the lines beside it stand on one page.
        var (drawn, notes) = at.Stack.TakeFrom(box);
        var first = at.Stack.Count;
        if (lines.Count < narrow - MostWhite || height > at.Page.Depth.Millipoints / 2)
        {
            // Beside so little text it would leave a hole, and a long one beside its text could not be divided: it stands in the text, in
            // its own measure.
            BoxSetter.Set(at, aside, null, aside.Title, aside.Blocks, new Frame(0, at.Measure, look.AsideText, "aside"));
            at.Stack.Space(look.AsideText.After.Millipoints);
            first = at.Stack.Count;
            at.Lines(styled, dress, 0, at.Measure, 0, paragraph.Id);
            Number();
            return dress;
        }
        at.Put(styled, lines, dress, 0, paragraph.Id);
        if (lines.Count < narrow)
            at.Stack.Add((narrow - lines.Count) * leading, []);
        Number();
        at.Stack.Behind(first, drawn, notes);
        at.Stack.KeepTogether(first, first + narrow, Keep.Whole);
        return dress;

        void Number()
        {
            if (at.Reads.Label(paragraph.Id) is { Length: > 0 } clause)
                at.HangNumber(clause, look.DressOf("clause", at.Standing()), dress, first, paragraph.Id);
        }
    }
}
