using Kivren.Core.Content;

namespace Kivren.Core.Finding;

/// <summary>Where words are looked for: in one kind of place, in words with a role, or wherever they stand.</summary>
/// <param name="In">the only kind of place; null for all</param>
/// <param name="Heads">only in heads and in titles of divisions</param>
/// <param name="Roles">roles that all the words found must have</param>
/// <param name="OwnRole">a role of the manual's own, of the words or of the block they stand in</param>
public sealed record SoughtPlace(FoundIn? In = null, bool Heads = false, SpanRoles Roles = SpanRoles.None, string? OwnRole = null)
{
    public static readonly SoughtPlace Anywhere = new();

    private const string Own = "own:";

    /// <summary>Reads its name: nothing for anywhere, heads, note, indexEntry, listing, variable, a span's role, or own: and the
    /// name of a role of the manual's own.</summary>
    /// <returns>null when there is no such place</returns>
    public static SoughtPlace? Parse(string? name) =>
        string.IsNullOrEmpty(name) ? Anywhere
        : name == "heads" ? new SoughtPlace(Heads: true)
        : name.StartsWith(Own, StringComparison.Ordinal) ? new SoughtPlace(OwnRole: name[Own.Length..])
        : !char.IsAsciiLetter(name[0]) ? null
        : Enum.TryParse<FoundIn>(name, ignoreCase: true, out var place) ? new SoughtPlace(place)
        : Enum.TryParse<SpanRoles>(name, ignoreCase: true, out var roles) && roles != SpanRoles.None ? new SoughtPlace(Roles: roles)
        : null;

    /// <summary>Whether words may be found only in runs of text, by what these are.</summary>
    internal bool AsksForRuns => Roles != SpanRoles.None || OwnRole is not null;

    internal bool Takes(FoundIn place) => (In is null || In == place) && (!AsksForRuns || place is FoundIn.Text or FoundIn.Note);

    internal bool Takes(TextRun run) => (run.Roles & Roles) == Roles && (OwnRole is null || run.OwnRole == OwnRole);
}
