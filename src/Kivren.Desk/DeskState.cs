using System.Collections.Immutable;
using Kivren.Core.Content;

namespace Kivren.Desk;

/// <summary>A top-level block with its place among its like and its version, which rises with every change.</summary>
public sealed record PlacedBlock(Block Block, string OrderKey, int Version)
{
    public string Id => Block.Id.Value;
}

/// <summary>A division with its place and version; <paramref name="Blocks"/> are the blocks of the division itself, placed.</summary>
public sealed record PlacedDivision(Division Division, string OrderKey, int Version, IReadOnlyList<PlacedBlock> Blocks)
{
    public string Id => Division.Id.Value;
}

/// <summary>All that the desk of an open manual knows: the manual, the order of its rows and their versions, and the last
/// act in it. Immutable: an act yields another state, so a reader never meets half of one.</summary>
public sealed class DeskState
{
    private readonly ImmutableDictionary<string, string> _divisionOf;

    private DeskState(Manual manual, IReadOnlyList<PlacedDivision> divisions, ImmutableDictionary<string, string> divisionOf, long act)
    {
        (Manual, Divisions, _divisionOf, Act) = (manual, divisions, divisionOf, act);
    }

    public Manual Manual { get; }

    /// <summary>In order: passages first, then the divisions of the outline.</summary>
    public IReadOnlyList<PlacedDivision> Divisions { get; }

    /// <summary>The last act of the journal that is in this state; 0 before the first.</summary>
    public long Act { get; }

    /// <param name="manual">the manual; its divisions are those of <paramref name="divisions"/></param>
    public static DeskState Of(Manual manual, IReadOnlyList<PlacedDivision> divisions, long act)
    {
        var divisionOf = ImmutableDictionary.CreateBuilder<string, string>(StringComparer.Ordinal);
        foreach (var division in divisions)
        foreach (var block in division.Blocks)
            divisionOf[block.Id] = division.Id;
        return new DeskState(manual.WithKept([.. divisions.Select(d => d.Division)]), divisions, divisionOf.ToImmutable(), act);
    }

    public PlacedDivision? Division(string id)
    {
        foreach (var division in Divisions)
            if (division.Id == id)
                return division;
        return null;
    }

    /// <summary>The id of the division that a block stands in, or null when there is no such block.</summary>
    public string? DivisionOf(string block) => _divisionOf.GetValueOrDefault(block);

    public PlacedBlock? Block(string id) => DivisionOf(id) is { } division ? Division(division)!.Blocks.First(b => b.Id == id) : null;

    /// <summary>The state after an act that is stored under this number.</summary>
    public DeskState At(long act) => new(Manual, Divisions, _divisionOf, act);

    /// <summary>The state with other divisions; only blocks that came, went or moved are told to the register.</summary>
    internal DeskState With(
        Manual manual,
        IReadOnlyList<PlacedDivision> divisions,
        IEnumerable<string> gone,
        IEnumerable<(string Block, string Division)> stand
    )
    {
        var divisionOf = _divisionOf.ToBuilder();
        foreach (var block in gone)
            divisionOf.Remove(block);
        foreach (var (block, division) in stand)
            divisionOf[block] = division;
        return new DeskState(manual.WithKept([.. divisions.Select(d => d.Division)]), divisions, divisionOf.ToImmutable(), Act);
    }
}
