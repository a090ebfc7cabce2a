using Kivren.Core.Content;
using Kivren.Core.Indexing;
using Kivren.Core.Planning;
using Kivren.Desk;
using Kivren.Server.Manuals;

namespace Kivren.Server.Pointing;

/// <summary>A place of a sweep and what becomes of it.</summary>
/// <param name="Version">of the block as it was shown: a place in a block that changed since is left alone</param>
/// <param name="As">left, taken, principal, rangeStart, rangeEnd</param>
[GenerateSerializer, Immutable]
public sealed record SweptOrder(string Block, int Version, int Ordinal, string As);

/// <summary>An act on the index, as a browser asks for it.</summary>
/// <param name="Do">move, moveEntries, turnIntoSee, seeAlso, fileUnder, takeOut, takeOutEntries, seeInstead, principal, plain,
/// toSectionEnd, sweep</param>
/// <param name="Heading">texts from the top</param>
/// <param name="To">the other heading</param>
/// <param name="Text">what it is filed under; the phrase of a sweep</param>
[GenerateSerializer, Immutable]
public sealed record IndexOrder(
    string Id,
    string Writer,
    string Do,
    string[]? Heading,
    string[]? To,
    string[]? Entries,
    string? Text,
    string[]? Forms,
    SweptOrder[]? Places
)
{
    private const int MostEntries = 20_000;

    public string? Problem()
    {
        static bool IsHeading(string[]? h) =>
            h is null || (h.Length <= IndexEditing.MostLevels + 1 && h.All(t => Checks.IsText(t, Checks.LongestTitle)));
        return !Checks.IsId(Id) || !Checks.IsId(Writer) || !Checks.IsText(Do, 40) ? "An act needs an id, its writer and what it does."
            : !IsHeading(Heading) || !IsHeading(To) ? "This is no heading."
            : Entries is { Length: > MostEntries } || Entries?.All(Checks.IsId) is false ? "An act names entries by their ids."
            : Text is not null && !Checks.IsText(Text, Checks.LongestTitle) ? "This text is too long."
            : Forms is { Length: > Sweep.MostForms } || Forms?.All(f => Checks.IsText(f, Sweep.LongestForm)) is false
                ? "A sweep has up to 24 forms of a phrase."
            : Places is { Length: > MostEntries } || Places?.All(p => p is not null && Checks.IsText(p.Block, 64)) is false
                ? "A sweep names places by their blocks."
            : null;
    }

    /// <summary>The act on a state, for when its turn has come; null when it is none.</summary>
    public Func<DeskState, PlanResult>? ToAct()
    {
        var (heading, to) = (Heading ?? [], To ?? []);
        Id[] entries = [.. (Entries ?? []).Select(e => new Id(e))];
        Func<DeskState, PlanResult> Of(IndexAct act) => state => IndexEditing.Apply(state.Manual, act);
        return Do switch
        {
            "move" => Of(new IndexAct.Move(heading, to)),
            "moveEntries" => Of(new IndexAct.MoveEntries(entries, to)),
            "turnIntoSee" => Of(new IndexAct.TurnIntoSee(heading, to, new Id(Id))),
            "seeAlso" => Of(new IndexAct.AddSeeAlso(heading, to, new Id(Id))),
            "fileUnder" => Of(new IndexAct.FileUnder(heading, Text ?? "")),
            "takeOut" => Of(new IndexAct.TakeOut(heading)),
            "takeOutEntries" => Of(new IndexAct.TakeOutEntries(entries)),
            "seeInstead" => Of(new IndexAct.SetSee(entries, Text ?? "")),
            "principal" => Of(new IndexAct.SetPrincipal(entries, Principal: true)),
            "plain" => Of(new IndexAct.SetPrincipal(entries, Principal: false)),
            "toSectionEnd" when entries.Length == 1 => Of(new IndexAct.ReachToSectionEnd(entries[0])),
            "sweep" => Swept,
            _ => null,
        };
    }

    private PlanResult Swept(DeskState state)
    {
        var fresh = (Places ?? []).Where(p => state.Block(p.Block)?.Version == p.Version).ToList();
        var choices = fresh.Select(p =>
            Enum.TryParse<SweptAs>(p.As, ignoreCase: true, out var what) ? new SweptChoice(new Id(p.Block), p.Ordinal, what) : null
        );
        var act = new IndexAct.TakeSwept(new Sweep(Text ?? "", Forms ?? []), Heading ?? [], [.. choices.OfType<SweptChoice>()], new Id(Id));
        var result = IndexEditing.Apply(state.Manual, act);
        var changed = (Places?.Length ?? 0) - fresh.Count;
        return changed == 0 || result.Refused is not null
            ? changed > 0 && fresh.Count == 0
                ? PlanResult.No("These places were changed meanwhile. Sweep again.")
                : result
            : result with
            {
                Words = $"{result.Words}; {changed} were changed meanwhile and stay",
            };
    }
}

/// <summary>What is swept for.</summary>
/// <param name="Heading">for which places are wanted</param>
public sealed record SweepAsked(string Phrase, string[] Forms, string[] Heading);

/// <summary>A form of a phrase, how often it stands in the manual, and why it is one.</summary>
[GenerateSerializer, Immutable]
public sealed record SweptForm(string Text, string Why, int Count, bool Likely)
{
    public static SweptForm[] Of(DeskState state, string phrase) =>
        [.. Sweep.FormsOf(state.Manual, phrase).Select(f => new SweptForm(f.Text, f.Why, f.Count, f.Likely))];
}

/// <summary>A place of a sweep.</summary>
[GenerateSerializer, Immutable]
public sealed record SweptWords(
    string Division,
    string Block,
    int Version,
    int Ordinal,
    string Inner,
    string In,
    string Before,
    string Match,
    string After,
    int Sheet,
    string Folio,
    bool Indexed,
    bool Left
);

/// <param name="Places">in the order of the text</param>
/// <param name="Refused">why nothing can be swept for, or null</param>
[GenerateSerializer, Immutable]
public sealed record SweptAll(SweptWords[] Places, int Total, string? Refused)
{
    private const int Most = 5_000;

    public static SweptAll In(DeskState state, Core.Composition.ComposedManual? composed, string phrase, string[] forms, string[] heading)
    {
        var sweep = new Sweep(phrase, forms);
        if (sweep.Fault is { } why)
            return new SweptAll([], 0, why);
        var places = composed is null ? null : new Places(composed);
        var found = sweep.In(state.Manual, heading);
        return new SweptAll(
            [
                .. found
                    .Take(Most)
                    .Select(p =>
                    {
                        var sheet =
                            places is null ? -1
                            : places.SheetOf(p.Inner) is >= 0 and var own ? own
                            : places.SheetOf(p.Block);
                        return new SweptWords(
                            p.Division.Value,
                            p.Block.Value,
                            state.Block(p.Block.Value)?.Version ?? 0,
                            p.Ordinal,
                            p.Inner.Value,
                            p.In.ToString(),
                            p.Before,
                            p.Match,
                            p.After,
                            sheet,
                            places?.Folio(sheet) ?? "",
                            p.Indexed,
                            p.Left
                        );
                    }),
            ],
            found.Count,
            null
        );
    }
}
