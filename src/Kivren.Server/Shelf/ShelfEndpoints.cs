using Kivren.Core.Content;
using Kivren.Formats.Package;
using Kivren.Server.Gates;
using Kivren.Server.Manuals;
using Kivren.Store;
using Microsoft.EntityFrameworkCore;

namespace Kivren.Server.Shelf;

public sealed record ShelfManual(string Id, string Title, string Look, int Pages, int LooseEnds, DateTimeOffset WorkedOn);

/// <param name="Pattern">what it starts from; null for an empty manual</param>
/// <param name="Variables">texts for the variables that the pattern asks for</param>
public sealed record NewManual(string Title, string? Pattern = null, Dictionary<string, string>? Variables = null);

/// <summary>What came in, and what was met on the way.</summary>
public sealed record BroughtIn(string Id, IReadOnlyList<ReadProblem> Problems);

/// <summary>The shelf: all manuals, new ones, the sample, bringing in, deleting and taking that back.</summary>
public static class ShelfEndpoints
{
    private const long MostUpload = 256L << 20;
    private const int MostOpenedForTheShelf = 8;

    public static void MapShelf(this IEndpointRouteBuilder app)
    {
        var shelf = app.MapGroup("/api/manuals");
        shelf.MapGet("", async (ShelfContext db, IGrainFactory grains) =>
        {
            var manuals = await db
                .Manuals.AsNoTracking()
                .Where(m => m.DeletedAt == null)
                .OrderByDescending(m => m.WorkedOn)
                .Select(m => new ShelfManual(m.Id, m.Title, m.Look, m.Pages, m.LooseEnds, m.WorkedOn))
                .ToListAsync();
            // A spine needs its thickness: what was never composed is opened, which composes it.
            foreach (var manual in manuals.Where(m => m.Pages == 0).Take(MostOpenedForTheShelf))
                grains.GetGrain<IOpenManual>(manual.Id).Open().Ignore();
            return manuals;
        });

        shelf.MapPost("", async (NewManual wanted, ShelfContext db, TimeProvider clock) =>
        {
            if (string.IsNullOrWhiteSpace(wanted.Title) || !Checks.IsText(wanted.Title, Checks.LongestTitle))
                return Refusal.Bad($"A manual needs a title of up to {Checks.LongestTitle} letters.");
            if (
                wanted.Variables is { } texts
                && texts.Any(v => !Checks.IsText(v.Key, Checks.LongestTitle) || !Checks.IsText(v.Value, 10_000))
            )
                return Refusal.Bad("A variable's text is too long.");
            var title = wanted.Title.Trim();
            if (string.IsNullOrEmpty(wanted.Pattern))
                return Answered.Ok(
                    new BroughtIn(
                        await ManualSaver.Save(db, new Package(Starting(title), new Dictionary<string, byte[]>()), clock.GetUtcNow()),
                        []
                    )
                );
            if (await Patterns.Named(db, wanted.Pattern) is not { } pattern)
                return Refusal.Gone($"There is no pattern “{wanted.Pattern}”.");
            var made = pattern.NewManual(title, wanted.Variables ?? [], () => Guid.CreateVersion7().ToString("N"));
            return Answered.Ok(new BroughtIn(await ManualSaver.Save(db, made, clock.GetUtcNow()), []));
        });

        shelf.MapPost("/sample", async (ShelfContext db, TimeProvider clock, ShelfSettings settings) =>
        {
            if (!File.Exists(settings.Demo))
                return Refusal.Gone("The sample manual is missing from this installation.");
            await using var file = File.OpenRead(settings.Demo);
            var problems = new List<ReadProblem>();
            return Answered.Ok(new BroughtIn(await ManualSaver.Save(db, PackageReader.Read(file, problems), clock.GetUtcNow()), problems));
        });

        shelf
            .MapPost("/package", async (HttpRequest request, ShelfContext db, TimeProvider clock) =>
            {
                using var copy = new MemoryStream();
                await request.Body.CopyToAsync(copy);
                copy.Position = 0;
                var problems = new List<ReadProblem>();
                try
                {
                    // Documents of other kinds come in by way of their mapping (BringIn).
                    var package = PackageReader.Read(copy, problems);
                    return Answered.Ok(new BroughtIn(await ManualSaver.Save(db, package, clock.GetUtcNow()), problems));
                }
                catch (PackageFormatException e)
                {
                    return Refusal.Bad(e.Message);
                }
            })
            .WithMetadata(new Microsoft.AspNetCore.Mvc.RequestSizeLimitAttribute(MostUpload));

        shelf.MapDelete("/{id}", async (string id, ShelfContext db, IGrainFactory grains, TimeProvider clock) =>
        {
            var now = clock.GetUtcNow();
            var count = await db
                .Manuals.Where(m => m.Id == id && m.DeletedAt == null)
                .ExecuteUpdateAsync(s => s.SetProperty(m => m.DeletedAt, now));
            await grains.GetGrain<IOpenManual>(id).Close();
            return count == 1 ? Done.Well : Refusal.Gone("There is no such manual.");
        });

        shelf.MapPost("/{id}/restore", async (string id, ShelfContext db, IGrainFactory grains) =>
        {
            var count = await db
                .Manuals.Where(m => m.Id == id)
                .ExecuteUpdateAsync(s => s.SetProperty(m => m.DeletedAt, (DateTimeOffset?)null));
            await grains.GetGrain<IOpenManual>(id).Close();
            return count == 1 ? Done.Well : Refusal.Gone("There is no such manual.");
        });

        shelf.MapGet("/{id}/package", async (string id, ShelfContext db) =>
        {
            if (await ManualReader.Read(db, id) is not { Manual: var manual })
                return Refusal.Gone("There is no such manual.");
            using var output = new MemoryStream();
            PackageWriter.Write(new Package(manual, await ManualReader.Pictures(db, manual.Assets)), output);
            return Results.File(output.ToArray(), "application/zip", manual.Title + ".kivren");
        });
    }

    /// <summary>What a new manual starts with: enough to type into and to compose.</summary>
    private static Manual Starting(string title)
    {
        static Id Fresh() => new(Guid.CreateVersion7().ToString("N"));
        return new Manual(
            Fresh(),
            title,
            [
                new Division(
                    Fresh(),
                    DivisionKind.TitlePage,
                    "Title page",
                    [new Paragraph(Fresh(), "title", [new TextRun(title)]), new Paragraph(Fresh(), "subtitle", [])]
                ),
                new Division(Fresh(), DivisionKind.Contents, "Contents", [new ContentsList(Fresh())]),
                new Division(Fresh(), DivisionKind.Chapter, "First chapter", [new Paragraph(Fresh(), "body", [])]),
                new Division(Fresh(), DivisionKind.Index, "Index", [new IndexList(Fresh())]),
            ]
        );
    }
}

/// <summary>Where this shelf's own files are.</summary>
public sealed record ShelfSettings(string Demo);
