using Kivren.Core.Composition;
using Kivren.Core.Looks;

namespace Kivren.Bench;

/// <summary>How full pages are: those that turn early without being told to, and ends that leave a page nearly white.</summary>
internal static class Filling
{
    /// <param name="Thin">pages under a quarter full whose text goes on overleaf without a forced break</param>
    /// <param name="Ends">last pages of a stretch of several pages</param>
    /// <param name="ShortEnds">of these, with fewer lines than the look wants</param>
    /// <param name="Where">the first of each, by folio</param>
    public sealed record Figures(int Pages, int Thin, int Ends, int ShortEnds, string Where);

    public static Figures Of(ComposedManual composed, Look look)
    {
        int thin = 0,
            ends = 0,
            shortEnds = 0;
        var where = new List<string>();
        foreach (var page in composed.Pages)
        {
            if (page is not { Body: { Plate: null, Pieces.Length: > 0 } body, Cut: { } cut })
                continue;
            var galley = cut.Galley;
            var used = body.Pieces.Max(p => p.Y + galley.Pieces[p.Piece].Height);
            var depth = page.Master.Depth.Millipoints;
            var last = body.Pieces.Max(p => p.Piece);
            if (last + 1 == galley.Pieces.Length)
            {
                if (cut.Pages.Length == 1)
                    continue;
                ends++;
                if (used < look.LastPageLines * look.Body.Leading.Millipoints)
                {
                    shortEnds++;
                    where.Add($"{page.Folio} ends after {used / look.Body.Leading.Millipoints}");
                }
            }
            else if (
                galley.Pieces[last + 1].Forced is null
                && used < depth / 4
                && !galley.Openings.Any(o => body.Pieces.Any(p => p.Piece == o))
            )
            {
                thin++;
                where.Add($"{page.Folio} thin: {page.Reason}");
            }
        }
        return new Figures(composed.Pages.Count, thin, ends, shortEnds, string.Join("; ", where.Take(6)));
    }
}
