using System.Text.Json;
using Kivren.Server.Gates;
using Kivren.Server.Manuals;
using Kivren.Server.Shelf;
using Kivren.Store;
using Microsoft.AspNetCore.Mvc;
using Microsoft.EntityFrameworkCore;

namespace Kivren.Server.BringIn;

public sealed record Started(string Id);

public sealed record Take(string Writer, string[]? Differences);

public sealed record ShelfSource(string Id, string Name, DateTimeOffset BroughtInAt, int Bytes);

/// <summary>Bringing documents in: reading beside the writer's work, choices, the page they make, and taking them.</summary>
public static class BringInEndpoints
{
    private const long MostUpload = 512L << 20;

    /// <summary>Deliveries that wait at once; a new one lets the oldest go.</summary>
    private const int MostWaiting = 24;
    private const int MostFiles = 5_000;
    private static readonly Refusal Gone = Refusal.Gone("These documents are no longer on their way in. Bring the files in again.");

    public static void MapBringIn(this IEndpointRouteBuilder app)
    {
        var incoming = app.MapGroup("/api/bring-in");
        incoming
            .MapPost("", Start)
            .WithMetadata(
                new RequestSizeLimitAttribute(MostUpload),
                new RequestFormLimitsAttribute { MultipartBodyLengthLimit = MostUpload, ValueCountLimit = MostFiles }
            )
            .DisableAntiforgery();
        incoming.MapGet("/{id}", async (string id, IGrainFactory grains) => Json(await Of(grains, id).View()));
        incoming.MapGet("/{id}/blocks", async (string id, int from, int count, IGrainFactory grains) =>
            Written<ViewedBlocks>.Of(await Of(grains, id).Blocks(from, count), Gone)
        );
        incoming.MapGet("/{id}/pages/{key}.svg", async (string id, string key, IGrainFactory grains, HttpContext http) =>
        {
            if (await Of(grains, id).Page(key) is not { } svg)
                return Gone;
            http.Response.Headers.CacheControl = "private, max-age=86400";
            return Pictures.Served(http, svg, "image/svg+xml");
        });
        // The blocks of one line of the mapping, to be tinted on the page.
        incoming.MapGet("/{id}/of-line", async (string id, string key, IGrainFactory grains) =>
            ManualEndpoints.Found(await Of(grains, id).OfLine(key), Gone.Why)
        );
        incoming.MapGet("/{id}/pictures/{name}", async (string id, string name, IGrainFactory grains, HttpContext http) =>
            await Of(grains, id).Picture(name) is { } picture ? Pictures.Served(http, picture.Bytes, picture.MediaType) : Gone
        );
        incoming.MapPut("/{id}/choices", async (string id, Choices choices, IGrainFactory grains) =>
            Json(await Of(grains, id).Choose(JsonSerializer.Serialize(choices, JsonSerializerOptions.Web)))
        );
        incoming.MapPost("/{id}/keep-mapping", async (string id, string name, IGrainFactory grains) =>
            string.IsNullOrWhiteSpace(name) || !Checks.IsText(name, Mappings.LongestName)
                ? Refusal.Bad($"A mapping needs a name of up to {Mappings.LongestName} letters.")
                : Json(await Of(grains, id).KeepMapping(name.Trim()))
        );
        incoming.MapPost("/{id}/cancel", async (string id, IGrainFactory grains) =>
        {
            await Of(grains, id).Cancel();
            return Done.Well;
        });
        incoming.MapPost("/{id}/take", async (string id, Take take, IGrainFactory grains) =>
        {
            if (!Checks.IsId(take.Writer))
                return Refusal.Bad("Who takes these in?");
            if (await Of(grains, id).Take(take.Writer, take.Differences ?? []) is not { } taken)
                return Gone;
            return taken.Refused is { } why ? Refusal.Conflict(why) : Answered.Ok(taken.Done);
        });

        app.MapGet("/api/manuals/{id}/sources", async (string id, ShelfContext db) =>
            await db
                .Sources.AsNoTracking()
                .Where(s => s.ManualId == id)
                .OrderByDescending(s => s.BroughtInAt)
                .Select(s => new ShelfSource(s.Id, s.Name, s.BroughtInAt, s.Size))
                .ToListAsync()
        );
        app.MapGet("/api/sources/{source}/file", async (string source, ShelfContext db) =>
            await db
                .Sources.AsNoTracking()
                .Where(s => s.Id == source)
                .Join(db.SourceFiles, s => s.Id, f => f.SourceId, (s, f) => new { s.Name, f.Bytes })
                .FirstOrDefaultAsync()
                is { } found
                ? Results.File(found.Bytes, "application/octet-stream", found.Name)
                : Refusal.Gone("There is no such source.")
        );
        app.MapGet("/api/sources/{source}/report", async (string source, ShelfContext db) =>
            await db.Sources.AsNoTracking().Where(s => s.Id == source).Select(s => s.Report).FirstOrDefaultAsync() is { } report
                ? Results.Text(report, "application/json")
                : Refusal.Gone("There is no such source.")
        );
        app.MapMappings();
    }

