using Kivren.Core.Composition;
using Kivren.Core.Content;
using Kivren.Core.Indexing;
using Kivren.Core.Lists;
using Kivren.Core.Looks;
using Kivren.Core.LooseEnds;
using Kivren.Core.Numbering;
using Kivren.Core.Type;
using static Kivren.Core.Tests.Build;

namespace Kivren.Core.Tests;

public class ReferenceAndListTests
{
    private static string Print(ComposedManual composed, string reference)
    {
        var found = composed
            .Text.Divisions.SelectMany(d => d.Blocks)
            .SelectMany(b => b.Inlines())
            .OfType<CrossReference>()
            .First(r => r.Id.Value == reference);
        return composed.Print(found).Replace('\u00A0', ' ');
    }

    // ---- references ----

    [Fact]
    public void A_page_phrase_says_where_the_page_lies()
    {
        var phrases = new HashSet<string>();
        for (var words = 20; words < 1400; words += 60)
        {
            var composed = Compose(
                Manual(
                    Chapter(
                        "a",
                        "Where",
                        Text("p", new TextRun("See "), To("x", "h", "phrase"), new TextRun(".")),
                        Words("q", words),
                        Head("h", HeadLevel.A, "Target"),
                        Words("r", 60)
                    )
                )
            );
            int here = composed.FindIn(new Id("a"), new Id("x"))!.Value.Sheet,
                there = composed.SheetOf("h");
            var phrase = Print(composed, "x")["Section 1.1 ".Length..];
            phrases.Add(phrase);
            Assert.Equal(
                here == there ? "on this page"
                    : here % 2 == 0 && there == here + 1 ? "overleaf"
                    : there == (here % 2 == 0 ? here - 1 : here + 1) ? "on the facing page"
                    : $"on page {composed.Pages[there].Folio}",
                phrase
            );
        }
        Assert.Superset(new HashSet<string> { "on this page", "overleaf" }, phrases);
    }

    [Fact]
    public void Above_and_below_follow_the_order_of_reading()
    {
        var composed = Compose(
            Manual(
                Chapter(
                    "a",
                    "Where",
                    Head("h", HeadLevel.A, "First"),
                    Text("p", To("x", "h", "direction"), new TextRun(", "), To("y", "k", "direction")),
                    Head("k", HeadLevel.A, "Second")
                )
            )
        );
        Assert.Equal("Section 1.1 above", Print(composed, "x"));
        Assert.Equal("Section 1.2 below", Print(composed, "y"));
    }

    [Theory]
    [InlineData("caption", "Figure 1-1, Figure f")]
    [InlineData("number-title", "1-1, “Figure f”")]
    [InlineData("number", "1-1")]
    public void Each_form_reads_as_its_pattern_says(string form, string reads)
    {
        var composed = Compose(Manual(Chapter("a", "Forms", Text("p", To("x", "f", form)), Figure("f"))) with { Assets = [Picture] });
        Assert.Equal(reads, Print(composed, "x"));
    }

    [Fact]
    public void A_form_that_lives_on_a_number_takes_the_title_where_there_is_none()
    {
        var composed = Compose(
            Manual(
                Chapter("a", "Forms", Text("p", To("x", "h", "name-number"), To("y", "h", "phrase")), Head("h", HeadLevel.B, "Unnumbered"))
            )
        );
        Assert.Equal("“Unnumbered”", Print(composed, "x"));
        Assert.Equal("“Unnumbered” on this page", Print(composed, "y"));
    }

    [Fact]
    public void A_print_look_may_add_the_page_to_every_reference()
    {
        var composed = Compose(
            Manual(
                Chapter(
                    "a",
                    "Forms",
                    Text("p", To("x", "h", "name-number"), new TextRun(" "), To("y", "h", "page")),
                    Head("h", HeadLevel.A, "Head")
                )
            ),
            ShippedLooks.Workshop with
            {
                PageAfterReferences = true,
            }
        );
        Assert.Equal("Section 1.1 (page 1)", Print(composed, "x"));
        Assert.Equal("page 1", Print(composed, "y"));
    }

