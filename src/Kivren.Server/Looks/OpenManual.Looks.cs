using Kivren.Core.Looks;
using Kivren.Desk;
using Kivren.Server.Looks;
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
}

public sealed partial class OpenManual
{
    public Task<Shown<LookView>> Look() => Show(LookView.Of);

    public Task<string?> LookFileOf(string name)
    {
        open.Used(ManualId);
        return Task.FromResult(
            _desk.State?.Manual is not { } manual ? null
            : manual.Look == name && manual.LookFile is { } own ? own
            : ShippedLooks.All.FirstOrDefault(l => l.Name == name) is { } look ? LookFile.Write(look)
            : null
        );
    }

    public async Task<PutOn> PutOn(LookOrder order)
    {
        IReadOnlyList<LookFault> faults = [];
        var look = order.Name is { } name ? ShippedLooks.Named(name) : LookFile.Read(order.File!, out faults);
        if (look is null)
            return new PutOn(0, "", "This look cannot be worn.", [.. faults.Select(f => new SaidFault(f.Place, f.Says))]);
        var done = await Change(order.Id, order.Writer, state => WornLook.PutOn(state.Manual, look));
        return new PutOn(done.Act, done.Words, done.Refused, []);
    }
}
