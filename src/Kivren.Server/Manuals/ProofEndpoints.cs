using System.Security.Cryptography;
using Kivren.Core.Type;
using Kivren.Formats.Svg;
using Kivren.Server.Gates;
using Kivren.Server.Shelf;
using Kivren.Store;
using Microsoft.EntityFrameworkCore;

namespace Kivren.Server.Manuals;

/// <summary>A face of the pages, under an address that changes with its bytes.</summary>
/// <param name="WhenUsed">large, and fetched for pages that have its letters</param>
public sealed record ServedFace(string Name, string Family, string Address, bool WhenUsed);

/// <summary>The live proof over HTTP: pages by what they show, reasons, marks for the manuscript, what can be pointed at.</summary>
public static class ProofEndpoints
{
    private const string NoManual = "There is no such manual.";
    private const string ForEver = "private, max-age=31536000, immutable";

    public static void MapProof(this IEndpointRouteBuilder app)
    {
        var proof = app.MapGroup("/api/manuals/{id}");
        proof.MapGet("/proof", async (string id, IGrainFactory grains, HttpContext http) =>
            ManualEndpoints.Shown(await ManualEndpoints.Of(grains, id).Proof().WaitAsync(http.RequestAborted), NoManual)
        );

        proof.MapGet("/pages/{key}.svg", async (string id, string key, IGrainFactory grains, HttpContext http) =>
        {
            var page = await ManualEndpoints.Of(grains, id).Page(key).WaitAsync(http.RequestAborted);
            if (page.Value is not { } svg)
                return ManualEndpoints.Shown(page, "This page is not of the present composition.");
            http.Response.Headers.CacheControl = key.StartsWith("blank", StringComparison.Ordinal) ? "no-cache" : ForEver;
            return Pictures.Served(http, svg, "image/svg+xml");
        });

        proof.MapGet("/first-page.svg", async (string id, IGrainFactory grains, HttpContext http) =>
        {
            var page = await ManualEndpoints.Of(grains, id).FirstPage().WaitAsync(http.RequestAborted);
            if (page.Value is not { } svg)
                return ManualEndpoints.Shown(page, NoManual);
            http.Response.Headers.CacheControl = "no-cache";
            return Pictures.Served(http, svg, "image/svg+xml");
        });

        proof.MapGet("/divisions/{division}/marks", async (string id, string division, IGrainFactory grains, HttpContext http) =>
            ManualEndpoints.Shown(
                await ManualEndpoints.Of(grains, id).Marks(division).WaitAsync(http.RequestAborted),
                "There is no such division in this edition."
            )
        );

        proof.MapGet("/sheets/{sheet:int}", async (string id, int sheet, IGrainFactory grains, HttpContext http) =>
            ManualEndpoints.Shown(
                await ManualEndpoints.Of(grains, id).Sheet(sheet).WaitAsync(http.RequestAborted),
                "There is no such page."
            )
        );

        proof.MapGet(
            "/targets",
            async (string id, string? words, string? pointed, string? near, string? recent, IGrainFactory grains, HttpContext http) =>
            {
                var sought = new SoughtTarget(
                    Asked(words),
                    Asked(pointed),
                    Asked(near),
                    [.. (recent ?? "").Split(',', StringSplitOptions.RemoveEmptyEntries).Take(SoughtTarget.MostRecent)]
                );
                return ManualEndpoints.Shown(await ManualEndpoints.Of(grains, id).Targets(sought).WaitAsync(http.RequestAborted), NoManual);
            }
        );

        proof.MapGet(
            "/targets/{other}",
            async (string id, string other, string? words, string? pointed, IGrainFactory grains, HttpContext http) =>
            {
                var there = await ManualEndpoints
                    .Of(grains, other)
                    .TargetsForOthers(Asked(words), Asked(pointed))
                    .WaitAsync(http.RequestAborted);
                return there.Value is not { } targets
                    ? ManualEndpoints.Shown(new Shown<TargetChoice[]>(null, there.Problem), NoManual)
                    : ManualEndpoints.Shown(
                        await ManualEndpoints.Of(grains, id).ReadHere(other, targets).WaitAsync(http.RequestAborted),
                        NoManual
                    );
            }
        );

        proof.MapGet("/others", async (string id, IGrainFactory grains, HttpContext http) =>
            Answered.Ok(await OtherManuals.GrownOld(id, grains).WaitAsync(http.RequestAborted))
        );
        proof.MapPost("/others", async (string id, TakeNewer order, IGrainFactory grains) =>
        {
            if (
                !Checks.IsId(order.Id)
                || !Checks.IsId(order.Writer)
                || order.References is { Length: > 2_000 }
                || order.References?.All(Checks.IsId) is false
            )
                return Refusal.Bad("An act needs an id, its writer and the references by their ids.");
            var old = await OtherManuals.GrownOld(id, grains);
            var asked = order.References is { } some ? old.Where(o => some.Contains(o.Id)) : old;
            return Answered.Ok(await ManualEndpoints.Of(grains, id).TakeNewer(order.Id, order.Writer, [.. asked]));
        });

        proof.MapGet("/headings", async (string id, string? words, IGrainFactory grains, HttpContext http) =>
            ManualEndpoints.Shown(await ManualEndpoints.Of(grains, id).Headings(Asked(words)).WaitAsync(http.RequestAborted), NoManual)
        );

        proof.MapGet("/pictures/{name}", async (string id, string name, ShelfContext db, HttpContext http) =>
            await db
                .Assets.AsNoTracking()
                .Where(a => a.ManualId == id && a.Name == name)
                .Join(db.Pictures, a => a.Hash, p => p.Hash, (a, p) => new { p.Bytes, a.MediaType })
                .FirstOrDefaultAsync(http.RequestAborted)
                is { } picture
                ? Pictures.Served(http, picture.Bytes, picture.MediaType)
                : Results.NotFound(new Problem("There is no such picture."))
        );

        var faces = FaceLibrary
            .Names.Select(name => new ServedFace(
                name,
                SvgPainter.FamilyOf(name),
                $"{name}-{FaceLibrary.StampOf(name)}.ttf",
                ScriptFaces.Has(name)
            ))
            .ToArray();
        app.MapGet("/faces/{address}", async (string address, ShelfContext db, HttpContext http) =>
        {
            var face = faces.FirstOrDefault(f => f.Address == address) is { } shipped
                ? FaceLibrary.Named(shipped.Name)
                : await HouseFace(address, db, http.RequestAborted);
            if (face is null)
                return Results.NotFound(new Problem("There is no such face."));
            http.Response.Headers.CacheControl = ForEver;
            return Results.File(face.Bytes, "font/ttf");
        });
        app.MapGet("/api/faces", () => faces);
    }

    /// <summary>A house's face is served under its name, which is of the hash of its file.</summary>
    private static async Task<Face?> HouseFace(string address, ShelfContext db, CancellationToken cancel)
    {
        var hash =
            address.EndsWith(".ttf", StringComparison.Ordinal) && address.StartsWith(FaceFiles.NameBefore, StringComparison.Ordinal)
                ? address[FaceFiles.NameBefore.Length..^4]
                : "";
        if (hash.Length != 64)
            return null;
        if (FaceFiles.Find(hash) is null)
            await StoredFonts.Read(db, [hash], cancel);
        return FaceFiles.Find(hash);
    }

    private static string Asked(string? words) =>
        words is null ? ""
        : words.Length <= 200 ? words
        : words[..200];
}
