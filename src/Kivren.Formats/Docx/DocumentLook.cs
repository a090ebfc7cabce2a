using System.Globalization;
using System.Text.Json.Nodes;
using System.Text.RegularExpressions;
using System.Xml;
using System.Xml.Linq;
using DocumentFormat.OpenXml.Packaging;
using Kivren.Core.Looks;
using Kivren.Formats.Import;

namespace Kivren.Formats.Docx;

/// <summary>A look that was made of a document, and what of the document went into it or did not, in words.</summary>
/// <param name="Fonts">files that the document brought along and the look names</param>
public sealed record TakenLook(Look Look, IReadOnlyList<string> Report, IReadOnlyList<FontFile> Fonts);

/// <summary>Takes a look from a word-processor template or document (ISO/IEC 29500): paper, margins, columns, the dress of its styles,
/// running heads and feet. What such a document does not say is as in the look that ships first.</summary>
public sealed partial class DocumentLook
{
    private const double TwipsInPoint = 20;

    /// <summary>The place of the text’s own dress.</summary>
    internal const string Text = "dresses[0].dress";

    private readonly XElement? _styles,
        _fonts,
        _theme;
    private readonly List<string> _report = [];
    private readonly JsonNode _look = JsonNode.Parse(LookFile.Write(ShippedLooks.Workshop))!;

    private readonly ImportMapping _mapping;
    private readonly DocumentFonts _brought;

    private DocumentLook(MainDocumentPart main, ImportMapping mapping)
    {
        (_styles, _fonts, _theme) = (Root(main.StyleDefinitionsPart), Root(main.FontTablePart), Root(main.ThemePart));
        _mapping = mapping;
        _brought = DocumentFonts.Of(main.FontTablePart, _fonts, _report);
    }

    /// <param name="name">of the look</param>
    /// <param name="mappings">of styles to roles, as the writer kept them: the one that knows most of its styles is followed</param>
    /// <exception cref="SourceFormatException">the file is no such document, or is damaged or protected</exception>
    public static TakenLook Take(string file, byte[] bytes, string name, params IReadOnlyList<ImportMapping> mappings)
    {
        if (bytes.AsSpan().StartsWith((ReadOnlySpan<byte>)[0xD0, 0xCF, 0x11, 0xE0]))
            throw new SourceFormatException($"{file} is protected by a password, or is of the old binary form. Save it as .docx or .dotx.");
        ZipGuard.Check(file, bytes);
        try
        {
            using var document = WordprocessingDocument.Open(new MemoryStream(MissingParts.Mended(bytes).Bytes), false);
            var main = document.MainDocumentPart ?? throw new SourceFormatException($"{file} holds no document.");
            return new DocumentLook(main, Fitting(Root(main.StyleDefinitionsPart), mappings)).Take(main, name);
        }
        catch (Exception e)
            when (e
                    is InvalidDataException
                        or OpenXmlPackageException
                        or XmlException
                        or FileFormatException
                        or IOException
                        or InvalidOperationException
                        or ArgumentException
                        or UriFormatException
            )
        {
            throw new SourceFormatException($"{file} is damaged and cannot be read: {e.Message}");
        }
    }

    private static ImportMapping Fitting(XElement? styles, IReadOnlyList<ImportMapping> mappings)
    {
        var keys = styles.Many("style").Select(s => (s.Get("type") == "character" ? "c:" : "p:") + s.Val("name")).ToList();
        var best = mappings.MaxBy(m => keys.Count(m.Roles.ContainsKey));
        return best is not null && keys.Exists(best.Roles.ContainsKey) ? best : ImportMapping.None;
    }

    private static XElement? Root(OpenXmlPart? part)
    {
        if (part is null)
            return null;
        using var stream = part.GetStream();
        using var reader = XmlReader.Create(stream, new XmlReaderSettings { DtdProcessing = DtdProcessing.Prohibit, XmlResolver = null });
        return XDocument.Load(reader).Root;
    }

