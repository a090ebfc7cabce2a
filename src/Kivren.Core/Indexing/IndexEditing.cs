using Kivren.Core.Content;
using Kivren.Core.Planning;

namespace Kivren.Core.Indexing;

/// <summary>Does acts on the index as pure functions of the manual. Entries stay where they stand in the text and keep their
/// identities.</summary>
public static class IndexEditing
{
    /// <summary>Levels of a heading, letters of one level.</summary>
    public const int MostLevels = 3,
        LongestHeading = 300;

    /// <summary>So many places left by sweeps are remembered; the oldest go.</summary>
    public const int MostPassedOver = 5_000;

    public static PlanResult Apply(Manual manual, IndexAct act) =>
        act switch
        {
            IndexAct.Move move => Move(manual, move.From, Clean(move.To)),
            IndexAct.MoveEntries move => MoveEntries(manual, move.Entries, Clean(move.To)),
            IndexAct.TurnIntoSee turn => TurnIntoSee(manual, turn.Heading, Clean(turn.See), turn.New),
            IndexAct.AddSeeAlso add => AddSeeAlso(manual, add.Heading, Clean(add.SeeAlso), add.New),
            IndexAct.FileUnder file => FileUnder(manual, file.Heading, file.Files.Trim()),
            IndexAct.TakeOut takeOut => TakeOut(manual, takeOut.Heading),
            IndexAct.TakeOutEntries takeOut => TakeOutEntries(manual, takeOut.Entries),
            IndexAct.SetSee set => SetSee(manual, [.. set.Entries], set.See.Trim()),
            IndexAct.SetPrincipal set => SetPrincipal(manual, set.Entries, set.Principal),
            IndexAct.ReachToSectionEnd reach => ReachToSectionEnd(manual, reach.Entry),
            IndexAct.TakeSwept take => TakeSwept(manual, take with { Heading = Clean(take.Heading) }),
            _ => PlanResult.No("This act is not known."),
        };

    private static string[] Clean(IReadOnlyList<string> heading) => [.. heading.Select(h => h.Trim())];

    /// <summary>Why this is no heading; null when it is one.</summary>
    public static string? Fault(IReadOnlyList<string> heading) =>
        heading.Count == 0 || heading.Any(h => h.Trim().Length == 0) ? "A heading needs words at each of its levels."
        : heading.Count > MostLevels ? "A heading has up to two subheadings: nothing stands deeper."
        : heading.Any(h => h.Length > LongestHeading) ? $"A heading has up to {LongestHeading} letters."
        : heading.Any(h => h.Any(char.IsControl)) ? "A heading is one line."
        : null;

    // ---- moving ----

    private static PlanResult Move(Manual manual, IReadOnlyList<string> from, IReadOnlyList<string> to)
    {
        if (Fault(to) is { } why)
            return PlanResult.No(why);
        if (from.SequenceEqual(to, StringComparer.Ordinal))
            return PlanResult.No("It is called that already.");
        if (to.Count > from.Count && IsUnder(to, from))
            return PlanResult.No($"“{from[^1]}” cannot stand under itself.");
        var all = Gathered(manual);
        var own = all.Where(e => IsUnder(e.Headings, from)).ToList();
        if (own.Count == 0)
            return Gone(from);
        var depth = own.Max(e => e.Headings.Count);
        if (depth - from.Count + to.Count > MostLevels)
            return PlanResult.No(
                $"“{from[^1]}” has subheadings, which would stand too deep there. A heading has up to two levels beneath it."
            );
        var merges = all.Any(e => IsUnder(e.Headings, to) && !IsUnder(e.Headings, from));
        var ids = own.Select(e => e.Id).ToHashSet();
        var (was, now) = (HeadingWords.Said(from), HeadingWords.Said(to));
        string? Renamed(string? see) =>
            see is null ? null
            : see.Equals(was, StringComparison.OrdinalIgnoreCase) ? now
            : see.StartsWith(was + ", ", StringComparison.OrdinalIgnoreCase) ? now + see[was.Length..]
            : see;
        var pointless = 0;
        var next = WithEntries(manual, entry =>
        {
            var changed = ids.Contains(entry.Id) && entry.Headings.Count > 0 ? At(entry, from.Count, to) : entry;
            var (see, also) = (Renamed(changed.See), Renamed(changed.SeeAlso));
            if (see != changed.See || also != changed.SeeAlso)
                changed = changed with { See = see, SeeAlso = also };
            // A heading that came to stand in the one it points at points nowhere else.
            if (!ReferenceEquals(changed, entry) && IsPointless(changed))
            {
                pointless++;
                return null;
            }
            return changed;
        });
        var (a, b) = (HeadingWords.Typed(from), HeadingWords.Typed(to));
        var words =
            merges ? $"Merging “{a}” into “{b}”"
            : to.Count > from.Count ? $"Nesting “{a}” under “{HeadingWords.Typed([.. to.SkipLast(1)])}”"
            : to.Count < from.Count ? $"Lifting “{a}”"
            : $"Renaming “{a}” to “{b}”";
        if (pointless > 0)
            words += $"; {(pointless == 1 ? "a “see” to itself goes" : $"{pointless} “see” to itself go")}";
        return FixedText.Kept(manual, next, words);
    }

