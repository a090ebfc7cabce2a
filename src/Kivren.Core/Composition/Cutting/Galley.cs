using Kivren.Core.Content;
using Kivren.Core.Looks;
using Kivren.Core.LooseEnds;
using Kivren.Core.Numbering;

namespace Kivren.Core.Composition;

/// <summary>A head where it stands in a galley.</summary>
public readonly record struct GalleyHead(int Piece, HeadLevel Level, Id Id, string Title, string? ShortTitle, string Number);

/// <summary>The pieces of one stretch, stacked with the spaces and keeps between blocks: what page cutting reads.</summary>
public sealed class Galley
{
    public required Piece[] Pieces { get; init; }
    public required PieceMark[] Marks { get; init; }
    public required HeaderRows[] Headers { get; init; }
    public required GalleyHead[] Heads { get; init; }
    public required LooseEnd[] LooseEnds { get; init; }

    /// <summary>For each piece the index in <see cref="Blocks"/> of the block it is of.</summary>
    public required int[] BlockOf { get; init; }
    public required IReadOnlyList<SetBlock> Blocks { get; init; }

    /// <summary>For each block the index of its first piece.</summary>
    public required int[] FirstPiece { get; init; }

    /// <summary>The layout of the pages that it is set for.</summary>
    public required PageMaster Page { get; init; }
    public int Columns => Page.Columns;

    /// <summary>The piece that each division of the stretch begins with, and the depth of the text on the page that begins with
    /// it.</summary>
    public required int[] Openings { get; init; }
    public required IReadOnlyList<int> OpeningDepths { get; init; }

    /// <summary>All that its blocks asked of other places, with the division of the stretch that asked.</summary>
    internal (int Division, Read Read)[] Reads { get; init; } = [];

    internal bool Holds(SettingContext[] contexts, DivisionNumbers[] numbers)
    {
        foreach (var (division, read) in Reads)
            if (!Readings.Holds(read, contexts[division], numbers[division]))
                return false;
        return true;
    }

    public string Called(int piece) => Blocks[BlockOf[piece]].Called;

