using Kivren.Core.Composition;
using Kivren.Core.Content;
using Kivren.Core.Display;
using Kivren.Core.Looks;
using Kivren.Core.Type;
using static Kivren.Core.Tests.Build;

namespace Kivren.Core.Tests;

/// <summary>Scripts that are set otherwise than Latin: squares, words without spaces, lines and pages from the right.</summary>
public class ScriptTests
{
    private const int Em = 10_000;
    private static readonly TextStyle Body = new(FaceLibrary.Serif, new Length(Em));

    private static List<TextLine> Set(
        string text,
        string language,
        double width,
        Alignment alignment = Alignment.Justified,
        List<string>? missing = null
    )
    {
        var styled = new StyledText();
        styled.Add(text, Body, true);
        return new LineSetter().Set(
            styled,
            new Shape(Length.Points(width), default, alignment),
            Hyphenator.For(language),
            missing,
            Writing.Of(language)
        );
    }

    private static string Said(TextLine line) => string.Concat(line.Words.Select(w => w.Word.Characters(w.From, w.To).ToString()));

    [Theory]
    [InlineData("ja", "渡船", "NotoSerifJP_400Regular")]
    [InlineData("zh", "渡船", "NotoSerifSC_400Regular")]
    [InlineData("zh-TW", "渡船", "NotoSerifTC_400Regular")]
    [InlineData("ko", "나룻배", "NotoSerifKR_400Regular")]
    [InlineData("en", "ウインチ", "NotoSerifJP_400Regular")]
    [InlineData("ar", "العبّارة", "NotoNaskhArabic_400Regular")]
    [InlineData("he", "מעבורת", "NotoSerifHebrew_400Regular")]
    [InlineData("hi", "नौका", "NotoSerifDevanagari_400Regular")]
    [InlineData("th", "เรือ", "NotoSerifThai_400Regular")]
    public void A_script_is_set_in_its_own_face_by_the_language(string language, string text, string face)
    {
        var missing = new List<string>();
        var words = Set(text, language, 300, missing: missing).Single().Words;
        Assert.Empty(missing);
        Assert.All(words, w => Assert.Equal(face, w.Style.Face.Name));
    }

    [Fact]
    public void Heads_and_emphasis_of_such_a_script_are_bold_and_an_italic_role_is_plain()
    {
        Face FaceIn(TextStyle style) => ScriptFaces.For('渡', style, Writing.Of("ja"))!;
        Assert.Equal("NotoSansJP_700Bold", FaceIn(Body with { Face = FaceLibrary.SansStrong }).Name);
        Assert.Equal("NotoSansJP_700Bold", FaceIn(Body with { Face = FaceLibrary.SerifItalic, StandsOut = true }).Name);
        Assert.Equal("NotoSerifJP_400Regular", FaceIn(Body with { Face = FaceLibrary.SerifItalic }).Name);
        Assert.Equal("NotoSansJP_400Regular", FaceIn(Body with { Face = FaceLibrary.Code }).Name);
    }

    [Theory]
    [InlineData("ja", true)]
    [InlineData("zh-Hans", false)]
    [InlineData("zh-TW", false)]
    public void Each_emphasized_character_of_Chinese_and_Japanese_has_a_dot_and_signs_and_letters_have_none(string language, bool above)
    {
        var look = ShippedLooks.Workshop;
        var chapter = Chapter(
            "c",
            "渡船",
            Text("p", new TextRun("船を"), new TextRun("係留、Tarn 索", SpanRoles.Emphasis), new TextRun("で。")),
            Text("q", new TextRun("船を"), new TextRun("係留", SpanRoles.Strong | SpanRoles.Emphasis))
        );
        var composed = Compose(Manual(chapter with { Language = language }) with { Language = language }, look);
        var items = composed.Pages.SelectMany(p => DisplayList.Of(p, composed.Look).Items).ToList();
        var dots = items.OfType<DotItem>().ToList();
        var words = items.OfType<WordItem>().Where(w => w.Word.Style.Dotted && w.Word.Word.Text.Any(c => "係留索".Contains(c))).ToList();
        Assert.Equal(3, dots.Count);
        Assert.All(words, w => Assert.True(w.Word.Style.Face.Weight < 600, w.Word.Style.Face.Name));
        var line = words.Select(w => w.Y).Distinct().Single();
        var size = words[0].Word.Style.Size.Millipoints;
        // Off the squares, and not in the line above or below.
        Assert.All(dots, d => Assert.InRange(above ? line - d.Y : d.Y - line, above ? size * 88 / 100 : size * 12 / 100, size * 11 / 10));
        Assert.Equal(dots.Select(d => d.X).Order(), dots.Select(d => d.X));
        Assert.All(dots, d => Assert.Contains(words, w => d.X > w.X && d.X < w.X + w.Word.Width));
    }

