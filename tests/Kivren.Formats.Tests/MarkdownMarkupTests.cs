using System.Text;
using Kivren.Core.Content;
using Kivren.Formats.Import;
using Kivren.Formats.Markdown;

namespace Kivren.Formats.Tests;

/// <summary>What stands in real Markdown beside its own marks: tags and blocks of HTML, boxes whose text is set in, fences that say what
/// they hold, names in braces.</summary>
public class MarkdownMarkupTests
{
    private static readonly byte[] Picture = Convert.FromBase64String(
        "iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg=="
    );

    private IReadOnlyList<ReportLine> _report = [];

    private IReadOnlyList<Block> Blocks(string text)
    {
        var beside = new Dictionary<string, byte[]> { ["img/winch.png"] = Picture };
        var shaped = Shaper.Shape(
            new ShapeRequest(
                [MarkdownReader.Read("doc/notes.md", Encoding.UTF8.GetBytes("# Chapter\n\n" + text), beside)],
                ImportMapping.None,
                "s"
            )
        );
        _report = shaped.Report;
        return shaped.Divisions.Single(d => d.Kind == DivisionKind.Chapter).Blocks;
    }

    private IReadOnlyList<Inline> Words(string text) => Blocks(text).OfType<Paragraph>().First().Content;

    private static string Marked(IEnumerable<Inline> words) =>
        string.Concat(
            words.Select(w =>
                w switch
                {
                    TextRun { Roles: SpanRoles.None } t => t.Text,
                    TextRun t => $"[{t.Roles}:{t.Text}]",
                    Kivren.Core.Content.LineBreak => "|",
                    InlinePicture p => $"({p.Asset})",
                    CrossReference => "(→)",
                    _ => "",
                }
            )
        );

    [Theory]
    [InlineData("Press <kbd>F4</kbd> or <b>hold <i>it</i></b>.", "Press [Key:F4] or [Strong:hold ][Emphasis, Strong:it].")]
    [InlineData("H<sub>2</sub>O<br>and <code>a</code><wbr>b", "H[Sub:2]O|and [Code:a]b")]
    [InlineData("A <span class=\"x\">span</span>, a <font color=red>fount</font>.", "A span, a fount.")]
    [InlineData("Unclosed <b>bold and </i>stray.", "Unclosed bold and stray.")]
    [InlineData("Type <name> here.", "Type [Code:<name>] here.")]
    [InlineData("See <a href=\"https://ferry.example\">us</a>, ~~not this~~ now.", "See us, now.")]
    [InlineData("A sign <img src=\"../img/winch.png\" alt=\"winch\"> here.", "A sign (winch.png) here.")]
    [InlineData("The {kbd}`F5` and {command}`tarn` and {odd}`x`, ${a}`b`.", "The [Key:F5] and [Code:tarn] and [Code:x], ${a}[Code:b].")]
    public void Tags_among_words_are_what_they_mean(string text, string marked) => Assert.Equal(marked, Marked(Words(text)));

    [Fact]
    public void A_name_alone_belongs_to_what_follows_and_makes_no_preface()
    {
        var blocks = Blocks(
            "See [here](#oil), [there](#lining) and [that](#table).\n\n<a id=\"oil\"></a>\n\nOil.\n\n"
                + "## Brake <a id=\"lining\"></a>\n\n<a name=\"table\"></a>\n\n| a | b |\n|---|---|\n| 1 | 2 |\n"
        );
        Assert.Equal(3, blocks[0].Inlines().OfType<CrossReference>().Count());
        Assert.Equal("Brake", blocks.OfType<Head>().Single().Content.PlainText());
        Assert.Equal(4, blocks.Count);
        Assert.DoesNotContain(_report, l => l.What.Contains("leads to nothing", StringComparison.Ordinal));
    }

    [Fact]
    public void A_name_before_a_block_of_HTML_is_that_of_its_first_block()
    {
        var blocks = Blocks("See [it](#grades).\n\n<a id=\"grades\"></a>\n\n<table><tr><td>68</td><td>220</td></tr></table>\n\nAfter.\n");
        Assert.Equal(
            Assert.Single(blocks.OfType<Table>()).Id,
            Assert.Single(blocks.SelectMany(b => b.Inlines()).OfType<CrossReference>()).Target
        );
    }

    [Fact]
    public void A_block_of_HTML_is_what_it_says()
    {
        var blocks = Blocks(
            "<table>\n<tr><th>Grade</th><th>Use</th></tr>\n<tr><td>68</td><td><b>winter</b></td></tr>\n</table>\n\n"
                + "<details>\n<summary>More of it</summary>\n\nHeld *within*.\n\n</details>\n\n"
                + "<p align=\"center\"><img src=\"../img/winch.png\" alt=\"The winch\"></p>\n\n"
                + "<div class=\"warning\"><p>Mind the cable.</p></div>\n"
        );
        var table = Assert.Single(blocks.OfType<Table>());
        Assert.Equal(2, table.Rows.Count);
        Assert.Equal(["More of it", "Held within."], blocks.OfType<Paragraph>().Select(p => p.Content.PlainText()));
        Assert.Equal("winch.png", Assert.Single(blocks.OfType<Figure>()).Asset);
        Assert.Equal(AdmonitionKind.Warning, Assert.Single(blocks.OfType<Admonition>()).Kind);
        Assert.DoesNotContain(blocks, b => b is Listing);
    }

