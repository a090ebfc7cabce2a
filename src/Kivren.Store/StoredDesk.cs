using System.Text.Json;
using Kivren.Core.Content;
using Kivren.Core.Planning;
using Kivren.Core.Reuse;
using Kivren.Desk;
using Microsoft.EntityFrameworkCore;
using Npgsql;

namespace Kivren.Store;

/// <summary>What an act came to.</summary>
/// <param name="Act">its number in the journal; 0 when nothing was written</param>
/// <param name="Why">why the whole act was refused</param>
/// <param name="Outcome">null when the act had been done before, and its answer was found in the journal</param>
public sealed record StoredAct(
    long Act,
    string Words,
    string? Why,
    IReadOnlyList<Accepted> Accepted,
    IReadOnlyList<Refused> Refused,
    DeskOutcome? Outcome
)
{
    /// <summary>The act that was taken back, or done again; 0 for none.</summary>
    public long TakenBack { get; init; }
}

/// <summary>Changes that are stored in one transaction.</summary>
/// <param name="Batch">under which a part sent again is known</param>
/// <param name="PartOf">the batch it is a part of; null for a whole one</param>
public sealed record BatchPart(string Batch, string? PartOf, IReadOnlyList<BlockChange> Changes);

/// <summary>What comes in from documents: divisions for a place, or changes of a newer version.</summary>
public sealed record TakingIn(
    string Label,
    IReadOnlyList<Division>? Divisions,
    Id After,
    IReadOnlyList<BlockChange> Changes,
    IReadOnlyList<Asset> Pictures,
    IReadOnlyList<KeptSource> Sources
);

/// <summary>A desk whose acts are stored: an act is worked out on the state, written, and only then taken in. When a write fails
/// the state is read again; a state that cannot be read is lost, and so is this desk: another takes its place. One act after the
/// other; those that wait meanwhile go into one transaction, so that many who type wait for one commit.</summary>
public sealed class StoredDesk(IDbContextFactory<ShelfContext> shelf, string manual, TimeProvider clock)
{
    private volatile DeskState? _state;

    /// <summary>As the database has it; null when there is no such manual.</summary>
    public DeskState? State => _state;

    /// <summary>What is in memory may not be what is in the database, and could not be read again.</summary>
    public bool IsLost { get; private set; }

    private Exception? _lostBy;

    /// <summary>Reads the manual, whole, before anything is replaced.</summary>
    public async Task Read(CancellationToken cancel = default)
    {
        await using var db = await shelf.CreateDbContextAsync(cancel);
        _state = await ManualReader.Read(db, manual, cancel);
    }

    // ---- acts ----

    /// <summary>So many blocks go into one transaction at most: while a long paste is stored, another's save goes in between.</summary>
    public int PartSize { get; init; } = 1_000;

    /// <summary>A long batch in the parts it is stored in, the same whenever it is sent again; mostly just one. One undo takes all
    /// parts back.</summary>
    public IReadOnlyList<BatchPart> Parts(string batch, IReadOnlyList<BlockChange> changes, IReadOnlyDictionary<string, string>? joined)
    {
        var together =
            changes.Count <= PartSize
            || joined is { Count: > 0 }
            // Changes of one block build on one another.
            || changes.DistinctBy(c => c.Id, StringComparer.Ordinal).Count() < changes.Count;
        return together
            ? [new BatchPart(batch, null, changes)]
            : [.. changes.Chunk(PartSize).Select((part, n) => new BatchPart($"{batch}/{n}", batch, part))];
    }

    public Task<StoredAct> Write(BatchPart part, string writer, string label, IReadOnlyDictionary<string, string>? joined)
    {
        var (batch, partOf, changes) = part;
        // Before its turn comes, so that nobody waits while thousands of pasted blocks are read.
        var read = ReadChange.Of(changes);
        return Do(new Noting(batch, writer, ActKind.Change) { PartOf = partOf }, async (writing, state) =>
        {
            if (!Acts.AreFresh(state, changes) && await Before(writing, batch) is { } before)
                return before;
            return new Worked(Acts.Write(state, read, joined, label, await Known(writing, Acts.Needs(state, changes))));
        });
    }

    public Task<StoredAct> Rework(string batch, string writer, PlanAct act) =>
        Do(new Noting(batch, writer, ActKind.Change), async (writing, state) =>
        {
            if (await Before(writing, batch) is { } before)
                return before;
            var named = Named(act);
            var db = await writing.Reading();
            var known = new Known { Blocks = await ManualReader.Gone(db, named), Divisions = await ManualReader.GoneDivisions(db, named) };
            return new Worked(Acts.Rework(state, act, known));
        });

