using System.IO.Hashing;
using System.Runtime.InteropServices;
using Kivren.Core.Content;
using Kivren.Core.Looks;

namespace Kivren.Core.Composition;

/// <summary>Cuts a galley into pages by looking ahead over all of it: the cheapest sequence of page turns by dynamic
/// programming over the legal breaks (M. F. Plass, Optimal Pagination Techniques, 1981). A state is the piece a page
/// begins with, how many figures wait for a top, and how many lines of notes are carried over.</summary>
public sealed class PageCutter
{
    /// <summary>Space above the rule of the notes, and from the rule to the first note.</summary>
    private const int NoteSpace = 13_000, NoteRuleGap = 3_000;
    private const int FloatGap = 13_000;
    private const long SplitNote = 700, DeferredFloat = 250, ShortLastPage = 1_500;

    private readonly record struct State(int Start, int Pending, int Carry);

    private struct Turn
    {
        public State Next;
        public long Cost;
        public int Used;

        /// <summary>What stopped the page from taking more: a note's lines, not the line itself.</summary>
        public bool NotesPress;
        public bool SplitsNote;
    }

    private readonly Galley _galley;
    private readonly Piece[] _pieces;
    private readonly int _depth, _leading, _lastPageLines;
    private readonly int[] _floatsBefore;
    private readonly List<int> _floats = [];
    private readonly List<Turn> _turns = [];
    private readonly Dictionary<State, (long Cost, int Turn)> _toGo = [];

    private PageCutter(Galley galley, Look look)
    {
        _galley = galley;
        _pieces = galley.Pieces;
        _depth = look.Master.Depth.Millipoints;
        _leading = look.Body.Leading.Millipoints;
        _lastPageLines = look.LastPageLines;
        _floatsBefore = new int[_pieces.Length + 1];
        for (var i = 0; i < _pieces.Length; i++)
        {
            if (_pieces[i].Floats) _floats.Add(i);
            _floatsBefore[i + 1] = _floats.Count;
        }
    }

    public static Cut Cut(Galley galley, Look look) =>
        galley.Columns > 1 ? ColumnCutter.Cut(galley, look) : new PageCutter(galley, look).Optimum();

    /// <summary>Cutting page by page, always at the cheapest turn of the page at hand: what looking ahead must never be
    /// worse than. For comparison in tests.</summary>
    public static Cut PageByPage(Galley galley, Look look)
    {
        var cutter = new PageCutter(galley, look);
        long cost = 0;
        var path = new List<(State, int)>();
        for (var state = new State(0, 0, 0); !cutter.IsEnd(state);)
        {
            cutter.Turns(state);
            var best = 0;
            for (var t = 1; t < cutter._turns.Count; t++)
                if (cutter._turns[t].Cost <= cutter._turns[best].Cost) best = t;
            cost += cutter._turns[best].Cost;
            path.Add((state, best));
            state = cutter._turns[best].Next;
        }
        return cutter.Pages(path, cost, explain: false);
    }

    private bool IsEnd(State s) => s.Start == _pieces.Length && s.Pending == 0 && s.Carry == 0;

    private Cut Optimum()
    {
        // Forward: which states can be reached, by the piece they begin with.
        var reached = new List<State>?[_pieces.Length + 1];
        var seen = new HashSet<State>();
        void Reach(State s)
        {
            if (seen.Add(s)) (reached[s.Start] ??= []).Add(s);
        }
        Reach(new State(0, 0, 0));
        for (var start = 0; start <= _pieces.Length; start++)
        {
            if (reached[start] is not { } states) continue;
            for (var i = 0; i < states.Count; i++)
            {
                if (IsEnd(states[i])) continue;
                Turns(states[i]);
                foreach (ref readonly var turn in CollectionsMarshal.AsSpan(_turns)) Reach(turn.Next);
            }
        }
        // Backward: the least cost from each state to the end; of equal turns the earliest.
        for (var start = _pieces.Length; start >= 0; start--)
        {
            if (reached[start] is not { } states) continue;
            // Pages that only empty what waits lead to states with the same start and less waiting, found later.
            for (var i = states.Count - 1; i >= 0; i--) ToGo(states[i]);
        }
        var path = new List<(State, int)>();
        for (var state = new State(0, 0, 0); !IsEnd(state);)
        {
            var turn = ToGo(state).Turn;
            path.Add((state, turn));
            Turns(state);
            state = _turns[turn].Next;
        }
        return Pages(path, _pieces.Length == 0 ? 0 : ToGo(new State(0, 0, 0)).Cost, explain: true);
    }

