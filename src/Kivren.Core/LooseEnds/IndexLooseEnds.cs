using Kivren.Core.Content;
using Kivren.Core.Indexing;

namespace Kivren.Core.LooseEnds;

/// <summary>What would come out wrong in the index (composition.md 8).</summary>
internal static class IndexLooseEnds
{
    public static LooseEnd[] Find(IndexTree index)
    {
        var found = new List<LooseEnd>();
        Ranges(index, found);
        SeeReferences(index, found);
        NearlyAlike(index, found);
        foreach (var heading in index.Headings)
            Crowded(heading, index, found);
        foreach (var e in index.Entries)
            if (e.In is EntryPlace.Head or EntryPlace.Listing)
                found.Add(
                    At(
                        e.In == EntryPlace.Head ? LooseEndKind.EntryInHead : LooseEndKind.EntryInListing,
                        e,
                        $"An index entry stands in a {(e.In == EntryPlace.Head ? "head" : "listing")}, where it is easily lost. "
                            + $"Move it into the text."
                    )
                );
        return [.. found];
    }

    private static LooseEnd At(LooseEndKind kind, GatheredEntry e, string message) =>
        new(kind, e.Division, e.Block, HeadingWords.Typed(e.Entry.Headings), message) { Subject = e.Entry.Id };

    private static void Ranges(IndexTree index, List<LooseEnd> found)
    {
        var starts = new Dictionary<Id, GatheredEntry>();
        var early = new Dictionary<Id, GatheredEntry>();
        var ended = new HashSet<Id>();
        foreach (var e in index.Entries)
            if (e.Entry.Kind == EntryKind.RangeStart)
            {
                if (early.Remove(e.Entry.Id, out var end))
                {
                    found.Add(
                        At(LooseEndKind.RangeBackwards, end, "This index range ends before it begins. Put its end after its beginning.")
                    );
                    ended.Add(e.Entry.Id);
                }
                starts.TryAdd(e.Entry.Id, e);
            }
            else if (e.Entry.Kind == EntryKind.RangeEnd && !starts.ContainsKey(e.Entry.Id))
                early.TryAdd(e.Entry.Id, e);
            else if (e.Entry.Kind == EntryKind.RangeEnd)
                ended.Add(e.Entry.Id);
        foreach (var e in early.Values)
            found.Add(
                At(LooseEndKind.RangeUnopened, e, "This index range ends but never begins. Take the end out, or begin the range above it.")
            );
        foreach (var (id, e) in starts)
            if (!ended.Contains(id))
                found.Add(
                    At(
                        LooseEndKind.RangeUnclosed,
                        e,
                        "This index range is never closed; it prints as one page. Put its end where the subject ends."
                    )
                );
    }

    private static void SeeReferences(IndexTree index, List<LooseEnd> found)
    {
        var headings = new Dictionary<string, IndexHeading>(StringComparer.OrdinalIgnoreCase);
        foreach (var heading in index.Headings)
            headings.TryAdd(heading.Text, heading);
        IndexHeading? Named(string see) => headings.GetValueOrDefault(see) ?? headings.GetValueOrDefault(see.Split(',')[0]);
        static bool OnlySees(IndexHeading h) => h.See.Count > 0 && h.Places.Count == 0 && h.Under.Count == 0;
        var leftOut = index.LeftOut.Select(l => (l.Entry, l.See)).ToHashSet();
        foreach (var (e, see, instead) in index.LeftOut)
            found.Add(
                At(
                    LooseEndKind.SeeLeftOut,
                    e,
                    $"“{see}” is left out of this edition, so here the index "
                        + (instead is null ? "does not send a reader there." : $"sends a reader to “{instead}”.")
                )
            );
        foreach (var e in index.Entries)
        {
            foreach (var see in new[] { e.Entry.See, e.Entry.SeeAlso })
                if (see is { Length: > 0 } && Named(see) is null && !leftOut.Contains((e, see)))
                    found.Add(At(LooseEndKind.SeeToNothing, e, $"“{see}”: the index has no such heading. Add it, or name another."));
            if (e.Entry.See is not { Length: > 0 } to || Named(to) is not { } heading || !OnlySees(heading))
                continue;
            // Followed from heading to heading: does it come back to where it began?
            var passed = new HashSet<string>(StringComparer.OrdinalIgnoreCase) { e.Entry.Headings.Count > 0 ? e.Entry.Headings[0] : "" };
            var circular = false;
            for (var at = heading; at is not null && OnlySees(at) && !circular; at = Named(at.See.First()))
                circular = !passed.Add(at.Text);
            found.Add(
                circular
                    ? At(LooseEndKind.SeeCircular, e, $"“see {to}” leads back to where it began. Give one of the headings pages.")
                    : At(
                        LooseEndKind.SeeToSee,
                        e,
                        $"“see {to}”: that heading only says “see {heading.See.First()}”. Name the heading that has pages."
                    ) with
                    {
                        Instead = heading.See.First(),
                    }
            );
        }
    }

    private static void NearlyAlike(IndexTree index, List<LooseEnd> found)
    {
        foreach (var alike in index.Headings.GroupBy(h => HeadingWords.Bare(h.Text)).Where(g => g.Key.Length > 0 && g.Count() > 1))
        {
            var texts = alike.Select(h => h.Text).ToArray();
            var at = index.Entries.First(e => e.Entry.Headings.Count > 0 && e.Entry.Headings[0] == texts[1]);
            found.Add(
                At(
                    LooseEndKind.HeadingNearlyAlike,
                    at,
                    $"The index has “{texts[0]}” and “{texts[1]}”. If they are one subject, write them alike."
                ) with
                {
                    Instead = texts[0],
                }
            );
        }
    }

    private static void Crowded(IndexHeading heading, IndexTree index, List<LooseEnd> found)
    {
        if (heading.Places.Count(p => !p.IsRange) > IndexProposals.MostBareLocators)
            found.Add(
                At(
                    LooseEndKind.HeadingCrowded,
                    index.Entries.First(e => e.Entry.Id == heading.Places[0].Start),
                    $"“{heading.Text}” has {heading.Places.Count} entries without a subheading. Give them subheadings, or make "
                        + $"ranges of them."
                )
            );
        foreach (var under in heading.Under)
            Crowded(under, index, found);
    }
}
