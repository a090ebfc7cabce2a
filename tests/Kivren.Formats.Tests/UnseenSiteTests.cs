using Kivren.Core.Content;
using Kivren.Formats.Import;
using static Kivren.Formats.Tests.MadeUpSite;

namespace Kivren.Formats.Tests;

/// <summary>Sites of other makes: names of the site over each page, bars of pictures, pages that send elsewhere, the whole book once more,
/// pages with several heads, a second book beside the first.</summary>
public class UnseenSiteTests
{
    internal static string Outline(Shaped shaped) =>
        string.Join(
            "; ",
            shaped.Divisions.Select(d =>
                $"{d.Kind} {d.Title}" + string.Concat(d.Blocks.OfType<Head>().Select(h => $", {h.Level} {h.Content.PlainText()}"))
            )
        );

    internal static string Contents(params string[] names) =>
        "<ul>" + string.Concat(names.Select(n => $"<li><a href='{n}.html'>{char.ToUpperInvariant(n[0])}{n[1..]}</a></li>")) + "</ul>";

    internal static (string, string)[] Site(string index, Func<string, string> page) =>
        [("index.html", index), .. Names.Select(n => (n + ".html", page(n)))];

    [Fact]
    public void The_name_of_the_site_over_each_page_is_no_title()
    {
        var shaped = Shape(
            Site(Page("Manual", "<h1>Halvik Ferries</h1><h2>The ferry</h2>" + Contents(Names)), n =>
                Page(Title(n), $"<h1>Halvik Ferries</h1><h2>{Title(n)}</h2>" + Text(n) + "<h3>Care</h3>" + Text(n + " cover"))
            )
        );
        Assert.Equal(
            "Chapter Round, A Care; Chapter Winch, A Care; Chapter Cable, A Care; Chapter Lamps, A Care; Chapter Spares, A Care",
            Outline(shaped)
        );
        Assert.Equal("The ferry", shaped.Title);
        Assert.Contains(shaped.Report, r => r.Kind == ReportKind.LeftOut && r.Words == "Halvik Ferries");
    }

    [Fact]
    public void Bars_whose_ways_are_pictures_are_known_by_naming_nothing_but_pages()
    {
        string Bar(string title) =>
            $"<table><tr><th colspan='3'>{title}</th></tr><tr><td><a href='a.html'><img src='p.png'></a></td><td> </td>"
            + "<td><a href='b.html'><img src='n.png'></a></td></tr></table>";
        var shaped = Shape(
            Site(Page("The ferry", "<h1>The ferry</h1>" + Contents(Names)), n =>
                Page(Title(n), Bar(Title(n)) + $"<h1>{Title(n)}</h1>" + Text(n) + Bar(Title(n)))
            )
        );
        Assert.All(shaped.Divisions, d => Assert.DoesNotContain(d.Blocks, b => b is Table));
        Assert.Equal(5, shaped.Divisions.Count);
    }

    [Theory]
    [InlineData(true)]
    [InlineData(false)]
    public void Bars_of_signs_that_say_only_by_their_description_where_they_lead_are_known(bool there)
    {
        string Bar(string title) =>
            $"<table><tr><th colspan='3'>{(there ? "" : title)}</th></tr><tr><td><a href='round.html'><img src='p.png' alt='Prev'></a></td>"
            + "<td></td><td><a href='cable.html'><img src='n.png' alt='Next'></a></td></tr></table>";
        var pages = Site(Page("The ferry", "<h1>The ferry</h1>" + Contents(Names)), n =>
            Page(Title(n), Bar(Title(n)) + $"<h1>{Title(n)}</h1>" + Text(n) + Bar(Title(n)))
        );
        var sign = "<svg xmlns='http://www.w3.org/2000/svg' width='9' height='9'><rect width='9' height='9'/></svg>";
        var shaped = Shape(
            there ? [.. pages.Select(p => (p.Item1, p.Item2.Replace(".png", ".svg"))), ("p.svg", sign), ("n.svg", sign)] : pages
        );
        Assert.All(shaped.Divisions, d => Assert.DoesNotContain(d.Blocks, b => b is Table));
        Assert.Equal("Chapter Round; Chapter Winch; Chapter Cable; Chapter Lamps; Chapter Spares", Outline(shaped));
    }

