namespace Kivren.Core.Composition;

/// <summary>What cutting reads of blocks whose printed text does not come to rest: each held at the larger of what was
/// seen, and only ever growing, so that settling ends (composition.md 9). Lives in one composition.</summary>
public sealed class Holds
{
    private readonly Dictionary<int, Piece[]> _seen = [];

    /// <summary>Number of blocks held.</summary>
    public int Count => _seen.Count;

    /// <summary>Begins to hold the block at <paramref name="index"/> of the stretch.</summary>
    public void Hold(int index, Piece[] shape)
    {
        if (!_seen.ContainsKey(index))
            _seen.Add(index, shape);
    }

    /// <summary>Pieces that the block at <paramref name="index"/> has at least; 0 when it is not held.</summary>
    public int Least(int index) => _seen.TryGetValue(index, out var held) ? held.Length : 0;

    /// <summary>The pieces with at least the heights, spaces and keeps held; where the held shape is longer, white follows.
    /// Null when the block is not held.</summary>
    public Piece[]? Apply(int index, Piece[] pieces)
    {
        if (!_seen.TryGetValue(index, out var held))
            return null;
        var shape = new Piece[Math.Max(held.Length, pieces.Length)];
        for (var i = 0; i < shape.Length; i++)
        {
            var own = i < pieces.Length;
            ref var piece = ref shape[i];
            piece = own ? pieces[i] : held[i] with { Drawn = [], Notes = null, Plates = null, Floating = Floating.No };
            if (!own || i >= held.Length)
                continue;
            piece.Height = Math.Max(piece.Height, held[i].Height);
            piece.Space = Math.Max(piece.Space, held[i].Space);
            if (held[i].Keep > piece.Keep)
                piece.Keep = held[i].Keep;
        }
        _seen[index] = shape;
        return shape;
    }
}
