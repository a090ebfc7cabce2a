using System.Text.Json;
using Kivren.Core.Content;

namespace Kivren.Formats.Package;

/// <summary>A block that could not be read: what is wrong and in which block.</summary>
public sealed class BlockFormatException(string message) : FormatException(message);

/// <summary>Reads blocks from the editor's document form. Strict: what the model does not have is refused with the name
/// of what was met and the id of the block it was met in.</summary>
public static class BlockReader
{
    /// <summary>Deeper nesting than a manual can use is refused before it can exhaust the stack.</summary>
    private const int MostDepth = 24;

    public static Block Parse(string json)
    {
        try
        {
            using var document = JsonDocument.Parse(json, new JsonDocumentOptions { MaxDepth = 128 });
            return Read(document.RootElement);
        }
        catch (JsonException e)
        {
            throw new BlockFormatException($"This is not JSON: {e.Message}");
        }
        catch (Exception e) when (e is InvalidOperationException or FormatException and not BlockFormatException)
        {
            throw new BlockFormatException($"Something in this block is of another kind than it must be: {e.Message}");
        }
    }

    private const int MostAnswers = 200;

    private static NoteAnswer[] Answers(JsonElement attrs) =>
        attrs.TryGetProperty("answers", out var answers) && answers.ValueKind == JsonValueKind.Array
            ?
            [
                .. answers
                    .EnumerateArray()
                    .Where(a => a.ValueKind == JsonValueKind.Object)
                    .Take(MostAnswers)
                    .Select(a => new NoteAnswer(Text(a, "by") ?? "", Text(a, "text") ?? "")),
            ]
            : [];

    public static Block Read(JsonElement node, int depth = 0)
    {
        if (node.ValueKind != JsonValueKind.Object)
            throw new BlockFormatException("A block must be an object with a type.");
        var type = Text(node, "type") ?? throw new BlockFormatException("A block has no type.");
        var attrs = node.TryGetProperty("attrs", out var a) && a.ValueKind == JsonValueKind.Object ? a : default;
        var id = IdOf(attrs, type);
        if (depth > MostDepth)
            throw new BlockFormatException($"Block {id}: nested more than {MostDepth} deep.");
        Block block = type switch
        {
            "paragraph" => new Paragraph(id, Text(attrs, "role") ?? "body", Spans(node, id)),
            "head" => new Head(id, Parse<HeadLevel>(attrs, "level", id, HeadLevel.A), Spans(node, id))
            {
                ShortTitle = Text(attrs, "shortTitle") is { Length: > 0 } shortTitle ? shortTitle : null,
                Numbered = Flag(attrs, "numbered", true),
                Listed = Parse(attrs, "listed", id, Listed.ByLook),
                Printed = Flag(attrs, "printed", true),
            },
            "list" => new ItemList(
                id,
                Parse(attrs, "kind", id, ListKind.Unordered),
                Number(attrs, "start", 1),
                Items(node, "item", id, depth)
            )
            {
                Continues = Flag(attrs, "continues", false),
            },
            "steps" => new Steps(id, Flag(attrs, "continues", false), Items(node, "step", id, depth)),
            "admonition" => new Admonition(id, Parse(attrs, "kind", id, AdmonitionKind.Note), Blocks(node, depth)),
            "table" => ReadTable(node, attrs, id),
            "figure" => new Figure(id, Text(attrs, "asset") ?? "", Spans(node, id, inFigure: true), Text(attrs, "alternative") ?? "")
            {
                Plays = Text(attrs, "plays") is { } plays && WebAddress.Leads(plays) ? plays : null,
                Placement = Parse(attrs, "placement", id, FigurePlacement.Here),
                Width = Math.Clamp(Number(attrs, "width", 100), 5, 100),
            },
            "listing" => ReadListing(node, attrs, id),
            "aside" => Titled(node, depth, (title, blocks) =>
                new Aside(id, title, blocks) { Folds = Parse(attrs, "folds", id, Folding.No) }
            ),
            "example" => Titled(node, depth, (title, blocks) => new Example(id, title, blocks)),
            "definitions" => new DefinitionList(id, Parts(node, "definition", id, ReadDefinition(depth)))
            {
                Glossary = Flag(attrs, "glossary", false),
            },
            "references" => new ReferenceList(
                id,
                Parts(node, "document", id, (child, own) =>
                    new ReferredDocument(IdOf(own, "document"), Text(own, "designation") ?? "", Spans(child, id))
                    {
                        AppliesTo = Applies(own),
                    }
                )
            ),
            "equation" => new Equation(id, Text(attrs, "source") ?? "", Text(attrs, "alternative") ?? "")
            {
                Numbered = Flag(attrs, "numbered", true),
            },
            "passageUse" => new PassageUse(id, Text(attrs, "passage") ?? ""),
            "contentsList" => new ContentsList(id, Text(attrs, "list") ?? "contents"),
            "indexList" => new IndexList(id),
            "pageBreak" => new PageBreak(id, Parse(attrs, "to", id, BreakTo.Page)),
            _ => throw new BlockFormatException($"Block {id}: there is no block kind “{type}”."),
        };
        var (applies, own, fixedBy) = (Applies(attrs), Text(attrs, "ownRole"), Text(attrs, "fixedBy"));
        return applies.IsAlways && own is null && fixedBy is null
            ? block
            : block with
            {
                AppliesTo = applies,
                OwnRole = own,
                FixedBy = fixedBy,
            };
    }

