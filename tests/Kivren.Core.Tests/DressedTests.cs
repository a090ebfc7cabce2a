using System.Text.Json.Nodes;
using Kivren.Core.Composition;
using Kivren.Core.Content;
using Kivren.Core.Display;
using Kivren.Core.Looks;
using Kivren.Core.LooseEnds;
using Kivren.Core.Type;
using static Kivren.Core.Tests.Build;

namespace Kivren.Core.Tests;

/// <summary>What a look can give to roles, words, numbers and edges of pages, seen on the pages.</summary>
public class DressedTests
{
    private const string Sea = """[{ "name": "sea", "screen": "#1f3a5f" }, { "name": "sand", "screen": "#e8dcc0", "print": 90 }]""";
    private static readonly Tone SeaTone = new(0, 0x1f3a5f),
        SandTone = new(90, 0xe8dcc0);

    /// <summary>The workshop's look with parts of its file set otherwise; the text of each is merged into what stands there.</summary>
    private static Look Look(params (string Place, string Json)[] settings)
    {
        var root = JsonNode.Parse(LookFile.Write(ShippedLooks.Workshop))!.AsObject();
        root["colours"] = JsonNode.Parse(Sea);
        foreach (var (place, json) in settings)
        {
            JsonNode at = root;
            foreach (var step in place.Split('.', StringSplitOptions.RemoveEmptyEntries))
                at = int.TryParse(step, out var index) ? at[index]! : at[step] ?? (at[step] = new JsonObject());
            foreach (var (name, value) in JsonNode.Parse(json)!.AsObject())
                at[name] = value?.DeepClone();
        }
        var look = LookFile.Read(root.ToJsonString(), out var faults);
        Assert.Empty(faults);
        return look!;
    }

    private static List<DisplayItem> Items(ComposedManual composed) =>
        [.. composed.Pages.SelectMany(p => DisplayList.Of(p, composed.Look).Items)];

    private static IEnumerable<WordItem> WordsOf(ComposedManual composed, string block) =>
        Items(composed).OfType<WordItem>().Where(w => w.Block.Value == block);

    private static IEnumerable<RuleItem> Bars(ComposedManual composed, Tone tone) =>
        Items(composed).OfType<RuleItem>().Where(r => r.Tone == tone);

    [Fact]
    public void A_head_has_its_colour_its_rules_and_its_tint()
    {
        var look = Look(("heads.0", """{ "colour": "sea", "ruleAbove": 1, "ruleColour": "sea", "tintColour": "sand", "tintInset": 5 }"""));
        var composed = Compose(Manual(Chapter("a", "Winch", Words("p", 40), Head("h", HeadLevel.A, "The band"), Words("q", 40))), look);
        var words = WordsOf(composed, "h").ToList();
        Assert.All(words, w => Assert.Equal(SeaTone, w.Word.Style.Ink));
        Assert.All(WordsOf(composed, "q"), w => Assert.Equal(default, w.Word.Style.Ink));
        var tint = Assert.Single(Bars(composed, SandTone));
        var rule = Assert.Single(Bars(composed, SeaTone));
        Assert.Equal(look.Master.Measure.Millipoints, tint.Width);
        Assert.Equal(tint.Y, rule.Y + rule.Height);
        Assert.InRange(words[0].Y, tint.Y, tint.Y + tint.Height);
        Assert.Equal(tint.X + 5_000, words[0].X);
        // Painted from behind: the tint before the words on it.
        var items = Items(composed);
        Assert.True(items.IndexOf(tint) < items.IndexOf(words[0]));
    }

    [Fact]
    public void A_title_and_a_table_have_rules_and_tints_of_their_colours()
    {
        var look = Look(
            ("divisionTitle", """{ "ruleBelow": 2, "ruleColour": "sea" }"""),
            ("table", """{ "headerColour": "sand", "ruleColour": "sea" }""")
        );
        var rows = Enumerable.Range(0, 3).Select(r => new Row(new Id($"r{r}"), [new Cell(new Id($"c{r}"), [new TextRun($"cell {r}")])]));
        var table = new Table(new Id("t"), 1, [], [new TextRun("Parts")], [.. rows]);
        var composed = Compose(Manual(Chapter("a", "Winch", table)), look);
        Assert.Contains(Bars(composed, SeaTone), r => r.Height == 2_000 && r.Width == look.Master.Measure.Millipoints);
        var header = Assert.Single(Bars(composed, SandTone));
        Assert.InRange(WordsOf(composed, "c0").First().Y, header.Y, header.Y + header.Height);
        Assert.True(Bars(composed, SeaTone).Count() >= 4);
    }

