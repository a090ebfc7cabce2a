using Kivren.Core.Finding;

namespace Kivren.Desk;

/// <summary>A change to one top-level block, with the version it was based on (0 for a new block).</summary>
/// <param name="Body">the block in the editor's document form, or null when it is taken out or only moved</param>
/// <param name="After">the block it stands after in its division, "" for the beginning, null to stay where it is</param>
public sealed record BlockChange(string Id, string Division, int BasedOn, string? Body, string? After, bool Deleted);

/// <summary>A block that went in: its new version; its body when it was merged with another writer's change.</summary>
/// <param name="BothAt">the text holds both writers' words for the same place, because both replaced what stood there</param>
public sealed record Accepted(string Id, int Version, string? Merged, bool BothAt = false);

/// <summary>A block that did not go in: why, and what stands there now (null when it was taken out).</summary>
public sealed record Refused(string Id, string Why, string? Theirs, int Version);

/// <summary>What an undo finds in the journal: what the act wrote.</summary>
/// <param name="Bodies">bodies of blocks as the act left them, where another act changed them since; by block</param>
public sealed record DoneAct(IReadOnlyList<DoneBlock> Blocks, IReadOnlyList<DoneDivision> Divisions, DoneSettings? Settings);

/// <param name="After">as the act left it; null when nothing was written to the block since, so that its row says it</param>
public sealed record DoneBlock(string Id, BlockBefore? Before, int AfterVersion, bool AfterDeleted, BlockBefore? After);

public sealed record DoneDivision(string Id, DivisionHeader? Before, DivisionHeader After);

public sealed record DoneSettings(ManualSettings Before, ManualSettings After);

/// <summary>A row that is not in the state: a block that was taken out, or that stands in a division that was, or in another
/// manual.</summary>
public sealed record GoneBlock(string Manual, string Division, int Version, bool Deleted, string Body);

/// <summary>A division that was taken out, with the blocks that come back with it.</summary>
public sealed record GoneDivision(int Version, IReadOnlyList<PlacedBlock> Blocks);

/// <summary>What an act needs to know that is not in the state, looked up before it is done.</summary>
public sealed class Known
{
    public static readonly Known Nothing = new();
    public IReadOnlyDictionary<string, GoneBlock> Blocks { get; init; } = new Dictionary<string, GoneBlock>();
    public IReadOnlyDictionary<string, GoneDivision> Divisions { get; init; } = new Dictionary<string, GoneDivision>();

    /// <summary>Bodies of blocks at earlier versions, on which changes are based.</summary>
    public IReadOnlyDictionary<(string Block, int Version), string> Bodies { get; init; } = new Dictionary<(string, int), string>();
}

/// <summary>What an act came to: the state after it and the rows to write. Nothing is true before they are written.</summary>
/// <param name="Why">why the whole act cannot be done; then there are no rows</param>
public sealed record DeskOutcome(
    DeskState State,
    DeskRows Rows,
    string Words,
    IReadOnlyList<Accepted> Accepted,
    IReadOnlyList<Refused> Refused,
    string? Why = null
)
{
    public static DeskOutcome No(DeskState state, string why) => new(state, new DeskRows([], [], ManualRowChange.None), "", [], [], why);
}

/// <summary>Places of one block, or of a division's title, that were chosen as they stood at a version.</summary>
public sealed record ChosenPlaces(int Version, IReadOnlySet<int> Ordinals);

/// <summary>Words that are to take the place of others.</summary>
/// <param name="Division">the only one, or null for the whole manual</param>
/// <param name="Chosen">by block, division or variable; null for every place</param>
public sealed record Replacing(Sought Sought, string With, string? Division, IReadOnlyDictionary<string, ChosenPlaces>? Chosen)
{
    /// <summary>The text of a variable among chosen places; it has no version.</summary>
    public static string Variable(string name) => "variable:" + name;

    /// <summary>Which places of a block are meant; null for none.</summary>
    internal Func<int, bool>? ChosenIn(string id, int version, ref int left)
    {
        if (Chosen is null)
            return _ => true;
        if (!Chosen.TryGetValue(id, out var places))
            return null;
        if (places.Version == version)
            return places.Ordinals.Contains;
        left += places.Ordinals.Count;
        return null;
    }
}
