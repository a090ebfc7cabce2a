using System.Text.Json;
using Kivren.Core.Content;
using Kivren.Formats.Package;
using Kivren.Server.Proof;
using Kivren.Server.Shelf;
using Kivren.Store;
using Microsoft.AspNetCore.SignalR;
using Microsoft.EntityFrameworkCore;

namespace Kivren.Server.Desk;

/// <summary>The desk: checks changes against the model, writes rows and journal in one transaction, applies them to its
/// own model, answers. Rebuilt from the database at any moment.</summary>
public sealed class DeskGrain(IDbContextFactory<ShelfContext> shelf, ProofRooms rooms, IHubContext<ProofHub> hub, TimeProvider clock) : Grain, IDesk
{
    /// <summary>What a block or division was before an act and is after it, as the journal keeps it.</summary>
    private sealed record BlockState(string Division, string OrderKey, int Version, string? Body);
    private sealed record DivisionState(string OrderKey, int Version, string Kind, string Title, string? ShortTitle, bool Deleted);
    private sealed record JournalBlock(string Id, BlockState? Before, BlockState? After);
    private sealed record JournalDivision(string Id, DivisionState? Before, DivisionState? After);
    private sealed record JournalChanges(List<JournalBlock> Blocks, List<JournalDivision> Divisions);

    private sealed record Held(string Id, string Division, string OrderKey, int Version, Block Block);

    private ManualRow? _row;
    private Manual? _manual;
    private readonly Dictionary<string, DivisionRow> _divisions = new(StringComparer.Ordinal);
    private readonly Dictionary<string, Held> _blocks = new(StringComparer.Ordinal);

    public override async Task OnActivateAsync(CancellationToken cancellationToken) => await Load(cancellationToken);

    private async Task Load(CancellationToken cancel)
    {
        _divisions.Clear();
        _blocks.Clear();
        await using var db = await shelf.CreateDbContextAsync(cancel);
        var loaded = await ManualLoader.Load(db, this.GetPrimaryKeyString(), cancel);
        _row = loaded?.Row;
        _manual = null;
        if (loaded is null) return;
        foreach (var division in loaded.Divisions)
        {
            _divisions.Add(division.Row.Id, division.Row);
            foreach (var block in division.Blocks) _blocks.Add(block.Id, new Held(block.Id, division.Row.Id, block.OrderKey, block.Version, block.Block));
        }
        _manual = loaded.ToManual();
        rooms.Room(_row!.Id).Submit(_manual, await db.Journal.Where(j => j.ManualId == _row.Id).MaxAsync(j => (long?)j.Id, cancel) ?? 0);
    }

    public Task Close()
    {
        rooms.Close(this.GetPrimaryKeyString());
        DeactivateOnIdle();
        return Task.CompletedTask;
    }

    public Task<DeskManual?> Open() => Task.FromResult(_row is null ? null : new DeskManual(_row.Id, _row.Title, _row.Look,
        Ordered().Select(d => new DeskDivision(d.Id, d.Kind, d.Title, d.ShortTitle, d.Version, null)).ToArray(),
        _manual!.Assets.Select(a => a.Name).ToArray(), _manual.Variables.Select(v => v.Name).ToArray()));

    public Task<DeskDivision?> Division(string id)
    {
        if (!_divisions.TryGetValue(id, out var row)) return Task.FromResult<DeskDivision?>(null);
        var blocks = BlocksOf(id).Select(b => new DeskBlock(b.Id, b.Version, BlockWriter.ToJson(b.Block))).ToArray();
        return Task.FromResult<DeskDivision?>(new DeskDivision(row.Id, row.Kind, row.Title, row.ShortTitle, row.Version, blocks));
    }

    private IEnumerable<DivisionRow> Ordered() => _divisions.Values.OrderBy(d => d.OrderKey, StringComparer.Ordinal);

    private IEnumerable<Held> BlocksOf(string division) => _blocks.Values.Where(b => b.Division == division).OrderBy(b => b.OrderKey, StringComparer.Ordinal);

    // ---- changes ----

