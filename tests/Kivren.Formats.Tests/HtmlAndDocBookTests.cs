using System.Text;
using Kivren.Core.Content;
using Kivren.Formats.DocBook;
using Kivren.Formats.Html;
using Kivren.Formats.Import;

namespace Kivren.Formats.Tests;

public class HtmlAndDocBookTests
{
    private static readonly Dictionary<string, byte[]> Nothing = [];

    private static Shaped Shape(string name, string text, Dictionary<string, byte[]>? beside = null)
    {
        var bytes = Encoding.UTF8.GetBytes(text);
        var document = name.EndsWith(".html", StringComparison.Ordinal)
            ? HtmlReader.Read(name, bytes, beside ?? Nothing)
            : DocBookReader.Read(name, bytes, beside ?? Nothing);
        var shaped = Shaper.Shape(new ShapeRequest([document], ImportMapping.None, "s"));
        Assert.Empty(SourceWords.Missing(name, bytes, shaped));
        return shaped;
    }

    private static IReadOnlyList<Block> Html(string body) =>
        Shape("page.html", $"<html><body>{body}</body></html>").Divisions.Single().Blocks;

    private static IReadOnlyList<Block> DocBook(string inner) =>
        Shape(
            "book.xml",
            $"<chapter xmlns=\"http://docbook.org/ns/docbook\" xmlns:xl=\"http://www.w3.org/1999/xlink\" version=\"5.0\"><title>"
                + $"Winch</title>{inner}</chapter>"
        )
            .Divisions.Single()
            .Blocks;

    // ---- HTML ----

    [Fact]
    public void Lists_nest_tables_span_definitions_define()
    {
        var blocks = Html(
            "<ul><li>oil<ol type=a start=3><li>thin</li></ol></li></ul><table><caption>Fillings</caption><thead><tr><th>Place<th>"
                + "Filling</thead><tr><td rowspan=2>Case<td>oil<tr><td>sieve</table><dl><dt>guard<dd>keeps hands away</dl>"
        );
        var inner = (ItemList)((ItemList)blocks[0]).Items[0].Blocks[1];
        Assert.Equal((ListKind.Alpha, 3), (inner.Kind, inner.Start));
        var table = Assert.IsType<Table>(blocks[1]);
        Assert.Equal((1, "Fillings", 2), (table.HeaderRows, table.Caption.PlainText(), table.Rows[1].Cells[0].RowSpan));
        Assert.Equal("guard", Assert.IsType<DefinitionList>(blocks[2]).Definitions[0].Term.PlainText());
    }

    [Fact]
    public void Notes_stand_where_they_are_called()
    {
        var blocks = Html("<p>Grease it<sup><a href='#fn1'>1</a></sup>.</p><p id='fn1'>With grade 2.</p>");
        Assert.Equal("With grade 2.", Assert.Single(blocks).Inlines().OfType<Footnote>().Single().Content.PlainText());
    }

    [Fact]
    public void What_paper_cannot_show_is_left_out_and_told()
    {
        var shaped = Shape(
            "page.html",
            "<html><body><nav>Home</nav><p>Text of the page.</p><video>no film</video><script>var x;</script></body></html>"
        );
        Assert.Single(shaped.Divisions[0].Blocks);
        Assert.Contains(shaped.Report, r => r.What.Contains("<video>", StringComparison.Ordinal));
        Assert.Contains(shaped.Report, r => r.Words == "Home");
    }

    [Fact]
    public void Warnings_quotations_listings_and_keys_come_as_what_they_are()
    {
        var blocks = Html(
            "<div class='admonition warning'><p>Hot oil burns.</p></div><blockquote><p>Said so.</p></blockquote><pre><code "
                + "class='language-ini'>a = 1\nb = 2</code></pre><p>Press <kbd>Enter</kbd>, <b>now</b>.</p>"
        );
        Assert.Equal(AdmonitionKind.Warning, Assert.IsType<Admonition>(blocks[0]).Kind);
        Assert.Equal("quotation", Assert.IsType<Paragraph>(blocks[1]).Role);
        Assert.Equal(("ini", "a = 1\nb = 2"), (((Listing)blocks[2]).Language, ((Listing)blocks[2]).Text));
        Assert.Contains(blocks[3].Inlines(), i => i is TextRun { Text: "Enter", Roles: SpanRoles.Key });
    }

