using System.Runtime.InteropServices;
using System.Text;

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
public sealed class LineSetter
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
        NamePenalty = 601;

    /// <summary>Opens what is wider than its line and has no place to be divided, between any two letters, and long names at their
    /// joints: a line that runs off the paper is worse than any division.</summary>
    /// <returns>whether there was something to open</returns>
    private bool OpenTooWide(in Fitting fitting, StyledText text)
    {
        var narrow = fitting.NarrowLines > 0 ? Math.Min(fitting.Width, fitting.NarrowWidth) : fitting.Width;
        var (items, pieces, count) = (_items, _pieces, _count);
        var opened = false;
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
                Put(items[i], pieces[i]);
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

    /// <summary>Whether a name may be divided before a character: behind a sign that joins its parts, not behind the first sign of a path,
    /// and not in a word with an apostrophe.</summary>
    private static bool IsJoint(string word, int at) =>
        at > 0
        && (char.IsLetterOrDigit(word[at]) || word[at] == '_')
        && Joints.Contains(word[at - 1], StringComparison.Ordinal)
        && word.AsSpan(0, at - 1).ContainsAnyInRange('0', 'z')
        && !(char.IsDigit(word[at]) && char.IsDigit(word[at - 2]));

    /// <summary>Signs that join the parts of a name, a call or an address.</summary>
    private const string Joints = ".,=()/\\_:;&?#[]{}+@|";

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

    /// <summary>The text for the order of its runs: program text and addresses are read from the left as a whole, so each counts as
    /// letters.</summary>
    private static string WithNames(string s, StyledText text)
    {
        static bool IsName(in StyledSpan span) =>
            span.Web is not null
            || ReferenceEquals(span.Style.Face, FaceLibrary.Code)
            || ReferenceEquals(span.Style.Face, FaceLibrary.CodeStrong);
        if (!text.Spans.Exists(span => IsName(span)))
            return s;
        var letters = s.ToCharArray();
        for (var n = 0; n < text.Spans.Count; n++)
        {
            var span = text.Spans[n];
            var end = n + 1 < text.Spans.Count ? text.Spans[n + 1].Start : s.Length;
            if (!IsName(span) || Bidi.IsNeeded(s.AsSpan(span.Start, end - span.Start)))
                continue;
            for (var at = span.Start; at < end; at++)
                if (letters[at] != '\u2028')
                    letters[at] = 'a';
        }
        return new string(letters);
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

    /// <summary>Numbers as books print them stay whole beyond what UAX #14 asks: A.1, 12–14, 3,5.</summary>
    private static bool HoldsNumber(string s, int at) =>
        HoldsUnit(s, at)
        || at + 1 <= s.Length && at > 1 && char.IsAsciiDigit(s[at]) && s[at - 1] is '.' or ',' or '–' && char.IsLetterOrDigit(s[at - 2]);

    /// <summary>A path stays with its first stroke: alone at a line's end it reads as another thing.</summary>
    private static bool HoldsPath(string s, int at) =>
        s[at - 1] == '/' && (at < 2 || char.IsWhiteSpace(s[at - 2]) || s[at - 2] is '(' or '[' or '“' or '‘' or '"' or '\'' or '~' or '.');

    /// <summary>A unit with a stroke in it stays whole: m/s, km/h.</summary>
    private static bool HoldsUnit(string s, int at)
    {
        if (s[at - 1] != '/')
            return false;
        int from = at - 1,
            end = at;
        while (from > 0 && at - from < 4 && char.IsLetterOrDigit(s[from - 1]))
            from--;
        while (end < s.Length && end - at < 4 && char.IsLetterOrDigit(s[end]))
            end++;
        return Units.Spans.Contains(s.AsSpan(from, end - from));
    }

    /// <summary>Whether the space from <paramref name="from"/> up to <paramref name="to"/> stands between a number and its
    /// unit, or after an initial.</summary>
    private static bool Holds(string s, int from, int to)
    {
        if (from == 0 || to >= s.Length)
            return false;
        if (char.IsAsciiDigit(s[from - 1]))
        {
            var end = to;
            while (
                end < s.Length
                && end - to < 5
                && !char.IsWhiteSpace(s[end])
                && s[end] is not ('.' or ',' or ';' or ':' or ')' or '?' or '!' or '–' or NoBreakSpace)
            )
                end++;
            return end > to && Units.Spans.Contains(s.AsSpan(to, end - to));
        }
        return s[from - 1] == '.'
            && from >= 2
            && char.IsUpper(s[from - 2])
            && (from == 2 || !char.IsLetterOrDigit(s[from - 3]))
            && char.IsUpper(s[to]);
    }

    /// <summary>A web address may be divided, without a hyphen, after / . - _ ? and &amp;.</summary>
    private void OpenAddress(string s, int start, int end)
    {
        for (var i = start + 1; i < end; i++)
            if (s[i - 1] is '/' or '.' or '-' or '_' or '?' or '&' && char.IsLetterOrDigit(s[i]) && _before[i] == LineBreaks.None)
                _before[i] = LineBreaks.May;
    }

    /// <summary>A long name of program text may be divided, without a hyphen, after :: / _ ( and a comma; a short one stays
    /// whole.</summary>
    /// <param name="dots">after a dot, too</param>
    private void OpenNames(string s, int start, int end, bool dots)
    {
        const int longName = 10;
        for (var from = start; from < end; from++)
        {
            var to = from;
            while (to < end && !char.IsWhiteSpace(s[to]))
                to++;
            for (var i = from + 2; i < to && to - from >= longName; i++)
                if (
                    char.IsLetterOrDigit(s[i])
                    && (s[i - 1] is '/' or '_' or '(' or ',' || (dots && s[i - 1] == '.') || (s[i - 1] == ':' && s[i - 2] == ':'))
                    && _before[i] == LineBreaks.None
                    && !HoldsPath(s, i)
                )
                    _before[i] = LineBreaks.May;
            from = to;
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

    private readonly List<(int Item, long Width)> _laid = [];

    private List<TextLine> Place(StyledText text, int length, Shape shape)
    {
        var lines = new List<TextLine>(_breaks.Count);
        var words = new List<LineWord>(16);
        var first = 0;
        var lineStart = 0;
        foreach (var found in _breaks)
        {
            var stop = found.Break;
            while (
                first < stop
                && _items[first].Kind != LineItemKind.Box
                && !(_items[first].Kind == LineItemKind.Penalty && _items[first].Penalty == TotalFit.Must)
            )
                first++;
            long natural = 0,
                stretch = 0,
                shrink = 0,
                letters = 0,
                lettersShrink = 0,
                spaces = 0;
            for (var i = first; i < stop; i++)
            {
                ref var item = ref _items[i];
                if (item.Kind == LineItemKind.Penalty)
                    continue;
                if (item.Kind == LineItemKind.Box)
                {
                    letters += item.Stretch;
                    lettersShrink += item.Shrink;
                }
                natural += item.Width;
                stretch += item.Stretch;
                shrink += item.Shrink;
            }
            ref var at = ref _items[stop];
            var hyphen = at is { Kind: LineItemKind.Penalty, Flagged: true };
            if (hyphen)
                natural += at.Width;
            var slack = shape.WidthOf(lines.Count) - natural;
            var stretches = slack >= 0;
            var gives =
                slack < 0 ? shrink
                : _justified ? stretch
                : 0;
            if (!stretches)
                letters = lettersShrink;
            // The letters take what they can and no more than there is, the spaces the rest.
            var all = letters > 0 ? (int)Math.Min(1024, Math.Abs(slack) * 1024 / letters) : 0;
            // What fills a last line up leaves its letters as they are.
            var give =
                _justified && gives > 0 && gives < shape.Width.Millipoints * 32L
                    ? (int)Math.Clamp(slack * 1024 * LettersFirst / gives, -all, all)
                    : 0;
            for (var i = first; i < stop; i++)
            {
                ref var item = ref _items[i];
                if (item.Kind == LineItemKind.Glue)
                    spaces += stretches ? item.Stretch : item.Shrink;
                else if (item.Kind == LineItemKind.Box)
                    slack -= TrackOf(i, stretches, give) * (_pieces[i].To - _pieces[i].From);
            }
            // A line that could only be filled by gaping spaces is left short instead.
            var change =
                gives == 0 || spaces == 0 ? 0
                : slack >= 0 ? Math.Min(slack, spaces * LoosestStretch)
                : Math.Max(slack, -spaces);
            long x = shape.Alignment switch
            {
                Alignment.Centred => Math.Max(0, slack / 2),
                Alignment.RaggedLeft => Math.Max(0, slack),
                _ => 0,
            };
            long used = 0,
                given = 0;
            words.Clear();
            _laid.Clear();
            var left = x;
            for (var i = first; i < stop; i++)
            {
                ref var item = ref _items[i];
                if (item.Kind == LineItemKind.Penalty)
                    continue;
                if (item.Kind == LineItemKind.Glue)
                {
                    used += stretches ? item.Stretch : item.Shrink;
                    var upTo = spaces == 0 ? 0 : change * used / spaces;
                    if (_levels is not null)
                        _laid.Add((i, item.Width + upTo - given));
                    x += item.Width + upTo - given;
                    given = upTo;
                    if (words.Count > 0 && _pieces[i].End > _pieces[i].Start)
                        CollectionsMarshal.AsSpan(words)[^1] = words[^1] with { SpaceAfter = true };
                    continue;
                }
                ref var piece = ref _pieces[i];
                var width = item.Width;
                if (piece.Word is null && words.Count == 0)
                    left += item.Width;
                if (piece.Word is not null)
                {
                    var track = TrackOf(i, stretches, give);
                    width += track * (piece.To - piece.From);
                    if (
                        words.Count > 0
                        && piece.Inset is null
                        && words[^1] is { Inset: null } previous
                        && ReferenceEquals(previous.Word, piece.Word)
                        && previous.To == piece.From
                        && previous.X + previous.Width == (int)x
                        && !previous.SpaceAfter
                        && ReferenceEquals(previous.Style, piece.Style)
                    )
                    {
                        CollectionsMarshal.AsSpan(words)[^1] = previous with { To = piece.To, Width = previous.Width + width };
                        if (_levels is not null)
                            _laid[^1] = (_laid[^1].Item, _laid[^1].Width + item.Width);
                    }
                    else
                    {
                        words.Add(
                            new LineWord(piece.Word, piece.From, piece.To, piece.Style!, (int)x, width)
                            {
                                Tie = piece.Inset is null ? text.Spans[piece.Span].Tie : new WordTie(default, null, piece.Inset),
                                Give = track,
                            }
                        );
                        if (_levels is not null)
                            _laid.Add((i, item.Width));
                    }
                }
                x += width;
            }
            if (hyphen && words.Count > 0)
            {
                CollectionsMarshal.AsSpan(words)[^1] = words[^1] with { Hyphen = true };
                x += at.Width;
            }
            else if (at.Kind == LineItemKind.Glue && words.Count > 0 && _pieces[stop].End > _pieces[stop].Start)
                CollectionsMarshal.AsSpan(words)[^1] = words[^1] with { SpaceAfter = true };
            var measure = shape.IsOneLine ? (int)x : shape.WidthOf(lines.Count);
            if (_levels is not null)
                Reorder(words, left, measure);
            var endChar =
                stop == _count - 1 ? length
                : at.Kind == LineItemKind.Glue ? _pieces[stop].End
                : _pieces[stop].Start;
            lines.Add(
                new TextLine([.. words], lineStart, endChar, (int)x)
                {
                    Measure = measure,
                    Overfull = found.Overfull,
                    IsBroken = at.Kind == LineItemKind.Penalty && at.Penalty is JointPenalty or AnywherePenalty,
                }
            );
            lineStart = endChar;
            first = stop + 1;
        }
        return lines;
    }

    /// <summary>What each glyph of the box is given when the line's letters give this many 1024ths of all they can.</summary>
    private int TrackOf(int item, bool stretches, int give)
    {
        var all = stretches ? _items[item].Stretch : _items[item].Shrink;
        var each = all == 0 ? 0 : all / (_pieces[item].To - _pieces[item].From) * give;
        // Rounded so that a line never comes out wider than its measure.
        return each >= 0 ? each / 1024 : (each - 1023) / 1024;
    }

    /// <summary>Words keep the order in which they are read; their places follow rule L2 of UAX #9.</summary>
    /// <param name="start">how far from the line's beginning they begin</param>
    private void Reorder(List<LineWord> words, long start, int measure)
    {
        // What fills the last line up has no direction.
        while (_laid.Count > 0 && _items[_laid[^1].Item].Kind == LineItemKind.Glue)
            _laid.RemoveAt(_laid.Count - 1);
        var levels = new byte[_laid.Count];
        long left = start;
        for (var i = 0; i < levels.Length; i++)
        {
            levels[i] = Math.Min(_levels![_pieces[_laid[i].Item].Start], (byte)126);
            left += _laid[i].Width;
        }
        // A line that begins at the right ends this far from the left.
        left = _fromRight ? measure - left : start;
        var places = new long[levels.Length];
        foreach (var i in Bidi.Visual(levels))
        {
            places[i] = left;
            left += _laid[i].Width;
        }
        var word = 0;
        for (var i = 0; i < _laid.Count && word < words.Count; i++)
            if (_items[_laid[i].Item].Kind == LineItemKind.Box)
            {
                words[word] = words[word] with { X = (int)places[i] };
                word++;
            }
    }
}
