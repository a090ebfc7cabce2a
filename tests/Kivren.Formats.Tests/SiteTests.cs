using System.Text;
using Kivren.Core.Content;
using Kivren.Core.Indexing;
using Kivren.Formats.Import;
using Kivren.Formats.Import.Sites;

namespace Kivren.Formats.Tests;

/// <summary>A site or a folder of files is one book: its order and nesting, its bars, its captions, its old numbers.</summary>
public class SiteTests
{
    private static IReadOnlyList<SourceDocument> Read(params (string Name, string Html)[] pages)
    {
        var files = pages.Select(p => new SourceFile(p.Name, Encoding.UTF8.GetBytes(p.Html))).ToArray();
        return [.. files.Select(f => DocumentReader.Read(f, [.. files.Where(o => o != f)]))];
    }

    private static Shaped Shape(IReadOnlyList<SourceDocument> documents, SiteTree? tree = null) =>
        Shaper.Shape(new ShapeRequest(documents, ImportMapping.None, "s") { Tree = tree });

    private static string Page(string title, string text, string head = "", string level = "h1") =>
        $"<html><head><title>{title} – The works</title>{head}</head><body><{level}>{title}</{level}>{text}</body></html>";

    private static string Words(string about) =>
        string.Concat(Enumerable.Repeat($"<p>The {about} is looked at each morning before the first crossing, by hand and by eye.</p>", 6));

    private static readonly (string, string)[] Nested =
    [
        (
            "index.html",
            Page(
                "The ferry",
                "<ul><li><a href='use/index.html'>Use</a><ul><li><a href='use/round.html'>The round</a></li></ul></li>"
                    + "<li><a href='winch.html'>Winch</a></li><li><a href='spare.html'>Appendix A. Spares</a></li></ul>"
            )
        ),
        ("spare.html", Page("Appendix A. Spares", Words("spare"))),
        (
            "use/index.html",
            Page("Use", Words("lamp") + "<h2>Lamps</h2>" + Words("lamp") + "<ul><li><a href='night.html'>At night</a></li></ul>")
        ),
        ("use/night.html", Page("At night", Words("light") + "<h2>Fog</h2><p>See <a href='../winch.html#pawl'>the pawl</a>.</p>")),
        ("use/round.html", Page("The round", Words("round"))),
        ("winch.html", Page("Winch", Words("winch") + "<h2 id='pawl'>Pawl</h2>" + Words("pawl"))),
        ("search.html", Page("Search", "<p>Type a word.</p>")),
    ];

    private static string Outline(Shaped shaped) =>
        string.Join(
            "; ",
            shaped.Divisions.Select(d =>
                $"{d.Kind} {d.Title}: " + string.Join(", ", d.Blocks.OfType<Head>().Select(h => $"{h.Level} {h.Content.PlainText()}"))
            )
        );

    [Fact]
    public void The_contents_page_gives_order_and_nesting_and_files_below_a_chapter_are_its_sections()
    {
        var shaped = Shape(Read(Nested));
        Assert.Equal("Chapter Use: A Lamps, A The round, A At night, B Fog; Chapter Winch: A Pawl; Appendix Spares: ", Outline(shaped));
        Assert.Equal("The ferry", shaped.Title);
        // Links between the files arrive, from folder to folder.
        var reference = shaped.Divisions[0].Blocks.SelectMany(b => b.Inlines()).OfType<CrossReference>().Single();
        Assert.Contains(shaped.Divisions[1].Blocks, b => b.Id == reference.Target && b is Head);
        // The contents page and the search form are no text of the book, and that is told.
        Assert.Equal(
            ["index.html", "search.html"],
            shaped.Report.Where(r => r.What.Contains("left out of the book", StringComparison.Ordinal)).Select(r => r.Where).Order()
        );
    }

    [Fact]
    public void The_tree_is_written_as_lines_that_a_writer_changes()
    {
        var documents = Read(Nested);
        var text = TreeFile.Write(Shape(documents).Tree!, documents);
        Assert.Equal(
            "- index.html\nuse/index.html\n  use/round.html\n  use/night.html\nwinch.html\n[appendix] spare.html\n- search.html\n",
            text
        );
        Assert.Equal(
            Shape(documents).Tree!.Places.Select(p => (p.File, p.Depth, p.Kind)),
            TreeFile.Read("tree.txt", text, documents).Places.Select(p => (p.File, p.Depth, p.Kind))
        );
        var changed = "“Before you start”\n  winch.html\n[part] spare.html\n  use/index.html\n    use/night.html\n";
        Assert.Equal(
            "Part Before you start: ; Chapter Winch: A Pawl; Part Spares: ; Chapter Use: A Lamps, A At night, B Fog",
            Outline(Shape(documents, TreeFile.Read("tree.txt", changed, documents)))
        );
    }

