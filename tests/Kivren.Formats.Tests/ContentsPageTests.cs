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

    private static (string, string)[] Pages(params string[] names) =>
        [.. names.Select(n => (n + ".html", Page(Title(n), $"<h1>{Title(n)}</h1>" + Text(n))))];

    [Fact]
    public void Lines_that_end_by_breaks_are_a_list_as_deep_as_their_hard_spaces()
    {
        var shaped = Shape([
            (
                "lines.html",
                Page(
                    "The ferry",
                    "<h1>The ferry</h1><a href='round.html'><b>Round</b></a><br>&nbsp;&nbsp;&nbsp;&nbsp;<a href='winch.html'>Winch</a><br>"
                        + "&nbsp;&nbsp;&nbsp;&nbsp;<font size=2><a href='cable.html'>Cable</a></font><br>"
                        + "<a href='lamps.html'>Lamps</a><br><br>"
                        + "<a href='spares.html'>Spares</a> (a list)<br>"
                )
            ),
            .. Pages(Names),
        ]);
        Assert.Equal("Chapter Round, A Winch, A Cable; Chapter Lamps; Chapter Spares", Outline(shaped));
    }

    [Fact]
    public void Lines_by_breaks_that_say_what_each_page_is_about_stand_in_parts_by_the_bold_lines_and_heads_over_them()
    {
        static string Line(string name) =>
            $"<a href='{name}.html'>{Title(name)}</a>: all that a deck hand has to know about it by heart<br>";
        var shaped = Shape([
            (
                "guide.html",
                Page(
                    "The ferry",
                    $"<h1>The ferry</h1><p>Read all.<br></p><b>On deck</b><br>{Line("winch")}{Line("cable")}<h2>Below</h2>{Line("lamps")}"
                        + $"{Line("spares")}{Line("round")}"
                )
            ),
            .. Pages(Names),
        ]);
        Assert.EndsWith(
            "Part On deck; Chapter Winch; Chapter Cable; Part Below; Chapter Lamps; Chapter Spares; Chapter Round",
            Outline(shaped),
            StringComparison.Ordinal
        );
    }

    [Fact]
    public void A_head_that_leads_to_a_page_is_a_line_and_no_part()
    {
        var shaped = Shape([
            (
                "index.html",
                Page(
                    "The ferry",
                    "<h1>The ferry</h1>"
                        + string.Concat(
                            Names.Select(
                                (n, i) =>
                                    $"<h2>{i + 1}. <a href='{n}.html'>{Title(n)}</a></h2><ul>"
                                    + $"<li><a href='{n}.html#s1'>{i + 1}.1 Care</a></li>"
                                    + $"<li><a href='{n}.html#s2'>{i + 1}.2 Oil</a></li></ul>"
                            )
                        )
                )
            ),
            .. Pages(Names),
        ]);
        Assert.Equal(Site5, Outline(shaped));
    }

    [Fact]
    public void What_stands_under_a_head_that_leads_to_a_page_stands_in_that()
    {
        var shaped = Shape([
            (
                "index.html",
                Page(
                    "The ferry",
                    "<h1>The ferry</h1><h4>Part I. <a href='round.html'>Round</a></h4>"
                        + Contents("winch", "cable")
                        + "<h4>Part II. <a href='lamps.html'>Lamps</a></h4>"
                        + Contents("spares")
                )
            ),
            .. Pages(Names),
        ]);
        Assert.Equal("Part Round; Chapter Winch; Chapter Cable; Part Lamps; Chapter Spares", Outline(shaped));
    }

    [Fact]
    public void Numbered_lines_by_breaks_in_a_table_that_lays_out_a_page_are_a_list()
    {
        string[] numbers = ["1", "1.1", "1.2", "2", "2.1"];
        var lines = string.Concat(Names.Zip(numbers, (n, no) => $"<a href='{n}.html'><font>{no} {Title(n)}</font></a><br>"));
        var shaped = Shape([
            ("front.html", Page("The ferry", $"<h1>The ferry</h1><table><tr><td>{lines}</td><td><p>All of it.</p></td></tr></table>")),
            .. Pages(Names),
        ]);
        Assert.EndsWith("Chapter Round, A Winch, A Cable; Chapter Lamps, A Spares", Outline(shaped), StringComparison.Ordinal);
    }

    [Fact]
    public void A_table_of_numbered_rows_with_rows_that_only_keep_apart_is_a_list_as_deep_as_the_numbers()
    {
        string[] numbers = ["1", "1.1", "2", "2.1", "3"];
        var rows = string.Concat(
            Names.Zip(numbers, (n, no) => $"<tr><td></td></tr><tr><td>{no} </td><td><a href='{n}.html#top'>{Title(n)}</a></td></tr>")
        );
        var shaped = Shape([("toc.html", Page("The ferry", $"<h1>The ferry</h1><table>{rows}</table>")), .. Pages(Names)]);
        Assert.Equal("Chapter Round, A Winch; Chapter Cable, A Lamps; Chapter Spares", Outline(shaped));
    }

    [Fact]
    public void A_table_of_nothing_but_links_in_columns_is_a_list()
    {
        string[] names = [.. Names, "ramp"];
        var rows = string.Concat(
            names.Chunk(3).Select(row => "<tr>" + string.Concat(row.Select(n => $"<td><a href='{n}.html'>{Title(n)}</a></td>")) + "</tr>")
        );
        var shaped = Shape([("docs.html", Page("The ferry", $"<h1>The ferry</h1><table>{rows}</table>")), .. Pages([.. names])]);
        Assert.Equal(Site5 + "; Chapter Ramp", Outline(shaped));
    }

    [Fact]
    public void Columns_of_links_are_read_down_where_that_is_the_order_of_their_words()
    {
        string[] names = [.. Names.Append("ramp").Order()];
        var rows = string.Concat(
            Enumerable
                .Range(0, 2)
                .Select(r =>
                    "<tr>"
                    + string.Concat(
                        new[] { names[r], names[r + 2], names[r + 4] }.Select(n => $"<td><a href='{n}.html'>{Title(n)}</a></td>")
                    )
                    + "</tr>"
                )
        );
        var shaped = Shape([("docs.html", Page("The ferry", $"<h1>The ferry</h1><table>{rows}</table>")), .. Pages(names)]);
        Assert.Equal(string.Join("; ", names.Select(n => "Chapter " + Title(n))), Outline(shaped));
    }

    [Fact]
    public void A_list_under_a_head_that_says_chapter_is_that_chapter_and_the_label_of_a_part_is_taken_out()
    {
        static string Group(string head, params string[] names) => $"<h2>{head}</h2>{Contents(names)}";
        Assert.Equal(
            "Chapter Deck, A Round, A Winch; Chapter Below, A Cable, A Lamps; Appendix More, A Spares, A Ramp",
            Outline(
                Shape([
                    (
                        "index.html",
                        Page(
                            "The ferry",
                            "<h1>The ferry</h1>"
                                + Group("Chapter 1: Deck", "round", "winch")
                                + Group("Chapter 2: Below", "cable", "lamps")
                                + Group("Appendix A: More", "spares", "ramp")
                        )
                    ),
                    .. Pages([.. Names, "ramp"]),
                ])
            )
        );
        Assert.Equal(
            "Part Deck; Chapter Round; Chapter Winch; Part Below; Chapter Cable; Chapter Lamps; Chapter Spares",
            Outline(
                Shape([
                    (
                        "index.html",
                        Page(
                            "The ferry",
                            "<h1>The ferry</h1>"
                                + Group("Part I. Deck", "round", "winch")
                                + Group("Part II. Below", "cable", "lamps", "spares")
                        )
                    ),
                    .. Pages(Names),
                ])
            )
        );
    }

    [Fact]
    public void A_number_before_a_short_link_is_no_explanation_of_it()
    {
        var items = string.Concat(Names.Select((n, i) => $"<li>C.{i + 1}. <a href='{n}.html'>{Title(n)}</a></li>"));
        var page = Html.HtmlReader.Read(
            "index.html",
            System.Text.Encoding.UTF8.GetBytes(Page("The ferry", $"<ul>{items.Replace("Winch", "Go", StringComparison.Ordinal)}</ul>")),
            new Dictionary<string, byte[]>()
        );
        Assert.All(page.Site!.Contents, l => Assert.False(l.IsExplained));
        Assert.Equal(5, page.Site!.Contents.Count);
    }

    [Fact]
    public void A_page_that_no_list_names_stands_where_it_says_behind_the_page_before_it()
    {
        static string Ways(string up, string next) => $"<link rel='up' href='{up}.html'><link rel='next' href='{next}.html'>";
        var shaped = Shape([
            ("index.html", Page("The ferry", "<h1>The ferry</h1>" + Contents("winch", "lamps", "spares", "round"))),
            .. Pages("lamps", "spares", "round"),
            ("winch.html", Page("Winch", "<h1>Winch</h1>" + Text("winch"), Ways("index", "cable"))),
            ("cable.html", Page("Cable", "<h1>Cable</h1>" + Text("cable"), Ways("winch", "brake"))),
            ("brake.html", Page("Brake", "<h1>Brake</h1>" + Text("brake"), Ways("winch", "drum"))),
            ("drum.html", Page("Drum", "<h1>Drum</h1>" + Text("drum"), Ways("brake", "lamps"))),
        ]);
        Assert.Equal("Chapter Winch, A Cable, A Brake, B Drum; Chapter Lamps; Chapter Spares; Chapter Round", Outline(shaped));
    }

    [Fact]
    public void The_page_whose_own_list_names_most_goes_before_those_that_add_a_little_to_the_menu()
    {
        string[] all = [.. Names, "ramp", "hull", "bell", "crew", "fuel"];
        var menu = "<div>" + Contents("guide", "about") + "</div>";
        var shaped = Shape([
            ("guide.html", Page("The guide", menu + "<h1>The guide</h1><div>" + Contents(all) + "</div>")),
            ("about.html", Page("About", menu + "<h1>About</h1>" + Text("about") + Contents("bell", "crew"))),
            .. all.Select(n => (n + ".html", Page(Title(n), menu + $"<h1>{Title(n)}</h1>" + Text(n)))),
        ]);
        Assert.Equal("its contents page, guide.html", shaped.Tree!.From);
    }

    [Theory]
    [InlineData("The Ferry: ")]
    [InlineData("The Ferry - ")]
    [InlineData("The Ferry ")]
    [InlineData("The Ferry<br>")]
    public void What_the_whole_is_called_in_front_of_each_head_is_no_part_of_it(string over)
    {
        var label = over.Contains(':', StringComparison.Ordinal) || over.Contains('-', StringComparison.Ordinal) ? "" : "Chapter 1 - ";
        var shaped = Shape([
            ("index.html", Page("Manual", $"<h1>{over}Introduction</h1>" + Text("ferry") + Contents(Names))),
            .. Names.Select(n => (n + ".html", Page(Title(n), $"<h1>{over}{label}{Title(n)}</h1>" + Text(n)))),
        ]);
        Assert.EndsWith(Site5, Outline(shaped), StringComparison.Ordinal);
        if (label.Length == 0)
            Assert.Equal("The Ferry", shaped.Title);
    }

    [Fact]
    public void What_pages_say_alike_in_front_of_their_heads_stays_where_the_first_page_is_not_called_so()
    {
        var shaped = Shape([
            ("index.html", Page("Manual", "<h1>The ferry</h1>" + Contents(Names))),
            .. Names.Select(n => (n + ".html", Page(Title(n), $"<h1>Command: {Title(n)}</h1>" + Text(n)))),
        ]);
        Assert.StartsWith("Chapter Command: Round", Outline(shaped), StringComparison.Ordinal);
    }

    [Fact]
    public void Pages_that_are_all_called_as_the_whole_are_called_as_the_contents_list_calls_them()
    {
        var shaped = Shape(
            Site(Page("The ferry", "<h1>The ferry</h1>" + Contents(Names)), n => Page("The ferry", "<h1>The ferry</h1>" + Text(n)))
        );
        Assert.Equal(Site5, Outline(shaped));
    }

    [Fact]
    public void The_name_of_the_site_stands_over_lines_that_only_lead_as_well()
    {
        const string over = "<h1>Ferry works</h1><p><a href='index.html'>Back to the first page of all the works of the ferry</a></p>";
        var shaped = Shape(
            Site(Page("The ferry", "<h1>The ferry</h1>" + Contents(Names)), n => Page(Title(n), $"{over}<h1>{Title(n)}</h1>" + Text(n)))
        );
        Assert.Equal(Site5, Outline(shaped));
    }

    [Fact]
    public void A_folder_with_each_page_in_several_languages_is_a_book_in_one_of_them()
    {
        var shaped = Shape([
            .. new[] { "de", "en", "fr" }.SelectMany(l =>
                Names
                    .Select(n => ($"{n}.{l}.html", Page(Title(n), $"<h1>{Title(n)}</h1>" + Text(l + n))))
                    .Prepend(($"index.{l}.html", Page("The ferry", "<h1>The ferry</h1>" + Contents([.. Names.Select(n => $"{n}.{l}")]))))
            ),
        ]);
        Assert.Equal(Site5, Outline(shaped));
        Assert.Equal(12, shaped.Tree!.Places.Count(p => p.Why.Contains("several languages", StringComparison.Ordinal)));
        Assert.Contains(shaped.Tree.Places, p => p.Why.Contains("“de”", StringComparison.Ordinal));
    }
}
