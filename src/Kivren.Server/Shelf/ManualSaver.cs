using System.Text.Json;
using Kivren.Core.Content;
using Kivren.Formats.Package;
using Kivren.Store;
using Microsoft.EntityFrameworkCore;
using Npgsql;
using NpgsqlTypes;

namespace Kivren.Server.Shelf;

/// <summary>Puts a whole manual on the shelf: a package, an import, a new manual.</summary>
public static class ManualSaver
{
    /// <summary>Writes all rows in one transaction. Ids that the shelf has already are renewed throughout.</summary>
    /// <returns>the id of the manual on the shelf</returns>
    public static async Task<string> Save(ShelfContext db, Package package, DateTimeOffset now, CancellationToken cancel = default)
    {
        var manual = package.Manual;
        var taken = await db.Manuals.AnyAsync(m => m.Id == manual.Id.Value, cancel);
        if (!taken && manual.Divisions.Count > 0)
        {
            var first = manual.Divisions.Select(d => d.Id.Value).ToList();
            taken = await db.Divisions.AnyAsync(d => first.Contains(d.Id), cancel);
        }
        if (taken) manual = IdRenewal.Renew(manual, () => Guid.CreateVersion7().ToString("N"));
        await using var transaction = await db.Database.BeginTransactionAsync(cancel);
        db.Manuals.Add(new ManualRow
        {
            Id = manual.Id.Value,
            Title = manual.Title,
            Language = manual.Language,
            Look = manual.Look,
            Variables = JsonSerializer.Serialize(manual.Variables.ToDictionary(v => v.Name, v => v.Text)),
            Editions = EditionForm.ToJson(manual.Editions),
            Aliases = JsonSerializer.Serialize(manual.Aliases.ToDictionary(a => a.Key.Value, a => a.Value.Value)),
            Roles = OwnRoleForm.ToJson(manual.Roles),
            Passages = PassageForm.ToJson(manual.Passages),
            HyphenationExceptions = [.. manual.HyphenationExceptions],
            WorkedOn = now,
        });
        for (var d = 0; d < manual.Divisions.Count; d++)
        {
            var division = manual.Divisions[d];
            db.Divisions.Add(new DivisionRow
            {
                Id = division.Id.Value,
                ManualId = manual.Id.Value,
                OrderKey = OrderKey.Even(d, manual.Divisions.Count),
                Kind = division.Kind.ToString(),
                Title = division.Title,
                ShortTitle = division.ShortTitle,
                Language = division.Language,
                AppliesTo = EditionForm.ToJson(division.AppliesTo),
                Begins = division.Begins.ToString(),
                State = division.State.ToString(),
            });
        }
        await AddPictures(db, manual.Id.Value, manual.Assets, package.Pictures, cancel);
        await db.SaveChangesAsync(cancel);
        await CopyBlocks((NpgsqlConnection)db.Database.GetDbConnection(), manual.Id.Value, manual.Divisions, cancel);
        await transaction.CommitAsync(cancel);
        return manual.Id.Value;
    }

    /// <summary>Notes the pictures of a manual; the bytes of each are kept once.</summary>
    public static async Task AddPictures(ShelfContext db, string manual, IReadOnlyList<Asset> assets, IReadOnlyDictionary<string, byte[]> pictures, CancellationToken cancel = default)
    {
        foreach (var asset in assets)
        {
            db.Assets.Add(new AssetRow { ManualId = manual, Name = asset.Name, MediaType = asset.MediaType, Width = asset.Width, Height = asset.Height, Hash = asset.Hash });
            if (pictures.TryGetValue(asset.Name, out var bytes) && !await db.Pictures.AnyAsync(p => p.Hash == asset.Hash, cancel) && db.Pictures.Local.All(p => p.Hash != asset.Hash))
                db.Pictures.Add(new PictureRow { Hash = asset.Hash, Bytes = bytes });
        }
    }

    /// <summary>Writes the blocks of new divisions by binary copy, in the connection's transaction.</summary>
    public static async Task CopyBlocks(NpgsqlConnection connection, string manual, IReadOnlyList<Division> divisions, CancellationToken cancel = default)
    {
        await using var copy = await connection.BeginBinaryImportAsync("COPY blocks (id, manual_id, division_id, order_key, kind, body, version, deleted) FROM STDIN (FORMAT BINARY)", cancel);
        foreach (var division in divisions)
            for (var b = 0; b < division.Blocks.Count; b++)
            {
                var block = division.Blocks[b];
                await copy.StartRowAsync(cancel);
                await copy.WriteAsync(block.Id.Value, NpgsqlDbType.Text, cancel);
                await copy.WriteAsync(manual, NpgsqlDbType.Text, cancel);
                await copy.WriteAsync(division.Id.Value, NpgsqlDbType.Text, cancel);
                await copy.WriteAsync(OrderKey.Even(b, division.Blocks.Count), NpgsqlDbType.Text, cancel);
                await copy.WriteAsync(block.GetType().Name, NpgsqlDbType.Text, cancel);
                await copy.WriteAsync(BlockWriter.ToJson(block), NpgsqlDbType.Jsonb, cancel);
                await copy.WriteAsync(1, NpgsqlDbType.Integer, cancel);
                await copy.WriteAsync(false, NpgsqlDbType.Boolean, cancel);
            }
        await copy.CompleteAsync(cancel);
    }
}
