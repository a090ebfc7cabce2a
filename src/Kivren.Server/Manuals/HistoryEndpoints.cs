using Kivren.Server.Gates;
using Kivren.Server.Shelf;
using Kivren.Store;

namespace Kivren.Server.Manuals;

/// <summary>Brings a part back as it was before an act.</summary>
/// <param name="Division">the division; with <paramref name="Block"/> null too, the whole manual</param>
/// <param name="Block">the block alone</param>
[GenerateSerializer, Immutable]
public sealed record RestoreOrder(string Id, string Writer, long Before, string? Division, string? Block);

/// <summary>Who changed what, when, and what it said before; and any of it brought back.</summary>
public static class HistoryEndpoints
{
    public static void MapHistory(this IEndpointRouteBuilder app)
    {
        var history = app.MapGroup("/api/manuals/{id}/history");
        history.MapGet("", async (string id, string? division, string? block, long? before, ShelfContext db, HttpContext http) =>
            (division is not null && !Checks.IsId(division)) || (block is not null && !Checks.IsId(block))
                ? Refusal.Bad("This is no block and no division.")
                : Answered.Ok(await History.Of(db, id, new HistoryScope(division, block), before, http.RequestAborted))
        );
        history.MapPost("", async (string id, RestoreOrder order, IGrainFactory grains) =>
            !Checks.IsId(order.Id)
            || !Checks.IsId(order.Writer)
            || (order.Division is not null && !Checks.IsId(order.Division))
            || (order.Block is not null && !Checks.IsId(order.Block))
                ? Refusal.Bad("Bringing back needs an id, its writer and what is brought back.")
                : Answered.Ok(await ManualEndpoints.Of(grains, id).Restore(order))
        );
    }
}
