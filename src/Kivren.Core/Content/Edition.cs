using System.Runtime.CompilerServices;

namespace Kivren.Core.Content;

/// <summary>Where an output is read.</summary>
public enum Medium
{
    Paper,

    /// <summary>Pages of a fixed size on a screen.</summary>
    Screen,

    /// <summary>Text that flows to the width of a screen; it has no pages.</summary>
    Flowing,
}

/// <summary>What a reference says whose target the edition leaves out.</summary>
public enum LeftOutReads
{
    /// <summary>The words of what it points at: a title, a caption.</summary>
    Words,

    /// <summary>The title of the manual.</summary>
    Manual,
    Nothing,
}

/// <summary>A division that an edition takes, in the edition's own order.</summary>
/// <param name="Sections">heads whose sections it takes, in its own order; the division's own id stands for its text before the
/// first head. Empty for all of it.</param>
public sealed record TakenDivision(Id Division, IReadOnlyList<Id> Sections);

/// <summary>One way the manual goes out: what it takes, for whom, in which look, and as which outputs.</summary>
public sealed record Edition(string Name)
{
    public static readonly Edition Whole = new("Whole manual");

    /// <summary>For whom: what it takes on each axis.</summary>
    public IReadOnlyList<AxisValues> Chosen { get; init; } = [];

    /// <summary>Divisions, and heads with their sections, that it leaves out.</summary>
    public IReadOnlyList<Id> LeavesOut { get; init; } = [];

    /// <summary>What it takes, in its own order; empty for the manual in the manual's order.</summary>
    public IReadOnlyList<TakenDivision> Takes { get; init; } = [];

    /// <summary>Its own texts of variables.</summary>
    public IReadOnlyList<NamedText> Variables { get; init; } = [];

    /// <summary>Its own look; null for the manual's.</summary>
    public string? Look { get; init; }

    /// <summary>The file of that look, where it is not one that ships.</summary>
    public string? LookFile { get; init; }

    /// <summary>Its own language; null for the manual's.</summary>
    public string? Language { get; init; }

    /// <summary>Contents lists, by their names, that it goes out without, and <see cref="Index"/>.</summary>
    public IReadOnlyList<string> Without { get; init; } = [];

    /// <summary>The name of the index among what it goes out without.</summary>
    public const string Index = "index";
    public LeftOutReads LeftOut { get; init; }
    public IReadOnlyList<OutputChoice> GoesOutAs { get; init; } = [];

    /// <summary>What its files are called: words, with {manual}, {edition}, {output}, {date} and the manual's variables in braces; empty
    /// for the usual.</summary>
    public string FilesCalled { get; init; } = "";

    /// <summary>Where what is composed is read; null where nobody said: as on paper, with the text for all media.</summary>
    public Medium? Medium { get; private init; }

    // Beside the edition, not in it: the same edition gives the same object for the same medium, by which caches know it.
    private static readonly ConditionalWeakTable<Edition, Edition?[]> Known = [];

    /// <summary>The axis that chooses by itself between what is printed and what is read on screens.</summary>
    public const string MediumAxis = "medium",
        Print = "print",
        Screens = "screen";

    /// <summary>The edition for a medium. On the axis <see cref="MediumAxis"/> it takes what is for that medium, where it did not
    /// choose itself.</summary>
    public Edition For(Medium medium)
    {
        if (medium == Medium)
            return this;
        var known = Known.GetValue(this, static _ => new Edition?[3]);
        return known[(int)medium] ??= this with
        {
            Medium = medium,
            Chosen = Chosen.Any(c => c.Axis == MediumAxis)
                ? Chosen
                : [.. Chosen, new AxisValues(MediumAxis, [medium == Content.Medium.Paper ? Print : Screens])],
        };
    }

    /// <summary>The medium that it is proofed for: that of the first of its outputs that has pages.</summary>
    public Medium ProofedFor =>
        GoesOutAs.Select(o => o.Kind.Medium()).FirstOrDefault(m => m != Content.Medium.Flowing, Content.Medium.Paper);

    /// <summary>The edition as it is proofed.</summary>
    public Edition Proofed => For(ProofedFor);
}