    [Fact]
    public void Words_have_the_dress_of_their_role_and_of_the_manuals_own()
    {
        var look = Look(
            (
                "",
                """{ "spans": [{ "role": "control", "colour": "sea", "smallCapitals": true }, """
                    + """{ "role": "gauge", "face": "code", "size": 80 }] }"""
            )
        );
        var composed = Compose(
            Manual(
                Chapter(
                    "a",
                    "Winch",
                    Text("p", new TextRun("Turn "), new TextRun("Release", SpanRoles.Control), new TextRun(" to ")),
                    Text("q", new TextRun("At "), new TextRun("40kN") { OwnRole = "gauge" })
                )
            ) with
            {
                Roles = [new OwnRole("gauge", "code")],
            },
            look
        );
        var control = WordsOf(composed, "p").Single(w => w.Word.Word.Text == "Release").Word.Style;
        Assert.Equal((SeaTone, Features.SmallCaps), (control.Ink, control.Features & Features.SmallCaps));
        var gauge = WordsOf(composed, "q").Single(w => w.Word.Word.Text == "40kN").Word.Style;
        Assert.Equal((FaceLibrary.Code, look.Body.Size.Scale(80, 100)), (gauge.Face, gauge.Size));
    }

    [Fact]
    public void A_head_stands_across_the_columns_and_keeps_with_what_follows()
    {
        var look = Look(("heads.0", """{ "across": true }"""), ("masters.0", """{ "columns": 2, "gutter": 14 }"""));
        for (var before = 100; before < 500; before += 40)
        {
            var composed = Compose(
                Manual(
                    Chapter(
                        "a",
                        "Winch",
                        Words("p", before),
                        Head("h", HeadLevel.A, "The band and what it does to the drum"),
                        Words("q", 90)
                    )
                ),
                look
            );
            var page = composed.Pages.Single(p => DisplayList.Of(p, look).Items.OfType<WordItem>().Any(w => w.Block.Value == "h"));
            var items = DisplayList.Of(page, look).Items.OfType<WordItem>().ToList();
            var head = items.Where(w => w.Block.Value == "h").ToList();
            // On one line, wider than a column; text above it ends above it in both columns, and what follows begins below.
            Assert.Single(head.Select(w => w.Y).Distinct());
            Assert.True(head.Max(w => w.X) - head.Min(w => w.X) > look.Master.ColumnWidth(2, Length.Points(14)));
            Assert.All(items.Where(w => w.Block.Value == "p"), w => Assert.True(w.Y < head[0].Y));
            Assert.Contains(items, w => w.Block.Value == "q" && w.Y > head[0].Y);
        }
    }

    [Fact]
    public void Words_that_lead_somewhere_have_their_colour_and_others_not()
    {
        var look = Look(("", """{ "linkColour": "sea" }"""));
        var composed = Compose(
            Manual(
                Chapter(
                    "a",
                    "Winch",
                    Text(
                        "p",
                        new TextRun("See "),
                        To("r", "h", "title-page"),
                        new TextRun(" or "),
                        new TextRun("elsewhere", Web: "https://example.org")
                    ),
                    Head("h", HeadLevel.A, "Band")
                )
            ),
            look
        );
        var coloured = WordsOf(composed, "p").Where(w => w.Word.Style.Ink == SeaTone).Select(w => w.Word.Word.Text).ToList();
        Assert.Contains("elsewhere", coloured);
        Assert.Contains("“Band”", coloured);
        Assert.DoesNotContain("See", coloured);
        Assert.DoesNotContain("or", coloured);
    }

    [Fact]
    public void No_fewer_letters_stand_at_a_hyphen_than_the_look_says()
    {
        var words = string.Join(' ', Enumerable.Repeat("maintenance operating instructions regulations considerably", 60));
        static IEnumerable<(int Before, int After)> Divided(ComposedManual composed) =>
            from w in WordsOf(composed, "p")
            where w.Word.Hyphen
            let before = w.Word.Word.Characters(w.Word.From, w.Word.To).Length
            select (before, w.Word.Word.Text.Length - before);
        var manual = Manual(Chapter("a", "Winch", Text("p", new TextRun(words))));
        Assert.Contains(Divided(Compose(manual, Look())), d => d.Before < 4 || d.After < 4);
        var strict = Divided(Compose(manual, Look(("dresses.0.dress", """{ "lettersBefore": 4, "lettersAfter": 4 }""")))).ToList();
        Assert.NotEmpty(strict);
        Assert.All(strict, d => Assert.True(d is { Before: >= 4, After: >= 4 }));
    }

