using Kivren.Core.Content;
using Kivren.Core.Numbering;
using Kivren.Core.Type;

namespace Kivren.Core.Composition;

/// <summary>Terms with what they mean, and lists of documents: both in the order that numbering counts them in.</summary>
internal static class DefinitionSetter
{
    public static void Set(BlockSetter at, DefinitionList list, Frame frame)
    {
        var look = at.Look;
        var first = true;
        foreach (var definition in list.InOrder(at.Reads.Language))
        {
            if (!first)
                at.Stack.Space((look.ItemGap + look.Blocks.DefinitionGap).Millipoints);
            first = false;
            at.Stack.Mark(definition.Id);
            var from = at.Stack.Count;
            var styled = new StyledText();
            var number = at.Reads.Label(definition.Id);
            // A number that hangs nowhere stands before its term, as before a head.
            var label = number.Length > 0 && !look.NumbersInSide ? BlockSetter.Label(number, look.Term) : (TextLine?)null;
            var hang = label is { } own ? own.Width + look.Term.Size.Scale(85, 100).Millipoints : 0;
            at.Spans(styled, definition.Term, look.Term, hyphenates: false);
            at.Lines(styled, look.Term, frame.Left + hang, frame.Width - hang, 0, definition.Id);
            if (label is { } before)
                at.Stack.Extend(from, 0, 0, [new DrawnLine(before, frame.Left, look.Term.Baseline.Millipoints, definition.Id)]);
            else if (number.Length > 0)
                at.HangNumber(number, look.DressOf("clause", at.Standing()), look.Term, from, definition.Id);
            at.Stack.KeepNext(Keep.Head);
            var indent = look.ListHang.Millipoints;
            var inFirst = true;
            foreach (var block in definition.Blocks)
            {
                if (!inFirst)
                    at.Stack.Space(look.ItemGap.Millipoints);
                inFirst = false;
                at.Inner(block, frame.Indented(indent) with { Within = "definition" });
            }
        }
    }

    public static void Set(BlockSetter at, ReferenceList list, Frame frame)
    {
        var look = at.Look;
        var dress = frame.Dress;
        var first = true;
        foreach (var document in list.InOrder(at.Reads.Language))
        {
            if (!first)
                at.Stack.Space(look.ItemGap.Millipoints);
            first = false;
            at.Stack.Mark(document.Id);
            var styled = new StyledText();
            styled.Add(document.Designation.Replace(' ', '\u00A0'), dress.Style(SpanRoles.Strong), false);
            styled.Add(", ", dress.Plain, false);
            at.Spans(
                styled,
                document.Title.Select(i => i is TextRun run ? run with { Roles = run.Roles ^ SpanRoles.Emphasis } : i).ToArray(),
                dress,
                dress.Hyphenates
            );
            at.Lines(styled, dress, frame.Left, frame.Width, 0, document.Id);
        }
    }
}
