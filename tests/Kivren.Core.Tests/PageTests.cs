using Kivren.Core.Composition;
using Kivren.Core.Content;
using Kivren.Core.Looks;
using Kivren.Core.LooseEnds;
using static Kivren.Core.Tests.Build;

namespace Kivren.Core.Tests;

public class PageTests
{
    private static IEnumerable<(ComposedPage Page, Piece First, Piece Last, Piece? Next)> Turns(ComposedManual composed)
    {
        foreach (var page in composed.Pages)
        {
            if (page.Body is not { Pieces.Length: > 0 } body)
                continue;
            var flow = body.Pieces.Where(p => !page.Cut!.Galley.Pieces[p.Piece].Floats).Select(p => p.Piece).ToList();
            if (flow.Count == 0)
                continue;
            var pieces = page.Cut!.Galley.Pieces;
            yield return (page, pieces[flow[0]], pieces[flow[^1]], flow[^1] + 1 < pieces.Length ? pieces[flow[^1] + 1] : null);
        }
    }

    /// <summary>A chapter whose paragraphs of all lengths meet every page foot in every way.</summary>
    private static Division Long(string id, int paragraphs, Func<int, IEnumerable<Block>>? extra = null) =>
        Chapter(
            id,
            "Long chapter",
            Enumerable
                .Range(0, paragraphs)
                .SelectMany(n => (extra?.Invoke(n) ?? []).Append(Words($"{id}-p{n}", 20 + n * 37 % 90)))
                .ToArray()
        );

    [Fact]
    public void A_chapter_opens_on_a_recto()
    {
        var composed = Compose(Manual(Long("a", 3), Long("b", 40), Long("c", 3)));
        foreach (var division in composed.Divisions)
            Assert.Equal(0, division.FirstSheet % 2);
    }

    [Fact]
    public void No_line_of_a_paragraph_stands_alone_at_a_foot_or_a_head()
    {
        var composed = Compose(Manual(Long("a", 120)));
        Assert.True(composed.Pages.Count > 15);
        foreach (var (page, _, _, next) in Turns(composed).SkipLast(1))
            Assert.False(next?.Keep is Keep.Orphan or Keep.Widow, $"page {page.Folio}: {page.Reason}");
    }

    [Fact]
    public void A_head_keeps_two_lines_of_what_follows()
    {
        var composed = Compose(
            Manual(Long("a", 150, n => n % 3 == 0 ? [Head($"h{n}", n % 2 == 0 ? HeadLevel.A : HeadLevel.B, $"Head {n}")] : []))
        );
        foreach (var (page, _, _, next) in Turns(composed))
            Assert.False(next?.Keep is Keep.Head or Keep.TwoLines or Keep.Whole, $"page {page.Folio}: {page.Reason}");
        Assert.DoesNotContain(composed.LooseEnds, l => l.Kind == LooseEndKind.KeepGivenUp);
    }

    [Fact]
    public void A_lead_in_stays_with_its_list()
    {
        var composed = Compose(
            Manual(
                Long("a", 90, n =>
                    n % 4 == 0
                        ?
                        [
                            Text($"lead{n}", new TextRun("You need for this:")),
                            new ItemList(
                                new Id($"l{n}"),
                                ListKind.Unordered,
                                1,
                                Enumerable.Range(0, 4).Select(i => new Item(new Id($"i{n}-{i}"), [Words($"ip{n}-{i}", 9)])).ToArray()
                            ),
                        ]
                        : []
                )
            )
        );
        foreach (var (page, _, _, next) in Turns(composed))
            Assert.False(next?.Keep is Keep.LeadIn, $"page {page.Folio}: {page.Reason}");
    }

    [Fact]
    public void Every_page_turn_has_a_reason_that_names_what_it_keeps()
    {
        var composed = Compose(Manual(Long("a", 150, n => n % 3 == 0 ? [Head($"h{n}", HeadLevel.B, $"Head {n}")] : [])));
        Assert.All(composed.Pages, p => Assert.False(string.IsNullOrWhiteSpace(p.Reason)));
        Assert.Contains(composed.Pages, p =>
            p.Reason.Contains("the B head “Head", StringComparison.Ordinal) && p.Reason.Contains("keeps", StringComparison.Ordinal)
        );
        Assert.Equal("The division ends here.", composed.Pages[^1].Reason);
    }

