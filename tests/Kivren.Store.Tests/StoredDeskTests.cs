using CsCheck;
using Kivren.Core.Content;
using Kivren.Core.Planning;
using Kivren.Core.Reuse;
using Kivren.Desk.Tests;
using Kivren.Formats.Package;
using Microsoft.EntityFrameworkCore;

namespace Kivren.Store.Tests;

/// <summary>A desk on a real database, with lost answers, restarts and faults at every call.</summary>
public class StoredDeskTests(TestShelf shelf) : IClassFixture<TestShelf>
{
    private async Task<StoredDesk> Opened(string id, int partSize = 500)
    {
        await using (var db = shelf.CreateDbContext())
            await ManualSaver.Save(
                db,
                new Package(DeskMachine.Fresh(id), new Dictionary<string, byte[]>()),
                TimeProvider.System.GetUtcNow()
            );
        return await Reopened(id, partSize);
    }

    private async Task<StoredDesk> Reopened(string id, int partSize = 500)
    {
        var desk = new StoredDesk(shelf, id, TimeProvider.System) { PartSize = partSize };
        await desk.Read();
        return desk;
    }

    private static string Fresh() => "t" + Guid.NewGuid().ToString("N")[..12];

    private static async Task<StoredAct> Do(StoredDesk desk, DeskMachine machine, Deed deed, string id, string batch)
    {
        var writer = machine.Writer(deed).Name;
        if (machine.Typing(deed, desk.State!, id, out _) is { } changes)
            return await desk.Write(batch, writer, "Typing", changes, null);
        if (deed.Kind < 73)
            return await desk.Change(batch, writer, state => machine.Pointing(deed, state, id));
        if (deed.Kind < 77)
            return await desk.Reuse(batch, writer, machine.Reusing(deed, desk.State!, id));
        if (deed.Kind < 85)
            return await desk.Rework(batch, writer, machine.Planning(deed, desk.State!, id));
        return await desk.TakeBack(writer, deed.Kind >= 94);
    }

    [Fact]
    public async Task Whatever_writers_do_memory_is_what_the_database_holds()
    {
        await Gen.Select(Deed.Any.List[5, 30], Gen.Int[0, 9])
            .SampleAsync(
                async (deeds, restart) =>
                {
                    var id = Fresh();
                    var desk = await Opened(id);
                    var machine = new DeskMachine(4);
                    for (var d = 0; d < deeds.Count; d++)
                    {
                        await Do(desk, machine, deeds[d], id, Fresh());
                        DeskMachine.Holds(desk.State!);
                        if (d % 10 != restart)
                            continue;
                        var before = DeskMachine.TextOf(desk.State!);
                        desk = await Reopened(id);
                        Assert.Equal(before, DeskMachine.TextOf(desk.State!));
                    }
                    Assert.Equal(DeskMachine.TextOf((await Reopened(id)).State!), DeskMachine.TextOf(desk.State!));
                },
                iter: 12,
                threads: 1
            );
    }

    [Fact]
    public async Task The_manual_brought_back_says_what_it_said_whatever_was_done_since()
    {
        await Gen.Select(Deed.Any.List[2, 25], Gen.Int[0, 99])
            .SampleAsync(
                async (deeds, back) =>
                {
                    var id = Fresh();
                    var desk = await Opened(id);
                    var machine = new DeskMachine(3);
                    var done = new List<(long Act, string Before)>();
                    foreach (var deed in deeds)
                    {
                        var before = DeskMachine.TextOf(desk.State!);
                        if ((await Do(desk, machine, deed, id, Fresh())).Act is > 0 and var act)
                            done.Add((act, before));
                    }
                    if (done.Count == 0)
                        return;
                    var (to, was) = done[back % done.Count];
                    var stands = DeskMachine.TextOf(desk.State!);
                    var restored = await desk.Restore(Fresh(), "w", new RestoredPart(new HistoryScope(null, null), to));
                    Assert.Empty(restored.Refused);
                    Assert.Equal(was, DeskMachine.TextOf(desk.State!));
                    DeskMachine.Holds(desk.State!);
                    Assert.Equal(was, DeskMachine.TextOf((await Reopened(id)).State!));
                    if (restored.Act == 0)
                        return;
                    Assert.Empty((await desk.TakeBack("w", false)).Refused);
                    Assert.Equal(stands, DeskMachine.TextOf(desk.State!));
                },
                iter: 14,
                threads: 1
            );
    }

