using Kivren.Core.Content;
using Kivren.Core.Looks;
using Kivren.Desk;
using Kivren.Formats.Package;
using Microsoft.EntityFrameworkCore;
using Npgsql;

namespace Kivren.Store;

/// <summary>Puts a whole manual on the shelf: a package, an import, a new manual.</summary>
public static class ManualSaver
{
    /// <summary>Writes all rows in one transaction. Ids that the shelf has already are renewed throughout.</summary>
    /// <param name="beside">more that goes into the same transaction; it is given the manual as it is written</param>
    /// <returns>the id of the manual on the shelf</returns>
    public static async Task<string> Save(
        ShelfContext db,
        Package package,
        DateTimeOffset now,
        Func<ShelfContext, Manual, Task>? beside = null,
        CancellationToken cancel = default
    )
    {
        var manual = package.Manual;
        if (await Taken(db, manual, cancel))
            manual = IdRenewal.Renew(manual, () => Guid.CreateVersion7().ToString("N"));
        var kept = manual.Kept();
        var divisions = kept.Select((d, i) => Placed(d, OrderKey.Even(i, kept.Count))).ToList();
        await using var transaction = await db.Database.BeginTransactionAsync(cancel);
        db.Manuals.Add(RowOf.Manual(manual, now));
        foreach (var division in divisions)
            db.Divisions.Add(RowOf.Division(manual.Id.Value, division));
        foreach (var asset in manual.Assets)
            db.Assets.Add(RowOf.Asset(manual.Id.Value, asset));
        await db.SaveChangesAsync(cancel);
        if (beside is not null)
            await beside(db, manual);
        await AddPictures(db, manual.Assets, package.Pictures, cancel);
        await StoredFonts.Keep(db, WornLook.FontFiles(manual), now, cancel);
        var blocks = divisions.SelectMany(d => d.Blocks.Select(b => (d.Id, b)));
        await ActWriter.CopyBlocks((NpgsqlConnection)db.Database.GetDbConnection(), manual.Id.Value, blocks, cancel);
        await transaction.CommitAsync(cancel);
        return manual.Id.Value;
    }

    private static PlacedDivision Placed(Division division, string key) =>
        new(division, key, 1, [.. division.Blocks.Select((b, i) => new PlacedBlock(b, OrderKey.Even(i, division.Blocks.Count), 1))]);

    /// <summary>Whether the shelf has an id of this manual, of a division or of a block of it already.</summary>
    private static async Task<bool> Taken(ShelfContext db, Manual manual, CancellationToken cancel)
    {
        if (await db.Manuals.AnyAsync(m => m.Id == manual.Id.Value, cancel))
            return true;
        var divisions = manual.Kept().Select(d => d.Id.Value).ToList();
        if (await db.Divisions.AnyAsync(d => divisions.Contains(d.Id), cancel))
            return true;
        foreach (var some in manual.Kept().SelectMany(d => d.Blocks).Select(b => b.Id.Value).Chunk(5_000))
            if (await db.Blocks.AnyAsync(b => some.Contains(b.Id), cancel))
                return true;
        return false;
    }

    /// <summary>Keeps the bytes of pictures, each once for all manuals; two who bring the same picture at once do no harm.</summary>
    public static async Task AddPictures(
        ShelfContext db,
        IReadOnlyList<Asset> assets,
        IReadOnlyDictionary<string, byte[]> pictures,
        CancellationToken cancel = default
    )
    {
        foreach (var asset in assets)
            if (pictures.TryGetValue(asset.Name, out var bytes))
                await db.Database.ExecuteSqlAsync(
                    $"INSERT INTO pictures (hash, bytes) VALUES ({asset.Hash}, {bytes}) ON CONFLICT (hash) DO UPDATE SET kept_at = now()",
                    cancel
                );
    }
}
