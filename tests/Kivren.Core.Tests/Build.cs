using Kivren.Core.Composition;
using Kivren.Core.Content;
using Kivren.Core.Looks;
using Kivren.Core.Type;

namespace Kivren.Core.Tests;

/// <summary>Short ways to write small manuals by hand.</summary>
internal static class Build
{
    private const string Filler =
        "The band brake holds the drum when the crank is let go and its lining wears by about a millimetre in a season so it must "
        + "be measured before the first crossing of the year and once more after ten crossings because a new lining beds in";

    /// <summary>A body paragraph of this many words.</summary>
    public static Paragraph Words(string id, int count) =>
        new(
            new Id(id),
            "body",
            [
                new TextRun(
                    string.Join(' ', Filler.Split(' ').Concat(Enumerable.Repeat(Filler, 40).SelectMany(f => f.Split(' '))).Take(count))
                        + "."
                ),
            ]
        );

    public static Paragraph Text(string id, params Inline[] content) => new(new Id(id), "body", content);

    public static Head Head(string id, HeadLevel level, string title) => new(new Id(id), level, [new TextRun(title)]);

    public static Division Chapter(string id, string title, params Block[] blocks) => new(new Id(id), DivisionKind.Chapter, title, blocks);

    public static Manual Manual(params Division[] divisions) => new(new Id("m"), "Test manual", divisions);

    public static ComposedManual Compose(Manual manual, CompositionCaches? caches = null) =>
        Composer.Compose(manual, manual.EditionNamed(null), ShippedLooks.Workshop, caches);

    public static ComposedManual Compose(Manual manual, Look look) => Composer.Compose(manual, manual.EditionNamed(null), look);

    public static readonly Asset Picture = new("p.svg", "image/svg+xml", 300, 160, "hash");

    public static Figure Figure(string id, FigurePlacement placement = FigurePlacement.Here) =>
        new(new Id(id), "p.svg", [new TextRun("Figure " + id)], "x") { Placement = placement };

    public static Cell Cell(string id, string text, int columns = 1, int rows = 1) =>
        new(new Id(id), [new TextRun(text)]) { ColumnSpan = columns, RowSpan = rows };

    public static CrossReference To(string id, string target, string form) => new(new Id(id), new Id(target), form);

    /// <summary>A galley of these pieces, called “the lines”.</summary>
    public static Galley GalleyOf(Piece[] pieces) =>
        Galley.Stack(
            [
                new SetBlock
                {
                    Pieces = pieces,
                    Marks = [],
                    Headers = [],
                    LooseEnds = [],
                    Before = 0,
                    After = 0,
                    Called = "the lines",
                },
            ],
            null,
            _ => "",
            new Dictionary<int, BreakTo>(),
            [],
            [],
            ShippedLooks.Workshop.Master
        );

    /// <summary>The look with all its page layouts changed so.</summary>
    public static Look WithPages(this Look look, Func<PageMaster, PageMaster> change) =>
        look with
        {
            Masters = [.. look.Masters.Select(change)],
        };

    /// <summary>Everything drawn as words on the pages, in order.</summary>
    public static string Words(this ComposedManual composed) => string.Join('\n', composed.Pages.Select(p => p.AllText()));

    /// <summary>Index of the page that a block stands on.</summary>
    public static int SheetOf(this ComposedManual composed, string id) => composed.Find(new Id(id))!.Value.Sheet;

    /// <summary>The words of a page's body, line by line.</summary>
    public static List<string> Lines(this ComposedPage page) =>
        page.Body is null
            ? []
            : page
                .Body.Pieces.SelectMany(p => page.Cut!.Galley.Pieces[p.Piece].Drawn)
                .Concat(page.Body.Plate?.Drawn ?? [])
                .OfType<DrawnLine>()
                .Select(l =>
                    string.Concat(l.Line.Words.Select(w => w.Word.Characters(w.From, w.To).ToString() + (w.SpaceAfter ? " " : "")))
                )
                .ToList();

    public static string AllText(this ComposedPage page) => string.Join('\n', page.Lines());
}
