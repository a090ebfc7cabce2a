using Kivren.Core.Composition;
using Kivren.Core.Content;
using Kivren.Core.LooseEnds;
using Kivren.Core.Type;
using static Kivren.Core.Tests.Build;

namespace Kivren.Core.Tests;

/// <summary>Columns are as wide as what stands in them wants, and tables stay upright where one word alone would turn them.</summary>
public class TableColumnTests
{
    private const string Sentence = "Look at the rope where it meets the drum, and note what is seen there";

    private static Table Of(params string[][] rows) =>
        new(
            new Id("t"),
            1,
            [],
            [],
            [.. rows.Select((r, n) => new Row(new Id($"r{n}"), [.. r.Select((words, c) => Cell($"c{n}-{c}", words))]))]
        );

    /// <summary>Left edges of the cells of a row, and how many lines each has.</summary>
    private static (int X, int Lines)[] Row(ComposedManual composed, int row) =>
        [
            .. composed
                .Divisions[0]
                .Cut.Galley.Pieces.SelectMany(p => p.Drawn.OfType<DrawnLine>())
                .Where(l => l.Block.Value.StartsWith($"c{row}-", StringComparison.Ordinal))
                .GroupBy(l => l.Block.Value)
                .Select(g => (g.Min(l => l.X), g.Count())),
        ];

    [Fact]
    public void Text_has_the_width_and_marks_have_none_to_spare()
    {
        string[] head = ["Part", .. Enumerable.Range(1, 6).Select(m => $"M{m}"), "What to do"];
        string[] row = ["Rope", "•", "", "•", "", "•", "", Sentence];
        var cells = Row(Compose(Manual(Chapter("a", "Year", Of(head, row)))), 1);
        // The marks stand close; the sentence has more than half of the measure.
        Assert.True(cells[^1].X < Look.Master.Measure.Millipoints / 2, $"{cells[^1].X} of {Look.Master.Measure.Millipoints}");
        Assert.True(cells[^1].Lines <= 3);
    }

    [Fact]
    public void What_is_left_goes_where_it_makes_the_table_shortest()
    {
        // Two columns of text: the longer one gets more, so that neither is taller than it need be.
        var cells = Row(
            Compose(Manual(Chapter("a", "Ropes", Of(["Short", "Long"], [Sentence, string.Join(' ', Enumerable.Repeat(Sentence, 3))])))),
            1
        );
        Assert.InRange(cells[0].Lines, cells[1].Lines - 2, cells[1].Lines + 1);
    }

    [Fact]
    public void One_long_word_does_not_turn_a_table()
    {
        var composed = Compose(
            Manual(
                Chapter(
                    "a",
                    "Names",
                    Of(
                        ["Setting", "Meaning", "Default"],
                        ["winch/controller/overload/threshold/percentage/of/the/rated/load", Sentence, "85"],
                        ["brake", Sentence, "12"],
                        ["lamp", Sentence, "2"]
                    )
                )
            )
        );
        Assert.DoesNotContain(composed.Pages, p => p.IsTurned);
        Assert.DoesNotContain(composed.LooseEnds, l => l.Kind is LooseEndKind.TableTooWide or LooseEndKind.OverfullLine);
        // The long name is divided, and the text beside it keeps a readable width.
        var cells = Row(composed, 1);
        Assert.True(cells[0].Lines > 1);
        Assert.True(cells[1].Lines < 8, $"{cells[1].Lines}");
    }

    [Fact]
    public void Words_that_are_written_without_spaces_do_not_turn_a_table()
    {
        var chapter = Chapter(
            "a",
            "整備",
            Of(["部品", "作業"], ["綱", string.Concat(Enumerable.Repeat("綱が巻胴に触れる所を見て記録する。", 6))])
        );
        var composed = Compose(Manual(chapter) with { Language = "ja" });
        Assert.DoesNotContain(composed.Pages, p => p.IsTurned);
        Assert.True(Row(composed, 1)[1].X < Look.Master.Measure.Millipoints / 3);
    }

    private static Kivren.Core.Looks.Look Look => Kivren.Core.Looks.ShippedLooks.Workshop;

    [Fact]
    public void A_table_without_a_caption_keeps_with_the_paragraph_before_it()
    {
        // Whatever stands above, the paragraph and the first row are never parted where another turn is as good.
        for (var above = 150; above < 420; above += 15)
        {
            var composed = Compose(
                Manual(
                    Chapter(
                        "a",
                        "Ropes",
                        Words("p", above),
                        Words("q", 60),
                        Text("lead", new TextRun("Three ropes are carried")),
                        Of(["Rope", "Length"], ["Main", "120"], ["Side", "40"], ["Spare", "60"])
                    )
                )
            );
            Assert.Equal(composed.SheetOf("lead"), composed.FindIn(new Id("a"), new Id("c0-0"))!.Value.Sheet);
        }
    }
}
