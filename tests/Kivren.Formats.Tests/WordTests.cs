using Kivren.Core.Content;
using Kivren.Formats.Docx;
using Kivren.Formats.Generator;
using Kivren.Formats.Import;

namespace Kivren.Formats.Tests;

/// <summary>Word-processor documents, one feature at a time.</summary>
public class WordTests
{
    private static readonly byte[] Png = Convert.FromBase64String(
        "iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNkYPhfDwAChwGA60e6kgAAAABJRU5ErkJggg=="
    );

    internal static Shaped Shape(WordFile file, ImportMapping? mapping = null) => Shape(file.ToBytes(), mapping);

    private static Shaped Shape(byte[] bytes, ImportMapping? mapping = null)
    {
        var shaped = Shaper.Shape(new ShapeRequest([WordReader.Read("notes.docx", bytes)], mapping ?? ImportMapping.None, "s"));
        // Whatever the test asks for, no word is lost.
        Assert.Empty(SourceWords.Missing("notes.docx", bytes, shaped));
        return shaped;
    }

    private static IReadOnlyList<Block> Blocks(WordFile file, ImportMapping? mapping = null) =>
        Shape(file, mapping).Divisions.Single().Blocks;

    [Fact]
    public void Heads_come_by_their_outline_level_whatever_their_style_is_called()
    {
        var blocks = Blocks(
            new WordFile()
                .Style("Kop een", "<w:pPr><w:outlineLvl w:val=\"0\"/></w:pPr>")
                .Style("Kop twee", "<w:basedOn w:val=\"Kopeen\"/><w:pPr><w:outlineLvl w:val=\"1\"/></w:pPr>")
                .P("Oil", "Kop een")
                .P("Text.")
                .P("Grades", "Kop twee")
                .P("Text.")
                .P("Grease", "Kop een")
                .P("Text.")
        );
        Assert.Equal(
            [("Oil", HeadLevel.A), ("Grades", HeadLevel.B), ("Grease", HeadLevel.A)],
            blocks.OfType<Head>().Select(h => (h.Content.PlainText(), h.Level))
        );
    }

    [Fact]
    public void Long_chapters_become_divisions()
    {
        var file = new WordFile();
        foreach (var chapter in (string[])["Oil", "Grease"])
        {
            file.P(chapter, "Heading 1");
            for (var i = 0; i < 40; i++)
                file.P(string.Join(' ', Enumerable.Repeat("The drum carries the cable to the far shore.", 5)), "Body Text");
        }
        Assert.Equal(["Oil", "Grease"], Shape(file).Divisions.Select(d => d.Title));
    }

    [Fact]
    public void Lists_nest_and_carry_their_numbering_on()
    {
        var blocks = Blocks(
            new WordFile()
                .List(3)
                .P("Lock the drum.", properties: WordFile.InList(3))
                .P("with the pin", properties: WordFile.InList(3, 1))
                .P("and the pawl", properties: WordFile.InList(3, 1))
                .P("Turn the crank.", properties: WordFile.InList(3))
                .P("Between them stands a sentence.")
                .P("Open the guard.", properties: WordFile.InList(3))
        );
        var first = Assert.IsType<ItemList>(blocks[0]);
        Assert.Equal((ListKind.Decimal, 2), (first.Kind, first.Items.Count));
        Assert.Equal((ListKind.Alpha, 2), (((ItemList)first.Items[0].Blocks[1]).Kind, ((ItemList)first.Items[0].Blocks[1]).Items.Count));
        Assert.True(Assert.IsType<ItemList>(blocks[2]).Continues);
    }

    [Fact]
    public void A_list_that_begins_elsewhere_keeps_its_number() =>
        Assert.Equal(
            4,
            (
                (ItemList)
                    Blocks(
                        new WordFile()
                            .List(2, start: 4)
                            .P("Fourth.", properties: WordFile.InList(2))
                            .P("Fifth.", properties: WordFile.InList(2))
                    )[0]
            ).Start
        );

    [Fact]
    public void An_indented_paragraph_carries_its_item_on()
    {
        var list = (ItemList)
            Blocks(
                new WordFile()
                    .List(2)
                    .P("Lock the drum.", properties: WordFile.InList(2))
                    .P("The pin is behind the guard.", properties: "<w:ind w:left=\"720\"/>")
                    .P("Turn it.", properties: WordFile.InList(2))
            )[0];
        Assert.Equal([2, 1], list.Items.Select(i => i.Blocks.Count));
    }