    public async Task<Answer> Apply(Batch batch)
    {
        if (_row is null) return new Answer(batch.Id, 0, [], batch.Blocks.Select(b => new Refused(b.Id, "This manual is not on the shelf.", null, 0)).ToArray());
        await using var db = await shelf.CreateDbContextAsync();
        var plan = new Plan(this);
        foreach (var division in batch.Divisions ?? []) plan.Division(division);
        foreach (var change in batch.Blocks) await plan.Block(db, change);
        // A batch that was done before finds the versions it made itself; only then is it looked for.
        if (plan.MetOthers && await db.Journal.AsNoTracking().Where(j => j.ManualId == _row.Id && j.BatchId == batch.Id).Select(j => j.Answer).FirstOrDefaultAsync() is { } known)
            return JsonSerializer.Deserialize<Answer>(known)!;
        var answer = await Write(db, batch.Id, batch.Writer, batch.Label, plan, ActKind.Change, takesBack: null, batch.Joined);
        await TellOthers(batch.Writer, plan);
        return answer;
    }

    private async Task<Answer> Write(ShelfContext db, string batchId, string writer, string label, Plan plan, ActKind kind, long? takesBack, Dictionary<string, string>? joined)
    {
        var answer = new Answer(batchId, 0, [.. plan.Accepted], [.. plan.Refused]);
        if (plan.IsEmpty) return answer;
        await using var transaction = await db.Database.BeginTransactionAsync();
        foreach (var division in plan.Divisions.Values)
        {
            var row = division.Row;
            if (division.IsNew) db.Divisions.Add(row);
            else
            {
                var entry = db.Divisions.Attach(row);
                entry.State = EntityState.Modified;
                entry.Property(d => d.Version).OriginalValue = division.OldVersion;
            }
        }
        foreach (var block in plan.Blocks.Values)
        {
            if (block.IsNew) db.Blocks.Add(block.Row);
            else
            {
                var entry = db.Blocks.Attach(block.Row);
                entry.State = EntityState.Modified;
                entry.Property(b => b.Version).OriginalValue = block.OldVersion;
            }
        }
        var journal = new JournalRow
        {
            ManualId = _row!.Id,
            BatchId = batchId,
            Writer = writer,
            Label = label,
            At = clock.GetUtcNow(),
            Changes = JsonSerializer.Serialize(plan.Journal),
            Answer = JsonSerializer.Serialize(answer),
            Kind = kind,
            TakesBack = takesBack,
        };
        db.Journal.Add(journal);
        if (takesBack is { } act) await db.Journal.Where(j => j.Id == act).ExecuteUpdateAsync(s => s.SetProperty(j => j.TakenBack, true));
        if (joined is { Count: > 0 })
        {
            var aliases = JsonSerializer.Deserialize<Dictionary<string, string>>(_row.Aliases)!;
            foreach (var (from, to) in joined) aliases[from] = to;
            _row.Aliases = JsonSerializer.Serialize(aliases);
        }
        // The row goes up with the rest in one round trip; its page count is the proof room's to write.
        _row.WorkedOn = clock.GetUtcNow();
        var manual = db.Manuals.Attach(_row);
        manual.Property(m => m.WorkedOn).IsModified = true;
        manual.Property(m => m.Aliases).IsModified = joined is { Count: > 0 };
        try
        {
            await db.SaveChangesAsync();
            await transaction.CommitAsync();
        }
        catch (Exception)
        {
            // What is in memory may not be what is in the database: read it again.
            await transaction.RollbackAsync();
            await Load(default);
            throw;
        }
        TakeIn(plan, journal.Id);
        return answer with { Act = journal.Id };
    }

    /// <summary>Applies what was written to the model; divisions that nothing happened to stay the same objects.</summary>
    private void TakeIn(Plan plan, long act)
    {
        var touched = new HashSet<string>(StringComparer.Ordinal);
        foreach (var division in plan.Divisions.Values)
        {
            if (division.Row.Deleted) _divisions.Remove(division.Row.Id);
            else _divisions[division.Row.Id] = division.Row;
            touched.Add(division.Row.Id);
        }
        foreach (var block in plan.Blocks.Values)
        {
            if (_blocks.TryGetValue(block.Row.Id, out var before)) touched.Add(before.Division);
            touched.Add(block.Row.DivisionId);
            if (block.Row.Deleted) _blocks.Remove(block.Row.Id);
            else _blocks[block.Row.Id] = new Held(block.Row.Id, block.Row.DivisionId, block.Row.OrderKey, block.Row.Version, block.Block!);
        }
        var same = _manual!.Divisions.ToDictionary(d => d.Id.Value);
        _manual = _manual with
        {
            Divisions = Ordered().Select(row => !touched.Contains(row.Id) && same.TryGetValue(row.Id, out var kept) ? kept
                : ManualLoader.ToDivision(new LoadedDivision(row, BlocksOf(row.Id).Select(b => new LoadedBlock(b.Id, b.OrderKey, b.Version, b.Block)).ToList()))).ToList(),
            Aliases = ManualLoader.Aliases(_row!.Aliases),
        };
        rooms.Room(_row.Id).Submit(_manual, act);
    }

