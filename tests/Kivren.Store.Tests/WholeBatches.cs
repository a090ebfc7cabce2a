using Kivren.Desk;

namespace Kivren.Store.Tests;

/// <summary>A batch as a browser sends it: part after part, answered as one.</summary>
internal static class WholeBatches
{
    public static async Task<StoredAct> Write(
        this StoredDesk desk,
        string batch,
        string writer,
        string label,
        IReadOnlyList<BlockChange> changes,
        IReadOnlyDictionary<string, string>? joined
    )
    {
        var done = new List<StoredAct>();
        foreach (var part in desk.Parts(batch, changes, joined))
            done.Add(await desk.Write(part, writer, label, joined));
        return done[^1] with
        {
            Act = done.Max(d => d.Act),
            Accepted = [.. done.SelectMany(d => d.Accepted)],
            Refused = [.. done.SelectMany(d => d.Refused)],
        };
    }
}
