using Kivren.Core.Content;
using Kivren.Formats.Import;
using static Kivren.Formats.Tests.MadeUpSite;

namespace Kivren.Formats.Tests;

/// <summary>Folders of Markdown files as one book: by a page of links, by a fence that names files, by their folders; and links of the
/// files to one another, however they are written.</summary>
public class MarkdownFolderTests
{
    private static string Said(string about) =>
        string.Concat(
            Enumerable.Range(1, 6).Select(n => $"Round {n}: the {about} is looked at each morning before the first crossing.\n\n")
        );

    private static string Outline(Shaped shaped) => string.Join("; ", shaped.Divisions.Select(d => $"{d.Kind} {d.Title}"));

    private static (string, string)[] Files(string folder = "") =>
        [.. Names.Select(n => ($"{folder}{n}.md", $"# {Title(n)}\n\n{Said(n)}"))];

    [Fact]
    public void A_page_of_links_orders_the_files_and_its_lead_ins_are_parts()
    {
        var shaped = Shape([
            (
                "README.md",
                "<a id=\"top\"></a>\n# Ferry help\n\nStart with the [round](round.md#top).\n\nWorking:\n* [The winch](winch.md#top)\n"
                    + "* [The round](round.md#top)\n\n"
                    + "Caring:\n* [Spares](spares.md#top)\n* [Lamps](lamps.md#top)\n* [Cable](cable.md#top)\n"
            ),
            .. Names.Select(n => ($"{n}.md", $"<a id=\"top\"></a>\n# {Title(n)}\n\n{Said(n)}---\n\n[Home](README.md#top)\n")),
        ]);
        Assert.Equal(
            "Part Working; Chapter Winch; Chapter Round; Part Caring; Chapter Spares; Chapter Lamps; Chapter Cable",
            Outline(shaped).Replace("Preface Ferry help; ", "", StringComparison.Ordinal)
        );
        Assert.Equal("Ferry help", shaped.Title);
        Assert.DoesNotContain(shaped.Divisions.SelectMany(d => d.Blocks), b => b is Paragraph p && p.Content.PlainText() == "Home");
    }

    [Fact]
    public void A_list_of_lists_nests_and_a_fence_that_names_files_orders_them()
    {
        var lists = Shape([
            (
                "SUMMARY.md",
                "# Contents\n\n- [Round](round.md)\n  - [Winch](winch.md)\n  - [Cable](cable.md)\n"
                    + "- [Spares](spares.md)\n- [Lamps](lamps.md)\n"
            ),
            .. Files(),
        ]);
        Assert.Equal("Chapter Round; Chapter Spares; Chapter Lamps", Outline(lists));
        Assert.Equal(["A Winch", "A Cable"], lists.Divisions[0].Blocks.OfType<Head>().Select(h => $"{h.Level} {h.Content.PlainText()}"));
        var fence = Shape([
            ("index.md", "# Ferry help\n\n```{toctree}\n:hidden:\n\nself\nspares\nThe lamps <lamps>\nround\nwinch.md\ncable\n```\n"),
            .. Files(),
        ]);
        Assert.Equal("Chapter Spares; Chapter Lamps; Chapter Round; Chapter Winch; Chapter Cable", Outline(fence));
        Assert.Equal("Ferry help", fence.Title);
    }

    [Fact]
    public void Where_nothing_names_an_order_folders_are_parts_and_their_first_pages_come_first()
    {
        var shaped = Shape([
            ("2-later.md", $"# Later\n\n{Said("year")}"),
            ("10-last.md", $"# Last\n\n{Said("end")}"),
            .. Files("op-guide/"),
            ("crew/README.md", $"# The crew\n\n{Said("crew")}"),
            ("crew/mate.md", $"# The mate\n\n{Said("mate")}"),
            ("signals/flags.md", $"# Flags\n\n{Said("flag")}"),
        ]);
        Assert.Equal(
            "Chapter Later; Chapter Last; Chapter Flags; Part The crew; Chapter The mate; Part Op guide; Chapter Cable; Chapter Lamps; "
                + "Chapter Round; Chapter Spares; Chapter Winch",
            Outline(shaped)
        );
    }

