using System.Text.Json.Nodes;
using static Kivren.Server.Tests.Desks;

namespace Kivren.Server.Tests;

/// <summary>Variables and passages that the shelf keeps: given by one manual, taken by another, the same everywhere by one press.</summary>
public class ShelfKeptTests(SharedServer shared) : IClassFixture<SharedServer>
{
    private ServerProcess Server => shared.Server;

    private async Task<(int Status, JsonNode? Body)> Act(string manual, string act, string kind, string name) =>
        await Server.Post(
            $"/manuals/{manual}/shelf-kept",
            new
            {
                id = Fresh(),
                writer = "w",
                @do = act,
                kind,
                name,
            }
        );

    private async Task Set(string manual, string name, string text)
    {
        var (status, body) = await Server.Post(
            $"/manuals/{manual}/kept-once",
            new
            {
                id = Fresh(),
                writer = "w",
                @do = "setVariable",
                name,
                to = text,
            }
        );
        Assert.Equal((200, null), (status, body!["refused"]?.GetValue<string>()));
    }

    private async Task<string?> Text(string manual, string name) =>
        (await Server.Get($"/manuals/{manual}/kept-once"))["variables"]!
            .AsArray()
            .FirstOrDefault(v => v!["name"]!.GetValue<string>() == name)
            ?["text"]!.GetValue<string>();

    private async Task<string?> Here(string manual, string name) =>
        (await Server.Get($"/manuals/{manual}/shelf-kept"))
            .AsArray()
            .FirstOrDefault(k => k!["name"]!.GetValue<string>() == name)
            ?["here"]!.GetValue<string>();

    [Fact]
    public async Task A_variable_given_to_the_shelf_is_taken_by_another_manual_and_by_all_that_say_otherwise()
    {
        var name = "oil " + Fresh()[..8];
        var (one, two, three) = (await Server.NewManual("One"), await Server.NewManual("Two"), await Server.NewManual("Three"));
        await Set(one, name, "Kelvet 46");
        Assert.Null(await Here(one, name));
        Assert.Equal(200, (await Act(one, "give", "variable", name)).Status);
        Assert.Equal(("same", "none"), (await Here(one, name), await Here(two, name)));

        Assert.Null((await Act(two, "take", "variable", name)).Body!["refused"]?.GetValue<string>());
        Assert.Equal("Kelvet 46", await Text(two, name));

        await Set(one, name, "Kelvet 68");
        Assert.Equal("other", await Here(one, name));
        await Act(one, "give", "variable", name);
        Assert.Equal(("other", "Kelvet 46"), (await Here(two, name), await Text(two, name)));
        Assert.Equal(1, (await Act(one, "everywhere", "variable", name)).Body!["manuals"]!.GetValue<int>());
        Assert.Equal(("Kelvet 68", (string?)null), (await Text(two, name), await Text(three, name)));

        await Act(one, "takeOut", "variable", name);
        Assert.Equal((null, "Kelvet 68"), (await Here(two, name), await Text(two, name)));
    }

    [Fact]
    public async Task A_passage_comes_with_its_blocks_and_a_newer_one_leaves_what_is_alike_as_it_is()
    {
        var name = "Warnings " + Fresh()[..8];
        var (one, two) = (await Server.NewManual("Gives"), await Server.NewManual("Takes"));
        var (division, a, b) = (await Server.Chapter(one), Fresh(), Fresh());
        await Server.Send(
            one,
            "w",
            Put(division, a, 0, Paragraph(a, "Keep clear of the cable."), ""),
            Put(division, b, 0, Paragraph(b, "Wear gloves."), a)
        );
        var (_, made) = await Server.Post(
            $"/manuals/{one}/kept-once",
            new
            {
                id = Fresh(),
                writer = "w",
                @do = "addPassage",
                name,
                rows = new[] { a, b },
            }
        );
        Assert.Null(made!["refused"]?.GetValue<string>());
        await Act(one, "give", "passage", name);
        Assert.Null((await Act(two, "take", "passage", name)).Body!["refused"]?.GetValue<string>());
        async Task<JsonNode> Passage(string manual) =>
            (await Server.Get($"/manuals/{manual}/kept-once"))["passages"]!.AsArray().Single(p => p!["name"]!.GetValue<string>() == name)!;
        static string[] Ids(JsonNode passage) =>
            [.. passage["blocks"]!.AsArray().Select(x => JsonNode.Parse(x!.GetValue<string>())!["attrs"]!["id"]!.GetValue<string>())];
        var (given, first) = (await Passage(one), await Passage(two));
        Assert.Equal(2, Ids(first).Length);
        Assert.Empty(Ids(first).Intersect(Ids(given)));

        var own = given["id"]!.GetValue<string>();
        await Server.Send(one, "w", Put(own, b, 1, Paragraph(b, "Wear gloves and a helmet."), null));
        await Act(one, "give", "passage", name);
        Assert.Equal("other", await Here(two, name));
        await Act(two, "take", "passage", name);
        var second = await Passage(two);
        Assert.Equal(Ids(first), Ids(second));
        Assert.Contains("helmet", second["blocks"]!.ToJsonString(), StringComparison.Ordinal);
        Assert.Equal("same", await Here(two, name));
    }

    [Theory, InlineData("give", "variable"), InlineData("take", "passage"), InlineData("steal", "variable"), InlineData("take", "look")]
    public async Task What_cannot_be_done_with_the_shelf_is_refused_in_words(string act, string kind)
    {
        var (status, body) = await Act(await Server.NewManual("Refused"), act, kind, "nothing of this name");
        Assert.InRange(status, 400, 404);
        Assert.NotEmpty(body!["message"]?.GetValue<string>() ?? body.ToJsonString());
    }
}
