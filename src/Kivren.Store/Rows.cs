namespace Kivren.Store;

/// <summary>A manual of the shelf. Variables, editions and aliases are small and always read whole: JSON.</summary>
public sealed class ManualRow
{
    public required string Id { get; set; }
    public required string Title { get; set; }
    public required string Language { get; set; }
    public required string Look { get; set; }

    /// <summary>Null where the look is one that ships.</summary>
    public string? LookFile { get; set; }
    public string Variables { get; set; } = "{}";

    /// <summary>Axes with their values.</summary>
    public string Conditions { get; set; } = "{}";
    public string Editions { get; set; } = "[]";
    public string Aliases { get; set; } = "{}";

    /// <summary>Roles of the manual's own: list of name and foundation.</summary>
    public string Roles { get; set; } = "[]";
    public string[] HyphenationExceptions { get; set; } = [];
    public string[] AcceptedWords { get; set; } = [];

    /// <summary>Places that sweeps left, loose ends put aside, contents lists of its own: lists.</summary>
    public string PassedOver { get; set; } = "[]";
    public string PutAside { get; set; } = "[]";
    public string Lists { get; set; } = "[]";

    /// <summary>A name; empty for none.</summary>
    public string TermsLead { get; set; } = "false";
    public string ChapterContents { get; set; } = "\"\"";

    /// <summary>Empty where the index is set as the look says.</summary>
    public string IndexDress { get; set; } = "{}";
    public DateTimeOffset WorkedOn { get; set; }

    /// <summary>Set while the manual lies among the deleted; taken back by undo.</summary>
    public DateTimeOffset? DeletedAt { get; set; }

    /// <summary>As last composed, for the shelf.</summary>
    public int Pages { get; set; }
    public int LooseEnds { get; set; }
}

public sealed class DivisionRow
{
    public required string Id { get; set; }
    public required string ManualId { get; set; }
    public required string OrderKey { get; set; }
    public required string Kind { get; set; }
    public required string Title { get; set; }
    public string? ShortTitle { get; set; }
    public required string Language { get; set; }
    public string AppliesTo { get; set; } = "{}";
    public string Begins { get; set; } = "ByLook";
    public string State { get; set; } = "Draft";
    public int Version { get; set; } = 1;
    public bool Deleted { get; set; }
}

/// <summary>One top-level block; its body is the editor's own document form. A deleted block leaves its row.</summary>
public sealed class BlockRow
{
    public required string Id { get; set; }
    public required string ManualId { get; set; }
    public required string DivisionId { get; set; }
    public required string OrderKey { get; set; }
    public required string Kind { get; set; }
    public required string Body { get; set; }
    public int Version { get; set; } = 1;
    public bool Deleted { get; set; }
}

public sealed class AssetRow
{
    public required string ManualId { get; set; }
    public required string Name { get; set; }
    public required string MediaType { get; set; }
    public int Width { get; set; }
    public int Height { get; set; }
    public required string Hash { get; set; }
}

/// <summary>A mapping of the shelf, by its name.</summary>
public sealed class MappingRow
{
    public required string Name { get; set; }
    public required string Body { get; set; }
    public DateTimeOffset KeptAt { get; set; }
}

/// <summary>A source document as it was brought in: the mapping it came in with, and the blocks that it became, so that a
/// newer version can be compared with it. Its bytes stand in <see cref="SourceFileRow"/>.</summary>
public sealed class SourceRow
{
    public required string Id { get; set; }
    public required string ManualId { get; set; }
    public required string Name { get; set; }
    public required string Hash { get; set; }
    public int Size { get; set; }
    public required string Mapping { get; set; }

    /// <summary>The blocks as they came in: list of division and body, JSON.</summary>
    public required string Taken { get; set; }

    /// <summary>What was left out or changed, JSON.</summary>
    public required string Report { get; set; }
    public DateTimeOffset BroughtInAt { get; set; }
}

/// <summary>The bytes of a source; no list reads them.</summary>
public sealed class SourceFileRow
{
    public required string SourceId { get; set; }
    public required byte[] Bytes { get; set; }
}

/// <summary>Documents on their way in: what the writer chose for them so far. Read again after a restart.</summary>
public sealed class IncomingRow
{
    public required string Id { get; set; }

    /// <summary>The manual they come into and the row after which; null for a new one.</summary>
    public string? ManualId { get; set; }
    public string After { get; set; } = "";

    /// <summary>The source that a newer version of comes in.</summary>
    public string? Newer { get; set; }

    /// <summary>From which the ids of what comes in are made, so that they stay the same when it is read again.</summary>
    public required string Seed { get; set; }

    /// <summary>JSON; null until the documents were read once.</summary>
    public string? Choices { get; set; }
    public DateTimeOffset StartedAt { get; set; }

    /// <summary>What was answered when they were taken in: they are taken once.</summary>
    public string? Taken { get; set; }
}

public sealed class IncomingFileRow
{
    public required string IncomingId { get; set; }
    public int No { get; set; }
    public required string Name { get; set; }
    public required byte[] Bytes { get; set; }
}

/// <summary>A pattern kept from a manual: its package, by its name.</summary>
public sealed class PatternRow
{
    public required string Name { get; set; }
    public int Version { get; set; } = 1;
    public required byte[] Package { get; set; }
    public DateTimeOffset KeptAt { get; set; }
}

/// <summary>A look that the shelf keeps for all its manuals, by its name; each keeping of another file is a version.</summary>
public sealed class LookRow
{
    public required string Name { get; set; }
    public int Version { get; set; } = 1;
    public required string File { get; set; }
    public DateTimeOffset KeptAt { get; set; }
}

