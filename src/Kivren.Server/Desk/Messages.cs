using Kivren.Core.Content;
using Kivren.Core.Planning;

namespace Kivren.Server.Desk;

/// <summary>A change to one top-level block, with the version it was based on (0 for a new block).</summary>
/// <param name="Body">the block in the editor's document form, or null when it is taken out or only moved</param>
/// <param name="After">the block it stands after in its division, "" for the beginning, null to stay where it is</param>
[GenerateSerializer, Immutable]
public sealed record BlockChange(
    [property: global::Orleans.Id(0)] string Id, [property: global::Orleans.Id(1)] string Division, [property: global::Orleans.Id(2)] int BasedOn, [property: global::Orleans.Id(3)] string? Body, [property: global::Orleans.Id(4)] string? After, [property: global::Orleans.Id(5)] bool Deleted);

/// <summary>A change to a division itself. Null leaves a field as it is.</summary>
[GenerateSerializer, Immutable]
public sealed record DivisionChange(
    [property: global::Orleans.Id(0)] string Id, [property: global::Orleans.Id(1)] int BasedOn, [property: global::Orleans.Id(2)] string? Kind, [property: global::Orleans.Id(3)] string? Title, [property: global::Orleans.Id(4)] string? ShortTitle, [property: global::Orleans.Id(5)] string? After, [property: global::Orleans.Id(6)] bool Deleted);

/// <summary>One act: all its changes go in together. A batch sent twice is done once.</summary>
/// <param name="Joined">ids that joined blocks gave up, with the ids that stand for them now</param>
[GenerateSerializer, Immutable]
public sealed record Batch(
    [property: global::Orleans.Id(0)] string Id, [property: global::Orleans.Id(1)] string Writer, [property: global::Orleans.Id(2)] string Label, [property: global::Orleans.Id(3)] BlockChange[] Blocks, [property: global::Orleans.Id(4)] DivisionChange[]? Divisions, [property: global::Orleans.Id(5)] Dictionary<string, string>? Joined);

/// <summary>A block that went in: its new version; its body when it was merged with another writer's change.</summary>
[GenerateSerializer, Immutable]
public sealed record Accepted([property: global::Orleans.Id(0)] string Id, [property: global::Orleans.Id(1)] int Version, [property: global::Orleans.Id(2)] string? Merged);

/// <summary>A block that did not go in: why, and what stands there now (null when it was taken out).</summary>
[GenerateSerializer, Immutable]
public sealed record Refused([property: global::Orleans.Id(0)] string Id, [property: global::Orleans.Id(1)] string Why, [property: global::Orleans.Id(2)] string? Theirs, [property: global::Orleans.Id(3)] int Version);

[GenerateSerializer, Immutable]
public sealed record Answer([property: global::Orleans.Id(0)] string Batch, [property: global::Orleans.Id(1)] long Act, [property: global::Orleans.Id(2)] Accepted[] Accepted, [property: global::Orleans.Id(3)] Refused[] Refused);

/// <summary>What an undo or redo did: its words, and the divisions it touched; Act 0 when there was nothing to take back.</summary>
[GenerateSerializer, Immutable]
public sealed record TakenBack([property: global::Orleans.Id(0)] long Act, [property: global::Orleans.Id(1)] string Label, [property: global::Orleans.Id(2)] string[] Divisions, [property: global::Orleans.Id(3)] Refused[] Refused);

[GenerateSerializer, Immutable]
public sealed record DeskBlock([property: global::Orleans.Id(0)] string Id, [property: global::Orleans.Id(1)] int Version, [property: global::Orleans.Id(2)] string Body);

[GenerateSerializer, Immutable]
public sealed record DeskDivision([property: global::Orleans.Id(0)] string Id, [property: global::Orleans.Id(1)] string Kind, [property: global::Orleans.Id(2)] string Title, [property: global::Orleans.Id(3)] string? ShortTitle, [property: global::Orleans.Id(4)] int Version, [property: global::Orleans.Id(5)] DeskBlock[]? Blocks);

[GenerateSerializer, Immutable]
public sealed record DeskManual([property: global::Orleans.Id(0)] string Id, [property: global::Orleans.Id(1)] string Title, [property: global::Orleans.Id(2)] string Look, [property: global::Orleans.Id(3)] DeskDivision[] Divisions, [property: global::Orleans.Id(4)] string[] Assets, [property: global::Orleans.Id(5)] string[] Variables, [property: global::Orleans.Id(6)] DeskRole[] Roles);

