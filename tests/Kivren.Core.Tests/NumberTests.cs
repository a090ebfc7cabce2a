using Kivren.Core.Composition;
using Kivren.Core.Content;
using Kivren.Core.Indexing;
using Kivren.Core.Lists;
using Kivren.Core.Looks;
using Kivren.Core.LooseEnds;
using Kivren.Core.Numbering;
using Kivren.Core.Reuse;
using static Kivren.Core.Tests.Build;

namespace Kivren.Core.Tests;

public class NumberTests
{
    private static Division Division(string id, DivisionKind kind, string title, params Block[] blocks) =>
        new(new Id(id), kind, title, blocks);

    private static Manual Sample(params Block[] extra) =>
        Manual(
            Division("title", DivisionKind.TitlePage, "Title page", new Paragraph(new Id("tp"), "title", [new TextRun("Tarn 6")])),
            Division("contents", DivisionKind.Contents, "Contents", new ContentsList(new Id("list"))),
            Division("preface", DivisionKind.Preface, "Preface", Words("pp", 60)),
            Division("part", DivisionKind.Part, "Operating"),
            Chapter(
                "one",
                "The ferry",
                Words("a1", 40),
                Head("h1", HeadLevel.A, "The deck"),
                Words("a2", 700),
                Head("h2", HeadLevel.A, "The ramp"),
                Words("a3", 50)
            ),
            Chapter("two", "Crossing", [Words("b1", 40), Head("h3", HeadLevel.A, "Casting off"), Words("b2", 500), .. extra]),
            Division("app", DivisionKind.Appendix, "Data", Words("c1", 40), Head("h4", HeadLevel.A, "Loads"), Words("c2", 40)),
            Division("index", DivisionKind.Index, "Index", new IndexList(new Id("ix")))
        );

    private static readonly OtherPlace Winch = new("other", "Mooring Manual", "Section", "4.2", "The winch", "47");

    [Theory]
    [InlineData("page", "page\u00A047, “Mooring Manual”")]
    [InlineData("number", "4.2, “Mooring Manual”")]
    [InlineData("title", "“The winch”, “Mooring Manual”")]
    [InlineData("title-page", "“The winch” on page\u00A047, “Mooring Manual”")]
    [InlineData("direction", "Section\u00A04.2, “Mooring Manual”")]
    public void A_reference_into_another_manual_prints_what_was_taken_from_there(string form, string printed) =>
        Assert.Equal(
            printed,
            Compose(Sample(Text("ref", new TextRun("See ")))).Print(new CrossReference(new Id("x"), new Id("far"), form) { Other = Winch })
        );

    [Fact]
    public void A_reference_into_another_manual_is_no_loose_end_and_keeps_its_target_in_a_copy()
    {
        var reference = new CrossReference(new Id("x"), new Id("far"), "page") { Other = Winch };
        var block = Text("ref", new TextRun("See "), reference);
        Assert.DoesNotContain(Compose(Sample(block)).LooseEnds, l => l.Kind == LooseEndKind.ReferenceToNothing);
        var copy = block.Renamed(id => new Id("c" + id), id => new Id("c" + id)).Inlines().OfType<CrossReference>().Single();
        Assert.Equal((new Id("cx"), new Id("far")), (copy.Id, copy.Target));
    }

    [Fact]
    public void What_another_manual_says_now_is_taken_where_it_is_asked_for_and_nowhere_else()
    {
        var manual = Sample(
            Text("a", new CrossReference(new Id("x"), new Id("far"), "page") { Other = Winch }),
            Text("b", new Footnote(new Id("n"), [new CrossReference(new Id("y"), new Id("far"), "page") { Other = Winch }])),
            Text("c", new CrossReference(new Id("z"), new Id("far"), "page") { Other = Winch })
        );
        var now = Winch with { Folio = "49" };
        var done = Reusing.Apply(
            manual,
            new ReuseAct.TakeOtherPlaces(new Dictionary<Id, OtherPlace> { [new Id("x")] = now, [new Id("y")] = now })
        );
        Assert.Null(done.Refused);
        Assert.Equal(
            ["49", "49", "47"],
            done.Manual!.Divisions.SelectMany(d => d.Blocks)
                .SelectMany(b => b.Inlines())
                .OfType<CrossReference>()
                .Where(r => r.Other is not null)
                .Select(r => r.Other!.Folio)
        );
        Assert.NotNull(
            Reusing.Apply(done.Manual!, new ReuseAct.TakeOtherPlaces(new Dictionary<Id, OtherPlace> { [new Id("x")] = now })).Refused
        );
    }

