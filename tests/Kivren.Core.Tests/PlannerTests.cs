using CsCheck;
using Kivren.Core.Content;
using Kivren.Core.Planning;

namespace Kivren.Core.Tests;

public class PlannerTests
{
    private static Id I(string id) => new(id);

    private static Head H(string id, HeadLevel level, string? words = null) => new(I(id), level, [new TextRun(words ?? id)]);

    private static Paragraph P(string id) => new(I(id), "body", [new TextRun("Text of " + id + ".")]);

    private static Division D(string id, DivisionKind kind, params Block[] blocks) => new(I(id), kind, id, blocks);

    private static readonly Manual Ferry = new(
        I("m"),
        "Ferry",
        [
            D("title", DivisionKind.TitlePage, P("t1")),
            D("preface", DivisionKind.Preface, P("p1")),
            D("I", DivisionKind.Part),
            D(
                "winch",
                DivisionKind.Chapter,
                P("w0"),
                H("oil", HeadLevel.A),
                P("o1"),
                H("grades", HeadLevel.B),
                P("g1"),
                H("change", HeadLevel.B),
                P("c1"),
                H("band", HeadLevel.A),
                P("b1")
            ),
            D("hull", DivisionKind.Chapter, P("h0"), H("paint", HeadLevel.A), P("pa1")),
            D("II", DivisionKind.Part),
            D("lamps", DivisionKind.Chapter, P("l0")),
            D("data", DivisionKind.Appendix, P("d0")),
            D("index", DivisionKind.Index, new IndexList(I("ix"))),
        ]
    );

    [Fact]
    public void A_division_begins_on_the_page_that_it_is_given_and_by_the_look_again()
    {
        var verso = Done(new PlanAct.SetBegins([I("winch"), I("hull")], Begins.Verso));
        Assert.Equal(["winch", "hull"], verso.Divisions.Where(d => d.Begins == Begins.Verso).Select(d => d.Id.Value));
        var composed = Build.Compose(verso);
        Assert.Equal([1, 1], composed.Divisions.Where(d => d.Numbers.Division.Begins == Begins.Verso).Select(d => d.FirstSheet % 2));
        var again = Done(new PlanAct.SetBegins([I("winch"), I("hull")], Begins.ByLook), verso);
        Assert.DoesNotContain(again.Divisions, d => d.Begins != Begins.ByLook);
        // What is said already is no change.
        Assert.Same(again.Divisions[3], Done(new PlanAct.SetBegins([I("winch")], Begins.ByLook), again).Divisions[3]);
    }

    private static Manual Done(PlanAct act, Manual? on = null)
    {
        var result = Planner.Apply(on ?? Ferry, act);
        Assert.True(result.Refused is null, result.Refused);
        return result.Manual!;
    }

    private static string Refused(PlanAct act, Manual? on = null) =>
        Planner.Apply(on ?? Ferry, act).Refused ?? throw new InvalidOperationException("It was not refused.");

    private static string[] Order(Manual manual) => manual.Divisions.Select(d => d.Id.Value).ToArray();

    private static string[] In(Manual manual, string division) =>
        manual.Divisions.Single(d => d.Id.Value == division).Blocks.Select(b => b is Head h ? $"{h.Id}:{h.Level}" : b.Id.Value).ToArray();

    [Fact]
    public void A_section_moves_with_everything_beneath_and_takes_the_level_of_what_it_lands_by()
    {
        var moved = Done(new PlanAct.Move([I("oil")], I("paint"), LandsAt.After));
        Assert.Equal(["w0", "band:A", "b1"], In(moved, "winch"));
        Assert.Equal(["h0", "paint:A", "pa1", "oil:A", "o1", "grades:B", "g1", "change:B", "c1"], In(moved, "hull"));
    }

    [Fact]
    public void Within_a_section_it_stands_one_level_deeper() =>
        Assert.Equal(["h0", "paint:A", "pa1", "band:B", "b1"], In(Done(new PlanAct.Move([I("band")], I("paint"), LandsAt.Within)), "hull"));

