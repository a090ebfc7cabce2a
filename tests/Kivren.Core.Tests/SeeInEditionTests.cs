using Kivren.Core.Composition;
using Kivren.Core.Content;
using Kivren.Core.Looks;
using Kivren.Core.LooseEnds;
using static Kivren.Core.Tests.Build;

namespace Kivren.Core.Tests;

/// <summary>The index of an edition that leaves out some of the manual has only what the edition has.</summary>
public class SeeInEditionTests
{
    private static readonly AppliesTo Only6E = new([new AxisValues("model", ["6E"])]);

    private static IndexEntry Entry(string id, params string[] headings) => new(new Id(id), headings);

    private static IndexEntry See(string id, string heading, string to) => Entry(id, heading) with { See = to };

    private static IndexEntry Also(string id, string heading, string to) => Entry(id, heading) with { SeeAlso = to };

    /// <param name="electric">entries in the chapter that the hand winch's edition leaves out</param>
    private static ComposedManual Compose(string edition, IndexEntry[] electric, params IndexEntry[] always)
    {
        var manual = Manual(
            Chapter("a", "Winch", Text("p", [new TextRun("The winch. "), .. always])),
            Chapter("b", "Motor", Text("q", [new TextRun("The motor. "), .. electric])) with
            {
                AppliesTo = Only6E,
            },
            new Division(new Id("i"), DivisionKind.Index, "Index", [new IndexList(new Id("il"))])
        ) with
        {
            Editions =
            [
                new Edition("6") { Chosen = [new AxisValues("model", ["6"])] },
                new Edition("6E") { Chosen = [new AxisValues("model", ["6E"])] },
            ],
        };
        return Composer.Compose(manual, manual.EditionNamed(edition), ShippedLooks.Workshop);
    }

    private static string Printed(ComposedManual composed) => composed.Pages[^1].AllText().ReplaceLineEndings(" ");

    [Fact]
    public void A_see_to_what_is_left_out_is_dropped_and_said()
    {
        IndexEntry[] motor = [Entry("e1", "motor")];
        IndexEntry[] always = [See("s1", "engine", "motor"), Entry("e2", "winch"), Also("s2", "winch", "motor")];
        var whole = Compose("6E", motor, always);
        Assert.Contains("engine", Printed(whole), StringComparison.Ordinal);
        Assert.DoesNotContain(whole.LooseEnds, l => l.Kind == LooseEndKind.SeeLeftOut);
        var hand = Compose("6", motor, always);
        Assert.DoesNotContain("engine", Printed(hand), StringComparison.Ordinal);
        Assert.DoesNotContain("motor", Printed(hand), StringComparison.Ordinal);
        Assert.Contains("winch", Printed(hand), StringComparison.Ordinal);
        Assert.Equal(["s1", "s2"], hand.LooseEnds.Where(l => l.Kind == LooseEndKind.SeeLeftOut).Select(l => l.Subject.Value).Order());
        Assert.DoesNotContain(hand.LooseEnds, l => l.Kind == LooseEndKind.SeeToNothing);
    }

    [Fact]
    public void A_see_to_a_subheading_that_is_left_out_names_what_it_stands_under()
    {
        IndexEntry[] motor = [Entry("e1", "winch", "electric")];
        IndexEntry[] always = [See("s1", "motor", "winch, electric"), Entry("e2", "winch", "by hand")];
        Assert.Contains("winch, electric", Printed(Compose("6E", motor, always)), StringComparison.Ordinal);
        var hand = Compose("6", motor, always);
        Assert.DoesNotContain("electric", Printed(hand), StringComparison.Ordinal);
        Assert.Contains("“winch”", hand.LooseEnds.Single(l => l.Kind == LooseEndKind.SeeLeftOut).Message, StringComparison.Ordinal);
    }

