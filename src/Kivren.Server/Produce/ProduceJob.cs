using System.Collections.Concurrent;
using Hangfire;
using Kivren.Core.Composition;
using Kivren.Core.Looks;
using Kivren.Formats.Pdf;
using Kivren.Server.Proof;
using Kivren.Server.Shelf;
using Kivren.Store;
using Microsoft.AspNetCore.SignalR;
using Microsoft.EntityFrameworkCore;

namespace Kivren.Server.Produce;

/// <summary>Makes an edition's PDF in the background, from the text as the database has it; tells its stages; can be
/// cancelled at any of them.</summary>
public sealed class ProduceJob(IDbContextFactory<ShelfContext> shelf, IHubContext<ProofHub> hub)
{
    private static readonly ConcurrentDictionary<string, CancellationTokenSource> Running = new(StringComparer.Ordinal);

    public static void Cancel(string output)
    {
        if (Running.TryGetValue(output, out var cancel)) cancel.Cancel();
    }

    [AutomaticRetry(Attempts = 0)]
    public async Task Run(string output)
    {
        using var cancel = new CancellationTokenSource();
        Running[output] = cancel;
        await using var db = await shelf.CreateDbContextAsync();
        var row = await db.Outputs.FirstAsync(o => o.Id == output);
        try
        {
            if (row.State != OutputState.Waiting) return;
            async Task Tell(OutputState state, string stage, int done, int total)
            {
                (row.State, row.Stage, row.Done, row.Total) = (state, stage, done, total);
                await db.SaveChangesAsync();
                await hub.Clients.Group(row.ManualId).SendAsync("output", OutputView.Of(row));
            }
            await Tell(OutputState.Running, "Reading the manual", 0, 0);
            if (await ManualLoader.Load(db, row.ManualId, cancel.Token) is not { } loaded)
            {
                row.Problem = "The manual is no longer on the shelf.";
                await Tell(OutputState.Failed, "", 0, 0);
                return;
            }
            var manual = loaded.ToManual();
            var hashes = manual.Assets.Select(a => a.Hash).ToList();
            var bytes = await db.Pictures.AsNoTracking().Where(p => hashes.Contains(p.Hash)).ToDictionaryAsync(p => p.Hash, p => p.Bytes, cancel.Token);
            var pictures = manual.Assets.Where(a => bytes.ContainsKey(a.Hash)).ToDictionary(a => a.Name, a => bytes[a.Hash], StringComparer.Ordinal);
            await Tell(OutputState.Running, "Composing", 0, 0);
            var composed = Composer.Compose(manual, manual.EditionNamed(null), ShippedLooks.Named(manual.Look), cancel: cancel.Token);
            (row.Pages, row.LooseEnds) = (composed.Pages.Count, composed.LooseEnds.Count);
            await Tell(OutputState.Running, "Writing pages", 0, composed.Pages.Count);
            using var file = new MemoryStream();
            var group = hub.Clients.Group(row.ManualId);
            PdfWriter.Write(composed, pictures.GetValueOrDefault, file, done => _ = group.SendAsync("output", OutputView.Of(row) with { Done = done }), cancel: cancel.Token);
            row.File = file.ToArray();
            await Tell(OutputState.Done, "", composed.Pages.Count, composed.Pages.Count);
        }
        catch (OperationCanceledException) when (cancel.IsCancellationRequested)
        {
            (row.State, row.Stage, row.File) = (OutputState.Cancelled, "", null);
            await db.SaveChangesAsync(CancellationToken.None);
            await hub.Clients.Group(row.ManualId).SendAsync("output", OutputView.Of(row), CancellationToken.None);
        }
        catch (Exception e)
        {
            (row.State, row.Stage, row.Problem) = (OutputState.Failed, "", e.Message);
            await db.SaveChangesAsync(CancellationToken.None);
            await hub.Clients.Group(row.ManualId).SendAsync("output", OutputView.Of(row), CancellationToken.None);
        }
        finally
        {
            Running.TryRemove(output, out _);
        }
    }
}

/// <summary>An output as the browser sees it, without its bytes.</summary>
public sealed record OutputView(string Id, string Edition, string State, string Stage, int Done, int Total, int Pages, int LooseEnds, string? Problem, DateTimeOffset AskedAt)
{
    public static OutputView Of(OutputRow row) => new(row.Id, row.Edition, row.State.ToString(), row.Stage, row.Done, row.Total, row.Pages, row.LooseEnds, row.Problem, row.AskedAt);
}