    [Fact]
    public void Files_are_named_without_their_ending_by_their_page_by_their_folder_and_places_by_their_letters()
    {
        var shaped = Shape(
            (
                "guide/round.md",
                "# Round\n\nSee [the winch](winch), [its oil](./winch.html#the-oil-kept), [care](../care/), {doc}`winch` "
                    + "and {ref}`brake-lining`.\n"
            ),
            ("guide/winch.md", "# Winch\n\n## The oil, kept\n\nText\n"),
            ("care/index.md", "# Care\n\n(brake-lining)=\n## Linings\n\nText\n")
        );
        var references = shaped.Divisions.SelectMany(d => d.Blocks).SelectMany(b => b.Inlines()).OfType<CrossReference>().ToList();
        Assert.Equal(5, references.Count);
        var titled = shaped.Divisions.ToDictionary(d => d.Title, d => d.Id);
        var heads = shaped.Divisions.SelectMany(d => d.Blocks).OfType<Head>().ToDictionary(h => h.Content.PlainText(), h => h.Id);
        Assert.Equal(
            [titled["Winch"], heads["The oil, kept"], titled["Care"], titled["Winch"], heads["Linings"]],
            references.Select(r => r.Target)
        );
        Assert.DoesNotContain(shaped.Report, l => l.What.Contains("leads to nothing", StringComparison.Ordinal));
    }

    [Fact]
    public void A_place_that_its_file_has_not_is_found_by_the_number_in_the_words_else_the_file_is()
    {
        var shaped = Shape(
            ("a.md", "# 1 Round\n\nSee [section 2.1](b.md#sec21), [the brake](b.md#brake) and [section 9](c.md#x).\n"),
            ("b.md", "# 2 Winch\n\n## 2.1 Brake lining\n\nText\n")
        );
        var head = shaped.Divisions[1].Blocks.OfType<Head>().Single();
        Assert.Equal(
            [head.Id, shaped.Divisions[1].Id],
            shaped.Divisions[0].Blocks.SelectMany(b => b.Inlines()).OfType<CrossReference>().Select(r => r.Target)
        );
        Assert.Single(shaped.Report, l => l.What.Contains("leads to nothing", StringComparison.Ordinal));
        Assert.Single(shaped.Report, l => l.What.Contains("names a place that is not in its file", StringComparison.Ordinal));
    }

    [Fact]
    public void Lines_of_a_files_own_heads_under_the_word_contents_are_left_to_the_manual()
    {
        const string Heads = "## Oil, kept\n\nText\n\n## Brake\n\nText\n";
        var blocks = Shape(("a.md", "# A\n\n**Contents**<br>\n[Oil, kept](#oil-kept)<br>\n[Brake](#brake)<br>\n\n" + Heads))
            .Divisions[0]
            .Blocks;
        Assert.Equal(["Text", "Text"], blocks.OfType<Paragraph>().Select(p => p.Content.PlainText()));
        var see = Shape(("a.md", "# A\n\nSee [Oil, kept](#oil-kept), [Brake](#brake).\n\n" + Heads)).Divisions[0].Blocks;
        Assert.Equal(3, see.OfType<Paragraph>().Count());
    }

    [Fact]
    public void A_reference_by_the_name_of_a_place_is_called_as_its_head_where_none_can_stand()
    {
        var shaped = Shape(
            ("a.md", "# A\n\nLining (see {ref}`brake-lining`)\n:   It wears.\n"),
            ("b.md", "# B\n\n(brake-lining)=\n## Linings of the brake\n\nText\n"),
            ("deep/c.md", "# C\n\n## Brake lining\n\nSee [these](brake-lining).\n")
        );
        var head = shaped.Divisions[1].Blocks.OfType<Head>().Single();
        Assert.Equal(head.Id, Assert.Single(shaped.Divisions[2].Blocks.SelectMany(b => b.Inlines()).OfType<CrossReference>()).Target);
        Assert.Equal(
            "Lining (see Linings of the brake)",
            shaped.Divisions[0].Blocks.OfType<DefinitionList>().Single().Definitions[0].Term.PlainText()
        );
    }

    [Fact]
    public void A_link_to_a_file_that_did_not_come_keeps_its_words_and_is_told_and_an_address_is_one()
    {
        var shaped = Shape(
            ("a.md", "# A\n\nSee [the list](list.txt), [us](mailto:crew@ferry.example) and [the web](https://ferry.example/x.md).\n"),
            ("b.md", "# B\n\nText\n")
        );
        Assert.Contains(shaped.Report, l => l.What.Contains("leads to nothing", StringComparison.Ordinal) && l.Words == "list.txt");
        Assert.Equal(
            ["mailto:crew@ferry.example", "https://ferry.example/x.md"],
            shaped.Divisions[0].Blocks.SelectMany(b => b.Inlines()).OfType<TextRun>().Select(r => r.Web).OfType<string>()
        );
    }
}
