using System.Globalization;
using System.Text.Json;
using Kivren.Desk;
using Microsoft.EntityFrameworkCore;

namespace Kivren.Store;

/// <summary>What is looked at: one block, one division, or with neither the whole manual.</summary>
public sealed record HistoryScope(string? Division, string? Block);

/// <summary>A part of the manual as it was before an act.</summary>
public sealed record RestoredPart(HistoryScope Scope, long BeforeAct);

/// <summary>What happened to one block, from before the first act of an entry to after its last; null where it was not there.</summary>
public sealed record HistoryBlock(string Id, string Division, string? Before, string? After);

/// <summary>Acts of one writer that belong together: typing that goes on in the same blocks is one entry.</summary>
/// <param name="First">the act before which all is as it was before this entry</param>
/// <param name="More">blocks that are not told one by one</param>
public sealed record HistoryEntry(
    long First,
    long Last,
    DateTimeOffset From,
    DateTimeOffset To,
    string Writer,
    string Label,
    bool TakenBack,
    IReadOnlyList<HistoryBlock> Blocks,
    int More
);

/// <summary>The journal, as the writer reads it: who changed what, when, and what it said before.</summary>
public static class History
{
    private const int MostActs = 1_500,
        MostEntries = 60,
        MostBlocks = 20;

    /// <summary>Typing in the same blocks goes on as one entry until the writer rests so long.</summary>
    private static readonly TimeSpan Rest = TimeSpan.FromMinutes(5);

    private sealed record Act(
        long Id,
        string Writer,
        string Label,
        DateTimeOffset At,
        bool TakenBack,
        string? PartOf,
        string[] NewBlocks,
        List<JournalBlockRow> Blocks
    );

    /// <summary>The latest entries of a scope before an act; the newest first.</summary>
    /// <param name="before">only acts before this one; null for all</param>
    public static async Task<IReadOnlyList<HistoryEntry>> Of(
        ShelfContext db,
        string manual,
        HistoryScope scope,
        long? before,
        CancellationToken cancel = default
    )
    {
        var acts = await Acts(db, manual, scope, before, cancel);
        if (acts.Count == 0)
            return [];
        var touched = acts.SelectMany(a => a.Blocks.Select(b => b.BlockId).Concat(a.NewBlocks)).Distinct().ToList();
        var rows = await db
            .Blocks.AsNoTracking()
            .Where(b => touched.Contains(b.Id))
            .Select(b => new
            {
                b.Id,
                b.DivisionId,
                b.Deleted,
                b.Body,
            })
            .ToDictionaryAsync(b => b.Id, cancel);
        var oldest = acts[^1].Id;
        var later = (
            await db
                .JournalBlocks.AsNoTracking()
                .Where(b => touched.Contains(b.BlockId) && b.Act >= oldest)
                .OrderBy(b => b.Act)
                .Select(b => new
                {
                    b.Act,
                    b.BlockId,
                    b.BeforeBody,
                })
                .ToListAsync(cancel)
        ).ToLookup(b => b.BlockId);
        string? After(string block, long act) =>
            later[block].FirstOrDefault(b => b.Act > act) is { } next ? next.BeforeBody
            : rows.TryGetValue(block, out var row) && !row.Deleted ? row.Body
            : null;

        var entries = new List<HistoryEntry>();
        foreach (var together in Together(acts))
        {
            if (entries.Count == MostEntries)
                break;
            // The newest stands first.
            var (last, first) = (together[0], together[^1]);
            var blocks = new List<HistoryBlock>();
            var seen = new HashSet<string>(StringComparer.Ordinal);
            var all = 0;
            foreach (var act in together.AsEnumerable().Reverse())
            foreach (
                var (id, was) in act.Blocks.Select(b => (b.BlockId, b.BeforeBody)).Concat(act.NewBlocks.Select(n => (n, (string?)null)))
            )
            {
                if (!seen.Add(id) || !InScope(scope, id, rows.GetValueOrDefault(id)?.DivisionId, act))
                    continue;
                all++;
                if (blocks.Count < MostBlocks)
                    blocks.Add(new HistoryBlock(id, rows.GetValueOrDefault(id)?.DivisionId ?? "", was, After(id, last.Id)));
            }
            entries.Add(
                new HistoryEntry(
                    first.Id,
                    last.Id,
                    first.At,
                    last.At,
                    last.Writer,
                    last.Label,
                    together.TrueForAll(a => a.TakenBack),
                    blocks,
                    all - blocks.Count
                )
            );
        }
        return entries;
    }

    private static bool InScope(HistoryScope scope, string block, string? standsIn, Act act) =>
        (scope.Block is null || scope.Block == block)
        && (
            scope.Division is null
            || standsIn == scope.Division
            || act.Blocks.Exists(b => b.BlockId == block && b.BeforeDivision == scope.Division)
        );

