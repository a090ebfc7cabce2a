using System.Text;
using Kivren.Core.Looks;
using Kivren.Formats.Fonts;
using Kivren.Server.Gates;
using Kivren.Server.Manuals;

namespace Kivren.Server.Looks;

/// <summary>The look that a manual wears, over HTTP.</summary>
internal static class LookEndpoints
{
    private const string NoManual = "There is no such manual.";

    public static void MapLooks(this IEndpointRouteBuilder app)
    {
        var look = app.MapGroup("/api/manuals/{id}/look");
        look.MapGet("", async (string id, IGrainFactory grains, HttpContext http) =>
            ManualEndpoints.Shown(await ManualEndpoints.Of(grains, id).Look().WaitAsync(http.RequestAborted), NoManual)
        );
        look.MapPost("", async (string id, LookOrder order, IGrainFactory grains) =>
            order.Problem() is { } why ? Refusal.Bad(why) : Answered.Ok(await ManualEndpoints.Of(grains, id).PutOn(order))
        );
        look.MapPost("/glimpse", async (string id, TrialOrder order, IGrainFactory grains, HttpContext http) =>
            await ManualEndpoints.Of(grains, id).Glimpse(order).WaitAsync(http.RequestAborted) is { } seen
                ? Answered.Ok(seen)
                : Refusal.Gone("Another look is tried.")
        );
        look.MapPost("/tried", async (string id, TrialOrder order, IGrainFactory grains, HttpContext http) =>
            await ManualEndpoints.Of(grains, id).Tried(order).WaitAsync(http.RequestAborted) is { } tried
                ? Answered.Ok(tried)
                : Refusal.Gone("Another look is tried.")
        );
        app.MapGet("/api/look/settings", () => LookForm.Parts);
        look.MapGet("/file", async Task<IResult> (string id, string name, bool? whole, IGrainFactory grains) =>
            await ManualEndpoints.Of(grains, id).LookFileOf(name) is { } file
                ? Results.File(
                    Encoding.UTF8.GetBytes(whole == true && LookFile.Read(file, out _) is { } read ? LookParcel.Pack(read) : file),
                    "application/json",
                    name + LookFile.Ending
                )
                : Refusal.Gone("There is no such look.")
        );
    }
}