    [Fact]
    public void A_picture_inside_the_page_and_one_that_is_gone()
    {
        var shaped = Shape(
            "page.html",
            "<html><body><figure><img alt='a dot' "
                + "src='data:image/png;base64,iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42m"
                + "NkYPhfDwAChwGA60e6kgAAAABJRU5ErkJggg=='>"
                + "<figcaption>Figure 2: A dot</figcaption></figure><p><img src='gone.png' alt='the old plan'></p></body></html>"
        );
        var figure = Assert.IsType<Figure>(shaped.Divisions[0].Blocks[0]);
        Assert.Equal(("a dot", "A dot"), (figure.Alternative, figure.Caption.PlainText()));
        Assert.Contains(shaped.Report, r => r.Words == "gone.png");
    }

    [Fact]
    public void A_figure_without_its_file_stands_in_DocBook_too()
    {
        const string Media =
            "<imageobject><imagedata fileref='img/drum.svg'/></imageobject><textobject><phrase>A drum</phrase></textobject>";
        var blocks = DocBook(
            $"<para>So.</para><figure><title>The drum</title><mediaobject>{Media}</mediaobject></figure>"
                + $"<para>Press <inlinemediaobject>{Media}</inlinemediaobject> there.</para>"
        );
        var figure = Assert.Single(blocks.OfType<Figure>());
        Assert.Equal(("drum.svg", "A drum", "The drum"), (figure.Asset, figure.Alternative, figure.Caption.PlainText()));
        Assert.Equal("Press A drum there.", blocks[^1].Inlines().ToArray().PlainText());
    }

    [Fact]
    public void MathML_comes_in_in_the_linear_notation() =>
        Assert.Equal(
            "sqrt(a + b)",
            Html("<p>So <math><msqrt><mi>a</mi><mo>+</mo><mi>b</mi></msqrt></math>.</p>")[0]
                .Inlines()
                .OfType<InlineEquation>()
                .Single()
                .Source
        );

    // ---- DocBook ----

    [Fact]
    public void Sections_become_heads_and_procedures_steps()
    {
        var blocks = DocBook(
            "<section xml:id='oil'><title>Oil</title><procedure><step><para>Drain it.</para><substeps><step><para>warm</para>"
                + "</step></substeps></step></procedure><section><title>Grades</title><para>See <xref linkend='oil'/>.</para></section>"
                + "</section>"
        );
        Assert.Equal([HeadLevel.A, HeadLevel.B], blocks.OfType<Head>().Select(h => h.Level));
        Assert.IsType<Steps>(Assert.IsType<Steps>(blocks[1]).Items[0].Blocks[1]);
        Assert.Equal(("title", blocks[0].Id), blocks[^1].Inlines().OfType<CrossReference>().Select(r => (r.Form, r.Target)).Single());
    }

    [Fact]
    public void Index_terms_keep_levels_ranges_and_see()
    {
        var entries = DocBook(
                "<para>Grease<indexterm><primary>grease</primary><secondary>grades of</secondary></indexterm> it<indexterm>"
                    + "<primary>fat</primary><see>grease</see></indexterm>.<indexterm class='startofrange' xml:id='r'><primary>"
                    + "band</primary></indexterm></para><para>More.<indexterm class='endofrange' startref='r'/></para>"
            )
            .SelectMany(b => b.Inlines())
            .OfType<IndexEntry>()
            .ToArray();
        Assert.Contains(entries, e => e.Headings.SequenceEqual(["grease", "grades of"]));
        Assert.Contains(entries, e => e.See == "grease");
        Assert.Single(entries.Where(e => e.Kind != EntryKind.Point).Select(e => e.Id).Distinct());
    }

    [Fact]
    public void Tables_notes_admonitions_and_quotations()
    {
        var blocks = DocBook(
            "<table><title>Torques</title><tgroup cols='2'><colspec colname='a'/><colspec colname='b'/><thead><row><entry "
                + "namest='a' nameend='b'>All</entry></row></thead><tbody><row><entry morerows='1'>Bed</entry><entry>190</entry></row>"
                + "<row><entry>45</entry></row></tbody></tgroup></table><caution><title>Spring</title><para>It jumps<footnote><para>"
                + "Far.</para></footnote>.</para></caution><blockquote><attribution>Ida</attribution><para>Wait.</para></blockquote>"
        );
        var table = Assert.IsType<Table>(blocks[0]);
        Assert.Equal((1, 2, 2), (table.HeaderRows, table.Rows[0].Cells[0].ColumnSpan, table.Rows[1].Cells[0].RowSpan));
        Assert.Equal("Far.", blocks[1].Inlines().OfType<Footnote>().Single().Content.PlainText());
        Assert.Equal("— Ida", ((Paragraph)blocks[3]).Content.PlainText());
    }

