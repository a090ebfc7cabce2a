using Kivren.Core.Content;
using Kivren.Core.References;
using Kivren.Desk;
using Kivren.Formats.Package;
using Kivren.Server.Pointing;
using Kivren.Store;
using Microsoft.EntityFrameworkCore;
using Orleans.Concurrency;

namespace Kivren.Server.Manuals;

/// <summary>What an open manual answers about all that points at a page.</summary>
public partial interface IOpenManual
{
    [AlwaysInterleave]
    Task<Shown<IndexView>> Index();

    /// <summary>Why the index names the pages of a heading.</summary>
    [AlwaysInterleave]
    Task<Shown<LocatorWhy[]>> WhyLocators(string[] heading);

    [AlwaysInterleave]
    Task<Shown<ProposedForIndex[]>> IndexProposals();

    /// <returns>null when there is no such manual</returns>
    [AlwaysInterleave]
    Task<SweptForm[]?> SweepForms(string phrase);

    /// <returns>null when there is no such manual</returns>
    [AlwaysInterleave]
    Task<SweptAll?> SweepFor(string phrase, string[] forms, string[] heading);

    Task<Reworked> ChangeIndex(IndexOrder order);

    /// <summary>What an act on the index would come to, without doing it.</summary>
    [AlwaysInterleave]
    Task<Shown<IndexForeseen>> ForeseeIndex(IndexOrder order);

    [AlwaysInterleave]
    Task<Shown<ReferencesView>> References();

    [AlwaysInterleave]
    Task<Shown<LikelyTarget[]>> LikelyTargets(string reference);

    Task<Reworked> ChangeReferences(ReferenceOrder order);

    [AlwaysInterleave]
    Task<Shown<ListsView>> Lists();

    [AlwaysInterleave]
    Task<Shown<ListLooked>> LookAtList(string name);

    Task<Reworked> ChangeLists(ListOrder order);
}

public sealed partial class OpenManual
{
    public Task<Shown<IndexView>> Index() => Show(IndexView.Of);

    public Task<Shown<LocatorWhy[]>> WhyLocators(string[] heading) => Show(c => LocatorWhy.Of(c, heading));

    public Task<Shown<ProposedForIndex[]>> IndexProposals() => Show(ProposedForIndex.Of);

    public async Task<SweptForm[]?> SweepForms(string phrase)
    {
        open.Used(ManualId);
        return _desk.State is { } state ? await Task.Run(() => SweptForm.Of(state, phrase)) : null;
    }

    public async Task<SweptAll?> SweepFor(string phrase, string[] forms, string[] heading)
    {
        open.Used(ManualId);
        var composed = await Composed();
        return _desk.State is { } state ? await Task.Run(() => SweptAll.In(state, composed, phrase, forms, heading)) : null;
    }

    public Task<Reworked> ChangeIndex(IndexOrder order) => Change(order.Id, order.Writer, order.ToAct());

    public async Task<Shown<IndexForeseen>> ForeseeIndex(IndexOrder order)
    {
        open.Used(ManualId);
        if (_desk.State is not { } state || _proof is not { } proof || order.ToAct() is not { } act)
            return new Shown<IndexForeseen>(null);
        try
        {
            var settled = await proof.Settled();
            var result = await Task.Run(() => act(state));
            if (result.Refused is { } why)
                return new Shown<IndexForeseen>(IndexForeseen.No(why));
            var then = await proof.Foresee(result.Manual!);
            return new Shown<IndexForeseen>(await Task.Run(() => IndexForeseen.Of(result.Words, settled.Composed, then)));
        }
        catch (CannotComposeException e)
        {
            return new Shown<IndexForeseen>(null, e.Message);
        }
    }

    public async Task<Shown<ReferencesView>> References()
    {
        var lost = await Lost();
        return await Show(c =>
        {
            var kept = new Lazy<HashSet<Id>>(() => Identities.Of(c.Composed.Text.Manual));
            return ReferencesView.Of(c, id => kept.Value.Contains(id), lost);
        });
    }

    public async Task<Shown<LikelyTarget[]>> LikelyTargets(string reference)
    {
        var lost = await Lost();
        return await Show(c => LikelyTarget.Of(c, new Id(reference), lost));
    }

    /// <summary>What references to nothing printed last: as this owner saw it, else the words of what was taken out.</summary>
    private async Task<IReadOnlyDictionary<Id, LostTarget>> Lost()
    {
        var composed = await Composed();
        var lost = _proof?.Lost ?? new Dictionary<Id, LostTarget>();
        if (composed is null)
            return lost;
        var unknown = composed
            .Text.Divisions.SelectMany(ProofMessage.ReferencesIn)
            .Where(r => r.Other is null && composed.Numbers.Find(r.Target) is null && !lost.ContainsKey(Places.Kept(r.Id)))
            .ToList();
        if (unknown.Count == 0)
            return lost;
        await using var db = await shelf.CreateDbContextAsync();
        string[] targets = [.. unknown.Select(r => Places.Kept(r.Target).Value).Distinct()];
        var blocks = await ManualReader.Gone(db, targets);
        var divisions = await db
            .Divisions.AsNoTracking()
            .Where(d => targets.Contains(d.Id))
            .ToDictionaryAsync(d => d.Id, d => d.Title, StringComparer.Ordinal);
        var all = new Dictionary<Id, LostTarget>(lost);
        foreach (var reference in unknown)
        {
            var target = Places.Kept(reference.Target).Value;
            var title =
                blocks.TryGetValue(target, out var block)
                    ? BlockReader.Parse(block.Body).OwnSpans().FirstOrDefault()?.PlainText().Trim() ?? ""
                : divisions.TryGetValue(target, out var division) ? division
                : "";
            if (title.Length > 0)
                all[Places.Kept(reference.Id)] = new LostTarget("", "", title, $"“{title}”");
        }
        return all;
    }

    public Task<Reworked> ChangeReferences(ReferenceOrder order)
    {
        // What references print is read from the pages that the writer looks at.
        IReadOnlyDictionary<Id, string> Printed()
        {
            var printed = new Dictionary<Id, string>();
            if (_proof?.Settled() is { IsCompletedSuccessfully: true, Result.Composed: var composed })
                foreach (var reference in composed.Text.Divisions.SelectMany(ProofMessage.ReferencesIn))
                    printed.TryAdd(
                        Places.Kept(reference.Id),
                        composed.Numbers.Find(reference.Target) is null && reference.Other is null ? "" : composed.Print(reference)
                    );
            return printed;
        }
        return Change(order.Id, order.Writer, order.ToAct(Printed));
    }

    public Task<Shown<ListsView>> Lists() => Show(ListsView.Of);

    public Task<Shown<ListLooked>> LookAtList(string name) => Show(c => ListLooked.Of(c, name));

    public Task<Reworked> ChangeLists(ListOrder order) => Change(order.Id, order.Writer, order.ToAct());

    /// <summary>Who does it is told as the others are: it changes the text on the screen.</summary>
    private async Task<Reworked> Change(string id, string writer, Func<DeskState, Core.Planning.PlanResult>? act) =>
        _desk.State is null ? new Reworked(0, "", NoManual)
        : act is null ? new Reworked(0, "", "There is no such act.")
        : Said(await Do("", () => _desk.Change(id, writer, act)));
}
