using Kivren.Core.Editions;
using Kivren.Server.Gates;
using Kivren.Server.Manuals;

namespace Kivren.Server.Editions;

/// <summary>The editions of a manual, over HTTP.</summary>
internal static class EditionsEndpoints
{
    private const string NoManual = "There is no such manual.";

    public static void MapEditions(this IEndpointRouteBuilder app)
    {
        var editions = app.MapGroup("/api/manuals/{id}/editions");
        editions.MapGet("", async (string id, IGrainFactory grains, HttpContext http) =>
            ManualEndpoints.Shown(await ManualEndpoints.Of(grains, id).Editions().WaitAsync(http.RequestAborted), NoManual)
        );
        editions.MapGet("/seen", async (string id, string? name, IGrainFactory grains, HttpContext http) =>
            name is null || Checks.IsText(name, EditionEditing.LongestName)
                ? ManualEndpoints.Shown(
                    await ManualEndpoints.Of(grains, id).SeenEdition(name ?? "").WaitAsync(http.RequestAborted),
                    "There is no such edition."
                )
                : Refusal.Bad("This is no name.")
        );
        editions.MapGet("/compared", async (string id, string? first, string? second, IGrainFactory grains, HttpContext http) =>
            (first is null or "" || Checks.IsText(first, EditionEditing.LongestName))
            && (second is null or "" || Checks.IsText(second, EditionEditing.LongestName))
                ? ManualEndpoints.Shown(
                    await ManualEndpoints.Of(grains, id).Compare(first ?? "", second ?? "").WaitAsync(http.RequestAborted),
                    "There is no such edition."
                )
                : Refusal.Bad("This is no name.")
        );
        editions.MapPost("/acts", async (string id, EditionOrder order, IGrainFactory grains) => order.Problem() is { } why
                ? Refusal.Bad(why)
            : order.ToAct() is null ? Refusal.Bad($"There is no act “{order.Do}”.")
            : Answered.Ok(await ManualEndpoints.Of(grains, id).ChangeEditions(order)));
        editions.MapPost("/proofed", async (string id, ProofedOrder order, IGrainFactory grains) =>
            Checks.IsText(order.Name, EditionEditing.LongestName) && await ManualEndpoints.Of(grains, id).ProofIn(order.Name)
                ? Done.Well
                : Refusal.Gone("There is no such edition.")
        );
    }
}