    private (long Cost, int Turn) ToGo(State state)
    {
        if (IsEnd(state)) return (0, -1);
        if (_toGo.TryGetValue(state, out var known)) return known;
        Turns(state);
        var turns = _turns.ToArray();
        var best = (Cost: long.MaxValue, Turn: -1);
        for (var t = 0; t < turns.Length; t++)
        {
            var cost = turns[t].Cost + ToGo(turns[t].Next).Cost;
            if (cost < best.Cost) best = (cost, t);
        }
        _toGo[state] = best;
        return best;
    }

    private int NoteLines(int piece) => _pieces[piece].Notes is { } notes ? notes.Sum(n => n.Lines.Count) : 0;
    private int NoteHeight(int piece) => _pieces[piece].Notes is { } notes ? notes.Sum(n => n.Lines.Count * n.Leading) : 0;
    private int NoteLeading(int piece) => _pieces[piece].Notes![^1].Leading;

    /// <summary>All ways to end the page that begins with <paramref name="state"/>, in order of how much they take.</summary>
    private void Turns(State state)
    {
        _turns.Clear();
        var (start, pending, carry) = state;
        int used = 0, notes = 0;
        if (carry > 0)
        {
            var leading = NoteLeading(start - 1);
            var fits = Math.Max(1, (_depth - NoteSpace - NoteRuleGap - _leading * 2) / leading);
            if (carry > fits)
            {
                _turns.Add(new Turn { Next = new State(start, pending, carry - fits), Used = _depth });
                return;
            }
            notes = NoteSpace + NoteRuleGap + carry * leading;
        }
        while (pending > 0)
        {
            var height = _pieces[_floats[_floatsBefore[start] - pending]].Height + (used > 0 ? FloatGap : 0);
            if (used > 0 && used + height + notes > _depth) break;
            used += height;
            pending--;
        }
        var any = used > 0;
        for (var i = start; ; i++)
        {
            if (i == _pieces.Length)
            {
                if (any || carry > 0) End(i, pending, 0, used, notes, notesPress: false);
                return;
            }
            ref readonly var piece = ref _pieces[i];
            if (i > start)
            {
                End(i, pending, 0, used, notes, notesPress: false);
                if (piece.Forced) return;
            }
            var height = piece.Height + (used > 0 ? (i == start ? Math.Max(FloatGap, piece.Space) : piece.Space) : 0);
            if (i == start && piece.Header >= 0) height += _galley.Headers[piece.Header].Height;
            if (piece.Floats)
            {
                if (pending == 0 && used + height + notes <= _depth)
                {
                    used += height;
                    any = true;
                }
                else pending++;
                continue;
            }
            var more = NoteHeight(i);
            if (more > 0 && notes == 0) more += NoteSpace + NoteRuleGap;
            if (used + height + notes + more <= _depth)
            {
                used += height;
                notes += more;
                any = true;
                continue;
            }
            if (more > 0)
            {
                var room = _depth - used - height - notes - (notes == 0 ? NoteSpace + NoteRuleGap : 0);
                var lines = room / NoteLeading(i);
                if (lines >= 1 || !any)
                {
                    // The note begins under its call and goes on overleaf.
                    lines = Math.Clamp(lines, 0, NoteLines(i) - 1);
                    End(i + 1, pending, NoteLines(i) - lines, used + height, _depth - used - height, notesPress: true, split: true);
                    return;
                }
                if (_turns.Count > 0 && used + height + notes <= _depth)
                    CollectionsMarshal.AsSpan(_turns)[^1].NotesPress = true;
            }
            if (!any) // taller than a page: it stands alone, over the foot, and is a loose end
            {
                End(i + 1, pending, 0, used + height, notes + more, notesPress: false);
                return;
            }
            return;
        }
    }

