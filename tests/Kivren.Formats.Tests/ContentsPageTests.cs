using Kivren.Core.Content;
using Kivren.Formats.Import;
using static Kivren.Formats.Tests.MadeUpSite;
using static Kivren.Formats.Tests.UnseenSiteTests;

namespace Kivren.Formats.Tests;

/// <summary>Which page of a site is its contents page, and what its lines make of the pages.</summary>
public class ContentsPageTests
{
    private const string Site5 = "Chapter Round; Chapter Winch; Chapter Cable; Chapter Lamps; Chapter Spares";

    [Fact]
    public void The_page_that_most_pages_call_the_contents_is_it_and_the_one_they_call_the_index_is_not()
    {
        const string ways = "<link rel='contents' href='lines.html'><link rel='index' href='terms.html'>";
        var lines = string.Concat(Names.Select((n, i) => $"<div class='toc-h1'><a href='{n}.html'>{i + 1} {Title(n)}</a></div>"));
        var shaped = Shape([
            .. Names.Select(n => (n + ".html", Page(Title(n), $"<h1>{Title(n)}</h1>" + Text(n), ways))),
            ("lines.html", Page("The ferry", "<h1>The ferry</h1><div>" + lines + "</div>", ways)),
            ("terms.html", Page("Words", "<h1>Words</h1>" + Contents([.. Names.Order()]), ways)),
        ]);
        Assert.Equal(Site5, Outline(shaped));
        Assert.Equal("its contents page, lines.html", shaped.Tree!.From);
    }

    [Fact]
    public void Lines_that_are_paragraphs_stand_as_deep_as_their_numbers_say_and_letters_behind_numbers_are_appendices()
    {
        (string File, string Number, string Title)[] pages =
        [
            ("round", "1", "Round"),
            ("dawn", "1.1", "Dawn"),
            ("lists", "1.1.1", "Lists"),
            ("winch", "2", "Winch"),
            ("spares", "A", "The spares"),
            ("paint", "B", "A coat of paint"),
        ];
        var shaped = Shape([
            (
                "index.html",
                Page(
                    "The ferry",
                    "<h1>The ferry</h1><div>"
                        + string.Concat(pages.Select(p => $"<p><a href='{p.File}.html'>{p.Number} {p.Title}</a></p>"))
                        + "</div>"
                )
            ),
            .. pages.Select(p => (p.File + ".html", Page(p.Title, $"<h1>{p.Number} {p.Title}</h1>" + Text(p.File)))),
        ]);
        Assert.Equal("Chapter Round, A Dawn, B Lists; Chapter Winch; Appendix The spares; Appendix A coat of paint", Outline(shaped));
    }

    [Fact]
    public void The_first_page_of_all_goes_before_pages_in_folders_that_lead_to_more_by_the_menu()
    {
        var menu = "<nav>" + Contents(Names).Replace("href='", "href='../", StringComparison.Ordinal) + "</nav>";
        var code = Enumerable.Range(1, 5).Select(n => $"part{n}").ToArray();
        var shaped = Shape([
            .. Site(Page("The ferry", "<main><h1>The ferry</h1>" + Contents(Names) + "</main>"), n =>
                Page(Title(n), $"<main><h1>{Title(n)}</h1>" + Text(n) + "</main>")
            ),
            ("source/index.html", Page("Source", menu + "<main><h1>Source</h1>" + Contents(code) + "</main>")),
            .. code.Select(c => ($"source/{c}.html", Page(c, menu + $"<main><h1>{Title(c)}</h1>" + Text(c) + "</main>"))),
        ]);
        Assert.StartsWith(Site5, Outline(shaped), StringComparison.Ordinal);
        Assert.Equal("its contents page, index.html", shaped.Tree!.From);
    }

    [Fact]
    public void Items_that_only_open_a_list_are_parts_beside_chapters_and_the_lists_lines_are_their_chapters()
    {
        static string Opens(string name, params string[] files) => $"<li><a href='#'>{name}</a>{Contents(files)}</li>";
        var shaped = Shape(
            Site(
                Page(
                    "The ferry",
                    "<h1>The ferry</h1><ul><li><a href='round.html'>Round</a></li>"
                        + Opens("On deck", "winch", "cable")
                        + Opens("Below", "lamps", "spares")
                        + "</ul>"
                ),
                n => Page(Title(n), $"<h1>{Title(n)}</h1>" + Text(n))
            )
        );
        Assert.Equal(
            "Chapter Round; Part On deck; Chapter Winch; Chapter Cable; Part Below; Chapter Lamps; Chapter Spares",
            Outline(shaped)
        );
    }

