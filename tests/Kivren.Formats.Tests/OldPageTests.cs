using System.Text;
using Kivren.Core.Content;
using Kivren.Formats.Import;

namespace Kivren.Formats.Tests;

/// <summary>Pages as they were written before styles were: tables that only lay out, classes in capitals, words dressed where they
/// stand.</summary>
public class OldPageTests
{
    private static Shaped Shape(string page, string name = "page.html")
    {
        var bytes = Encoding.UTF8.GetBytes(page);
        var shaped = Shaper.Shape(new ShapeRequest([DocumentReader.Read(new SourceFile(name, bytes), [])], ImportMapping.None, "s"));
        Assert.Empty(SourceWords.Missing("page.html", bytes, shaped));
        return shaped;
    }

    private static IReadOnlyList<Block> Blocks(string body, string head = "") =>
        Shape($"<html><head>{head}</head><body>{body}</body></html>").Divisions.Single().Blocks;

    private static string Roles(IEnumerable<Inline> inlines) =>
        string.Join(
            ' ',
            inlines
                .OfType<TextRun>()
                .Where(r => r.Text.Trim().Length > 0)
                .Select(r => $"{r.Text.Trim()}:{r.Roles.ToString().Replace(", ", "+", StringComparison.Ordinal)}{r.OwnRole}")
        );

    // ---- tables that are none ----

    [Fact]
    public void A_table_round_one_listing_is_the_listing()
    {
        var block = Assert.Single(Blocks("<table border=0 bgcolor='#E0E0E0'><tr><td><pre>haul --slow</pre></td></tr></table>"));
        Assert.Equal("haul --slow", Assert.IsType<Listing>(block).Text);
    }

    [Fact]
    public void A_table_round_one_picture_gives_it_its_caption()
    {
        var block = Assert.Single(
            Blocks(
                "<table><caption>The winch</caption><tr><td><img src='data:image/gif;base64,R0lGODlhAQABAAAAACw=' alt='winch'></td></tr>"
                    + "</table>"
            )
        );
        Assert.Equal("The winch", block is Figure f ? f.Caption.PlainText() : ((Table)block).Caption.PlainText());
    }

    [Fact]
    public void A_line_drawn_round_some_paragraphs_sets_them_aside()
    {
        Assert.IsType<Aside>(Assert.Single(Blocks("<table border=1><tr><td><p>Oil it first.</p><p>Then haul.</p></td></tr></table>")));
        Assert.IsType<Paragraph>(Assert.Single(Blocks("<table><tr><td><p>Oil it first.</p></td></tr></table>")));
    }

    [Fact]
    public void Words_moved_in_by_an_empty_cell_are_no_table_and_a_motto_is_a_quotation()
    {
        const string moved = "<tr><td width='45%'>&nbsp;</td><td><p>No rope is perfect.</p></td></tr>";
        Assert.IsType<Paragraph>(Assert.Single(Blocks($"<table>{moved}</table>")));
        var motto = Assert.Single(Blocks($"<table CLASS='EPIGRAPH'>{moved}</table>"));
        Assert.Equal("quotation", Assert.IsType<Paragraph>(motto).Role);
    }

    [Theory]
    [InlineData("<table><tr><td><b>Warning:</b></td><td><p>Stand clear.</p></td></tr></table>")]
    [InlineData("<DIV CLASS='WARNING'><TABLE CLASS='WARNING'><TR><TD><B>Warning</B></TD><TD><P>Stand clear.</P></TD></TR></TABLE></DIV>")]
    [InlineData("<DIV CLASS='WARNING'><P>Stand clear.</P></DIV>")]
    public void A_sign_beside_text_and_a_class_in_capitals_make_an_admonition(string page)
    {
        var admonition = Assert.IsType<Admonition>(Assert.Single(Blocks(page)));
        Assert.Equal(AdmonitionKind.Warning, admonition.Kind);
        Assert.Equal("Stand clear.", Assert.Single(admonition.Blocks).Inlines().ToList().PlainText());
    }

    [Theory]
    [InlineData("<b>Part</b>", "<b>Oil</b>", "case", 1)]
    [InlineData("<b>Part</b>", "Oil", "case", 0)]
    [InlineData("<b>Part</b>", "<b>Oil</b>", "<b>case</b>", 0)]
    [InlineData("<span class=textbf>Part</span>", "<span style='font-weight: bold'>Oil</span>", "case", 1)]
    public void A_first_row_in_bold_over_rows_that_are_not_is_the_header(string one, string two, string below, int headers)
    {
        var table = Assert.IsType<Table>(
            Assert.Single(
                Blocks(
                    $"<table><tr><td>{one}</td><td>{two}</td></tr><tr><td>{below}</td><td>{below.Replace("case", "2 l")}</td></tr></table>"
                )
            )
        );
        Assert.Equal(headers, table.HeaderRows);
    }

    [Fact]
    public void A_link_called_as_a_table_was_leads_to_that_though_its_name_stands_before_it()
    {
        var blocks = Blocks(
            "<p>Some words.</p><p><a href='#fill'>Table 1-1</a> says how much.</p><p><a name='fill'></a>All parts are filled by hand.</p>"
                + "<table><tr><td><b>Table 1-1.</b> <i>Fillings</i></td></tr></table>"
                + "<table><tr><td>case</td><td>2 l</td></tr><tr><td>drum</td><td>1 l</td></tr></table>"
        );
        var table = Assert.Single(blocks.OfType<Table>());
        Assert.Equal("Fillings", table.Caption.PlainText().Trim());
        var reference = Assert.Single(blocks.SelectMany(b => b.Inlines()).OfType<CrossReference>());
        Assert.Equal((table.Id, "name-number"), (reference.Target, reference.Form));
    }