    [Fact]
    public async Task History_tells_what_a_block_said_and_brings_it_back_alone()
    {
        var id = Fresh();
        var desk = await Opened(id);
        Task<StoredAct> Type(string block, string text) =>
            desk.Write(
                Fresh(),
                "w",
                "Typing",
                [new BlockChange(block, $"{id}d0", desk.State!.Block(block)!.Version, DeskMachine.Body(block, text), null, false)],
                null
            );
        await Type($"{id}d0b0", "One");
        await Type($"{id}d0b0", "One two");
        var third = await Type($"{id}d0b1", "Other");
        await desk.Write(Fresh(), "v", "Taking out a block", [new BlockChange($"{id}d0b0", $"{id}d0", 3, null, null, true)], null);
        await using var db = shelf.CreateDbContext();
        var ofBlock = await History.Of(db, id, new HistoryScope(null, $"{id}d0b0"), null);
        Assert.Equal(["Taking out a block", "Typing"], ofBlock.Select(e => e.Label));
        var typed = Assert.Single(ofBlock[1].Blocks);
        Assert.Contains("base00", typed.Before, StringComparison.Ordinal);
        Assert.Contains("One two", typed.After, StringComparison.Ordinal);
        Assert.Null(Assert.Single(ofBlock[0].Blocks).After);
        Assert.Equal(2, (await History.Of(db, id, new HistoryScope($"{id}d0", null), null)).Count);
        Assert.Empty(await History.Of(db, id, new HistoryScope($"{id}d1", null), null));
        Assert.Empty(await History.Of(db, id, new HistoryScope(null, null), ofBlock[1].First));
        await desk.Restore(Fresh(), "w", new RestoredPart(new HistoryScope(null, $"{id}d0b0"), third.Act));
        Assert.Equal("One two", ((Paragraph)desk.State!.Block($"{id}d0b0")!.Block).Content.PlainText());
        Assert.Equal("Other", ((Paragraph)desk.State!.Block($"{id}d0b1")!.Block).Content.PlainText());
        Assert.Equal($"{id}d0b0", desk.State!.Divisions[0].Blocks[0].Id);
        var division = new HistoryScope($"{id}d0", null);
        await desk.Restore(Fresh(), "w", new RestoredPart(division, ofBlock[1].First));
        Assert.Contains("base01", DeskMachine.TextOf(desk.State!), StringComparison.Ordinal);
        Assert.NotNull((await desk.Restore(Fresh(), "w", new RestoredPart(division, ofBlock[1].First))).Why);
    }

    public static TheoryData<string> Kinds =>
        ["typing", "new block", "plan", "take back", "paste", "paste in parts", "role", "move", "variable", "passage"];

