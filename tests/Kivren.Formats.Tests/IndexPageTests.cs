using System.Text;
using Kivren.Core.Content;
using Kivren.Formats.Import;

namespace Kivren.Formats.Tests;

/// <summary>An index that came as a page of its own: its terms are entries where they point.</summary>
public class IndexPageTests
{
    private static Shaped Shape(params (string Name, string Html)[] pages)
    {
        var files = pages.Select(p => new SourceFile(p.Name, Encoding.UTF8.GetBytes(p.Html))).ToArray();
        var documents = files.Select(f => DocumentReader.Read(f, files.Where(o => o != f).ToArray())).ToArray();
        return Shaper.Shape(new ShapeRequest(documents, ImportMapping.None, "s"));
    }

    private const string Winch = """
        <html><head><title>Winch</title></head><body><h1>Winch</h1>
        <p id="drum">The drum takes three turns.</p><p><a id="pawl"></a>The pawl falls by itself.</p>
        <dl><dt id="band">band</dt><dd>A strip of steel.</dd></dl>
        <p id="oil">Oil each week.</p><p id="rim">The rim is dry.</p><p id="rivet">Rivets are filed.</p>
        </body></html>
        """;

    private static string IndexOf(string title, string items) =>
        $"<html><head><title>{title}</title></head><body><h1>{title}</h1><h2>B</h2><ul>{items}</ul></body></html>";

    private const string Items = """
        <li><a href="winch.html#band">band</a></li>
        <li><a href="winch.html#drum">drum</a>, <a href="winch.html#rim">[1]</a>
        <ul><li><a href="winch.html#rim">rim of the</a></li></ul></li>
        <li>oil<ul><li><a href="winch.html#oil">each week</a></li></ul></li>
        <li><a href="winch.html#pawl">pawl</a></li>
        <li><a href="winch.html#rivet">rivets</a></li>
        <li><a href="winch.html#nowhere">gear</a></li>
        """;

    private static string[] Entries(Shaped shaped) =>
        [
            .. shaped
                .Divisions.SelectMany(d => d.Blocks)
                .SelectMany(b => b.Inlines())
                .OfType<IndexEntry>()
                .Select(e => string.Join(" › ", e.Headings)),
        ];

    [Fact]
    public void Terms_that_lead_into_a_note_are_entered_where_it_is_called()
    {
        var page = Winch.Replace(
            "<p id=\"rim\">The rim is dry.</p>",
            "<p>The rim <a id='c1' href='#n1'>[1]</a> is dry.</p><p><a id='n1' href='#c1'>[1]</a><a name='rim'></a>Not wet.</p>",
            StringComparison.Ordinal
        );
        var shaped = Shape(("winch.html", page), ("terms.html", IndexOf("Index — Tarn 6", Items)));
        var rim = shaped.Divisions.SelectMany(d => d.Blocks).OfType<Paragraph>().Single(p => p.Inlines().OfType<Footnote>().Any());
        Assert.Equal(
            ["drum", "drum › rim of the"],
            rim.Inlines().OfType<IndexEntry>().Select(e => string.Join(" › ", e.Headings)).Order(StringComparer.Ordinal)
        );
    }

    [Fact]
    public void Its_terms_come_in_as_entries_at_the_places_they_lead_to()
    {
        var shaped = Shape(("winch.html", Winch), ("terms.html", IndexOf("Index — Tarn 6", Items)));
        Assert.Equal(["drum", "pawl", "band", "oil › each week", "drum", "drum › rim of the", "rivets"], Entries(shaped));
        // The page is left out, and that is said; its words are no text of the manual.
        Assert.Contains(shaped.Report, l => l.What.Contains("index of the source was left out", StringComparison.Ordinal));
        Assert.DoesNotContain(shaped.Divisions.SelectMany(d => d.Blocks).SelectMany(b => b.Inlines()).OfType<TextRun>(), r =>
            r.Text.Contains("each week", StringComparison.Ordinal) && !r.Text.Contains("Oil", StringComparison.Ordinal)
        );
        Assert.Equal(DivisionKind.Index, shaped.ToManual(() => new Id(Guid.NewGuid().ToString("N")), "Workshop, A5").Divisions[^1].Kind);
    }

    [Fact]
    public void What_an_index_says_of_its_terms_and_places_under_no_word_do_not_make_it_text()
    {
        string[] terms = ["drum", "pawl", "band", "oil", "rim", "rivet"];
        var items = string.Concat(
            terms
                .Concat(terms.Select(t => "old " + t))
                .Select(t => $"<dt><a href='winch.html#{t.Split(' ')[^1]}'>{t}</a>, a part in <a href='winch.html'>Winch</a></dt><dd></dd>")
        );
        var index =
            "<html><head><title>Index</title></head><body><h1>Index</h1><dl><dt> </dt><dd><a href='winch.html#oil'>1</a></dd>"
            + $"{items}</dl></body></html>";
        Assert.Equal(
            terms.Concat(terms.Select(t => "old " + t)).Order(),
            Entries(Shape(("winch.html", Winch), ("terms.html", index))).Distinct().Order()
        );
    }

    [Theory]
    [InlineData("Where to read on")]
    [InlineData("Index of refraction")]
    public void A_list_of_links_under_another_name_stays_what_it_is(string title) =>
        Assert.Empty(Entries(Shape(("winch.html", Winch), ("links.html", IndexOf(title, Items)))));

    [Fact]
    public void A_home_page_called_index_with_text_stays_text()
    {
        var prose = string.Concat(Enumerable.Repeat("<p>The ferry crosses still water by pulling herself along a cable.</p>", 20));
        Assert.Empty(
            Entries(
                Shape(
                    ("winch.html", Winch),
                    ("index.html", IndexOf("Index", Items).Replace("<h2>", prose + "<h2>", StringComparison.Ordinal))
                )
            )
        );
    }
}
