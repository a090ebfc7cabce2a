using Kivren.Core.Composition;
using Kivren.Core.Content;
using Kivren.Core.Looks;
using Kivren.Core.Type;

namespace Kivren.Core.Tests;

/// <summary>Short ways to write small manuals by hand.</summary>
internal static class Build
{
    private const string Filler = "The band brake holds the drum when the crank is let go and its lining wears by about a millimetre in a season so it must be measured before the first crossing of the year and once more after ten crossings because a new lining beds in";

    /// <summary>A body paragraph of this many words.</summary>
    public static Paragraph Words(string id, int count) =>
        new(new Id(id), "body", [new TextRun(string.Join(' ', Filler.Split(' ').Concat(Enumerable.Repeat(Filler, 40).SelectMany(f => f.Split(' '))).Take(count)) + ".")]);

    public static Paragraph Text(string id, params Inline[] content) => new(new Id(id), "body", content);

    public static Head Head(string id, HeadLevel level, string title) => new(new Id(id), level, [new TextRun(title)]);

    public static Division Chapter(string id, string title, params Block[] blocks) => new(new Id(id), DivisionKind.Chapter, title, blocks);

    public static Manual Manual(params Division[] divisions) => new(new Id("m"), "Test manual", divisions);

    public static ComposedManual Compose(Manual manual, CompositionCaches? caches = null) => Composer.Compose(manual, manual.EditionNamed(null), WorkshopA5.Look, caches);

    /// <summary>The words of a page's body, line by line.</summary>
    public static List<string> Lines(this ComposedPage page) => page.Body is null ? [] : page.Body.Pieces
        .SelectMany(p => page.Cut!.Galley.Pieces[p.Piece].Drawn).OfType<DrawnLine>()
        .Select(l => string.Concat(l.Line.Words.Select(w => w.Word.Characters(w.From, w.To).ToString() + (w.SpaceAfter ? " " : "")))).ToList();

    public static string AllText(this ComposedPage page) => string.Join('\n', page.Lines());
}
