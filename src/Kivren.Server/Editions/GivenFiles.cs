using Kivren.Core.Content;
using Kivren.Server.BringIn;
using Kivren.Server.Gates;
using Kivren.Server.Manuals;
using Kivren.Server.Shelf;
using Kivren.Store;
using Microsoft.EntityFrameworkCore;

namespace Kivren.Server.Editions;

/// <summary>Files that a writer gives to a manual for its outputs, templates and printers' profiles: kept among what belongs to the
/// manual, under their own names.</summary>
internal static class GivenFiles
{
    private const int LongestName = 120;

    public static async Task<byte[]> Read(HttpRequest request)
    {
        using var all = new MemoryStream();
        await request.Body.CopyToAsync(all, request.HttpContext.RequestAborted);
        return all.ToArray();
    }

    /// <param name="asset">with the name that the file came by; another file of that name is another asset</param>
    /// <param name="act">what the writer did, as undo names it</param>
    /// <returns>the name it is kept under, or why it is not</returns>
    public static async Task<(string Name, Refusal? Refused)> Keep(
        string manual,
        string? writer,
        Asset asset,
        byte[] bytes,
        string act,
        ShelfContext db,
        IGrainFactory grains
    )
    {
        var wanted = asset.Name;
        if (!Checks.IsId(writer))
            return ("", Refusal.Bad("Who brings this file?"));
        if (!Checks.IsText(wanted, LongestName))
            return ("", Refusal.Bad($"A file has a name of up to {LongestName} letters."));
        if (!await db.Manuals.AnyAsync(m => m.Id == manual && m.DeletedAt == null))
            return ("", Refusal.Gone("There is no such manual."));
        await ManualSaver.AddPictures(db, [asset], new Dictionary<string, byte[]> { [asset.Name] = bytes });
        var other = $"{Path.GetFileNameWithoutExtension(wanted)}-{asset.Hash[..8]}{Path.GetExtension(wanted)}";
        foreach (var name in new[] { wanted, other })
        {
            var there = await db.Assets.AsNoTracking().FirstOrDefaultAsync(a => a.ManualId == manual && a.Name == name);
            if (there is not null && there.Hash != asset.Hash)
                continue;
            if (there is null)
            {
                var coming = new ComingIn(
                    Guid.CreateVersion7().ToString("N"),
                    writer!,
                    act,
                    null,
                    "",
                    [],
                    [asset with { Name = name }],
                    []
                );
                if ((await ManualEndpoints.Of(grains, manual).TakeIn(coming)).Refused is { } why)
                    return ("", Refusal.Conflict(why));
            }
            return (name, null);
        }
        return ("", Refusal.Conflict($"There is another file “{wanted}” in the manual; give this one another name."));
    }
}