    private static AppliesTo Applies(JsonElement attrs) =>
        attrs.ValueKind == JsonValueKind.Object
        && attrs.TryGetProperty("appliesTo", out var applies)
        && applies.ValueKind == JsonValueKind.Object
            ? new AppliesTo(ReadAxes(applies))
            : AppliesTo.Always;

    private static T[] Parts<T>(JsonElement node, string type, Id block, Func<JsonElement, JsonElement, T> read) =>
        Children(node)
            .Select(child =>
                Text(child, "type") == type
                    ? read(child, Attrs(child))
                    : throw new BlockFormatException($"Block {block}: there is no “{Text(child, "type")}” in it, only {type}.")
            )
            .ToArray();

    private static Block Titled(JsonElement node, int depth, Func<IReadOnlyList<Inline>, Block[], Block> make)
    {
        var id = IdOf(Attrs(node), "block");
        var title = Children(node).Where(c => Text(c, "type") == "caption").Select(c => Spans(c, id)).FirstOrDefault() ?? [];
        return make(title, Children(node).Where(c => Text(c, "type") != "caption").Select(c => Read(c, depth + 1)).ToArray());
    }

    private static Func<JsonElement, JsonElement, Definition> ReadDefinition(int depth) =>
        (child, own) =>
        {
            var id = IdOf(own, "definition");
            var term = Children(child).Where(c => Text(c, "type") == "definedTerm").Select(c => Spans(c, id)).FirstOrDefault() ?? [];
            return new Definition(
                id,
                term,
                Children(child).Where(c => Text(c, "type") != "definedTerm").Select(c => Read(c, depth + 1)).ToArray()
            )
            {
                AppliesTo = Applies(own),
            };
        };

    internal static List<AxisValues> ReadAxes(JsonElement axes) =>
        axes.EnumerateObject()
            .Where(p => p.Value.ValueKind == JsonValueKind.Array)
            .Select(p => new AxisValues(
                p.Name,
                p.Value.EnumerateArray().Where(v => v.ValueKind == JsonValueKind.String).Select(Whole).ToArray()
            ))
            .ToList();