    [Theory]
    [InlineData("gone.html", "line 1: there is no file")]
    [InlineData("winch.html\nwinch.html", "line 2: “winch.html” stands in it twice")]
    [InlineData("winch.html\n    spare.html", "line 2: it is set in deeper")]
    [InlineData("[scroll] winch.html", "line 1: there is no kind “scroll”")]
    public void A_tree_that_says_nothing_is_refused_with_the_line(string text, string why) =>
        Assert.Contains(
            why,
            Assert.Throws<SourceFormatException>(() => TreeFile.Read("tree.txt", text, Read(Nested))).Message,
            StringComparison.Ordinal
        );

    private static string Bar(string before, string after, string title) =>
        $"<div class='navheader'><table><tr><th colspan='3'>{title}</th></tr><tr><td>"
        + $"<a accesskey='p' href='{before}'>Prev</a></td><td>The works</td>"
        + $"<td><a accesskey='n' href='{after}'>Next</a></td></tr></table><hr></div>";

    private static (string, string)[] Book(bool lists)
    {
        var toc = lists
            ? "<dl class='toc'><dt><span class='preface'><a href='pr.html'>Preface</a></span></dt>"
                + "<dt><span class='part'><a href='p1.html'>I. Use</a></span></dt><dd><dl>"
                + "<dt><span class='chapter'><a href='c1.html'>1. Winch</a></span></dt>"
                + "<dd><dl><dt><span class='sect1'><a href='s11.html'>1.1. Oil</a></span></dt></dl></dd></dl></dd></dl>"
            : "";
        string Of(string file, string title, string up, string before, string after, string text) =>
            "<html><head><title>"
            + title
            + $"</title><link rel='up' href='{up}'><link rel='next' href='{after}'></head><body>"
            + Bar(before, after, title)
            + $"<div class='x'><div class='titlepage'><h2 class='title'>{title}</h2></div>{text}</div>"
            + Bar(before, after, file)
            + "</body></html>";
        return
        [
            ("c1.html", Of("c1.html", "Chapter 1. Winch", "p1.html", "p1.html", "s11.html", Words("winch"))),
            ("index.html", Of("index.html", "The ferry", "", "", "pr.html", toc)),
            ("p1.html", Of("p1.html", "Part I. Use", "index.html", "pr.html", "c1.html", "")),
            ("pr.html", Of("pr.html", "Preface", "index.html", "index.html", "p1.html", Words("preface"))),
            (
                "s11.html",
                Of(
                    "s11.html",
                    "1.1. Oil",
                    "c1.html",
                    "c1.html",
                    "",
                    "<p>See Table 1.1, Section 1.1 and Section 9.9.</p><div class='table'><p class='title'><b>Table 1.1. Oils</b></p>"
                        + "<div class='table-contents'><table><tr><th>Oil</th></tr><tr><td>thick</td></tr></table></div></div>"
                        + "<div class='sidebar'><p class='title'>By the way</p><p>Oil burns.</p></div>"
                        + "<div class='figure'><div class='figure-contents'><pre>drum</pre></div>"
                        + "<p class='title'>Figure 1.2. The drum</p></div>"
                )
            ),
        ];
    }

    [Theory]
    [InlineData(true)]
    [InlineData(false)]
    public void Bars_that_recur_are_left_out_and_captions_stand_with_what_they_name(bool lists)
    {
        var shaped = Shape(Read(Book(lists)));
        Assert.Equal("Preface Preface: ; Part Use: ; Chapter Winch: A Oil", Outline(shaped));
        Assert.Equal("The ferry", shaped.Title);
        var blocks = shaped.Divisions.SelectMany(d => d.Blocks).SelectMany(b => b.WithInner()).ToList();
        var table = Assert.Single(blocks.OfType<Table>());
        Assert.Equal("Oils", table.Caption.PlainText());
        Assert.Equal("The drum", Assert.Single(blocks.OfType<Listing>()).Caption.PlainText());
        Assert.Equal("By the way", Assert.Single(blocks.OfType<Aside>()).Title.PlainText());
        Assert.DoesNotContain(blocks, b => b.OwnSpans().Any(s => s.PlainText().Contains("Next", StringComparison.Ordinal)));
        var told = Assert.Single(shaped.Report, r => r.What.Contains("recurs", StringComparison.Ordinal));
        Assert.Equal("5 pages", told.Where);
        // Numbers of the old book became references; one that names nothing stands and is told.
        var line = blocks.OfType<Paragraph>().First(p => p.Content.PlainText().StartsWith("See", StringComparison.Ordinal));
        var targets = line.Content.OfType<CrossReference>().Select(r => r.Target).ToList();
        Assert.Equal([table.Id, shaped.Divisions[2].Blocks.OfType<Head>().First().Id], targets);
        Assert.Contains("Section 9.9", line.Content.PlainText(), StringComparison.Ordinal);
        Assert.Equal("Section 9.9", Assert.Single(shaped.Report, r => r.What.Contains("names nothing", StringComparison.Ordinal)).Words);
    }