    [Fact]
    public void Lists_in_the_cells_of_a_table_that_lays_out_the_first_page_are_its_contents_and_bold_lines_above_them_parts()
    {
        var index =
            "<h1>The ferry</h1><table><tr><td><p><strong>Each day </strong></p>"
            + Contents("winch", "round")
            + "</td><td><p><b>Each year</b></p>"
            + Contents("spares", "cable", "lamps")
            + "</td></tr></table>";
        var shaped = Shape(Site(Page("The ferry", index), n => Page(Title(n), $"<h1> {Title(n)}</h1>" + Text(n))));
        Assert.Equal(
            "Part Each day; Chapter Winch; Chapter Round; Part Each year; Chapter Spares; Chapter Cable; Chapter Lamps",
            Outline(shaped)
        );
    }

    [Fact]
    public void The_way_down_to_each_page_is_no_text_and_letters_over_an_index_are_left_to_the_manual()
    {
        string Path(string title, bool deep) =>
            "<div><a href='https://halvik.example/'>Halvik</a> &gt; <a href='index.html'>Ferries</a>"
            + $"{(deep ? " &gt; <a href='round.html'>Round</a>" : "")} &gt; {title}</div>";
        var letters = string.Join(" | ", "ABCDE".Select(c => $"<a href='#i{c}'>{c}</a>"));
        var index =
            $"<p>{letters}</p>"
            + string.Concat("ABCDE".Select(c => $"<h3 id='i{c}'>{c}</h3><p>{c} stands for what begins with {c}, at length.</p>"));
        var shaped = Shape(
            Site(Page("The ferry", "<h1>The ferry</h1>" + Contents(Names)), n =>
                Page(Title(n), Path(Title(n), n is "lamps" or "spares") + $"<h1>{Title(n)}</h1>" + (n == "spares" ? index : Text(n)))
            )
        );
        Assert.Equal(5, shaped.Divisions.Count);
        Assert.All(shaped.Divisions, d =>
            Assert.DoesNotContain("Ferries", string.Concat(d.Blocks.Select(b => b.OwnSpans().First().PlainText())))
        );
        Assert.IsType<Head>(shaped.Divisions[^1].Blocks[0]);
    }

    [Fact]
    public void Pages_that_only_the_list_of_a_page_above_names_stand_below_those_that_it_names_them_under()
    {
        static string Line(string file, string below = "") => $"<li><a href='{file}.html'>{Title(file)}</a>{below}</li>";
        var part =
            $"<h1>Part I. Daily</h1><ul>{Line("round", $"<ul>{Line("deck")}{Line("hold")}</ul>")}"
            + $"{Line("winch", $"<ul>{Line("drum")}</ul>")}</ul>";
        var index = $"<h1>The ferry</h1><ul>{Line("daily", $"<ul>{Line("round")}{Line("winch")}</ul>")}{Line("cable")}</ul>";
        string[] pages = ["round", "winch", "deck", "hold", "drum", "cable"];
        var shaped = Shape([
            ("index.html", Page("The ferry", index)),
            ("daily.html", Page("Part I. Daily", part)),
            .. pages.Select(n => (n + ".html", Page(Title(n), $"<h1>{Title(n)}</h1>" + Text(n)))),
        ]);
        Assert.Equal("Chapter Daily, A Round, B Deck, B Hold, A Winch, B Drum; Chapter Cable", Outline(shaped));
    }

    [Theory]
    [InlineData("<?xml version=\"1.0\" encoding=\"UTF-8\"?><html xmlns=\"http://www.w3.org/1999/xhtml\">")]
    [InlineData("<!DOCTYPE html PUBLIC \"-//W3C//DTD XHTML 1.1//EN\" \"http://www.w3.org/TR/xhtml11/DTD/xhtml11.dtd\"><html>")]
    public void An_anchor_that_closes_itself_does_not_part_a_table_of_XHTML_from_its_caption(string begins)
    {
        const string body =
            "<h1><a id='top'/>Winch</h1><p>The band, and<br/>its age.</p><div class='table'><a id='t'/>"
            + "<p class='title'><strong>Table 1. Bands</strong></p><div class='table-contents'><table>"
            + "<tr><td>Band</td><td/><td>Age</td></tr></table></div></div><p>See <a href='#t'>it</a>.</p>";
        var shaped = Shape(("one.html", $"{begins}<head><title>Winch</title></head><body>{body}</body></html>"));
        var table = shaped.Divisions.Single().Blocks.OfType<Table>().Single();
        Assert.Equal("Bands", table.Caption.PlainText());
        Assert.Equal(["Band", "", "Age"], table.Rows.Single().Cells.Select(c => c.Content.PlainText()));
        Assert.Equal(3, shaped.Divisions.Single().Blocks.Count);
    }

