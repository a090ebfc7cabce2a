using CsCheck;
using Kivren.Core.Content;
using Kivren.Core.Indexing;
using static Kivren.Core.Tests.Build;

namespace Kivren.Core.Tests;

public class IndexEditingTests
{
    private static IndexEntry E(string id, params string[] headings) => new(new Id(id), headings);

    [Fact]
    public void The_words_beside_a_locator_hold_what_references_and_variables_print_and_begin_with_a_word()
    {
        var composed = Compose(
            Manual(
                Chapter(
                    "a",
                    "Winch",
                    Head("h", HeadLevel.A, "The band"),
                    Text(
                        "p",
                        new TextRun("Whoever works below deck while the winch is under load has read what is said in "),
                        To("r", "h", "title"),
                        new TextRun(", line three, of the "),
                        new VariableUse("product"),
                        new TextRun(" "),
                        E("e", "brake band"),
                        new TextRun("brake band before the first crossing of the day.")
                    )
                )
            ) with
            {
                Variables = [new NamedText("product", "Tarn 6")],
            }
        );
        var words = EntryWords.Of(composed, composed.Index.Entries.Single());
        Assert.Equal(
            ("…read what is said in The band, line three, of the Tarn 6 ", "brake band", " before the first crossing of the day."),
            (words.Before.Replace("“", "").Replace("”", ""), words.Match, words.After)
        );
    }

    private static Manual Whole() =>
        Manual(
            Chapter(
                "a",
                "Winch",
                Head("h", HeadLevel.A, "The band"),
                Text("p", new TextRun("The "), E("e1", "brake band"), new TextRun("band brake holds the drum.")),
                Text("q", new TextRun("Its lining wears."), E("e2", "brake band", "lining of")),
                Head("h2", HeadLevel.A, "The crank"),
                Text(
                    "r",
                    new TextRun("Brake bands are spare parts."),
                    E("e3", "brake bands"),
                    E("s1", "capstan") with
                    {
                        See = "brake band",
                    }
                )
            ),
            Chapter(
                "b",
                "Hull",
                new Table(
                    new Id("t"),
                    0,
                    [CellAlignment.Left],
                    [],
                    [new Row(new Id("t1"), [new Cell(new Id("t2"), [new TextRun("lining"), E("e4", "lining")])])]
                ),
                Text(
                    "n",
                    new TextRun("See below."),
                    new Footnote(new Id("f"), [new TextRun("A "), E("e5", "bridle"), new TextRun("bridle.")])
                )
            )
        ) with
        {
            Passages = [new Passage(new Id("pas"), "Kept", [Text("k", new TextRun("Kept."), E("e6", "brake band"))])],
        };

    private static Manual Done(Manual manual, IndexAct act)
    {
        var result = IndexEditing.Apply(manual, act);
        Assert.Null(result.Refused);
        Assert.NotEmpty(result.Words);
        Assert.Empty(ManualCheck.Problems(result.Manual!));
        return result.Manual!;
    }

    private static string Refused(Manual manual, IndexAct act) => IndexEditing.Apply(manual, act).Refused ?? "it was done";

    private static List<string> Entries(Manual manual) =>
        [
            .. manual
                .Kept()
                .SelectMany(d => d.Blocks)
                .SelectMany(b => b.Inlines())
                .OfType<IndexEntry>()
                .Select(e =>
                    $"{e.Id.Value}: {string.Join('/', e.Headings)}"
                    + $"{(e.See is null ? "" : $" see {e.See}")}{(e.SeeAlso is null ? "" : $" also {e.SeeAlso}")}"
                    + $"{(e.FilesUnder is null ? "" : $" files {e.FilesUnder}")}{(e.Kind == EntryKind.Point ? "" : $" {e.Kind}")}"
                ),
        ];

    [Fact]
    public void A_heading_is_renamed_with_all_beneath_it_and_what_sends_its_reader_there_follows()
    {
        var done = Entries(Done(Whole(), new IndexAct.Move(["brake band"], ["band brake"])));
        Assert.Contains("e1: band brake", done);
        Assert.Contains("e2: band brake/lining of", done);
        Assert.Contains("s1: capstan see band brake", done);
        // In a passage it is renamed where it is kept.
        Assert.Contains("e6: band brake", done);
        Assert.Contains("e3: brake bands", done);
    }

