using System.Text.Json.Nodes;
using static Kivren.Server.Tests.Desks;

namespace Kivren.Server.Tests;

public class DeskTests(SharedServer shared) : IClassFixture<SharedServer>
{
    private ServerProcess Server => shared.Server;

    private async Task<(string Manual, string Division)> Open()
    {
        var manual = await Server.NewManual();
        return (manual, await Server.Chapter(manual));
    }

    [Fact]
    public async Task Typed_text_is_stored_composed_and_painted()
    {
        var (manual, division) = await Open();
        var head = Fresh();
        await Server.Send(
            manual,
            "w",
            Put(
                division,
                head,
                0,
                new JsonObject
                {
                    ["type"] = "head",
                    ["attrs"] = new JsonObject { ["id"] = head, ["level"] = "A" },
                    ["content"] = new JsonArray(new JsonObject { ["type"] = "text", ["text"] = "Brake band" }),
                }.ToJsonString(),
                ""
            )
        );
        var paragraph = Fresh();
        var answer = await Server.Send(
            manual,
            "w",
            Put(division, paragraph, 0, Paragraph(paragraph, "The band brake holds the drum."), head)
        );
        var proof = await Proof(manual, p => p["act"]!.GetValue<long>() == answer["act"]!.GetValue<long>());
        var chapter = proof["divisions"]!.AsArray().Single(d => d!["id"]!.GetValue<string>() == division)!;
        Assert.Equal("1.1", chapter["heads"]![0]!["number"]!.GetValue<string>());
        var key = proof["runs"]![0]!["inserted"]![chapter["firstSheet"]!.GetValue<int>()]!["key"]!.GetValue<string>();
        var svg = await Server.Http.GetStringAsync($"/api/manuals/{manual}/pages/{key}.svg");
        Assert.Contains(">Brake<", svg, StringComparison.Ordinal);
        Assert.Contains(">drum.<", svg, StringComparison.Ordinal);
    }

    /// <summary>Asks for the proof until it says what is waited for; the composition runs beside the desk.</summary>
    private async Task<JsonNode> Proof(string manual, Func<JsonNode, bool> until)
    {
        for (var tries = 0; ; tries++)
        {
            var proof = await Server.Get($"/manuals/{manual}/proof");
            if (until(proof))
                return proof;
            Assert.True(tries < 400, "The proof never came to this: " + proof.ToJsonString());
            await Task.Delay(25);
        }
    }

    [Fact]
    public async Task A_batch_sent_twice_is_done_once()
    {
        var (manual, division) = await Open();
        var (batch, id) = (Fresh(), Fresh());
        var first = await Server.SendAs(manual, batch, "w", Put(division, id, 0, Paragraph(id, "once"), ""));
        var again = await Server.SendAs(manual, batch, "w", Put(division, id, 0, Paragraph(id, "once"), ""));
        Assert.Equal(first["accepted"]!.ToJsonString(), again["accepted"]!.ToJsonString());
        Assert.Single(await Server.Blocks(manual, division), b => b.Id == id);
    }

    [Fact]
    public async Task Where_two_replaced_the_same_word_both_words_stand_and_the_rest_goes_in()
    {
        var (manual, division) = await Open();
        var (a, b) = (Fresh(), Fresh());
        await Server.Send(manual, "one", Put(division, a, 0, Paragraph(a, "base"), ""), Put(division, b, 0, Paragraph(b, "other"), a));
        await Server.Send(manual, "one", Put(division, a, 1, Paragraph(a, "theirs")));
        var answer = await Server.Send(
            manual,
            "two",
            Put(division, a, 1, Paragraph(a, "mine")),
            Put(division, b, 1, Paragraph(b, "other changed"))
        );
        Assert.Empty(answer["refused"]!.AsArray());
        Assert.True(answer["accepted"]!.AsArray().Single(x => x!["id"]!.GetValue<string>() == a)!["bothAt"]!.GetValue<bool>());
        Assert.Equal(
            ["theirs mine", "other changed"],
            (await Server.Blocks(manual, division)).Where(x => x.Id == a || x.Id == b).Select(x => x.Text)
        );
    }