    [Fact]
    public void Tables_keep_spans_header_rows_and_captions()
    {
        var table = Assert.IsType<Table>(
            Blocks(
                new WordFile()
                    .P("Table 4: Torques", "Caption")
                    .Xml(
                        "<w:tbl><w:tblPr/><w:tr><w:trPr><w:tblHeader/></w:trPr><w:tc><w:tcPr><w:gridSpan w:val=\"2\"/></w:tcPr><w:p>"
                            + WordFile.Run("Bolt")
                            + "</w:p></w:tc><w:tc><w:p>"
                            + WordFile.Run("Torque")
                            + "</w:p></w:tc></w:tr>"
                            + "<w:tr><w:tc><w:tcPr><w:vMerge w:val=\"restart\"/></w:tcPr><w:p>"
                            + WordFile.Run("Bed")
                            + "</w:p></w:tc><w:tc><w:p>"
                            + WordFile.Run("M16")
                            + "</w:p></w:tc><w:tc><w:p><w:pPr><w:jc w:val=\"right\"/></w:pPr>"
                            + WordFile.Run("190")
                            + "</w:p></w:tc></w:tr>"
                            + "<w:tr><w:tc><w:tcPr><w:vMerge/></w:tcPr><w:p/></w:tc><w:tc><w:p>"
                            + WordFile.Run("M10")
                            + "</w:p></w:tc><w:tc><w:p>"
                            + WordFile.Run("45")
                            + "</w:p></w:tc></w:tr></w:tbl>"
                    )
            )[0]
        );
        Assert.Equal((1, "Torques"), (table.HeaderRows, table.Caption.PlainText()));
        Assert.Equal((2, 1), (table.Rows[0].Cells[0].ColumnSpan, table.Rows[0].Cells[1].ColumnSpan));
        Assert.Equal((2, 3, 2), (table.Rows[1].Cells[0].RowSpan, table.Rows[1].Cells.Count, table.Rows[2].Cells.Count));
        Assert.Equal(CellAlignment.Right, table.Rows[1].Cells[2].Alignment);
    }

    [Fact]
    public void A_list_in_a_cell_stands_as_lines_of_the_cell()
    {
        var table = (Table)
            Blocks(
                new WordFile()
                    .List(1, "bullet")
                    .Xml(
                        "<w:tbl><w:tr><w:tc><w:p>"
                            + WordFile.Run("Check")
                            + "</w:p></w:tc><w:tc><w:p><w:pPr>"
                            + WordFile.InList(1)
                            + "</w:pPr>"
                            + WordFile.Run("oil")
                            + "</w:p><w:p><w:pPr>"
                            + WordFile.InList(1)
                            + "</w:pPr>"
                            + WordFile.Run("grease")
                            + "</w:p></w:tc></w:tr></w:tbl>"
                    )
            )[0];
        Assert.Equal("– oil – grease", table.Rows[0].Cells[1].Content.PlainText());
    }

    [Fact]
    public void A_table_of_one_cell_is_a_box() =>
        Assert.Equal(
            "Mind the drum.",
            Assert
                .IsType<Aside>(
                    Blocks(
                        new WordFile().Xml("<w:tbl><w:tr><w:tc><w:p>" + WordFile.Run("Mind the drum.") + "</w:p></w:tc></w:tr></w:tbl>")
                    )[0]
                )
                .Blocks.Single()
                .OwnSpans()
                .Single()
                .PlainText()
        );

    [Fact]
    public void Figures_keep_caption_and_alternative_text()
    {
        var file = new WordFile();
        var shaped = Shape(file.P(file.Picture("plan.png", Png, "The winch from above")).P("Figure 3 – The winch", "Caption"));
        var figure = Assert.IsType<Figure>(shaped.Divisions[0].Blocks[0]);
        Assert.Equal(("plan.png", "The winch from above", "The winch"), (figure.Asset, figure.Alternative, figure.Caption.PlainText()));
        Assert.Equal(Png, shaped.Pictures["plan.png"]);
    }

    [Fact]
    public void A_narrow_picture_stays_as_narrow_beside_the_measure()
    {
        var file = new WordFile();
        // Two fifths of the lines of a page of A4 are some 2.4 million units.
        Assert.InRange(((Figure)Blocks(file.P(file.Picture("plan.png", Png, "x")))[0]).Width, 38, 44);
    }

