using Kivren.Core.Content;
using Kivren.Core.Display;
using static Kivren.Core.Tests.Build;

namespace Kivren.Core.Tests;

/// <summary>What is divided between pages says so by its edges, and leaves no line alone.</summary>
public class DividedBoxTests
{
    private static Aside Long(int paragraphs) =>
        new(
            new Id("box"),
            [new TextRun("Why ropes wear")],
            [.. Enumerable.Range(0, paragraphs).Select(n => Text($"in{n}", new TextRun($"Reason {n}.")))]
        );

    [Fact]
    public void A_box_is_open_where_the_page_turns_within_it_and_closed_at_its_ends()
    {
        var composed = Compose(Manual(Chapter("a", "Ropes", Words("p", 60), Long(60), Words("q", 20))));
        var pages = composed.Pages.Where(p => p.Body!.Pieces.Any(x => p.Cut!.Galley.Pieces[x.Piece].Block.Value == "box")).ToList();
        Assert.True(pages.Count > 1);
        for (var n = 0; n < pages.Count; n++)
        {
            var items = DisplayList.Of(pages[n], composed.Look).Items;
            var strips = items.OfType<RuleItem>().Where(r => r.Height is > 500 and < 1_000 && r.Width > 100_000).ToList();
            var lines = items.OfType<WordItem>().Where(w => w.Word.Word.Text.StartsWith("Reason", StringComparison.Ordinal)).ToList();
            Assert.Equal(n > 0, strips.Exists(s => s.Y < lines.Min(l => l.Y)));
            Assert.Equal(n < pages.Count - 1, strips.Exists(s => s.Y > lines.Max(l => l.Y)));
        }
    }

    [Fact]
    public void A_cut_leaves_two_lines_of_a_box_on_either_side()
    {
        for (var above = 20; above < 260; above += 10)
        {
            var composed = Compose(Manual(Chapter("a", "Ropes", Words("p", above), Long(17), Words("q", 20))));
            var counts = composed
                .Pages.Select(p => p.Lines().Count(l => l.StartsWith("Reason", StringComparison.Ordinal)))
                .Where(c => c > 0)
                .ToList();
            Assert.DoesNotContain(1, counts);
        }
    }

    [Fact]
    public void A_bold_line_does_not_end_a_page()
    {
        var turned = 0;
        for (var above = 100; above < 400; above += 6)
        {
            var composed = Compose(
                Manual(
                    Chapter(
                        "a",
                        "Ropes",
                        Words("p", above),
                        Text("bold", new TextRun("Before the winter", SpanRoles.Strong)),
                        Words("q", 80)
                    )
                )
            );
            Assert.Equal(composed.SheetOf("bold"), composed.SheetOf("q"));
            turned += composed.SheetOf("bold") > composed.SheetOf("p") ? 1 : 0;
        }
        Assert.True(turned > 0);
    }
}
