using System.Text;
using Kivren.Core.Content;
using Kivren.Formats.Import;
using Kivren.Formats.Markdown;

namespace Kivren.Formats.Tests;

public class MarkdownTests
{
    private IReadOnlyList<ReportLine> _report = [];

    private Manual Read(string text) => Read(Encoding.UTF8.GetBytes(text));

    private Manual Read(byte[] bytes)
    {
        var n = 0;
        var shaped = Shaper.Shape(
            new ShapeRequest([MarkdownReader.Read("notes.md", bytes, new Dictionary<string, byte[]>())], ImportMapping.None, "s")
        );
        _report = shaped.Report;
        return shaped.ToManual(() => new Id("m" + ++n), "Workshop, A5");
    }

    private IReadOnlyList<Block> Chapter(string text) =>
        Read("# Chapter\n\n" + text).Divisions.Single(d => d.Kind == DivisionKind.Chapter).Blocks;

    [Fact]
    public void Heads_become_chapters_and_heads_by_their_level()
    {
        var manual = Read("Intro\n\n# Oil\n\nText\n\n## Grades\n\nText\n\n# Grease\n");
        Assert.Equal(["Title page", "Contents", "Preface", "Oil", "Grease"], manual.Divisions.Select(d => d.Title));
        Assert.Equal(HeadLevel.A, manual.Divisions[3].Blocks.OfType<Head>().Single().Level);
    }

    [Fact]
    public void A_short_file_under_one_head_is_one_chapter()
    {
        var manual = Read("# Winch leaflet\n\nIntro\n\n## Oil\n\nText\n\n### Grades\n\nText\n");
        Assert.Equal(["Title page", "Contents", "Winch leaflet"], manual.Divisions.Select(d => d.Title));
        Assert.Equal([HeadLevel.A, HeadLevel.B], manual.Divisions[2].Blocks.OfType<Head>().Select(h => h.Level));
    }

    [Fact]
    public void A_long_file_under_one_head_has_it_for_its_title_and_chapters_below()
    {
        var long_ = string.Join(' ', Enumerable.Repeat("The drum carries the cable.", 400));
        var manual = Read($"# Winch handbook\n\n## Oil\n\n{long_}\n\n## Grease\n\n{long_}\n\n## Cable\n\n{long_}\n");
        Assert.Equal("Winch handbook", manual.Title);
        Assert.Equal(["Title page", "Contents", "Oil", "Grease", "Cable"], manual.Divisions.Select(d => d.Title));
    }

    [Fact]
    public void The_title_of_the_front_matter_is_the_manuals() =>
        Assert.Equal("Service notes", Read("---\ntitle: \"Service notes\"\n---\n\n# One\n\na\n\n# Two\n\nb\n").Title);

    [Fact]
    public void Lists_tables_notes_listings_and_admonitions_come_in_as_what_they_are()
    {
        var blocks = Chapter(
            "- a\n  1. b\n\n3. c\n\n| q | w |\n|---|--:|\n| 1 | 2 |\n\nText[^1]\n\n```ini\na = 1\n```\n\n> [!WARNING]\n> Mind\n\n> "
                + "quoted\n\n[^1]: The note\n"
        );
        var list = Assert.IsType<ItemList>(blocks[0]);
        Assert.IsType<ItemList>(list.Items[0].Blocks[1]);
        Assert.Equal(3, Assert.IsType<ItemList>(blocks[1]).Start);
        var table = Assert.IsType<Table>(blocks[2]);
        Assert.Equal((1, CellAlignment.Right), (table.HeaderRows, table.Columns[1]));
        Assert.Equal("The note", blocks[3].Inlines().OfType<Footnote>().Single().Content.PlainText());
        Assert.Equal(("ini", "a = 1"), (((Listing)blocks[4]).Language, ((Listing)blocks[4]).Text));
        Assert.Equal(AdmonitionKind.Warning, Assert.IsType<Admonition>(blocks[5]).Kind);
        Assert.Equal("quotation", Assert.IsType<Paragraph>(blocks[6]).Role);
    }

