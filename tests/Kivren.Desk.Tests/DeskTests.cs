using CsCheck;
using Kivren.Core.Content;
using Kivren.Core.Finding;
using Kivren.Core.Planning;
using Kivren.Core.Reuse;
using Kivren.Formats.Package;

namespace Kivren.Desk.Tests;

/// <summary>The desk as a state machine, against a table of rows that does only what it is told.</summary>
public class DeskTests
{
    /// <summary>A database of dictionaries.</summary>
    private sealed class Table
    {
        public readonly Dictionary<string, (string Division, string Key, int Version, bool Deleted, string Body)> Blocks = new(
            StringComparer.Ordinal
        );
        public readonly Dictionary<string, DivisionHeader> Divisions = new(StringComparer.Ordinal);
        public readonly List<(string Writer, int Kind, bool TakenBack, DeskRows Rows)> Journal = [];

        public Table(DeskState state)
        {
            foreach (var division in state.Divisions)
            {
                Divisions[division.Id] = DivisionHeader.Of(division);
                foreach (var block in division.Blocks)
                    Blocks[block.Id] = (division.Id, block.OrderKey, block.Version, false, BlockWriter.ToJson(block.Block));
            }
        }

        public void Write(DeskRows rows, string writer, int kind)
        {
            foreach (var division in rows.Divisions)
            {
                Assert.Equal(division.OldVersion, Divisions.TryGetValue(division.Division.Id, out var was) ? was.Version : 0);
                Divisions[division.Division.Id] = division.After;
            }
            foreach (var block in rows.Blocks)
            {
                var there = Blocks.TryGetValue(block.Block.Id, out var was);
                Assert.Equal(block.OldVersion, there ? was.Version : 0);
                Assert.True(Divisions.ContainsKey(block.Division));
                var body = block.BodyChanged || !there ? BlockWriter.ToJson(block.Block.Block) : was.Body;
                Blocks[block.Block.Id] = (block.Division, block.Block.OrderKey, block.Block.Version, block.Deleted, body);
            }
            if (rows.Manual.Settings is { } settings)
                _settings = ManualSettings.Parse(settings.ToJson()).Or(_settings ?? new ManualSettings());
            Journal.Add((writer, kind, false, rows));
        }

        private ManualSettings? _settings;

        public DeskState Read(Manual manual)
        {
            var blocks = Blocks.Where(b => !b.Value.Deleted).ToLookup(b => b.Value.Division);
            return DeskState.Of(
                _settings?.In(manual) ?? manual,
                [
                    .. Divisions
                        .Where(d => !d.Value.Deleted)
                        .OrderBy(d => d.Value.OrderKey, StringComparer.Ordinal)
                        .Select(d =>
                        {
                            PlacedBlock[] own =
                            [
                                .. blocks[d.Key]
                                    .OrderBy(b => b.Value.Key, StringComparer.Ordinal)
                                    .Select(b => new PlacedBlock(BlockReader.Parse(b.Value.Body), b.Value.Key, b.Value.Version)),
                            ];
                            return new PlacedDivision(
                                d.Value.ToDivision(d.Key) with
                                {
                                    Blocks = [.. own.Select(b => b.Block)],
                                },
                                d.Value.OrderKey,
                                d.Value.Version,
                                own
                            );
                        }),
                ],
                0
            );
        }

        public Known KnownTo(DeskState state, IEnumerable<string> ids) =>
            new()
            {
                Blocks = ids.Where(Blocks.ContainsKey)
                    .Distinct()
                    .ToDictionary(
                        id => id,
                        id => new GoneBlock(
                            state.Manual.Id.Value,
                            Blocks[id].Division,
                            Blocks[id].Version,
                            Blocks[id].Deleted,
                            Blocks[id].Body
                        )
                    ),
                Divisions = Divisions
                    .Where(d => d.Value.Deleted)
                    .ToDictionary(
                        d => d.Key,
                        d => new GoneDivision(
                            d.Value.Version,
                            [
                                .. Blocks
                                    .Where(b => b.Value.Division == d.Key && !b.Value.Deleted)
                                    .OrderBy(b => b.Value.Key, StringComparer.Ordinal)
                                    .Select(b => new PlacedBlock(BlockReader.Parse(b.Value.Body), b.Value.Key, b.Value.Version)),
                            ]
                        )
                    ),
                Bodies = Journal
                    .SelectMany(j => j.Rows.Blocks)
                    .Where(b => b.Before?.Body is not null)
                    .GroupBy(b => (b.Block.Id, b.Before!.Version))
                    .ToDictionary(g => g.Key, g => g.First().Before!.Body!),
            };

