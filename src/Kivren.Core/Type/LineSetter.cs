namespace Kivren.Core.Type;

public enum Alignment
{
    Justified,
    Ragged,
    RaggedLeft,
    Centred,
}

/// <summary>The shape of a paragraph.</summary>
/// <param name="Width">the measure</param>
/// <param name="FirstIndent">of the first line; negative hangs it out</param>
/// <param name="NarrowLines">so many first lines run round something beside them, in the measure <paramref name="NarrowWidth"/></param>
/// <param name="Longer">set in so many lines more than the best, where it can be done well</param>
/// <param name="AtSense">a title: broken where its sense allows</param>
/// <param name="WideOnly">words are divided only where one is wider than the measure</param>
public readonly record struct Shape(
    Length Width,
    Length FirstIndent,
    Alignment Alignment,
    int NarrowLines = 0,
    Length NarrowWidth = default,
    int Longer = 0,
    bool AtSense = false,
    bool WideOnly = false
)
{
    /// <summary>All in one line, however long.</summary>
    public static Shape OneLine { get; } = new(Length.Points(20_000), default, Alignment.Ragged);

    internal bool IsOneLine => Width == OneLine.Width && Alignment == Alignment.Ragged;

    public int WidthOf(int line) => (line < NarrowLines ? NarrowWidth : Width).Millipoints;
}

/// <summary>Turns styled text into lines: break opportunities, shaping, hyphenation, total fit, places.</summary>
public sealed partial class LineSetter
{
    /// <summary>No space is stretched by more than this many times what it gives gladly.</summary>
    private const int LoosestStretch = 4;

    /// <summary>In a justified line letters may stand so many thousandths of the em wider or closer: less than an eye
    /// sees, and it spares the word spaces about half of what they would have to take.</summary>
    private const int LettersGive = 15;

    /// <summary>Squares have no word spaces: they give so many times as much as letters.</summary>
    private const int SquaresGive = 7;

    /// <summary>Lines of fewer squares are broken loosely: strictly they could not be filled.</summary>
    private const int FewSquares = 15;

    /// <summary>How much sooner than the spaces they come to the end of it.</summary>
    private const int LettersFirst = 2;

    /// <summary>What divides a word costs (squared, as a demerit), and breaking after a hyphen of the text.</summary>
    private const int HyphenPenalty = 50,
        ExplicitHyphenPenalty = 40;
    private const char LineFeed = '\u2028',
        NoBreakSpace = '\u00A0',
        NarrowNoBreak = '\u202F',
        SoftHyphen = '\u00AD';

    /// <summary>What each item of the paragraph stands for in the text.</summary>
    private struct Piece
    {
        public ShapedWord? Word;
        public TextStyle? Style;
        public int From,
            To,
            Start,
            End,
            Span;
        public Inset? Inset;
    }

    private LineItem[] _items = new LineItem[512];
    private Piece[] _pieces = new Piece[512];
    private int _count;
    private byte[] _before = new byte[2048];

    /// <summary>Direction of each character where some run from right to left, else null.</summary>
    private byte[]? _levels;
    private bool _justified;

    /// <summary>Every word is divided, whatever its span says.</summary>
    private bool _dividesAll;
    private Writing _writing = Writing.Plain;

    /// <summary>The style of its words where some of it is program text; null where all of it is.</summary>
    private TextStyle? _words;

    /// <summary>Lines begin at the right.</summary>
    private bool _fromRight;
    private readonly List<FoundBreak> _breaks = [];

    [ThreadStatic]
    private static LineSetter? t_own;
    public static LineSetter OfThread => t_own ??= new LineSetter();

    /// <summary>The lines of the text; at least one, even when it is empty. Characters that no face covers are told to
    /// <paramref name="missing"/>.</summary>
    /// <param name="writing">of the text's language; else it is that of its style, and what is read from the right is told by its
    /// first letter</param>
    public List<TextLine> Set(StyledText text, Shape shape, Hyphenator? hyphenator, List<string>? missing = null, Writing? writing = null)
    {
        if (text.ToString().Length == 0)
            return [new TextLine([], 0, 0, 0)];
        _dividesAll = false;
        PutText(text, shape, hyphenator, missing, writing);
        var size = text.Spans[0].Style.Size.Millipoints;
        var ragged = shape.Alignment == Alignment.Justified ? 0 : size * 4;
        var fitting = new Fitting(
            shape.Width.Millipoints,
            ragged,
            size * 3,
            shape.NarrowLines,
            shape.NarrowWidth.Millipoints,
            shape.Longer
        );
        TotalFit.OfThread.Find(_items.AsSpan(0, _count), fitting, _breaks);
        if (shape.WideOnly && hyphenator is not null && _breaks.Exists(b => b.Overfull))
        {
            _dividesAll = true;
            PutText(text, shape, hyphenator, null, writing);
            TotalFit.OfThread.Find(_items.AsSpan(0, _count), fitting, _breaks);
        }
        if (shape.AtSense && shape.Alignment != Alignment.Justified)
            TitleFit.Improve(_items.AsSpan(0, _count), i => _pieces[i].Start, text.ToString(), fitting.Width, size, _breaks);
        if (_breaks.Exists(b => b.Overfull) && OpenTooWide(fitting, text))
            TotalFit.OfThread.Find(_items.AsSpan(0, _count), fitting, _breaks);
        // White in a line is better than words beyond its end.
        if (_breaks.Exists(b => b.Overfull))
            TotalFit.OfThread.Find(_items.AsSpan(0, _count), fitting, _breaks, however: true);
        return Place(text, text.ToString().Length, shape);
    }

