using Kivren.Core.Composition;
using Kivren.Core.Content;
using Kivren.Core.Finding;
using Kivren.Core.Numbering;
using Kivren.Core.References;
using Kivren.Desk;
using Kivren.Server.Manuals;

namespace Kivren.Server.Pointing;

/// <summary>A cross-reference where it stands.</summary>
/// <param name="State">sound, nothing, leftOut, ambiguous, other</param>
/// <param name="PointsAt">the identity that it names, whether it is there or not</param>
/// <param name="Target">the id of what it points at among the targets of the view; null for nothing</param>
/// <param name="Other">what it points at in another manual; else null</param>
/// <param name="Lost">what it printed last, for one that points at nothing; else null</param>
[GenerateSerializer, Immutable]
public sealed record ReferenceRow(
    string Id,
    string Division,
    string Block,
    int Sheet,
    string Folio,
    string Before,
    string Prints,
    string After,
    string Form,
    string State,
    string PointsAt,
    string? Target,
    PointedTarget? Other,
    string? Lost
);

/// <summary>What a reference points at.</summary>
/// <param name="Sheet">−1 where it is in no page of this edition</param>
/// <param name="Pointing">how many references point there</param>
[GenerateSerializer, Immutable]
public sealed record PointedTarget(
    string Id,
    string Division,
    string Kind,
    string Name,
    string Number,
    string Title,
    int Sheet,
    string Folio,
    int Pointing
);

/// <summary>All cross-references of one composition, with what can be pointed at.</summary>
/// <param name="Targets">all that has a name, and all that is pointed at</param>
/// <param name="Terms">how many the glossary defines</param>
/// <param name="TermsLead">the first use of each in a division leads to the glossary</param>
[GenerateSerializer, Immutable]
public sealed record ReferencesView(
    int Composition,
    ReferenceRow[] References,
    PointedTarget[] Targets,
    ReferenceFormName[] Forms,
    int Terms,
    bool TermsLead
)
{
    private const int Around = 48;

    /// <param name="isKept">whether an identity is in the manual, in whatever edition</param>
    /// <param name="lost">what references that point at nothing printed last</param>
    public static ReferencesView Of(NumberedComposition settled, Func<Id, bool> isKept, IReadOnlyDictionary<Id, LostTarget> lost)
    {
        var composed = settled.Composed;
        var places = new Places(composed);
        var rows = new List<ReferenceRow>();
        var pointing = new Dictionary<Id, int>();
        var ambiguous = composed.Text.Ambiguous.Select(a => a.Reference).ToHashSet();
        var all = new List<(Division Division, Block Block, IReadOnlyList<Inline> Spans, CrossReference Reference)>();
        foreach (var division in composed.Text.Divisions)
        foreach (var block in division.Blocks.SelectMany(b => b.WithInner()))
        foreach (var spans in block.OwnSpans())
            Gather(division, block, spans);
        void Gather(Division division, Block block, IReadOnlyList<Inline> spans)
        {
            foreach (var inline in spans)
                if (inline is CrossReference reference)
                {
                    all.Add((division, block, spans, reference));
                    if (reference.Other is not null)
                        continue;
                    var target = composed.Numbers.Resolve(reference.Target);
                    pointing[target] = pointing.GetValueOrDefault(target) + 1;
                }
                else if (inline is Holding holding)
                    Gather(division, block, holding.Content);
        }
        foreach (var (division, block, spans, reference) in all)
        {
            var sheet = places.SheetIn(division.Id, reference.Id);
            var found = reference.Other is null ? composed.Numbers.Find(reference.Target) : null;
            var id = Places.Kept(reference.Id);
            var (before, after) = Words(spans, reference, composed);
            rows.Add(
                new ReferenceRow(
                    id.Value,
                    division.Id.Value,
                    Places.Kept(block.Id).Value,
                    sheet,
                    places.Folio(sheet),
                    before,
                    composed.Print(reference),
                    after,
                    reference.Form,
                    reference.Other is not null ? "other"
                        : found is null
                            ? isKept(Places.Kept(reference.Target)) ? "leftOut"
                                : "nothing"
                        : ambiguous.Contains(reference.Id) ? "ambiguous"
                        : "sound",
                    Places.Kept(reference.Target).Value,
                    found?.Target.Id.Value,
                    reference.Other is { } other
                        ? new PointedTarget(
                            reference.Target.Value,
                            "",
                            "Other",
                            other.Name,
                            other.Number,
                            $"{other.Title}, “{other.ManualTitle}”",
                            -1,
                            other.Folio,
                            0
                        )
                        : null,
                    found is null && reference.Other is null ? lost.GetValueOrDefault(id)?.Printed ?? "" : null
                )
            );
        }
        var targets = new List<PointedTarget>();
        for (var d = 0; d < composed.Numbers.Divisions.Count; d++)
            foreach (var target in composed.Numbers.Divisions[d].Targets)
                if (target.Kind is not (TargetKind.Block or TargetKind.Item or TargetKind.Note) || pointing.ContainsKey(target.Id))
                {
                    var sheet = places.SheetOf(target.Id);
                    targets.Add(
                        new PointedTarget(
                            target.Id.Value,
                            composed.Numbers.Divisions[d].Division.Id.Value,
                            target.Kind.ToString(),
                            target.Name,
                            target.Number,
                            target.Title,
                            sheet,
                            places.Folio(sheet),
                            pointing.GetValueOrDefault(target.Id)
                        )
                    );
                }
        return new ReferencesView(
            settled.Number,
            [.. rows],
            [.. targets],
            [.. composed.Look.ReferenceForms.Select(f => new ReferenceFormName(f.Name, f.Label))],
            composed.Text.Divisions.SelectMany(d => d.Blocks).OfType<DefinitionList>().Where(l => l.Glossary).Sum(l => l.Definitions.Count),
            composed.Text.Manual.TermsLead
        );
    }

    private static (string Before, string After) Words(IReadOnlyList<Inline> spans, CrossReference reference, ComposedManual composed)
    {
        var text = new System.Text.StringBuilder();
        var (from, to) = (0, 0);
        foreach (var inline in spans)
        {
            if (ReferenceEquals(inline, reference))
                from = text.Length;
            text.Append(composed.Printed(inline));
            if (ReferenceEquals(inline, reference))
                to = text.Length;
        }
        var all = text.ToString();
        var (begin, end) = WordsAround.Of(all, from, to, Around);
        return ((begin > 0 ? "…" : "") + all[begin..from], all[to..end] + (end < all.Length ? "…" : ""));
    }
}

