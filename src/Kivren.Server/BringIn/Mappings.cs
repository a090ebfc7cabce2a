using Kivren.Formats.Import;
using Kivren.Server.Gates;
using Kivren.Server.Manuals;
using Kivren.Server.Shelf;
using Kivren.Store;
using Microsoft.AspNetCore.Mvc;
using Microsoft.EntityFrameworkCore;

namespace Kivren.Server.BringIn;

/// <summary>A mapping of the shelf with the number of roles it gives.</summary>
public sealed record ShelfMapping(string Name, int Roles);

/// <summary>The mappings of the shelf: how styles of source documents become roles.</summary>
public static class Mappings
{
    public const int LongestName = 80;
    private static readonly Refusal None = Refusal.Gone("There is no such mapping.");

    public static async Task<List<ImportMapping>> All(IDbContextFactory<ShelfContext> shelf)
    {
        await using var db = await shelf.CreateDbContextAsync();
        return [.. (await db.Mappings.AsNoTracking().OrderBy(m => m.Name).Select(m => m.Body).ToListAsync()).Select(ImportMapping.Parse)];
    }

    public static async Task Keep(IDbContextFactory<ShelfContext> shelf, ImportMapping mapping, DateTimeOffset now)
    {
        await using var db = await shelf.CreateDbContextAsync();
        await db.Database.ExecuteSqlAsync(
            $"""
            INSERT INTO mappings (name, body, kept_at) VALUES ({mapping.Name}, {mapping.ToJson()}::jsonb, {now})
            ON CONFLICT (name) DO UPDATE SET body = excluded.body, kept_at = excluded.kept_at
            """
        );
    }

    public static void MapMappings(this IEndpointRouteBuilder app)
    {
        var mappings = app.MapGroup("/api/mappings");
        mappings.MapGet("", async (IDbContextFactory<ShelfContext> shelf) =>
            (await All(shelf)).Select(m => new ShelfMapping(m.Name, m.Roles.Count))
        );
        mappings.MapGet("/{name}/file", async (string name, IDbContextFactory<ShelfContext> shelf) =>
            (await All(shelf)).FirstOrDefault(m => m.Name == name) is { } mapping
                ? Results.File(System.Text.Encoding.UTF8.GetBytes(mapping.ToJson()), "application/json", name + ".mapping.json")
                : None
        );
        mappings
            .MapPost("", async (HttpRequest request, IDbContextFactory<ShelfContext> shelf, TimeProvider clock) =>
            {
                using var reader = new StreamReader(request.Body);
                try
                {
                    var mapping = ImportMapping.Parse(await reader.ReadToEndAsync());
                    if (mapping.Name.Length == 0 || !Checks.IsText(mapping.Name, LongestName))
                        return Refusal.Bad($"A mapping needs a name of up to {LongestName} letters.");
                    await Keep(shelf, mapping, clock.GetUtcNow());
                    return Answered.Ok(new ShelfMapping(mapping.Name, mapping.Roles.Count));
                }
                catch (SourceFormatException e)
                {
                    return Refusal.Bad(e.Message);
                }
            })
            .WithMetadata(new RequestSizeLimitAttribute(4 << 20));
        mappings.MapDelete("/{name}", async (string name, ShelfContext db) =>
            await db.Mappings.Where(m => m.Name == name).ExecuteDeleteAsync() == 1 ? Done.Well : None
        );
    }
}
