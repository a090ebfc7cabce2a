using System.Text;
using Kivren.Core.Looks;
using Kivren.Formats.Docx;
using Kivren.Formats.Fonts;
using Kivren.Formats.Import;
using Kivren.Server.Gates;
using Kivren.Server.Manuals;
using Kivren.Store;
using Microsoft.AspNetCore.Mvc;
using Microsoft.EntityFrameworkCore;

namespace Kivren.Server.Looks;

/// <summary>A manual that wears a look of this name.</summary>
/// <param name="IsPinned">it wears another version than the one on the shelf</param>
public sealed record LookWearer(string Id, string Title, bool IsPinned);

/// <summary>A look of the shelf.</summary>
/// <param name="Version">0 for one that ships</param>
public sealed record ShelfLook(string Name, string Paper, int Version, IReadOnlyList<LookWearer> Wearers);

/// <param name="Do">keep: this file, or the look that a manual wears; copy and rename: to another name; bringBack: an earlier version;
/// takeOut</param>
/// <param name="Name">of the look on the shelf; of the manual's look when that is kept</param>
public sealed record ShelfLookOrder(string Do, string? Name, string? To, string? File, string? Manual, int? Version);

/// <summary>An earlier version of a look on the shelf.</summary>
/// <param name="Next">what the version after it says otherwise</param>
public sealed record EarlierLook(int Version, DateTimeOffset KeptAt, string Next);

/// <param name="Faults">of a file that cannot be worn</param>
public sealed record ShelfLookDone(string Name, string? Refused, IReadOnlyList<SaidFault> Faults);

/// <summary>A look for several manuals at once.</summary>
/// <param name="File">null for the one of this name on the shelf</param>
public sealed record LookGift(string Writer, string Name, string? File, IReadOnlyList<string> Manuals);

/// <summary>A look that was made of a document and kept.</summary>
public sealed record TakenFromDocument(string Name, IReadOnlyList<string> Report);

/// <summary>What a look comes to in a manual, or came to when it was put on.</summary>
public sealed record LookGiven(string Manual, string Title, int PagesBefore, int PagesAfter, int LooseEndsMore, string? Refused);

/// <summary>The looks that ship and those that the shelf keeps: copied, renamed, given to manuals. A manual holds the look that it
/// wears, so that its pages are its own: a newer one on the shelf changes nothing before it is put on.</summary>
internal static class ShelfOfLooks
{
    private const int MostLooks = 200,
        MostManuals = 200,
        LongestName = 80;

    private const long MostUpload = 64L << 20;

