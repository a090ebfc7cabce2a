using Kivren.Core.Content;

namespace Kivren.Core.References;

/// <summary>An act on cross-references and anchors over the whole manual.</summary>
public abstract record ReferenceAct
{
    private ReferenceAct() { }

    public sealed record PointAt(IReadOnlyList<Id> References, Id Target) : ReferenceAct;

    /// <param name="Form">the name of a form of the look</param>
    public sealed record SetForm(IReadOnlyList<Id> References, string Form) : ReferenceAct;

    /// <summary>References become the words that they print.</summary>
    public sealed record MakePlain(IReadOnlyDictionary<Id, string> Printed) : ReferenceAct;

    public sealed record TakeOut(IReadOnlyList<Id> References) : ReferenceAct;

    /// <summary>A named place at the beginning of a text.</summary>
    /// <param name="Block">the innermost block, item or cell</param>
    public sealed record AddAnchor(Id Block, string Name, Id New) : ReferenceAct;

    public sealed record RenameAnchor(Id Anchor, string Name) : ReferenceAct;

    public sealed record TakeOutAnchors(IReadOnlyList<Id> Anchors) : ReferenceAct;
}
