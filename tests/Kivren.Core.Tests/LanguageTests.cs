using Kivren.Core.Composition;
using Kivren.Core.Content;
using Kivren.Core.Looks;
using static Kivren.Core.Tests.Build;

namespace Kivren.Core.Tests;

/// <summary>The words that a manual prints by itself are those of its language.</summary>
public class LanguageTests
{
    private static readonly string[] Languages =
    [
        .. typeof(LanguageWords)
            .Assembly.GetManifestResourceNames()
            .Where(n => n.StartsWith("words:", StringComparison.Ordinal))
            .Select(n => n["words:".Length..]),
    ];

    [Fact]
    public void Every_language_has_every_word_and_no_other()
    {
        Assert.True(Languages.Length > 20);
        foreach (var language in Languages)
        {
            using var stream = typeof(LanguageWords).Assembly.GetManifestResourceStream("words:" + language)!;
            using var reader = new StreamReader(stream);
            var names = new List<string>();
            while (reader.ReadLine() is { } line)
            {
                var at = line.IndexOf(" = ", StringComparison.Ordinal);
                Assert.True(at > 0 && line.Length > at + 3, $"{language}: “{line}”");
                names.Add(line[..at]);
            }
            Assert.Equal(LanguageWords.Names, names);
        }
    }

    [Theory]
    [InlineData("de-AT", "Kapitel")]
    [InlineData("no", "Kapittel")]
    [InlineData("zh-CN", "第{n}章")]
    [InlineData("iw", "פרק")]
    [InlineData("EN-us", "Chapter")]
    [InlineData("tlh", "Chapter")]
    [InlineData("../x", "Chapter")]
    [InlineData("", "Chapter")]
    [InlineData(null, "Chapter")]
    public void A_language_is_known_by_the_first_part_of_its_tag_and_an_unknown_one_is_English(string? tag, string chapter) =>
        Assert.Equal(chapter, LanguageWords.Of(tag)["chapter"]);

    private static ComposedManual German(Look look, string language = "de")
    {
        var figure = new Figure(new Id("f"), "lamp.svg", [new TextRun("Die Lampe")], "Lampe");
        var manual = Manual(
            Chapter(
                "a",
                "Winde",
                Head("h", HeadLevel.A, "Seil"),
                Text("p", new TextRun("Mehr in "), new CrossReference(new Id("x"), new Id("b"), "phrase"), new TextRun(".")),
                Text("q", new TextRun("Oder "), new CrossReference(new Id("y"), new Id("i"), "title-page"), new TextRun(".")),
                Text("r", new TextRun("Wie "), new CrossReference(new Id("z"), new Id("f"), "direction"), new TextRun(".")),
                new Admonition(new Id("n"), AdmonitionKind.Warning, [Text("w", new TextRun("Hände weg."))])
            ),
            Chapter("b", "Horn", Head("i", HeadLevel.A, "Ton"), figure)
        );
        manual = manual with { Language = language, Divisions = [.. manual.Divisions.Select(d => d with { Language = language })] };
        return Composer.Compose(manual, Edition.Whole, look);
    }

    private static string Printed(ComposedManual composed) =>
        string.Join(
            ' ',
            composed
                .Pages.SelectMany(p => Display.DisplayList.Of(p, composed.Look).Items)
                .OfType<Display.WordItem>()
                .Select(w => w.Word.Word.Text)
        );