    [Fact]
    public void Headings_are_merged_nested_and_lifted()
    {
        var merged = IndexEditing.Apply(Whole(), new IndexAct.Move(["brake bands"], ["brake band"]));
        Assert.Contains("Merging", merged.Words, StringComparison.Ordinal);
        Assert.Contains("e3: brake band", Entries(merged.Manual!));
        var nested = Done(Whole(), new IndexAct.Move(["lining"], ["brake band", "lining of"]));
        Assert.Contains("e4: brake band/lining of", Entries(nested));
        var lifted = Done(Whole(), new IndexAct.Move(["brake band", "lining of"], ["lining of"]));
        Assert.Contains("e2: lining of", Entries(lifted));
        // Beneath a third level nothing stands.
        var deep = Done(Whole(), new IndexAct.Move(["brake band"], ["winch", "brake band"]));
        Assert.Contains("e2: winch/brake band/lining of", Entries(deep));
        Assert.Contains("too deep", Refused(deep, new IndexAct.Move(["winch"], ["x", "winch"])), StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("brake band", "")]
    [InlineData("brake band", "   ")]
    [InlineData("brake band", "brake band")]
    [InlineData("brake band", "brake band›brake band")]
    [InlineData("brake band", "a›b›c›d")]
    [InlineData("no such heading", "x")]
    public void A_heading_cannot_go_everywhere(string from, string to) =>
        Assert.NotEqual("it was done", Refused(Whole(), new IndexAct.Move(from.Split('›'), to.Split('›'))));

    [Fact]
    public void A_heading_of_too_many_letters_is_refused_with_how_many_it_may_have()
    {
        var why = Refused(Whole(), new IndexAct.Move(["bridle"], [new string('x', 500)]));
        Assert.Contains("300", why, StringComparison.Ordinal);
        Assert.Contains("one line", Refused(Whole(), new IndexAct.Move(["bridle"], ["two\nlines"])), StringComparison.Ordinal);
        // Another script is a heading like any other.
        Assert.Contains("e5: лебёдка", Entries(Done(Whole(), new IndexAct.Move(["bridle"], ["лебёдка"]))));
    }

    [Fact]
    public void A_see_to_the_heading_that_it_came_to_stand_in_goes()
    {
        var result = IndexEditing.Apply(Whole(), new IndexAct.Move(["capstan"], ["brake band"]));
        Assert.DoesNotContain(Entries(result.Manual!), e => e.StartsWith("s1", StringComparison.Ordinal));
        Assert.Contains("“see” to itself", result.Words, StringComparison.Ordinal);
    }

    [Fact]
    public void A_heading_hands_its_pages_to_another_and_says_see()
    {
        var done = Done(Whole(), new IndexAct.TurnIntoSee(["brake bands"], ["brake band"], new Id("new")));
        Assert.Contains("e3: brake band", Entries(done));
        Assert.Contains("new: brake bands see brake band", Entries(done));
        // It sends on once more without a see to a see.
        Assert.Contains(
            "only says",
            Refused(done, new IndexAct.TurnIntoSee(["bridle"], ["brake bands"], new Id("n2"))),
            StringComparison.Ordinal
        );
        Assert.NotEqual("it was done", Refused(done, new IndexAct.TurnIntoSee(["bridle"], ["bridle"], new Id("n3"))));
        Assert.Contains(
            "also: brake band also lining",
            Entries(Done(Whole(), new IndexAct.AddSeeAlso(["brake band"], ["lining"], new Id("also"))))
        );
    }

    [Fact]
    public void Some_locators_go_to_another_heading_or_out_and_are_made_principal()
    {
        Assert.Contains("e6: spares", Entries(Done(Whole(), new IndexAct.MoveEntries([new Id("e6")], ["spares"]))));
        Assert.DoesNotContain(Entries(Done(Whole(), new IndexAct.TakeOutEntries([new Id("e5")]))), e =>
            e.StartsWith("e5", StringComparison.Ordinal)
        );
        Assert.Equal(2, Entries(Whole()).Count - Entries(Done(Whole(), new IndexAct.TakeOut(["brake band"]))).Count - 1);
        var principal = Done(Whole(), new IndexAct.SetPrincipal([new Id("e1")], true));
        Assert.True(principal.Divisions[0].Blocks[1].Inlines().OfType<IndexEntry>().Single().Principal);
        var words = principal.Divisions[0].Blocks[1].OwnSpans().Single();
        Assert.Equal("The band brake holds the drum.", words.PlainText());
        // Where an entry was taken out, the words on both sides are one run again.
        var taken = Done(Whole(), new IndexAct.TakeOutEntries([new Id("e1")]));
        Assert.Single(taken.Divisions[0].Blocks[1].OwnSpans().Single());
    }

    [Fact]
    public void What_a_heading_files_under_is_said_at_its_own_level()
    {
        var filed = Done(Whole(), new IndexAct.FileUnder(["brake band"], "band"));
        Assert.Contains("e1: brake band files band", Entries(filed));
        Assert.Contains("e2: brake band/lining of files band ›", Entries(filed));
        var both = Done(filed, new IndexAct.FileUnder(["brake band", "lining of"], "zinc"));
        Assert.Contains("e2: brake band/lining of files band › zinc", Entries(both));
        var index = Compose(both).Index;
        var heading = index.Headings.Single(h => h.Text == "brake band");
        Assert.Equal(("band", "zinc"), (heading.Files, heading.Under.Single().Files));
        // Nested elsewhere, each level keeps what it is filed under; renamed, its own words count.
        Assert.Contains(
            "e2: winch/brake band/lining of files  › band › zinc",
            Entries(Done(both, new IndexAct.Move(["brake band"], ["winch", "brake band"])))
        );
        Assert.Contains("e1: holding band", Entries(Done(both, new IndexAct.Move(["brake band"], ["holding band"]))));
        Assert.Contains("e1: brake band", Entries(Done(both, new IndexAct.FileUnder(["brake band"], ""))));
    }

    [Fact]
    public void A_point_reaches_to_the_end_of_its_section_and_an_open_range_is_closed_there()
    {
        var done = Done(Whole(), new IndexAct.ReachToSectionEnd(new Id("e1")));
        Assert.Equal(["e1: brake band RangeStart", "e2: brake band/lining of", "e1: brake band RangeEnd"], Entries(done).Skip(1).Take(3));
        Assert.DoesNotContain(Compose(done).LooseEnds, l => l.Kind == LooseEnds.LooseEndKind.RangeUnclosed);
        // Asked for twice, it ends once.
        Assert.Equal(Entries(done), Entries(Done(done, new IndexAct.ReachToSectionEnd(new Id("e1")))));
        Assert.NotEqual("it was done", Refused(Whole(), new IndexAct.ReachToSectionEnd(new Id("gone"))));
    }

    [Fact]
    public void Text_that_a_pattern_fixed_stays()
    {
        var manual = Whole();
        var first = manual.Divisions[0];
        var fixedText = manual with
        {
            Divisions =
            [
                first with
                {
                    Blocks = [.. first.Blocks.Select(b => b.Id == new Id("p") ? b with { FixedBy = "House" } : b)],
                },
                manual.Divisions[1],
            ],
        };
        Assert.Contains("House", Refused(fixedText, new IndexAct.Move(["brake band"], ["x"])), StringComparison.Ordinal);
        Assert.Contains("e5: x", Entries(Done(fixedText, new IndexAct.Move(["bridle"], ["x"]))));
    }

    [Fact]
    public void Whatever_is_done_words_stay_and_entries_keep_their_identities() =>
        Gen.Select(Rich.Manuals, Gen.Int[0, 9].Array[6], Gen.Int[0, 99].Array[6])
            .Sample(
                (seeds, kinds, picks) =>
                {
                    var manual = new Rich.Builder(hostile: false).Manual(seeds);
                    for (var i = 0; i < kinds.Length; i++)
                    {
                        var entries = manual
                            .Kept()
                            .SelectMany(d => d.Blocks)
                            .SelectMany(b => b.Inlines())
                            .OfType<IndexEntry>()
                            .Where(e => e.Kind != EntryKind.RangeEnd && e.Headings.Count > 0)
                            .ToList();
                        if (entries.Count == 0)
                            return;
                        var (one, other) = (entries[picks[i] % entries.Count], entries[(picks[i] * 7) % entries.Count]);
                        IndexAct act = kinds[i] switch
                        {
                            0 => new IndexAct.Move(one.Headings, other.Headings),
                            1 => new IndexAct.Move([one.Headings[0]], ["new " + picks[i]]),
                            2 => new IndexAct.Move([one.Headings[0]], [other.Headings[0], one.Headings[0]]),
                            3 => new IndexAct.TurnIntoSee([one.Headings[0]], [other.Headings[0]], new Id("see" + i)),
                            4 => new IndexAct.FileUnder(one.Headings, "files " + picks[i]),
                            5 => new IndexAct.TakeOutEntries([one.Id]),
                            6 => new IndexAct.SetPrincipal([one.Id], !one.Principal),
                            7 => new IndexAct.ReachToSectionEnd(one.Id),
                            8 => new IndexAct.AddSeeAlso(one.Headings, other.Headings, new Id("also" + i)),
                            _ => new IndexAct.MoveEntries([one.Id], other.Headings),
                        };
                        var result = IndexEditing.Apply(manual, act);
                        Assert.True(result.Refused is null != result.Manual is null);
                        if (result.Manual is not { } next)
                            continue;
                        Assert.Equal(Words(manual), Words(next));
                        Assert.Equal(manual.Kept().Count, next.Kept().Count);
                        var before = entries.Select(e => e.Id).ToHashSet();
                        var after = next.Kept().SelectMany(d => d.Blocks).SelectMany(b => b.Inlines()).OfType<IndexEntry>();
                        foreach (var e in after)
                            Assert.True(
                                before.Contains(e.Id) || e.Kind == EntryKind.RangeEnd || e.Id.Value is ['s', 'e', 'e', ..] or ['a', 'l', ..]
                            );
                        manual = next;
                    }
                },
                iter: 300
            );

    private static string Words(Manual manual) =>
        string.Join(
            '\n',
            manual.Kept().SelectMany(d => d.Blocks).SelectMany(b => b.WithInner()).SelectMany(b => b.OwnSpans()).Select(s => s.PlainText())
        );
}
