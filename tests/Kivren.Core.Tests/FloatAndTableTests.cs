using Kivren.Core.Composition;
using Kivren.Core.Content;
using Kivren.Core.Looks;
using Kivren.Core.LooseEnds;
using Kivren.Core.Type;
using static Kivren.Core.Tests.Build;

namespace Kivren.Core.Tests;

public class FloatAndTableTests
{
    private static (ComposedPage Page, PlacedPiece Piece) Where(ComposedManual composed, string id)
    {
        foreach (var page in composed.Pages.Where(p => p.Body is not null))
        foreach (var placed in page.Body!.Pieces)
            if (page.Cut!.Galley.Pieces[placed.Piece].Block.Value == id)
                return (page, placed);
        throw new InvalidOperationException(id);
    }

    [Theory]
    [InlineData(FigurePlacement.Top)]
    [InlineData(FigurePlacement.Foot)]
    public void A_figure_for_top_or_foot_stands_there_on_the_page_of_its_place_or_the_next(FigurePlacement placement)
    {
        for (var words = 60; words < 420; words += 40)
        {
            var composed = Compose(
                Manual(Chapter("a", "Figures", Words("o", 300), Words("p", words), Figure("f", placement), Words("q", 300))) with
                {
                    Assets = [Picture],
                }
            );
            var (page, piece) = Where(composed, "f");
            Assert.InRange(page.Sheet - composed.SheetOf("p"), 0, 2);
            var others = page.Body!.Pieces.Where(p => p != piece).ToList();
            if (placement == FigurePlacement.Top)
                Assert.True(others.All(p => p.Y > piece.Y));
            else
                Assert.Equal(ShippedLooks.Workshop.Master.Depth.Millipoints, piece.Y + page.Cut!.Galley.Pieces[piece.Piece].Height);
        }
    }

    /// <summary>Its text may go past a figure with a caption, which is referred to, and not past a picture that is a part of it.</summary>
    [Theory]
    [InlineData("", false)]
    [InlineData("The winch", true)]
    public void The_text_goes_past_no_picture_without_a_caption(string caption, bool passes)
    {
        var passed = false;
        for (var words = 120; words < 420; words += 20)
        {
            var figure = Figure("f", FigurePlacement.Here) with { Caption = caption.Length > 0 ? [new TextRun(caption)] : [] };
            var composed = Compose(Manual(Chapter("a", "Winch", Words("p", words), figure, Words("q", 200))) with { Assets = [Picture] });
            var (page, piece) = Where(composed, "f");
            var (first, line) = Where(composed, "q");
            passed |= first.Sheet < page.Sheet || (first.Sheet == page.Sheet && line.Y < piece.Y);
        }
        Assert.Equal(passes, passed);
    }

    [Fact]
    public void Text_about_a_figure_that_floated_away_closes_up()
    {
        Manual With(params Block[] between) =>
            Manual(Chapter("a", "Close", [Words("p", 30), .. between, Words("q", 30)])) with
            {
                Assets = [Picture],
            };
        int Gap(ComposedManual composed) =>
            Where(composed, "q").Piece.Y
            - Where(composed, "p").Page.Body!.Pieces.Last(p => composed.Pages[0].Cut!.Galley.Pieces[p.Piece].Block.Value == "p").Y;
        Assert.Equal(Gap(Compose(With())), Gap(Compose(With(Figure("f", FigurePlacement.Foot)))));
    }

    [Fact]
    public void A_figure_of_its_own_page_follows_its_page_and_the_text_flows_on()
    {
        var composed = Compose(
            Manual(Chapter("a", "Own", Words("p", 100), Figure("f", FigurePlacement.OwnPage), Words("q", 400))) with
            {
                Assets = [Picture],
            }
        );
        var sheet = composed.SheetOf("f");
        Assert.NotNull(composed.Pages[sheet].Body!.Plate);
        Assert.Equal(sheet - 1, composed.SheetOf("p"));
        Assert.Equal(sheet - 1, composed.SheetOf("q"));
        Assert.Contains("page of its own", composed.Pages[sheet].Reason, StringComparison.Ordinal);
    }

    [Fact]
    public void A_figure_that_ends_after_its_section_is_told()
    {
        var tall = Picture with { Height = 420 };
        var blocks = new List<Block> { Head("h1", HeadLevel.A, "First"), Words("p", 40) };
        for (var n = 0; n < 5; n++)
            blocks.Add(Figure($"f{n}", FigurePlacement.Top));
        blocks.AddRange([Words("q", 30), Head("h2", HeadLevel.A, "Second"), Words("r", 900)]);
        var composed = Compose(Manual(Chapter("a", "Astray", [.. blocks])) with { Assets = [tall] });
        Assert.Contains(composed.LooseEnds, l => l.Kind == LooseEndKind.FigurePastSection);
        Assert.Equal(
            Enumerable.Range(0, 5).Select(n => composed.SheetOf($"f{n}")).Order(),
            Enumerable.Range(0, 5).Select(n => composed.SheetOf($"f{n}"))
        );
    }

