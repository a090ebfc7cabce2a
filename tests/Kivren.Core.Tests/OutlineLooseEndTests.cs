using Kivren.Core.Composition;
using Kivren.Core.Content;
using Kivren.Core.Looks;
using Kivren.Core.LooseEnds;

namespace Kivren.Core.Tests;

public class OutlineLooseEndTests
{
    private static Head H(string id, HeadLevel level, string words) => new(new Id(id), level, [new TextRun(words)]);

    private static Paragraph P(string id) => new(new Id(id), "body", [new TextRun("The drum carries the cable.")]);

    private static (LooseEndKind Kind, string Block)[] Of(params Block[] blocks) =>
        Composer
            .Compose(
                new Manual(new Id("m"), "M", [new Division(new Id("d"), DivisionKind.Chapter, "Winch", blocks)]),
                Edition.Whole,
                ShippedLooks.Workshop
            )
            .LooseEnds.Where(l => l.Kind is LooseEndKind.LevelSkipped or LooseEndKind.HeadRepeated or LooseEndKind.SectionEmpty)
            .Select(l => (l.Kind, l.Block.Value))
            .ToArray();

    [Fact]
    public void A_level_skipped_is_told() =>
        Assert.Equal([(LooseEndKind.LevelSkipped, "c")], Of(H("a", HeadLevel.A, "Oil"), P("1"), H("c", HeadLevel.C, "Grades"), P("2")));

    [Fact]
    public void A_B_head_under_the_title_skips_a_level() =>
        Assert.Equal([(LooseEndKind.LevelSkipped, "b")], Of(P("1"), H("b", HeadLevel.B, "Oil"), P("2")));

    [Fact]
    public void A_head_repeated_among_its_like_is_told_elsewhere_it_may_be() =>
        Assert.Equal(
            [(LooseEndKind.HeadRepeated, "y")],
            Of(
                H("a", HeadLevel.A, "Oil"),
                P("1"),
                H("x", HeadLevel.B, "Before you start"),
                P("2"),
                H("y", HeadLevel.B, "before you start"),
                P("3"),
                H("b", HeadLevel.A, "Grease"),
                P("4"),
                H("z", HeadLevel.B, "Before you start"),
                P("5")
            )
        );

    [Fact]
    public void A_section_with_nothing_in_it_is_told_one_with_sections_is_not() =>
        Assert.Equal(
            [(LooseEndKind.SectionEmpty, "b"), (LooseEndKind.SectionEmpty, "z")],
            Of(
                H("a", HeadLevel.A, "Oil"),
                H("x", HeadLevel.B, "Grades"),
                P("1"),
                H("b", HeadLevel.A, "Grease"),
                H("z", HeadLevel.A, "Cable")
            )
        );

    [Fact]
    public void A_chapter_of_its_title_alone_is_told() => Assert.Equal([(LooseEndKind.SectionEmpty, "d")], Of());
}
