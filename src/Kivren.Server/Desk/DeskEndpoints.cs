using Kivren.Server.Shelf;

namespace Kivren.Server.Desk;

/// <summary>Opening a manual, reading divisions, sending acts, taking them back.</summary>
public static class DeskEndpoints
{
    public static void MapDesk(this IEndpointRouteBuilder app)
    {
        var desk = app.MapGroup("/api/manuals/{id}");
        desk.MapGet("", async (string id, IGrainFactory grains) =>
            await grains.GetGrain<IDesk>(id).Open() is { } manual ? Results.Ok(manual) : Results.NotFound(new Problem("There is no such manual.")));
        desk.MapGet("/divisions/{division}", async (string id, string division, IGrainFactory grains) =>
            await grains.GetGrain<IDesk>(id).Division(division) is { } found ? Results.Ok(found) : Results.NotFound(new Problem("There is no such division.")));
        desk.MapPost("/batches", async (string id, Batch batch, IGrainFactory grains) =>
            string.IsNullOrEmpty(batch.Id) || batch.Blocks is null
                ? Results.BadRequest(new Problem("A batch needs an id and blocks."))
                : Results.Ok(await grains.GetGrain<IDesk>(id).Apply(batch)));
        desk.MapPost("/take-back", async (string id, string writer, bool again, IGrainFactory grains) =>
            Results.Ok(await grains.GetGrain<IDesk>(id).TakeBack(writer, again)));
    }
}
