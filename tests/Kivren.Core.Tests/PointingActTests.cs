using Kivren.Core.Content;
using Kivren.Core.Lists;
using Kivren.Core.Looks;
using Kivren.Core.LooseEnds;
using Kivren.Core.References;
using static Kivren.Core.Tests.Build;

namespace Kivren.Core.Tests;

/// <summary>Acts on references, anchors, contents lists, and on loose ends that are let be.</summary>
public class PointingActTests
{
    private static Manual Whole() =>
        Manual(
            new Division(new Id("c"), DivisionKind.Contents, "Contents", [new ContentsList(new Id("cl"))]),
            Chapter(
                "a",
                "Crossing",
                Head("h1", HeadLevel.A, "Livestock on the ramp"),
                Text("p", new TextRun("Lead them as "), To("x1", "h2", "title"), new TextRun(" tells.")),
                Head("h2", HeadLevel.A, "Chocks and lashings"),
                Text("q", new TextRun("See "), To("x2", "h1", "page"), new Footnote(new Id("f"), [To("x3", "h1", "number")]))
            ),
            Chapter("b", "Hull", Text("r", new Anchor(new Id("an"), "sump"), new TextRun("The sump. "), To("x4", "an", "page")))
        );

    private static Manual Done(Manual manual, ReferenceAct act)
    {
        var result = Referring.Apply(manual, act);
        Assert.Null(result.Refused);
        Assert.Empty(ManualCheck.Problems(result.Manual!));
        return result.Manual!;
    }

    private static Manual Done(Manual manual, ListAct act)
    {
        var result = ListEditing.Apply(manual, act);
        Assert.Null(result.Refused);
        return result.Manual!;
    }

    private static CrossReference Reference(Manual manual, string id) =>
        manual.Divisions.SelectMany(d => d.Blocks).SelectMany(b => b.Inlines()).OfType<CrossReference>().Single(r => r.Id.Value == id);

    // ---- references ----

    [Fact]
    public void Many_references_are_pointed_elsewhere_and_given_another_form_at_once()
    {
        var pointed = Done(Whole(), new ReferenceAct.PointAt([new Id("x2"), new Id("x3")], new Id("h2")));
        Assert.Equal("h2", Reference(pointed, "x2").Target.Value);
        Assert.Equal(("h2", "number"), (Reference(pointed, "x3").Target.Value, Reference(pointed, "x3").Form));
        Assert.Equal("h2", Reference(pointed, "x1").Target.Value);
        var formed = Done(pointed, new ReferenceAct.SetForm([new Id("x1"), new Id("x2")], "phrase"));
        Assert.Equal("phrase", Reference(formed, "x1").Form);
    }

    [Fact]
    public void What_was_taken_out_meanwhile_is_pointed_at_no_more()
    {
        Assert.Contains(
            "taken out meanwhile",
            Referring.Apply(Whole(), new ReferenceAct.PointAt([new Id("x1")], new Id("gone"))).Refused,
            StringComparison.Ordinal
        );
        Assert.Contains(
            "taken out meanwhile",
            Referring.Apply(Whole(), new ReferenceAct.SetForm([new Id("gone")], "page")).Refused,
            StringComparison.Ordinal
        );
        // A block that was joined to another is there still.
        var joined = Whole() with { Aliases = new Dictionary<Id, Id> { [new Id("old")] = new Id("h1") } };
        Assert.Equal("old", Reference(Done(joined, new ReferenceAct.PointAt([new Id("x1")], new Id("old"))), "x1").Target.Value);
    }

    [Fact]
    public void References_become_the_words_they_print_or_go()
    {
        var plain = Done(
            Whole(),
            new ReferenceAct.MakePlain(new Dictionary<Id, string> { [new Id("x1")] = "“Chocks”", [new Id("x3")] = "" })
        );
        Assert.Equal("Lead them as “Chocks” tells.", plain.Divisions[1].Blocks[1].OwnSpans().Single().PlainText());
        // What says nothing leaves nothing.
        Assert.DoesNotContain(plain.Divisions[1].Blocks[3].Inlines(), i => i is CrossReference { Id.Value: "x3" });
        Assert.DoesNotContain(Done(Whole(), new ReferenceAct.TakeOut([new Id("x2")])).Divisions[1].Blocks[3].Inlines(), i =>
            i is CrossReference { Id.Value: "x2" }
        );
    }

