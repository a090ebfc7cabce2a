using Kivren.Core.Content;

namespace Kivren.Core.Numbering;

public enum TargetKind
{
    Division,
    Head,
    Figure,
    Table,
    Listing,
    Equation,
    Example,
    Definition,
    Document,
    Clause,
    Step,
    Item,
    Note,
    Anchor,
    Block,
}

/// <summary>Something a cross-reference can point at.</summary>
/// <param name="Name">what it is called before its number: Figure, Chapter, Section</param>
/// <param name="Number">as printed, or empty</param>
/// <param name="Title">its words: a head's title, a caption</param>
public sealed record Target(Id Id, TargetKind Kind, string Name, string Number, string Title)
{
    public HeadLevel? Level { get; init; }
    public string? ShortTitle { get; init; }

    /// <summary>False for a head that no contents list takes.</summary>
    public bool Listed { get; init; } = true;
}