    [Fact]
    public void A_picture_as_high_as_a_line_stays_in_the_line()
    {
        var file = new WordFile();
        Assert.Contains(
            Blocks(file.P(WordFile.Run("Press ") + file.Picture("key.png", Png, "the red key", height: 150_000) + WordFile.Run(" twice.")))[
                0
            ]
                .Inlines(),
            i => i is InlinePicture { Alternative: "the red key" }
        );
    }

    [Fact]
    public void Footnotes_and_endnotes_are_notes_where_they_are_called()
    {
        var file = new WordFile();
        var blocks = Blocks(
            file.P(
                WordFile.Run("Grease it")
                    + file.Note("With grease of grade 2.")
                    + WordFile.Run(" and wait")
                    + file.Note("An hour.", end: true)
                    + WordFile.Run(".")
            )
        );
        Assert.Equal(["With grease of grade 2.", "An hour."], blocks[0].Inlines().OfType<Footnote>().Select(n => n.Content.PlainText()));
        Assert.Equal("Grease it and wait.", ((Paragraph)blocks[0]).Content.PlainText());
    }

    [Fact]
    public void References_to_bookmarks_become_references_to_identities()
    {
        var file = new WordFile();
        var blocks = Blocks(
            file.P(WordFile.Bookmark("_Ref1", WordFile.Run("Greasing"), 1), "Heading 1")
                .P("Text.")
                .P(WordFile.Bookmark("_Ref9", WordFile.Run("Oil"), 9), "Heading 1")
                .P("Text.")
                .P(
                    WordFile.Run("See ")
                        + WordFile.Field("REF _Ref1 \\h", "Greasing")
                        + WordFile.Run(" on page ")
                        + WordFile.Field("PAGEREF _Ref1 \\h", "12")
                        + WordFile.Run(" and ")
                        + WordFile.Field("REF fig \\h", "Figure 2")
                        + WordFile.Run(".")
                )
                .P(file.Picture("plan.png", Png, "x"))
                .P(WordFile.Bookmark("fig", WordFile.Run("Figure 2"), 2) + WordFile.Run(" The winch"), "Caption")
        );
        var references = blocks.SelectMany(b => b.Inlines()).OfType<CrossReference>().ToArray();
        Assert.Equal(
            [("title", blocks[0].Id), ("page", blocks[0].Id), ("name-number", blocks.OfType<Figure>().Single().Id)],
            references.Select(r => (r.Form, r.Target))
        );
    }

    [Fact]
    public void A_reference_to_nothing_keeps_its_words_and_is_told()
    {
        var shaped = Shape(new WordFile().P(WordFile.Run("See ") + WordFile.Field("REF gone \\h", "the old chapter") + WordFile.Run(".")));
        Assert.Equal("See the old chapter.", ((Paragraph)shaped.Divisions[0].Blocks[0]).Content.PlainText());
        Assert.Contains(shaped.Report, r =>
            r is { Kind: ReportKind.Look, Where: "notes.docx, paragraph 1" } && r.Words.Contains("gone", StringComparison.Ordinal)
        );
    }

    [Fact]
    public void Index_entries_keep_levels_ranges_and_see()
    {
        var entries = Blocks(
                new WordFile().P(
                    WordFile.Bookmark(
                        "stretch",
                        WordFile.Run("The winch pulls.")
                            + WordFile.Field("XE \"winch:oil\\: grades\"", "")
                            + WordFile.Field("XE \"winch\" \\b", ""),
                        4
                    )
                        + WordFile.Field("XE \"band\" \\r stretch", "")
                        + WordFile.Field("XE \"windlass\" \\t \"See winch\"", "")
                        + WordFile.Field("XE \"rope\" \\t \"See also cable\"", "")
                )
            )
            .SelectMany(b => b.Inlines())
            .OfType<IndexEntry>()
            .ToArray();
        Assert.Contains(entries, e => e.Headings.SequenceEqual(["winch", "oil: grades"]));
        Assert.Contains(entries, e => e is { Principal: true } && e.Headings.SequenceEqual(["winch"]));
        Assert.Contains(entries, e => e.See == "winch");
        Assert.Contains(entries, e => e.SeeAlso == "cable");
        var range = entries.Where(e => e.Kind != EntryKind.Point).ToArray();
        Assert.Equal([EntryKind.RangeStart, EntryKind.RangeEnd], range.Select(e => e.Kind));
        Assert.Equal(range[0].Id, range[1].Id);
    }

