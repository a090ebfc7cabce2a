using Kivren.Core.Content;
using Kivren.Formats.Import;
using static Kivren.Formats.Tests.MadeUpSite;

namespace Kivren.Formats.Tests;

/// <summary>Sites as they are made by hand over many years: frames, links drawn round items, volumes, folders with a first page each, rows
/// that are a contents list, pictures in boxes.</summary>
public class HandmadeSiteTests
{
    private static string Outline(Shaped shaped) => string.Join("; ", shaped.Divisions.Select(d => $"{d.Kind} {d.Title}"));

    private static IEnumerable<string> Heads(Shaped shaped, string division) =>
        shaped.Divisions.Single(d => d.Title == division).Blocks.OfType<Head>().Select(h => $"{h.Level} {h.Content.PlainText()}");

    [Fact]
    public void Links_drawn_round_the_items_of_a_list_are_a_contents_list()
    {
        var list = string.Concat(Names.Reverse().Select(n => $"<a href='{n}.html'><li>{Title(n)}</li></a><br>"));
        var shaped = Shape([
            ("index.html", Page("Help", $"<h2>Ferry help</h2><ul>{list}</ul>")),
            .. Names.Select(n => (n + ".html", Page("Help", $"<h3>{Title(n)}</h3>" + Text(n)))),
        ]);
        Assert.Equal("Chapter Spares; Chapter Lamps; Chapter Cable; Chapter Winch; Chapter Round", Outline(shaped));
        Assert.Equal("Ferry help", shaped.Title);
    }

    [Fact]
    public void A_link_round_an_item_of_the_text_keeps_its_words_and_leads_there()
    {
        var shaped = Shape(
            ("a.html", Page("A", "<h1 id='top'>Winch</h1><p>See:</p><ul><a href='#top'><li>the winch</li></a><li>oil</li></ul>"))
        );
        var list = Assert.Single(shaped.Divisions[0].Blocks.OfType<ItemList>());
        Assert.Equal(2, list.Items.Count);
        Assert.Contains(list.Items[0].Blocks[0].Inlines(), i => i is CrossReference);
    }

    [Fact]
    public void Pages_of_frames_lead_to_the_frame_with_the_text_and_maps_to_press_are_no_chapters()
    {
        static string Frames(string main) =>
            $"<html><head><title>Manual</title></head><frameset cols='170,*'><frame src='map-{main}.html'>"
            + $"<frame src='{main}.html' name='content'>"
            + "<noframes>Your reader knows no frames.</noframes></frameset></html>";
        const string Over = "<a href='contents.html'><img src='title.png' alt='Ferry manual'></a><hr>";
        var shaped = Shape([
            ("index.html", Frames("round")),
            (
                "contents.html",
                Page(
                    "Contents",
                    $"{Over}<h1>Table of contents</h1><ul>{string.Concat(Names.Select(n => $"<li><a href='{n}.html'>{Title(n)}</a>"))}</ul>"
                )
            ),
            .. Names.SelectMany(n =>
                (IEnumerable<(string, string)>)
                    [
                        (
                            n + ".html",
                            Page(
                                Title(n),
                                $"{Over}<h1>{Title(n)}</h1><p>After the {n} <a href='frame-winch.html'>the winch</a>.</p>" + Text(n)
                            )
                        ),
                        ($"frame-{n}.html", Frames(n)),
                        (
                            $"map-{n}.html",
                            Page(
                                "A map to press",
                                "<img src='map.png' usemap='#m'><map name='m'><area href='frame-round.html' alt=''></map>"
                            )
                        ),
                    ]
            ),
        ]);
        Assert.Equal("Chapter Round; Chapter Winch; Chapter Cable; Chapter Lamps; Chapter Spares", Outline(shaped));
        // A link to the frames is one to the text in them.
        var winch = shaped.Divisions[1].Id;
        Assert.Contains(shaped.Divisions[0].Blocks.SelectMany(b => b.Inlines()), i => i is CrossReference r && r.Target == winch);
    }

