using System.Globalization;
using System.Reflection;
using System.Text;
using Kivren.Core.Content;
using Kivren.Core.Type;

namespace Kivren.Core.Tests;

public class TypeTests
{
    private static StyledText Styled(string text, bool hyphenates = true)
    {
        var styled = new StyledText();
        styled.Add(text, new TextStyle(FaceLibrary.Serif, Length.Points(9.6)), hyphenates);
        return styled;
    }

    private static List<TextLine> Set(string text, double width, Alignment alignment = Alignment.Justified, bool hyphenates = true) =>
        new LineSetter().Set(Styled(text, hyphenates), new Shape(Length.Points(width), default, alignment), Hyphenator.For("en-GB"));

    private const string Passage =
        "A band that is right slips neither under the full load nor when the drum is wet. Adjust it whenever the lining has been "
        + "measured, and once more after the first ten crossings, because a new lining beds in.";

    [Fact]
    public void Line_break_opportunities_agree_with_Unicodes_own_test_file()
    {
        using var reader = new StreamReader(Assembly.GetExecutingAssembly().GetManifestResourceStream("LineBreakTest.txt")!);
        var failures = new List<string>();
        var cases = 0;
        while (reader.ReadLine() is { } line)
        {
            var comment = line.IndexOf('#', StringComparison.Ordinal);
            if (comment >= 0)
                line = line[..comment];
            if (line.Trim().Length == 0)
                continue;
            cases++;
            var text = new StringBuilder();
            var expected = new List<(int At, bool Breaks)>();
            foreach (var token in line.Trim().Split(' ', StringSplitOptions.RemoveEmptyEntries))
                if (token is "×" or "÷")
                    expected.Add((text.Length, token == "÷"));
                else
                    text.Append(char.ConvertFromUtf32(int.Parse(token, NumberStyles.HexNumber, CultureInfo.InvariantCulture)));
            var before = new byte[text.Length];
            LineBreaks.Find(text.ToString(), before);
            if (expected.Any(e => e.At > 0 && e.At < text.Length && before[e.At] != LineBreaks.None != e.Breaks))
                failures.Add(line.Trim());
        }
        Assert.True(cases > 7000);
        Assert.True(failures.Count == 0, $"{failures.Count} of {cases} fail:\n" + string.Join('\n', failures.Take(25)));
    }

    [Fact]
    public void Justified_lines_reach_the_measure_to_the_millipoint_but_for_the_last()
    {
        var lines = Set(Passage, 304);
        Assert.True(lines.Count >= 3);
        foreach (var line in lines.SkipLast(1))
        {
            var last = line.Words[^1];
            var hyphen = last.Hyphen ? last.Style.Scale(last.Style.Face.HyphenGlyph.Width) : 0;
            Assert.Equal(304_000, last.X + last.Width + hyphen);
        }
    }

    [Fact]
    public void Every_word_stands_on_a_line_once_and_in_order()
    {
        var printed = string.Concat(
            Set(Passage, 120).SelectMany(l => l.Words).Select(w => w.Word.Characters(w.From, w.To).ToString() + (w.SpaceAfter ? " " : ""))
        );
        Assert.Equal(Passage, printed.TrimEnd());
    }

    [Fact]
    public void Words_and_spaces_add_up_to_the_run_shaped_whole()
    {
        var face = FaceLibrary.Serif;
        foreach (var (a, b) in new[] { ("To", "you"), ("Tarn", "Wave"), ("A", "V"), ("winch", "and") })
        {
            var whole = face.Word(a + " " + b).Width;
            Assert.Equal(whole, face.Word(a).Width + face.Word(b).Width + face.Space + face.Word(a).KernAfter + face.Word(b).KernBefore);
        }
    }

    [Fact]
    public void Total_fit_beats_filling_line_by_line()
    {
        // Filling each line as far as it goes leaves one line of this far looser than any that total fit leaves.
        var lines = Set(Passage, 150, hyphenates: false);
        var loosest = lines
            .SkipLast(1)
            .Max(l => Enumerable.Range(1, l.Words.Length - 1).Max(i => l.Words[i].X - l.Words[i - 1].X - l.Words[i - 1].Width));
        Assert.True(loosest < 8_000, $"loosest space {loosest}");
    }