    private TakenLook Take(MainDocumentPart main, string name)
    {
        _look["name"] = name;
        if (_brought.Written is { Count: > 0 } faces)
            _look["faces"] = faces;
        var section = Root(main).One("body")?.Descendants().LastOrDefault(e => e.Name.LocalName == "sectPr");
        var fallback = LookFile.Read(_look.ToJsonString(), out _)!;
        Step("paper and margins", () => Page(section, Root(main.DocumentSettingsPart).On("mirrorMargins")));
        Step("running heads and feet", () => Running(main, section));
        if (_mapping.Name.Length > 0)
            _report.Add($"Styles are taken for roles as in the mapping “{_mapping.Name}”.");
        foreach (var (style, place, called) in StyleRoles.Of(_styles.Many("style"), DefaultStyle, _mapping))
            Step(called, () => Dress(style, Part(place), called, isBlock: IsOfBlocks(place)));
        if (DefaultStyle is null)
            Step("the text", () => Dress(null, Part(Text), "the text"));
        foreach (var style in _styles.Many("style").Where(s => s.Get("type") == "character"))
            if (StyleRoles.OfWords(style, _mapping) is { } role)
                Step($"words that are {role}", () => Words(style, role));
        var look = LookFile.Read(_look.ToJsonString(), out var faults) ?? fallback;
        _report.AddRange(faults.Select(f => f.ToString()));
        return new TakenLook(look, _report, _brought.Files);
    }

    /// <summary>Takes one thing; where it cannot be worn the look stays as it was, and that is told.</summary>
    private void Step(string called, Func<string?> take)
    {
        var before = _look.ToJsonString();
        var took = take();
        if (took is null)
            return;
        if (LookFile.Read(_look.ToJsonString(), out var faults) is not null)
            _report.Add($"{char.ToUpperInvariant(called[0])}{called[1..]}: {took}");
        else
        {
            _report.Add($"Not taken: {called}. {faults[0].Says}");
            var old = JsonNode.Parse(before)!.AsObject();
            foreach (var (key, value) in old)
                _look[key] = value?.DeepClone();
        }
    }

    private JsonObject Part(string place)
    {
        if (place.StartsWith("role:", StringComparison.Ordinal))
        {
            var rules = _look["dresses"]!.AsArray();
            var role = place["role:".Length..];
            var rule = rules.FirstOrDefault(r => (string?)r!["role"] == role && r["within"] is null && r["division"] is null);
            if (rule is null)
                rules.Add(rule = new JsonObject { ["role"] = role, ["dress"] = new JsonObject() });
            return rule["dress"]!.AsObject();
        }
        return place == Text ? _look["dresses"]![0]!["dress"]!.AsObject()
            : place.StartsWith("heads[", StringComparison.Ordinal) ? _look["heads"]![place[6] - '0']!.AsObject()
            : _look[place]!.AsObject();
    }

    // ---- pages ----

    private static double? Points(XElement? element, string name) => element.Number(name) / TwipsInPoint;

    private string? Page(XElement? section, bool mirrored)
    {
        if (Points(section.One("pgSz"), "w") is not { } width || Points(section.One("pgSz"), "h") is not { } height)
            return null;
        var margins = section.One("pgMar");
        var master = _look["masters"]![0]!.AsObject();
        var gutter = Points(margins, "gutter") ?? 0;
        (master["width"], master["height"]) = (width, height);
        (master["inner"], master["outer"]) = ((Points(margins, "left") ?? 72) + gutter, Points(margins, "right") ?? 72);
        (master["top"], master["foot"]) = (Math.Abs(Points(margins, "top") ?? 72), Math.Abs(Points(margins, "bottom") ?? 72));
        master["headTop"] = Points(margins, "header") ?? 36;
        master["footBaseline"] = Points(margins, "footer") ?? 36;
        master["mirrored"] = mirrored;
        if (section.One("cols").Number("num") is { } columns and > 1)
            (master["columns"], master["gutter"]) = (columns, Points(section.One("cols"), "space") ?? 18);
        return string.Create(
            CultureInfo.InvariantCulture,
            $"{width / 72 * 25.4:0} × {height / 72 * 25.4:0} mm{(mirrored ? ", margins mirrored" : "")}."
        );
    }

    private string? Running(MainDocumentPart main, XElement? section)
    {
        var first = section.On("titlePg");
        var even = Root(main.DocumentSettingsPart).On("evenAndOddHeaders");
        JsonArray? Fields(string type)
        {
            var fields = new JsonArray();
            foreach (var (reference, edge) in new[] { ("headerReference", "head"), ("footerReference", "foot") })
                if (section.Many(reference).FirstOrDefault(r => (r.Get("type") ?? "default") == type).Get("id") is { } id)
                    foreach (var field in FieldsOf(Root(main.GetPartById(id)), edge))
                        fields.Add(field);
            return fields.Count > 0 ? fields : null;
        }
        var usual = Fields("default");
        if (usual is null)
            return null;
        var masters = _look["masters"]!.AsArray();
        JsonObject Named(string name) => masters.First(m => (string?)m!["name"] == name)!.AsObject();
        Named("Right")["fields"] = usual.DeepClone();
        Named("Right").Remove("headRuleGap");
        Named("Left")["fields"] = (even ? Fields("even") : null) ?? usual.DeepClone();
        Named("Opening")["fields"] = (first ? Fields("first") : null) ?? usual.DeepClone();
        return string.Join("; ", usual.Select(f => (string)f!["pattern"]!)) + ".";
    }

