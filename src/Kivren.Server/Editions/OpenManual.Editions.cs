using Kivren.Core.Composition;
using Kivren.Core.Content;
using Kivren.Core.Looks;
using Kivren.Server.Editions;
using Kivren.Server.Looks;
using Orleans.Concurrency;

namespace Kivren.Server.Manuals;

/// <summary>What an open manual answers about its editions.</summary>
public partial interface IOpenManual
{
    [AlwaysInterleave]
    Task<Shown<EditionsView>> Editions();

    Task<Reworked> ChangeEditions(EditionOrder order);

    /// <summary>What comes out of an edition.</summary>
    /// <param name="name">of the edition; empty for the whole manual</param>
    /// <returns>null when there is none of that name</returns>
    [AlwaysInterleave]
    Task<Shown<SeenEdition>> SeenEdition(string name);

    /// <summary>What two editions have of each other.</summary>
    /// <param name="first">of an edition; empty for the whole manual, as the other</param>
    /// <returns>null when there is none of one of the names</returns>
    [AlwaysInterleave]
    Task<Shown<ComparedEditions>> Compare(string first, string second);

    /// <summary>Pages are proofed in this edition from now on, for all who write here.</summary>
    /// <returns>whether there is one of that name</returns>
    Task<bool> ProofIn(string name);
}

public sealed partial class OpenManual
{
    /// <summary>What editions that are not proofed were composed with.</summary>
    private readonly CompositionCaches _seen = new();
    private readonly SemaphoreSlim _seeing = new(1);

    public Task<Shown<EditionsView>> Editions() => Show(c => _desk.State is { Manual: var manual } ? EditionsView.Of(c, manual) : null);

    public async Task<Reworked> ChangeEditions(EditionOrder order)
    {
        order = order with { Edition = await Dressed(order.Edition) };
        await BringFonts(order.Edition?.LookFile);
        var done = await Change(order.Id, order.Writer, order.ToAct());
        // A new name for the edition that is proofed is that edition still.
        if (done.Refused is null && order.Name is { } name && name == _proof?.Edition && order.Edition?.Name is { } now && now != name)
            await ProofIn(now);
        return done;
    }

    /// <summary>The edition with the file of its look, where it names one of the shelf or the manual's own.</summary>
    private async Task<SaidEdition?> Dressed(SaidEdition? edition)
    {
        if (edition is not { Look: { } look, LookFile: null } || ShippedLooks.All.Any(l => l.Name == look))
            return edition;
        if (_desk.State?.Manual is { LookFile: { } own } manual && manual.Look == look)
            return edition with { LookFile = own };
        await using var db = await shelf.CreateDbContextAsync();
        return edition with { LookFile = await ShelfOfLooks.FileOf(db, look) };
    }

    public async Task<Shown<SeenEdition>> SeenEdition(string name)
    {
        open.Used(ManualId);
        if (_desk.State?.Manual is not { } manual)
            return new Shown<SeenEdition>(null);
        if (EditionNamed(manual, name) is not { } edition)
            return new Shown<SeenEdition>(null);
        try
        {
            var composed = await Seen(manual, edition);
            return new Shown<SeenEdition>(await Task.Run(() => Server.Editions.SeenEdition.Of(edition.Name, composed)));
        }
        catch (Exception e) when (e is not OperationCanceledException)
        {
            return new Shown<SeenEdition>(null, $"“{edition.Name}” cannot be composed: {e.Message}");
        }
    }

    private static Edition? EditionNamed(Manual manual, string name) =>
        name.Length == 0 ? Edition.Whole : manual.Editions.FirstOrDefault(e => e.Name == name);

    /// <summary>An edition as it comes out, one at a time.</summary>
    private async Task<ComposedManual> Seen(Manual manual, Edition edition)
    {
        await BringFonts(edition.LookFile);
        await _seeing.WaitAsync();
        try
        {
            return await gate.Run(
                () => Composer.Compose(manual, edition.Proofed, WornLook.Of(manual, edition), _seen),
                CancellationToken.None
            );
        }
        finally
        {
            _seeing.Release();
        }
    }

    public async Task<Shown<ComparedEditions>> Compare(string first, string second)
    {
        open.Used(ManualId);
        if (
            _desk.State?.Manual is not { } manual
            || EditionNamed(manual, first) is not { } one
            || EditionNamed(manual, second) is not { } other
        )
            return new Shown<ComparedEditions>(null);
        try
        {
            var (a, b) = (await Seen(manual, one), await Seen(manual, other));
            return new Shown<ComparedEditions>(await Task.Run(() => ComparedEditions.Of(a, b)));
        }
        catch (Exception e) when (e is not OperationCanceledException)
        {
            return new Shown<ComparedEditions>(null, $"One of them cannot be composed: {e.Message}");
        }
    }

    public Task<bool> ProofIn(string name)
    {
        open.Used(ManualId);
        if (_desk.State is not { } state || _proof is not { } proof || state.Manual.Editions.All(e => e.Name != name))
            return Task.FromResult(false);
        proof.Edition = name;
        proof.Submit(state.Manual, state.Act);
        return Task.FromResult(true);
    }
}
