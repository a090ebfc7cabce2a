using Kivren.Core.Composition;
using Kivren.Core.Content;
using Kivren.Core.Looks;
using Kivren.Core.LooseEnds;
using Kivren.Core.Type;
using static Kivren.Core.Tests.Build;

namespace Kivren.Core.Tests;

public class CuttingTests
{
    private static readonly Look Workshop = ShippedLooks.Workshop;

    private static Division Long(string id, int paragraphs, Func<int, IEnumerable<Block>>? extra = null) =>
        Chapter(
            id,
            "Long chapter",
            Enumerable
                .Range(0, paragraphs)
                .SelectMany(n => (extra?.Invoke(n) ?? []).Append(Words($"{id}-p{n}", 20 + n * 37 % 90)))
                .ToArray()
        );

    private static int Foot(ComposedPage page) => page.Body!.Pieces.Max(p => p.Y + page.Cut!.Galley.Pieces[p.Piece].Height);

    /// <summary>Differences between the feet of facing pages, whole spreads only.</summary>
    private static List<int> Uneven(ComposedManual composed)
    {
        var found = new List<int>();
        for (var s = 1; s + 1 < composed.Pages.Count - 1; s += 2)
            if (composed.Pages[s].Body is { } && composed.Pages[s + 1].Body is { })
                found.Add(Math.Abs(Foot(composed.Pages[s]) - Foot(composed.Pages[s + 1])));
        return found;
    }

    [Fact]
    public void Facing_pages_end_level_where_the_look_asks_for_it()
    {
        var manual = Manual(Long("a", 480, n => n % 4 == 0 ? [Head($"h{n}", HeadLevel.B, $"Head {n}")] : []));
        var level = Uneven(Compose(manual, Workshop));
        var ragged = Uneven(Compose(manual, Workshop with { LevelFacing = false }));
        Assert.True(level.Count > 25);
        Assert.True(
            level.Count(d => d < 100) > ragged.Count(d => d < 100),
            $"level {level.Count(d => d < 100)}, ragged {ragged.Count(d => d < 100)} of {level.Count}"
        );
        Assert.True(level.Average() < ragged.Average());
    }

    [Theory]
    [InlineData(BreakTo.Recto, 0)]
    [InlineData(BreakTo.Verso, 1)]
    public void A_break_to_a_side_leaves_a_blank_page_where_it_must(BreakTo to, int side)
    {
        var blanks = 0;
        for (var words = 30; words < 700; words += 110)
        {
            var composed = Compose(Manual(Chapter("a", "Sides", Words("p", words), new PageBreak(new Id("b"), to), Words("q", 30))));
            Assert.Equal(side, composed.SheetOf("q") % 2);
            blanks += composed.Pages.Count(p =>
                p.IsBlank && p.Reason.StartsWith("Blank: what follows begins on a", StringComparison.Ordinal)
            );
        }
        Assert.InRange(blanks, 1, 6);
    }

    [Fact]
    public void A_blank_page_says_so_if_the_look_has_words_for_it()
    {
        var composed = Compose(
            Manual(Chapter("a", "Sides", Words("p", 30), new PageBreak(new Id("b"), BreakTo.Recto), Words("q", 30))),
            ShippedLooks.Code
        );
        var blank = Assert.Single(composed.Pages, p => p.IsBlank);
        var words = Display.DisplayList.Of(blank, composed.Look).Items.OfType<Display.WordItem>().Select(w => w.Word.Word.Text);
        Assert.Equal("This page is intentionally left blank", string.Join(' ', words));
    }

    [Fact]
    public void On_a_grid_body_lines_stand_on_multiples_of_the_leading()
    {
        var look = Workshop with { Grid = true };
        var composed = Compose(
            Manual(Long("a", 60, n => n % 5 == 0 ? [new Admonition(new Id($"ad{n}"), AdmonitionKind.Note, [Words($"aw{n}", 20)])] : [])),
            look
        );
        foreach (var page in composed.Pages.Where(p => p.Body is not null))
        foreach (var placed in page.Body!.Pieces.Where(p => page.Cut!.Galley.Pieces[p.Piece].OnGrid))
            Assert.Equal(0, placed.Y % look.Body.Leading.Millipoints);
    }

