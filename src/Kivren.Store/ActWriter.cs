using System.Text.Json;
using Kivren.Core.Content;
using Kivren.Desk;
using Kivren.Formats.Package;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.ChangeTracking;
using Npgsql;
using NpgsqlTypes;

namespace Kivren.Store;

/// <summary>An act as the journal notes it.</summary>
/// <param name="Answer">what is answered to who sends the batch again, JSON</param>
public sealed record NotedAct(string Batch, string Writer, string Label, ActKind Kind, long? TakesBack, string Answer)
{
    /// <summary>The batch that this act is a part of; null for a whole one.</summary>
    public string? PartOf { get; init; }
}

/// <summary>Writes what acts on one manual yield, rows and journal, in the transaction that the context has begun. Acts are gathered
/// and go to the database together: before anything is read in this transaction, and before a row is written a second time.</summary>
internal sealed class ActWriter(ShelfContext db, string manual)
{
    /// <summary>From so many rows on they go in by binary copy, or are changed by one statement, which is ten times as fast.</summary>
    private const int ByCopy = 100;

    /// <summary>Blocks and divisions that gathered acts write.</summary>
    private readonly HashSet<string> _gathered = new(StringComparer.Ordinal);

    /// <summary>The context to read with: all acts so far are in the database.</summary>
    /// <exception cref="DbUpdateConcurrencyException">a row is not as the state believed: nothing is written</exception>
    public async Task<ShelfContext> Reading(CancellationToken cancel = default)
    {
        if (!db.ChangeTracker.HasChanges())
            return db;
        await db.SaveChangesAsync(cancel);
        db.ChangeTracker.Clear();
        _gathered.Clear();
        return db;
    }

    /// <summary>Numbers for so many acts to come, in order.</summary>
    public async Task<IReadOnlyList<long>> Numbers(int count, CancellationToken cancel = default) =>
        await db
            .Database.SqlQuery<long>(
                $"SELECT nextval(pg_get_serial_sequence('journal', 'id')) AS \"Value\" FROM generate_series(1, {count})"
            )
            .ToListAsync(cancel);

    /// <param name="number">of the act, taken before</param>
    /// <param name="beside">more that goes into the same transaction, such as pictures and sources</param>
    public async Task Write(
        long number,
        DeskRows rows,
        NotedAct act,
        DateTimeOffset now,
        Func<ShelfContext, Task>? beside = null,
        CancellationToken cancel = default
    )
    {
        var written = rows.Blocks.Select(b => b.Block.Id).Concat(rows.Divisions.Select(d => d.Division.Id)).ToList();
        if (written.Exists(_gathered.Contains) || beside is not null)
            await Reading(cancel);
        _gathered.UnionWith(written);
        foreach (var division in rows.Divisions)
            Put(RowOf.Division(manual, division.Division, division.Deleted), division.OldVersion);
        var fresh = rows.Blocks.Where(b => b.OldVersion == 0).ToList();
        var standing = rows.Blocks.Where(b => b.OldVersion > 0).ToList();
        if (fresh.Count < ByCopy)
            fresh.ForEach(b => Put(RowOf.Block(manual, b.Division, b.Block, b.Deleted), 0));
        foreach (var block in standing.Count < ByCopy ? standing : [])
        {
            var entry = Put(RowOf.Block(manual, block.Division, block.Block, block.Deleted), block.OldVersion);
            entry.Property(b => b.Body).IsModified = block.BodyChanged;
            entry.Property(b => b.Kind).IsModified = block.BodyChanged;
        }
        foreach (var asset in rows.Manual.Assets)
            db.Assets.Add(RowOf.Asset(manual, asset));
        db.Journal.Add(
            new JournalRow
            {
                Id = number,
                ManualId = manual,
                BatchId = act.Batch,
                Writer = act.Writer,
                Label = act.Label,
                At = now,
                Answer = act.Answer,
                Kind = act.Kind,
                TakesBack = act.TakesBack,
                PartOf = act.PartOf,
                NewBlocks = [.. fresh.Select(b => b.Block.Id)],
                SettingsBefore = rows.Manual.SettingsBefore?.ToJson(),
                SettingsAfter = rows.Manual.Settings?.ToJson(),
            }
        );
        if (beside is not null)
            await beside(db);
        Touch(rows.Manual, now);
        foreach (var division in rows.Divisions)
            db.JournalDivisions.Add(
                new JournalDivisionRow
                {
                    Act = number,
                    DivisionId = division.Division.Id,
                    Before = division.Before is null ? null : JsonSerializer.Serialize(division.Before),
                    After = JsonSerializer.Serialize(division.After),
                }
            );
        if (standing.Count < ByCopy)
            db.JournalBlocks.AddRange(standing.Select(b => Noted(number, b)));
        if (rows.Blocks.Count >= ByCopy)
        {
            await Reading(cancel);
            var connection = (NpgsqlConnection)db.Database.GetDbConnection();
            if (fresh.Count >= ByCopy)
                await CopyBlocks(connection, manual, fresh.Select(b => (b.Division, b.Block)), cancel);
            if (standing.Count >= ByCopy)
            {
                await Change(connection, manual, standing, cancel);
                await CopyJournal(connection, number, standing, cancel);
            }
        }
        if (act.TakesBack is { } taken)
            await Journal.Whole(db, manual, taken).ExecuteUpdateAsync(s => s.SetProperty(j => j.TakenBack, true), cancel);
    }