    [Fact]
    public void A_search_form_that_the_first_page_names_is_no_chapter()
    {
        var list = string.Concat(Names.Append("search").Select(n => $"<li><a href='{n}.html'>{Title(n)}</a></li>"));
        var shaped = Shape([
            ("index.html", Page("Manual", $"<h1>The ferry</h1><ul>{list}</ul>")),
            ("search.html", Page("Search", "<h1>Search</h1><p>All words must be there.</p><form><input type='text' name='q'></form>")),
            .. Names.Select(n => (n + ".html", Page(Title(n), $"<h1>{Title(n)}</h1>" + Text(n)))),
        ]);
        Assert.Equal("Chapter Round; Chapter Winch; Chapter Cable; Chapter Lamps; Chapter Spares", Outline(shaped));
        Assert.Contains(shaped.Report, r => r.Where.StartsWith("search.html", StringComparison.Ordinal) && r.Kind == ReportKind.LeftOut);
    }

    [Fact]
    public void What_holds_chapters_is_a_part()
    {
        string Chapters(params string[] names) =>
            $"<dl>{string.Concat(names.Select(n => $"<dt><span class='chapter'><a href='{n}.html'>{Title(n)}</a></span></dt>"))}</dl>";
        var shaped = Shape([
            (
                "index.html",
                Page("Manual", "<h1>The ferry</h1><ul><li><a href='use.html'>Use</a></li><li><a href='care.html'>Care</a></li></ul>")
            ),
            ("use.html", Page("Use", "<h1>Use</h1>" + Chapters("round", "winch"))),
            ("care.html", Page("Care", "<h1>Care</h1>" + Chapters("cable", "lamps", "spares"))),
            .. Names.Select(n => (n + ".html", Page(Title(n), $"<h1>{Title(n)}</h1>" + Text(n)))),
        ]);
        Assert.Equal("Part Use; Chapter Round; Chapter Winch; Part Care; Chapter Cable; Chapter Lamps; Chapter Spares", Outline(shaped));
    }

    [Fact]
    public void Volumes_that_lead_nowhere_are_parts_and_pages_stand_below_the_first_page_of_their_folder()
    {
        string Over(string title) => $"<h1>The ferry</h1><h2>{title}</h2>";
        const string Index =
            "<h1>The ferry</h1><h2>Table of contents</h2><ul><li>Volume 1: Use<ul><li><a href='1/index.html'>1. Round</a></ul>"
            + "<li>Volume 2: Care<ul><li><a href='2/index.html'>2. Winch</a></ul></ul>";
        var shaped = Shape([
            ("index.html", Page("Manual", Index)),
            ("1/index.html", Page("Manual", Over("1. Round") + Text("round"))),
            ("2/index.html", Page("Manual", Over("2. Winch") + Text("winch"))),
            .. Enumerable
                .Range(1, 9)
                .Select(n => ($"2/parts/p{n}.html", Page("Manual", $"<h2>Pawl {n}</h2><p>A pawl of size {n} and its pin.</p>"))),
        ]);
        Assert.Equal("Part Volume 1: Use; Chapter Round; Part Volume 2: Care; Chapter Winch", Outline(shaped));
        Assert.Equal(Enumerable.Range(1, 9).Select(n => $"A Pawl {n}"), Heads(shaped, "Winch"));
        Assert.Empty(Heads(shaped, "Round"));
    }

    [Fact]
    public void Rows_that_lead_to_the_heads_below_are_a_contents_list_and_are_left_to_the_manual()
    {
        string[] heads = ["Oil", "Oil: Thin", "Oil: Thick", "Brake", "Brake: Band"];
        string Row(string number, string words) => $"<div class='row'><div>{number}</div><div><a href='#h{number}'>{words}</a></div></div>";
        var shaped = Shape(
            (
                "a.html",
                Page(
                    "Winch manual",
                    "<h1>Winch</h1>"
                        + Text("winch")
                        + string.Concat(heads.Select((h, n) => Row($"{n + 1}.", h[(h.IndexOf(':', StringComparison.Ordinal) + 1)..])))
                        + string.Concat(heads.Select((h, n) => $"<a id='h{n + 1}.'></a><h2><small>{n + 1}.</small> {h}</h2>" + Text(h)))
                        + "<h1>Cable</h1>"
                        + Text("cable")
                )
            )
        );
        Assert.Equal(heads.Select(h => $"A {h}"), Heads(shaped, "Winch"));
        Assert.Equal(6 * (heads.Length + 1), shaped.Divisions[0].Blocks.Count(b => b is Paragraph));
        Assert.Equal("Winch manual", shaped.Title);
    }

