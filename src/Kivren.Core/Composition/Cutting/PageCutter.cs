using System.IO.Hashing;
using System.Runtime.InteropServices;
using Kivren.Core.Content;
using Kivren.Core.Looks;

namespace Kivren.Core.Composition;

/// <summary>Cuts a galley into pages by looking ahead over all of it: the cheapest sequence of page turns by dynamic
/// programming over the legal breaks (M. F. Plass, Optimal Pagination Techniques, 1981). A state is where a page begins
/// and its side: where feet are to be level, with how short the facing page fell.</summary>
public sealed class PageCutter
{
    /// <summary>Sides of a page: a recto by itself, a verso, and from Facing on a recto whose verso fell so many half lines
    /// short.</summary>
    private const int Recto = 0,
        Verso = 1,
        Facing = 2,
        MostFacing = 40;

    /// <summary>Cost of a half line's difference between facing pages, by its square.</summary>
    private const long Uneven = 37;

    /// <summary>Looked at for each page: turns at most so many lines short of the fullest, and the cheapest by itself.</summary>
    private const int ReachLines = 8;

    /// <summary>Sides kept for each place where a page can begin, cheapest first.</summary>
    private const int MostSides = 3;

    private struct Node
    {
        public PageState State;
        public long Cost;
        public int Previous;

        /// <summary>Another node whose page begins with the same piece, or -1.</summary>
        public int Beside;

        /// <summary>Lies on the way that cutting page by page takes; never dropped, so that looking ahead is not worse.</summary>
        public bool ByPage;
        public bool Done;
    }

    private readonly Galley _galley;
    private readonly Piece[] _pieces;
    private readonly PageTurns _turns;
    private readonly bool _levels;
    private readonly Feet _feet;
    private readonly List<PageTurn> _ways = [];

    private PageCutter(Galley galley, Look look)
    {
        _galley = galley;
        _pieces = galley.Pieces;
        _turns = new PageTurns(galley, look);
        _levels = look.LevelFacing && galley.Page.Mirrored;
        _feet = look.Feet;
    }

    /// <param name="onRecto">the side of the stretch's first page</param>
    public static Cut Cut(Galley galley, Look look, bool onRecto = true) => Cut(galley, look, onRecto, null);

    /// <param name="known">turns found before for galleys of the same shape, in this look</param>
    internal static Cut Cut(Galley galley, Look look, bool onRecto, KnownTurns? known)
    {
        if (galley.Columns > 1)
            return ColumnCutter.Cut(galley, look);
        var cutter = new PageCutter(galley, look);
        var turns = known?.Of(galley, onRecto, () => cutter.Optimum(onRecto)) ?? cutter.Optimum(onRecto);
        return cutter.Pages(turns.Path, turns.Cost, explain: turns.Path.Count > 1);
    }

    /// <summary>Cutting page by page, always at the cheapest turn of the page at hand: what looking ahead must never be
    /// worse than. For comparison in tests.</summary>
    public static Cut PageByPage(Galley galley, Look look, bool onRecto = true)
    {
        var cutter = new PageCutter(galley, look);
        long cost = 0;
        var path = new List<PageState>();
        var state = new PageState(default, onRecto ? Recto : Verso);
        for (; !cutter._turns.IsEnd(state.Start); path.Add(state))
        {
            if (path.Count == 0)
                path.Add(state);
            cutter.Ways(state.Start);
            var (next, added) = cutter.Cheapest(state);
            cost += added;
            state = next;
        }
        return cutter.Pages(path, cost, explain: false);
    }

    /// <summary>The ways to end a page that are worth looking at.</summary>
    private void Ways(PageStart start)
    {
        _turns.From(start, _ways);
        var ways = CollectionsMarshal.AsSpan(_ways);
        int fullest = 0,
            cheapest = 0;
        for (var w = 0; w < ways.Length; w++)
        {
            fullest = Math.Max(fullest, ways[w].Used);
            if (ways[w].Cost <= ways[cheapest].Cost)
                cheapest = w;
        }
        var least = fullest - ReachLines * _turns.Leading;
        var kept = 0;
        for (var w = 0; w < ways.Length; w++)
            if (ways[w].Used >= least || w == cheapest || w == ways.Length - 1)
                ways[kept++] = ways[w];
        _ways.RemoveRange(kept, _ways.Count - kept);
    }

    private (PageState Next, long Cost) Cheapest(PageState state)
    {
        var best = (Next: state, Cost: long.MaxValue);
        foreach (ref readonly var way in CollectionsMarshal.AsSpan(_ways))
        {
            var taken = Take(state, way);
            if (taken.Cost <= best.Cost)
                best = taken;
        }
        return best;
    }

