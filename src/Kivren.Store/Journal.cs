using System.Text.Json;
using Kivren.Desk;
using Kivren.Formats.Package;
using Microsoft.EntityFrameworkCore;

namespace Kivren.Store;

/// <summary>What the journal says of acts that were done.</summary>
public static class Journal
{
    /// <summary>What was answered to a batch, or null when it was not done.</summary>
    public static async Task<(long Act, string Label, string Answer, string[] NewBlocks)?> Find(
        ShelfContext db,
        string manual,
        string batch,
        CancellationToken cancel = default
    )
    {
        var found = await db
            .Journal.AsNoTracking()
            .Where(j => j.ManualId == manual && j.BatchId == batch)
            .Select(j => new
            {
                j.Id,
                j.Label,
                j.Answer,
                j.NewBlocks,
            })
            .FirstOrDefaultAsync(cancel);
        return found is null ? null : (found.Id, found.Label, found.Answer, found.NewBlocks);
    }

    /// <summary>The act that a writer's undo takes back, or with <paramref name="again"/> the taking back that redo does again, as
    /// long as no change was made since; null when there is none.</summary>
    public static async Task<JournalRow?> Last(
        ShelfContext db,
        string manual,
        string writer,
        bool again,
        CancellationToken cancel = default
    )
    {
        var own = db.Journal.AsNoTracking().Where(j => j.ManualId == manual && j.Writer == writer && !j.TakenBack);
        var last = await own.Where(j => again ? j.Kind != ActKind.DoingAgain : j.Kind != ActKind.TakingBack)
            .OrderByDescending(j => j.Id)
            .FirstOrDefaultAsync(cancel);
        return last is null || (again && last.Kind == ActKind.Change) ? null : last;
    }

    /// <summary>An act with the other parts of its batch, as far as they stand.</summary>
    internal static IQueryable<JournalRow> Whole(ShelfContext db, string manual, long act) =>
        db.Journal.Where(j =>
            j.ManualId == manual
            && (
                j.Id == act
                || (!j.TakenBack && j.PartOf != null && j.PartOf == db.Journal.Where(a => a.Id == act).Select(a => a.PartOf).First())
            )
        );

    /// <summary>What an act wrote, with what blocks were after it where others wrote them since.</summary>
    public static async Task<DoneAct> Read(ShelfContext db, JournalRow act, CancellationToken cancel = default)
    {
        var parts = act.PartOf is null
            ? [act]
            : await Whole(db, act.ManualId, act.Id).AsNoTracking().OrderBy(j => j.Id).ToListAsync(cancel);
        var acts = parts.ConvertAll(p => p.Id);
        var blocks = await db.JournalBlocks.AsNoTracking().Where(b => acts.Contains(b.Act)).ToListAsync(cancel);
        var divisions = await db.JournalDivisions.AsNoTracking().Where(d => acts.Contains(d.Act)).ToListAsync(cancel);
        blocks.AddRange(
            parts.SelectMany(p =>
                p.NewBlocks.Select(id => new JournalBlockRow
                {
                    Act = p.Id,
                    BlockId = id,
                    AfterVersion = 1,
                })
            )
        );
        var first = acts[0];
        var ids = blocks.Select(b => b.BlockId).ToList();
        var since = await db
            .JournalBlocks.AsNoTracking()
            .Where(b => ids.Contains(b.BlockId) && b.Act > first && b.BeforeVersion != null)
            .ToListAsync(cancel);
        var after = since.GroupBy(b => (b.BlockId, b.BeforeVersion!.Value)).ToDictionary(g => g.Key, g => g.First());
        return new DoneAct(
            [
                .. blocks.Select(b => new DoneBlock(
                    b.BlockId,
                    Before(b),
                    b.AfterVersion,
                    b.AfterDeleted,
                    after.TryGetValue((b.BlockId, b.AfterVersion), out var next) ? Before(next) : null
                )),
            ],
            [
                .. divisions.Select(d => new DoneDivision(
                    d.DivisionId,
                    d.Before is null ? null : JsonSerializer.Deserialize<DivisionHeader>(d.Before),
                    JsonSerializer.Deserialize<DivisionHeader>(d.After)!
                )),
            ],
            act.SettingsBefore is null
                ? null
                : new DoneSettings(ManualSettings.Parse(act.SettingsBefore), ManualSettings.Parse(act.SettingsAfter!))
        );
    }

    private static BlockBefore? Before(JournalBlockRow row) =>
        row.BeforeVersion is { } version ? new BlockBefore(row.BeforeDivision!, row.BeforeOrderKey!, version, row.BeforeBody) : null;
}