    [Fact]
    public void A_text_is_named_an_anchor_is_renamed_and_goes_when_nobody_points_there()
    {
        var named = Done(Whole(), new ReferenceAct.AddAnchor(new Id("p"), "leading animals", new Id("new")));
        Assert.Equal("leading animals", named.Divisions[1].Blocks[1].OwnSpans().Single().OfType<Anchor>().Single().Name);
        Assert.Contains(
            "already",
            Referring.Apply(named, new ReferenceAct.AddAnchor(new Id("q"), "Sump", new Id("n2"))).Refused,
            StringComparison.Ordinal
        );
        Assert.NotNull(Referring.Apply(named, new ReferenceAct.AddAnchor(new Id("q"), " ", new Id("n2"))).Refused);
        Assert.Contains(
            "points there",
            Referring.Apply(named, new ReferenceAct.TakeOutAnchors([new Id("an")])).Refused,
            StringComparison.Ordinal
        );
        var renamed = Done(named, new ReferenceAct.RenameAnchor(new Id("an"), "bilge"));
        Assert.Contains(renamed.Divisions[2].Blocks[0].Inlines(), i => i is Anchor { Name: "bilge" });
        Assert.Single(
            Done(renamed, new ReferenceAct.TakeOutAnchors([new Id("new")]))
                .Divisions[1]
                .Blocks[1]
                .OwnSpans()
                .Single()
                .OfType<TextRun>()
                .Take(1)
        );
    }

    [Fact]
    public void What_is_likest_to_what_was_printed_is_proposed_first()
    {
        var composed = Compose(Whole());
        var likely = LikelyTargets.Of(
            composed,
            new LostTarget("Section", "1.1", "Livestock on a ramp", "“Livestock on a ramp”"),
            new Id("a"),
            3
        );
        Assert.Equal("h1", likely[0].Target.Id.Value);
        Assert.Equal("h2", LikelyTargets.Of(composed, new LostTarget("", "", "Lashings", ""), new Id("a"), 3)[0].Target.Id.Value);
        Assert.Empty(LikelyTargets.Of(composed, new LostTarget("", "", "zzz", ""), new Id("b"), 0));
    }

    // ---- contents lists ----

    private static OwnList Own(string name) => ShippedLooks.Workshop.List("contents")!.ToOwn() with { Name = name };

    [Fact]
    public void A_list_of_the_manual_stands_in_the_place_of_the_looks_own_of_that_name()
    {
        var brief = Own("contents") with { Lines = [.. Own("contents").Lines.Where(l => l.Takes == Listable.Division)] };
        var composed = Compose(Done(Whole(), new ListAct.Keep(brief, null)));
        var page = composed.Pages.First(p => p.AllText().Contains("Crossing", StringComparison.Ordinal)).AllText();
        Assert.DoesNotContain("Livestock", page, StringComparison.Ordinal);
        Assert.Contains("Livestock", Compose(Whole()).Pages[0].AllText(), StringComparison.Ordinal);
        Assert.Contains(
            "Livestock",
            Compose(Done(Done(Whole(), new ListAct.Keep(brief, null)), new ListAct.TakeOut("contents"))).Pages[0].AllText(),
            StringComparison.Ordinal
        );
    }

    [Fact]
    public void Pieces_of_a_line_are_left_out_and_moved()
    {
        string Page(Func<OwnListLine, OwnListLine> change) =>
            Compose(Done(Whole(), new ListAct.Keep(Own("contents") with { Lines = [.. Own("contents").Lines.Select(change)] }, null)))
                .Pages[0]
                .AllText();
        Assert.Contains("1.1", Page(l => l), StringComparison.Ordinal);
        Assert.DoesNotContain("1.1", Page(l => l with { Numbered = false }), StringComparison.Ordinal);
        Assert.Contains("Hull, ", Page(l => l with { Leader = false, Separator = ", " }), StringComparison.Ordinal);
        Assert.DoesNotContain("\n1\n", Page(l => l with { Folio = FolioPlace.None, Numbered = false }), StringComparison.Ordinal);
    }

    [Fact]
    public void A_list_that_changed_only_its_dress_is_other_pages()
    {
        var caches = new Composition.CompositionCaches();
        var before = Compose(Whole(), caches);
        var larger = Own("contents") with
        {
            Lines = [.. Own("contents").Lines.Select(l => l with { Dress = l.Dress with { Face = "code" } })],
        };
        var manual = Done(Whole(), new ListAct.Keep(larger, null));
        var after = Compose(manual, caches);
        Assert.NotEqual(before.Pages[0].Key, after.Pages[0].Key);
        Assert.Equal(Compose(manual).Pages.Select(p => p.Key), after.Pages.Select(p => p.Key));
    }