    /// <summary>The widths of the text's words, before they are set.</summary>
    /// <param name="hyphenator">where it divides words</param>
    public WordWidths Widths(StyledText text, Hyphenator? hyphenator, Writing? writing)
    {
        var s = text.ToString();
        if (s.Length == 0)
            return new WordWidths([], [], 0);
        _dividesAll = false;
        PutText(text, Shape.OneLine, hyphenator, null, writing);
        List<int> words = [],
            spaces = [];
        int word = 0,
            space = 0,
            part = 0,
            widest = 0;
        for (var i = 0; i < _count; i++)
        {
            ref readonly var item = ref _items[i];
            // A space that holds stands behind a break that is never taken.
            var held = item.Kind == LineItemKind.Glue && i > 0 && _items[i - 1].Kind != LineItemKind.Box;
            if (item.Kind == LineItemKind.Box || held)
            {
                word += item.Width;
                part += item.Width;
                continue;
            }
            if (item.Penalty >= TotalFit.Never)
                continue;
            widest = Math.Max(widest, part + (item.Flagged ? item.Width : 0));
            part = 0;
            var must = item.Penalty == TotalFit.Must;
            // Words that are written without spaces end wherever their line may.
            var ends = must || item.Kind == LineItemKind.Glue || (!item.Flagged && _pieces[i].Start is > 0 and var at && s[at - 1] >= Thai);
            if (!ends)
                continue;
            words.Add(word);
            spaces.Add(space);
            (word, space) = (0, item.Kind == LineItemKind.Glue ? item.Width : 0);
            if (must && i < _count - 1)
            {
                words.Add(WordWidths.LineEnd);
                spaces.Add(0);
            }
        }
        return new WordWidths([.. words], [.. spaces], widest);
    }

    /// <summary>From here on are the scripts that are written without spaces.</summary>
    private const char Thai = '\u0E00';

    /// <summary>The paragraph's items, from its first to the break that ends it.</summary>
    private void PutText(StyledText text, Shape shape, Hyphenator? hyphenator, List<string>? missing, Writing? writing)
    {
        var s = text.ToString();
        if (_before.Length < s.Length)
            _before = new byte[s.Length * 2];
        _writing = writing ?? text.Spans[0].Style.Writing;
        var squares = shape.Width.Millipoints / text.Spans[0].Style.Size.Millipoints;
        LineBreaks.Find(s, _before, _writing.IsSquare, loose: _writing.IsSquare && squares < FewSquares);
        ThaiWords.Open(s, _before);
        _levels = null;
        _fromRight = _writing.RightToLeft;
        if (_fromRight || Bidi.IsNeeded(s))
        {
            // Words of another language that stand alone keep their direction, and begin where the others do.
            var paragraph =
                !Bidi.IsNeeded(s) ? (byte)0
                : _fromRight ? (byte)1
                : Bidi.ParagraphLevel(s);
            _fromRight |= paragraph == 1;
            _levels = Bidi.Levels(WithNames(s, text), paragraph);
        }
        _words = text.Spans.Find(span => !ReferenceEquals(span.Style.Face, FaceLibrary.Code)).Style;
        _count = 0;
        _justified = shape.Alignment == Alignment.Justified;
        if (shape.FirstIndent.Millipoints != 0)
            Put(LineItem.Box(shape.FirstIndent.Millipoints), default);
        var open = shape.Alignment == Alignment.Centred;
        for (var span = 0; span < text.Spans.Count; span++)
        {
            var end = span + 1 < text.Spans.Count ? text.Spans[span + 1].Start : s.Length;
            if (text.Spans[span].Web is not null)
                OpenAddress(s, text.Spans[span].Start, end);
            if (text.HoldsNames || ReferenceEquals(text.Spans[span].Style.Face, FaceLibrary.Code))
                OpenNames(s, text.Spans[span].Start, end, dots: text.HoldsNames);
            PutSpan(s, text, text.Spans[span], span, end, hyphenator, missing, open);
        }
        if (_count > 0 && _items[_count - 1].Kind == LineItemKind.Glue)
            _count--;
        Put(LineItem.Break(TotalFit.Never), default);
        Put(LineItem.Glue(0, shape.Width.Millipoints * 64, 0), default);
        Put(LineItem.Break(TotalFit.Must), new Piece { Start = s.Length, End = s.Length });
    }

