using Kivren.Core.Content;
using Kivren.Core.Looks;

namespace Kivren.Core.Composition;

/// <summary>Where a page can begin: the piece, how many floats wait, and how many lines of notes are carried over.</summary>
internal readonly record struct PageStart(int Piece, int Pending, int Carry);

/// <summary>One way to end a page.</summary>
internal struct PageTurn
{
    public PageStart Next;
    public long Cost;

    /// <summary>Depth taken by text, floats and notes.</summary>
    public int Used;

    /// <summary>Pages of their own that follow this one.</summary>
    public int Plates;

    /// <summary>What stopped the page from taking more: a note's lines, not the line itself.</summary>
    public bool NotesPress;
    public bool SplitsNote;

    /// <summary>Nothing stands on the page but what follows on pages of its own: it is left out.</summary>
    public bool Empty;
}

/// <summary>All ways to end a page, with what each costs by itself: what page cutting chooses from.</summary>
internal sealed class PageTurns
{
    /// <summary>Space above the rule of the notes, and from the rule to the first note.</summary>
    public const int NoteSpace = 13_000,
        NoteRuleGap = 3_000;
    public const int FloatGap = 13_000;
    private const long SplitNote = 700,
        DeferredFloat = 250,
        ShortLastPage = 6_000;

    private readonly Galley _galley;
    private readonly Piece[] _pieces;
    private readonly int _lastPageLines;
    private readonly bool _grid;
    private readonly int[] _floatsBefore;
    private readonly int[] _noteHeights,
        _noteLines;
    private readonly List<int> _floats = [];

    /// <summary>Pieces that pages of their own do not pass: divisions begin here, and A and B heads.</summary>
    private readonly bool[] _stops;
    private readonly bool[] _opens;

    public PageTurns(Galley galley, Look look)
    {
        _galley = galley;
        _pieces = galley.Pieces;
        Depth = look.Master.Depth.Millipoints;
        Leading = look.Body.Leading.Millipoints;
        _lastPageLines = look.LastPageLines;
        _grid = look.Grid;
        _floatsBefore = new int[_pieces.Length + 1];
        _noteHeights = new int[_pieces.Length];
        _noteLines = new int[_pieces.Length];
        (_stops, _opens) = (new bool[_pieces.Length + 1], new bool[_pieces.Length + 1]);
        foreach (var opening in galley.Openings)
            _stops[opening] = _opens[opening] = true;
        foreach (var head in galley.Heads)
            if (head.Level <= HeadLevel.B && head.Piece < _pieces.Length)
                _stops[head.Piece] = true;
        for (var i = 0; i < _pieces.Length; i++)
        {
            if (_pieces[i].Floating is Floating.Here or Floating.Top or Floating.Foot)
                _floats.Add(i);
            _floatsBefore[i + 1] = _floats.Count;
            foreach (var note in _pieces[i].Notes ?? [])
            {
                _noteHeights[i] += note.Lines.Count * note.Leading;
                _noteLines[i] += note.Lines.Count;
            }
        }
    }

    public int Depth { get; }
    public int Leading { get; }

    /// <summary>Whether a page ends before this piece because a turned table stands before it, which takes its pages first.</summary>
    public bool StopsFor(PageStart start, int next)
    {
        if (next >= _pieces.Length || !_stops[next])
            return false;
        for (var i = start.Piece; i < next; i++)
            if (_pieces[i].Floating == Floating.OwnPages)
                return true;
        return false;
    }

    public bool IsEnd(PageStart s) => s.Piece == _pieces.Length && s.Pending == 0 && s.Carry == 0;

    /// <summary>The piece of the first float that waits before this start.</summary>
    public int Waiting(PageStart s, int pending) => _floats[_floatsBefore[s.Piece] - pending];

    public int NoteLines(int piece) => _noteLines[piece];

    public int NoteHeight(int piece) => _noteHeights[piece];

    public int NoteLeading(int piece) => _pieces[piece].Notes![^1].Leading;

    /// <summary>Height that a piece takes after what is used: its space, and the way to the grid if it stands on one.</summary>
    /// <param name="afterFloat">it follows a float, at the page's top or in the text</param>
    public int Step(int used, in Piece piece, bool afterFloat)
    {
        var space =
            used == 0 ? 0
            : afterFloat ? Math.Max(FloatGap, piece.Space)
            : piece.Space;
        if (_grid && piece.OnGrid && (used + space) % Leading is var off and > 0)
            space += Leading - off;
        return space + piece.Height;
    }

