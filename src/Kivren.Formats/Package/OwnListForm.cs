using System.Text.Json;
using System.Text.Json.Serialization;
using Kivren.Core;
using Kivren.Core.Content;

namespace Kivren.Formats.Package;

/// <summary>A manual's own contents lists, the dress of its index, and what its writers decided once, as JSON: in the package, in
/// the database and in the API alike. Measures are in points.</summary>
public static class OwnListForm
{
    private sealed class Points : JsonConverter<Length>
    {
        public override Length Read(ref Utf8JsonReader reader, Type typeToConvert, JsonSerializerOptions options) =>
            Length.Points(Math.Clamp(reader.GetDouble(), -10_000, 10_000));

        public override void Write(Utf8JsonWriter writer, Length value, JsonSerializerOptions options) =>
            writer.WriteNumberValue(Math.Round((decimal)value.Millipoints / 1000, 3));
    }

    private sealed class Identity : JsonConverter<Id>
    {
        public override Id Read(ref Utf8JsonReader reader, Type typeToConvert, JsonSerializerOptions options) =>
            new(reader.GetString() ?? "");

        public override void Write(Utf8JsonWriter writer, Id value, JsonSerializerOptions options) => writer.WriteStringValue(value.Value);
    }

    public static readonly JsonSerializerOptions Options = new(JsonSerializerDefaults.Web)
    {
        Encoder = BlockWriter.Options.Encoder,
        DefaultIgnoreCondition = JsonIgnoreCondition.WhenWritingNull,
        Converters = { new Points(), new Identity(), new JsonStringEnumConverter(JsonNamingPolicy.CamelCase, allowIntegerValues: false) },
        RespectNullableAnnotations = true,
        RespectRequiredConstructorParameters = true,
    };

    public static string ToJson<T>(T value) => JsonSerializer.Serialize(value, Options);

    public static T Parse<T>(string json) => JsonSerializer.Deserialize<T>(json, Options)!;

    internal static void Write<T>(Utf8JsonWriter json, string name, IReadOnlyCollection<T> values)
    {
        if (values.Count == 0)
            return;
        json.WritePropertyName(name);
        JsonSerializer.Serialize(json, values, Options);
    }

    /// <summary>What can be read of a list; a value that says nothing readable is left out, and told.</summary>
    internal static List<T> Read<T>(JsonElement root, string name, List<ReadProblem> problems)
        where T : class
    {
        var read = new List<T>();
        if (!root.TryGetProperty(name, out var values) || values.ValueKind != JsonValueKind.Array)
            return read;
        foreach (var value in values.EnumerateArray())
            if (ReadOne<T>(value, name, problems) is { } one)
                read.Add(one);
        return read;
    }

    internal static T? ReadOne<T>(JsonElement value, string name, List<ReadProblem> problems)
        where T : class
    {
        try
        {
            var one = value.Deserialize<T>(Options);
            var fault = one switch
            {
                null => "It says nothing.",
                OwnList list => list.Fault(),
                OwnIndexDress dress => dress.Fault(),
                OutputChoice output => output.Fault(),
                _ => null,
            };
            if (fault is null)
                return one;
            problems.Add(new ReadProblem("manual.json", $"{name}: {fault} It is left out."));
        }
        catch (JsonException e)
        {
            problems.Add(new ReadProblem("manual.json", $"{name} cannot be read and is left out: {e.Message}"));
        }
        return null;
    }
}