    private Task TellOthers(string writer, Plan plan) => plan.IsEmpty ? Task.CompletedTask : hub.Clients.Group(_row!.Id).SendAsync("changed", new
    {
        writer,
        blocks = plan.Blocks.Values.Select(b => new { id = b.Row.Id, division = b.Row.DivisionId, version = b.Row.Version, body = b.Row.Deleted ? null : b.Row.Body, after = b.Row.Deleted ? null : Before(b.Row) }),
        divisions = plan.Divisions.Count > 0,
    });

    /// <summary>The id of the block that stands before this one, "" at the beginning.</summary>
    private string Before(BlockRow row) => BlocksOf(row.DivisionId).TakeWhile(b => b.Id != row.Id).LastOrDefault()?.Id ?? "";

    // ---- taking back ----

    public async Task<TakenBack> TakeBack(string writer, bool again)
    {
        if (_row is null) return new TakenBack(0, "", [], []);
        await using var db = await shelf.CreateDbContextAsync();
        var own = db.Journal.AsNoTracking().Where(j => j.ManualId == _row.Id && j.Writer == writer && !j.TakenBack);
        // Redo takes the last undo, as long as no change was made since.
        var last = await own.Where(j => again ? j.Kind != ActKind.DoingAgain : j.Kind != ActKind.TakingBack).OrderByDescending(j => j.Id).FirstOrDefaultAsync();
        if (last is null || (again && last.Kind == ActKind.Change)) return new TakenBack(0, "", [], []);
        var changes = JsonSerializer.Deserialize<JournalChanges>(last.Changes)!;
        var plan = new Plan(this);
        foreach (var division in changes.Divisions) plan.Restore(division);
        foreach (var block in changes.Blocks) await plan.Restore(db, block);
        if (plan.Refused.Count > 0) return new TakenBack(0, last.Label, [], [.. plan.Refused]);
        await Write(db, Guid.CreateVersion7().ToString("N"), writer, last.Label, plan, again ? ActKind.DoingAgain : ActKind.TakingBack, takesBack: last.Id, joined: null);
        // The blocks of a division that comes back are read again with it.
        if (plan.Divisions.Values.Any(d => !d.Row.Deleted)) await Load(default);
        await TellOthers("", plan);
        return new TakenBack(last.Id, last.Label, [.. plan.Blocks.Values.Select(b => b.Row.DivisionId).Distinct()], []);
    }

    // ---- planning one write ----

    private sealed record PlannedBlock(BlockRow Row, Block? Block, int OldVersion, bool IsNew);
    private sealed record PlannedDivision(DivisionRow Row, int OldVersion, bool IsNew);

    /// <summary>What one act will write, checked against the model before anything is written.</summary>
    private sealed class Plan(DeskGrain desk)
    {
        public Dictionary<string, PlannedBlock> Blocks { get; } = new(StringComparer.Ordinal);
        public Dictionary<string, PlannedDivision> Divisions { get; } = new(StringComparer.Ordinal);
        public List<Accepted> Accepted { get; } = [];
        public List<Refused> Refused { get; } = [];
        public JournalChanges Journal { get; } = new([], []);

        /// <summary>Something stands at another version than the batch was based on.</summary>
        public bool MetOthers => Refused.Count > 0 || Accepted.Any(a => a.Merged is not null);
        public bool IsEmpty => Blocks.Count + Divisions.Count == 0;

        public void Division(DivisionChange change)
        {
            desk._divisions.TryGetValue(change.Id, out var now);
            if (now is null && (change.Deleted || change.Kind is null))
            {
                Refused.Add(new Refused(change.Id, "This division was taken out.", null, 0));
                return;
            }
            if (now is not null && now.Version != change.BasedOn)
            {
                Refused.Add(new Refused(change.Id, "This division was changed elsewhere.", now.Title, now.Version));
                return;
            }
            if (change.Kind is not null && !Enum.TryParse<DivisionKind>(change.Kind, true, out _))
            {
                Refused.Add(new Refused(change.Id, $"There is no division kind “{change.Kind}”.", null, now?.Version ?? 0));
                return;
            }
            var order = change.After is null && now is not null ? now.OrderKey : KeyAfter(desk.Ordered().Where(d => d.Id != change.Id).Select(d => (d.Id, d.OrderKey)).ToList(), change.After ?? desk.Ordered().LastOrDefault()?.Id ?? "");
            var row = new DivisionRow
            {
                Id = change.Id,
                ManualId = desk._row!.Id,
                OrderKey = order,
                Kind = change.Kind is null ? now!.Kind : Enum.Parse<DivisionKind>(change.Kind, true).ToString(),
                Title = change.Title ?? now?.Title ?? "",
                ShortTitle = change.ShortTitle is null ? now?.ShortTitle : change.ShortTitle.Length == 0 ? null : change.ShortTitle,
                Language = now?.Language ?? desk._row.Language,
                AppliesTo = now?.AppliesTo ?? "{}",
                Begins = now?.Begins ?? nameof(Begins.ByLook),
                Version = (now?.Version ?? 0) + 1,
                Deleted = change.Deleted,
            };
            Take(row, now);
        }

