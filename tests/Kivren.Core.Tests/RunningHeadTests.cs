using CsCheck;
using Kivren.Core.Composition;
using Kivren.Core.Content;
using Kivren.Core.Looks;
using static Kivren.Core.Tests.Build;

namespace Kivren.Core.Tests;

/// <summary>Running heads after the text changed: over every kind of source, none shows what is gone, and none is empty where something is
/// in force.</summary>
public class RunningHeadTests
{
    private static readonly Dress Line = new(FaceSet.Sans, 8, 10);

    /// <summary>A look whose every page says one source at its head.</summary>
    private static Look Saying(string pattern) =>
        ShippedLooks.Workshop.WithPages(m => m with { Fields = [new RunningField(PageEdge.Head, FieldPlace.Inner, pattern, Line)] });

    private static string Said(ComposedPage page) => page.Furniture?.At(PageEdge.Head, FieldPlace.Inner) ?? "";

    private static readonly string[] Sources =
    [
        "{division}",
        "{division:first}",
        "{section}",
        "{head:A}",
        "{head:A:first}",
        "{head:B}",
        "{head:B:first}",
        "{term:first}",
        "{term:last}",
        "{number}",
        "{title}",
        "{manual}",
        "{folio}",
        "{total}",
        "{variable:release}",
        "{designation}",
        "{edition}",
    ];

    public static TheoryData<string> AllSources() => [.. Sources];

    private static Manual Text(params Block[] blocks) =>
        Manual(
            Chapter("a", "Winch", blocks),
            Chapter("b", "Pontoon", Words("q1", 500)),
            new Division(
                new Id("g"),
                DivisionKind.Glossary,
                "Glossary",
                [
                    new DefinitionList(new Id("l"), [new Definition(new Id("d"), [new TextRun("pawl")], [Words("dp", 12)])])
                    {
                        Glossary = true,
                    },
                ]
            )
        ) with
        {
            Variables = [new NamedText("release", "2.1"), new NamedText("designation", "CF 2")],
        };

    private static readonly Block[] Whole =
    [
        Head("h1", HeadLevel.A, "The band"),
        Words("p1", 500),
        Head("h2", HeadLevel.B, "Lining"),
        Words("p2", 500),
        Head("h3", HeadLevel.A, "The crank"),
        Words("p3", 500),
    ];

    [Theory]
    [MemberData(nameof(AllSources))]
    public void A_head_that_is_deleted_is_shown_nowhere(string source)
    {
        var look = Saying(source);
        var caches = new CompositionCaches();
        foreach (var (gone, title) in new[] { ("h1", "The band"), ("h2", "Lining"), ("h3", "The crank") })
        {
            Composer.Compose(Text(Whole), Edition.Whole, look, caches);
            var left = Composer.Compose(Text([.. Whole.Where(b => b.Id.Value != gone)]), Edition.Whole, look, caches);
            Assert.DoesNotContain(left.Pages, p => Said(p).Contains(title, StringComparison.Ordinal));
            Assert.Equal(
                Composer.Compose(Text([.. Whole.Where(b => b.Id.Value != gone)]), Edition.Whole, look).Pages.Select(Said),
                left.Pages.Select(Said)
            );
        }
    }

    [Theory]
    [MemberData(nameof(AllSources))]
    public void A_section_that_is_parted_or_emptied_leaves_no_head_that_is_stale_or_empty(string source)
    {
        var look = Saying(source);
        var caches = new CompositionCaches();
        Composer.Compose(Text(Whole), Edition.Whole, look, caches);
        Block[] parted = [.. Whole[..2], Head("new", HeadLevel.A, "The drum"), .. Whole[2..]];
        Block[] emptied = [.. Whole.Where(b => b.Id.Value is not ("p1" or "p2"))];
        foreach (var blocks in new[] { parted, emptied })
        {
            var now = Composer.Compose(Text(blocks), Edition.Whole, look, caches);
            Assert.Equal(Composer.Compose(Text(blocks), Edition.Whole, look).Pages.Select(Said), now.Pages.Select(Said));
            // In a chapter that has A heads something is in force on every page after the first of them.
            if (source is "{section}" or "{head:A}" or "{head:A:first}" or "{division}" or "{title}" or "{number}")
                Assert.All(now.Pages.Where(p => p.Division == 0 && !p.IsBlank), p => Assert.NotEqual("", Said(p)));
        }
        var last = Composer.Compose(Text(parted), Edition.Whole, look, caches);
        if (source == "{head:A}")
            Assert.Contains(last.Pages, p => Said(p).EndsWith("The drum", StringComparison.Ordinal));
    }

