using System.Text.Json;
using Kivren.Core.Content;
using Kivren.Core.Display;
using Kivren.Desk;
using Kivren.Formats.Import;
using Kivren.Formats.Package;
using Kivren.Formats.Svg;
using Kivren.Server.Manuals;
using Kivren.Store;
using Microsoft.EntityFrameworkCore;
using Orleans.Concurrency;

namespace Kivren.Server.BringIn;

[GenerateSerializer, Immutable]
public sealed record Taken(string Manual, string? Division, long Act, int Blocks);

/// <summary>What taking in came to, or why it was refused.</summary>
[GenerateSerializer, Immutable]
public sealed record TakenIn(Taken? Done, string? Refused);

[GenerateSerializer, Immutable]
public sealed record ServedPicture(byte[] Bytes, string MediaType);

/// <summary>Documents on their way in: one owner in the whole cluster, rebuilt from the database when its process ended. Answers
/// are JSON where the screen only passes them on.</summary>
public interface IBringIn : IGrainWithStringKey
{
    /// <summary>How it stands; null when there is no such delivery.</summary>
    [AlwaysInterleave]
    Task<string?> View();

    [AlwaysInterleave]
    Task<string?> Blocks(int from, int count);

    [AlwaysInterleave]
    Task<string?> Page(string key);

    [AlwaysInterleave]
    Task<string[]?> OfLine(string key);

    [AlwaysInterleave]
    Task<ServedPicture?> Picture(string name);

    /// <param name="choices">JSON of <see cref="Choices"/></param>
    Task<string?> Choose(string choices);

    /// <summary>The mapping as it stands, with all that was only proposed, under this name.</summary>
    Task<string?> KeepMapping(string name);

    Task<TakenIn?> Take(string writer, string[] differences);

    [AlwaysInterleave]
    Task Cancel();
}

/// <summary>How many sets of documents are read at once in this process.</summary>
public sealed class ReadingGate : IDisposable
{
    private readonly SemaphoreSlim _free = new(2);

    public async Task<T> Within<T>(Func<T> read, CancellationToken cancel)
    {
        await _free.WaitAsync(cancel);
        try
        {
            return await Task.Run(read, cancel);
        }
        finally
        {
            _free.Release();
        }
    }

    public void Dispose() => _free.Dispose();
}