    /// <summary>Each call to the database fails once, also the one that told that it is committed. Afterwards memory is what the
    /// database holds, and the same act sent again is done once.</summary>
    [Theory, MemberData(nameof(Kinds))]
    public async Task A_call_that_fails_leaves_memory_as_the_database_is_and_the_act_sent_again_is_done_once(string kind)
    {
        var lostAnswers = 0;
        for (var call = 0; ; call++)
        {
            var id = Fresh();
            var desk = await Opened(id, kind == "paste in parts" ? 60 : 500);
            var first = new BlockChange($"{id}d0b0", $"{id}d0", 1, DeskMachine.Body($"{id}d0b0", "First words"), null, false);
            await desk.Write(Fresh(), "w", "Typing", [first], null);
            var batch = Fresh();
            Task<StoredAct> Act() =>
                kind switch
                {
                    "typing" => desk.Write(
                        batch,
                        "w",
                        "Typing",
                        [first with { BasedOn = 2, Body = DeskMachine.Body($"{id}d0b0", "Second words") }],
                        null
                    ),
                    "new block" => desk.Write(
                        batch,
                        "w",
                        "Adding",
                        [new BlockChange($"{id}x", $"{id}d0", 0, DeskMachine.Body($"{id}x", "New"), $"{id}d0b0", false)],
                        null
                    ),
                    "variable" => desk.Reuse(batch, "w", new ReuseAct.SetVariable("product", "Tarn 6")),
                    "passage" => desk.Reuse(
                        batch,
                        "w",
                        new ReuseAct.AddPassage(new Id($"{id}q"), "Kept", [new Id($"{id}d0b0"), new Id($"{id}d0b1")])
                    ),
                    "plan" => desk.Rework(batch, "w", new PlanAct.Join(new Id($"{id}d1"))),
                    "paste" or "paste in parts" => desk.Write(
                        batch,
                        "w",
                        "Pasting",
                        [
                            .. Enumerable
                                .Range(0, 150)
                                .Select(i => new BlockChange(
                                    $"{id}p{i}",
                                    $"{id}d0",
                                    0,
                                    DeskMachine.Body($"{id}p{i}", $"P{i}"),
                                    i == 0 ? $"{id}d0b0" : $"{id}p{i - 1}",
                                    false
                                )),
                        ],
                        null
                    ),
                    "role" => desk.AddRole("w", "Pilot’s remark", "body"),
                    "move" => desk.Write(
                        batch,
                        "w",
                        "Moving",
                        [new BlockChange($"{id}d0b1", $"{id}d0", 1, null, $"{id}d0b3", false)],
                        null
                    ),
                    _ => desk.TakeBack("w", false),
                };
            shelf.Faults.At(call);
            StoredAct? done = null;
            try
            {
                done = await Act();
            }
            catch (Exception) when (shelf.Faults.Came)
            {
                // The act was not answered.
            }
            var came = shelf.Faults.Came;
            shelf.Faults.At(-1);
            if (!came)
            {
                Assert.True(call > 3, "No call was made to fail.");
                break;
            }
            Assert.False(desk.IsLost && done is not null);
            if (desk.IsLost)
                desk = await Reopened(id, desk.PartSize);
            Assert.Equal(DeskMachine.TextOf((await Reopened(id)).State!), DeskMachine.TextOf(desk.State!));
            if (done is not null)
                continue;
            if (kind is "typing" or "new block" or "plan" or "paste" or "paste in parts" or "move")
            {
                var before = DeskMachine.TextOf(desk.State!);
                var again = await Act();
                Assert.True(again.Why is null && again.Refused.Count == 0, again.Why ?? again.Refused.FirstOrDefault()?.Why);
                if (before == DeskMachine.TextOf(desk.State!))
                    lostAnswers++;
            }
            DeskMachine.Holds(desk.State!);
            Assert.Equal(DeskMachine.TextOf((await Reopened(id)).State!), DeskMachine.TextOf(desk.State!));
        }
        if (kind is "typing" or "new block" or "paste")
            Assert.True(lostAnswers > 0, "No answer was lost after the commit.");
    }