    /// <summary>Stacks set blocks: where spaces meet the larger counts; a head keeps with at least two lines of what
    /// follows, a lead-in with its list (composition.md 3).</summary>
    /// <param name="forcedBefore">indices of blocks that must begin a page, with its side</param>
    /// <param name="openings">index of the first block of each division</param>
    /// <param name="openingDepths">depth of the text on the page that each begins</param>
    public static Galley Stack(
        IReadOnlyList<SetBlock> blocks,
        Holds? holds,
        Func<Id, string> numberOf,
        IReadOnlyDictionary<int, BreakTo> forcedBefore,
        IReadOnlyList<int> openings,
        IReadOnlyList<int> openingDepths,
        PageMaster page
    )
    {
        var shaped = new Piece[blocks.Count][];
        var count = 0;
        for (var b = 0; b < blocks.Count; b++)
        {
            shaped[b] = holds?.Apply(b, blocks[b].Pieces) ?? blocks[b].Pieces;
            count += shaped[b].Length;
        }
        var pieces = new Piece[count];
        var blockOf = new int[count];
        var firstPiece = new int[blocks.Count];
        var marks = new List<PieceMark>();
        var headers = new List<HeaderRows>();
        var heads = new List<GalleyHead>();
        var loose = new List<LooseEnd>();
        var opened = new int[openings.Count];
        int at = 0,
            space = 0,
            stretch = Dress.UsualStretch,
            keepNext = 0,
            opening = 0,
            single = -1;
        bool leadsIn = false,
            isText = false;
        BreakTo? pending = null;
        for (var b = 0; b < blocks.Count; b++)
        {
            while (opening < openings.Count && openings[opening] <= b)
                opened[opening++] = at;
            var block = blocks[b];
            var own = shaped[b];
            firstPiece[b] = at;
            loose.AddRange(block.LooseEnds);
            foreach (var mark in block.Marks)
                marks.Add(mark with { Piece = at + Math.Min(mark.Piece, Math.Max(0, own.Length - 1)) });
            if (block.Head is { } head)
                heads.Add(new GalleyHead(at, head.Level, head.Id, head.Content.PlainText(), head.ShortTitle, numberOf(head.Id)));
            if (own.Length == 0)
            {
                // What stands before a block that prints nothing reaches on to the next.
                if (forcedBefore.TryGetValue(b, out var forced) && b + 1 < blocks.Count)
                    pending = forced;
                continue;
            }
            for (var i = 0; i < own.Length; i++)
            {
                ref var piece = ref pieces[at + i];
                piece = own[i];
                if (piece.Header >= 0)
                    piece.Header += headers.Count;
                blockOf[at + i] = b;
                if (i == 0)
                {
                    // Where two spaces meet, the larger counts, and gives as it does.
                    piece.Space = Math.Max(space, block.Before);
                    piece.Stretch = space > block.Before ? stretch : block.Stretch;
                    if ((leadsIn || (block.IsLedIn && isText)) && !piece.Floats)
                        piece.Keep = Max(piece.Keep, Keep.LeadIn);
                    if (forcedBefore.TryGetValue(b, out var forced))
                        piece.Forced = forced;
                    else if (pending is not null)
                        piece.Forced = pending;
                    pending = null;
                }
                // The two lines a head keeps: the first with the head itself, the second with the first.
                if (keepNext > 0)
                {
                    // A figure between them may go elsewhere: the head keeps past it.
                    piece.Keep = Max(piece.Keep, keepNext == 2 ? Keep.Head : Keep.TwoLines);
                    if (!piece.Floats)
                        keepNext--;
                }
            }
            headers.AddRange(block.Headers);
            // What floats leaves no space of its own behind: where it stands in the text, cutting gives it.
            if (!own[^1].Floats)
            {
                (space, stretch) = (block.After, block.Stretch);
                (leadsIn, isText) = (block.LeadsIn, block.IsText);
            }
            at += own.Length;
            var isHead = block.Head is not null && IsHeadAlone(block);
            if (isHead || block.KeepsNext)
                keepNext = 2;
            // A single line that ends a section would rather not stand alone above the next head.
            if (isHead && single >= 0)
                pieces[single].Keep = Max(pieces[single].Keep, Keep.LeadIn);
            single = block.IsText && own.Length == 1 && !block.KeepsNext ? at - 1 : -1;
            // A division's opening keeps two lines of its text as a head does.
            if (openings.Contains(b))
                keepNext = 2;
        }
        while (opening < openings.Count)
            opened[opening++] = at;
        return new Galley
        {
            Pieces = pieces,
            Marks = [.. marks],
            Headers = [.. headers],
            Heads = [.. heads],
            LooseEnds = [.. loose],
            BlockOf = blockOf,
            Blocks = blocks,
            FirstPiece = firstPiece,
            Page = page,
            Openings = opened,
            OpeningDepths = openingDepths,
            Reads = [.. ReadsOf(blocks, openings)],
        };
    }

    private static IEnumerable<(int, Read)> ReadsOf(IReadOnlyList<SetBlock> blocks, IReadOnlyList<int> openings)
    {
        var division = 0;
        for (var b = 0; b < blocks.Count; b++)
        {
            while (division + 1 < openings.Count && openings[division + 1] <= b)
                division++;
            foreach (var read in blocks[b].Reads)
                if (read.IsOfOtherPlaces)
                    yield return (division, read);
        }
    }

    /// <summary>A head of its own, not one set into a paragraph: all its pieces are of the head's id.</summary>
    private static bool IsHeadAlone(SetBlock block) => block.Pieces[0].Block == block.Head!.Id;

    private static Keep Max(Keep a, Keep b) => a > b ? a : b;
}
