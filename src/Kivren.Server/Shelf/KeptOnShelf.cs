using Kivren.Server.Gates;
using Kivren.Server.Manuals;
using Kivren.Store;
using Microsoft.EntityFrameworkCore;

namespace Kivren.Server.Shelf;

/// <summary>A variable or a passage of the shelf, as a manual stands to it.</summary>
/// <param name="Words">what the shelf says: a variable’s text, a passage’s first words</param>
/// <param name="From">title of the manual that gave it last</param>
/// <param name="Here">none: this manual has nothing of the name; same: it says the same; other: it says something else</param>
public sealed record ShelfKept(string Kind, string Name, string Words, string From, string Here);

/// <param name="Do">give, take, takeOut; everywhere: take it in every manual that has it and says otherwise</param>
public sealed record ShelfKeptOrder(string Id, string Writer, string Do, string Kind, string Name);

/// <param name="Manuals">how many manuals took it</param>
public sealed record ShelfKeptDone(long Act, int Manuals, string? Refused);

/// <summary>What is kept once for all manuals of the shelf. A manual holds what it uses, so that its pages are its own; it gives to the
/// shelf and takes from it by acts, which can be taken back.</summary>
public static class KeptOnShelf
{
    private const int MostNames = 2_000;

    public static void MapKeptOnShelf(this IEndpointRouteBuilder app)
    {
        app.MapGet("/api/manuals/{id}/shelf-kept", async (string id, ShelfContext db, IGrainFactory grains, HttpContext http) =>
        {
            if (await ManualEndpoints.Of(grains, id).KeptBodies() is not { } own)
                return Refusal.Gone("There is no such manual.");
            var here = own.ToDictionary(k => (k.Kind, k.Name));
            var rows = await db.KeptOnShelf.AsNoTracking().OrderBy(k => k.Kind).ThenBy(k => k.Name).ToListAsync(http.RequestAborted);
            return Answered.Ok(
                rows.Select(Of)
                    .Select(k => new ShelfKept(
                        k.Kind,
                        k.Name,
                        k.Words,
                        k.From,
                        here.TryGetValue((k.Kind, k.Name), out var mine) ? (mine.SaysTheSame(k) ? "same" : "other") : "none"
                    ))
                    .ToArray()
            );
        });
        app.MapPost(
            "/api/manuals/{id}/shelf-kept",
            async (string id, ShelfKeptOrder order, ShelfContext db, IGrainFactory grains, TimeProvider clock) =>
            {
                if (!Checks.IsId(order.Id) || !Checks.IsId(order.Writer) || !Checks.IsText(order.Name, Core.Reuse.Reusing.LongestName))
                    return Refusal.Bad("An act needs an id, its writer and a name.");
                if (order.Kind is not (KeptBody.Variable or KeptBody.Passage))
                    return Refusal.Bad("The shelf keeps variables and passages.");
                return order.Do switch
                {
                    "give" => await Give(id, order, db, grains, clock),
                    "take" => await Kept(db, order) is { } kept
                        ? Said(await ManualEndpoints.Of(grains, id).TakeKept(order.Id, order.Writer, kept))
                        : NotKept(order),
                    "everywhere" => await Kept(db, order) is { } kept ? await Everywhere(order, kept, db, grains) : NotKept(order),
                    "takeOut" => await db.KeptOnShelf.Where(k => k.Kind == order.Kind && k.Name == order.Name).ExecuteDeleteAsync() == 1
                        ? Answered.Ok(new ShelfKeptDone(0, 0, null))
                        : NotKept(order),
                    _ => Refusal.Bad($"There is no act “{order.Do}”."),
                };
            }
        );
    }

    private static Answered<ShelfKeptDone> Said(Reworked done) => new ShelfKeptDone(done.Act, done.Refused is null ? 1 : 0, done.Refused);

    private static Answered<ShelfKeptDone> NotKept(ShelfKeptOrder order) =>
        Refusal.Gone($"The shelf keeps no {order.Kind} “{order.Name}”.");

    private static KeptBody Of(KeptOnShelfRow row) => new(row.Kind, row.Name, row.Body, row.Pictures, row.From);

    private static async Task<KeptBody?> Kept(ShelfContext db, ShelfKeptOrder order) =>
        await db.KeptOnShelf.AsNoTracking().FirstOrDefaultAsync(k => k.Kind == order.Kind && k.Name == order.Name) is { } row
            ? Of(row)
            : null;

    private static async Task<Answered<ShelfKeptDone>> Give(
        string id,
        ShelfKeptOrder order,
        ShelfContext db,
        IGrainFactory grains,
        TimeProvider clock
    )
    {
        var own = await ManualEndpoints.Of(grains, id).KeptBodies();
        if (own?.FirstOrDefault(k => k.Kind == order.Kind && k.Name == order.Name) is not { } given)
            return Refusal.Gone($"This manual has no {order.Kind} “{order.Name}”.");
        var row = await db.KeptOnShelf.FirstOrDefaultAsync(k => k.Kind == order.Kind && k.Name == order.Name);
        if (row is null)
        {
            if (await db.KeptOnShelf.CountAsync() >= MostNames)
                return Refusal.Bad($"The shelf keeps up to {MostNames} variables and passages.");
            db.KeptOnShelf.Add(
                row = new KeptOnShelfRow
                {
                    Kind = given.Kind,
                    Name = given.Name,
                    Body = given.Json,
                    From = given.From,
                }
            );
        }
        (row.Body, row.Pictures, row.From, row.KeptAt) = (given.Json, given.Pictures, given.From, clock.GetUtcNow());
        await db.SaveChangesAsync();
        return new ShelfKeptDone(0, 0, null);
    }

    /// <summary>One act in each manual that has something else under the name; what refuses it is told, and the others go on.</summary>
    private static async Task<Answered<ShelfKeptDone>> Everywhere(
        ShelfKeptOrder order,
        KeptBody kept,
        ShelfContext db,
        IGrainFactory grains
    )
    {
        var manuals = await db.Manuals.AsNoTracking().Where(m => m.DeletedAt == null).Select(m => new { m.Id, m.Title }).ToListAsync();
        var took = 0;
        var refused = new List<string>();
        foreach (var manual in manuals)
        {
            var grain = ManualEndpoints.Of(grains, manual.Id);
            var own = (await grain.KeptBodies())?.FirstOrDefault(k => k.Kind == order.Kind && k.Name == order.Name);
            if (own is null || own.SaysTheSame(kept))
                continue;
            var done = await grain.TakeKept(Guid.NewGuid().ToString("N"), order.Writer, kept);
            if (done.Refused is { } why)
                refused.Add($"“{manual.Title}”: {why}");
            else
                took++;
        }
        return new ShelfKeptDone(0, took, refused.Count > 0 ? string.Join(' ', refused) : null);
    }
}
