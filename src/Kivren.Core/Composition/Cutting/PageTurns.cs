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

    /// <summary>A page that is less full than this part of it is thin.</summary>
    private const int Thin = 4;

    /// <summary>How full a page must be so that pages of their own do not pass this piece: divisions begin here, and A and B heads;
    /// for a B head no page is left thin.</summary>
    private readonly int[] _stops;
    private readonly bool[] _opens;
    private readonly int[] _openingDepths;

    public PageTurns(Galley galley, Look look)
    {
        _galley = galley;
        _pieces = galley.Pieces;
        Depth = galley.Page.Depth.Millipoints;
        _openingDepths = new int[_pieces.Length + 1];
        Leading = look.Body.Leading.Millipoints;
        (NoteSpace, NoteRuleGap) = (look.Blocks.NotesBefore.Millipoints, look.Blocks.NoteRuleGap.Millipoints);
        FloatGap = look.Blocks.FloatGap.Millipoints;
        _lastPageLines = look.LastPageLines;
        _grid = look.Grid;
        _floatsBefore = new int[_pieces.Length + 1];
        _noteHeights = new int[_pieces.Length];
        _noteLines = new int[_pieces.Length];
        (_stops, _opens) = (new int[_pieces.Length + 1], new bool[_pieces.Length + 1]);
        Array.Fill(_stops, int.MaxValue);
        for (var o = 0; o < galley.Openings.Length; o++)
        {
            _stops[galley.Openings[o]] = 0;
            _opens[galley.Openings[o]] = true;
            _openingDepths[galley.Openings[o]] = galley.OpeningDepths[o];
        }
        foreach (var head in galley.Heads)
            if (head.Level <= HeadLevel.B && head.Piece < _pieces.Length)
                _stops[head.Piece] = Math.Min(_stops[head.Piece], head.Level == HeadLevel.B ? Depth / Thin : 0);
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

    /// <summary>Of the pages that no division begins.</summary>
    public int Depth { get; }

    /// <summary>Depth of the text on a page that begins so. Figures that wait take a page before a division begins, and notes that are
    /// carried over one that has room for them in any layout.</summary>
    public int DepthOf(PageStart start) =>
        !_opens[start.Piece] || start.Pending > 0 ? Depth
        : start.Carry > 0 ? Math.Min(Depth, _openingDepths[start.Piece])
        : _openingDepths[start.Piece];

    /// <summary>Space above the rule of the notes, and from the rule to the first note.</summary>
    public int NoteSpace { get; }
    public int NoteRuleGap { get; }

    /// <summary>About what came to stand at the head or foot of a page.</summary>
    public int FloatGap { get; }
    public int Leading { get; }

    /// <summary>Whether a page ends before this piece because a turned table stands before it, which takes its pages first.</summary>
    /// <param name="used">of the page's depth</param>
    public bool StopsFor(PageStart start, int next, int used)
    {
        if (next >= _pieces.Length || used < _stops[next])
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

    public Piece[] Pieces => _pieces;

    /// <summary>Height of the header rows that stand above a row which begins a page.</summary>
    public int HeaderHeight(int piece) => _pieces[piece].Header >= 0 ? _galley.Headers[_pieces[piece].Header].Height : 0;

    /// <summary>In order of how much they take.</summary>
    public void From(PageStart state, List<PageTurn> turns)
    {
        turns.Clear();
        var start = state.Piece;
        var fill = new PageFill(this, state);
        if (fill.OnlyNotes)
        {
            turns.Add(new PageTurn { Next = state with { Carry = state.Carry - fill.NoteLinesTaken }, Used = fill.Depth });
            return;
        }
        // Figures that waited may take a page for themselves.
        if (fill.Pending < state.Pending && start < _pieces.Length)
            Add(turns, start, fill, 0);
        // What waited for the division before stands before the next one begins.
        if (fill.Pending < state.Pending && start < _pieces.Length && _opens[start])
            return;
        var plates = 0;
        for (var i = start; ; i++)
        {
            var ends = i == _pieces.Length;
            if (ends || i > start)
            {
                if (fill.Any || state.Carry > 0)
                    Add(turns, i, fill, plates);
                else if (plates > 0)
                    turns.Add(
                        new PageTurn
                        {
                            Next = new PageStart(i, fill.Pending, 0),
                            Plates = plates,
                            Empty = true,
                            Cost = ends || _pieces[i].Forced is not null ? 0 : 50_000,
                        }
                    );
                if (
                    ends
                    || _pieces[i].Forced is not null
                    || (plates > 0 && fill.Used + fill.Notes >= _stops[i])
                    || (fill.Pending > 0 && _opens[i])
                )
                    return;
            }
            switch (fill.Take(i))
            {
                case Fit.OwnPages:
                    plates += _pieces[i].Plates!.Count;
                    break;
                case Fit.Over:
                    Over(turns, i, fill, plates);
                    return;
            }
        }
    }

    /// <summary>The piece, or its notes, reach over the foot: the last way to end the page.</summary>
    private void Over(List<PageTurn> turns, int i, PageFill fill, int plates)
    {
        if (fill.More > 0)
        {
            var left = fill.Depth - fill.Used - fill.Step - fill.Notes;
            var lines = (left - (fill.Notes == 0 ? NoteSpace + NoteRuleGap : 0)) / NoteLeading(i);
            if (lines >= 1 || !fill.Any)
            {
                // The note begins under its call and goes on overleaf.
                lines = Math.Clamp(lines, 0, _noteLines[i] - 1);
                fill.Put();
                Add(turns, i + 1, fill.Pending, _noteLines[i] - lines, fill.Depth, fill.Depth, plates, split: true);
                return;
            }
            if (turns.Count > 0 && left >= 0)
                System.Runtime.InteropServices.CollectionsMarshal.AsSpan(turns)[^1].NotesPress = true;
        }
        // Taller than a page: it stands alone, over the foot, and is a loose end.
        if (!fill.Any)
        {
            fill.Put();
            Add(turns, i + 1, fill, plates);
        }
    }

    private void Add(List<PageTurn> turns, int at, in PageFill fill, int plates) =>
        Add(turns, at, fill.Pending, 0, fill.Used + fill.Notes, fill.Depth, plates);

    private void Add(List<PageTurn> turns, int at, int pending, int carry, int used, int depth, int plates, bool split = false)
    {
        long cost = 0;
        if (at == _pieces.Length)
        {
            if (used < _lastPageLines * Leading && pending == 0 && carry == 0)
                cost += ShortLastPage;
        }
        else
        {
            ref readonly var next = ref _pieces[at];
            if (next.Forced is null && !(plates > 0 && used >= _stops[at]))
            {
                long tenths = Math.Max(0, depth - used) * 10L / Leading;
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
                Used = used,
                Plates = plates,
                SplitsNote = split,
            }
        );
    }
}