    [Fact]
    public void A_footnote_stands_on_the_page_of_its_call()
    {
        var composed = Compose(
            Manual(
                Long("a", 120, n =>
                    n % 5 == 0
                        ?
                        [
                            Text(
                                $"n{n}",
                                new TextRun("The log sheet is kept in the deckhouse"),
                                new Footnote(
                                    new Id($"note{n}"),
                                    [new TextRun("One sheet a day, signed by whoever turned the crank last.")]
                                ),
                                new TextRun(" as long as the season lasts.")
                            ),
                        ]
                        : []
                )
            )
        );
        var called = 0;
        foreach (var page in composed.Pages.Where(p => p.Body is not null))
        {
            var calls = page.Body!.Pieces.SelectMany(p => page.Cut!.Galley.Pieces[p.Piece].Notes ?? []).Select(n => n.Id).ToList();
            called += calls.Count;
            Assert.Equal(calls, page.Body.Notes.Where(n => n.From == 0).Select(n => n.Note.Id));
        }
        Assert.Equal(24, called);
    }

    [Fact]
    public void A_footnote_longer_than_its_foot_goes_on_overleaf_and_loses_no_line()
    {
        var longNote = new Footnote(new Id("note"), [new TextRun(Words("w", 900).Content.PlainText())]);
        var composed = Compose(
            Manual(
                Chapter("a", "Notes", Words("p1", 200), Text("p2", new TextRun("Here"), longNote, new TextRun(" it is.")), Words("p3", 400))
            )
        );
        var parts = composed.Pages.Where(p => p.Body is not null).SelectMany(p => p.Body!.Notes).ToList();
        Assert.True(parts.Count > 1);
        Assert.Equal(0, parts[0].From);
        for (var i = 1; i < parts.Count; i++)
            Assert.Equal(parts[i - 1].To, parts[i].From);
        Assert.Equal(parts[0].Note.Lines.Count, parts[^1].To);
    }

    [Fact]
    public void A_figure_that_does_not_fit_goes_to_the_next_top_and_text_flows_on()
    {
        var picture = new Asset("p.svg", "image/svg+xml", 300, 220, "hash");
        var flowedOn = 0;
        for (var words = 200; words < 420; words += 10)
        {
            var manual = Manual(
                Chapter(
                    "a",
                    "Figures",
                    Words("p1", words),
                    new Figure(new Id("f"), "p.svg", [new TextRun("The drum")], "A drum"),
                    Words("p2", 500)
                )
            ) with
            {
                Assets = [picture],
            };
            var composed = Compose(manual);
            var figure = Array.FindIndex(composed.Divisions[0].Cut.Galley.Pieces, p => p.Floats);
            var page = composed.Pages.First(p => p.Body!.Pieces.Any(x => x.Piece == figure));
            if (page.Body!.Pieces[0].Piece != figure || page.Sheet == 0)
                continue;
            if (composed.Pages[page.Sheet - 1].Body!.Pieces.Any(p => p.Piece > figure))
                flowedOn++;
        }
        Assert.True(flowedOn > 3, $"flowed on {flowedOn} times");
    }

    [Fact]
    public void Figures_keep_their_order()
    {
        var picture = new Asset("p.svg", "image/svg+xml", 300, 200, "hash");
        var blocks = Enumerable
            .Range(0, 12)
            .SelectMany(n => new Block[] { Words($"p{n}", 120), new Figure(new Id($"f{n}"), "p.svg", [new TextRun($"Figure {n}")], "x") })
            .ToArray();
        var composed = Compose(Manual(Chapter("a", "Figures", blocks)) with { Assets = [picture] });
        var order = composed
            .Pages.Where(p => p.Body is not null)
            .SelectMany(p => p.Body!.Pieces.Select(x => p.Cut!.Galley.Pieces[x.Piece]))
            .Where(p => p.Floats)
            .Select(p => p.Block.Value)
            .ToList();
        Assert.Equal(Enumerable.Range(0, 12).Select(n => $"f{n}"), order);
    }