    [Fact]
    public void A_section_cannot_stand_in_itself_nor_go_below_a_D_head()
    {
        Assert.Contains("itself", Refused(new PlanAct.Move([I("oil")], I("grades"), LandsAt.After)), StringComparison.Ordinal);
        var deep = Done(new PlanAct.Deepen([I("band")]), Done(new PlanAct.Deepen([I("change")])));
        var deeper = deep with
        {
            Divisions =
            [
                .. deep.Divisions.Select(d => d.Id.Value == "hull" ? D("hull", DivisionKind.Chapter, H("x", HeadLevel.D), P("x1")) : d),
            ],
        };
        Assert.Contains("below a D head", Refused(new PlanAct.Move([I("oil")], I("x"), LandsAt.After), deeper), StringComparison.Ordinal);
    }

    [Fact]
    public void A_part_takes_its_chapters_along()
    {
        Assert.Equal(
            ["title", "preface", "II", "lamps", "I", "winch", "hull", "data", "index"],
            Order(Done(new PlanAct.Move([I("I")], I("II"), LandsAt.After)))
        );
        Assert.Contains("itself", Refused(new PlanAct.Move([I("I")], I("hull"), LandsAt.After)), StringComparison.Ordinal);
    }

    [Fact]
    public void A_chapter_stays_in_the_body() =>
        Assert.Equal(
            "A chapter stands in the body, not in the back matter.",
            Refused(new PlanAct.Move([I("lamps")], I("data"), LandsAt.After))
        );

    [Fact]
    public void Several_rows_keep_their_order_where_they_land()
    {
        var moved = Done(new PlanAct.Move([I("change"), I("grades")], I("paint"), LandsAt.After));
        Assert.Equal(["h0", "paint:A", "pa1", "grades:A", "g1", "change:A", "c1"], In(moved, "hull"));
        Assert.Equal(
            ["title", "preface", "I", "II", "lamps", "winch", "hull", "data", "index"],
            Order(Done(new PlanAct.Move([I("winch"), I("hull")], I("lamps"), LandsAt.After)))
        );
    }

    [Fact]
    public void A_row_inside_a_chosen_one_moves_only_with_it() =>
        Assert.Equal(
            ["h0", "paint:A", "pa1", "oil:A", "o1", "grades:B", "g1", "change:B", "c1"],
            In(Done(new PlanAct.Move([I("grades"), I("oil")], I("paint"), LandsAt.After)), "hull")
        );

    [Fact]
    public void A_lifted_section_stands_after_the_one_it_stood_in_and_swallows_none()
    {
        var lifted = Done(new PlanAct.Lift([I("grades")]));
        Assert.Equal(["w0", "oil:A", "o1", "change:B", "c1", "grades:A", "g1", "band:A", "b1"], In(lifted, "winch"));
    }

    [Fact]
    public void An_A_section_lifted_is_a_chapter_with_the_heads_identity_and_back()
    {
        var lifted = Done(new PlanAct.Lift([I("oil")]));
        Assert.Equal(["title", "preface", "I", "winch", "oil", "hull", "II", "lamps", "data", "index"], Order(lifted));
        Assert.Equal(["o1", "grades:A", "g1", "change:A", "c1"], In(lifted, "oil"));
        var back = Done(new PlanAct.Deepen([I("oil")]), lifted);
        Assert.Equal(["w0", "band:A", "b1", "oil:A", "o1", "grades:B", "g1", "change:B", "c1"], In(back, "winch"));
    }

    [Fact]
    public void Entries_of_a_head_that_becomes_a_title_go_on_in_its_text()
    {
        var entry = new IndexEntry(I("e"), ["oil"]);
        var manual = Ferry with
        {
            Divisions =
            [
                .. Ferry.Divisions.Select(d =>
                    d.Id.Value == "hull"
                        ? D("hull", DivisionKind.Chapter, new Head(I("paint"), HeadLevel.A, [new TextRun("Paint"), entry]), P("pa1"))
                        : d
                ),
            ],
        };
        Assert.Contains(
            entry,
            Done(new PlanAct.Lift([I("paint")]), manual).Divisions.Single(d => d.Id.Value == "paint").Blocks[0].Inlines()
        );
    }

