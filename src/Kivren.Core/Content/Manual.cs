namespace Kivren.Core.Content;

/// <summary>The whole work.</summary>
public sealed record Manual(Id Id, string Title, IReadOnlyList<Division> Divisions)
{
    public string Language { get; init; } = "en-GB";
    public string Look { get; init; } = "Workshop, A5";
    public IReadOnlyList<NamedText> Variables { get; init; } = [];

    /// <summary>The axes on which text may apply to some readers only, each with its values.</summary>
    public IReadOnlyList<AxisValues> Conditions { get; init; } = [];
    public IReadOnlyList<Edition> Editions { get; init; } = [];
    public IReadOnlyList<OwnRole> Roles { get; init; } = [];
    public IReadOnlyList<Passage> Passages { get; init; } = [];

    /// <summary>Words with the places where they may be divided, such as fer-ry; a word without a hyphen is never divided.</summary>
    public IReadOnlyList<string> HyphenationExceptions { get; init; } = [];

    /// <summary>Words that no dictionary has and that are spelt right here.</summary>
    public IReadOnlyList<string> AcceptedWords { get; init; } = [];
    public IReadOnlyList<Asset> Assets { get; init; } = [];

    /// <summary>Ids that joined blocks gave up, each with the id that stands for it now.</summary>
    public IReadOnlyDictionary<Id, Id> Aliases { get; init; } = new Dictionary<Id, Id>();

    public Edition EditionNamed(string? name) => Editions.FirstOrDefault(e => name is null || e.Name == name) ?? Edition.Whole;
}

/// <summary>A variable: a named text kept once.</summary>
public sealed record NamedText(string Name, string Text);

/// <summary>A picture of the manual: its pixel or user-unit size, and the hash of its bytes (SHA-256, hex).</summary>
public sealed record Asset(string Name, string MediaType, int Width, int Height, string Hash);

/// <summary>One way the manual goes out: what it takes on each axis, what it leaves out, its own variable texts.</summary>
public sealed record Edition(string Name)
{
    public static readonly Edition Whole = new("Whole manual");
    public IReadOnlyList<AxisValues> Chosen { get; init; } = [];
    public IReadOnlyList<Id> LeavesOut { get; init; } = [];
    public IReadOnlyList<NamedText> Variables { get; init; } = [];
}