    [Fact]
    public void References_that_chase_each_others_page_phrases_settle()
    {
        for (var words = 280; words < 330; words += 2)
        {
            var blocks = new List<Block> { Words("w", words) };
            for (var n = 0; n < 12; n++)
                blocks.AddRange([
                    Head($"h{n}", HeadLevel.B, $"Head {n}"),
                    Text(
                        $"p{n}",
                        new TextRun("See "),
                        To($"x{n}", $"h{(n + 5) % 12}", "title-phrase"),
                        new TextRun(" and "),
                        To($"y{n}", $"h{(n + 7) % 12}", "title-phrase"),
                        new TextRun(".")
                    ),
                ]);
            var composed = Compose(Manual(Chapter("a", "Cycle", [.. blocks])));
            Assert.InRange(composed.Passes, 2, 60);
        }
    }

    // ---- numbers ----

    [Fact]
    public void Clauses_notes_and_definitions_are_numbered_as_the_code_look_does()
    {
        var glossary = new DefinitionList(
            new Id("g"),
            [
                new Definition(new Id("d2"), [new TextRun("season")], [Words("dp2", 5)]),
                new Definition(new Id("d1"), [new TextRun("bridle")], [Words("dp1", 5)]),
            ]
        )
        {
            Glossary = true,
        };
        var composed = Compose(
            Manual(
                Chapter(
                    "a",
                    "Scope",
                    Words("p0", 20),
                    Head("h", HeadLevel.A, "When"),
                    Words("p1", 20),
                    new Admonition(new Id("n1"), AdmonitionKind.Note, [Words("np1", 5)]),
                    new Admonition(new Id("n2"), AdmonitionKind.Note, [Words("np2", 5)]),
                    Words("p2", 20),
                    new Admonition(new Id("n3"), AdmonitionKind.Note, [Words("np3", 5)]),
                    new Equation(new Id("e"), "a = b", "a is b")
                ),
                new Division(new Id("b"), DivisionKind.Glossary, "Terms", [glossary]),
                Chapter("c", "Cable", new Equation(new Id("e2"), "a = b", "a is b"))
            ),
            ShippedLooks.Code
        );
        var (first, second) = (composed.Numbers.Divisions[0], composed.Numbers.Divisions[1]);
        Assert.Equal(["", "1.1.1", "1.1.2"], new[] { "p0", "p1", "p2" }.Select(p => first.Label(new Id(p))));
        Assert.Equal(["NOTE 1", "NOTE 2", "NOTE"], new[] { "n1", "n2", "n3" }.Select(n => first.Label(new Id(n))));
        Assert.Equal("2", second.Number);
        Assert.Equal(["2.1", "2.2"], new[] { "d1", "d2" }.Select(d => second.Label(new Id(d))));
        Assert.True(
            composed.Words().IndexOf("bridle", StringComparison.Ordinal) < composed.Words().IndexOf("season", StringComparison.Ordinal)
        );
        Assert.Equal(["1", "2"], new[] { "e", "e2" }.Select(e => composed.Numbers.Find(new Id(e))!.Value.Target.Number));
    }

    [Fact]
    public void Lists_and_steps_may_carry_on()
    {
        Item I(string id) => new(new Id(id), [Words(id + "p", 4)]);
        var composed = Compose(
            Manual(
                Chapter(
                    "a",
                    "Lists",
                    new ItemList(new Id("l1"), ListKind.Alpha, 1, [I("a1"), I("a2")]),
                    Words("p", 9),
                    new ItemList(new Id("l2"), ListKind.Alpha, 1, [I("a3")]) { Continues = true },
                    new Steps(new Id("s1"), false, [I("s1a"), I("s1b")]),
                    new Admonition(new Id("w"), AdmonitionKind.Warning, [Words("wp", 5)]),
                    new Steps(new Id("s2"), true, [I("s2a")])
                )
            )
        );
        Assert.Equal(
            ["a)", "b)", "c)", "1", "2", "3"],
            new[] { "a1", "a2", "a3", "s1a", "s1b", "s2a" }.Select(i => composed.Numbers.Divisions[0].Label(new Id(i)))
        );
    }

