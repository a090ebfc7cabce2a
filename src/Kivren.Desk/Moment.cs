namespace Kivren.Desk;

/// <summary>What a part of a manual was at a moment, as far as it was changed since.</summary>
/// <param name="Label">what bringing it back is called</param>
/// <param name="Blocks">what blocks were; null for one that was not there</param>
/// <param name="Divisions">what divisions themselves were; null for one that was not there</param>
/// <param name="Settings">the small parts that were others; null where none were</param>
/// <param name="InPlace">the block is brought back where it stands now, if it still stands somewhere</param>
public sealed record Moment(
    string Label,
    IReadOnlyList<(string Id, BlockBefore? Was)> Blocks,
    IReadOnlyList<(string Id, DivisionHeader? Was)> Divisions,
    ManualSettings? Settings,
    bool InPlace
);
