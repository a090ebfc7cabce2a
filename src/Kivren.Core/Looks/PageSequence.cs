using Kivren.Core.Content;

namespace Kivren.Core.Looks;

public enum FolioFormat
{
    Decimal,
    Roman,
    Alpha,
    ByDivision,
}

/// <summary>How folios count: on from the division before; from 1 where the sequence begins; from 1 in each division; or
/// by sheets since the sequence began, through whatever stands between.</summary>
public enum FolioCount
{
    Continues,
    Restarts,
    EachDivision,
    Through,
}

/// <summary>How the divisions of some kinds are paged.</summary>
/// <param name="Name">divisions of one name count together</param>
public sealed record PageSequence(string Name, Begins Begins, FolioFormat Format, FolioCount Count)
{
    /// <summary>The opening stands alone: number and title before the text. False for title pages.</summary>
    public bool Opens { get; init; } = true;

    /// <summary>Name of the contents list that stands under the title of each of its divisions; null for none.</summary>
    public string? Contents { get; init; }

    /// <summary>Masters of its pages; null for those of the look.</summary>
    public MasterChoice? Pages { get; init; }
}

/// <summary>What is said of a page that stays blank so that the next begins on its side.</summary>
public sealed record BlankPage(string Text, Dress Dress);
