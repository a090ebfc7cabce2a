using Kivren.Server.Gates;
using Kivren.Server.Shelf;
using Microsoft.AspNetCore.Mvc;

namespace Kivren.Server.Manuals;

/// <param name="Foundation">what the role is founded on</param>
public sealed record NewRole(string Name, string Foundation, string? Writer = null);

/// <summary>An open manual over HTTP: reading divisions, sending acts, taking them back, the plan.</summary>
public static class ManualEndpoints
{
    private const long MostBatch = 64L << 20;

    public static void MapManuals(this IEndpointRouteBuilder app)
    {
        var manual = app.MapGroup("/api/manuals/{id}");
        manual.MapGet("", async (string id, IGrainFactory grains) => Found(await Of(grains, id).Open(), "There is no such manual."));
        manual.MapGet("/divisions/{division}", async (string id, string division, IGrainFactory grains) =>
            Found(await Of(grains, id).Division(division), "There is no such division.")
        );
        manual
            .MapPost("/batches", async (string id, Batch batch, IGrainFactory grains) =>
                Checks.Problem(batch) is { } why ? Refusal.Bad(why) : Answered.Ok(await Of(grains, id).Write(batch))
            )
            .WithMetadata(new RequestSizeLimitAttribute(MostBatch));
        manual.MapPost("/take-back", async (string id, string writer, bool again, IGrainFactory grains) =>
            Checks.IsId(writer) ? Answered.Ok(await Of(grains, id).TakeBack(writer, again)) : Refusal.Bad("Who takes something back?")
        );
        manual.MapPost("/roles", async (string id, NewRole role, IGrainFactory grains) =>
        {
            if (!Checks.IsText(role.Name, Checks.LongestTitle) || !Checks.IsText(role.Foundation, 64))
                return Refusal.Bad("A role needs a name and a foundation.");
            var done = await Of(grains, id).AddRole(Checks.IsId(role.Writer) ? role.Writer! : "writer", role.Name, role.Foundation);
            return done.Refused is { } why ? Refusal.Bad(why) : Done.Well;
        });

        manual.MapGet("/pictures", async (string id, IGrainFactory grains) =>
            Found(await Of(grains, id).Pictures(), "There is no such manual.")
        );
        manual.MapGet("/pointing", async (string id, string target, IGrainFactory grains) =>
            Checks.IsId(target)
                ? Found(await Of(grains, id).PointingAt(target), "There is no such manual.")
                : Refusal.Bad("This is no block.")
        );
        manual.MapGet("/notes", async (string id, IGrainFactory grains) => Found(await Of(grains, id).Notes(), "There is no such manual."));
        manual.MapGet("/kept-once", async (string id, IGrainFactory grains) =>
            Found(await Of(grains, id).KeptOnce(), "There is no such manual.")
        );
        manual.MapPost("/kept-once", async (string id, ReuseOrder order, IGrainFactory grains) =>
            order.Problem() is { } why ? Refusal.Bad(why) : Answered.Ok(await Of(grains, id).Reuse(order))
        );

        var plan = manual.MapGroup("/plan");
        plan.MapGet("", async (string id, bool? text, IGrainFactory grains, HttpContext http) =>
            Shown(await Of(grains, id).Plan(text ?? false).WaitAsync(http.RequestAborted), "There is no such manual.")
        );
        plan.MapPost("/acts", async (string id, PlanOrder order, IGrainFactory grains) => !Checks.IsId(order.Id)
            || !Checks.IsId(order.Writer)
                ? Refusal.Bad("An act needs an id and its writer.")
            : Checks.Problem(order) is { } why ? Refusal.Bad(why)
            : Answered.Ok(await Of(grains, id).Rework(order)));
        plan.MapPost("/foresee", async (string id, PlanOrder order, IGrainFactory grains, HttpContext http) =>
            Checks.Problem(order) is { } why
                ? Refusal.Bad(why)
                : Answered.Ok(await Of(grains, id).Foresee(order).WaitAsync(http.RequestAborted))
        );
    }

    internal static IOpenManual Of(IGrainFactory grains, string id) => grains.GetGrain<IOpenManual>(Checks.IsId(id) ? id : "none");

    internal static Answered<T> Found<T>(T? found, string otherwise)
        where T : class => found is null ? Refusal.Gone(otherwise) : Answered.Ok(found);

    /// <summary>What a composition shows; 422 when the text cannot be composed.</summary>
    internal static Answered<T> Shown<T>(Shown<T> shown, string otherwise)
        where T : class =>
        shown.Problem is { } why ? new Refusal(StatusCodes.Status422UnprocessableEntity, why) : Found(shown.Value, otherwise);
}