    [Theory]
    [InlineData("ko", "나룻배")]
    [InlineData("en", "ferry")]
    public void No_other_language_has_dots(string language, string text)
    {
        var chapter = Chapter("c", "C", Text("p", new TextRun(text, SpanRoles.Emphasis))) with { Language = language };
        var composed = Compose(Manual(chapter) with { Language = language });
        Assert.DoesNotContain(composed.Pages.SelectMany(p => DisplayList.Of(p, composed.Look).Items), i => i is DotItem);
    }

    [Fact]
    public void No_line_begins_with_what_closes_or_ends_with_what_opens_and_every_full_one_is_flush()
    {
        const string points = "、。」』）",
            signs = points + "ー々ょっゃァ";
        var random = new Random(15);
        int all = 0,
            flush = 0;
        for (var round = 0; round < 200; round++)
        {
            var text = new System.Text.StringBuilder("船");
            while (text.Length < 120)
                text.Append(
                    random.Next(12) switch
                    {
                        0 => "「鋼索」",
                        1 => "、",
                        2 => "。",
                        3 => "（岸）",
                        4 => "っ",
                        5 => "タルン6",
                        6 => "Stop",
                        7 => "ー",
                        _ => "渡船湖両岸結動力".Substring(random.Next(8), 1),
                    }
                );
            var width = 100 + random.Next(200);
            var lines = Set(text.ToString(), "ja", width);
            Assert.Equal(text.ToString(), string.Concat(lines.Select(Said)));
            foreach (var line in lines.Skip(1))
                Assert.DoesNotContain(Said(line)[0], width < 150 ? points : signs);
            foreach (var line in lines.SkipLast(1))
            {
                Assert.DoesNotContain(Said(line)[^1], "「（");
                all++;
                if (line.Width >= line.Measure - 300)
                    flush++;
            }
        }
        // Lines of little but signs and long names may fall short.
        Assert.True(flush >= all * 95 / 100, $"{flush} of {all}");
    }

    [Fact]
    public void A_sign_gives_its_white_half_away_at_the_end_of_a_line_and_beside_another()
    {
        static int Width(string text) => Set(text, "ja", 500, Alignment.Ragged).Single().Width;
        Assert.Equal(3 * Em, Width("渡船岸"));
        // A full stop takes a whole square inside a line, half of one at its end.
        Assert.Equal(3 * Em, Width("船。岸"));
        Assert.Equal(3 * Em / 2, Width("船。"));
        // A closing and an opening bracket share the white between them.
        Assert.Equal(9 * Em / 2, Width("「船」「岸」"));
        Assert.Equal(2 * Em, Width("船。」"));
    }

    [Fact]
    public void In_short_lines_small_kana_and_the_sign_of_length_may_begin_a_line_and_points_never()
    {
        const string text = "ウィンチのモーターとローラーをチェックしてから、フェリーターミナルへ。";
        static bool BeginsWith(List<TextLine> lines, string signs) =>
            lines.Skip(1).Any(l => signs.Contains(Said(l)[0], StringComparison.Ordinal));
        var narrow = Enumerable.Range(4, 10).Select(squares => Set(text, "ja", squares * 10 + 2, Alignment.Ragged)).ToList();
        Assert.Contains(narrow, lines => BeginsWith(lines, "ーィェッ"));
        Assert.DoesNotContain(narrow, lines => BeginsWith(lines, "、。"));
        var wide = Enumerable.Range(15, 12).Select(squares => Set(text, "ja", squares * 10 + 2, Alignment.Ragged));
        Assert.DoesNotContain(wide, lines => BeginsWith(lines, "ーィェッ、。"));
    }