        public DoneAct? Last(string writer, bool again, out int at)
        {
            at = -1;
            for (var j = Journal.Count - 1; j >= 0; j--)
                if (Journal[j] is { TakenBack: false } own && own.Writer == writer && (again ? own.Kind != 2 : own.Kind != 1))
                {
                    if (again && own.Kind == 0)
                        return null;
                    at = j;
                    break;
                }
            if (at < 0)
                return null;
            var act = at;
            BlockBefore? After(BlockRowChange b) =>
                Journal
                    .Skip(act + 1)
                    .SelectMany(j => j.Rows.Blocks)
                    .FirstOrDefault(n => n.Block.Id == b.Block.Id && n.Before?.Version == b.Block.Version)
                    ?.Before;
            return new DoneAct(
                [.. Journal[at].Rows.Blocks.Select(b => new DoneBlock(b.Block.Id, b.Before, b.Block.Version, b.Deleted, After(b)))],
                [.. Journal[at].Rows.Divisions.Select(d => new DoneDivision(d.Division.Id, d.Before, d.After))],
                Journal[at].Rows.Manual is { Settings: { } after, SettingsBefore: { } before } ? new DoneSettings(before, after) : null
            );
        }
    }

    /// <summary>Every word of these blocks that was there before an act is there after it.</summary>
    private static void Keeps(DeskState before, DeskOutcome outcome, Func<string, bool> these)
    {
        var after = DeskMachine.TextOf(outcome.State);
        foreach (var block in before.Divisions.SelectMany(d => d.Blocks).Where(b => these(b.Id)))
        foreach (
            var word in string.Concat(block.Block.Inlines().OfType<TextRun>().Select(r => r.Text)).Split(' ').Where(w => w.EndsWith('x'))
        )
            Assert.Contains(word, after, StringComparison.Ordinal);
    }

    [Fact]
    public void Taking_back_a_division_that_another_wrote_into_is_refused_and_keeps_the_words()
    {
        var manual = DeskMachine.Fresh("m");
        var state = DeskState.Of(
            manual,
            [
                .. manual.Divisions.Select(
                    (d, i) =>
                        new PlacedDivision(
                            d,
                            OrderKey.Even(i, 3),
                            1,
                            [.. d.Blocks.Select((b, j) => new PlacedBlock(b, OrderKey.Even(j, 4), 1))]
                        )
                ),
            ],
            0
        );
        var table = new Table(state);
        var added = Acts.Rework(
            state,
            new PlanAct.AddDivision(new Id("mnew"), DivisionKind.Chapter, "Added", new Id("md0")),
            table.KnownTo(state, [])
        );
        table.Write(added.Rows, "one", 0);
        BlockChange[] typed = [new("mtyped", "mnew", 0, DeskMachine.Body("mtyped", "another's words"), "", false)];
        var written = Acts.Write(added.State, ReadChange.Of(typed), null, "Typing", table.KnownTo(added.State, ["mtyped"]));
        table.Write(written.Rows, "two", 0);
        var back = Acts.TakeBack(written.State, table.Last("one", false, out _)!, "", table.KnownTo(written.State, []));
        Assert.Equal("mtyped", Assert.Single(back.Refused).Id);
        Assert.Contains("another's words", DeskMachine.TextOf(back.State), StringComparison.Ordinal);
    }