    [Fact]
    public void Contents_lists_and_indexes_are_left_to_the_manual()
    {
        var shaped = Shape(
            new WordFile()
                .P(WordFile.Field("TOC \\o \"1-3\"", "Oil 3 Grease 5"))
                .P("Text of the notes.")
                .P(WordFile.Field("INDEX \\c 2", "band 4 oil 3"))
        );
        Assert.Single(shaped.Divisions[0].Blocks);
        Assert.Equal(2, shaped.Cleaned[Cleaning.GeneratedLists]);
        Assert.Contains(shaped.Report, r => r.Words.Contains("Oil 3 Grease 5", StringComparison.Ordinal));
    }

    [Fact]
    public void Tracked_changes_are_accepted_and_said_so_or_refused()
    {
        var file = new WordFile().P(
            WordFile.Run("Wait ")
                + "<w:ins w:id=\"1\" w:author=\"a\">"
                + WordFile.Run("two hours")
                + "</w:ins><w:del w:id=\"2\" w:author=\"a\"><w:r><w:delText>an hour</w:delText></w:r></w:del>"
                + WordFile.Run(".")
        );
        Assert.Equal("Wait two hours.", ((Paragraph)Blocks(file)[0]).Content.PlainText());
        Assert.Equal(2, Shape(file).Cleaned[Cleaning.TrackedChanges]);
        Assert.Equal(
            "Wait an hour.",
            (
                (Paragraph)Blocks(file, ImportMapping.None with { Off = new HashSet<Cleaning> { Cleaning.TrackedChanges } })[0]
            ).Content.PlainText()
        );
    }

    [Fact]
    public void Comments_are_notes_to_the_writer()
    {
        var file = new WordFile();
        Assert.Contains(
            Blocks(file.P(WordFile.Run("Six bolts") + file.Comment("Ida Berg", "Eight?") + WordFile.Run(" hold it.")))[0].Inlines(),
            i => i is WriterNote { By: "Ida Berg", Text: "Eight?" }
        );
    }

    [Fact]
    public void Equations_come_in_in_the_linear_notation()
    {
        const string fraction =
            "<m:oMath><m:r><m:t>F</m:t></m:r><m:r><m:t>=</m:t></m:r><m:f><m:num><m:sSup><m:e><m:r><m:t>v</m:t></m:r></m:e><m:sup>"
            + "<m:r><m:t>2</m:t></m:r></m:sup></m:sSup></m:num><m:den><m:r><m:t>r</m:t></m:r></m:den></m:f></m:oMath>";
        var blocks = Blocks(
            new WordFile()
                .P(WordFile.Run("With ") + fraction + WordFile.Run(" it holds."))
                .P("<w:r/><m:oMathPara>" + fraction + "</m:oMathPara>")
        );
        Assert.Equal("F = (v^2)/r", blocks[0].Inlines().OfType<InlineEquation>().Single().Source);
        var equation = Assert.IsType<Equation>(blocks[^1]);
        Assert.Null(Core.Mathematics.EquationSetter.Set(equation.Source, Kivren.Core.Length.Points(10), display: true).Problem);
    }

    [Fact]
    public void Links_and_character_styles_come_in_as_what_they_are()
    {
        var file = new WordFile();
        var runs = Blocks(
            file.P(
                WordFile.Run("Order ")
                    + file.Styled("LW-2207", "Works part")
                    + WordFile.Run(" at ")
                    + file.Link("https://example.org/winch", "our page")
                    + WordFile.Run(".")
            )
        )[0]
            .Inlines()
            .OfType<TextRun>()
            .ToArray();
        Assert.Contains(runs, r => r is { Text: "LW-2207", Roles: SpanRoles.PartNumber });
        Assert.Contains(runs, r => r is { Text: "our page", Web: "https://example.org/winch" });
    }

