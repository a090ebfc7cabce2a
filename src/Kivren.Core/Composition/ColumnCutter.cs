using Kivren.Core.Content;
using Kivren.Core.Looks;

namespace Kivren.Core.Composition;

/// <summary>Cuts a list into pages of two or more columns under an opening that spans them; the last page's columns are
/// balanced.</summary>
internal static class ColumnCutter
{
    public static Cut Cut(Galley galley, Look look)
    {
        var pieces = galley.Pieces;
        var depth = look.Master.Depth.Millipoints;
        var width = (look.Master.Measure.Millipoints - look.IndexGutter.Millipoints * (galley.Columns - 1)) / galley.Columns;
        var step = width + look.IndexGutter.Millipoints;
        var spanning = pieces.TakeWhile((_, i) => galley.BlockOf[i] == 0).Count();
        var pages = new List<CutPage>();
        var pageOf = new (int Page, int Y)[pieces.Length];
        var at = 0;
        do
        {
            var placed = new List<PlacedPiece>();
            var top = 0;
            for (; at < spanning; at++)
            {
                placed.Add(new PlacedPiece(at, 0, top));
                pageOf[at] = (pages.Count, top);
                top += pieces[at].Height;
            }
            if (top > 0 && at < pieces.Length) top += look.AfterTitle.Millipoints;
            var height = Balanced(pieces, at, galley.Columns, depth - top);
            for (var column = 0; column < galley.Columns && at < pieces.Length; column++)
            {
                var end = ColumnEnd(pieces, at, height);
                var y = 0;
                for (var i = at; i < end; i++)
                {
                    if (i > at) y += pieces[i].Space;
                    placed.Add(new PlacedPiece(i, column * step, top + y));
                    pageOf[i] = (pages.Count, top + y);
                    y += pieces[i].Height;
                }
                at = end;
            }
            pages.Add(new CutPage
            {
                Pieces = [.. placed],
                Notes = [],
                NoteRule = -1,
                Header = null,
                Reason = at == pieces.Length ? "The division ends here; its columns are balanced." : "Full.",
                BodyKey = PageCutter.Key(galley, placed, [], false),
                FirstHead = 0,
                HeadCount = 0,
            });
        }
        while (at < pieces.Length);
        var places = new Dictionary<Id, Place>();
        foreach (var mark in galley.Marks)
            if (mark.Piece < pageOf.Length) places.TryAdd(mark.Id, new Place(pageOf[mark.Piece].Page, pageOf[mark.Piece].Y));
        return new Cut { Galley = galley, Pages = [.. pages], Places = places, Cost = 0 };
    }

    /// <summary>The least height, in whole leadings, at which the rest fits in this page's columns; else the depth.</summary>
    private static int Balanced(Piece[] pieces, int from, int columns, int depth)
    {
        if (from >= pieces.Length || !Fits(pieces, from, columns, depth)) return depth;
        int low = pieces[from].Height, high = depth;
        while (high - low > 100)
        {
            var middle = (low + high) / 2;
            if (Fits(pieces, from, columns, middle)) high = middle;
            else low = middle;
        }
        return high;
    }

    private static bool Fits(Piece[] pieces, int from, int columns, int height)
    {
        for (var c = 0; c < columns && from < pieces.Length; c++) from = ColumnEnd(pieces, from, height);
        return from >= pieces.Length;
    }

    /// <summary>As much as fits, drawn back to the cheapest turn within the last few lines.</summary>
    private static int ColumnEnd(Piece[] pieces, int from, int height)
    {
        int y = 0, end = from;
        while (end < pieces.Length)
        {
            var need = pieces[end].Height + (end > from ? pieces[end].Space : 0);
            if (y + need > height && end > from) break;
            y += need;
            end++;
        }
        if (end == pieces.Length) return end;
        var best = end;
        for (var e = end; e > Math.Max(from, end - 6); e--)
            if (TurnCost.Of(pieces[e].Keep) < TurnCost.Of(pieces[best].Keep)) best = e;
        return best;
    }
}