    [Fact]
    public void A_lone_appendix_need_not_have_a_letter()
    {
        var manual = Manual(
            Chapter("a", "One", Words("p", 9)),
            new Division(new Id("b"), DivisionKind.Appendix, "Data", [Figure("f")])
        ) with
        {
            Assets = [Picture],
        };
        Assert.Equal("A", Compose(manual).Numbers.Divisions[1].Number);
        var bare = Compose(manual, ShippedLooks.Workshop with { Numbering = new NumberingRules { LoneAppendixLettered = false } });
        Assert.Equal("", bare.Numbers.Divisions[1].Number);
        Assert.Equal("1", bare.Numbers.Find(new Id("f"))!.Value.Target.Number);
    }

    [Fact]
    public void Most_special_dress_wins_and_says_its_rule()
    {
        var look = ShippedLooks.Workshop;
        Assert.Equal("bullet of Appendix", look.RuleFor("bullet", new Standing(DivisionKind.Appendix)).ToString());
        Assert.Equal("body in list of Appendix", look.RuleFor("body", new Standing(DivisionKind.Appendix, "list")).ToString());
        Assert.Equal("body", look.RuleFor("body", new Standing(DivisionKind.Chapter, "list")).ToString());
        Division With(DivisionKind kind) =>
            new(
                new Id("d" + kind),
                kind,
                "D",
                [new ItemList(new Id("l" + kind), ListKind.Unordered, 1, [new Item(new Id("i" + kind), [Words("p" + kind, 20)])])]
            );
        var composed = Compose(Manual(With(DivisionKind.Chapter), With(DivisionKind.Appendix)));
        int SizeOf(string id) =>
            composed
                .Divisions.SelectMany(d => d.Cut.Galley.Pieces)
                .SelectMany(p => p.Drawn)
                .OfType<DrawnLine>()
                .First(l => l.Block.Value == id)
                .Line.Words[0]
                .Style.Size.Millipoints;
        Assert.Equal(9_600, SizeOf("pChapter"));
        Assert.Equal(9_000, SizeOf("pAppendix"));
    }

    [Fact]
    public void A_head_that_is_not_printed_still_counts_and_is_listed()
    {
        var composed = Compose(
            Manual(
                Chapter(
                    "a",
                    "Heads",
                    Head("h1", HeadLevel.A, "Drawn") with
                    {
                        Printed = false,
                    },
                    Words("p", 20),
                    Head("h2", HeadLevel.A, "Printed"),
                    Text("q", To("x", "h1", "name-number"))
                )
            )
        );
        Assert.Equal("1.2", composed.Numbers.Find(new Id("h2"))!.Value.Target.Number);
        Assert.Equal("Section 1.1", Print(composed, "x"));
        Assert.DoesNotContain("Drawn", composed.Words(), StringComparison.Ordinal);
        Assert.Contains(ContentsEntry.Of(composed.Look.Lists[0], composed.Numbers, -1, _ => "1"), e => e.Title == "Drawn");
    }

    // ---- contents lists ----

    private static Manual Listed(string list) =>
        Manual(
            new Division(new Id("c"), DivisionKind.Contents, "List", [new ContentsList(new Id("cl"), list)]),
            new Division(new Id("part"), DivisionKind.Part, "Operating", [new ContentsList(new Id("pl"), "part")]),
            Chapter(
                "a",
                "Winch",
                new ContentsList(new Id("dl"), "division"),
                Head("h1", HeadLevel.A, "Zeal"),
                Words("p", 30),
                Figure("f1"),
                Head("h2", HeadLevel.A, "Able"),
                Words("q", 30)
            ),
            Chapter("b", "Hull", Figure("f2"), Words("r", 30))
        ) with
        {
            Assets = [Picture],
        };

