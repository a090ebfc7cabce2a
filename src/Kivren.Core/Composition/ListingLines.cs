using Kivren.Core.Type;

namespace Kivren.Core.Composition;

/// <summary>Lines of program text: every space counts, and a line longer than the measure goes on with a mark.</summary>
internal static class ListingLines
{
    private const string Mark = "↳";

    public static List<TextLine> Of(string text, TextStyle style, int width, List<string> missing)
    {
        var advance = style.Scale(style.Face.Space);
        var columns = Math.Max(8, width / Math.Max(1, advance));
        var lines = new List<TextLine>();
        foreach (var source in text.Replace("\t", "    ", StringComparison.Ordinal).ReplaceLineEndings("\n").TrimEnd('\n').Split('\n'))
        {
            var rest = source.TrimEnd();
            var continued = false;
            do
            {
                var room = continued ? columns - 2 : columns;
                var taken = rest.Length <= room ? rest.Length : CutAt(rest, room);
                lines.Add(Line(rest[..taken], style, advance, continued, missing));
                rest = rest[taken..];
                continued = true;
            }
            while (rest.Length > 0);
        }
        return lines;
    }

    private static int CutAt(string text, int room)
    {
        var space = text.LastIndexOf(' ', room - 1, room * 2 / 3);
        return space > 0 ? space + 1 : char.IsHighSurrogate(text[room - 1]) ? room - 1 : room;
    }

    private static TextLine Line(string text, TextStyle style, int advance, bool continued, List<string> missing)
    {
        var words = new List<LineWord>();
        var x = 0;
        if (continued)
        {
            var mark = style with { Face = FaceLibrary.Symbols };
            var shaped = mark.Face.Word(Mark);
            words.Add(new LineWord(shaped, 0, shaped.Glyphs.Length, mark, 0, mark.Scale(shaped.Width), false, true, default, null));
            x = 2 * advance;
        }
        for (var at = 0; at < text.Length;)
        {
            if (text[at] == ' ')
            {
                at++;
                x += advance;
                if (words.Count > 0) words[^1] = words[^1] with { SpaceAfter = true };
                continue;
            }
            var from = at;
            var own = Covered(text[at], style);
            while (at < text.Length && text[at] != ' ' && Covered(text[at], style) == own) at++;
            var face = own ? style : style with { Face = FaceLibrary.Symbols };
            var word = face.Face.Word(text.AsSpan(from, at - from));
            if (!own && word.Glyphs.Contains((ushort)0)) missing.Add(text[from..at]);
            var width = face.Scale(word.Width);
            words.Add(new LineWord(word, 0, word.Glyphs.Length, face, x, width, false, false, default, null));
            x += width;
        }
        if (words.Count > 0) words[^1] = words[^1] with { SpaceAfter = true };
        return new TextLine([.. words], 0, text.Length, x);
    }

    private static bool Covered(char c, TextStyle style) => style.Face.Covers(c);
}
