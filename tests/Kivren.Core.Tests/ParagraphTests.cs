using CsCheck;
using Kivren.Core.Content;
using Kivren.Core.Display;
using Kivren.Core.Looks;
using Kivren.Core.LooseEnds;
using Kivren.Core.Type;
using static Kivren.Core.Tests.Build;

namespace Kivren.Core.Tests;

public class ParagraphTests
{
    [Theory]
    [InlineData(true)]
    [InlineData(false)]
    public void Words_held_together_by_spaces_that_are_wider_than_a_line_are_divided_there(bool justified)
    {
        var held = string.Join('\u00A0', Enumerable.Repeat("int *descriptor,", 12)).Replace(' ', '\u00A0');
        List<TextLine> Set(string text, int width)
        {
            var styled = new StyledText();
            styled.Add(text, new TextStyle(FaceLibrary.Serif, Length.Points(10)), hyphenates: false);
            return new LineSetter().Set(
                styled,
                new Shape(Length.Points(width), default, justified ? Alignment.Justified : Alignment.Ragged),
                hyphenator: null
            );
        }
        var lines = Set("See " + held + " there.", 200);
        Assert.True(lines.Count > 3);
        Assert.All(lines, l => Assert.True(l.Words.Max(w => w.X + w.Width) <= Length.Points(200).Millipoints + 10));
        // Words that fit stay together.
        Assert.All(Set("The winch pulls no more than 20\u00A0000\u00A0kg in all of its rounds.", 90), l =>
            Assert.NotEqual("000", l.Words[0].Word.Text)
        );
    }

    [Fact]
    public void A_long_name_of_program_text_may_be_divided_after_its_joints()
    {
        var lines = Build.Compose(
            Build.Manual(
                Build.Chapter(
                    "c",
                    "Settings",
                    new Table(
                        new Id("t"),
                        0,
                        [CellAlignment.Left, CellAlignment.Left],
                        [],
                        [
                            new Row(
                                new Id("r"),
                                [
                                    new Cell(
                                        new Id("x"),
                                        [new TextRun("Winch::Controller::OverloadThreshold::Percentage", SpanRoles.Code)]
                                    ),
                                    new Cell(
                                        new Id("y"),
                                        [new TextRun(string.Join(' ', Enumerable.Repeat("how far the load may go", 20)))]
                                    ),
                                ]
                            ),
                        ]
                    )
                    {
                        MayTurn = false,
                    }
                )
            )
        );
        Assert.DoesNotContain(lines.LooseEnds, l => l.Kind == LooseEnds.LooseEndKind.OverfullLine);
    }

    private static string[] Divided(string language, string word)
    {
        var points = Hyphenator.For(language)!.Points(word);
        var parts = new List<string>();
        var from = 0;
        foreach (var point in points)
        {
            parts.Add(word[from..point]);
            from = point;
        }
        parts.Add(word[from..]);
        return [.. parts];
    }

    [Theory]
    [InlineData("en-GB", "manufacturer", "man-u-fac-turer")]
    [InlineData("en-US", "hyphenation", "hy-phen-ation")]
    [InlineData("de", "Silbentrennung", "Sil-ben-tren-nung")]
    [InlineData("fr", "typographie", "ty-po-gra-phie")]
    [InlineData("es", "tipografía", "ti-po-gra-fía")]
    [InlineData("it", "tipografia", "ti-po-gra-fia")]
    [InlineData("nl", "lettergreep", "let-ter-greep")]
    [InlineData("sv", "avstavning", "av-stav-ning")]
    public void Each_language_divides_its_own_words(string language, string word, string divided) =>
        Assert.Equal(divided, string.Join('-', Divided(language, word)));

    [Fact]
    public void A_language_without_patterns_divides_nothing() => Assert.Null(Hyphenator.For("xx"));

    [Fact]
    public void The_writers_exceptions_win_over_the_patterns()
    {
        var own = Hyphenator.For("en-GB")!.With(["Lind-qvarn", "ferryman"]);
        Assert.Equal([4], own.Points("Lindqvarn"));
        Assert.Empty(own.Points("Ferryman"));
        Assert.NotEmpty(own.Points("manufacturer"));
    }