    // ---- notes ----

    [Theory]
    [InlineData(
        "<p>Grease it <A NAME='AEN7' HREF='#FTN.AEN7'>[1]</A> well.</p><H3 CLASS='FOOTNOTES'>Notes</H3><TABLE BORDER='0' CLASS='FOOTNOTES'>"
            + "<TR><TD><A NAME='FTN.AEN7' HREF='page.html#AEN7'>[1]</A></TD><TD><P>With grade 2.</P></TD></TR></TABLE>"
    )]
    [InlineData(
        "<p>Grease it <a id='DOCF1' href='#FOOT1'><sup>1</sup></a> well.</p><div class='footnote'><hr>"
            + "<h4 class='footnotes-heading'>Footnotes</h4>"
            + "<h5><a id='FOOT1' href='#DOCF1'>(1)</a></h5><p>With grade 2.</p></div>"
    )]
    [InlineData(
        "<p>Grease it <a href='#ftn.id7' class='footnote' id='id7'><sup class='footnote'>[1]</sup></a> well.</p>"
            + "<div class='footnotes'><br><hr><div id='ftn.id7' class='footnote'><p><a href='#id7' class='para'><sup>[1]</sup></a>"
            + "With grade 2.</p></div></div>"
    )]
    [InlineData("<p>Grease it <a name='c1' href='#n1'>*</a> well.</p><hr><p><a name='n1' href='#c1'>*</a>With grade 2.</p>")]
    public void A_call_and_a_number_that_lead_to_each_other_are_a_footnote(string page)
    {
        var paragraph = Assert.IsType<Paragraph>(Assert.Single(Blocks(page)));
        Assert.Equal("With grade 2.", Assert.Single(paragraph.Inlines().OfType<Footnote>()).Content.PlainText().Trim());
    }

    [Fact]
    public void Several_notes_under_one_head_stay_apart()
    {
        var notes = string.Concat(
            Enumerable.Range(1, 3).Select(n => $"<h5><a id='FOOT{n}' href='#DOCF{n}'>({n})</a></h5><p>Note {n}.</p>")
        );
        var text = string.Concat(Enumerable.Range(1, 3).Select(n => $"part {n} <a id='DOCF{n}' href='#FOOT{n}'><sup>{n}</sup></a> "));
        var paragraph = Assert.Single(Blocks($"<p>{text}</p><h4 class='footnotes-heading'>Footnotes</h4>{notes}"));
        Assert.Equal(["Note 1.", "Note 2.", "Note 3."], paragraph.Inlines().OfType<Footnote>().Select(f => f.Content.PlainText().Trim()));
    }

    // ---- words ----

    [Fact]
    public void Words_are_what_the_styles_of_the_page_make_them_look_like()
    {
        const string sheet =
            "<style>/* .x{font-weight:bold} */ .a, p .b { color: red; font-weight: 700 } .c{font-style:italic}"
            + "@media print { .x { font-weight: bold } } span.m{font-family:'Courier New',monospace}.u{vertical-align:super}</style>";
        var paragraph = Assert.Single(
            Blocks(
                "<p><span class=a>one</span> <span class=b>two</span> <span class=c>three</span> <span class=x>four</span> "
                    + "<span class=m>five</span> <span style='font-style:italic;font-weight:bold'>six</span> "
                    + "<font face='Courier'>seven</font> <span class=u>eight</span></p>",
                sheet
            )
        );
        Assert.Equal(
            "one:Strong two:Strong three:Emphasis four:None five:Code six:Emphasis+Strong seven:Code eight:Sup",
            Roles(paragraph.Inlines())
        );
    }

    [Fact]
    public void Sheets_without_an_end_or_with_selectors_that_are_none_cost_nothing()
    {
        var sheet =
            "<style>" + string.Concat(Enumerable.Repeat("/*", 40_000)) + "</style><style>:::{font-weight:bold}" + new string('}', 9_000);
        Assert.Equal(
            "words",
            Assert.Single(Blocks("<p><span class=a>words</span></p>", sheet + "</style>")).Inlines().ToList().PlainText()
        );
    }

    [Fact]
    public void What_words_are_named_for_says_more_than_the_face_they_are_set_in()
    {
        Assert.Equal(
            "haul:Code haul:Code winch:Term bold:Strong",
            Roles(
                Assert
                    .Single(
                        Blocks(
                            "<p><B CLASS='COMMAND'>haul</B> <span class=command>haul</span> <I CLASS='FIRSTTERM'>winch</I> <b>bold</b></p>"
                        )
                    )
                    .Inlines()
            )
        );
    }

    [Fact]
    public void A_page_of_XHTML_that_begins_with_its_head_is_no_DocBook()
    {
        var shaped = Shape(
            "<?xml version='1.0'?><!DOCTYPE head PUBLIC \"-//W3C//DTD XHTML 1.0 Transitional//EN\" \"x.dtd\">"
                + "<head xmlns='http://www.w3.org/1999/xhtml'>"
                + "<title>Winch</title></head><div class='sect1'><h2>Winch</h2><p>Oil it.</p><ul><li>thin</li></ul></div>"
        );
        Assert.Contains(shaped.Divisions.Single().Blocks, b => b is ItemList);
    }
}