    [Fact]
    public void Lists_of_figures_of_a_part_and_of_a_division_take_what_is_theirs()
    {
        var composed = Compose(Listed("figures"));
        var first = composed.Pages[0].AllText();
        Assert.Contains("Figure f1", first, StringComparison.Ordinal);
        Assert.Contains("Figure f2", first, StringComparison.Ordinal);
        Assert.DoesNotContain("Zeal", first, StringComparison.Ordinal);
        var part = composed.Pages[composed.Divisions[1].FirstSheet].AllText();
        Assert.Contains("Winch", part, StringComparison.Ordinal);
        Assert.Contains("Hull", part, StringComparison.Ordinal);
        var own = composed.Pages[composed.Divisions[2].FirstSheet].AllText();
        Assert.Equal(2, own.Split("Zeal").Length - 1);
    }

    private static ComposedManual With(ContentsDefinition definition) =>
        Compose(Listed(definition.Name), ShippedLooks.Workshop with { Lists = [ShippedLooks.Workshop.Lists[0], definition] });

    [Fact]
    public void A_list_may_be_sorted_run_in_named_or_without_folios()
    {
        var dress = new Dress(FaceSet.Serif, 9, 12);
        var heads = new ContentsLine(TargetKind.Head, dress) { Level = HeadLevel.A };
        var sorted = With(new ContentsDefinition("own", ListScope.Manual, [heads]) { Sorted = true }).Pages[0].AllText();
        Assert.True(sorted.IndexOf("Able", StringComparison.Ordinal) < sorted.IndexOf("Zeal", StringComparison.Ordinal));
        var runIn = With(new ContentsDefinition("own", ListScope.Manual, [heads with { RunIn = true }])).Pages[0].Lines();
        Assert.Contains(runIn, l => l.Contains("Zeal", StringComparison.Ordinal) && l.Contains("– 1.2", StringComparison.Ordinal));
        var bare = With(new ContentsDefinition("own", ListScope.Manual, [heads with { Folio = FolioPlace.None }])).Pages[0];
        Assert.DoesNotContain(bare.Lines(), l => l.Trim() == "1");
        var before = With(new ContentsDefinition("own", ListScope.Manual, [heads with { Folio = FolioPlace.Before }])).Pages[0].Lines();
        Assert.True(
            before.FindIndex(l => l.Trim() is "1" or "3" or "5") < before.FindIndex(l => l.Contains("Zeal", StringComparison.Ordinal))
        );
        var named = With(
            new ContentsDefinition(
                "own",
                ListScope.Manual,
                [
                    new ContentsLine(TargetKind.Division, dress)
                    {
                        Divisions = [DivisionKind.Chapter],
                        Named = true,
                        NameAbove = true,
                    },
                ]
            )
        )
            .Pages[0]
            .Lines();
        Assert.Contains("Chapter 1", named.Select(l => l.Trim()));
    }

    [Fact]
    public void A_long_entry_wraps_clear_of_the_folio_column()
    {
        var title = "How the winch pulls when the wind stands across the lake and the deck is full of cattle";
        var composed = Compose(
            Manual(
                new Division(new Id("c"), DivisionKind.Contents, "Contents", [new ContentsList(new Id("cl"))]),
                Chapter("a", "One", Head("h", HeadLevel.A, title), Words("p", 30))
            )
        );
        var lines = composed
            .Divisions[0]
            .Cut.Galley.Pieces.SelectMany(p => p.Drawn)
            .OfType<DrawnLine>()
            .Where(l => l.Line.Words.Any(w => title.Contains(w.Word.Text, StringComparison.Ordinal) && w.Word.Text.Length > 4))
            .ToList();
        Assert.True(lines.Count > 1);
        Assert.All(lines, l => Assert.True(l.X + l.Line.Width <= ShippedLooks.Workshop.Master.Measure.Millipoints - 30_000));
    }

