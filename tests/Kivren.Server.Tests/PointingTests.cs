using System.Text.Json.Nodes;

namespace Kivren.Server.Tests;

/// <summary>The index, cross-references and contents lists over real HTTP: acts that come too late, twice, or at once.</summary>
public class PointingTests(SharedServer shared) : IClassFixture<SharedServer>
{
    private ServerProcess Server { get; } = shared.Server;

    private async Task<string> Demo() => (await Server.Post("/manuals/sample")).Body!["id"]!.GetValue<string>();

    private async Task<JsonArray> Rows(string manual) => (await Server.Get($"/manuals/{manual}/index"))["rows"]!.AsArray();

    private async Task<string[]> Headings(string manual) => [.. (await Rows(manual)).Select(r => r!["text"]!.GetValue<string>())];

    private static object Index(string what, string[]? heading, string[]? to, string[]? entries = null, string writer = "w") =>
        new
        {
            id = Desks.Fresh(),
            writer,
            @do = what,
            heading,
            to,
            entries,
            text = (string?)null,
            forms = (string[]?)null,
            places = (object[]?)null,
        };

    private Task<(int Status, JsonNode? Body)> Post(string manual, string path, object order) =>
        Server.Post($"/manuals/{manual}/{path}", order);

    /// <summary>Until the pages with this act have settled.</summary>
    private async Task Settled(string manual, JsonNode done)
    {
        while ((await Server.Get($"/manuals/{manual}/proof"))["act"]!.GetValue<long>() < done["act"]!.GetValue<long>())
            await Task.Yield();
    }

    [Fact]
    public async Task Two_writers_who_merge_the_same_headings_at_once_merge_them_once()
    {
        var manual = await Demo();
        var both = await Task.WhenAll(
            Post(manual, "index/acts", Index("move", ["Tail chain"], ["tail chain"], writer: "a")),
            Post(manual, "index/acts", Index("move", ["Tail chain"], ["tail chain"], writer: "b"))
        );
        Assert.All(both, b => Assert.Equal(200, b.Status));
        var refused = both.Select(b => b.Body!["refused"]?.GetValue<string>()).Where(r => r is not null).ToArray();
        Assert.Contains("Tail chain", Assert.Single(refused), StringComparison.Ordinal);
        await Settled(manual, both.Single(b => b.Body!["refused"] is null).Body!);
        Assert.Single(await Headings(manual), h => h.Equals("tail chain", StringComparison.OrdinalIgnoreCase));
        // Both pages are named still.
        var row = (await Rows(manual)).Single(r => r!["text"]!.GetValue<string>() == "tail chain")!;
        Assert.NotEqual("", row["locators"]!.GetValue<string>());
    }

    [Theory]
    [InlineData("   ")]
    [InlineData("")]
    public async Task A_heading_of_spaces_is_refused_in_words(string heading)
    {
        var manual = await Demo();
        var (status, body) = await Post(manual, "index/acts", Index("move", ["anchor"], [heading]));
        Assert.True(status == 400 || body!["refused"] is not null, body?.ToJsonString());
        Assert.Contains("anchor", await Headings(manual));
    }

    [Fact]
    public async Task A_heading_of_five_hundred_letters_is_refused_and_one_in_another_script_is_taken()
    {
        var manual = await Demo();
        var (status, body) = await Post(manual, "index/acts", Index("move", ["anchor"], [new string('a', 500)]));
        Assert.True(status == 400 || body!["refused"] is not null, body?.ToJsonString());
        var (_, done) = await Post(manual, "index/acts", Index("move", ["anchor"], ["якорь"]));
        Assert.Null(done!["refused"]);
        await Settled(manual, done);
        Assert.Contains("якорь", await Headings(manual));
    }

    [Fact]
    public async Task A_reference_is_not_pointed_at_what_another_writer_took_out_meanwhile()
    {
        var manual = await Demo();
        var references = (await Server.Get($"/manuals/{manual}/references"))["references"]!.AsArray();
        var reference = references[0]!["id"]!.GetValue<string>();
        var winch = (await Server.Get($"/manuals/{manual}/proof"))["divisions"]!
            .AsArray()
            .Single(d => d!["title"]!.GetValue<string>() == "Winch and brake")!["id"]!.GetValue<string>();
        var (_, gone) = await Server.Post(
            $"/manuals/{manual}/plan/acts",
            new
            {
                id = Desks.Fresh(),
                writer = "b",
                @do = "takeOut",
                rows = new[] { winch },
                by = (string?)null,
                at = (string?)null,
                text = (string?)null,
            }
        );
        Assert.Null(gone!["refused"]);
        var (status, late) = await Post(
            manual,
            "references/acts",
            new
            {
                id = Desks.Fresh(),
                writer = "a",
                @do = "pointAt",
                references = new[] { reference },
                to = winch,
            }
        );
        Assert.Equal(200, status);
        Assert.Contains("taken out meanwhile", late!["refused"]!.GetValue<string>(), StringComparison.Ordinal);
    }

    [Theory]
    [InlineData(
        "index/acts",
        """{"id":"x","writer":"w","do":"fly","heading":["a"],"to":null,"entries":null,"text":null,"forms":null,"places":null}"""
    )]
    [InlineData("references/acts", """{"id":"x","writer":"w","do":"fly","references":[],"to":null}""")]
    [InlineData("lists/acts", """{"id":"x","writer":"w","do":"fly","name":null,"definition":null,"ends":null}""")]
    [InlineData("lists/acts", """{"id":"x","writer":"w","do":"keep","name":null,"definition":"{nonsense","ends":null}""")]
    [InlineData("index/sweep", """{"phrase":"","forms":[],"heading":[]}""")]
    public async Task What_is_no_act_is_refused_with_words(string path, string body)
    {
        var manual = await Server.NewManual();
        var (status, answer) = await Server.Post($"/manuals/{manual}/{path}", JsonNode.Parse(body)!);
        Assert.True(status is 400 || answer?["refused"] is not null, $"{status} {answer}");
    }

    [Fact]
    public async Task A_list_of_what_the_look_has_not_is_added_kept_and_taken_back_with_its_division()
    {
        var manual = await Demo();
        var (_, done) = await Server.Post(
            $"/manuals/{manual}/plan/acts",
            new
            {
                id = Desks.Fresh(),
                writer = "w",
                @do = "addDivision",
                rows = new[] { Desks.Fresh() },
                by = (string?)null,
                at = "Contents:equations",
                text = "",
            }
        );
        Assert.Null(done!["refused"]);
        await Settled(manual, done);
        string[] Names(JsonNode lists) => [.. lists["lists"]!.AsArray().Select(l => l!["name"]!.GetValue<string>())];
        Assert.Contains("equations", Names(await Server.Get($"/manuals/{manual}/lists")));
        var (_, back) = await Server.Post($"/manuals/{manual}/take-back?writer=w&again=false");
        Assert.True(back!["refused"]!.AsArray().Count == 0, back.ToJsonString());
        // The answer names the act that was taken back; the pages follow.
        using var enough = new CancellationTokenSource(TimeSpan.FromSeconds(30));
        while (Names(await Server.Get($"/manuals/{manual}/lists")).Contains("equations"))
        {
            enough.Token.ThrowIfCancellationRequested();
            await Task.Yield();
        }
    }
}
