using Kivren.Core.Content;
using Kivren.Core.LooseEnds;
using Kivren.Core.Type;
using static Kivren.Core.Tests.Build;

namespace Kivren.Core.Tests;

/// <summary>Input that nobody should write: each composes or says why not, and no text is lost.</summary>
public class BadInputTests
{
    [Fact]
    public void A_face_with_broken_tables_is_refused_by_name()
    {
        var whole = FaceLibrary.Serif.Bytes;
        var random = new Random(3);
        for (var n = 0; n < 40; n++)
        {
            var broken = whole[..random.Next(1, whole.Length)];
            for (var k = 0; k < 200; k++)
                broken[random.Next(broken.Length)] = (byte)random.Next(256);
            try
            {
                var face = new Face("broken", "Broken", 400, false, broken);
                Assert.True(face.Word("Tarn").Width >= 0 || face.Word("Tarn").Width < 0);
            }
            catch (InvalidDataException e)
            {
                Assert.Contains("broken", e.Message, StringComparison.Ordinal);
            }
        }
        Assert.Throws<InvalidDataException>(() => new Face("none", "None", 400, false, new byte[64]));
    }

    [Fact]
    public void A_table_of_100_000_cells_composes()
    {
        var rows = Enumerable
            .Range(0, 20_000)
            .Select(r => new Row(new Id($"r{r}"), Enumerable.Range(0, 5).Select(c => Cell($"c{r}-{c}", $"{r}.{c}")).ToArray()))
            .ToArray();
        var composed = Compose(Manual(Chapter("a", "Huge", new Table(new Id("t"), 1, [], [new TextRun("All")], rows))));
        Assert.True(composed.Pages.Count > 400);
        Assert.NotNull(composed.FindIn(new Id("a"), new Id("c19999-4")));
    }

    [Fact]
    public void A_row_taller_than_ten_pages_composes_and_loses_nothing()
    {
        var text = string.Join(' ', Enumerable.Range(0, 5_000).Select(n => $"word{n}"));
        var composed = Compose(Manual(Chapter("a", "Tall", new Table(new Id("t"), 0, [], [], [new Row(new Id("r"), [Cell("c", text)])]))));
        Assert.True(composed.Pages.Count > 10);
        Assert.Contains("word4999", composed.Words(), StringComparison.Ordinal);
    }

    [Fact]
    public void A_word_wider_than_the_measure_is_told()
    {
        var composed = Compose(Manual(Chapter("a", "Wide", Text("p", new TextRun("Here " + new string('W', 120) + " it stands.")))));
        Assert.Contains(composed.LooseEnds, l => l.Kind == LooseEndKind.OverfullLine);
        Assert.Equal(120, composed.Words().Count(c => c == 'W') - 1); // and that of the title
    }

    [Theory]
    [InlineData("no sign in it allows a break", false, false, 90)]
    [InlineData("a sign in it could allow one", true, false, 90)]
    [InlineData("the writer keeps it on one line", false, true, 6)]
    public void A_line_too_long_says_whether_a_break_can_be_allowed(string because, bool signs, bool kept, int words)
    {
        var word = string.Join(
            signs ? "/"
                : kept ? " "
                : "",
            Enumerable.Repeat(
                kept ? new string('w', 21)
                    : signs ? "12"
                    : "WW",
                words
            )
        );
        var run = new TextRun(word, kept ? SpanRoles.NoBreak : SpanRoles.None);
        var composed = Compose(Manual(Chapter("a", "Wide", Text("p", new TextRun("Here "), run, new TextRun(" it stands.")))));
        var told = composed.LooseEnds.Where(l => l.Kind == LooseEndKind.OverfullLine).ToList();
        Assert.NotEmpty(told);
        Assert.True(told.Exists(l => l.Instead is not null) == (signs || kept), because);
        var places = Text("p", new TextRun("Here "), run with { Text = word.Replace("/", "/\u200b", StringComparison.Ordinal), Roles = 0 });
        if (signs || kept)
            Assert.DoesNotContain(Compose(Manual(Chapter("a", "Wide", places))).LooseEnds, l => l.Kind == LooseEndKind.OverfullLine);
    }

    [Fact]
    public void Ten_thousand_footnotes_compose()
    {
        var blocks = Enumerable
            .Range(0, 2_000)
            .Select(p =>
                (Block)Text(
                    $"p{p}",
                    Enumerable
                        .Range(0, 5)
                        .SelectMany(n =>
                            new Inline[] { new TextRun($"Words {n} "), new Footnote(new Id($"n{p}-{n}"), [new TextRun($"Note {p}-{n}.")]) }
                        )
                        .ToArray()
                )
            )
            .ToArray();
        var composed = Compose(Manual(Chapter("a", "Notes", blocks)));
        Assert.Equal(
            10_000,
            composed.Pages.Where(p => p.Body is not null).SelectMany(p => p.Body!.Notes).Select(n => n.Note.Id).Distinct().Count()
        );
    }

    [Fact]
    public void Lists_nested_deep_and_spans_that_reach_nowhere_compose()
    {
        Block inner = Words("deep", 12);
        for (var n = 0; n < 20; n++)
            inner = new ItemList(new Id($"l{n}"), ListKind.Unordered, 1, [new Item(new Id($"i{n}"), [inner])]);
        var table = new Table(new Id("t"), 5, [], [], [new Row(new Id("r"), [Cell("c", "x", 900, 900)]), new Row(new Id("r2"), [])]);
        var composed = Compose(Manual(Chapter("a", "Deep", inner, table)));
        Assert.Contains("band", composed.Words(), StringComparison.Ordinal);
    }

    [Fact]
    public void Figures_that_never_fit_and_empty_things_compose()
    {
        var composed = Compose(
            Manual(
                Chapter(
                    "a",
                    "Empty",
                    Figure("f"),
                    new Table(new Id("t"), 0, [], [], []),
                    new ItemList(new Id("l"), ListKind.Roman, 5_000, []),
                    new Listing(new Id("li"), "", "", []),
                    new Aside(new Id("as"), [], []),
                    new Equation(new Id("e"), "", ""),
                    Words("p", 5)
                ),
                Chapter("b", "Only a figure", Figure("g", FigurePlacement.Foot))
            ) with
            {
                Assets = [Picture with { Height = 9_000 }],
            }
        );
        Assert.Contains(composed.LooseEnds, l => l.Kind == LooseEndKind.NoAlternativeText);
        Assert.InRange(composed.SheetOf("g") - composed.Divisions[1].FirstSheet, 0, 1);
    }

    [Fact]
    public void A_footnote_that_says_nothing_is_a_loose_end()
    {
        Paragraph Noted(string id, params Inline[] words) =>
            new(new Id(id), "body", [new TextRun("Set the brake"), new Footnote(new Id(id + "n"), words)]);
        var composed = Compose(
            Manual(
                Chapter(
                    "a",
                    "Notes",
                    Noted("empty"),
                    Noted("mark", new TextRun(""), new Anchor(new Id("an"), "here")),
                    Noted("words", new TextRun("By hand.")),
                    Noted("drawn", new InlineEquation(new Id("e"), "x", "x"))
                )
            )
        );
        Assert.Equal(["empty", "mark"], composed.LooseEnds.Where(l => l.Kind == LooseEndKind.NoteEmpty).Select(l => l.Block.Value));
    }
}
