using Kivren.Core.Content;
using Kivren.Core.LooseEnds;
using Kivren.Core.Type;

namespace Kivren.Core.Composition;

/// <summary>Collects the pieces of one block while it is set.</summary>
internal sealed class PieceStack(Id block)
{
    private readonly List<Piece> _pieces = [];
    private int _space;
    private Keep _keep;

    public List<PieceMark> Marks { get; } = [];
    public List<HeaderRows> Headers { get; } = [];
    public List<LooseEnd> LooseEnds { get; } = [];
    public int Count => _pieces.Count;
    public Id Block => block;

    /// <summary>Space before what comes next; where two meet, the larger counts.</summary>
    public void Space(int space) => _space = Math.Max(_space, space);

    /// <summary>Keeps what comes next with what stands above it.</summary>
    public void KeepNext(Keep keep) => _keep = keep > _keep ? keep : _keep;

    /// <summary>The atom is carried by the next piece.</summary>
    public void Mark(Id id) => Marks.Add(new PieceMark(id, _pieces.Count, _plate));

    private int _plate;

    /// <summary>What is marked from here on stands on this page of the next piece's own pages.</summary>
    public void OnPlate(int plate) => _plate = plate;

    public void Add(
        int height,
        IReadOnlyList<Drawn> drawn,
        IReadOnlyList<SetNote>? notes = null,
        int header = -1,
        Floating floating = Floating.No,
        bool onGrid = false,
        bool spans = false,
        IReadOnlyList<Plate>? plates = null
    )
    {
        var first = _pieces.Count == 0;
        _pieces.Add(
            new Piece
            {
                Height = height,
                Space = first ? 0 : _space,
                Stretch = Looks.Dress.UsualStretch,
                Keep = first ? Keep.None : _keep,
                Drawn = drawn,
                Notes = notes,
                Header = header,
                Floating = floating,
                OnGrid = onGrid,
                Spans = spans,
                Plates = plates,
                Block = block,
            }
        );
        _space = 0;
        _keep = Keep.None;
    }

    /// <summary>What was added since stands across all columns of the page.</summary>
    public void Across(int from)
    {
        for (var i = from; i < _pieces.Count; i++)
            _pieces[i] = _pieces[i] with { Spans = true };
    }

    /// <summary>Keeps pieces from <paramref name="from"/> on together, where nothing stronger holds them.</summary>
    public void KeepTogether(int from, Keep keep)
    {
        var pieces = System.Runtime.InteropServices.CollectionsMarshal.AsSpan(_pieces);
        for (var i = from + 1; i < pieces.Length; i++)
            if (pieces[i].Keep < keep)
                pieces[i].Keep = keep;
    }

    /// <summary>Adds drawings to a piece that is there already, before its own in reading order (labels, signal words,
    /// rules), moving its own down by what is added above.</summary>
    public void Extend(int piece, int above, int below, IEnumerable<Drawn> drawn)
    {
        var pieces = System.Runtime.InteropServices.CollectionsMarshal.AsSpan(_pieces);
        ref var p = ref pieces[piece];
        var moved = above == 0 ? p.Drawn : p.Drawn.Select(d => Moved(d, above)).ToArray();
        p.Height += above + below;
        p.Drawn = [.. drawn, .. moved];
    }

    private static Drawn Moved(Drawn d, int down) => d with { Y = d.Y + down };

    /// <summary>Takes the space above a piece away, for what is drawn there becomes part of it.</summary>
    public int TakeSpace(int piece)
    {
        ref var p = ref System.Runtime.InteropServices.CollectionsMarshal.AsSpan(_pieces)[piece];
        var space = p.Space;
        p.Space = 0;
        return space;
    }

    /// <summary>What is divided between the pieces from one on stays open at the cut.</summary>
    public void Open(int from, IReadOnlyList<Drawn> above, IReadOnlyList<Drawn> below)
    {
        var pieces = System.Runtime.InteropServices.CollectionsMarshal.AsSpan(_pieces);
        for (var i = from; i < pieces.Length; i++)
            (pieces[i].AtTop, pieces[i].AtFoot) = (i > from ? above : null, i < pieces.Length - 1 ? below : null);
    }

    /// <summary>A cut leaves two pieces at least of what stands from one on before it, and two after it.</summary>
    public void KeepTwo(int from)
    {
        KeepTogether(from, from + 2, Keep.Orphan);
        KeepTogether(Math.Max(from, Count - 2), Keep.Widow);
    }

    /// <summary>A piece need not stand on the grid of the text.</summary>
    public void OffGrid(int piece) => _pieces[piece] = _pieces[piece] with { OnGrid = false };

    /// <summary>Keeps the pieces from one up to another together.</summary>
    public void KeepTogether(int from, int to, Keep keep)
    {
        var pieces = System.Runtime.InteropServices.CollectionsMarshal.AsSpan(_pieces);
        for (var i = from + 1; i < Math.Min(to, pieces.Length); i++)
            if (pieces[i].Keep < keep)
                pieces[i].Keep = keep;
    }

    /// <summary>Height of the pieces from one on, with the spaces between them.</summary>
    public int HeightFrom(int piece)
    {
        var height = 0;
        for (var i = piece; i < _pieces.Count; i++)
            height += _pieces[i].Height + (i > piece ? _pieces[i].Space : 0);
        return height;
    }

