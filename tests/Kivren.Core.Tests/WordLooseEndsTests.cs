using Kivren.Core.Content;
using Kivren.Core.LooseEnds;
using static Kivren.Core.Tests.Build;

namespace Kivren.Core.Tests;

public class WordLooseEndsTests
{
    private static (LooseEndKind Kind, string Words)[] Found(params Block[] blocks) => In("en-GB", blocks);

    private static (LooseEndKind Kind, string Words)[] In(string language, params Block[] blocks) =>
        [
            .. Compose(Manual(Chapter("a", "A", blocks) with { Language = language }))
                .LooseEnds.Where(l =>
                    l.Kind
                        is LooseEndKind.WordTwice
                            or LooseEndKind.BracketUnclosed
                            or LooseEndKind.TermOtherwise
                            or LooseEndKind.TwoSpellings
                )
                .Select(l => (l.Kind, l.Words)),
        ];

    [Theory]
    [InlineData("en", "Turn the the drum.", "the the")]
    [InlineData("en", "The\u00a0the drum.", "The\u00a0the")]
    [InlineData("en", "It is so that that works, and he had had it.", null)]
    [InlineData("en", "The theme, on-on, 12 12, no. No more", null)]
    [InlineData("de", "Männer, die die Winde drehen", null)]
    [InlineData("de", "Die Winde Winde dreht.", "Winde Winde")]
    public void A_word_twice_is_told(string language, string text, string? words) =>
        Assert.Equal(words is null ? [] : [(LooseEndKind.WordTwice, words)], In(language, Text("p", new TextRun(text))));

    [Fact]
    public void Words_that_something_stands_between_and_words_of_program_text_are_not_twice()
    {
        Assert.Empty(Found(Text("p", new TextRun("go "), new TextRun("go", SpanRoles.Code), new TextRun(" go"))));
        Assert.Empty(Found(Text("p", new TextRun("see "), To("x", "p", "page"), new TextRun(" see"))));
        Assert.NotEmpty(Found(Text("p", new TextRun("see "), new IndexEntry(new Id("e"), ["see"]), new TextRun("see"))));
    }

    [Theory]
    [InlineData("Lock it (with the pin.", "(with the pin.")]
    [InlineData("a) first, b) second (so)", null)]
    [InlineData("see [4 and (5)", "[4 and (5)")]
    public void A_bracket_left_open_is_told(string text, string? words) =>
        Assert.Equal(words is null ? [] : [(LooseEndKind.BracketUnclosed, words)], Found(Text("p", new TextRun(text))));

    [Fact]
    public void A_term_in_another_form_than_the_glossary_s_is_told_wherever_it_stands()
    {
        var glossary = new DefinitionList(
            new Id("g"),
            [
                new Definition(new Id("g1"), [new TextRun("log-book")], [Text("g1p", new TextRun("Where crossings are written."))]),
                new Definition(new Id("g2"), [new TextRun("shore line")], [Text("g2p", new TextRun("What she is moored with."))]),
            ]
        )
        {
            Glossary = true,
        };
        var found = Found(
            Text("p", new TextRun("Write it in the log book, not in a Logbook; the log-book is right. Catalog bookings stay.")),
            Text("q", new TextRun("Moor with a shore-line.")),
            glossary
        );
        Assert.Equal(
            [(LooseEndKind.TermOtherwise, "log book"), (LooseEndKind.TermOtherwise, "Logbook"), (LooseEndKind.TermOtherwise, "shore-line")],
            found
        );
    }

    [Fact]
    public void One_word_in_two_spellings_is_told_where_it_has_its_hyphen()
    {
        Assert.Equal(
            [(LooseEndKind.TwoSpellings, "deck-house")],
            Found(Text("p", new TextRun("The deck-house is dry.")), Text("q", new TextRun("Deckhouse and side-view.")))
        );
    }
}
