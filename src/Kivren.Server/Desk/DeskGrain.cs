using System.Text.Json;
using Kivren.Core.Content;
using Kivren.Core.Looks;
using Kivren.Core.Planning;
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
    private sealed record DivisionState(string OrderKey, int Version, string Kind, string Title, string? ShortTitle, bool Deleted, string? State = null, string? AppliesTo = null, string? Language = null);
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
        _manual!.Assets.Select(a => a.Name).ToArray(), _manual.Variables.Select(v => v.Name).ToArray(), _manual.Roles.Select(r => new DeskRole(r.Name, r.Foundation)).ToArray()));

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
                entry.Property(b => b.Body).IsModified = !block.OnlyMoved;
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
            if (plan.Whole.Count > 0) await ManualSaver.CopyBlocks((Npgsql.NpgsqlConnection)db.Database.GetDbConnection(), _row.Id, plan.Whole);
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
        foreach (var division in plan.Whole)
            for (var b = 0; b < division.Blocks.Count; b++)
                _blocks[division.Blocks[b].Id.Value] = new Held(division.Blocks[b].Id.Value, division.Id.Value, OrderKey.Even(b, division.Blocks.Count), 1, division.Blocks[b]);
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

    /// <summary>An act on so many blocks is not told block by block: who shows them reads them again.</summary>
    private const int MostTold = 60;

    private Task TellOthers(string writer, Plan plan) => plan.IsEmpty ? Task.CompletedTask : hub.Clients.Group(_row!.Id).SendAsync("changed", new
    {
        writer,
        blocks = plan.Blocks.Values.Where(_ => plan.Blocks.Count <= MostTold).Select(b => new { id = b.Row.Id, division = b.Row.DivisionId, version = b.Row.Version, body = b.Row.Deleted ? null : b.Row.Body, after = b.Row.Deleted ? null : Before(b.Row) }),
        divisions = plan.Divisions.Count > 0 || plan.Blocks.Count > MostTold,
    });

    /// <summary>The id of the block that stands before this one, "" at the beginning.</summary>
    private string Before(BlockRow row) => BlocksOf(row.DivisionId).TakeWhile(b => b.Id != row.Id).LastOrDefault()?.Id ?? "";

    // ---- acts on the whole ----

    public async Task<Reworked> Rework(PlanOrder order)
    {
        if (_row is null) return new Reworked(0, "", "This manual is not on the shelf.");
        await using var db = await shelf.CreateDbContextAsync();
        if (await db.Journal.AsNoTracking().Where(j => j.ManualId == _row.Id && j.BatchId == order.Id).Select(j => new { j.Id, j.Label }).FirstOrDefaultAsync() is { } done) return new Reworked(done.Id, done.Label, null);
        var result = order.ToAct() is { } act ? Planner.Apply(_manual!, act) : PlanResult.No($"There is no act “{order.Do}”.");
        return result.Refused is { } why ? new Reworked(0, "", why) : await Become(db, result.Manual!, order.Id, order.Writer, result.Words);
    }

    public Task<Foreseen> Foresee(PlanOrder order)
    {
        if (_manual is null || order.ToAct() is not { } act) return Task.FromResult(new Foreseen(null, "", "This cannot be done."));
        var result = Planner.Apply(_manual, act);
        if (result.Refused is { } why) return Task.FromResult(new Foreseen(null, "", why));
        var numbers = Core.Numbering.ManualNumbers.Of(Core.Selection.Selector.Select(result.Manual!, result.Manual!.EditionNamed(null)), ShippedLooks.Named(result.Manual.Look), cache: null);
        var row = order.Rows.FirstOrDefault() ?? "";
        var target = numbers.Find(new Id(row));
        var under = target is { } found && numbers.Divisions[found.Division].Division is { } division && division.Id.Value != row ? $"{numbers.Divisions[found.Division].Number} {division.Title}".Trim() : "";
        return Task.FromResult(new Foreseen(target?.Target.Number ?? "", under, null));
    }

    public async Task<Reworked> PutIn(string batch, string writer, string divisions, string after, string assets)
    {
        if (_row is null) return new Reworked(0, "", "This manual is not on the shelf.");
        var added = DivisionForm.Parse(divisions);
        var pictures = JsonSerializer.Deserialize<Asset[]>(assets)!;
        var result = Planner.Apply(_manual!, new PlanAct.PutIn(added, new Id(after)));
        if (result.Refused is { } why) return new Reworked(0, "", why);
        await using var db = await shelf.CreateDbContextAsync();
        _manual = _manual! with { Assets = [.. _manual.Assets, .. pictures.Where(p => _manual.Assets.All(a => a.Name != p.Name))] };
        return await Become(db, result.Manual! with { Assets = _manual.Assets }, batch, writer, result.Words);
    }

    public async Task<string?> AddRole(string name, string foundation)
    {
        if (_row is null) return "This manual is not on the shelf.";
        var wanted = name.Trim();
        if (wanted.Length is 0 or > 60) return "A role needs a name of up to 60 letters.";
        if (_manual!.Roles.Any(r => r.Name.Equals(wanted, StringComparison.OrdinalIgnoreCase))) return $"There is a role “{wanted}” already.";
        _manual = _manual with { Roles = [.. _manual.Roles, new OwnRole(wanted, foundation)] };
        _row.Roles = OwnRoleForm.ToJson(_manual.Roles);
        await using var db = await shelf.CreateDbContextAsync();
        var id = _row.Id;
        var roles = _row.Roles;
        await db.Manuals.Where(m => m.Id == id).ExecuteUpdateAsync(s => s.SetProperty(m => m.Roles, roles));
        return null;
    }

    /// <summary>Writes the difference between the manual as it stands and as it is to be, as one act. Only rows that
    /// changed or left their order are touched.</summary>
    private async Task<Reworked> Become(ShelfContext db, Manual next, string batch, string writer, string label)
    {
        var plan = new Plan(this);
        await plan.Become(db, next);
        if (plan.IsEmpty && plan.Whole.Count == 0) return new Reworked(0, label, "Nothing changes.");
        var answer = await Write(db, batch, writer, label, plan, ActKind.Change, takesBack: null, joined: null);
        await TellOthers(writer, plan);
        return new Reworked(answer.Act, label, null);
    }

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

    private sealed record PlannedBlock(BlockRow Row, Block? Block, int OldVersion, bool IsNew, bool OnlyMoved = false);
    private sealed record PlannedDivision(DivisionRow Row, int OldVersion, bool IsNew);

    /// <summary>What one act will write, checked against the model before anything is written.</summary>
    private sealed class Plan(DeskGrain desk)
    {
        /// <summary>New divisions whose blocks are all new too: written by copy, taken back with the division.</summary>
        public List<Division> Whole { get; } = [];

        public Dictionary<string, PlannedBlock> Blocks { get; } = new(StringComparer.Ordinal);
        public Dictionary<string, PlannedDivision> Divisions { get; } = new(StringComparer.Ordinal);
        public List<Accepted> Accepted { get; } = [];
        public List<Refused> Refused { get; } = [];
        public JournalChanges Journal { get; } = new([], []);

        /// <summary>Something stands at another version than the batch was based on.</summary>
        public bool MetOthers => Refused.Count > 0 || Accepted.Any(a => a.Merged is not null);
        public bool IsEmpty => Blocks.Count + Divisions.Count + Whole.Count == 0;

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
                State = now?.State ?? nameof(WorkState.Draft),
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

        public static DivisionState StateOf(DivisionRow row) => new(row.OrderKey, row.Version, row.Kind, row.Title, row.ShortTitle, row.Deleted, row.State, row.AppliesTo, row.Language);

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
            if (now?.Block.FixedBy is { } pattern && (change.Deleted || (block is not null && BlockWriter.ToJson(block) != BlockWriter.ToJson(now.Block))))
            {
                Refused.Add(new Refused(change.Id, $"This text is fixed by the pattern “{pattern}”; it changes only there.", BlockWriter.ToJson(now.Block), now.Version));
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

        public async Task Become(ShelfContext db, Manual next)
        {
            var orders = Orders(desk.Ordered().Select(d => (d.Id, d.OrderKey)).ToList(), next.Divisions.Select(d => d.Id.Value).ToList());
            var staying = next.Divisions.Select(d => d.Id.Value).ToHashSet(StringComparer.Ordinal);
            foreach (var gone in desk._divisions.Values.Where(d => !staying.Contains(d.Id)).ToList())
            {
                var row = Copy(gone, gone.OrderKey);
                row.Deleted = true;
                Take(row, gone);
            }
            foreach (var division in next.Divisions)
            {
                desk._divisions.TryGetValue(division.Id.Value, out var now);
                var known = now is null ? await db.Divisions.AsNoTracking().FirstOrDefaultAsync(d => d.Id == division.Id.Value) : null;
                var row = new DivisionRow
                {
                    Id = division.Id.Value,
                    ManualId = desk._row!.Id,
                    OrderKey = orders[division.Id.Value],
                    Kind = division.Kind.ToString(),
                    Title = division.Title,
                    ShortTitle = division.ShortTitle,
                    Language = division.Language,
                    AppliesTo = EditionForm.ToJson(division.AppliesTo),
                    Begins = division.Begins.ToString(),
                    State = division.State.ToString(),
                    Version = (now?.Version ?? known?.Version ?? 0) + 1,
                };
                if (now is null || StateOf(now) with { Version = 0 } != StateOf(row) with { Version = 0 } && !(Same(now, row)))
                {
                    Divisions[row.Id] = new PlannedDivision(row, now?.Version ?? known?.Version ?? 0, now is null && known is null);
                    Journal.Divisions.Add(new JournalDivision(row.Id, now is null ? null : StateOf(now), StateOf(row)));
                    Accepted.Add(new Accepted(row.Id, row.Version, null));
                }
            }
            // Blocks: what is the same object in the same order stays untouched.
            var held = desk._blocks;
            var kept = new HashSet<string>(StringComparer.Ordinal);
            foreach (var division in next.Divisions)
            {
                var id = division.Id.Value;
                var isNew = !desk._divisions.ContainsKey(id);
                if (isNew && division.Blocks.Count > 0 && division.Blocks.All(b => !held.ContainsKey(b.Id.Value)) && !await db.Blocks.AnyAsync(b => division.Blocks.Select(x => x.Id.Value).Take(1).Contains(b.Id)))
                {
                    Whole.Add(division);
                    continue;
                }
                var here = isNew ? [] : desk.BlocksOf(id).Select(b => (b.Id, b.OrderKey)).ToList();
                var keys = Orders(here, division.Blocks.Select(b => b.Id.Value).ToList());
                foreach (var block in division.Blocks)
                {
                    kept.Add(block.Id.Value);
                    held.TryGetValue(block.Id.Value, out var now);
                    var moved = now is null || now.Division != id || now.OrderKey != keys[block.Id.Value];
                    if (!moved && ReferenceEquals(now!.Block, block)) continue;
                    var known = now is null ? await db.Blocks.AsNoTracking().FirstOrDefaultAsync(b => b.Id == block.Id.Value) : null;
                    var onlyMoved = now is not null && ReferenceEquals(now.Block, block);
                    var row = new BlockRow
                    {
                        Id = block.Id.Value,
                        ManualId = desk._row!.Id,
                        DivisionId = id,
                        OrderKey = keys[block.Id.Value],
                        Kind = block.GetType().Name,
                        Body = BlockWriter.ToJson(block),
                        Version = (now?.Version ?? known?.Version ?? 0) + 1,
                    };
                    Take(row, block, now, isNew: now is null && known is null, oldVersion: now?.Version ?? known?.Version ?? 0);
                    if (onlyMoved) Blocks[row.Id] = Blocks[row.Id] with { OnlyMoved = true };
                }
            }
            foreach (var gone in held.Values.Where(b => !kept.Contains(b.Id) && staying.Contains(b.Division)).ToList())
                Take(new BlockRow { Id = gone.Id, ManualId = desk._row!.Id, DivisionId = gone.Division, OrderKey = gone.OrderKey, Kind = gone.Block.GetType().Name, Body = BlockWriter.ToJson(gone.Block), Version = gone.Version + 1, Deleted = true }, gone.Block, gone, isNew: false, oldVersion: gone.Version);
        }

        /// <summary>Alike but for the version, whatever the order in which conditions were written.</summary>
        private static bool Same(DivisionRow a, DivisionRow b) => StateOf(a) with { Version = 0, AppliesTo = null } == StateOf(b) with { Version = 0, AppliesTo = null } && EditionForm.ToJson(EditionForm.ParseAppliesTo(a.AppliesTo)) == b.AppliesTo;

        private static DivisionRow Copy(DivisionRow row, string order) => new()
        {
            Id = row.Id,
            ManualId = row.ManualId,
            OrderKey = order,
            Kind = row.Kind,
            Title = row.Title,
            ShortTitle = row.ShortTitle,
            Language = row.Language,
            AppliesTo = row.AppliesTo,
            Begins = row.Begins,
            State = row.State,
            Version = row.Version + 1,
        };

        /// <summary>Order keys for rows in their new order. As many as can keep theirs (the longest run already in order);
        /// the others get keys between.</summary>
        private static Dictionary<string, string> Orders(List<(string Id, string Key)> before, List<string> now)
        {
            var key = before.ToDictionary(b => b.Id, b => b.Key, StringComparer.Ordinal);
            var at = before.Select((b, i) => (b.Id, i)).ToDictionary(b => b.Id, b => b.i, StringComparer.Ordinal);
            var stay = Longest(now.Select(id => at.GetValueOrDefault(id, -1)).ToList());
            var keys = new Dictionary<string, string>(StringComparer.Ordinal);
            string? last = null;
            for (var i = 0; i < now.Count;)
            {
                if (stay[i])
                {
                    keys[now[i]] = last = key[now[i]];
                    i++;
                    continue;
                }
                var end = i;
                while (end < now.Count && !stay[end]) end++;
                var next = end < now.Count ? key[now[end]] : null;
                // Halving keeps the keys of a long run short.
                void Fill(int from, int to, string? low, string? high)
                {
                    if (from >= to) return;
                    var middle = (from + to) / 2;
                    var made = OrderKey.Between(low, high);
                    keys[now[middle]] = made;
                    Fill(from, middle, low, made);
                    Fill(middle + 1, to, made, high);
                }
                Fill(i, end, last, next);
                last = keys[now[end - 1]];
                i = end;
            }
            return keys;
        }

        /// <summary>Which of these numbers belong to a longest rising run; −1 belongs to none (patience sorting).</summary>
        private static bool[] Longest(List<int> numbers)
        {
            var tails = new List<int>();
            var before = new int[numbers.Count];
            for (var i = 0; i < numbers.Count; i++)
            {
                before[i] = -1;
                if (numbers[i] < 0) continue;
                int low = 0, high = tails.Count;
                while (low < high)
                {
                    var middle = (low + high) / 2;
                    if (numbers[tails[middle]] < numbers[i]) low = middle + 1;
                    else high = middle;
                }
                if (low > 0) before[i] = tails[low - 1];
                if (low == tails.Count) tails.Add(i);
                else tails[low] = i;
            }
            var stay = new bool[numbers.Count];
            for (var i = tails.Count > 0 ? tails[^1] : -1; i >= 0; i = before[i]) stay[i] = true;
            return stay;
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
            // Acts of earlier versions did not note state and conditions: there only the rest is compared.
            var known = left.State is null ? now is null ? null : StateOf(now) with { State = null, AppliesTo = null, Language = null } : now is null ? null : StateOf(now);
            if (left.Deleted ? now is not null : known is null || known with { Version = left.Version } != left)
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
                Language = was.Language ?? now?.Language ?? desk._row.Language,
                AppliesTo = was.AppliesTo ?? now?.AppliesTo ?? "{}",
                State = was.State ?? now?.State ?? nameof(WorkState.Draft),
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
