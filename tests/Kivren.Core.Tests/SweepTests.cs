using CsCheck;
using Kivren.Core.Content;
using Kivren.Core.Indexing;
using static Kivren.Core.Tests.Build;

namespace Kivren.Core.Tests;

public class SweepTests
{
    private static Manual Whole() =>
        Manual(
            Chapter(
                "a",
                "Winch",
                Head("h", HeadLevel.A, "Brake band"),
                Text(
                    "p",
                    new TextRun("The "),
                    new TextRun("band", SpanRoles.Strong),
                    new TextRun(" brake; the brake\u00A0band. A brake-band is no brakeband.")
                ),
                Text(
                    "q",
                    new TextRun("The band"),
                    new IndexEntry(new Id("e"), ["brake band"]),
                    new TextRun(" slips, the brake band slips.")
                ),
                new Listing(new Id("l"), "ini", "brake band = 3", [new TextRun("Settings of the brake band")]),
                new Table(
                    new Id("t"),
                    0,
                    [CellAlignment.Left],
                    [new TextRun("Brake bands")],
                    [new Row(new Id("t1"), [new Cell(new Id("t2"), [new TextRun("brake band")])])]
                ),
                Text("n", new TextRun("Note"), new Footnote(new Id("f"), [new TextRun("Brake bands wear.")])),
                Text("s", new TextRun("The safe working load (SWL) is painted on. Never pass the SWL."))
            )
        );

    private static readonly string[] Forms = ["brake band", "brake bands", "band brake", "brake-band"];

    [Fact]
    public void Every_place_is_found_in_the_order_of_the_text_with_what_it_stands_in()
    {
        var places = new Sweep("brake band", Forms).In(Whole(), ["brake band"]);
        Assert.Equal(
            [
                ("h", SweptIn.Head, false),
                ("p", SweptIn.Text, false),
                ("p", SweptIn.Text, false),
                ("p", SweptIn.Text, false),
                ("q", SweptIn.Text, true),
                ("l", SweptIn.Caption, false),
                ("l", SweptIn.Listing, false),
                ("t", SweptIn.Caption, false),
                ("t2", SweptIn.Table, false),
                ("n", SweptIn.Note, false),
            ],
            places.Select(p => (p.Inner.Value, p.In, p.Indexed))
        );
        Assert.Equal("band brake", places[1].Match);
        Assert.Equal("The ", places[1].Before);
        Assert.All(places.Where(p => p.Indexed), p => Assert.False(new Sweep("x", ["brake band"]).In(Whole(), ["other"])[0].Indexed));
    }

    [Fact]
    public void A_range_over_a_place_is_an_entry_for_it()
    {
        var manual = IndexEditing.Apply(Whole(), new IndexAct.ReachToSectionEnd(new Id("e"))).Manual!;
        var places = new Sweep("brake band", Forms).In(manual, ["brake band"]);
        Assert.Equal([false, false, false, false, true, true, true, true, true, true], places.Select(p => p.Indexed));
    }

    [Fact]
    public void Forms_are_those_that_stand_somewhere_each_place_counted_once()
    {
        var forms = Sweep.FormsOf(Whole(), "brake band").ToDictionary(f => f.Text, f => f);
        Assert.Equal(6, forms["brake band"].Count);
        Assert.Equal(2, forms["brake bands"].Count);
        Assert.Equal(1, forms["brake-band"].Count);
        Assert.Equal(1, forms["brakeband"].Count);
        Assert.Equal(1, forms["band brake"].Count);
        Assert.False(forms["band"].Likely);
        Assert.Equal(1, forms["band"].Count);
        Assert.DoesNotContain("brake-bands", forms.Keys);
        Assert.Equal("abbreviation", Sweep.FormsOf(Whole(), "safe working load").Single(f => f.Text == "SWL").Why);
        Assert.Equal("in full", Sweep.FormsOf(Whole(), "SWL").Single(f => f.Text == "safe working load").Why);
    }

    private static IndexAct.TakeSwept Take(Manual manual, params SweptAs[] choices)
    {
        var sweep = new Sweep("brake band", Forms);
        var places = sweep.In(manual, ["brake band"]);
        return new IndexAct.TakeSwept(
            sweep,
            ["brake band"],
            [.. choices.Select((c, i) => new SweptChoice(places[i].Block, places[i].Ordinal, c))],
            new Id("n")
        );
    }

    private static Manual Done(Manual manual, IndexAct act)
    {
        var result = IndexEditing.Apply(manual, act);
        Assert.Null(result.Refused);
        Assert.Empty(ManualCheck.Problems(result.Manual!));
        return result.Manual!;
    }

