using Kivren.Core.Looks;
using Kivren.Core.Type;

namespace Kivren.Core.Composition;

/// <summary>Lines with tabs (composition.md 2): what stands after a tab is set at the dress's next stop, with its leader.
/// Such lines are ragged; one that says it is overfull does not fit, and its paragraph is set without stops.</summary>
internal static class TabbedLines
{
    /// <param name="missing">told the characters that no face covers</param>
    public static List<TextLine> Set(StyledText styled, Dress dress, int width, List<string> missing)
    {
        var s = styled.ToString();
        var lines = new List<TextLine>();
        foreach (var (from, to) in Split(s, 0, s.Length, '\u2028'))
            Line(styled, s, from, to, dress, width, lines, missing);
        return lines;
    }

    private static List<(int From, int To)> Split(string s, int from, int to, char at)
    {
        var parts = new List<(int, int)>();
        for (var i = from; i <= to; i++)
            if (i == to || s[i] == at)
            {
                parts.Add((from, i));
                from = i + 1;
            }
        return parts;
    }

    private static void Line(
        StyledText styled,
        string s,
        int from,
        int to,
        Dress dress,
        int width,
        List<TextLine> lines,
        List<string> missing
    )
    {
        var words = new List<LineWord>();
        var x = 0;
        var parts = Split(s, from, to, '\t');
        for (var p = 0; p < parts.Count; p++)
        {
            var part = Part(styled, s, parts[p].From, parts[p].To);
            var set = part.Length == 0 ? new TextLine([], 0, 0, 0) : LineSetter.OfThread.Set(part, Shape.OneLine, null, missing)[0];
            var start = x;
            if (p > 0)
            {
                var stop = dress.Tabs.Cast<TabStop?>().FirstOrDefault(t => At(t!.Value, width) > x)
                    ?? new TabStop(new Length(Math.Max(x + 6_000, width)), TabAlignment.Right);
                var at = At(stop, width);
                var before = stop.Alignment switch
                {
                    TabAlignment.Right => set.Width,
                    TabAlignment.Centre => set.Width / 2,
                    TabAlignment.Decimal => BeforeSign(set),
                    _ => 0,
                };
                start = Math.Max(x + 2_000, at - before);
                if (stop.Leader is { } leader)
                    Leader(words, leader, x + 2_000, start - 2_000, width, dress.Plain);
            }
            foreach (var word in set.Words)
                words.Add(word with { X = (dress.Plain.Writing.RightToLeft ? width - start - set.Width : start) + word.X });
            x = start + set.Width;
        }
        lines.Add(new TextLine([.. words], from, to, x) { Overfull = x > width, Measure = Math.Max(x, width) });
    }

    private static int At(TabStop stop, int width) =>
        stop.Position.Millipoints <= 0 ? width + stop.Position.Millipoints : stop.Position.Millipoints;

    private static int BeforeSign(TextLine line)
    {
        if (line.Words.Length == 0)
            return 0;
        var sign = line.Words[0].Word.Text.AsSpan().IndexOfAny('.', ',');
        var glyph = sign < 0 ? -1 : line.Words[0].Word.GlyphAt(sign);
        return glyph < 0 ? line.Words[0].Width : line.Words[0].Style.Scale(line.Words[0].Word.WidthOf(0, glyph));
    }

    /// <summary>Signs on a grid counted from where the measure begins, so that they align from line to line.</summary>
    private static void Leader(List<LineWord> words, string leader, int from, int to, int width, TextStyle style)
    {
        var sign = style.Word(leader);
        var wide = style.Scale(sign.Width);
        var step = Math.Max(wide, style.Size.Millipoints * 45 / 100);
        for (var x = (from + step - 1) / step * step; x + wide <= to; x += step)
            words.Add(LineWord.Whole(sign, style, style.Writing.RightToLeft ? width - x - wide : x));
    }

    private static StyledText Part(StyledText styled, string s, int from, int to)
    {
        var part = new StyledText();
        for (var i = 0; i < styled.Spans.Count; i++)
        {
            var span = styled.Spans[i];
            var end = i + 1 < styled.Spans.Count ? styled.Spans[i + 1].Start : s.Length;
            var (a, b) = (Math.Max(from, span.Start), Math.Min(to, end));
            for (var at = a; at < b; )
                if (styled.Insets.TryGetValue(at, out var inset))
                {
                    part.Add(inset, span.Style);
                    at++;
                }
                else
                {
                    var start = at;
                    while (at < b && !styled.Insets.ContainsKey(at))
                        at++;
                    part.Add(s[start..at], span.Style, false, span.Target, span.Web, true);
                }
        }
        return part;
    }
}