    [Fact]
    public void The_letter_of_an_appendix_and_of_its_heads_goes()
    {
        var contents =
            "<ul>"
            + string.Concat(Names.Select(n => $"<li class='{(n == "spares" ? "appendix" : "")}'><a href='{n}.html'>{n}</a></li>"))
            + "</ul>";
        var shaped = Shape(
            Site(Page("The ferry", "<h1>The ferry</h1>" + contents), n =>
                Page(
                    n,
                    $"<h1>{(n == "spares" ? "A. " : "")}{Title(n)}</h1>"
                        + (n == "spares" ? $"<h2>A.1 Ropes</h2>{Text(n)}<h2>B vitamins</h2>" : "")
                        + Text(n)
                )
            )
        );
        Assert.Equal("Chapter Round; Chapter Winch; Chapter Cable; Chapter Lamps; Appendix Spares, A Ropes, A B vitamins", Outline(shaped));
    }

    [Fact]
    public void A_number_before_a_small_letter_goes_where_it_follows_on_the_one_before()
    {
        var shaped = Shape(
            (
                "one.html",
                Page(
                    "The ferry",
                    $"<h1>The ferry</h1><h2>1 Round</h2>{Text("round")}<h2>2 winch.conf settings</h2>{Text("winch")}<h2>3 Cable</h2>"
                        + $"{Text("cable")}<h2>3 ways to moor</h2>{Text("rope")}<h2>Lamps</h2>{Text("lamp")}<h2>2 lamps lit</h2>"
                        + Text("lamp")
                )
            )
        );
        Assert.Equal(
            ["Round", "winch.conf settings", "Cable", "3 ways to moor", "Lamps", "2 lamps lit"],
            shaped
                .Divisions.SelectMany(d => d.Blocks.OfType<Head>().Select(h => h.Content.PlainText()).Prepend(d.Title))
                .Where(t => t != "The ferry")
        );
    }

    [Fact]
    public void A_page_that_sends_its_reader_elsewhere_is_left_out_and_links_go_through_it()
    {
        var sending = Page(
            "Pawl",
            "<p>The node you are looking for is at <a href='winch.html#pawl'>Pawl</a>.</p>",
            "<meta http-equiv='Refresh' content='0; url=winch.html#pawl'>"
        );
        var shaped = Shape([
            .. Site(Page("The ferry", "<h1>The ferry</h1>" + Contents(Names)), n =>
                Page(
                    Title(n),
                    $"<h1>{Title(n)}</h1>"
                        + Text(n)
                        + (n == "winch" ? "<h2 id='pawl'>The pawl</h2>" + Text("pawl") : "<p>See <a href='pawl.html'>there</a>.</p>")
                )
            ),
            ("pawl.html", sending),
            ("drum.html", sending),
            ("rope.html", sending),
        ]);
        Assert.Equal(5, shaped.Divisions.Count);
        var pawl = shaped.Divisions[1].Blocks.OfType<Head>().Single();
        Assert.All(shaped.Divisions[0].Blocks.SelectMany(b => b.Inlines()).OfType<CrossReference>(), r => Assert.Equal(pawl.Id, r.Target));
        Assert.Equal(3, shaped.Report.Count(r => r.What.Contains("only leads to another", StringComparison.Ordinal)));
    }