    public static void MapShelfOfLooks(this IEndpointRouteBuilder app)
    {
        var looks = app.MapGroup("/api/looks");
        looks.MapGet("", async (ShelfContext db, HttpContext http) =>
        {
            var kept = await db.Looks.AsNoTracking().OrderBy(l => l.Name).ToListAsync(http.RequestAborted);
            var worn = await db
                .Manuals.AsNoTracking()
                .Where(m => m.DeletedAt == null)
                .OrderBy(m => m.Title)
                .Select(m => new
                {
                    m.Id,
                    m.Title,
                    m.Look,
                    m.LookFile,
                })
                .ToListAsync(http.RequestAborted);
            IReadOnlyList<LookWearer> Wearers(string name, string? file) =>
                [.. worn.Where(m => m.Look == name).Select(m => new LookWearer(m.Id, m.Title, m.LookFile != file))];
            return Answered.Ok<ShelfLook[]>([
                .. ShippedLooks.All.Select(l => new ShelfLook(l.Name, LookView.Paper(l.Master), 0, Wearers(l.Name, null))),
                .. kept.Select(l => new ShelfLook(
                    l.Name,
                    LookFile.Read(l.File, out _) is { } look ? LookView.Paper(look.Master) : "",
                    l.Version,
                    Wearers(l.Name, l.File)
                )),
            ]);
        });
        looks.MapGet("/file", async Task<IResult> (string name, ShelfContext db) =>
            await FileOf(db, name) is { } file && LookFile.Read(file, out _) is { } look
                ? Results.File(Encoding.UTF8.GetBytes(LookParcel.Pack(look)), "application/json", name + LookFile.Ending)
                : Refusal.Gone("There is no such look.")
        );
        looks.MapGet("/spread", async Task<IResult> (string name, ShelfContext db, LookSamples samples, HttpContext http) =>
            await FileOf(db, name) is { } file && LookFile.Read(file, out _) is { } look
                ? Results.Text(await samples.Of(file, look, http.RequestAborted), "image/svg+xml")
                : Refusal.Gone("There is no such look.")
        );
        looks.MapPost("", async (ShelfLookOrder order, ShelfContext db, TimeProvider clock) => await Do(order, db, clock));
        looks
            .MapPost("/document", async (string file, HttpRequest request, ShelfContext db, TimeProvider clock) =>
            {
                using var copy = new MemoryStream();
                await request.Body.CopyToAsync(copy, request.HttpContext.RequestAborted);
                try
                {
                    var wanted = Path.GetFileNameWithoutExtension(file ?? "").Trim();
                    var name = wanted.Length is 0 or > LongestName ? "From a document" : wanted;
                    var mappings = await db.Mappings.AsNoTracking().OrderBy(m => m.Name).Select(m => m.Body).ToListAsync();
                    var taken = await Task.Run(() =>
                        DocumentLook.Take(file ?? "The file", copy.ToArray(), name, [.. mappings.Select(ImportMapping.Parse)])
                    );
                    if (!await StoredFonts.Keep(db, taken.Fonts, clock.GetUtcNow()))
                        return Refusal.Bad($"The shelf keeps up to {StoredFonts.MostFiles} font files.");
                    var done = await Keep(db, clock, taken.Look);
                    return done.Refused is { } why ? Refusal.Bad(why) : Answered.Ok(new TakenFromDocument(done.Name, taken.Report));
                }
                catch (SourceFormatException e)
                {
                    return Refusal.Bad(e.Message);
                }
            })
            .WithMetadata(new RequestSizeLimitAttribute(MostUpload));
        looks.MapGet("/earlier", async (string name, ShelfContext db, HttpContext http) =>
            Answered.Ok(await Earlier(db, name, http.RequestAborted))
        );
        looks
            .MapPost("/font", async (string file, HttpRequest request, ShelfContext db, TimeProvider clock) =>
            {
                using var copy = new MemoryStream();
                await request.Body.CopyToAsync(copy, request.HttpContext.RequestAborted);
                try
                {
                    var font = FontReader.Read(file ?? "The file", copy.ToArray());
                    return await StoredFonts.Keep(db, [font], clock.GetUtcNow())
                        ? Answered.Ok(font)
                        : Refusal.Bad($"The shelf keeps up to {StoredFonts.MostFiles} font files.");
                }
                catch (FontFormatException e)
                {
                    return Refusal.Bad(e.Message);
                }
            })
            .WithMetadata(new RequestSizeLimitAttribute(FontReader.MostBytes + 1_000));
        looks.MapPost("/foresee", async (LookGift gift, ShelfContext db, IGrainFactory grains, HttpContext http) =>
            await Each(gift, db, async (id, title, file, _) =>
                await ManualEndpoints.Of(grains, id).Tried(new TrialOrder(file, null, 0)).WaitAsync(http.RequestAborted) is { } tried
                    ? new LookGiven(id, title, tried.PagesWorn, tried.PageCount, tried.CameCount - tried.GoneCount, null)
                    : new LookGiven(id, title, 0, 0, 0, "This manual cannot be composed.")
            )
        );
        looks.MapPost("/give", async (LookGift gift, ShelfContext db, IGrainFactory grains) =>
            await Each(gift, db, async (id, title, file, name) =>
            {
                var ships = ShippedLooks.All.Any(l => l.Name == name) && gift.File is null;
                var done = await ManualEndpoints
                    .Of(grains, id)
                    .PutOn(new LookOrder(Guid.NewGuid().ToString(), gift.Writer, ships ? name : null, ships ? null : file, null));
                return new LookGiven(id, title, 0, 0, 0, done.Refused);
            })
        );
    }

