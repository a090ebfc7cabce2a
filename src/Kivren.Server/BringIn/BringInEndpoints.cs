using System.Text.Json;
using Kivren.Core.Content;
using Kivren.Core.Display;
using Kivren.Formats.Import;
using Kivren.Formats.Package;
using Kivren.Formats.Svg;
using Kivren.Server.Desk;
using Kivren.Server.Shelf;
using Kivren.Store;
using Microsoft.AspNetCore.Mvc;
using Microsoft.EntityFrameworkCore;

namespace Kivren.Server.BringIn;

public sealed record Started(string Id);
public sealed record Take(string Writer, string[]? Differences);
public sealed record Taken(string Manual, string? Division, long Act, int Blocks);
public sealed record KeptSource(string Id, string Name, DateTimeOffset BroughtInAt, int Bytes);

/// <summary>Bringing documents in: reading beside the writer's work, choices, the page they make, and taking them.</summary>
public static class BringInEndpoints
{
    private const long MostUpload = 512L << 20;
    private static readonly Problem Gone = new("These documents are no longer on their way in. Bring the files in again.");

    public static void MapBringIn(this IEndpointRouteBuilder app)
    {
        var rooms = app.MapGroup("/api/bring-in");
        rooms.MapPost("", async (HttpRequest request, string? manual, string? after, string? newer, ShelfContext db, BringInRooms all, IDbContextFactory<ShelfContext> shelf, IGrainFactory grains) =>
        {
            if (!request.HasFormContentType) return Results.BadRequest(new Problem("Send the files as a form."));
            IFormCollection form;
            try
            {
                form = await request.ReadFormAsync();
            }
            catch (Exception e) when (e is InvalidDataException or BadHttpRequestException)
            {
                return Results.BadRequest(new Problem($"These files are more than {MostUpload >> 20} MB together, or did not come whole. Bring fewer in at a time."));
            }
            var files = new List<SourceFile>();
            foreach (var file in form.Files)
            {
                using var copy = new MemoryStream();
                await file.CopyToAsync(copy);
                files.Add(new SourceFile(NameOf(file.FileName), copy.ToArray()));
            }
            if (files.Count == 0) return Results.BadRequest(new Problem("Choose the files to bring in."));
            EarlierVersion? earlier = null;
            ImportMapping? given = null;
            if (newer is not null)
            {
                if (await db.Sources.AsNoTracking().FirstOrDefaultAsync(s => s.Id == newer) is not { } source) return Results.NotFound(new Problem("There is no such source."));
                manual = source.ManualId;
                given = ImportMapping.Parse(source.Mapping);
                earlier = new EarlierVersion(newer, JsonSerializer.Deserialize<KeptBlock[]>(source.Taken)!.Select(b => new BroughtInBlock(new Id(b.Division), BlockReader.Parse(b.Body))).ToArray());
            }
            var open = manual is null ? null : await grains.GetGrain<IDesk>(manual).Open();
            if (manual is not null && open is null) return Results.NotFound(new Problem("There is no such manual."));
            var room = new BringInRoom(Guid.CreateVersion7().ToString("N"), files, manual, after ?? "", open?.Look ?? "Workshop, A5") { ManualTitle = open?.Title ?? "", Earlier = earlier };
            all.Add(room);
            var mappings = await Mappings(db);
            _ = room.Read(mappings, given, () => Standing(shelf, room));
            return Results.Ok(new Started(room.Id));
        }).WithMetadata(new RequestSizeLimitAttribute(MostUpload), new RequestFormLimitsAttribute { MultipartBodyLengthLimit = MostUpload }).DisableAntiforgery();

        rooms.MapGet("/{id}", async (string id, BringInRooms all, ShelfContext db) =>
            all.Find(id) is { } room ? Results.Ok(BringInView.Of(room, await Mappings(db))) : Results.NotFound(Gone));
        rooms.MapGet("/{id}/blocks", (string id, int from, int count, BringInRooms all) =>
            all.Find(id) is { } room && BringInView.Blocks(room, from, count) is var found ? Results.Ok(new { found.Blocks, found.Total }) : Results.NotFound(Gone));
        rooms.MapGet("/{id}/pages/{key}.svg", (string id, string key, BringInRooms all, HttpContext http) =>
        {
            if (all.Find(id) is not { Composed: { } composed, Shaped: { } shaped } || composed.Pages.FirstOrDefault(p => p.Key == key) is not { } page) return Results.NotFound(Gone);
            http.Response.Headers.CacheControl = "private, max-age=86400";
            return Results.Text(SvgPainter.Paint(DisplayList.Of(page, composed.Look), name => shaped.Pictures.TryGetValue(name, out var bytes) ? (bytes, shaped.Assets.First(a => a.Name == name).MediaType) : null), "image/svg+xml");
        });
        // The blocks of one line of the mapping, to be tinted on the page.
        rooms.MapGet("/{id}/of-line", (string id, string key, BringInRooms all) =>
            all.Find(id)?.Shaped is { } shaped ? Results.Ok(shaped.Origins.Where(o => o.Value.Line == key).Select(o => o.Key.Value)) : Results.NotFound(Gone));
        rooms.MapGet("/{id}/pictures/{name}", (string id, string name, BringInRooms all) =>
            all.Find(id)?.Shaped is { } shaped && shaped.Pictures.TryGetValue(name, out var bytes) ? Results.File(bytes, shaped.Assets.First(a => a.Name == name).MediaType) : Results.NotFound());
        rooms.MapPut("/{id}/choices", async (string id, Choices choices, BringInRooms all, ShelfContext db, IDbContextFactory<ShelfContext> shelf) =>
        {
            if (all.Find(id) is not { State: BringInState.Ready } room) return Results.NotFound(Gone);
            await room.Choose(choices, async name => (await Mappings(db)).FirstOrDefault(m => m.Name == name), () => Standing(shelf, room));
            return Results.Ok(BringInView.Of(room, await Mappings(db)));
        });
        rooms.MapPost("/{id}/keep-mapping", async (string id, string name, BringInRooms all, ShelfContext db, TimeProvider clock) =>
        {
            if (all.Find(id) is not { Shaped: { } shaped } room) return Results.NotFound(Gone);
            if (string.IsNullOrWhiteSpace(name) || name.Length > 80) return Results.BadRequest(new Problem("A mapping needs a name of up to 80 letters."));
            // What was only proposed is kept too: the next leaflet shall come in the same way.
            var mapping = room.Mapping(name.Trim()) with { Roles = shaped.Lines.ToDictionary(l => l.Key, l => l.Role) };
            await Keep(db, mapping, clock.GetUtcNow());
            await room.Choose(new Choices(null, null, null, null, null, mapping.Name), _ => Task.FromResult<ImportMapping?>(mapping), () => Task.FromResult<Manual?>(null));
            return Results.Ok(BringInView.Of(room, await Mappings(db)));
        });
        rooms.MapPost("/{id}/cancel", (string id, BringInRooms all) =>
        {
            all.Remove(id);
            return Results.NoContent();
        });
        rooms.MapPost("/{id}/take", async (string id, Take take, BringInRooms all, ShelfContext db, IGrainFactory grains, TimeProvider clock) =>
        {
            if (all.Find(id) is not { State: BringInState.Ready, Shaped: { } shaped } room) return Results.NotFound(Gone);
            var taken = room.Earlier is not null ? await Taking.Differences(room, take, db, grains, clock.GetUtcNow()) : await Taking.All(room, shaped, take.Writer, db, grains, clock.GetUtcNow());
            if (taken.Refused is { } why) return Results.Conflict(new Problem(why));
            room.Took();
            all.Remove(id);
            return Results.Ok(taken.Done);
        });

        app.MapGet("/api/manuals/{id}/sources", async (string id, ShelfContext db) => Results.Ok(await db.Sources.AsNoTracking().Where(s => s.ManualId == id).OrderByDescending(s => s.BroughtInAt).Select(s => new KeptSource(s.Id, s.Name, s.BroughtInAt, s.Bytes.Length)).ToListAsync()));
        app.MapGet("/api/sources/{source}/file", async (string source, ShelfContext db) =>
            await db.Sources.AsNoTracking().FirstOrDefaultAsync(s => s.Id == source) is { } found ? Results.File(found.Bytes, "application/octet-stream", found.Name) : Results.NotFound(new Problem("There is no such source.")));
        app.MapGet("/api/sources/{source}/report", async (string source, ShelfContext db) =>
            await db.Sources.AsNoTracking().Where(s => s.Id == source).Select(s => s.Report).FirstOrDefaultAsync() is { } report ? Results.Text(report, "application/json") : Results.NotFound(new Problem("There is no such source.")));

        var mappings = app.MapGroup("/api/mappings");
        mappings.MapGet("", async (ShelfContext db) => Results.Ok((await Mappings(db)).Select(m => new { m.Name, Roles = m.Roles.Count })));
        mappings.MapGet("/{name}/file", async (string name, ShelfContext db) => (await Mappings(db)).FirstOrDefault(m => m.Name == name) is { } mapping ? Results.File(System.Text.Encoding.UTF8.GetBytes(mapping.ToJson()), "application/json", name + ".mapping.json") : Results.NotFound(new Problem("There is no such mapping.")));
        mappings.MapPost("", async (HttpRequest request, ShelfContext db, TimeProvider clock) =>
        {
            using var reader = new StreamReader(request.Body);
            try
            {
                var mapping = ImportMapping.Parse(await reader.ReadToEndAsync());
                if (mapping.Name.Length == 0) return Results.BadRequest(new Problem("This mapping has no name."));
                await Keep(db, mapping, clock.GetUtcNow());
                return Results.Ok(new { mapping.Name, Roles = mapping.Roles.Count });
            }
            catch (SourceFormatException e)
            {
                return Results.BadRequest(new Problem(e.Message));
            }
        }).WithMetadata(new RequestSizeLimitAttribute(4 << 20));
        mappings.MapDelete("/{name}", async (string name, ShelfContext db) => await db.Mappings.Where(m => m.Name == name).ExecuteDeleteAsync() == 1 ? Results.NoContent() : Results.NotFound(new Problem("There is no such mapping.")));
    }

