using Kivren.Core.Content;
using Kivren.Core.LooseEnds;
using Kivren.Core.Type;

namespace Kivren.Core.Composition;

/// <summary>What print shows of a figure's areas and of the film or sound it stands for: numbers on the picture, and under the
/// caption a key with their words and the address.</summary>
internal sealed class FigureKey
{
    /// <summary>Room for a number before its words.</summary>
    private const int Hang = 12_000;

    /// <summary>Between the number on the picture and the edge of its box, and the box's line.</summary>
    private const int Room = 1_500,
        Line = 500;

    private readonly BlockSetter _at;
    private readonly Figure _figure;
    private readonly List<(AreaBox Box, TextLine Number, List<TextLine> Words)> _areas = [];
    private readonly List<TextLine> _address = [];

    /// <summary>Places that stand in the key, for the index and for references.</summary>
    public List<TextMark> Marks { get; } = [];

    /// <summary>How many lines it takes under the caption.</summary>
    public int Lines => _areas.Sum(a => a.Words.Count) + _address.Count;

    private FigureKey(BlockSetter at, Figure figure) => (_at, _figure) = (at, figure);

    public static FigureKey Of(BlockSetter at, Figure figure, Frame frame)
    {
        var key = new FigureKey(at, figure);
        var dress = at.Look.Caption;
        foreach (var area in figure.Areas())
        {
            if (!Walk.Flat(area.Content).Any(i => i is CrossReference or TextRun { Web: not null }))
                at.Loose(
                    LooseEndKind.AreaLeadsNowhere,
                    area.Content.PlainText(),
                    "An area of this picture leads nowhere: put a reference or a web address into its words, or take it out."
                );
            var words = new StyledText();
            at.Spans(words, area.Content, dress, hyphenates: false);
            // An area that says nothing keeps its number.
            if (words.ToString().Length == 0)
                words.Add("…", dress.Plain, false);
            key.Marks.AddRange(words.Marks);
            var number = new StyledText();
            number.Add(at.Reads.NoteLabel(area.Id), at.Look.CaptionLabel.Plain, false);
            key._areas.Add(
                (area.Box.Inside(), at.SetLines(number, dress, Hang * 2, 0)[0], at.SetLines(words, dress, frame.Width - Hang, 0))
            );
        }
        if (figure.Plays is { } address)
        {
            var said = new StyledText();
            at.Spans(said, [new TextRun(address, Web: address)], dress, hyphenates: false);
            key._address.AddRange(at.SetLines(said, dress, frame.Width, 0));
        }
        return key;
    }

    /// <summary>Each number in a box of its own, at the corner of its area.</summary>
    public void OnPicture(List<Drawn> drawn, int left, int top, int width, int height)
    {
        var dress = _at.Look.CaptionLabel;
        var high = dress.Size.Millipoints + 2 * Room;
        foreach (var (box, number, _) in _areas)
        {
            var wide = Math.Max(high, number.Width + 2 * Room);
            var x = left + Math.Clamp((int)((long)width * box.Left / AreaBox.Whole), 0, Math.Max(0, width - wide));
            var y = top + Math.Clamp((int)((long)height * box.Top / AreaBox.Whole), 0, Math.Max(0, height - high));
            drawn.Add(new DrawnRule(x, y, wide, high, Line));
            drawn.Add(new DrawnRule(x + Line, y + Line, wide - 2 * Line, high - 2 * Line, 100));
            // Said in the key; on the picture it is a sign, no words.
            drawn.Add(new DrawnLine(number, x + (wide - number.Width) / 2, y + Room + dress.Size.Millipoints * 4 / 5, Id.None));
        }
    }

    /// <returns>where it ends</returns>
    public int UnderCaption(List<Drawn> drawn, int left, int y)
    {
        var dress = _at.Look.Caption;
        foreach (var (_, number, words) in _areas)
            for (var l = 0; l < words.Count; l++)
            {
                if (l == 0)
                    drawn.Add(new DrawnLine(number, left, y + dress.Baseline.Millipoints, _figure.Id));
                drawn.Add(new DrawnLine(words[l], left + Hang, y + dress.Baseline.Millipoints, _figure.Id));
                y += dress.Leading.Millipoints;
            }
        foreach (var line in _address)
        {
            drawn.Add(new DrawnLine(line, left, y + dress.Baseline.Millipoints, _figure.Id));
            y += dress.Leading.Millipoints;
        }
        return y;
    }
}
