using Kivren.Core.Content;
using Kivren.Core.Editions;
using Kivren.Core.Looks;
using Kivren.Core.Planning;
using Kivren.Desk;
using Kivren.Formats.Package;
using Kivren.Server.Manuals;

namespace Kivren.Server.Editions;

/// <summary>A division that an edition takes, with the heads whose sections it takes; none for all.</summary>
[GenerateSerializer, Immutable]
public sealed record SaidTaken(string Division, string[] Sections);

/// <summary>The style of a template that a role is written in.</summary>
[GenerateSerializer, Immutable]
public sealed record SaidRoleStyle(string Role, string Style);

/// <summary>An output of an edition.</summary>
/// <param name="Kind">printPdf, coverPdf, screenPdf, epub, site, wordDocument, docBook, markdown</param>
/// <param name="Leaf">of a cover: thickness of a leaf of the book, in thousandths of a millimetre</param>
/// <param name="Template">of a word-processing file; empty for none</param>
/// <param name="Splits">nowhere, division, headA, headB</param>
[GenerateSerializer, Immutable]
public sealed record SaidOutput(
    string Kind,
    int Multiple,
    bool Marks,
    int OutlineDepth,
    bool WithoutBlanks,
    bool Facing,
    string Splits,
    string OwnStyle,
    string Template,
    SaidRoleStyle[] RoleStyles,
    string Profile,
    int Leaf,
    string Front,
    string Back,
    bool Checked
)
{
    public static SaidOutput Of(OutputChoice choice) =>
        new(
            Camel(choice.Kind),
            choice.Multiple,
            choice.Marks,
            choice.OutlineDepth,
            choice.WithoutBlanks,
            choice.Facing,
            Camel(choice.Splits),
            choice.OwnStyle,
            choice.Template,
            [.. choice.RoleStyles.Select(r => new SaidRoleStyle(r.Role, r.Style))],
            choice.Profile,
            choice.Leaf,
            choice.Front,
            choice.Back,
            choice.Checked
        );

    internal static string Camel<T>(T value)
        where T : struct, Enum => value.ToString() is var name ? char.ToLowerInvariant(name[0]) + name[1..] : "";

    internal OutputChoice? ToChoice() =>
        Enum.TryParse<OutputKind>(Kind, ignoreCase: true, out var kind)
        && Enum.IsDefined(kind)
        && Enum.TryParse<SplitAt>(Splits, ignoreCase: true, out var splits)
        && Enum.IsDefined(splits)
            ? new OutputChoice(kind)
            {
                Multiple = Multiple,
                Marks = Marks,
                OutlineDepth = OutlineDepth,
                WithoutBlanks = WithoutBlanks,
                Facing = Facing,
                Splits = splits,
                OwnStyle = OwnStyle ?? "",
                Template = Template ?? "",
                Profile = Profile ?? "",
                Leaf = Leaf,
                Front = Front ?? "",
                Back = Back ?? "",
                Checked = Checked,
                RoleStyles =
                [
                    .. (RoleStyles ?? []).Where(r => r is { Role: not null, Style: not null }).Select(r => new RoleStyle(r.Role, r.Style)),
                ],
            }
            : null;
}

