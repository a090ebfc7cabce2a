namespace Kivren.Server.Desk;

/// <summary>A change to one top-level block, with the version it was based on (0 for a new block).</summary>
/// <param name="Body">the block in the editor's document form, or null when it is taken out or only moved</param>
/// <param name="After">the block it stands after in its division, "" for the beginning, null to stay where it is</param>
[GenerateSerializer, Immutable]
public sealed record BlockChange(
    [property: Id(0)] string Id, [property: Id(1)] string Division, [property: Id(2)] int BasedOn, [property: Id(3)] string? Body, [property: Id(4)] string? After, [property: Id(5)] bool Deleted);

/// <summary>A change to a division itself. Null leaves a field as it is.</summary>
[GenerateSerializer, Immutable]
public sealed record DivisionChange(
    [property: Id(0)] string Id, [property: Id(1)] int BasedOn, [property: Id(2)] string? Kind, [property: Id(3)] string? Title, [property: Id(4)] string? ShortTitle, [property: Id(5)] string? After, [property: Id(6)] bool Deleted);

/// <summary>One act: all its changes go in together. A batch sent twice is done once.</summary>
/// <param name="Joined">ids that joined blocks gave up, with the ids that stand for them now</param>
[GenerateSerializer, Immutable]
public sealed record Batch(
    [property: Id(0)] string Id, [property: Id(1)] string Writer, [property: Id(2)] string Label, [property: Id(3)] BlockChange[] Blocks, [property: Id(4)] DivisionChange[]? Divisions, [property: Id(5)] Dictionary<string, string>? Joined);

/// <summary>A block that went in: its new version; its body when it was merged with another writer's change.</summary>
[GenerateSerializer, Immutable]
public sealed record Accepted([property: Id(0)] string Id, [property: Id(1)] int Version, [property: Id(2)] string? Merged);

/// <summary>A block that did not go in: why, and what stands there now (null when it was taken out).</summary>
[GenerateSerializer, Immutable]
public sealed record Refused([property: Id(0)] string Id, [property: Id(1)] string Why, [property: Id(2)] string? Theirs, [property: Id(3)] int Version);

[GenerateSerializer, Immutable]
public sealed record Answer([property: Id(0)] string Batch, [property: Id(1)] long Act, [property: Id(2)] Accepted[] Accepted, [property: Id(3)] Refused[] Refused);

/// <summary>What an undo or redo did: its words, and the divisions it touched; Act 0 when there was nothing to take back.</summary>
[GenerateSerializer, Immutable]
public sealed record TakenBack([property: Id(0)] long Act, [property: Id(1)] string Label, [property: Id(2)] string[] Divisions, [property: Id(3)] Refused[] Refused);

[GenerateSerializer, Immutable]
public sealed record DeskBlock([property: Id(0)] string Id, [property: Id(1)] int Version, [property: Id(2)] string Body);

[GenerateSerializer, Immutable]
public sealed record DeskDivision([property: Id(0)] string Id, [property: Id(1)] string Kind, [property: Id(2)] string Title, [property: Id(3)] string? ShortTitle, [property: Id(4)] int Version, [property: Id(5)] DeskBlock[]? Blocks);

[GenerateSerializer, Immutable]
public sealed record DeskManual([property: Id(0)] string Id, [property: Id(1)] string Title, [property: Id(2)] string Look, [property: Id(3)] DeskDivision[] Divisions, [property: Id(4)] string[] Assets, [property: Id(5)] string[] Variables);

/// <summary>The desk of one open manual: one in the whole cluster, one writer at a time (architecture.md, Flow 2).</summary>
public interface IDesk : IGrainWithStringKey
{
    /// <summary>The manual with its divisions, without their blocks; null when there is none of this id.</summary>
    Task<DeskManual?> Open();
    Task<DeskDivision?> Division(string id);
    Task<Answer> Apply(Batch batch);

    /// <summary>Takes back the writer's last act; with <paramref name="again"/> the last taking back.</summary>
    Task<TakenBack> TakeBack(string writer, bool again);

    /// <summary>Forgets what is in memory: the next call reads the database.</summary>
    Task Close();
}