    [Fact]
    public void Chapters_open_with_their_own_contents_by_one_switch()
    {
        var opened = Compose(Done(Whole(), new ListAct.OpenChapters("division")));
        var chapter = opened.Divisions.Single(d => d.Numbers.Division.Id.Value == "a");
        int Times(Composition.ComposedManual composed) =>
            composed.Pages[composed.Divisions[1].FirstSheet].AllText().Split("Chocks and lashings").Length;
        Assert.Equal("a", chapter.Numbers.Division.Id.Value);
        Assert.Equal(Times(Compose(Whole())) + 1, Times(opened));
        // A chapter without heads has nothing to list.
        var hull = opened.Divisions.Single(d => d.Numbers.Division.Id.Value == "b");
        Assert.DoesNotContain(hull.Numbers.Division.Blocks, b => b is ContentsList);
        // The same objects again: nothing is selected anew.
        var caches = new Composition.CompositionCaches();
        var manual = Done(Whole(), new ListAct.OpenChapters("division"));
        Assert.Same(Compose(manual, caches).Text.Divisions[1], Compose(manual with { Title = "Other" }, caches).Text.Divisions[1]);
    }

    [Fact]
    public void A_renamed_list_is_found_where_it_stands()
    {
        var kept = Done(Done(Whole(), new ListAct.Keep(Own("contents"), null)), new ListAct.Keep(Own("full"), "contents"));
        Assert.Equal("full", ((ContentsList)kept.Divisions[0].Blocks[0]).List);
        Assert.DoesNotContain(Compose(kept).LooseEnds, l => l.Kind == LooseEndKind.ListUnknown);
        Assert.Contains(
            "already",
            ListEditing.Apply(Done(kept, new ListAct.Keep(Own("brief"), null)), new ListAct.Keep(Own("full"), "brief")).Refused,
            StringComparison.Ordinal
        );
    }

    [Fact]
    public void A_list_that_cannot_be_set_is_refused_with_the_reason()
    {
        Assert.Contains("name", ListEditing.Apply(Whole(), new ListAct.Keep(Own(" "), null)).Refused, StringComparison.Ordinal);
        Assert.Contains(
            "levels",
            ListEditing.Apply(Whole(), new ListAct.Keep(Own("x") with { Lines = [] }, null)).Refused,
            StringComparison.Ordinal
        );
        var huge = Own("x").Lines[0] with { Dress = new LineDress("sans", Length.Points(480), Length.Points(500), Length.Zero) };
        Assert.Contains(
            "high",
            ListEditing.Apply(Whole(), new ListAct.Keep(Own("x") with { Lines = [huge] }, null)).Refused,
            StringComparison.Ordinal
        );
        Assert.Contains(
            "columns",
            ListEditing.Apply(Whole(), new ListAct.DressIndex(ShippedLooks.Workshop.Index.ToOwn() with { Columns = 9 })).Refused,
            StringComparison.Ordinal
        );
    }

    [Fact]
    public void What_a_look_says_of_a_list_comes_back_from_the_manuals_own() =>
        Assert.All(ShippedLooks.All.SelectMany(look => look.Lists.Select(list => (look, list))), x =>
        {
            var manual = Whole() with { Look = x.look.Name };
            var own = manual with { Lists = [.. x.look.Lists.Select(l => l.ToOwn())], IndexDress = x.look.Index.ToOwn() };
            Assert.Equal(x.list.ToOwn().ToString(), x.look.WornBy(own).List(x.list.Name)!.ToOwn().ToString());
            Assert.Equal(Compose(manual, x.look).Words(), Compose(own, x.look).Words());
        });

    [Fact]
    public void A_sample_of_a_level_is_the_line_as_it_stands_with_the_places_of_its_pieces()
    {
        var composed = Compose(Whole());
        var list = composed.Look.List("contents")!;
        var level = list.Lines.ToList().FindIndex(l => l.Kind == Numbering.TargetKind.Head);
        var sample = ListSample.Of(composed, list, level, 0)!;
        Assert.Equal([ListPiece.Number, ListPiece.Title, ListPiece.Leader, ListPiece.Folio], sample.Pieces.Select(p => p.Piece));
        Assert.True(sample.Pieces.Zip(sample.Pieces.Skip(1)).All(p => p.First.X + p.First.Width <= p.Second.X));
        Assert.Null(ListSample.Of(composed, list, 0, 0));
    }

