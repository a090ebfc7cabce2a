using System.Text.Json;
using Kivren.Core.Content;

namespace Kivren.Formats.Package;

/// <summary>Passages as JSON, in the package.</summary>
public static class PassageForm
{
    internal static void Write(Utf8JsonWriter json, IReadOnlyList<Passage> passages)
    {
        foreach (var passage in passages)
        {
            json.WriteStartObject();
            json.WriteString("id", passage.Id.Value);
            json.WriteString("name", passage.Name);
            json.WriteStartArray("blocks");
            foreach (var block in passage.Blocks)
                BlockWriter.Write(json, block);
            json.WriteEndArray();
            json.WriteEndObject();
        }
    }

    /// <exception cref="BlockFormatException">a passage has no id, or a block of it cannot be read</exception>
    internal static Passage[] Read(JsonElement passages) =>
        passages.ValueKind != JsonValueKind.Array
            ? []
            : passages
                .EnumerateArray()
                .Select(node => new Passage(
                    new Id(BlockReader.Text(node, "id") ?? throw new BlockFormatException("A passage has no id.")),
                    BlockReader.Text(node, "name") ?? "",
                    node.TryGetProperty("blocks", out var blocks) && blocks.ValueKind == JsonValueKind.Array
                        ? blocks.EnumerateArray().Select(b => BlockReader.Read(b)).ToArray()
                        : []
                ))
                .ToArray();
}