    private static bool IsPointless(IndexEntry entry)
    {
        var said = HeadingWords.Said(entry.Headings);
        return said.Equals(entry.See, StringComparison.OrdinalIgnoreCase) || said.Equals(entry.SeeAlso, StringComparison.OrdinalIgnoreCase);
    }

    /// <summary>The entry with its first levels replaced; what it is filed under goes with the levels that stay.</summary>
    private static IndexEntry At(IndexEntry entry, int levels, IReadOnlyList<string> to)
    {
        var files = Enumerable.Range(0, entry.Headings.Count).Select(l => HeadingWords.FilesAt(entry, l) ?? "").ToArray();
        // A heading with other words is sorted by them; one that only goes elsewhere keeps its place among its like.
        var own = entry.Headings[levels - 1] == to[^1] ? files[levels - 1] : "";
        var kept = levels == to.Count ? files[..(levels - 1)] : [.. Enumerable.Repeat("", to.Count - 1)];
        return entry with
        {
            Headings = [.. to, .. entry.Headings.Skip(levels)],
            FilesUnder = HeadingWords.Together([.. kept, own, .. files[levels..]]),
        };
    }

    private static PlanResult MoveEntries(Manual manual, IReadOnlyList<Id> entries, IReadOnlyList<string> to)
    {
        if (Fault(to) is { } why)
            return PlanResult.No(why);
        var ids = entries.ToHashSet();
        var own = Gathered(manual).Where(e => ids.Contains(e.Id)).ToList();
        if (own.Count == 0)
            return PlanResult.No("These locators were taken out meanwhile.");
        var next = WithEntries(manual, e => ids.Contains(e.Id) && e.Headings.Count > 0 ? e with { Headings = to, FilesUnder = null } : e);
        return FixedText.Kept(manual, next, $"Moving {Locators(own.Count)} to “{HeadingWords.Typed(to)}”");
    }

    private static PlanResult TurnIntoSee(Manual manual, IReadOnlyList<string> heading, IReadOnlyList<string> see, Id made)
    {
        if (Fault(see) is { } why)
            return PlanResult.No(why);
        if (IsUnder(see, heading))
            return PlanResult.No("A heading cannot send its reader to itself.");
        var all = Gathered(manual);
        var own = all.Where(e => IsUnder(e.Headings, heading)).ToList();
        if (own.Count == 0)
            return Gone(heading);
        if (own.Max(e => e.Headings.Count) - heading.Count + see.Count > MostLevels)
            return PlanResult.No($"The subheadings of “{heading[^1]}” would stand too deep there. Move them first.");
        if (all.FirstOrDefault(e => e.See is { Length: > 0 } && Same(e.Headings, see)) is { } only && !all.Any(e => Carries(e, see)))
            return PlanResult.No($"“{HeadingWords.Typed(see)}” only says “see {only.See}”. Name the heading that has pages.");
        var said = HeadingWords.Said(see);
        var first = own[0].Id;
        var ids = own.Select(e => e.Id).ToHashSet();
        var next = manual.WithInlines(inline =>
        {
            if (inline is not IndexEntry entry || !ids.Contains(entry.Id))
                return null;
            var moved = entry.Headings.Count > 0 ? At(entry, heading.Count, see) : entry;
            var stays = Same(entry.Headings, heading) && entry.See is { Length: > 0 };
            // What sent its reader elsewhere sends him here now.
            List<Inline> made_ = stays ? [] : [moved];
            if (entry.Id == first && entry.Kind != EntryKind.RangeEnd)
                made_.Add(new IndexEntry(made, heading) { See = said, FilesUnder = HeadingWords.FilesAt(entry, heading.Count - 1) });
            return made_;
        });
        return FixedText.Kept(manual, next, $"Turning “{HeadingWords.Typed(heading)}” into “see {said}”");
    }

