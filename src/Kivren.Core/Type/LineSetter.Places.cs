using System.Runtime.InteropServices;

namespace Kivren.Core.Type;

// Lines as they stand: each word at its place, in the order in which it is read.
public sealed partial class LineSetter
{
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
