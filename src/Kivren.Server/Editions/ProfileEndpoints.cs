using Kivren.Formats.Pdf;
using Kivren.Server.Gates;
using Kivren.Store;
using Microsoft.AspNetCore.Mvc;

namespace Kivren.Server.Editions;

/// <summary>A printer's colour profile that a manual has.</summary>
/// <param name="Name">of the file</param>
/// <param name="Says">what the profile calls itself</param>
public sealed record ProfileView(string Name, string Says);

/// <summary>Colour profiles of printers that editions are printed by, over HTTP.</summary>
internal static class ProfileEndpoints
{
    public static void MapProfiles(this IEndpointRouteBuilder app) =>
        app.MapPost("/api/manuals/{id}/profiles", Bring).WithMetadata(new RequestSizeLimitAttribute(ColourProfile.MostBytes + 1L));

    private static async Task<Answered<ProfileView>> Bring(
        string id,
        string? file,
        string? writer,
        HttpRequest request,
        ShelfContext db,
        IGrainFactory grains
    )
    {
        var bytes = await GivenFiles.Read(request);
        try
        {
            var wanted = Path.GetFileName(file ?? "").Trim();
            var profile = ColourProfile.OfPrinter(wanted, bytes);
            var (name, refused) = await GivenFiles.Keep(
                id,
                writer,
                profile.Describe(wanted),
                bytes,
                "Giving a printer’s profile",
                db,
                grains
            );
            return refused is not null ? refused : Answered.Ok(new ProfileView(name, profile.Name));
        }
        catch (ColourProfileException e)
        {
            return Refusal.Bad(e.Message);
        }
    }
}
