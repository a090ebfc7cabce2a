using System.Text.Json.Nodes;
using Kivren.Core.Composition;
using Kivren.Core.Content;
using Kivren.Core.Display;
using Kivren.Core.Looks;
using Kivren.Core.LooseEnds;
using Kivren.Core.Type;
using static Kivren.Core.Tests.Build;

namespace Kivren.Core.Tests;

/// <summary>Where a look puts things on the page: openings of another depth, heads that stay on turned pages, pictures among the running
/// heads, captions, capitals, spaces that give.</summary>
public class LookOnPagesTests
{
    private static Look Changed(Action<JsonObject> change)
    {
        var root = JsonNode.Parse(LookFile.Write(ShippedLooks.Workshop))!.AsObject();
        change(root);
        var look = LookFile.Read(root.ToJsonString(), out var faults);
        Assert.Empty(faults);
        return look!;
    }

    private static IReadOnlyList<DisplayItem> Items(ComposedPage page, ComposedManual composed) =>
        DisplayList.Of(page, composed.Look).Items;

    private static Table Wide(string id, string caption = "Loads")
    {
        Row Line(int r) => new(new Id($"{id}-{r}"), [.. Enumerable.Range(0, 14).Select(c => Cell($"{id}-{r}-{c}", "unbroken-word"))]);
        return new Table(new Id(id), 1, [], [new TextRun(caption)], [.. Enumerable.Range(0, 4).Select(Line)]) { MayTurn = true };
    }

    // ---- openings ----

    private static Look Opening(double lower) =>
        Changed(root =>
        {
            var masters = root["masters"]!.AsArray();
            var opening = masters[0]!.DeepClone().AsObject();
            opening["name"] = "Low";
            opening["top"] = masters[0]!["top"]!.GetValue<double>() + lower;
            masters.Add(opening);
            root["pages"]!["opening"] = "Low";
        });

    [Theory]
    [InlineData(0)]
    [InlineData(100)]
    [InlineData(-20)]
    public void The_first_page_of_a_chapter_is_as_deep_as_its_layout(double lower)
    {
        var look = Opening(lower);
        var composed = Compose(Manual(Chapter("a", "Winch", [.. Enumerable.Range(0, 30).Select(n => Words($"p{n}", 60))])), look);
        var (first, second) = (composed.Pages[0], composed.Pages[1]);
        Assert.Equal("Low", first.Master.Name);
        Assert.NotEqual("Low", second.Master.Name);
        foreach (var page in new[] { first, second })
        {
            var reaches = page.Body!.Pieces.Max(p => p.Y + page.Cut!.Galley.Pieces[p.Piece].Height);
            Assert.InRange(reaches, page.Master.Depth.Millipoints - 4 * look.Body.Leading.Millipoints, page.Master.Depth.Millipoints);
        }
    }

    [Fact]
    public void A_layout_of_another_width_cannot_open_a_chapter()
    {
        var root = JsonNode.Parse(LookFile.Write(Opening(40)))!.AsObject();
        root["masters"]!.AsArray()[^1]!["inner"] = 90;
        Assert.Null(LookFile.Read(root.ToJsonString(), out var faults));
        Assert.Contains(faults, f => f.Place == "pages.opening");
    }

    // ---- turned pages ----

    [Theory]
    [InlineData(false)]
    [InlineData(true)]
    public void On_a_turned_page_heads_stay_or_turn_with_the_table(bool stay)
    {
        var look = ShippedLooks.Workshop.WithPages(m => m with { FurnitureStays = stay });
        var composed = Compose(Manual(Chapter("a", "Winch", Words("p", 40), Wide("t"), Words("q", 40))), look);
        var page = composed.Pages.First(p => p.IsTurned);
        var said = Items(page, composed).OfType<WordItem>().Where(w => w.Role == ReadingRole.Furniture && w.Block.IsNone).ToList();
        Assert.NotEmpty(said);
        Assert.All(said, w => Assert.Equal(stay, w.Turned));
        // The head of the upright page is at the right of the turned one.
        if (stay)
            Assert.All(said, w => Assert.InRange(w.X, page.Master.Width.Millipoints * 4 / 5, page.Master.Width.Millipoints));
        var part = PagePart.Of(page, look, composed.Text.Divisions[0]).First(p => p.Place.Contains("fields", StringComparison.Ordinal));
        Assert.Equal(stay, part.Height > part.Width);
    }

    // ---- pictures ----

    private static Look WithPicture(string pattern) =>
        Changed(root =>
            root["masters"]![0]!["fields"]!
                .AsArray()
                .Add(
                    JsonNode.Parse(
                        $$"""
                        { "edge": "foot", "place": "outer", "pattern": "{{pattern}}", "height": 20,
                          "dress": { "face": "sans", "size": 8, "leading": 10 } }
                        """
                    )
                )
        );

    [Fact]
    public void A_picture_stands_at_the_edge_of_a_page()
    {
        var look = WithPicture("{picture:p.svg}");
        var composed = Compose(Manual(Chapter("a", "Winch", Words("p", 900))) with { Assets = [Picture] }, look);
        var page = composed.Pages.First(p => p.Master.Name == "Right");
        var picture = Assert.Single(Items(page, composed).OfType<PictureItem>());
        Assert.Equal((20_000, 20_000 * 300 / 160, ReadingRole.Furniture), (picture.Height, picture.Width, picture.Role));
        Assert.Equal((page.Master.Height - page.Master.FootBaseline).Millipoints, picture.Y + picture.Height);
        Assert.Equal((page.Master.Width - page.Master.Outer).Millipoints, picture.X + picture.Width);
    }