    [Fact]
    public void Feathered_feet_reach_the_foot_by_wider_spaces()
    {
        var manual = Manual(
            Long("a", 120, n =>
                n % 2 == 0 ? [new ItemList(new Id($"l{n}"), ListKind.Unordered, 1, [new Item(new Id($"i{n}"), [Words($"ip{n}", 24)])])] : []
            )
        );
        var plain = Workshop with { LevelFacing = false };
        int Short(Look look) =>
            Compose(manual, look).Pages.Where(p => p.Body is not null).SkipLast(1).Sum(p => Workshop.Master.Depth.Millipoints - Foot(p));
        Assert.True(Short(plain with { Feet = Feet.Feathered }) < Short(plain) / 2);
    }

    [Fact]
    public void Divisions_that_run_on_share_a_page_and_a_stretch()
    {
        var composed = Compose(
            Manual(Chapter("a", "Scope", Words("p", 60)), Chapter("b", "Terms", Words("q", 60)), Chapter("c", "Cable", Words("r", 900))),
            ShippedLooks.Code
        );
        Assert.Equal(composed.Divisions[0].FirstSheet, composed.Divisions[1].FirstSheet);
        Assert.Same(composed.Divisions[0].Cut, composed.Divisions[2].Cut);
        Assert.Equal("Cable", composed.Pages[^1].Furniture!.At(PageEdge.Head, FieldPlace.Outer)!.Split('\u2002')[^1]);
    }

    [Fact]
    public void A_division_may_say_itself_where_it_begins()
    {
        var composed = Compose(
            Manual(
                Chapter("a", "One", Words("p", 30)),
                Chapter("b", "Two", Words("q", 30)) with
                {
                    Begins = Begins.Verso,
                },
                Chapter("c", "Three", Words("r", 30)) with
                {
                    Begins = Begins.RunsOn,
                }
            )
        );
        Assert.Equal(1, composed.Divisions[1].FirstSheet % 2);
        Assert.Equal(composed.Divisions[1].FirstSheet, composed.Divisions[2].FirstSheet);
    }

    [Fact]
    public void A_head_keeps_its_text_past_a_figure_that_goes_elsewhere()
    {
        for (var words = 200; words < 420; words += 6)
        {
            var composed = Compose(
                Manual(Chapter("a", "Heads", Words("p", words), Head("h", HeadLevel.A, "The drum"), Figure("f"), Words("q", 300))) with
                {
                    Assets = [Picture],
                }
            );
            Assert.Equal(composed.SheetOf("h"), composed.SheetOf("q"));
        }
    }

    [Fact]
    public void Small_galleys_are_cut_as_well_as_trying_everything()
    {
        var look = Workshop with { LevelFacing = false };
        for (var seed = 0; seed < 25; seed++)
        {
            var random = new Random(seed);
            var pieces = Enumerable
                .Range(0, 46)
                .Select(_ => new Piece
                {
                    Height = 26_000,
                    Drawn = [],
                    Header = -1,
                    Keep = (Keep)random.Next(0, 9),
                })
                .ToArray();
            var galley = GalleyOf(pieces);
            Assert.Equal(Best(pieces, look), PageCutter.Cut(galley, look).Cost);
        }
    }

    /// <summary>The least cost of all ways to cut, by the same documented costs.</summary>
    private static long Best(Piece[] pieces, Look look)
    {
        var (depth, leading) = (look.Master.Depth.Millipoints, look.Body.Leading.Millipoints);
        var best = new long[pieces.Length + 1];
        for (var from = pieces.Length - 1; from >= 0; from--)
        {
            best[from] = long.MaxValue;
            for (int to = from + 1, used = 26_000; to <= pieces.Length && used <= depth; to++, used += 26_000)
            {
                long tenths = (depth - used) * 10L / leading;
                var cost =
                    to == pieces.Length
                        ? (used < look.LastPageLines * leading ? 6_000 : 0)
                        : tenths * tenths + TurnCost.Of(pieces[to].Keep) + best[to];
                best[from] = Math.Min(best[from], cost);
            }
        }
        return best[0];
    }