    /// <summary>The text of a look; its font files are in this process from then on.</summary>
    /// <summary>The file of a look that the shelf keeps or that ships; null where there is none of that name.</summary>
    internal static async Task<string?> FileOf(ShelfContext db, string name)
    {
        if (ShippedLooks.All.FirstOrDefault(l => l.Name == name) is { } ships)
            return LookFile.Write(ships);
        var file = (await db.Looks.AsNoTracking().FirstOrDefaultAsync(l => l.Name == name))?.File;
        await StoredFonts.Read(db, file);
        return file;
    }

    private static async Task<EarlierLook[]> Earlier(ShelfContext db, string name, CancellationToken cancel)
    {
        var earlier = await db
            .LookVersions.AsNoTracking()
            .Where(l => l.Name == name)
            .OrderByDescending(l => l.Version)
            .Take(50)
            .ToListAsync(cancel);
        var next = (await db.Looks.AsNoTracking().FirstOrDefaultAsync(l => l.Name == name, cancel))?.File;
        var found = new List<EarlierLook>();
        foreach (var row in earlier)
        {
            var (was, now) = (LookFile.Read(row.File, out _), next is null ? null : LookFile.Read(next, out _));
            found.Add(
                new EarlierLook(
                    row.Version,
                    row.KeptAt,
                    was is null || now is null ? "" : LookDifference.Say(LookDifference.Between(was, now))
                )
            );
            next = row.File;
        }
        return [.. found];
    }

    private static async Task<Answered<LookGiven[]>> Each(
        LookGift gift,
        ShelfContext db,
        Func<string, string, string, string, Task<LookGiven>> one
    )
    {
        if (!Checks.IsId(gift.Writer) || gift.Manuals is not { Count: > 0 and <= MostManuals })
            return Refusal.Bad($"A look is given to one manual or more, up to {MostManuals}.");
        if ((gift.File ?? await FileOf(db, gift.Name ?? "")) is not { } file)
            return Refusal.Gone($"There is no look “{gift.Name}”.");
        if (LookFile.Read(file, out var faults) is null)
            return Refusal.Bad($"This look cannot be worn. {string.Join(' ', faults.Take(3))}");
        var titles = await db
            .Manuals.AsNoTracking()
            .Where(m => m.DeletedAt == null && gift.Manuals.Contains(m.Id))
            .Select(m => new { m.Id, m.Title })
            .ToListAsync();
        var done = new List<LookGiven>();
        foreach (var manual in titles)
            done.Add(await one(manual.Id, manual.Title, file, gift.Name ?? ""));
        return done.ToArray();
    }