    /// <summary>What dividing costs where nothing allows it: between letters, and where program text has a joint.</summary>
    private const int AnywherePenalty = 3_000,
        JointPenalty = 600,
        NamePenalty = 601,
        HeldPenalty = 602;

    /// <summary>Opens what is wider than its line and has no place to be divided, between any two letters, and long names at their
    /// joints: a line that runs off the paper is worse than any division.</summary>
    /// <returns>whether there was something to open</returns>
    private bool OpenTooWide(in Fitting fitting, StyledText text)
    {
        var narrow = fitting.NarrowLines > 0 ? Math.Min(fitting.Width, fitting.NarrowWidth) : fitting.Width;
        var (items, pieces, count) = (_items, _pieces, _count);
        var opened = false;
        var held = HeldTooFirmly(items.AsSpan(0, count), pieces, narrow, text);
        (_items, _pieces, _count) = (new LineItem[count * 2], new Piece[count * 2], 0);
        for (var i = 0; i < count; )
        {
            var end = i;
            long width = 0;
            // A run of boxes that nothing parts.
            for (; end < count && items[end].Kind == LineItemKind.Box; end++)
                width += items[end].Width;
            if (end == i)
            {
                opened |= held.Contains(i);
                Put(held.Contains(i) ? LineItem.Break(HeldPenalty) : items[i], pieces[i]);
                i++;
                continue;
            }
            for (; i < end; i++)
                if (
                    width > (text.Spans[pieces[i].Span].NoBreak ? narrow : narrow / LongName)
                    && pieces[i] is { Word: { } word, Inset: null } piece
                    && piece.To - piece.From > 1
                )
                    opened |= PutLetters(word, piece, jointsOnly: width <= narrow);
                else
                {
                    Put(items[i], pieces[i]);
                    // Equations and pictures that stand side by side.
                    if (width > narrow && i + 1 < end && (pieces[i].Inset ?? pieces[i + 1].Inset) is not null)
                    {
                        opened = true;
                        PutBreak(AnywherePenalty, pieces[i].End, pieces[i].Span);
                    }
                }
        }
        return opened;
    }

    /// <summary>Spaces that hold words together which are wider than a line, by the break before each that is never taken. What the writer
    /// keeps whole stays so.</summary>
    private static HashSet<int> HeldTooFirmly(ReadOnlySpan<LineItem> items, Piece[] pieces, int narrow, StyledText text)
    {
        var found = new HashSet<int>();
        var chain = new List<int>();
        long width = 0;
        for (var i = 0; i < items.Length; i++)
        {
            var isHeld =
                items[i].Kind == LineItemKind.Penalty
                && items[i].Penalty == TotalFit.Never
                && i + 1 < items.Length
                && items[i + 1].Kind == LineItemKind.Glue
                && pieces[i + 1].Style is not null
                && !text.Spans[pieces[i].Span].NoBreak;
            if (isHeld)
                chain.Add(i);
            else if (items[i].Kind == LineItemKind.Box || (i > 0 && chain.Count > 0 && chain[^1] == i - 1))
                width += items[i].Width;
            else
            {
                if (width > narrow)
                    found.UnionWith(chain);
                chain.Clear();
                width = 0;
            }
        }
        return found;
    }

    /// <summary>A name that fills more than this part of a line may be divided at its joints.</summary>
    private const int LongName = 4;