    [Fact]
    public void Whatever_writers_do_nothing_is_lost_nothing_doubled_keys_are_unique_and_memory_equals_the_rows()
    {
        Deed.Any.List[1, 40]
            .Sample(
                deeds =>
                {
                    var manual = DeskMachine.Fresh("m");
                    var state = DeskState.Of(
                        manual,
                        [
                            .. manual.Divisions.Select(
                                (d, i) =>
                                    new PlacedDivision(
                                        d,
                                        OrderKey.Even(i, 3),
                                        1,
                                        [.. d.Blocks.Select((b, j) => new PlacedBlock(b, OrderKey.Even(j, 4), 1))]
                                    )
                            ),
                        ],
                        0
                    );
                    var table = new Table(state);
                    var machine = new DeskMachine(3);
                    foreach (var deed in deeds)
                    {
                        var writer = machine.Writer(deed);
                        DeskOutcome outcome;
                        var kind = 0;
                        if (machine.Typing(deed, state, "m", out var word) is { } changes)
                        {
                            outcome = Acts.Write(
                                state,
                                ReadChange.Of(changes),
                                null,
                                "Typing",
                                table.KnownTo(state, changes.Select(c => c.Id))
                            );
                            if (word is not null && outcome.Refused.Count == 0)
                                Assert.Contains(word, DeskMachine.TextOf(outcome.State), StringComparison.Ordinal);
                            // Sent a second time it changes nothing.
                            if (outcome.Refused.Count == 0 && changes[0].Body is not null && outcome.Accepted[0].Merged is null)
                            {
                                var again = Acts.Write(
                                    outcome.State,
                                    ReadChange.Of(changes),
                                    null,
                                    "Typing",
                                    table.KnownTo(outcome.State, changes.Select(c => c.Id))
                                );
                                if (changes[0].After is null)
                                    Assert.True(again.Rows.IsEmpty);
                            }
                        }
                        else if (deed.Kind < 76)
                        {
                            var (sought, with) = deed.What % 2 == 0 ? ("x", "z") : ("z", "x");
                            outcome = Acts.Replace(state, new Replacing(new Sought(sought, SameCase: true), with, null, null));
                            if (outcome.Why is null)
                                Assert.Equal(
                                    DeskMachine.TextOf(state).Replace(sought, with, StringComparison.Ordinal),
                                    DeskMachine.TextOf(outcome.State)
                                );
                        }
                        else if (deed.Kind == 78)
                        {
                            outcome = Acts.Change(state, machine.Pointing(deed, state, "m"));
                            Keeps(state, outcome, _ => true);
                        }
                        else if (deed.Kind < 79)
                        {
                            var act = machine.Reusing(deed, state, "m");
                            outcome = Acts.Reuse(state, act, table.KnownTo(state, table.Blocks.Keys));
                            if (act is not ReuseAct.TakeOutPassage)
                                Keeps(state, outcome, _ => true);
                        }
                        else if (deed.Kind < 85)
                        {
                            var act = machine.Planning(deed, state, "m");
                            outcome = Acts.Rework(state, act, table.KnownTo(state, table.Blocks.Keys));
                            if (act is not PlanAct.TakeOut)
                                Keeps(state, outcome, _ => true);
                        }
                        else
                        {
                            var redo = deed.Kind >= 94;
                            if (table.Last(writer.Name, redo, out var at) is not { } done)
                                continue;
                            outcome = Acts.TakeBack(state, done, "", table.KnownTo(state, done.Blocks.Select(b => b.Id)));
                            kind = redo ? 2 : 1;
                            // What the act itself did not touch stays; a division that it took out whole goes whole again.
                            var own = done.Blocks.Select(b => b.Id).ToHashSet();
                            var whole = done
                                .Divisions.Select(d => d.Id)
                                .Where(d => state.Division(d) is { } now && !now.Blocks.Any(b => own.Contains(b.Id)))
                                .ToHashSet();
                            Keeps(state, outcome, id => !own.Contains(id) && !whole.Contains(state.DivisionOf(id)!));
                            if (outcome.Refused.Count == 0)
                                table.Journal[at] = table.Journal[at] with { TakenBack = true };
                        }
                        if (outcome.Why is not null)
                            continue;
                        DeskMachine.Holds(outcome.State);
                        table.Write(outcome.Rows, writer.Name, kind);
                        state = outcome.State;
                        Assert.Equal(DeskMachine.TextOf(table.Read(manual)), DeskMachine.TextOf(state));
                    }
                },
                iter: 1_500
            );
    }