    [Theory]
    [InlineData("maintenance", "main-ten-ance")]
    [InlineData("controller", "con-trol-ler")]
    [InlineData("measured", "meas-ured")]
    public void Words_divide_where_the_patterns_say(string word, string divided)
    {
        var points = Hyphenator.For("en-GB")!.Points(word);
        var found = string.Concat(word.Select((c, i) => points.Contains((byte)i) ? "-" + c : c.ToString()));
        Assert.Equal(divided, found);
    }

    [Fact]
    public void Two_letters_stay_before_a_hyphen_and_three_after()
    {
        foreach (var word in Passage.Split(' '))
        foreach (var point in Hyphenator.For("en-GB")!.Points(word.Trim('.', ',')))
            Assert.InRange(point, 2, word.Trim('.', ',').Length - 3);
    }

    [Fact]
    public void Controls_code_and_heads_are_never_divided()
    {
        Assert.All(Set("maintenance controller measurement maintenance controller", 60, Alignment.Ragged, hyphenates: false), l =>
            Assert.False(l.EndsInHyphen)
        );
    }

    [Fact]
    public void No_break_spaces_hold_a_number_to_its_unit()
    {
        foreach (
            var line in Set(
                "It must be replaced at 3\u00A0mm and at 4\u00A0mm and at 5\u00A0mm and at 6\u00A0mm or more",
                70,
                Alignment.Ragged
            )
        )
            Assert.DoesNotMatch(@"\d$", string.Concat(line.Words.Select(w => w.Word.Text)));
    }

    [Fact]
    public void A_word_wider_than_the_measure_is_divided_and_told()
    {
        var lines = Set("Rindfleischetikettierungs", 40, hyphenates: false);
        Assert.All(lines, l => Assert.InRange(l.Width, 0, 40_000));
        Assert.Contains(lines, l => l.IsBroken);
        Assert.Equal(
            "Rindfleischetikettierungs",
            string.Concat(lines.SelectMany(l => l.Words).Select(w => w.Word.Characters(w.From, w.To).ToString()))
        );
    }

    [Fact]
    public void A_character_that_no_face_has_is_told_and_drawn_as_a_box()
    {
        var missing = new List<string>();
        var lines = new LineSetter().Set(Styled("crane ꯀ here"), new Shape(Length.Points(300), default, Alignment.Ragged), null, missing);
        Assert.Equal(["ꯀ"], missing);
        var box = lines[0].Words.Single(w => w.Word.Text == "ꯀ");
        Assert.Equal("□", box.Word.Shown);
        Assert.Same(FaceLibrary.Symbols, box.Style.Face);
        Assert.DoesNotContain((ushort)0, box.Word.Glyphs);
    }

    [Fact]
    public void A_symbol_the_face_lacks_is_taken_from_the_symbol_face()
    {
        var missing = new List<string>();
        var lines = new LineSetter().Set(Styled("Mind ⚠ here"), new Shape(Length.Points(300), default, Alignment.Ragged), null, missing);
        Assert.Empty(missing);
        Assert.Contains(lines[0].Words, w => ReferenceEquals(w.Style.Face, FaceLibrary.Symbols));
    }

    [Fact]
    public void Ragged_lines_keep_the_natural_word_space()
    {
        var face = FaceLibrary.Serif;
        var style = new TextStyle(face, Length.Points(9.6));
        foreach (var line in Set("one two three four five six seven eight nine ten", 90, Alignment.Ragged))
            for (var i = 1; i < line.Words.Length; i++)
            {
                var gap = line.Words[i].X - line.Words[i - 1].X - line.Words[i - 1].Width;
                Assert.InRange(gap, style.Scale(face.Space) - 500, style.Scale(face.Space) + 500);
            }
    }

    [Fact]
    public void A_soft_hyphen_breaks_with_a_hyphen_and_vanishes_elsewhere()
    {
        var wide = Set("brake\u00ADband", 200, hyphenates: false);
        Assert.Equal("brakeband", string.Concat(wide.SelectMany(l => l.Words).Select(w => w.Word.Text)));
        var narrow = Set("brake\u00ADband", 32, hyphenates: false);
        Assert.True(narrow[0].EndsInHyphen);
    }
}