    [Fact]
    public void A_link_to_a_head_becomes_a_cross_reference()
    {
        var manual = Read("# Oil grades\n\nx\n\n# Use\n\nSee [the grades](#oil-grades).\n");
        var reference = manual.Divisions[^1].Blocks[0].Inlines().OfType<CrossReference>().Single();
        Assert.Equal(manual.Divisions.Single(d => d.Title == "Oil grades").Id, reference.Target);
    }

    [Fact]
    public void What_cannot_be_printed_is_told_with_its_line_and_its_words_are_kept()
    {
        var blocks = Chapter("![gone](gone.png)\n\n<script>hello()</script>\n\nA <key> is\n");
        Assert.Equal(("gone", "gone.png"), (((Figure)blocks[0]).Alternative, ((Figure)blocks[0]).Asset));
        Assert.Contains(_report, p => p.Where == "notes.md, line 3" && p.Words == "gone.png");
        Assert.Contains(_report, p => p is { Where: "notes.md, line 5", Kind: ReportKind.LeftOut, Words: "hello()" });
        Assert.Contains(_report, p => p is { Where: "notes.md, line 7", Words: "<key>" });
    }

    [Fact]
    public void A_picture_alone_that_is_not_there_is_a_figure_that_waits_and_one_among_words_is_its_words()
    {
        var blocks = Chapter(
            "![A drum](img/drum.png)\n\n*Figure 4: The drum*\n\nPress ![stop](stop.png) there.\n\n"
                + "![Built](https://tarn.example/b.svg)\n"
        );
        var figure = Assert.IsType<Figure>(blocks[0]);
        Assert.Equal(("drum.png", "A drum", "The drum"), (figure.Asset, figure.Alternative, figure.Caption.PlainText()));
        Assert.Equal(["Press stop there.", "Built"], blocks.Skip(1).Select(b => b.Inlines().ToArray().PlainText()));
    }

    [Theory]
    [InlineData("")]
    [InlineData("[[[[[[[[[[((((((((((")]
    [InlineData("| a |\n|---\n| b | c | d |")]
    [InlineData("```\nnever closed")]
    [InlineData("- \n  - \n    - ")]
    [InlineData("\0\0\0")]
    public void Broken_markdown_comes_in_as_well_as_it_can(string text)
    {
        var manual = Read(text);
        Assert.Equal(DivisionKind.TitlePage, manual.Divisions[0].Kind);
        Core.Composition.Composer.Compose(manual, Edition.Whole, Core.Looks.ShippedLooks.Workshop);
    }

    [Fact]
    public void Bytes_that_are_no_UTF_8_are_told()
    {
        Read([0x23, 0x20, 0xFF, 0xFE]);
        Assert.Contains(_report, p => p.What.Contains("UTF-8", StringComparison.Ordinal));
    }

    [Fact]
    public void Tables_drawn_by_dashes_alone_are_tables_with_their_captions()
    {
        var tables = Chapter(
                "  Right     Left\n-------     ------\n     12     12\n    123     12|3\n\nTable:  Simple.\n\nText.\n\n"
                    + "---- ------\n1    one\n2    two\n---- ------\n\nMore.\n\n"
                    + "------------------\nName     Says\nof it    what\n-------- ---------\nalpha    first and\n         on\n\n"
                    + "beta     second\n------------------\n\n: Spread.\n"
            )
            .OfType<Table>()
            .ToList();
        static string Words(Table t) =>
            string.Join(" / ", t.Rows.Select(r => string.Join(" | ", r.Cells.Select(c => c.Content.PlainText()))));
        Assert.Equal(
            ["Right | Left / 12 | 12 / 123 | 12|3", "1 | one / 2 | two", "Name of it | Says what / alpha | first and on / beta | second"],
            tables.Select(Words)
        );
        Assert.Equal([1, 0, 1], tables.Select(t => t.HeaderRows));
        Assert.Equal(["Simple.", "", "Spread."], tables.Select(t => t.Caption.PlainText()));
        Assert.Equal(CellAlignment.Right, tables[0].Columns[0]);
    }