    private static List<TextLine> Set(
        string text,
        double width,
        Alignment alignment = Alignment.Justified,
        int narrow = 0,
        double narrowWidth = 0,
        string? web = null,
        bool noBreak = false
    )
    {
        var styled = new StyledText();
        styled.Add(text, new TextStyle(FaceLibrary.Serif, Length.Points(9.6)), web is null, default, web, noBreak);
        return new LineSetter().Set(
            styled,
            new Shape(Length.Points(width), default, alignment, narrow, Length.Points(narrowWidth)),
            Hyphenator.For("en-GB")
        );
    }

    private static string Printed(TextLine line) =>
        string.Concat(
                line.Words.Select(w => w.Word.Characters(w.From, w.To).ToString() + (w.Hyphen ? "-" : "") + (w.SpaceAfter ? " " : ""))
            )
            .TrimEnd();

    private static readonly string Long = Words("w", 160).Content.PlainText();

    [Fact]
    public void Letters_of_a_justified_line_give_a_little_before_its_spaces_gape()
    {
        var lines = Set(Long, 240);
        Assert.Contains(lines, l => l.Words[0].Give > 0);
        Assert.Contains(lines, l => l.Words[0].Give < 0);
        Assert.All(lines, l => Assert.All(l.Words, w => Assert.InRange(w.Give, -144, 144)));
        Assert.All(lines.SkipLast(1), l => Assert.Equal(240_000, l.Width));
        Assert.All(lines[^1].Words, w => Assert.Equal(0, w.Give));
        foreach (var line in lines)
        foreach (var word in line.Words)
            Assert.Equal(word.Style.Scale(word.Word.WidthOf(word.From, word.To)) + word.Give * (word.To - word.From), word.Width, 3.0);
    }

    [Theory]
    [InlineData(400, 1)]
    [InlineData(400, 2)]
    [InlineData(900, -1)]
    public void Looseness_sets_a_long_paragraph_in_more_or_fewer_lines_without_gaping_ones(int words, int longer)
    {
        var styled = new StyledText();
        styled.Add(Words("w", words).Content.PlainText(), new TextStyle(FaceLibrary.Serif, Length.Points(9.6)), true);
        List<TextLine> At(int looser) =>
            new LineSetter().Set(
                styled,
                new Shape(Length.Points(300), default, Alignment.Justified, Longer: looser),
                Hyphenator.For("en-GB")
            );
        var (best, other) = (At(0), At(longer));
        Assert.Equal(best.Count + longer, other.Count);
        Assert.All(other.SkipLast(1), l => Assert.Equal(300_000, l.Width));
        Assert.Equal(
            string.Concat(best.Select(Printed)).Replace("-", "").Replace(" ", ""),
            string.Concat(other.Select(Printed)).Replace("-", "").Replace(" ", "")
        );
        // A short one has no room for it, and keeps its best lines.
        var brief = new StyledText();
        brief.Add("She is moored at the landing.", new TextStyle(FaceLibrary.Serif, Length.Points(9.6)), true);
        Assert.Single(new LineSetter().Set(brief, new Shape(Length.Points(300), default, Alignment.Justified, Longer: longer), null));
    }

    [Fact]
    public void Letters_give_nothing_where_lines_are_ragged_or_read_from_the_right()
    {
        Assert.All(Set(Long, 240, Alignment.Ragged), l => Assert.All(l.Words, w => Assert.Equal(0, w.Give)));
        Assert.All(Set(string.Concat(Enumerable.Repeat("שלום עולם ", 40)), 240), l => Assert.All(l.Words, w => Assert.Equal(0, w.Give)));
    }

    [Fact]
    public void Three_lines_in_a_row_never_end_in_a_hyphen_where_it_can_be_helped()
    {
        for (var width = 90; width < 320; width += 7)
        {
            var lines = Set(string.Join(' ', Enumerable.Repeat("manufacturer of hydraulic transformation equipment", 12)), width);
            var inRow = 0;
            foreach (var line in lines)
            {
                inRow = line.EndsInHyphen ? inRow + 1 : 0;
                Assert.True(inRow < 3, $"at {width} points");
            }
        }
    }

