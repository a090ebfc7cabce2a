using Kivren.Core.Content;
using Kivren.Core.Reuse;
using Kivren.Core.Selection;
using static Kivren.Core.Tests.Build;

namespace Kivren.Core.Tests;

public class ReuseTests
{
    private static readonly AppliesTo Only6E = new([new AxisValues("model", ["6E"])]);

    private static Manual Whole() =>
        Manual(
            Chapter(
                "a",
                "A",
                Text(
                    "p",
                    new TextRun("Use the "),
                    new VariableUse("product"),
                    new TextRun(" well."),
                    new TextRun(" Press Start.") { AppliesTo = Only6E }
                ),
                Text("q", new TextRun("Second.")) with
                {
                    AppliesTo = Only6E,
                },
                Text("r", new TextRun("Third; see "), To("x", "q", "page"))
            ),
            Chapter("b", "B", new PassageUse(new Id("u"), "Kept"), new PassageUse(new Id("v"), "Kept"))
        ) with
        {
            Variables = [new NamedText("product", "Tarn 6")],
            Conditions = [new AxisValues("model", ["6", "6E"])],
            Passages =
            [
                new Passage(
                    new Id("pas"),
                    "Kept",
                    [Text("k", new TextRun("Kept words "), To("kx", "k2", "page")), Text("k2", new TextRun("more."))]
                ),
            ],
            Editions =
            [
                new Edition("6E") { Chosen = [new AxisValues("model", ["6E"])], Variables = [new NamedText("product", "Tarn 6E")] },
            ],
        };

    private static Manual Done(Manual manual, ReuseAct act)
    {
        var result = Reusing.Apply(manual, act);
        Assert.Null(result.Refused);
        Assert.Empty(ManualCheck.Problems(result.Manual!));
        return result.Manual!;
    }

    private static string Refused(Manual manual, ReuseAct act) => Reusing.Apply(manual, act).Refused ?? "it was done";

    [Fact]
    public void A_variable_is_renamed_where_it_stands_and_in_the_editions_and_goes_only_when_it_stands_nowhere()
    {
        var renamed = Done(Whole(), new ReuseAct.RenameVariable("product", "ferry"));
        Assert.Equal("Tarn 6E", new SelectedText(renamed, renamed.Editions[0], []).Variable("ferry"));
        Assert.Equal("ferry", renamed.Divisions[0].Blocks[0].Inlines().OfType<VariableUse>().Single().Name);
        Assert.Contains("one block", Refused(renamed, new ReuseAct.TakeOutVariable("ferry")), StringComparison.Ordinal);
        var added = Done(renamed, new ReuseAct.SetVariable("firm", "Lindqvarn"));
        Assert.Equal(2, added.Variables.Count);
        Assert.Single(Done(added, new ReuseAct.TakeOutVariable("firm")).Variables);
    }

    [Theory]
    [InlineData("", "")]
    [InlineData("ferry", "x")]
    public void A_name_that_is_none_or_is_taken_is_refused(string to, string other)
    {
        var manual = Done(Whole(), new ReuseAct.SetVariable("x", other));
        Assert.NotEqual("it was done", Refused(manual, new ReuseAct.RenameVariable("product", to.Length == 0 ? new string('n', 61) : "x")));
        Assert.NotEqual("it was done", Refused(manual, new ReuseAct.SetVariable(to.Length == 0 ? " " : new string('n', 61), "")));
    }

    [Fact]
    public void A_condition_is_renamed_everywhere_and_a_value_in_use_does_not_go()
    {
        var manual = Whole();
        Assert.Contains("3 places", Refused(manual, new ReuseAct.SetCondition("model", ["6"])), StringComparison.Ordinal);
        var renamed = Done(
            Done(manual, new ReuseAct.RenameCondition("model", "6E", "6 electric")),
            new ReuseAct.RenameCondition("model", null, "ferry")
        );
        var named = renamed.Divisions.SelectMany(d => d.Blocks).SelectMany(b => b.ConditionsIn()).Select(c => c.AppliesTo.InWords());
        Assert.All(named, n => Assert.Equal("ferry 6 electric", n));
        Assert.Equal(["6 electric"], renamed.Editions[0].Chosen[0].Values);
        var without = Done(renamed, new ReuseAct.TakeOutCondition("ferry"));
        Assert.DoesNotContain(without.Divisions.SelectMany(d => d.Blocks), b => b.ConditionsIn().Any());
    }