    private static Table ReadTable(JsonElement node, JsonElement attrs, Id id)
    {
        IReadOnlyList<Inline> caption = [];
        var rows = new List<Row>();
        foreach (var child in Children(node))
        {
            if (Text(child, "type") == "caption")
                caption = Spans(child, id);
            else if (Text(child, "type") == "row")
            {
                var own = Attrs(child);
                rows.Add(new Row(IdOf(own, "row"), Parts(child, "cell", id, (c, cell) => new Cell(IdOf(cell, "cell"), Spans(c, id))
                            {
                                ColumnSpan = Math.Clamp(Number(cell, "columns", 1), 1, 1000),
                                RowSpan = Math.Clamp(Number(cell, "rows", 1), 1, 100_000),
                                Alignment = Text(cell, "alignment") is null ? null : Parse(cell, "alignment", id, CellAlignment.Left),
                            })) { AppliesTo = Applies(own), Group = Flag(own, "group", false) });
            }
            else
                throw new BlockFormatException($"Table {id}: there is no “{Text(child, "type")}” in a table.");
        }
        var columns =
            attrs.TryGetProperty("columns", out var c2) && c2.ValueKind == JsonValueKind.Array
                ? c2.EnumerateArray()
                    .Select(c => Enum.TryParse<CellAlignment>(c.ToString(), true, out var alignment) ? alignment : CellAlignment.Left)
                    .ToArray()
                : [];
        return new Table(id, Math.Clamp(Number(attrs, "headerRows", 0), 0, rows.Count), columns, caption, rows)
        {
            Widths = PackageReader.Strings(attrs, "widths").Select(w => ReadWidth(w, id)).ToArray(),
            HeaderColumn = Flag(attrs, "headerColumn", false),
            MayTurn = Flag(attrs, "mayTurn", true),
        };
    }

    private static ColumnWidth ReadWidth(string text, Id table)
    {
        if (text == "content")
            return ColumnWidth.ByContent;
        var parts = text.Split(' ');
        return
            parts.Length == 2
            && Enum.TryParse<WidthKind>(parts[0], true, out var kind)
            && int.TryParse(parts[1], System.Globalization.CultureInfo.InvariantCulture, out var amount)
            && amount is > 0 and <= 1_000_000
            ? new ColumnWidth(kind, amount)
            : throw new BlockFormatException($"Table {table}: “{text}” is no column width.");
    }

    private static Listing ReadListing(JsonElement node, JsonElement attrs, Id id)
    {
        IReadOnlyList<Inline> caption = [];
        var text = "";
        foreach (var child in Children(node))
        {
            if (Text(child, "type") == "caption")
                caption = Spans(child, id);
            else
                text = string.Concat(Children(child).Select(t => Text(t, "text") ?? ""));
        }
        return new Listing(id, Text(attrs, "language") ?? "", text, caption)
        {
            LineNumbers = Flag(attrs, "lineNumbers", false),
            Marked =
                attrs.TryGetProperty("marked", out var marked) && marked.ValueKind == JsonValueKind.Array
                    ? marked
                        .EnumerateArray()
                        .Select(m => m.ValueKind == JsonValueKind.Number && m.TryGetInt32(out var line) ? line : 0)
                        .Where(line => line > 0)
                        .ToArray()
                    : [],
        };
    }

    private static readonly JsonElement NoAttributes = JsonDocument.Parse("{}").RootElement;

    private static JsonElement Attrs(JsonElement node) =>
        node.ValueKind == JsonValueKind.Object && node.TryGetProperty("attrs", out var attrs) && attrs.ValueKind == JsonValueKind.Object
            ? attrs
            : NoAttributes;

    private static IEnumerable<JsonElement> Children(JsonElement node) =>
        node.ValueKind == JsonValueKind.Object
        && node.TryGetProperty("content", out var content)
        && content.ValueKind == JsonValueKind.Array
            ? content.EnumerateArray()
            : [];

    private static Item[] Items(JsonElement node, string type, Id list, int depth) =>
        Parts(node, type, list, (child, own) => new Item(IdOf(own, type), Blocks(child, depth)) { AppliesTo = Applies(own) });

    private static Block[] Blocks(JsonElement node, int depth) => Children(node).Select(child => Read(child, depth + 1)).ToArray();