    [Fact]
    public void Lines_of_the_text_count_though_the_menu_of_every_page_has_them_as_well()
    {
        var menu = "<nav><ul><li><a href='deck.html'>On deck</a></li><li><a href='below.html'>Below</a></li></ul></nav>";
        string Framed(string title, string body) => Page(title, menu + $"<main><h1>{title}</h1>{body}</main>");
        static string Line(string file, string title, params string[] below) =>
            $"<li><a href='{file}.html'>{title}</a>{(below.Length > 0 ? Contents(below) : "")}</li>";
        var shaped = Shape([
            (
                "index.html",
                Framed(
                    "The ferry",
                    "<ul>" + Line("deck", "On deck", "winch", "cable") + Line("below", "Below", "lamps", "spares") + "</ul>"
                )
            ),
            ("deck.html", Framed("On deck", Contents("winch", "cable"))),
            ("below.html", Framed("Below", Contents("lamps", "spares"))),
            .. Names.Skip(1).Select(n => (n + ".html", Framed(Title(n), Text(n)))),
        ]);
        Assert.Equal("Chapter On deck, A Winch, A Cable; Chapter Below, A Lamps, A Spares", Outline(shaped));
    }

    [Fact]
    public void What_a_page_s_markup_calls_the_whole_of_it_is_its_kind_and_sections_of_nothing_are_chapters()
    {
        static string Kind(string kind, string title, string body) =>
            Page(title, $"<div class='{kind}'><h1>{title}</h1>{body}</div><hr><p>Halvik Ferries</p>");
        var shaped = Shape([
            (
                "index.html",
                Kind(
                    "book",
                    "The ferry",
                    "<dl><dt><span class='section'><a href='round.html'>1. Round</a></span></dt>"
                        + "<dt>I. <a href='deck.html'>On deck</a></dt><dd><dl><dt>1. <a href='winch.html'>Winch</a></dt></dl></dd>"
                        + "<dt><a href='spares.html'>Spares</a></dt></dl>"
                )
            ),
            ("round.html", Kind("section", "1. Round", Text("round"))),
            ("deck.html", Kind("PART", "I. On deck", Text("deck"))),
            ("winch.html", Kind("CHAPTER", "1. Winch", Text("winch"))),
            ("spares.html", Kind("appendix", "Spares", Text("spare"))),
        ]);
        Assert.Equal("Chapter Round; Part On deck; Chapter Winch; Appendix Spares", Outline(shaped));
    }

    [Fact]
    public void The_first_page_beside_the_contents_page_is_the_preface()
    {
        var shaped = Shape([
            .. Names.Select(n =>
                (
                    n + ".html",
                    Page($"Halvik handbook: {Title(n)}", $"<h1>{Title(n)}</h1>" + Text(n), "<link rel='contents' href='book-toc.html'>")
                )
            ),
            ("book-toc.html", Page("Halvik handbook: Table of contents", "<h1>Table of contents</h1>" + Contents(Names))),
            ("index.html", Page("Halvik handbook: What it is", "<h1>What it is</h1>" + Text("book"))),
        ]);
        Assert.Equal("Preface What it is; " + Site5, Outline(shaped));
        Assert.Equal("Halvik handbook", shaped.Title);
    }

    [Theory]
    [InlineData("en", "Further pages")]
    [InlineData("de", "Weitere Seiten")]
    public void Chapters_that_no_list_names_stand_behind_the_parts_in_one_of_their_own(string language, string part)
    {
        string In(string html) => html.Replace("lang='en'", $"lang='{language}'", StringComparison.Ordinal);
        var shaped = Shape([
            .. Site(
                    Page(
                        "The ferry",
                        "<h1>The ferry</h1><h2>On deck</h2>" + Contents("winch", "cable") + "<h2>Below</h2>" + Contents("lamps", "spares")
                    ),
                    n => Page(Title(n), $"<h1>{Title(n)}</h1>" + Text(n) + "<h2>Care</h2>" + Text(n + " cover"))
                )
                .Select(p => (p.Item1, In(p.Item2))),
        ]);
        Assert.Equal(
            "Part On deck; Chapter Winch, A Care; Chapter Cable, A Care; Part Below; Chapter Lamps, A Care; Chapter Spares, A Care; "
                + $"Part {part}; Chapter Round, A Care",
            Outline(shaped)
        );
    }