    [Fact]
    public void Lines_that_run_round_something_are_narrow_and_the_rest_is_not()
    {
        var lines = Set(Long, 300, narrow: 4, narrowWidth: 180);
        Assert.True(lines.Count > 6);
        for (var l = 0; l < lines.Count - 1; l++)
        {
            var last = lines[l].Words[^1];
            var end = last.X + last.Width + (last.Hyphen ? last.Style.Scale(last.Style.Face.HyphenGlyph.Width) : 0);
            Assert.Equal(l < 4 ? 180_000 : 300_000, end);
        }
    }

    [Theory]
    [InlineData("The cable pulls with 18 kN", "18\u00A0kN")]
    [InlineData("as seen by E. Lindqvarn", "E.\u00A0Lindqvarn")]
    public void A_number_and_its_unit_or_an_initial_and_its_name_stand_on_one_line(string text, string held)
    {
        var plain = held.Replace('\u00A0', ' ');
        // Narrower than the longest word nothing can be held.
        for (var width = 60.0; width < 140; width += 1)
            Assert.Contains(Set(text, width, Alignment.Ragged), l => Printed(l).Contains(plain, StringComparison.Ordinal));
    }

    [Fact]
    public void A_run_that_the_writer_keeps_is_not_divided() =>
        Assert.Contains(Set("Turn the " + "master valve here", 60, Alignment.Ragged, noBreak: true), l =>
            Printed(l) == "Turn the master valve here"
        );

    [Fact]
    public void A_unit_with_a_stroke_stays_whole()
    {
        for (var width = 40.0; width < 120; width += 1)
            Assert.DoesNotContain(Set("She crosses at 0.5 m/s by hand", width, Alignment.Ragged), l =>
                Printed(l).EndsWith("m/", StringComparison.Ordinal)
            );
    }

    [Fact]
    public void A_web_address_is_divided_at_its_signs_without_a_hyphen()
    {
        var lines = Set("ferry-works.example/tarn6/signs?of=wear&part=lining_9", 70, Alignment.Ragged, web: "https://ferry-works.example");
        Assert.True(lines.Count > 2);
        Assert.All(lines, l => Assert.False(l.EndsInHyphen));
        Assert.All(lines.SkipLast(1), l => Assert.Contains(Printed(l)[^1], "/.-_?&="));
    }

    [Fact]
    public void Small_capitals_and_old_style_figures_come_from_the_face()
    {
        var plain = FaceLibrary.Serif.Word("a3");
        Assert.NotEqual(plain.Glyphs[0], FaceLibrary.Serif.Word("a3", Features.SmallCaps).Glyphs[0]);
        Assert.NotEqual(plain.Glyphs[1], FaceLibrary.Serif.Word("a3", Features.OldStyle).Glyphs[1]);
        Assert.Equal(FaceLibrary.Serif.Word("1", Features.Tabular).Width, FaceLibrary.Serif.Word("8", Features.Tabular).Width);
    }

    [Fact]
    public void Roles_of_a_span_are_seen_in_its_style()
    {
        var dress = ShippedLooks.Workshop.Body;
        Assert.True(dress.Style(SpanRoles.Sup).Rise.Millipoints > 0);
        Assert.True(dress.Style(SpanRoles.Sub).Rise.Millipoints < 0);
        Assert.Same(FaceLibrary.Code, dress.Style(SpanRoles.PartNumber).Face);
        Assert.Same(dress.Style(SpanRoles.Key), dress.Style(SpanRoles.Key));
    }

    [Fact]
    public void A_character_no_face_has_is_drawn_as_a_box_and_told()
    {
        var composed = Compose(Manual(Chapter("a", "Signs", Text("p", new TextRun("Here stands \uE5A1 alone.")))));
        Assert.Contains(composed.LooseEnds, l => l.Kind == LooseEndKind.MissingCharacter && l.Words == "\uE5A1");
        Assert.Contains("\uE5A1", composed.Words(), StringComparison.Ordinal);
    }

