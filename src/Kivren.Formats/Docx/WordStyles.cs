using System.Globalization;
using System.Xml.Linq;
using Kivren.Core.Content;
using Kivren.Formats.Import;

namespace Kivren.Formats.Docx;

/// <summary>Names are matched without their namespace: the strict and the usual form of the format differ only there.</summary>
internal static class Named
{
    public static XElement? One(this XElement? element, string name) => element?.Elements().FirstOrDefault(e => e.Name.LocalName == name);

    public static IEnumerable<XElement> Many(this XElement? element, string name) =>
        element?.Elements().Where(e => e.Name.LocalName == name) ?? [];

    public static string? Get(this XElement? element, string name) =>
        element?.Attributes().FirstOrDefault(a => a.Name.LocalName == name)?.Value;

    public static string? Val(this XElement? element, string child) => element.One(child).Get("val");

    public static int? Number(this XElement? element, string name) =>
        int.TryParse(element.Get(name), NumberStyles.Integer, CultureInfo.InvariantCulture, out var n) ? n
        : double.TryParse(element.Get(name), CultureInfo.InvariantCulture, out var d) && Math.Abs(d) < 1e9 ? (int)d
        : null;

    /// <summary>A switch that stands, and does not say that it is off.</summary>
    public static bool On(this XElement? element, string child) =>
        element.One(child) is { } one && one.Get("val") is not ("0" or "false" or "off" or "none");
}

/// <summary>The styles of a word-processor document.</summary>
internal sealed class WordStyles
{
    private sealed record Style(string Name, string? BasedOn, XElement Element);

    private readonly Dictionary<string, Style> _styles = new(StringComparer.Ordinal);
    private readonly Dictionary<string, StyleFacts> _facts = new(StringComparer.Ordinal);

    public string? DefaultParagraph { get; }

    /// <summary>Of text that names none itself.</summary>
    public string? Language { get; }

    public WordStyles(XElement? root)
    {
        foreach (var element in root.Many("style"))
        {
            if (element.Get("styleId") is not { } id)
                continue;
            var name = element.Val("name") ?? id;
            _styles[id] = new Style(name, element.Val("basedOn"), element);
            if (element.Get("type") == "paragraph" && element.Get("default") is "1" or "true")
                DefaultParagraph ??= id;
        }
        Language = (DefaultParagraph is { } usual ? _styles[usual].Element.One("rPr").Val("lang") : null)
            ?? root.One("docDefaults").One("rPrDefault").One("rPr").Val("lang");
        foreach (var (id, style) in _styles)
            if (style.Element.Get("type") is "paragraph" or "character")
                _facts.TryAdd(style.Name, FactsOf(id));
    }

    public IReadOnlyDictionary<string, StyleFacts> Facts => _facts;

    /// <summary>A style's name; its id when the styles do not have it.</summary>
    public string NameOf(string? id) =>
        id is null ? ""
        : _styles.TryGetValue(id, out var style) ? style.Name
        : id;

    /// <summary>The style and those it is founded on, nearest first. A circle ends where it closes.</summary>
    private IEnumerable<Style> Chain(string? id)
    {
        var met = new HashSet<string>(StringComparer.Ordinal);
        while (id is not null && met.Add(id) && _styles.TryGetValue(id, out var style))
        {
            yield return style;
            id = style.BasedOn;
        }
    }

    /// <summary>The first element of this name that the style or one it is founded on has.</summary>
    public XElement? Property(string? id, string properties, string name) =>
        Chain(id).Select(s => s.Element.One(properties).One(name)).FirstOrDefault(e => e is not null);

    private StyleFacts FactsOf(string id)
    {
        var chain = Chain(id).ToArray();
        var level = Property(id, "pPr", "outlineLvl").Number("val") is { } outline and >= 0 and < 9 ? outline + 1 : (int?)null;
        return new StyleFacts(level)
        {
            Founded = chain.Skip(1).Where(s => s.Element.Get("default") is not ("1" or "true")).Select(s => s.Name).ToArray(),
            Mono = IsMono(Property(id, "rPr", "rFonts")),
        };
    }

    public static bool IsMono(XElement? fonts) =>
        (fonts.Get("ascii") ?? fonts.Get("hAnsi")) is { } face
        && (
            face.Contains("Courier", StringComparison.OrdinalIgnoreCase)
            || face.Contains("Mono", StringComparison.OrdinalIgnoreCase)
            || face.Contains("Consol", StringComparison.OrdinalIgnoreCase)
        );
}

/// <summary>Counts numbered paragraphs as the document does.</summary>
internal sealed class WordNumbering
{
    private readonly Dictionary<string, XElement> _abstract = new(StringComparer.Ordinal);
    private readonly Dictionary<string, XElement> _nums = new(StringComparer.Ordinal);
    private readonly Dictionary<string, int?[]> _counters = new(StringComparer.Ordinal);
    private readonly HashSet<string> _begun = new(StringComparer.Ordinal);

    public WordNumbering(XElement? root)
    {
        foreach (var element in root.Many("abstractNum"))
            if (element.Get("abstractNumId") is { } id)
                _abstract[id] = element;
        foreach (var element in root.Many("num"))
            if (element.Get("numId") is { } id)
                _nums[id] = element;
    }

    /// <summary>The paragraph's place in the list of this number, counted; null when there is no such list.</summary>
    public ListPlace? Next(string numId, int level)
    {
        level = Math.Clamp(level, 0, 8);
        if (
            !_nums.TryGetValue(numId, out var num)
            || num.Val("abstractNumId") is not { } abstractId
            || !_abstract.TryGetValue(abstractId, out var definition)
        )
            return null;
        var over = num.Many("lvlOverride").FirstOrDefault(o => o.Number("ilvl") == level);
        var lvl = over.One("lvl") ?? definition.Many("lvl").FirstOrDefault(l => l.Number("ilvl") == level);
        var format = lvl.Val("numFmt") ?? "decimal";
        if (format == "none" && string.IsNullOrEmpty(lvl.Val("lvlText")))
            return null;
        var kind = format switch
        {
            "bullet" or "none" => ListKind.Unordered,
            "lowerLetter" or "upperLetter" => ListKind.Alpha,
            "lowerRoman" or "upperRoman" => ListKind.Roman,
            _ => ListKind.Decimal,
        };
        if (!_counters.TryGetValue(abstractId, out var counter))
            _counters[abstractId] = counter = new int?[9];
        var start = lvl.One("start").Number("val") ?? 1;
        if (over.One("startOverride").Number("val") is { } restart && _begun.Add(numId + ":" + level))
            counter[level] = restart;
        else
            counter[level] = counter[level] is { } before ? before + 1 : start;
        for (var deeper = level + 1; deeper < 9; deeper++)
            counter[deeper] = null;
        return new ListPlace(abstractId, level, kind, kind == ListKind.Unordered ? 0 : Math.Clamp(counter[level] ?? 1, 0, 100_000));
    }
}
