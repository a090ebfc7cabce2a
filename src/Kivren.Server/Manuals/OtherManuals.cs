using Kivren.Core.Content;
using Kivren.Core.References;
using Kivren.Core.Reuse;
using Kivren.Desk;

namespace Kivren.Server.Manuals;

/// <summary>A place in another manual, as that manual says of it.</summary>
[GenerateSerializer, Immutable]
public sealed record PlaceThere(string Manual, string ManualTitle, string Name, string Number, string Title, string Folio)
{
    public static PlaceThere Of(OtherPlace p) => new(p.Manual, p.ManualTitle, p.Name, p.Number, p.Title, p.Folio);

    public OtherPlace ToContent() => new(Manual, ManualTitle, Name, Number, Title, Folio);
}

/// <summary>What can be pointed at in a manual, for whoever writes another.</summary>
[GenerateSerializer, Immutable]
public sealed record TargetsThere(string Title, TargetChoice[] Targets);

/// <summary>A reference of this manual into another.</summary>
[GenerateSerializer, Immutable]
public sealed record ReferenceOut(string Id, string Division, string Block, string Words, string Target, PlaceThere Was);

/// <summary>A reference into another manual that says otherwise now.</summary>
/// <param name="Now">null when the place is there no longer</param>
[GenerateSerializer, Immutable]
public sealed record ReferenceGrownOld(string Id, string Division, string Block, string Words, string Message, PlaceThere? Now);

/// <summary>Takes what other manuals say now.</summary>
/// <param name="References">by their ids; null for all that grew old</param>
public sealed record TakeNewer(string Id, string Writer, string[]? References);

/// <summary>References from one manual of the shelf into another. Each keeps what it prints; what the other manual says now is
/// compared when somebody looks, and taken by an act of this one.</summary>
internal static class OtherManuals
{
    private const int MostReferences = 2_000,
        MostManuals = 40;

    public static ReferenceOut[] Of(DeskState state) =>
        [
            .. state
                .Divisions.SelectMany(d => d.Division.Blocks.Select(b => (Division: d, Block: b)))
                .SelectMany(p =>
                    p.Block.Inlines()
                        .OfType<CrossReference>()
                        .Where(r => r.Other is not null)
                        .Select(r => new ReferenceOut(
                            r.Id.Value,
                            p.Division.Id,
                            p.Block.Id.Value,
                            KeptOnce.FirstWords(p.Block),
                            r.Target.Value,
                            PlaceThere.Of(r.Other!)
                        ))
                )
                .Take(MostReferences),
        ];

    /// <summary>Choices in another manual, read as this one would print them.</summary>
    public static TargetChoice[] ReadHere(NumberedComposition here, string manual, TargetsThere there) =>
        [
            .. there.Targets.Select(t =>
            {
                var place = new PlaceThere(manual, there.Title, t.Name, t.Number, t.Title, t.Folio);
                var look = here.Composed.Look;
                string Print(string form) =>
                    ReferenceText.Of(
                        new CrossReference(default, new Id(t.Id), form) { Other = place.ToContent() },
                        null,
                        look,
                        here.Composed.Places
                    );
                return t with
                {
                    Other = place,
                    Readings =
                    [
                        .. look.ReferenceForms.Where(f => !f.NamesDirection).Select(f => new Reading(f.Name, f.Label, Print(f.Name))),
                    ],
                };
            }),
        ];

    /// <summary>The references of a manual that others no longer bear out.</summary>
    public static async Task<ReferenceGrownOld[]> GrownOld(string manual, IGrainFactory grains)
    {
        var old = new List<ReferenceGrownOld>();
        var groups = (await ManualEndpoints.Of(grains, manual).ReferencesOut() ?? []).GroupBy(r => r.Was.Manual).Take(MostManuals);
        foreach (var group in groups)
        {
            var there = await ManualEndpoints.Of(grains, group.Key).PlacesHere([.. group.Select(r => r.Target).Distinct()]);
            // A manual that cannot be composed at the moment says nothing of its pages.
            if (there.Problem is not null)
                continue;
            foreach (var reference in group)
            {
                var now = there.Value?.GetValueOrDefault(reference.Target);
                if (now != reference.Was)
                    old.Add(
                        new ReferenceGrownOld(
                            reference.Id,
                            reference.Division,
                            reference.Block,
                            reference.Words,
                            Message(reference.Was, now, there.Value is not null),
                            now
                        )
                    );
            }
        }
        return [.. old];
    }

    private static string Message(PlaceThere was, PlaceThere? now, bool onShelf)
    {
        if (!onShelf)
            return $"“{was.ManualTitle}” is not on the shelf any more; this reference prints what it said last.";
        if (now is null)
            return $"“{was.ManualTitle}” no longer has what this reference points at, “{was.Title}”. Point it elsewhere, or take it out.";
        static string Said(PlaceThere p) =>
            $"{$"{p.Name} {p.Number}".Trim()} “{p.Title}”, page {p.Folio}".TrimStart() + $", in “{p.ManualTitle}”";
        return $"This reference prints {Said(was)}; there it is now {Said(now)}.";
    }

    public static ReuseAct Taking(IEnumerable<ReferenceGrownOld> old) =>
        new ReuseAct.TakeOtherPlaces(old.Where(o => o.Now is not null).ToDictionary(o => new Id(o.Id), o => o.Now!.ToContent()));
}
