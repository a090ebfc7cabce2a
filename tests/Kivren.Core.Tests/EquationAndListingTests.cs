using Kivren.Core.Content;
using Kivren.Core.Listings;
using Kivren.Core.Looks;
using Kivren.Core.Mathematics;
using Kivren.Core.Type;
using static Kivren.Core.Tests.Build;

namespace Kivren.Core.Tests;

public class EquationAndListingTests
{
    private static readonly Length Size = Length.Points(10);

    private static SetEquation Set(string source, bool display = true)
    {
        var set = EquationSetter.Set(source, Size, display);
        Assert.Null(set.Problem);
        return set;
    }

    /// <summary>Each word or glyph with its place.</summary>
    private static List<(string Text, int X, int Y, int Size)> Words(SetEquation set) =>
        set
            .Drawn.OfType<DrawnLine>()
            .SelectMany(l => l.Line.Words.Select(w => (w.Word.Text, l.X + w.X, l.Y, w.Style.Size.Millipoints)))
            .ToList();

    [Fact]
    public void A_fraction_stands_over_its_rule()
    {
        var set = Set("F/2");
        var rule = Assert.Single(set.Drawn.OfType<DrawnRule>());
        var (above, below) = (Words(set)[0], Words(set)[1]);
        Assert.True(above.Y < rule.Y && rule.Y + rule.Height < below.Y);
        // The rule stands on the axis of the face.
        Assert.InRange(rule.Y + rule.Height / 2, -Size.Millipoints * 30 / 100, -Size.Millipoints * 20 / 100);
    }

    [Fact]
    public void Exponents_stand_high_and_small_and_subscripts_low()
    {
        var words = Words(Set("v_0^2"));
        Assert.Equal(["𝑣", "2", "0"], words.Select(w => w.Text));
        Assert.True(words[1].Y < -2_000 && words[1].Size < words[0].Size);
        Assert.True(words[2].Y > 0 && words[2].Size < words[0].Size);
    }

    [Theory]
    [InlineData("sqrt(a)")]
    [InlineData("sqrt(a/b)")]
    [InlineData("sqrt((a/b)/(c/d))")]
    [InlineData("root(3, a/b)")]
    public void A_root_is_as_high_as_what_stands_under_it(string source)
    {
        var set = Set(source);
        var bar = set.Drawn.OfType<DrawnRule>().MinBy(r => r.Y)!;
        var inner = Words(set).Where(w => w.Text is "𝑎").ToList();
        Assert.All(inner, w => Assert.True(w.Y > bar.Y + bar.Height));
        Assert.True(set.Height >= -bar.Y);
        Assert.Contains(Words(set), w => w.Text == "√");
    }

    [Fact]
    public void Fences_grow_in_parts_to_any_height()
    {
        var low = Words(Set("(a)")).Count(w => w.Text is "(" or "");
        var high = Set("[a; b; c; d; e; f; g; h]");
        Assert.Equal(1, low);
        Assert.True(high.Drawn.OfType<DrawnLine>().Count() > 12);
        Assert.True(high.Height + high.Depth > Size.Millipoints * 8);
        // Above the axis as far as below it.
        var axis = Size.Millipoints / 4;
        Assert.InRange(high.Height - axis - (high.Depth + axis), -1_500, 1_500);
    }

    [Fact]
    public void A_displayed_sum_carries_its_limits_above_and_below()
    {
        var display = Words(Set("sum_(i=1)^3 t_i"));
        var sign = display.First(w => w.Text == "∑");
        Assert.True(display.First(w => w.Text == "3").Y < sign.Y && display.First(w => w.Text == "1").Y > 0);
        var inText = Words(Set("sum_(i=1)^3 t_i", display: false));
        Assert.True(inText.First(w => w.Text == "3").X > inText.First(w => w.Text == "∑").X);
    }

    [Fact]
    public void Numbers_stand_upright_letters_in_italic_and_units_after_a_space()
    {
        var words = Words(Set("m = 18.5 kN + Delta"));
        Assert.Equal(["𝑚", "=", "18.5", "kN", "+", "Δ"], words.Select(w => w.Text));
        Assert.True(words[3].X - words[2].X > MathWidth("18.5") + 1_500);
        static int MathWidth(string text) => new TextStyle(FaceLibrary.Mathematics, Size).Scale(FaceLibrary.Mathematics.Word(text).Width);
    }

    [Fact]
    public void A_sign_before_a_number_is_no_operation()
    {
        int Gap(string source) => Words(Set(source)).Last().X;
        Assert.True(Gap("a - b") - Gap("-b") > Size.Millipoints * 8 / 10);
    }

    [Theory]
    [InlineData("(a + b", "“)” is missing")]
    [InlineData("a +)", "closes nothing")]
    [InlineData("a^2^3", "second superscript")]
    [InlineData("sqrt x", "wants brackets")]
    [InlineData("\"m", "quotation mark")]
    [InlineData("/a", "nothing stands before")]
    [InlineData("a_", "missing")]
    public void What_cannot_be_read_says_what_and_where_and_prints_as_written(string source, string says)
    {
        var set = EquationSetter.Set(source, Size, true);
        Assert.Contains(says, set.Problem, StringComparison.Ordinal);
        Assert.Contains("at character", set.Problem, StringComparison.Ordinal);
        Assert.NotEmpty(set.Drawn);
    }

    [Fact]
    public void No_input_breaks_the_reader()
    {
        var random = new Random(7);
        const string signs = "ab12()[]{}|/^_+-=*,;\" sqrt\\ΩλΣ";
        for (var n = 0; n < 3_000; n++)
        {
            var source = new string(Enumerable.Range(0, random.Next(1, 40)).Select(_ => signs[random.Next(signs.Length)]).ToArray());
            Assert.NotNull(EquationSetter.Set(source, Size, n % 2 == 0));
        }
        Assert.Contains("deep", EquationSetter.Set(new string('(', 5_000), Size, true).Problem, StringComparison.Ordinal);
    }

