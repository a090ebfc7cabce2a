using Kivren.Core.Content;

namespace Kivren.Core.Indexing;

/// <summary>An act on the index over the whole manual. A heading is named by its texts from the top: <c>[brake, band, lining of]</c>.
/// </summary>
public abstract record IndexAct
{
    private IndexAct() { }

    /// <summary>A heading with all beneath it comes to stand elsewhere: it is renamed, merged with one that is there, nested under
    /// another, lifted. What says <em>see</em> follows.</summary>
    public sealed record Move(IReadOnlyList<string> From, IReadOnlyList<string> To) : IndexAct;

    /// <summary>Some locators of a heading go to another: a heading is split.</summary>
    public sealed record MoveEntries(IReadOnlyList<Id> Entries, IReadOnlyList<string> To) : IndexAct;

    /// <summary>A heading hands all that it has to another and says <em>see</em> it.</summary>
    /// <param name="New">identity of the entry that says so</param>
    public sealed record TurnIntoSee(IReadOnlyList<string> Heading, IReadOnlyList<string> See, Id New) : IndexAct;

    public sealed record AddSeeAlso(IReadOnlyList<string> Heading, IReadOnlyList<string> SeeAlso, Id New) : IndexAct;

    /// <summary>What a heading is sorted by among its like; empty for its own words.</summary>
    public sealed record FileUnder(IReadOnlyList<string> Heading, string Files) : IndexAct;

    /// <summary>A heading goes, with all beneath and all locators.</summary>
    public sealed record TakeOut(IReadOnlyList<string> Heading) : IndexAct;

    public sealed record TakeOutEntries(IReadOnlyList<Id> Entries) : IndexAct;

    /// <summary>What entries send their reader to; an empty one takes the sending away, and an entry with nothing else goes.</summary>
    public sealed record SetSee(IReadOnlyList<Id> Entries, string See) : IndexAct;

    public sealed record SetPrincipal(IReadOnlyList<Id> Entries, bool Principal) : IndexAct;

    /// <summary>A point becomes a range to the end of its section, or a range that was never closed is closed there.</summary>
    public sealed record ReachToSectionEnd(Id Entry) : IndexAct;

    /// <summary>Entries at places of a sweep; what was left is remembered.</summary>
    /// <param name="New">the entries' identities are made from it</param>
    public sealed record TakeSwept(Sweep Sweep, IReadOnlyList<string> Heading, IReadOnlyList<SweptChoice> Choices, Id New) : IndexAct;
}

/// <summary>What becomes of a place of a sweep.</summary>
public enum SweptAs
{
    Left,
    Taken,
    Principal,

    /// <summary>The first and the last place of a range.</summary>
    RangeStart,
    RangeEnd,
}

/// <param name="Block">the block of the division, the passage</param>
/// <param name="Ordinal">which of the sweep's places in it</param>
public sealed record SweptChoice(Id Block, int Ordinal, SweptAs As);