    /// <summary>In order of how much they take.</summary>
    public void From(PageStart state, List<PageTurn> turns)
    {
        turns.Clear();
        var (start, pending, carry) = state;
        int used = 0,
            notes = 0,
            plates = 0;
        if (carry > 0)
        {
            var leading = NoteLeading(start - 1);
            var fits = Math.Max(1, (Depth - NoteSpace - NoteRuleGap - Leading * 2) / leading);
            if (carry > fits)
            {
                turns.Add(new PageTurn { Next = new PageStart(start, pending, carry - fits), Used = Depth });
                return;
            }
            notes = NoteSpace + NoteRuleGap + carry * leading;
        }
        while (pending > 0)
        {
            var height = _pieces[Waiting(state, pending)].Height + (used > 0 ? FloatGap : 0);
            if (used > 0 && used + height + notes > Depth)
                break;
            used += height;
            pending--;
        }
        var any = used > 0;
        // Figures that waited may take a page for themselves.
        if (pending < state.Pending && start < _pieces.Length)
            Add(turns, start, pending, 0, used, notes, 0);
        // What waited for the division before stands before the next one begins.
        if (pending < state.Pending && start < _pieces.Length && _opens[start])
            return;
        var afterFloat = false;
        for (var i = start; ; i++)
        {
            if (i == _pieces.Length)
            {
                if (any || carry > 0)
                    Add(turns, i, pending, 0, used, notes, plates);
                else if (plates > 0)
                    turns.Add(
                        new PageTurn
                        {
                            Next = new PageStart(i, pending, 0),
                            Plates = plates,
                            Empty = true,
                        }
                    );
                return;
            }
            ref readonly var piece = ref _pieces[i];
            if (i > start)
            {
                if (any || carry > 0)
                    Add(turns, i, pending, 0, used, notes, plates);
                else if (plates > 0)
                    turns.Add(
                        new PageTurn
                        {
                            Next = new PageStart(i, pending, 0),
                            Plates = plates,
                            Empty = true,
                            Cost = piece.Forced is null ? 50_000 : 0,
                        }
                    );
                if (piece.Forced is not null || (plates > 0 && _stops[i]) || (pending > 0 && _opens[i]))
                    return;
            }
            if (piece.Floating == Floating.OwnPages)
            {
                plates += piece.Plates!.Count;
                continue;
            }
            var height = Step(used, piece, i == start || afterFloat);
            if (i == start && piece.Header >= 0)
                height += _galley.Headers[piece.Header].Height;
            if (piece.Floats)
            {
                if (piece.Floating != Floating.Here)
                    height = piece.Height + (used > 0 ? FloatGap : 0);
                if (pending == 0 && used + height + notes <= Depth)
                {
                    used += height;
                    any = true;
                    afterFloat |= piece.Floating == Floating.Here;
                }
                else
                    pending++;
                continue;
            }
            var more = _noteHeights[i];
            if (more > 0 && notes == 0)
                more += NoteSpace + NoteRuleGap;
            if (used + height + notes + more <= Depth)
            {
                used += height;
                notes += more;
                any = true;
                afterFloat = false;
                continue;
            }
            if (more > 0)
            {
                var room = Depth - used - height - notes - (notes == 0 ? NoteSpace + NoteRuleGap : 0);
                var lines = room / NoteLeading(i);
                if (lines >= 1 || !any)
                {
                    // The note begins under its call and goes on overleaf.
                    lines = Math.Clamp(lines, 0, _noteLines[i] - 1);
                    Add(turns, i + 1, pending, _noteLines[i] - lines, used + height, Depth - used - height, plates, split: true);
                    return;
                }
                if (turns.Count > 0 && used + height + notes <= Depth)
                    System.Runtime.InteropServices.CollectionsMarshal.AsSpan(turns)[^1].NotesPress = true;
            }
            // Taller than a page: it stands alone, over the foot, and is a loose end.
            if (!any)
                Add(turns, i + 1, pending, 0, used + height, notes + more, plates);
            return;
        }
    }

    private void Add(List<PageTurn> turns, int at, int pending, int carry, int used, int notes, int plates, bool split = false)
    {
        long cost = 0;
        if (at == _pieces.Length)
        {
            if (used + notes < _lastPageLines * Leading && pending == 0 && carry == 0)
                cost += ShortLastPage;
        }
        else
        {
            ref readonly var next = ref _pieces[at];
            if (next.Forced is null && !(plates > 0 && _stops[at]))
            {
                long tenths = Math.Max(0, Depth - used - notes) * 10L / Leading;
                cost += tenths * tenths + TurnCost.Of(next.Keep);
            }
        }
        cost += pending * DeferredFloat;
        if (split)
            cost += SplitNote;
        turns.Add(
            new PageTurn
            {
                Next = new PageStart(at, pending, carry),
                Cost = cost,
                Used = used + notes,
                Plates = plates,
                SplitsNote = split,
            }
        );
    }
}