    [Fact]
    public void Deepening_needs_something_to_stand_under()
    {
        Assert.Equal("There is no A head before it to stand under.", Refused(new PlanAct.Deepen([I("oil")])));
        Assert.Equal(
            ["w0", "oil:A", "o1", "grades:B", "g1", "change:B", "c1", "band:B", "b1"],
            In(Done(new PlanAct.Deepen([I("band")])), "winch")
        );
        Assert.Equal("There is no chapter before it to stand in.", Refused(new PlanAct.Deepen([I("winch")])));
        Assert.Equal("A part cannot become a section.", Refused(new PlanAct.Deepen([I("II")])));
    }

    [Fact]
    public void A_chapter_is_split_before_a_head_and_joined_again()
    {
        var split = Done(new PlanAct.Split(I("band")));
        Assert.Equal(["b1"], In(split, "band"));
        Assert.Equal(In(Ferry, "winch"), In(Done(new PlanAct.Join(I("band")), split), "winch"));
    }

    [Fact]
    public void Splitting_at_a_B_head_lifts_its_section_and_what_follows()
    {
        var split = Done(new PlanAct.Split(I("grades")));
        Assert.Equal(["w0", "oil:A", "o1"], In(split, "winch"));
        Assert.Equal(["g1", "change:A", "c1"], In(split, "grades")[..3]);
    }

    [Theory]
    [InlineData(DivisionKind.Glossary, "lamps", 8)]
    [InlineData(DivisionKind.Appendix, "", 8)]
    [InlineData(DivisionKind.Chapter, "winch", 4)]
    [InlineData(DivisionKind.Chapter, "grades", 4)]
    [InlineData(DivisionKind.Chapter, "index", 7)]
    [InlineData(DivisionKind.Legal, "lamps", 1)]
    [InlineData(DivisionKind.Colophon, "", 9)]
    public void A_new_division_finds_the_place_of_its_kind(DivisionKind kind, string after, int place) =>
        Assert.Equal("new", Order(Done(new PlanAct.AddDivision(I("new"), kind, "", I(after))))[place]);

    [Fact]
    public void A_head_is_added_after_a_section_at_its_level()
    {
        Assert.Equal(
            ["w0", "oil:A", "o1", "grades:B", "g1", "new:B", "new-1", "change:B", "c1", "band:A", "b1"],
            In(Done(new PlanAct.AddHead(I("new"), "Filters", I("grades"))), "winch")
        );
        Assert.Contains("needs words", Refused(new PlanAct.AddHead(I("new"), " ", I("grades"))), StringComparison.Ordinal);
        Assert.Equal("A part holds no sections.", Refused(new PlanAct.AddHead(I("new"), "Filters", I("I"))));
    }

    [Fact]
    public void A_section_is_taken_out_with_all_beneath_and_fixed_text_stays()
    {
        Assert.Equal(["w0", "band:A", "b1"], In(Done(new PlanAct.TakeOut([I("oil")])), "winch"));
        var held = Ferry with
        {
            Divisions =
            [
                .. Ferry.Divisions.Select(d =>
                    d.Id.Value == "hull" ? d with { Blocks = [.. d.Blocks.Select(b => b with { FixedBy = "Code" })] } : d
                ),
            ],
        };
        Assert.Contains("fixed by the pattern “Code”", Refused(new PlanAct.TakeOut([I("hull")]), held), StringComparison.Ordinal);
        Assert.Contains("fixed by the pattern “Code”", Refused(new PlanAct.Rename(I("paint"), "Colour"), held), StringComparison.Ordinal);
    }

