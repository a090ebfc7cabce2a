using Kivren.Core.Composition;
using Kivren.Core.Content;
using Kivren.Core.Editions;
using Kivren.Core.Looks;
using Kivren.Core.LooseEnds;
using Kivren.Core.Selection;
using static Kivren.Core.Tests.Build;

namespace Kivren.Core.Tests;

/// <summary>What an edition takes, in which order, and what it says of what it leaves out.</summary>
public class EditionTests
{
    private static readonly Manual Whole = Manual(
        Chapter(
            "a",
            "Crossing",
            Words("a0", 20),
            Head("a1", HeadLevel.A, "Vehicles"),
            Words("a2", 20),
            Head("a3", HeadLevel.B, "Trailers"),
            Words("a4", 20),
            Head("a5", HeadLevel.A, "Wind"),
            Text("a6", new TextRun("See "), To("r", "b1", "name-number"), new TextRun("."))
        ),
        Chapter("b", "Winch", Words("b0", 20), Head("b1", HeadLevel.A, "Brake band"), Words("b2", 20))
    );

    private static Edition Taking(params (string Division, string[] Sections)[] takes) =>
        new("Booklet") { Takes = [.. takes.Select(t => new TakenDivision(new Id(t.Division), [.. t.Sections.Select(s => new Id(s))]))] };

    private static SelectedText Select(Edition edition) => Selector.Select(Whole, edition);

    private static string Ids(Division division) => string.Join(' ', division.Blocks.Select(b => b.Id.Value));

    [Fact]
    public void Divisions_and_sections_stand_in_the_editions_order()
    {
        var text = Select(Taking(("b", []), ("a", ["a5", "a", "a1"])));
        Assert.Equal(["b", "a"], text.Divisions.Select(d => d.Id.Value));
        Assert.Equal("a5 a6 a0 a1 a2 a3 a4", Ids(text.Divisions[1]));
        Assert.Same(Whole.Divisions[1], text.Divisions[0]);
    }

    [Fact]
    public void A_section_taken_without_what_it_stands_under_is_lifted_and_nothing_is_taken_twice()
    {
        var text = Select(Taking(("a", ["a3"])));
        Assert.Equal(HeadLevel.A, Assert.IsType<Head>(text.Divisions[0].Blocks[0]).Level);
        text = Select(Taking(("a", ["a1", "a3", "a1"])));
        Assert.Equal("a1 a2 a3 a4", Ids(text.Divisions[0]));
        Assert.Equal(HeadLevel.B, Assert.IsType<Head>(text.Divisions[0].Blocks[2]).Level);
    }

    [Fact]
    public void Two_editions_tell_what_only_one_has_and_what_reads_otherwise()
    {
        var manual = Whole with
        {
            Variables = [new NamedText("model", "Tarn 6")],
            Divisions = [.. Whole.Divisions, Chapter("c", "Model", Text("c0", new TextRun("This is the "), new VariableUse("model")))],
        };
        ComposedManual In(Edition edition) => Composer.Compose(manual, edition, ShippedLooks.Workshop);
        var all = In(Edition.Whole);
        var some = In(new Edition("Some") { LeavesOut = [new Id("a1")], Variables = [new NamedText("model", "Tarn 6E")] });
        var found = EditionDifference.Between(all, some);
        Assert.Equal(["a1", "a2", "a3", "a4"], found.OnlyFirst.Select(b => b.Block.Value));
        Assert.Equal(("Crossing", "Vehicles"), (found.OnlyFirst[0].Title, found.OnlyFirst[0].Words));
        Assert.Empty(found.OnlySecond);
        Assert.Equal(["c0"], found.Otherwise.Select(b => b.Block.Value));
        Assert.False(found.OtherOrder);
        var turned = In(Taking(("b", []), ("a", []), ("c", [])));
        var same = EditionDifference.Between(all, turned);
        Assert.True(same.OtherOrder);
        Assert.Empty(same.OnlyFirst.Concat(same.OnlySecond).Concat(same.Otherwise));
        Assert.Equal(found.OnlyFirst, EditionDifference.Between(some, all).OnlySecond);
    }