    [Theory]
    [InlineData(LooseEndKind.LooksLikeHead)]
    [InlineData(LooseEndKind.ListUnknown)]
    [InlineData(LooseEndKind.NotCited)]
    [InlineData(LooseEndKind.PassageMissing)]
    [InlineData(LooseEndKind.EquationUnreadable)]
    [InlineData(LooseEndKind.RepeatedTitle)]
    public void What_would_come_out_wrong_is_told(LooseEndKind kind)
    {
        Block block = kind switch
        {
            LooseEndKind.LooksLikeHead => Text("p", new TextRun("Care of the drum", SpanRoles.Strong)),
            LooseEndKind.ListUnknown => new ContentsList(new Id("p"), "maps"),
            LooseEndKind.NotCited => new ReferenceList(new Id("p"), [new ReferredDocument(new Id("d"), "CF-1", [new TextRun("Words")])]),
            LooseEndKind.PassageMissing => new PassageUse(new Id("p"), "lamps"),
            LooseEndKind.EquationUnreadable => new Equation(new Id("p"), "(a + b", "a and b"),
            _ => Head("p", HeadLevel.A, "Ends"),
        };
        var composed = Compose(Manual(Chapter("a", "Ends", block, Words("q", 20))));
        Assert.Contains(composed.LooseEnds, l => l.Kind == kind && l.Message.Length > 20);
        Assert.DoesNotContain(Compose(Manual(Chapter("a", "Ends", Words("q", 20)))).LooseEnds, l => l.Kind == kind);
    }

    // ---- the index ----

    private static Paragraph Entry(string id, params IndexEntry[] entries) =>
        Text(id, [.. entries, new TextRun("Words of the paragraph.")]);

    private static IndexEntry E(string id, params string[] headings) => new(new Id(id), headings);

    private static ComposedManual Indexed(Look look, params Block[] blocks) =>
        Compose(
            Manual(Chapter("a", "Text", blocks), new Division(new Id("i"), DivisionKind.Index, "Index", [new IndexList(new Id("il"))])) with
            {
                Assets = [Picture],
            },
            look
        );

    private static string IndexText(ComposedManual composed) =>
        string.Join('\n', composed.Pages.Skip(composed.Divisions[1].FirstSheet).SelectMany(p => p.Lines()));

    [Fact]
    public void An_index_may_be_set_letter_by_letter()
    {
        Block[] blocks = [Entry("p", E("e1", "cable way"), E("e2", "cableman"))];
        int Order(Look look) =>
            IndexText(Indexed(look, blocks)).IndexOf("cableman", StringComparison.Ordinal)
            - IndexText(Indexed(look, blocks)).IndexOf("cable way", StringComparison.Ordinal);
        Assert.True(Order(ShippedLooks.Workshop) > 0);
        Assert.True(Order(ShippedLooks.Workshop with { Index = ShippedLooks.Workshop.Index with { LetterByLetter = true } }) < 0);
    }

    [Fact]
    public void Subheadings_may_run_in()
    {
        var look = ShippedLooks.Workshop with { Index = ShippedLooks.Workshop.Index with { RunIn = true, Columns = 1 } };
        Assert.Contains(
            "cable, 1: greasing, 1; turning, 1",
            IndexText(Indexed(look, Entry("p", E("e1", "cable"), E("e2", "cable", "turning"), E("e3", "cable", "greasing")))),
            StringComparison.Ordinal
        );
    }

    [Fact]
    public void A_locator_to_a_figure_is_set_apart()
    {
        var figure = new Figure(new Id("f"), "p.svg", [new TextRun("The drum"), E("e1", "drum")], "x");
        var composed = Indexed(ShippedLooks.Workshop, Words("p", 20), figure);
        var word = composed
            .Pages[^1]
            .Cut!.Galley.Pieces.SelectMany(p => p.Drawn)
            .OfType<DrawnLine>()
            .SelectMany(l => l.Line.Words)
            .First(w => w.Target.Value == "e1");
        Assert.True(word.Style.Face.Italic);
    }