    [Fact]
    public void Without_lists_and_links_the_numbers_before_heads_tell()
    {
        var shaped = Shape(
            Read(
                ("a.html", Page("2. Winch", Words("winch"))),
                ("b.html", Page("1.2. Horn", Words("horn"))),
                ("c.html", Page("1. Signals", Words("signal"))),
                ("d.html", Page("1.1. Lamps", Words("lamp"))),
                ("e.html", Page("A. Spares", Words("spare")))
            )
        );
        Assert.Equal(
            "Chapter Signals: A Lamps, A Horn; Chapter Winch: ; Appendix A. Spares: ",
            Outline(shaped).Replace("Appendix Spares", "Appendix A. Spares", StringComparison.Ordinal)
        );
    }

    [Fact]
    public void Files_that_say_nothing_of_each_other_stay_chapters_in_their_order()
    {
        var shaped = Shape(Read([.. new[] { "Horn", "Lamp", "Oar", "Winch", "Rope" }.Select(t => (t + ".html", Page(t, Words(t))))]));
        Assert.Equal("the names of its files", shaped.Tree!.From);
        Assert.Equal("Chapter Horn: ; Chapter Lamp: ; Chapter Oar: ; Chapter Winch: ; Chapter Rope: ", Outline(shaped));
    }

    [Fact]
    public void Lists_of_a_contents_page_under_heads_of_their_own_are_parts()
    {
        var shaped = Shape(
            Read(
                (
                    "index.html",
                    Page(
                        "The ferry",
                        "<h2>On board</h2><p>For hands.</p><ul><li><a href='a.html'>Horn</a></li>"
                            + "<li><a href='b.html'>Lamp</a></li></ul>"
                            + "<h2>Ashore</h2><ul><li><a href='c.html'>Ramp</a></li><li><a href='d.html'>Hut</a></li></ul>"
                    )
                ),
                ("a.html", Page("Horn", Words("horn"))),
                ("b.html", Page("Lamp", Words("lamp"))),
                ("c.html", Page("Ramp", Words("ramp"))),
                ("d.html", Page("Hut", Words("hut")))
            )
        );
        Assert.Equal("Part On board: ; Chapter Horn: ; Chapter Lamp: ; Part Ashore: ; Chapter Ramp: ; Chapter Hut: ", Outline(shaped));
    }

    [Fact]
    public void A_head_of_the_first_page_over_nothing_but_a_list_of_pages_goes_with_the_list()
    {
        var shaped = Shape(
            Read(
                (
                    "index.html",
                    Page(
                        "The ferry",
                        Words("ferry")
                            + "<h2>On board</h2><p>For hands.</p><ul><li><a href='a.html'>Horn</a></li>"
                            + "<li><a href='b.html'>Lamp</a></li></ul>"
                            + "<h2>Ashore</h2><ul><li><a href='c.html'>Ramp</a></li><li><a href='d.html'>Hut</a></li></ul>"
                    )
                ),
                ("a.html", Page("Horn", Words("horn"))),
                ("b.html", Page("Lamp", Words("lamp"))),
                ("c.html", Page("Ramp", Words("ramp"))),
                ("d.html", Page("Hut", Words("hut")))
            )
        );
        Assert.StartsWith("Preface The ferry: A On board; Part On board", Outline(shaped), StringComparison.Ordinal);
    }

    [Fact]
    public void A_ring_of_pages_and_a_thousand_links_are_read_within_bounds()
    {
        var pages = Enumerable
            .Range(0, 60)
            .Select(i =>
                (
                    $"p{i}.html",
                    Page(
                        $"Page {i}",
                        Words("page"),
                        $"<link rel='next' href='p{(i + 1) % 60}.html'><link rel='up' href='p{(i + 59) % 60}.html'>"
                    )
                )
            )
            .ToArray();
        Assert.Equal(60, Shape(Read(pages)).Divisions.SelectMany(d => d.Blocks.OfType<Head>().Select(_ => 1).Append(1)).Count());
    }
}
