using CsCheck;
using Kivren.Core.Content;
using Kivren.Core.Finding;

namespace Kivren.Core.Tests;

public class SearchTests
{
    private static Search Of(Sought sought)
    {
        var search = Search.For(sought, out var why);
        Assert.Equal("", why);
        return search!;
    }

    private static Paragraph Text(params Inline[] spans) => new(new Id("p"), "body", spans);

    private static TextRun Run(string text, SpanRoles roles = SpanRoles.None) => new(text, roles);

    private static Block All(Sought sought, Block block, string with, out int count) =>
        Of(sought).Replaced(block, with, _ => true, out count);

    [Fact]
    public void Words_in_several_roles_and_over_a_mark_are_one_and_take_the_first_role()
    {
        var entry = new IndexEntry(new Id("e"), ["brake"]);
        var block = Text(Run("The band "), Run("bra", SpanRoles.Strong), entry, Run("ke holds"));
        var replaced = (Paragraph)All(new Sought("brake"), block, "clutch", out var count);
        // The heading of the entry is found as well.
        Assert.Equal(2, count);
        Assert.Equal(
            [Run("The band "), Run("clutch", SpanRoles.Strong), entry with { Headings = ["clutch"] }, Run(" holds")],
            replaced.Content.Select(i => i is IndexEntry e ? e with { Headings = [.. e.Headings] } : i),
            (a, b) => a is IndexEntry x && b is IndexEntry y ? x.Headings.SequenceEqual(y.Headings) : a.Equals(b)
        );
    }

    [Fact]
    public void Nothing_is_found_over_a_reference_or_a_variable()
    {
        var block = Text(Run("see "), new CrossReference(new Id("r"), new Id("t"), "page"), Run(" here"), new VariableUse("v"), Run("e"));
        foreach (var words in new[] { "see  here", "heree", "\uFFFC" })
            Assert.Empty(Of(new Sought(words)).In(block));
        Assert.Empty(Of(new Sought("see.*here", Pattern: true)).In(block));
        Assert.Equal("see … here…", string.Concat(Of(new Sought("see")).In(block).Select(f => f.Before + f.Match + f.After))[..11]);
    }

    [Fact]
    public void Notes_cells_captions_listings_and_entries_are_looked_through_and_changed()
    {
        IReadOnlyList<Inline> words = [Run("old")];
        Block[] blocks =
        [
            Text(new Footnote(new Id("n"), words)),
            new Table(new Id("t"), 0, [], words, [new Row(new Id("r"), [new Cell(new Id("c"), words)])]),
            new Listing(new Id("l"), "", "an old line", words),
            new Figure(new Id("f"), "a.png", words, ""),
            new Aside(new Id("a"), words, [Text(words[0])]),
            new ReferenceList(new Id("rl"), [new ReferredDocument(new Id("d"), "X-1", words)]),
            new Steps(
                new Id("s"),
                false,
                [new Item(new Id("i"), [Text(words[0]), new Admonition(new Id("w"), AdmonitionKind.Note, [Text(words[0])])])]
            ),
        ];
        foreach (var block in blocks)
        {
            var before = Of(new Sought("old")).In(block);
            Assert.Equal(Enumerable.Range(0, before.Count), before.Select(f => f.Ordinal));
            var after = All(new Sought("old"), block, "new", out var count);
            Assert.True(count > 0 && count == before.Count);
            Assert.Empty(Of(new Sought("old")).In(after));
            Assert.Equal(count, Of(new Sought("new")).In(after).Count);
        }
        Assert.Equal(new Id("c"), Of(new Sought("old")).In(blocks[1])[1].Inner);
    }

    [Theory]
    [InlineData("brake", false, false, "Brake, brakes, BRAKE", 3)]
    [InlineData("brake", true, false, "Brake, brakes, BRAKE", 2)]
    [InlineData("brake", false, true, "Brake, brakes, BRAKE", 1)]
    [InlineData("(c)", false, false, "plant (C) and (c)", 2)]
    [InlineData("ß", false, true, "Straße", 1)]
    [InlineData("kN.", true, false, "4 kN. 5 kNm.", 1)]
    public void Case_and_whole_words_are_as_asked(string words, bool whole, bool same, string text, int times) =>
        Assert.Equal(times, Of(new Sought(words, whole, same)).In(Text(Run(text))).Count);

    [Theory]
    [InlineData("the brake holds the drum fast", 4, 9, 8, "the ", " holds")]
    [InlineData("the brake holds the drum fast", 16, 19, 6, "holds ", " drum")]
    [InlineData("unbreakable", 5, 6, 3, "bre", "kab")]
    [InlineData("brake", 0, 5, 10, "", "")]
    public void Words_around_a_place_are_cut_between_words_where_one_ends_near(
        string text,
        int from,
        int to,
        int room,
        string before,
        string after
    )
    {
        var (begin, end) = WordsAround.Of(text, from, to, room);
        Assert.Equal((before, after), (text[begin..from], text[to..end]));
    }

