using System.Text;
using Kivren.Core.Content;
using Kivren.Formats.Generator;
using Kivren.Formats.Import;
using Kivren.Formats.Markdown;
using Kivren.Formats.Outputs;

namespace Kivren.Formats.Tests;

/// <summary>Editions as Markdown: brought in again, the words, tables, figures, notes and warnings come back.</summary>
public class MarkdownWriterTests
{
    private static (Manual Written, Manual Again) Again(Package.Package package)
    {
        var edition = package.Manual.EditionNamed(null).For(Medium.Flowing);
        var text = Core.Selection.Selector.Select(package.Manual, edition);
        bool IsText(Division d) => d.Kind is not (DivisionKind.Index or DivisionKind.Contents);
        var zip = DocBookWriterTests.Made(package, edition, OutputKind.Markdown);
        Assert.Equal(zip, DocBookWriterTests.Made(package, edition, OutputKind.Markdown));
        var file = DocBookWriterTests.In(zip, "manual.md");
        var shaped = Shaper.Shape(
            new ShapeRequest([MarkdownReader.Read("manual.md", file, DocBookWriterTests.Beside(zip))], ImportMapping.None, "s")
        );
        var written = package.Manual with { Divisions = [.. text.Divisions.Where(IsText)] };
        return (written, written with { Divisions = shaped.Divisions });
    }

    [Theory]
    [InlineData("tarn6")]
    [InlineData("cf2")]
    public void Brought_in_again_what_Markdown_can_say_comes_back(string demo)
    {
        var (written, again) = Again(WordWriterTests.Demo(demo));
        var (before, after) = (WordWriterTests.Counts(written), WordWriterTests.Counts(again));
        foreach (var kind in new[] { "tables", "rows", "figures", "definitions", "notes" })
            Assert.Equal((kind, before[kind]), (kind, after[kind]));
        // Alerts stand by themselves: one within another block is a quotation.
        static int Alerts(Manual manual) => manual.Divisions.SelectMany(d => d.Blocks).OfType<Admonition>().Count();
        Assert.Equal(Alerts(written), Alerts(again));
        Assert.Equal(written.Divisions.Count, again.Divisions.Count);
    }

    private static IEnumerable<string> Words(Manual manual) =>
        manual
            .Divisions.SelectMany(d => d.Blocks)
            .SelectMany(b => b.WithInner())
            .OfType<Paragraph>()
            .SelectMany(p => p.Content.OfType<TextRun>().Select(r => r.Text))
            .SelectMany(t => t.Split([' ', '\n', '\t', '\u00A0'], StringSplitOptions.RemoveEmptyEntries));

    [Fact]
    public void No_sign_of_the_text_is_taken_for_a_sign_of_Markdown()
    {
        string[] signs =
        [
            "*",
            "**bold**",
            "_x_",
            "`code`",
            "[a](b)",
            "<b>",
            "# head",
            "1. one",
            "- item",
            "+ item",
            "> quote",
            "| cell |",
            "~~gone~~",
            "&amp;",
            "$x$",
            "\\",
            "::: box",
            ": means",
            "===",
            "---",
            "[^1]",
            "![p](q)",
            "2) two",
            "a * b * c",
            "snake_case_name",
            "^up^",
        ];
        var blocks = signs.Select((s, n) => (Block)new Paragraph(new Id($"p{n}"), "body", [new TextRun(s + " and more words")])).ToArray();
        var manual = new Manual(new Id("m"), "Signs", [new Division(new Id("d"), DivisionKind.Chapter, "Signs", blocks)]);
        var zip = DocBookWriterTests.Made(
            new Package.Package(manual, new Dictionary<string, byte[]>()),
            Edition.Whole,
            OutputKind.Markdown
        );
        var read = MarkdownReader.Read("manual.md", DocBookWriterTests.In(zip, "manual.md"), DocBookWriterTests.Beside(zip));
        Assert.Equal(
            signs.Select(s => s + " and more words"),
            read.Blocks.Skip(1).Cast<SourceParagraph>().Select(p => string.Concat(p.Spans.OfType<SourceRun>().Select(t => t.Text)))
        );
    }

    [Theory]
    [InlineData(1)]
    [InlineData(2)]
    [InlineData(3)]
    public void The_words_of_any_manual_come_back(int seed)
    {
        var package = ManualGenerator.Make(20, seed);
        var (written, again) = Again(package);
        var (before, after) = (Words(written).ToList(), Words(again).ToHashSet(StringComparer.Ordinal));
        var lost = before.Where(w => !after.Contains(w)).Distinct().ToList();
        Assert.True(lost.Count <= before.Count / 200, string.Join(' ', lost.Take(30)));
    }
}
