using Kivren.Core.Content;
using Kivren.Formats.Outputs;
using Kivren.Server.Manuals;
using Kivren.Store;
using Microsoft.EntityFrameworkCore;

namespace Kivren.Server.Produce;

/// <summary>Rings when an output was asked for or cancelled in this process, so that nothing waits for the next look at the
/// queue.</summary>
public sealed class ProducerBell : IDisposable
{
    private readonly SemaphoreSlim _rung = new(0);
    private event Action? Cancelled;

    public void Ring() => _rung.Release();

    public void RingCancel() => Cancelled?.Invoke();

    public Task<bool> Wait(TimeSpan longest, CancellationToken cancel) => _rung.WaitAsync(longest, cancel);

    public IDisposable OnCancel(Action look)
    {
        Cancelled += look;
        return new Left(() => Cancelled -= look);
    }

    public void Dispose() => _rung.Dispose();

    private sealed class Left(Action leave) : IDisposable
    {
        public void Dispose() => leave();
    }
}

/// <summary>Makes outputs, several at once, from the text as the database has it; tells their stages; each can be cancelled at any of
/// them, from any process.</summary>
public sealed partial class Producer(
    IDbContextFactory<ShelfContext> shelf,
    Notices notices,
    CompositionGate gate,
    ProducerBell bell,
    TimeProvider clock,
    ILogger<Producer> log
) : BackgroundService
{
    private static readonly TimeSpan Look = TimeSpan.FromSeconds(2),
        BeatEvery = TimeSpan.FromSeconds(1);

    /// <summary>Outputs that this process makes at once: one, however large, never holds up all others.</summary>
    public static int AtOnce => Math.Clamp(Environment.ProcessorCount, 2, 4);

    protected override Task ExecuteAsync(CancellationToken stoppingToken) =>
        Task.WhenAll(Enumerable.Range(0, AtOnce).Select(_ => MakeOneAfterAnother(stoppingToken)));

    private async Task MakeOneAfterAnother(CancellationToken stoppingToken)
    {
        var maker = Guid.NewGuid().ToString("N");
        var left = false;
        while (!stoppingToken.IsCancellationRequested)
        {
            try
            {
                await using var db = await shelf.CreateDbContextAsync(stoppingToken);
                // What the database's absence broke off goes on from its beginning.
                if (left)
                    await OutputQueue.Leave(db, maker, stoppingToken);
                left = false;
                if (await OutputQueue.Take(db, maker, clock.GetUtcNow(), stoppingToken) is { } row)
                    await Make(row, maker, stoppingToken);
                else
                    await bell.Wait(Look, stoppingToken);
            }
            catch (OperationCanceledException) when (stoppingToken.IsCancellationRequested)
            {
                break;
            }
            catch (Exception e)
            {
                left = true;
                LogQueue(log, e);
                await Task.Delay(Look, clock, stoppingToken).ConfigureAwait(ConfigureAwaitOptions.SuppressThrowing);
            }
        }
        await using var last = await shelf.CreateDbContextAsync(CancellationToken.None);
        await OutputQueue.Leave(last, maker, CancellationToken.None);
    }

    private async Task Make(OutputRow row, string maker, CancellationToken stopping)
    {
        using var cancel = CancellationTokenSource.CreateLinkedTokenSource(stopping);
        using var done = CancellationTokenSource.CreateLinkedTokenSource(stopping);
        var beating = Beat(row, maker, cancel, done.Token);
        try
        {
            var file = await Task.Run(() => Compose(row, cancel.Token), cancel.Token);
            await Ended(
                row,
                maker,
                file is null ? OutputState.Failed : OutputState.Done,
                file is null ? "The manual is no longer on the shelf." : null,
                file
            );
        }
        catch (OperationCanceledException) when (cancel.IsCancellationRequested)
        {
            if (!stopping.IsCancellationRequested)
                await Ended(row, maker, OutputState.Cancelled, null, null);
        }
        catch (OutputException e)
        {
            await Ended(row, maker, OutputState.Failed, e.Message, null);
        }
        catch (Exception e) when (!DatabaseFailure.IsBehind(e))
        {
            LogFailed(log, e, row.ManualId, row.Id);
            await Ended(row, maker, OutputState.Failed, e.Message, null);
        }
        finally
        {
            await done.CancelAsync();
            await beating;
        }
    }

    /// <summary>Says every second that the output is being made, and stops it when it is no longer wanted.</summary>
    private async Task Beat(OutputRow row, string maker, CancellationTokenSource cancel, CancellationToken done)
    {
        using var rung = new SemaphoreSlim(0);
        using var listening = bell.OnCancel(() => rung.Release());
        while (!done.IsCancellationRequested)
        {
            try
            {
                await rung.WaitAsync(BeatEvery, done);
                await using var db = await shelf.CreateDbContextAsync(done);
                if (await OutputQueue.Beat(db, row, maker, clock.GetUtcNow(), done))
                    continue;
                await cancel.CancelAsync();
                return;
            }
            catch (OperationCanceledException) when (done.IsCancellationRequested)
            {
                return;
            }
            catch (Exception e)
            {
                // The database is away: it is tried again; another process may take the output up, then this one stops.
                LogQueue(log, e);
            }
        }
    }

    private async Task<byte[]?> Compose(OutputRow row, CancellationToken cancel)
    {
        Tell(row, "Reading the manual", 0, 0);
        await using var db = await shelf.CreateDbContextAsync(cancel);
        if (await ManualReader.Read(db, row.ManualId, cancel) is not { Manual: var manual, Act: var act })
            return null;
        var kind = Enum.Parse<OutputKind>(row.Kind);
        var edition = manual.Editions.FirstOrDefault(e => e.Name == row.Edition)
            ?? (manual.Editions.Count == 0 ? Edition.Whole : throw new OutputException($"There is no edition “{row.Edition}” any longer."));
        var pictures = await ManualReader.Pictures(db, manual.Assets, cancel);
        var before = OutputReport.Parse(await OutputQueue.ReportBefore(db, row, cancel));
        return await gate.Run(
            () =>
            {
                using var file = new MemoryStream();
                var (composed, report) = OutputMaker.Make(
                    manual,
                    edition,
                    edition.GoesOutAs.FirstOrDefault(o => o.Kind == kind) ?? new OutputChoice(kind),
                    pictures.GetValueOrDefault,
                    row.AskedAt,
                    file,
                    (stage, done, total) => Tell(row, stage, done, total),
                    cancel: cancel
                );
                (row.Pages, row.LooseEnds, row.Done) = (composed.Pages.Count, composed.LooseEnds.Count, row.Total);
                (row.Act, row.FileName, row.Report) = (act, OutputName.Of(manual, edition, kind, row.AskedAt), report.ToJson());
                row.Since = before is null ? null : string.Join('\n', report.Since(before));
                return file.ToArray();
            },
            cancel
        );
    }

    private void Tell(OutputRow row, string stage, int done, int total)
    {
        (row.Stage, row.Done, row.Total) = (stage, done, total);
        notices.Tell(row.ManualId, "output", OutputView.Of(row));
    }

    private async Task Ended(OutputRow row, string maker, OutputState state, string? problem, byte[]? file)
    {
        await using var db = await shelf.CreateDbContextAsync(CancellationToken.None);
        if (await OutputQueue.End(db, row, maker, state, problem, file, CancellationToken.None))
            notices.Tell(row.ManualId, "output", OutputView.Of(row));
    }

    [LoggerMessage(Level = LogLevel.Error, Message = "The output {Output} of {Manual} failed")]
    private static partial void LogFailed(ILogger log, Exception cause, string manual, string output);

    [LoggerMessage(Level = LogLevel.Warning, Message = "The queue of outputs cannot be read")]
    private static partial void LogQueue(ILogger log, Exception cause);
}