    [Theory]
    [InlineData("ja", 1, 1)]
    [InlineData("zh", 2, 2)]
    [InlineData("zh-TW", 2, 2)]
    // Where the language has no rule of its own the look says it, and what follows a head is flush.
    [InlineData("ko", 0, 1.4)]
    public void Paragraphs_are_set_in_as_the_language_does(string language, double first, double second)
    {
        var chapter = Chapter("a", "章", Text("p1", new TextRun("渡船は湖を渡る。")), Text("p2", new TextRun("索を引く。")));
        var composed = Compose(Manual(chapter with { Language = language }) with { Language = language });
        double BeginOf(string id) =>
            composed
                .Pages.SelectMany(p => DisplayList.Of(p, composed.Look).Items)
                .OfType<WordItem>()
                .Where(w => w.Block == new Id(id))
                .Select(w => w.X / (double)w.Word.Style.Size.Millipoints)
                .First();
        var left = composed.Pages.First(p => p.Body is { Pieces.Length: > 0 } && p.Folio == "1").Master.Inner.Millipoints;
        Assert.Equal(first, BeginOf("p1") - left / (double)ShippedLooks.Workshop.Body.Plain.Size.Millipoints, 1);
        Assert.Equal(second - first, BeginOf("p2") - BeginOf("p1"), 1);
    }

    [Fact]
    public void Latin_words_among_squares_are_divided()
    {
        var lines = Set("渡船をantidisestablishmentarianismと呼ぶ者はいない。", "ja", 120);
        Assert.Contains(lines, l => l.Words.Any(w => w.Hyphen));
    }

    [Fact]
    public void Letters_and_figures_stand_a_quarter_off_from_squares_and_the_text_gets_no_space()
    {
        var apart = Set("船Stop岸", "ja", 500, Alignment.Ragged).Single();
        var closed = Body.WidthOf("Stop");
        Assert.Equal(2 * Em + closed + Em / 2, apart.Width);
        Assert.DoesNotContain(apart.Words, w => w.SpaceAfter);
        // In Korean, whose words stand apart, nothing is added.
        Assert.Equal("6척", Said(Set("6척", "ko", 500, Alignment.Ragged).Single()));
    }

    [Fact]
    public void Quotation_marks_are_those_of_the_language_they_stand_in()
    {
        var chinese = Set("他说“你好”。", "zh", 500, Alignment.Ragged).Single();
        Assert.All(chinese.Words, w => Assert.Equal("NotoSerifSC_400Regular", w.Style.Face.Name));
        var english = Set("He said “hello”.", "en", 500, Alignment.Ragged).Single();
        Assert.All(english.Words, w => Assert.Same(FaceLibrary.Serif, w.Style.Face));
        // They open and close as brackets do: a line may end before and after them.
        var before = new byte[8];
        LineBreaks.Find("他说“你好”了", before, squares: true);
        Assert.Equal([0, 1, 1, 0, 1, 0, 1], before[..7]);
    }