    [Fact]
    public void A_heading_is_said_again_where_its_subheadings_cross_to_a_new_page()
    {
        var entries = Enumerable.Range(0, 90).Select(n => E($"e{n}", "cable", $"subject {n:00}")).ToArray();
        var composed = Indexed(ShippedLooks.Pocket, Entry("p", entries));
        var later = composed.Pages.Skip(composed.Divisions[1].FirstSheet + 1).ToList();
        Assert.NotEmpty(later);
        Assert.All(later, p =>
            Assert.Contains(p.Body!.Headers, h =>
                string.Join(' ', h.Rows.Drawn.OfType<DrawnLine>().SelectMany(l => l.Line.Words).Select(w => w.Word.Text))
                == "cable (continued)"
            )
        );
    }

    [Theory]
    [InlineData(LooseEndKind.SeeToNothing)]
    [InlineData(LooseEndKind.SeeToSee)]
    [InlineData(LooseEndKind.SeeCircular)]
    [InlineData(LooseEndKind.HeadingNearlyAlike)]
    [InlineData(LooseEndKind.HeadingCrowded)]
    [InlineData(LooseEndKind.EntryInHead)]
    [InlineData(LooseEndKind.RangeUnclosed)]
    [InlineData(LooseEndKind.RangeUnopened)]
    [InlineData(LooseEndKind.RangeBackwards)]
    public void What_is_wrong_in_the_index_is_told(LooseEndKind kind)
    {
        IndexEntry See(string id, string heading, string see) => E(id, heading) with { See = see };
        IndexEntry Range(string id, EntryKind end) => E(id, "rope") with { Kind = end };
        Block[] blocks = kind switch
        {
            LooseEndKind.SeeToNothing => [Entry("p", See("e1", "bilge", "hull"))],
            LooseEndKind.SeeToSee => [Entry("p", See("e1", "bilge", "box"), See("e2", "box", "hull"), E("e3", "hull"))],
            LooseEndKind.SeeCircular => [Entry("p", See("e1", "bilge", "box"), See("e2", "box", "bilge"))],
            LooseEndKind.HeadingNearlyAlike => [Entry("p", E("e1", "crank"), E("e2", "cranks"))],
            LooseEndKind.HeadingCrowded => Enumerable.Range(0, 9).Select(n => (Block)Entry($"p{n}", E($"e{n}", "cable"))).ToArray(),
            LooseEndKind.EntryInHead => [new Head(new Id("p"), HeadLevel.A, [new TextRun("Head"), E("e1", "head")])],
            LooseEndKind.RangeUnclosed => [Entry("p", Range("r", EntryKind.RangeStart))],
            LooseEndKind.RangeUnopened => [Entry("p", Range("r", EntryKind.RangeEnd), E("e", "rope"))],
            _ => [Entry("p", Range("r", EntryKind.RangeEnd)), Entry("q", Range("r", EntryKind.RangeStart))],
        };
        Assert.Contains(Indexed(ShippedLooks.Workshop, blocks).LooseEnds, l => l.Kind == kind && l.Message.Length > 20);
        Assert.DoesNotContain(Indexed(ShippedLooks.Workshop, Entry("p", E("e1", "cable"), E("e2", "winch"))).LooseEnds, l =>
            l.Kind == kind
        );
    }

    // ---- running lines ----