    /// <summary>The manual's own row goes up with the rest; its page count is the composition's to write.</summary>
    private void Touch(ManualRowChange change, DateTimeOffset now)
    {
        var row = db.Manuals.Local.FirstOrDefault(m => m.Id == manual);
        if (row is null)
            db.Manuals.Attach(
                row = new ManualRow
                {
                    Id = manual,
                    Title = "",
                    Language = "",
                    Look = "",
                }
            );
        var entry = db.Entry(row);
        row.WorkedOn = now;
        entry.Property(m => m.WorkedOn).IsModified = true;
        if (change.Aliases is { } aliases)
        {
            row.Aliases = RowOf.Aliases(aliases);
            entry.Property(m => m.Aliases).IsModified = true;
        }
        if (change.Settings is not { } settings)
            return;
        if (settings.Json(Worn.Part) is { } said)
        {
            (row.Look, row.LookFile) = OwnListForm.Parse<Worn>(said);
            entry.Property(m => m.Look).IsModified = entry.Property(m => m.LookFile).IsModified = true;
        }
        if (settings.Json(ManualSettings.Spoken) is { } language)
        {
            row.Language = JsonSerializer.Deserialize<string>(language)!;
            entry.Property(m => m.Language).IsModified = true;
        }
        foreach (var part in entry.Properties)
            if (settings.Json(part.Metadata.Name[..1].ToLowerInvariant() + part.Metadata.Name[1..]) is { } json)
            {
                part.CurrentValue = part.Metadata.ClrType == typeof(string) ? json : OwnListForm.Parse<string[]>(json);
                part.IsModified = true;
            }
    }

    private EntityEntry<T> Put<T>(T row, int oldVersion)
        where T : class
    {
        if (oldVersion == 0)
            return db.Set<T>().Add(row);
        var entry = db.Set<T>().Attach(row);
        entry.State = EntityState.Modified;
        // Should another process have written it, the write fails here instead of being lost.
        entry.Property("Version").OriginalValue = oldVersion;
        return entry;
    }

    private static JournalBlockRow Noted(long act, BlockRowChange block) =>
        new()
        {
            Act = act,
            BlockId = block.Block.Id,
            BeforeDivision = block.Before?.Division,
            BeforeOrderKey = block.Before?.OrderKey,
            BeforeVersion = block.Before?.Version,
            BeforeBody = block.Before?.Body,
            AfterVersion = block.Block.Version,
            AfterDeleted = block.Deleted,
        };

    /// <summary>Writes new blocks by binary copy, in the connection's transaction.</summary>
    internal static async Task CopyBlocks(
        NpgsqlConnection connection,
        string manual,
        IEnumerable<(string Division, PlacedBlock Block)> blocks,
        CancellationToken cancel
    )
    {
        const string into = "COPY blocks (id, manual_id, division_id, order_key, kind, body, version, deleted) FROM STDIN (FORMAT BINARY)";
        await using var copy = await connection.BeginBinaryImportAsync(into, cancel);
        foreach (var (division, block) in blocks)
        {
            var row = RowOf.Block(manual, division, block);
            await copy.StartRowAsync(cancel);
            await copy.WriteAsync(row.Id, NpgsqlDbType.Text, cancel);
            await copy.WriteAsync(row.ManualId, NpgsqlDbType.Text, cancel);
            await copy.WriteAsync(row.DivisionId, NpgsqlDbType.Text, cancel);
            await copy.WriteAsync(row.OrderKey, NpgsqlDbType.Text, cancel);
            await copy.WriteAsync(row.Kind, NpgsqlDbType.Text, cancel);
            await copy.WriteAsync(row.Body, NpgsqlDbType.Jsonb, cancel);
            await copy.WriteAsync(row.Version, NpgsqlDbType.Integer, cancel);
            await copy.WriteAsync(false, NpgsqlDbType.Boolean, cancel);
        }
        await copy.CompleteAsync(cancel);
    }