    [Fact]
    public void Lines_of_Thai_end_between_words()
    {
        const string text = "เรือข้ามฟากเชื่อมสองฝั่งของทะเลสาบตั้งแต่เดือนเมษายนถึงเดือนตุลาคม";
        string[] words =
        [
            "เรือ",
            "ข้าม",
            "ฟาก",
            "ข้ามฟาก",
            "เชื่อม",
            "สอง",
            "ฝั่ง",
            "ของ",
            "ทะเลสาบ",
            "ตั้งแต่",
            "เดือน",
            "เมษายน",
            "ถึง",
            "ตุลาคม",
        ];
        var ends = new HashSet<int>();
        for (int at = 0; at < text.Length; )
        {
            ends.Add(at);
            at += words.Where(w => text.AsSpan(at).StartsWith(w, StringComparison.Ordinal)).Min(w => w.Length);
        }
        for (var width = 60; width < 200; width += 7)
        {
            var lines = Set(text, "th", width, Alignment.Ragged);
            Assert.Equal(text, string.Concat(lines.Select(Said)));
            Assert.All(lines, l => Assert.Contains(l.Start, ends));
        }
        Assert.True(Set(text, "th", 60, Alignment.Ragged).Count > 3);
    }

    [Fact]
    public void Words_that_no_dictionary_has_are_not_divided_and_a_sign_of_repetition_stays()
    {
        var before = new byte[40];
        ThaiWords.Open("ฮฮฮฮฮ", before);
        Assert.All(before[..5], b => Assert.Equal(LineBreaks.None, b));
        const string slowly = "ช้าๆมาก";
        ThaiWords.Open(slowly, before);
        Assert.Equal(LineBreaks.None, before[slowly.IndexOf('ๆ', StringComparison.Ordinal)]);
    }

    [Fact]
    public void A_mark_stays_in_the_face_of_its_letter()
    {
        // Every vowel mark joins its letter: one word in one face.
        var line = Set("حُزْمَةٌ", "ar", 300).Single();
        Assert.Single(line.Words);
        Assert.DoesNotContain((ushort)0, line.Words[0].Word.Glyphs);
    }

    [Fact]
    public void Lines_from_the_right_begin_at_the_right_and_program_text_keeps_its_direction()
    {
        var styled = new StyledText();
        styled.Add("الملف ", Body, true);
        styled.Add("/etc/apt/sources.list/", Body with { Face = FaceLibrary.Code }, false);
        styled.Add(" هنا", Body, true);
        var shape = new Shape(Length.Points(300), default, Alignment.Ragged);
        var line = new LineSetter().Set(styled, shape, null, writing: Writing.Of("ar")).Single();
        Assert.Equal(300_000, line.Measure);
        var first = line.Words[0];
        Assert.Equal(300_000, first.X + first.Width);
        // The path's parts go on from left to right, and stand left of the first word and right of the last.
        var path = line.Words.Where(w => ReferenceEquals(w.Style.Face, FaceLibrary.Code)).ToList();
        Assert.Equal("/etc/apt/sources.list/", string.Concat(path.Select(w => w.Word.Characters(w.From, w.To).ToString())));
        Assert.Equal(path.Select(w => w.X).Order(), path.Select(w => w.X));
        Assert.True(path[^1].X + path[^1].Width < first.X);
        Assert.True(line.Words[^1].X + line.Words[^1].Width < path[0].X);
    }

    [Fact]
    public void Words_of_another_direction_alone_begin_where_the_others_do()
    {
        var line = Set("Stop 6", "ar", 300, Alignment.Ragged).Single();
        Assert.Equal(300_000, line.Words[^1].X + line.Words[^1].Width);
        Assert.True(line.Words[0].X < line.Words[^1].X);
    }

