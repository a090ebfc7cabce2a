using System.Collections.Concurrent;

namespace Kivren.Server.BringIn;

/// <summary>Documents on their way in, in this process. One that nobody looked at for hours is let go.</summary>
public sealed class BringInRooms(TimeProvider clock)
{
    private const int Most = 24;
    private static readonly TimeSpan Longest = TimeSpan.FromHours(4);
    private readonly ConcurrentDictionary<string, BringInRoom> _rooms = new(StringComparer.Ordinal);

    public void Add(BringInRoom room)
    {
        var now = clock.GetUtcNow();
        room.Touched = now;
        foreach (var old in _rooms.Values.Where(r => now - r.Touched > Longest).Concat(_rooms.Values.OrderByDescending(r => r.Touched).Skip(Most - 1))) Remove(old.Id);
        _rooms[room.Id] = room;
    }

    public BringInRoom? Find(string id)
    {
        if (!_rooms.TryGetValue(id, out var room)) return null;
        room.Touched = clock.GetUtcNow();
        return room;
    }

    public void Remove(string id)
    {
        if (!_rooms.TryRemove(id, out var room)) return;
        room.Cancel();
    }
}