    [Fact]
    public void A_list_longer_than_it_may_be_is_a_loose_end()
    {
        var long_ = Manual(
            new Division(new Id("c"), DivisionKind.Contents, "Contents", [new ContentsList(new Id("cl"))]),
            Chapter(
                "a",
                "Many",
                [
                    .. Enumerable
                        .Range(0, 90)
                        .SelectMany(n => new Block[] { Head("h" + n, HeadLevel.A, "Head number " + n), Words("p" + n, 8) }),
                ]
            )
        );
        ComposeLong(0, false);
        ComposeLong(1, true);
        ComposeLong(9, false);
        void ComposeLong(int most, bool told) =>
            Assert.Equal(
                told,
                Compose(Done(long_, new ListAct.Keep(Own("contents") with { MostPages = most }, null)))
                    .LooseEnds.Any(l => l.Kind == LooseEndKind.ListTooLong)
            );
    }

    // ---- loose ends ----

    [Fact]
    public void A_loose_end_that_is_let_be_is_told_no_more_until_it_says_something_else()
    {
        var manual = Whole() with { Divisions = [.. Whole().Divisions, Chapter("d", "D", Text("w", new TextRun("The the rope.")))] };
        var end = Compose(manual).LooseEnds.Single(l => l.Kind == LooseEndKind.WordTwice);
        Manual LetBe(string reason) => Done(manual, new ListAct.LetBe([new PutAside(end.Kind.ToString(), end.Block, end.KnownBy, reason)]));
        var composed = Compose(LetBe("it is a name"));
        Assert.DoesNotContain(composed.LooseEnds, l => l.Kind == LooseEndKind.WordTwice);
        Assert.Equal("it is a name", composed.LetBe.Single().Aside);
        Assert.Empty(Compose(LetBe("")).LetBe);
        var other = LetBe("it is a name") with
        {
            Divisions = [.. Whole().Divisions, Chapter("d", "D", Text("w", new TextRun("A rope rope.")))],
        };
        Assert.Contains(Compose(other).LooseEnds, l => l.Kind == LooseEndKind.WordTwice);
    }

    [Fact]
    public void Every_kind_of_loose_end_says_why_it_matters() =>
        Assert.All(Enum.GetValues<LooseEndKind>(), kind => Assert.NotEmpty(kind.Sort().Why));

    [Fact]
    public void A_term_without_a_definition_and_a_definition_without_a_use_are_loose_ends()
    {
        Manual Of(string used) =>
            Manual(
                Chapter("a", "A", Text("p", new TextRun("The "), new TextRun(used, SpanRoles.Term), new TextRun(" holds."))),
                new Division(
                    new Id("g"),
                    DivisionKind.Glossary,
                    "Glossary",
                    [
                        new DefinitionList(
                            new Id("gl"),
                            [new Definition(new Id("d"), [new TextRun("stopper")], [Text("dp", new TextRun("a short chain"))])]
                        )
                        {
                            Glossary = true,
                        },
                    ]
                )
            );
        List<LooseEndKind> Kinds(string used) =>
            [.. Compose(Of(used)).LooseEnds.Select(l => l.Kind).Where(k => k is LooseEndKind.TermUndefined or LooseEndKind.TermUnused)];
        Assert.Empty(Kinds("stopper"));
        Assert.Empty(Kinds("Stoppers"));
        Assert.Equal([LooseEndKind.TermUndefined, LooseEndKind.TermUnused], Kinds("gallows"));
    }

    [Fact]
    public void A_document_is_cited_only_by_text_that_binds()
    {
        Manual Of(Func<CrossReference, Block> citing, DivisionKind kind = DivisionKind.Chapter, string title = "A") =>
            Manual(
                new Division(new Id("a"), kind, title, [citing(To("x", "doc", "number"))]),
                Chapter(
                    "r",
                    "References",
                    new ReferenceList(new Id("rl"), [new ReferredDocument(new Id("doc"), "CF-1", [new TextRun("Cables")])])
                )
            );
        bool IsCited(Manual manual) => Compose(manual).LooseEnds.All(l => l.Kind != LooseEndKind.NotCited);
        Assert.True(IsCited(Of(x => Text("p", x))));
        Assert.True(IsCited(Of(x => new Admonition(new Id("w"), AdmonitionKind.Warning, [Text("p", x)]))));
        Assert.False(IsCited(Of(x => new Admonition(new Id("n"), AdmonitionKind.Note, [Text("p", x)]))));
        Assert.False(IsCited(Of(x => new Example(new Id("e"), [], [Text("p", x)]))));
        Assert.False(IsCited(Of(x => Text("p", new TextRun("x"), new Footnote(new Id("f"), [x])))));
        Assert.False(IsCited(Of(x => Text("p", x), DivisionKind.Appendix, "Background (informative)")));
        Assert.True(IsCited(Of(x => Text("p", x), DivisionKind.Appendix, "Forms (normative)")));
    }

