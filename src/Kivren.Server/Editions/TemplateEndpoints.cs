using Kivren.Core.Content;
using Kivren.Formats.Docx.Writing;
using Kivren.Formats.Import;
using Kivren.Server.BringIn;
using Kivren.Server.Gates;
using Kivren.Server.Manuals;
using Kivren.Server.Shelf;
using Kivren.Store;
using Microsoft.AspNetCore.Mvc;
using Microsoft.EntityFrameworkCore;

namespace Kivren.Server.Editions;

/// <summary>A role that can have a style of a template.</summary>
/// <param name="IsOfWords">it is of words in a paragraph, not of the paragraph</param>
public sealed record TemplateRole(string Name, string Label, bool IsOfWords);

/// <summary>A template of a manual: its styles, the roles they can be chosen for, and what its names and the mappings of the shelf
/// propose.</summary>
public sealed record TemplateView(
    string Name,
    IReadOnlyList<TemplateStyle> Styles,
    IReadOnlyList<TemplateRole> Roles,
    IReadOnlyList<SaidRoleStyle> Proposed
);

/// <summary>Word-processor templates that editions go out in, over HTTP.</summary>
internal static class TemplateEndpoints
{
    private const int LongestName = 120;

    public static void MapTemplates(this IEndpointRouteBuilder app)
    {
        var templates = app.MapGroup("/api/manuals/{id}/templates");
        templates.MapGet("/{name}", Read);
        templates.MapPost("", Bring).WithMetadata(new RequestSizeLimitAttribute(WordTemplate.MostBytes + 1L));
    }

    private static async Task<Answered<TemplateView>> Read(
        string id,
        string name,
        ShelfContext db,
        IDbContextFactory<ShelfContext> shelf,
        IGrainFactory grains,
        HttpContext http
    )
    {
        var bytes = await (
            from asset in db.Assets.AsNoTracking()
            where asset.ManualId == id && asset.Name == name && asset.MediaType == WordTemplate.MediaType
            join picture in db.Pictures on asset.Hash equals picture.Hash
            select picture.Bytes
        ).FirstOrDefaultAsync(http.RequestAborted);
        return bytes is null ? Refusal.Gone($"The manual has no template “{name}”.") : await View(id, name, bytes, shelf, grains);
    }

    private static async Task<Answered<TemplateView>> View(
        string id,
        string name,
        byte[] bytes,
        IDbContextFactory<ShelfContext> shelf,
        IGrainFactory grains
    )
    {
        try
        {
            var template = WordTemplate.Read(name, bytes);
            var own = (await ManualEndpoints.Of(grains, id).Open())?.Roles ?? [];
            return Answered.Ok(
                new TemplateView(
                    name,
                    template.StyleNames,
                    [
                        .. WordTemplate.Roles.Select(r => new TemplateRole(r.Name, r.Label, r.Use == RoleUse.Span)),
                        .. own.Select(r => new TemplateRole(r.Name, r.Name, Enum.TryParse<SpanRoles>(r.Foundation, true, out _))),
                    ],
                    [.. template.Proposed(await Mappings.All(shelf)).Select(r => new SaidRoleStyle(r.Role, r.Style))]
                )
            );
        }
        catch (SourceFormatException e)
        {
            return Refusal.Bad(e.Message);
        }
    }

    /// <summary>Keeps a template among what belongs to the manual; another of its name is another template.</summary>
    private static async Task<Answered<TemplateView>> Bring(
        string id,
        string? file,
        string? writer,
        HttpRequest request,
        ShelfContext db,
        IDbContextFactory<ShelfContext> shelf,
        IGrainFactory grains
    )
    {
        var wanted = Path.GetFileName(file ?? "").Trim();
        if (!Checks.IsId(writer))
            return Refusal.Bad("Who brings this template?");
        if (!WordTemplate.IsTemplate(wanted) || !Checks.IsText(wanted, LongestName))
            return Refusal.Bad("A template is a file that ends in .docx or .dotx.");
        using var all = new MemoryStream();
        await request.Body.CopyToAsync(all, request.HttpContext.RequestAborted);
        var bytes = all.ToArray();
        Asset asset;
        try
        {
            asset = WordTemplate.Describe(wanted, bytes);
        }
        catch (SourceFormatException e)
        {
            return Refusal.Bad(e.Message);
        }
        if (!await db.Manuals.AnyAsync(m => m.Id == id && m.DeletedAt == null))
            return Refusal.Gone("There is no such manual.");
        await ManualSaver.AddPictures(db, [asset], new Dictionary<string, byte[]> { [asset.Name] = bytes });
        var other = $"{Path.GetFileNameWithoutExtension(wanted)}-{asset.Hash[..8]}{Path.GetExtension(wanted)}";
        foreach (var name in new[] { wanted, other })
        {
            var there = await db.Assets.AsNoTracking().FirstOrDefaultAsync(a => a.ManualId == id && a.Name == name);
            if (there is not null && there.Hash != asset.Hash)
                continue;
            if (there is null)
            {
                var coming = new ComingIn(
                    Guid.CreateVersion7().ToString("N"),
                    writer!,
                    "Giving a template",
                    null,
                    "",
                    [],
                    [asset with { Name = name }],
                    []
                );
                if ((await ManualEndpoints.Of(grains, id).TakeIn(coming)).Refused is { } why)
                    return Refusal.Conflict(why);
            }
            return await View(id, name, bytes, shelf, grains);
        }
        return Refusal.Conflict($"There is another template “{wanted}” in the manual; give this file another name.");
    }
}
