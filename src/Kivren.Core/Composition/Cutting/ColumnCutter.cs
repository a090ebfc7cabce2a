using Kivren.Core.Content;
using Kivren.Core.Looks;

namespace Kivren.Core.Composition;

/// <summary>Cuts a galley into pages of two or more columns (composition.md 4). What spans all columns parts a page into
/// bands; each band's columns are balanced when what it holds ends on the page. Notes stand at the foot of their
/// column; a long one goes on at the foot of the next.</summary>
internal sealed class ColumnCutter
{
    /// <summary>A band shorter than this is not begun at a page's foot.</summary>
    private const int LeastLines = 3;

    private readonly Galley _galley;
    private readonly Piece[] _pieces;
    private readonly Look _look;
    private readonly int _depth,
        _step,
        _leading,
        _noteSpace,
        _noteRuleGap;
    private readonly List<CutPage> _pages = [];
    private readonly (int Page, int Y)[] _pageOf;
    private readonly List<PlacedPiece> _placed = [];
    private readonly List<PlacedNote> _notes = [];
    private readonly List<NoteRule> _rules = [];
    private readonly List<PlacedHeader> _headers = [];
    private int _head;

    /// <summary>What of the notes goes on in the next column.</summary>
    private Carried _carried = new(-1, 0);

    /// <summary>The last lines of the notes that a piece calls.</summary>
    private readonly record struct Carried(int Piece, int Lines);

    /// <summary>Where a column ends, and what of its notes it has no room for.</summary>
    private readonly record struct ColumnEnd(int Piece, Carried Carried);

    private ColumnCutter(Galley galley, Look look)
    {
        (_galley, _pieces, _look) = (galley, galley.Pieces, look);
        _depth = galley.Page.Depth.Millipoints;
        _leading = look.Body.Leading.Millipoints;
        (_noteSpace, _noteRuleGap) = (look.Blocks.NotesBefore.Millipoints, look.Blocks.NoteRuleGap.Millipoints);
        _step = galley.Page.ColumnWidth(galley.Columns, galley.Page.Gutter) + galley.Page.Gutter.Millipoints;
        _pageOf = new (int, int)[_pieces.Length];
    }

    public static Cut Cut(Galley galley, Look look) => new ColumnCutter(galley, look).Run();

    private Cut Run()
    {
        int at = 0,
            y = 0;
        while (at < _pieces.Length)
        {
            if (_pieces[at].Forced is not null and not BreakTo.Column && (y > 0 || _placed.Count > 0))
            {
                Turn(at, "Forced: a page break stands here.");
                y = 0;
            }
            if (Across(at))
            {
                var space = y > 0 ? _pieces[at].Space : 0;
                if (y > 0 && y + space + Kept(at) > _depth)
                {
                    Turn(at, $"Ends short: {_galley.Called(at)} spans the columns and keeps with its text.");
                    (y, space) = (0, 0);
                }
                if (y == 0 && _pages.Count > 0 && _pieces[at].Header >= 0)
                {
                    _headers.Add(new PlacedHeader(_galley.Headers[_pieces[at].Header], 0, y));
                    y += _galley.Headers[_pieces[at].Header].Height;
                }
                Put(at, 0, y + space);
                y += space + _pieces[at].Height;
                at++;
                if (at == _pieces.Length)
                    break;
                if (Across(at) && _galley.BlockOf[at] == _galley.BlockOf[at - 1])
                    continue;
                y += _galley.Blocks[_galley.BlockOf[at - 1]].After;
                continue;
            }
            var end = at;
            while (end < _pieces.Length && !Across(end) && !(end > at && _pieces[end].Forced is not null and not BreakTo.Column))
                end++;
            if (y > 0 && _depth - y < LeastLines * _leading)
            {
                Turn(at, "Full.");
                y = 0;
            }
            (at, y) = Band(at, end, y);
            if (at < end)
            {
                Turn(at, _carried.Lines > 0 ? "A footnote goes on overleaf." : "Full.");
                y = 0;
            }
            // What is left of a note when its band ends has the foot of a page for itself.
            while (at == end && _carried.Lines > 0)
            {
                Turn(at, "A footnote goes on overleaf.");
                (_, y) = Band(at, end, 0);
            }
        }
        Turn(_pieces.Length, "The division ends here; its columns are balanced.");
        var places = new Dictionary<Id, Place>();
        foreach (var mark in _galley.Marks)
            if (mark.Piece < _pageOf.Length)
                places.TryAdd(mark.Id, new Place(_pageOf[mark.Piece].Page, _pageOf[mark.Piece].Y));
        return new Cut
        {
            Galley = _galley,
            Pages = [.. _pages],
            Places = places,
            Cost = 0,
        };
    }

