using Kivren.Server.Shelf;
using Kivren.Store;
using Microsoft.EntityFrameworkCore;

namespace Kivren.Server.Gates;

/// <summary>Whether the process lives, and whether it can work.</summary>
public static class Health
{
    private static readonly TimeSpan Patience = TimeSpan.FromSeconds(3);

    public static void MapHealth(this IEndpointRouteBuilder app)
    {
        app.MapGet("/api/live", () => Results.Ok());
        app.MapGet("/api/ready", async (IDbContextFactory<ShelfContext> shelf, Cluster cluster, HttpContext http) =>
        {
            using var patience = CancellationTokenSource.CreateLinkedTokenSource(http.RequestAborted);
            patience.CancelAfter(Patience);
            try
            {
                await using var db = await shelf.CreateDbContextAsync(patience.Token);
                await db.Database.ExecuteSqlRawAsync("SELECT 1", patience.Token);
            }
            catch (Exception)
            {
                return Away("The database cannot be reached.");
            }
            return await cluster.IsReached(patience.Token)
                ? Results.Ok()
                : Away(
                    "The exchange between processes (Redis) cannot be reached: what is typed is stored, but pages and other "
                        + "writers’ changes come late."
                );
        });
    }

    private static IResult Away(string what) => Results.Json(new Problem(what), statusCode: StatusCodes.Status503ServiceUnavailable);
}