    [Fact]
    public void The_whole_book_in_one_more_page_is_left_out()
    {
        var shaped = Shape([
            .. Site(Page("The ferry", "<h1>The ferry</h1>" + Contents(Names)), n => Page(Title(n), $"<h1>{Title(n)}</h1>" + Text(n))),
            ("all.html", Page("The ferry", "<h1>The ferry</h1>" + string.Concat(Names.Select(n => $"<h2>{Title(n)}</h2>" + Text(n))))),
            ("winch2.html", Page("Winch", "<h1>Winch</h1>" + Text("winch"))),
        ]);
        Assert.Equal("Chapter Round; Chapter Winch; Chapter Cable; Chapter Lamps; Chapter Spares", Outline(shaped));
        Assert.Equal(["all.html"], shaped.Report.Where(r => r.What.Contains("once more", StringComparison.Ordinal)).Select(r => r.Where));
        Assert.Equal(
            ["winch2.html"],
            shaped.Report.Where(r => r.What.Contains("says the same", StringComparison.Ordinal)).Select(r => r.Words)
        );
    }

    [Fact]
    public void A_page_that_names_many_does_not_go_before_the_first_page_that_names_it()
    {
        var commands = Enumerable.Range(1, 12).Select(n => $"c{n:00}").ToArray();
        var shaped = Shape([
            ("index.html", Page("The ferry", "<h1>The ferry</h1>" + Contents("round", "commands", "winch"))),
            ("round.html", Page("Round", "<h1>Round</h1>" + Text("round") + "<ul><li><a href='c03.html'>C03</a>: the third</li></ul>")),
            ("winch.html", Page("Winch", "<h1>Winch</h1>" + Text("winch"))),
            ("commands.html", Page("Commands", "<h1>Commands</h1>" + Text("command") + Contents(commands))),
            .. commands.Select(c => (c + ".html", Page(Title(c), $"<h1>{Title(c)}</h1>" + Text(c)))),
        ]);
        Assert.Equal(
            "Chapter Round; Chapter Commands, " + string.Join(", ", commands.Select(c => "A " + Title(c))) + "; Chapter Winch",
            Outline(shaped)
        );
    }

    [Fact]
    public void A_contents_page_that_names_places_in_its_files_gives_their_order()
    {
        var lines = string.Concat(
            Names.Select(n => $"<li><a href='{n}.html#top'>{Title(n)}</a><ul><li><a href='{n}.html#care'>Care</a></li></ul></li>")
        );
        var shaped = Shape(
            Site(Page("Table of contents", $"<h1>Table of Contents</h1><ul>{lines}</ul>"), n =>
                Page(Title(n), $"<h1 id='top'>{Title(n)}</h1>" + Text(n) + "<h2 id='care'>Care</h2>" + Text(n + " cover"))
            )
        );
        Assert.Equal(
            "Chapter Round, A Care; Chapter Winch, A Care; Chapter Cable, A Care; Chapter Lamps, A Care; Chapter Spares, A Care",
            Outline(shaped)
        );
    }

    [Fact]
    public void A_chapter_of_nothing_but_its_contents_list_keeps_its_head_over_the_files_below_it()
    {
        var shaped = Shape(
            ("index.html", Page("The ferry", "<h1>The ferry</h1>" + Contents("use", "winch"))),
            ("use.html", Page("Use", "<h1>Use</h1>" + Contents("round", "night"))),
            ("round.html", Page("Round", "<h1>Round</h1>" + Text("round"))),
            ("night.html", Page("Night", "<h1>Night</h1>" + Text("night"))),
            ("winch.html", Page("Winch", "<h1>Winch</h1>" + Text("winch")))
        );
        Assert.Equal("Chapter Use, A Round, A Night; Chapter Winch", Outline(shaped));
    }

    [Fact]
    public void Several_heads_of_the_highest_level_stand_below_the_name_of_their_page()
    {
        var shaped = Shape(
            Site(Page("The ferry", "<h1>The ferry</h1>" + Contents(Names)), n =>
                Page(Title(n), $"<p>All about it.</p><h1>Use</h1>{Text(n)}<h1>Care</h1>{Text(n + " cover")}<h2>Grease</h2>")
            )
        );
        Assert.Equal("Chapter Round, A Use, A Care, B Grease", Outline(shaped).Split("; ")[0]);
        Assert.Equal(5, shaped.Divisions.Count);
    }