    private static bool Carries(IndexEntry e, IReadOnlyList<string> heading) =>
        IsUnder(e.Headings, heading) && e.See is null or "" && e.SeeAlso is null or "";

    private static PlanResult AddSeeAlso(Manual manual, IReadOnlyList<string> heading, IReadOnlyList<string> also, Id made)
    {
        if (Fault(also) is { } why)
            return PlanResult.No(why);
        if (Same(also, heading))
            return PlanResult.No("A heading cannot send its reader to itself.");
        if (Gathered(manual).FirstOrDefault(e => IsUnder(e.Headings, heading)) is not { } first)
            return Gone(heading);
        var entry = new IndexEntry(made, heading) { SeeAlso = HeadingWords.Said(also) };
        var next = manual.WithInlines(inline =>
            inline is IndexEntry e && e.Id == first.Id && e.Kind != EntryKind.RangeEnd ? [e, entry] : null
        );
        return FixedText.Kept(manual, next, $"Adding “see also {entry.SeeAlso}” to “{HeadingWords.Typed(heading)}”");
    }

    private static PlanResult FileUnder(Manual manual, IReadOnlyList<string> heading, string files)
    {
        if (files.Length > LongestHeading || files.Contains('›', StringComparison.Ordinal) || files.Any(char.IsControl))
            return PlanResult.No($"What a heading is filed under is one line of up to {LongestHeading} letters.");
        if (!Gathered(manual).Any(e => IsUnder(e.Headings, heading)))
            return Gone(heading);
        var level = heading.Count - 1;
        var next = WithEntries(manual, e =>
            IsUnder(e.Headings, heading) && (HeadingWords.FilesAt(e, level) ?? "") != files
                ? e with
                {
                    FilesUnder = HeadingWords.WithFilesAt(e, level, files),
                }
                : e
        );
        return FixedText.Kept(
            manual,
            next,
            files.Length > 0 ? $"Filing “{heading[^1]}” under “{files}”" : $"Filing “{heading[^1]}” under its own words"
        );
    }

    // ---- taking out ----

    private static PlanResult TakeOut(Manual manual, IReadOnlyList<string> heading)
    {
        var own = Gathered(manual).Where(e => IsUnder(e.Headings, heading)).Select(e => e.Id).ToHashSet();
        if (own.Count == 0)
            return Gone(heading);
        return FixedText.Kept(
            manual,
            WithEntries(manual, e => own.Contains(e.Id) ? null : e),
            $"Taking “{HeadingWords.Typed(heading)}” out of the index, with {Locators(own.Count)}"
        );
    }

    private static PlanResult TakeOutEntries(Manual manual, IReadOnlyList<Id> entries)
    {
        var ids = entries.ToHashSet();
        return FixedText.Kept(manual, WithEntries(manual, e => ids.Contains(e.Id) ? null : e), $"Taking out {Locators(ids.Count)}");
    }

    private static PlanResult SetSee(Manual manual, HashSet<Id> entries, string see)
    {
        if (see.Length > LongestHeading || see.Any(char.IsControl))
            return PlanResult.No($"A heading has up to {LongestHeading} letters.");
        var next = WithEntries(manual, e => !entries.Contains(e.Id) ? e
            : see.Length == 0
                ? e.See is null && e.SeeAlso is null ? e
                    : null
            : e.See is { Length: > 0 } ? e with { See = see }
            : e.SeeAlso is { Length: > 0 } ? e with { SeeAlso = see }
            : e);
        return FixedText.Kept(manual, next, see.Length == 0 ? "Taking a “see” out of the index" : $"Sending readers to “{see}”");
    }

