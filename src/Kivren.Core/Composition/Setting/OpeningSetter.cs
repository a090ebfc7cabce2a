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
        var name = look.Numbering.KindName(division.Kind);
        var number = numbers.Number;
        if (look.NumbersInSide && number.Length > 0)
            drawn.Add(
                new DrawnLine(
                    BlockSetter.Label(name.Length > 0 ? $"{name} {number}" : number, look.DivisionLabel),
                    -(at.Page.SideColumn + at.Page.SideGap).Millipoints,
                    y + look.DivisionTitle.Baseline.Millipoints,
                    division.Id
                )
            );
        else if (name.Length > 0)
        {
            drawn.Add(
                new DrawnLine(
                    BlockSetter.Label(number.Length > 0 ? $"{name} {number}" : name, look.DivisionLabel),
                    0,
                    y + look.DivisionLabel.Baseline.Millipoints,
                    division.Id
                )
            );
            y += (look.DivisionLabel.Leading + look.DivisionLabel.After).Millipoints;
        }
        var styled = new StyledText();
        styled.Add(division.Title, look.DivisionTitle.Plain, false);
        foreach (var line in at.SetLines(styled, look.DivisionTitle, at.Full, 0))
        {
            drawn.Add(new DrawnLine(line, 0, y + look.DivisionTitle.Baseline.Millipoints, division.Id));
            y += look.DivisionTitle.Leading.Millipoints;
        }
        at.Stack.Add(y, drawn, spans: true);
    }
}
