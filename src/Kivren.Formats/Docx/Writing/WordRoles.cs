using Kivren.Core.Content;
using Kivren.Formats.Import;

namespace Kivren.Formats.Docx.Writing;

/// <summary>The style that each role has in a word-processing file without a template: what a template's own styles are put in place
/// of. Roles are named as mappings name them.</summary>
internal static class WordRoles
{
    private static readonly Dictionary<string, WordStyle> Styles = Make();

    private static Dictionary<string, WordStyle> Make()
    {
        var styles = new Dictionary<string, WordStyle>(StringComparer.Ordinal)
        {
            ["part"] = WordStyleSheet.Part,
            ["chapter"] = WordStyleSheet.Division,
            ["headA"] = WordStyleSheet.HeadOf(HeadLevel.A),
            ["headB"] = WordStyleSheet.HeadOf(HeadLevel.B),
            ["headC"] = WordStyleSheet.HeadOf(HeadLevel.C),
            ["headD"] = WordStyleSheet.HeadOf(HeadLevel.D),
            [ImportRole.Body] = WordStyleSheet.Body,
            [ImportRole.Caption] = WordStyleSheet.Caption,
            [ImportRole.Listing] = WordStyleSheet.Listing,
            [ImportRole.Aside] = WordStyleSheet.Aside,
            [ImportRole.Example] = WordStyleSheet.Example,
            [ImportRole.DefinedTerm] = WordStyleSheet.Term,
            [ImportRole.Definition] = WordStyleSheet.Definition,
            [ImportRole.Bullets] = WordStyleSheet.Items[0],
            [ImportRole.Numbers] = WordStyleSheet.Items[1],
            [ImportRole.Letters] = WordStyleSheet.Items[2],
            [ImportRole.Steps] = WordStyleSheet.Items[3],
        };
        foreach (var role in new[] { "lead", "imprint", "result", "title", "subtitle", "quotation" })
            styles[role] = WordStyleSheet.RoleStyle(role);
        foreach (var kind in Enum.GetValues<AdmonitionKind>())
            styles[kind.ToString().ToLowerInvariant()] = WordStyleSheet.Of(kind);
        foreach (var role in Enum.GetValues<SpanRoles>())
            if (WordStyleSheet.Of(role) is { } style)
                styles[char.ToLowerInvariant(role.ToString()[0]) + role.ToString()[1..]] = style;
        return styles;
    }

    public static bool Has(string role) => Styles.ContainsKey(role);

    /// <summary>Null for a role of the manual's own that it does not have.</summary>
    public static WordStyle? Of(string role, Manual manual) =>
        Styles.TryGetValue(role, out var style) ? style
        : manual.Roles.Any(r => r.Name == role) ? WordStyleSheet.OwnStyle(role)
        : null;
}
