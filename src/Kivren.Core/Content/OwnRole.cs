namespace Kivren.Core.Content;

/// <summary>A role of the manual's own. It behaves like its foundation, has a name of its own, and wears the foundation's
/// dress unless the look has one for it.</summary>
/// <param name="Foundation">a paragraph role (body, lead …), a block kind (aside, admonition:warning …) or a span role
/// (control, code …), by the name that the package gives it</param>
public sealed record OwnRole(string Name, string Foundation)
{
    /// <summary>All that a role can be founded on.</summary>
    public static readonly IReadOnlySet<string> Foundations = new HashSet<string>(
        [
            "body",
            "lead",
            "quotation",
            "title",
            "subtitle",
            "imprint",
            "result",
            "paragraph",
            "caption",
            "aside",
            "example",
            "steps",
            "definitions",
            "table",
            "figure",
            "listing",
            "equation",
            .. Named<AdmonitionKind>("admonition"),
            .. Named<ListKind>("list"),
            .. Named<HeadLevel>("head"),
            .. Enum.GetNames<SpanRoles>().Select(n => char.ToLowerInvariant(n[0]) + n[1..]),
        ],
        StringComparer.OrdinalIgnoreCase
    );

    private static IEnumerable<string> Named<T>(string kind)
        where T : struct, Enum => Enum.GetNames<T>().Select(n => $"{kind}:{n}");
}
