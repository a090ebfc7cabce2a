using Kivren.Core.Content;

namespace Kivren.Formats.Import;

/// <summary>What a paragraph, a group, a list or a run of characters may become.</summary>
public enum RoleUse
{
    Paragraph,
    Span,
}

/// <summary>A role as the mapping names it.</summary>
/// <param name="Name">its name in a saved mapping</param>
/// <param name="Label">its name on the screen</param>
public sealed record ImportRole(string Name, string Label, RoleUse Use)
{
    public const string LeftOut = "leftOut",
        Body = "body",
        Plain = "plain",
        Caption = "caption",
        Listing = "listing",
        Title = "title",
        Aside = "aside",
        Example = "example",
        Quotation = "quotation";
    public const string Bullets = "bullets",
        Numbers = "numbers",
        Letters = "letters",
        Steps = "steps",
        DefinedTerm = "definedTerm",
        Definition = "definition";

    public static readonly IReadOnlyList<ImportRole> All =
    [
        new("part", "Part", RoleUse.Paragraph),
        new("chapter", "Chapter", RoleUse.Paragraph),
        new("appendix", "Appendix", RoleUse.Paragraph),
        new("preface", "Preface", RoleUse.Paragraph),
        new("legal", "Legal page", RoleUse.Paragraph),
        new("glossary", "Glossary", RoleUse.Paragraph),
        new("headA", "A head", RoleUse.Paragraph),
        new("headB", "B head", RoleUse.Paragraph),
        new("headC", "C head", RoleUse.Paragraph),
        new("headD", "D head", RoleUse.Paragraph),
        new(Body, "Body", RoleUse.Paragraph),
        new("lead", "Lead", RoleUse.Paragraph),
        new(Quotation, "Quotation", RoleUse.Paragraph),
        new(Bullets, "Bulleted list", RoleUse.Paragraph),
        new(Numbers, "Numbered list", RoleUse.Paragraph),
        new(Letters, "Lettered list", RoleUse.Paragraph),
        new(Steps, "Steps", RoleUse.Paragraph),
        new("result", "Result of a step", RoleUse.Paragraph),
        new(DefinedTerm, "Term defined", RoleUse.Paragraph),
        new(Definition, "What it means", RoleUse.Paragraph),
        new(Caption, "Caption", RoleUse.Paragraph),
        new(Listing, "Listing", RoleUse.Paragraph),
        new(Aside, "Aside", RoleUse.Paragraph),
        new(Example, "Example", RoleUse.Paragraph),
        .. Enum.GetValues<AdmonitionKind>().Select(k => new ImportRole(k.ToString().ToLowerInvariant(), k.ToString(), RoleUse.Paragraph)),
        new(Title, "Title", RoleUse.Paragraph),
        new("subtitle", "Subtitle", RoleUse.Paragraph),
        new("imprint", "Imprint", RoleUse.Paragraph),
        new(LeftOut, "left out", RoleUse.Paragraph),
        .. Enum.GetValues<SpanRoles>()
            .Where(r => r is not (SpanRoles.None or SpanRoles.NoBreak))
            .Select(r => new ImportRole(NameOf(r), LabelOf(r), RoleUse.Span)),
        new(Plain, "plain text", RoleUse.Span),
    ];

    private static readonly Dictionary<string, ImportRole> ByName = All.ToDictionary(r => r.Name);

    public static bool Exists(string name) => ByName.ContainsKey(name);

    public static string LabelFor(string name) => ByName.TryGetValue(name, out var role) ? role.Label : name;

    private static string NameOf(SpanRoles role) => char.ToLowerInvariant(role.ToString()[0]) + role.ToString()[1..];

    private static string LabelOf(SpanRoles role) =>
        role switch
        {
            SpanRoles.PartNumber => "part number",
            SpanRoles.SmallCaps => "small capitals",
            SpanRoles.Sub => "low",
            SpanRoles.Sup => "high",
            _ => role.ToString().ToLowerInvariant(),
        };

    /// <summary>The span role of this name; none for plain text.</summary>
    public static SpanRoles SpanOf(string name) => Enum.TryParse<SpanRoles>(name, true, out var role) ? role : SpanRoles.None;

    public static AdmonitionKind? AdmonitionOf(string name) =>
        ByName.TryGetValue(name, out var role) && role.Use == RoleUse.Paragraph && Enum.TryParse<AdmonitionKind>(name, true, out var kind)
            ? kind
            : null;

    /// <summary>The level of a head role, 1 for A; null for other roles.</summary>
    public static int? HeadOf(string name) =>
        name.Length == 5 && name.StartsWith("head", StringComparison.Ordinal) ? name[4] - 'A' + 1 : null;

    public static string Head(int level) => "head" + (char)('A' + Math.Clamp(level, 1, 4) - 1);

    public static DivisionKind? DivisionOf(string name) =>
        name switch
        {
            "part" => DivisionKind.Part,
            "chapter" => DivisionKind.Chapter,
            "appendix" => DivisionKind.Appendix,
            "preface" => DivisionKind.Preface,
            "legal" => DivisionKind.Legal,
            "glossary" => DivisionKind.Glossary,
            _ => null,
        };

    public static bool IsList(string name) => name is Bullets or Numbers or Letters or Steps;
}