    [Fact]
    public void Labels_references_and_signal_words_are_in_the_language_of_the_manual()
    {
        var composed = German(ShippedLooks.Workshop);
        string Of(string id) =>
            composed.Print(
                composed
                    .Text.Divisions.SelectMany(d => d.Blocks)
                    .SelectMany(b => b.Inlines())
                    .OfType<CrossReference>()
                    .First(r => r.Id.Value == id)
            );
        Assert.StartsWith("Kapitel\u00A02 auf ", Of("x"), StringComparison.Ordinal);
        Assert.StartsWith("„Ton“ auf Seite", Of("y"), StringComparison.Ordinal);
        Assert.Equal("Abbildung\u00A02-1 unten", Of("z"));
        var printed = Printed(composed);
        Assert.Contains("Kapitel", printed, StringComparison.Ordinal);
        Assert.Contains("WARNUNG", printed, StringComparison.Ordinal);
        Assert.DoesNotContain("Chapter", printed, StringComparison.Ordinal);
        Assert.DoesNotContain("WARNING", printed, StringComparison.Ordinal);
    }

    [Fact]
    public void A_word_that_a_look_chose_itself_stays_and_the_same_look_gives_the_same_object()
    {
        var look = ShippedLooks.Workshop with { Numbering = ShippedLooks.Workshop.Numbering with { Chapter = "Lesson" } };
        Assert.Contains("Lesson", Printed(German(look)), StringComparison.Ordinal);
        Assert.Same(German(look).Look, German(look).Look);
        Assert.Equal("en-GB", German(look, "en-GB").Text.Manual.Language);
        Assert.Contains("Lesson", Printed(German(look, "en-GB")), StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("fr", "en-GB", "Chapitre", "Chapter")]
    [InlineData("fr", "de", "Chapitre", "Kapitel")]
    [InlineData("en-GB", "fr", "Chapter", "Chapitre")]
    public void In_a_manual_of_any_language_each_division_has_the_words_of_its_own(string of, string other, string one, string two)
    {
        var manual = Manual(Chapter("a", "Winch", Text("p", new TextRun("Text."))), Chapter("b", "Horn", Text("q", new TextRun("Text."))));
        manual = manual with
        {
            Language = of,
            Divisions = [manual.Divisions[0] with { Language = of }, manual.Divisions[1] with { Language = other }],
        };
        var numbers = Composer.Compose(manual, Edition.Whole, ShippedLooks.Workshop).Numbers;
        Assert.Equal([one, two], numbers.Divisions.Select(d => d.ById[d.Division.Id].Name));
    }

    [Fact]
    public void A_division_in_another_language_has_the_words_of_that_language()
    {
        var manual = Manual(Chapter("a", "Winch", Text("p", new TextRun("Text."))), Chapter("b", "Horn", Text("q", new TextRun("Text."))));
        manual = manual with { Divisions = [manual.Divisions[0], manual.Divisions[1] with { Language = "fr" }] };
        var numbers = Composer.Compose(manual, Edition.Whole, ShippedLooks.Workshop).Numbers;
        Assert.Equal(["Chapter", "Chapitre"], numbers.Divisions.Select(d => d.ById[d.Division.Id].Name));
    }

    [Theory]
    [InlineData("ja", "第3章", "図2-1", "（47ページ）")]
    [InlineData("de", "Kapitel\u00A03", "Abbildung\u00A02-1", "auf Seite\u00A047")]
    [InlineData("zh-TW", "第3章", "圖2-1", "（第47頁）")]
    public void A_number_stands_where_its_language_has_it(string language, string chapter, string figure, string onPage)
    {
        var words = LanguageWords.Of(language);
        Assert.Equal(chapter, LanguageWords.Numbered(words["chapter"], "3"));
        Assert.Equal(figure, LanguageWords.Numbered(words["figure"], "2-1"));
        Assert.Equal(onPage, LanguageWords.Numbered(words["onPage"], "47"));
        Assert.Equal(onPage.Replace("47", "{folio}", StringComparison.Ordinal), words.Pattern("on page\u00A0{folio}"));
    }

    [Fact]
    public void Traditional_and_simplified_Chinese_have_their_own_words()
    {
        Assert.Equal("图{n}", LanguageWords.Of("zh-Hans")["figure"]);
        Assert.Equal("圖{n}", LanguageWords.Of("zh-Hant-HK")["figure"]);
    }
}