    [Fact]
    public void Tables_drawn_as_grids_are_tables()
    {
        var table = Chapter("+-----+-----+\n| A   | B   |\n+=====+=====+\n| - x | y   |\n| - z |     |\n+-----+-----+\n")
            .OfType<Table>()
            .Single();
        Assert.Equal(1, table.HeaderRows);
        Assert.Equal("– x – z", table.Rows[1].Cells[0].Content.PlainText().Replace("\u2028", "", StringComparison.Ordinal));
    }

    [Fact]
    public void Dashes_that_draw_no_table_stay_what_they_are()
    {
        var blocks = Chapter("Above\n\n---\n\n```\na   b\n--- ---\n1   2\n```\n\nNot - a -- table --- here.\n\n- - -\n");
        Assert.Empty(blocks.OfType<Table>());
        Assert.Contains("--- ---", blocks.OfType<Listing>().Single().Text);
    }

    [Fact]
    public void What_stands_in_braces_behind_a_head_names_it_and_is_not_printed()
    {
        var blocks = Chapter("## Options {#opt .unnumbered}\n\nSee [these](#opt).\n\n## Set {x}\n\n## Plain {.hidden}\n");
        Assert.Equal(["Options", "Set {x}", "Plain"], blocks.OfType<Head>().Select(h => h.Content.PlainText()));
        Assert.Equal(
            blocks.OfType<Head>().First().Id,
            blocks.SelectMany(b => b.OwnSpans()).SelectMany(s => s).OfType<CrossReference>().Single().Target
        );
    }

    [Fact]
    public void Words_of_a_head_in_brackets_lead_to_it()
    {
        var blocks = Chapter("See [Simple tables] and [these][simple tables], not [that].\n\n## Simple tables\n\nText\n");
        var target = blocks.OfType<Head>().Single().Id;
        var spans = blocks[0].OwnSpans().SelectMany(s => s).ToList();
        Assert.Equal([target, target], spans.OfType<CrossReference>().Select(x => x.Target));
        Assert.Contains("[that]", string.Concat(spans.OfType<TextRun>().Select(r => r.Text)));
    }

    [Fact]
    public void Examples_count_through_the_text_and_are_named_by_their_number()
    {
        var blocks = Chapter("(@)  First.\n(@good)  Second.\n\nText.\n\n(@)  Third, after (@good) and (@none).\n");
        Assert.Equal([1, 3], blocks.OfType<ItemList>().Select(l => l.Start));
        Assert.Contains(
            "after (2) and (@none)",
            string.Concat(blocks.OfType<ItemList>().Last().Items[0].Blocks[0].OwnSpans().First().PlainText())
        );
    }

    [Fact]
    public void A_quotation_under_a_signal_word_and_a_named_fence_are_admonitions()
    {
        var blocks = Chapter(
            "> **Achtung:** Halt.\n\n> **Warning**\n>\n> Mind.\n\n> **Nobody** said.\n\n::: note\nSo.\n:::\n\n::: {.tip}\nTry.\n:::\n"
        );
        Assert.Equal(
            [AdmonitionKind.Notice, AdmonitionKind.Warning, AdmonitionKind.Note, AdmonitionKind.Tip],
            blocks.OfType<Admonition>().Select(a => a.Kind)
        );
        Assert.DoesNotContain(_report, l => l.What.Contains("Block", StringComparison.Ordinal));
    }

    [Theory]
    [InlineData("lang: de-AT", "de-AT")]
    [InlineData("language: \"ja\"", "ja")]
    public void The_language_of_the_front_matter_is_the_manuals(string line, string language) =>
        Assert.Equal(language, Read($"---\ntitle: T\n{line}\n---\n\n# One\n\na\n").Language);
}