    [Fact]
    public void What_points_at_a_heading_that_only_points_at_what_is_left_out_goes_with_it()
    {
        var hand = Compose("6", [Entry("e1", "motor")], See("s1", "engine", "drive"), See("s2", "drive", "motor"), Entry("e2", "winch"));
        Assert.DoesNotContain("engine", Printed(hand), StringComparison.Ordinal);
        Assert.DoesNotContain("drive", Printed(hand), StringComparison.Ordinal);
    }

    [Fact]
    public void A_see_to_what_the_manual_has_nowhere_is_printed_and_told_as_ever()
    {
        var hand = Compose("6", [Entry("e1", "motor")], See("s1", "engine", "drive"), Entry("e2", "winch"));
        Assert.Contains("engine", Printed(hand), StringComparison.Ordinal);
        Assert.Contains(hand.LooseEnds, l => l.Kind == LooseEndKind.SeeToNothing);
    }

    [Fact]
    public void A_circle_of_three_is_told_at_each_of_them_and_prints()
    {
        var circle = Compose("6E", [], See("s1", "a", "b"), See("s2", "b", "c"), See("s3", "c", "a"));
        Assert.Equal(3, circle.LooseEnds.Count(l => l.Kind == LooseEndKind.SeeCircular));
    }

    [Fact]
    public void A_range_begun_in_a_division_that_is_left_out_is_told_and_names_no_page()
    {
        var start = new IndexEntry(new Id("r"), ["current"], EntryKind.RangeStart);
        var hand = Compose("6", [start], new IndexEntry(new Id("r"), ["current"], EntryKind.RangeEnd), Entry("e2", "winch"));
        Assert.Contains(hand.LooseEnds, l => l.Kind == LooseEndKind.RangeUnopened);
        Assert.DoesNotContain("current", Printed(hand), StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("制動機")]
    [InlineData("Тормоз")]
    [InlineData("מעצור")]
    [InlineData("e\u0301lan")]
    public void Headings_of_any_script_have_a_place_in_the_order(string heading)
    {
        var composed = Compose("6E", [], Entry("e1", heading), Entry("e2", "winch"));
        Assert.Equal(2, composed.Index.Headings.Count);
        Assert.All(composed.Index.Headings, h => Assert.NotEmpty(h.Group));
    }

    [Theory]
    [InlineData(0)]
    [InlineData(1)]
    [InlineData(2)]
    public void A_paragraph_of_marks_alone_prints_no_line(int at)
    {
        Block[] text = [Words("p", 30), Words("q", 30)];
        var marks = Text("m", Entry("e", "winch"), new Anchor(new Id("an"), "here"));
        var index = new Division(new Id("i"), DivisionKind.Index, "Index", [new IndexList(new Id("il"))]);
        Manual With(Block[] blocks) => Manual(Chapter("a", "Winch", blocks), index);
        var composed = Build.Compose(With([.. text.Take(at), marks, .. text.Skip(at)]));
        Assert.Equal(Build.Compose(With(text)).Pages[0].Lines().Count, composed.Pages[0].Lines().Count);
        Assert.Contains("winch, 1", Printed(composed), StringComparison.Ordinal);
        // It takes no number from the clauses about it.
        var clauses = Manual(Chapter("a", "Winch", Head("h", HeadLevel.A, "Pull"), marks, Words("p", 9)));
        Assert.Equal("1.1.1", Build.Compose(clauses, ShippedLooks.Named("Code, A4")).Numbers.Find(new Id("p"))!.Value.Target.Number);
        // In a chapter of nothing else it still has a page.
        Assert.Contains("winch, 1", Printed(Build.Compose(With([marks]))), StringComparison.Ordinal);
    }

    [Fact]
    public void A_long_name_in_the_index_is_divided_and_never_leaves_its_column()
    {
        const string name = "loads() (ferry.controller.settings.provider.DefaultSettingsProvider)";
        var composed = Compose("6E", [], Entry("e1", name), Entry("e2", "winch"));
        Assert.DoesNotContain(composed.Pages[^1].Lines(), l => l.Contains("settings.provider.DefaultSettings", StringComparison.Ordinal));
        Assert.Contains("provider.", Printed(composed), StringComparison.Ordinal);
    }
}