    [Fact]
    public void A_menu_that_every_page_has_orders_nothing()
    {
        var menu = "<div class='menu'>" + Contents("about", "round") + "</div>";
        var shaped = Shape([
            .. Site(Page("The ferry", menu + "<h1>The ferry</h1>" + Contents(Names)), n =>
                Page(Title(n), menu + $"<h1>{Title(n)}</h1>" + Text(n))
            ),
            ("about.html", Page("About", menu + "<h1>About</h1>" + Text("owner"))),
        ]);
        Assert.Equal("Chapter Round; Chapter Winch; Chapter Cable; Chapter Lamps; Chapter Spares; Chapter About", Outline(shaped));
    }

    [Fact]
    public void A_short_page_that_one_page_leads_to_stands_below_it()
    {
        var shaped = Shape([
            .. Site(Page("The ferry", "<h1>The ferry</h1><p><a href='find.html'>Find</a></p>" + Contents(Names)), n =>
                Page(Title(n), $"<h1>{Title(n)}</h1>{Text(n)}" + (n == "cable" ? "<p>The <a href='long.html'>long story</a>.</p>" : ""))
            ),
            ("find.html", Page("Find", "<h1>Find</h1><p>Type a word.</p>")),
            ("long.html", Page("Long story", "<h1>Long story</h1><p>The cable was laid in one night.</p>")),
        ]);
        Assert.Equal("Chapter Round; Chapter Winch; Chapter Cable, A Long story; Chapter Lamps; Chapter Spares", Outline(shaped));
    }

    [Fact]
    public void An_index_whose_terms_say_where_they_stand_becomes_entries_in_the_text_below_its_heads()
    {
        var terms = string.Concat(
            Names.Select(n =>
                $"<dt>{n}</dt><dd><p><a href='{n}.html#care'>{Title(n)} [Care]</a>, <a href='{n}.html#use'>{Title(n)}</a></p></dd>"
            )
        );
        var shaped = Shape([
            .. Site(Page("The ferry", "<h1>The ferry</h1>" + Contents([.. Names, "terms"])), n =>
                Page(
                    Title(n),
                    $"<h1>{Title(n)}</h1>{Text(n)}<h2 id='care'>Care</h2><p>Grease the {n}.</p><h2 id='use'>Use</h2><p>Turn the {n}.</p>"
                )
            ),
            ("terms.html", Page("Terms", $"<h1>Chapter 6 - Concept Index</h1><h2>Symbols</h2><dl>{terms}</dl>")),
        ]);
        Assert.Equal(5, shaped.Divisions.Count);
        foreach (var division in shaped.Divisions)
        {
            Assert.All(division.Blocks.OfType<Head>(), h => Assert.DoesNotContain(h.Content, i => i is IndexEntry));
            Assert.Equal(
                2,
                division
                    .Blocks.OfType<Paragraph>()
                    .Sum(p =>
                        p.Content.OfType<IndexEntry>().Count(e => e.Headings is [var only] && only == division.Title.ToLowerInvariant())
                    )
            );
        }
    }

    [Fact]
    public void An_admonition_set_as_a_table_beside_its_sign_is_one()
    {
        var shaped = Shape(
            (
                "a.html",
                "<html lang='ru'><body><h1>Лебёдка</h1><div class='warning'><table><tr><td rowspan='2'><img src='w.png' alt='!'></td>"
                    + "<th>Предупреждение</th></tr><tr><td><p>Не перешагивайте через канат.</p></td></tr></table></div></body></html>"
            )
        );
        var warning = Assert.Single(shaped.Divisions[0].Blocks.OfType<Admonition>());
        Assert.Equal(AdmonitionKind.Warning, warning.Kind);
        Assert.Equal("Не перешагивайте через канат.", Assert.IsType<Paragraph>(Assert.Single(warning.Blocks)).Content.PlainText());
    }

    [Fact]
    public void Classes_named_after_elements_of_DocBook_are_their_roles()
    {
        var shaped = Shape(
            (
                "a.html",
                "<body><h1>Log</h1><p>Write into <span class='docbook_filename'>/srv/log</span>, press <span class='guibutton'>Send</span> "
                    + "and <code><span class='keyword'>if</span></code>.</p></body>"
            )
        );
        var runs = shaped.Divisions[0].Blocks.OfType<Paragraph>().Single().Content.OfType<TextRun>().ToList();
        Assert.Equal(SpanRoles.Code, runs.Single(r => r.Text == "/srv/log").Roles);
        Assert.Equal(SpanRoles.Control, runs.Single(r => r.Text == "Send").Roles);
        Assert.Equal(SpanRoles.Code, runs.Single(r => r.Text == "if").Roles);
    }