    /// <summary>Changes blocks that are there, in the connection's transaction.</summary>
    /// <exception cref="DbUpdateConcurrencyException">one of them is not of the version that the state believed</exception>
    private static async Task Change(
        NpgsqlConnection connection,
        string manual,
        IReadOnlyList<BlockRowChange> blocks,
        CancellationToken cancel
    )
    {
        await using var command = connection.CreateCommand();
        command.CommandText = """
            UPDATE blocks SET
                division_id = now.division_id, order_key = now.order_key, version = now.version, deleted = now.deleted,
                kind = COALESCE(now.kind, blocks.kind), body = COALESCE(now.body::jsonb, blocks.body)
            FROM unnest(@ids, @divisions, @keys, @kinds, @bodies, @versions, @deleted, @old)
                AS now(id, division_id, order_key, kind, body, version, deleted, old)
            WHERE blocks.id = now.id AND blocks.manual_id = @manual AND blocks.version = now.old
            """;
        var rows = blocks.Select(b => RowOf.Block(manual, b.Division, b.Block, b.Deleted)).ToList();
        void Add<T>(string name, NpgsqlDbType type, IEnumerable<T> values) =>
            command.Parameters.Add(new NpgsqlParameter(name, NpgsqlDbType.Array | type) { Value = values.ToArray() });
        Add("ids", NpgsqlDbType.Text, rows.Select(r => r.Id));
        Add("divisions", NpgsqlDbType.Text, rows.Select(r => r.DivisionId));
        Add("keys", NpgsqlDbType.Text, rows.Select(r => r.OrderKey));
        Add("kinds", NpgsqlDbType.Text, rows.Zip(blocks, (r, b) => b.BodyChanged ? r.Kind : null));
        Add("bodies", NpgsqlDbType.Text, rows.Zip(blocks, (r, b) => b.BodyChanged ? r.Body : null));
        Add("versions", NpgsqlDbType.Integer, rows.Select(r => r.Version));
        Add("deleted", NpgsqlDbType.Boolean, rows.Select(r => r.Deleted));
        Add("old", NpgsqlDbType.Integer, blocks.Select(b => b.OldVersion));
        command.Parameters.AddWithValue("manual", manual);
        if (await command.ExecuteNonQueryAsync(cancel) != blocks.Count)
            throw new DbUpdateConcurrencyException("Blocks were written by another process meanwhile.");
    }

    private static async Task CopyJournal(
        NpgsqlConnection connection,
        long act,
        IReadOnlyList<BlockRowChange> blocks,
        CancellationToken cancel
    )
    {
        const string into =
            "COPY journal_blocks (act, block_id, before_division, before_order_key, before_version, before_body, after_version, "
            + "after_deleted) FROM STDIN (FORMAT BINARY)";
        await using var copy = await connection.BeginBinaryImportAsync(into, cancel);
        async Task Write<T>(T? value, NpgsqlDbType type)
        {
            if (value is null)
                await copy.WriteNullAsync(cancel);
            else
                await copy.WriteAsync(value, type, cancel);
        }
        foreach (var block in blocks)
        {
            var row = Noted(act, block);
            await copy.StartRowAsync(cancel);
            await Write<long?>(row.Act, NpgsqlDbType.Bigint);
            await Write(row.BlockId, NpgsqlDbType.Text);
            await Write(row.BeforeDivision, NpgsqlDbType.Text);
            await Write(row.BeforeOrderKey, NpgsqlDbType.Text);
            await Write(row.BeforeVersion, NpgsqlDbType.Integer);
            await Write(row.BeforeBody, NpgsqlDbType.Jsonb);
            await Write<int?>(row.AfterVersion, NpgsqlDbType.Integer);
            await Write<bool?>(row.AfterDeleted, NpgsqlDbType.Boolean);
        }
        await copy.CompleteAsync(cancel);
    }
}
