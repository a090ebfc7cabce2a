using Kivren.Core.Content;
using Kivren.Formats.Pictures;
using Kivren.Server.Gates;
using Kivren.Server.Shelf;
using Kivren.Store;
using Microsoft.AspNetCore.Mvc;
using Microsoft.EntityFrameworkCore;

namespace Kivren.Server.Manuals;

/// <summary>A picture that is in the manual now.</summary>
/// <param name="Act">that brought it; 0 when it was there already</param>
public sealed record BroughtPicture(string Name, int Width, int Height, long Act);

/// <summary>Pictures that come into a manual from a file, by drop or by paste.</summary>
internal static class PictureEndpoints
{
    private const int MostBytes = 40 << 20;
    private const int LongestName = 120;

    public static void MapPictures(this IEndpointRouteBuilder app) =>
        app.MapPost("/api/manuals/{id}/pictures", Bring).WithMetadata(new RequestSizeLimitAttribute(MostBytes + 1L));

    /// <summary>Keeps the bytes of the request as a picture of the manual. The same picture twice is one.</summary>
    private static async Task<Answered<BroughtPicture>> Bring(
        string id,
        string? name,
        string? writer,
        HttpRequest request,
        ShelfContext db,
        IGrainFactory grains
    )
    {
        if (!Checks.IsId(writer))
            return Refusal.Bad("Who brings this picture?");
        var wanted = Path.GetFileName(name ?? "").Trim();
        if (wanted.Length == 0 || !Checks.IsText(wanted, LongestName))
            return Refusal.Bad($"A picture needs a file name of up to {LongestName} letters.");
        if (await Read(request) is not { } sent)
            return Refusal.Bad($"“{wanted}” is larger than {MostBytes >> 20} MB; reduce it.");
        Asset picture;
        byte[] bytes;
        try
        {
            bytes = PictureReader.Printable(sent);
            picture = PictureReader.Describe(wanted, bytes);
        }
        catch (PictureFormatException e)
        {
            return Refusal.Bad(e.Message);
        }
        if (!await db.Manuals.AnyAsync(m => m.Id == id && m.DeletedAt == null))
            return Refusal.Gone("There is no such manual.");
        await ManualSaver.AddPictures(db, [picture], new Dictionary<string, byte[]> { [picture.Name] = bytes });
        // Another picture may have the name, or get it at this moment: then this one's name says which it is.
        foreach (var own in new[] { wanted, $"{Path.GetFileNameWithoutExtension(wanted)}-{picture.Hash[..8]}{Path.GetExtension(wanted)}" })
        {
            var there = await Named(db, id, own, picture.Hash);
            if (there is { } found && found.Hash == picture.Hash)
                return Answered.Ok(new BroughtPicture(found.Name, found.Width, found.Height, 0));
            if (there is not null)
                continue;
            var coming = new ComingIn(
                Guid.CreateVersion7().ToString("N"),
                writer!,
                "Bringing a picture in",
                null,
                "",
                [],
                [picture with { Name = own }],
                []
            );
            var done = await ManualEndpoints.Of(grains, id).TakeIn(coming);
            if (done.Refused is { } why)
                return Refusal.Conflict(why);
            if (await Named(db, id, own, picture.Hash) is { } now && now.Hash == picture.Hash)
                return Answered.Ok(new BroughtPicture(now.Name, now.Width, now.Height, done.Act));
        }
        return Refusal.Conflict($"There is another picture “{wanted}” in the manual; give this file another name.");
    }

    /// <summary>The manual's picture with these bytes, else the one of this name.</summary>
    private static Task<AssetRow?> Named(ShelfContext db, string manual, string name, string hash) =>
        db
            .Assets.AsNoTracking()
            .Where(a => a.ManualId == manual && (a.Hash == hash || a.Name == name))
            .OrderByDescending(a => a.Hash == hash)
            .FirstOrDefaultAsync();

    /// <returns>null when there are more bytes than a picture may have</returns>
    private static async Task<byte[]?> Read(HttpRequest request)
    {
        using var all = new MemoryStream();
        try
        {
            await request.Body.CopyToAsync(all, request.HttpContext.RequestAborted);
        }
        catch (BadHttpRequestException)
        {
            return null;
        }
        return all.Length > MostBytes ? null : all.ToArray();
    }
}

/// <summary>Pictures of manuals, served so that nothing in them runs wherever they are opened.</summary>
internal static class Pictures
{
    private const string Nothing = "default-src 'none'; style-src 'unsafe-inline'; img-src data:; font-src 'self'; sandbox";

    public static IResult Served(HttpContext http, string svg, string type)
    {
        http.Response.Headers.ContentSecurityPolicy = Nothing;
        return Results.Text(svg, type);
    }

    public static IResult Served(HttpContext http, byte[] bytes, string type)
    {
        http.Response.Headers.ContentSecurityPolicy = Nothing;
        return Results.File(bytes, type);
    }
}