    [Fact]
    public void Places_are_taken_where_they_stand_and_what_was_left_is_new_no_more()
    {
        var done = Done(Whole(), Take(Whole(), SweptAs.Left, SweptAs.Taken, SweptAs.Principal, SweptAs.Left));
        var p = done.Divisions[0].Blocks[1].OwnSpans().Single();
        // Within the words of a role the entry stands at the very word.
        Assert.Equal(["The ", "◆", "band", " brake; the ", "◆", "brake\u00A0band. A brake-band is no brakeband."], Parts(p));
        Assert.Equal([false, true], p.OfType<IndexEntry>().Select(e => e.Principal));
        var again = new Sweep("brake band", Forms).In(done, ["brake band"]);
        Assert.Equal([true, false, false, true], again.Take(4).Select(x => x.Left));
        Assert.Equal([false, true, true], again.Take(3).Select(x => x.Indexed));
        // Said otherwise, a place that was left is new again.
        var head = (Head)done.Divisions[0].Blocks[0];
        var edited = done with
        {
            Divisions =
            [
                done.Divisions[0] with
                {
                    Blocks = [head with { Content = [new TextRun("The new brake band")] }, .. done.Divisions[0].Blocks.Skip(1)],
                },
            ],
        };
        Assert.False(new Sweep("brake band", Forms).In(edited, ["brake band"])[0].Left);
    }

    private static IEnumerable<string> Parts(IReadOnlyList<Inline> spans) => spans.Select(s => s is TextRun run ? run.Text : "◆");

    [Fact]
    public void Neighbours_are_joined_to_a_range_from_before_the_first_to_behind_the_last()
    {
        var done = Done(Whole(), Take(Whole(), SweptAs.Taken, SweptAs.RangeStart, SweptAs.Taken, SweptAs.RangeEnd));
        var p = done.Divisions[0].Blocks[1].OwnSpans().Single();
        var entries = p.OfType<IndexEntry>().ToList();
        Assert.Equal([EntryKind.RangeStart, EntryKind.Point, EntryKind.RangeEnd], entries.Select(e => e.Kind));
        Assert.Equal(entries[0].Id, entries[2].Id);
        Assert.EndsWith("brake-band", string.Concat(Parts(p.TakeWhile(s => s != entries[2]).ToList())), StringComparison.Ordinal);
        var open = Take(Whole(), SweptAs.RangeStart) with { };
        Assert.Contains("first and a last", IndexEditing.Apply(Whole(), open).Refused, StringComparison.Ordinal);
    }

    [Fact]
    public void Nothing_chosen_no_heading_and_no_phrase_are_refused()
    {
        Assert.NotNull(IndexEditing.Apply(Whole(), Take(Whole())).Refused);
        Assert.NotNull(IndexEditing.Apply(Whole(), Take(Whole(), SweptAs.Taken) with { Heading = ["  "] }).Refused);
        Assert.NotNull(IndexEditing.Apply(Whole(), Take(Whole(), SweptAs.Taken) with { Sweep = new Sweep("", [" "]) }).Refused);
        // Only left: no heading is needed.
        Assert.Null(IndexEditing.Apply(Whole(), Take(Whole(), SweptAs.Left) with { Heading = [] }).Refused);
    }

    [Fact]
    public void Whatever_is_taken_the_words_stay_as_they_are() =>
        Gen.Select(Rich.Manuals, Gen.Enum<SweptAs>().Array[40], Gen.Int[0, 200])
            .Sample(
                (seeds, choices, pick) =>
                {
                    var manual = new Rich.Builder(hostile: true).Manual(seeds);
                    var words = manual
                        .Kept()
                        .SelectMany(d => d.Blocks)
                        .SelectMany(b => b.Inlines())
                        .OfType<TextRun>()
                        .SelectMany(r => r.Text.Split(' '))
                        .Where(w => w.Length is > 1 and < 40 && w.All(char.IsLetterOrDigit))
                        .ToList();
                    if (words.Count == 0)
                        return;
                    var sweep = new Sweep("w", [words[pick % words.Count]]);
                    var places = sweep.In(manual, ["w"]);
                    var act = new IndexAct.TakeSwept(
                        sweep,
                        ["w"],
                        [
                            .. places
                                .Zip(choices)
                                .Select(p => new SweptChoice(
                                    p.First.Block,
                                    p.First.Ordinal,
                                    p.Second is SweptAs.RangeStart or SweptAs.RangeEnd ? SweptAs.Taken : p.Second
                                )),
                        ],
                        new Id("n")
                    );
                    if (IndexEditing.Apply(manual, act).Manual is not { } next)
                        return;
                    string Text(Manual m) =>
                        string.Join(
                            '\n',
                            m.Kept()
                                .SelectMany(d => d.Blocks)
                                .SelectMany(b => b.WithInner())
                                .SelectMany(b => b.OwnSpans())
                                .Select(s => s.PlainText())
                        );
                    Assert.Equal(Text(manual), Text(next));
                    var taken = places.Zip(choices).Count(p => p.Second != SweptAs.Left && p.First.In != SweptIn.Listing);
                    int Count(Manual m) => m.Kept().SelectMany(d => d.Blocks).SelectMany(b => b.Inlines()).Count(i => i is IndexEntry);
                    Assert.Equal(Count(manual) + taken, Count(next));
                },
                iter: 300
            );
}