/// <summary>A look as it was before it was kept anew.</summary>
public sealed class LookVersionRow
{
    public required string Name { get; set; }
    public int Version { get; set; }
    public required string File { get; set; }
    public DateTimeOffset KeptAt { get; set; }
}

/// <summary>A house's font file, by the hash of its bytes (SHA-256, hex).</summary>
public sealed class FontFileRow
{
    public required string Hash { get; set; }

    /// <summary>Name of the file as it was brought in.</summary>
    public required string Called { get; set; }
    public required byte[] Bytes { get; set; }
    public DateTimeOffset KeptAt { get; set; }
}

/// <summary>A variable or a passage that the shelf keeps for all its manuals, by its kind and name.</summary>
public sealed class KeptOnShelfRow
{
    public required string Kind { get; set; }
    public required string Name { get; set; }
    public required string Body { get; set; }

    /// <summary>Hashes of the pictures that stand in it.</summary>
    public string[] Pictures { get; set; } = [];

    /// <summary>Title of the manual that gave it.</summary>
    public required string From { get; set; }
    public DateTimeOffset KeptAt { get; set; }
}

/// <summary>The bytes of a picture, once for all manuals that use it.</summary>
public sealed class PictureRow
{
    public required string Hash { get; set; }
    public required byte[] Bytes { get; set; }

    /// <summary>When somebody last brought it.</summary>
    public DateTimeOffset KeptAt { get; set; }
}

/// <summary>A change of the writer's own, the taking back of one, or the doing again of what was taken back.</summary>
public enum ActKind
{
    Change,
    TakingBack,
    DoingAgain,
}

/// <summary>One act of a writer. Its inverse stands in <see cref="NewBlocks"/>, <see cref="JournalBlockRow"/> and
/// <see cref="JournalDivisionRow"/>.</summary>
public sealed class JournalRow
{
    public long Id { get; set; }
    public required string ManualId { get; set; }

    /// <summary>Sent by the browser; a batch sent twice is done once.</summary>
    public required string BatchId { get; set; }
    public required string Writer { get; set; }
    public required string Label { get; set; }
    public DateTimeOffset At { get; set; }

    /// <summary>What was answered, so that a batch sent again gets the same answer.</summary>
    public required string Answer { get; set; }

    public ActKind Kind { get; set; }

    /// <summary>The act this one took back, or null.</summary>
    public long? TakesBack { get; set; }

    /// <summary>The batch that this act is a part of: a long paste is stored in parts, and undone as one; null for a whole act.</summary>
    public string? PartOf { get; set; }

    /// <summary>This act was itself taken back.</summary>
    public bool TakenBack { get; set; }

    /// <summary>Blocks whose rows this act made: each is at version 1 after it, and its inverse takes it out.</summary>
    public string[] NewBlocks { get; set; } = [];

    /// <summary>The manual's small parts that the act changed, before and after, JSON; null for an act that left them.</summary>
    public string? SettingsBefore { get; set; }
    public string? SettingsAfter { get; set; }
}

/// <summary>What a block that has a row was before an act. What it was after is what it was before the next act on it, or its
/// row.</summary>
public sealed class JournalBlockRow
{
    public long Act { get; set; }
    public required string BlockId { get; set; }

    /// <summary>Null, like all of the state before, when the block was not there.</summary>
    public string? BeforeDivision { get; set; }
    public string? BeforeOrderKey { get; set; }
    public int? BeforeVersion { get; set; }
    public string? BeforeBody { get; set; }
    public int AfterVersion { get; set; }
    public bool AfterDeleted { get; set; }
}

/// <summary>A division itself before and after an act, JSON.</summary>
public sealed class JournalDivisionRow
{
    public long Act { get; set; }
    public required string DivisionId { get; set; }
    public string? Before { get; set; }
    public required string After { get; set; }
}

public enum OutputState
{
    Waiting,
    Running,
    Done,
    Failed,
    Cancelled,
}

/// <summary>A produced file with its report.</summary>
public sealed class OutputRow
{
    public required string Id { get; set; }
    public required string ManualId { get; set; }
    public required string Edition { get; set; }

    /// <summary>As an edition says it (<see cref="Kivren.Core.Content.OutputKind"/>).</summary>
    public required string Kind { get; set; }

    /// <summary>What its file is called, once it is made.</summary>
    public string FileName { get; set; } = "";
    public long Bytes { get; set; }

    /// <summary>The last act of the journal in the text that it was made from.</summary>
    public long Act { get; set; }

    /// <summary>What is said of it, as JSON; null until it is made.</summary>
    public string? Report { get; set; }

    /// <summary>What changed since the output of this kind before it, a sentence a line; null where there was none.</summary>
    public string? Since { get; set; }
    public OutputState State { get; set; }
    public string Stage { get; set; } = "";
    public int Done { get; set; }
    public int Total { get; set; }
    public DateTimeOffset AskedAt { get; set; }
    public int Pages { get; set; }
    public int LooseEnds { get; set; }
    public string? Problem { get; set; }

    /// <summary>The process that makes it, and when it last said so: what no process says anything of is taken up by another.</summary>
    public string? TakenBy { get; set; }
    public DateTimeOffset? Heartbeat { get; set; }

    /// <summary>How often a process took it up: a file that ends its process is not tried for ever.</summary>
    public int Tries { get; set; }
    public bool CancelAsked { get; set; }
}

/// <summary>The bytes of an output; no list reads them.</summary>
public sealed class OutputFileRow
{
    public required string OutputId { get; set; }
    public required byte[] Bytes { get; set; }
}

/// <summary>Who works on the shelf; one from the first day, sign-in comes later.</summary>
public sealed class WriterRow
{
    public required string Id { get; set; }
    public required string Name { get; set; }
}
