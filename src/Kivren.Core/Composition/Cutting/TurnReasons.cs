namespace Kivren.Core.Composition;

/// <summary>Why a page ends where it ends, by comparison with the fullest it could be (composition.md 3).</summary>
internal static class TurnReasons
{
    /// <summary>So far ahead a reason is looked for.</summary>
    private const int PagesAhead = 12;

    public static (string Reason, string? GaveUp) Why(Galley galley, PageTurns turns, PageStart state, PageTurn[] ways, int chosen)
    {
        var pieces = galley.Pieces;
        var turn = ways[chosen];
        var next = turn.Next;
        if (next.Piece == pieces.Length)
            return (
                next.Pending > 0 ? "The text ends here; a figure follows overleaf."
                : next.Carry > 0 ? "The text ends here; its note goes on overleaf."
                : "The division ends here.",
                null
            );
        if (pieces[next.Piece].Forced is { } forced)
            return (
                galley.Openings.Contains(next.Piece)
                    ? "Forced: a division begins."
                    : forced switch
                    {
                        Content.BreakTo.Recto => "Forced: starts on a recto.",
                        Content.BreakTo.Verso => "Forced: starts on a verso.",
                        _ => "Forced: a page break stands here.",
                    },
                null
            );
        if (turns.StopsFor(state, next.Piece, turn.Used))
            return ($"A turned table takes its pages before {galley.Called(next.Piece)} begins.", null);
        if (next.Piece == state.Piece)
            return (next.Carry > 0 ? "Full: notes carried over take the page." : "Full: figures that waited take the page.", null);
        if (turn.SplitsNote)
            return ($"Full: note {pieces[next.Piece - 1].Notes![^1].Number} begins under its call and goes on overleaf.", null);
        var full = ways.Length - 1;
        var lines = (turns.DepthOf(state) - turn.Used + turns.Leading / 4) / turns.Leading;
        var shortBy =
            lines <= 0 ? "Full"
            : lines == 1 ? "Ends 1 line short"
            : $"Ends {lines} lines short";
        var keep = pieces[next.Piece].Keep;
        if (keep >= Keep.Orphan)
        {
            var given = GivenUp(galley, keep, next.Piece);
            return ($"{shortBy}: {given}; every other turn would be worse.", given);
        }
        if (chosen == full)
        {
            if (turn.NotesPress)
                return (
                    $"{shortBy}: the next line calls note {pieces[next.Piece].Notes![0].Number}, which has no room at this foot.",
                    null
                );
            if (lines <= 0)
                return ("Full.", null);
            return pieces[next.Piece].Header >= 0 || pieces[next.Piece].Height > turns.Leading * 2
                ? ($"{shortBy}: {galley.Called(next.Piece)} does not fit and is not divided.", null)
                : ($"{shortBy}: the space that {galley.Called(next.Piece)} wants above it does not fit.", null);
        }
        // A fuller page was possible: what it would have broken.
        for (var t = full; t > chosen; t--)
            if (ways[t].Next.Piece < pieces.Length && pieces[ways[t].Next.Piece].Keep is var broken and > Keep.Hyphen)
                return ($"{shortBy}: {Kept(galley, broken, ways[t].Next.Piece)}.", null);
        if (ways[full].SplitsNote)
            return ($"{shortBy}: note {pieces[ways[full].Next.Piece - 1].Notes![^1].Number} stays whole.", null);
        // Otherwise it is for the sake of a later page: follow full pages to the first trouble.
        var after = new List<PageTurn>();
        var s = ways[full].Next;
        for (var n = 0; n < PagesAhead && !turns.IsEnd(s); n++)
        {
            turns.From(s, after);
            s = after[^1].Next;
            if (s.Piece < pieces.Length && pieces[s.Piece].Keep is var later and > Keep.Hyphen)
                return ($"{shortBy} so that on a later page {Kept(galley, later, s.Piece)}.", null);
        }
        return (lines <= 0 ? "Full." : $"{shortBy} so that facing pages end level, or those after it are better filled.", null);
    }

    private static string Kept(Galley galley, Keep keep, int piece) =>
        keep switch
        {
            Keep.Head when InOneBlock(galley, piece) => $"{galley.Called(piece)} keeps its head row with the row below",
            Keep.Head => $"{galley.Called(piece - 1)} keeps with its text",
            Keep.TwoLines => $"{galley.Called(Math.Max(0, piece - 2))} keeps two lines of its text",
            Keep.Orphan => $"the first line of {galley.Called(piece)} would stand alone at the foot",
            Keep.Widow => $"the last line of {galley.Called(piece)} would stand alone overleaf",
            Keep.LeadIn when galley.Blocks[galley.BlockOf[piece]].IsText && !galley.Blocks[galley.BlockOf[piece] - 1].LeadsIn =>
                $"{galley.Called(piece)} is a single line",
            Keep.LeadIn => $"{galley.Called(piece - 1)} leads in what follows",
            Keep.RowStart => $"a single row of {galley.Called(piece)} would stand alone",
            Keep.Together or Keep.Short => $"{galley.Called(piece)} is kept together",
            _ => $"{galley.Called(piece)} is not divided",
        };

    /// <summary>A row keeps with the one before it in the same table.</summary>
    private static bool InOneBlock(Galley galley, int piece) => piece > 0 && galley.BlockOf[piece] == galley.BlockOf[piece - 1];

    private static string GivenUp(Galley galley, Keep keep, int piece) =>
        keep switch
        {
            Keep.Head when InOneBlock(galley, piece) => $"a head row of {galley.Called(piece)} is parted from the row below",
            Keep.Head => $"{galley.Called(piece - 1)} stands alone at the foot",
            Keep.TwoLines => $"{galley.Called(Math.Max(0, piece - 2))} keeps only one line of its text",
            Keep.Orphan => $"the first line of {galley.Called(piece)} stands alone at the foot",
            Keep.Widow => $"the last line of {galley.Called(piece)} stands alone overleaf",
            _ => $"{galley.Called(piece)} is divided",
        };
}