    [Fact]
    public void A_search_page_is_no_chapter_though_the_menu_of_every_page_asks_for_words()
    {
        const string menu = "<nav><form><input name='q'></form></nav>";
        var shaped = Shape([
            .. Site(Page("The ferry", menu + "<main><h1>The ferry</h1>" + Contents([.. Names, "search"]) + "</main>"), n =>
                Page(Title(n), menu + $"<main><h1>{Title(n)}</h1>" + Text(n) + "</main>")
            ),
            (
                "search.html",
                Page("Search", menu + "<main><h1>Search</h1><p>Say what you look for.</p><form><input name='q'></form></main>")
            ),
        ]);
        Assert.Equal(Site5, Outline(shaped));
    }

    [Fact]
    public void Pictures_to_press_that_lead_on_are_no_figures_and_a_long_menu_over_each_page_is_left_out()
    {
        const string bar =
            "<div><a href='index.html'><img src='h.png' alt='Home'></a>\n<a href='round.html'><img src='p.png' alt='Previous'></a>\n"
            + "<a href='spares.html'><img src='n.png' alt='Next'></a></div>";
        var menu = string.Concat(Names.Concat(Names).Select(n => $"<div>+ <a href='{n}.html'>{n}</a></div>"));
        var shaped = Shape(
            Site(Page("The ferry", bar + "<h1>The ferry</h1>" + Contents(Names)), n =>
                Page(Title(n), bar + menu + $"<h1>{Title(n)}</h1>" + Text(n))
            )
        );
        Assert.Equal(Site5, Outline(shaped));
        Assert.All(shaped.Divisions, d => Assert.All(d.Blocks, b => Assert.IsType<Paragraph>(b)));
        Assert.All(shaped.Divisions, d => Assert.Equal(6, d.Blocks.Count));
    }

    [Fact]
    public void Pages_that_say_no_order_are_chapters_without_the_lines_of_the_site_and_their_heads_stand_below_their_names()
    {
        var shaped = Shape([
            .. Names.Select(n =>
                (
                    $"{n}_page.html",
                    Page(
                        $"{Title(n)} - Halvik wiki",
                        $"<h1>{Title(n)}</h1><p>From the Halvik wiki</p>{Text(n)}<h1>Care</h1>{Text(n + " cover")}"
                            + $"<p>Retrieved from <a href='https://halvik.example/{n}'>https://halvik.example/{n}</a></p>"
                    )
                )
            ),
        ]);
        Assert.Equal(
            "Chapter Round, A Care; Chapter Winch, A Care; Chapter Cable, A Care; Chapter Lamps, A Care; Chapter Spares, A Care",
            Outline(shaped)
        );
        Assert.All(shaped.Divisions, d => Assert.Equal(13, d.Blocks.Count));
    }

    [Fact]
    public void What_windows_show_over_all_pages_alike_is_what_the_whole_is_called()
    {
        var shaped = Shape([
            .. Names.Select(n => (n + ".html", Page("Rules of the ferry", $"<h1>{Title(n)}</h1>" + Text(n)))),
            ("index.html", Page("Rules of the ferry", "<h1>Part one</h1>" + Text("rule"))),
        ]);
        Assert.Equal("Rules of the ferry", shaped.Title);
    }

    [Fact]
    public void Words_before_a_page_s_own_head_stand_below_it_and_ways_down_as_lists_or_with_its_title_are_no_text()
    {
        static string Way(string title) =>
            $"<ul><li><a href='index.html'>Ferries</a> »</li><li>{title}</li></ul>"
            + $"<table><tr><th colspan='2'>{title}</th></tr><tr><td></td><td><a href='spares.html'>Next</a></td></tr></table>";
        var shaped = Shape(
            Site(Page("The ferry", Way("The ferry") + "<h1>The ferry</h1>" + Contents(Names)), n =>
                Page(Title(n), Way(Title(n)) + $"<p>Of the {n} first.</p><h1>{Title(n)}</h1>" + Text(n))
            )
        );
        Assert.Equal(Site5, Outline(shaped));
        Assert.Equal(Names.Select(n => $"Of the {n} first."), shaped.Divisions.Select(d => ((Paragraph)d.Blocks[0]).Content.PlainText()));
        Assert.All(shaped.Divisions, d => Assert.Equal(7, d.Blocks.Count));
    }

