using Kivren.Core.LooseEnds;

namespace Kivren.Server.Pointing;

/// <summary>What loose ends of a kind have in common.</summary>
/// <param name="Group">References, Index, Lists, Figures, Words, Pages</param>
/// <param name="Gravity">Wrong, Unsightly, Doubtful</param>
public sealed record LooseEndOfKind(string Kind, string Group, string Gravity, string Name, string Why)
{
    public static readonly IReadOnlyList<LooseEndOfKind> All =
    [
        .. LooseEndKinds.Sorts.Select(s => new LooseEndOfKind(
            s.Key.ToString(),
            s.Value.Group.ToString(),
            s.Value.Gravity.ToString(),
            s.Value.Name,
            s.Value.Why
        )),
    ];
}