    [Fact]
    public void A_picture_that_the_manual_has_not_is_told_and_one_among_words_is_refused()
    {
        var composed = Compose(Manual(Chapter("a", "Winch", Words("p", 900))), WithPicture("{picture:mark.svg}"));
        Assert.Contains(LookDoubts.Of(composed), d => d.Says.Contains("mark.svg", StringComparison.Ordinal));
        var root = JsonNode.Parse(LookFile.Write(ShippedLooks.Workshop))!.AsObject();
        root["masters"]![0]!["fields"]![0]!["pattern"] = "{folio} {picture:mark.svg}";
        Assert.Null(LookFile.Read(root.ToJsonString(), out var faults));
        Assert.Contains(faults, f => f.Place == "masters[0].fields[0].pattern");
    }

    [Fact]
    public void The_date_is_the_variable_of_that_name()
    {
        var look = Changed(root => root["masters"]![0]!["fields"]![0]!["pattern"] = "{date}");
        var manual = Manual(Chapter("a", "Winch", Words("p", 900)));
        Assert.Contains(LookDoubts.Of(Compose(manual, look)), d => d.Says.Contains("“date”", StringComparison.Ordinal));
        var dated = Compose(manual with { Variables = [new NamedText("date", "October 2026")] }, look);
        Assert.Contains(dated.Pages, p => p.Furniture?.Fields.Any(f => f.Text == "October 2026") == true);
        Assert.DoesNotContain(LookDoubts.Of(dated), d => d.Says.Contains("“date”", StringComparison.Ordinal));
    }

    // ---- captions ----

    [Fact]
    public void A_caption_under_a_table_keeps_with_its_last_row()
    {
        Row Line(int r) => new(new Id($"r{r}"), [Cell($"c{r}", "load"), Cell($"d{r}", "length")]);
        var table = new Table(new Id("t"), 1, [], [new TextRun("Loads and lengths")], [.. Enumerable.Range(0, 90).Select(Line)]);
        foreach (var below in new[] { false, true })
        {
            var look = ShippedLooks.Workshop with { Blocks = ShippedLooks.Workshop.Blocks with { TableCaptionBelow = below } };
            var composed = Compose(Manual(Chapter("a", "Winch", Words("p", 40), table, Words("q", 20))), look);
            var lines = composed.Pages.SelectMany((p, n) => p.Lines().Select(l => (Page: n, Line: l.Trim()))).ToList();
            var caption = lines.FindIndex(l => l.Line.EndsWith("lengths", StringComparison.Ordinal));
            var last = lines.FindLastIndex(l => l.Line == "length");
            Assert.True(last > 0 && caption > 0, string.Join('|', lines.Select(l => l.Line).Take(12)));
            Assert.Equal(below, caption > last);
            if (below)
                Assert.Equal(lines[last].Page, lines[caption].Page);
            // What goes on is said where the caption stands above it.
            var again = composed.Pages.SelectMany(p => p.Body!.Headers).SelectMany(h => h.Rows.Drawn).OfType<DrawnLine>();
            Assert.Equal(!below, again.Any(l => l.Line.Words.Any(w => w.Word.Text == "(continued)")));
        }
    }

    // ---- capitals ----

    [Fact]
    public void Capitals_print_and_the_text_stays_as_it_is_written()
    {
        var look = Changed(root => root["heads"]![0]!["capitals"] = true);
        var composed = Compose(
            Manual(Chapter("a", "Winch", Words("p", 40), Head("h", HeadLevel.A, "Straße am Fluß"), Words("q", 40))),
            look
        );
        var words = Items(composed.Pages[0], composed)
            .OfType<WordItem>()
            .Where(w => w.Block.Value == "h")
            .Select(w => w.Word.Word)
            .ToList();
        Assert.Equal(["Straße", "am", "Fluß"], words.Select(w => w.Text).Where(t => !char.IsAsciiDigit(t[0])));
        Assert.Equal(["STRAẞE", "AM", "FLUẞ"], words.Select(w => w.Shown).Where(t => !char.IsAsciiDigit(t[0])));
        var large = FaceLibrary.Serif.Word("STRASSE", Features.None);
        Assert.Equal(large.Glyphs, FaceLibrary.Serif.Word("Strasse", Features.Capitals).Glyphs);
    }

    // ---- spaces that give ----

    [Theory]
    [InlineData(0)]
    [InlineData(50)]
    [InlineData(300)]
    public void Spaces_give_as_far_as_their_role_says(int stretch)
    {
        var look = Changed(root =>
        {
            foreach (var head in root["heads"]!.AsArray())
                head!["stretch"] = stretch;
        }) with
        {
            Feet = Feet.Feathered,
        };
        Block[] Section(int n) => [Head($"h{n}", HeadLevel.B, "Band"), Words($"p{n}", 50)];
        var composed = Compose(Manual(Chapter("a", "Winch", [Words("p", 50), .. Enumerable.Range(0, 40).SelectMany(Section)])), look);
        var most = 0.0;
        foreach (var page in composed.Pages.SkipLast(1))
        {
            var pieces = page.Body!.Pieces.OrderBy(p => p.Y).ToList();
            for (var p = 1; p < pieces.Count; p++)
            {
                var piece = page.Cut!.Galley.Pieces[pieces[p].Piece];
                var above = page.Cut.Galley.Pieces[pieces[p - 1].Piece];
                var gap = pieces[p].Y - pieces[p - 1].Y - above.Height;
                if (piece.Space > 0 && piece.Block.Value.StartsWith('h'))
                    most = Math.Max(most, (gap - piece.Space) * 100.0 / piece.Space);
            }
        }
        Assert.InRange(most, 0, stretch + .1);
        Assert.Equal(stretch > 0, most > 0);
        if (stretch == 300)
            Assert.True(most > 60, $"the largest space grew by {most:0} %");
    }
}