    /// <param name="inAtom">the words of a note or an area, in which no other stands</param>
    /// <param name="inFigure">the caption of a figure, whose picture may have areas</param>
    private static List<Inline> Spans(JsonElement node, Id block, bool inAtom = false, bool inFigure = false)
    {
        var spans = new List<Inline>();
        foreach (var child in Children(node))
        {
            var attrs = Attrs(child);
            switch (Text(child, "type"))
            {
                case "text":
                    var (roles, web, own, applies) = Marks(child, block);
                    var text = Text(child, "text") ?? "";
                    // Runs alike are one run, so that equal text is equal content.
                    if (
                        spans.Count > 0
                        && spans[^1] is TextRun last
                        && last.Roles == roles
                        && last.Web == web
                        && last.OwnRole == own
                        && last.AppliesTo.IsAlways
                        && applies.IsAlways
                    )
                        spans[^1] = last with { Text = last.Text + text };
                    else if (text.Length > 0)
                        spans.Add(new TextRun(text, roles, web) { AppliesTo = applies, OwnRole = own });
                    break;
                case "crossReference":
                    spans.Add(
                        new CrossReference(
                            IdOf(attrs, "crossReference"),
                            new Id(Text(attrs, "target") ?? ""),
                            Text(attrs, "form") ?? "page"
                        )
                        {
                            Other = OtherPlaceOf(attrs),
                        }
                    );
                    break;
                case "indexEntry":
                    var headings = PackageReader.Strings(attrs, "headings").Where(t => t.Length > 0).Take(3).ToArray();
                    spans.Add(
                        new IndexEntry(IdOf(attrs, "indexEntry"), headings, Parse(attrs, "kind", block, EntryKind.Point))
                        {
                            Principal = Flag(attrs, "principal", false),
                            FilesUnder = Text(attrs, "filesUnder") is { Length: > 0 } f ? f : null,
                            See = Text(attrs, "see") is { Length: > 0 } s ? s : null,
                            SeeAlso = Text(attrs, "seeAlso") is { Length: > 0 } sa ? sa : null,
                        }
                    );
                    break;
                case "variable":
                    spans.Add(new VariableUse(Text(attrs, "name") ?? ""));
                    break;
                case "anchor":
                    spans.Add(new Anchor(IdOf(attrs, "anchor"), Text(attrs, "name") ?? ""));
                    break;
                case "inlineEquation":
                    spans.Add(
                        new InlineEquation(IdOf(attrs, "inlineEquation"), Text(attrs, "source") ?? "", Text(attrs, "alternative") ?? "")
                    );
                    break;
                case "inlinePicture":
                    spans.Add(
                        new InlinePicture(IdOf(attrs, "inlinePicture"), Text(attrs, "asset") ?? "", Text(attrs, "alternative") ?? "")
                    );
                    break;
                case "writerNote":
                    spans.Add(
                        new WriterNote(IdOf(attrs, "writerNote"), Text(attrs, "by") ?? "", Text(attrs, "text") ?? "")
                        {
                            Words = Text(attrs, "words") ?? "",
                            IsDone = attrs.TryGetProperty("done", out var done) && done.ValueKind == JsonValueKind.True,
                            Answers = Answers(attrs),
                        }
                    );
                    break;
                case "lineBreak":
                    spans.Add(LineBreak.Instance);
                    break;
                case "footnote" when inAtom:
                    throw new BlockFormatException($"Block {block}: a footnote stands in a footnote.");
                case "footnote":
                    spans.Add(
                        new Footnote(IdOf(attrs, "footnote"), Spans(child, block, inAtom: true))
                        {
                            Shown = Parse(attrs, "shown", block, NoteShown.Note),
                        }
                    );
                    break;
                case "figureArea" when !inFigure:
                    throw new BlockFormatException($"Block {block}: an area of a picture stands outside a figure’s caption.");
                case "figureArea":
                    var box = new AreaBox(
                        Number(attrs, "left", 0),
                        Number(attrs, "top", 0),
                        Number(attrs, "width", AreaBox.Whole),
                        Number(attrs, "height", AreaBox.Whole)
                    );
                    spans.Add(new FigureArea(IdOf(attrs, "area"), box.Inside(), Spans(child, block, inAtom: true)));
                    break;
                case var other:
                    throw new BlockFormatException($"Block {block}: there is no span “{other}”.");
            }
        }
        return spans;
    }

