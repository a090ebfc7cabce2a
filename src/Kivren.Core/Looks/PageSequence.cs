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
    /// <summary>False for pages without running heads and folio, such as the title page.</summary>
    public bool Furniture { get; init; } = true;

    /// <summary>The opening stands alone: number and title before the text. False for title pages.</summary>
    public bool Opens { get; init; } = true;
    public int Columns { get; init; } = 1;

    /// <summary>What its pages carry behind the text; landscape and blank pages carry none.</summary>
    public IReadOnlyList<Artwork> Artwork { get; init; } = [];
}

/// <summary>What is said of a page that stays blank so that the next begins on its side.</summary>
public sealed record BlankPage(string Text, Dress Dress);
