namespace Kivren.Store;

/// <summary>A manual of the shelf. Variables, editions and aliases are small and always read whole: JSON.</summary>
public sealed class ManualRow
{
    public required string Id { get; set; }
    public required string Title { get; set; }
    public required string Language { get; set; }
    public required string Look { get; set; }
    public string Variables { get; set; } = "{}";
    public string Editions { get; set; } = "[]";
    public string Aliases { get; set; } = "{}";
    public string Passages { get; set; } = "[]";

    /// <summary>Roles of the manual's own: list of name and foundation.</summary>
    public string Roles { get; set; } = "[]";
    public string[] HyphenationExceptions { get; set; } = [];
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

/// <summary>A source document as it was brought in: its file, the mapping it came in with, and the blocks that it became,
/// so that a newer version can be compared with it.</summary>
public sealed class SourceRow
{
    public required string Id { get; set; }
    public required string ManualId { get; set; }
    public required string Name { get; set; }
    public required string Hash { get; set; }
    public required byte[] Bytes { get; set; }
    public required string Mapping { get; set; }

    /// <summary>The blocks as they came in: list of division and body, JSON.</summary>
    public required string Taken { get; set; }

    /// <summary>What was left out or changed, JSON.</summary>
    public required string Report { get; set; }
    public DateTimeOffset BroughtInAt { get; set; }
}

/// <summary>A pattern kept from a manual: its package, by its name.</summary>
public sealed class PatternRow
{
    public required string Name { get; set; }
    public int Version { get; set; } = 1;
    public required byte[] Package { get; set; }
    public DateTimeOffset KeptAt { get; set; }
}

/// <summary>The bytes of a picture, once for all manuals that use it.</summary>
public sealed class PictureRow
{
    public required string Hash { get; set; }
    public required byte[] Bytes { get; set; }
}

/// <summary>A change of the writer's own, the taking back of one, or the doing again of what was taken back.</summary>
public enum ActKind { Change, TakingBack, DoingAgain }

/// <summary>One act of a writer with its inverse: what each block and division was before and is after.</summary>
public sealed class JournalRow
{
    public long Id { get; set; }
    public required string ManualId { get; set; }

    /// <summary>Sent by the browser; a batch sent twice is done once.</summary>
    public required string BatchId { get; set; }
    public required string Writer { get; set; }
    public required string Label { get; set; }
    public DateTimeOffset At { get; set; }

    /// <summary>Before and after of each block and division, JSON.</summary>
    public required string Changes { get; set; }

    /// <summary>What was answered, so that a batch sent again gets the same answer.</summary>
    public required string Answer { get; set; }

    public ActKind Kind { get; set; }

    /// <summary>The act this one took back, or null.</summary>
    public long? TakesBack { get; set; }

    /// <summary>This act was itself taken back.</summary>
    public bool TakenBack { get; set; }
}

public enum OutputState { Waiting, Running, Done, Failed, Cancelled }

/// <summary>A produced file with its report.</summary>
public sealed class OutputRow
{
    public required string Id { get; set; }
    public required string ManualId { get; set; }
    public required string Edition { get; set; }
    public OutputState State { get; set; }
    public string Stage { get; set; } = "";
    public int Done { get; set; }
    public int Total { get; set; }
    public DateTimeOffset AskedAt { get; set; }
    public int Pages { get; set; }
    public int LooseEnds { get; set; }
    public string? Problem { get; set; }
    public byte[]? File { get; set; }
}

/// <summary>Who works on the shelf; one from the first day, sign-in comes later.</summary>
public sealed class WriterRow
{
    public required string Id { get; set; }
    public required string Name { get; set; }
}
