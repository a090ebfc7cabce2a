using System.Collections.Concurrent;
using Microsoft.AspNetCore.SignalR;

namespace Kivren.Server.Manuals;

/// <summary>Browsers on a manual: who is told of its compositions and of other writers' changes.</summary>
public sealed class LiveHub(IGrainFactory grains) : Hub
{
    private static readonly ConcurrentDictionary<string, (string Manual, string Writer)> Writers = new(StringComparer.Ordinal);

    public Task Join(string manual) => Groups.AddToGroupAsync(Context.ConnectionId, manual);

    /// <summary>Where this writer is; said again while the tab is open, so that the manual stays open with it.</summary>
    public Task Here(string manual, Presence presence)
    {
        if (Checks.Problem(presence) is not null || !Checks.IsId(manual))
            return Task.CompletedTask;
        Writers[Context.ConnectionId] = (manual, presence.Writer);
        return grains.GetGrain<IOpenManual>(manual).Here(presence);
    }

    public override Task OnDisconnectedAsync(Exception? exception) =>
        Writers.TryRemove(Context.ConnectionId, out var own)
            ? grains.GetGrain<IOpenManual>(own.Manual).Gone(own.Writer)
            : Task.CompletedTask;
}

/// <summary>Tells browsers of a manual, in whatever process they are.</summary>
public sealed partial class Notices(IHubContext<LiveHub> hub, ILogger<Notices> log)
{
    /// <summary>Nothing waits for a notice and nothing fails with it: a browser that missed one asks when it hears the next.</summary>
    public void Tell(string manual, string what, object message) => _ = Send(manual, what, message);

    private async Task Send(string manual, string what, object message)
    {
        try
        {
            await hub.Clients.Group(manual).SendAsync(what, message);
        }
        catch (Exception e)
        {
            LogUntold(log, e, what, manual);
        }
    }

    [LoggerMessage(Level = LogLevel.Warning, Message = "“{What}” was not told to the browsers on {Manual}")]
    private static partial void LogUntold(ILogger log, Exception cause, string what, string manual);
}
