using System.Text;
using System.Text.Encodings.Web;
using System.Text.Json;
using Kivren.Core.Content;

namespace Kivren.Formats.Package;

/// <summary>Writes blocks in the editor's own document form: the same JSON in the editor, the database and the package
/// (docs/package.md). Keys stand in a fixed order, so equal blocks give equal bytes.</summary>
public static class BlockWriter
{
    public static readonly JsonWriterOptions Options = new() { Indented = false, Encoder = JavaScriptEncoder.UnsafeRelaxedJsonEscaping };

    public static string ToJson(Block block)
    {
        using var stream = new MemoryStream();
        using (var json = new Utf8JsonWriter(stream, Options)) Write(json, block);
        return Encoding.UTF8.GetString(stream.GetBuffer(), 0, (int)stream.Length);
    }

    public static void Write(Utf8JsonWriter json, Block block)
    {
        json.WriteStartObject();
        switch (block)
        {
            case Paragraph p:
                Start(json, "paragraph", p);
                if (p.Role != "body") json.WriteString("role", p.Role);
                End(json);
                Spans(json, p.Content);
                break;
            case Head h:
                Start(json, "head", h);
                json.WriteString("level", h.Level.ToString());
                if (h.ShortTitle is not null) json.WriteString("shortTitle", h.ShortTitle);
                if (!h.Numbered) json.WriteBoolean("numbered", false);
                if (h.Listed != Listed.ByLook) json.WriteString("listed", Name(h.Listed));
                End(json);
                Spans(json, h.Content);
                break;
            case ItemList l:
                Start(json, "list", l);
                json.WriteString("kind", Name(l.Kind));
                if (l.Start != 1) json.WriteNumber("start", l.Start);
                End(json);
                Items(json, "item", l.Items);
                break;
            case Steps s:
                Start(json, "steps", s);
                if (s.Continues) json.WriteBoolean("continues", true);
                End(json);
                Items(json, "step", s.Items);
                break;
            case Admonition a:
                Start(json, "admonition", a);
                json.WriteString("kind", Name(a.Kind));
                End(json);
                Blocks(json, a.Blocks);
                break;
            case Table t:
                Start(json, "table", t);
                json.WriteNumber("headerRows", t.HeaderRows);
                json.WriteStartArray("columns");
                foreach (var column in t.Columns) json.WriteStringValue(Name(column));
                json.WriteEndArray();
                End(json);
                json.WriteStartArray("content");
                Caption(json, t.Caption);
                foreach (var row in t.Rows)
                {
                    json.WriteStartObject();
                    json.WriteString("type", "row");
                    Identity(json, row.Id);
                    json.WriteStartArray("content");
                    foreach (var cell in row.Cells)
                    {
                        json.WriteStartObject();
                        json.WriteString("type", "cell");
                        Identity(json, cell.Id);
                        Spans(json, cell.Content);
                        json.WriteEndObject();
                    }
                    json.WriteEndArray();
                    json.WriteEndObject();
                }
                json.WriteEndArray();
                break;
            case Figure f:
                Start(json, "figure", f);
                json.WriteString("asset", f.Asset);
                json.WriteString("alternative", f.Alternative);
                if (f.Placement != FigurePlacement.Here) json.WriteString("placement", Name(f.Placement));
                if (f.Width != 100) json.WriteNumber("width", f.Width);
                End(json);
                Spans(json, f.Caption);
                break;
            case Listing l:
                Start(json, "listing", l);
                if (l.Language.Length > 0) json.WriteString("language", l.Language);
                End(json);
                json.WriteStartArray("content");
                Caption(json, l.Caption);
                json.WriteStartObject();
                json.WriteString("type", "lines");
                Spans(json, l.Text.Length > 0 ? [new TextRun(l.Text)] : []);
                json.WriteEndObject();
                json.WriteEndArray();
                break;
            case ContentsList:
                Start(json, "contentsList", block);
                End(json);
                break;
            case IndexList:
                Start(json, "indexList", block);
                End(json);
                break;
            case PageBreak:
                Start(json, "pageBreak", block);
                End(json);
                break;
            default: throw new ArgumentException($"no form for {block.GetType().Name}", nameof(block));
        }
        json.WriteEndObject();
    }

    private static void Start(Utf8JsonWriter json, string type, Block block)
    {
        json.WriteString("type", type);
        json.WriteStartObject("attrs");
        json.WriteString("id", block.Id.Value);
        if (!block.AppliesTo.IsAlways)
        {
            json.WriteStartObject("appliesTo");
            WriteAxes(json, block.AppliesTo.Axes);
            json.WriteEndObject();
        }
    }

    private static void End(Utf8JsonWriter json) => json.WriteEndObject();

