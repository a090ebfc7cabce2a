using System.Text;
using System.Text.Json;
using Kivren.Core.Content;

namespace Kivren.Formats.Package;

/// <summary>Passages as JSON, in the package and in the database alike.</summary>
public static class PassageForm
{
    public static string ToJson(IReadOnlyList<Passage> passages)
    {
        using var stream = new MemoryStream();
        using (var json = new Utf8JsonWriter(stream, BlockWriter.Options))
        {
            json.WriteStartArray();
            Write(json, passages);
            json.WriteEndArray();
        }
        return Encoding.UTF8.GetString(stream.ToArray());
    }

    public static Passage[] Parse(string text)
    {
        using var document = JsonDocument.Parse(text, new JsonDocumentOptions { MaxDepth = 128 });
        return Read(document.RootElement);
    }

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
