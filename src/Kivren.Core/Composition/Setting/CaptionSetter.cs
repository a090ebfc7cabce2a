using Kivren.Core.Content;
using Kivren.Core.Type;

namespace Kivren.Core.Composition;

/// <summary>Captions: name and number, then the words.</summary>
internal static class CaptionSetter
{
    /// <param name="more">added to the number: that it goes on, in the language of the text</param>
    public static List<TextLine> Lines(
        BlockSetter at,
        Id id,
        IReadOnlyList<Inline> caption,
        int width,
        out StyledText styled,
        string more = ""
    )
    {
        var look = at.Look;
        styled = new StyledText();
        if (at.Reads.Target(id) is { Number.Length: > 0 } target)
        {
            styled.Add(LanguageWords.Numbered(target.Name, target.Number) + more, look.CaptionLabel.Plain, false);
            if (caption.Count > 0)
                styled.Add("\u00A0 ", look.CaptionLabel.Plain, false);
        }
        at.Spans(styled, caption, look.Caption, hyphenates: false);
        return at.SetLines(styled, look.Caption, width, 0);
    }

    /// <summary>The caption as pieces above what it names.</summary>
    public static void Above(BlockSetter at, Id id, IReadOnlyList<Inline> caption, Frame frame, bool notesBelow)
    {
        if (caption.Count == 0)
            return;
        Put(at, id, caption, frame, notesBelow);
        at.Stack.Space(at.Look.Blocks.CaptionAbove.Millipoints);
        at.Stack.KeepNext(Keep.Whole);
    }

    /// <summary>The caption as pieces under what it names.</summary>
    public static void Below(BlockSetter at, Id id, IReadOnlyList<Inline> caption, Frame frame, bool notesBelow)
    {
        if (caption.Count == 0)
            return;
        at.Stack.Space(at.Look.Blocks.CaptionBelow.Millipoints);
        at.Stack.KeepNext(Keep.Whole);
        Put(at, id, caption, frame, notesBelow);
    }

    private static void Put(BlockSetter at, Id id, IReadOnlyList<Inline> caption, Frame frame, bool notesBelow)
    {
        var lines = Lines(at, id, caption, frame.Width, out var styled);
        foreach (var mark in styled.Marks)
            at.Stack.Mark(mark.Id);
        List<SetNote>? notes = null;
        if (!notesBelow)
            foreach (var note in styled.Notes)
                at.TakeNote(note.Note, ref notes);
        for (var i = 0; i < lines.Count; i++)
        {
            if (i > 0)
                at.Stack.KeepNext(Keep.Whole);
            at.Stack.Add(
                at.Look.Caption.Leading.Millipoints,
                [new DrawnLine(lines[i], frame.Left, at.Look.Caption.Baseline.Millipoints, id)],
                i == 0 ? notes : null
            );
        }
    }
}