    [Fact]
    public void A_list_of_the_heads_of_its_own_page_is_left_to_the_manual_and_a_list_of_other_links_stays()
    {
        var shaped = Shape(
            (
                "a.html",
                "<body><h1>Winch</h1><ul><li><a href='#p'>1.1 Pawl</a><ul><li><a href='#q'>Slipping</a></li></ul></li>"
                    + "<li><a href='#c'>Care</a></li></ul><h2 id='p'>1.1 Pawl</h2><p>One.</p><h3 id='q'>Slipping</h3><p>Two.</p>"
                    + "<a id='c'></a><h2>Care</h2><p>Three.</p>"
                    + "<ul><li><a href='#p'>the part that holds</a></li><li><a href='#c'>Care</a></li></ul></body>"
            )
        );
        var list = Assert.Single(shaped.Divisions[0].Blocks.OfType<ItemList>());
        Assert.Contains(
            "the part that holds",
            list.Items[0].Blocks.OfType<Paragraph>().First().Content.PlainText(),
            StringComparison.Ordinal
        );
    }

    [Fact]
    public void A_reference_stands_behind_its_whole_word_and_names_its_page_once_in_a_paragraph()
    {
        var shaped = Shape(
            (
                "a.html",
                "<body><h1>Winch</h1><p>Both <a href='#p'>pawl</a>s hold. "
                    + "Lift the <a href='#p'>pawl</a>, then ‘<a href='#q'>slip</a>’ it.</p><p>See the <a href='#p'>pawl</a>.</p>"
                    + "<h2 id='p'>Pawl, left and right</h2><p>One.</p><h2 id='q'>Slipping</h2><p>Two.</p></body>"
            )
        );
        string Said(Paragraph p) => string.Concat(p.Content.Select(i => i is CrossReference ? "#" : ((TextRun)i).Text));
        Assert.Equal(
            ["Both pawls (#) hold. Lift the pawl, then ‘slip’ (#) it.", "See the pawl (#).", "One.", "Two."],
            shaped.Divisions[0].Blocks.OfType<Paragraph>().Select(Said)
        );
        Assert.Contains(shaped.Report, r => r.What.StartsWith("A second reference", StringComparison.Ordinal) && r.Words == "pawl");
    }

    [Fact]
    public void A_file_that_says_no_language_has_that_of_the_others()
    {
        var shaped = Shape(
            (
                "a.html",
                "<body><h1>Die Winde</h1>"
                    + string.Concat(
                        Enumerable.Repeat(
                            "<p>Die Winde und das Seil werden vor der ersten Fahrt geprüft, und das ist nicht zu viel.</p>",
                            4
                        )
                    )
                    + "</body>"
            ),
            ("b.html", "<body><h1>Anhang E</h1><p>E.1 E.2 E.3 e d c b a</p></body>")
        );
        Assert.All(shaped.Divisions, d => Assert.Equal("de", d.Language));
    }

    [Fact]
    public void Parts_that_a_book_draws_in_are_read_once()
    {
        var shaped = Shape(
            ("annex.docbook", "<chapter><title>Spares</title><para>Two of each.</para></chapter>"),
            (
                "index.docbook",
                "<!DOCTYPE book [<!ENTITY winch SYSTEM 'winch.docbook'>]><book><title>The ferry</title><chapter><title>Round</title>"
                    + "<para>Walk round it.</para></chapter>&winch;</book>"
            ),
            ("winch.docbook", "<chapter><title>Winch</title><para>Turn it.</para></chapter>")
        );
        // What the book does not draw in stands behind it, wherever its name puts it.
        Assert.Equal("Chapter Round; Chapter Winch; Chapter Spares", Outline(shaped));
    }

    [Fact]
    public void Drawings_of_many_strokes_do_not_count_as_nesting()
    {
        var strokes = string.Concat(Enumerable.Repeat("<path d='M0 0h9'/>", 3000));
        Assert.Equal("Chapter Chart", Outline(Shape(("a.html", $"<body><h1>Chart</h1><p>See.</p><svg>{strokes}</svg></body>"))));
    }
}
