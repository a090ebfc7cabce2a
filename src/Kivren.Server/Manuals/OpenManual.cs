using Kivren.Core.Composition;
using Kivren.Core.Content;
using Kivren.Core.Looks;
using Kivren.Core.Planning;
using Kivren.Core.Reuse;
using Kivren.Desk;
using Kivren.Formats.Package;
using Kivren.Store;
using Microsoft.EntityFrameworkCore;

namespace Kivren.Server.Manuals;

/// <summary>The owner of an open manual. Its state changes only when an act is stored; what it cannot trust it reads again
/// from the database, and goes away when it cannot.</summary>
public sealed partial class OpenManual(
    IDbContextFactory<ShelfContext> shelf,
    Notices notices,
    CompositionGate gate,
    PageStore pages,
    OpenManuals open,
    TimeProvider clock,
    ILogger<OpenManual> log
) : Grain, IOpenManual
{
    private StoredDesk _desk = null!;
    private PageDrawing _drawing = null!;
    private DeskState? _composed;
    private Proof? _proof;
    private readonly Dictionary<string, (Presence Where, DateTimeOffset Seen)> _here = new(StringComparer.Ordinal);

    private string ManualId => this.GetPrimaryKeyString();

    public override async Task OnActivateAsync(CancellationToken cancellationToken)
    {
        _desk = new StoredDesk(shelf, ManualId, clock);
        _drawing = new PageDrawing(ManualId, shelf, pages);
        await _desk.Read(cancellationToken);
        if (_desk.State is null)
            return;
        _proof = new Proof(ManualId, gate, TellProof, c => open.Settled(ManualId, c), log);
        open.Opened(ManualId, this.AsReference<IOpenManual>());
        await Compose();
    }

    public override Task OnDeactivateAsync(DeactivationReason reason, CancellationToken cancellationToken)
    {
        _proof?.Stop();
        open.Closed(ManualId);
        _drawing.Forget();
        _trial?.Dispose();
        return Task.CompletedTask;
    }

    private async Task Compose()
    {
        try
        {
            await BringFonts(_desk.State!.Manual.LookFile);
        }
        catch (Exception e)
        {
            // Other faces stand in, and are told, until the database is there again.
            LogFonts(log, e, ManualId);
        }
        if (_desk.State is null)
            return;
        _composed = _desk.State;
        _proof!.Submit(_desk.State!.Manual, _desk.State.Act);
    }

    public Task Close()
    {
        DeactivateOnIdle();
        return Task.CompletedTask;
    }

    // ---- reading ----

    public Task<DeskManual?> Open()
    {
        open.Used(ManualId);
        return Task.FromResult(
            _desk.State is not { Manual: var manual } state
                ? null
                : new DeskManual(
                    manual.Id.Value,
                    manual.Title,
                    manual.Look,
                    [.. state.Divisions.Where(d => d.Division.Kind != DivisionKind.Passage).Select(d => Seen(d, blocks: null))],
                    [.. manual.Assets.Where(a => a.IsPicture).Select(a => a.Name)],
                    [.. manual.Variables.Select(v => v.Name)],
                    [.. manual.Roles.Select(r => new DeskRole(r.Name, r.Foundation))],
                    manual.Conditions.Count > 0
                )
        );
    }

    public Task<DeskDivision?> Division(string id)
    {
        open.Used(ManualId);
        return Task.FromResult(
            _desk.State?.Division(id) is { } division
                ? Seen(division, [.. division.Blocks.Select(b => new DeskBlock(b.Id, b.Version, BlockWriter.ToJson(b.Block)))])
                : null
        );
    }

    private static DeskDivision Seen(PlacedDivision placed, DeskBlock[]? blocks) =>
        new(
            placed.Id,
            placed.Division.Kind.ToString(),
            placed.Division.Title,
            placed.Division.ShortTitle,
            placed.Version,
            blocks,
            placed.Division.Language,
            placed.Division.AppliesTo.Axes.ToDictionary(a => a.Axis, a => a.Values.ToArray(), StringComparer.Ordinal)
        );

    // ---- acts ----

    private const string NoManual = "This manual is not on the shelf.";

    public async Task<Answer> Write(Batch batch)
    {
        if (_desk.State is null)
            return new Answer(batch.Id, 0, [], [.. batch.Blocks.Select(b => new Refused(b.Id, NoManual, null, 0))]);
        var done = new List<StoredAct>();
        var parts = _desk.Parts(batch.Id, batch.Blocks, batch.Joined);
        foreach (var part in parts)
            done.Add(
                await Do(
                    batch.Writer,
                    () => _desk.Write(part, batch.Writer, batch.Label, batch.Joined),
                    goesOn: done.Count < parts.Count - 1
                )
            );
        return new Answer(batch.Id, done.Max(d => d.Act), [.. done.SelectMany(d => d.Accepted)], [.. done.SelectMany(d => d.Refused)]);
    }

    public async Task<Reworked> Rework(PlanOrder order)
    {
        if (_desk.State is null)
            return new Reworked(0, "", NoManual);
        if (order.ToAct() is not { } act)
            return new Reworked(0, "", $"There is no act “{order.Do}”.");
        return Said(await Do(order.Writer, () => _desk.Rework(order.Id, order.Writer, act)));
    }

    public async Task<Reworked> TakeIn(ComingIn coming)
    {
        if (_desk.State is null)
            return new Reworked(0, "", NoManual);
        var divisions = coming.Divisions is null ? null : DivisionForm.Parse(coming.Divisions);
        var what = new TakingIn(coming.Label, divisions, new Id(coming.After), coming.Changes, coming.Assets, coming.Sources);
        return Said(await Do(coming.Writer, () => _desk.TakeIn(coming.Batch, coming.Writer, what)));
    }

    public async Task<Reworked> AddRole(string writer, string name, string foundation) =>
        _desk.State is null ? new Reworked(0, "", NoManual) : Said(await Do(writer, () => _desk.AddRole(writer, name, foundation)));

    public async Task<Reworked> Reuse(ReuseOrder order)
    {
        if (_desk.State is null)
            return new Reworked(0, "", NoManual);
        if (order.ToAct() is not { } act)
            return new Reworked(0, "", $"There is no act “{order.Do}”.");
        // Who does it is told as the others are: it may have changed the text on the screen.
        return Said(await Do("", () => _desk.Reuse(order.Id, order.Writer, act)));
    }

    public async Task<Reworked> Restore(RestoreOrder order)
    {
        if (_desk.State is null)
            return new Reworked(0, "", NoManual);
        var part = new RestoredPart(new HistoryScope(order.Division, order.Block), order.Before);
        return Said(await Do("", () => _desk.Restore(order.Id, order.Writer, part)));
    }

    /// <summary>The pages as they settled last, for folios; null where the text cannot be composed.</summary>
    private async Task<ComposedManual?> Composed()
    {
        try
        {
            return _proof is { } proof ? (await proof.Settled()).Composed : null;
        }
        catch (CannotComposeException)
        {
            // What is asked is answered all the same; on which pages is not known.
            return null;
        }
    }

    public async Task<UsedPicture[]?> Pictures()
    {
        open.Used(ManualId);
        return _desk.State is { } state ? await Task.Run(() => UsedPictures.Of(state)) : null;
    }

    public async Task<UsePlace[]?> PointingAt(string target)
    {
        open.Used(ManualId);
        return _desk.State is { } state ? await Task.Run(() => Pointing.At(state, target)) : null;
    }

    public async Task<StandingNote[]?> Notes()
    {
        open.Used(ManualId);
        var composed = await Composed();
        return _desk.State is { } state ? await Task.Run(() => StandingNotes.Of(state, composed)) : null;
    }

    public async Task<KeptOnce?> KeptOnce()
    {
        open.Used(ManualId);
        return _desk.State is { } state ? await Task.Run(() => Manuals.KeptOnce.Of(state)) : null;
    }

    public async Task<FoundAll?> Find(Looking looking)
    {
        open.Used(ManualId);
        var composed = await Composed();
        return _desk.State is { } state ? await Task.Run(() => FoundAll.In(state, composed, looking)) : null;
    }

    public async Task<Reworked> Replace(ReplaceOrder order)
    {
        if (_desk.State is null)
            return new Reworked(0, "", NoManual);
        // Who replaces is told as the others are: the text on the screen is the old one still.
        var what = order.ToReplacing();
        return Said(await Do("", () => _desk.Replace(order.Id, order.Writer, what)));
    }

    public async Task<TakenBack> TakeBack(string writer, bool again)
    {
        if (_desk.State is null)
            return new TakenBack(0, "", [], []);
        // Who takes something back shows the old text still, and reads it with the others.
        var done = await Do("", () => _desk.TakeBack(writer, again));
        return new TakenBack(
            done.TakenBack,
            done.Words,
            [.. done.Outcome?.Rows.Blocks.Select(b => b.Division).Distinct() ?? []],
            [.. done.Refused]
        );
    }

    public Task<Foreseen> Foresee(PlanOrder order)
    {
        if (_desk.State is not { } state || order.ToAct() is not { } act)
            return Task.FromResult(new Foreseen(null, "", "This cannot be done."));
        return Task.Run(() => Foreseeing.Of(state.Manual, act, order.Rows.FirstOrDefault() ?? ""));
    }

    private static Reworked Said(StoredAct done) => new(done.Act, done.Why is null ? done.Words : "", done.Why);

    /// <summary>Does an act; when it is stored it is composed, and the other browsers are told.</summary>
    /// <param name="goesOn">more of the same batch follows at once: its pages are worth composing after that</param>
    private async Task<StoredAct> Do(string writer, Func<Task<StoredAct>> act, bool goesOn = false)
    {
        open.Used(ManualId);
        var failed = true;
        try
        {
            var done = await act();
            failed = false;
            if (done is { Outcome: { } outcome, Act: > 0 })
                TellChanged(ChangedElsewhere.Of(writer, outcome));
            return done;
        }
        catch (Exception e)
        {
            LogFailed(log, e, ManualId);
            throw;
        }
        finally
        {
            // What is in memory may not be what is in the database: then this owner goes, and the next one reads it.
            if (_desk.IsLost)
                DeactivateOnIdle();
            else if (_desk.State is not null && !ReferenceEquals(_composed, _desk.State) && (failed || !goesOn))
                await Compose();
        }
    }

    /// <summary>Changes are told together that come so close on one another: of many writers each browser hears often enough.</summary>
    private static readonly TimeSpan Gathering = TimeSpan.FromMilliseconds(30);

    private readonly List<ChangedElsewhere> _changes = [];

    private void TellChanged(ChangedElsewhere change)
    {
        _changes.Add(change);
        if (_changes.Count == 1)
            _ = TellGathered();
    }

    private async Task TellGathered()
    {
        await Task.Delay(Gathering);
        ChangedElsewhere[] told = [.. _changes];
        _changes.Clear();
        notices.Tell(ManualId, "changed", told);
    }

    // ---- showing ----

    private async Task<Shown<T>> Show<T>(Func<NumberedComposition, T?> show)
        where T : class
    {
        open.Used(ManualId);
        if (_proof is not { } proof)
            return new Shown<T>(null);
        try
        {
            var settled = await proof.Settled();
            return await Task.Run(() => new Shown<T>(show(settled)));
        }
        catch (CannotComposeException e)
        {
            return new Shown<T>(null, e.Message);
        }
    }

    public Task<Shown<ProofMessage>> Proof() => Show(ProofMessage.Whole);

    public Task<Shown<DivisionMarks>> Marks(string division) =>
        Show(c =>
            c.Composed.Divisions.FirstOrDefault(d => d.Numbers.Division.Id.Value == division) is { } own ? DivisionMarks.Of(c, own) : null
        );

    public Task<Shown<SheetReason>> Sheet(int sheet) =>
        Show(c =>
            sheet >= 0 && sheet < c.Composed.Pages.Count
                ? new SheetReason(c.Composed.Pages[sheet].Folio, c.Composed.Pages[sheet].Reason)
                : null
        );

    public Task<Shown<TargetChoice[]>> Targets(SoughtTarget sought) => Show(c => TargetChoice.Find(c.Composed, sought));

    public Task<Shown<TargetsThere>> TargetsForOthers(string words, string pointed) =>
        Show(c => new TargetsThere(c.Composed.Text.Manual.Title, TargetChoice.Find(c.Composed, new SoughtTarget(words, pointed, "", []))));

    public Task<Shown<TargetChoice[]>> ReadHere(string manual, TargetsThere there) => Show(c => OtherManuals.ReadHere(c, manual, there));

    public Task<Shown<Dictionary<string, PlaceThere>>> PlacesHere(string[] targets) =>
        Show(c => TargetChoice.Places(c.Composed, ManualId, targets));

    public Task<KeptBody[]?> KeptBodies() => Task.FromResult(_desk.State is { } state ? KeptBody.All(state) : null);

    public async Task<Reworked> TakeKept(string id, string writer, KeptBody kept) =>
        _desk.State is null ? new Reworked(0, "", NoManual)
        : kept.Kind == KeptBody.Variable ? Said(await Do("", () => _desk.Reuse(id, writer, new ReuseAct.SetVariable(kept.Name, kept.Text))))
        : Said(await Do("", () => _desk.Take(id, writer, kept.ToPassage(id))));

    public Task<ReferenceOut[]?> ReferencesOut() => Task.FromResult(_desk.State is { } state ? OtherManuals.Of(state) : null);

    public async Task<Reworked> TakeNewer(string id, string writer, ReferenceGrownOld[] old) =>
        _desk.State is null ? new Reworked(0, "", NoManual) : Said(await Do("", () => _desk.Reuse(id, writer, OtherManuals.Taking(old))));

    public Task<Shown<HeadingChoice[]>> Headings(string words) => Show(c => HeadingChoice.Find(c.Composed, words));

    public Task<Shown<PlanView>> Plan(bool text) => Show(c => PlanView.Of(c, text));

    public async Task<Shown<string>> Page(string key)
    {
        if (_drawing.Kept(key) is { } kept)
            return new Shown<string>(kept);
        if (_proof is not { } proof)
            return new Shown<string>(null);
        try
        {
            await proof.Settled();
        }
        catch (CannotComposeException e)
        {
            return new Shown<string>(null, e.Message);
        }
        return new Shown<string>(proof.Page(key) is { } found ? await _drawing.Draw(found.Composed, found.Page) : null);
    }

    public async Task<Shown<string>> FirstPage()
    {
        open.Used(ManualId);
        if (_proof is not { } proof)
            return new Shown<string>(null);
        try
        {
            var composed = (await proof.Settled()).Composed;
            return new Shown<string>(composed.Pages.Count > 0 ? await _drawing.Draw(composed, composed.Pages[0]) : null);
        }
        catch (CannotComposeException e)
        {
            return new Shown<string>(null, e.Message);
        }
    }

    /// <summary>So few changed pages go to so few writers with the message, drawn: who types sees them a round trip sooner.</summary>
    private const int FewWriters = 3,
        FewPages = 2;

    /// <summary>The message waits no longer for a drawing, whose pictures are in the database.</summary>
    private static readonly TimeSpan LongestDrawing = TimeSpan.FromMilliseconds(250);

    /// <summary>How many writers are here, for whoever asks from outside this owner's turns.</summary>
    private volatile int _watching;

    private async Task TellProof(ProofMessage message)
    {
        var drawn = new Dictionary<string, string>(StringComparer.Ordinal);
        // A page that only moved was drawn before.
        var changed =
            _watching <= FewWriters
                ? message.Runs.SelectMany(r => r.Inserted).Where(p => _proof!.IsNew(p.Key)).Take(FewPages + 1).ToList()
                : [];
        if (changed.Count <= FewPages)
            foreach (var page in changed)
                try
                {
                    if (_proof!.Page(page.Key) is { } found)
                        drawn[page.Key] = await _drawing.Draw(found.Composed, found.Page).WaitAsync(LongestDrawing);
                }
                catch (Exception e)
                {
                    // The browser asks for it, and is told what is wrong.
                    LogUndrawn(log, e, ManualId);
                }
        notices.Tell(ManualId, "proof", message with { Drawn = drawn });
    }

    // ---- who is here ----

    private static readonly TimeSpan Away = TimeSpan.FromSeconds(75);

    public Task Here(Presence presence)
    {
        open.Used(ManualId, watched: true);
        var now = clock.GetUtcNow();
        _here[presence.Writer] = (presence, now);
        foreach (var gone in _here.Where(h => now - h.Value.Seen > Away).Select(h => h.Key).ToList())
            _here.Remove(gone);
        TellWhoIsHere();
        return Task.CompletedTask;
    }

    public Task Gone(string writer)
    {
        if (_here.Remove(writer))
            TellWhoIsHere();
        return Task.CompletedTask;
    }

    private void TellWhoIsHere()
    {
        _watching = _here.Count;
        notices.Tell(ManualId, "here", _here.Values.Select(h => h.Where).ToArray());
    }

    [LoggerMessage(Level = LogLevel.Warning, Message = "The font files of the look of {Manual} cannot be read")]
    private static partial void LogFonts(ILogger log, Exception cause, string manual);

    [LoggerMessage(Level = LogLevel.Error, Message = "An act on {Manual} was not stored")]
    private static partial void LogFailed(ILogger log, Exception cause, string manual);

    [LoggerMessage(Level = LogLevel.Warning, Message = "A changed page of {Manual} was not drawn")]
    private static partial void LogUndrawn(ILogger log, Exception cause, string manual);
}

