using Kivren.Core.Content;
using Kivren.Formats.Generator;
using Kivren.Formats.Import;

namespace Kivren.Formats.Tests;

/// <summary>What untidy text looks like, what becomes of it, and how a mapping says otherwise.</summary>
public class LookAlikeTests
{
    private static Shaped Shape(WordFile file, ImportMapping? mapping = null) => WordTests.Shape(file, mapping);

    private static SourceParagraph Typed(string text, SpanRoles roles = SpanRoles.None) => new(1, "", [new SourceRun(text, roles)]);

    [Theory]
    [InlineData("WARNING: The drum turns.", "look:warning")]
    [InlineData("Attention! Hot oil.", "look:caution")]
    [InlineData("CAUTION", "look:caution")]
    [InlineData("Note – wait an hour", "look:note")]
    [InlineData("Notes on the winch", null)]
    [InlineData("Figure 4: Grease points", "look:figure")]
    [InlineData("Fig. 4-2. Grease points", "look:figure")]
    [InlineData("Figure 4 shows the grease points.", null)]
    [InlineData("Table 12 – Torques", "look:table")]
    [InlineData("3.2 Greasing the bearings", "look:number-2")]
    [InlineData("3.2.1 Before you start", "look:number-3")]
    [InlineData("3.2 litres of oil go into the case, no more and no less, or it foams over and runs down.", null)]
    [InlineData("• the grease gun", "look:bullet")]
    [InlineData("- the grease gun", "look:bullet")]
    [InlineData("-20 degrees is too cold", null)]
    [InlineData("1. Lock the drum.", "look:step")]
    [InlineData("(2) Turn it.", "look:step")]
    [InlineData("1.5 litres are enough.", null)]
    [InlineData("2026 was a wet year.", null)]
    [InlineData("a) with the pin", "look:letter")]
    [InlineData("AFTER THE SEASON", "look:capitals")]
    [InlineData("CF-2", null)]
    [InlineData("Plain words.", null)]
    public void A_plain_paragraph_is_known_by_its_look(string text, string? key) => Assert.Equal(key, LookAlike.Of(Typed(text))?.Key);

    [Theory]
    [InlineData("Before you start", "look:bold")]
    [InlineData("Before you start:", null)]
    [InlineData("Read this whole paragraph before you start, for it says at length what happens to those who do not.", null)]
    [InlineData("2. Changing the oil", "look:bold")]
    public void A_short_bold_line_alone_looks_like_a_head(string text, string? key) =>
        Assert.Equal(key, LookAlike.Of(Typed(text, SpanRoles.Strong))?.Key);

    [Fact]
    public void Bold_lines_stand_below_the_heads_that_styles_give()
    {
        var blocks = Shape(
            new WordFile()
                .P("Oil", "Heading 1")
                .P("Text.")
                .P("Grades", "Heading 2")
                .P("Before you start", bold: true)
                .P("Text.")
                .P("Grease", "Heading 1")
                .P("Text.")
        )
            .Divisions.Single()
            .Blocks;
        Assert.Equal([HeadLevel.A, HeadLevel.B, HeadLevel.C, HeadLevel.A], blocks.OfType<Head>().Select(h => h.Level));
    }

    [Fact]
    public void Numbers_typed_before_heads_go_or_stay()
    {
        var file = new WordFile().P("1. Oil", "Heading 1").P("Text.").P("2 Grease", "Heading 1").P("Text.");
        Assert.Equal(["Oil", "Grease"], Shape(file).Divisions.Single().Blocks.OfType<Head>().Select(h => h.Content.PlainText()));
        Assert.Equal(
            ["1. Oil", "2 Grease"],
            Shape(file, ImportMapping.None with { Off = new HashSet<Cleaning> { Cleaning.TypedNumbers } })
                .Divisions.Single()
                .Blocks.OfType<Head>()
                .Select(h => h.Content.PlainText())
        );
    }

    [Fact]
    public void A_signal_word_alone_takes_the_paragraph_after_it()
    {
        var admonition = Assert.IsType<Admonition>(
            Shape(new WordFile().P("WARNING", bold: true).P("The drum turns by itself.").P("After it.")).Divisions.Single().Blocks[0]
        );
        Assert.Equal(
            (AdmonitionKind.Warning, "The drum turns by itself."),
            (admonition.Kind, ((Paragraph)admonition.Blocks.Single()).Content.PlainText())
        );
    }

    [Fact]
    public void Typed_letters_under_typed_numbers_nest()
    {
        var steps = Assert.IsType<Steps>(
            Shape(new WordFile().P("1) Open it.").P("a) with the key").P("b) or by hand").P("2) Close it.")).Divisions.Single().Blocks[0]
        );
        Assert.Equal(2, steps.Items.Count);
        Assert.Equal(ListKind.Alpha, Assert.IsType<ItemList>(steps.Items[0].Blocks[1]).Kind);
    }

    [Fact]
    public void Typed_numbering_carries_on_over_a_note_between()
    {
        var blocks = Shape(new WordFile().P("1. Open it.").P("NOTE: It is heavy.").P("2. Close it.")).Divisions.Single().Blocks;
        Assert.True(Assert.IsType<Steps>(blocks[2]).Continues);
    }