    private static PlanResult SetPrincipal(Manual manual, IReadOnlyList<Id> entries, bool principal)
    {
        var ids = entries.ToHashSet();
        return FixedText.Kept(
            manual,
            WithEntries(manual, e => ids.Contains(e.Id) && e.Principal != principal ? e with { Principal = principal } : e),
            principal ? $"Making {Locators(ids.Count)} principal" : $"Making {Locators(ids.Count)} plain"
        );
    }

    // ---- ranges ----

    private static PlanResult ReachToSectionEnd(Manual manual, Id id)
    {
        var kept = manual.Kept();
        for (var d = 0; d < kept.Count; d++)
        {
            var blocks = kept[d].Blocks;
            var at = IndexOf(blocks, b => b.Inlines().Any(i => i is IndexEntry { Kind: not EntryKind.RangeEnd } e && e.Id == id));
            if (at < 0)
                continue;
            var last = SectionEnd(blocks, at);
            while (last > at && !CanHold(blocks[last]))
                last--;
            if (!CanHold(blocks[last]))
                return PlanResult.No("There is no text behind this entry in its section that a range could reach to.");
            // An end that stands elsewhere gives way to this one.
            var opened = manual.WithInlines(i =>
                i is not IndexEntry e || e.Id != id ? null
                : e.Kind == EntryKind.RangeEnd ? []
                : [e with { Kind = EntryKind.RangeStart }]
            );
            var start = blocks[at].Inlines().OfType<IndexEntry>().First(e => e.Id == id && e.Kind != EntryKind.RangeEnd);
            var end = new IndexEntry(id, start.Headings, EntryKind.RangeEnd);
            var division = opened.Kept()[d];
            Block[] with = [.. division.Blocks.Select((b, i) => i == last ? WithEnd(b, end) : b)];
            return FixedText.Kept(
                manual,
                opened.WithKept([.. opened.Kept().Select((x, i) => i == d ? x with { Blocks = with } : x)]),
                $"“{HeadingWords.Typed(start.Headings)}” reaches to the end of its section"
            );
        }
        return PlanResult.No("This entry was taken out meanwhile.");
    }

    private static int IndexOf(IReadOnlyList<Block> blocks, Func<Block, bool> which)
    {
        for (var b = 0; b < blocks.Count; b++)
            if (which(blocks[b]))
                return b;
        return -1;
    }

    /// <summary>The last block of the section that a block stands in, or heads.</summary>
    private static int SectionEnd(IReadOnlyList<Block> blocks, int at)
    {
        HeadLevel? level = null;
        for (var b = at; b >= 0 && level is null; b--)
            level = (blocks[b] as Head)?.Level;
        for (var b = at + 1; b < blocks.Count; b++)
            if (blocks[b] is Head head && (level is null || head.Level <= level))
                return b - 1;
        return blocks.Count - 1;
    }

    private static bool CanHold(Block block) => block.WithInner().Any(b => b is Paragraph);

    /// <summary>The block with an atom at the end of its last paragraph.</summary>
    private static Block WithEnd(Block block, Inline atom)
    {
        var last = block.WithInner().OfType<Paragraph>().Last();
        return block.Rewritten(last.Id, p => p is Paragraph own ? own with { Content = [.. own.Content, atom] } : p);
    }

    private static Block Rewritten(this Block block, Id id, Func<Block, Block> change) =>
        block.Id == id ? change(block) : block.WithInnerBlocks(blocks => [.. blocks.Select(b => b.Rewritten(id, change))]);

    // ---- sweeps ----

