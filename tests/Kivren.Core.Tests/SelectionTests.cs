using Kivren.Core.Content;
using Kivren.Core.LooseEnds;
using Kivren.Core.Selection;
using static Kivren.Core.Tests.Build;

namespace Kivren.Core.Tests;

public class SelectionTests
{
    private static readonly AppliesTo Only6E = new([new AxisValues("model", ["6E"])]);
    private static readonly Edition Six = new("6") { Chosen = [new AxisValues("model", ["6"])] };

    private static Division Selected(params Block[] blocks) => Selector.Select(Manual(Chapter("a", "A", blocks)), Six).Divisions[0];

    [Fact]
    public void A_run_of_words_left_out_leaves_the_rest()
    {
        var p = (Paragraph)
            Selected(
                Text("p", new TextRun("Turn the crank"), new TextRun(" or press Start") { AppliesTo = Only6E }, new TextRun("."))
            ).Blocks[0];
        Assert.Equal("Turn the crank.", p.Content.PlainText());
    }

    [Fact]
    public void A_row_left_out_shortens_the_span_that_reaches_over_it()
    {
        var table = new Table(
            new Id("t"),
            0,
            [],
            [],
            [
                new Row(new Id("r0"), [Cell("a", "tall", 1, 3), Cell("b", "1")]) { AppliesTo = Only6E },
                new Row(new Id("r1"), [Cell("c", "2")]),
                new Row(new Id("r2"), [Cell("d", "3")]),
            ]
        );
        var taken = (Table)Selected(table).Blocks[0];
        Assert.Equal(2, taken.Rows.Count);
        Assert.Equal(["a", "c"], taken.Rows[0].Cells.Select(c => c.Id.Value));
        Assert.Equal(2, taken.Rows[0].Cells[0].RowSpan);
    }

    [Fact]
    public void A_range_that_loses_its_end_closes_at_the_last_block_taken()
    {
        IndexEntry R(EntryKind kind) => new(new Id("r"), ["rope"], kind);
        var division = Selected(
            Text("p", R(EntryKind.RangeStart), new TextRun("One.")),
            Text("q", new TextRun("Two.")),
            Text("s", new TextRun("Three."), R(EntryKind.RangeEnd)) with
            {
                AppliesTo = Only6E,
            }
        );
        Assert.Contains(((Paragraph)division.Blocks[1]).Content, i => i is IndexEntry { Kind: EntryKind.RangeEnd });
    }

    [Fact]
    public void What_names_nothing_stays_the_same_object()
    {
        var division = Chapter("a", "A", Words("p", 20));
        Assert.Same(division, Selector.Select(Manual(division), Six).Divisions[0]);
    }

    // ---- passages ----

    private static Manual WithPassage(params Block[] blocks) =>
        Manual(Chapter("a", "A", blocks)) with
        {
            Passages =
            [
                new Passage(
                    new Id("pas"),
                    "lamps",
                    [
                        Head("ph", HeadLevel.A, "Lamps"),
                        Text("pp", new TextRun("Lamps burn; see "), To("px", "ph", "number"), new TextRun(".")),
                    ]
                ),
            ],
        };

    [Fact]
    public void A_passage_used_twice_stands_twice_and_points_into_itself()
    {
        var composed = Compose(WithPassage(new PassageUse(new Id("u1"), "lamps"), Words("w", 20), new PassageUse(new Id("u2"), "lamps")));
        Assert.Contains("see 1.1", composed.Words(), StringComparison.Ordinal);
        Assert.Contains("see 1.2", composed.Words(), StringComparison.Ordinal);
        Assert.NotNull(composed.Find(new Id("u1/ph")));
        Assert.NotNull(composed.Find(new Id("u2/ph")));
    }

    [Fact]
    public void A_reference_into_a_passage_takes_the_nearest_use()
    {
        var near = Compose(
            WithPassage(
                new PassageUse(new Id("u1"), "lamps"),
                Words("w", 20),
                Words("w2", 20),
                Text("p", new TextRun("As in "), To("x", "ph", "number")),
                new PassageUse(new Id("u2"), "lamps")
            )
        );
        Assert.Contains("As in 1.2", near.Words(), StringComparison.Ordinal);
        Assert.DoesNotContain(near.LooseEnds, l => l.Kind == LooseEndKind.ReferenceAmbiguous);
        var between = Compose(
            WithPassage(
                new PassageUse(new Id("u1"), "lamps"),
                Words("w", 9),
                Text("p", To("x", "pp", "page")),
                new PassageUse(new Id("u2"), "lamps")
            )
        );
        Assert.Contains(between.LooseEnds, l => l.Kind == LooseEndKind.ReferenceAmbiguous);
    }

    [Fact]
    public void A_passage_that_uses_itself_ends_and_is_told()
    {
        var manual = Manual(Chapter("a", "A", new PassageUse(new Id("u"), "loop"))) with
        {
            Passages = [new Passage(new Id("pas"), "loop", [Words("p", 5), new PassageUse(new Id("v"), "loop")])],
        };
        Assert.Contains(Compose(manual).LooseEnds, l =>
            l.Kind == LooseEndKind.PassageMissing && l.Message.Contains("uses itself", StringComparison.Ordinal)
        );
    }
}