    [Fact]
    public void Links_below_one_another_that_lead_elsewhere_stay()
    {
        var links = string.Concat(Enumerable.Range(1, 6).Select(n => $"<p><a href='#p{n}'>Place {n}</a></p>"));
        var text = string.Concat(Enumerable.Range(1, 6).Select(n => $"<p id='p{n}'>At place {n} a line is made fast to the shore.</p>"));
        var shaped = Shape(("a.html", Page("Winch", $"<h1>Winch</h1>{links}<h2>Places</h2>{text}")));
        Assert.Equal(12, shaped.Divisions[0].Blocks.Count(b => b is Paragraph));
    }

    [Fact]
    public void A_page_without_a_head_is_the_appendix_that_its_window_calls_it()
    {
        var shaped = Shape(
            ("licence.html", Page("Appendix A. Licence", Text("licence"))),
            ("winch.html", Page("The winch", Text("winch")))
        );
        Assert.Equal("Appendix Licence; Chapter The winch", Outline(shaped));
    }

    [Fact]
    public void A_title_that_is_no_head_is_the_page_s_own_and_its_heads_stand_below_it()
    {
        const string Title = "<div class='header'><div class='title'>Questions</div></div>";
        var shaped = Shape(
            (
                "a.html",
                Page("Winch: Questions", $"{Title}<h1>Why oil?</h1>{Text("oil")}<h2>Which</h2>{Text("grade")}<h1>When?</h1>{Text("hour")}")
            ),
            ("b.html", Page("Winch: Answers", $"<div class='title'>A box</div><h1>Because</h1>{Text("oil")}"))
        );
        Assert.Equal("Chapter Questions; Preface Preface; Chapter Because", Outline(shaped));
        Assert.Equal(["A Why oil?", "B Which", "A When?"], Heads(shaped, "Questions"));
    }

    [Theory]
    [InlineData("<div class='figure'><img src='drum.png' alt='A drum'><p class='caption'>Figure 2: The drum</p></div>")]
    [InlineData(
        "<div class='figure'><a href='drum.png'><img src='drum.png' alt='A drum'></a><p class='caption'>Figure 2: The drum</p></div>"
    )]
    [InlineData("<div class='figure'><img src='drum.png' alt='A drum'><p class='caption'>Figure 2: The drum</p>Seen from aft.</div>")]
    [InlineData("<figure><img src='drum.png' alt='A drum'><p>Seen from aft.</p><figcaption>Figure 2: The drum</figcaption></figure>")]
    [InlineData("<figure><figcaption>The drum</figcaption><p>Seen from aft.</p><img src='drum.png' alt='A drum'></figure>")]
    public void A_picture_in_a_box_has_the_title_of_the_box_and_nothing_in_the_box_is_lost(string box)
    {
        var shaped = Shape(("a.html", Page("Winch", $"<h1>Winch</h1><p>Before it.</p>{box}<p>Behind it.</p>")), ("drum.png", "\u0089PNG"));
        var figure = Assert.Single(shaped.Divisions[0].Blocks.OfType<Figure>());
        Assert.Equal(("A drum", "The drum"), (figure.Alternative, figure.Caption.PlainText()));
        Assert.Equal(
            box.Contains("aft", StringComparison.Ordinal),
            shaped.Divisions[0].Blocks.Any(b => b.Inlines().ToArray().PlainText() == "Seen from aft.")
        );
    }

    [Fact]
    public void The_caption_of_a_box_without_picture_or_table_is_kept()
    {
        var shaped = Shape(
            ("a.html", Page("Winch", "<h1>Winch</h1><figure><blockquote><p>Haul!</p></blockquote><figcaption>A call</figcaption></figure>"))
        );
        Assert.Contains(shaped.Divisions[0].Blocks, b => b.Inlines().ToArray().PlainText() == "A call");
    }
}