    /// <summary>Where a turn leads from a page of this side, and what it costs there.</summary>
    private (PageState Next, long Cost) Take(PageState from, in PageTurn turn)
    {
        var cost = turn.Cost;
        var ends = turn.Next.Piece == _pieces.Length;
        var forced = ends ? null : _pieces[turn.Next.Piece].Forced;
        var shortBy = Math.Min(MostFacing, Math.Max(0, _turns.DepthOf(from.Start) - turn.Used) * 2 / _turns.Leading);
        if (from.Side >= Facing && !ends && forced is null)
        {
            long difference = from.Side - Facing - shortBy;
            cost += difference * difference * Uneven;
        }
        var side =
            turn.Empty ? (from.Side == Verso ? Verso : Recto)
            : from.Side != Verso ? Verso
            : _levels && !ends && forced is null && turn.Plates == 0 ? Facing + shortBy
            : Recto;
        if (turn.Plates % 2 == 1)
            side = side == Verso ? Recto : Verso;
        if (NeedsBlank(forced, side))
            side = side == Verso ? Recto : Verso;
        return (new PageState(turn.Next, side), cost);
    }

    private static bool NeedsBlank(BreakTo? forced, int side) =>
        (forced == BreakTo.Recto && side == Verso) || (forced == BreakTo.Verso && side != Verso);

    private KnownTurns.Turns Optimum(bool onRecto)
    {
        var first = new PageState(default, onRecto ? Recto : Verso);
        if (_turns.IsEnd(first.Start))
            return new KnownTurns.Turns([first], 0);
        var scratch = Scratch.OfThread;
        scratch.Begin(_pieces.Length + 1);
        var nodes = scratch.Nodes;
        scratch.Add(
            new Node
            {
                State = first,
                Previous = -1,
                ByPage = true,
            }
        );
        var group = scratch.Group;
        for (var piece = 0; piece <= _pieces.Length; piece++)
        {
            // Pages that only empty what waits lead on to the same piece with less waiting: so the most waiting comes first.
            while (Most(scratch.Here[piece], nodes) is { } start)
            {
                group.Clear();
                for (var n = scratch.Here[piece]; n >= 0; n = nodes[n].Beside)
                    if (nodes[n].State.Start == start)
                    {
                        CollectionsMarshal.AsSpan(nodes)[n].Done = true;
                        group.Add((nodes[n].Cost, nodes[n].State.Side, n));
                    }
                if (_turns.IsEnd(start))
                    continue;
                group.Sort();
                Ways(start);
                for (var g = 0; g < group.Count; g++)
                    if (g < MostSides || nodes[group[g].Node].ByPage)
                        Advance(group[g].Node, scratch);
            }
        }
        var best = -1;
        for (var n = scratch.Here[_pieces.Length]; n >= 0; n = nodes[n].Beside)
            if (_turns.IsEnd(nodes[n].State.Start) && (best < 0 || nodes[n].Cost <= nodes[best].Cost))
                best = n;
        var path = new List<PageState>();
        for (var n = best; n >= 0; n = nodes[n].Previous)
            path.Add(nodes[n].State);
        path.Reverse();
        return new KnownTurns.Turns(path, nodes[best].Cost);
    }

    /// <summary>Of the starts not yet worked on the one with most waiting.</summary>
    private static PageStart? Most(int here, List<Node> nodes)
    {
        PageStart? most = null;
        for (var n = here; n >= 0; n = nodes[n].Beside)
            if (
                !nodes[n].Done
                && nodes[n].State.Start is var s
                && (most is not { } m || s.Carry > m.Carry || (s.Carry == m.Carry && s.Pending > m.Pending))
            )
                most = s;
        return most;
    }

    private void Advance(int from, Scratch scratch)
    {
        var node = scratch.Nodes[from];
        var cheapest = node.ByPage ? Cheapest(node.State).Next : default;
        foreach (ref readonly var way in CollectionsMarshal.AsSpan(_ways))
        {
            var (next, cost) = Take(node.State, way);
            cost += node.Cost;
            var byPage = node.ByPage && next == cheapest;
            ref var there = ref CollectionsMarshal.GetValueRefOrAddDefault(scratch.Known, next, out var isKnown);
            if (isKnown)
            {
                ref var old = ref CollectionsMarshal.AsSpan(scratch.Nodes)[there];
                if (cost < old.Cost)
                    (old.Cost, old.Previous) = (cost, from);
                old.ByPage |= byPage;
                continue;
            }
            there = scratch.Nodes.Count;
            scratch.Add(
                new Node
                {
                    State = next,
                    Cost = cost,
                    Previous = from,
                    ByPage = byPage,
                }
            );
        }
    }