    [Fact]
    public void Front_matter_is_roman_the_body_begins_at_1_on_a_recto_appendices_are_lettered()
    {
        var composed = Compose(Sample());
        Assert.Equal("i", composed.Pages[0].Folio);
        var body = composed.Pages[composed.Divisions[3].FirstSheet];
        Assert.Equal("1", body.Folio);
        Assert.True(body.IsRecto);
        Assert.Equal("A-1", composed.Pages[composed.Divisions[6].FirstSheet].Folio);
        foreach (var page in composed.Pages.Where(p => p.Folio.All(char.IsAsciiDigit)))
            Assert.Equal(page.IsRecto, int.Parse(page.Folio) % 2 == 1);
    }

    [Fact]
    public void Heads_figures_and_steps_are_numbered_by_the_look()
    {
        var numbers = Compose(
            Sample(
                new Figure(new Id("f"), "x", [new TextRun("Lamp")], "x"),
                new Steps(new Id("s"), false, [new Item(new Id("s1"), [Words("sp1", 3)]), new Item(new Id("s2"), [Words("sp2", 3)])]),
                new Admonition(new Id("ad"), AdmonitionKind.Note, [Words("adp", 4)]),
                new Steps(new Id("t"), true, [new Item(new Id("s3"), [Words("sp3", 3)])])
            )
        ).Numbers;
        Assert.Equal("1.2", numbers.Find(new Id("h2"))!.Value.Target.Number);
        Assert.Equal("A.1", numbers.Find(new Id("h4"))!.Value.Target.Number);
        Assert.Equal("2-1", numbers.Find(new Id("f"))!.Value.Target.Number);
        Assert.Equal("I", numbers.Find(new Id("part"))!.Value.Target.Number);
        // An admonition between steps does not restart them.
        Assert.Equal("3", numbers.Find(new Id("s3"))!.Value.Target.Number);
    }

    [Fact]
    public void A_picture_without_a_caption_has_no_number_no_label_and_no_rule_and_is_pointed_at_by_its_page()
    {
        Block Picture(string id, params Inline[] caption) => new Figure(new Id(id), "p.svg", caption, "A drum");
        var manual = Sample(
            Picture("bare"),
            Text("ref", new TextRun("Shown on "), new CrossReference(new Id("x"), new Id("bare"), "page"), new TextRun(".")),
            Picture("named", new TextRun("The drum")),
            Picture("keyed", new FigureArea(new Id("area"), default, [new TextRun("Pawl")]))
        ) with
        {
            Assets = [new Asset("p.svg", "image/svg+xml", 300, 200, "hash")],
        };
        var composed = Compose(manual);
        Assert.Equal("", composed.Numbers.Find(new Id("bare"))!.Value.Target.Number);
        Assert.Equal("", composed.Numbers.Find(new Id("keyed"))!.Value.Target.Number);
        Assert.Equal("2-1", composed.Numbers.Find(new Id("named"))!.Value.Target.Number);
        var page = composed.Pages[composed.Find(new Id("bare"))!.Value.Sheet];
        var lines = string.Join('\n', composed.Pages.SelectMany(p => p.Lines())).Replace('\u00A0', ' ');
        Assert.Contains($"Shown on page {page.Folio}.", lines, StringComparison.Ordinal);
        Assert.Equal(1, lines.Split('\n').Count(l => l.StartsWith("Figure 2-", StringComparison.Ordinal)));
        // The picture alone, and the one with a caption under its hairline.
        int Drawn(string id) =>
            composed.Divisions.SelectMany(d => d.Cut.Galley.Pieces).Where(p => p.Block == new Id(id)).Sum(p => p.Drawn.Count);
        Assert.Equal((1, 3), (Drawn("bare"), Drawn("named")));
    }