    private void End(int at, int pending, int carry, int used, int notes, bool notesPress, bool split = false)
    {
        long cost = 0;
        if (at == _pieces.Length)
        {
            if (used + notes < _lastPageLines * _leading && pending == 0 && carry == 0) cost += ShortLastPage;
        }
        else
        {
            ref readonly var next = ref _pieces[at];
            if (!next.Forced)
            {
                long tenths = Math.Max(0, _depth - used - notes) * 10L / _leading;
                cost += tenths * tenths + TurnCost.Of(next.Keep);
            }
        }
        cost += pending * DeferredFloat;
        if (split) cost += SplitNote;
        _turns.Add(new Turn { Next = new State(at, pending, carry), Cost = cost, Used = used + notes, NotesPress = notesPress, SplitsNote = split });
    }

    // ---- placing ----

    private Cut Pages(List<(State State, int Turn)> path, long cost, bool explain)
    {
        var pages = new CutPage[path.Count];
        var pageOf = new (int Page, int Y)[_pieces.Length];
        var head = 0;
        for (var p = 0; p < path.Count; p++)
        {
            var (state, chosen) = path[p];
            Turns(state);
            var turns = _turns.ToArray();
            pages[p] = Page(p, state, turns, chosen, pageOf, ref head, explain);
        }
        var places = new Dictionary<Id, Place>(_galley.Marks.Length);
        foreach (var mark in _galley.Marks)
            if (mark.Piece < pageOf.Length) places.TryAdd(mark.Id, new Place(pageOf[mark.Piece].Page, pageOf[mark.Piece].Y));
        return new Cut { Galley = _galley, Pages = pages, Places = places, Cost = cost };
    }

    private CutPage Page(int index, State state, Turn[] turns, int chosen, (int Page, int Y)[] pageOf, ref int head, bool explain)
    {
        var turn = turns[chosen];
        var placed = new List<PlacedPiece>();
        var (start, pending, carry) = state;
        var y = 0;
        var room = _depth;
        var noteParts = new List<(SetNote Note, int From, int To)>();
        if (carry > 0)
        {
            var take = turn.Next.Start == start && turn.Next.Carry > 0 ? carry - turn.Next.Carry : carry;
            TakeNotes(start - 1, NoteLines(start - 1) - carry, take, noteParts);
        }
        var onlyNotes = turn.Next.Start == start && turn.Next.Carry > 0;
        var notesHeight = 0;
        if (carry > 0) notesHeight = NoteSpace + NoteRuleGap + carry * NoteLeading(start - 1);
        while (!onlyNotes && pending > 0)
        {
            var f = _floats[_floatsBefore[start] - pending];
            var gap = y > 0 ? FloatGap : 0;
            if (y > 0 && y + gap + _pieces[f].Height + notesHeight > room) break;
            placed.Add(new PlacedPiece(f, 0, y + gap));
            pageOf[f] = (index, y + gap);
            y += gap + _pieces[f].Height;
            pending--;
        }
        HeaderRows? header = null;
        for (var i = start; i < turn.Next.Start; i++)
        {
            ref readonly var piece = ref _pieces[i];
            var space = y > 0 ? (i == start ? Math.Max(FloatGap, piece.Space) : piece.Space) : 0;
            if (i == start && piece.Header >= 0)
            {
                header = _galley.Headers[piece.Header];
                y += header.Height;
            }
            if (piece.Floats)
            {
                if (!(pending == 0 && y + space + piece.Height + notesHeight <= room))
                {
                    pending++;
                    continue;
                }
            }
            placed.Add(new PlacedPiece(i, 0, y + space));
            pageOf[i] = (index, y + space);
            y += space + piece.Height;
            if (piece.Notes is not null)
            {
                var lines = NoteLines(i);
                if (i == turn.Next.Start - 1 && turn.SplitsNote) lines -= turn.Next.Carry;
                TakeNotes(i, 0, lines, noteParts);
                notesHeight += NoteHeight(i) + (notesHeight == 0 ? NoteSpace + NoteRuleGap : 0);
            }
        }
        var firstHead = head;
        while (head < _galley.Heads.Length && _galley.Heads[head].Piece < turn.Next.Start) head++;
        var notes = PlaceNotes(noteParts, out var rule);
        var (reason, gaveUp) = explain ? Why(state, turns, chosen) : ("", null);
        return new CutPage
        {
            Pieces = [.. placed],
            Notes = notes,
            NoteRule = rule,
            Header = header,
            Reason = reason,
            GaveUp = gaveUp,
            BodyKey = Key(_galley, placed, notes, header is not null),
            FirstHead = firstHead,
            HeadCount = head - firstHead,
            FirstBlock = start < _pieces.Length ? _pieces[start].Block : Id.None,
        };
    }