    [Fact]
    public void Two_columns_are_balanced_and_a_spanning_figure_parts_them()
    {
        var look = Workshop.WithPages(m => m with { Columns = 2 });
        var composed = Compose(
            Manual(Chapter("a", "Columns", Words("p", 40), Figure("f") with { Width = 200 }, Words("q", 36))) with
            {
                Assets = [Picture],
            },
            look
        );
        Assert.True(
            composed.Pages.Count == 1,
            string.Join(
                " | ",
                composed.Pages.Select(p =>
                    p.Reason
                    + " "
                    + string.Join(
                        ",",
                        p.Body!.Pieces.Select(x =>
                            (p.Cut!.Galley.Pieces[x.Piece].Block.Value, x.X, x.Y, p.Cut.Galley.Pieces[x.Piece].Height)
                        )
                    )
                )
            )
        );
        var page = composed.Pages[0];
        var pieces = page.Cut!.Galley.Pieces;
        var placed = page.Body!.Pieces;
        var figure = placed.First(p => pieces[p.Piece].Spans && pieces[p.Piece].Block.Value == "f");
        Assert.True(placed.Where(p => pieces[p.Piece].Block.Value == "p").All(p => p.Y < figure.Y));
        Assert.True(placed.Where(p => pieces[p.Piece].Block.Value == "q").All(p => p.Y > figure.Y));
        foreach (var id in new[] { "p", "q" })
        {
            var columns = placed.Where(p => pieces[p.Piece].Block.Value == id).GroupBy(p => p.X).Select(g => g.Count()).ToList();
            Assert.Equal(2, columns.Count);
            Assert.InRange(columns[0] - columns[1], -2, 2);
        }
    }

    [Theory]
    [InlineData(20)]
    [InlineData(180)]
    [InlineData(700)]
    [InlineData(2500)]
    public void A_long_note_of_a_column_goes_on_in_the_next_with_a_rule_that_says_so(int words)
    {
        var look = Workshop.WithPages(m => m with { Columns = 2 });
        var note = new Footnote(new Id("n"), Words("w", words).Content);
        var composed = Compose(
            Manual(Chapter("a", "Columns", Words("p", 150), Text("q", new TextRun("Here"), note, new TextRun(" it is.")), Words("r", 200))),
            look
        );
        var parts = composed.Pages.SelectMany(p => p.Body!.Notes).ToList();
        // Every line once, in order, from the first to the last.
        Assert.Equal(Enumerable.Range(0, parts[0].Note.Lines.Count), parts.SelectMany(n => Enumerable.Range(n.From, n.To - n.From)));
        Assert.Equal(parts.Count - 1, composed.Pages.Sum(p => p.Body!.NoteRules.Count(r => r.Continues)));
        var call = composed.Pages.Single(p => p.Body!.Pieces.Any(x => p.Cut!.Galley.Pieces[x.Piece].Notes?.Count > 0));
        Assert.Contains(call.Body!.Notes, n => n.From == 0);
        foreach (var page in composed.Pages)
        {
            Assert.All(page.Body!.Notes, n => Assert.True(n.Y + (n.To - n.From) * n.Note.Leading <= look.Master.Depth.Millipoints));
            // Text and notes of a column do not meet.
            foreach (var placed in page.Body!.Pieces)
            foreach (var below in page.Body.Notes.Where(n => n.X == placed.X))
                Assert.True(placed.Y + page.Cut!.Galley.Pieces[placed.Piece].Height <= below.Y);
        }
    }

