using Kivren.Core.Content;

namespace Kivren.Core.Reuse;

/// <summary>An act on what is kept once and used in many places, or shown to some readers only.</summary>
public abstract record ReuseAct
{
    private ReuseAct() { }

    /// <summary>Gives a variable its text; a name that there is none of is a new variable.</summary>
    public sealed record SetVariable(string Name, string Text) : ReuseAct;

    /// <summary>Another name for a variable, wherever it is used.</summary>
    public sealed record RenameVariable(string Name, string To) : ReuseAct;

    /// <summary>Only a variable that stands nowhere goes.</summary>
    public sealed record TakeOutVariable(string Name) : ReuseAct;

    /// <summary>Gives an axis its values; a name that there is none of is a new axis. A value that something applies to stays.</summary>
    public sealed record SetCondition(string Axis, IReadOnlyList<string> Values) : ReuseAct;

    /// <summary>Another name for an axis, or with <paramref name="Value"/> for one of its values, wherever it is named.</summary>
    public sealed record RenameCondition(string Axis, string? Value, string To) : ReuseAct;

    /// <summary>An axis goes; what named it applies to all its values then.</summary>
    public sealed record TakeOutCondition(string Axis) : ReuseAct;

    /// <summary>A word that no dictionary has is spelt right in this manual from now on, or with <paramref name="Right"/> false no
    /// longer.</summary>
    public sealed record AcceptWord(string Word, bool Right) : ReuseAct;

    /// <summary>Another picture wherever one stands; figures keep their identities, captions and settings.</summary>
    public sealed record ReplacePicture(string Name, string By) : ReuseAct;

    /// <summary>What other manuals say now of the places that references point at, by the references' ids.</summary>
    public sealed record TakeOtherPlaces(IReadOnlyDictionary<Id, OtherPlace> Now) : ReuseAct;

    /// <summary>What divisions and sections apply to; a head stands for its section.</summary>
    public sealed record Apply(IReadOnlyList<Id> Rows, AppliesTo AppliesTo) : ReuseAct;

    /// <summary>Blocks that follow one another in a division become a passage, used where they stood. They keep their identities.</summary>
    public sealed record AddPassage(Id New, string Name, IReadOnlyList<Id> Blocks) : ReuseAct;

    public sealed record RenamePassage(Id Passage, string To) : ReuseAct;

    /// <summary>Only a passage that stands nowhere goes.</summary>
    public sealed record TakeOutPassage(Id Passage) : ReuseAct;

    /// <summary>A use becomes plain text: the passage's own blocks where it is the only use, and the passage goes; else copies, with
    /// identities made from <paramref name="New"/>.</summary>
    public sealed record MakePlain(Id Use, Id New) : ReuseAct;
}