    /// <summary>Takes the pieces from one on away; what they draw, from the first one's top, and the notes they call.</summary>
    public (List<Drawn> Drawn, List<SetNote> Notes) TakeFrom(int piece)
    {
        var drawn = new List<Drawn>();
        var notes = new List<SetNote>();
        var y = 0;
        for (var i = piece; i < _pieces.Count; i++)
        {
            y += i > piece ? _pieces[i].Space : 0;
            drawn.AddRange(_pieces[i].Drawn.Select(d => Moved(d, y)));
            notes.AddRange(_pieces[i].Notes ?? []);
            y += _pieces[i].Height;
        }
        _pieces.RemoveRange(piece, _pieces.Count - piece);
        for (var m = 0; m < Marks.Count; m++)
            if (Marks[m].Piece > piece)
                Marks[m] = Marks[m] with { Piece = piece };
        _space = 0;
        _keep = Keep.None;
        return (drawn, notes);
    }

    /// <summary>Draws something with a piece, before its own in the order of reading.</summary>
    /// <param name="notes">called in it</param>
    public void Behind(int piece, IReadOnlyList<Drawn> drawn, IReadOnlyList<SetNote> notes)
    {
        ref var p = ref System.Runtime.InteropServices.CollectionsMarshal.AsSpan(_pieces)[piece];
        p.Drawn = [.. drawn, .. p.Drawn];
        if (notes.Count > 0)
            p.Notes = [.. notes, .. p.Notes ?? []];
    }

    public int HeightOf(int piece) => _pieces[piece].Height;

    /// <summary>Divides every piece that no page of this depth can take. What stood on the text's own pages stays there; what
    /// would have floated stands in its place.</summary>
    public void FitTo(int depth)
    {
        for (var i = 0; i < _pieces.Count; i++)
        {
            Joined(i, depth);
            var piece = _pieces[i];
            var room = depth - (piece.Header >= 0 ? Headers[piece.Header].Height : 0);
            if (piece.Height <= room || piece.Floating == Floating.OwnPages)
                continue;
            var slices = Slices.Of(piece.Drawn, piece.Height, room);
            if (slices.Count < 2)
                continue;
            var parts = slices.Select(
                (s, p) =>
                    piece with
                    {
                        Height = s.Height,
                        Space = p == 0 ? piece.Space : 0,
                        Keep =
                            p == 0 ? piece.Keep
                            : p == 1 ? Keep.Orphan
                            : p == slices.Count - 1 ? Keep.Widow
                            : Keep.None,
                        Floating = Floating.No,
                        OnGrid = p == 0 && piece.OnGrid,
                        Drawn = s.Drawn,
                        // Notes stand under the last of what calls them: their place in the parts is not known.
                        Notes = p == slices.Count - 1 ? piece.Notes : null,
                    }
            );
            _pieces.RemoveAt(i);
            _pieces.InsertRange(i, parts);
            for (var m = 0; m < Marks.Count; m++)
                if (Marks[m].Piece > i)
                    Marks[m] = Marks[m] with { Piece = Marks[m].Piece + slices.Count - 1 };
                else if (Marks[m].Piece == i && PartOf(slices, Marks[m].Id) is var part and > 0)
                    Marks[m] = Marks[m] with { Piece = i + part };
            i += slices.Count - 1;
        }
    }

    /// <summary>Rows that a cell joins, and that no page takes together with what came to stand round them since, become one piece,
    /// which can be divided.</summary>
    private void Joined(int first, int depth)
    {
        if (first + 1 >= _pieces.Count || _pieces[first + 1].Keep != Keep.Whole)
            return;
        int end = first + 1,
            height = _pieces[first].Height;
        var reaches = Reaches(_pieces[first]);
        var drawn = new List<Drawn>(_pieces[first].Drawn);
        var notes = new List<SetNote>(_pieces[first].Notes ?? []);
        for (; end < _pieces.Count && _pieces[end].Keep == Keep.Whole && reaches > height; end++)
        {
            var next = _pieces[end];
            var top = height + next.Space;
            drawn.AddRange(next.Drawn.Select(d => d with { Y = d.Y + top }));
            notes.AddRange(next.Notes ?? []);
            reaches = Math.Max(reaches, top + Reaches(next));
            height = top + next.Height;
        }
        var room = depth - (_pieces[first].Header >= 0 ? Headers[_pieces[first].Header].Height : 0);
        if (end == first + 1 || height <= room)
            return;
        _pieces[first] = _pieces[first] with { Height = height, Drawn = drawn, Notes = notes.Count > 0 ? notes : null };
        _pieces.RemoveRange(first + 1, end - first - 1);
        for (var m = 0; m < Marks.Count; m++)
            if (Marks[m].Piece > first)
                Marks[m] = Marks[m] with { Piece = Math.Max(first, Marks[m].Piece - (end - first - 1)) };
    }

    /// <summary>How far down the lines of a piece stand.</summary>
    private static int Reaches(in Piece piece) => piece.Drawn.Where(d => d is DrawnLine).Select(d => d.Y).DefaultIfEmpty().Max();

    /// <summary>The part in which the lines of a block, row or cell begin.</summary>
    private static int PartOf(List<Slice> slices, Id id) =>
        Math.Max(0, slices.FindIndex(s => s.Drawn.Any(d => d is DrawnLine line && line.Block == id)));

    public Piece[] ToArray() => [.. _pieces];
}
