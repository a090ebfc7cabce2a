using Kivren.Core.Content;
using Kivren.Core.LooseEnds;

namespace Kivren.Core.Composition;

/// <summary>A block set in pieces: all that stacking reads of it. It depends on the block, its dress, the measure and the
/// numbers it prints, so it is kept under these.</summary>
public sealed class SetBlock
{
    public required Piece[] Pieces { get; init; }
    public required PieceMark[] Marks { get; init; }
    public required HeaderRows[] Headers { get; init; }
    public required LooseEnd[] LooseEnds { get; init; }

    /// <summary>Space wanted above and below; where two meet the larger counts.</summary>
    public required int Before { get; init; }
    public required int After { get; init; }

    /// <summary>By how much of themselves these may grow, in hundredths.</summary>
    public int Stretch { get; init; } = Looks.Dress.UsualStretch;

    /// <summary>Two lines of what follows stand on the page of its last.</summary>
    public bool KeepsNext { get; init; }

    /// <summary>Words for reasons and messages: what a reader would call this block.</summary>
    public required string Called { get; init; }

    /// <summary>The block's last line ends in a colon: a lead-in that stays with what follows.</summary>
    public bool LeadsIn { get; init; }

    /// <summary>A paragraph.</summary>
    public bool IsText { get; init; }

    /// <summary>It stays with the paragraph before it: a table or a picture without a caption.</summary>
    public bool IsLedIn { get; init; }
    public Head? Head { get; init; }

    /// <summary>All that was asked while it was set: it holds while the answers are the same.</summary>
    internal Read[] Reads { get; init; } = [];

    /// <summary>Stands for what was set; equal inputs give equal values in every process.</summary>
    public ulong ContentHash { get; init; }

    /// <summary>The same with nothing drawn: a place for what prints nothing.</summary>
    internal SetBlock Emptied() =>
        new()
        {
            Pieces =
            [
                new Piece
                {
                    Drawn = [],
                    Header = -1,
                    Block = Pieces.Length > 0 ? Pieces[0].Block : Id.None,
                },
            ],
            Marks = Marks,
            Headers = [],
            LooseEnds = LooseEnds,
            Before = 0,
            After = 0,
            Called = Called,
            Reads = Reads,
            ContentHash = ContentHash + 1,
        };
}