    [Fact]
    public void Undoing_all_acts_of_the_only_writer_brings_the_text_back_and_redoing_them_forth()
    {
        Deed.Any.List[1, 12]
            .Sample(
                deeds =>
                {
                    var manual = DeskMachine.Fresh("m");
                    var state = DeskState.Of(
                        manual,
                        [
                            .. manual.Divisions.Select(
                                (d, i) =>
                                    new PlacedDivision(
                                        d,
                                        OrderKey.Even(i, 3),
                                        1,
                                        [.. d.Blocks.Select((b, j) => new PlacedBlock(b, OrderKey.Even(j, 4), 1))]
                                    )
                            ),
                        ],
                        0
                    );
                    var table = new Table(state);
                    var machine = new DeskMachine(1);
                    var texts = new List<string> { DeskMachine.TextOf(state) };
                    foreach (var deed in deeds)
                    {
                        machine.Writer(deed).Look(state);
                        var outcome =
                            machine.Typing(deed, state, "m", out _) is { } changes
                                ? Acts.Write(state, ReadChange.Of(changes), null, "Typing", table.KnownTo(state, changes.Select(c => c.Id)))
                            : deed.Kind < 73 ? Acts.Change(state, machine.Pointing(deed, state, "m"))
                            : deed.Kind < 80 ? Acts.Reuse(state, machine.Reusing(deed, state, "m"), table.KnownTo(state, table.Blocks.Keys))
                            : Acts.Rework(state, machine.Planning(deed, state, "m"), table.KnownTo(state, table.Blocks.Keys));
                        if (outcome.Why is not null || outcome.Rows.IsEmpty)
                            continue;
                        table.Write(outcome.Rows, "w0", 0);
                        state = outcome.State;
                        texts.Add(DeskMachine.TextOf(state));
                    }
                    void TakeBack(bool again)
                    {
                        var done = table.Last("w0", again, out var at)!;
                        var outcome = Acts.TakeBack(state, done, "", table.KnownTo(state, done.Blocks.Select(b => b.Id)));
                        Assert.Empty(outcome.Refused);
                        table.Journal[at] = table.Journal[at] with { TakenBack = true };
                        table.Write(outcome.Rows, "w0", again ? 2 : 1);
                        state = outcome.State;
                        DeskMachine.Holds(state);
                    }
                    for (var t = texts.Count - 2; t >= 0; t--)
                    {
                        TakeBack(false);
                        Assert.Equal(texts[t], DeskMachine.TextOf(state));
                    }
                    for (var t = 1; t < texts.Count; t++)
                    {
                        TakeBack(true);
                        Assert.Equal(texts[t], DeskMachine.TextOf(state));
                    }
                },
                iter: 800
            );
    }

    private static DeskState Opened(params string[] blocks)
    {
        var division = new Division(
            new Id("d"),
            DivisionKind.Chapter,
            "D",
            [.. blocks.Select(b => new Paragraph(new Id(b), "body", [new TextRun(b)]))]
        );
        return DeskState.Of(
            new Manual(new Id("m"), "M", [division]),
            [
                new PlacedDivision(
                    division,
                    "i",
                    1,
                    [.. division.Blocks.Select((b, i) => new PlacedBlock(b, OrderKey.Even(i, blocks.Length), 1))]
                ),
            ],
            0
        );
    }

    [Fact]
    public void Words_are_replaced_in_titles_too_but_not_where_a_pattern_fixed_them_or_a_chosen_block_changed_since()
    {
        var state = Opened("one red lamp", "two red lamps", "a red, red lamp");
        var divisions = state.Divisions.Select(d => d with { Division = d.Division with { Title = "Red lamps" } }).ToList();
        var blocks = divisions[0].Blocks.ToArray();
        blocks[1] = blocks[1] with { Block = blocks[1].Block with { FixedBy = "Notice" } };
        divisions[0] = divisions[0] with
        {
            Blocks = blocks,
            Division = divisions[0].Division with { Blocks = [.. blocks.Select(b => b.Block)] },
        };
        state = DeskState.Of(state.Manual, divisions, 0);
        var all = Acts.Replace(state, new Replacing(new Sought("red"), "green", null, null));
        Assert.Equal("Replacing “red” by “green” in 4 places; 1 left as they are", all.Words);
        Assert.Equal("green lamps", all.State.Divisions[0].Division.Title);
        Assert.Equal(["one green lamp", "two red lamps", "a green, green lamp"], Words(all.State));
        // Chosen one by one, as they stood.
        var (first, third) = (blocks[0], blocks[2]);
        Replacing Chosen(int version) =>
            new(
                new Sought("red"),
                "green",
                null,
                new Dictionary<string, ChosenPlaces>
                {
                    [first.Id] = new(version, new HashSet<int> { 0 }),
                    [third.Id] = new(third.Version, new HashSet<int> { 1 }),
                }
            );
        Assert.Equal(["one green lamp", "two red lamps", "a red, green lamp"], Words(Acts.Replace(state, Chosen(first.Version)).State));
        var stale = Acts.Replace(state, Chosen(first.Version + 1));
        Assert.Equal(["one red lamp", "two red lamps", "a red, green lamp"], Words(stale.State));
        Assert.EndsWith("1 left as they are", stale.Words, StringComparison.Ordinal);
        Assert.NotNull(Acts.Replace(state, new Replacing(new Sought("blue"), "green", null, null)).Why);
        // The text of a variable stands in no division.
        var named = Acts.Reuse(state, new ReuseAct.SetVariable("paint", "blue lacquer"), Known.Nothing).State;
        var blue = new Sought("blue");
        Assert.Equal(
            "green lacquer",
            Assert.Single(Acts.Replace(named, new Replacing(blue, "green", null, null)).State.Manual.Variables).Text
        );
        Assert.NotNull(Acts.Replace(named, new Replacing(blue, "green", state.Divisions[0].Id, null)).Why);
        var none = new Dictionary<string, ChosenPlaces> { [Replacing.Variable("paint")] = new(0, new HashSet<int> { 1 }) };
        Assert.NotNull(Acts.Replace(named, new Replacing(blue, "green", null, none)).Why);
        Assert.NotNull(Acts.Replace(state, new Replacing(new Sought("(", Pattern: true), "green", null, null)).Why);
        // A group named over and over would fill any memory: it is told, and nothing is done.
        var many = Opened([new string('a', 4_000), new string('b', 4_000)]);
        var tooMuch = Acts.Replace(
            many,
            new Replacing(new Sought(".+", Pattern: true), string.Concat(Enumerable.Repeat("$0", 1_000)), null, null)
        );
        Assert.Contains("less at a time", tooMuch.Why, StringComparison.Ordinal);
        Assert.Same(many, tooMuch.State);
    }

