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
        using (var json = new Utf8JsonWriter(stream, Options))
            Write(json, block);
        return Encoding.UTF8.GetString(stream.GetBuffer(), 0, (int)stream.Length);
    }

    public static void Write(Utf8JsonWriter json, Block block)
    {
        json.WriteStartObject();
        switch (block)
        {
            case Paragraph p:
                Start(json, "paragraph", p);
                if (p.Role != "body")
                    json.WriteString("role", p.Role);
                End(json);
                Spans(json, p.Content);
                break;
            case Head h:
                Start(json, "head", h);
                json.WriteString("level", h.Level.ToString());
                if (h.ShortTitle is not null)
                    json.WriteString("shortTitle", h.ShortTitle);
                if (!h.Numbered)
                    json.WriteBoolean("numbered", false);
                if (h.Listed != Listed.ByLook)
                    json.WriteString("listed", Name(h.Listed));
                if (!h.Printed)
                    json.WriteBoolean("printed", false);
                End(json);
                Spans(json, h.Content);
                break;
            case ItemList l:
                Start(json, "list", l);
                json.WriteString("kind", Name(l.Kind));
                if (l.Start != 1)
                    json.WriteNumber("start", l.Start);
                if (l.Continues)
                    json.WriteBoolean("continues", true);
                End(json);
                Items(json, "item", l.Items);
                break;
            case Steps s:
                Start(json, "steps", s);
                if (s.Continues)
                    json.WriteBoolean("continues", true);
                End(json);
                Items(json, "step", s.Items);
                break;
            case Admonition a:
                Start(json, "admonition", a);
                json.WriteString("kind", Name(a.Kind));
                End(json);
                Blocks(json, a.Blocks);
                break;
            case Aside aside:
                Start(json, "aside", aside);
                if (aside.Folds != Folding.No)
                    json.WriteString("folds", Name(aside.Folds));
                End(json);
                Titled(json, aside.Title, aside.Blocks);
                break;
            case Example example:
                Start(json, "example", example);
                End(json);
                Titled(json, example.Title, example.Blocks);
                break;
            case DefinitionList d:
                Start(json, "definitions", d);
                if (d.Glossary)
                    json.WriteBoolean("glossary", true);
                End(json);
                Parts(
                    json,
                    d.Definitions,
                    "definition",
                    x => x.Id,
                    x => x.AppliesTo,
                    null,
                    x =>
                    {
                        json.WriteStartArray("content");
                        Part(json, "definedTerm", x.Term);
                        foreach (var inner in x.Blocks)
                            Write(json, inner);
                        json.WriteEndArray();
                    }
                );
                break;
            case ReferenceList r:
                Start(json, "references", r);
                End(json);
                Parts(
                    json,
                    r.Documents,
                    "document",
                    x => x.Id,
                    x => x.AppliesTo,
                    x => json.WriteString("designation", x.Designation),
                    x => Spans(json, x.Title)
                );
                break;
            case Equation e:
                Start(json, "equation", e);
                json.WriteString("source", e.Source);
                json.WriteString("alternative", e.Alternative);
                if (!e.Numbered)
                    json.WriteBoolean("numbered", false);
                End(json);
                break;
            case PassageUse use:
                Start(json, "passageUse", use);
                json.WriteString("passage", use.Passage);
                End(json);
                break;
            case Table t:
                Start(json, "table", t);
                json.WriteNumber("headerRows", t.HeaderRows);
                json.WriteStartArray("columns");
                foreach (var column in t.Columns)
                    json.WriteStringValue(Name(column));
                json.WriteEndArray();
                if (t.Widths.Count > 0)
                {
                    json.WriteStartArray("widths");
                    foreach (var width in t.Widths)
                        json.WriteStringValue(
                            width.Kind == WidthKind.ByContent
                                ? "content"
                                : string.Create(System.Globalization.CultureInfo.InvariantCulture, $"{Name(width.Kind)} {width.Amount}")
                        );
                    json.WriteEndArray();
                }
                if (t.HeaderColumn)
                    json.WriteBoolean("headerColumn", true);
                if (!t.MayTurn)
                    json.WriteBoolean("mayTurn", false);
                End(json);
                json.WriteStartArray("content");
                Part(json, "caption", t.Caption);
                foreach (var row in t.Rows)
                {
                    json.WriteStartObject();
                    json.WriteString("type", "row");
                    json.WriteStartObject("attrs");
                    json.WriteString("id", row.Id.Value);
                    Applies(json, row.AppliesTo);
                    if (row.Group)
                        json.WriteBoolean("group", true);
                    json.WriteEndObject();
                    Parts(
                        json,
                        row.Cells,
                        "cell",
                        c => c.Id,
                        _ => AppliesTo.Always,
                        c =>
                        {
                            if (c.ColumnSpan != 1)
                                json.WriteNumber("columns", c.ColumnSpan);
                            if (c.RowSpan != 1)
                                json.WriteNumber("rows", c.RowSpan);
                            if (c.Alignment is { } alignment)
                                json.WriteString("alignment", Name(alignment));
                        },
                        c => Spans(json, c.Content)
                    );
                    json.WriteEndObject();
                }
                json.WriteEndArray();
                break;
            case Figure f:
                Start(json, "figure", f);
                json.WriteString("asset", f.Asset);
                json.WriteString("alternative", f.Alternative);
                if (f.Placement != FigurePlacement.Here)
                    json.WriteString("placement", Name(f.Placement));
                if (f.Width != 100)
                    json.WriteNumber("width", f.Width);
                if (f.Plays is not null)
                    json.WriteString("plays", f.Plays);
                End(json);
                Spans(json, f.Caption);
                break;
            case Listing l:
                Start(json, "listing", l);
                if (l.Language.Length > 0)
                    json.WriteString("language", l.Language);
                if (l.LineNumbers)
                    json.WriteBoolean("lineNumbers", true);
                if (l.Marked.Count > 0)
                {
                    json.WriteStartArray("marked");
                    foreach (var line in l.Marked)
                        json.WriteNumberValue(line);
                    json.WriteEndArray();
                }
                End(json);
                json.WriteStartArray("content");
                Part(json, "caption", l.Caption);
                json.WriteStartObject();
                json.WriteString("type", "lines");
                Spans(json, l.Text.Length > 0 ? [new TextRun(l.Text)] : []);
                json.WriteEndObject();
                json.WriteEndArray();
                break;
            case ContentsList contents:
                Start(json, "contentsList", block);
                if (contents.List != "contents")
                    json.WriteString("list", contents.List);
                End(json);
                break;
            case IndexList:
                Start(json, "indexList", block);
                End(json);
                break;
            case PageBreak pageBreak:
                Start(json, "pageBreak", block);
                if (pageBreak.To != BreakTo.Page)
                    json.WriteString("to", Name(pageBreak.To));
                End(json);
                break;
            default:
                throw new ArgumentException($"no form for {block.GetType().Name}", nameof(block));
        }
        json.WriteEndObject();
    }

    private static void Start(Utf8JsonWriter json, string type, Block block)
    {
        json.WriteString("type", type);
        json.WriteStartObject("attrs");
        json.WriteString("id", block.Id.Value);
        Applies(json, block.AppliesTo);
        if (block.OwnRole is not null)
            json.WriteString("ownRole", block.OwnRole);
        if (block.FixedBy is not null)
            json.WriteString("fixedBy", block.FixedBy);
    }

    internal static void Applies(Utf8JsonWriter json, AppliesTo appliesTo)
    {
        if (appliesTo.IsAlways)
            return;
        json.WriteStartObject("appliesTo");
        WriteAxes(json, appliesTo.Axes);
        json.WriteEndObject();
    }

    private static void End(Utf8JsonWriter json) => json.WriteEndObject();

    internal static void WriteAxes(Utf8JsonWriter json, IReadOnlyList<AxisValues> axes)
    {
        // Sorted, for the database keeps no order of keys.
        foreach (var axis in axes.OrderBy(a => a.Axis, StringComparer.Ordinal))
        {
            json.WriteStartArray(axis.Axis);
            foreach (var value in axis.Values)
                json.WriteStringValue(value);
            json.WriteEndArray();
        }
    }

    private static void Identity(Utf8JsonWriter json, Id id)
    {
        json.WriteStartObject("attrs");
        json.WriteString("id", id.Value);
        json.WriteEndObject();
    }

    /// <summary>A node of spans alone: a caption, a term.</summary>
    private static void Part(Utf8JsonWriter json, string type, IReadOnlyList<Inline> spans)
    {
        json.WriteStartObject();
        json.WriteString("type", type);
        Spans(json, spans);
        json.WriteEndObject();
    }

    private static void Titled(Utf8JsonWriter json, IReadOnlyList<Inline> title, IReadOnlyList<Block> blocks)
    {
        json.WriteStartArray("content");
        Part(json, "caption", title);
        foreach (var block in blocks)
            Write(json, block);
        json.WriteEndArray();
    }

    private static void Items(Utf8JsonWriter json, string type, IReadOnlyList<Item> items) =>
        Parts(json, items, type, i => i.Id, i => i.AppliesTo, null, i => Blocks(json, i.Blocks));

    /// <summary>The parts of a block that carry identities of their own.</summary>
    private static void Parts<T>(
        Utf8JsonWriter json,
        IReadOnlyList<T> parts,
        string type,
        Func<T, Id> id,
        Func<T, AppliesTo> applies,
        Action<T>? attributes,
        Action<T> content
    )
    {
        json.WriteStartArray("content");
        foreach (var part in parts)
        {
            json.WriteStartObject();
            json.WriteString("type", type);
            json.WriteStartObject("attrs");
            json.WriteString("id", id(part).Value);
            Applies(json, applies(part));
            attributes?.Invoke(part);
            json.WriteEndObject();
            content(part);
            json.WriteEndObject();
        }
        json.WriteEndArray();
    }

    private static void Blocks(Utf8JsonWriter json, IReadOnlyList<Block> blocks)
    {
        json.WriteStartArray("content");
        foreach (var block in blocks)
            Write(json, block);
        json.WriteEndArray();
    }

    private static void Spans(Utf8JsonWriter json, IReadOnlyList<Inline> spans)
    {
        if (spans.Count == 0)
            return;
        json.WriteStartArray("content");
        foreach (var inline in spans)
        {
            json.WriteStartObject();
            switch (inline)
            {
                case TextRun run:
                    json.WriteString("type", "text");
                    if (run.Roles != SpanRoles.None || run.Web is not null || run.OwnRole is not null || !run.AppliesTo.IsAlways)
                        Marks(json, run);
                    json.WriteString("text", run.Text);
                    break;
                case CrossReference x:
                    json.WriteString("type", "crossReference");
                    json.WriteStartObject("attrs");
                    json.WriteString("id", x.Id.Value);
                    json.WriteString("target", x.Target.Value);
                    json.WriteString("form", x.Form);
                    if (x.Other is { } other)
                        Other(json, other);
                    json.WriteEndObject();
                    break;
                case IndexEntry e:
                    json.WriteString("type", "indexEntry");
                    json.WriteStartObject("attrs");
                    json.WriteString("id", e.Id.Value);
                    json.WriteStartArray("headings");
                    foreach (var heading in e.Headings)
                        json.WriteStringValue(heading);
                    json.WriteEndArray();
                    if (e.Kind != EntryKind.Point)
                        json.WriteString("kind", Name(e.Kind));
                    if (e.Principal)
                        json.WriteBoolean("principal", true);
                    if (e.FilesUnder is not null)
                        json.WriteString("filesUnder", e.FilesUnder);
                    if (e.See is not null)
                        json.WriteString("see", e.See);
                    if (e.SeeAlso is not null)
                        json.WriteString("seeAlso", e.SeeAlso);
                    json.WriteEndObject();
                    break;
                case VariableUse v:
                    Atom(json, "variable", ("name", v.Name));
                    break;
                case Anchor a:
                    Atom(json, "anchor", ("id", a.Id.Value), ("name", a.Name));
                    break;
                case Footnote n:
                    json.WriteString("type", "footnote");
                    json.WriteStartObject("attrs");
                    json.WriteString("id", n.Id.Value);
                    if (n.Shown != NoteShown.Note)
                        json.WriteString("shown", Name(n.Shown));
                    json.WriteEndObject();
                    Spans(json, n.Content);
                    break;
                case FigureArea area:
                    json.WriteString("type", "figureArea");
                    json.WriteStartObject("attrs");
                    json.WriteString("id", area.Id.Value);
                    json.WriteNumber("left", area.Box.Left);
                    json.WriteNumber("top", area.Box.Top);
                    json.WriteNumber("width", area.Box.Width);
                    json.WriteNumber("height", area.Box.Height);
                    json.WriteEndObject();
                    Spans(json, area.Content);
                    break;
                case InlineEquation e:
                    Atom(json, "inlineEquation", ("id", e.Id.Value), ("source", e.Source), ("alternative", e.Alternative));
                    break;
                case InlinePicture p:
                    Atom(json, "inlinePicture", ("id", p.Id.Value), ("asset", p.Asset), ("alternative", p.Alternative));
                    break;
                case WriterNote n:
                    json.WriteString("type", "writerNote");
                    json.WriteStartObject("attrs");
                    json.WriteString("id", n.Id.Value);
                    json.WriteString("by", n.By);
                    json.WriteString("text", n.Text);
                    if (n.Words.Length > 0)
                        json.WriteString("words", n.Words);
                    if (n.IsDone)
                        json.WriteBoolean("done", true);
                    if (n.Answers.Count > 0)
                    {
                        json.WriteStartArray("answers");
                        foreach (var answer in n.Answers)
                        {
                            json.WriteStartObject();
                            json.WriteString("by", answer.By);
                            json.WriteString("text", answer.Text);
                            json.WriteEndObject();
                        }
                        json.WriteEndArray();
                    }
                    json.WriteEndObject();
                    break;
                case LineBreak:
                    json.WriteString("type", "lineBreak");
                    break;
            }
            json.WriteEndObject();
        }
        json.WriteEndArray();
    }

    /// <summary>An inline that is all attributes and no text.</summary>
    private static void Atom(Utf8JsonWriter json, string type, params ReadOnlySpan<(string Name, string Value)> attributes)
    {
        json.WriteString("type", type);
        json.WriteStartObject("attrs");
        foreach (var (name, value) in attributes)
            json.WriteString(name, value);
        json.WriteEndObject();
    }

    private static void Other(Utf8JsonWriter json, OtherPlace other)
    {
        json.WriteStartObject("other");
        json.WriteString("manual", other.Manual);
        json.WriteString("manualTitle", other.ManualTitle);
        json.WriteString("name", other.Name);
        json.WriteString("number", other.Number);
        json.WriteString("title", other.Title);
        json.WriteString("folio", other.Folio);
        json.WriteEndObject();
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
        if (run.OwnRole is not null)
        {
            json.WriteStartObject();
            json.WriteString("type", "ownRole");
            json.WriteStartObject("attrs");
            json.WriteString("name", run.OwnRole);
            json.WriteEndObject();
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
        if (!run.AppliesTo.IsAlways)
        {
            json.WriteStartObject();
            json.WriteString("type", "applies");
            json.WriteStartObject("attrs");
            Applies(json, run.AppliesTo);
            json.WriteEndObject();
            json.WriteEndObject();
        }
        json.WriteEndArray();
    }

    /// <summary>Enumeration names are written with a small first letter.</summary>
    public static string Name<T>(T value)
        where T : struct, Enum
    {
        var name = value.ToString();
        return char.ToLowerInvariant(name[0]) + name[1..];
    }
}

internal static class SpanRoleNames
{
    public static readonly (string Name, SpanRoles Role)[] All =
    [
        ("emphasis", SpanRoles.Emphasis),
        ("strong", SpanRoles.Strong),
        ("control", SpanRoles.Control),
        ("code", SpanRoles.Code),
        ("term", SpanRoles.Term),
        ("key", SpanRoles.Key),
        ("partNumber", SpanRoles.PartNumber),
        ("product", SpanRoles.Product),
        ("foreign", SpanRoles.Foreign),
        ("sub", SpanRoles.Sub),
        ("sup", SpanRoles.Sup),
        ("smallCaps", SpanRoles.SmallCaps),
        ("noBreak", SpanRoles.NoBreak),
    ];
}