[GenerateSerializer, Immutable]
public sealed record ReferenceFormName(string Name, string Label);

/// <summary>Where a reference to nothing may have been meant to point.</summary>
/// <param name="Prints">as the reference would read in its own form</param>
[GenerateSerializer, Immutable]
public sealed record LikelyTarget(string Id, string Kind, string Name, string Number, string Title, string Folio, string Prints)
{
    private const int Most = 6;

    public static LikelyTarget[] Of(NumberedComposition settled, Id id, IReadOnlyDictionary<Id, LostTarget> lost)
    {
        var composed = settled.Composed;
        var places = new Places(composed);
        foreach (var division in composed.Text.Divisions)
        foreach (var reference in division.Blocks.SelectMany(b => b.Inlines()).OfType<CrossReference>())
            if (Places.Kept(reference.Id) == id)
                return
                [
                    .. LikelyTargets
                        .Of(composed, lost.GetValueOrDefault(id) ?? new LostTarget("", "", "", ""), division.Id, Most)
                        .Select(t => new LikelyTarget(
                            t.Target.Id.Value,
                            t.Target.Kind.ToString(),
                            t.Target.Name,
                            t.Target.Number,
                            t.Target.Title,
                            places.Folio(places.SheetOf(t.Target.Id)),
                            composed.Print(reference with { Target = t.Target.Id, Other = null })
                        )),
                ];
        return [];
    }
}

/// <summary>Identities of a manual, in whatever edition.</summary>
internal static class Identities
{
    public static HashSet<Id> Of(Manual manual)
    {
        var ids = manual.Aliases.Keys.ToHashSet();
        foreach (var division in manual.Kept())
        {
            ids.Add(division.Id);
            foreach (var block in division.Blocks)
                block.Renamed(
                    id =>
                    {
                        ids.Add(id);
                        return id;
                    },
                    t => t
                );
        }
        return ids;
    }
}

/// <summary>An act on references and anchors, as a browser asks for it.</summary>
/// <param name="Do">pointAt, form, makePlain, takeOut, addAnchor, renameAnchor, takeOutAnchors</param>
/// <param name="References">their ids; of anchors for acts on these; the text that gets an anchor</param>
/// <param name="To">the target, the form, or the anchor's name</param>
[GenerateSerializer, Immutable]
public sealed record ReferenceOrder(string Id, string Writer, string Do, string[] References, string? To)
{
    private const int Most = 10_000;

    public string? Problem() =>
        !Checks.IsId(Id) || !Checks.IsId(Writer) || !Checks.IsText(Do, 40) ? "An act needs an id, its writer and what it does."
        : References is not { Length: > 0 and <= Most } || !References.All(Checks.IsId) ? "An act names references by their ids."
        : To is not null && !Checks.IsText(To, Checks.LongestTitle) ? "This is no place to point at."
        : null;

    /// <param name="printed">what references print now</param>
    public Func<DeskState, Core.Planning.PlanResult>? ToAct(Func<IReadOnlyDictionary<Id, string>> printed)
    {
        Id[] ids = [.. References.Select(r => new Id(r))];
        Func<DeskState, Core.Planning.PlanResult> Of(ReferenceAct act) => state => Referring.Apply(state.Manual, act);
        return Do switch
        {
            "pointAt" => Of(new ReferenceAct.PointAt(ids, new Id(To ?? ""))),
            "form" => Of(new ReferenceAct.SetForm(ids, To ?? "")),
            "makePlain" => Of(
                new ReferenceAct.MakePlain(
                    printed() is var said ? ids.Distinct().ToDictionary(i => i, i => said.GetValueOrDefault(i, "")) : []
                )
            ),
            "takeOut" => Of(new ReferenceAct.TakeOut(ids)),
            "addAnchor" => Of(new ReferenceAct.AddAnchor(ids[0], To ?? "", new Id(Id))),
            "renameAnchor" => Of(new ReferenceAct.RenameAnchor(ids[0], To ?? "")),
            "takeOutAnchors" => Of(new ReferenceAct.TakeOutAnchors(ids)),
            _ => null,
        };
    }
}