    [Fact]
    public void The_pages_of_a_manual_from_the_right_are_those_of_one_from_the_left_mirrored()
    {
        static ComposedManual In(string language)
        {
            var table = new Table(
                new Id("t"),
                1,
                [CellAlignment.Left, CellAlignment.Right],
                [new TextRun("5")],
                [new Row(new Id("r1"), [Cell("a", "1"), Cell("b", "22")]), new Row(new Id("r2"), [Cell("c", "333"), Cell("d", "4")])]
            );
            var manual = Manual(
                Chapter("c1", "1", Text("p1", new TextRun("12 34 56 78")), Head("h", HeadLevel.A, "2"), table, Figure("f")) with
                {
                    Language = language,
                },
                Chapter("c2", "3", Text("p2", new TextRun("90"))) with
                {
                    Language = language,
                }
            ) with
            {
                Language = language,
                Assets = [Picture],
            };
            return Compose(manual, ShippedLooks.Workshop);
        }
        var (left, right) = (In("tlh"), In("yi"));
        Assert.Equal(left.Pages.Count, right.Pages.Count);
        var compared = 0;
        for (var p = 0; p < left.Pages.Count; p++)
        {
            var (a, b) = (DisplayList.Of(left.Pages[p], left.Look), DisplayList.Of(right.Pages[p], right.Look));
            Assert.Equal(a.Items.Count, b.Items.Count);
            foreach (var (x, y) in a.Items.Zip(b.Items))
            {
                Assert.Equal(x.Y, y.Y);
                switch (x, y)
                {
                    case (RuleItem one, RuleItem other):
                        Assert.Equal(a.Width - one.X - one.Width, other.X);
                        compared++;
                        break;
                    case (PictureItem one, PictureItem other):
                        Assert.Equal(a.Width - one.X - one.Width, other.X);
                        compared++;
                        break;
                    case (LeaderItem one, LeaderItem other):
                        Assert.Equal((a.Width - one.To, a.Width - one.X), (other.X, other.To));
                        compared++;
                        break;
                }
            }
            // Whole lines change sides; figures in them are still read from the left. Their letters take none of the line's slack.
            foreach (var (one, other) in Lines(a).Zip(Lines(b)))
            {
                Assert.True(Math.Abs(a.Width - one.Right - other.Left) <= 50, $"{one} {other} {a.Width}");
                compared++;
            }
        }
        Assert.True(compared > 15, $"{compared}");

        static IEnumerable<(int Left, int Right, string Words, (int Y, Id Block) At)> Lines(DisplayPage page) =>
            page
                .Items.OfType<WordItem>()
                .Where(w => w.Role != ReadingRole.Furniture)
                .GroupBy(w => (w.Y, w.Block))
                .Select(g => (g.Min(w => w.X), g.Max(w => w.X + w.Word.Width), string.Join(' ', g.Select(w => w.Word.Word.Text)), g.Key));
    }

    [Theory]
    [InlineData("ru", "пассажиров")]
    [InlineData("el", "συρματόσχοινο")]
    [InlineData("da", "sejladsen")]
    [InlineData("nb", "passasjerene")]
    [InlineData("fi", "matkustajat")]
    [InlineData("pl", "pasażerowie")]
    [InlineData("cs", "cestujících")]
    [InlineData("pt", "passageiros")]
    [InlineData("tr", "yolcular")]
    [InlineData("hu", "kompjárat")]
    [InlineData("uk", "пасажирів")]
    public void Words_divide_in_every_language_that_has_patterns(string language, string word)
    {
        var points = Hyphenator.For(language)!.Points(word);
        Assert.NotEmpty(points);
        Assert.All(points, p => Assert.InRange(p, Hyphenator.Before, word.Length - Hyphenator.After));
    }

    [Fact]
    public void A_manual_in_a_script_without_a_face_is_told_once_with_its_characters_and_pages_and_prints_boxes()
    {
        var blocks = Enumerable.Range(0, 40).Select(n => (Block)Text("p" + n, new TextRun($"ꯀꯁꯂ {n} ꯃꯄ"))).ToArray();
        var composed = Compose(Manual(Chapter("c", "Script", blocks)));
        var told = Assert.Single(composed.LooseEnds, l => l.Kind == Kivren.Core.LooseEnds.LooseEndKind.MissingCharacter);
        Assert.Equal("ꯀꯁꯂꯃꯄ", told.Words);
        Assert.Contains("No face has 5 of the characters, in 80 places on 2 pages (1, 2)", told.Message, StringComparison.Ordinal);
        var boxes = DisplayList
            .Of(composed.Pages.First(p => !p.IsBlank), composed.Look)
            .Items.OfType<WordItem>()
            .Count(w => w.Word.Word.Shown.Contains('□'));
        Assert.True(boxes > 20);
    }
}