    internal static void WriteAxes(Utf8JsonWriter json, IReadOnlyList<AxisValues> axes)
    {
        // Sorted, for the database keeps no order of keys.
        foreach (var axis in axes.OrderBy(a => a.Axis, StringComparer.Ordinal))
        {
            json.WriteStartArray(axis.Axis);
            foreach (var value in axis.Values) json.WriteStringValue(value);
            json.WriteEndArray();
        }
    }

    private static void Identity(Utf8JsonWriter json, Id id)
    {
        json.WriteStartObject("attrs");
        json.WriteString("id", id.Value);
        json.WriteEndObject();
    }

    private static void Caption(Utf8JsonWriter json, IReadOnlyList<Inline> caption)
    {
        json.WriteStartObject();
        json.WriteString("type", "caption");
        Spans(json, caption);
        json.WriteEndObject();
    }

    private static void Items(Utf8JsonWriter json, string type, IReadOnlyList<Item> items)
    {
        json.WriteStartArray("content");
        foreach (var item in items)
        {
            json.WriteStartObject();
            json.WriteString("type", type);
            Identity(json, item.Id);
            Blocks(json, item.Blocks);
            json.WriteEndObject();
        }
        json.WriteEndArray();
    }

    private static void Blocks(Utf8JsonWriter json, IReadOnlyList<Block> blocks)
    {
        json.WriteStartArray("content");
        foreach (var block in blocks) Write(json, block);
        json.WriteEndArray();
    }

    private static void Spans(Utf8JsonWriter json, IReadOnlyList<Inline> spans)
    {
        if (spans.Count == 0) return;
        json.WriteStartArray("content");
        foreach (var inline in spans)
        {
            json.WriteStartObject();
            switch (inline)
            {
                case TextRun run:
                    json.WriteString("type", "text");
                    if (run.Roles != SpanRoles.None || run.Web is not null) Marks(json, run);
                    json.WriteString("text", run.Text);
                    break;
                case CrossReference x:
                    json.WriteString("type", "crossReference");
                    json.WriteStartObject("attrs");
                    json.WriteString("id", x.Id.Value);
                    json.WriteString("target", x.Target.Value);
                    json.WriteString("form", x.Form);
                    json.WriteEndObject();
                    break;
                case IndexEntry e:
                    json.WriteString("type", "indexEntry");
                    json.WriteStartObject("attrs");
                    json.WriteString("id", e.Id.Value);
                    json.WriteStartArray("headings");
                    foreach (var heading in e.Headings) json.WriteStringValue(heading);
                    json.WriteEndArray();
                    if (e.Kind != EntryKind.Point) json.WriteString("kind", Name(e.Kind));
                    if (e.Principal) json.WriteBoolean("principal", true);
                    if (e.FilesUnder is not null) json.WriteString("filesUnder", e.FilesUnder);
                    if (e.See is not null) json.WriteString("see", e.See);
                    if (e.SeeAlso is not null) json.WriteString("seeAlso", e.SeeAlso);
                    json.WriteEndObject();
                    break;
                case VariableUse v:
                    json.WriteString("type", "variable");
                    json.WriteStartObject("attrs");
                    json.WriteString("name", v.Name);
                    json.WriteEndObject();
                    break;
                case Anchor a:
                    json.WriteString("type", "anchor");
                    json.WriteStartObject("attrs");
                    json.WriteString("id", a.Id.Value);
                    json.WriteString("name", a.Name);
                    json.WriteEndObject();
                    break;
                case Footnote n:
                    json.WriteString("type", "footnote");
                    Identity(json, n.Id);
                    Spans(json, n.Content);
                    break;
                case LineBreak:
                    json.WriteString("type", "lineBreak");
                    break;
            }
            json.WriteEndObject();
        }
        json.WriteEndArray();
    }

    private static void Marks(Utf8JsonWriter json, TextRun run)
    {
        json.WriteStartArray("marks");
        foreach (var role in SpanRoleNames.All)
            if (run.Roles.HasFlag(role.Role))
            {
                json.WriteStartObject();
                json.WriteString("type", role.Name);
                json.WriteEndObject();
            }
        if (run.Web is not null)
        {
            json.WriteStartObject();
            json.WriteString("type", "web");
            json.WriteStartObject("attrs");
            json.WriteString("address", run.Web);
            json.WriteEndObject();
            json.WriteEndObject();
        }
        json.WriteEndArray();
    }

    /// <summary>Enumeration names are written with a small first letter.</summary>
    internal static string Name<T>(T value) where T : struct, Enum
    {
        var name = value.ToString();
        return char.ToLowerInvariant(name[0]) + name[1..];
    }
}

internal static class SpanRoleNames
{
    public static readonly (string Name, SpanRoles Role)[] All =
        [("emphasis", SpanRoles.Emphasis), ("strong", SpanRoles.Strong), ("control", SpanRoles.Control), ("code", SpanRoles.Code), ("term", SpanRoles.Term)];
}
