using Hangfire;
using Kivren.Server.Shelf;
using Kivren.Store;
using Microsoft.EntityFrameworkCore;

namespace Kivren.Server.Produce;

/// <summary>Asking for a PDF, watching it, cancelling it, taking it away.</summary>
public static class ProduceEndpoints
{
    public static void MapProduce(this IEndpointRouteBuilder app)
    {
        var outputs = app.MapGroup("/api/manuals/{id}/outputs");
        outputs.MapPost("", async (string id, ShelfContext db, IBackgroundJobClient jobs, TimeProvider clock) =>
        {
            if (!await db.Manuals.AnyAsync(m => m.Id == id && m.DeletedAt == null)) return Results.NotFound(new Problem("There is no such manual."));
            var row = new OutputRow { Id = Guid.CreateVersion7().ToString("N"), ManualId = id, Edition = "Whole manual", AskedAt = clock.GetUtcNow() };
            db.Outputs.Add(row);
            await db.SaveChangesAsync();
            jobs.Enqueue<ProduceJob>(job => job.Run(row.Id));
            return Results.Accepted($"/api/manuals/{id}/outputs/{row.Id}", OutputView.Of(row));
        });
        outputs.MapGet("", async (string id, ShelfContext db) => (await db.Outputs.AsNoTracking().Where(o => o.ManualId == id).OrderByDescending(o => o.AskedAt).Take(10)
            .Select(o => new OutputView(o.Id, o.Edition, o.State.ToString(), o.Stage, o.Done, o.Total, o.Pages, o.LooseEnds, o.Problem, o.AskedAt)).ToListAsync()));
        outputs.MapPost("/{output}/cancel", async (string id, string output, ShelfContext db) =>
        {
            ProduceJob.Cancel(output);
            await db.Outputs.Where(o => o.Id == output && o.ManualId == id && o.State == OutputState.Waiting).ExecuteUpdateAsync(s => s.SetProperty(o => o.State, OutputState.Cancelled));
            return Results.NoContent();
        });
        outputs.MapGet("/{output}/file", async (string id, string output, ShelfContext db) =>
            await db.Outputs.AsNoTracking().Where(o => o.Id == output && o.ManualId == id && o.File != null).Join(db.Manuals, o => o.ManualId, m => m.Id, (o, m) => new { o.File, m.Title }).FirstOrDefaultAsync() is { } found
                ? Results.File(found.File!, "application/pdf", found.Title + ".pdf") : Results.NotFound(new Problem("This output has no file (yet).")));
    }
}
