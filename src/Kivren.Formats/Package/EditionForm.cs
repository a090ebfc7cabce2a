using System.Text;
using System.Text.Json;
using Kivren.Core.Content;

namespace Kivren.Formats.Package;

/// <summary>Editions, variables and conditions as JSON, in the package and in the database alike.</summary>
public static class EditionForm
{
    public static string ToJson(IReadOnlyList<Edition> editions) => Written(json => Write(json, editions));

    public static string ToJson(AppliesTo appliesTo) =>
        Written(json =>
        {
            json.WriteStartObject();
            BlockWriter.WriteAxes(json, appliesTo.Axes);
            json.WriteEndObject();
        });

    public static IReadOnlyList<Edition> ParseEditions(string text)
    {
        using var document = JsonDocument.Parse(text);
        return Read(document.RootElement);
    }

    public static AppliesTo ParseAppliesTo(string text)
    {
        using var document = JsonDocument.Parse(text);
        var axes = BlockReader.ReadAxes(document.RootElement);
        return axes.Count == 0 ? AppliesTo.Always : new AppliesTo(axes);
    }

    private static string Written(Action<Utf8JsonWriter> write)
    {
        using var stream = new MemoryStream();
        using (var json = new Utf8JsonWriter(stream, BlockWriter.Options))
            write(json);
        return Encoding.UTF8.GetString(stream.ToArray());
    }

    internal static void Write(Utf8JsonWriter json, IReadOnlyList<Edition> editions)
    {
        json.WriteStartArray();
        foreach (var edition in editions)
        {
            json.WriteStartObject();
            json.WriteString("name", edition.Name);
            json.WriteStartObject("chosen");
            BlockWriter.WriteAxes(json, edition.Chosen);
            json.WriteEndObject();
            json.WriteStartArray("leavesOut");
            foreach (var id in edition.LeavesOut)
                json.WriteStringValue(id.Value);
            json.WriteEndArray();
            WriteVariables(json, edition.Variables);
            json.WriteEndObject();
        }
        json.WriteEndArray();
    }

    internal static IReadOnlyList<Edition> Read(JsonElement editions) =>
        editions.ValueKind != JsonValueKind.Array
            ? []
            : editions
                .EnumerateArray()
                .Select(node => new Edition(BlockReader.Text(node, "name") ?? "Edition")
                {
                    Chosen =
                        node.TryGetProperty("chosen", out var chosen) && chosen.ValueKind == JsonValueKind.Object
                            ? BlockReader.ReadAxes(chosen)
                            : [],
                    LeavesOut = PackageReader.Strings(node, "leavesOut").Select(s => new Id(s)).ToArray(),
                    Variables = ReadVariables(node),
                })
                .ToArray();

    internal static void WriteVariables(Utf8JsonWriter json, IReadOnlyList<NamedText> variables)
    {
        json.WriteStartObject("variables");
        foreach (var variable in variables.OrderBy(v => v.Name, StringComparer.Ordinal))
            json.WriteString(variable.Name, variable.Text);
        json.WriteEndObject();
    }

    internal static NamedText[] ReadVariables(JsonElement node) =>
        node.TryGetProperty("variables", out var v) && v.ValueKind == JsonValueKind.Object
            ? v.EnumerateObject().Select(p => new NamedText(p.Name, p.Value.ToString())).ToArray()
            : [];
}
