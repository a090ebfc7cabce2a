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

    private static readonly TextRules Titles = new(LeavesOutRepeatedTitles: true);

    [Fact]
    public void A_head_that_only_repeats_the_title_above_it_is_left_out_and_what_leads_to_it_arrives_at_the_title()
    {
        var manual = Manual(
            Chapter(
                "a",
                "Mooring",
                Head("h", HeadLevel.A, "Mooring"),
                Head("i", HeadLevel.B, "Lines"),
                Text("p", new TextRun("Take the line.")),
                Head("j", HeadLevel.A, "Lines")
            ),
            Chapter("b", "Winch", Text("q", new TextRun("See "), new CrossReference(new Id("x"), new Id("h"), "title")))
        );
        var kept = Selector.Select(manual, Edition.Whole).Divisions[0];
        Assert.Same(manual.Divisions[0], kept);
        var taken = Selector.Select(manual, Edition.Whole, rules: Titles);
        Assert.Equal(["i", "p", "j"], taken.Divisions[0].Blocks.Select(b => b.Id.Value));
        // What stood under it moves up to the title that stands for it.
        Assert.Equal(HeadLevel.A, ((Head)taken.Divisions[0].Blocks[0]).Level);
        Assert.Equal(new Id("a"), taken.Manual.Aliases[new Id("h")]);
        Assert.Same(manual.Divisions[1], taken.Divisions[1]);
    }

    [Fact]
    public void A_head_that_says_otherwise_or_stands_behind_text_stays()
    {
        var manual = Manual(
            Chapter("a", "Mooring", Head("h", HeadLevel.A, "Mooring at night"), Text("p", new TextRun("One."))),
            Chapter("b", "Winch", Text("q", new TextRun("Two.")), Head("i", HeadLevel.A, "Winch"))
        );
        Assert.Equal(manual.Divisions, Selector.Select(manual, Edition.Whole, rules: Titles).Divisions);
    }

    [Fact]
    public void Index_entries_of_a_head_left_out_go_on_in_what_follows_it()
    {
        var head = Head("h", HeadLevel.A, "Mooring");
        var entry = new IndexEntry(new Id("e"), ["mooring"]);
        head = head with { Content = [.. head.Content, entry] };
        Block[] Taken(params Block[] blocks) =>
            [.. Selector.Select(Manual(Chapter("a", "Mooring", blocks)), Edition.Whole, rules: Titles).Divisions[0].Blocks];
        var paragraph = Assert.IsType<Paragraph>(Assert.Single(Taken(head, Text("p", new TextRun("Take the line.")))));
        Assert.Equal(entry, paragraph.Content[0]);
        // Where nothing follows that could take them, the head stays.
        Assert.IsType<Head>(Taken(head)[0]);
    }

    private static readonly TextRun Works = new("the works", Web: "https://works.example/tarn");

    [Theory]
    [InlineData(PrintedAddresses.Behind, "See the works (https://works.example/tarn). Ask the works.")]
    [InlineData(PrintedAddresses.Nothing, "See the works. Ask the works.")]
    public void Paper_says_the_address_of_words_that_link_once(PrintedAddresses how, string printed)
    {
        var manual = Manual(Chapter("a", "A", Text("p", new TextRun("See "), Works, new TextRun(". Ask "), Works, new TextRun("."))));
        string Read(Medium medium) =>
            (
                (Paragraph)Selector.Select(manual, Edition.Whole.For(medium), rules: new TextRules(Addresses: how)).Divisions[0].Blocks[0]
            ).Content.PlainText();
        Assert.Equal(printed, Read(Medium.Paper));
        Assert.Equal("See the works. Ask the works.", Read(Medium.Screen));
        Assert.Equal("See the works. Ask the works.", Read(Medium.Flowing));
    }

    [Fact]
    public void An_address_goes_into_a_note_once_where_the_words_do_not_say_it_and_no_head_gets_one()
    {
        var manual = Manual(
            Chapter(
                "a",
                "A",
                new Head(new Id("h"), HeadLevel.A, [Works]),
                Text("p", Works, new TextRun(" or works.example/tarn", Web: "https://works.example/tarn")),
                Text("q", new TextRun("works.example/lamp", Web: "https://works.example/lamp/")),
                Text("r", new TextRun("mail", Web: "mailto:pier@works.example"), new TextRun("; "), Works)
            )
        );
        var selected = Selector.Select(manual, Edition.Whole, rules: new TextRules(Addresses: PrintedAddresses.Note)).Divisions[0];
        Assert.Equal(["h", "p", "q", "r"], selected.Blocks.Where(b => true).Select(b => b.Id.Value));
        var notes = selected.Blocks.SelectMany(b => b.OwnSpans()).SelectMany(s => s).OfType<Footnote>().ToList();
        Assert.Equal(["pier@works.example", "https://works.example/tarn"], notes.Select(n => n.Content.PlainText()));
        Assert.Equal(notes.Count, notes.Select(n => n.Id).Distinct().Count());
        // The same text gives the same object, by which caches know it.
        Assert.Same(selected, Selector.Select(manual, Edition.Whole, rules: new TextRules(Addresses: PrintedAddresses.Note)).Divisions[0]);
    }
}