    [Fact]
    public void No_line_is_wider_than_its_measure_unless_it_says_so() =>
        Gen.Select(
                Gen.OneOf(Gen.Const("https://works.example/docs/Web/HTTP/Headers/"), Gen.String[Gen.Char["abcdeilmnorst-/"], 1, 14]).List[
                    1,
                    40
                ],
                Gen.Int[40, 320]
            )
            .Sample(
                (words, points) =>
                {
                    var styled = new StyledText();
                    foreach (var word in words)
                        styled.Add(word + " ", ShippedLooks.Workshop.Body.Plain, true, web: word.Contains(':') ? word : null);
                    var width = Length.Points(points).Millipoints;
                    foreach (var line in LineSetter.OfThread.Set(styled, new Shape(new Length(width), default, Alignment.Justified), null))
                        // Letters may be a rounding off each.
                        Assert.True(
                            line.Overfull || line.Words.All(w => w.X + w.Width <= width + 100),
                            $"{line.Words.Max(w => w.X + w.Width)} in {width}: {string.Join(' ', words)}"
                        );
                },
                iter: 3_000
            );

    [Fact]
    public void Equations_side_by_side_go_into_as_many_lines_as_they_need()
    {
        var spans = Enumerable.Range(0, 30).Select(n => (Inline)new InlineEquation(new Id($"e{n}"), "a/b + c", "x")).ToArray();
        var composed = Compose(Manual(Chapter("a", "Data", Text("p", spans))));
        var words = composed
            .Pages.SelectMany(p => DisplayList.Of(p, composed.Look).Items)
            .OfType<WordItem>()
            .Where(w => w.Within is not null);
        Assert.Equal(30, words.Select(w => w.Within!.Id).Distinct().Count());
        var right = (composed.Look.Master.Inner + composed.Look.Master.Measure).Millipoints;
        Assert.True(words.Max(w => w.X + w.Word.Width) <= right + 100);
    }

    [Fact]
    public void What_stands_after_a_tab_is_set_at_the_stop_with_its_leader()
    {
        var composed = Compose(
            Manual(
                Chapter("a", "Data", Text("p", new TextRun("Length over ramps\t15.8 m"), LineBreak.Instance, new TextRun("Width\t5.6 m")))
            )
        );
        var lines = composed
            .Pages[0]
            .Cut!.Galley.Pieces.SelectMany(p => p.Drawn)
            .OfType<DrawnLine>()
            .Where(l => l.Block.Value == "p")
            .ToList();
        Assert.Equal(2, lines.Count);
        foreach (var line in lines)
        {
            Assert.InRange(line.Line.Words.Max(w => w.X + w.Width) - ShippedLooks.Workshop.Master.Measure.Millipoints, -10, 10);
            Assert.True(line.Line.Words.Count(w => w.Word.Text == ".") > 10);
        }
    }

    [Fact]
    public void A_line_with_tabs_shows_its_equations_and_pictures_and_tells_what_no_face_has()
    {
        var composed = Compose(
            Manual(
                Chapter(
                    "a",
                    "Data",
                    Text(
                        "p",
                        new InlineEquation(new Id("e"), "a/b", "a over b"),
                        new InlinePicture(new Id("i"), "p.svg", "x"),
                        new TextRun("\t15.8 \uE5A1 "),
                        new InlineEquation(new Id("f"), "x^2", "x squared")
                    )
                )
            )
        );
        var items = DisplayList.Of(composed.Pages[0], composed.Look).Items;
        Assert.Equal(["e", "f"], items.OfType<WordItem>().Select(w => w.Within?.Id.Value).OfType<string>().Distinct());
        Assert.Single(items.OfType<PictureItem>());
        Assert.Contains(composed.LooseEnds, l => l.Kind == LooseEndKind.MissingCharacter && l.Words == "\uE5A1");
    }