    [Theory]
    [InlineData("page", "page\u00A05")]
    [InlineData("number", "1.2")]
    [InlineData("title", "“The ramp”")]
    [InlineData("name-number", "Section\u00A01.2")]
    [InlineData("title-page", "“The ramp” on page\u00A05")]
    public void A_cross_reference_prints_its_targets_number_title_and_folio(string form, string printed)
    {
        var composed = Compose(
            Sample(Text("ref", new TextRun("See "), new CrossReference(new Id("x"), new Id("h2"), form), new TextRun(".")))
        );
        Assert.Equal("5", composed.Pages[composed.Find(new Id("h2"))!.Value.Sheet].Folio);
        var lines = string.Concat(composed.Pages[composed.Find(new Id("ref"))!.Value.Sheet].Lines()).Replace('\u00A0', ' ');
        Assert.Contains(printed.Replace('\u00A0', ' '), lines, StringComparison.Ordinal);
    }

    [Fact]
    public void A_reference_follows_its_target_when_pages_move()
    {
        var manual = Sample(Text("ref", new TextRun("See "), new CrossReference(new Id("x"), new Id("h2"), "page")));
        var longer = manual with
        {
            Divisions = manual
                .Divisions.Select(d => d.Id.Value == "one" ? d with { Blocks = [Words("new", 520), .. d.Blocks] } : d)
                .ToList(),
        };
        Assert.Equal("page\u00A05", Compose(manual).Print(new CrossReference(default, new Id("h2"), "page")));
        var moved = Compose(longer);
        Assert.Equal(
            "page\u00A0" + moved.Pages[moved.Find(new Id("h2"))!.Value.Sheet].Folio,
            moved.Print(new CrossReference(default, new Id("h2"), "page"))
        );
        Assert.NotEqual("page\u00A05", moved.Print(new CrossReference(default, new Id("h2"), "page")));
    }

    [Fact]
    public void Deleting_a_target_is_a_loose_end_and_prints_nothing_wrong()
    {
        var manual = Sample(
            Text("ref", new TextRun("See "), new CrossReference(new Id("x"), new Id("gone"), "title-page"), new TextRun("."))
        );
        var composed = Compose(manual);
        var loose = Assert.Single(composed.LooseEnds, l => l.Kind == LooseEndKind.ReferenceToNothing);
        Assert.Equal("ref", loose.Block.Value);
        Assert.Contains(
            "[reference to nothing]",
            string.Concat(composed.Pages[composed.Find(new Id("ref"))!.Value.Sheet].Lines()),
            StringComparison.Ordinal
        );
    }

    [Fact]
    public void A_joined_block_is_still_found_by_its_old_name()
    {
        var manual = Sample(Text("ref", new CrossReference(new Id("x"), new Id("old"), "page"))) with
        {
            Aliases = new Dictionary<Id, Id> { [new Id("old")] = new Id("h2") },
        };
        Assert.Equal("page\u00A05", Compose(manual).Print(new CrossReference(default, new Id("old"), "page")));
    }

    [Fact]
    public void The_contents_list_names_every_division_and_A_head_with_its_folio()
    {
        var composed = Compose(Sample());
        var entries = ContentsEntry.Of(composed.Look.Lists[0], composed.Numbers, -1, id =>
            composed.Pages[composed.Find(id)!.Value.Sheet].Folio
        );
        Assert.Equal(
            ["Preface", "Operating", "The ferry", "The deck", "The ramp", "Crossing", "Casting off", "Data", "Loads", "Index"],
            entries.Select(e => e.Title)
        );
        var printed = string.Join('\n', composed.Pages.Take(composed.Divisions[1].EndSheet).SelectMany(p => p.Lines()));
        foreach (var entry in entries)
            Assert.Contains(entry.Title, printed, StringComparison.Ordinal);
        Assert.Equal("A-1", entries.Single(e => e.Title == "Loads").Folio);
    }