    /// <summary>Room to look ahead in, used again for every stretch that a thread cuts.</summary>
    private sealed class Scratch
    {
        [ThreadStatic]
        private static Scratch? t_own;
        public static Scratch OfThread => t_own ??= new Scratch();

        public List<Node> Nodes { get; } = [];
        public Dictionary<PageState, int> Known { get; } = [];
        public List<(long Cost, int Side, int Node)> Group { get; } = [];

        /// <summary>For each piece the node found last whose page begins with it, or -1.</summary>
        public int[] Here { get; private set; } = [];

        public void Begin(int places)
        {
            Nodes.Clear();
            Known.Clear();
            if (Here.Length < places)
                Here = new int[places * 2];
            Here.AsSpan(0, places).Fill(-1);
        }

        public void Add(in Node node)
        {
            ref var here = ref Here[node.State.Start.Piece];
            if (Nodes.Count == 0)
                Known.Add(node.State, 0);
            Nodes.Add(node with { Beside = here });
            here = Nodes.Count - 1;
        }
    }

    // ---- placing ----

    private Cut Pages(IReadOnlyList<PageState> path, long cost, bool explain)
    {
        var pages = new List<CutPage>(path.Count);
        var pageOf = new (int Page, int Y)[_pieces.Length];
        var head = 0;
        for (var p = 0; p + 1 < path.Count; p++)
        {
            _turns.From(path[p].Start, _ways);
            var ways = _ways.ToArray();
            var chosen = Array.FindIndex(ways, w => w.Next == path[p + 1].Start);
            var firstHead = head;
            while (head < _galley.Heads.Length && _galley.Heads[head].Piece < ways[chosen].Next.Piece)
                head++;
            if (!ways[chosen].Empty)
                pages.Add(Page(pages.Count, path[p].Start, ways, chosen, pageOf, firstHead, head - firstHead, explain));
            AddPlates(
                pages,
                path[p].Start.Piece,
                ways[chosen].Next.Piece,
                pageOf,
                ways[chosen].Empty ? firstHead : head,
                ways[chosen].Empty ? head - firstHead : 0
            );
            var side = path[p].Side == Verso ? Verso : Recto;
            if (!ways[chosen].Empty)
                side = 1 - side;
            if (ways[chosen].Plates % 2 == 1)
                side = 1 - side;
            if (ways[chosen].Next.Piece < _pieces.Length && NeedsBlank(_pieces[ways[chosen].Next.Piece].Forced, side))
                pages.Add(Blank(head, _pieces[ways[chosen].Next.Piece].Forced!.Value));
        }
        var places = new Dictionary<Id, Place>(_galley.Marks.Length);
        foreach (var mark in _galley.Marks)
            if (mark.Piece < pageOf.Length)
                places.TryAdd(mark.Id, new Place(pageOf[mark.Piece].Page + mark.Plate, pageOf[mark.Piece].Y));
        return new Cut
        {
            Galley = _galley,
            Pages = [.. pages],
            Places = places,
            Cost = cost,
        };
    }

    private static CutPage Blank(int head, BreakTo forced) =>
        new()
        {
            Pieces = [],
            Reason = forced == BreakTo.Recto ? "Blank: what follows begins on a recto." : "Blank: what follows begins on a verso.",
            BodyKey = 0,
            FirstHead = head,
            HeadCount = 0,
        };

    private void AddPlates(List<CutPage> pages, int from, int to, (int Page, int Y)[] pageOf, int firstHead, int heads)
    {
        for (var i = from; i < to; i++)
        {
            if (_pieces[i].Plates is not { } plates)
                continue;
            pageOf[i] = (pages.Count, 0);
            for (var p = 0; p < plates.Count; p++)
            {
                var hash = new XxHash64();
                ReadOnlySpan<long> values = [(long)_galley.Blocks[_galley.BlockOf[i]].ContentHash, p, -7];
                hash.Append(MemoryMarshal.AsBytes(values));
                pages.Add(
                    new CutPage
                    {
                        Pieces = [],
                        Plate = plates[p],
                        PlateOf = i,
                        Notes = Below(plates[p].Notes),
                        NoteRules =
                            plates[p].Notes.Count > 0
                                ?
                                [
                                    new NoteRule(
                                        0,
                                        _turns.Depth - plates[p].Notes.Sum(n => n.Lines.Count * n.Leading) - _turns.NoteRuleGap,
                                        false
                                    ),
                                ]
                                : [],
                        Reason = plates[p].Turned
                            ? p + 1 < plates.Count
                                ? $"{_galley.Called(i)} goes on on the next landscape page."
                                : $"{_galley.Called(i)} stands on landscape pages of its own."
                            : $"{_galley.Called(i)} has a page of its own.",
                        BodyKey = hash.GetCurrentHashAsUInt64(),
                        FirstHead = firstHead,
                        HeadCount = p == 0 ? heads : 0,
                        FirstBlock = _pieces[i].Block,
                    }
                );
            }
        }
    }

