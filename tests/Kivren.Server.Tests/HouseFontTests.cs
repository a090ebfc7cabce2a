using System.Net;
using System.Text.Json.Nodes;
using Kivren.Core.Looks;
using Kivren.Core.Type;
using static Kivren.Server.Tests.Desks;

namespace Kivren.Server.Tests;

/// <summary>Font files of a house over real HTTP and in a real database: what wears them wears them after a kill too, also a look that is
/// put on again by undo.</summary>
public class HouseFontTests
{
    private static async Task<(HttpStatusCode Status, JsonNode Body)> Bring(ServerProcess server, string name, byte[] bytes)
    {
        using var content = new ByteArrayContent(bytes);
        using var answer = await server.Http.PostAsync($"/api/looks/font?file={Uri.EscapeDataString(name)}", content);
        return (answer.StatusCode, JsonNode.Parse(await answer.Content.ReadAsStringAsync())!);
    }

    private static string Wearing(JsonNode font)
    {
        var look = JsonNode.Parse(LookFile.Write(ShippedLooks.Workshop))!.AsObject();
        look["name"] = "House";
        look["faces"] = new JsonArray(new JsonObject { ["name"] = "House Sans", ["regular"] = font.DeepClone() });
        foreach (var rule in look["dresses"]!.AsArray())
            rule!["dress"]!["face"] = "House Sans";
        look["divisionTitle"]!["face"] = "House Sans";
        return look.ToJsonString();
    }

    private static async Task<string> Drawn(ServerProcess server, string manual)
    {
        var (_, seen) = await server.Post(
            $"/manuals/{manual}/look/glimpse",
            new
            {
                file = (string?)null,
                division = (string?)null,
                page = 0,
            }
        );
        return string.Concat(seen!["pages"]!.AsArray().Select(p => p!["svg"]!.GetValue<string>()));
    }

    [Fact]
    public async Task A_face_of_the_house_is_worn_after_a_kill_and_after_it_was_taken_back()
    {
        await using var server = await ServerProcess.Start();
        var (status, font) = await Bring(server, "Firm.ttf", FaceLibrary.CodeStrong.Bytes);
        Assert.Equal(HttpStatusCode.OK, status);
        Assert.Equal(HttpStatusCode.BadRequest, (await Bring(server, "Not.ttf", "no font"u8.ToArray())).Status);
        var hash = font["hash"]!.GetValue<string>();
        var manual = await server.NewManual("Ferry");
        object Order(string? name, string? file) =>
            new
            {
                id = Fresh(),
                writer = "w",
                name,
                file,
                from = (string?)null,
            };
        Task<string> Shown(bool wears) =>
            Until(
                () => Drawn(server, manual),
                svg => svg.Length > 0 && svg.Contains("Kivren house-" + hash, StringComparison.Ordinal) == wears,
                wears ? "the house’s face" : "the other look"
            );
        var (_, put) = await server.Post($"/manuals/{manual}/look", Order(null, Wearing(font)));
        Assert.Null(put!["refused"]);
        await Shown(true);
        using (var served = await server.Http.GetAsync($"/faces/house-{hash}.ttf"))
            Assert.Equal(FaceLibrary.CodeStrong.Bytes, await served.Content.ReadAsByteArrayAsync());
        using (var none = await server.Http.GetAsync($"/faces/house-{new string('0', 64)}.ttf"))
            Assert.Equal(HttpStatusCode.NotFound, none.StatusCode);

        await server.Kill();
        await server.Run();
        await Shown(true);

        // Another look, a kill, and the act taken back: the face comes from the database again.
        var (_, other) = await server.Post($"/manuals/{manual}/look", Order("Pocket", null));
        await Shown(false);
        await server.Kill();
        await server.Run();
        await Shown(false);
        await server.Post($"/manuals/{manual}/take-back?writer=w&again=false");
        await Shown(true);
        Assert.True(other!["act"]!.GetValue<long>() > 0);
    }
}