    [Theory]
    [InlineData("figures", "Figures", false)]
    [InlineData("equations", "Equations", true)]
    [InlineData("examples", "Examples", true)]
    public void A_list_of_what_the_manual_has_is_a_division_like_any_other(string name, string title, bool own)
    {
        var manual = Manual(
            Chapter(
                "a",
                "Crossing",
                Words("p", 4),
                Figure("f1"),
                new Equation(new Id("q1"), "F = m a", "force is mass times acceleration") { Numbered = true },
                new Example(new Id("x1"), [new TextRun("Two carts")], [Words("xp", 5)])
            )
        ) with
        {
            Assets = [Picture],
        };
        var added = Planning.Planner.Apply(manual, new Planning.PlanAct.AddDivision(new Id("n"), DivisionKind.Contents, "", Id.None, name));
        Assert.Null(added.Refused);
        Assert.Equal(own, added.Manual!.Lists.Count == 1);
        Assert.Equal(title, added.Manual.Divisions[0].Title);
        var composed = Compose(added.Manual);
        var page = composed.Pages[0].AllText();
        Assert.Contains(
            name switch
            {
                "figures" => "Figure f1",
                "equations" => "force is mass",
                _ => "Two carts",
            },
            page,
            StringComparison.Ordinal
        );
        Assert.DoesNotContain(composed.LooseEnds, l => l.Kind == LooseEndKind.ListUnknown);
    }

    // ---- terms ----

    private static Manual WithGlossary() =>
        Manual(
            Chapter(
                "a",
                "Crossing",
                Head("h1", HeadLevel.A, "The gallows"),
                Text("p", new TextRun("Two gallows carry it; each of the gallows is steel.")),
                Text("q", new TextRun("Stoppers", SpanRoles.Code), new TextRun(" are typed; stoppers hold."))
            ),
            Chapter("b", "Hull", Text("r", new TextRun("The gallows again, and no unstoppering."))),
            new Division(
                new Id("g"),
                DivisionKind.Glossary,
                "Glossary",
                [
                    new DefinitionList(
                        new Id("dl"),
                        [
                            new Definition(new Id("d1"), [new TextRun("gallows")], [Text("g1", new TextRun("A frame; see stopper."))]),
                            new Definition(new Id("d2"), [new TextRun("stopper")], [Text("g2", new TextRun("A short chain."))]),
                        ]
                    )
                    {
                        Glossary = true,
                    },
                ]
            )
        );

    private static (string Block, string Words, string To)[] Ways(Manual manual) =>
        [
            .. Compose(manual)
                .Text.Divisions.SelectMany(d => d.Blocks)
                .SelectMany(b => b.WithInner())
                .SelectMany(b => b.OwnSpans().SelectMany(s => s).OfType<TextRun>().Select(r => (b.Id.Value, r.Text, r.LeadsTo.Value)))
                .Where(w => w.Item3 is { Length: > 0 }),
        ];

    [Fact]
    public void The_first_use_of_a_term_in_each_division_leads_to_the_glossary_by_choice()
    {
        Assert.Empty(Ways(WithGlossary()));
        var led = Done(WithGlossary(), new ListAct.LeadTerms(true));
        Assert.Equal([("p", "gallows", "d1"), ("q", "stoppers", "d2"), ("r", "gallows", "d1")], Ways(led));
        Assert.Equal(Compose(WithGlossary()).Words(), Compose(led).Words());
        // What a term leads to is on the page that the link names.
        Assert.NotNull(Compose(led).Find(new Id("d1")));
        Assert.Empty(Ways(Done(led, new ListAct.LeadTerms(false))));
    }

    [Fact]
    public void A_division_whose_terms_lead_as_before_stays_the_same_object()
    {
        var caches = new Composition.CompositionCaches();
        var led = Done(WithGlossary(), new ListAct.LeadTerms(true));
        var before = Compose(led, caches).Text.Divisions;
        var edited = led with
        {
            Divisions = [led.Divisions[0] with { Blocks = [.. led.Divisions[0].Blocks, Words("z", 9)] }, .. led.Divisions.Skip(1)],
        };
        var after = Compose(edited, caches).Text.Divisions;
        Assert.Same(before[1], after[1]);
        Assert.Same(before[0].Blocks[1], after[0].Blocks[1]);
        Assert.Equal(Compose(edited).Pages.Select(p => p.Key), Compose(edited, caches).Pages.Select(p => p.Key));
    }
}