    [Fact]
    public void A_section_left_out_goes_with_all_beneath_it()
    {
        var text = Select(new Edition("e") { LeavesOut = [new Id("a1")] });
        Assert.Equal("a0 a5 a6", Ids(text.Divisions[0]));
        text = Select(Taking(("a", ["a1"])) with { LeavesOut = [new Id("a3")] });
        Assert.Equal("a1 a2", Ids(text.Divisions[0]));
    }

    [Fact]
    public void What_is_not_there_any_longer_is_passed_over()
    {
        var text = Select(Taking(("gone", []), ("a", ["gone", "a5"]), ("a", ["a1"])));
        Assert.Equal("a5 a6", Ids(Assert.Single(text.Divisions)));
        Assert.Empty(Select(Taking(("gone", []))).Divisions);
    }

    [Theory]
    [InlineData(LeftOutReads.Words, "“Brake band”")]
    [InlineData(LeftOutReads.Manual, "“Test manual”")]
    [InlineData(LeftOutReads.Nothing, "")]
    public void A_reference_to_what_is_left_out_says_what_was_chosen_and_is_told(LeftOutReads reads, string says)
    {
        var composed = Composer.Compose(Whole, Taking(("a", [])) with { LeftOut = reads }, ShippedLooks.Workshop);
        var reference = composed.Text.Divisions[0].Blocks.SelectMany(b => b.Inlines()).OfType<CrossReference>().Single();
        Assert.Equal(says, composed.Print(reference));
        var told = Assert.Single(composed.LooseEnds, l => l.Kind is LooseEndKind.ReferenceLeftOut or LooseEndKind.ReferenceToNothing);
        Assert.Equal(LooseEndKind.ReferenceLeftOut, told.Kind);
        // In the whole manual it is a reference as any other.
        Assert.Equal("Section 2.1", Compose(Whole).Print(reference with { Instead = null }).Replace('\u00A0', ' '));
    }

    [Fact]
    public void A_reference_to_nothing_at_all_stays_one()
    {
        var manual = Manual(Chapter("a", "A", Text("p", To("r", "never", "title"))), Chapter("b", "B", Words("q", 9)));
        var composed = Composer.Compose(manual, Taking(("a", [])), ShippedLooks.Workshop);
        Assert.Contains(composed.LooseEnds, l => l.Kind == LooseEndKind.ReferenceToNothing);
    }

    [Fact]
    public void Lists_and_index_that_it_goes_out_without_are_not_there()
    {
        var manual = Manual(
            new Division(new Id("c"), DivisionKind.Contents, "Contents", [new ContentsList(new Id("l"))]),
            Chapter("a", "A", Text("p", new TextRun("Rope"), new IndexEntry(new Id("e"), ["rope"]))),
            new Division(new Id("i"), DivisionKind.Index, "Index", [new IndexList(new Id("x"))])
        );
        IEnumerable<string> Taken(params string[] without) =>
            Selector.Select(manual, new Edition("e") { Without = without }).Divisions.Select(d => d.Id.Value);
        Assert.Equal(["c", "a", "i"], Taken());
        Assert.Equal(["a", "i"], Taken("contents"));
        Assert.Equal(["c", "a"], Taken(Edition.Index));
    }

    [Fact]
    public void What_is_for_screens_is_chosen_by_the_medium_unless_the_edition_chose_itself()
    {
        AppliesTo Only(string value) => new([new AxisValues(Edition.MediumAxis, [value])]);
        var manual = Manual(
            Chapter("a", "A", Words("p", 5) with { AppliesTo = Only("print") }, Words("s", 5) with { AppliesTo = Only("screen") })
        );
        string Taken(Edition edition) => Ids(Selector.Select(manual, edition).Divisions[0]);
        var edition = new Edition("e");
        Assert.Equal("p s", Taken(edition));
        Assert.Equal("p", Taken(edition.For(Medium.Paper)));
        Assert.Equal("s", Taken(edition.For(Medium.Screen)));
        Assert.Equal("s", Taken(edition.For(Medium.Flowing)));
        var chose = edition with { Chosen = [new AxisValues(Edition.MediumAxis, ["print"])] };
        Assert.Equal("p", Taken(chose.For(Medium.Flowing)));
        Assert.Same(edition.For(Medium.Screen), edition.For(Medium.Screen));
    }