    private static PlanResult TakeSwept(Manual manual, IndexAct.TakeSwept take)
    {
        if (take.Sweep.Fault is { } fault)
            return PlanResult.No(fault);
        var takes = take.Choices.Count(c => c.As != SweptAs.Left);
        if (takes > 0 && Fault(take.Heading) is { } why)
            return PlanResult.No(why);
        if (take.Choices.Count(c => c.As == SweptAs.RangeStart) != take.Choices.Count(c => c.As == SweptAs.RangeEnd))
            return PlanResult.No("A range has a first and a last place.");
        var search = take.Sweep.Search;
        var chosen = take
            .Choices.GroupBy(c => c.Block)
            .ToDictionary(g => g.Key, g => g.DistinctBy(c => c.Ordinal).ToDictionary(c => c.Ordinal, c => c.As));
        var left = new List<PassedOver>();
        var sweptAll = take.Choices.Any(c => c.As == SweptAs.Left) ? take.Sweep.In(manual, take.Heading) : [];
        foreach (var place in sweptAll)
            if (chosen.TryGetValue(place.Block, out var own) && own.GetValueOrDefault(place.Ordinal, SweptAs.Taken) == SweptAs.Left)
                left.Add(new PassedOver(take.Sweep.Phrase, place.Inner, place.Words));
        var (made, ranges) = (0, 0);
        var open = Id.None;
        IndexEntry Entry(EntryKind kind, Id id) => new(id, take.Heading, kind);
        Id Next() => new($"{take.New.Value}-{++made}");
        (IReadOnlyList<Inline>, IReadOnlyList<Inline>) Atoms(SweptAs? what)
        {
            switch (what)
            {
                case SweptAs.Taken:
                    return ([Entry(EntryKind.Point, Next())], []);
                case SweptAs.Principal:
                    return ([Entry(EntryKind.Point, Next()) with { Principal = true }], []);
                case SweptAs.RangeStart:
                    open = Next();
                    ranges++;
                    return ([Entry(EntryKind.RangeStart, open)], []);
                case SweptAs.RangeEnd when !open.IsNone:
                    var end = Entry(EntryKind.RangeEnd, open);
                    open = Id.None;
                    return ([], [end]);
                default:
                    return ([], []);
            }
        }
        var next = manual.WithBlocks(block =>
            chosen.TryGetValue(block.Id, out var own) && own.Values.Any(a => a != SweptAs.Left)
                ? search.Marked(block, ordinal => Atoms(own.TryGetValue(ordinal, out var a) ? a : null))
                : block
        );
        if (takes > 0 && made == 0)
            return PlanResult.No("These places were changed meanwhile. Sweep again.");
        if (left.Count > 0)
        {
            PassedOver[] all = [.. manual.PassedOver.Except(left), .. left];
            next = next with { PassedOver = all[Math.Max(0, all.Length - MostPassedOver)..] };
        }
        var points = made - ranges;
        var parts = new List<string>();
        if (points > 0)
            parts.Add($"{points} {(points == 1 ? "place" : "places")}");
        if (ranges > 0)
            parts.Add($"{ranges} {(ranges == 1 ? "range" : "ranges")}");
        var words =
            made > 0
                ? $"Taking {string.Join(" and ", parts)} into “{HeadingWords.Typed(take.Heading)}”"
                : $"Leaving {(left.Count == 1 ? "one place" : $"{left.Count} places")} of “{take.Sweep.Phrase}” out of the index";
        return ReferenceEquals(next, manual) || (made == 0 && left.Count == 0)
            ? PlanResult.No("No place is chosen.")
            : FixedText.Kept(manual, next, words);
    }

    // ---- ways through the manual ----

    /// <summary>All entries in the order of the text, without the ends of ranges.</summary>
    private static List<IndexEntry> Gathered(Manual manual) =>
        [
            .. manual
                .Kept()
                .SelectMany(d => d.Blocks)
                .SelectMany(b => b.Inlines())
                .OfType<IndexEntry>()
                .Where(e => e.Kind != EntryKind.RangeEnd),
        ];

    private static bool Same(IReadOnlyList<string> a, IReadOnlyList<string> b) => a.SequenceEqual(b, StringComparer.Ordinal);

    private static bool IsUnder(IReadOnlyList<string> heading, IReadOnlyList<string> top) =>
        heading.Count >= top.Count && top.Count > 0 && Same([.. heading.Take(top.Count)], top);

    private static PlanResult Gone(IReadOnlyList<string> heading) =>
        PlanResult.No($"The index has no “{HeadingWords.Typed(heading)}” any more: it was renamed or taken out meanwhile.");

    private static string Locators(int count) => count == 1 ? "one locator" : $"{count} locators";

    /// <param name="change">the same entry, another, or null to take it out</param>
    private static Manual WithEntries(Manual manual, Func<IndexEntry, IndexEntry?> change) =>
        manual.WithInlines(inline =>
            inline is not IndexEntry entry ? null
            : change(entry) is not { } next ? []
            : ReferenceEquals(next, entry) ? null
            : [next]
        );
}