    private static async Task<List<Act>> Acts(ShelfContext db, string manual, HistoryScope scope, long? before, CancellationToken cancel)
    {
        var journal = db.Journal.AsNoTracking().Where(j => j.ManualId == manual && (before == null || j.Id < before));
        if (scope.Block is { } block)
            journal = journal.Where(j => db.JournalBlocks.Any(b => b.Act == j.Id && b.BlockId == block) || j.NewBlocks.Contains(block));
        else if (scope.Division is { } division)
        {
            var own = await db.Blocks.AsNoTracking().Where(b => b.DivisionId == division).Select(b => b.Id).ToListAsync(cancel);
            journal = journal.Where(j =>
                db.JournalBlocks.Any(b => b.Act == j.Id && (b.BeforeDivision == division || own.Contains(b.BlockId)))
                || j.NewBlocks.Any(n => own.Contains(n))
                || db.JournalDivisions.Any(d => d.Act == j.Id && d.DivisionId == division)
            );
        }
        var acts = await journal
            .OrderByDescending(j => j.Id)
            .Take(MostActs)
            .Select(j => new
            {
                j.Id,
                j.Writer,
                j.Label,
                j.At,
                j.TakenBack,
                j.PartOf,
                j.NewBlocks,
            })
            .ToListAsync(cancel);
        var ids = acts.Select(a => a.Id).ToList();
        var blocks = (await db.JournalBlocks.AsNoTracking().Where(b => ids.Contains(b.Act)).ToListAsync(cancel)).ToLookup(b => b.Act);
        return [.. acts.Select(a => new Act(a.Id, a.Writer, a.Label, a.At, a.TakenBack, a.PartOf, a.NewBlocks, [.. blocks[a.Id]]))];
    }

    /// <summary>Acts in runs that belong together, the newest first.</summary>
    private static IEnumerable<List<Act>> Together(IReadOnlyList<Act> acts)
    {
        var run = new List<Act>();
        foreach (var act in acts)
        {
            if (run.Count > 0 && !GoesOn(act, run[^1]))
            {
                yield return run;
                run = [];
            }
            run.Add(act);
        }
        if (run.Count > 0)
            yield return run;
    }

    private static bool GoesOn(Act earlier, Act later) =>
        earlier.Writer == later.Writer
        && later.At - earlier.At < Rest
        && earlier.TakenBack == later.TakenBack
        && (IsTyping(earlier) && IsTyping(later) || earlier.PartOf is { } whole && whole == later.PartOf);

    private static bool IsTyping(Act act) => act.Label is "Typing" or "Adding a block" && act.Blocks.Count + act.NewBlocks.Length <= 2;

    // ---- as it was ----

    /// <summary>What a part of the manual was before an act, as far as it was changed since.</summary>
    internal static async Task<Moment> Before(
        ShelfContext db,
        string manual,
        RestoredPart part,
        DeskState state,
        CancellationToken cancel = default
    )
    {
        var (scope, act) = part;
        var since = await db
            .Journal.AsNoTracking()
            .Where(j => j.ManualId == manual && j.Id >= act)
            .OrderBy(j => j.Id)
            .Select(j => new
            {
                j.Id,
                j.NewBlocks,
                j.SettingsBefore,
                j.At,
            })
            .ToListAsync(cancel);
        var ids = since.Select(j => j.Id).ToList();
        // Of each block the first act since: what it was before that is what it was then.
        var changed = await db
            .JournalBlocks.FromSql(
                $"""
                SELECT DISTINCT ON (b.block_id) b.* FROM journal_blocks b JOIN journal j ON j.id = b.act
                WHERE j.manual_id = {manual} AND b.act >= {act} ORDER BY b.block_id, b.act
                """
            )
            .AsNoTracking()
            .ToListAsync(cancel);
        var was = changed.ToDictionary(
            b => b.BlockId,
            b =>
                (
                    b.Act,
                    Was: b.BeforeVersion is { } version
                        ? new BlockBefore(b.BeforeDivision!, b.BeforeOrderKey!, version, b.BeforeBody)
                        : null
                ),
            StringComparer.Ordinal
        );
        foreach (var journal in since)
        foreach (var made in journal.NewBlocks)
            if (!was.TryGetValue(made, out var known) || known.Act > journal.Id)
                was[made] = (journal.Id, null);

        bool Meant(string block, BlockBefore? before) =>
            scope.Block is { } one
                ? block == one
                : scope.Division is not { } division
                    || before?.Division == division
                    || (before is null && state.DivisionOf(block) == division);

        var divisions = new List<(string, DivisionHeader?)>();
        if (scope.Block is null)
        {
            var headers = await db
                .JournalDivisions.AsNoTracking()
                .Where(d => ids.Contains(d.Act) && (scope.Division == null || d.DivisionId == scope.Division))
                .OrderBy(d => d.Act)
                .ToListAsync(cancel);
            divisions.AddRange(
                headers
                    .DistinctBy(d => d.DivisionId)
                    .Select(d => (d.DivisionId, d.Before is null ? null : JsonSerializer.Deserialize<DivisionHeader>(d.Before)))
            );
            // A division that is brought back alone stays if it was made since.
            if (scope.Division is not null)
                divisions.RemoveAll(d => d.Item2 is null or { Deleted: true });
        }
        var settings = new ManualSettings();
        if (scope is { Block: null, Division: null })
            foreach (var json in since.Select(j => j.SettingsBefore).OfType<string>())
                settings = settings.Or(ManualSettings.Parse(json));
        var at = since.Count > 0 ? since[0].At.UtcDateTime.ToString("d MMMM yyyy, HH:mm", CultureInfo.InvariantCulture) : "then";
        var what =
            scope.Block is not null ? "block"
            : scope.Division is not null ? "division"
            : "manual";
        return new Moment(
            $"Bringing the {what} back as it was on {at} UTC",
            [.. was.Where(b => Meant(b.Key, b.Value.Was)).Select(b => (b.Key, b.Value.Was))],
            divisions,
            settings.IsEmpty ? null : settings,
            InPlace: scope.Block is not null
        );
    }
}
