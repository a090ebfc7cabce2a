using Kivren.Core.Content;

namespace Kivren.Core.Lists;

/// <summary>An act on a manual's contents lists, on the dress of its index, or on what its writers let be.</summary>
public abstract record ListAct
{
    private ListAct() { }

    /// <summary>Keeps a list under its name.</summary>
    /// <param name="Was">the name it had, where it is renamed: what asks for it follows; null for a new one or the same name</param>
    public sealed record Keep(OwnList List, string? Was) : ListAct;

    /// <summary>The manual goes by its look's list of that name again; a list of its own goes.</summary>
    public sealed record TakeOut(string Name) : ListAct;

    /// <param name="Dress">null to set it as the look says</param>
    public sealed record DressIndex(OwnIndexDress? Dress) : ListAct;

    /// <summary>A list of this name at the head of every chapter and appendix; null for none.</summary>
    public sealed record OpenChapters(string? Name) : ListAct;

    /// <summary>The first use of a term in each division leads to the glossary, or does not.</summary>
    public sealed record LeadTerms(bool Lead) : ListAct;

    /// <summary>Loose ends are let be, with the reason; with an empty reason they are told again.</summary>
    public sealed record LetBe(IReadOnlyList<PutAside> Ends) : ListAct;
}