    [Fact]
    public void Header_rows_stand_again_on_every_page_a_table_reaches()
    {
        var rows = Enumerable
            .Range(0, 60)
            .Select(r => new Row(
                new Id($"r{r}"),
                [
                    new Cell(new Id($"c{r}a"), [new TextRun(r == 0 ? "Quantity" : $"Pull {r}")]),
                    new Cell(new Id($"c{r}b"), [new TextRun(r == 0 ? "Limit" : $"{r} kN")]),
                ]
            ))
            .ToArray();
        var composed = Compose(
            Manual(
                Chapter(
                    "a",
                    "Table",
                    Words("p", 60),
                    new Table(new Id("t"), 1, [CellAlignment.Left, CellAlignment.Right], [new TextRun("Limits")], rows)
                )
            )
        );
        var later = composed.Pages.Where(p => p.Body is not null).Skip(1).ToList();
        Assert.True(later.Count >= 2);
        Assert.All(later, p => Assert.Single(p.Body!.Headers));
        Assert.Equal(59, composed.Pages.SelectMany(p => p.Lines()).Count(l => l.StartsWith("Pull", StringComparison.Ordinal)));
    }

    [Fact]
    public void A_row_is_never_cut_in_two()
    {
        var rows = Enumerable
            .Range(0, 40)
            .Select(r => new Row(new Id($"r{r}"), [new Cell(new Id($"c{r}"), [new TextRun(Words("w", 40).Content.PlainText())])]))
            .ToArray();
        var composed = Compose(Manual(Chapter("a", "Table", new Table(new Id("t"), 0, [], [], rows))));
        foreach (var page in composed.Pages)
        foreach (var placed in page.Body!.Pieces)
            Assert.True(placed.Y + page.Cut!.Galley.Pieces[placed.Piece].Height <= ShippedLooks.Workshop.Master.Depth.Millipoints);
    }

    [Fact]
    public void A_page_break_begins_a_page_and_says_so()
    {
        var composed = Compose(Manual(Chapter("a", "Breaks", Words("p1", 30), new PageBreak(new Id("b")), Words("p2", 30))));
        Assert.Equal(2, composed.Pages.Count);
        Assert.StartsWith("Forced", composed.Pages[0].Reason, StringComparison.Ordinal);
    }

    [Fact]
    public void Looking_ahead_is_never_worse_than_cutting_page_by_page()
    {
        for (var seed = 0; seed < 12; seed++)
        {
            var random = new Random(seed);
            var composed = Compose(Manual(Long("a", 60, n => random.Next(4) == 0 ? [Head($"h{n}", HeadLevel.B, $"Head {n}")] : [])));
            var galley = composed.Divisions[0].Cut.Galley;
            Assert.True(composed.Divisions[0].Cut.Cost <= PageCutter.PageByPage(galley, ShippedLooks.Workshop).Cost);
        }
    }

    [Fact]
    public void A_better_cut_three_pages_on_changes_the_pages_before_it()
    {
        // 35 lines fill a page. Lines 133 to 145 belong together, so no page can end among them. Page by page the first
        // three pages are full and the fourth ends 8 lines short; looking ahead, four pages give two lines each.
        var lines = Enumerable
            .Range(0, 200)
            .Select(n => new Piece
            {
                Height = 13_000,
                Drawn = [],
                Header = -1,
                Keep = n is > 132 and < 146 ? Keep.Whole : Keep.None,
            })
            .ToArray();
        var galley = GalleyOf(lines);
        var look = ShippedLooks.Workshop with { LevelFacing = false };
        var ahead = PageCutter.Cut(galley, look);
        var byPage = PageCutter.PageByPage(galley, look);
        static int Taken(Cut cut, int page) => cut.Pages[page].Pieces.Length;
        Assert.Equal([35, 35, 35, 27], Enumerable.Range(0, 4).Select(p => Taken(byPage, p)));
        Assert.Equal([33, 33, 33, 33], Enumerable.Range(0, 4).Select(p => Taken(ahead, p)));
        Assert.True(ahead.Cost < byPage.Cost);
        Assert.StartsWith("Ends 2 lines short so that", ahead.Pages[0].Reason, StringComparison.Ordinal);
    }

    [Fact]
    public void Nothing_reaches_below_the_text_area()
    {
        var composed = Compose(
            Manual(Long("a", 150, n => n % 6 == 0 ? [new Admonition(new Id($"ad{n}"), AdmonitionKind.Warning, [Words($"aw{n}", 40)])] : []))
        );
        foreach (var page in composed.Pages.Where(p => p.Body is not null))
        {
            var foot = page.Body!.Pieces.Max(p => p.Y + page.Cut!.Galley.Pieces[p.Piece].Height);
            Assert.True(foot <= ShippedLooks.Workshop.Master.Depth.Millipoints, $"page {page.Folio}");
        }
    }

