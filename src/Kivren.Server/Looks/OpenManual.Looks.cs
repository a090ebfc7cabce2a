using Kivren.Core.Composition;
using Kivren.Core.Content;
using Kivren.Core.Looks;
using Kivren.Core.Planning;
using Kivren.Desk;
using Kivren.Server.Looks;
using Kivren.Store;
using Microsoft.EntityFrameworkCore;
using Orleans.Concurrency;

namespace Kivren.Server.Manuals;

/// <summary>What an open manual answers about the look that it wears.</summary>
public partial interface IOpenManual
{
    [AlwaysInterleave]
    Task<Shown<LookView>> Look();

    /// <returns>the file of a look that this manual wears or could wear; null when there is none of that name</returns>
    [AlwaysInterleave]
    Task<string?> LookFileOf(string name);

    Task<PutOn> PutOn(LookOrder order);

    /// <summary>The pages in sight in a look that is tried, before all else is made in it.</summary>
    [AlwaysInterleave]
    Task<Glimpsed?> Glimpse(TrialOrder order);

    /// <summary>The manual settled in a look that is tried; null when another was asked for meanwhile.</summary>
    [AlwaysInterleave]
    Task<TriedLook?> Tried(TrialOrder order);
}

public sealed partial class OpenManual
{
    public Task<Shown<LookView>> Look() => Show(LookView.Of);

    public Task<string?> LookFileOf(string name)
    {
        open.Used(ManualId);
        return Task.FromResult(
            _desk.State?.Manual.In(Proofed) is not { } manual ? null
            : manual.Look == name ? WornLook.FileOf(manual)
            : ShippedLooks.All.FirstOrDefault(l => l.Name == name) is { } look ? LookFile.Write(look)
            : null
        );
    }

    /// <summary>The edition whose pages are seen.</summary>
    private Edition Proofed =>
        _desk.State is { Manual: var manual }
            ? manual.Editions.FirstOrDefault(e => e.Name == _proof?.Edition) ?? manual.EditionNamed(null)
            : Edition.Whole;

    private LookTrial? _trial;
    private string? _brought;

    /// <summary>Font files that a look names are here before it is worn: it may have been put on, or taken back, elsewhere.</summary>
    private async Task BringFonts(string? look)
    {
        if (look is null || ReferenceEquals(look, _brought))
            return;
        var missing = StoredFonts.Missing(look);
        if (missing.Count > 0)
        {
            await using var db = await shelf.CreateDbContextAsync();
            await StoredFonts.Read(db, missing);
        }
        _brought = look;
    }

    /// <summary>The look that an order is about; null with its faults when it cannot be worn.</summary>
    private static Look? LookOf(TrialOrder order, ComposedManual now, out SaidFault[] faults)
    {
        IReadOnlyList<LookFault> found = [];
        var look = order.File is { } file ? LookFile.Read(file, out found) : WornLook.Of(now.Text.Manual, now.Text.Edition);
        faults = [.. found.Select(f => new SaidFault(f.Place, f.Says))];
        return look;
    }

    public async Task<Glimpsed?> Glimpse(TrialOrder order)
    {
        open.Used(ManualId);
        if (await Composed() is not { } now)
            return null;
        await BringFonts(order.File);
        if (LookOf(order, now, out var faults) is not { } look)
            return new Glimpsed(faults, []);
        if (order.File is not { } file)
            return new Glimpsed([], await Seen(now, now.Pages, order, WornLook.Of(now.Text.Manual, now.Text.Edition)));
        var at = order.Division is { } id
            ? Math.Max(0, now.Divisions.ToList().FindIndex(d => d.Numbers.Division.Id.Value == id))
            : now.Pages[Math.Clamp(order.Page, 0, now.Pages.Count - 1)].Division;
        try
        {
            var page = order.Division is null ? order.Page - now.Divisions[at].FirstSheet : order.Page;
            var pages = await (_trial ??= new LookTrial(gate)).Glimpse(now, file, look, at, page);
            var within = order with { Division = order.Division ?? now.Text.Divisions[at].Id.Value, Page = page };
            return new Glimpsed([], await Seen(now, pages, within, look));
        }
        catch (OperationCanceledException)
        {
            return null;
        }
    }

    public async Task<TriedLook?> Tried(TrialOrder order)
    {
        open.Used(ManualId);
        await BringFonts(order.File);
        if (await Composed() is not { } now || LookOf(order, now, out _) is not { } look)
            return null;
        try
        {
            var tried = order.File is { } file ? await (_trial ??= new LookTrial(gate)).Settled(now, file, look) : now;
            var pages = await Seen(tried, tried.Pages, order, look);
            return await Task.Run(() => TriedLook.Of(now, tried, WornLook.Of(now.Text.Manual, now.Text.Edition), look, pages));
        }
        catch (OperationCanceledException)
        {
            return null;
        }
    }

    /// <summary>The spread about a page, drawn.</summary>
    /// <param name="pages">all of a manual, or those of a stretch of it</param>
    private async Task<SeenPage[]> Seen(ComposedManual composed, IReadOnlyList<ComposedPage> pages, TrialOrder order, Look look)
    {
        if (pages.Count == 0)
            return [];
        var divisions = composed.Text.Divisions;
        var sheet = order.Division is { } id
            ? pages
                .Where(p => divisions[p.Division].Id.Value == id && !p.IsBlank)
                .Select(p => p.Sheet)
                .Order()
                .Skip(Math.Max(0, order.Page))
                .Append(pages.LastOrDefault(p => divisions[p.Division].Id.Value == id)?.Sheet ?? pages[0].Sheet)
                .First()
            : Math.Clamp(order.Page, 0, pages[^1].Sheet);
        var seen = new List<SeenPage>();
        foreach (var page in pages.Where(p => (p.Sheet + 1) / 2 == (sheet + 1) / 2))
            seen.Add(SeenPage.Of(composed, page, look, await _drawing.Draw(composed.Text.Manual, look, page)));
        return [.. seen];
    }

    public async Task<PutOn> PutOn(LookOrder order)
    {
        IReadOnlyList<LookFault> faults = [];
        await BringFonts(order.File);
        var look = order.Name is { } name ? ShippedLooks.Named(name) : LookFile.Read(order.File!, out faults);
        if (look is null)
            return new PutOn(0, "", "This look cannot be worn.", [.. faults.Select(f => new SaidFault(f.Place, f.Says))]);
        var done = await Change(order.Id, order.Writer, state =>
            order.From is { } from && WornLook.FileOf(state.Manual.In(Proofed)) != from
                ? PlanResult.No(
                    "Somebody else changed the look meanwhile. Yours is held here: put it on over theirs, or give it to a file."
                )
                : WornLook.PutOn(state.Manual, Proofed, look)
        );
        return new PutOn(done.Act, done.Words, done.Refused, []);
    }
}
