using Kivren.Server.Gates;
using Kivren.Server.Shelf;
using Kivren.Store;
using Microsoft.EntityFrameworkCore;

namespace Kivren.Server.Produce;

/// <summary>Asking for outputs, seeing how far they are, cancelling them, taking their files.</summary>
public static class ProduceEndpoints
{
    /// <summary>Outputs of one manual that wait or are made at once.</summary>
    private const int MostWaiting = 20;

    public static void MapProduce(this IEndpointRouteBuilder app)
    {
        var outputs = app.MapGroup("/api/manuals/{id}/outputs");
        outputs.MapPost("", async (string id, ShelfContext db, ProducerBell bell, TimeProvider clock) =>
        {
            if (!await db.Manuals.AnyAsync(m => m.Id == id && m.DeletedAt == null))
                return Refusal.Gone("There is no such manual.");
            if (
                await db.Outputs.CountAsync(o => o.ManualId == id && (o.State == OutputState.Waiting || o.State == OutputState.Running))
                >= MostWaiting
            )
                return new Refusal(
                    StatusCodes.Status429TooManyRequests,
                    $"{MostWaiting} outputs of this manual wait already. Cancel one, or wait."
                );
            var row = new OutputRow
            {
                Id = Guid.CreateVersion7().ToString("N"),
                ManualId = id,
                Edition = "Whole manual",
                AskedAt = clock.GetUtcNow(),
            };
            db.Outputs.Add(row);
            await db.SaveChangesAsync();
            bell.Ring();
            return Answered.Ok(OutputView.Of(row));
        });
        outputs.MapGet("", async (string id, ShelfContext db) =>
            (await db.Outputs.AsNoTracking().Where(o => o.ManualId == id).OrderByDescending(o => o.AskedAt).Take(10).ToListAsync()).Select(
                OutputView.Of
            )
        );
        outputs.MapGet("/{output}", async (string id, string output, ShelfContext db) =>
            await db.Outputs.AsNoTracking().FirstOrDefaultAsync(o => o.Id == output && o.ManualId == id) is { } row
                ? Answered.Ok(OutputView.Of(row))
                : Refusal.Gone("There is no such output.")
        );
        outputs.MapPost("/{output}/cancel", async (string id, string output, ShelfContext db, ProducerBell bell, TimeProvider clock) =>
        {
            await OutputQueue.Cancel(db, id, output, clock.GetUtcNow());
            bell.RingCancel();
            return Done.Well;
        });
        outputs.MapGet("/{output}/file", async (string id, string output, ShelfContext db) =>
            await db
                .Outputs.AsNoTracking()
                .Where(o => o.Id == output && o.ManualId == id)
                .Join(db.OutputFiles, o => o.Id, f => f.OutputId, (o, f) => f.Bytes)
                .SelectMany(bytes => db.Manuals.Where(m => m.Id == id).Select(m => new { Bytes = bytes, m.Title }))
                .FirstOrDefaultAsync()
                is { } found
                ? Results.File(found.Bytes, "application/pdf", found.Title + ".pdf")
                : Refusal.Gone("This output has no file (yet).")
        );
    }
}