    // ---- tables ----

    private static Table Table(string id, int columns, IEnumerable<Row> rows, int header = 1) =>
        new(new Id(id), header, Enumerable.Repeat(CellAlignment.Left, columns).ToArray(), [new TextRun("Limits")], rows.ToArray());

    private static List<DrawnLine> Drawn(ComposedManual composed, string cell) =>
        composed
            .Divisions[0]
            .Cut.Galley.Pieces.SelectMany(p => p.Drawn.Concat((p.Plates ?? []).SelectMany(x => x.Drawn)))
            .OfType<DrawnLine>()
            .Where(l => l.Block.Value == cell)
            .ToList();

    [Fact]
    public void Cells_over_columns_and_rows_take_their_places_in_the_grid()
    {
        var table = Table(
            "t",
            3,
            [
                new Row(new Id("r1"), [Cell("a", "Head", 2), Cell("b", "C")]),
                new Row(new Id("r2"), [Cell("c", "tall", 1, 2), Cell("d", "x"), Cell("e", "y")]),
                new Row(new Id("r3"), [Cell("f", "under x"), Cell("g", "z")]),
            ]
        );
        var (cells, columns) = TableGrid.Of(table);
        Assert.Equal(3, columns);
        Assert.Equal(
            [("a", 0, 0), ("b", 0, 2), ("c", 1, 0), ("d", 1, 1), ("e", 1, 2), ("f", 2, 1), ("g", 2, 2)],
            cells.Select(c => (c.Cell.Id.Value, c.Row, c.Column))
        );
        var composed = Compose(Manual(Chapter("a", "Spans", table)));
        Assert.Equal(Drawn(composed, "d")[0].X, Drawn(composed, "f")[0].X);
        Assert.Equal(Drawn(composed, "e")[0].X, Drawn(composed, "g")[0].X);
    }

    [Fact]
    public void Columns_get_what_their_words_need_and_share_the_rest()
    {
        Row R(int n) =>
            new(
                new Id($"r{n}"),
                [Cell($"s{n}", "kN"), Cell($"l{n}", "A long remark about the brake band that wants more room than one line")]
            );
        var free = Compose(Manual(Chapter("a", "Widths", Table("t", 2, [R(0), R(1)]))));
        Assert.True(Drawn(free, "l1")[0].X < 60_000);
        var shared = Compose(
            Manual(
                Chapter(
                    "a",
                    "Widths",
                    Table("t", 2, [R(0), R(1)]) with
                    {
                        Widths = [new ColumnWidth(WidthKind.Share, 1), new ColumnWidth(WidthKind.Share, 1)],
                    }
                )
            )
        );
        Assert.InRange(Drawn(shared, "l1")[0].X, 100_000, 160_000);
        var given = Compose(
            Manual(Chapter("a", "Widths", Table("t", 2, [R(0), R(1)]) with { Widths = [new ColumnWidth(WidthKind.Fixed, 4000)] }))
        );
        Assert.Equal(Length.Millimetres(40).Millipoints, Drawn(given, "l1")[0].X);
    }

    [Fact]
    public void Decimal_signs_of_a_column_stand_under_each_other()
    {
        string[] values = ["2.4", "184.5", "72", "0.125"];
        var rows = values
            .Select((v, n) => new Row(new Id($"r{n}"), [Cell($"a{n}", "x"), Cell($"v{n}", v)]))
            .Prepend(new Row(new Id("h"), [Cell("h1", "What"), Cell("h2", "mm")]));
        var composed = Compose(
            Manual(Chapter("a", "Decimals", new Table(new Id("t"), 1, [CellAlignment.Left, CellAlignment.Decimal], [], rows.ToArray())))
        );
        var signs = values
            .Select(
                (v, n) =>
                {
                    var line = Drawn(composed, $"v{n}")[0];
                    var word = line.Line.Words[0];
                    var at = v.IndexOf('.', StringComparison.Ordinal);
                    return line.X + word.X + (at < 0 ? word.Width : word.Style.Scale(word.Word.WidthOf(0, word.Word.GlyphAt(at))));
                }
            )
            .ToList();
        Assert.All(signs, s => Assert.InRange(s - signs[0], -2, 2));
    }