    [Theory]
    [InlineData("", 9)]
    [InlineData("control", 1)]
    [InlineData("strong", 2)]
    [InlineData("own:Signal", 1)]
    [InlineData("own:Box", 1)]
    [InlineData("note", 1)]
    [InlineData("indexEntry", 1)]
    [InlineData("listing", 1)]
    [InlineData("heads", 2)]
    [InlineData("own:Nobody", 0)]
    public void Words_are_found_and_changed_only_where_they_are_looked_for(string where, int times)
    {
        Block[] blocks =
        [
            new Head(new Id("h"), HeadLevel.A, [Run("stop", SpanRoles.Strong)]),
            Text(
                Run("stop "),
                Run("stop", SpanRoles.Control | SpanRoles.Strong),
                Run("st", SpanRoles.Control),
                Run("op"),
                new TextRun("stop", SpanRoles.Control & 0) { OwnRole = "Signal" },
                new Footnote(new Id("n"), [Run("stop")]),
                new IndexEntry(new Id("e"), ["stop"])
            ),
            new Listing(new Id("l"), "", "stop", []),
            new Aside(new Id("a"), [], [Text(Run("stop"))]) { OwnRole = "Box" },
        ];
        var sought = new Sought("stop", Where: SoughtPlace.Parse(where));
        var titles = Of(sought).InTitle(new Id("d"), "stop").Count;
        Assert.Equal(times, blocks.Sum(b => Of(sought).In(b).Count) + (where == "heads" ? titles : 0));
        foreach (var block in blocks)
        {
            var found = Of(sought).In(block).Count;
            var changed = All(sought, block, "go", out var count);
            Assert.Equal(found, count);
            Assert.Empty(Of(sought).In(changed));
            Assert.Equal(Of(new Sought("stop")).In(block).Count - found, Of(new Sought("stop")).In(changed).Count);
        }
        Assert.Null(SoughtPlace.Parse("nowhere"));
        Assert.Null(SoughtPlace.Parse("7"));
    }

    [Fact]
    public void A_pattern_puts_its_groups_in_and_only_the_chosen_places_change()
    {
        var search = Of(new Sought("(\\d+) kN", Pattern: true));
        var replaced = (Paragraph)search.Replaced(Text(Run("4 kN, 5 kN, 6 kN")), "$1 kilonewtons", n => n != 1, out var count);
        Assert.Equal(2, count);
        Assert.Equal("4 kilonewtons, 5 kN, 6 kilonewtons", replaced.Content.PlainText());
        // Words as typed are put in as typed.
        Assert.Equal("$1!", ((Paragraph)All(new Sought("a"), Text(Run("a!")), "$1", out _)).Content.PlainText());
    }

    [Theory]
    [InlineData("")]
    [InlineData("(")]
    [InlineData("(?<=a)b")]
    [InlineData("(a)\\1")]
    public void What_cannot_be_looked_for_is_told(string pattern)
    {
        Assert.Null(Search.For(new Sought(pattern, Pattern: true), out var why));
        Assert.NotEqual("", why);
    }

    [Fact]
    public void An_expression_that_would_run_for_ever_elsewhere_takes_time_in_proportion_to_the_text()
    {
        var clock = System.Diagnostics.Stopwatch.StartNew();
        Assert.Empty(Of(new Sought("(a+)+b", Pattern: true)).In(Text(Run(new string('a', 50_000)))));
        Assert.InRange(clock.Elapsed, TimeSpan.Zero, TimeSpan.FromSeconds(20));
    }

    [Fact]
    public void A_replaced_block_reads_as_its_words_with_the_others_put_in()
    {
        // Runs cut anywhere: the words are found as if they were one run.
        var cut = Gen.Select(Gen.String[Gen.Char["ab "], 1, 30], Gen.Int[0, 7].Array[0, 6], Gen.String[Gen.Char["ab"], 1, 3]);
        cut.Sample(
            (text, cuts, words) =>
            {
                var spans = new List<Inline>();
                var at = 0;
                foreach (var length in cuts.Append(text.Length))
                {
                    var end = Math.Min(text.Length, at + length);
                    if (end > at)
                        spans.Add(Run(text[at..end], (SpanRoles)(spans.Count % 3)));
                    if (spans.Count % 2 == 1)
                        spans.Add(new Anchor(new Id($"a{spans.Count}"), "x"));
                    at = end;
                }
                var replaced = (Paragraph)All(new Sought(words, SameCase: true), Text([.. spans]), "-", out var count);
                Assert.Equal(text.Replace(words, "-", StringComparison.Ordinal), replaced.Content.PlainText());
                Assert.Equal((text.Length - text.Replace(words, "", StringComparison.Ordinal).Length) / words.Length, count);
                Assert.Equal(spans.OfType<Anchor>(), replaced.Content.OfType<Anchor>());
            }
        );
    }
}
