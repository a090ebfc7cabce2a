using System.Text.Json;
using Kivren.Formats.Package;

namespace Kivren.Formats.Import;

/// <summary>What is cleaned away or turned into what it stood for; each can be switched off.</summary>
public enum Cleaning
{
    EmptyParagraphs,
    PageBreaks,
    Spaces,
    TabTables,
    TypedNumbers,
    GeneratedLists,
    TrackedChanges,
    Comments,
    Furniture,
}

/// <summary>How the styles and look-alikes of a source document become roles. Kept by name on the shelf, exported as a
/// file, and read by <c>kivren import --roles</c>.</summary>
public sealed record ImportMapping(string Name)
{
    public static readonly ImportMapping None = new("");
    private const int Schema = 1;

    /// <summary>Role names by the key of a mapping line: p:STYLE, g:STYLE, c:STYLE or look:KIND.</summary>
    public IReadOnlyDictionary<string, string> Roles { get; init; } = new Dictionary<string, string>();
    public IReadOnlySet<Cleaning> Off { get; init; } = new HashSet<Cleaning>();

    /// <summary>What the files become where no paragraph begins a division: chapter, appendix or preface.</summary>
    public string Becomes { get; init; } = "chapter";

    public string ToJson()
    {
        using var stream = new MemoryStream();
        using (var json = new Utf8JsonWriter(stream, BlockWriter.Options with { Indented = true, NewLine = "\n" }))
        {
            json.WriteStartObject();
            json.WriteNumber("mapping", Schema);
            json.WriteString("name", Name);
            json.WriteString("becomes", Becomes);
            json.WriteStartObject("roles");
            foreach (var (key, role) in Roles.OrderBy(r => r.Key, StringComparer.Ordinal))
                json.WriteString(key, role);
            json.WriteEndObject();
            json.WriteStartArray("off");
            foreach (var off in Off.Order())
                json.WriteStringValue(BlockWriter.Name(off));
            json.WriteEndArray();
            json.WriteEndObject();
        }
        return System.Text.Encoding.UTF8.GetString(stream.ToArray());
    }

    /// <exception cref="SourceFormatException">it is no mapping, or of a later schema</exception>
    public static ImportMapping Parse(string text)
    {
        try
        {
            using var document = JsonDocument.Parse(text);
            var root = document.RootElement;
            var schema = BlockReader.Number(root, "mapping", 0);
            if (schema != Schema)
                throw new SourceFormatException(
                    schema == 0
                        ? "This file is no mapping: it has no “mapping” number."
                        : $"This mapping is of schema {schema}; this version reads schema {Schema}."
                );
            return new ImportMapping(BlockReader.Text(root, "name") ?? "")
            {
                Becomes =
                    BlockReader.Text(root, "becomes") is { } becomes && ImportRole.DivisionOf(becomes) is not null ? becomes : "chapter",
                Roles =
                    root.TryGetProperty("roles", out var roles) && roles.ValueKind == JsonValueKind.Object
                        ? roles
                            .EnumerateObject()
                            .Where(r => r.Value.ValueKind == JsonValueKind.String && ImportRole.Exists(r.Value.GetString()!))
                            .GroupBy(r => r.Name)
                            .ToDictionary(g => g.Key, g => g.Last().Value.GetString()!, StringComparer.Ordinal)
                        : new Dictionary<string, string>(),
                Off = PackageReader
                    .Strings(root, "off")
                    .Select(o => Enum.TryParse<Cleaning>(o, true, out var c) ? c : (Cleaning?)null)
                    .OfType<Cleaning>()
                    .ToHashSet(),
            };
        }
        catch (JsonException e)
        {
            throw new SourceFormatException($"This mapping is no JSON: {e.Message}");
        }
    }

    /// <summary>How many of a document's lines this mapping knows.</summary>
    public int Fits(IEnumerable<MappingLine> lines) => lines.Count(l => Roles.ContainsKey(l.Key));
}

/// <summary>A style or look-alike found: how often, some of its words, and what it becomes.</summary>
/// <param name="Key">p:STYLE for paragraphs, g:STYLE for groups and lists, c:STYLE for characters, look:KIND for look-alikes</param>
/// <param name="Label">as shown</param>
/// <param name="Sample">words of its first paragraph</param>
/// <param name="Why">why this role was proposed</param>
/// <param name="Certain">false where the writer should choose</param>
public sealed record MappingLine(string Key, string Label, int Count, string Sample, string Role, string Why, bool Certain)
{
    public RoleUse Use => Key.StartsWith("c:", StringComparison.Ordinal) ? RoleUse.Span : RoleUse.Paragraph;
}