/// <summary>A role of the manual's own.</summary>
[GenerateSerializer, Immutable]
public sealed record DeskRole([property: global::Orleans.Id(0)] string Name, [property: global::Orleans.Id(1)] string Foundation);

/// <summary>What an act on the plan did: its place in the journal and its words, or why it was refused.</summary>
[GenerateSerializer, Immutable]
public sealed record Reworked([property: global::Orleans.Id(0)] long Act, [property: global::Orleans.Id(1)] string Words, [property: global::Orleans.Id(2)] string? Refused);

/// <summary>What an act on the plan would do: the number that its row would get and what it would stand under.</summary>
[GenerateSerializer, Immutable]
public sealed record Foreseen([property: global::Orleans.Id(0)] string? Number, [property: global::Orleans.Id(1)] string Under, [property: global::Orleans.Id(2)] string? Refused);

/// <summary>An act on the plan as a browser asks for it.</summary>
/// <param name="Do">move, deepen, lift, split, join, addDivision, addHead, rename, takeOut, state, makeHead</param>
[GenerateSerializer, Immutable]
public sealed record PlanOrder(
    [property: global::Orleans.Id(0)] string Id, [property: global::Orleans.Id(1)] string Writer, [property: global::Orleans.Id(2)] string Do, [property: global::Orleans.Id(3)] string[] Rows, [property: global::Orleans.Id(4)] string? By, [property: global::Orleans.Id(5)] string? At, [property: global::Orleans.Id(6)] string? Text)
{
    /// <summary>The act, or null when it is none.</summary>
    public PlanAct? ToAct()
    {
        var rows = (Rows ?? []).Select(r => new Core.Content.Id(r)).ToArray();
        var by = new Core.Content.Id(By ?? "");
        var row = rows.FirstOrDefault();
        return Do switch
        {
            "move" => new PlanAct.Move(rows, by, Enum.TryParse<LandsAt>(At, true, out var at) ? at : LandsAt.After),
            "deepen" => new PlanAct.Deepen(rows),
            "lift" => new PlanAct.Lift(rows),
            "split" => new PlanAct.Split(row),
            "join" => new PlanAct.Join(row),
            "addDivision" when Enum.TryParse<DivisionKind>(At, true, out var kind) => new PlanAct.AddDivision(row, kind, Text ?? "", by),
            "addHead" => new PlanAct.AddHead(row, Text ?? "", by),
            "rename" => new PlanAct.Rename(row, Text ?? ""),
            "takeOut" => new PlanAct.TakeOut(rows),
            "state" when Enum.TryParse<WorkState>(At, true, out var state) => new PlanAct.SetState(rows, state),
            "makeHead" when Enum.TryParse<HeadLevel>(At, true, out var level) => new PlanAct.MakeHead(row, level),
            _ => null,
        };
    }
}

/// <summary>The desk of one open manual: one in the whole cluster, one writer at a time (architecture.md, Flow 2).</summary>
public interface IDesk : IGrainWithStringKey
{
    /// <summary>The manual with its divisions, without their blocks; null when there is none of this id.</summary>
    Task<DeskManual?> Open();
    Task<DeskDivision?> Division(string id);
    Task<Answer> Apply(Batch batch);

    /// <summary>Takes back the writer's last act; with <paramref name="again"/> the last taking back.</summary>
    Task<TakenBack> TakeBack(string writer, bool again);

    /// <summary>Does an act on the plan.</summary>
    Task<Reworked> Rework(PlanOrder order);

    /// <summary>What an act on the plan would do, without doing it.</summary>
    Task<Foreseen> Foresee(PlanOrder order);

    /// <summary>Puts whole divisions in after a row, with the pictures they name.</summary>
    Task<Reworked> PutIn(string batch, string writer, string divisions, string after, string assets);

    /// <summary>Adds a role of the manual's own; answers why it cannot, or null.</summary>
    Task<string?> AddRole(string name, string foundation);

    /// <summary>Forgets what is in memory: the next call reads the database.</summary>
    Task Close();
}