    [Theory]
    [InlineData("en", "Table\u00A01-1 (continued) Quantity")]
    [InlineData("de", "Tabelle\u00A01-1 (Fortsetzung) Quantity")]
    public void A_table_that_goes_on_says_so_above_its_header(string language, string said)
    {
        var rows = Enumerable
            .Range(0, 70)
            .Select(n => new Row(new Id($"r{n}"), [Cell($"a{n}", n == 0 ? "Quantity" : $"Pull {n}"), Cell($"b{n}", "kN")]));
        var chapter = Chapter("a", "Long", Table("t", 2, rows)) with { Language = language };
        var composed = Compose(Manual(chapter) with { Language = language });
        var goesOn = composed.Pages.Skip(1).Where(p => p.Body is { Headers.Length: > 0 }).ToList();
        Assert.NotEmpty(goesOn);
        foreach (var page in goesOn)
        {
            var words = string.Join(
                ' ',
                page.Body!.Headers[0].Rows.Drawn.OfType<DrawnLine>().SelectMany(l => l.Line.Words).Select(w => w.Word.Text)
            );
            Assert.StartsWith(said.Replace('\u00A0', ' '), words.Replace('\u00A0', ' '), StringComparison.Ordinal);
        }
    }

    [Fact]
    public void Notes_of_a_table_stand_under_it_lettered()
    {
        var noted = new Cell(new Id("c"), [new TextRun("3 mm"), new Footnote(new Id("n1"), [new TextRun("When new.")])]);
        var composed = Compose(
            Manual(
                Chapter(
                    "a",
                    "Notes",
                    Text("p", new TextRun("See"), new Footnote(new Id("n0"), [new TextRun("A foot.")])),
                    Table(
                        "t",
                        2,
                        [
                            new Row(new Id("h"), [Cell("h1", "What"), Cell("h2", "How much")]),
                            new Row(new Id("r"), [Cell("l", "Lining"), noted]),
                        ]
                    )
                )
            )
        );
        var page = composed.Pages[0];
        Assert.Equal(["n0"], page.Body!.Notes.Select(n => n.Note.Id.Value));
        Assert.Equal("a", composed.Numbers.Divisions[0].Label(new Id("n1")));
        Assert.Equal("1", composed.Numbers.Divisions[0].Label(new Id("n0")));
        Assert.Contains("When new.", page.AllText(), StringComparison.Ordinal);
    }

    private static Table Wide(int rows, bool mayTurn = true) =>
        Table(
            "t",
            9,
            Enumerable
                .Range(0, rows)
                .Select(r => new Row(
                    new Id($"r{r}"),
                    Enumerable.Range(0, 9).Select(c => Cell($"c{r}-{c}", r == 0 ? "Maintenance" : "Inspection")).ToArray()
                ))
        ) with
        {
            MayTurn = mayTurn,
        };

    [Fact]
    public void A_table_wider_than_its_measure_turns_to_landscape_pages_and_the_text_flows_on()
    {
        var composed = Compose(Manual(Chapter("a", "Wide", Words("p", 60), Wide(40), Words("q", 300))));
        var turned = composed.Pages.Where(p => p.IsTurned).ToList();
        Assert.True(turned.Count >= 2);
        Assert.Equal(composed.SheetOf("p"), composed.SheetOf("q"));
        Assert.False(composed.Pages[^1].IsTurned);
        // A row is found on the page that it came to stand on.
        Assert.Equal(turned[0].Sheet, composed.FindIn(new Id("a"), new Id("c1-0"))!.Value.Sheet);
        Assert.Equal(turned[^1].Sheet, composed.FindIn(new Id("a"), new Id("c39-0"))!.Value.Sheet);
        var display = Display.DisplayList.Of(turned[0], composed.Look);
        Assert.True(display.Width > display.Height);
        Assert.All(display.Items.OfType<Display.WordItem>(), w => Assert.True(w.X >= 0 && w.X + w.Word.Width <= display.Width));
    }

    [Fact]
    public void A_table_that_may_not_turn_is_told_when_it_is_too_wide()
    {
        var composed = Compose(Manual(Chapter("a", "Wide", Wide(4, mayTurn: false))));
        Assert.Contains(composed.LooseEnds, l => l.Kind == LooseEndKind.TableTooWide);
    }