    [Fact]
    public void What_a_source_says_is_what_is_in_force()
    {
        ComposedManual Of(string source) => Composer.Compose(Text(Whole), Edition.Whole, Saying(source));
        string On(string source, int page) => Said(Of(source).Pages[page]);
        Assert.Equal("1\u2002Winch", On("{division}", 0));
        Assert.Equal("1", On("{number}", 0));
        Assert.Equal("Winch", On("{title}", 0));
        Assert.Equal("1.1\u2002The band", On("{section}", 0));
        Assert.Equal("2.1", On("{variable:release}", 0));
        Assert.Equal("CF 2", On("{designation}", 0));
        Assert.Equal("Test manual", On("{manual}", 0));
        Assert.Equal($"1/{Of("{total}").Pages.Count}", On("{folio}/{total}", 0));
        var glossary = Of("{term:first}").Pages[^1];
        Assert.Equal("pawl", Said(glossary));
    }

    [Fact]
    public void After_any_edits_every_running_head_is_that_of_a_composition_from_nothing() =>
        Gen.Select(Gen.Int[0, Sources.Length - 1], Gen.Int[0, 10_000])
            .Sample(
                (source, seed) =>
                {
                    var look = Saying(Sources[source]);
                    var caches = new CompositionCaches();
                    var random = new Random(seed);
                    var blocks = Whole.ToList();
                    for (var edit = 0; edit < 5; edit++)
                    {
                        var at = random.Next(blocks.Count);
                        if (random.Next(2) == 0 && blocks.Count > 1)
                            blocks.RemoveAt(at);
                        else
                            blocks.Insert(at, Head($"n{edit}", (HeadLevel)random.Next(1, 4), $"Head {seed} {edit}"));
                        var manual = Text([.. blocks]);
                        var titles = manual.Divisions[0].Blocks.OfType<Head>().Select(h => h.Content.PlainText()).ToHashSet();
                        var now = Composer.Compose(manual, Edition.Whole, look, caches);
                        Assert.Equal(Composer.Compose(manual, Edition.Whole, look).Pages.Select(Said), now.Pages.Select(Said));
                        if (Sources[source].StartsWith("{head", StringComparison.Ordinal))
                            foreach (var said in now.Pages.Where(p => p.Division == 0).Select(Said).Where(s => s.Length > 0))
                                Assert.Contains(titles, t => said.EndsWith(t, StringComparison.Ordinal));
                    }
                },
                iter: 60,
                threads: 2
            );

    [Fact]
    public void Words_that_meet_at_the_edge_of_a_page_and_words_in_the_text_are_told_once()
    {
        RunningField F(FieldPlace place, string words) => new(PageEdge.Head, place, words, Line);
        var meeting = ShippedLooks.Workshop.WithPages(m =>
            m with
            {
                Fields = [F(FieldPlace.Inner, "Many words of the running head that go on"), F(FieldPlace.Centre, "and more of them, long")],
            }
        );
        var told = Assert.Single(Composer.Compose(Text(Whole), Edition.Whole, meeting).LooseEnds, l =>
            l.Kind == Kivren.Core.LooseEnds.LooseEndKind.RunningHeadsMeet && l.Words == "Right"
        );
        Assert.Contains("meet", told.Message, StringComparison.Ordinal);
        var low = ShippedLooks.Workshop.WithPages(m => m with { HeadTop = Length.Points(70), Fields = [F(FieldPlace.Inner, "Low")] });
        Assert.Contains(Composer.Compose(Text(Whole), Edition.Whole, low).LooseEnds, l =>
            l.Message.Contains("stands in the text", StringComparison.Ordinal)
        );
        Assert.DoesNotContain(Composer.Compose(Text(Whole), Edition.Whole, ShippedLooks.Workshop).LooseEnds, l =>
            l.Kind == Kivren.Core.LooseEnds.LooseEndKind.RunningHeadsMeet
        );
    }
}