    private IEnumerable<JsonObject> FieldsOf(XElement? part, string edge)
    {
        foreach (var paragraph in part.Many("p"))
        {
            // What stands between tabs stands left, in the middle and right.
            var pieces = Words(paragraph).Split('\t').Select(w => w.Trim()).ToList();
            if (pieces.Count > 3)
                pieces = [.. pieces.Where(p => p.Length > 0).Take(3)];
            var style = paragraph.One("pPr").Val("pStyle");
            var aligned = paragraph.One("pPr").Val("jc") ?? Property(style, "pPr", "jc").Get("val");
            for (var i = 0; i < pieces.Count; i++)
                if (pieces[i].Length > 0)
                {
                    var dress = new JsonObject
                    {
                        ["face"] = "sans",
                        ["size"] = 8,
                        ["leading"] = 10,
                    };
                    Dress(style, dress, "", isLine: true);
                    yield return new JsonObject
                    {
                        ["edge"] = edge,
                        ["place"] =
                            pieces.Count == 1
                                ? aligned switch
                                {
                                    "center" => "centre",
                                    "right" or "end" => "right",
                                    _ => "left",
                                }
                            : i == 0 ? "left"
                            : i == pieces.Count - 1 ? "right"
                            : "centre",
                        ["pattern"] = pieces[i].Length > 400 ? pieces[i][..400] : pieces[i],
                        ["dress"] = dress,
                    };
                }
        }
    }

    /// <summary>The words of a running line, its fields as sources.</summary>
    private static string Words(XElement paragraph)
    {
        var words = new System.Text.StringBuilder();
        var (depth, shows, instruction) = (0, true, "");
        foreach (var element in paragraph.Descendants())
            switch (element.Name.LocalName)
            {
                case "fldSimple":
                    words.Append(Source(element.Get("instr") ?? ""));
                    break;
                case "fldChar" when element.Get("fldCharType") == "begin":
                    (depth, shows, instruction) = (depth + 1, false, "");
                    break;
                case "fldChar" when element.Get("fldCharType") == "separate" && depth == 1:
                    words.Append(Source(instruction));
                    instruction = "";
                    break;
                case "fldChar" when element.Get("fldCharType") == "end":
                    if (depth == 1 && instruction.Length > 0)
                        words.Append(Source(instruction));
                    (depth, instruction) = (Math.Max(0, depth - 1), "");
                    shows = depth == 0;
                    break;
                case "instrText" when depth > 0:
                    instruction += element.Value;
                    break;
                case "t" when shows && !element.Ancestors().Any(a => a.Name.LocalName == "fldSimple"):
                    // Braces of the document are no sources.
                    words.Append(element.Value.Replace('{', '(').Replace('}', ')'));
                    break;
                case "tab" when element.Parent?.Name.LocalName == "r":
                    words.Append('\t');
                    break;
            }
        return words.ToString();
    }

    private static string Source(string instruction)
    {
        var said = instruction.Trim();
        var name = said.Split(' ', 2)[0].ToUpperInvariant();
        return name switch
        {
            "PAGE" => "{folio}",
            "NUMPAGES" or "SECTIONPAGES" => "{total}",
            "TITLE" => "{manual}",
            "STYLEREF" => HeadOf().Match(said) is { Success: true } level && level.Groups[1].Value != "1"
                ? $"{{head:{(char)('A' + Math.Min(3, level.Groups[1].Value[0] - '2'))}}}"
                : "{division}",
            _ => "",
        };
    }

    [GeneratedRegex("([1-5])")]
    private static partial Regex HeadOf();

    // ---- dress ----

    private string? DefaultStyle =>
        _styles.Many("style").FirstOrDefault(s => s.Get("type") == "paragraph" && s.Get("default") is "1" or "true").Get("styleId");

    /// <summary>The first element of this name in the style, those it is founded on, and the document's defaults.</summary>
    private XElement? Property(string? style, string properties, string name) =>
        Said(style, properties, name) ?? _styles.One("docDefaults").One(properties + "Default").One(properties).One(name);

