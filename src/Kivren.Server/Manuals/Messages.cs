using Kivren.Core.Content;
using Kivren.Core.Planning;
using Kivren.Desk;
using Kivren.Store;
using Orleans.Concurrency;

namespace Kivren.Server.Manuals;

/// <summary>One act of typing: all its changes go in together. A batch sent twice is done once.</summary>
/// <param name="Joined">ids that joined blocks gave up, with the ids that stand for them now</param>
[GenerateSerializer, Immutable]
public sealed record Batch(string Id, string Writer, string Label, BlockChange[] Blocks, Dictionary<string, string>? Joined);

[GenerateSerializer, Immutable]
public sealed record Answer(string Batch, long Act, Accepted[] Accepted, Refused[] Refused);

/// <summary>What an undo or redo did: its words, and the divisions it touched; Act 0 when there was nothing to take back.</summary>
[GenerateSerializer, Immutable]
public sealed record TakenBack(long Act, string Label, string[] Divisions, Refused[] Refused);

[GenerateSerializer, Immutable]
public sealed record DeskBlock(string Id, int Version, string Body);

[GenerateSerializer, Immutable]
public sealed record DeskDivision(
    string Id,
    string Kind,
    string Title,
    string? ShortTitle,
    int Version,
    DeskBlock[]? Blocks,
    string Language,
    Dictionary<string, string[]> AppliesTo
);

[GenerateSerializer, Immutable]
public sealed record DeskManual(
    string Id,
    string Title,
    string Look,
    DeskDivision[] Divisions,
    string[] Assets,
    string[] Variables,
    DeskRole[] Roles,
    bool HasConditions
);

/// <summary>A role of the manual's own.</summary>
[GenerateSerializer, Immutable]
public sealed record DeskRole(string Name, string Foundation);

/// <summary>What an act did: its place in the journal and its words, or why it was refused.</summary>
[GenerateSerializer, Immutable]
public sealed record Reworked(long Act, string Words, string? Refused);

/// <summary>What an act on the plan would do: the number that its row would get and what it would stand under.</summary>
[GenerateSerializer, Immutable]
public sealed record Foreseen(string? Number, string Under, string? Refused);

/// <summary>An act on the plan as a browser asks for it.</summary>
/// <param name="Do">move, deepen, lift, split, join, addDivision, addHead, rename, shorten, takeOut, state, begins, language,
/// makeHead</param>
[GenerateSerializer, Immutable]
public sealed record PlanOrder(string Id, string Writer, string Do, string[] Rows, string? By, string? At, string? Text)
{
    /// <summary>The act, or null when it is none.</summary>
    public PlanAct? ToAct()
    {
        var rows = Rows.Select(r => new Id(r)).ToArray();
        var by = new Id(By ?? "");
        var row = rows.FirstOrDefault();
        return Do switch
        {
            "move" => new PlanAct.Move(rows, by, Enum.TryParse<LandsAt>(At, true, out var at) ? at : LandsAt.After),
            "deepen" => new PlanAct.Deepen(rows),
            "lift" => new PlanAct.Lift(rows),
            "split" => new PlanAct.Split(row),
            "join" => new PlanAct.Join(row),
            "addDivision" when rows.Length > 0 && Enum.TryParse<DivisionKind>(At?.Split(':')[0], true, out var kind) =>
                new PlanAct.AddDivision(row, kind, Text ?? "", by, At!.Split(':', 2) is [_, { Length: > 0 } list] ? list : "contents"),
            "addHead" when rows.Length > 0 => new PlanAct.AddHead(row, Text ?? "", by),
            "rename" => new PlanAct.Rename(row, Text ?? ""),
            "shorten" => new PlanAct.Shorten(row, Text ?? ""),
            "takeOut" => new PlanAct.TakeOut(rows),
            "state" when Enum.TryParse<WorkState>(At, true, out var state) => new PlanAct.SetState(rows, state),
            "begins" when Enum.TryParse<Begins>(At, true, out var begins) => new PlanAct.SetBegins(rows, begins),
            "language" => new PlanAct.SetLanguage(rows, At ?? ""),
            "makeHead" when Enum.TryParse<HeadLevel>(At, true, out var level) => new PlanAct.MakeHead(row, level),
            _ => null,
        };
    }
}

/// <summary>What comes in from documents: divisions for a place, or differences of a newer version, with what the shelf keeps of
/// their sources, in one act.</summary>
/// <param name="Divisions">JSON of whole divisions that go in after <paramref name="After"/>; null for differences</param>
/// <param name="Assets">pictures they name; their bytes are on the shelf already</param>
[GenerateSerializer, Immutable]
public sealed record ComingIn(
    string Batch,
    string Writer,
    string Label,
    string? Divisions,
    string After,
    BlockChange[] Changes,
    Asset[] Assets,
    KeptSource[] Sources
);

/// <summary>A page's folio and why it ends where it ends.</summary>
[GenerateSerializer, Immutable]
public sealed record SheetReason(string Folio, string Reason);