    [Fact]
    public void A_manual_with_no_text_and_empty_divisions_composes()
    {
        Assert.Empty(Compose(Manual()).Pages);
        Assert.Equal(1999, Compose(Manual(Enumerable.Range(0, 1000).Select(n => Chapter($"c{n}", $"Chapter {n}")).ToArray())).Pages.Count);
    }

    public static TheoryData<string> AfterABreak =>
        ["run-in head and text", "run-in head and list", "run-in head alone", "two run-in heads", "figure", "a division that runs on"];

    /// <summary>Whatever stands after a page break, it begins a page; nothing of what stands before it does.</summary>
    [Theory]
    [MemberData(nameof(AfterABreak))]
    public void Whatever_follows_a_page_break_begins_a_page(string what)
    {
        var list = new ItemList(new Id("list"), ListKind.Unordered, 1, [new Item(new Id("i"), [Words("after", 8)])]);
        Block[] follows = what switch
        {
            "run-in head and text" => [Head("after", HeadLevel.C, "Case"), Words("text", 20)],
            "run-in head and list" => [Head("after", HeadLevel.C, "Case"), list with { Items = [new Item(new Id("i"), [Words("li", 8)])] }],
            "run-in head alone" => [Head("after", HeadLevel.C, "Case")],
            "two run-in heads" => [Head("after", HeadLevel.C, "Case"), Head("second", HeadLevel.C, "Drum"), Words("text", 20)],
            "figure" => [Figure("after")],
            _ => [],
        };
        var before = Words("before", 30);
        Division[] divisions =
            what == "a division that runs on"
                ?
                [
                    Chapter("a", "Breaks", before, new PageBreak(new Id("b"))),
                    Chapter("c", "Next", Words("after", 20)) with
                    {
                        Begins = Begins.RunsOn,
                    },
                ]
                : [Chapter("a", "Breaks", [before, new PageBreak(new Id("b")), .. follows])];
        var composed = Compose(Manual(divisions) with { Assets = [Picture] });
        Assert.Equal((0, 1, 2), (composed.SheetOf("before"), composed.SheetOf("after"), composed.Pages.Count));
        Assert.StartsWith("Forced", composed.Pages[0].Reason, StringComparison.Ordinal);
    }

    [Fact]
    public void Nothing_runs_on_onto_a_page_without_running_matter()
    {
        var legal = new Division(new Id("l"), DivisionKind.Legal, "Legal", [Words("notice", 20)]);
        var composed = Compose(
            Manual(legal, Chapter("a", "First", Words("p", 20)), Chapter("b", "Second", Words("q", 20))),
            ShippedLooks.Code
        );
        Assert.Equal((0, 1, 1), (composed.SheetOf("notice"), composed.SheetOf("p"), composed.SheetOf("q")));
        Assert.Null(composed.Pages[0].Furniture);
        Assert.NotNull(composed.Pages[1].Furniture);
    }

    [Fact]
    public void A_heading_said_again_over_a_column_of_the_index_keeps_to_its_column()
    {
        const string heading = "load_configuration_of_the_provider(ferry.winch.DefaultProvider.long.name.of.a.method)";
        var entries = Enumerable
            .Range(0, 160)
            .Select(i => new Paragraph(
                new Id("p" + i),
                "body",
                [new TextRun("Text."), new IndexEntry(new Id("e" + i), [heading, $"sub {i:000}"])]
            ));
        var composed = Composition.Composer.Compose(
            Manual(Chapter("a", "A", [.. entries]), new Division(new Id("i"), DivisionKind.Index, "Index", [new IndexList(new Id("il"))])),
            Edition.Whole,
            Looks.ShippedLooks.Workshop
        );
        var index = composed.Look.Index;
        var again = 0;
        foreach (var page in composed.Pages.Where(p => p.Division == 1))
        {
            var left = page.Master.Left(page.IsRecto).Millipoints;
            var column = (page.Master.Measure.Millipoints - index.Gutter.Millipoints * (index.Columns - 1)) / index.Columns;
            foreach (var word in Display.DisplayList.Of(page, composed.Look).Items.OfType<Display.WordItem>())
                if (word.X < left + column)
                    Assert.True(word.X + word.Word.Width <= left + column + 10, $"{word.Word.Word.Text} on page {page.Folio}");
            again += Display
                .DisplayList.Of(page, composed.Look)
                .Items.OfType<Display.WordItem>()
                .Count(w => w.Word.Word.Text == "(continued)");
        }
        Assert.True(again > 0, "the heading is said again");
    }
}