    [Fact]
    public void Running_lines_take_their_words_from_the_page()
    {
        var dress = new Dress(FaceSet.Sans, 8, 10);
        RunningField F(FieldPlace place, string pattern) => new(PageEdge.Foot, place, pattern, dress);
        IReadOnlyList<RunningField> fields =
        [
            F(FieldPlace.Inner, "{head:A:first}"),
            F(FieldPlace.Centre, "{variable:release} {folio}/{total}"),
            F(FieldPlace.Outer, "{head:A}"),
        ];
        var look = ShippedLooks.Workshop.WithPages(m => m with { Fields = fields });
        var manual = Manual(
            Chapter("a", "Heads", Head("h1", HeadLevel.A, "First"), Words("p", 30), Head("h2", HeadLevel.A, "Second"), Words("q", 600))
        ) with
        {
            Variables = [new NamedText("release", "2.1")],
        };
        var composed = Compose(manual, look);
        Assert.Equal("1.1\u2002First", composed.Pages[0].Furniture!.At(PageEdge.Foot, FieldPlace.Inner));
        Assert.Equal("1.2\u2002Second", composed.Pages[0].Furniture!.At(PageEdge.Foot, FieldPlace.Outer));
        Assert.Equal("1.2\u2002Second", composed.Pages[1].Furniture!.At(PageEdge.Foot, FieldPlace.Inner));
        Assert.Equal($"2.1 1/{composed.Pages.Count}", composed.Pages[0].Furniture!.At(PageEdge.Foot, FieldPlace.Centre));
    }

    [Fact]
    public void A_glossary_page_is_headed_by_its_first_and_last_term()
    {
        var dress = new Dress(FaceSet.Sans, 8, 10);
        IReadOnlyList<RunningField> fields = [new(PageEdge.Head, FieldPlace.Inner, "{term:first} – {term:last}", dress)];
        var look = ShippedLooks.Workshop.WithPages(m => m with { Fields = fields });
        var terms = Enumerable
            .Range(0, 40)
            .Select(n => new Definition(new Id($"d{n}"), [new TextRun($"term {n:00}")], [Words($"dp{n}", 12)]))
            .ToArray();
        var composed = Compose(
            Manual(
                new Division(new Id("g"), DivisionKind.Glossary, "Glossary", [new DefinitionList(new Id("l"), terms) { Glossary = true }])
            ),
            look
        );
        Assert.True(composed.Pages.Count > 1);
        var seen = composed.Pages.Select(p => p.Furniture!.At(PageEdge.Head, FieldPlace.Inner)!).ToList();
        Assert.StartsWith("term 00 –", seen[0], StringComparison.Ordinal);
        Assert.EndsWith("– term 39", seen[^1], StringComparison.Ordinal);
        foreach (var (head, n) in seen.Skip(1).Select((h, n) => (h, n)))
            Assert.Equal(int.Parse(seen[n][^2..]) + 1, int.Parse(head.Split(' ')[1]));
    }

    [Fact]
    public void Folios_restart_resume_or_count_through_as_the_look_says()
    {
        Look With(FolioCount count) =>
            ShippedLooks.Workshop with
            {
                Sequences = new Dictionary<DivisionKind, PageSequence>
                {
                    [DivisionKind.Chapter] = new("body", Begins.NewPage, FolioFormat.Decimal, count),
                    [DivisionKind.Appendix] = new("appendices", Begins.NewPage, FolioFormat.ByDivision, FolioCount.EachDivision),
                    [DivisionKind.Index] = new("body", Begins.NewPage, FolioFormat.Decimal, count),
                },
            };
        var manual = Manual(
            Chapter("a", "One", Words("p", 20)),
            Chapter("b", "Two", Words("q", 20)),
            new Division(new Id("x"), DivisionKind.Appendix, "Data", [Words("r", 20)]),
            new Division(new Id("i"), DivisionKind.Index, "Index", [Words("s", 20)])
        );
        string[] Folios(FolioCount count) => Compose(manual, With(count)).Pages.Select(p => p.Folio).ToArray();
        Assert.Equal(["1", "2", "A-1", "3"], Folios(FolioCount.Restarts));
        Assert.Equal(["1", "2", "A-1", "4"], Folios(FolioCount.Through));
        Assert.Equal(["1", "1", "A-1", "1"], Folios(FolioCount.EachDivision));
    }
}
