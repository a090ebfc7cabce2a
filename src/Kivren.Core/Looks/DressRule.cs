using Kivren.Core.Content;

namespace Kivren.Core.Looks;

/// <summary>Where a block stands: in a division of some kind, and in an item, an admonition, a table … or nothing.</summary>
public readonly record struct Standing(DivisionKind Division, string Within = "");

/// <summary>A role's dress, everywhere or only where it stands so. Most special wins: within and division, then within,
/// then division, then the role alone.</summary>
public sealed record DressRule(string Role, Dress Dress, string? Within = null, DivisionKind? Division = null)
{
    public bool Fits(string role, Standing at) =>
        Role == role && (Within is null || Within == at.Within) && (Division is null || Division == at.Division);

    public int Weight => (Within is null ? 0 : 2) + (Division is null ? 0 : 1);

    /// <summary>In words, for the writer who asks why a paragraph looks as it does.</summary>
    public override string ToString() =>
        Role + (Within is { Length: > 0 } within ? $" in {within}" : "") + (Division is { } kind ? $" of {kind}" : "");
}
