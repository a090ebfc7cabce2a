using System.Collections.Concurrent;
using Kivren.Store;
using Microsoft.AspNetCore.SignalR;
using Microsoft.EntityFrameworkCore;

namespace Kivren.Server.Proof;

/// <summary>Browsers on a manual: who is told of its compositions and of other writers' changes.</summary>
public sealed class ProofHub : Hub
{
    public Task Join(string manual) => Groups.AddToGroupAsync(Context.ConnectionId, manual);

    public Task Leave(string manual) => Groups.RemoveFromGroupAsync(Context.ConnectionId, manual);
}

/// <summary>The proof rooms of this process, one for each open manual.</summary>
public sealed class ProofRooms(IHubContext<ProofHub> hub, IDbContextFactory<ShelfContext> shelf, ILogger<ProofRooms> log)
{
    private readonly ConcurrentDictionary<string, ProofRoom> _rooms = new(StringComparer.Ordinal);

    public ProofRoom Room(string manual) => _rooms.GetOrAdd(manual, id => new ProofRoom(id, message => hub.Clients.Group(id).SendAsync("proof", message), composed => _ = Remember(id, composed.Pages.Count, composed.LooseEnds.Count)));

    public ProofRoom? Find(string manual) => _rooms.GetValueOrDefault(manual);

    public void Close(string manual) => _rooms.TryRemove(manual, out _);

    /// <summary>The shelf shows a manual as thick as it was last composed.</summary>
    private async Task Remember(string manual, int pages, int looseEnds)
    {
        try
        {
            await using var db = await shelf.CreateDbContextAsync();
            await db.Manuals.Where(m => m.Id == manual && (m.Pages != pages || m.LooseEnds != looseEnds)).ExecuteUpdateAsync(s => s.SetProperty(m => m.Pages, pages).SetProperty(m => m.LooseEnds, looseEnds));
        }
        catch (Exception e) when (e is Npgsql.NpgsqlException or InvalidOperationException or DbUpdateException)
        {
            log.LogWarning("The shelf could not note the pages of {Manual}: {Problem}", manual, e.Message);
        }
    }
}