    [Fact]
    public void Renaming_keeps_the_entries_of_a_head()
    {
        var manual = Ferry with
        {
            Divisions =
            [
                .. Ferry.Divisions.Select(d =>
                    d.Id.Value == "hull"
                        ? D(
                            "hull",
                            DivisionKind.Chapter,
                            new Head(I("paint"), HeadLevel.A, [new TextRun("Paint"), new IndexEntry(I("e"), ["paint"])])
                        )
                        : d
                ),
            ],
        };
        var head = (Head)Done(new PlanAct.Rename(I("paint"), "Colour"), manual).Divisions.Single(d => d.Id.Value == "hull").Blocks[0];
        Assert.Equal(("Colour", 1), (head.Content.PlainText(), head.Content.OfType<IndexEntry>().Count()));
    }

    [Fact]
    public void A_division_has_a_short_title_and_loses_it()
    {
        var shorter = Done(new PlanAct.Shorten(I("hull"), "  Hull, short "), Ferry);
        Assert.Equal("Hull, short", shorter.Divisions.Single(d => d.Id.Value == "hull").ShortTitle);
        Assert.Null(Done(new PlanAct.Shorten(I("hull"), " "), shorter).Divisions.Single(d => d.Id.Value == "hull").ShortTitle);
        Assert.Contains("taken out", Refused(new PlanAct.Shorten(I("paint"), "Colour"), Ferry), StringComparison.Ordinal);
    }

    [Fact]
    public void States_are_set_and_a_paragraph_made_a_head()
    {
        Assert.Equal(
            WorkState.Final,
            Done(new PlanAct.SetState([I("hull")], WorkState.Final)).Divisions.Single(d => d.Id.Value == "hull").State
        );
        Assert.Equal("l0:B", In(Done(new PlanAct.MakeHead(I("l0"), HeadLevel.B)), "lamps")[0]);
    }

    /// <summary>Whatever is done to the plan, every block is there once, and heads stay between A and D.</summary>
    [Fact]
    public void No_act_loses_or_doubles_a_block()
    {
        var manual = Gen.Int[0, 3]
            .Array[3, 14]
            .Array[2, 6]
            .Select(chapters => new Manual(
                I("m"),
                "M",
                chapters
                    .Select(
                        (heads, c) =>
                            D(
                                $"c{c}",
                                DivisionKind.Chapter,
                                [
                                    .. heads.SelectMany(
                                        (level, h) => new Block[] { H($"c{c}h{h}", (HeadLevel)(Math.Min(level, h) + 1)), P($"c{c}p{h}") }
                                    ),
                                ]
                            )
                    )
                    .ToArray()
            ));
        var act = Gen.Select(Gen.Int[0, 5], Gen.Int[0, 1000], Gen.Int[0, 1000], Gen.Int[0, 2]);
        Gen.Select(manual, act.Array[1, 12])
            .Sample(
                (start, acts) =>
                {
                    static string[] Rows(Manual m) =>
                        m.Divisions.SelectMany(d => d.Blocks.OfType<Head>().Select(h => h.Id.Value).Prepend(d.Id.Value)).ToArray();
                    static string[] Texts(Manual m) =>
                        m
                            .Divisions.SelectMany(d => d.Blocks)
                            .OfType<Paragraph>()
                            .Select(p => p.Id.Value)
                            .Order(StringComparer.Ordinal)
                            .ToArray();
                    var texts = Texts(start);
                    var rows = Rows(start).Order(StringComparer.Ordinal).ToArray();
                    var now = start;
                    foreach (var (kind, a, b, at) in acts)
                    {
                        var all = Rows(now);
                        var (row, by) = (I(all[a % all.Length]), I(all[b % all.Length]));
                        PlanAct wanted = kind switch
                        {
                            0 => new PlanAct.Move([row], by, (LandsAt)at),
                            1 => new PlanAct.Deepen([row]),
                            2 => new PlanAct.Lift([row]),
                            3 => new PlanAct.Split(row),
                            4 => new PlanAct.Join(row),
                            _ => new PlanAct.Move([row, by], I(all[(a + b) % all.Length]), (LandsAt)at),
                        };
                        now = Planner.Apply(now, wanted).Manual ?? now;
                    }
                    Assert.Equal(texts, Texts(now));
                    Assert.Equal(rows, Rows(now).Order(StringComparer.Ordinal));
                    Assert.All(now.Divisions.SelectMany(d => d.Blocks).OfType<Head>(), h =>
                        Assert.InRange(h.Level, HeadLevel.A, HeadLevel.D)
                    );
                },
                iter: 600
            );
    }