    private static string Steps(string id, params (string Id, string Text)[] steps) =>
        new JsonObject
        {
            ["type"] = "steps",
            ["attrs"] = new JsonObject { ["id"] = id },
            ["content"] = new JsonArray(
                steps
                    .Select(s =>
                        (JsonNode)
                            new JsonObject
                            {
                                ["type"] = "step",
                                ["attrs"] = new JsonObject { ["id"] = s.Id },
                                ["content"] = new JsonArray(JsonNode.Parse(Paragraph(s.Id + "p", s.Text))!),
                            }
                    )
                    .ToArray()
            ),
        }.ToJsonString();

    [Fact]
    public async Task Two_writers_in_different_steps_of_one_list_are_merged()
    {
        var (manual, division) = await Open();
        var id = Fresh();
        (string, string) S(int n, string text) => ($"{id[..8]}-{n}", text);
        await Server.Send(manual, "one", Put(division, id, 0, Steps(id, S(1, "first"), S(2, "second")), ""));
        await Server.Send(manual, "one", Put(division, id, 1, Steps(id, S(1, "first, by one"), S(2, "second"))));
        var answer = await Server.Send(
            manual,
            "two",
            Put(division, id, 1, Steps(id, S(1, "first"), S(2, "second, by two"), S(3, "third")))
        );
        Assert.Empty(answer["refused"]!.AsArray());
        Assert.Equal("first, by onesecond, by twothird", (await Server.Blocks(manual, division)).Single(b => b.Id == id).Text);
        Assert.NotNull(answer["accepted"]![0]!["merged"]);
        // Both wrote behind the same word: the words of both stand there.
        var both = await Server.Send(manual, "two", Put(division, id, 1, Steps(id, S(1, "first, by two"), S(2, "second"))));
        Assert.Empty(both["refused"]!.AsArray());
        Assert.StartsWith(
            "first, by one, by twosecond",
            (await Server.Blocks(manual, division)).Single(b => b.Id == id).Text,
            StringComparison.Ordinal
        );
    }

    [Fact]
    public async Task Undo_takes_back_the_writers_own_last_act_and_redo_does_it_again()
    {
        var (manual, division) = await Open();
        var (a, b) = (Fresh(), Fresh());
        await Server.Send(manual, "one", Put(division, a, 0, Paragraph(a, "mine"), ""));
        await Server.Send(manual, "two", Put(division, b, 0, Paragraph(b, "theirs"), a));
        await Server.Send(manual, "one", Put(division, a, 1, Paragraph(a, "mine, longer")));
        async Task<JsonNode> TakeBack(bool again) => (await Server.Post($"/manuals/{manual}/take-back?writer=one&again={again}")).Body!;
        await TakeBack(false);
        Assert.Equal("mine", (await Server.Blocks(manual, division)).Single(x => x.Id == a).Text);
        await TakeBack(false);
        Assert.DoesNotContain(await Server.Blocks(manual, division), x => x.Id == a);
        Assert.Contains(await Server.Blocks(manual, division), x => x.Id == b);
        await TakeBack(true);
        await TakeBack(true);
        Assert.Equal("mine, longer", (await Server.Blocks(manual, division)).Single(x => x.Id == a).Text);
        Assert.Equal(0, (await TakeBack(true))["act"]!.GetValue<long>());
    }

    [Fact]
    public async Task Undo_of_a_block_changed_by_another_since_shows_both_and_changes_nothing()
    {
        var (manual, division) = await Open();
        var a = Fresh();
        await Server.Send(manual, "one", Put(division, a, 0, Paragraph(a, "mine"), ""));
        await Server.Send(manual, "two", Put(division, a, 1, Paragraph(a, "theirs")));
        var undone = (await Server.Post($"/manuals/{manual}/take-back?writer=one&again=false")).Body!;
        Assert.Single(undone["refused"]!.AsArray());
        Assert.Equal("theirs", (await Server.Blocks(manual, division)).Single(x => x.Id == a).Text);
    }

    [Fact]
    public async Task A_division_taken_out_comes_back_with_its_text()
    {
        var (manual, division) = await Open();
        var a = Fresh();
        await Server.Send(manual, "one", Put(division, a, 0, Paragraph(a, "kept"), ""));
        await Server.Post(
            $"/manuals/{manual}/plan/acts",
            new
            {
                id = Fresh(),
                writer = "one",
                @do = "takeOut",
                rows = new[] { division },
            }
        );
        Assert.DoesNotContain((await Server.Get($"/manuals/{manual}"))["divisions"]!.AsArray(), d =>
            d!["id"]!.GetValue<string>() == division
        );
        await Server.Post($"/manuals/{manual}/take-back?writer=one&again=false");
        Assert.Contains(await Server.Blocks(manual, division), x => x.Text == "kept");
    }

