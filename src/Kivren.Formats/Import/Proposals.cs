using System.Text.RegularExpressions;

namespace Kivren.Formats.Import;

/// <summary>Proposes a role for a style by what the source says of it and by its name.</summary>
internal static class Proposals
{
    /// <summary>Where the format itself leaves no doubt, looks tell nothing.</summary>
    private const string ByKind = "by its kind";

    /// <param name="Level">an outline level, where it is a head</param>
    /// <param name="Certain">false where nothing speaks for the role</param>
    public sealed record Proposal(string Role, string Why, int? Level = null, bool Certain = true)
    {
        /// <summary>Its paragraphs may look like something else.</summary>
        public bool IsPlain => Role == ImportRole.Body && Level is null && Why != ByKind;
    }

    private static readonly (Regex Name, string Role)[] Names =
    [
        .. new (string, string)[]
        {
            (@"^(toc|contents?|table of (contents|figures)|index|list of \w+)( ?\d+| heading)?$", ImportRole.LeftOut),
            (@"^(header|footer|page number|running (head|foot))", ImportRole.LeftOut),
            (@"\bdefin(ition|ed) ?term\b|^term$", ImportRole.DefinedTerm),
            (@"^definition\b", ImportRole.Definition),
            (@"\bsub-?title\b", "subtitle"),
            (@"\b(danger)\b", "danger"),
            (@"\b(warning|warnung)\b", "warning"),
            (@"\b(caution|attention)\b", "caution"),
            (@"\b(notice|important)\b", "notice"),
            (@"\b(note|remark)s?\b(?!.*(foot|end))", "note"),
            (@"\b(tip|hint)s?\b", "tip"),
            (@"caption|^(figure|table|image) ?(title|label|text)$|legend", ImportRole.Caption),
            (@"\btitle$", ImportRole.Title),
            (@"\b(list )?bullets?\b|\bdots?\b|\bdash(es|ed)?\b|^list paragraph bullet|unordered|itemi[sz]ed", ImportRole.Bullets),
            (@"\b(steps?|procedures?|instructions?)\b", ImportRole.Steps),
            (@"\blist numbers?\b|\bnumber(ed|s)?( list)?\b|ordered", ImportRole.Numbers),
            (@"\blist letters?\b|\bletter(ed|s)\b", ImportRole.Letters),
            (@"\b(block ?quote|quot(e|ation)|block ?text|intense quote)s?\b", ImportRole.Quotation),
            (@"code|listing|console|terminal|preformat|verbatim|source|monospace|plain text|literal", ImportRole.Listing),
            (@"\b(lead|intro(duction)?|abstract)\b", "lead"),
            (@"\b(side ?bar|aside|box(ed)?)\b", ImportRole.Aside),
            (@"\bexamples?\b", ImportRole.Example),
            (@"\b(imprint|colophon|copyright)\b", "imprint"),
            (
                @"^p$|^(normal|standard|plain|body|text|paragraph|first paragraph|compact|default|no ?spacing"
                    + @"|list paragraph|para)\b|\b(text|body|copy)$",
                ImportRole.Body
            ),
        }.Select(n => (new Regex(n.Item1, RegexOptions.IgnoreCase | RegexOptions.CultureInvariant), n.Item2)),
    ];

    private static readonly (Regex Name, int Level)[] HeadNames =
    [
        .. new (string, int)[]
        {
            (@"\b(sub-?sub-?(section|head))", 4),
            (@"\b(sub-?section|sub-?head(ing)?)\b", 3),
            (@"\b(section)\b(?!.*text)", 2),
            (@"\b(chapter|clause)\b(?!.*(text|body))", 1),
            (@"^(head|heading|header)\b", 1),
        }.Select(n => (new Regex(n.Item1, RegexOptions.IgnoreCase | RegexOptions.CultureInvariant), n.Item2)),
    ];

    private static readonly Regex Numbered = new(
        @"\b(?:heading|head|title|level|h)[ _-]?([1-9])\b",
        RegexOptions.IgnoreCase | RegexOptions.CultureInvariant
    );

    private static readonly (Regex Name, string Role)[] SpanNames =
    [
        .. new (string, string)[]
        {
            (@"strong|bold", "strong"),
            (@"emph|italic", "emphasis"),
            (@"\bpart\b|part.?n|article|order", "partNumber"),
            (@"\b(key|shortcut)", "key"),
            (@"\b(control|button|menu|ui|gui|panel|switch)", "control"),
            (@"code|verbatim|command|file|literal|mono|source", "code"),
            (@"term|defin|gloss", "term"),
            (@"product|brand", "product"),
            (@"foreign|latin", "foreign"),
            (@"sub(script)?$", "sub"),
            (@"sup(erscript)?$|reference$", "plain"),
            (@"small ?cap", "smallCaps"),
            (@"hyperlink|link|placeholder|default|char$", "plain"),
        }.Select(n => (new Regex(n.Item1, RegexOptions.IgnoreCase | RegexOptions.CultureInvariant), n.Item2)),
    ];

    public static Proposal ForStyle(string style, StyleFacts? facts)
    {
        if (facts?.Role is { } role)
            return new Proposal(role, ByKind, facts.Level);
        if (facts?.Level is { } level)
            return new Proposal("", $"outline level {level}", level);
        foreach (var (name, i) in (facts?.Founded ?? []).Prepend(style).Select((n, i) => (n, i)))
            if (ByName(name) is { } found)
                return i == 0 ? found : found with { Why = $"founded on {name}" };
        return facts?.Mono == true
            ? new Proposal(ImportRole.Listing, "like its face")
            : new Proposal(ImportRole.Body, "like its words", Certain: style.Length == 0);
    }

    private static Proposal? ByName(string name)
    {
        if (Numbered.Match(name) is { Success: true } numbered)
            return new Proposal("", "like its name", numbered.Groups[1].Value[0] - '0');
        foreach (var (pattern, role) in Names)
            if (pattern.IsMatch(name))
                return new Proposal(role, "like its name");
        foreach (var (pattern, level) in HeadNames)
            if (pattern.IsMatch(name))
                return new Proposal("", "like its name", level);
        return null;
    }

    public static Proposal ForSpan(string style, StyleFacts? facts)
    {
        if (facts?.Role is { } role)
            return new Proposal(role, ByKind);
        foreach (var (pattern, named) in SpanNames)
            if (pattern.IsMatch(style))
                return new Proposal(named, "like its name");
        return new Proposal(ImportRole.Plain, "not known", Certain: false);
    }

    /// <summary>For a group or list of the source: a quotation, a note, a sidebar, an ordered list.</summary>
    public static Proposal ForGroup(string style, StyleFacts? facts)
    {
        if (facts?.Role is { } role)
            return new Proposal(role, ByKind);
        foreach (var (pattern, named) in Names)
            if (
                pattern.IsMatch(style) && named is not (ImportRole.Caption or ImportRole.Listing or ImportRole.Title or "lead" or "imprint")
            )
                return new Proposal(named, "like its name");
        return new Proposal(ImportRole.Body, "only holds blocks");
    }
}