    /// <summary>The first element of this name in the style and those it is founded on.</summary>
    private XElement? Said(string? style, string properties, string name)
    {
        var met = new HashSet<string>(StringComparer.Ordinal);
        for (var id = style; id is not null && met.Add(id); )
        {
            var element = _styles.Many("style").FirstOrDefault(s => s.Get("styleId") == id);
            if (element.One(properties).One(name) is { } found)
                return found;
            id = element.Val("basedOn");
        }
        return null;
    }

    /// <summary>Whether what stands there is a dress of paragraphs or heads, which have rules, tints and keeps.</summary>
    private static bool IsOfBlocks(string place) =>
        place == Text || place.StartsWith("heads[", StringComparison.Ordinal) || place.StartsWith("role:", StringComparison.Ordinal);

    private static bool IsOn(XElement? set) => set is not null && set.Get("val") is not ("0" or "false" or "off" or "none");

    /// <param name="isLine">one line alone: it has no spaces and no alignment of its own</param>
    private string? Dress(string? style, JsonObject dress, string called, bool isLine = false, bool isBlock = false)
    {
        if (style is null && called.Length > 0 && _styles.One("docDefaults") is null)
            return null;
        bool On(string name) => IsOn(Property(style, "rPr", name));
        var size = (Property(style, "rPr", "sz").Number("val") ?? 20) / 2.0;
        var (face, said) = Face(Property(style, "rPr", "rFonts"), On("b"), On("i"));
        dress["face"] = face;
        dress["size"] = size;
        var line = Property(style, "pPr", "spacing");
        var lines = line.Number("line");
        var leading =
            lines is not { } given ? size * 1.2
            : line.Get("lineRule") is "exact" or "atLeast" ? given / TwipsInPoint
            : size * 1.2 * given / 240.0;
        dress["leading"] = Math.Round(Math.Max(leading, size), 2);
        if (On("smallCaps"))
            dress["smallCapitals"] = true;
        if (On("caps"))
            dress["capitals"] = true;
        if (Points(Property(style, "rPr", "spacing"), "val") is { } tracking and not 0)
            dress["tracking"] = Math.Round(Math.Clamp(tracking, -5, 20), 2);
        if (Colour(Property(style, "rPr", "color").Get("val"), isLine ? "running heads" : called) is { } colour)
            dress["colour"] = colour;
        if (isBlock)
            Block(style, dress, called);
        if (!isLine)
        {
            dress["before"] = Math.Round(Math.Clamp((Points(line, "before") ?? 0), 0, 300), 2);
            dress["after"] = Math.Round(Math.Clamp((Points(line, "after") ?? 0), 0, 300), 2);
            var indent = Property(style, "pPr", "ind");
            dress["left"] = Math.Round(Math.Clamp((Points(indent, "left") ?? Points(indent, "start") ?? 0), 0, 300), 2);
            dress["firstIndent"] = Math.Round(
                Math.Clamp((Points(indent, "firstLine") ?? 0) - (Points(indent, "hanging") ?? 0), -200, 200),
                2
            );
            dress["alignment"] = Property(style, "pPr", "jc").Get("val") switch
            {
                "both" or "distribute" => "justified",
                "center" => "centred",
                "right" or "end" => "raggedLeft",
                _ => "ragged",
            };
        }
        return string.Create(CultureInfo.InvariantCulture, $"{said}, {size:0.##} on {(double)dress["leading"]!:0.##} points.");
    }

    /// <summary>What paragraphs and heads have besides: keeps, rules, a tint.</summary>
    private void Block(string? style, JsonObject dress, string called)
    {
        foreach (var (name, setting) in new[] { ("keepNext", "keepsNext"), ("keepLines", "together") })
            if (Said(style, "pPr", name) is { } keep)
                dress[setting] = IsOn(keep);
        var rules = Said(style, "pPr", "pBdr");
        foreach (var (name, setting) in new[] { ("top", "ruleAbove"), ("bottom", "ruleBelow") })
            if (rules.One(name) is { } rule && rule.Get("val") is not ("none" or "nil") && rule.Number("sz") is { } eighths and > 0)
            {
                dress[setting] = Math.Min(24, eighths / 8.0);
                dress["ruleGap"] = Math.Clamp(rule.Number("space") ?? 1, 0, 60);
                if (Colour(rule.Get("color"), called) is { } colour)
                    dress["ruleColour"] = colour;
            }
        if (Colour(Said(style, "pPr", "shd").Get("fill"), called + ", behind", isBehind: true) is { } tint)
            dress["tintColour"] = tint;
    }

