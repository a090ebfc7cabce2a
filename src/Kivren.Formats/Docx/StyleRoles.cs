using System.Xml.Linq;
using Kivren.Formats.Import;

namespace Kivren.Formats.Docx;

/// <summary>A style of a document and what of a look it dresses.</summary>
/// <param name="Style">its id</param>
/// <param name="Place">of the dress in the look; role:NAME for a rule of a role</param>
/// <param name="Called">in the report</param>
internal sealed record StyleRole(string Style, string Place, string Called);

/// <summary>Finds for the styles of a document the roles that they dress: by a mapping of the writer's, by the names that the format
/// itself gives, by what their names say; and a role of its own for each other that somebody made.</summary>
internal static class StyleRoles
{
    /// <summary>More roles of their own are not taken from one document.</summary>
    private const int MostOwn = 24;

    /// <summary>Longer names are no roles'.</summary>
    private const int LongestName = 60;

    /// <summary>The place of the look that each role of a mapping dresses.</summary>
    private static readonly Dictionary<string, (string Place, string Called)> Places = new(StringComparer.Ordinal)
    {
        [ImportRole.Body] = (DocumentLook.Text, "the text"),
        ["chapter"] = ("divisionTitle", "division titles"),
        ["headA"] = ("heads[0]", "A heads"),
        ["headB"] = ("heads[1]", "B heads"),
        ["headC"] = ("heads[2]", "C heads"),
        ["headD"] = ("heads[3]", "D heads"),
        [ImportRole.Caption] = ("caption", "captions"),
        [ImportRole.Bullets] = ("listText", "lists"),
        [ImportRole.Listing] = ("listingText", "listings"),
        [ImportRole.Aside] = ("asideText", "asides"),
        [ImportRole.DefinedTerm] = ("term", "terms that are defined"),
        ["warning"] = ("admonitionText", "warnings"),
        ["lead"] = ("role:lead", "the role lead"),
        [ImportRole.Title] = ("role:title", "the role title"),
        ["subtitle"] = ("role:subtitle", "the role subtitle"),
        [ImportRole.Quotation] = ("role:quotation", "the role quotation"),
        ["imprint"] = ("role:imprint", "the role imprint"),
        ["result"] = ("role:result", "the role result"),
    };

    /// <summary>Names of styles in every language version of the format, and their roles.</summary>
    private static readonly Dictionary<string, string> Built = new(StringComparer.OrdinalIgnoreCase)
    {
        ["heading 1"] = "chapter",
        ["heading 2"] = "headA",
        ["heading 3"] = "headB",
        ["heading 4"] = "headC",
        ["heading 5"] = "headD",
        ["caption"] = ImportRole.Caption,
        ["list paragraph"] = ImportRole.Bullets,
        ["list bullet"] = ImportRole.Bullets,
        ["title"] = ImportRole.Title,
        ["subtitle"] = "subtitle",
        ["quote"] = ImportRole.Quotation,
    };

    /// <param name="text">id of the document's usual style</param>
    public static IReadOnlyList<StyleRole> Of(IEnumerable<XElement> styles, string? text, ImportMapping mapping)
    {
        var all = styles
            .Where(s => s.Get("type") == "paragraph" && s.Get("styleId") is not null)
            .Select(s => (Id: s.Get("styleId")!, Name: s.Val("name") ?? s.Get("styleId")!, IsOwn: s.Get("customStyle") is "1" or "true"))
            .ToList();
        var roles = new Dictionary<string, StyleRole>(StringComparer.Ordinal);
        void Take(string role, string style)
        {
            if (Places.TryGetValue(role, out var place))
                roles.TryAdd(place.Place, new StyleRole(style, place.Place, place.Called));
        }
        foreach (var style in all)
            if (mapping.Roles.TryGetValue("p:" + style.Name, out var role))
                Take(role, style.Id);
        if (text is not null)
            Take(ImportRole.Body, text);
        foreach (var style in all)
            if (Built.TryGetValue(style.Name, out var role))
                Take(role, style.Id);
        if (all.Find(s => s.Name.Equals("footnote text", StringComparison.OrdinalIgnoreCase)).Id is { } note)
            roles.TryAdd("noteText", new StyleRole(note, "noteText", "footnotes"));
        var own = new List<StyleRole>();
        foreach (var style in all.Where(s => s.IsOwn && !mapping.Roles.ContainsKey("p:" + s.Name)))
            if (Proposals.ForStyle(style.Name, null) is { Certain: true } proposed)
                Take(proposed.Level is { } level ? OfLevel(level) : proposed.Role, style.Id);
            else if (own.Count < MostOwn && style.Name.Length <= LongestName)
                own.Add(new StyleRole(style.Id, "role:" + style.Name, $"the role {style.Name}"));
        // The text first: what others do not say they have of it.
        return [.. roles.Values.OrderBy(r => r.Place == DocumentLook.Text ? 0 : 1), .. own];
    }

    /// <summary>The role of words that a character style gives; its own name where it says nothing else.</summary>
    public static string? OfWords(XElement style, ImportMapping mapping)
    {
        var name = style.Val("name") ?? "";
        if (mapping.Roles.TryGetValue("c:" + name, out var mapped))
            return mapped;
        var proposed = Proposals.ForSpan(name, null);
        return proposed.Certain ? proposed.Role
            : style.Get("customStyle") is "1" or "true" && name.Length is > 0 and <= LongestName ? name
            : null;
    }

    private static string OfLevel(int level) =>
        level switch
        {
            1 => "chapter",
            2 => "headA",
            3 => "headB",
            4 => "headC",
            _ => "headD",
        };
}
