using System.Text.Json.Nodes;

namespace Kivren.Server.Desk;

/// <summary>Merges two changes of one block where they do not touch: items, rows and inner blocks by their ids
/// (content.md, Storage).</summary>
public static class BlockMerge
{
    /// <summary>The merged body, or null when both changed the same part.</summary>
    public static string? Merge(string based, string mine, string theirs)
    {
        var merged = Node(JsonNode.Parse(based), JsonNode.Parse(mine), JsonNode.Parse(theirs));
        return merged?.ToJsonString();
    }

    private static JsonNode? Node(JsonNode? based, JsonNode? mine, JsonNode? theirs)
    {
        if (JsonNode.DeepEquals(based, mine)) return theirs?.DeepClone();
        if (JsonNode.DeepEquals(based, theirs) || JsonNode.DeepEquals(mine, theirs)) return mine?.DeepClone();
        if (based is not JsonObject b || mine is not JsonObject m || theirs is not JsonObject t) return null;
        // Both changed: only parts that carry ids can be told apart.
        if (!JsonNode.DeepEquals(b["type"], m["type"]) || !JsonNode.DeepEquals(b["type"], t["type"])) return null;
        if (Attributes(b["attrs"], m["attrs"], t["attrs"]) is not { } attrs || Children(b["content"] as JsonArray, m["content"] as JsonArray, t["content"] as JsonArray) is not { } content) return null;
        return new JsonObject { ["type"] = m["type"]!.DeepClone(), ["attrs"] = attrs, ["content"] = content };
    }

    private static JsonNode? Attributes(JsonNode? based, JsonNode? mine, JsonNode? theirs) =>
        JsonNode.DeepEquals(based, mine) ? theirs?.DeepClone() ?? new JsonObject()
        : JsonNode.DeepEquals(based, theirs) ? mine?.DeepClone() ?? new JsonObject() : null;

    private static string? IdOf(JsonNode? node) => node is JsonObject { } o && o["attrs"] is JsonObject attrs ? attrs["id"]?.GetValue<string>() : null;

    private static JsonArray? Children(JsonArray? based, JsonArray? mine, JsonArray? theirs)
    {
        if (based is null || mine is null || theirs is null) return null;
        if (based.Concat(mine).Concat(theirs).Any(n => IdOf(n) is null)) return null;
        List<string> Ids(JsonArray a) => a.Select(n => IdOf(n)!).ToList();
        List<string> ids = Ids(based), my = Ids(mine), their = Ids(theirs);
        // The order and set of parts may have been changed by one side only.
        var order = ids.SequenceEqual(my) ? their : ids.SequenceEqual(their) ? my : null;
        if (order is null) return null;
        JsonNode? Of(JsonArray a, string id) => a.FirstOrDefault(n => IdOf(n) == id);
        // A part that one side took out must not have been changed by the other.
        foreach (var id in ids.Except(order))
            if (!JsonNode.DeepEquals(Of(based, id), Of(my.Contains(id) ? mine : theirs, id))) return null;
        var merged = new JsonArray();
        foreach (var id in order)
        {
            var (b, m, t) = (Of(based, id), Of(mine, id), Of(theirs, id));
            var part = b is null ? (m ?? t)!.DeepClone() : Node(b, m, t);
            if (part is null) return null;
            merged.Add(part);
        }
        return merged;
    }
}