    [Fact]
    public void Of_two_first_pages_that_lead_to_all_the_one_that_names_more_itself_is_the_contents_page()
    {
        var shaped = Shape([
            ("index.html", Page("The ferry", "<h1>The ferry</h1>" + Text("ferry") + Contents("spares", "contents"))),
            ("contents.html", Page("All pages", "<h1>All pages</h1>" + Contents(Names))),
            .. Names.Select(n => (n + ".html", Page(Title(n), $"<h1>{Title(n)}</h1>" + Text(n)))),
        ]);
        Assert.Equal("its contents page, contents.html", shaped.Tree!.From);
        Assert.Equal("Preface The ferry; " + Site5, Outline(shaped));
    }

    [Fact]
    public void A_document_type_that_an_example_shows_is_none_of_the_file_s_own()
    {
        const string part =
            "<chapter><title>About &appname;</title><para>A file begins so:</para>"
            + "<programlisting><![CDATA[<!DOCTYPE log SYSTEM \"log.dtd\">]]></programlisting></chapter>";
        var read = DocumentReader.Read(new SourceFile("part.docbook", System.Text.Encoding.UTF8.GetBytes(part)), []);
        Assert.Contains("About [appname]", read.Blocks.Words(), StringComparison.Ordinal);
        Assert.Contains("<!DOCTYPE log", read.Blocks.Words(), StringComparison.Ordinal);
    }

    [Fact]
    public void A_file_under_two_names_comes_in_once_and_links_to_either_lead_to_it()
    {
        var page = Page("The ferry", "<h1 id='ferry'>The ferry</h1>" + Text("ferry"));
        var shaped = Shape(
            ("guide.html", page),
            ("index.html", page),
            ("spares.html", Page("Spares", "<h1>Spares</h1><p>See <a href='guide.html#ferry'>the ferry</a>.</p>" + Text("spare")))
        );
        Assert.Equal("Chapter The ferry; Chapter Spares", Outline(shaped));
        Assert.Contains(shaped.Report, r => r.What.Contains("says the same", StringComparison.Ordinal) && r.Words == "guide.html");
        Assert.Equal(
            shaped.Divisions[0].Id,
            shaped.Divisions[1].Blocks.SelectMany(b => b.Inlines()).OfType<CrossReference>().Single().Target
        );
    }

    [Fact]
    public void The_preface_is_called_so_in_its_language()
    {
        var shaped = Shape(
            (
                "a.html",
                "<html lang='de'><body><p>Vor der ersten Fahrt lesen.</p><h1>Winde</h1>"
                    + Text("winch")
                    + "<h1>Seil</h1>"
                    + Text("cable")
                    + "</body></html>"
            )
        );
        Assert.Equal("Vorwort", shaped.Divisions.Single(d => d.Kind == DivisionKind.Preface).Title);
    }

    [Fact]
    public void Addresses_tell_no_language()
    {
        var names = string.Concat(Enumerable.Range(1, 200).Select(n => $"<p>Keeper {n} keeper{n}@halvik.example.com, da.no.com/e/o</p>"));
        var shaped = Shape(("a.html", Page("Keepers", "<h1>Keepers</h1>" + names)));
        Assert.Equal("en", shaped.Language);
    }

    [Fact]
    public void XML_of_another_kind_is_refused_by_its_outermost_element()
    {
        var bytes = "<?xml version='1.0'?><urlset><url><loc>https://halvik.example/</loc></url></urlset>"u8.ToArray();
        var fault = Assert.Throws<SourceFormatException>(() => DocumentReader.Read(new SourceFile("sitemap.xml", bytes), []));
        Assert.Equal("sitemap.xml is XML, but no DocBook: its outermost element is <urlset>.", fault.Message);
    }
}