    [Fact]
    public void A_row_taller_than_a_page_goes_on_overleaf_and_loses_no_line()
    {
        var composed = Compose(
            Manual(
                Chapter(
                    "a",
                    "Tall",
                    Table(
                        "t",
                        2,
                        [
                            new Row(new Id("h"), [Cell("h1", "What"), Cell("h2", "Text")]),
                            new Row(new Id("r"), [Cell("x", "Tall"), new Cell(new Id("y"), Words("w", 1200).Content)]),
                        ]
                    )
                )
            )
        );
        Assert.True(
            composed.Pages.Count >= 3,
            $"{composed.Pages.Count} pages of "
                + $"{string.Join(',', composed.Divisions[0].Cut.Galley.Pieces.Take(8).Select(p => p.Height))}; "
                + $"{string.Join(';', composed.LooseEnds)}"
        );
        var printed = string.Concat(composed.Pages.SelectMany(p => p.Lines()))
            .Replace("-", "", StringComparison.Ordinal)
            .Replace(" ", "", StringComparison.Ordinal);
        Assert.Contains(
            Words("w", 1200).Content.PlainText().Replace("-", "", StringComparison.Ordinal).Replace(" ", "", StringComparison.Ordinal)[
                ^200..
            ],
            printed,
            StringComparison.Ordinal
        );
    }

    [Fact]
    public void A_rowspan_is_not_parted_by_a_page_turn()
    {
        for (var before = 150; before < 330; before += 15)
        {
            var rows = new List<Row> { new(new Id("h"), [Cell("h1", "Sign"), Cell("h2", "Cause")]) };
            for (var n = 0; n < 10; n++)
            {
                rows.Add(new Row(new Id($"a{n}"), [Cell($"s{n}", $"Sign {n}", 1, 3), Cell($"x{n}", "first")]));
                rows.Add(new Row(new Id($"b{n}"), [Cell($"y{n}", "second")]));
                rows.Add(new Row(new Id($"c{n}"), [Cell($"z{n}", "third")]));
            }
            var composed = Compose(Manual(Chapter("a", "Spans", Words("p", before), Table("t", 2, rows))));
            for (var n = 0; n < 10; n++)
                Assert.Equal(
                    composed.FindIn(new Id("a"), new Id($"x{n}"))!.Value.Sheet,
                    composed.FindIn(new Id("a"), new Id($"z{n}"))!.Value.Sheet
                );
        }
    }

    [Fact]
    public void Notes_at_the_end_of_a_division_stand_there_in_order()
    {
        var composed = Compose(
            Manual(
                Chapter(
                    "a",
                    "End",
                    Text(
                        "p",
                        new TextRun("One"),
                        new Footnote(new Id("n1"), [new TextRun("First note.")]),
                        new TextRun(" two"),
                        new Footnote(new Id("n2"), [new TextRun("Second note.")])
                    ),
                    Words("q", 60)
                )
            ),
            ShippedLooks.Pocket
        );
        Assert.All(composed.Pages, p => Assert.Empty(p.Body?.Notes ?? []));
        var text = composed.Words();
        Assert.True(text.IndexOf("First note.", StringComparison.Ordinal) > text.IndexOf("The band brake", StringComparison.Ordinal));
        Assert.True(text.IndexOf("Second note.", StringComparison.Ordinal) > text.IndexOf("First note.", StringComparison.Ordinal));
    }

    [Fact]
    public void Notes_counted_by_page_begin_anew_on_every_page()
    {
        var look = ShippedLooks.Workshop with { Numbering = new NumberingRules { NotesBy = CountScope.Page } };
        var blocks = Enumerable
            .Range(0, 40)
            .SelectMany(n =>
                new Block[]
                {
                    Words($"p{n}", 40),
                    Text($"c{n}", new TextRun("Here"), new Footnote(new Id($"n{n}"), [new TextRun($"Note {n}.")]), new TextRun(" it is.")),
                }
            )
            .ToArray();
        var composed = Compose(Manual(Chapter("a", "By page", blocks)), look);
        Assert.True(composed.Pages.Count(p => p.Body?.Notes.Length > 1) > 2);
        foreach (var page in composed.Pages.Where(p => p.Body is not null))
            Assert.Equal(
                Enumerable.Range(1, page.Body!.Notes.Length).Select(n => n.ToString()),
                page.Body.Notes.Select(n => n.Note.Number)
            );
    }

    [Fact]
    public void A_figure_for_the_head_of_the_page_does_not_stand_above_the_title_that_the_page_opens_with()
    {
        var manual = Manual(
            Chapter("a", "Winch", Words("p", 30), Figure("f", FigurePlacement.Top), Words("q", 900), Figure("g", FigurePlacement.Top))
        ) with
        {
            Assets = [Picture],
        };
        var composed = Compose(manual);
        int At(string id) => composed.FindIn(new Id("a"), new Id(id))!.Value.Y;
        Assert.Equal(0, composed.FindIn(new Id("a"), new Id("f"))!.Value.Sheet);
        Assert.True(At("f") > At("p"), "the figure stands above the text of an opening page");
        // On a page of plain text it stands at the head.
        Assert.NotEqual(0, composed.FindIn(new Id("a"), new Id("g"))!.Value.Sheet);
        Assert.Equal(0, At("g"));
    }
}
