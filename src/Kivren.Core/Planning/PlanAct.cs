using Kivren.Core.Content;

namespace Kivren.Core.Planning;

public enum LandsAt
{
    Before,
    After,
    Within,
}

/// <summary>An act on the plan of a manual. Rows are named by the id of a division or of a head; a head stands for its
/// whole section.</summary>
public abstract record PlanAct
{
    private PlanAct() { }

    /// <summary>Moves rows with everything beneath to a place by another row. Sections take the level of what they land by.</summary>
    public sealed record Move(IReadOnlyList<Id> Rows, Id By, LandsAt At) : PlanAct;

    /// <summary>One level deeper, with everything beneath: a chapter becomes the last section of the one before it.</summary>
    public sealed record Deepen(IReadOnlyList<Id> Rows) : PlanAct;

    /// <summary>One level up, with everything beneath: an A section becomes a division of its own.</summary>
    public sealed record Lift(IReadOnlyList<Id> Rows) : PlanAct;

    /// <summary>A division ends before this head; the head and all after it are a new division.</summary>
    public sealed record Split(Id Head) : PlanAct;

    /// <summary>A division goes on in the one before it; its title becomes an A head there.</summary>
    public sealed record Join(Id Division) : PlanAct;

    /// <summary>A new division of this kind, where its kind belongs.</summary>
    /// <param name="List">what a contents page lists</param>
    public sealed record AddDivision(Id New, DivisionKind Kind, string Title, Id After, string List = "contents") : PlanAct;

    /// <summary>A new head after a section, or at the end of a division.</summary>
    public sealed record AddHead(Id New, string Title, Id After) : PlanAct;

    public sealed record Rename(Id Row, string Title) : PlanAct;

    /// <summary>A division's title for places with little room; empty to have none.</summary>
    public sealed record Shorten(Id Row, string ShortTitle) : PlanAct;

    public sealed record TakeOut(IReadOnlyList<Id> Rows) : PlanAct;

    public sealed record SetState(IReadOnlyList<Id> Rows, WorkState State) : PlanAct;

    /// <summary>On what page divisions begin; by the look where nothing else is said.</summary>
    public sealed record SetBegins(IReadOnlyList<Id> Rows, Begins Begins) : PlanAct;

    /// <summary>The language of divisions, by which their words are hyphenated and named; without rows that of the manual, and of all
    /// its divisions that had that.</summary>
    public sealed record SetLanguage(IReadOnlyList<Id> Rows, string Language) : PlanAct;

    /// <summary>A paragraph that looks like a head becomes one.</summary>
    public sealed record MakeHead(Id Block, HeadLevel Level) : PlanAct;

    /// <summary>New blocks in place of those between two heads: text typed in the plan.</summary>
    public sealed record PutIn(IReadOnlyList<Division> Divisions, Id After) : PlanAct;
}

/// <summary>The manual after an act and what the act is called, or why it cannot be done.</summary>
public sealed record PlanResult(Manual? Manual, string Words, string? Refused)
{
    public static PlanResult No(string why) => new(null, "", why);
}