    private void TakeNotes(int piece, int skip, int take, List<(SetNote, int, int)> parts)
    {
        foreach (var note in _pieces[piece].Notes!)
        {
            var from = Math.Min(skip, note.Lines.Count);
            skip -= from;
            var count = Math.Min(take, note.Lines.Count - from);
            take -= count;
            if (count > 0) parts.Add((note, from, from + count));
        }
    }

    private PlacedNote[] PlaceNotes(List<(SetNote Note, int From, int To)> parts, out int rule)
    {
        rule = -1;
        if (parts.Count == 0) return [];
        var height = parts.Sum(p => (p.To - p.From) * p.Note.Leading);
        var y = _depth - height;
        rule = y - NoteRuleGap;
        var placed = new PlacedNote[parts.Count];
        for (var i = 0; i < parts.Count; i++)
        {
            placed[i] = new PlacedNote(parts[i].Note, parts[i].From, parts[i].To, y);
            y += (parts[i].To - parts[i].From) * parts[i].Note.Leading;
        }
        return placed;
    }

    internal static ulong Key(Galley galley, List<PlacedPiece> placed, PlacedNote[] notes, bool header)
    {
        var hash = new XxHash64();
        Span<long> values = stackalloc long[3];
        var last = -1;
        foreach (var p in placed)
        {
            var block = galley.BlockOf[p.Piece];
            if (block != last) values[0] = (long)galley.Blocks[block].ContentHash;
            last = block;
            values[1] = p.Piece - FirstPieceOf(galley, p.Piece);
            values[2] = ((long)p.X << 32) | (uint)p.Y;
            hash.Append(MemoryMarshal.AsBytes(values));
        }
        foreach (var note in notes)
        {
            foreach (var line in note.Note.Lines) BlockSetter.Append(hash, line);
            values[0] = note.From;
            values[1] = note.To;
            values[2] = note.Y;
            hash.Append(MemoryMarshal.AsBytes(values));
        }
        values[0] = header ? 1 : 0;
        hash.Append(MemoryMarshal.AsBytes(values[..1]));
        return hash.GetCurrentHashAsUInt64();
    }

    private static int FirstPieceOf(Galley galley, int piece)
    {
        var block = galley.BlockOf[piece];
        while (piece > 0 && galley.BlockOf[piece - 1] == block) piece--;
        return piece;
    }

    // ---- reasons ----