public sealed partial class BringInGrain(
    IDbContextFactory<ShelfContext> shelf,
    IGrainFactory grains,
    ReadingGate gate,
    TimeProvider clock,
    ILogger<BringInGrain> log
) : Grain, IBringIn
{
    private static readonly JsonSerializerOptions Web = new(JsonSerializerDefaults.Web);
    private readonly CancellationTokenSource _cancel = new();
    private Incoming? _incoming;
    private Task _reading = Task.CompletedTask;
    private volatile Standing _now = new(BringInState.Reading, Chosen.Nothing(0));

    public override async Task OnActivateAsync(CancellationToken cancellationToken)
    {
        var id = this.GetPrimaryKeyString();
        await using var db = await shelf.CreateDbContextAsync(cancellationToken);
        if (await db.Incoming.AsNoTracking().FirstOrDefaultAsync(i => i.Id == id, cancellationToken) is not { Taken: null } row)
            return;
        var files = await db
            .IncomingFiles.AsNoTracking()
            .Where(f => f.IncomingId == id)
            .OrderBy(f => f.No)
            .Select(f => new SourceFile(f.Name, f.Bytes))
            .ToListAsync(cancellationToken);
        EarlierVersion? earlier = null;
        ImportMapping? given = null;
        var manual = row.ManualId;
        if (
            row.Newer is not null
            && await db.Sources.AsNoTracking().FirstOrDefaultAsync(s => s.Id == row.Newer, cancellationToken) is { } source
        )
        {
            manual = source.ManualId;
            given = ImportMapping.Parse(source.Mapping);
            var blocks = JsonSerializer.Deserialize<Taking.TakenBlock[]>(source.Taken)!;
            earlier = new EarlierVersion(
                row.Newer,
                [.. blocks.Select(b => new BroughtInBlock(new Id(b.Division), BlockReader.Parse(b.Body)))]
            );
        }
        var open = manual is null
            ? null
            : await db
                .Manuals.AsNoTracking()
                .Where(m => m.Id == manual)
                .Select(m => new
                {
                    m.Title,
                    m.Look,
                    m.LookFile,
                })
                .FirstOrDefaultAsync(cancellationToken);
        _incoming = new Incoming(
            new Delivery(id, files, manual, row.After, open?.Title ?? "", open?.Look ?? "Workshop, A5", open?.LookFile, row.Seed, earlier)
        );
        _reading = Read(_incoming, given, row.Choices);
    }

    public override Task OnDeactivateAsync(DeactivationReason reason, CancellationToken cancellationToken)
    {
        _cancel.Cancel();
        return Task.CompletedTask;
    }

    /// <summary>Reads, then shapes with what was chosen before the process ended, or with the mapping that fits best.</summary>
    private async Task Read(Incoming incoming, ImportMapping? given, string? chosen)
    {
        try
        {
            var read = await gate.Within(() => incoming.Read(now => _now = now, _cancel.Token), _cancel.Token);
            if (read.State == BringInState.Failed)
            {
                _now = read;
                return;
            }
            if (chosen is not null && JsonSerializer.Deserialize<Chosen>(chosen) is { } before && before.Order.Length == read.Read.Count)
                read = read with { Chosen = before };
            else if ((given ?? incoming.Fitting(read, await Mappings.All(shelf), _cancel.Token)) is { } best)
                read = read with { Chosen = read.Chosen.With(best) };
            _now = read with { Doing = "Composing" };
            await Shape(read);
        }
        catch (OperationCanceledException) when (_cancel.IsCancellationRequested)
        {
            _now = _now with { State = BringInState.Cancelled };
        }
        catch (Exception e) when (DatabaseFailure.IsBehind(e))
        {
            // The files are not to blame: who asks next reads them anew.
            DeactivateOnIdle();
            throw;
        }
        catch (Exception e)
        {
            // Whatever a file does to the reader, the writer hears of it and nothing else stops.
            LogUnread(log, e, this.GetPrimaryKeyString());
            _now = _now with { State = BringInState.Failed, Problem = $"These files cannot be read: {e.Message}" };
        }
    }

    private async Task Shape(Standing next)
    {
        var incoming = _incoming!;
        var stands = incoming.Delivery.Earlier is null ? null : await Stands();
        _now = await Task.Run(() => incoming.Shape(next, stands?.Manual, _cancel.Token));
    }

    private async Task<Desk.DeskState?> Stands()
    {
        if (_incoming!.Delivery.Manual is not { } manual)
            return null;
        await using var db = await shelf.CreateDbContextAsync();
        return await ManualReader.Read(db, manual, _cancel.Token);
    }

    public async Task<string?> View() =>
        _incoming is null ? null : JsonSerializer.Serialize(BringInView.Of(_incoming.Delivery, _now, await Mappings.All(shelf)), Web);

    public Task<string?> Blocks(int from, int count) =>
        Task.FromResult(_incoming is null ? null : JsonSerializer.Serialize(BringInView.Blocks(_now, from, count), Web));

    public Task<string?> Page(string key)
    {
        if (_now is not { Composed: { } composed, Shaped: { } shaped } || composed.Pages.FirstOrDefault(p => p.Key == key) is not { } page)
            return Task.FromResult<string?>(null);
        return Task.Run<string?>(() =>
            SvgPainter.Paint(DisplayList.Of(page, composed.Look), name =>
                shaped.Pictures.TryGetValue(name, out var bytes) ? (bytes, shaped.Assets.First(a => a.Name == name).MediaType) : null
            )
        );
    }

    public Task<string[]?> OfLine(string key) =>
        Task.FromResult(_now.Shaped?.Origins.Where(o => o.Value.Line == key).Select(o => o.Key.Value).ToArray());

    public Task<ServedPicture?> Picture(string name) =>
        Task.FromResult(
            _now.Shaped is { } shaped && shaped.Pictures.TryGetValue(name, out var bytes)
                ? new ServedPicture(bytes, shaped.Assets.First(a => a.Name == name).MediaType)
                : null
        );

    public async Task<string?> Choose(string choices)
    {
        // After a restart the files are read again first.
        await _reading;
        if (_incoming is null || _now.State != BringInState.Ready)
            return null;
        var wanted = JsonSerializer.Deserialize<Choices>(choices, Web)!;
        var chosen = _now.Chosen;
        if (wanted.Mapping is { Length: > 0 } name && (await Mappings.All(shelf)).FirstOrDefault(m => m.Name == name) is { } mapping)
            chosen = chosen.With(mapping);
        else if (wanted.Mapping is "")
            chosen = chosen.With(ImportMapping.None);
        await Chose(chosen.With(wanted));
        return await View();
    }

    private async Task Chose(Chosen chosen)
    {
        var id = this.GetPrimaryKeyString();
        await Shape(_now with { Chosen = chosen });
        var json = JsonSerializer.Serialize(chosen);
        await using var db = await shelf.CreateDbContextAsync();
        await db.Incoming.Where(i => i.Id == id).ExecuteUpdateAsync(s => s.SetProperty(i => i.Choices, json));
    }

    public async Task<string?> KeepMapping(string name)
    {
        // After a restart the files are read again first.
        await _reading;
        if (_incoming is null || _now is not { State: BringInState.Ready, Shaped: { } shaped })
            return null;
        // What was only proposed is kept too: the next leaflet shall come in the same way.
        var mapping = _now.Mapping(name) with { Roles = shaped.Lines.ToDictionary(l => l.Key, l => l.Role) };
        await Mappings.Keep(shelf, mapping, clock.GetUtcNow());
        await Chose(_now.Chosen.With(mapping) with { Becomes = _now.Chosen.Becomes });
        return await View();
    }

    public async Task<TakenIn?> Take(string writer, string[] differences)
    {
        var id = this.GetPrimaryKeyString();
        await using var db = await shelf.CreateDbContextAsync();
        var known = await db.Incoming.AsNoTracking().Where(i => i.Id == id).Select(i => i.Taken).FirstOrDefaultAsync();
        if (known is not null)
            return new TakenIn(JsonSerializer.Deserialize<Taken>(known), null);
        // After a restart the files are read again first.
        await _reading;
        if (_incoming is null || _now is not { State: BringInState.Ready, Shaped: { } shaped } now)
            return null;
        var taken =
            _incoming.Delivery.Manual is null ? await TakeAsNew(db, now, shaped)
            : _incoming.Delivery.Earlier is null ? await TakeInto(db, now, shaped, writer)
            : await TakeDifferences(db, now, shaped, writer, differences);
        if (taken.Done is null)
            return taken;
        if (_incoming.Delivery.Manual is not null)
        {
            var answer = JsonSerializer.Serialize(taken.Done);
            await db.Incoming.Where(i => i.Id == id).ExecuteUpdateAsync(s => s.SetProperty(i => i.Taken, answer));
        }
        _now = _now with { State = BringInState.Taken };
        DeactivateOnIdle();
        return taken;
    }

    private async Task<TakenIn> TakeAsNew(ShelfContext db, Standing now, Shaped shaped)
    {
        var manual = Taking.NewManual(_incoming!, shaped);
        var sources = Taking.SourcesOf(_incoming!, now, shaped, shaped.Divisions);
        var blocks = shaped.Divisions.Sum(d => d.Blocks.Count);
        var id = this.GetPrimaryKeyString();
        Taken? done = null;
        await ManualSaver.Save(db, new Package(manual, shaped.Pictures), clock.GetUtcNow(), async (own, saved) =>
        {
            done = new Taken(saved.Id.Value, shaped.Divisions.FirstOrDefault()?.Id.Value, 0, blocks);
            await own.SaveChangesAsync();
            await Sources.Keep(own, saved.Id.Value, sources, clock.GetUtcNow());
            var answer = JsonSerializer.Serialize(done);
            await own.Incoming.Where(i => i.Id == id).ExecuteUpdateAsync(s => s.SetProperty(i => i.Taken, answer));
        });
        return new TakenIn(done, null);
    }

    private async Task<TakenIn> TakeInto(ShelfContext db, Standing now, Shaped shaped, string writer)
    {
        if (await Stands() is not { } stands)
            return new TakenIn(null, "There is no such manual.");
        var (act, divisions, names) = Taking.Into(_incoming!, now, shaped, writer, stands.Manual.Assets);
        return await Send(db, shaped, act, names, divisions.FirstOrDefault()?.Id.Value, divisions.Sum(d => d.Blocks.Count));
    }

    private async Task<TakenIn> TakeDifferences(ShelfContext db, Standing now, Shaped shaped, string writer, string[] differences)
    {
        if (await Stands() is not { } stands)
            return new TakenIn(null, "There is no such manual.");
        var chosen = differences.ToHashSet(StringComparer.Ordinal);
        var (act, count, division, names) = Taking.Differences(_incoming!, now, shaped, writer, chosen, stands.Manual, b =>
            stands.Block(b)?.Version ?? 0
        );
        return await Send(db, shaped, act, names, division?.Value, count);
    }

    private async Task<TakenIn> Send(ShelfContext db, Shaped shaped, ComingIn act, PictureNames names, string? division, int blocks)
    {
        // The bytes stand before the act names them; that no act names them harms nothing.
        await ManualSaver.AddPictures(
            db,
            act.Assets,
            shaped
                .Pictures.Where(p => names.Names.ContainsKey(p.Key))
                .GroupBy(p => names.Names[p.Key])
                .ToDictionary(g => g.Key, g => g.First().Value)
        );
        var done = await grains.GetGrain<IOpenManual>(_incoming!.Delivery.Manual!).TakeIn(act);
        return done.Refused is { } why
            ? new TakenIn(null, why)
            : new TakenIn(new Taken(_incoming.Delivery.Manual!, division, done.Act, blocks), null);
    }

    public async Task Cancel()
    {
        var id = this.GetPrimaryKeyString();
        await _cancel.CancelAsync();
        _now = _now with { State = BringInState.Cancelled };
        await using var db = await shelf.CreateDbContextAsync();
        await db.Incoming.Where(i => i.Id == id && i.Taken == null).ExecuteDeleteAsync();
        DeactivateOnIdle();
    }

    [LoggerMessage(Level = LogLevel.Error, Message = "The documents {Incoming} cannot be read")]
    private static partial void LogUnread(ILogger log, Exception cause, string incoming);
}
