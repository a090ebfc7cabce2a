using System.Collections.Concurrent;
using Kivren.Core.Composition;
using Kivren.Store;
using Microsoft.EntityFrameworkCore;

namespace Kivren.Server.Manuals;

/// <summary>The manuals that are open in this process: their pages are noted for the shelf, and of those that nobody looks at
/// only as many stay open as memory has room for.</summary>
public sealed partial class OpenManuals(IDbContextFactory<ShelfContext> shelf, TimeProvider clock, ILogger<OpenManuals> log)
{
    /// <summary>Pages of manuals that stay open without being looked at: a page and its caches take some 150 KB.</summary>
    private const int MostPages = 3_000;
    private static readonly TimeSpan Watched = TimeSpan.FromSeconds(90);

    private sealed class Entry(IOpenManual manual)
    {
        public readonly IOpenManual Manual = manual;
        public int Pages;
        public DateTimeOffset Used,
            WatchedAt;
    }

    private readonly ConcurrentDictionary<string, Entry> _open = new(StringComparer.Ordinal);
    private int _closed;

    public int Count => _open.Count;

    public bool Has(string id) => _open.ContainsKey(id);

    public void Opened(string id, IOpenManual manual) => _open[id] = new Entry(manual) { Used = clock.GetUtcNow() };

    public void Closed(string id)
    {
        if (_open.TryRemove(id, out _))
            Interlocked.Increment(ref _closed);
    }

    /// <summary>Whether manuals were closed since this was asked last: then their memory can be given back.</summary>
    public bool TakeClosed() => Interlocked.Exchange(ref _closed, 0) > 0;

    public void Used(string id, bool watched = false)
    {
        if (!_open.TryGetValue(id, out var entry))
            return;
        entry.Used = clock.GetUtcNow();
        if (watched)
            entry.WatchedAt = entry.Used;
    }

    public void Settled(string id, ComposedManual composed)
    {
        if (_open.TryGetValue(id, out var entry))
            entry.Pages = composed.Pages.Count;
        MakeRoom(id);
        _ = Note(id, composed.Pages.Count, composed.LooseEnds.Count);
    }

    private void MakeRoom(string but)
    {
        var total = _open.Values.Sum(e => e.Pages);
        var now = clock.GetUtcNow();
        foreach (var (id, entry) in _open.OrderBy(e => e.Value.Used))
        {
            if (total <= MostPages)
                return;
            if (id == but || now - entry.WatchedAt < Watched || now - entry.Used < TimeSpan.FromSeconds(2))
                continue;
            total -= entry.Pages;
            entry.Manual.Close().Ignore();
        }
    }

    /// <summary>The shelf shows a manual as thick as it was last composed.</summary>
    private async Task Note(string manual, int pages, int looseEnds)
    {
        try
        {
            await using var db = await shelf.CreateDbContextAsync();
            await db
                .Manuals.Where(m => m.Id == manual && (m.Pages != pages || m.LooseEnds != looseEnds))
                .ExecuteUpdateAsync(s => s.SetProperty(m => m.Pages, pages).SetProperty(m => m.LooseEnds, looseEnds));
        }
        catch (Exception e) when (e is Npgsql.NpgsqlException or InvalidOperationException or DbUpdateException)
        {
            LogUnnoted(log, e, manual);
        }
    }

    [LoggerMessage(Level = LogLevel.Warning, Message = "The shelf could not note the pages of {Manual}")]
    private static partial void LogUnnoted(ILogger log, Exception cause, string manual);
}

/// <summary>Gives the memory of closed manuals back to the machine.</summary>
public sealed class Tidying(OpenManuals open, TimeProvider clock) : BackgroundService
{
    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        using var timer = new PeriodicTimer(TimeSpan.FromSeconds(20), clock);
        while (await timer.WaitForNextTickAsync(stoppingToken))
            if (open.TakeClosed())
                GC.Collect(GC.MaxGeneration, GCCollectionMode.Aggressive, blocking: true, compacting: true);
    }
}