    [Fact]
    public void A_running_head_shows_the_A_head_in_force_on_a_recto_and_the_division_on_a_verso()
    {
        var composed = Compose(Sample());
        foreach (var page in composed.Pages.Where(p => p.Furniture?.At(PageEdge.Head, FieldPlace.Outer) is not null))
        {
            if (!page.IsRecto)
                Assert.Equal(
                    composed.Divisions[page.Division].Numbers.Division.Title,
                    page.Furniture!.At(PageEdge.Head, FieldPlace.Inner)!.Split('\u2002')[^1]
                );
            else
                Assert.NotNull(page.Furniture!.At(PageEdge.Head, FieldPlace.Inner));
        }
        var recto = composed.Pages.First(p => p.Folio == "5");
        Assert.Equal("1.2\u2002The ramp", recto.Furniture!.At(PageEdge.Head, FieldPlace.Inner));
    }

    [Fact]
    public void A_deleted_head_leaves_no_running_head_and_a_loose_end()
    {
        Division Two(bool withHead) =>
            Chapter(
                "two",
                "Crossing",
                [
                    Words("b0", 30),
                    .. withHead ? [Head("h3", HeadLevel.A, "Casting off")] : Array.Empty<Block>(),
                    Words("b1", 300),
                    Head("h5", HeadLevel.B, "Lines"),
                    Words("b2", 700),
                ]
            );
        var before = Compose(Manual(Two(true)));
        var after = Compose(Manual(Two(false)));
        Assert.Contains(before.Pages, p =>
            p.Furniture?.At(PageEdge.Head, FieldPlace.Inner)?.Contains("Casting off", StringComparison.Ordinal) == true
        );
        Assert.DoesNotContain(after.Pages, p =>
            p.Furniture?.At(PageEdge.Head, FieldPlace.Inner)?.Contains("Casting off", StringComparison.Ordinal) == true
        );
        Assert.Contains(after.LooseEnds, l => l.Kind == LooseEndKind.NoHeadInForce);
        Assert.DoesNotContain(before.LooseEnds, l => l.Kind == LooseEndKind.NoHeadInForce);
    }

    [Fact]
    public void A_running_head_too_long_is_cut_at_a_word_and_told()
    {
        var title = "How the winch pulls when the wind stands across the lake and the deck is full of cattle and carts";
        var composed = Compose(Manual(Chapter("a", title, Words("p", 900))));
        var head = composed.Pages[1].Furniture!.At(PageEdge.Head, FieldPlace.Inner)!;
        Assert.EndsWith("…", head, StringComparison.Ordinal);
        Assert.Contains(composed.LooseEnds, l => l.Kind == LooseEndKind.RunningHeadTooLong);
    }

    private static IndexEntry Entry(string id, params string[] headings) => new(new Id(id), headings);

    [Fact]
    public void Locators_merge_per_page_and_ranges_elide()
    {
        static Locator At(int from, int to, bool principal = false) =>
            new(new LocatedPage(from, from.ToString()), new LocatedPage(to, to.ToString()), principal);
        Assert.Equal(
            ["5", "8–12", "123–25", "100–102"],
            Locator
                .Merge([At(8, 8), At(8, 12), At(5, 5), At(5, 5), At(123, 125)])
                .Select(l => l.Text(Elision.TwoDigits))
                .Append(At(100, 102).Text(Elision.TwoDigits))
        );
        Assert.Equal(
            ["123–125", "123–5", "110–11"],
            [At(123, 125).Text(Elision.Whole), At(123, 125).Text(Elision.Changed), At(110, 111).Text(Elision.Changed)]
        );
        Assert.Equal(
            ["5", "5–6"],
            new[] { false, true }.Select(joins => Locator.Merge([At(5, 5), At(6, 6)], joins)[0].Text(Elision.Whole))
        );
        Assert.True(Locator.Merge([At(5, 5), At(5, 5, true)]).Single().Principal);
    }

    [Fact]
    public void The_index_names_the_page_that_carries_the_entry()
    {
        var composed = Compose(
            Sample(
                Words("far", 300),
                Text("e", new TextRun("The brake band"), Entry("ix1", "brake band", "lining of"), new TextRun(" holds."))
            )
        );
        var at = composed.FindIn(new Id("two"), new Id("ix1"))!.Value.Sheet;
        Assert.Contains("The brake band holds.", string.Concat(composed.Pages[at].Lines()), StringComparison.Ordinal);
        var printed = composed.Pages[composed.Divisions[^1].FirstSheet].AllText();
        Assert.Contains($"lining of, {composed.Pages[at].Folio}", printed, StringComparison.Ordinal);
    }

