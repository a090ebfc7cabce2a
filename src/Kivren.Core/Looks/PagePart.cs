using Kivren.Core.Composition;
using Kivren.Core.Content;
using Kivren.Core.Display;

namespace Kivren.Core.Looks;

/// <summary>A stretch of a page, and the place in the look of what made it so. Millipoints from the upper left of the trim.</summary>
/// <param name="Place">as a look's faults name it, such as heads[0]</param>
public sealed record PagePart(string Place, int X, int Y, int Width, int Height)
{
    /// <summary>From the head of a page to its foot; running heads and feet stand behind the text.</summary>
    /// <param name="look">that the page was made in</param>
    /// <param name="division">that the page begins with</param>
    public static IReadOnlyList<PagePart> Of(ComposedPage page, Look look, Division division)
    {
        var parts = new List<PagePart>();
        var master = page.Master;
        if (page.Body is { } body)
            Body(parts, page, body, look, division);
        var own = look.Masters.ToList().FindIndex(m => m.Name == master.Name || m.Turned().Name == master.Name);
        foreach (var field in page.Furniture?.Fields ?? [])
        {
            var on = master.Upright ?? master;
            var (_, x, baseline, width) = DisplayList.Placed(field, on, page.IsRecto);
            var of = master.Fields.ToList().FindIndex(f => ReferenceEquals(f, field.Of));
            if (own >= 0 && of >= 0)
            {
                var height = field.Picture is null ? field.Dress.Leading.Millipoints : field.PictureHeight.Millipoints;
                var above = field.Picture is null ? field.Dress.Baseline.Millipoints : height;
                var place = $"masters[{own}].fields[{of}]";
                parts.Add(
                    master.Upright is null
                        ? new PagePart(place, x, baseline - above, width, height)
                        : new PagePart(place, master.Width.Millipoints - baseline + above - height, x, height, width)
                );
            }
        }
        return parts;
    }

    private static void Body(List<PagePart> parts, ComposedPage page, CutPage body, Look look, Division division)
    {
        var galley = page.Cut!.Galley;
        var (left, top) = (page.Master.Left(page.IsRecto).Millipoints, page.Master.Top.Millipoints);
        var column = galley.Page.ColumnWidth(galley.Columns, galley.Page.Gutter);
        var blocks = division
            .Blocks.SelectMany(b => b.WithInner().Select(i => (i.Id, Block: b)))
            .DistinctBy(b => b.Id)
            .ToDictionary(b => b.Id, b => b.Block);
        void Add(string place, int x, int y, int width, int height)
        {
            if (parts is [.., var last] && last.Place == place && last.X == x && y >= last.Y)
                parts[^1] = last with { Height = y + height - last.Y };
            else
                parts.Add(new PagePart(place, x, y, width, height));
        }
        foreach (var placed in body.Pieces)
        {
            ref readonly var piece = ref galley.Pieces[placed.Piece];
            if (piece.Height > 0)
                Add(
                    PlaceOf(piece.Block, blocks, look, division.Kind),
                    left + placed.X,
                    top + placed.Y,
                    piece.Spans || galley.Columns == 1 ? galley.Page.Measure.Millipoints : column,
                    piece.Height
                );
        }
        foreach (var note in body.Notes)
            Add("noteText", left + note.X, top + note.Y, column, (note.To - note.From) * note.Note.Leading);
        if (body.Plate is not null)
            Add("table", left, top, page.Master.Measure.Millipoints, page.Master.Depth.Millipoints);
    }

    private static string PlaceOf(Id id, Dictionary<Id, Block> blocks, Look look, DivisionKind kind) =>
        !blocks.TryGetValue(id, out var block) ? "divisionTitle"
        : look.OwnRule(block, new Standing(kind)) is { } own ? $"dresses[{look.Dresses.ToList().IndexOf(own)}]"
        : block switch
        {
            Head head => $"heads[{(int)head.Level - 1}]",
            Paragraph paragraph => $"dresses[{look.Dresses.ToList().IndexOf(look.RuleFor(paragraph.Role, new Standing(kind)))}]",
            ItemList => "listText",
            Steps => "stepNumber",
            DefinitionList or ReferenceList => "term",
            Admonition => "admonitionText",
            Aside => "asideText",
            Table => "table",
            Figure => "caption",
            Listing => "listingText",
            Equation => "equationIndent",
            ContentsList list => $"lists[{look.Lists.ToList().FindIndex(l => l.Name == list.List)}]",
            IndexList => "index",
            _ => "dresses[0]",
        };
}