/// <summary>An edition as browsers say it.</summary>
/// <param name="Chosen">axes with the values it takes</param>
/// <param name="Look">its own look; null for the manual's</param>
/// <param name="LookFile">the file of that look, where it is not one that ships</param>
/// <param name="LeftOut">words, manual, nothing</param>
/// <param name="FilesCalled">the rule that its files are named by; empty for the usual</param>
[GenerateSerializer, Immutable]
public sealed record SaidEdition(
    string Name,
    Dictionary<string, string[]> Chosen,
    string[] LeavesOut,
    SaidTaken[] Takes,
    Dictionary<string, string> Variables,
    string? Look,
    string? LookFile,
    string? Language,
    string[] Without,
    string LeftOut,
    SaidOutput[] GoesOutAs,
    string FilesCalled
)
{
    public static SaidEdition Of(Edition edition) =>
        new(
            edition.Name,
            edition.Chosen.ToDictionary(c => c.Axis, c => c.Values.ToArray(), StringComparer.Ordinal),
            [.. edition.LeavesOut.Select(i => i.Value)],
            [.. edition.Takes.Select(t => new SaidTaken(t.Division.Value, [.. t.Sections.Select(s => s.Value)]))],
            edition.Variables.ToDictionary(v => v.Name, v => v.Text, StringComparer.Ordinal),
            edition.Look,
            edition.LookFile,
            edition.Language,
            [.. edition.Without],
            SaidOutput.Camel(edition.LeftOut),
            [.. edition.GoesOutAs.Select(SaidOutput.Of)],
            edition.FilesCalled
        );

    private const int MostParts = 200,
        LongestText = 20_000,
        LongestLook = 2_000_000;

    internal string? Problem() =>
        !Checks.IsText(Name, EditionEditing.LongestName) ? $"An edition has a name of up to {EditionEditing.LongestName} letters."
        : Chosen is not { Count: <= MostParts }
        || !Chosen.All(c =>
            Checks.IsText(c.Key, MostParts) && c.Value is { Length: <= MostParts } && c.Value.All(v => Checks.IsText(v, MostParts))
        )
            ? "This is no condition."
        : LeavesOut is not { Length: <= EditionEditing.MostTaken }
        || !LeavesOut.All(Checks.IsId)
        || Takes is not { Length: <= EditionEditing.MostTaken }
        || !Takes.All(t =>
            t is not null && Checks.IsId(t.Division) && t.Sections is { Length: <= EditionEditing.MostTaken } && t.Sections.All(Checks.IsId)
        )
            ? $"An edition names up to {EditionEditing.MostTaken} divisions and sections by their ids."
        : Variables is not { Count: <= MostParts }
        || !Variables.All(v => Checks.IsText(v.Key, MostParts) && v.Value is { Length: <= LongestText })
            ? "This is no variable."
        : LookFile is { Length: > LongestLook } ? "This look is too long."
        : Without is not { Length: <= MostParts } || !Without.All(w => Checks.IsText(w, MostParts)) ? "This is no list."
        : GoesOutAs is not { Length: <= MostParts } || GoesOutAs.Any(o => o?.ToChoice() is null) ? "There is no such output."
        : !Enum.TryParse<LeftOutReads>(LeftOut, ignoreCase: true, out var reads) || !Enum.IsDefined(reads)
            ? $"A reference to what is left out cannot read “{LeftOut}”."
        : null;

    internal Edition ToEdition() =>
        new(Name)
        {
            Chosen = [.. Chosen.Select(c => new AxisValues(c.Key, c.Value))],
            LeavesOut = [.. LeavesOut.Select(i => new Id(i))],
            Takes = [.. Takes.Select(t => new TakenDivision(new Id(t.Division), [.. t.Sections.Select(s => new Id(s))]))],
            Variables = [.. Variables.Select(v => new NamedText(v.Key, v.Value))],
            Look = Look,
            LookFile = LookFile,
            Language = Language,
            Without = Without,
            LeftOut = Enum.Parse<LeftOutReads>(LeftOut, ignoreCase: true),
            GoesOutAs = [.. GoesOutAs.Select(o => o.ToChoice()!)],
            FilesCalled = FilesCalled ?? "",
        };
}

/// <summary>An act on the editions of a manual.</summary>
/// <param name="Do">put, takeOut</param>
/// <param name="Name">of the edition that it is about; null for a new one</param>
/// <param name="Was">that edition as the writer saw it</param>
[GenerateSerializer, Immutable]
public sealed record EditionOrder(string Id, string Writer, string Do, string? Name, SaidEdition? Edition, SaidEdition? Was)
{
    public string? Problem() =>
        !Checks.IsId(Id) || !Checks.IsId(Writer) || !Checks.IsText(Do, 40) ? "An act needs an id, its writer and what it does."
        : Name is not null && !Checks.IsText(Name, EditionEditing.LongestName) ? "This is no name."
        : Edition?.Problem() ?? Was?.Problem();

    private static bool Same(Edition a, Edition b) => EditionForm.ToJson([a]) == EditionForm.ToJson([b]);

    internal EditionAct? ToEditionAct() =>
        Do switch
        {
            "put" when Edition is not null => new EditionAct.Put(Edition.ToEdition(), Name, Was?.ToEdition()),
            "takeOut" when Name is not null => new EditionAct.TakeOut(Name),
            _ => null,
        };

    public Func<DeskState, PlanResult>? ToAct() =>
        ToEditionAct() is { } act ? state => EditionEditing.Apply(state.Manual, act, Same) : null;
}

/// <summary>The edition that pages are proofed in.</summary>
[GenerateSerializer, Immutable]
public sealed record ProofedOrder(string Name);