    public static TheoryData<string> Beginnings => ["paragraph", "list", "steps", "table", "figure", "head", "nothing"];

    /// <summary>Index entries of a head point at its page whatever the section begins with, after it became a division.</summary>
    [Theory]
    [MemberData(nameof(Beginnings))]
    public void Entries_of_a_lifted_head_stay_on_its_page_whatever_its_section_begins_with(string beginning)
    {
        Block[] begins = beginning switch
        {
            "paragraph" => [P("x")],
            "list" => [new ItemList(I("x"), ListKind.Unordered, 1, [new Item(I("x1"), [P("x2")])])],
            "steps" => [new Steps(I("x"), false, [new Item(I("x1"), [P("x2")])])],
            "table" => [new Table(I("x"), 0, [], [], [new Row(I("x1"), [new Cell(I("x2"), [new TextRun("cell")])])])],
            "figure" => [Build.Figure("x")],
            "head" => [H("x", HeadLevel.B), P("x2")],
            _ => [],
        };
        var head = new Head(
            I("band"),
            HeadLevel.A,
            [new TextRun("Band"), new IndexEntry(I("e"), ["band"]), new Anchor(I("anchor"), "band"), new WriterNote(I("n"), "w", "note")]
        );
        var long_ = Enumerable.Range(0, 12).Select(i => Build.Words("long" + i, 120));
        var manual = Build.Manual(D("winch", DivisionKind.Chapter, [P("w0"), head, .. begins, H("next", HeadLevel.B), .. long_]));
        manual = manual with { Assets = [Build.Picture] };
        var lifted = Done(new PlanAct.Lift([I("band")]), manual);
        Assert.Empty(ManualCheck.Problems(lifted));
        var composed = Build.Compose(lifted);
        var holder = lifted.Divisions[1].Blocks.Single(b => b.Inlines().Any(i => i is IndexEntry));
        Assert.Contains(holder.Inlines(), i => i is Anchor);
        Assert.Equal(composed.Divisions[1].FirstSheet, composed.SheetOf(holder.WithInner().Last().Id.Value));
        Assert.Single(lifted.Divisions[1].Blocks.SelectMany(b => b.Inlines()), i => i is WriterNote);
    }

    [Fact]
    public void A_paragraph_made_a_head_loses_nothing_or_is_refused()
    {
        Manual With(Paragraph p) => Build.Manual(D("lamps", DivisionKind.Chapter, p));
        var noted = new Paragraph(I("l0"), "body", [new TextRun("Lamps"), new Footnote(I("f"), [new TextRun("Green first.")])]);
        Assert.Contains("note", Refused(new PlanAct.MakeHead(I("l0"), HeadLevel.A), With(noted)), StringComparison.Ordinal);
        var fixedText = P("l0") with { FixedBy = "House pattern" };
        Assert.Contains("House pattern", Refused(new PlanAct.MakeHead(I("l0"), HeadLevel.A), With(fixedText)), StringComparison.Ordinal);
        var rich = new Paragraph(
            I("l0"),
            "body",
            [
                new TextRun("Lamps ", SpanRoles.Strong),
                new IndexEntry(I("e"), ["lamps"]),
                new Anchor(I("a"), "lamps"),
                new CrossReference(I("r"), I("l0"), "page"),
                new WriterNote(I("n"), "w", "note"),
                new InlineEquation(I("q"), "x", "x"),
            ]
        )
        {
            OwnRole = "signal",
            AppliesTo = new AppliesTo([new AxisValues("model", ["6"])]),
        };
        var head = (Head)Done(new PlanAct.MakeHead(I("l0"), HeadLevel.A), With(rich)).Divisions[0].Blocks[0];
        Assert.Equal(rich.Content.Skip(1), head.Content.Skip(1));
        Assert.Equal(("Lamps ", "signal", rich.AppliesTo), (head.Content.PlainText(), head.OwnRole, head.AppliesTo));
    }
}