    [Theory]
    [InlineData("Drum\t260 mm", "Pull\t12 kN")]
    [InlineData("Drum     260 mm", "Pull     12 kN")]
    public void Lines_held_apart_become_a_table_or_stay(string first, string second)
    {
        var file = new WordFile().P("Before.").P(first).P(second).P("After.");
        var table = Assert.IsType<Table>(Shape(file).Divisions.Single().Blocks[1]);
        Assert.Equal(["Drum", "260 mm", "Pull", "12 kN"], table.Rows.SelectMany(r => r.Cells).Select(c => c.Content.PlainText()));
        Assert.Equal(
            4,
            Shape(file, ImportMapping.None with { Off = new HashSet<Cleaning> { Cleaning.TabTables } }).Divisions.Single().Blocks.Count
        );
    }

    [Fact]
    public void Empty_paragraphs_breaks_and_spaces_are_counted_and_can_stay()
    {
        var file = new WordFile().P("One  two.").P("").P("").Xml("<w:p><w:r><w:br w:type=\"page\"/></w:r></w:p>").P("Three.");
        var shaped = Shape(file);
        Assert.Equal(
            (3, 1, 1),
            (shaped.Cleaned[Cleaning.EmptyParagraphs], shaped.Cleaned[Cleaning.PageBreaks], shaped.Cleaned[Cleaning.Spaces])
        );
        Assert.Equal(["One two.", "Three."], shaped.Divisions.Single().Blocks.Cast<Paragraph>().Select(p => p.Content.PlainText()));
        var kept = Shape(
            file,
            ImportMapping.None with
            {
                Off = new HashSet<Cleaning> { Cleaning.EmptyParagraphs, Cleaning.PageBreaks, Cleaning.Spaces },
            }
        )
            .Divisions.Single()
            .Blocks;
        Assert.Contains(kept, b => b is PageBreak);
        Assert.Equal("One  two.", ((Paragraph)kept[0]).Content.PlainText());
        Assert.Equal(6, kept.Count);
    }

    [Fact]
    public void Changing_a_line_changes_all_its_paragraphs_an_exception_one()
    {
        var file = new WordFile().P("Mind the drum.", "House voice").P("Mind the band.", "House voice").P("Mind the pawl.", "House voice");
        var mapping = new ImportMapping("m") { Roles = new Dictionary<string, string> { ["p:House voice"] = "caution" } };
        var document = Docx.WordReader.Read("n.docx", file.ToBytes());
        Assert.Equal(3, ((Admonition)Shaper.Shape(new ShapeRequest([document], mapping, "s")).Divisions[0].Blocks.Single()).Blocks.Count);
        var shaped = Shaper.Shape(
            new ShapeRequest([document], mapping, "s") { Exceptions = new Dictionary<(int, int), string> { [(0, 2)] = "headA" } }
        );
        Assert.Equal(["Admonition", "Head", "Admonition"], shaped.Divisions[0].Blocks.Select(b => b.GetType().Name));
    }

    [Fact]
    public void Ids_stay_when_other_roles_change()
    {
        var document = Docx.WordReader.Read("n.docx", new WordFile().P("Mind the drum.", "House voice").P("Plain text here.").ToBytes());
        Id Second(string role) =>
            Shaper
                .Shape(
                    new ShapeRequest(
                        [document],
                        new ImportMapping("m") { Roles = new Dictionary<string, string> { ["p:House voice"] = role } },
                        "s"
                    )
                )
                .Divisions[0]
                .Blocks[^1]
                .Id;
        Assert.Equal(Second("body"), Second("caution"));
    }

    [Fact]
    public void A_mapping_is_written_and_read_and_tells_how_well_it_fits()
    {
        var mapping = new ImportMapping("Halvik")
        {
            Roles = new Dictionary<string, string> { ["p:Leaflet text"] = "lead", ["c:Works part"] = "partNumber" },
            Off = new HashSet<Cleaning> { Cleaning.Comments },
            Becomes = "appendix",
        };
        var read = ImportMapping.Parse(mapping.ToJson());
        Assert.Equal((mapping.Name, mapping.Becomes, "lead"), (read.Name, read.Becomes, read.Roles["p:Leaflet text"]));
        Assert.Equal([Cleaning.Comments], read.Off);
        Assert.Equal(read.ToJson(), mapping.ToJson());
        Assert.Equal(1, read.Fits(Shape(new WordFile().P("A sentence of it.", "Leaflet text").P("Another.", "Other")).Lines));
    }

    [Theory]
    [InlineData("{", "no JSON")]
    [InlineData("{}", "no mapping")]
    [InlineData("{\"mapping\":9}", "schema 9")]
    public void What_is_no_mapping_is_refused_in_words(string text, string what) =>
        Assert.Contains(what, Assert.Throws<SourceFormatException>(() => ImportMapping.Parse(text)).Message, StringComparison.Ordinal);

    [Fact]
    public void Several_files_become_divisions_in_their_order_and_links_between_them_hold()
    {
        var one = Html.HtmlReader.Read(
            "a.html",
            "<body><h1>Oil</h1><p>See <a href='b.html#g'>grease</a> or <a href='b.html'>the other page</a>.</p></body>"u8.ToArray(),
            new Dictionary<string, byte[]>()
        );
        var two = Html.HtmlReader.Read(
            "b.html",
            "<body><h1>Grease</h1><h2 id='g'>Grades</h2><p>Two.</p></body>"u8.ToArray(),
            new Dictionary<string, byte[]>()
        );
        var shaped = Shaper.Shape(new ShapeRequest([one, two], ImportMapping.None, "s"));
        Assert.Equal(["Oil", "Grease"], shaped.Divisions.Select(d => d.Title));
        Assert.Equal(
            [shaped.Divisions[1].Blocks[0].Id, shaped.Divisions[1].Id],
            shaped.Divisions[0].Blocks[0].Inlines().OfType<CrossReference>().Select(r => r.Target)
        );
    }
}