    /// <summary>Ids that an act on the plan gives to rows: they may be of rows that were taken out.</summary>
    private static string[] Named(PlanAct act) =>
        act switch
        {
            PlanAct.AddDivision add => [add.New.Value, add.New.Value + "-1", add.New.Value + "-2", add.New.Value + "-3"],
            PlanAct.AddHead add => [add.New.Value, add.New.Value + "-1"],
            PlanAct.Lift lift => [.. lift.Rows.SelectMany(r => new[] { r.Value, r.Value + "-entries" })],
            PlanAct.Deepen deepen => [.. deepen.Rows.Select(r => r.Value)],
            PlanAct.Split split => [split.Head.Value, split.Head.Value + "-entries"],
            PlanAct.Join join => [join.Division.Value],
            _ => [],
        };

    public Task<StoredAct> TakeIn(string batch, string writer, TakingIn coming)
    {
        var noting = new Noting(batch, writer, ActKind.Change)
        {
            Beside = db => Sources.Keep(db, manual, coming.Sources, clock.GetUtcNow()),
        };
        return Do(noting, async (writing, state) =>
        {
            if (await Before(writing, batch) is { } before)
                return before;
            if (coming.Divisions is { } divisions)
            {
                var own = await Known(writing, (Acts.NewBlocks(state, divisions), []));
                return new Worked(Acts.PutIn(state, divisions, coming.After, coming.Pictures, own));
            }
            var known = await Known(writing, Acts.Needs(state, coming.Changes));
            return new Worked(Acts.TakeDifferences(state, coming.Changes, coming.Pictures, coming.Label, known)) { EvenWithoutRows = true };
        });
    }

    public Task<StoredAct> Replace(string batch, string writer, Replacing what) =>
        Do(new Noting(batch, writer, ActKind.Change), async (writing, state) =>
            await Before(writing, batch) ?? new Worked(Acts.Replace(state, what))
        );

    public Task<StoredAct> Reuse(string batch, string writer, ReuseAct act) =>
        Do(new Noting(batch, writer, ActKind.Change), async (writing, state) =>
        {
            if (await Before(writing, batch) is { } before)
                return before;
            var named = act is ReuseAct.AddPassage add ? [add.New.Value] : Array.Empty<string>();
            var db = await writing.Reading();
            var known = new Known { Blocks = await ManualReader.Gone(db, named), Divisions = await ManualReader.GoneDivisions(db, named) };
            return new Worked(Acts.Reuse(state, act, known));
        });

    /// <summary>An act that makes no new blocks: a pure function of the state as it stands when its turn comes.</summary>
    public Task<StoredAct> Change(string batch, string writer, Func<DeskState, PlanResult> act) =>
        Do(new Noting(batch, writer, ActKind.Change), async (writing, state) =>
            await Before(writing, batch) ?? new Worked(Acts.Change(state, act(state)))
        );

    /// <summary>Takes a passage that the shelf keeps.</summary>
    public Task<StoredAct> Take(string batch, string writer, TakenPassage passage) =>
        Do(new Noting(batch, writer, ActKind.Change), async (writing, state) =>
            await Before(writing, batch) ?? new Worked(Acts.Take(state, passage, Desk.Known.Nothing))
        );

    /// <summary>Brings a part of the manual back as it was before an act.</summary>
    public Task<StoredAct> Restore(string batch, string writer, RestoredPart part) =>
        Do(new Noting(batch, writer, ActKind.Change), async (writing, state) =>
        {
            if (await Before(writing, batch) is { } before)
                return before;
            var db = await writing.Reading();
            var moment = await History.Before(db, manual, part, state);
            var known = new Known
            {
                Blocks = await ManualReader.Gone(db, [.. moment.Blocks.Select(b => b.Id).Where(id => state.DivisionOf(id) is null)]),
                Divisions = await ManualReader.GoneDivisions(
                    db,
                    [.. moment.Divisions.Select(d => d.Id).Where(id => state.Division(id) is null)]
                ),
            };
            return new Worked(Acts.Restore(state, moment, known));
        });

    public Task<StoredAct> AddRole(string writer, string name, string foundation) =>
        Do(new Noting(Fresh(), writer, ActKind.Change), (_, state) => Task.FromResult(new Worked(Acts.AddRole(state, name, foundation))));