/// <summary>Something asked of a composition: what it shows, or why there is none. Both null: there is no such thing.</summary>
[GenerateSerializer, Immutable]
public sealed record Shown<T>(T? Value, string? Problem = null)
    where T : class;

/// <summary>A writer who has the manual open, and where.</summary>
[GenerateSerializer, Immutable]
public sealed record Presence(string Writer, string Division, string Block);

/// <summary>The owner of an open manual: one in the whole cluster. It holds the desk's state and composes, and all that
/// browsers are told comes from it. Reading never waits for writing.</summary>
public partial interface IOpenManual : IGrainWithStringKey
{
    /// <summary>The manual with its divisions, without their blocks; null when there is none of this id.</summary>
    [AlwaysInterleave]
    Task<DeskManual?> Open();

    [AlwaysInterleave]
    Task<DeskDivision?> Division(string id);

    /// <summary>Saves of many writers may wait together: the desk stores one act after the other.</summary>
    [AlwaysInterleave]
    Task<Answer> Write(Batch batch);

    /// <summary>Takes back the writer's last act; with <paramref name="again"/> the last taking back.</summary>
    Task<TakenBack> TakeBack(string writer, bool again);

    /// <summary>Does an act on the plan.</summary>
    Task<Reworked> Rework(PlanOrder order);

    /// <summary>What an act on the plan would do, without doing it.</summary>
    [AlwaysInterleave]
    Task<Foreseen> Foresee(PlanOrder order);

    /// <summary>Takes in what comes from documents.</summary>
    Task<Reworked> TakeIn(ComingIn coming);

    Task<Reworked> AddRole(string writer, string name, string foundation);

    /// <summary>Does an act on what is kept once.</summary>
    Task<Reworked> Reuse(ReuseOrder order);

    /// <summary>Brings a part of the manual back as it was.</summary>
    Task<Reworked> Restore(RestoreOrder order);

    /// <summary>The pictures of the manual, with who shows each; null when there is no such manual.</summary>
    [AlwaysInterleave]
    Task<UsedPicture[]?> Pictures();

    /// <summary>Blocks with references to a block; null when there is no such manual.</summary>
    [AlwaysInterleave]
    Task<UsePlace[]?> PointingAt(string target);

    /// <summary>Notes among writers; null when there is no such manual.</summary>
    [AlwaysInterleave]
    Task<StandingNote[]?> Notes();

    /// <summary>Variables, conditions and passages, with where each is used; null when there is no such manual.</summary>
    [AlwaysInterleave]
    Task<KeptOnce?> KeptOnce();

    /// <returns>null when there is no such manual</returns>
    [AlwaysInterleave]
    Task<FoundAll?> Find(Looking looking);

    /// <summary>Puts other words in many places, as one act.</summary>
    Task<Reworked> Replace(ReplaceOrder order);

    /// <summary>All pages of the last composition; the first one is waited for.</summary>
    [AlwaysInterleave]
    Task<Shown<ProofMessage>> Proof();

    [AlwaysInterleave]
    Task<Shown<string>> Page(string key);

    /// <summary>The first page of the present composition, drawn.</summary>
    Task<Shown<string>> FirstPage();

    [AlwaysInterleave]
    Task<Shown<DivisionMarks>> Marks(string division);

    [AlwaysInterleave]
    Task<Shown<SheetReason>> Sheet(int sheet);

    [AlwaysInterleave]
    Task<Shown<TargetChoice[]>> Targets(SoughtTarget sought);

    /// <summary>What another manual can point at here.</summary>
    [AlwaysInterleave]
    Task<Shown<TargetsThere>> TargetsForOthers(string words, string pointed);

    /// <summary>Those choices of another manual as this one would print them.</summary>
    [AlwaysInterleave]
    Task<Shown<TargetChoice[]>> ReadHere(string manual, TargetsThere there);

    /// <summary>What this manual says now of places that others point at, by their ids; without those it no longer has.</summary>
    [AlwaysInterleave]
    Task<Shown<Dictionary<string, PlaceThere>>> PlacesHere(string[] targets);

    /// <summary>Variables and passages as the shelf would keep them; null when there is no such manual.</summary>
    Task<KeptBody[]?> KeptBodies();

    /// <summary>Takes a variable or a passage from the shelf.</summary>
    Task<Reworked> TakeKept(string id, string writer, KeptBody kept);

    /// <summary>The references of this manual into others; null when there is no such manual.</summary>
    Task<ReferenceOut[]?> ReferencesOut();

    /// <summary>Takes what other manuals say now.</summary>
    Task<Reworked> TakeNewer(string id, string writer, ReferenceGrownOld[] old);

    [AlwaysInterleave]
    Task<Shown<HeadingChoice[]>> Headings(string words);

    [AlwaysInterleave]
    Task<Shown<PlanView>> Plan(bool text);

    /// <summary>A writer is here still, and where; the manual stays open while somebody looks at it.</summary>
    [AlwaysInterleave]
    Task Here(Presence presence);

    [AlwaysInterleave]
    Task Gone(string writer);

    /// <summary>Forgets what is in memory: the next call reads the database.</summary>
    Task Close();
}