        private void Take(DivisionRow row, DivisionRow? now)
        {
            Divisions[row.Id] = new PlannedDivision(row, now?.Version ?? row.Version - 1, now is null && row.Version == 1);
            Journal.Divisions.Add(new JournalDivision(row.Id, now is null ? null : StateOf(now), StateOf(row)));
            Accepted.Add(new Accepted(row.Id, row.Version, null));
        }

        private static DivisionState StateOf(DivisionRow row) => new(row.OrderKey, row.Version, row.Kind, row.Title, row.ShortTitle, row.Deleted);

        public async Task Block(ShelfContext db, BlockChange change)
        {
            desk._blocks.TryGetValue(change.Id, out var now);
            if (!desk._divisions.ContainsKey(change.Division) && !Divisions.ContainsKey(change.Division))
            {
                Refused.Add(new Refused(change.Id, "The division this block stands in was taken out.", null, 0));
                return;
            }
            Block? block = null;
            if (change.Body is not null)
            {
                try
                {
                    block = BlockReader.Parse(change.Body);
                    if (block.Id.Value != change.Id) throw new BlockFormatException($"Block {change.Id} names itself {block.Id}.");
                }
                catch (BlockFormatException e)
                {
                    Refused.Add(new Refused(change.Id, e.Message, now is null ? null : BlockWriter.ToJson(now.Block), now?.Version ?? 0));
                    return;
                }
            }
            if (now is null && change.BasedOn > 0)
            {
                Refused.Add(new Refused(change.Id, "This block was taken out elsewhere.", null, 0));
                return;
            }
            string? merged = null;
            if (now is not null && now.Version != change.BasedOn)
            {
                var theirs = BlockWriter.ToJson(now.Block);
                var based = block is null ? null : await desk.BodyAt(db, change.Id, change.BasedOn);
                merged = based is null || change.BasedOn == 0 ? null : BlockMerge.Merge(based, BlockWriter.ToJson(block!), theirs);
                if (merged is null)
                {
                    Refused.Add(new Refused(change.Id, change.Deleted ? "This block was changed elsewhere since." : "This block was changed in two places.", theirs, now.Version));
                    return;
                }
                block = BlockReader.Parse(merged);
                merged = BlockWriter.ToJson(block);
            }
            var deletedBefore = now is null ? await db.Blocks.AsNoTracking().FirstOrDefaultAsync(b => b.Id == change.Id) : null;
            if (deletedBefore is not null && deletedBefore.ManualId != desk._row!.Id)
            {
                Refused.Add(new Refused(change.Id, "This block belongs to another manual.", null, 0));
                return;
            }
            var body = block ?? now?.Block;
            if (body is null)
            {
                Refused.Add(new Refused(change.Id, "There is no such block.", null, 0));
                return;
            }
            var order = change.After is null && now is not null ? now.OrderKey : KeyAfter(Siblings(change.Division, change.Id), change.After ?? "");
            var row = new BlockRow
            {
                Id = change.Id,
                ManualId = desk._row!.Id,
                DivisionId = change.Division,
                OrderKey = order,
                Kind = body.GetType().Name,
                Body = BlockWriter.ToJson(body),
                Version = (now?.Version ?? deletedBefore?.Version ?? 0) + 1,
                Deleted = change.Deleted,
            };
            Take(row, body, now, isNew: now is null && deletedBefore is null, oldVersion: now?.Version ?? deletedBefore?.Version ?? 0);
            Accepted.Add(new Accepted(row.Id, row.Version, merged));
        }

        private void Take(BlockRow row, Block block, Held? now, bool isNew, int oldVersion)
        {
            Blocks[row.Id] = new PlannedBlock(row, block, oldVersion, isNew);
            Journal.Blocks.Add(new JournalBlock(row.Id,
                now is null ? null : new BlockState(now.Division, now.OrderKey, now.Version, BlockWriter.ToJson(now.Block)),
                new BlockState(row.DivisionId, row.OrderKey, row.Version, row.Deleted ? null : row.Body)));
        }

