using System.Text;

namespace Kivren.Core.Type;

// The items of one paragraph: spaces, gaps, words in the faces that hold their letters.
public sealed partial class LineSetter
{
    private void PutSpace(string s, int from, int to, TextStyle style, int spanIndex, char kind)
    {
        // Words of program text stand apart as the words around them do.
        if (_words is { } around && ReferenceEquals(style.Face, FaceLibrary.Code) && !ReferenceEquals(around.Face, style.Face))
            style = around;
        long units = style.Face.Space;
        if (
            _count > 0
            && _pieces[_count - 1] is { Word: { } before } left
            && left.To == before.Glyphs.Length
            && ReferenceEquals(left.Style?.Face, style.Face)
        )
            units += before.KernAfter;
        var width = style.Scale(units) + style.Tracking.Millipoints;
        if (kind == NarrowNoBreak)
            width = width * 2 / 3;
        var piece = new Piece
        {
            Start = from,
            End = to,
            Span = spanIndex,
            Style = style,
        };
        if (kind is NoBreakSpace or NarrowNoBreak)
        {
            Put(
                LineItem.Break(TotalFit.Never),
                new Piece
                {
                    Start = from,
                    End = from,
                    Span = spanIndex,
                }
            );
            Put(LineItem.Glue(width, _justified && kind == NoBreakSpace ? width / 2 : 0, _justified ? width / 4 : 0), piece);
            return;
        }
        Put(LineItem.Glue(width, _justified ? width / 2 : 0, _justified ? width * 3 / 10 : 0), piece);
    }

    /// <summary>White beside what stands in a square (JLREQ 3.1.5, 3.2.6): the half of the square that a bracket or a point leaves, and
    /// a quarter between a square and a letter. It goes where a line ends or begins.</summary>
    private void PutGap(string s, int at, in StyledSpan span, int spanIndex)
    {
        if (_count == 0 || _items[_count - 1].Kind == LineItemKind.Glue || at == 0)
            return;
        var size = span.Style.Size.Millipoints;
        var (before, here) = (Squares.SideOf(s, at - 1, _writing), Squares.SideOf(s, at, _writing));
        int width,
            give;
        if (here == Side.Opens ? before != Side.Opens : before == Side.Closes && here != Side.Closes)
            (width, give) = (size / 2, size / 4);
        else if (before == Side.None && here == Side.None && Squares.MeetsLetter(s, at) && !span.NoBreak)
            (width, give) = (size / 4, size / 8);
        else
            return;
        if (_items[_count - 1].Kind == LineItemKind.Penalty)
            _count--;
        if (_before[at] == LineBreaks.None || span.NoBreak)
            PutBreak(TotalFit.Never, at, spanIndex);
        Put(
            LineItem.Glue(width, _justified ? give : 0, _justified ? give : 0),
            new Piece
            {
                Start = at,
                End = at,
                Span = spanIndex,
            }
        );
    }

    /// <summary>The style of a sign in half of its square; null where the face has it in no half.</summary>
    private TextStyle? HalfOf(string s, int at, TextStyle style)
    {
        if (FaceFor(s, at, style, null, out _) is not { } face)
            return null;
        var half = Halves.GetOrAdd((style, face), static of => of.Item1 with { Face = of.Item2, Features = Features.HalfWidth });
        return half.Word(s.AsSpan(at, 1)).Width < face.UnitsPerEm ? half : null;
    }

    private static readonly System.Collections.Concurrent.ConcurrentDictionary<(TextStyle, Face), TextStyle> Halves = new();

    private const int LongestWord = 16_000;

    private void PutWord(string s, int start, int end, in StyledSpan span, int spanIndex, Hyphenator? hyphenator, List<string>? missing)
    {
        // One box for each stretch of characters that one face covers; a box counts its glyphs in sixteen bits.
        for (var at = start; at < end; )
        {
            if (end - start > LongestWord)
            {
                for (var part = start; part < end; part += LongestWord)
                    PutWord(s, part, Math.Min(end, part + LongestWord), span, spanIndex, null, missing);
                return;
            }
            var face = FaceFor(s, at, span.Style, null, out var length);
            var from = at;
            at += length;
            while (at < end && ReferenceEquals(FaceFor(s, at, span.Style, face, out length), face))
                at += length;
            if (face is null)
            {
                missing?.Add(s[from..at]);
                PutBox(Missing.Boxes(s.AsSpan(from, at - from)), OtherFace(span.Style, FaceLibrary.Symbols), from, spanIndex);
                continue;
            }
            var style = ReferenceEquals(face, span.Style.Face) ? span.Style : OtherFace(span.Style, face);
            PutShaped(s, from, at, style, span, spanIndex, hyphenator);
        }
    }