    private static async Task<Answered<ShelfLookDone>> Do(ShelfLookOrder order, ShelfContext db, TimeProvider clock)
    {
        switch (order.Do)
        {
            case "keep":
            {
                var problems = new List<string>();
                var file = order.File is { } given ? LookParcel.Open(given, problems) : null;
                if (problems.Count > 0)
                    return new ShelfLookDone(
                        "",
                        "A font file of this look cannot be used.",
                        [.. problems.Select(p => new SaidFault("faces", p))]
                    );
                await StoredFonts.Read(db, file);
                if (file is null && order.Manual is { } id && await ManualReader.Read(db, id) is { Manual: var manual })
                    file = WornLook.FileOf(manual);
                if (file is null)
                    return Refusal.Bad("Name a manual, or send a look’s file.");
                if (LookFile.Read(file, out var faults) is not { } look)
                    return new ShelfLookDone("", "This look cannot be worn.", [.. faults.Select(f => new SaidFault(f.Place, f.Says))]);
                return await Keep(db, clock, Named(look, order.To ?? look.Name));
            }
            case "copy" when await FileOf(db, order.Name ?? "") is { } copied && LookFile.Read(copied, out _) is { } look:
                return await db.Looks.AnyAsync(l => l.Name == order.To)
                    ? new ShelfLookDone("", $"The shelf has a look “{order.To}” already.", [])
                    : await Keep(db, clock, Named(look, order.To ?? ""));
            case "bringBack"
                when await db.LookVersions.AsNoTracking().FirstOrDefaultAsync(l => l.Name == order.Name && l.Version == order.Version)
                    is { } earlier
                    && LookFile.Read(earlier.File, out _) is { } look:
                return await Keep(db, clock, look);
            case "rename"
                when await db.Looks.FirstOrDefaultAsync(l => l.Name == order.Name) is { } row && LookFile.Read(row.File, out _) is { } look:
            {
                if (await db.Looks.AnyAsync(l => l.Name == order.To))
                    return new ShelfLookDone("", $"The shelf has a look “{order.To}” already.", []);
                var done = await Keep(db, clock, Named(look, order.To ?? ""));
                if (done.Refused is null)
                {
                    await db.Looks.Where(l => l.Name == order.Name).ExecuteDeleteAsync();
                    await db.LookVersions.Where(l => l.Name == order.Name).ExecuteUpdateAsync(l => l.SetProperty(v => v.Name, done.Name));
                }
                return done;
            }
            case "takeOut":
                await db.LookVersions.Where(l => l.Name == order.Name).ExecuteDeleteAsync();
                return await db.Looks.Where(l => l.Name == order.Name).ExecuteDeleteAsync() == 1
                    ? new ShelfLookDone(order.Name!, null, [])
                    : new ShelfLookDone("", "There is no such look, or it ships with Kivren.", []);
            case "copy" or "rename" or "bringBack":
                return new ShelfLookDone("", "There is no such look, or it ships with Kivren.", []);
            default:
                return Refusal.Bad($"There is no act “{order.Do}”.");
        }

        static Look Named(Look look, string name) => look with { Name = name.Trim() };
    }

    private static bool Ships(string? name) => ShippedLooks.All.Any(l => l.Name.Equals(name, StringComparison.OrdinalIgnoreCase));

    private static async Task<ShelfLookDone> Keep(ShelfContext db, TimeProvider clock, Look look)
    {
        if (look.Name.Length == 0 || !Checks.IsText(look.Name, LongestName))
            return new ShelfLookDone("", $"A look has a name of up to {LongestName} letters.", []);
        if (Ships(look.Name))
            return new ShelfLookDone("", $"“{look.Name}” ships with Kivren; choose another name.", []);
        var file = LookFile.Write(look);
        var row = await db.Looks.FirstOrDefaultAsync(l => l.Name == look.Name);
        if (row is null)
        {
            if (await db.Looks.CountAsync() >= MostLooks)
                return new ShelfLookDone("", $"The shelf keeps up to {MostLooks} looks.", []);
            db.Looks.Add(
                new LookRow
                {
                    Name = look.Name,
                    File = file,
                    KeptAt = clock.GetUtcNow(),
                }
            );
        }
        else if (row.File != file)
        {
            db.LookVersions.Add(
                new LookVersionRow
                {
                    Name = row.Name,
                    Version = row.Version,
                    File = row.File,
                    KeptAt = row.KeptAt,
                }
            );
            (row.File, row.Version, row.KeptAt) = (file, row.Version + 1, clock.GetUtcNow());
        }
        if (!await StoredFonts.Keep(db, look.FontFiles, clock.GetUtcNow()))
            return new ShelfLookDone("", $"The shelf keeps up to {StoredFonts.MostFiles} font files.", []);
        await db.SaveChangesAsync();
        return new ShelfLookDone(look.Name, null, []);
    }
}
