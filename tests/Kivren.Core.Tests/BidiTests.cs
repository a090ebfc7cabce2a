using System.Globalization;
using System.IO.Compression;
using System.Reflection;
using System.Text;
using Kivren.Core.Type;

namespace Kivren.Core.Tests;

public class BidiTests
{
    [Fact]
    public void Levels_and_order_agree_with_Unicodes_own_test_file()
    {
        using var reader = new StreamReader(
            new GZipStream(
                Assembly.GetExecutingAssembly().GetManifestResourceStream("BidiCharacterTest.txt.gz")!,
                CompressionMode.Decompress
            )
        );
        var failures = new List<string>();
        var cases = 0;
        while (reader.ReadLine() is { } line)
        {
            cases++;
            var fields = line.Split(';');
            var text = new StringBuilder();
            var starts = new List<int>();
            foreach (var point in fields[0].Split(' '))
            {
                starts.Add(text.Length);
                text.Append(char.ConvertFromUtf32(int.Parse(point, NumberStyles.HexNumber, CultureInfo.InvariantCulture)));
            }
            var s = text.ToString();
            var paragraph = fields[1] switch
            {
                "0" => (byte)0,
                "1" => (byte)1,
                _ => Bidi.ParagraphLevel(s),
            };
            var all = Bidi.Levels(s, paragraph);
            var levels = starts.Select(i => all[i]).ToArray();
            var right =
                paragraph.ToString(CultureInfo.InvariantCulture) == fields[2]
                && string.Join(' ', levels.Select(l => l == Bidi.Removed ? "x" : l.ToString(CultureInfo.InvariantCulture))) == fields[3]
                && string.Join(' ', Bidi.Visual(levels)) == fields[4];
            if (!right)
                failures.Add(line);
        }
        Assert.Equal(91_707, cases);
        Assert.True(failures.Count == 0, $"{failures.Count} of {cases} fail:\n" + string.Join('\n', failures.Take(20)));
    }

    private static TextLine Line(string text)
    {
        var styled = new StyledText();
        styled.Add(text, new TextStyle(FaceLibrary.Serif, Length.Points(10)), false);
        return Assert.Single(new LineSetter().Set(styled, new Shape(Length.Points(400), default, Alignment.Ragged), null));
    }

    [Fact]
    public void Hebrew_words_in_an_English_line_stand_from_right_to_left()
    {
        var words = Line("the sign שלום עולם says").Words;
        Assert.Equal(["the", "sign", "שלום", "עולם", "says"], words.Select(w => w.Word.Text));
        Assert.True(words[1].X < words[3].X && words[3].X < words[2].X && words[2].X < words[4].X);
        Assert.True(words[2].Word.RightToLeft);
        // No word stands over another, and the line is as wide as its words and spaces.
        var ordered = words.OrderBy(w => w.X).ToArray();
        for (var i = 1; i < ordered.Length; i++)
            Assert.True(ordered[i - 1].X + ordered[i - 1].Width < ordered[i].X);
    }

    [Fact]
    public void A_number_in_Hebrew_text_reads_from_left_to_right()
    {
        var words = Line("עומס 18 טון").Words;
        Assert.False(words[1].Word.RightToLeft);
        Assert.True(words[2].X < words[1].X && words[1].X < words[0].X);
        // The paragraph itself runs from right to left: its line ends at the right.
        Assert.Equal(400_000, words[0].X + words[0].Width);
    }

    [Fact]
    public void The_letters_of_a_right_to_left_word_are_read_in_the_order_they_were_written()
    {
        var word = FaceLibrary.Symbols.Word("שלום", rightToLeft: true);
        Assert.Equal("שלום", word.Characters(0, word.Glyphs.Length).ToString());
        Assert.Equal("ם", word.Characters(0, 1).ToString());
    }
}
