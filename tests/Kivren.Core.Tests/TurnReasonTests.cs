using CsCheck;
using Kivren.Core.Composition;
using Kivren.Core.Content;
using Kivren.Core.Looks;
using static Kivren.Core.Tests.Build;

namespace Kivren.Core.Tests;

/// <summary>A page's reason is true: held against trying every way to cut small galleys.</summary>
public class TurnReasonTests
{
    private static readonly Look Look = ShippedLooks.Workshop with { LevelFacing = false };
    private static readonly int Depth = Look.Master.Depth.Millipoints,
        Leading = Look.Body.Leading.Millipoints;

    /// <summary>Lines, rows and heads of some heights; each with what it would rather not be parted from.</summary>
    private static readonly Gen<Piece[]> Galleys = Gen.Select(
        Gen.Int[1, 5],
        Gen.Frequency((8, Gen.Int[0, 1]), (3, Gen.Int[2, 9])),
        Gen.Int[0, 12],
        (height, keep, space) =>
            new Piece
            {
                Height = height * 13_000,
                Space = space * 1_000,
                Drawn = [],
                Header = -1,
                Keep = (Keep)keep,
            }
    ).Array[20, 70];

    /// <summary>All turns of a page that begins with a piece: where the next begins, what it holds, what the turn costs.</summary>
    private static List<(int To, int Used, long Cost)> Turns(Piece[] pieces, int from)
    {
        var turns = new List<(int To, int Used, long Cost)>();
        var used = 0;
        for (var to = from; to < pieces.Length; to++)
        {
            var more = (to == from ? 0 : pieces[to].Space) + pieces[to].Height;
            if (used + more > Depth && to > from)
                break;
            used += more;
            var next = to + 1;
            long tenths = Math.Max(0, Depth - used) * 10L / Leading;
            turns.Add(
                next == pieces.Length
                    ? (next, used, used < Look.LastPageLines * Leading ? 6_000 : 0)
                    : (next, used, tenths * tenths + TurnCost.Of(pieces[next].Keep))
            );
        }
        // Looked at are turns at most eight lines short of the fullest, and the cheapest by itself.
        var cheapest = turns.Min(t => t.Cost);
        return turns.Where(t => t.Used >= turns[^1].Used - 8 * Leading || t.Cost == cheapest).ToList();
    }

    /// <summary>The least that the rest costs from each piece on, by trying everything.</summary>
    private static long[] Rest(Piece[] pieces)
    {
        var rest = new long[pieces.Length + 1];
        for (var from = pieces.Length - 1; from >= 0; from--)
            rest[from] = Turns(pieces, from).Min(t => t.Cost + rest[t.To]);
        return rest;
    }

    private static string Words(Keep keep) =>
        keep switch
        {
            Keep.Head => "keeps its head row",
            Keep.TwoLines => "keeps two lines of its text",
            Keep.Orphan => "would stand alone at the foot",
            Keep.Widow => "would stand alone overleaf",
            Keep.LeadIn => "leads in what follows",
            Keep.RowStart => "a single row of",
            Keep.Together or Keep.Short => "is kept together",
            _ => "is not divided",
        };

    [Fact]
    public void What_a_page_says_of_its_end_is_so() =>
        Check.Sample(
            Galleys,
            pieces =>
            {
                var galley = GalleyOf(pieces);
                var cut = PageCutter.Cut(galley, Look);
                var rest = Rest(galley.Pieces);
                Assert.Equal(rest[0], cut.Cost);
                if (cut.Pages.Length == 1)
                    return;
                foreach (var page in cut.Pages)
                    Assert.True(
                        IsTrue(galley.Pieces, rest, page),
                        $"{page.Reason} From {page.Pieces[0].Piece} to {page.Pieces[^1].Piece}."
                    );
            },
            iter: 1000
        );

    private static bool IsTrue(Piece[] pieces, long[] rest, CutPage page)
    {
        int from = page.Pieces[0].Piece,
            to = page.Pieces[^1].Piece + 1;
        var turns = Turns(pieces, from);
        var (_, used, own) = turns.Single(t => t.To == to);
        if (to == pieces.Length)
            return page.Reason == "The division ends here.";
        var lines = (Depth - used + Leading / 4) / Leading;
        var starts =
            lines <= 0 ? "Full"
            : lines == 1 ? "Ends 1 line short"
            : $"Ends {lines} lines short";
        if (!page.Reason.StartsWith(starts, StringComparison.Ordinal))
            return false;
        // No other turn makes the whole cheaper: nothing was given away for what the reason names.
        var whole = own + rest[to];
        if (turns.Any(t => t.Cost + rest[t.To] < whole))
            return false;
        var fuller = turns.Where(t => t.To > to).ToList();
        var keep = pieces[to].Keep;
        if (page.Reason.EndsWith("every other turn would be worse.", StringComparison.Ordinal))
            return keep >= Keep.Orphan && page.GaveUp.Count > 0;
        if (keep >= Keep.Orphan)
            return false;
        if (fuller.Count == 0)
            return lines <= 0 ? page.Reason == "Full." : page.Reason.Contains("does not fit", StringComparison.Ordinal);
        if (page.Reason.Contains("on a later page", StringComparison.Ordinal))
        {
            // Were this page full, and those after it, one of them would part what the reason names.
            for (var at = fuller[^1].To; at < pieces.Length; at = Turns(pieces, at)[^1].To)
                if (pieces[at].Keep > Keep.Hyphen)
                    return page.Reason.Contains(Words(pieces[at].Keep), StringComparison.Ordinal);
            return false;
        }
        var broken = fuller.Where(t => t.To < pieces.Length && pieces[t.To].Keep > Keep.Hyphen).ToList();
        return broken.Count > 0
            ? page.Reason.Contains(Words(pieces[broken[^1].To].Keep), StringComparison.Ordinal)
            : page.Reason.Contains("better filled", StringComparison.Ordinal) || page.Reason == "Full.";
    }
}
