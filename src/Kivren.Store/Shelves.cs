using Microsoft.EntityFrameworkCore;

namespace Kivren.Store;

/// <summary>What is done to the shelf as a whole.</summary>
public static class Shelves
{
    /// <summary>A picture that no manual names yet may be of documents that are just being taken in.</summary>
    private static readonly TimeSpan Settling = TimeSpan.FromDays(1);

    /// <summary>Takes away for good what is older than each bound; null bounds take nothing.</summary>
    /// <returns>how many rows went</returns>
    public static async Task<int> Sweep(
        ShelfContext db,
        DateTimeOffset? deletedBefore,
        DateTimeOffset? outputsBefore,
        DateTimeOffset? journalBefore,
        DateTimeOffset now,
        CancellationToken cancel = default
    )
    {
        var swept = 0;
        if (journalBefore is { } acts)
            swept += await db.Journal.Where(j => j.At < acts).ExecuteDeleteAsync(cancel);
        if (outputsBefore is { } made)
            swept += await db
                .Outputs.Where(o => o.AskedAt < made && o.State != OutputState.Waiting && o.State != OutputState.Running)
                .ExecuteDeleteAsync(cancel);
        if (deletedBefore is { } gone)
            foreach (var id in await db.Manuals.Where(m => m.DeletedAt < gone).Select(m => m.Id).ToListAsync(cancel))
                swept += await Remove(db, id, cancel);
        var old = now - Settling;
        swept += await db
            .Pictures.Where(p =>
                p.KeptAt < old && !db.Assets.Any(a => a.Hash == p.Hash) && !db.KeptOnShelf.Any(k => k.Pictures.Contains(p.Hash))
            )
            .ExecuteDeleteAsync(cancel);
        swept += await db.Incoming.Where(i => i.StartedAt < old && i.Taken != null).ExecuteDeleteAsync(cancel);
        return swept;
    }

    /// <summary>All of one manual, in one transaction.</summary>
    private static async Task<int> Remove(ShelfContext db, string id, CancellationToken cancel)
    {
        await using var transaction = await db.Database.BeginTransactionAsync(cancel);
        var rows =
            await db.Journal.Where(j => j.ManualId == id).ExecuteDeleteAsync(cancel)
            + await db.Outputs.Where(o => o.ManualId == id).ExecuteDeleteAsync(cancel)
            + await db.Sources.Where(s => s.ManualId == id).ExecuteDeleteAsync(cancel)
            + await db.Assets.Where(a => a.ManualId == id).ExecuteDeleteAsync(cancel)
            + await db.Blocks.Where(b => b.ManualId == id).ExecuteDeleteAsync(cancel)
            + await db.Divisions.Where(d => d.ManualId == id).ExecuteDeleteAsync(cancel)
            + await db.Manuals.Where(m => m.Id == id).ExecuteDeleteAsync(cancel);
        await transaction.CommitAsync(cancel);
        return rows;
    }
}
