using Kivren.Core.Composition;
using Kivren.Core.Content;
using Kivren.Core.Looks;
using Kivren.Formats.Pdf;

namespace Kivren.Audit.Tests;

/// <summary>A finished file is judged against a manual that differs from the one it was made of in one thing: the check
/// for that thing must fail, or it checks nothing.</summary>
public sealed class PlantedFaultTests : IDisposable
{
    private readonly string _file = Path.GetTempFileName();

    public void Dispose() => File.Delete(_file);

    private const string Filler =
        "The band brake holds the drum when the crank is let go and its lining wears by about a millimetre in a season so it is "
        + "measured before the first crossing";

    /// <summary>A paragraph with words of its own, so that none is mistaken for another.</summary>
    private static Paragraph Words(string id, int count, params Inline[] more) =>
        new(
            new Id(id),
            "body",
            [
                new TextRun(
                    $"Paragraph {id} begins. "
                        + string.Join(
                            ' ',
                            Enumerable.Range(0, count).Select(n => Filler.Split(' ')[n % Filler.Split(' ').Length] + (n % 7 == 0 ? id : ""))
                        )
                ),
                .. more,
                new TextRun("."),
            ]
        );

    private static Head Head(string id, string title) =>
        new(new Id(id), HeadLevel.A, [new TextRun(title)]) { ShortTitle = "Short " + title };

    private static Division Division(string id, DivisionKind kind, string title, params Block[] blocks) =>
        new(new Id(id), kind, title, blocks);

    private static IndexEntry Entry(string id, params string[] headings) => new(new Id(id), headings);

    private static readonly CrossReference Reference = new(new Id("x"), new Id("h2"), "title-page");
    private static readonly IndexEntry Lining = Entry("e1", "lining", "wear of");
    private static readonly Footnote Note = new(new Id("n"), [new TextRun("Measured with the gauge from the drawer.")]);

    private static Manual Sound() =>
        new(
            new Id("m"),
            "Test manual",
            [
                Division("title", DivisionKind.TitlePage, "Title page", new Paragraph(new Id("tp"), "title", [new TextRun("Tarn 6")])),
                Division("contents", DivisionKind.Contents, "Contents", new ContentsList(new Id("list"))),
                Division(
                    "one",
                    DivisionKind.Chapter,
                    "The ferry",
                    Words("a1", 120, new TextRun(" See "), Reference),
                    Head("h1", "The deck"),
                    Words("a2", 500, Lining),
                    Words("a3", 160),
                    Words("a4", 420, Note)
                ),
                Division(
                    "two",
                    DivisionKind.Chapter,
                    "Crossing",
                    Words("b1", 90, Entry("e2", "crossing")),
                    Head("h2", "Casting off"),
                    Words("b2", 500),
                    Head("h3", "Coming alongside"),
                    Words("b3", 500, Entry("e3", "fenders"))
                ),
                Division("app", DivisionKind.Appendix, "Data", Words("c1", 40)),
                Division("index", DivisionKind.Index, "Index", new IndexList(new Id("ix"))),
            ]
        );

    private void Produce(Manual manual)
    {
        var composed = Composer.Compose(manual, manual.EditionNamed(null), ShippedLooks.Workshop);
        Assert.Empty(composed.LooseEnds);
        using var file = File.Create(_file);
        PdfWriter.Write(composed, _ => null, file);
    }

    /// <summary>The names of the checks that fail when the file of the sound manual is judged against this one.</summary>
    private string[] FailuresOf(Func<Manual, Manual> planted)
    {
        Produce(Sound());
        var manual = planted(Sound());
        return
        [
            .. Auditor
                .Audit(_file, manual, manual.EditionNamed(null), WornLook.FileOf(manual))
                .Checks.Where(c => c.Failures.Count > 0)
                .Select(c => c.Check),
        ];
    }

    private static Manual With(Manual manual, string division, Func<List<Block>, IEnumerable<Block>> blocks) =>
        manual with
        {
            Divisions = [.. manual.Divisions.Select(d => d.Id.Value == division ? d with { Blocks = [.. blocks([.. d.Blocks])] } : d)],
        };

    private static IEnumerable<Block> Without(IEnumerable<Block> blocks, Inline atom) =>
        blocks.Select(b => b is Paragraph p ? p with { Content = [.. p.Content.Where(i => i != atom)] } : b);

    private static IEnumerable<Block> Into(IEnumerable<Block> blocks, string id, Inline atom) =>
        blocks.Select(b => b is Paragraph p && p.Id.Value == id ? p with { Content = [p.Content[0], atom, .. p.Content.Skip(1)] } : b);