    /// <summary>The path of a file as the browser sends it, without what could lead anywhere.</summary>
    private static string NameOf(string name) => string.Join('/', name.Replace('\\', '/').Split('/', StringSplitOptions.RemoveEmptyEntries).Where(p => p is not (".." or ".")));

    private static async Task<List<ImportMapping>> Mappings(ShelfContext db) => (await db.Mappings.AsNoTracking().OrderBy(m => m.Name).Select(m => m.Body).ToListAsync()).Select(ImportMapping.Parse).ToList();

    private static async Task Keep(ShelfContext db, ImportMapping mapping, DateTimeOffset now)
    {
        var row = await db.Mappings.FirstOrDefaultAsync(m => m.Name == mapping.Name);
        if (row is null) db.Mappings.Add(new MappingRow { Name = mapping.Name, Body = mapping.ToJson(), KeptAt = now });
        else (row.Body, row.KeptAt) = (mapping.ToJson(), now);
        await db.SaveChangesAsync();
    }

    private static async Task<Manual?> Standing(IDbContextFactory<ShelfContext> shelf, BringInRoom room)
    {
        if (room.Manual is null || room.Earlier is null) return null;
        await using var db = await shelf.CreateDbContextAsync();
        return (await ManualLoader.Load(db, room.Manual))?.ToManual();
    }
}

/// <summary>A block as it came in, as the database keeps it.</summary>
public sealed record KeptBlock(string Division, string Body);
