using System.Text.Encodings.Web;
using System.Text.Json;
using System.Text.Json.Nodes;
using Kivren.Core.Content;

namespace Kivren.Core.Looks;

/// <summary>What a look's file can say, as JSON Schema (draft 2020-12): docs/look.schema.json.</summary>
public static class LookSchema
{
    private static readonly JsonSerializerOptions Readable = new()
    {
        WriteIndented = true,
        NewLine = "\n",
        Encoder = JavaScriptEncoder.UnsafeRelaxedJsonEscaping,
    };

    public static string Write()
    {
        var parts = new SortedDictionary<string, JsonNode>(StringComparer.Ordinal);
        var look = Part(typeof(Look), parts);
        var properties = (JsonObject)look["properties"]!;
        properties.Insert(0, "kivrenLook", new JsonObject { ["const"] = LookFile.Version, ["description"] = "version of this form" });
        properties["faceFiles"] = new JsonObject
        {
            ["type"] = "object",
            ["additionalProperties"] = Typed("string"),
            ["description"] = "font files by their hashes, base64, in a look that is given away",
        };
        look.Insert(0, "$schema", "https://json-schema.org/draft/2020-12/schema");
        look.Insert(1, "title", "A look of Kivren");
        ((JsonArray)look["required"]!).Insert(0, "kivrenLook");
        look["$defs"] = new JsonObject(parts.Select(p => KeyValuePair.Create<string, JsonNode?>(p.Key, p.Value)));
        return look.ToJsonString(Readable) + "\n";
    }

    private static JsonObject Part(System.Type type, SortedDictionary<string, JsonNode> parts)
    {
        var properties = new JsonObject();
        var needed = new JsonArray();
        foreach (var property in LookPart.Of(type).Properties)
        {
            // A role's dress leaves to its foundation what it does not say.
            var value =
                type == typeof(DressRule) && property.Type == typeof(Dress)
                    ? Ref("roleDress", parts, () => DressPart(isFounded: true, DressPlace.Block, parts))
                    : Value(property.Type, LookSettings.Of(type, property.Name), parts, DressForm.PlaceOf(type, property.Name));
            properties[property.Name] = Described(OrNull(value, LookPart.MayBeNull(property.Info)), type, property.Name);
            // A page layout can have it from the one that it is based on.
            if (property.IsNeeded && (type != typeof(PageMaster) || property.Name == "name"))
                needed.Add(property.Name);
        }
        return Closed(properties, needed);
    }

    private static JsonObject OrNull(JsonObject value, bool mayBeNull) =>
        mayBeNull ? new JsonObject { ["anyOf"] = new JsonArray(value, Typed("null")) } : value;

    private static JsonObject Closed(JsonObject properties, JsonArray needed) =>
        new()
        {
            ["type"] = "object",
            ["properties"] = properties,
            ["required"] = needed,
            ["additionalProperties"] = false,
        };

    private static JsonObject Described(JsonObject value, System.Type part, string name)
    {
        value["description"] = LookSettings.Of(part, name).Words;
        return value;
    }

    private static JsonObject Typed(string type) => new() { ["type"] = type };

    private static JsonObject Ref(string name, SortedDictionary<string, JsonNode> parts, Func<JsonNode> make)
    {
        if (!parts.ContainsKey(name))
        {
            parts[name] = new JsonObject();
            parts[name] = make();
        }
        return new JsonObject { ["$ref"] = "#/$defs/" + name };
    }

    private static JsonObject Choices(System.Type type) =>
        new() { ["enum"] = new JsonArray([.. Enum.GetNames(type).Select(n => (JsonNode)LookPart.InFile(n))]) };

    private static JsonObject Value(
        System.Type type,
        LookSetting setting,
        SortedDictionary<string, JsonNode> parts,
        DressPlace dressed = DressPlace.Words
    )
    {
        type = Nullable.GetUnderlyingType(type) ?? type;
        if (type == typeof(Length))
            return new JsonObject
            {
                ["anyOf"] = new JsonArray(
                    new JsonObject
                    {
                        ["type"] = "number",
                        ["minimum"] = setting.Least,
                        ["maximum"] = setting.Most,
                    },
                    new JsonObject { ["type"] = "string", ["pattern"] = @"^\s*-?[0-9.]+\s*(pt|mm|cm|in)$" }
                ),
            };
        if (type == typeof(bool))
            return Typed("boolean");
        if (type == typeof(int))
            return new JsonObject
            {
                ["type"] = "integer",
                ["minimum"] = setting.Least,
                ["maximum"] = setting.Most,
            };
        if (type == typeof(string))
            return new JsonObject { ["type"] = "string", ["maxLength"] = setting.Most };
        if (type.IsEnum)
            return Choices(type);
        if (type == typeof(Dress))
            return Ref(DressForm.Called(dressed), parts, () => DressPart(isFounded: false, dressed, parts));
        if (type == typeof(IReadOnlyDictionary<DivisionKind, PageSequence>))
            return new JsonObject
            {
                ["type"] = "object",
                ["propertyNames"] = Choices(typeof(DivisionKind)),
                ["additionalProperties"] = Value(typeof(PageSequence), setting, parts),
            };
        if (type.IsGenericType)
            return new JsonObject { ["type"] = "array", ["items"] = Value(type.GetGenericArguments()[0], setting, parts, dressed) };
        return Ref(LookPart.InFile(type.Name), parts, () => Part(type, parts));
    }

    private static JsonObject DressPart(bool isFounded, DressPlace dressed, SortedDictionary<string, JsonNode> parts)
    {
        var properties = new JsonObject();
        foreach (var setting in DressForm.At(dressed))
            properties[setting.Name] = Described(
                OrNull(Value(setting.Type, LookSettings.Of(typeof(Dress), setting.Name), parts), setting.MayBeNull),
                typeof(Dress),
                setting.Name
            );
        return Closed(properties, isFounded ? [] : [.. DressForm.Settings.Where(s => s.IsNeeded).Select(s => (JsonNode)s.Name)]);
    }
}
