using Kivren.Core.Content;
using Kivren.Desk;
using Kivren.Formats.Package;
using Microsoft.EntityFrameworkCore;

namespace Kivren.Store;

/// <summary>Reads manuals from the database, whole: nothing of what was read before is replaced until all is here.</summary>
public static class ManualReader
{
    /// <returns>null when there is no such manual on the shelf</returns>
    public static async Task<DeskState?> Read(ShelfContext db, string id, CancellationToken cancel = default)
    {
        // One snapshot: what is written between two of these queries is in all of them or in none.
        await using var snapshot = await db.Database.BeginTransactionAsync(System.Data.IsolationLevel.RepeatableRead, cancel);
        var row = await db.Manuals.AsNoTracking().FirstOrDefaultAsync(m => m.Id == id && m.DeletedAt == null, cancel);
        if (row is null)
            return null;
        var divisions = await db
            .Divisions.AsNoTracking()
            .Where(d => d.ManualId == id && !d.Deleted)
            .OrderBy(d => d.OrderKey)
            .ToListAsync(cancel);
        var blocks = (
            await db.Blocks.AsNoTracking().Where(b => b.ManualId == id && !b.Deleted).OrderBy(b => b.OrderKey).ToListAsync(cancel)
        ).ToLookup(b => b.DivisionId);
        var assets = await db.Assets.AsNoTracking().Where(a => a.ManualId == id).OrderBy(a => a.Name).ToListAsync(cancel);
        await StoredFonts.Read(db, row.LookFile, cancel);
        foreach (var edition in EditionForm.ParseEditions(row.Editions))
            await StoredFonts.Read(db, edition.LookFile, cancel);
        var act = await db.Journal.Where(j => j.ManualId == id).MaxAsync(j => (long?)j.Id, cancel) ?? 0;
        await snapshot.CommitAsync(cancel);
        PlacedDivision[] placed = [.. divisions.Select(d => Placed(d, blocks[d.Id]))];
        var manual = RowOf.ToManual(row, assets).WithKept([.. placed.Select(d => d.Division)]);
        return DeskState.Of(manual.WithConditionsInUse(), placed, act);
    }

    private static PlacedDivision Placed(DivisionRow row, IEnumerable<BlockRow> rows)
    {
        PlacedBlock[] blocks = [.. rows.Select(RowOf.ToPlaced)];
        var division = RowOf.ToHeader(row).ToDivision(row.Id) with { Blocks = [.. blocks.Select(b => b.Block)] };
        return new PlacedDivision(division, row.OrderKey, row.Version, blocks);
    }

    /// <summary>The bytes of pictures by the name the manual gives them; those that are missing are left out.</summary>
    public static async Task<Dictionary<string, byte[]>> Pictures(
        ShelfContext db,
        IReadOnlyList<Asset> assets,
        CancellationToken cancel = default
    )
    {
        var hashes = assets.Select(a => a.Hash).Distinct().ToList();
        var bytes = await db
            .Pictures.AsNoTracking()
            .Where(p => hashes.Contains(p.Hash))
            .ToDictionaryAsync(p => p.Hash, p => p.Bytes, cancel);
        return assets.Where(a => bytes.ContainsKey(a.Hash)).ToDictionary(a => a.Name, a => bytes[a.Hash], StringComparer.Ordinal);
    }

    // ---- what an act needs to know beside the state ----

    /// <summary>Rows of blocks that are not in an open manual: taken out, under a division that was, or of another manual.</summary>
    public static async Task<Dictionary<string, GoneBlock>> Gone(
        ShelfContext db,
        IReadOnlyList<string> ids,
        CancellationToken cancel = default
    )
    {
        if (ids.Count == 0)
            return [];
        return await db
            .Blocks.AsNoTracking()
            .Where(b => ids.Contains(b.Id))
            .ToDictionaryAsync(
                b => b.Id,
                b => new GoneBlock(b.ManualId, b.DivisionId, b.Version, b.Deleted, b.Body),
                StringComparer.Ordinal,
                cancel
            );
    }

    /// <summary>Divisions that were taken out, with the blocks that stand under them still.</summary>
    public static async Task<Dictionary<string, GoneDivision>> GoneDivisions(
        ShelfContext db,
        IReadOnlyList<string> ids,
        CancellationToken cancel = default
    )
    {
        if (ids.Count == 0)
            return [];
        var rows = await db.Divisions.AsNoTracking().Where(d => ids.Contains(d.Id)).ToListAsync(cancel);
        var blocks = (
            await db.Blocks.AsNoTracking().Where(b => ids.Contains(b.DivisionId) && !b.Deleted).OrderBy(b => b.OrderKey).ToListAsync(cancel)
        ).ToLookup(b => b.DivisionId);
        return rows.ToDictionary(
            d => d.Id,
            d => new GoneDivision(d.Version, [.. blocks[d.Id].Select(RowOf.ToPlaced)]),
            StringComparer.Ordinal
        );
    }

    /// <summary>What blocks said at earlier versions: before the act that changed them next.</summary>
    public static async Task<Dictionary<(string, int), string>> Bodies(
        ShelfContext db,
        IReadOnlyList<(string Block, int Version)> wanted,
        CancellationToken cancel = default
    )
    {
        var found = new Dictionary<(string, int), string>();
        if (wanted.Count == 0)
            return found;
        var ids = wanted.Select(w => w.Block).Distinct().ToList();
        var versions = wanted.Select(w => (int?)w.Version).Distinct().ToList();
        var rows = await db
            .JournalBlocks.AsNoTracking()
            .Where(b => ids.Contains(b.BlockId) && versions.Contains(b.BeforeVersion) && b.BeforeBody != null)
            .Select(b => new
            {
                b.BlockId,
                b.BeforeVersion,
                b.BeforeBody,
            })
            .ToListAsync(cancel);
        foreach (var row in rows)
            found[(row.BlockId, row.BeforeVersion!.Value)] = row.BeforeBody!;
        return found;
    }
}
