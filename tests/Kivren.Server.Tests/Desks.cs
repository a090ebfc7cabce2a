using System.Text.Json.Nodes;

namespace Kivren.Server.Tests;

/// <summary>What a browser does at a desk, in short.</summary>
internal static class Desks
{
    public static string Fresh() => Guid.NewGuid().ToString("N");

    public static async Task<string> NewManual(this ServerProcess server, string title = "Test manual") =>
        (await server.Post("/manuals", new { title })).Body!["id"]!.GetValue<string>();

    /// <summary>The id of the first chapter.</summary>
    public static async Task<string> Chapter(this ServerProcess server, string manual) =>
        (await server.Get($"/manuals/{manual}"))["divisions"]!.AsArray().First(d => d!["kind"]!.GetValue<string>() == "Chapter")![
            "id"
        ]!.GetValue<string>();

    public static string Paragraph(string id, string text) =>
        new JsonObject
        {
            ["type"] = "paragraph",
            ["attrs"] = new JsonObject { ["id"] = id },
            ["content"] = new JsonArray(new JsonObject { ["type"] = "text", ["text"] = text }),
        }.ToJsonString();

    public static object Put(string division, string id, int basedOn, string body, string? after = null) =>
        new
        {
            id,
            division,
            basedOn,
            body,
            after,
            deleted = false,
        };

    public static object Delete(string division, string id, int basedOn) =>
        new
        {
            id,
            division,
            basedOn,
            body = (string?)null,
            after = (string?)null,
            deleted = true,
        };

    public static async Task<JsonNode> Send(this ServerProcess server, string manual, string writer, params object[] blocks) =>
        await server.SendAs(manual, Fresh(), writer, blocks);

    public static async Task<JsonNode> SendAs(this ServerProcess server, string manual, string batch, string writer, params object[] blocks)
    {
        var (status, body) = await server.Post(
            $"/manuals/{manual}/batches",
            new
            {
                id = batch,
                writer,
                label = "Typing",
                blocks,
                divisions = (object?)null,
                joined = (object?)null,
            }
        );
        Assert.True(status == 200, $"{status}: {body}\n{server.Log}");
        return body!;
    }

    /// <summary>Ids and texts of the blocks of a division, in order.</summary>
    public static async Task<List<(string Id, int Version, string Text)>> Blocks(
        this ServerProcess server,
        string manual,
        string division
    ) =>
        (await server.Get($"/manuals/{manual}/divisions/{division}"))["blocks"]!
            .AsArray()
            .Select(b =>
                (b!["id"]!.GetValue<string>(), b["version"]!.GetValue<int>(), TextOf(JsonNode.Parse(b["body"]!.GetValue<string>())!))
            )
            .ToList();

    public static string TextOf(JsonNode node) =>
        (node["text"]?.GetValue<string>() ?? "") + string.Concat((node["content"] as JsonArray ?? []).Select(c => TextOf(c!)));

    /// <summary>Asks again until what is waited for has come; says what it waited for when it has not.</summary>
    public static async Task<T> Until<T>(Func<Task<T>> ask, Func<T, bool> come, string what)
    {
        var clock = System.Diagnostics.Stopwatch.StartNew();
        while (true)
        {
            var answer = await ask();
            if (come(answer))
                return answer;
            Assert.True(clock.Elapsed < TimeSpan.FromSeconds(60), $"{what} did not come in a minute; last: {answer}");
            await Task.Delay(20);
        }
    }

    /// <summary>The proof with this act in it.</summary>
    public static Task<JsonNode> Settled(this ServerProcess server, string manual, long act) =>
        Until(() => server.Get($"/manuals/{manual}/proof"), p => p["act"]!.GetValue<long>() >= act, $"The proof of act {act}");

    /// <summary>An output of the manual, done; its file.</summary>
    public static async Task<byte[]> Produced(this ServerProcess server, string manual)
    {
        var id = (await server.Post($"/manuals/{manual}/outputs")).Body![0]!["id"]!.GetValue<string>();
        var done = await server.Ended(manual, id);
        Assert.True(done["state"]!.GetValue<string>() == "Done", done.ToJsonString());
        return await server.Http.GetByteArrayAsync($"/api/manuals/{manual}/outputs/{id}/file");
    }

    public static async Task<JsonNode> Ended(this ServerProcess server, string manual, string output) =>
        (
            await Until(
                () => server.Get($"/manuals/{manual}/outputs/{output}"),
                o => o["state"]!.GetValue<string>() is not ("Waiting" or "Running"),
                "The end of an output"
            )
        )!;
}
