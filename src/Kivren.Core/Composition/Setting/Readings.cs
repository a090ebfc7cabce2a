using Kivren.Core.Content;
using Kivren.Core.Numbering;
using Kivren.Core.Type;

namespace Kivren.Core.Composition;

/// <summary>What setting a block can ask beside the block itself, its look and the measure.</summary>
internal enum Asked : byte
{
    // Of its own division's numbering.
    Kind,
    Language,
    Label,
    Target,

    // Of other places, and of the pages as the pass before had them.
    Print,
    Exists,
    PointsAt,
    Ambiguous,
    Variable,
    Passage,
    NoteLabel,
}

/// <summary>One thing that was asked, and what was answered.</summary>
internal readonly record struct Read(Asked Asked, object? Of, string Said)
{
    public bool IsOfOtherPlaces => Asked >= Asked.Print;
}

/// <summary>The only way by which setters learn anything that may change without their block changing. Each answer is noted:
/// what was set holds as long as everything it asked is answered the same, so no cache can forget what it depends on.</summary>
internal sealed class Readings(SettingContext context, DivisionNumbers numbers)
{
    private readonly List<Read> _reads = [];

    /// <summary>All that was asked so far.</summary>
    public Read[] Noted() => _reads.Count == 0 ? [] : [.. _reads.Distinct()];

    private string Ask(Asked asked, object? of)
    {
        var said = Answer(context, numbers, asked, of);
        _reads.Add(new Read(asked, of, said));
        return said;
    }

    /// <summary>Whether everything is answered as it was.</summary>
    public static bool Hold(Read[] reads, SettingContext context, DivisionNumbers numbers)
    {
        foreach (var read in reads)
            if (!Holds(read, context, numbers))
                return false;
        return true;
    }

    public static bool Holds(in Read read, SettingContext context, DivisionNumbers numbers) =>
        Answer(context, numbers, read.Asked, read.Of) == read.Said;

    private const string Yes = "yes",
        No = "",
        Nothing = "\u0000";

    private static string Answer(SettingContext context, DivisionNumbers numbers, Asked asked, object? of) =>
        asked switch
        {
            Asked.Kind => numbers.Division.Kind.ToString(),
            Asked.Language => numbers.Division.Language,
            Asked.Label => numbers.Label((Id)of!),
            Asked.Target => numbers.ById.TryGetValue((Id)of!, out var target) ? target.Name + "\u001f" + target.Number : Nothing,
            Asked.Print => context.Print((CrossReference)of!),
            Asked.Exists => context.Exists((CrossReference)of!) ? Yes : No,
            Asked.PointsAt => context.TargetOf((CrossReference)of!).Value,
            Asked.Ambiguous => context.IsAmbiguous((CrossReference)of!) ? Yes : No,
            Asked.Variable => context.Variable((string)of!) ?? Nothing,
            Asked.Passage => context.HasPassage((string)of!) ? Yes : No,
            _ => context.Label(numbers, (Id)of!),
        };

    // ---- of its own division ----

    public DivisionKind Kind
    {
        get
        {
            Ask(Asked.Kind, null);
            return numbers.Division.Kind;
        }
    }

    public string Language => Ask(Asked.Language, null);

    public Writing Writing => Writing.Of(Language);

    public Hyphenator? Hyphenator => context.Hyphenator(Ask(Asked.Language, null));

    /// <summary>The label of a step, an item, an admonition, a clause; "" for none.</summary>
    public string Label(Id id) => Ask(Asked.Label, id);

    /// <summary>The name and number of a head, a figure or the like; null when it is not counted.</summary>
    public (string Name, string Number)? Target(Id id)
    {
        var said = Ask(Asked.Target, id);
        if (said == Nothing)
            return null;
        var at = said.IndexOf('\u001f', StringComparison.Ordinal);
        return (said[..at], said[(at + 1)..]);
    }

    // ---- of other places ----

    public string Print(CrossReference reference) => Ask(Asked.Print, reference);

    public bool Exists(CrossReference reference) => Ask(Asked.Exists, reference) == Yes;

    public Id TargetOf(CrossReference reference) => new(Ask(Asked.PointsAt, reference));

    public bool IsAmbiguous(CrossReference reference) => Ask(Asked.Ambiguous, reference) == Yes;

    public string? Variable(string name) => Ask(Asked.Variable, name) is var text && text == Nothing ? null : text;

    public bool HasPassage(string name) => Ask(Asked.Passage, name) == Yes;

    /// <summary>The number of a note, which may be counted by page.</summary>
    public string NoteLabel(Id note) => Ask(Asked.NoteLabel, note);
}