/// <summary>What other browsers are told of an act.</summary>
/// <param name="Divisions">divisions came, went or changed, or more changed than is told block by block: read them again</param>
/// <param name="KeptOnce">variables, conditions, passages or roles changed</param>
public sealed record ChangedElsewhere(string Writer, IReadOnlyList<ChangedBlock> Blocks, bool Divisions, bool KeptOnce)
{
    /// <summary>An act on so many blocks is not told block by block: who shows them reads them again.</summary>
    private const int MostTold = 60;

    public static ChangedElsewhere Of(string writer, DeskOutcome outcome)
    {
        var rows = outcome.Rows;
        var many = rows.Blocks.Count > MostTold;
        return new ChangedElsewhere(
            writer,
            many
                ? []
                :
                [
                    .. rows.Blocks.Select(b => new ChangedBlock(
                        b.Block.Id,
                        b.Division,
                        b.Block.Version,
                        b.Deleted ? null : BlockWriter.ToJson(b.Block.Block),
                        b.Deleted ? null : Before(outcome.State, b)
                    )),
                ],
            many || rows.Divisions.Count > 0,
            rows.Manual.Settings is not null || Passages(outcome.State, rows)
        );
    }

    private static bool Passages(DeskState state, DeskRows rows)
    {
        bool IsPassage(string division) => state.Division(division)?.Division.Kind == DivisionKind.Passage;
        return rows.Divisions.Any(d => d.Division.Division.Kind == DivisionKind.Passage) || rows.Blocks.Any(b => IsPassage(b.Division));
    }