    private PlacedNote[] Below(IReadOnlyList<SetNote> notes)
    {
        var y = _turns.Depth - notes.Sum(n => n.Lines.Count * n.Leading);
        var placed = new PlacedNote[notes.Count];
        for (var i = 0; i < notes.Count; i++)
        {
            placed[i] = new PlacedNote(notes[i], 0, notes[i].Lines.Count, 0, y);
            y += notes[i].Lines.Count * notes[i].Leading;
        }
        return placed;
    }

    private CutPage Page(
        int index,
        PageStart state,
        PageTurn[] ways,
        int chosen,
        (int Page, int Y)[] pageOf,
        int firstHead,
        int heads,
        bool explain
    )
    {
        var turn = ways[chosen];
        var (start, _, carry) = state;
        var parts = new List<(SetNote Note, int From, int To)>();
        var waited = new List<int>();
        var fill = new PageFill(_turns, state, waited);
        var depth = fill.Depth;
        if (carry > 0)
            TakeNotes(start - 1, _turns.NoteLines(start - 1) - carry, fill.NoteLinesTaken, parts);
        // What goes to the top, into the text and to the foot; heights are the same in whatever order they are added.
        List<int> top = [],
            flow = [],
            foot = [];
        var astray = new List<GivenUp>();
        foreach (var f in waited)
        {
            (_pieces[f].Floating == Floating.Foot ? foot : top).Add(f);
            if (_galley.Heads.Any(h => h.Level == HeadLevel.A && h.Piece > f && h.Piece < start))
                astray.Add(new GivenUp(_pieces[f].Block, $"{_galley.Called(f)} stands after the end of its section", true));
        }
        for (var i = start; i < turn.Next.Piece; i++)
        {
            var fit = fill.Take(i);
            if (fit is Fit.OwnPages or Fit.Waits)
                continue;
            if (fit == Fit.Over)
                fill.Put();
            (
                _pieces[i].Floating switch
                {
                    Floating.Top => top,
                    Floating.Foot => foot,
                    _ => flow,
                }
            ).Add(i);
            if (_pieces[i].Notes is null)
                continue;
            var split = i == turn.Next.Piece - 1 && turn.SplitsNote;
            TakeNotes(i, 0, _turns.NoteLines(i) - (split ? turn.Next.Carry : 0), parts);
        }
        // No picture stands above the title that a page opens with.
        if (top.Count > 0 && flow.Count > 0 && _galley.Openings.Contains(flow[0]))
        {
            foot.InsertRange(0, top);
            top.Clear();
        }
        var placed = new List<PlacedPiece>(top.Count + flow.Count + foot.Count);
        var y = 0;
        foreach (var f in top)
        {
            y += y > 0 ? _turns.FloatGap : 0;
            Put(f, y);
            y += _pieces[f].Height;
        }
        PlacedHeader[] headers = [];
        for (var at = 0; at < flow.Count; at++)
        {
            var i = flow[at];
            if (i == start && _pieces[i].Header >= 0)
            {
                headers = [new PlacedHeader(_galley.Headers[_pieces[i].Header], 0, y)];
                y += headers[0].Rows.Height;
                // The row follows its header as rows do.
                Put(i, y);
                y += _pieces[i].Height;
                continue;
            }
            y += _turns.Step(y, _pieces[i], i == start || (at > 0 && _pieces[flow[at - 1]].Floats)) - _pieces[i].Height;
            Put(i, y);
            y += _pieces[i].Height;
        }
        var notes = PlaceNotes(parts, depth, out var rules, carry > 0);
        if (foot.Count > 0)
        {
            var place =
                (notes.Length > 0 ? rules[0].Y - _turns.NoteSpace : depth)
                - foot.Sum(f => _pieces[f].Height)
                - _turns.FloatGap * (foot.Count - 1);
            foreach (var f in foot)
            {
                Put(f, place);
                place += _pieces[f].Height + _turns.FloatGap;
            }
        }
        else if (_feet == Feet.Feathered && turn.Next.Piece < _pieces.Length && _pieces[turn.Next.Piece].Forced is null)
            Feather(placed, top.Count, depth - turn.Used);
        foreach (var p in placed)
            pageOf[p.Piece] = (index, p.Y);
        var (reason, gaveUp) = explain ? TurnReasons.Why(_galley, _turns, state, ways, chosen) : ("", null);
        if (gaveUp is not null)
            astray.Add(new GivenUp(start < _pieces.Length ? _pieces[start].Block : Id.None, gaveUp, false));
        return new CutPage
        {
            Pieces = [.. placed],
            Notes = notes,
            NoteRules = rules,
            Headers = headers,
            Reason = reason,
            GaveUp = astray,
            BodyKey = Key(_galley, placed, notes, headers),
            FirstHead = firstHead,
            HeadCount = heads,
            FirstBlock = start < _pieces.Length ? _pieces[start].Block : Id.None,
            Short = Math.Max(0, depth - turn.Used),
        };

        void Put(int piece, int down) => placed.Add(new PlacedPiece(piece, 0, down));
    }

