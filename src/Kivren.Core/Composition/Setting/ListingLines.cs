using System.Globalization;
using System.Text;
using Kivren.Core.Listings;
using Kivren.Core.Looks;
using Kivren.Core.Type;

namespace Kivren.Core.Composition;

/// <summary>Lines of program text: every space counts, and a line longer than the measure goes on with a mark.</summary>
internal static class ListingLines
{
    private const string Mark = "↳";

    /// <summary>A line is not cut shorter, however narrow its measure.</summary>
    private const int FewestCharacters = 2;

    /// <summary>Inks dark enough to read in black and white; keywords are told by their weight.</summary>
    private static TextStyle StyleOf(TokenKind kind, TextStyle plain) =>
        kind switch
        {
            TokenKind.Comment => plain with { Ink = Tone.Of(0x5C5C5C) },
            TokenKind.Text => plain with { Ink = Tone.Of(0x1D5B45) },
            TokenKind.Number => plain with { Ink = Tone.Of(0x7A3A12) },
            TokenKind.Keyword => plain with { Face = FaceLibrary.CodeStrong },
            TokenKind.Name => plain with { Ink = Tone.Of(0x234A7C) },
            _ => plain,
        };

    /// <summary>The lines with the number of the source line each belongs to, and whether it goes on one.</summary>
    public static List<(TextLine Line, int Number, bool Continued)> Of(
        IReadOnlyList<string> source,
        string language,
        Dress dress,
        int width,
        List<string> missing
    )
    {
        var plain = dress.Plain;
        var styles = Enum.GetValues<TokenKind>().Select(k => StyleOf(k, plain)).ToArray();
        var symbols = styles.Select(s => s with { Face = FaceLibrary.Symbols }).ToArray();
        var advance = plain.Scale(plain.Face.Space);
        var columns = Math.Max(8, width / Math.Max(1, advance));
        var tokens = ListingTokens.Of(source, language);
        var lines = new List<(TextLine, int, bool)>();
        for (var n = 0; n < source.Count; n++)
        {
            var text = source[n];
            var from = 0;
            do
            {
                var room = from > 0 ? columns - 2 : columns;
                int End(int most) => text.Length - from <= most ? text.Length : from + CutAt(text.AsSpan(from), most);
                TextLine Set(int end) => Line(text, from, end, tokens[n], styles, symbols, advance, width, missing);
                var end = End(room);
                var line = Set(end);
                // Characters of other faces are wider than a column.
                for (room = end - from; line.Width > width && room > FewestCharacters; line = Set(end = End(room)))
                    room = Math.Max(FewestCharacters, Math.Min(room - 1, (int)((long)room * width / line.Width)));
                lines.Add((line, n + 1, from > 0));
                from = end;
            } while (from < text.Length);
        }
        return lines;
    }

    private static int CutAt(ReadOnlySpan<char> text, int room)
    {
        var space = text[(room / 3)..room].LastIndexOf(' ');
        return space >= 0 ? room / 3 + space + 1
            : char.IsHighSurrogate(text[room - 1]) ? room - 1
            : room;
    }

    private static TextLine Line(
        string text,
        int from,
        int end,
        IReadOnlyList<ListingToken> tokens,
        TextStyle[] styles,
        TextStyle[] symbols,
        int advance,
        int width,
        List<string> missing
    )
    {
        var words = new List<LineWord>();
        var x = 0;
        if (from > 0)
        {
            var shaped = symbols[0].Word(Mark);
            words.Add(LineWord.Whole(shaped, symbols[0], 0) with { SpaceAfter = true });
            x = 2 * advance;
        }
        var token = 0;
        for (var at = from; at < end; )
        {
            if (text[at] == ' ')
            {
                at++;
                x += advance;
                if (words.Count > 0)
                    words[^1] = words[^1] with { SpaceAfter = true };
                continue;
            }
            while (token < tokens.Count - 1 && tokens[token].End <= at)
                token++;
            var kind = (int)tokens[token].Kind;
            var limit = Math.Min(end, tokens[token].End > at ? tokens[token].End : end);
            var start = at;
            var face = FaceAt(text, at, styles[kind], null, out var length);
            at += length;
            while (at < limit && text[at] != ' ' && ReferenceEquals(FaceAt(text, at, styles[kind], face, out length), face))
                at += length;
            var characters = text.AsSpan(start, at - start);
            var style =
                face is null ? symbols[kind]
                : ReferenceEquals(face, styles[kind].Face) ? styles[kind]
                : LineSetter.OtherFace(styles[kind], face);
            if (face is null)
                missing.Add(text[start..at]);
            words.Add(LineWord.Whole(face is null ? Missing.Boxes(characters) : style.Word(characters), style, x));
            x += words[^1].Width;
        }
        if (words.Count > 0)
            words[^1] = words[^1] with { SpaceAfter = true };
        return new TextLine([.. words], from, end, x) { Measure = Math.Max(x, width) };
    }

    /// <param name="before">that of the character before, which a mark stays with</param>
    private static Face? FaceAt(string text, int at, TextStyle style, Face? before, out int length)
    {
        Rune.DecodeFromUtf16(text.AsSpan(at), out var rune, out length);
        return Rune.GetUnicodeCategory(rune) == UnicodeCategory.NonSpacingMark && before is not null ? before
            : style.Face.Covers(rune.Value) ? style.Face
            : LineSetter.StandIn(style, rune.Value, style.Writing);
    }
}