    /// <summary>The id of the block that stands before this one, "" at the beginning.</summary>
    private static string Before(DeskState state, BlockRowChange change)
    {
        var before = "";
        foreach (var block in state.Division(change.Division)?.Blocks ?? [])
        {
            if (block.Id == change.Block.Id)
                return before;
            before = block.Id;
        }
        return before;
    }
}

public sealed record ChangedBlock(string Id, string Division, int Version, string? Body, string? After);

/// <summary>What an act on the plan would come to.</summary>
internal static class Foreseeing
{
    public static Foreseen Of(Manual manual, PlanAct act, string row)
    {
        var result = Planner.Apply(manual, act);
        if (result.Refused is { } why)
            return new Foreseen(null, "", why);
        var next = result.Manual!;
        var selected = Core.Selection.Selector.Select(next, next.EditionNamed(null).Proofed, rules: WornLook.Of(next).TextRules);
        var numbers = Core.Numbering.ManualNumbers.Of(selected, WornLook.Of(next), cache: null);
        var target = numbers.Find(new Id(row));
        var under =
            target is { } found && numbers.Divisions[found.Division].Division is { } division && division.Id.Value != row
                ? $"{numbers.Divisions[found.Division].Number} {division.Title}".Trim()
                : "";
        return new Foreseen(target?.Target.Number ?? "", under, null);
    }
}
