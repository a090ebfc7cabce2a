using Kivren.Core.Type;

namespace Kivren.Core.Composition;

/// <summary>A part of what was drawn in one piece, from its own top.</summary>
internal sealed record Slice(int Height, List<Drawn> Drawn);

/// <summary>Divides what is drawn in one piece but taller than its page: between its lines, wherever no line is cut; a line that
/// stands across every such place goes whole into the part in which it begins. No line is ever lost.</summary>
internal static class Slices
{
    /// <summary>Parts of an em that letters reach above and below their baseline.</summary>
    private const int Ascent = 80,
        Descent = 25;

    private readonly record struct Box(int Top, int Bottom, Drawn Drawn);

    /// <param name="most">no part is taller, unless a single line or picture is</param>
    public static List<Slice> Of(IReadOnlyList<Drawn> drawn, int height, int most)
    {
        var boxes = drawn.Where(d => !IsGround(d)).Select(BoxOf).OrderBy(b => b.Top).ThenBy(b => b.Drawn.X).ToList();
        if (boxes.Count == 0)
            return [new Slice(height, [.. drawn])];
        var cuts = Cuts(boxes, height, Math.Max(1, most));
        var slices = new List<Slice>();
        var next = 0;
        // Grounds in the order of painting, met from the top down; those that a part can still reach are few.
        var grounds = drawn.OfType<DrawnRule>().ToArray();
        var met = Enumerable.Range(0, grounds.Length).OrderBy(g => grounds[g].Y).ToArray();
        var reached = new SortedSet<int>();
        var nextGround = 0;
        for (var c = 0; c + 1 < cuts.Count; c++)
        {
            int top = cuts[c],
                end = cuts[c + 1],
                bottom = end;
            var own = new List<Drawn>();
            for (; next < boxes.Count && (boxes[next].Top < end || c + 2 == cuts.Count); next++)
            {
                own.Add(Moved(boxes[next].Drawn, -top));
                bottom = Math.Max(bottom, boxes[next].Bottom);
            }
            var last = c + 2 == cuts.Count;
            for (; nextGround < met.Length && (grounds[met[nextGround]].Y < end || last); nextGround++)
                reached.Add(met[nextGround]);
            reached.RemoveWhere(g => grounds[g].Y + grounds[g].Height <= top);
            slices.Add(
                new Slice(bottom - top, [.. reached.Select(g => Within(grounds[g], top, end, bottom, last)).OfType<Drawn>(), .. own])
            );
        }
        return slices;
    }

    /// <summary>Tops and ends of the parts, from 0 to the height: after every line where none is cut, and closer only where the
    /// way to the next such place is more than fits.</summary>
    private static List<int> Cuts(List<Box> boxes, int height, int most)
    {
        var cuts = new List<int> { 0 };
        var reached = boxes[0].Bottom;
        for (var b = 1; b < boxes.Count; b++)
        {
            var top = boxes[b].Top;
            if (top >= reached && top > cuts[^1])
                cuts.Add(top);
            else if (top > cuts[^1] && Math.Max(reached, boxes[b].Bottom) - cuts[^1] > most)
                cuts.Add(top);
            reached = Math.Max(reached, boxes[b].Bottom);
        }
        cuts.Add(Math.Max(height, reached));
        return cuts;
    }

    private static Box BoxOf(Drawn drawn) =>
        drawn switch
        {
            DrawnLine line => new Box(Math.Max(0, line.Y - Up(line.Line)), line.Y + Down(line.Line), drawn),
            DrawnPicture picture => new Box(Math.Max(0, picture.Y), picture.Y + picture.Height, drawn),
            _ => new Box(Math.Max(0, drawn.Y), drawn.Y, drawn),
        };

    private static int Up(TextLine line) =>
        line.Words.Length == 0 ? 0 : line.Words.Max(w => Math.Max(w.Style.Size.Millipoints * Ascent / 100, w.Inset?.Height ?? 0));

    private static int Down(TextLine line) =>
        line.Words.Length == 0 ? 0 : line.Words.Max(w => Math.Max(w.Style.Size.Millipoints * Descent / 100, w.Inset?.Depth ?? 0));

    /// <summary>Rules and tints: what lines stand on.</summary>
    private static bool IsGround(Drawn drawn) => drawn is DrawnRule;

    private static Drawn Moved(Drawn drawn, int down) => drawn with { Y = drawn.Y + down };

    /// <summary>A rule or tint as far as it lies in a part; null when it lies outside.</summary>
    private static DrawnRule? Within(DrawnRule rule, int top, int end, int bottom, bool last)
    {
        int from = Math.Max(rule.Y, top),
            to = Math.Min(rule.Y + rule.Height, last ? Math.Max(bottom, rule.Y + rule.Height) : end);
        if (from >= to)
            return null;
        // What reaches to the end of a part covers all of it, also a line that stands over the end.
        if (to == end && !last && rule.Y + rule.Height > end)
            to = bottom;
        return rule with { Y = from - top, Height = to - from };
    }
}
