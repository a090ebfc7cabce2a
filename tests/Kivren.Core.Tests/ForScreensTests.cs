using Kivren.Core.Composition;
using Kivren.Core.Content;
using Kivren.Core.Display;
using Kivren.Core.LooseEnds;
using static Kivren.Core.Tests.Build;

namespace Kivren.Core.Tests;

/// <summary>What is made for screens, and what print shows in its place.</summary>
public class ForScreensTests
{
    private static readonly Asset Drawing = new("p.svg", "image/svg+xml", 400, 200, "p");

    private static ComposedManual Composed(params Block[] blocks) =>
        Compose(Manual(Chapter("a", "Screens", [Words("w", 30), .. blocks])) with { Assets = [Drawing] });

    private static FigureArea Area(string id, int left, int top, params Inline[] words) =>
        new(new Id(id), new AreaBox(left, top, 200, 100), words);

    [Theory]
    [InlineData(FigurePlacement.Here)]
    [InlineData(FigurePlacement.Top)]
    [InlineData(FigurePlacement.OwnPage)]
    public void Areas_of_a_picture_are_numbered_on_it_and_a_key_has_their_words_and_where_they_lead(FigurePlacement placement)
    {
        var composed = Composed(
            new Figure(
                new Id("f"),
                "p.svg",
                [
                    new TextRun("The winch"),
                    Area("a1", 0, 0, new TextRun("drum, "), new CrossReference(new Id("r"), new Id("h"), "page")),
                    Area("a2", 990, 990, new TextRun("maker", Web: "https://example.org/")),
                ],
                "A winch"
            )
            {
                Placement = placement,
            },
            Head("h", HeadLevel.A, "The drum"),
            Words("q", 20)
        );
        var page = composed.Pages.Single(p => p.AllText().Contains("The winch", StringComparison.Ordinal));
        Assert.Matches("(?s)The winch\\s+1\\s+drum, page\\s\\d+\\s+2\\s+maker", page.AllText());
        Assert.DoesNotContain(composed.LooseEnds, l => l.Kind == LooseEndKind.AreaLeadsNowhere);
        var display = DisplayList.Of(page, composed.Look);
        var picture = display.Items.OfType<PictureItem>().Single(p => p.Asset == "p.svg");
        var signs = display.Items.OfType<WordItem>().Where(w => w.Role == ReadingRole.Furniture && Inside(picture, w.X, w.Y)).ToList();
        Assert.Equal(["1", "2"], signs.Select(s => s.Word.Word.Characters(s.Word.From, s.Word.To).ToString()));
        // Signs at the edge stay on the picture.
        var boxes = display.Items.OfType<RuleItem>().Where(r => Inside(picture, r.X, r.Y)).ToList();
        Assert.Equal(4, boxes.Count);
        foreach (var box in boxes)
            Assert.True(Inside(picture, box.X + box.Width, box.Y + box.Height));
        Assert.Contains(display.Links, l => l.Target == new Id("h"));
        Assert.Contains(display.Links, l => l.Web == "https://example.org/");
    }

    private static bool Inside(PictureItem picture, int x, int y) =>
        x >= picture.X && y >= picture.Y && x <= picture.X + picture.Width && y <= picture.Y + picture.Height;

    [Fact]
    public void An_area_that_leads_nowhere_is_a_loose_end_and_a_reference_in_one_that_points_at_nothing_too()
    {
        var composed = Composed(
            new Figure(
                new Id("f"),
                "p.svg",
                [Area("a1", 0, 0, new TextRun("drum")), Area("a2", 0, 500, new CrossReference(new Id("r"), new Id("gone"), "page"))],
                "x"
            )
        );
        Assert.Contains(composed.LooseEnds, l => l is { Kind: LooseEndKind.AreaLeadsNowhere, Words: "drum" });
        Assert.Contains(composed.LooseEnds, l => l.Kind == LooseEndKind.ReferenceToNothing);
    }

    [Fact]
    public void A_film_prints_its_picture_and_its_address()
    {
        var figure = new Figure(new Id("f"), "p.svg", [new TextRun("Crossing")], "x") { Plays = "https://example.org/film" };
        var composed = Composed(figure);
        Assert.Matches("(?s)Crossing\\s+https://example.org/film", composed.Words());
        Assert.Contains(composed.Pages.SelectMany(p => DisplayList.Of(p, composed.Look).Links), l => l.Web == "https://example.org/film");
    }

    [Theory]
    [InlineData(Folding.No, true)]
    [InlineData(Folding.Open, true)]
    [InlineData(Folding.Title, false)]
    public void Text_that_folds_prints_open_or_its_title(Folding folds, bool open)
    {
        var words = Composed(
                new Aside(new Id("as"), [new TextRun("More on ropes")], [Text("in", new TextRun("Ropes wear."))]) { Folds = folds },
                Text("next", new TextRun("Go on."))
            )
            .Words();
        Assert.Contains("More on ropes", words, StringComparison.Ordinal);
        Assert.Equal(open, words.Contains("Ropes wear.", StringComparison.Ordinal));
        Assert.Contains("Go on.", words, StringComparison.Ordinal);
    }

    [Theory]
    [InlineData(NoteShown.Note, true)]
    [InlineData(NoteShown.PopUp, true)]
    [InlineData(NoteShown.PopUpOnly, false)]
    public void A_pop_up_prints_as_a_footnote_or_leaves_nothing(NoteShown shown, bool printed)
    {
        var composed = Composed(
            Text(
                "t",
                new TextRun("The pawl"),
                new Footnote(new Id("n1"), [new TextRun("A catch.")]) { Shown = shown },
                new TextRun(" holds"),
                new Footnote(new Id("n2"), [new TextRun("Firmly.")]),
                new TextRun(".")
            )
        );
        Assert.Equal(printed, composed.Pages.Any(p => p.Body?.Notes.Any(n => n.Note.Id == new Id("n1")) == true));
        var words = composed.Words();
        // What is not printed is not counted.
        Assert.Contains(printed ? "holds2." : "holds1.", words.Replace(" ", "", StringComparison.Ordinal), StringComparison.Ordinal);
    }

    [Fact]
    public void A_place_on_a_picture_is_cut_to_the_picture()
    {
        Assert.Equal(new AreaBox(0, 999, 1_000, 1), new AreaBox(-5, 4_000, 9_999, 9_999).Inside());
        Assert.Equal(new AreaBox(10, 20, 1, 30), new AreaBox(10, 20, -4, 30).Inside());
    }
}