    private void PutShaped(string s, int from, int to, TextStyle style, in StyledSpan span, int spanIndex, Hyphenator? hyphenator)
    {
        var characters = s.AsSpan(from, to - from);
        if (characters.Contains(SoftHyphen))
        {
            var soft = characters.IndexOf(SoftHyphen);
            if (soft > 0)
                PutShaped(s, from, from + soft, style, span, spanIndex, null);
            Put(
                LineItem.Break(HyphenPenalty / 2, style.Scale(style.Face.HyphenGlyph.Width), flagged: true),
                new Piece
                {
                    Start = from + soft,
                    End = from + soft + 1,
                    Span = spanIndex,
                    Style = style,
                }
            );
            if (from + soft + 1 < to)
                PutShaped(s, from + soft + 1, to, style, span, spanIndex, null);
            return;
        }
        var word = style.Word(characters, _levels is not null && _levels[from] % 2 == 1);
        // What the face kerns between a space and this word belongs to the space.
        if (
            word.KernBefore != 0
            && _count > 0
            && _items[_count - 1].Kind == LineItemKind.Glue
            && ReferenceEquals(_pieces[_count - 1].Style?.Face, style.Face)
        )
            _items[_count - 1].Width += style.Scale(word.KernBefore);
        var glyph = 0;
        if (
            (span.Hyphenates || _dividesAll)
            && !span.NoBreak
            && !word.RightToLeft
            && !_fromRight
            && hyphenator is not null
            && to - from >= Hyphenator.Before + Hyphenator.After
        )
        {
            var letters = 0;
            while (letters < characters.Length && !char.IsLetter(characters[letters]))
                letters++;
            var lettersEnd = letters;
            while (lettersEnd < characters.Length && (char.IsLetter(characters[lettersEnd])))
                lettersEnd++;
            var onlyOne = true;
            for (var i = lettersEnd; i < characters.Length; i++)
                onlyOne &= !char.IsLetterOrDigit(characters[i]);
            if (onlyOne)
                foreach (var point in hyphenator.Points(characters[letters..lettersEnd]))
                {
                    var to2 = word.GlyphAt(letters + point);
                    if (to2 <= glyph || to2 >= word.Glyphs.Length || !style.DividesAt(point, lettersEnd - letters - point))
                        continue;
                    PutBox(word, glyph, to2, style, from, spanIndex);
                    Put(
                        LineItem.Break(
                            HyphenPenalty,
                            style.Scale(style.Face.HyphenGlyph.Width) + style.Tracking.Millipoints,
                            flagged: true
                        ),
                        new Piece
                        {
                            Start = from + letters + point,
                            End = from + letters + point,
                            Span = spanIndex,
                            Style = style,
                        }
                    );
                    glyph = to2;
                }
        }
        PutBox(word, glyph, word.Glyphs.Length, style, from, spanIndex);
    }

    private void PutBox(ShapedWord word, TextStyle style, int textStart, int spanIndex) =>
        PutBox(word, 0, word.Glyphs.Length, style, (textStart, textStart + word.Text.Length), spanIndex);

    private void PutBox(ShapedWord word, int from, int to, TextStyle style, int textStart, int spanIndex)
    {
        var start = textStart + (from < word.Clusters.Length ? word.Clusters[from] : word.Text.Length);
        var end = textStart + (to < word.Clusters.Length ? word.Clusters[to] : word.Text.Length);
        PutBox(word, from, to, style, (start, end), spanIndex);
    }

    private void PutBox(ShapedWord word, int from, int to, TextStyle style, (int Start, int End) text, int spanIndex)
    {
        var width = style.Scale(word.WidthOf(from, to)) + style.Tracking.Millipoints * (to - from);
        var give = Gives(word) ? GiveOf(style) * (to - from) : 0;
        Put(
            // Squares stand side by side: they never come closer.
            give > 0
            && word.Text.Length > 0
            && Scripts.Before(word.Text, word.Text.Length).IsSquare()
                ? LineItem.Box(width, give * SquaresGive, 0)
                : LineItem.Box(width, give, give),
            new Piece
            {
                Word = word,
                Style = style,
                From = from,
                To = to,
                Start = text.Start,
                End = text.End,
                Span = spanIndex,
            }
        );
    }

    /// <summary>Marks that stand on their letter, and runs that are read from the right, keep their places.</summary>
    private bool Gives(ShapedWord word) => _justified && _levels is null && word.OffsetsX is null;

    private static int GiveOf(TextStyle style) => style.Size.Millipoints * LettersGive / 1000;

    /// <param name="before">that of the character before, which a mark stays with</param>
    private Face? FaceFor(string s, int at, TextStyle style, Face? before, out int length)
    {
        var own = style.Face;
        if (s[at] < 128)
        {
            length = 1;
            return own.Covers(s[at]) ? own : StandIn(style, s[at], _writing);
        }
        Rune.DecodeFromUtf16(s.AsSpan(at), out var rune, out length);
        if (before is not null && IsJoined(rune) && before.Covers(rune.Value))
            return before;
        if (_writing.IsSquare && Squares.IsSharedSign(s, at) && ScriptFaces.For(rune.Value, style, _writing) is { } square)
            return square;
        return own.Covers(rune.Value) ? own : StandIn(style, rune.Value, _writing);
    }

    /// <summary>Marks, joiners and variation selectors belong to the letter before.</summary>
    private static bool IsJoined(Rune rune) =>
        rune.Value is 0x200C or 0x200D
        || Rune.GetUnicodeCategory(rune)
            is System.Globalization.UnicodeCategory.NonSpacingMark
                or System.Globalization.UnicodeCategory.SpacingCombiningMark
                or System.Globalization.UnicodeCategory.EnclosingMark;

    /// <summary>The face for a character that the style's own lacks: the house's, that of its script, that of signs.</summary>
    internal static Face? StandIn(TextStyle style, int character, Writing writing)
    {
        foreach (var face in style.StandIns)
            if (face.Covers(character))
                return face;
        return ScriptFaces.For(character, style, writing) ?? (FaceLibrary.Symbols.Covers(character) ? FaceLibrary.Symbols : null);
    }

    private static readonly System.Collections.Concurrent.ConcurrentDictionary<(TextStyle, Face), TextStyle> Fallbacks = new();

    internal static TextStyle OtherFace(TextStyle style, Face face) =>
        Fallbacks.GetOrAdd((style, face), static of => of.Item1 with { Face = of.Item2 });
}