    [Fact]
    public void A_role_of_the_manuals_own_is_dressed_before_the_one_it_is_founded_on()
    {
        var own = """{ "role": "tip", "dress": { "size": 12, "leading": 16, "colour": "sea", "tint": 80 } }""";
        var shipped = JsonNode.Parse(LookFile.Write(ShippedLooks.Workshop))!["dresses"]!.ToJsonString();
        var look = Look(("", $$"""{ "dresses": {{shipped[..^1]}}, {{own}}] }"""));
        var manual = Manual(
            Chapter(
                "a",
                "Winch",
                new Aside(new Id("x"), [], [Words("in", 9)]) { OwnRole = "tip" },
                Words("p", 9) with
                {
                    OwnRole = "tip",
                },
                Words("q", 9)
            )
        ) with
        {
            Roles = [new OwnRole("tip", "aside"), new OwnRole("plain", "body")],
        };
        var composed = Compose(manual, look);
        Assert.All(WordsOf(composed, "in").Concat(WordsOf(composed, "p")), w =>
            Assert.Equal((SeaTone, 12_000), (w.Word.Style.Ink, w.Word.Style.Size.Millipoints))
        );
        Assert.All(WordsOf(composed, "q"), w => Assert.Equal(default, w.Word.Style.Ink));
        var doubt = Assert.Single(LookDoubts.Of(composed), d => d.Place == "dresses");
        Assert.Contains("“plain”", doubt.Says, StringComparison.Ordinal);
    }

    /// <summary>Three lines at a turn: no page begins or ends with fewer of one paragraph, wherever it stands.</summary>
    [Fact]
    public void As_many_lines_stand_together_at_a_turn_as_the_look_says()
    {
        var look = Look(("dresses.0.dress", """{ "linesAtTurn": 3 }"""));
        for (var before = 300; before < 420; before += 7)
        {
            var composed = Compose(Manual(Chapter("a", "Winch", Words("p", before), Words("q", 120), Words("r", 120))), look);
            foreach (var page in composed.Pages.Where(p => p.Body is not null))
            foreach (var block in new[] { "q", "r" })
            {
                int LinesOn(ComposedPage p) =>
                    DisplayList.Of(p, look).Items.OfType<WordItem>().Where(w => w.Block.Value == block).Select(w => w.Y).Distinct().Count();
                Assert.False(LinesOn(page) is 1 or 2, $"{before}: {LinesOn(page)} lines of {block} on page {page.Folio}");
            }
        }
    }

    [Fact]
    public void A_paragraph_keeps_with_the_next_and_another_stays_whole()
    {
        var look = Look(
            ("dresses.0.dress", """{ "together": true, "keepsNext": false }"""),
            ("dresses.1.dress", """{ "keepsNext": true }""")
        );
        Assert.Equal("lead", look.Dresses[1].Role);
        for (var before = 250; before < 400; before += 9)
        {
            var composed = Compose(
                Manual(Chapter("a", "Winch", Words("p", before), Words("k", 8) with { Role = "lead" }, Words("q", 100), Words("r", 100))),
                look
            );
            int PageOf(string block, bool last = false) =>
                composed
                    .Pages.Select((p, i) => (i, On: DisplayList.Of(p, look).Items.OfType<WordItem>().Any(w => w.Block.Value == block)))
                    .Where(p => p.On)
                    .Select(p => p.i)
                    .OrderBy(i => last ? -i : i)
                    .First();
            Assert.Equal(PageOf("k"), PageOf("q"));
            Assert.Equal(PageOf("q"), PageOf("q", last: true));
            Assert.Equal(PageOf("r"), PageOf("r", last: true));
        }
    }

    [Theory]
    [InlineData("""{ "parts": "letters", "chapters": "romanCapitals", "captionSign": "." }""", "A I II", "I.1 I.2 II.1", "I.1 II.1")]
    [InlineData("""{ "captionsBy": "part" }""", "I 1 2", "I-1 I-2 I-3", "1.1 2.1")]
    [InlineData("""{ "captionsBy": "manual", "headSign": "–" }""", "I 1 2", "1 2 3", "1–1 2–1")]
    [InlineData("""{ "chapters": "none" }""", "I  ", "1 2 1", " ")]
    public void Numbers_run_in_the_schemes_of_the_look(string numbering, string divisions, string figures, string heads)
    {
        var manual = Manual(
            new Division(new Id("p"), DivisionKind.Part, "Working", []),
            Chapter("a", "Winch", Head("h1", HeadLevel.A, "Band"), Figure("f1"), Figure("f2")),
            Chapter("b", "Pontoon", Head("h2", HeadLevel.A, "Planks"), Figure("f3"))
        ) with
        {
            Assets = [Picture],
        };
        var composed = Compose(manual, Look(("numbering", numbering)));
        string Numbers(params string[] ids) => string.Join(' ', ids.Select(i => composed.Numbers.Find(new Id(i))!.Value.Target.Number));
        Assert.Equal((divisions, figures, heads), (Numbers("p", "a", "b"), Numbers("f1", "f2", "f3"), Numbers("h1", "h2")));
    }