    private static IEnumerable<string> Words(DeskState state) =>
        state.Divisions[0].Blocks.Select(b => ((Paragraph)b.Block).Content.PlainText());

    [Fact]
    public void Five_thousand_new_paragraphs_are_one_act_with_short_keys()
    {
        var state = Opened("a", "z");
        var changes = Enumerable
            .Range(0, 5_000)
            .Select(i => new BlockChange($"n{i}", "d", 0, DeskMachine.Body($"n{i}", $"word {i}"), i == 0 ? "a" : $"n{i - 1}", false))
            .ToList();
        var outcome = Acts.Write(state, ReadChange.Of(changes), null, "Pasting", Known.Nothing);
        Assert.Equal(["a", .. Enumerable.Range(0, 5_000).Select(i => $"n{i}"), "z"], outcome.State.Divisions[0].Blocks.Select(b => b.Id));
        Assert.All(outcome.State.Divisions[0].Blocks, b => Assert.InRange(b.OrderKey.Length, 1, 12));
        DeskMachine.Holds(outcome.State);
    }

    [Fact]
    public void Two_divisions_added_after_one_stand_apart()
    {
        var state = Opened("a");
        foreach (var name in new[] { "x", "y", "z" })
            state = Acts.Rework(state, new PlanAct.AddDivision(new Id(name), DivisionKind.Chapter, name, new Id("d")), Known.Nothing).State;
        DeskMachine.Holds(state);
        Assert.Equal(["d", "z", "y", "x"], state.Divisions.Select(d => d.Id));
    }

    [Theory, InlineData("nothing\0"), InlineData("made up"), InlineData("")]
    public void A_role_is_founded_on_what_there_is(string foundation)
    {
        Assert.Contains("founded on", Acts.AddRole(Opened("a"), "Zap", foundation).Why, StringComparison.Ordinal);
        Assert.Null(Acts.AddRole(Opened("a"), "Zap", "admonition:warning").Why);
    }

    [Fact]
    public void How_a_division_begins_its_conditions_and_its_state_come_back_with_it()
    {
        var state = Opened("a", "b");
        var extra = new Division(new Id("e"), DivisionKind.Chapter, "E", [new Paragraph(new Id("e1"), "body", [])])
        {
            Begins = Begins.Verso,
            State = WorkState.Final,
            Language = "de",
        };
        state = DeskState.Of(
            state.Manual,
            [.. state.Divisions, new PlacedDivision(extra, "q", 1, [new PlacedBlock(extra.Blocks[0], "i", 1)])],
            0
        );
        var taken = Acts.Rework(state, new PlanAct.TakeOut([new Id("e")]), Known.Nothing);
        var row = Assert.Single(taken.Rows.Divisions);
        var done = new DoneAct([], [new DoneDivision("e", row.Before, row.After)], null);
        var known = new Known { Divisions = new Dictionary<string, GoneDivision> { ["e"] = new(2, state.Divisions[1].Blocks) } };
        var back = Acts.TakeBack(taken.State, done, "", known).State.Division("e")!;
        Assert.Equal(extra with { Blocks = [] }, back.Division with { Blocks = [] });
        Assert.Equal(["e1"], back.Blocks.Select(b => b.Id));
    }
}
