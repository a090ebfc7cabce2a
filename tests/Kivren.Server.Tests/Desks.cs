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
        (await server.Get($"/manuals/{manual}"))["divisions"]!.AsArray().First(d => d!["kind"]!.GetValue<string>() == "Chapter")!["id"]!.GetValue<string>();

    public static string Paragraph(string id, string text) =>
        new JsonObject { ["type"] = "paragraph", ["attrs"] = new JsonObject { ["id"] = id }, ["content"] = new JsonArray(new JsonObject { ["type"] = "text", ["text"] = text }) }.ToJsonString();

    public static object Put(string division, string id, int basedOn, string body, string? after = null) => new { id, division, basedOn, body, after, deleted = false };

    public static object Delete(string division, string id, int basedOn) => new { id, division, basedOn, body = (string?)null, after = (string?)null, deleted = true };

    public static async Task<JsonNode> Send(this ServerProcess server, string manual, string writer, params object[] blocks) => await server.SendAs(manual, Fresh(), writer, blocks);

    public static async Task<JsonNode> SendAs(this ServerProcess server, string manual, string batch, string writer, params object[] blocks)
    {
        var (status, body) = await server.Post($"/manuals/{manual}/batches", new { id = batch, writer, label = "Typing", blocks, divisions = (object?)null, joined = (object?)null });
        Assert.True(status == 200, $"{status}: {body}\n{server.Log}");
        return body!;
    }

    /// <summary>Ids and texts of the blocks of a division, in order.</summary>
    public static async Task<List<(string Id, int Version, string Text)>> Blocks(this ServerProcess server, string manual, string division) =>
        (await server.Get($"/manuals/{manual}/divisions/{division}"))["blocks"]!.AsArray()
            .Select(b => (b!["id"]!.GetValue<string>(), b["version"]!.GetValue<int>(), TextOf(JsonNode.Parse(b["body"]!.GetValue<string>())!))).ToList();

    public static string TextOf(JsonNode node) => (node["text"]?.GetValue<string>() ?? "") + string.Concat((node["content"] as JsonArray ?? []).Select(c => TextOf(c!)));
}