    [Fact]
    public void A_head_set_into_its_paragraph_keeps_its_number()
    {
        var composed = Compose(
            Manual(Chapter("a", "Winch", Head("h", HeadLevel.A, "The band"), Words("p", 30))),
            Look(("", """{ "runIn": "a" }"""))
        );
        Assert.StartsWith("1.1", string.Concat(WordsOf(composed, "p").Take(2).Select(w => w.Word.Word.Text)), StringComparison.Ordinal);
    }

    [Fact]
    public void Chapters_open_with_their_contents_and_a_manual_can_choose_its_own()
    {
        var look = Look(("sequences.chapter", """{ "contents": "division" }"""));
        var manual = Manual(
            Chapter("a", "Winch", Head("h1", HeadLevel.A, "The zwickel"), Words("p", 60), Head("h2", HeadLevel.A, "The drum"))
        );
        var composed = Compose(manual, look);
        var first = DisplayList.Of(composed.Pages[0], look).Items.OfType<WordItem>().Select(w => w.Word.Word.Text).ToList();
        Assert.Equal(2, first.Count(w => w == "zwickel"));
        Assert.Equal(2, Compose(manual with { ChapterContents = "division" }, look).Pages[0].AllText().Split("zwickel").Length - 1);
        // One head alone needs no list of it.
        var lone = Compose(Manual(Chapter("a", "Winch", Head("h1", HeadLevel.A, "The zwickel"), Words("p", 60))), look);
        Assert.Equal(1, lone.Pages[0].AllText().Split("zwickel").Length - 1);
    }

    [Fact]
    public void Pieces_stand_free_and_mirrored_and_rules_over_and_under_the_edges()
    {
        var free = """
            { "fields": [
                { "edge": "head", "place": "inner", "pattern": "{manual}", "dress": { "face": "sans", "size": 8, "leading": 10 } },
                { "edge": "free", "place": "left", "x": 20, "y": 300, "pattern": "{number}",
                  "dress": { "face": "sans", "size": 8, "leading": 10 } }
              ], "headRuleOver": 4, "footRuleUnder": 4 }
            """;
        var look = Look(("masters.0", free), ("pages", """{ "verso": null, "opening": null }"""));
        var composed = Compose(Manual(Chapter("a", "Winch", Words("p", 900))), look);
        var pages = composed.Pages.Where(p => p.Body is not null).Take(2).Select(p => DisplayList.Of(p, look)).ToList();
        WordItem Number(DisplayPage page) => page.Items.OfType<WordItem>().Single(w => w.Y == 300_000);
        Assert.Equal(20_000, Number(pages[0]).X);
        // On the left page the inner edge is at the right.
        Assert.Equal(pages[1].Width - 20_000, Number(pages[1]).X);
        Assert.Contains(pages[0].Items.OfType<RuleItem>(), r => r.Y == (look.Master.HeadTop - Length.Points(4)).Millipoints);
    }

    [Fact]
    public void What_is_hard_to_read_or_never_stands_is_said()
    {
        var look = Look(
            ("", """{ "colours": [{ "name": "pale", "screen": "#cccccc", "print": 70 }] }"""),
            ("heads.0", """{ "colour": "pale" }"""),
            (
                "masters.0",
                """{ "fields": [{ "edge": "head", "place": "inner", "pattern": "{term:first} {head:C}","""
                    + """ "dress": { "face": "sans", "size": 8, "leading": 10 } }] }"""
            )
        );
        var doubts = LookDoubts.Of(Compose(Manual(Chapter("a", "Winch", Head("h", HeadLevel.A, "Band"), Words("p", 900))), look));
        Assert.Contains(doubts, d => d.Place == "colours[0].screen" && d.Says.Contains("1.6", StringComparison.Ordinal));
        Assert.Contains(doubts, d => d.Place == "colours[0].print");
        Assert.Contains(doubts, d =>
            d.Place == "masters[0].fields[0].pattern" && d.Says.Contains("defines no terms", StringComparison.Ordinal)
        );
        Assert.Contains(doubts, d => d.Place == "masters[0].fields[0].pattern" && d.Says.Contains("no C heads", StringComparison.Ordinal));
    }

    [Theory]
    [InlineData("left", 20, true)]
    [InlineData("inner", 20, false)]
    [InlineData("left", 160, false)]
    [InlineData("right", 410, true)]
    public void A_free_piece_that_leaves_the_paper_on_facing_pages_is_said(string place, int x, bool said)
    {
        var look = Look(
            (
                "masters.0",
                $$"""{ "fields": [{ "edge": "free", "place": "{{place}}", "x": {{x}}, "y": 200, "pattern": "{folio}","""
                    + """ "dress": { "face": "sans", "size": 8, "leading": 10 } }] }"""
            )
        );
        var doubts = LookDoubts.Of(Compose(Manual(Chapter("a", "Winch", Words("p", 900))), look));
        Assert.Equal(said, doubts.Any(d => d.Place == "masters[0].fields[0].place"));
    }
}
