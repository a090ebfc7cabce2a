using System.Text.Json.Nodes;
using Kivren.Core.Looks;
using static Kivren.Server.Tests.Desks;

namespace Kivren.Server.Tests;

/// <summary>Looks that the shelf keeps, and looks that are tried: over real HTTP, in a real database.</summary>
public class ShelfOfLooksTests(SharedServer shared) : IClassFixture<SharedServer>
{
    private ServerProcess Server => shared.Server;

    private static string Changed(string name, double before)
    {
        var look = JsonNode.Parse(LookFile.Write(ShippedLooks.Workshop))!;
        look["name"] = name;
        look["heads"]![0]!["before"] = before;
        return look.ToJsonString();
    }

    private async Task<JsonNode> Act(object order)
    {
        var (status, body) = await Server.Post("/looks", order);
        Assert.True(status is 200 or 400, $"{status}");
        return body!;
    }

    private async Task<JsonNode?> Of(string name) =>
        (await Server.Get("/looks")).AsArray().FirstOrDefault(l => l!["name"]!.GetValue<string>() == name);

    [Fact]
    public async Task A_look_is_kept_copied_renamed_given_to_two_manuals_and_offered_when_it_is_newer()
    {
        var name = "House " + Fresh()[..8];
        var (one, two) = (await Server.NewManual("One"), await Server.NewManual("Two"));
        Assert.Null((await Act(new { @do = "keep", file = Changed(name, 30) }))["refused"]);
        Assert.Equal(1, (await Of(name))!["version"]!.GetValue<int>());
        var gift = new
        {
            writer = "w",
            name,
            file = (string?)null,
            manuals = new[] { one, two },
        };
        var (_, foreseen) = await Server.Post("/looks/foresee", gift);
        Assert.Equal(2, foreseen!.AsArray().Count);
        Assert.All(foreseen.AsArray(), f => Assert.True(f!["pagesAfter"]!.GetValue<int>() > 0));
        Assert.Empty((await Of(name))!["wearers"]!.AsArray());
        var (_, given) = await Server.Post("/looks/give", gift);
        Assert.All(given!.AsArray(), g => Assert.Null(g!["refused"]));
        Assert.Equal([false, false], (await Of(name))!["wearers"]!.AsArray().Select(w => w!["isPinned"]!.GetValue<bool>()));
        // A newer one on the shelf changes no manual; it is known to be newer.
        Assert.Null((await Act(new { @do = "keep", file = Changed(name, 40) }))["refused"]);
        Assert.Equal(2, (await Of(name))!["version"]!.GetValue<int>());
        Assert.Equal([true, true], (await Of(name))!["wearers"]!.AsArray().Select(w => w!["isPinned"]!.GetValue<bool>()));
        var worn = await Server.Get($"/manuals/{one}/look/file?name={Uri.EscapeDataString(name)}");
        Assert.Equal(30, worn["heads"]![0]!["before"]!.GetValue<double>());
        // A copy is another look; a name that is taken is refused.
        Assert.Null(
            (
                await Act(
                    new
                    {
                        @do = "copy",
                        name,
                        to = name + " b",
                    }
                )
            )["refused"]
        );
        Assert.NotNull(
            (
                await Act(
                    new
                    {
                        @do = "copy",
                        name,
                        to = name + " b",
                    }
                )
            )["refused"]
        );
        Assert.Null(
            (
                await Act(
                    new
                    {
                        @do = "rename",
                        name = name + " b",
                        to = name + " c",
                    }
                )
            )["refused"]
        );
        Assert.Null(await Of(name + " b"));
        Assert.NotNull(await Of(name + " c"));
        Assert.Null((await Act(new { @do = "takeOut", name }))["refused"]);
        Assert.Null(await Of(name));
        // Who wears it wears it still.
        Assert.Equal(
            30,
            (await Server.Get($"/manuals/{one}/look/file?name={Uri.EscapeDataString(name)}"))["heads"]![0]!["before"]!.GetValue<double>()
        );
    }

    [Theory]
    [InlineData("Workshop, A5")]
    [InlineData("workshop, a5")]
    [InlineData(" ")]
    public async Task A_name_that_ships_or_is_none_is_refused(string name) =>
        Assert.NotNull(
            (
                await Act(
                    new
                    {
                        @do = "copy",
                        name = "Code, A4",
                        to = name,
                    }
                )
            )["refused"]
        );

    [Fact]
    public async Task What_cannot_be_worn_is_kept_nowhere_and_told_with_its_places()
    {
        var broken = Changed("Broken", 30).Replace("\"148 mm\"", "\"wide\"", StringComparison.Ordinal);
        var done = await Act(new { @do = "keep", file = broken });
        Assert.Equal("masters[0].width", done["faults"]![0]!["place"]!.GetValue<string>());
        Assert.Null(await Of("Broken"));
        Assert.Equal(
            400,
            (
                await Server.Post(
                    "/looks/give",
                    new
                    {
                        writer = "w",
                        name = "x",
                        file = broken,
                        manuals = new[] { "m" },
                    }
                )
            ).Status
        );
        Assert.Equal(
            400,
            (
                await Server.Post(
                    "/looks/give",
                    new
                    {
                        writer = "w",
                        name = "Pocket",
                        file = (string?)null,
                        manuals = Array.Empty<string>(),
                    }
                )
            ).Status
        );
        Assert.Equal(
            404,
            (
                await Server.Post(
                    "/looks/foresee",
                    new
                    {
                        writer = "w",
                        name = "none",
                        file = (string?)null,
                        manuals = new[] { "m" },
                    }
                )
            ).Status
        );
        Assert.Equal(400, (await Server.Post("/looks", new { @do = "burn" })).Status);
    }

    [Fact]
    public async Task A_look_that_is_tried_is_seen_and_worn_by_nobody_and_one_that_is_overtaken_is_refused()
    {
        var manual = await Server.NewManual("Tried");
        var worn = (await Server.Get($"/manuals/{manual}/look/file?name={Uri.EscapeDataString("Workshop, A5")}")).ToJsonString();
        var order = new
        {
            file = Changed("Workshop, A5", 77),
            division = (string?)null,
            page = 0,
        };
        var (_, seen) = await Server.Post($"/manuals/{manual}/look/glimpse", order);
        Assert.NotEmpty(seen!["pages"]!.AsArray());
        Assert.StartsWith("<svg", seen["pages"]![0]!["svg"]!.GetValue<string>(), StringComparison.Ordinal);
        var (_, tried) = await Server.Post($"/manuals/{manual}/look/tried", order);
        Assert.Equal("A head: space above 19.5 pt → 77 pt", Assert.Single(tried!["changes"]!.AsArray())!.GetValue<string>());
        Assert.Equal(worn, (await Server.Get($"/manuals/{manual}/look/file?name={Uri.EscapeDataString("Workshop, A5")}")).ToJsonString());
        var (_, wrong) = await Server.Post(
            $"/manuals/{manual}/look/glimpse",
            new
            {
                file = "{\"kivrenLook\": 1}",
                division = (string?)null,
                page = 0,
            }
        );
        Assert.NotEmpty(wrong!["faults"]!.AsArray());
        // Made from a look that is worn no more it is not put on.
        var (_, refused) = await Server.Post(
            $"/manuals/{manual}/look",
            new
            {
                id = Fresh(),
                writer = "w",
                name = (string?)null,
                order.file,
                from = "another",
            }
        );
        Assert.Contains("Somebody else changed the look", refused!["refused"]!.GetValue<string>(), StringComparison.Ordinal);
    }
}