    [Fact]
    public void A_note_in_a_column_stands_at_the_foot_of_its_column()
    {
        var look = Workshop.WithPages(m => m with { Columns = 2 });
        var composed = Compose(
            Manual(
                Chapter(
                    "a",
                    "Columns",
                    Words("p", 200),
                    Text("q", new TextRun("Here"), new Footnote(new Id("n"), [new TextRun("A note.")]), new TextRun(" it is.")),
                    Words("r", 200)
                )
            ),
            look
        );
        var page = composed.Pages[composed.SheetOf("n")];
        var note = Assert.Single(page.Body!.Notes);
        var call = page.Body.Pieces.First(p => page.Cut!.Galley.Pieces[p.Piece].Notes is not null);
        Assert.Equal(call.X, note.X);
        Assert.True(note.Y > call.Y);
    }

    private static Table Grid(string id, int rows, int columns, string words = "cell") =>
        new(
            new Id(id),
            1,
            [.. Enumerable.Repeat(CellAlignment.Left, columns)],
            [new TextRun("What is kept")],
            [
                .. Enumerable
                    .Range(0, rows)
                    .Select(r => new Row(
                        new Id($"{id}-{r}"),
                        [.. Enumerable.Range(0, columns).Select(c => Cell($"{id}-{r}-{c}", $"{words} {r}"))]
                    )),
            ]
        );

    [Fact]
    public void A_table_of_many_columns_stands_across_those_of_the_page_with_its_head_and_its_header_again_overleaf()
    {
        var look = Workshop.WithPages(m => m with { Columns = 2 });
        var composed = Compose(
            Manual(Chapter("a", "Columns", Words("p", 120), Head("h", HeadLevel.A, "Stores"), Grid("t", 60, 5), Words("q", 60))),
            look
        );
        var pages = composed.Pages.Where(p => p.Body!.Pieces.Any(x => IsOf(p, x, "t-"))).ToList();
        Assert.True(pages.Count > 1);
        foreach (var page in pages)
            Assert.All(page.Body!.Pieces.Where(x => IsOf(page, x, "t-")), x =>
                Assert.True(page.Cut!.Galley.Pieces[x.Piece].Spans && x.X == 0)
            );
        Assert.All(pages.Skip(1), p => Assert.Single(p.Body!.Headers));
        // Its head is above it at the left, not alone in a column.
        var first = pages[0];
        var head = first.Body!.Pieces.Single(x => first.Cut!.Galley.Pieces[x.Piece].Block.Value == "h");
        Assert.Equal(0, head.X);
        Assert.True(head.Y < first.Body.Pieces.First(x => IsOf(first, x, "t-")).Y);
        foreach (var page in composed.Pages)
        foreach (var placed in page.Body!.Pieces)
            Assert.True(placed.Y + page.Cut!.Galley.Pieces[placed.Piece].Height <= look.Master.Depth.Millipoints);
    }

    [Fact]
    public void A_short_table_is_not_parted_to_make_columns_even_and_a_long_one_has_its_header_in_each()
    {
        var look = Workshop.WithPages(m => m with { Columns = 2 });
        var shortOne = Compose(Manual(Chapter("a", "Columns", Grid("t", 5, 2), Words("q", 20))), look);
        Assert.Single(shortOne.Pages[0].Body!.Pieces.Where(x => IsOf(shortOne.Pages[0], x, "t-")).Select(x => x.X).Distinct());
        var longOne = Compose(Manual(Chapter("a", "Columns", Grid("t", 60, 2), Words("q", 20))), look);
        var page = longOne.Pages[0];
        Assert.Equal(2, page.Body!.Pieces.Where(x => IsOf(page, x, "t-")).Select(x => x.X).Distinct().Count());
        Assert.Contains(page.Body.Headers, h => h.X > 0);
    }

    private static bool IsOf(ComposedPage page, PlacedPiece placed, string id) =>
        page.Cut!.Galley.Pieces[placed.Piece].Block.Value.StartsWith(id, StringComparison.Ordinal)
        || page.Cut.Galley.Pieces[placed.Piece].Block.Value == id.TrimEnd('-');
}