    /// <summary>A character style as the dress of words of a role.</summary>
    private string? Words(XElement style, string role)
    {
        var id = style.Get("styleId");
        var fonts = Said(id, "rPr", "rFonts");
        var (bold, italic) = (IsOn(Said(id, "rPr", "b")), IsOn(Said(id, "rPr", "i")));
        var words = new JsonObject { ["role"] = role };
        if (fonts is not null || (bold && role != "strong") || (italic && role is not ("emphasis" or "term" or "foreign")))
            words["face"] = Face(fonts ?? Property(DefaultStyle, "rPr", "rFonts"), bold, italic).Face;
        if (Colour(Said(id, "rPr", "color").Get("val"), role) is { } colour)
            words["colour"] = colour;
        if (IsOn(Said(id, "rPr", "smallCaps")))
            words["smallCapitals"] = true;
        if (IsOn(Said(id, "rPr", "caps")))
            words["capitals"] = true;
        if (words.Count == 1 || Core.Looks.SpanDress.Kinds.ContainsKey(role) is false && style.Get("customStyle") is not ("1" or "true"))
            return null;
        var spans = _look["spans"] as JsonArray;
        if (spans is null)
            _look["spans"] = spans = [];
        if (spans.Any(s => (string?)s!["role"] == role))
            return null;
        spans.Add(words);
        return string.Join(", ", words.Where(w => w.Key != "role").Select(w => w.Value!.ToJsonString().Trim('"'))) + ".";
    }

    /// <summary>The look's name for a colour of the document; null for black, and for paper.</summary>
    /// <param name="use">what it is called by when it is met first</param>
    private string? Colour(string? hex, string use, bool isBehind = false)
    {
        if (hex is not { Length: 6 } || !int.TryParse(hex, NumberStyles.AllowHexSpecifier, CultureInfo.InvariantCulture, out var rgb))
            return null;
        if (isBehind ? rgb == 0xFFFFFF : rgb == 0)
            return null;
        var colours = _look["colours"] as JsonArray;
        if (colours is null)
            _look["colours"] = colours = [];
        var screen = "#" + hex.ToLowerInvariant();
        if (colours.FirstOrDefault(c => (string?)c!["screen"] == screen) is { } known)
            return (string)known["name"]!;
        var name = use.Length > 50 ? use[..50] : use;
        if (colours.Any(c => (string?)c!["name"] == name))
            name += " " + screen;
        var light = (299 * ((rgb >> 16) & 255) + 587 * ((rgb >> 8) & 255) + 114 * (rgb & 255)) / 2550;
        colours.Add(
            new JsonObject
            {
                ["name"] = name,
                ["screen"] = screen,
                // In black ink letters stay dark enough to be read, and what is behind them light enough.
                ["print"] = isBehind ? Math.Max(light, LightestInk) : Math.Min(light, DarkestInk),
            }
        );
        return name;
    }

    private const int DarkestInk = 40,
        LightestInk = 80;

    /// <summary>The face that came along; else the one that ships and is most like the one that the document names: its family of
    /// letters is what its table of fonts says.</summary>
    private (string Face, string Said) Face(XElement? fonts, bool bold, bool italic)
    {
        var name = fonts.Get("ascii") ?? fonts.Get("hAnsi");
        if (name is null && (fonts.Get("asciiTheme") ?? fonts.Get("hAnsiTheme")) is { } themed)
            name = _theme
                ?.Descendants()
                .FirstOrDefault(e => e.Name.LocalName == (themed.StartsWith("major", StringComparison.Ordinal) ? "majorFont" : "minorFont"))
                .One("latin")
                .Get("typeface");
        if (_brought.Named(name, bold, italic) is { } own)
            return (own, $"“{name}”");
        var family = _fonts.Many("font").FirstOrDefault(f => f.Get("name") == name).Val("family");
        var mono = _fonts.Many("font").FirstOrDefault(f => f.Get("name") == name).Val("pitch") == "fixed" || WordStyles.IsMono(fonts);
        var face =
            mono ? "code"
            : family == "roman"
                ? (
                    italic ? "serifItalic"
                    : bold ? "sansStrong"
                    : "serif"
                )
            : italic ? "sansItalic"
            : bold ? "sansStrong"
            : family is null && name is null ? "serif"
            : "sans";
        var usual = face switch
        {
            "code" => "the face of fixed width",
            "serif" or "serifItalic" => "the serif face",
            _ => "the sans face",
        };
        return (face, name is null ? usual : $"{usual} for “{name}”");
    }
}