    /// <summary>Whether a piece stands across the columns: its block does, or it is a head of what does.</summary>
    private bool Across(int piece)
    {
        // A head with a note stays in its column, at whose foot the note stands.
        while (
            piece < _pieces.Length
            && !_pieces[piece].Spans
            && _galley.Blocks[_galley.BlockOf[piece]].Head is not null
            && NoteLines(piece) == 0
        )
            piece++;
        return piece < _pieces.Length && _pieces[piece].Spans;
    }

    /// <summary>Height of what spans the columns from here on and must stay on one page with it: its rows, or lines of the text that
    /// follows.</summary>
    private int Kept(int at)
    {
        var height = _pieces[at].Height;
        for (at++; at < _pieces.Length && Across(at); at++)
            if (_pieces[at].Keep >= Keep.RowStart && height + _pieces[at].Space + _pieces[at].Height <= _depth)
                height += _pieces[at].Space + _pieces[at].Height;
            else
                return height;
        return height + LeastLines * _leading;
    }

    /// <summary>Fills the columns from a height down; where the band ends and how deep it reaches.</summary>
    private (int At, int Y) Band(int from, int end, int top)
    {
        var newPage = _pages.Count > 0 && top == 0;
        var height = Balanced(from, end, _depth - top, newPage);
        var deepest = top;
        var at = from;
        for (var column = 0; column < _galley.Columns && (at < end || _carried.Lines > 0); column++)
        {
            var before = _carried;
            var header = at < end ? HeaderOf(at, newPage && column == 0) : null;
            var (stop, carried) = EndOf(at, end, height - (header?.Height ?? 0), before, waits: top > 0);
            var y = top;
            if (header is not null)
            {
                _headers.Add(new PlacedHeader(header, column * _step, y));
                y += header.Height;
            }
            for (var i = at; i < stop; i++)
            {
                if (i > at)
                    y += _pieces[i].Space;
                Put(i, column * _step, y);
                y += _pieces[i].Height;
            }
            _carried = carried;
            var notes = PlaceNotes(at, stop, column * _step, top + height, before);
            deepest = Math.Max(deepest, notes ? top + height : y);
            at = stop;
        }
        return (at, deepest);
    }

    private int NoteLines(int piece) => _pieces[piece].Notes is { } notes ? notes.Sum(n => n.Lines.Count) : 0;

    private int NoteHeight(int piece) => _pieces[piece].Notes is { } notes ? notes.Sum(n => n.Lines.Count * n.Leading) : 0;

    private int LeadingOfNotes(int piece) => _pieces[piece].Notes![^1].Leading;

    /// <summary>The notes of a column at its foot: first what came over from the column before, last of what is called here
    /// so much as is not carried on. Whether there are any.</summary>
    private bool PlaceNotes(int from, int to, int x, int foot, Carried before)
    {
        var parts = new List<(SetNote Note, int From, int To)>();
        if (before.Lines > 0)
        {
            var all = NoteLines(before.Piece);
            Add(before.Piece, all - before.Lines, _carried.Piece == before.Piece ? all - _carried.Lines : all);
        }
        for (var i = from; i < to; i++)
            if (NoteLines(i) is var all and > 0)
                Add(i, 0, i == _carried.Piece ? all - _carried.Lines : all);
        if (parts.Count == 0)
            return false;
        var y = foot - parts.Sum(p => (p.To - p.From) * p.Note.Leading);
        _rules.Add(new NoteRule(x, y - _noteRuleGap, before.Lines > 0));
        foreach (var (note, first, end) in parts)
        {
            _notes.Add(new PlacedNote(note, first, end, x, y));
            y += (end - first) * note.Leading;
        }
        return true;

        void Add(int piece, int first, int end)
        {
            foreach (var note in _pieces[piece].Notes!)
            {
                if (Math.Max(0, first) < Math.Min(note.Lines.Count, end))
                    parts.Add((note, Math.Max(0, first), Math.Min(note.Lines.Count, end)));
                first -= note.Lines.Count;
                end -= note.Lines.Count;
            }
        }
    }

    private void Put(int piece, int x, int y)
    {
        _placed.Add(new PlacedPiece(piece, x, y));
        _pageOf[piece] = (_pages.Count, y);
    }