    [Fact]
    public void The_sound_manual_passes_and_every_check_was_tried()
    {
        Produce(Sound());
        var report = Auditor.Audit(_file, Sound(), Edition.Whole, WornLook.FileOf(Sound()));
        Assert.True(report.Right, string.Join('\n', report.Checks.SelectMany(c => c.Failures)));
        foreach (
            var check in new[]
            {
                "contents lines",
                "cross-references",
                "index locators",
                "running heads",
                "folios",
                "footnotes under their call",
            }
        )
            Assert.Contains(report.Checks, c => c.Check == check && c.Tried > 0);
    }

    [Fact]
    public void An_entry_that_stands_on_another_page_fails_the_index() =>
        Assert.Equal(["index locators"], FailuresOf(m => With(m, "one", b => Into(Without(b, Lining), "a4", Lining))));

    [Fact]
    public void An_entry_the_index_does_not_print_fails_it() =>
        Assert.Equal(["index locators"], FailuresOf(m => With(m, "two", b => Into(b, "b2", Entry("e9", "zinc")))));

    [Fact]
    public void An_entry_that_was_taken_out_and_is_still_printed_fails_the_index() =>
        Assert.Equal(["index locators"], FailuresOf(m => With(m, "one", b => Without(b, Lining))));

    [Fact]
    public void A_reference_to_another_head_fails_the_references() =>
        Assert.Contains(
            "cross-references",
            FailuresOf(m =>
                With(m, "one", b =>
                    b.Select(x =>
                        x is Paragraph { Id.Value: "a1" } p
                            ? p with
                            {
                                Content = [.. p.Content.Select(i => i == Reference ? Reference with { Target = new Id("h3") } : i)],
                            }
                            : x
                    )
                )
            )
        );

    [Fact]
    public void A_running_head_that_shows_an_old_short_title_fails() =>
        Assert.Equal(
            ["running heads"],
            FailuresOf(m => With(m, "two", b => b.Select(x => x is Head { Id.Value: "h3" } h ? h with { ShortTitle = "New words" } : x)))
        );

    [Fact]
    public void A_contents_line_with_a_deleted_title_fails() =>
        Assert.Contains(
            "contents lines",
            FailuresOf(m =>
                With(m, "two", b => b.Select(x => x is Head { Id.Value: "h3" } h ? h with { Content = [new TextRun("Making fast")] } : x))
            )
        );

    [Fact]
    public void A_note_whose_call_stands_on_another_page_fails() =>
        Assert.Contains("footnotes under their call", FailuresOf(m => With(m, "one", b => Into(Without(b, Note), "a1", Note))));

    [Fact]
    public void Folios_of_an_appendix_that_is_a_chapter_by_now_fail() =>
        Assert.Contains(
            "folios",
            FailuresOf(m =>
                m with
                {
                    Divisions = [.. m.Divisions.Select(d => d.Id.Value == "app" ? d with { Kind = DivisionKind.Chapter } : d)],
                }
            )
        );

    [Theory]
    [InlineData("a3")]
    [InlineData("b1")]
    public void A_paragraph_that_is_not_printed_fails_the_words(string id) =>
        Assert.Contains(EveryWord, FailuresOf(m => With(With(m, "one", b => Added(b, id)), "two", b => Added(b, id))));

    [Fact]
    public void A_paragraph_that_was_taken_out_and_is_printed_fails_the_words() =>
        Assert.Contains(EveryWord, FailuresOf(m => With(m, "one", b => b.Where(x => x.Id.Value != "a3"))));

    [Fact]
    public void Two_paragraphs_in_the_other_order_fail_the_words() =>
        Assert.Contains(EveryWord, FailuresOf(m => With(m, "one", b => b.OrderBy(x =>
                        x.Id.Value == "a3" ? 1
                        : x.Id.Value == "a2" ? 2
                        : x.Id.Value == "a4" ? 3
                        : 0
                    ))));

    private const string EveryWord = "every word once and in order";

    private static IEnumerable<Block> Added(IEnumerable<Block> blocks, string after) =>
        blocks.SelectMany(b => b.Id.Value == after ? new[] { b, Words("new", 20) } : [b]);

    [Fact]
    public void A_file_that_is_no_pdf_is_refused()
    {
        File.WriteAllText(_file, "no pdf at all");
        Assert.ThrowsAny<Exception>(() => Auditor.Audit(_file, Sound(), Edition.Whole, WornLook.FileOf(Sound())));
    }
}
