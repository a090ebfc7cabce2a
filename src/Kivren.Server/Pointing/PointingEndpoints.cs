using System.Text.Json;
using Kivren.Server.Gates;
using Kivren.Server.Manuals;

namespace Kivren.Server.Pointing;

/// <summary>All that points at a page, over HTTP: the index, cross-references, contents lists; and loose ends that are let be.</summary>
internal static class PointingEndpoints
{
    private const string NoManual = "There is no such manual.";

    public static void MapPointing(this IEndpointRouteBuilder app)
    {
        var manual = app.MapGroup("/api/manuals/{id}");
        MapIndex(manual.MapGroup("/index"));
        MapReferences(manual.MapGroup("/references"));
        MapLists(manual.MapGroup("/lists"));
        app.MapGet("/api/loose-end-kinds", () => LooseEndOfKind.All);
    }

    private static void MapIndex(RouteGroupBuilder index)
    {
        index.MapGet("", async (string id, IGrainFactory grains, HttpContext http) =>
            ManualEndpoints.Shown(await ManualEndpoints.Of(grains, id).Index().WaitAsync(http.RequestAborted), NoManual)
        );
        index.MapPost("/why", async (string id, string[] heading, IGrainFactory grains, HttpContext http) =>
            ManualEndpoints.Shown(await ManualEndpoints.Of(grains, id).WhyLocators(heading).WaitAsync(http.RequestAborted), NoManual)
        );
        index.MapGet("/proposals", async (string id, IGrainFactory grains, HttpContext http) =>
            ManualEndpoints.Shown(await ManualEndpoints.Of(grains, id).IndexProposals().WaitAsync(http.RequestAborted), NoManual)
        );
        index.MapGet("/forms", async (string id, string phrase, IGrainFactory grains, HttpContext http) =>
            Checks.IsText(phrase, Core.Indexing.Sweep.LongestForm) && phrase.Trim().Length > 0
                ? ManualEndpoints.Found(await ManualEndpoints.Of(grains, id).SweepForms(phrase).WaitAsync(http.RequestAborted), NoManual)
                : Refusal.Bad($"Say a phrase of up to {Core.Indexing.Sweep.LongestForm} letters.")
        );
        index.MapPost("/sweep", async (string id, SweepAsked asked, IGrainFactory grains, HttpContext http) =>
            asked.Forms is { Length: <= Core.Indexing.Sweep.MostForms }
            && asked.Forms.All(f => Checks.IsText(f, Core.Indexing.Sweep.LongestForm))
            && Checks.IsText(asked.Phrase, Core.Indexing.Sweep.LongestForm)
            && asked.Heading is { Length: <= 3 }
            && asked.Heading.All(h => Checks.IsText(h, Checks.LongestTitle))
                ? ManualEndpoints.Found(
                    await ManualEndpoints.Of(grains, id).SweepFor(asked.Phrase, asked.Forms, asked.Heading).WaitAsync(http.RequestAborted),
                    NoManual
                )
                : Refusal.Bad(
                    $"Say a phrase of up to {Core.Indexing.Sweep.LongestForm} letters, in up to {Core.Indexing.Sweep.MostForms} forms."
                )
        );
        index.MapPost("/acts", async (string id, IndexOrder order, IGrainFactory grains) => order.Problem() is { } why ? Refusal.Bad(why)
            : order.ToAct() is null ? Refusal.Bad($"There is no act “{order.Do}”.")
            : Answered.Ok(await ManualEndpoints.Of(grains, id).ChangeIndex(order)));
        index.MapPost("/foresee", async (string id, IndexOrder order, IGrainFactory grains, HttpContext http) => order.Problem() is { } why
                ? Refusal.Bad(why)
            : order.ToAct() is null ? Refusal.Bad($"There is no act “{order.Do}”.")
            : ManualEndpoints.Shown(await ManualEndpoints.Of(grains, id).ForeseeIndex(order).WaitAsync(http.RequestAborted), NoManual));
    }

    private static void MapReferences(RouteGroupBuilder references)
    {
        references.MapGet("", async (string id, IGrainFactory grains, HttpContext http) =>
            ManualEndpoints.Shown(await ManualEndpoints.Of(grains, id).References().WaitAsync(http.RequestAborted), NoManual)
        );
        references.MapGet("/{reference}/likely", async (string id, string reference, IGrainFactory grains, HttpContext http) =>
            Checks.IsId(reference)
                ? ManualEndpoints.Shown(
                    await ManualEndpoints.Of(grains, id).LikelyTargets(reference).WaitAsync(http.RequestAborted),
                    NoManual
                )
                : Refusal.Bad("This is no reference.")
        );
        references.MapPost("/acts", async (string id, ReferenceOrder order, IGrainFactory grains) =>
            order.Problem() is { } why ? Refusal.Bad(why) : Answered.Ok(await ManualEndpoints.Of(grains, id).ChangeReferences(order))
        );
    }

    private static void MapLists(RouteGroupBuilder lists)
    {
        lists.MapGet("", async (string id, IGrainFactory grains, HttpContext http) =>
            ManualEndpoints.Shown(await ManualEndpoints.Of(grains, id).Lists().WaitAsync(http.RequestAborted), NoManual)
        );
        lists.MapGet("/one", async (string id, string name, IGrainFactory grains, HttpContext http) =>
            Checks.IsText(name, Checks.LongestTitle)
                ? ManualEndpoints.Shown(
                    await ManualEndpoints.Of(grains, id).LookAtList(name).WaitAsync(http.RequestAborted),
                    "There is no such list."
                )
                : Refusal.Bad("This is no name.")
        );
        lists.MapPost("/acts", async (string id, ListOrder order, IGrainFactory grains) =>
        {
            if (order.Problem() is { } why)
                return Refusal.Bad(why);
            try
            {
                return order.ToAct() is null
                    ? Refusal.Bad($"There is no act “{order.Do}”.")
                    : Answered.Ok(await ManualEndpoints.Of(grains, id).ChangeLists(order));
            }
            catch (JsonException e)
            {
                return Refusal.Bad($"This is no definition: {e.Message}");
            }
        });
    }
}