    [Fact]
    public void Folding_text_and_pop_ups_are_whole_where_text_flows()
    {
        var manual = Manual(
            Chapter(
                "a",
                "A",
                new Aside(new Id("f"), [new TextRun("More")], [Words("w", 5)]) { Folds = Folding.Title },
                Text("p", new TextRun("Rope"), new Footnote(new Id("n"), [new TextRun("Wire.")]) { Shown = NoteShown.PopUpOnly })
            )
        );
        int Count(Medium medium) => Selector.Select(manual, Edition.Whole.For(medium)).Divisions[0].Blocks.Sum(b => b.Inlines().Count());
        Assert.Equal(Count(Medium.Screen) + 3, Count(Medium.Flowing));
        Assert.Equal(Count(Medium.Paper), Count(Medium.Screen));
    }

    // ---- looks by medium ----

    [Fact]
    public void Screens_may_have_no_blanks_one_margin_and_references_without_pages()
    {
        var look = ShippedLooks.Workshop with
        {
            Screens = new ScreenRules
            {
                Sided = false,
                OneMargin = true,
                PageWords = false,
            },
        };
        var manual = Manual(
            Chapter("a", "A", Words("p", 20)),
            Chapter("b", "B", Text("q", To("r", "a", "phrase")), new PageBreak(new Id("x"), BreakTo.Recto), Words("s", 9)),
            Chapter("c", "C", Words("t", 20)) with
            {
                Begins = Begins.Verso,
            }
        );
        var paper = Composer.Compose(manual, Edition.Whole.For(Medium.Paper), look);
        var screen = Composer.Compose(manual, Edition.Whole.For(Medium.Screen), look);
        Assert.Contains(paper.Pages, p => p.IsBlank);
        Assert.DoesNotContain(screen.Pages, p => p.IsBlank);
        Assert.Equal(4, screen.Pages.Count);
        Assert.All(screen.Pages, p => Assert.Equal(p.Master.Inner, p.Master.Outer, (a, b) => Math.Abs(a.Millipoints - b.Millipoints) <= 1));
        Assert.Equal(paper.Pages[0].Master.Measure, screen.Pages[0].Master.Measure);
        var reference = manual.Divisions[1].Blocks.SelectMany(b => b.Inlines()).OfType<CrossReference>().Single();
        Assert.Equal("Chapter 1 on page 1", paper.Print(reference).Replace('\u00A0', ' '));
        Assert.Equal("Chapter 1", screen.Print(reference).Replace('\u00A0', ' '));
        // The same look gives the same object, by which caches know it.
        Assert.Same(look.For(Medium.Screen), look.For(Medium.Screen));
        Assert.Same(look, look.For(Medium.Paper));
    }

    [Theory]
    [InlineData("{name} {number}", "{name} {number}")]
    [InlineData("“{title}” on page {folio}", "“{title}”")]
    [InlineData("page {folio}", "“{title}”")]
    [InlineData("Seite {folio}: „{title}“", "„{title}“")]
    [InlineData("{name} {number} {page-phrase}", "{name} {number}")]
    [InlineData("({number}), page {folio}", "({number})")]
    public void Where_text_flows_no_reference_names_a_page(string pattern, string says)
    {
        var look = ShippedLooks.Workshop with { ReferenceForms = [new ReferenceForm("f", "F", pattern)], PageAfterReferences = true };
        var flowing = look.For(Medium.Flowing);
        Assert.Equal(says, flowing.ReferenceForms[0].Pattern);
        Assert.False(flowing.PageAfterReferences);
    }

    [Fact]
    public void A_composition_after_another_edition_equals_one_from_nothing()
    {
        var caches = new CompositionCaches();
        foreach (
            var edition in new[]
            {
                Edition.Whole.For(Medium.Paper),
                Taking(("b", []), ("a", ["a5"])).For(Medium.Screen),
                Taking(("a", [])),
                Edition.Whole.For(Medium.Flowing),
                Edition.Whole.For(Medium.Paper),
            }
        )
            Assert.Equal(
                Composer.Compose(Whole, edition, ShippedLooks.Code).Pages.Select(p => p.Key),
                Composer.Compose(Whole, edition, ShippedLooks.Code, caches).Pages.Select(p => p.Key)
            );
    }
}
