using System.Runtime.CompilerServices;

namespace Kivren.Core.Content;

/// <summary>Blocks kept once and used in many places.</summary>
public sealed record Passage(Id Id, string Name, IReadOnlyList<Block> Blocks)
{
    private static readonly ConditionalWeakTable<Division, Passage> Known = [];

    /// <summary>The passage that a division of that kind holds: the same object for the same division.</summary>
    public static Passage Of(Division division) => Known.GetValue(division, static d => new Passage(d.Id, d.Title, d.Blocks));
}

/// <summary>A manual's text as it is kept: passages are divisions of a kind of their own, before all that stand in the outline.</summary>
public static class KeptDivisions
{
    public static IReadOnlyList<Division> Kept(this Manual manual) =>
        manual.Passages.Count == 0
            ? manual.Divisions
            : [.. manual.Passages.Select(p => new Division(p.Id, DivisionKind.Passage, p.Name, p.Blocks)), .. manual.Divisions];

    /// <summary>The manual with this text.</summary>
    public static Manual WithKept(this Manual manual, IReadOnlyList<Division> kept) =>
        manual with
        {
            Divisions = [.. kept.Where(d => d.Kind != DivisionKind.Passage)],
            Passages = [.. kept.Where(d => d.Kind == DivisionKind.Passage).Select(Passage.Of)],
        };
}