    [Fact]
    public void An_aside_stands_beside_the_paragraph_that_runs_round_it()
    {
        var aside = new Aside(new Id("as"), [new TextRun("Why")], [Words("asp", 14)]);
        var beside = Compose(Manual(Chapter("a", "Round", aside, Words("p", 150), Words("q", 30))), ShippedLooks.Code);
        var pieces = beside.Divisions[0].Cut.Galley.Pieces;
        var first = pieces.First(p => p.Drawn.OfType<DrawnLine>().Any(l => l.Block.Value == "p"));
        Assert.Contains(first.Drawn.OfType<DrawnLine>(), l => l.Block.Value == "asp");
        var widths = pieces
            .SelectMany(p => p.Drawn)
            .OfType<DrawnLine>()
            .Where(l => l.Block.Value == "p")
            .Select(l => l.Line.Width)
            .ToList();
        var box = first.Drawn.OfType<DrawnRule>().First();
        Assert.True(widths[0] < box.X);
        Assert.Contains(widths, w => w > box.X);
        // The clause's number is read after the aside and stands with the paragraph's first line.
        var chapter = Chapter("a", "Round", Head("h", HeadLevel.A, "Head"), aside, Words("p", 150));
        var clause = Compose(Manual(chapter), ShippedLooks.Code)
            .Divisions[0]
            .Cut.Galley.Pieces.First(p =>
                p.Drawn.OfType<DrawnLine>().Any(l => l.Line.Words.Length > 0 && l.Line.Words[0].Word.Text == "1.1.1")
            );
        Assert.Equal(["as", "asp", "p"], clause.Drawn.OfType<DrawnLine>().Select(l => l.Block.Value).Distinct());
        // A note called in the aside is not lost.
        var noted = new Aside(
            new Id("an"),
            [],
            [new Paragraph(new Id("anp"), "body", [new TextRun("Kept"), new Footnote(new Id("fn"), [new TextRun("for the log")])])]
        );
        Assert.Contains(
            Compose(Manual(Chapter("a", "Round", noted, Words("p", 150))), ShippedLooks.Code).Divisions[0].Cut.Pages[0].Notes,
            n => n.Note.Id.Value == "fn"
        );
        // Beside a short paragraph it stands in the text instead.
        var above = Compose(Manual(Chapter("a", "Round", aside, Words("p", 8))), ShippedLooks.Code);
        Assert.DoesNotContain(
            above
                .Divisions[0]
                .Cut.Galley.Pieces.First(p => p.Drawn.OfType<DrawnLine>().Any(l => l.Block.Value == "p"))
                .Drawn.OfType<DrawnLine>(),
            l => l.Block.Value == "asp"
        );
    }

    /// <summary>Names that a line can hold never stand beyond its end: they are divided behind a sign, else the line before them has the
    /// white.</summary>
    [Theory]
    [InlineData("fix a bad default: manifest.archives.list(consider_checkpoints=False), and take the traces out at dawn")]
    [InlineData("start it with -device vfio,host=5e:00.2,id=hostdev0,bus=root1,failover_pair_id=net1 and wait for the bell")]
    [InlineData("the winch halyardholderfastenedbelowthedeckhouseofthe ferry")]
    public void No_line_is_wider_than_its_measure_where_every_name_fits_into_one(string text)
    {
        for (var before = 0; before < 12; before++)
        {
            var words = string.Concat(Enumerable.Repeat("moor ", before)) + text;
            var composed = Compose(Manual(Chapter("a", "Names", Text("p", new TextRun(words)))));
            Assert.DoesNotContain(composed.LooseEnds, l => l.Kind == LooseEndKind.OverfullLine);
            var said = string.Concat(composed.Pages.SelectMany(p => p.Lines()).Where(l => l != "Names"));
            Assert.Contains(
                words.Replace(" ", "", StringComparison.Ordinal),
                said.Replace(" ", "", StringComparison.Ordinal),
                StringComparison.Ordinal
            );
        }
    }

    [Fact]
    public void What_a_writer_holds_together_is_not_divided_behind_its_signs()
    {
        const string name = "winch.cable.drum.pawl.brake.handle.of.the.ferry";
        List<string> Lines(SpanRoles roles) =>
            [
                .. Compose(Manual(Chapter("a", "Names", Text("p", new TextRun("Keep this name in mind: "), new TextRun(name, roles)))))
                    .Pages.SelectMany(p => p.Lines()),
            ];
        Assert.DoesNotContain(Lines(SpanRoles.None), l =>
            l.Contains(name, StringComparison.Ordinal) && l.StartsWith("Keep", StringComparison.Ordinal)
        );
        Assert.Contains(Lines(SpanRoles.NoBreak), l => l.Contains(name, StringComparison.Ordinal));
    }
}
