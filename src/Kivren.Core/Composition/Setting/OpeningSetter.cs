using Kivren.Core.Content;
using Kivren.Core.Numbering;
using Kivren.Core.Type;

namespace Kivren.Core.Composition;

/// <summary>The opening of a division: name and number, title.</summary>
internal static class OpeningSetter
{
    /// <summary>Reads the division and its number, under which it is kept.</summary>
    public static void Set(BlockSetter at, DivisionNumbers numbers)
    {
        var look = at.Look;
        var division = numbers.Division;
        at.Stack.Mark(division.Id);
        var drawn = new List<Drawn>();
        var y = look.Sink.Millipoints * (division.Kind == DivisionKind.Part ? 3 : 1);
        var name = look.KindName(division);
        var number = numbers.Number;
        if (look.NumbersInSide && number.Length > 0)
            drawn.Add(
                new DrawnLine(
                    BlockSetter.Label(LanguageWords.Numbered(name, number, " "), look.DivisionLabel),
                    -(at.Page.SideColumn + at.Page.SideGap).Millipoints,
                    y + look.DivisionTitle.Baseline.Millipoints,
                    division.Id
                )
            );
        else if (name.Length > 0)
        {
            drawn.Add(
                new DrawnLine(
                    BlockSetter.Label(LanguageWords.Numbered(name, number, " "), look.DivisionLabel),
                    0,
                    y + look.DivisionLabel.Baseline.Millipoints,
                    division.Id
                )
            );
            y += (look.DivisionLabel.Leading + look.DivisionLabel.After).Millipoints;
        }
        var dress = look.DivisionTitle;
        var (inset, gap) = dress.HasTint ? (dress.TintInset.Millipoints, 0) : (0, dress.RuleGap.Millipoints);
        void Rule(int thick) => drawn.Add(new DrawnRule(0, y, at.Full, thick, dress.RuleTone));
        if (dress.RuleAbove.Millipoints is var over and > 0)
        {
            Rule(over);
            y += over + gap;
        }
        var styled = new StyledText();
        styled.Add(division.Title, dress.Plain, false);
        var lines = at.SetLines(styled, dress, at.Full - 2 * inset, 0, title: true);
        if (dress.HasTint)
            drawn.Add(new DrawnRule(0, y, at.Full, lines.Count * dress.Leading.Millipoints + 2 * inset, dress.TintTone));
        y += inset;
        foreach (var line in lines)
        {
            drawn.Add(new DrawnLine(line, inset, y + dress.Baseline.Millipoints, division.Id));
            y += dress.Leading.Millipoints;
        }
        y += inset;
        if (dress.RuleBelow.Millipoints is var under and > 0)
        {
            y += gap;
            Rule(under);
            y += under;
        }
        at.Stack.Add(y, drawn, spans: true);
    }
}