    [Theory]
    [InlineData("{\"type\":\"riddle\",\"attrs\":{\"id\":\"ID\"}}", "no block kind “riddle”")]
    [InlineData("{\"type\":\"paragraph\",\"attrs\":{}}", "has no id")]
    [InlineData("not json at all", "not JSON")]
    [InlineData("{\"type\":\"paragraph\",\"attrs\":{\"id\":\"ID\"},\"content\":[{\"type\":\"hologram\"}]}", "no span “hologram”")]
    public async Task What_the_model_does_not_have_is_refused_in_words(string body, string words)
    {
        var (manual, division) = await Open();
        var id = Fresh();
        var answer = await Server.Send(manual, "w", Put(division, id, 0, body.Replace("ID", id, StringComparison.Ordinal), ""));
        Assert.Contains(words, Assert.Single(answer["refused"]!.AsArray())!["why"]!.GetValue<string>(), StringComparison.Ordinal);
    }

    [Fact]
    public async Task Blocks_move_and_keep_their_order()
    {
        var (manual, division) = await Open();
        var ids = Enumerable.Range(0, 5).Select(_ => Fresh()).ToArray();
        await Server.Send(manual, "w", [.. ids.Select((id, i) => Put(division, id, 0, Paragraph(id, $"{i}"), i == 0 ? "" : ids[i - 1]))]);
        await Server.Send(
            manual,
            "w",
            new
            {
                id = ids[4],
                division,
                basedOn = 1,
                body = (string?)null,
                after = ids[0],
                deleted = false,
            }
        );
        Assert.Equal("04123", string.Concat((await Server.Blocks(manual, division)).Where(b => ids.Contains(b.Id)).Select(b => b.Text)));
    }

    [Fact]
    public async Task A_PDF_is_produced_in_the_background_and_can_be_taken_away()
    {
        var (manual, division) = await Open();
        var id = Fresh();
        await Server.Send(manual, "w", Put(division, id, 0, Paragraph(id, "Printed words"), ""));
        var (status, asked) = await Server.Post($"/manuals/{manual}/outputs");
        Assert.Equal(200, status);
        for (var tries = 0; ; tries++)
        {
            var state = (await Server.Get($"/manuals/{manual}/outputs"))[0]!["state"]!.GetValue<string>();
            if (state == "Done")
                break;
            Assert.True(tries < 400 && state is "Waiting" or "Running", state);
            await Task.Delay(50);
        }
        var bytes = await Server.Http.GetByteArrayAsync($"/api/manuals/{manual}/outputs/{asked![0]!["id"]!.GetValue<string>()}/file");
        Assert.StartsWith("%PDF-1.7", System.Text.Encoding.Latin1.GetString(bytes, 0, 8), StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_manual_deleted_is_off_the_shelf_and_can_be_put_back()
    {
        var manual = await Server.NewManual("Fleeting");
        Assert.Equal(System.Net.HttpStatusCode.NoContent, (await Server.Http.DeleteAsync($"/api/manuals/{manual}")).StatusCode);
        Assert.DoesNotContain((await Server.Get("/manuals")).AsArray(), m => m!["id"]!.GetValue<string>() == manual);
        Assert.Equal(System.Net.HttpStatusCode.NotFound, (await Server.Http.GetAsync($"/api/manuals/{manual}")).StatusCode);
        Assert.Equal(204, (await Server.Post($"/manuals/{manual}/restore")).Status);
        Assert.Contains((await Server.Get("/manuals")).AsArray(), m => m!["id"]!.GetValue<string>() == manual);
        Assert.Equal("Fleeting", (await Server.Get($"/manuals/{manual}"))["title"]!.GetValue<string>());
    }

    [Fact]
    public async Task What_is_no_package_is_told()
    {
        var (bad, problem) = await Server.Post("/manuals/package", "no zip"u8.ToArray());
        Assert.Equal(400, bad);
        Assert.Contains("no package", problem!["what"]!.GetValue<string>(), StringComparison.Ordinal);
    }
}
