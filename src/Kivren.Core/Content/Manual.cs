namespace Kivren.Core.Content;

/// <summary>The whole work.</summary>
public sealed record Manual(Id Id, string Title, IReadOnlyList<Division> Divisions)
{
    public string Language { get; init; } = "en-GB";
    public string Look { get; init; } = "Workshop, A5";

    /// <summary>The file of the look (docs/looks.md), where it is not one that ships.</summary>
    public string? LookFile { get; init; }
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

    /// <summary>Places that a sweep found and the writer left out of the index.</summary>
    public IReadOnlyList<PassedOver> PassedOver { get; init; } = [];

    /// <summary>Loose ends that the writer looked at and let be, each with the reason.</summary>
    public IReadOnlyList<PutAside> PutAside { get; init; } = [];

    /// <summary>Contents lists of the manual's own; one with the name of a list of the look stands in its place.</summary>
    public IReadOnlyList<OwnList> Lists { get; init; } = [];

    /// <summary>The list that opens every chapter and appendix with its own contents; null for none.</summary>
    public string? ChapterContents { get; init; }

    /// <summary>In each division the first use of a term leads to the glossary.</summary>
    public bool TermsLead { get; init; }

    /// <summary>How the index is set; null as the look says.</summary>
    public OwnIndexDress? IndexDress { get; init; }
    public IReadOnlyList<Asset> Assets { get; init; } = [];

    /// <summary>Ids that joined blocks gave up, each with the id that stands for it now.</summary>
    public IReadOnlyDictionary<Id, Id> Aliases { get; init; } = new Dictionary<Id, Id>();

    public Edition EditionNamed(string? name) => Editions.FirstOrDefault(e => name is null || e.Name == name) ?? Edition.Whole;
}

/// <summary>A variable: a named text kept once.</summary>
public sealed record NamedText(string Name, string Text);

/// <summary>A place that a sweep for a phrase found and that is not in the index by choice.</summary>
/// <param name="Inner">the innermost block, row or cell</param>
/// <param name="Words">the words there, by which it is known again</param>
public sealed record PassedOver(string Phrase, Id Inner, string Words);

/// <summary>A loose end that is let be: what it is, where, and why.</summary>
/// <param name="Words">the words it was told with: said otherwise, it is told again</param>
public sealed record PutAside(string Kind, Id Block, string Words, string Reason)
{
    public const int LongestWords = 200;
}

/// <summary>A picture of the manual: its pixel or user-unit size, and the hash of its bytes (SHA-256, hex).</summary>
public sealed record Asset(string Name, string MediaType, int Width, int Height, string Hash)
{
    /// <summary>It can stand on a page; else it is a file that an output is made with.</summary>
    public bool IsPicture => MediaType.StartsWith("image/", StringComparison.Ordinal);
}