    [Fact]
    public void Entities_of_the_file_and_names_of_characters_are_read_and_others_told()
    {
        var shaped = Shape(
            "book.xml",
            "<!DOCTYPE article [<!ENTITY ferry 'Tarn 6'>]><article><title>T</title><para>The &ferry;&nbsp;&ndash; &unknown;</para>"
                + "</article>"
        );
        Assert.Equal("The Tarn 6\u00A0– [unknown]", ((Paragraph)shaped.Divisions[0].Blocks[0]).Content.PlainText());
        Assert.Contains(shaped.Report, r => r.What.Contains("&unknown;", StringComparison.Ordinal));
    }

    [Fact]
    public void A_file_is_drawn_in_only_when_it_was_brought_in_too()
    {
        const string text =
            "<book xmlns:xi=\"http://www.w3.org/2001/XInclude\"><title>B</title><xi:include href=\"oil.xml\"/><xi:include "
            + "href=\"gone.xml\"/></book>";
        var document = DocBookReader.Read(
            "book.xml",
            Encoding.UTF8.GetBytes(text),
            new Dictionary<string, byte[]> { ["oil.xml"] = "<chapter><title>Oil</title><para>Thin.</para></chapter>"u8.ToArray() }
        );
        var shaped = Shaper.Shape(new ShapeRequest([document], ImportMapping.None, "s"));
        Assert.Equal(["Oil"], shaped.Divisions.Select(d => d.Title));
        Assert.Contains(shaped.Report, r => r.What.Contains("gone.xml", StringComparison.Ordinal));
    }

    [Fact]
    public void A_manual_in_parts_is_read_whole_whatever_names_its_parts_hold()
    {
        var parts = new Dictionary<string, byte[]>
        {
            ["oil.docbook"] = "<chapter><title>Oil</title><para>Use &grade; oil, &ouml;r &deep;.</para></chapter>"u8.ToArray(),
            ["names.ent"] = "<!ENTITY grade 'thin'>"u8.ToArray(),
        };
        var document = DocBookReader.Read(
            "index.docbook",
            Encoding.UTF8.GetBytes(
                "<!DOCTYPE book PUBLIC '-//X//DTD' 'dtd/x.dtd' [<!ENTITY oil SYSTEM 'oil.docbook'>"
                    + "<!ENTITY % names PUBLIC '-//N' 'names.ent'> %names;]><book><title>B</title>&oil;</book>"
            ),
            parts
        );
        var shaped = Shaper.Shape(new ShapeRequest([document], ImportMapping.None, "s"));
        var division = Assert.Single(shaped.Divisions, d => d.Title == "Oil");
        Assert.Equal("Use thin oil, ör [deep].", Assert.IsType<Paragraph>(division.Blocks[0]).Content.PlainText());
        Assert.Contains(shaped.Report, r => r.What.Contains("&deep;", StringComparison.Ordinal));
        Assert.True(DocumentReader.IsBeside("oil.docbook"));
    }

    [Fact]
    public void A_file_of_the_machine_is_never_read()
    {
        const string text =
            "<!DOCTYPE article [<!ENTITY secret SYSTEM 'file:///etc/hostname'>]><article><title>T</title><para>&secret;</para></article>";
        Assert.Contains(
            "hostname",
            Assert.Throws<SourceFormatException>(() => DocBookReader.Read("x.xml", Encoding.UTF8.GetBytes(text), Nothing)).Message,
            StringComparison.Ordinal
        );
    }

    [Theory]
    [InlineData("windows-1252", "Größe – €")]
    [InlineData("iso-8859-15", "Größe €")]
    [InlineData("iso-8859-2", "Łódź")]
    [InlineData("utf-16", "Größe")]
    public void A_file_is_read_in_the_encoding_that_it_names(string encoding, string words)
    {
        var bytes = System.Text.CodePagesEncodingProvider.Instance.GetEncoding(encoding) ?? System.Text.Encoding.GetEncoding(encoding);
        var text = $"<?xml version='1.0' encoding='{encoding}'?><article><title>T</title><para>{words}</para></article>";
        var file = encoding == "utf-16" ? [.. bytes.GetPreamble(), .. bytes.GetBytes(text)] : bytes.GetBytes(text);
        var shaped = Shaper.Shape(
            new ShapeRequest([DocBookReader.Read("t.xml", file, new Dictionary<string, byte[]>())], ImportMapping.None, "s")
        );
        Assert.Equal(words, ((Paragraph)shaped.Divisions.Single().Blocks.Single()).Content.PlainText());
    }