        /// <summary>The blocks of a division in order, with what this plan has placed already.</summary>
        private List<(string Id, string OrderKey)> Siblings(string division, string without) =>
            desk._blocks.Values.Where(b => !Blocks.ContainsKey(b.Id)).Select(b => (b.Id, b.Division, b.OrderKey))
                .Concat(Blocks.Values.Where(b => !b.Row.Deleted).Select(b => (b.Row.Id, Division: b.Row.DivisionId, b.Row.OrderKey)))
                .Where(b => b.Division == division && b.Id != without).OrderBy(b => b.OrderKey, StringComparer.Ordinal).Select(b => (b.Id, b.OrderKey)).ToList();

        private static string KeyAfter(List<(string Id, string OrderKey)> siblings, string after)
        {
            var at = siblings.FindIndex(s => s.Id == after);
            // A block whose neighbour is gone goes to the end, unless it asked for the beginning.
            if (at < 0 && after.Length > 0) at = siblings.Count - 1;
            return OrderKey.Between(at >= 0 ? siblings[at].OrderKey : null, at + 1 < siblings.Count ? siblings[at + 1].OrderKey : null);
        }

        /// <summary>Puts a block back as it was before an act, if it still is as the act left it.</summary>
        public async Task Restore(ShelfContext db, JournalBlock change)
        {
            desk._blocks.TryGetValue(change.Id, out var now);
            var left = change.After!;
            var asLeft = left.Body is null ? now is null : now is not null && now.OrderKey == left.OrderKey && now.Division == left.Division && BlockWriter.ToJson(now.Block) == left.Body;
            if (!asLeft)
            {
                Refused.Add(new Refused(change.Id, "This block was changed since.", now is null ? null : BlockWriter.ToJson(now.Block), now?.Version ?? 0));
                return;
            }
            var version = now?.Version ?? await db.Blocks.AsNoTracking().Where(b => b.Id == change.Id).Select(b => b.Version).FirstAsync();
            var was = change.Before;
            var block = BlockReader.Parse((was?.Body ?? left.Body)!);
            var row = new BlockRow
            {
                Id = change.Id,
                ManualId = desk._row!.Id,
                DivisionId = was?.Division ?? left.Division,
                OrderKey = was?.OrderKey ?? left.OrderKey,
                Kind = block.GetType().Name,
                Body = BlockWriter.ToJson(block),
                Version = version + 1,
                Deleted = was?.Body is null,
            };
            Take(row, block, now, isNew: false, oldVersion: version);
        }

        public void Restore(JournalDivision change)
        {
            desk._divisions.TryGetValue(change.Id, out var now);
            var left = change.After!;
            if (left.Deleted ? now is not null : now is null || StateOf(now) with { Version = left.Version } != left)
            {
                Refused.Add(new Refused(change.Id, "This division was changed since.", now?.Title, now?.Version ?? 0));
                return;
            }
            var was = change.Before ?? left with { Deleted = true };
            var row = new DivisionRow
            {
                Id = change.Id,
                ManualId = desk._row!.Id,
                OrderKey = was.OrderKey,
                Kind = was.Kind,
                Title = was.Title,
                ShortTitle = was.ShortTitle,
                Language = now?.Language ?? desk._row.Language,
                AppliesTo = now?.AppliesTo ?? "{}",
                Begins = now?.Begins ?? nameof(Begins.ByLook),
                Version = (now?.Version ?? left.Version) + 1,
                Deleted = was.Deleted,
            };
            Divisions[row.Id] = new PlannedDivision(row, now?.Version ?? left.Version, false);
            Journal.Divisions.Add(new JournalDivision(row.Id, now is null ? left : StateOf(now), StateOf(row)));
        }
    }

    /// <summary>The block's body at an earlier version, from the journal.</summary>
    private async Task<string?> BodyAt(ShelfContext db, string id, int version)
    {
        var acts = await db.Journal.AsNoTracking().Where(j => j.ManualId == _row!.Id).OrderByDescending(j => j.Id).Select(j => j.Changes).Take(400).ToListAsync();
        foreach (var act in acts)
            foreach (var change in JsonSerializer.Deserialize<JournalChanges>(act)!.Blocks)
                if (change.Id == id)
                {
                    if (change.After is { Body: not null } after && after.Version == version) return after.Body;
                    if (change.Before is { } before && before.Version == version) return before.Body;
                }
        return null;
    }
}