    private void Turn(int next, string reason)
    {
        var first = _head;
        while (_head < _galley.Heads.Length && _galley.Heads[_head].Piece < next)
            _head++;
        PlacedNote[] notes = [.. _notes];
        PlacedHeader[] headers = [.. _headers];
        _pages.Add(
            new CutPage
            {
                Pieces = [.. _placed],
                Notes = notes,
                NoteRules = [.. _rules],
                Headers = headers,
                Reason = reason,
                BodyKey = PageCutter.Key(_galley, _placed, notes, headers),
                FirstHead = first,
                HeadCount = _head - first,
                FirstBlock = _placed.Count > 0 ? _pieces[_placed[0].Piece].Block : Id.None,
            }
        );
        _placed.Clear();
        _notes.Clear();
        _rules.Clear();
        _headers.Clear();
    }

    /// <summary>The least height at which the rest of the band fits in the columns; else all that is left.</summary>
    private int Balanced(int from, int end, int room, bool newPage)
    {
        if (!Fits(from, end, room, newPage))
            return room;
        int low = from < end ? _pieces[from].Height : 0,
            high = room;
        while (high - low > 100)
        {
            var middle = (low + high) / 2;
            if (Fits(from, end, middle, newPage))
                high = middle;
            else
                low = middle;
        }
        // Columns a little less even are better than a short table in two of them, or a cell that reaches out of its column.
        foreach (var least in (Keep[])[Keep.Short, Keep.Whole])
            for (var height = high; height <= room; height += _leading)
                if (Fits(from, end, height, newPage, least))
                    return height;
        return high;
    }

    /// <param name="least">no column ends before a piece that would so badly begin one; null where any may
    /// </param>
    private bool Fits(int from, int end, int height, bool newPage, Keep? least = null)
    {
        var carried = _carried;
        for (var c = 0; c < _galley.Columns && (from < end || carried.Lines > 0); c++)
        {
            var header = from < end ? HeaderOf(from, newPage && c == 0) : null;
            (from, carried) = EndOf(from, end, height - (header?.Height ?? 0), carried, waits: false);
            if (least is { } keep && from < end && _pieces[from].Keep >= keep)
                return false;
        }
        return from >= end && carried.Lines == 0;
    }

    /// <summary>What stands again above a piece that begins a column.</summary>
    private HeaderRows? HeaderOf(int piece, bool newPage) =>
        _pieces[piece].Header >= 0 && _galley.Headers[_pieces[piece].Header] is var header && (header.InEachColumn || newPage)
            ? header
            : null;

    /// <summary>As much as fits, drawn back to the cheapest turn within the last few lines; or up to a call whose note
    /// begins under it and goes on in the next column.</summary>
    /// <param name="waits">what no column here has room for has a page without anything above it before it
    /// </param>
    private ColumnEnd EndOf(int from, int limit, int height, Carried before, bool waits)
    {
        int y = 0,
            end = from,
            notes = 0;
        if (before.Lines > 0)
        {
            var leading = LeadingOfNotes(before.Piece);
            var fits = Math.Max(1, (height - _noteSpace - _noteRuleGap - LeastLines * _leading) / leading);
            if (before.Lines > fits)
                return new ColumnEnd(from, before with { Lines = before.Lines - fits });
            notes = _noteSpace + _noteRuleGap + before.Lines * leading;
        }
        while (end < limit && !(end > from && _pieces[end].Forced == BreakTo.Column))
        {
            var need = _pieces[end].Height + (end > from ? _pieces[end].Space : 0);
            var more = NoteHeight(end);
            var rule = more > 0 && notes == 0 ? _noteSpace + _noteRuleGap : 0;
            if (y + need + notes + rule + more > height && (end > from || more > 0 || waits))
            {
                if (more == 0)
                    break;
                var lines = (height - y - need - notes - rule) / LeadingOfNotes(end);
                if (lines < 1 && (end > from || waits))
                    break;
                return new ColumnEnd(end + 1, new Carried(end, NoteLines(end) - Math.Clamp(lines, 0, NoteLines(end) - 1)));
            }
            y += need;
            notes += rule + more;
            end++;
        }
        if (end == limit || _pieces[end].Forced == BreakTo.Column)
            return new ColumnEnd(end, new Carried(-1, 0));
        var best = end;
        // What is to stay together as a whole goes over as a whole, however long it is.
        var back = Math.Max(from, end - 6);
        while (back > from && _pieces[back].Keep is Keep.Short or Keep.Whole)
            back--;
        for (var e = end; e > back; e--)
            if (TurnCost.Of(_pieces[e].Keep) < TurnCost.Of(_pieces[best].Keep))
                best = e;
        if (waits && _pieces[best].Keep >= Keep.Head)
            best = from;
        return new ColumnEnd(best, new Carried(-1, 0));
    }
}