    [Fact]
    public void Each_who_made_a_book_has_a_line_on_its_legal_page_and_the_subtitle_stands_below_the_title()
    {
        const string text = """
            <book><bookinfo><title>The Ferry</title><subtitle>For her crew</subtitle>
            <authorgroup>
            <author><firstname>Ada</firstname><surname>Lund</surname>
              <affiliation><jobtitle>Skipper</jobtitle><address><email>ada@example.org</email></address></affiliation>
              <authorblurb><para>She sails.</para></authorblurb></author>
            <author><personname><firstname>Ole</firstname> <surname>Berg</surname></personname></author>
            <othercredit><firstname>Jo</firstname><surname>Vik</surname><contrib>Translation</contrib></othercredit>
            </authorgroup>
            <copyright><year>2024</year><year>2025</year><holder>Halvik Ferries</holder></copyright>
            <legalnotice><title>Notice</title><para>Keep it aboard.</para></legalnotice>
            <revhistory><revision><revnumber>1</revnumber><date>May 2024</date><revremark>First.</revremark></revision></revhistory>
            <keywordset><keyword>ferry</keyword><keyword>winch</keyword></keywordset>
            </bookinfo><chapter><title>Mooring</title><para>Moor her.</para></chapter></book>
            """;
        var document = DocBookReader.Read("book.xml", Encoding.UTF8.GetBytes(text), Nothing);
        var shaped = Shaper.Shape(new ShapeRequest([document], ImportMapping.None, "s"));
        string[] Of(DivisionKind kind) =>
            [.. shaped.Divisions.Single(d => d.Kind == kind).Blocks.OfType<Paragraph>().Select(p => $"{p.Role}: {p.Content.PlainText()}")];
        Assert.Equal(("The Ferry", "For her crew"), (shaped.Title, shaped.Subtitles.Single()));
        Assert.Equal([DivisionKind.Legal, DivisionKind.Chapter], shaped.Divisions.Select(d => d.Kind));
        Assert.Equal(
            [
                "imprint: Ada Lund, Skipper, ada@example.org",
                "imprint: She sails.",
                "imprint: Ole Berg",
                "imprint: Jo Vik, Translation",
                "imprint: © 2024, 2025 Halvik Ferries",
                "imprint: Notice",
                "imprint: Keep it aboard.",
                "imprint: 1, May 2024, First.",
                "imprint: ferry, winch",
            ],
            Of(DivisionKind.Legal)
        );
        Assert.DoesNotContain(shaped.Report, l => l.Kind == ReportKind.LeftOut);
    }

    [Fact]
    public void Names_that_manuals_share_are_read_where_no_file_declares_them_and_every_key_of_a_combination_stays()
    {
        const string text =
            "<chapter><title>Keys</title><para>Press <keycombo>&Ctrl;<keycap>C</keycap></keycombo>, or <keycombo>Alt<keycap>F</keycap>"
            + "</keycombo>, &eg; with the &RMB;. <menuchoice><guimenu>Edit</guimenu><guimenuitem>Cut</guimenuitem></menuchoice> &Unheard;."
            + "</para></chapter>";
        var document = DocBookReader.Read("book.xml", Encoding.UTF8.GetBytes(text), Nothing);
        var shaped = Shaper.Shape(new ShapeRequest([document], ImportMapping.None, "s"));
        var words = shaped.Divisions.Single().Blocks.Single().OwnSpans().First().PlainText();
        Assert.Equal("Press Ctrl+C, or Alt+F, e.g. with the right mouse button. Edit › Cut [Unheard].", words);
        Assert.Contains(shaped.Report, l =>
            l.What.Contains("“&Ctrl;” is declared nowhere in these files; it was read", StringComparison.Ordinal)
        );
        Assert.Contains(shaped.Report, l => l.What.Contains("it stands as [Unheard]", StringComparison.Ordinal));
    }
}