    [Fact]
    public void An_entry_at_a_blocks_end_is_found_on_the_page_where_its_words_stand()
    {
        // The paragraph runs over a page turn somewhere; the entry stands in its last words, so overleaf.
        var straddled = 0;
        for (var fill = 150; fill < 330; fill += 12)
        {
            var over = new Paragraph(
                new Id("over"),
                "body",
                [new TextRun(Words("w", 90).Content.PlainText() + " Endword"), Entry("late", "late"), new TextRun(".")]
            );
            var composed = Compose(Manual(Chapter("a", "Over", Words("fill", fill), over, Words("after", 100))));
            var late = composed.FindIn(new Id("a"), new Id("late"))!.Value.Sheet;
            Assert.Contains("Endword", composed.Pages[late].AllText(), StringComparison.Ordinal);
            if (late > composed.Find(new Id("over"))!.Value.Sheet)
                straddled++;
        }
        Assert.True(straddled > 0);
    }

    [Fact]
    public void Headings_sort_by_letters_then_accents_then_case_word_by_word()
    {
        string[] wrong = ["winch", "Anker", "änker", "anker", "cable car", "cable", "cablecar", "10 kN load", "brake"];
        Assert.Equal(
            ["10 kN load", "anker", "Anker", "änker", "brake", "cable", "cable car", "cablecar", "winch"],
            wrong.Order(Comparer<string>.Create(Collation.Root.Compare))
        );
    }

    [Theory]
    [InlineData("sv", "Zon Åker Ärt Ö Öl", "Zon Åker Ärt Ö Öl")]
    [InlineData("de", "Zon Åker Ärt Öl Anker", "Åker Anker Ärt Öl Zon")]
    [InlineData("es", "oro ñandú nube nz", "nube nz ñandú oro")]
    [InlineData("sv", "zz a\u030Aker aker", "aker zz a\u030Aker")]
    [InlineData("da", "zon ål æble øl", "zon æble øl ål")]
    [InlineData("en", "zebra élan eland", "élan eland zebra")]
    public void Letters_stand_where_the_language_has_them(string language, string words, string order) =>
        Assert.Equal(order.Split(' '), words.Split(' ').Reverse().Order(Comparer<string>.Create(Collation.Of(language).Compare)));

    [Theory]
    [InlineData("en")]
    [InlineData("de")]
    [InlineData("fr")]
    [InlineData("sv")]
    public void Words_stand_in_the_order_that_the_Unicode_collation_gives_them(string language)
    {
        using var orders = new StreamReader(typeof(NumberTests).Assembly.GetManifestResourceStream("CollationOrder.txt")!);
        var order = orders.ReadToEnd().Split('\n').Single(l => l.StartsWith(language + ": ", StringComparison.Ordinal))[4..].Split('|');
        Assert.Equal(order, order.Reverse().Order(Comparer<string>.Create(Collation.Of(language).Compare)));
    }

    [Fact]
    public void Signs_beyond_the_table_sort_by_their_code() =>
        Assert.True(Collation.Root.Compare("\U00020001", "\U00020002") < 0 && Collation.Root.Compare("z", "\U00020001") < 0);

    [Fact]
    public void A_swedish_index_has_a_group_for_each_of_its_own_letters()
    {
        Assert.Equal(["Å", "A"], new[] { "åker", "akter" }.Select(Collation.Of("sv").Group));
        Assert.Equal(["A", "A"], new[] { "åker", "akter" }.Select(Collation.Of("de").Group));
    }

    [Theory]
    [InlineData("-v", "Symbols")]
    [InlineData("$HOME", "Symbols")]
    [InlineData(".NET", "Symbols")]
    [InlineData("“Ready”", "R")]
    [InlineData("¿Qué?", "Q")]
    [InlineData("'s-Hertogenbosch", "S")]
    [InlineData("(un)mooring", "U")]
    [InlineData("( ... )", "Symbols")]
    [InlineData("\"2 l\"", "0–9")]
    public void A_heading_stands_in_the_group_of_what_it_is_sorted_by(string heading, string group)
    {
        Assert.Equal(group, Collation.Root.Group(heading));
        if (group != "Symbols")
            Assert.True(Collation.Root.Compare(Collation.Filed(heading), "/") > 0);
        else
            Assert.Equal(heading, Collation.Filed(heading));
    }