    /// <summary>Long pastes go in by parts of three, others write between them, and each undo takes back a whole one.</summary>
    [Fact]
    public async Task A_batch_stored_in_parts_is_one_act_to_its_writer_and_lets_others_in_between()
    {
        await Gen.Select(Gen.Int[4, 20], Gen.Int[0, 6], Gen.Int[0, 3])
            .SampleAsync(
                async (count, others, turns) =>
                {
                    var id = Fresh();
                    var desk = await Opened(id, partSize: 3);
                    var before = DeskMachine.TextOf(desk.State!);
                    var pasted = Enumerable
                        .Range(0, count)
                        .Select(i => new BlockChange(
                            $"{id}p{i}",
                            $"{id}d0",
                            0,
                            DeskMachine.Body($"{id}p{i}", $"Pasted {i} "),
                            i == 0 ? $"{id}d0b0" : $"{id}p{i - 1}",
                            false
                        ))
                        .Append(new BlockChange($"{id}d0b1", $"{id}d0", 1, DeskMachine.Body($"{id}d0b1", "Changed too"), null, false))
                        .ToList();
                    var batch = Fresh();
                    var parts = desk.Parts(batch, pasted, null);
                    Assert.Equal((count + 3) / 3, parts.Count);
                    for (var n = 0; n < parts.Count; n++)
                    {
                        Assert.Empty((await desk.Write(parts[n], "w", "Pasting", null)).Refused);
                        if (n < others)
                            Assert.Empty(
                                (
                                    await desk.Write(
                                        Fresh(),
                                        "v",
                                        "Typing",
                                        [
                                            new BlockChange(
                                                $"{id}d1b0",
                                                $"{id}d1",
                                                n + 1,
                                                DeskMachine.Body($"{id}d1b0", "Other " + n),
                                                null,
                                                false
                                            ),
                                        ],
                                        null
                                    )
                                ).Refused
                            );
                    }
                    // Sent again, as after a lost answer: each part is answered as it was.
                    var text = DeskMachine.TextOf(desk.State!);
                    var again = await desk.Write(batch, "w", "Pasting", pasted, null);
                    Assert.Equal(pasted.Select(p => p.Id).Order(), again.Accepted.Select(a => a.Id).Order());
                    Assert.Equal(text, DeskMachine.TextOf(desk.State!));
                    for (var i = 0; i < count; i++)
                        Assert.True(text.Contains($"Pasted {i} ", StringComparison.Ordinal));
                    await using (var db = shelf.CreateDbContext())
                        if (others == 0)
                            Assert.Equal(
                                (count + 1, "Pasting"),
                                (await History.Of(db, id, new HistoryScope(null, null), null))
                                    .Select(e => (e.Blocks.Count + e.More, e.Label))
                                    .Single()
                            );
                    for (var turn = 0; turn <= turns; turn++)
                    {
                        Assert.Empty((await desk.TakeBack("w", again: false)).Refused);
                        Assert.DoesNotContain("Pasted", DeskMachine.TextOf(desk.State!), StringComparison.Ordinal);
                        Assert.DoesNotContain("Changed too", DeskMachine.TextOf(desk.State!), StringComparison.Ordinal);
                        if (others == 0)
                            Assert.Equal(before, DeskMachine.TextOf(desk.State!));
                        Assert.Equal(0, (await desk.TakeBack("w", again: false)).Act);
                        Assert.Empty((await desk.TakeBack("w", again: true)).Refused);
                        Assert.Equal(text, DeskMachine.TextOf(desk.State!));
                        DeskMachine.Holds(desk.State!);
                    }
                    Assert.Equal(text, DeskMachine.TextOf((await Reopened(id)).State!));
                },
                iter: 12,
                threads: 1
            );
    }

    /// <summary>Acts that came while another was stored go into one transaction; whichever call of it fails, what was answered is
    /// stored, and what was not is done once when it is sent again.</summary>
    [Fact]
    public async Task Acts_that_wait_together_are_each_done_once_whichever_call_fails()
    {
        for (var call = 0; ; call++)
        {
            var id = Fresh();
            var desk = await Opened(id);
            var batches = Enumerable.Range(0, 6).Select(_ => Fresh()).ToArray();
            Task<StoredAct> Act(int n) =>
                n < 4
                    // Four writers on blocks of their own, the last two on one.
                    ? desk.Write(
                        batches[n],
                        "w" + n,
                        "Typing",
                        [
                            new BlockChange(
                                $"{id}d0b{Math.Min(n, 2)}",
                                $"{id}d0",
                                1,
                                DeskMachine.Body(
                                    $"{id}d0b{Math.Min(n, 2)}",
                                    n == 3 ? "Words of 3 base02 words here" : $"base0{n} words here Words of {n}"
                                ),
                                null,
                                false
                            ),
                        ],
                        null
                    )
                    : desk.Write(
                        batches[n],
                        "w" + n,
                        "Adding",
                        [new BlockChange($"{id}x{n}", $"{id}d0", 0, DeskMachine.Body($"{id}x{n}", "Words of " + n), $"{id}d0b0", false)],
                        null
                    );
            shelf.Faults.At(call);
            var acts = Enumerable.Range(0, 6).Select(Act).ToArray();
            await Task.WhenAll(acts).ContinueWith(_ => { }, TaskScheduler.Default);
            var came = shelf.Faults.Came;
            shelf.Faults.At(-1);
            if (desk.IsLost)
                desk = await Reopened(id);
            Assert.Equal(DeskMachine.TextOf((await Reopened(id)).State!), DeskMachine.TextOf(desk.State!));
            for (var n = 0; n < 6; n++)
                if (acts[n].IsCompletedSuccessfully)
                {
                    var done = await acts[n];
                    Assert.True(
                        DeskMachine.TextOf(desk.State!).Contains("Words of " + n, StringComparison.Ordinal),
                        $"call {call}, act {n}: {string.Join(' ', done.Refused)}\n{DeskMachine.TextOf(desk.State!)}"
                    );
                }
                else
                    Assert.True(came);
            // All are sent again, whether they were answered or not.
            var again = new List<StoredAct>();
            for (var n = 0; n < 6; n++)
                again.Add(await Act(n));
            Assert.All(again, a => Assert.Empty(a.Refused));
            Assert.Equal(6, again.Select(a => a.Act).Distinct().Count());
            var text = DeskMachine.TextOf(desk.State!);
            for (var n = 0; n < 6; n++)
                Assert.Equal(2, text.Split("Words of " + n).Length);
            DeskMachine.Holds(desk.State!);
            Assert.Equal(DeskMachine.TextOf((await Reopened(id)).State!), text);
            if (came)
                continue;
            Assert.True(call > 6, "No call was made to fail.");
            return;
        }
    }

