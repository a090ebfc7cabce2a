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
        return Read(document.RootElement, []);
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
            WriteOwn(json, edition);
            json.WriteEndObject();
        }
        json.WriteEndArray();
    }

    internal static IReadOnlyList<Edition> Read(JsonElement editions, List<ReadProblem> problems) =>
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
                    Takes = ReadTakes(node),
                    Look = BlockReader.Text(node, "look"),
                    LookFile = BlockReader.Text(node, "lookFile"),
                    Language = BlockReader.Text(node, "language"),
                    Without = PackageReader.Strings(node, "without").ToArray(),
                    LeftOut = Enum.TryParse<LeftOutReads>(BlockReader.Text(node, "leftOut"), ignoreCase: true, out var leftOut)
                        ? leftOut
                        : default,
                    FilesCalled = BlockReader.Text(node, "filesCalled") ?? "",
                    GoesOutAs = [.. OwnListForm.Read<OutputChoice>(node, "goesOutAs", problems).DistinctBy(o => o.Kind)],
                })
                .ToArray();

    /// <summary>What only editions have that say it.</summary>
    private static void WriteOwn(Utf8JsonWriter json, Edition edition)
    {
        if (edition.Takes.Count > 0)
        {
            json.WriteStartArray("takes");
            foreach (var taken in edition.Takes)
            {
                json.WriteStartObject();
                json.WriteString("division", taken.Division.Value);
                if (taken.Sections.Count > 0)
                {
                    json.WriteStartArray("sections");
                    foreach (var id in taken.Sections)
                        json.WriteStringValue(id.Value);
                    json.WriteEndArray();
                }
                json.WriteEndObject();
            }
            json.WriteEndArray();
        }
        if (edition.Look is { } look)
            json.WriteString("look", look);
        if (edition.LookFile is { } file)
            json.WriteString("lookFile", file);
        if (edition.Language is { } language)
            json.WriteString("language", language);
        if (edition.Without.Count > 0)
        {
            json.WriteStartArray("without");
            foreach (var list in edition.Without)
                json.WriteStringValue(list);
            json.WriteEndArray();
        }
        if (edition.LeftOut != LeftOutReads.Words)
            json.WriteString("leftOut", edition.LeftOut == LeftOutReads.Manual ? "manual" : "nothing");
        if (edition.FilesCalled.Length > 0)
            json.WriteString("filesCalled", edition.FilesCalled);
        if (edition.GoesOutAs.Count > 0)
        {
            json.WritePropertyName("goesOutAs");
            json.WriteRawValue(OwnListForm.ToJson(edition.GoesOutAs));
        }
    }

    private static TakenDivision[] ReadTakes(JsonElement node) =>
        node.TryGetProperty("takes", out var takes) && takes.ValueKind == JsonValueKind.Array
            ?
            [
                .. takes
                    .EnumerateArray()
                    .Where(t => BlockReader.Text(t, "division") is not null)
                    .Select(t => new TakenDivision(
                        new Id(BlockReader.Text(t, "division")!),
                        [.. PackageReader.Strings(t, "sections").Select(s => new Id(s)).Distinct()]
                    ))
                    .DistinctBy(t => t.Division),
            ]
            : [];

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