    /// <summary>Takes back the writer's own last act; with <paramref name="again"/> the last taking back.</summary>
    public async Task<StoredAct> TakeBack(string writer, bool again)
    {
        JournalRow? last = null;
        var done = await Do(new Noting(Fresh(), writer, again ? ActKind.DoingAgain : ActKind.TakingBack), async (writing, state) =>
        {
            var db = await writing.Reading();
            last = await Journal.Last(db, manual, writer, again);
            if (last is null)
                return new Worked(DeskOutcome.No(state, "There is nothing to take back."));
            var act = await Journal.Read(db, last);
            var known = new Known
            {
                Blocks = await ManualReader.Gone(db, [.. act.Blocks.Select(b => b.Id).Where(id => state.DivisionOf(id) is null)]),
                Divisions = await ManualReader.GoneDivisions(
                    db,
                    [.. act.Divisions.Select(d => d.Id).Where(id => state.Division(id) is null)]
                ),
            };
            return new Worked(Acts.TakeBack(state, act, last.Label, known)) { TakesBack = last.Id };
        });
        return done with { Words = last?.Label ?? "", TakenBack = last is not null && done.Refused.Count == 0 ? last.Id : 0 };
    }

    // ---- storing ----

    private static string Fresh() => Guid.CreateVersion7().ToString("N");

    private sealed record Noting(string Batch, string Writer, ActKind Kind)
    {
        public Func<ShelfContext, Task>? Beside { get; init; }
        public string? PartOf { get; init; }
    }

    private sealed record Worked(DeskOutcome? Outcome)
    {
        /// <summary>What the journal says this act came to before.</summary>
        public StoredAct? Before { get; init; }
        public long? TakesBack { get; init; }

        /// <summary>What goes in beside the rows is worth an act by itself.</summary>
        public bool EvenWithoutRows { get; init; }
    }

    /// <summary>What is answered to who sends an act again.</summary>
    /// <param name="New">the journal's new blocks were accepted as well, each at version 1: thousands are not noted twice</param>
    private sealed record Answered(IReadOnlyList<Accepted> Accepted, IReadOnlyList<Refused> Refused, bool New = false)
    {
        public static Answered Of(DeskOutcome outcome)
        {
            var fresh = outcome.Rows.Blocks.Where(b => b.OldVersion == 0).Select(b => b.Block.Id).ToHashSet(StringComparer.Ordinal);
            var noted = outcome.Accepted.Where(a => !fresh.Contains(a.Id)).ToList();
            return new Answered(noted, outcome.Refused, noted.Count < outcome.Accepted.Count);
        }
    }

    private static async Task<Known> Known(ActWriter writing, (IReadOnlyList<string> Gone, IReadOnlyList<(string, int)> Based) needs)
    {
        if (needs.Gone.Count + needs.Based.Count == 0)
            return Kivren.Desk.Known.Nothing;
        var db = await writing.Reading();
        return new Known { Blocks = await ManualReader.Gone(db, needs.Gone), Bodies = await ManualReader.Bodies(db, needs.Based) };
    }

    private async Task<Worked?> Before(ActWriter writing, string batch)
    {
        if (await Journal.Find(await writing.Reading(), manual, batch) is not { } found)
            return null;
        var answer = JsonSerializer.Deserialize<Answered>(found.Answer)!;
        return new Worked((DeskOutcome?)null)
        {
            Before = new StoredAct(
                found.Act,
                found.Label,
                null,
                [.. answer.Accepted ?? [], .. answer.New ? found.NewBlocks.Select(id => new Accepted(id, 1, null)) : []],
                answer.Refused ?? [],
                null
            ),
        };
    }

    /// <summary>So many acts go into one transaction at most.</summary>
    private const int MostTogether = 32;

    /// <summary>An act that waits for its turn.</summary>
    private sealed record Waiting(Noting Noting, Func<ActWriter, DeskState, Task<Worked>> Work)
    {
        public TaskCompletionSource<StoredAct> Done { get; } = new(TaskCreationOptions.RunContinuationsAsynchronously);
    }

    private readonly Queue<Waiting> _waiting = new();

    /// <summary>Taken for acts to come. What another process took meanwhile is higher, and it owns the manual only after this desk has
    /// gone: a manual's acts stay in order.</summary>
    private Queue<long> _numbers = new();
    private bool _working;

