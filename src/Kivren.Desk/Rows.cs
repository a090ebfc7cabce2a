using Kivren.Core.Content;

namespace Kivren.Desk;

/// <summary>What a block was before an act.</summary>
/// <param name="Body">null when it was not there</param>
public sealed record BlockBefore(string Division, string OrderKey, int Version, string? Body);

/// <summary>What an act did to one block: the row as it is to be, and what it was.</summary>
/// <param name="OldVersion">the version of the row it takes the place of; 0 when there is none</param>
/// <param name="BodyChanged">false when the block only moved</param>
public sealed record BlockRowChange(
    string Division,
    PlacedBlock Block,
    int OldVersion,
    bool Deleted,
    bool BodyChanged,
    BlockBefore? Before
);

/// <summary>What an act did to one division itself.</summary>
public sealed record DivisionRowChange(PlacedDivision Division, int OldVersion, bool Deleted, DivisionHeader? Before)
{
    public DivisionHeader After => DivisionHeader.Of(Division, Deleted);
}

/// <summary>All of a division but its blocks, as the journal keeps it.</summary>
public sealed record DivisionHeader(
    string OrderKey,
    int Version,
    bool Deleted,
    string Kind,
    string Title,
    string? ShortTitle,
    string Language,
    string AppliesTo,
    string Begins,
    string State
)
{
    public static DivisionHeader Of(PlacedDivision placed, bool deleted = false)
    {
        var d = placed.Division;
        return new DivisionHeader(
            placed.OrderKey,
            placed.Version,
            deleted,
            d.Kind.ToString(),
            d.Title,
            d.ShortTitle,
            d.Language,
            Formats.Package.EditionForm.ToJson(d.AppliesTo),
            d.Begins.ToString(),
            d.State.ToString()
        );
    }

    /// <summary>The division without blocks.</summary>
    public Division ToDivision(string id) =>
        new(new Id(id), Enum.Parse<DivisionKind>(Kind), Title, [])
        {
            ShortTitle = ShortTitle,
            Language = Language,
            AppliesTo = Formats.Package.EditionForm.ParseAppliesTo(AppliesTo),
            Begins = Enum.Parse<Begins>(Begins),
            State = Enum.Parse<WorkState>(State),
        };

    /// <summary>Whether both say the same of the division, whatever its version.</summary>
    public bool SaysTheSame(DivisionHeader other) => this with { Version = 0 } == other with { Version = 0 };
}

/// <summary>Parts of the manual's own row that an act changed; null for what it left.</summary>
/// <param name="SettingsBefore">so that it can be taken back</param>
public sealed record ManualRowChange(
    IReadOnlyDictionary<Id, Id>? Aliases,
    ManualSettings? Settings,
    ManualSettings? SettingsBefore,
    IReadOnlyList<Asset> Assets
)
{
    public static readonly ManualRowChange None = new(null, null, null, []);
}

/// <summary>The rows that an act writes, in one transaction.</summary>
public sealed record DeskRows(IReadOnlyList<BlockRowChange> Blocks, IReadOnlyList<DivisionRowChange> Divisions, ManualRowChange Manual)
{
    public bool IsEmpty => Blocks.Count + Divisions.Count == 0 && Manual is { Aliases: null, Settings: null, Assets.Count: 0 };
}