    [Fact]
    public void Text_boxes_content_controls_and_hidden_words_are_not_lost()
    {
        var shaped = Shape(
            new WordFile()
                .P(
                    "<w:r><w:pict><v:shape><v:textbox><w:txbxContent><w:p>"
                        + WordFile.Run("In a box.")
                        + "</w:p></w:txbxContent></v:textbox></v:shape></w:pict></w:r>"
                        + WordFile.Run("Beside it.")
                )
                .Xml("<w:sdt><w:sdtContent><w:p>" + WordFile.Run("In a control.") + "</w:p></w:sdtContent></w:sdt>")
                .P(WordFile.Run("Seen.") + WordFile.Run(" Unseen.", "<w:vanish/>"))
        );
        Assert.Contains(shaped.Divisions[0].Blocks, b => b is Aside);
        Assert.Contains(shaped.Report, r => r.Words.Contains("Unseen", StringComparison.Ordinal));
    }

    [Fact]
    public void A_dropped_capital_joins_its_word() =>
        Assert.Equal(
            "Drop it.",
            ((Paragraph)Blocks(new WordFile().P("D", properties: "<w:framePr w:dropCap=\"drop\"/>").P("rop it."))[0]).Content.PlainText()
        );

    [Fact]
    public void Styles_founded_on_each_other_in_a_circle_end_where_the_circle_closes() =>
        Assert.Single(
            Blocks(
                new WordFile()
                    .Style("One", "<w:basedOn w:val=\"Two\"/>")
                    .Style("Two", "<w:basedOn w:val=\"One\"/>")
                    .P("Text of the notes.", "One")
            )
        );

    /// <summary>Any generated manual, written the untidy way, comes back with every word and every head.</summary>
    [Theory]
    [InlineData(1)]
    [InlineData(2)]
    [InlineData(3)]
    [InlineData(4)]
    public void A_whole_manual_written_the_untidy_way_comes_back(int seed)
    {
        var manual = ManualGenerator.Make(30, seed);
        var shaped = Shape(WordFile.From(manual));
        var heads = manual
            .Manual.Divisions.Where(d => d.Matter == Matter.Body || d.Kind == DivisionKind.Appendix)
            .SelectMany(d => d.Blocks)
            .OfType<Head>()
            .Select(h => h.Content.PlainText())
            .ToArray();
        Assert.Equal(
            heads,
            shaped.Divisions.SelectMany(d => d.Blocks).OfType<Head>().Select(h => h.Content.PlainText()).Where(heads.Contains)
        );
        var id = 0;
        var composed = Core.Composition.Composer.Compose(
            shaped.ToManual(() => new Id("x" + ++id), "Workshop, A5"),
            Edition.Whole,
            Core.Looks.ShippedLooks.Workshop
        );
        Assert.DoesNotContain(composed.LooseEnds, l => l.Kind == Core.LooseEnds.LooseEndKind.ReferenceToNothing);
    }

    /// <summary>A sign is looked up by its face: one code is a bracket in one face and a telephone in another.</summary>
    [Theory]
    [InlineData("Symbol", "F028", "(")]
    [InlineData("Symbol", "F022", "∀")]
    [InlineData("Symbol", "61", "α")]
    [InlineData("Symbol", "F0B3", "≥")]
    [InlineData("Wingdings", "F028", "☎")]
    [InlineData("Wingdings", "F0FE", "☑")]
    [InlineData("Source Serif 4", "00E9", "é")]
    public void Signs_are_those_of_their_face(string face, string code, string sign)
    {
        var text = Assert.IsType<Paragraph>(
            Blocks(new WordFile().Xml($"<w:p><w:r><w:t>Turn </w:t><w:sym w:font=\"{face}\" w:char=\"{code}\"/></w:r></w:p>")).Single()
        );
        Assert.Equal("Turn " + sign, text.Content.PlainText());
    }

    [Theory]
    [InlineData("House Signs", "F044")]
    [InlineData("Wingdings 3", "F028")]
    [InlineData("Symbol", "F0FF")]
    public void A_sign_that_is_not_known_is_told(string face, string code)
    {
        var shaped = Shape(new WordFile().Xml($"<w:p><w:r><w:t>Turn </w:t><w:sym w:font=\"{face}\" w:char=\"{code}\"/></w:r></w:p>"));
        Assert.Equal("Turn \uFFFD", Assert.IsType<Paragraph>(shaped.Divisions.Single().Blocks.Single()).Content.PlainText());
        Assert.Contains(shaped.Report, r => r.What.Contains(face, StringComparison.Ordinal));
    }
}