    /// <summary>Why the page ends where it ends, by comparison with the fullest it could be (composition.md 3).</summary>
    private (string Reason, string? GaveUp) Why(State state, Turn[] turns, int chosen)
    {
        var turn = turns[chosen];
        var next = turn.Next;
        if (next.Start == _pieces.Length) return (next.Pending > 0 ? "The text ends here; a figure follows overleaf." : next.Carry > 0 ? "The text ends here; its note goes on overleaf." : "The division ends here.", null);
        if (_pieces[next.Start].Forced) return ("Forced: a page break stands here.", null);
        if (next.Start == state.Start) return ("Full: notes carried over take the page.", null);
        if (turn.SplitsNote) return ($"Full: note {_pieces[next.Start - 1].Notes![^1].Number} begins under its call and goes on overleaf.", null);
        var full = turns.Length - 1;
        var lines = (_depth - turn.Used + _leading / 4) / _leading;
        var shortBy = lines <= 0 ? "Full" : lines == 1 ? "Ends 1 line short" : $"Ends {lines} lines short";
        var keep = _pieces[next.Start].Keep;
        var gaveUp = keep >= Keep.Orphan ? GivenUp(keep, next.Start) : null;
        if (gaveUp is not null) return ($"{shortBy}: {gaveUp}; every other turn would be worse.", gaveUp);
        if (chosen == full)
        {
            if (turn.NotesPress) return ($"{shortBy}: the next line calls note {_pieces[next.Start].Notes![0].Number}, which has no room at this foot.", null);
            if (lines <= 0) return ("Full.", null);
            return _pieces[next.Start].Header >= 0 || _pieces[next.Start].Height > _leading * 2
                ? ($"{shortBy}: {_galley.Called(next.Start)} does not fit and is not divided.", null)
                : ($"{shortBy}: the space that {_galley.Called(next.Start)} wants above it does not fit.", null);
        }
        // A fuller page was possible: what it would have broken.
        var fuller = turns[full].Next;
        if (fuller.Start < _pieces.Length && _pieces[fuller.Start].Keep is var broken and > Keep.Hyphen)
            return ($"{shortBy}: {Kept(broken, fuller.Start)}.", null);
        for (var t = full; t > chosen; t--)
            if (turns[t].Next.Start < _pieces.Length && _pieces[turns[t].Next.Start].Keep is var b and > Keep.Hyphen)
                return ($"{shortBy}: {Kept(b, turns[t].Next.Start)}.", null);
        if (turns[full].SplitsNote) return ($"{shortBy}: note {_pieces[fuller.Start - 1].Notes![^1].Number} stays whole.", null);
        // Otherwise it is for the sake of a later page: follow the fuller way to its first trouble.
        for (var s = fuller; !IsEnd(s);)
        {
            var best = ToGo(s).Turn;
            Turns(s);
            s = _turns[best].Next;
            if (s.Start < _pieces.Length && _pieces[s.Start].Keep is var later and > Keep.Hyphen)
                return ($"{shortBy} so that on a later page {Kept(later, s.Start)}.", null);
        }
        return (lines <= 0 ? "Full." : $"{shortBy} so that the pages after it are better filled.", null);
    }

    private string Kept(Keep keep, int piece) => keep switch
    {
        Keep.Head => $"{_galley.Called(piece - 1)} keeps with its text",
        Keep.TwoLines => $"{_galley.Called(Math.Max(0, piece - 2))} keeps two lines of its text",
        Keep.Orphan => $"the first line of {_galley.Called(piece)} would stand alone at the foot",
        Keep.Widow => $"the last line of {_galley.Called(piece)} would stand alone overleaf",
        Keep.LeadIn => $"{_galley.Called(piece - 1)} leads in what follows",
        Keep.RowStart => $"a single row of {_galley.Called(piece)} would stand alone",
        Keep.Together or Keep.Short => $"{_galley.Called(piece)} is kept together",
        _ => $"{_galley.Called(piece)} is not divided",
    };

    private string GivenUp(Keep keep, int piece) => keep switch
    {
        Keep.Head => $"{_galley.Called(piece - 1)} stands alone at the foot",
        Keep.TwoLines => $"{_galley.Called(Math.Max(0, piece - 2))} keeps only one line of its text",
        Keep.Orphan => $"the first line of {_galley.Called(piece)} stands alone at the foot",
        Keep.Widow => $"the last line of {_galley.Called(piece)} stands alone overleaf",
        _ => $"{_galley.Called(piece)} is divided",
    };
}
