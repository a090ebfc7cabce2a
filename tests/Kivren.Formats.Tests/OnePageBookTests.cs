using System.Text;
using Kivren.Core.Content;
using Kivren.Formats.Html;
using Kivren.Formats.Import;

namespace Kivren.Formats.Tests;

/// <summary>A whole book in one page: its chapters are chapters, its indexes entries, its ways from section to section left
/// out.</summary>
public class OnePageBookTests
{
    private static Shaped Shape(string body) =>
        Shaper.Shape(
            new ShapeRequest(
                [
                    HtmlReader.Read(
                        "book.html",
                        Encoding.UTF8.GetBytes($"<html><body>{body}</body></html>"),
                        new Dictionary<string, byte[]>()
                    ),
                ],
                ImportMapping.None,
                "s"
            )
        );

    private static string Ways(string next) =>
        $"<div class='header'><p>Next: <a href='#{next}' rel='next'>{next}</a>, Up: <a href='#top' rel='up'>Top</a> [<a href='#toc' "
        + "rel='contents'>Contents</a>]</p></div>";

    private static string Book(string chapter, string appendix) =>
        "<h1>The ferry handbook</h1><h1 id='top'>About this book</h1><p>It is short.</p>"
        + "<h2>Table of contents</h2><ul><li><a href='#winch'>1 Winch</a></li><li><a href='#hull'>2 Hull</a></li></ul>"
        + $"{Ways("hull")}<h2 id='winch'{chapter}>1 Winch</h2><p id='drum'>The <b>drum</b> holds the cable.</p><h3>1.1 Brake</h3>"
        + "<p id='band'>The band is of steel.</p><h3>1.2 Pawl</h3><p id='pawl'>It falls by itself.</p>"
        + $"{Ways("deck")}<h2 id='hull'{chapter}>2 Hull</h2><p id='plates'>Plates are of oak.</p>"
        + "<h3>2.1 Bilge</h3><p id='bilge'>Dry it.</p>"
        + $"<h2 id='deck'{chapter}>3 Deck</h2><p id='planks'>Planks lie across.</p>"
        + $"<h2 id='tables'{appendix}>Appendix A Tables</h2><p>None yet.</p>";

    [Theory]
    [InlineData(" class='chapter'", " class='appendix'")]
    [InlineData("", "")]
    public void Its_second_level_is_its_chapters(string chapter, string appendix)
    {
        var shaped = Shape(Book(chapter, appendix));
        Assert.Equal("The ferry handbook", shaped.Title);
        Assert.Equal(
            [
                (DivisionKind.Preface, "About this book"),
                (DivisionKind.Chapter, "Winch"),
                (DivisionKind.Chapter, "Hull"),
                (DivisionKind.Chapter, "Deck"),
                (DivisionKind.Appendix, "Tables"),
            ],
            shaped.Divisions.Where(d => d.Title != "Table of contents").Select(d => (d.Kind, d.Title))
        );
        Assert.Equal(
            [(HeadLevel.A, "Brake"), (HeadLevel.A, "Pawl")],
            shaped.Divisions.First(d => d.Title == "Winch").Blocks.OfType<Head>().Select(h => (h.Level, h.Content.PlainText()))
        );
    }

    [Fact]
    public void A_leaflet_with_three_heads_stays_one_chapter()
    {
        var shaped = Shape("<h1>Greasing</h1><h2>Tools</h2><p>A rag.</p><h2>Work</h2><p>Wipe.</p><h2>After</h2><p>Wash.</p>");
        Assert.Equal(["Greasing"], shaped.Divisions.Select(d => d.Title));
    }

    [Fact]
    public void A_sign_that_links_to_its_own_place_is_left_out()
    {
        var shaped = Shape(
            "<h1>Winch</h1><p>Text.</p><dl><dt id='drum'><code>drum</code><a href='#drum'> ¶</a></dt><dd>It turns"
                + "<a href='#note'>*</a>.</dd></dl><p id='note'>Slowly.</p>"
        );
        var list = shaped.Divisions[0].Blocks.OfType<DefinitionList>().Single();
        Assert.Equal("drum", list.Definitions[0].Term.PlainText().Trim());
        Assert.Contains(shaped.Report, r => r.What.StartsWith("A sign that links", StringComparison.Ordinal));
    }

    [Fact]
    public void Lines_of_ways_from_section_to_section_are_left_out_and_told()
    {
        var shaped = Shape(Book("", ""));
        var words = string.Join(' ', shaped.Divisions.SelectMany(d => d.Blocks).SelectMany(b => b.OwnSpans()).Select(s => s.PlainText()));
        Assert.DoesNotContain("Next", words, StringComparison.Ordinal);
        Assert.Equal(2, shaped.Report.Count(r => r.What.StartsWith("Navigation", StringComparison.Ordinal)));
        // A sentence that only leads on is text.
        Assert.Contains(
            "Go on",
            string.Join(' ', Shape("<p>Go on <a href='#x'>there</a>.</p>").Divisions[0].Blocks.OfType<Paragraph>().First().Content),
            StringComparison.Ordinal
        );
    }

    [Theory]
    [InlineData("<tr><td><a href='#{0}'>{1}</a>:</td><td><a href='#winch'>Winch</a></td></tr>", "<table>", "</table>")]
    [InlineData("<li><a href='#{0}'>{1}</a></li>", "<ul>", "</ul>")]
    [InlineData("<dt>{1}, <a href='#{0}'>Winch</a></dt>", "<dl>", "</dl>")]
    public void Indexes_that_are_sections_of_it_become_entries_at_their_places(string line, string opens, string closes)
    {
        string[] places = ["drum", "band", "pawl", "plates", "bilge", "planks"];
        string Index(string name, int times) =>
            $"<h3>{name}</h3>{opens}"
            + string.Concat(
                Enumerable
                    .Range(0, times)
                    .SelectMany(n =>
                        places.Select(p =>
                            line.Replace("{0}", p, StringComparison.Ordinal).Replace("{1}", $"{p} {n}", StringComparison.Ordinal)
                        )
                    )
            )
            + closes;
        var shaped = Shape(
            Book("", "")
                + "<h2>Appendix B Indexes</h2><ul><li><a href='#i1'>Function index</a></li></ul>"
                + Index("B.1 Function index", 2)
                + Index("B.2 Concept index", 3)
        );
        var entries = shaped.Divisions.SelectMany(d => d.Blocks).SelectMany(b => b.Inlines()).OfType<IndexEntry>().ToList();
        Assert.Equal(30, entries.Count);
        if (!line.StartsWith("<dt>", StringComparison.Ordinal))
            Assert.Contains(entries, e => e.Headings.SequenceEqual(["drum 1"]));
        Assert.DoesNotContain(shaped.Divisions, d => d.Title.Contains("Index", StringComparison.Ordinal));
        Assert.Equal("Tables", shaped.Divisions[^1].Title);
    }
}