    /// <returns>whether it can be divided now</returns>
    private bool PutLetters(ShapedWord word, in Piece piece, bool jointsOnly)
    {
        var divided = false;
        // The glyphs of a word that is read from the right stand the other way round; its lines take them in reading order.
        var fromRight = word.Clusters[piece.From] > word.Clusters[piece.To - 1];
        var first = fromRight ? piece.To - 1 : piece.From;
        var text = piece.Start - word.Clusters[piece.From];
        var begun = first;
        for (var n = 1; n <= piece.To - piece.From; n++)
        {
            var glyph = fromRight ? first - n : first + n;
            var last = n == piece.To - piece.From;
            // Glyphs of one cluster stay together.
            if (!last && jointsOnly && !IsJoint(word.Text, word.Clusters[glyph]))
                continue;
            if (!last && word.Clusters[glyph] == word.Clusters[fromRight ? glyph + 1 : glyph - 1])
                continue;
            if (fromRight)
            {
                var next = last
                    ? piece.From > 0
                        ? word.Clusters[piece.From - 1]
                        : word.Text.Length
                    : word.Clusters[glyph];
                PutBox(word, glyph + 1, begun + 1, piece.Style!, (text + word.Clusters[begun], text + next), piece.Span);
            }
            else
                PutBox(word, begun, glyph, piece.Style!, text, piece.Span);
            if (last)
                break;
            begun = glyph;
            divided = true;
            var (before, after) = (word.Text[word.Clusters[glyph] - 1], word.Text[word.Clusters[glyph]]);
            var joint = !char.IsLetterOrDigit(before) || (char.IsLower(before) && char.IsUpper(after));
            var at = text + word.Clusters[glyph];
            PutBreak(
                jointsOnly ? NamePenalty
                    : joint ? JointPenalty
                    : AnywherePenalty,
                at,
                piece.Span
            );
        }
        return divided;
    }

    private void PutBreak(int penalty, int at, int span) =>
        Put(
            LineItem.Break(penalty),
            new Piece
            {
                Start = at,
                End = at,
                Span = span,
            }
        );

    private void Put(in LineItem item, in Piece piece)
    {
        if (_count == _items.Length)
        {
            Array.Resize(ref _items, _count * 2);
            Array.Resize(ref _pieces, _count * 2);
        }
        _items[_count] = item;
        _pieces[_count++] = piece;
    }

    private void PutSpan(
        string s,
        StyledText text,
        in StyledSpan span,
        int spanIndex,
        int end,
        Hyphenator? hyphenator,
        List<string>? missing,
        bool centred
    )
    {
        var style = span.Style;
        for (var at = span.Start; at < end; )
        {
            var c = s[at];
            if (at > 0 && _before[at] == LineBreaks.Must)
                PutLineEnd(at, centred);
            if (c is LineFeed or '\n')
            {
                at++;
                if (at == s.Length)
                    PutLineEnd(at, centred);
                continue;
            }
            if (c is ' ' or NoBreakSpace or NarrowNoBreak or '\t')
            {
                var from = at;
                at++;
                while (c == ' ' && at < end && s[at] == ' ')
                    at++;
                // A space that holds what stands on both sides of it: in a run kept whole, before a unit, after an initial.
                PutSpace(s, from, at, style, spanIndex, c == ' ' && (span.NoBreak || Holds(s, from, at)) ? NoBreakSpace : c);
                continue;
            }
            if (c == StyledText.InsetMark && text.Insets.TryGetValue(at, out var inset))
            {
                Put(
                    LineItem.Box(inset.Width),
                    new Piece
                    {
                        Word = style.Word(""),
                        Style = style,
                        Start = at,
                        End = at + 1,
                        Span = spanIndex,
                        Inset = inset,
                    }
                );
                at++;
                continue;
            }
            if (
                at > 0
                && _before[at] == LineBreaks.May
                && !span.NoBreak
                && !HoldsNumber(s, at)
                && !HoldsPath(s, at)
                && s[at - 1] != ' '
                && _count > 0
                && _items[_count - 1].Kind == LineItemKind.Box
            )
                PutBreak(s[at - 1] is '-' or '\u2010' ? ExplicitHyphenPenalty : 10, at, spanIndex);
            if (s[at] >= Squares.First || (at > 0 && s[at - 1] >= Squares.First))
                PutGap(s, at, span, spanIndex);
            if (Squares.SideOf(s, at, _writing) != Side.None && HalfOf(s, at, span.Style) is { } half)
            {
                PutShaped(s, at, at + 1, half, span, spanIndex, null);
                at++;
                continue;
            }
            var start = at;
            at++;
            while (
                at < end
                && (_before[at] == LineBreaks.None || (span.NoBreak && _before[at] == LineBreaks.May))
                && s[at] is not (' ' or NoBreakSpace or NarrowNoBreak or '\t' or LineFeed or '\n' or StyledText.InsetMark)
                && (_levels is null || _levels[at] == _levels[start])
                && Squares.SideOf(s, at, _writing) == Side.None
            )
                at++;
            PutWord(s, start, at, span, spanIndex, hyphenator, missing);
        }
    }

    private void PutLineEnd(int at, bool centred)
    {
        if (_count > 0 && _items[_count - 1].Kind == LineItemKind.Glue)
            _count--;
        Put(LineItem.Break(TotalFit.Never), default);
        Put(LineItem.Glue(0, centred ? 0 : 1 << 28, 0), default);
        Put(LineItem.Break(TotalFit.Must), new Piece { Start = at, End = at });
    }
}
