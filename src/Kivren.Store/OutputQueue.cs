using Microsoft.EntityFrameworkCore;

namespace Kivren.Store;

/// <summary>Outputs that wait to be made: any process takes the next one; one whose process says nothing any more is taken up
/// by another. Fair between manuals: of those that wait, the one whose manual has the fewest under way, then the oldest.</summary>
public static class OutputQueue
{
    /// <summary>After so long without a heartbeat the process that made an output is taken for dead.</summary>
    public static readonly TimeSpan Silence = TimeSpan.FromSeconds(20);

    /// <summary>An output that was begun so often and never ended is given up: it may be what ends the process.</summary>
    public const int MostTries = 3;

    /// <returns>the output that this process makes now, or null when none waits</returns>
    public static async Task<OutputRow?> Take(ShelfContext db, string process, DateTimeOffset now, CancellationToken cancel)
    {
        var silent = now - Silence;
        var given = await db
            .Outputs.FromSql(
                $"""
                UPDATE outputs SET state = 'Failed', stage = '',
                    problem = 'It was begun three times and never came to its end: the process was stopped each time.'
                WHERE state = 'Running' AND heartbeat < {silent} AND tries >= {MostTries} RETURNING *
                """
            )
            .AsNoTracking()
            .ToListAsync(cancel);
        if (given.Count > 0)
            return await Take(db, process, now, cancel);
        var taken = await db
            .Outputs.FromSql(
                $"""
                UPDATE outputs SET state = 'Running', stage = 'Reading the manual', done = 0, total = 0,
                    taken_by = {process}, heartbeat = {now}, tries = tries + 1
                WHERE id = (
                    SELECT o.id FROM outputs o
                    WHERE NOT o.cancel_asked AND (o.state = 'Waiting' OR (o.state = 'Running' AND o.heartbeat < {silent}))
                    ORDER BY (SELECT count(*) FROM outputs r WHERE r.manual_id = o.manual_id
                        AND r.state = 'Running' AND r.heartbeat >= {silent}), o.asked_at
                    FOR UPDATE SKIP LOCKED LIMIT 1)
                RETURNING *
                """
            )
            .AsNoTracking()
            .ToListAsync(cancel);
        return taken.FirstOrDefault();
    }

    /// <summary>Says that this process works on an output still.</summary>
    /// <returns>false when it was cancelled, or another process took it up meanwhile: then this one stops</returns>
    public static async Task<bool> Beat(ShelfContext db, OutputRow row, string process, DateTimeOffset now, CancellationToken cancel)
    {
        var (stage, done, total, pages, looseEnds) = (row.Stage, row.Done, row.Total, row.Pages, row.LooseEnds);
        return await db
                .Outputs.Where(o => o.Id == row.Id && o.TakenBy == process && o.State == OutputState.Running && !o.CancelAsked)
                .ExecuteUpdateAsync(
                    s =>
                        s.SetProperty(o => o.Heartbeat, now)
                            .SetProperty(o => o.Stage, stage)
                            .SetProperty(o => o.Done, done)
                            .SetProperty(o => o.Total, total)
                            .SetProperty(o => o.Pages, pages)
                            .SetProperty(o => o.LooseEnds, looseEnds),
                    cancel
                ) == 1;
    }