    /// <summary>White is shared out above the blocks of the page, no more to each than its space gives.</summary>
    private void Feather(List<PlacedPiece> placed, int from, int white)
    {
        long Gives(PlacedPiece placed) => (long)_pieces[placed.Piece].Space * _pieces[placed.Piece].Stretch;
        long all = 0;
        for (var p = from + 1; p < placed.Count; p++)
            all += Gives(placed[p]);
        if (all == 0 || white <= 0)
            return;
        var given = Math.Min(white, all / 100);
        long passed = 0;
        for (var p = from + 1; p < placed.Count; p++)
        {
            passed += Gives(placed[p]);
            placed[p] = placed[p] with { Y = placed[p].Y + (int)(given * passed / all) };
        }
    }

    private void TakeNotes(int piece, int skip, int take, List<(SetNote, int, int)> parts)
    {
        foreach (var note in _pieces[piece].Notes!)
        {
            var from = Math.Min(skip, note.Lines.Count);
            skip -= from;
            var count = Math.Min(take, note.Lines.Count - from);
            take -= count;
            if (count > 0)
                parts.Add((note, from, from + count));
        }
    }

    private PlacedNote[] PlaceNotes(List<(SetNote Note, int From, int To)> parts, int depth, out NoteRule[] rules, bool continues)
    {
        rules = [];
        if (parts.Count == 0)
            return [];
        var y = depth - parts.Sum(p => (p.To - p.From) * p.Note.Leading);
        rules = [new NoteRule(0, y - _turns.NoteRuleGap, continues)];
        var placed = new PlacedNote[parts.Count];
        for (var i = 0; i < parts.Count; i++)
        {
            placed[i] = new PlacedNote(parts[i].Note, parts[i].From, parts[i].To, 0, y);
            y += (parts[i].To - parts[i].From) * parts[i].Note.Leading;
        }
        return placed;
    }

    internal static ulong Key(Galley galley, List<PlacedPiece> placed, PlacedNote[] notes, PlacedHeader[] headers)
    {
        var hash = new XxHash64();
        Span<long> values = stackalloc long[3];
        var last = -1;
        foreach (var p in placed)
        {
            var block = galley.BlockOf[p.Piece];
            if (block != last)
                values[0] = (long)galley.Blocks[block].ContentHash;
            last = block;
            values[1] = p.Piece - galley.FirstPiece[block];
            values[2] = ((long)p.X << 32) | (uint)p.Y;
            hash.Append(MemoryMarshal.AsBytes(values));
        }
        foreach (var note in notes)
        {
            foreach (var line in note.Note.Lines)
                PieceHash.Append(hash, line);
            values[0] = note.From;
            values[1] = note.To;
            values[2] = ((long)note.X << 32) | (uint)note.Y;
            hash.Append(MemoryMarshal.AsBytes(values));
        }
        foreach (var header in headers)
        {
            foreach (var drawn in header.Rows.Drawn)
                if (drawn is Type.DrawnLine line)
                    PieceHash.Append(hash, line.Line);
            values[0] = header.X;
            values[1] = header.Y;
            values[2] = header.Rows.Height;
            hash.Append(MemoryMarshal.AsBytes(values));
        }
        return hash.GetCurrentHashAsUInt64();
    }
}