    [Fact]
    public async Task A_state_that_cannot_be_read_again_is_never_taken_for_an_empty_manual()
    {
        var id = Fresh();
        var desk = await Opened(id);
        var text = DeskMachine.TextOf(desk.State!);
        for (var call = 0; call < 6; call++)
        {
            shelf.Faults.At(call);
            await Assert.ThrowsAnyAsync<Exception>(() => desk.Read());
            shelf.Faults.At(-1);
            Assert.Equal(text, DeskMachine.TextOf(desk.State!));
        }
    }

    [Fact]
    public async Task Two_desks_on_one_manual_lose_nothing_and_give_no_two_blocks_one_place()
    {
        var id = Fresh();
        var (one, two) = (await Opened(id), await Reopened(id));
        for (var n = 0; n < 12; n++)
        {
            var desk = n % 2 == 0 ? one : two;
            var done = await desk.Write(
                Fresh(),
                $"w{n % 2}",
                "Adding",
                [new BlockChange($"{id}n{n}", $"{id}d0", 0, DeskMachine.Body($"{id}n{n}", $"N{n}"), $"{id}d0b0", false)],
                null
            );
            Assert.Empty(done.Refused);
        }
        var state = (await Reopened(id)).State!;
        DeskMachine.Holds(state);
        Assert.Equal(16, state.Division($"{id}d0")!.Blocks.Count);
    }

    [Fact]
    public async Task Connections_that_end_in_the_middle_are_opened_again_and_nothing_is_lost()
    {
        var id = Fresh();
        var desk = await Opened(id);
        await shelf.EndConnections();
        var batch = Fresh();
        var change = new BlockChange($"{id}d0b0", $"{id}d0", 1, DeskMachine.Body($"{id}d0b0", "After"), null, false);
        StoredAct? done = null;
        for (var tries = 0; done is null && tries < 10; tries++)
            try
            {
                if (desk.IsLost)
                    desk = await Reopened(id);
                done = await desk.Write(batch, "w", "Typing", [change], null);
            }
            catch (Exception e) when (e is Npgsql.NpgsqlException or InvalidOperationException or DbUpdateException)
            {
                // As a browser does: again, under the same id.
            }
        Assert.NotNull(done);
        Assert.Contains("After", DeskMachine.TextOf((await Reopened(id)).State!), StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_swept_shelf_keeps_what_is_young_and_what_is_used()
    {
        var (young, old) = (Fresh(), Fresh());
        await (await Opened(young)).AddRole("w", "Young", "body");
        await Opened(old);
        await using var db = shelf.CreateDbContext();
        var now = DateTimeOffset.UtcNow;
        await db.Manuals.Where(m => m.Id == old).ExecuteUpdateAsync(s => s.SetProperty(m => m.DeletedAt, now.AddDays(-40)));
        await Shelves.Sweep(db, now.AddDays(-30), now.AddDays(-30), now.AddDays(-30), now);
        Assert.False(await db.Manuals.AnyAsync(m => m.Id == old));
        Assert.False(await db.Blocks.AnyAsync(b => b.ManualId == old));
        Assert.Equal("Young", Assert.Single((await Reopened(young)).State!.Manual.Roles).Name);
        Assert.NotNull(await db.Journal.FirstOrDefaultAsync(j => j.ManualId == young));
    }
}
