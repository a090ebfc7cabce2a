using Kivren.Core.Content;
using Kivren.Formats.Package;
using Kivren.Formats.Patterns;
using Kivren.Server.Gates;
using Kivren.Server.Manuals;
using Kivren.Store;
using Microsoft.EntityFrameworkCore;

namespace Kivren.Server.Shelf;

public sealed record ShelfPattern(
    string Name,
    string Says,
    string Look,
    bool Ships,
    IReadOnlyList<AskedVariable> Asks,
    IReadOnlyList<string> Divisions
);

/// <param name="Fixed">all its text can be changed only in the pattern</param>
public sealed record KeepPattern(string Name, bool Fixed);

/// <summary>Patterns: those that ship and those kept from manuals of this shelf.</summary>
public static class Patterns
{
    public static void MapPatterns(this IEndpointRouteBuilder app)
    {
        app.MapGet("/api/patterns", async (ShelfContext db) =>
            Answered.Ok(
                (await All(db)).Select(p => new ShelfPattern(
                    p.Name,
                    p.Says,
                    p.Package.Manual.Look,
                    ShippedPatterns.All.Contains(p),
                    p.Asks,
                    p.Package.Manual.Divisions.Where(d => d.Matter != Matter.Front || d.Kind == DivisionKind.Preface)
                        .Select(d => d.Title)
                        .ToArray()
                ))
            )
        );
        app.MapDelete("/api/patterns/{name}", async (string name, ShelfContext db) =>
            await db.Patterns.Where(p => p.Name == name).ExecuteDeleteAsync() == 1
                ? Done.Well
                : Refusal.Gone("There is no such pattern, or it ships with Kivren.")
        );
        app.MapPost("/api/manuals/{id}/keep-pattern", async (string id, KeepPattern wanted, ShelfContext db, TimeProvider clock) =>
        {
            var name = (wanted.Name ?? "").Trim();
            if (name.Length == 0 || !Checks.IsText(name, 80))
                return Refusal.Bad("A pattern needs a name of up to 80 letters.");
            if (ShippedPatterns.All.Any(p => p.Name.Equals(name, StringComparison.OrdinalIgnoreCase)))
                return Refusal.Bad($"“{name}” ships with Kivren; choose another name.");
            if (await ManualReader.Read(db, id) is not { Manual: var manual })
                return Refusal.Gone("There is no such manual.");
            var kept = manual with
            {
                Divisions = manual
                    .Divisions.Select(d =>
                        d with
                        {
                            Blocks = d
                                .Blocks.Select(b =>
                                    b with
                                    {
                                        FixedBy =
                                            wanted.Fixed && d.Kind is not (DivisionKind.TitlePage or DivisionKind.HalfTitle) ? name : null,
                                    }
                                )
                                .ToArray(),
                        }
                    )
                    .ToArray(),
            };
            using var output = new MemoryStream();
            PackageWriter.Write(new Package(kept, await ManualReader.Pictures(db, manual.Assets)), output);
            var row = await db.Patterns.FirstOrDefaultAsync(p => p.Name == name);
            if (row is null)
                db.Patterns.Add(
                    new PatternRow
                    {
                        Name = name,
                        Package = output.ToArray(),
                        KeptAt = clock.GetUtcNow(),
                    }
                );
            else
                (row.Package, row.Version, row.KeptAt) = (output.ToArray(), row.Version + 1, clock.GetUtcNow());
            await db.SaveChangesAsync();
            return Done.Well;
        });
    }

    private static async Task<List<Pattern>> All(ShelfContext db) =>
        [.. ShippedPatterns.All, .. (await db.Patterns.AsNoTracking().OrderBy(p => p.Name).ToListAsync()).Select(Of)];

    public static async Task<Pattern?> Named(ShelfContext db, string name) =>
        ShippedPatterns.All.FirstOrDefault(p => p.Name == name)
        ?? (await db.Patterns.AsNoTracking().FirstOrDefaultAsync(p => p.Name == name) is { } row ? Of(row) : null);

    private static Pattern Of(PatternRow row)
    {
        using var stream = new MemoryStream(row.Package);
        var package = PackageReader.Read(stream, []);
        return new Pattern(
            row.Name,
            $"Kept from “{package.Manual.Title}”, version {row.Version}.",
            package,
            package.Manual.Variables.Select(v => new AskedVariable(v.Name, $"Text of “{v.Name}” (now “{v.Text}”)")).ToArray()
        );
    }
}
