using System.Text.Json;
using Kivren.Core.Content;
using Kivren.Core.Planning;
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
/// the state is read again; a state that cannot be read is lost, and so is this desk: another takes its place. One act at a
/// time.</summary>
public sealed class StoredDesk(IDbContextFactory<ShelfContext> shelf, string manual, TimeProvider clock)
{
    private volatile DeskState? _state;

    /// <summary>As the database has it; null when there is no such manual.</summary>
    public DeskState? State => _state;

    /// <summary>What is in memory may not be what is in the database, and could not be read again.</summary>
    public bool IsLost { get; private set; }

    /// <summary>Reads the manual, whole, before anything is replaced.</summary>
    public async Task Read(CancellationToken cancel = default)
    {
        await using var db = await shelf.CreateDbContextAsync(cancel);
        _state = await ManualReader.Read(db, manual, cancel);
    }

    // ---- acts ----

    public Task<StoredAct> Write(
        string batch,
        string writer,
        string label,
        IReadOnlyList<BlockChange> changes,
        IReadOnlyDictionary<string, string>? joined
    ) => Do(new Noting(batch, writer, ActKind.Change), async (db, state) =>
        {
            if (!Acts.AreFresh(state, changes) && await Before(db, batch) is { } before)
                return before;
            var (gone, based) = Acts.Needs(state, changes);
            var known = new Known { Blocks = await ManualReader.Gone(db, gone), Bodies = await ManualReader.Bodies(db, based) };
            return new Worked(Acts.Write(state, changes, joined, label, known));
        });

    public Task<StoredAct> Rework(string batch, string writer, PlanAct act) =>
        Do(new Noting(batch, writer, ActKind.Change), async (db, state) =>
        {
            if (await Before(db, batch) is { } before)
                return before;
            var named = Named(act);
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
        return Do(noting, async (db, state) =>
        {
            if (await Before(db, batch) is { } before)
                return before;
            if (coming.Divisions is { } divisions)
            {
                var own = new Known { Blocks = await ManualReader.Gone(db, Acts.NewBlocks(state, divisions)) };
                return new Worked(Acts.PutIn(state, divisions, coming.After, coming.Pictures, own));
            }
            var (gone, based) = Acts.Needs(state, coming.Changes);
            var known = new Known { Blocks = await ManualReader.Gone(db, gone), Bodies = await ManualReader.Bodies(db, based) };
            return new Worked(Acts.TakeDifferences(state, coming.Changes, coming.Pictures, coming.Label, known)) { EvenWithoutRows = true };
        });
    }

    public Task<StoredAct> AddRole(string writer, string name, string foundation) =>
        Do(new Noting(Fresh(), writer, ActKind.Change), (_, state) => Task.FromResult(new Worked(Acts.AddRole(state, name, foundation))));

    /// <summary>Takes back the writer's own last act; with <paramref name="again"/> the last taking back.</summary>
    public async Task<StoredAct> TakeBack(string writer, bool again)
    {
        JournalRow? last = null;
        var done = await Do(new Noting(Fresh(), writer, again ? ActKind.DoingAgain : ActKind.TakingBack), async (db, state) =>
        {
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
    private sealed record Answered(IReadOnlyList<Accepted> Accepted, IReadOnlyList<Refused> Refused);

    private async Task<Worked?> Before(ShelfContext db, string batch)
    {
        if (await Journal.Find(db, manual, batch) is not { } found)
            return null;
        var answer = JsonSerializer.Deserialize<Answered>(found.Answer)!;
        return new Worked((DeskOutcome?)null)
        {
            Before = new StoredAct(found.Act, found.Label, null, answer.Accepted ?? [], answer.Refused ?? [], null),
        };
    }

    private async Task<StoredAct> Do(Noting noting, Func<ShelfContext, DeskState, Task<Worked>> work)
    {
        for (var tries = 1; ; tries++)
        {
            try
            {
                return await Once(noting, work);
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

    private async Task<StoredAct> Once(Noting noting, Func<ShelfContext, DeskState, Task<Worked>> work)
    {
        await using var db = await shelf.CreateDbContextAsync();
        var worked = await work(db, _state!);
        if (worked.Before is { } before)
            return before;
        var outcome = worked.Outcome!;
        var done = new StoredAct(0, outcome.Words, outcome.Why, outcome.Accepted, outcome.Refused, outcome);
        if (outcome.Why is not null || (outcome.Rows.IsEmpty && !worked.EvenWithoutRows))
            return done;
        var answer = JsonSerializer.Serialize(new Answered(outcome.Accepted, outcome.Refused));
        var noted = new NotedAct(noting.Batch, noting.Writer, outcome.Words, noting.Kind, worked.TakesBack, answer);
        var number = await ActWriter.Write(db, manual, outcome.Rows, noted, clock.GetUtcNow(), noting.Beside);
        _state = outcome.State.At(number);
        return done with { Act = number };
    }

    private async Task ReadAgain()
    {
        try
        {
            await Read();
        }
        catch (Exception)
        {
            IsLost = true;
        }
    }
}
