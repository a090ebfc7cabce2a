using Kivren.Core.Content;
using Kivren.Core.LooseEnds;
using Kivren.Core.Mathematics;
using Kivren.Core.Type;

namespace Kivren.Core.Composition;

/// <summary>Displayed equations: indented, the number at the right in brackets.</summary>
internal static class DisplaySetter
{
    public static void Set(BlockSetter at, Equation equation, Frame frame)
    {
        var set = EquationSetter.Set(equation.Source, frame.Dress.Size, display: true);
        var isWide = set.Width > frame.Width;
        if (isWide)
            set = EquationSetter.Fitted(equation.Source, frame.Dress.Size, display: true, frame.Width);
        at.CheckEquation(set, equation.Source);
        if (equation.Alternative.Length == 0)
            at.Loose(LooseEndKind.NoAlternativeText, equation.Source, "The equation has no alternative text. Say in words what it says.");
        var indent = Math.Min(at.Look.EquationIndent.Millipoints, Math.Max(0, frame.Width - set.Width));
        var inset = set.ToInset(equation.Id, equation.Alternative.Length > 0 ? equation.Alternative : equation.Source);
        var style = frame.Dress.Plain;
        var line = new TextLine(
            [new LineWord(style.Word(""), 0, 0, style, 0, set.Width) { SpaceAfter = true, Tie = new WordTie(default, null, inset) }],
            0,
            1,
            set.Width
        );
        var drawn = new List<Drawn> { new DrawnLine(line, frame.Left + indent, set.Height + 1_000, equation.Id) };
        var room = frame.Width - indent - set.Width;
        if (at.Reads.Target(equation.Id) is { Number.Length: > 0 } target)
        {
            var number = BlockSetter.Label($"({target.Number})", frame.Dress);
            room -= number.Width + 6_000;
            drawn.Add(new DrawnLine(number, frame.Left + frame.Width - number.Width, set.Height + 1_000, equation.Id));
        }
        if (room < 0 || isWide)
            at.Loose(
                LooseEndKind.OverfullLine,
                equation.Source,
                "The equation is wider than its measure, and is set smaller where it must be. Divide it at a sign of relation."
            );
        at.Stack.KeepNext(Keep.LeadIn);
        at.Stack.Add(set.Height + set.Depth + 2_000, drawn);
    }
}
