using System.Text.Json;
using System.Text.Json.Nodes;
using Kivren.Core.Content;
using Kivren.Desk;
using Kivren.Formats.Package;

namespace Kivren.Server.Manuals;

/// <summary>A variable or a passage as the shelf keeps it: its text, or its blocks with the pictures in them, as JSON.</summary>
[GenerateSerializer, Immutable]
public sealed record KeptBody(string Kind, string Name, string Json, string[] Pictures, string From)
{
    public const string Variable = "variable",
        Passage = "passage";

    /// <summary>What a manual has under this name; null when it has nothing.</summary>
    public static KeptBody? Of(DeskState state, string kind, string name)
    {
        var manual = state.Manual;
        if (kind == Variable)
            return manual.Variables.FirstOrDefault(v => v.Name == name) is { } variable
                ? new KeptBody(kind, name, new JsonObject { ["text"] = variable.Text }.ToJsonString(), [], manual.Title)
                : null;
        if (manual.Passages.FirstOrDefault(p => p.Name == name) is not { } passage)
            return null;
        var pictures = new HashSet<string>(StringComparer.Ordinal);
        foreach (var block in passage.Blocks)
            block.WithPictures(p =>
            {
                pictures.Add(p);
                return p;
            });
        Asset[] assets = [.. manual.Assets.Where(a => pictures.Contains(a.Name))];
        var json = new JsonObject
        {
            ["blocks"] = new JsonArray([.. passage.Blocks.Select(b => JsonNode.Parse(BlockWriter.ToJson(b)))]),
            ["assets"] = JsonSerializer.SerializeToNode(assets),
        };
        return new KeptBody(kind, name, json.ToJsonString(), [.. assets.Select(a => a.Hash)], manual.Title);
    }

    /// <summary>All that a manual has and could give.</summary>
    public static KeptBody[] All(DeskState state) =>
        [
            .. state.Manual.Variables.Select(v => Of(state, Variable, v.Name)!),
            .. state.Manual.Passages.Select(p => Of(state, Passage, p.Name)!),
        ];

    public string Text => JsonNode.Parse(Json)!["text"]?.GetValue<string>() ?? "";

    public Block[] Blocks => [.. (JsonNode.Parse(Json)!["blocks"]?.AsArray() ?? []).Select(b => BlockReader.Parse(b!.ToJsonString()))];

    public TakenPassage ToPassage(string fresh) =>
        new(new Id(fresh), Name, Blocks, JsonNode.Parse(Json)!["assets"].Deserialize<Asset[]>() ?? []);

    /// <summary>Its first words.</summary>
    public string Words => Kind == Variable ? Text : Blocks.Select(KeptOnce.FirstWords).FirstOrDefault(w => w.Length > 0) ?? "";

    /// <summary>Whether both say the same, whatever identities their blocks have.</summary>
    public bool SaysTheSame(KeptBody other)
    {
        static string Said(Block block) => BlockWriter.ToJson(block.Renamed(_ => new Id("x"), _ => new Id("x")));
        return Kind == Variable ? Text == other.Text : Blocks.Select(Said).SequenceEqual(other.Blocks.Select(Said));
    }
}