    [Fact]
    public void Each_group_of_an_index_stands_in_it_once()
    {
        string[] heads = ["-a", "apple", "-v", "“Ready”", "rope", "$HOME", "house", "+= -=", "3 ways", "‘quick’", ":> file", "(a)", "[b]"];
        var groups = heads
            .OrderBy(h =>
                Collation.Root.Group(h) is "Symbols" ? 0
                : Collation.Root.Group(h) is "0–9" ? 1
                : 2
            )
            .ThenBy(Collation.Filed, Comparer<string>.Create(Collation.Root.Compare))
            .Select(Collation.Root.Group)
            .ToList();
        Assert.Equal(groups.Distinct(), groups.Where((g, n) => n == 0 || groups[n - 1] != g));
    }

    [Fact]
    public void Prepositions_of_subheadings_are_passed_over_in_sorting()
    {
        var composed = Compose(
            Sample(
                Text(
                    "e",
                    new TextRun("x"),
                    Entry("1", "brake", "of the winch"),
                    Entry("2", "brake", "adjusting"),
                    Entry("3", "brake", "in winter")
                )
            )
        );
        Assert.Equal(
            ["adjusting", "of the winch", "in winter"],
            composed.Index.Headings.Single(h => h.Text == "brake").Under.Select(h => h.Text)
        );
    }

    [Fact]
    public void Loose_ends_of_the_index_are_told()
    {
        var composed = Compose(
            Sample(
                Text(
                    "e",
                    new TextRun("x"),
                    new IndexEntry(new Id("open"), ["cable"], EntryKind.RangeStart),
                    new IndexEntry(new Id("end"), ["sheave"], EntryKind.RangeEnd),
                    new IndexEntry(new Id("see"), ["rope"]) { See = "hawser" }
                )
            )
        );
        Assert.Contains(composed.LooseEnds, l => l.Kind == LooseEndKind.RangeUnclosed);
        Assert.Contains(composed.LooseEnds, l => l.Kind == LooseEndKind.RangeUnopened);
        Assert.Contains(composed.LooseEnds, l => l.Kind == LooseEndKind.SeeToNothing);
    }

    [Fact]
    public void An_edition_takes_what_applies_to_it_and_a_head_takes_its_section_along()
    {
        var only6E = new AppliesTo([new AxisValues("model", ["6E"])]);
        var manual = Manual(
            Chapter(
                "a",
                "Winch",
                Words("p1", 10),
                Head("h", HeadLevel.A, "The motor") with
                {
                    AppliesTo = only6E,
                },
                Words("p2", 10),
                Head("h2", HeadLevel.A, "The crank"),
                Words("p3", 10)
            )
        );
        var hand = Selection.Selector.Select(manual, new Edition("Hand") { Chosen = [new AxisValues("model", ["6"])] });
        Assert.Equal(["p1", "h2", "p3"], hand.Divisions[0].Blocks.Select(b => b.Id.Value));
        // What nothing is left out of stays the same object, so that what was computed of it stays valid.
        var plain = Manual(Chapter("b", "Plain", Words("q", 5)));
        Assert.Same(plain.Divisions[0], Selection.Selector.Select(plain, hand.Edition).Divisions[0]);
    }

    [Theory]
    [InlineData(4, "iv"), InlineData(49, "xlix"), InlineData(1994, "mcmxciv"), InlineData(4000, "4000")]
    public void Roman_numbers(int number, string roman) => Assert.Equal(roman, NumberFormat.Roman(number));

    [Theory]
    [InlineData(1, "A"), InlineData(26, "Z"), InlineData(27, "AA"), InlineData(702, "ZZ"), InlineData(703, "AAA")]
    public void Letters_go_on_after_Z(int number, string letters) => Assert.Equal(letters, NumberFormat.Alpha(number));
}
