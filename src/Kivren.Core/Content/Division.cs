namespace Kivren.Core.Content;

/// <summary>On what page a division begins; by the look unless it says so itself.</summary>
public enum Begins
{
    ByLook,
    NewPage,
    Recto,
    Verso,
    RunsOn,
}

public enum DivisionKind
{
    HalfTitle,
    TitlePage,
    Legal,
    Contents,
    Preface,
    Part,
    Chapter,
    Appendix,
    Glossary,
    Index,
    Colophon,

    /// <summary>A passage: blocks kept once and used in many places. It stands in no outline and prints only where it is used.</summary>
    Passage,
}

/// <summary>How far the work on a division has come, as the writer says.</summary>
public enum WorkState
{
    Draft,
    Checked,
    Final,
}

public enum Matter
{
    Front,
    Body,
    Back,
}

/// <summary>One document of the manual. Body divisions after a part stand under it until the next part.</summary>
public sealed record Division(Id Id, DivisionKind Kind, string Title, IReadOnlyList<Block> Blocks)
{
    public string? ShortTitle { get; init; }
    public string Language { get; init; } = "en-GB";
    public Begins Begins { get; init; }
    public WorkState State { get; init; }
    public AppliesTo AppliesTo { get; init; } = AppliesTo.Always;

    public Matter Matter =>
        Kind switch
        {
            DivisionKind.HalfTitle or DivisionKind.TitlePage or DivisionKind.Legal or DivisionKind.Contents or DivisionKind.Preface =>
                Matter.Front,
            DivisionKind.Part or DivisionKind.Chapter => Matter.Body,
            _ => Matter.Back,
        };
}