    private static async Task<Answered<Started>> Start(
        HttpRequest request,
        string? manual,
        string? after,
        string? newer,
        ShelfContext db,
        IGrainFactory grains,
        TimeProvider clock
    )
    {
        if (!request.HasFormContentType)
            return Refusal.Bad("Send the files as a form.");
        IFormCollection form;
        try
        {
            form = await request.ReadFormAsync(request.HttpContext.RequestAborted);
        }
        catch (Exception e) when (e is InvalidDataException or BadHttpRequestException)
        {
            return Refusal.Bad(
                $"These files are more than {MostUpload >> 20} MB together, or did not come whole. Bring fewer in at a time."
            );
        }
        if (form.Files.Count == 0)
            return Refusal.Bad("Choose the files to bring in.");
        if (newer is not null)
        {
            manual = await db.Sources.AsNoTracking().Where(s => s.Id == newer).Select(s => s.ManualId).FirstOrDefaultAsync();
            if (manual is null)
                return Refusal.Gone("There is no such source.");
        }
        if (manual is not null && !await db.Manuals.AnyAsync(m => m.Id == manual && m.DeletedAt == null))
            return Refusal.Gone("There is no such manual.");
        if (after is not null && !Checks.IsText(after, 64))
            return Refusal.Bad("The row after which they come is no id.");
        var now = clock.GetUtcNow();
        var id = Guid.CreateVersion7().ToString("N");
        await using var transaction = await db.Database.BeginTransactionAsync();
        db.Incoming.Add(
            new IncomingRow
            {
                Id = id,
                ManualId = manual,
                After = after ?? "",
                Newer = newer,
                Seed = Guid.CreateVersion7().ToString("N"),
                StartedAt = now,
            }
        );
        for (var n = 0; n < form.Files.Count; n++)
        {
            using var copy = new MemoryStream();
            await form.Files[n].CopyToAsync(copy);
            db.IncomingFiles.Add(
                new IncomingFileRow
                {
                    IncomingId = id,
                    No = n,
                    Name = NameOf(form.Files[n].FileName),
                    Bytes = copy.ToArray(),
                }
            );
        }
        await db.SaveChangesAsync();
        await db.Incoming.Where(i => i.Taken != null && i.StartedAt < now - TimeSpan.FromDays(1)).ExecuteDeleteAsync();
        var old = await db
            .Incoming.Where(i => i.Taken == null)
            .OrderByDescending(i => i.StartedAt)
            .Skip(MostWaiting)
            .Select(i => i.Id)
            .ToListAsync();
        await transaction.CommitAsync();
        foreach (var left in old)
            await Of(grains, left).Cancel();
        await Of(grains, id).View();
        return Answered.Ok(new Started(id));
    }

    private static IBringIn Of(IGrainFactory grains, string id) => grains.GetGrain<IBringIn>(Checks.IsId(id) ? id : "none");

    private static Written<BringInView> Json(string? json) => Written<BringInView>.Of(json, Gone);

    /// <summary>The path of a file as the browser sends it, without what could lead anywhere.</summary>
    private static string NameOf(string name)
    {
        var path = string.Join(
            '/',
            name.Replace('\\', '/').Split('/', StringSplitOptions.RemoveEmptyEntries).Where(p => p is not (".." or "."))
        );
        return Checks.IsText(path, 1_000) && path.Length > 0 ? path : "file";
    }
}
