using Kivren.Core.Content;
using Kivren.Formats.Outputs;
using Kivren.Formats.Package;
using Kivren.Server.Gates;
using Kivren.Server.Shelf;
using Kivren.Store;
using Microsoft.EntityFrameworkCore;

namespace Kivren.Server.Produce;

/// <summary>Asking for outputs, seeing how far they are, cancelling them, taking their files.</summary>
public static class ProduceEndpoints
{
    /// <summary>Outputs of one manual that wait or are made at once.</summary>
    private const int MostWaiting = 40;

    /// <summary>Outputs that are listed, the newest first.</summary>
    private const int MostListed = 100;

    public static void MapProduce(this IEndpointRouteBuilder app)
    {
        var outputs = app.MapGroup("/api/manuals/{id}/outputs");
        outputs.MapPost("", async (string id, OutputAsked? asked, ShelfContext db, ProducerBell bell, TimeProvider clock) =>
        {
            if (asked?.Problem() is { } why)
                return Refusal.Bad(why);
            if (await db.Manuals.AsNoTracking().FirstOrDefaultAsync(m => m.Id == id && m.DeletedAt == null) is not { } manual)
                return Refusal.Gone("There is no such manual.");
            var editions = EditionForm.ParseEditions(manual.Editions);
            var rows = (asked ?? new OutputAsked(null, null)).Rows(id, editions, clock.GetUtcNow());
            if (rows.Count == 0)
                return Refusal.Gone($"There is no edition “{asked?.Edition}”, or it does not go out so.");
            var waiting = await db.Outputs.CountAsync(o =>
                o.ManualId == id && (o.State == OutputState.Waiting || o.State == OutputState.Running)
            );
            if (waiting + rows.Count > MostWaiting)
                return new Refusal(
                    StatusCodes.Status429TooManyRequests,
                    $"{waiting} outputs of this manual wait already; up to {MostWaiting} can. Cancel one, or wait."
                );
            db.Outputs.AddRange(rows);
            await db.SaveChangesAsync();
            bell.Ring();
            return Answered.Ok(rows.Select(OutputView.Of).ToArray());
        });
        outputs.MapGet("", async (string id, ShelfContext db) =>
            (await db.Outputs.AsNoTracking().Where(o => o.ManualId == id).OrderByDescending(o => o.AskedAt).Take(MostListed).ToListAsync())
                .Select(OutputView.Of)
                .ToArray()
        );
        outputs.MapGet("/{output}", async (string id, string output, ShelfContext db) =>
            await db.Outputs.AsNoTracking().FirstOrDefaultAsync(o => o.Id == output && o.ManualId == id) is { } row
                ? Answered.Ok(OutputView.Of(row))
                : Refusal.Gone("There is no such output.")
        );
        outputs.MapGet("/{output}/report", async (string id, string output, ShelfContext db) =>
            await db.Outputs.AsNoTracking().FirstOrDefaultAsync(o => o.Id == output && o.ManualId == id) is { } row
            && OutputReport.Parse(row.Report) is { } report
                ? Answered.Ok(ReportView.Of(row, report))
                : Refusal.Gone("There is no report of this output (yet).")
        );
        outputs.MapPost("/{output}/cancel", async (string id, string output, ShelfContext db, ProducerBell bell, TimeProvider clock) =>
        {
            await OutputQueue.Cancel(db, id, output, clock.GetUtcNow());
            bell.RingCancel();
            return Done.Well;
        });
        outputs.MapGet("/{output}/file", async (string id, string output, ShelfContext db) => await db
                .Outputs.AsNoTracking()
                .Where(o => o.Id == output && o.ManualId == id)
                .Join(
                    db.OutputFiles,
                    o => o.Id,
                    f => f.OutputId,
                    (o, f) =>
                        new
                        {
                            f.Bytes,
                            o.FileName,
                            o.Kind,
                        }
                )
                .FirstOrDefaultAsync()
                is { } found
                ? Results.File(found.Bytes, OutputName.MediaType(Enum.Parse<OutputKind>(found.Kind)), found.FileName)
                : Refusal.Gone("This output has no file (yet)."));
    }
}
