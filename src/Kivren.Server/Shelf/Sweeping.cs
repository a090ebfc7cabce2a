using Kivren.Store;
using Microsoft.EntityFrameworkCore;

namespace Kivren.Server.Shelf;

/// <summary>Sweeps what the operator's rule calls old: deleted manuals, outputs, journal; and pictures that no manual uses. Off
/// where nothing is set: then everything is kept for ever.</summary>
public sealed partial class Sweeping(
    IDbContextFactory<ShelfContext> shelf,
    IConfiguration settings,
    TimeProvider clock,
    ILogger<Sweeping> log
) : BackgroundService
{
    private TimeSpan? Days(string name) => int.TryParse(settings[name], out var days) && days >= 0 ? TimeSpan.FromDays(days) : null;

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        var (deleted, outputs, journal) = (
            Days("KIVREN_SWEEP_DELETED_DAYS"),
            Days("KIVREN_SWEEP_OUTPUTS_DAYS"),
            Days("KIVREN_SWEEP_JOURNAL_DAYS")
        );
        if (deleted is null && outputs is null && journal is null)
            return;
        using var timer = new PeriodicTimer(TimeSpan.FromHours(1), clock);
        do
        {
            try
            {
                var now = clock.GetUtcNow();
                await using var db = await shelf.CreateDbContextAsync(stoppingToken);
                LogSwept(log, await Shelves.Sweep(db, now - deleted, now - outputs, now - journal, now, stoppingToken));
            }
            catch (Exception e) when (e is not OperationCanceledException)
            {
                LogFailed(log, e);
            }
        } while (await timer.WaitForNextTickAsync(stoppingToken));
    }

    [LoggerMessage(Level = LogLevel.Information, Message = "Swept {Rows} rows")]
    private static partial void LogSwept(ILogger log, int rows);

    [LoggerMessage(Level = LogLevel.Error, Message = "The shelf could not be swept")]
    private static partial void LogFailed(ILogger log, Exception cause);
}