    private Task<StoredAct> Do(Noting noting, Func<ActWriter, DeskState, Task<Worked>> work)
    {
        var own = new Waiting(noting, work);
        lock (_waiting)
        {
            _waiting.Enqueue(own);
            if (_working)
                return own.Done.Task;
            _working = true;
        }
        // Not where its caller runs: a save is a dozen short waits, and each would stand in the caller’s line again.
        _ = Task.Run(Work);
        return own.Done.Task;
    }

    private async Task Work()
    {
        while (true)
        {
            var group = new List<Waiting>();
            lock (_waiting)
            {
                while (group.Count < MostTogether && _waiting.TryDequeue(out var next))
                    group.Add(next);
                if (group.Count == 0)
                {
                    _working = false;
                    return;
                }
            }
            if (group.Count > 1 && await Together(group) is { } done)
            {
                for (var n = 0; n < done.Count; n++)
                    group[n].Done.SetResult(done[n]);
                continue;
            }
            foreach (var act in group)
                try
                {
                    act.Done.SetResult(await Alone(act));
                }
                catch (Exception e)
                {
                    act.Done.SetException(e);
                }
        }
    }

    /// <returns>null when one of them failed, and with it all: each is tried by itself then</returns>
    private async Task<IReadOnlyList<StoredAct>?> Together(IReadOnlyList<Waiting> group)
    {
        try
        {
            return await Once(group);
        }
        catch (Exception)
        {
            await ReadAgain();
            return null;
        }
    }

    private async Task<StoredAct> Alone(Waiting act)
    {
        for (var tries = 1; ; tries++)
        {
            if (IsLost || _state is null)
                // As when the database is away: who asked tries again, at the desk that takes the place of this one.
                throw new IOException("What this manual holds could not be read again.", _lostBy);
            try
            {
                return (await Once([act]))[0];
            }
            catch (Exception e)
            {
                await ReadAgain();
                // A row was not as this state believed, or the batch had been stored: on the state as it really is it is tried once more.
                if (!IsStale(e) || tries == 2 || IsLost || _state is null)
                    throw;
            }
        }
    }

    private static bool IsStale(Exception e) =>
        e is DbUpdateConcurrencyException
        || (e as PostgresException ?? e.InnerException as PostgresException)?.SqlState
            is PostgresErrorCodes.UniqueViolation
                or PostgresErrorCodes.ExclusionViolation
                or PostgresErrorCodes.ForeignKeyViolation;

    /// <summary>Stores acts, each worked out on what those before it came to: all of them or none.</summary>
    private async Task<IReadOnlyList<StoredAct>> Once(IReadOnlyList<Waiting> acts)
    {
        await using var db = await shelf.CreateDbContextAsync();
        // All or none: nothing of this transaction is ever taken back in part.
        db.Database.AutoSavepointsEnabled = false;
        await using var transaction = await db.Database.BeginTransactionAsync();
        var writing = new ActWriter(db, manual);
        var state = _state!;
        var done = new List<StoredAct>(acts.Count);
        foreach (var (noting, work) in acts)
        {
            var worked = await work(writing, state);
            if (worked.Before is { } before)
            {
                done.Add(before);
                continue;
            }
            var outcome = worked.Outcome!;
            var stored = new StoredAct(0, outcome.Words, outcome.Why, outcome.Accepted, outcome.Refused, outcome);
            if (outcome.Why is null && (!outcome.Rows.IsEmpty || worked.EvenWithoutRows))
            {
                var answer = JsonSerializer.Serialize(Answered.Of(outcome));
                var noted = new NotedAct(noting.Batch, noting.Writer, outcome.Words, noting.Kind, worked.TakesBack, answer)
                {
                    PartOf = noting.PartOf,
                };
                if (_numbers.Count == 0)
                    _numbers = new Queue<long>(await writing.Numbers(MostTogether));
                var number = _numbers.Dequeue();
                await writing.Write(number, outcome.Rows, noted, clock.GetUtcNow(), noting.Beside);
                state = outcome.State.At(number);
                stored = stored with { Act = number };
            }
            done.Add(stored);
        }
        await writing.Reading();
        await transaction.CommitAsync();
        _state = state;
        return done;
    }

    private async Task ReadAgain()
    {
        try
        {
            await Read();
        }
        catch (Exception e)
        {
            (_lostBy, IsLost) = (e, true);
        }
    }
}