    private static (SpanRoles Roles, string? Web, string? Own, AppliesTo Applies) Marks(JsonElement node, Id block)
    {
        var roles = SpanRoles.None;
        string? web = null,
            own = null;
        var applies = AppliesTo.Always;
        if (!node.TryGetProperty("marks", out var marks) || marks.ValueKind != JsonValueKind.Array)
            return (roles, web, own, applies);
        foreach (var mark in marks.EnumerateArray())
        {
            var type = Text(mark, "type");
            if (type == "web")
                web = Text(Attrs(mark), "address");
            else if (type == "ownRole")
                own = Text(Attrs(mark), "name");
            else if (type == "applies")
                applies = Applies(Attrs(mark));
            else
            {
                var role = SpanRoleNames.All.FirstOrDefault(r => r.Name == type).Role;
                if (role == SpanRoles.None)
                    throw new BlockFormatException($"Block {block}: there is no span role “{type}”.");
                roles |= role;
            }
        }
        return (roles, web, own, applies);
    }

    private static Id IdOf(JsonElement attrs, string what) =>
        Text(attrs, "id") is { Length: > 0 and <= 64 } id ? new Id(id) : throw new BlockFormatException($"A {what} has no id.");

    /// <exception cref="BlockFormatException">the text holds half a character, or the character zero, which no database takes</exception>
    private static OtherPlace? OtherPlaceOf(JsonElement attrs) =>
        attrs.ValueKind == JsonValueKind.Object
        && attrs.TryGetProperty("other", out var other)
        && Text(other, "manual") is { Length: > 0 } manual
            ? new OtherPlace(
                manual,
                Text(other, "manualTitle") ?? "",
                Text(other, "name") ?? "",
                Text(other, "number") ?? "",
                Text(other, "title") ?? "",
                Text(other, "folio") ?? ""
            )
            : null;

    internal static string? Text(JsonElement node, string name) =>
        node.ValueKind == JsonValueKind.Object && node.TryGetProperty(name, out var value) && value.ValueKind == JsonValueKind.String
            ? Whole(value)
            : null;

    internal static string Whole(JsonElement value)
    {
        try
        {
            var text = value.GetString()!;
            return text.Contains('\0', StringComparison.Ordinal)
                ? throw new BlockFormatException("A text holds the character zero; no text does.")
                : text;
        }
        catch (InvalidOperationException)
        {
            throw new BlockFormatException("A text holds half a character: it was cut within one.");
        }
    }

    internal static int Number(JsonElement node, string name, int otherwise) =>
        node.ValueKind == JsonValueKind.Object
        && node.TryGetProperty(name, out var value)
        && value.ValueKind == JsonValueKind.Number
        && value.TryGetInt32(out var number)
            ? number
            : otherwise;

    internal static bool Flag(JsonElement node, string name, bool otherwise) =>
        node.ValueKind == JsonValueKind.Object
        && node.TryGetProperty(name, out var value)
        && value.ValueKind is JsonValueKind.True or JsonValueKind.False
            ? value.GetBoolean()
            : otherwise;

    private static T Parse<T>(JsonElement attrs, string name, Id block, T otherwise)
        where T : struct, Enum =>
        Text(attrs, name) is not { } text ? otherwise
        : Enum.TryParse<T>(text, ignoreCase: true, out var value) && Enum.IsDefined(value) ? value
        : throw new BlockFormatException($"Block {block}: “{text}” is no {name}.");
}