    [Fact]
    public void HTML_nested_thousands_deep_stands_as_a_listing_and_tags_nested_so_are_words()
    {
        var blocks = Blocks("<div>" + string.Concat(Enumerable.Repeat("<div>", 5000)) + "deep\n\nAfter.\n");
        Assert.Contains("deep", Assert.Single(blocks.OfType<Listing>()).Text, StringComparison.Ordinal);
        Assert.Contains(_report, l => l.What.Contains("nested more than", StringComparison.Ordinal));
        var words = Words("a " + string.Concat(Enumerable.Repeat("<b>", 4000)) + "deep" + string.Concat(Enumerable.Repeat("</b>", 4000)));
        Assert.Equal("a deep", words.PlainText());
    }

    [Theory]
    [InlineData("!!! warning \"Cable\"\n    Mind it.\n\n    - a\n    - b\n\nAfter.\n", AdmonitionKind.Warning, "Cable", 2)]
    [InlineData("!!! note\n    Mind it.\nAfter.\n", AdmonitionKind.Note, "", 1)]
    [InlineData("??? tip\n\n    Mind it.\n\n    ```\n    code\n    ```\n\nAfter.\n", AdmonitionKind.Tip, "", 2)]
    [InlineData(":::caution Cable\nMind it.\n:::\n\nAfter.\n", AdmonitionKind.Caution, "Cable", 1)]
    [InlineData(":::{note} Cable\nMind it.\n:::\n\nAfter.\n", AdmonitionKind.Note, "Cable", 1)]
    [InlineData("```{important} Cable\n:class: wide\n\nMind it.\n```\n\nAfter.\n", AdmonitionKind.Notice, "Cable", 1)]
    public void Boxes_are_admonitions(string text, AdmonitionKind kind, string title, int inner)
    {
        var blocks = Blocks(text);
        var box = Assert.IsType<Admonition>(blocks[0]);
        // A title is the strong line before the text.
        var lines = box.Blocks.OfType<Paragraph>().Select(p => p.Content.PlainText()).ToList();
        Assert.Equal(title.Length > 0 ? [title, "Mind it."] : ["Mind it."], lines);
        Assert.Equal((kind, inner), (box.Kind, box.Blocks.Count - (lines.Count - 1)));
        Assert.Equal("After.", Assert.IsType<Paragraph>(Assert.Single(blocks.Skip(1))).Content.PlainText());
    }

    [Fact]
    public void A_box_within_a_box_a_kind_of_its_own_and_leaves_side_by_side()
    {
        var blocks = Blocks(
            "!!! info\n    Outer.\n\n    !!! danger\n        Inner.\n\n    Again.\n\n"
                + "=== \"Tarn 6\"\n\n    Six.\n\n=== \"Tarn 6E\"\n\n    Six E.\n"
        );
        var outer = Assert.IsType<Aside>(blocks[0]);
        Assert.Equal("Info", outer.Title.PlainText());
        Assert.Equal(AdmonitionKind.Danger, Assert.Single(outer.Blocks.OfType<Admonition>()).Kind);
        Assert.Equal(3, outer.Blocks.Count);
        Assert.Contains(blocks.OfType<Paragraph>(), p => p.Content.PlainText() == "Six E.");
        Assert.DoesNotContain(blocks, b => b is Listing);
    }

    [Fact]
    public void Fences_in_braces_are_figures_code_or_contents_and_marks_of_looks_are_no_words()
    {
        var blocks = Blocks(
            "```{figure} ../img/winch.png\n:alt: drum\n\nThe *winch*\n```\n\n```{code-block} ini\na = 1\n```\n\n"
                + "```{python}\nplot(x)\n```\n\n"
                + "[TOC]\n\n* TOC\n{:toc}\n\nText.\n{: .lead}\n\n```{youtube} abc\n```\n"
        );
        Assert.Equal("The winch", Assert.Single(blocks.OfType<Figure>()).Caption.PlainText());
        Assert.Equal([("ini", "a = 1"), ("python", "plot(x)")], blocks.OfType<Listing>().Take(2).Select(l => (l.Language, l.Text)));
        Assert.Equal(["Text."], blocks.OfType<Paragraph>().Select(p => p.Content.PlainText()));
    }

    [Fact]
    public void Frames_of_screens_keep_their_titles_and_what_another_program_is_asked_for_is_told()
    {
        var blocks = Blocks(
            "::::{tab-set}\n:::{tab-item} Tarn 6\n:sync: six\n\nSix.\n:::\n::::\n\n```{dropdown} More\nWithin.\n```\n\n"
                + "::: columns\nSide.\n:::\n\n```{include} other.md\n```\n\n```{list-table} Grades\n* - 68\n```\n"
        );
        Assert.Equal(
            // A strong line alone is a head.
            ["Tarn 6", "Six.", "More", "Within.", "Side."],
            blocks.Select(b => (b as Head)?.Content ?? (b as Paragraph)?.Content ?? []).Select(w => w.PlainText()).Where(w => w.Length > 0)
        );
        Assert.Equal("* - 68", Assert.Single(blocks.OfType<Listing>(), l => l.Text.Length > 0).Text);
        Assert.Equal(
            ["{include} other.md", "{list-table} Grades"],
            _report.Where(l => l.What.Contains("another program", StringComparison.Ordinal)).Select(l => l.Words)
        );
    }

    [Fact]
    public void What_is_set_in_after_marks_in_code_stays_code()
    {
        var listing = Assert.IsType<Listing>(Assert.Single(Blocks("```\n!!! note\n    x\n(a)=\n{: .b}\n```\n")));
        Assert.Equal("!!! note\n    x\n(a)=\n{: .b}", listing.Text);
    }
}