    [Fact]
    public void Divisions_and_sections_apply_to_what_there_is()
    {
        var manual = Whole();
        var applied = Done(manual, new ReuseAct.Apply([new Id("b"), new Id("r")], Only6E));
        Assert.Equal(
            ["a"],
            Selector.Select(applied, new Edition("6") { Chosen = [new AxisValues("model", ["6"])] }).Divisions.Select(d => d.Id.Value)
        );
        Assert.NotEqual("it was done", Refused(manual, new ReuseAct.Apply([new Id("b")], new AppliesTo([new AxisValues("model", ["7"])]))));
    }

    [Fact]
    public void Blocks_become_a_passage_with_their_identities_and_what_points_at_them_still_does()
    {
        var made = Done(Whole(), new ReuseAct.AddPassage(new Id("new"), "Second and third", [new Id("q"), new Id("r")]));
        Assert.Equal(["p", "new-use"], made.Divisions[0].Blocks.Select(b => b.Id.Value));
        Assert.Equal(["q", "r"], made.Passages[^1].Blocks.Select(b => b.Id.Value));
        var composed = Compose(made);
        Assert.DoesNotContain(composed.LooseEnds, l => l.Kind is LooseEnds.LooseEndKind.ReferenceToNothing);
        Assert.Contains(
            "follow",
            Refused(Whole(), new ReuseAct.AddPassage(new Id("n"), "N", [new Id("p"), new Id("r")])),
            StringComparison.Ordinal
        );
        Assert.Contains("already", Refused(Whole(), new ReuseAct.AddPassage(new Id("n"), "Kept", [new Id("p")])), StringComparison.Ordinal);
    }

    [Fact]
    public void A_use_made_plain_is_a_copy_and_the_last_one_is_the_passage_itself()
    {
        var once = Done(Whole(), new ReuseAct.MakePlain(new Id("u"), new Id("c")));
        Assert.Equal(["c-1", "c-3", "v"], once.Divisions[1].Blocks.Select(b => b.Id.Value));
        Assert.Equal("c-3", once.Divisions[1].Blocks[0].Inlines().OfType<CrossReference>().Single().Target.Value);
        Assert.Contains("one place", Refused(once, new ReuseAct.TakeOutPassage(new Id("pas"))), StringComparison.Ordinal);
        var twice = Done(once, new ReuseAct.MakePlain(new Id("v"), new Id("d")));
        Assert.Equal(["c-1", "c-3", "k", "k2"], twice.Divisions[1].Blocks.Select(b => b.Id.Value));
        Assert.Empty(twice.Passages);
    }

    [Fact]
    public void A_passage_would_hold_itself_through_another_one()
    {
        var manual = Whole() with
        {
            Passages = [new Passage(new Id("o"), "Outer", [new PassageUse(new Id("i"), "Inner")]), new Passage(new Id("n"), "Inner", [])],
        };
        Assert.True(Uses.WouldHoldItself(manual, "Inner", new PassageUse(new Id("z"), "Outer")));
        Assert.False(Uses.WouldHoldItself(manual, "Outer", new PassageUse(new Id("z"), "Inner")));
    }

    [Fact]
    public void What_stands_between_words_goes_with_those_around_it()
    {
        IndexEntry Entry(string id) => new(new Id(id), [id]);
        var block = Text(
            "p",
            Entry("first"),
            new TextRun("Crank."),
            Entry("between"),
            new TextRun(" Press") { AppliesTo = Only6E },
            Entry("inside"),
            new TextRun(" Start.") { AppliesTo = Only6E },
            Entry("end")
        );
        var taken = Selector.Select(Manual(Chapter("a", "A", block)), new Edition("6") { Chosen = [new AxisValues("model", ["6"])] });
        Assert.Equal(["first", "between"], taken.Divisions[0].Blocks[0].Inlines().OfType<IndexEntry>().Select(e => e.Id.Value));
    }

    [Fact]
    public void Typing_in_a_passage_leaves_divisions_that_do_not_use_it_as_they_were()
    {
        var cache = new SelectionCache();
        var manual = Whole();
        var before = Selector.Select(manual, manual.Editions[0], cache).Divisions;
        var typed = manual with { Passages = [manual.Passages[0] with { Blocks = [Text("k", new TextRun("Other words."))] }] };
        var after = Selector.Select(typed, manual.Editions[0], cache).Divisions;
        Assert.Same(before[0], after[0]);
        Assert.NotSame(before[1], after[1]);
    }
}
