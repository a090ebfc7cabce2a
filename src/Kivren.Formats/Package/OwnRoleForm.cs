using System.Text;
using System.Text.Json;
using Kivren.Core.Content;

namespace Kivren.Formats.Package;

/// <summary>Roles of a manual's own as JSON, in the package and in the database alike.</summary>
public static class OwnRoleForm
{
    public static string ToJson(IReadOnlyList<OwnRole> roles)
    {
        using var stream = new MemoryStream();
        using (var json = new Utf8JsonWriter(stream, BlockWriter.Options))
            Write(json, roles);
        return Encoding.UTF8.GetString(stream.ToArray());
    }

    public static OwnRole[] Parse(string text)
    {
        using var document = JsonDocument.Parse(text);
        return Read(document.RootElement);
    }

    internal static void Write(Utf8JsonWriter json, IReadOnlyList<OwnRole> roles)
    {
        json.WriteStartArray();
        foreach (var role in roles)
        {
            json.WriteStartObject();
            json.WriteString("name", role.Name);
            json.WriteString("foundation", role.Foundation);
            json.WriteEndObject();
        }
        json.WriteEndArray();
    }

    internal static OwnRole[] Read(JsonElement roles) =>
        roles.ValueKind != JsonValueKind.Array
            ? []
            : roles
                .EnumerateArray()
                .Where(r => BlockReader.Text(r, "name") is { Length: > 0 })
                .Select(r => new OwnRole(BlockReader.Text(r, "name")!, BlockReader.Text(r, "foundation") ?? "body"))
                .ToArray();
}
