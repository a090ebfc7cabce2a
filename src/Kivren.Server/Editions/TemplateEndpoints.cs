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
        if (!WordTemplate.IsTemplate(wanted))
            return Refusal.Bad("A template is a file that ends in .docx or .dotx.");
        var bytes = await GivenFiles.Read(request);
        try
        {
            var asset = WordTemplate.Describe(wanted, bytes);
            var (name, refused) = await GivenFiles.Keep(id, writer, asset, bytes, "Giving a template", db, grains);
            return refused is not null ? refused : await View(id, name, bytes, shelf, grains);
        }
        catch (SourceFormatException e)
        {
            return Refusal.Bad(e.Message);
        }
    }
}
