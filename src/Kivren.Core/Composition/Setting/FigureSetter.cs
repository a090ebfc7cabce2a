using Kivren.Core.Content;
using Kivren.Core.LooseEnds;
using Kivren.Core.Type;

namespace Kivren.Core.Composition;

/// <summary>Figures: picture between a hairline and its caption, in its place or floating.</summary>
internal static class FigureSetter
{
    /// <summary>Height of the frame that stands for a picture that is missing.</summary>
    private const int Missing = 60_000;

    /// <summary>A picture without a caption is a part of what the text says where it stands: the text does not go past it, unless it is so
    /// tall that the page before it would be half empty.</summary>
    private static bool IsInText(Figure figure, long height, long depth) =>
        figure is { IsCaptioned: false, Placement: FigurePlacement.Here } && height * 2 <= depth;

    public static void Set(BlockSetter at, Figure figure, Frame frame, bool top)
    {
        var look = at.Look;
        var asset = at.Manual.Assets.FirstOrDefault(a => a.Name == figure.Asset);
        if (figure.Alternative.Length == 0)
            at.Loose(
                LooseEndKind.NoAlternativeText,
                figure.Caption.PlainText(),
                "The figure has no alternative text. Say in words what it shows."
            );
        if (asset is null)
            at.Loose(
                LooseEndKind.PictureMissing,
                figure.Asset,
                $"The picture “{figure.Asset}” is not in the manual. Bring it in, or point the figure at another."
            );
        var spans = top && at.Columns > 1 && figure.Width > 100;
        if (spans)
            frame = frame with { Width = at.Full };
        var styled = new StyledText();
        var caption = figure.IsCaptioned ? CaptionSetter.Lines(at, figure.Id, figure.Caption, frame.Width, out styled) : [];
        var key = FigureKey.Of(at, figure, frame);
        var leading = look.Caption.Leading.Millipoints;
        var isRuled = look.FigureRule && figure.IsCaptioned;
        var above = isRuled ? look.Blocks.FigureRuleGap.Millipoints : 0;
        var width = (int)((long)frame.Width * Math.Clamp(spans ? 100 : figure.Width, 5, 100) / 100);
        long height = asset is null || asset.Width <= 0 ? Missing : (long)width * asset.Height / asset.Width;
        // A caption longer than half a page goes on overleaf rather than pressing its picture to nothing.
        var most = Math.Max(at.Page.Depth.Millipoints / 2, at.Page.Depth.Millipoints - (caption.Count + key.Lines) * leading - 24_000);
        if (height > most)
        {
            width = (int)((long)width * most / height);
            height = most;
        }
        var drawn = new List<Drawn>();
        var y = above;
        if (isRuled)
        {
            drawn.Add(new DrawnRule(frame.Left, 0, frame.Width, look.Blocks.HairRule.Millipoints, look.HairTone));
            y += look.Blocks.HairRule.Millipoints;
        }
        void Caption()
        {
            foreach (var line in caption)
            {
                drawn.Add(new DrawnLine(line, frame.Left, y + look.Caption.Baseline.Millipoints, figure.Id));
                y += leading;
            }
        }
        if (look.Blocks.FigureCaptionAbove && caption.Count > 0)
        {
            Caption();
            y += look.Blocks.CaptionAbove.Millipoints;
        }
        drawn.Add(
            new DrawnPicture(figure.Asset, figure.Alternative, frame.Left + (frame.Width - width) / 2, y, width, (int)height, figure.Id)
        );
        key.OnPicture(drawn, frame.Left + (frame.Width - width) / 2, y, width, (int)height);
        y += (int)height + (caption.Count + key.Lines > 0 ? look.Blocks.CaptionBelow.Millipoints : 0);
        if (!look.Blocks.FigureCaptionAbove)
            Caption();
        y = key.UnderCaption(drawn, frame.Left, y);
        foreach (var mark in styled.Marks.Concat(key.Marks))
            at.Stack.Mark(mark.Id);
        // Notes of a caption stand under it, as those of a table do: wherever the figure goes, they go with it.
        List<SetNote>? notes = null;
        foreach (var note in styled.Notes)
            at.TakeNote(note.Note, ref notes, frame.Width);
        foreach (var note in notes ?? [])
        {
            y += look.Blocks.FigureNoteGap.Millipoints;
            for (var l = 0; l < note.Lines.Count; l++)
            {
                if (l == 0)
                    drawn.Add(new DrawnLine(note.Label, frame.Left, y + note.Baseline, note.Id));
                drawn.Add(new DrawnLine(note.Lines[l], frame.Left + look.Blocks.NoteHang.Millipoints, y + note.Baseline, note.Id));
                y += note.Leading;
            }
        }
        if (top && at.Columns == 1 && figure.Placement == FigurePlacement.OwnPage && y <= at.Page.Depth.Millipoints)
            at.Stack.Add(0, [], floating: Floating.OwnPages, plates: [new Plate(false, drawn, [])]);
        else
            at.Stack.Add(
                y,
                drawn,
                spans: spans,
                floating: !top || IsInText(figure, y, at.Page.Depth.Millipoints)
                    ? Floating.No
                    : figure.Placement switch
                    {
                        FigurePlacement.Top => Floating.Top,
                        FigurePlacement.Foot => Floating.Foot,
                        _ => Floating.Here,
                    }
            );
    }
}