    /// <summary>Ends an output, with its file when it is done, if this process still owns it.</summary>
    public static async Task<bool> End(
        ShelfContext db,
        OutputRow row,
        string process,
        OutputState state,
        string? problem,
        byte[]? file,
        CancellationToken cancel
    )
    {
        await using var transaction = await db.Database.BeginTransactionAsync(cancel);
        var (done, total, pages, looseEnds) = (row.Done, row.Total, row.Pages, row.LooseEnds);
        var (name, act, report, since, bytes) = (row.FileName, row.Act, row.Report, row.Since, file?.LongLength ?? 0);
        var own =
            await db
                .Outputs.Where(o => o.Id == row.Id && o.TakenBy == process && o.State == OutputState.Running)
                .ExecuteUpdateAsync(
                    s =>
                        s.SetProperty(o => o.State, state)
                            .SetProperty(o => o.Stage, "")
                            .SetProperty(o => o.Problem, problem)
                            .SetProperty(o => o.FileName, name)
                            .SetProperty(o => o.Act, act)
                            .SetProperty(o => o.Report, report)
                            .SetProperty(o => o.Since, since)
                            .SetProperty(o => o.Bytes, bytes)
                            .SetProperty(o => o.Done, done)
                            .SetProperty(o => o.Total, total)
                            .SetProperty(o => o.Pages, pages)
                            .SetProperty(o => o.LooseEnds, looseEnds),
                    cancel
                ) == 1;
        if (own && file is not null)
        {
            db.OutputFiles.Add(new OutputFileRow { OutputId = row.Id, Bytes = file });
            await db.SaveChangesAsync(cancel);
            await DropOlder(db, row, cancel);
        }
        await transaction.CommitAsync(cancel);
        (row.State, row.Stage, row.Problem, row.Bytes) = (state, "", problem, bytes);
        return own;
    }

    /// <summary>Files of one kind of an edition that are kept; of older ones the report stays.</summary>
    private const int FilesKept = 3;

    private static async Task DropOlder(ShelfContext db, OutputRow row, CancellationToken cancel)
    {
        var older = await db
            .Outputs.Where(o => o.ManualId == row.ManualId && o.Edition == row.Edition && o.Kind == row.Kind && o.State == OutputState.Done)
            .OrderByDescending(o => o.AskedAt)
            .ThenByDescending(o => o.Id)
            .Skip(FilesKept)
            .Select(o => o.Id)
            .ToListAsync(cancel);
        if (older.Count == 0)
            return;
        await db.OutputFiles.Where(f => older.Contains(f.OutputId)).ExecuteDeleteAsync(cancel);
        await db.Outputs.Where(o => older.Contains(o.Id)).ExecuteUpdateAsync(s => s.SetProperty(o => o.Bytes, 0), cancel);
    }

    /// <summary>The report of the last output of this kind before one.</summary>
    public static Task<string?> ReportBefore(ShelfContext db, OutputRow row, CancellationToken cancel) =>
        db
            .Outputs.AsNoTracking()
            .Where(o =>
                o.ManualId == row.ManualId
                && o.Edition == row.Edition
                && o.Kind == row.Kind
                && o.State == OutputState.Done
                && o.AskedAt < row.AskedAt
            )
            .OrderByDescending(o => o.AskedAt)
            .Select(o => o.Report)
            .FirstOrDefaultAsync(cancel);

    /// <summary>A process that ends in good order lets what it makes go on elsewhere, or after it is back.</summary>
    public static Task<int> Leave(ShelfContext db, string process, CancellationToken cancel) =>
        db
            .Outputs.Where(o => o.TakenBy == process && o.State == OutputState.Running)
            .ExecuteUpdateAsync(
                s =>
                    s.SetProperty(o => o.State, OutputState.Waiting)
                        .SetProperty(o => o.Stage, "")
                        .SetProperty(o => o.Tries, o => o.Tries - 1),
                cancel
            );

    /// <summary>Cancels an output that waits or that no process makes; one that is being made is asked to stop.</summary>
    public static async Task Cancel(ShelfContext db, string manual, string output, DateTimeOffset now)
    {
        var silent = now - Silence;
        await db
            .Outputs.Where(o =>
                o.Id == output
                && o.ManualId == manual
                && (o.State == OutputState.Waiting || (o.State == OutputState.Running && o.Heartbeat < silent))
            )
            .ExecuteUpdateAsync(s =>
                s.SetProperty(o => o.State, OutputState.Cancelled).SetProperty(o => o.Stage, "").SetProperty(o => o.CancelAsked, true)
            );
        await db
            .Outputs.Where(o => o.Id == output && o.ManualId == manual && o.State == OutputState.Running)
            .ExecuteUpdateAsync(s => s.SetProperty(o => o.CancelAsked, true));
    }
}