    [Fact]
    public void A_displayed_equation_is_numbered_and_referred_to()
    {
        var composed = Compose(
            Manual(
                Chapter(
                    "a",
                    "Pull",
                    Text("p", new TextRun("By "), To("x", "e", "name-number"), new TextRun(" it holds.")),
                    new Equation(new Id("e"), "T = F/(2 sin alpha)", "T is F over two sine alpha")
                )
            )
        );
        Assert.Contains("Equation 1-1", composed.Words(), StringComparison.Ordinal);
        Assert.Contains("(1-1)", composed.Words(), StringComparison.Ordinal);
    }

    [Fact]
    public void A_tall_equation_in_a_line_makes_its_line_taller_and_no_other()
    {
        var composed = Compose(
            Manual(
                Chapter(
                    "a",
                    "Pull",
                    Text(
                        "p",
                        new TextRun(Build.Words("w", 30).Content.PlainText() + " "),
                        new InlineEquation(new Id("e"), "(a/b)/(c/d)", "a"),
                        new TextRun(" " + Build.Words("w", 30).Content.PlainText())
                    )
                )
            )
        );
        var heights = composed.Divisions[0].Cut.Galley.Pieces.Skip(1).Select(p => p.Height).ToList();
        Assert.Single(heights, h => h > 13_000);
        Assert.All(heights.Where(h => h <= 13_000), h => Assert.Equal(13_000, h));
    }

    // ---- listings ----

    [Fact]
    public void Parts_of_a_program_are_told_apart()
    {
        var tokens = ListingTokens.Of(["# limits", "[drum]", "pull = \"high\""], "ini");
        Assert.Equal(TokenKind.Comment, tokens[0][0].Kind);
        Assert.Contains(tokens[1], t => t.Kind == TokenKind.Keyword);
        Assert.Contains(tokens[2], t => t.Kind == TokenKind.Text);
        Assert.All(ListingTokens.Of(["anything at all"], "no such language"), l =>
            Assert.All(l, t => Assert.Equal(TokenKind.Plain, t.Kind))
        );
    }

    private static List<DrawnLine> Lines(Listing listing) =>
        Compose(Manual(Chapter("a", "L", listing)))
            .Divisions[0]
            .Cut.Galley.Pieces.Skip(1)
            .SelectMany(p => p.Drawn)
            .OfType<DrawnLine>()
            .ToList();

    [Fact]
    public void Colours_of_a_listing_are_dark_enough_to_print_black()
    {
        var inks = Lines(new Listing(new Id("l"), "ini", "# remark\n[drum]\npull = \"high\" \nmax = 18", []))
            .SelectMany(l => l.Line.Words)
            .Select(w => w.Style.Ink)
            .Distinct()
            .ToList();
        Assert.True(inks.Count > 2);
        Assert.All(inks, i => Assert.True(i.Grey < 43));
    }

    [Fact]
    public void Long_lines_go_on_with_a_mark_and_numbers_count_source_lines()
    {
        var lines = Lines(
            new Listing(new Id("l"), "", "first\n" + string.Join(' ', Enumerable.Repeat("word", 40)) + "\nlast", []) { LineNumbers = true }
        );
        var numbers = lines.Where(l => l.Block.IsNone).Select(l => l.Line.Words[0].Word.Text).ToList();
        Assert.Equal(["1", "2", "3"], numbers);
        Assert.Contains(lines, l => l.Line.Words[0].Word.Text == "↳");
        Assert.All(lines, l => Assert.True(l.X + l.Line.Width <= ShippedLooks.Workshop.Master.Measure.Millipoints));
    }

    /// <summary>A column is as wide as a letter of the code's own face; others are wider.</summary>
    [Theory]
    [InlineData("警告：係留索が緩んでいます。")]
    [InlineData("level: ログ保存されるメッセージのレベル、")]
    [InlineData("winch 風が強い \U00020BB7 ")]
    public void Lines_with_characters_of_other_faces_are_cut_by_their_width_and_lose_none(string words)
    {
        var text = string.Concat(Enumerable.Repeat(words, 14));
        var lines = Lines(new Listing(new Id("l"), "", text, []));
        Assert.All(lines, l => Assert.True(l.X + l.Line.Width <= ShippedLooks.Workshop.Master.Measure.Millipoints));
        Assert.Equal(
            text.Replace(" ", "", StringComparison.Ordinal),
            string.Concat(lines.SelectMany(l => l.Line.Words).Select(w => w.Word.Text)).Replace("↳", "", StringComparison.Ordinal)
        );
        // None is half empty but the last.
        Assert.All(lines.SkipLast(1), l =>
            Assert.True(l.Line.Width * 2 > ShippedLooks.Workshop.Master.Measure.Millipoints, $"{l.Line.Width}")
        );
    }

    [Fact]
    public void A_listing_breaks_with_three_lines_on_each_side()
    {
        for (var before = 100; before < 330; before += 10)
        {
            var composed = Compose(
                Manual(
                    Chapter(
                        "a",
                        "L",
                        Build.Words("p", before),
                        new Listing(new Id("l"), "", string.Join('\n', Enumerable.Range(0, 14).Select(n => $"line {n}")), []),
                        Build.Words("q", 100)
                    )
                )
            );
            foreach (
                var count in composed
                    .Pages.Select(p => p.Lines().Count(l => l.StartsWith("line", StringComparison.Ordinal)))
                    .Where(c => c > 0)
            )
                Assert.True(count >= 3, $"{count} lines");
        }
    }
}
