using Kivren.Core.Content;
using Kivren.Formats.Package;

namespace Kivren.Desk;

public enum DifferenceKind
{
    Changed,
    Added,
    TakenOut,
}

/// <summary>One difference between a source document as it was brought in and its newer version.</summary>
/// <param name="Id">names it; the id of the block that it is about</param>
/// <param name="Division">the division of the manual that it stands in</param>
/// <param name="After">the block it would stand after, for what is added; "" for the beginning</param>
/// <param name="Before">the block as the manual has it now, or null for what is added</param>
/// <param name="Becomes">the block as it would be; null for what is taken out</param>
/// <param name="EditedHere">the writer changed the block since it came in: what the writer did stays, and where both changed the
/// same words, both stand</param>
public sealed record Difference(Id Id, DifferenceKind Kind, Id Division, Id After, Block? Before, Block? Becomes, bool EditedHere);

/// <summary>A block as it came in, kept to be compared with a newer version.</summary>
public sealed record BroughtInBlock(Id Division, Block Block)
{
    /// <summary>All that a division came in with: its title, then its blocks.</summary>
    public static IEnumerable<BroughtInBlock> Of(Division division) =>
        division.Blocks.Select(b => new BroughtInBlock(division.Id, b)).Prepend(TitleOf(division.Id, division.Title));

    internal static BroughtInBlock TitleOf(Id division, string title) =>
        new(division, new Head(division, HeadLevel.A, [new TextRun(title)]));

    /// <summary>The title that the source gave to the division; null when this is a block of the text.</summary>
    internal string? Title => Block is Head head && head.Id == Division ? head.Content.PlainText() : null;
}

/// <param name="AsNow">the newer version's blocks with the identities that they have in the manual: what a still newer one
/// is compared with</param>
public sealed record Comparison(IReadOnlyList<Difference> Differences, IReadOnlyList<BroughtInBlock> AsNow)
{
    /// <summary>A manual with all of the differences taken.</summary>
    public Manual AllTakenInto(Manual manual)
    {
        var blocks = manual.Divisions.ToDictionary(d => d.Id, d => d.Blocks.ToList());
        var chosen = Chosen(
            Differences.Select(d => d.Id.Value).ToHashSet(StringComparer.Ordinal),
            manual.Divisions.SelectMany(d => d.Blocks).Select(b => b.Id)
        );
        foreach (var (difference, after) in chosen)
        {
            var own = blocks[difference.Division];
            var at = own.FindIndex(b => b.Id == (difference.Kind == DifferenceKind.Added ? after : difference.Id));
            switch (difference.Kind)
            {
                case DifferenceKind.Added:
                    own.Insert(at + 1, difference.Becomes!);
                    break;
                case DifferenceKind.Changed:
                    own[at] = difference.Becomes!;
                    break;
                default:
                    own.RemoveAt(at);
                    break;
            }
        }
        return manual with { Divisions = [.. manual.Divisions.Select(d => d with { Blocks = blocks[d.Id] })] };
    }

    /// <summary>The chosen differences, each with the block it stands after: what it would stand after may have been left, then it
    /// is the nearest before that one.</summary>
    /// <param name="there">the blocks that stand in the manual</param>
    public IReadOnlyList<(Difference Difference, Id After)> Chosen(IReadOnlySet<string> chosen, IEnumerable<Id> there)
    {
        var stands = there.ToHashSet();
        var added = Differences.Where(d => d.Kind == DifferenceKind.Added).ToDictionary(d => d.Id);
        var picked = new List<(Difference, Id)>();
        foreach (var difference in Differences.Where(d => chosen.Contains(d.Id.Value)))
        {
            var after = difference.After;
            while (difference.Kind == DifferenceKind.Added && after.Value.Length > 0 && !stands.Contains(after))
                after = added.TryGetValue(after, out var left) ? left.After : new Id("");
            picked.Add((difference, after));
            if (difference.Kind == DifferenceKind.Added)
                stands.Add(difference.Id);
        }
        return picked;
    }
}

/// <summary>Compares a newer version of a source document with what was brought in from the earlier one. Blocks are matched
/// by likeness, so what is unchanged keeps its identity, entries, references and conditions; what the source changed is merged with
/// what the writer changed, over what came in. Taking all differences of a text that nobody changed gives the newer version.</summary>
public static class NewerVersion
{
    /// <param name="was">the blocks as they came in</param>
    /// <param name="now">the newer version, shaped with the same mapping, its pictures under the names that they have in the manual:
    /// equal names show equal pictures</param>
    /// <param name="manual">the manual as it stands</param>
    public static Comparison Compare(
        IReadOnlyList<BroughtInBlock> was,
        IReadOnlyList<Division> now,
        Manual manual,
        CancellationToken cancel = default
    )
    {
        var titles = was.Where(b => b.Title is not null).ToArray();
        was = was.Where(b => b.Title is null).ToArray();
        var here = new Dictionary<Id, (Block Block, Id Division)>();
        foreach (var d in manual.Divisions)
        foreach (var block in d.Blocks)
            here[block.Id] = (block, d.Id);
        var (blocks, partner) = Matched(
            was,
            now,
            (titles.Length > 0 ? titles.Select(t => t.Title!) : manual.Divisions.Select(d => d.Title)).ToHashSet(StringComparer.Ordinal),
            cancel
        );
        var identities = new Identities();
        for (var n = 0; n < blocks.Count; n++)
            if (partner[n] >= 0)
                identities.Pair(was[partner[n]].Block, blocks[n]);
        var differences = new List<Difference>();
        var asNow = new List<BroughtInBlock>(titles);
        var division =
            was.Count > 0 ? was[0].Division
            : manual.Divisions.Count > 0 ? manual.Divisions[^1].Id
            : Id.None;
        var after = new Id("");
        for (var n = 0; n < blocks.Count; n++)
        {
            cancel.ThrowIfCancellationRequested();
            var block = blocks[n].Renamed(identities.Of, identities.Of);
            if (partner[n] < 0)
            {
                asNow.Add(new BroughtInBlock(division, block));
                differences.Add(new Difference(block.Id, DifferenceKind.Added, division, after, null, block, false));
                after = block.Id;
                continue;
            }
            var old = was[partner[n]];
            asNow.Add(new BroughtInBlock(old.Division, block));
            if (!here.TryGetValue(old.Block.Id, out var stands))
                continue; // the writer took it out
            (division, after) = (stands.Division, old.Block.Id);
            string based = BlockWriter.ToJson(old.Block),
                mine = BlockWriter.ToJson(stands.Block),
                newer = BlockWriter.ToJson(block);
            if (newer == based || newer == mine)
                continue;
            var becomes = mine == based ? block : Merged(based, mine, newer) ?? block;
            if (BlockWriter.ToJson(becomes) == mine)
                continue; // the writer made the same change
            differences.Add(new Difference(old.Block.Id, DifferenceKind.Changed, division, Id.None, stands.Block, becomes, mine != based));
        }
        var kept = partner.Where(p => p >= 0).ToHashSet();
        for (var o = 0; o < was.Count; o++)
            if (!kept.Contains(o) && here.TryGetValue(was[o].Block.Id, out var stands))
            {
                var edited = BlockWriter.ToJson(stands.Block) != BlockWriter.ToJson(was[o].Block);
                differences.Add(
                    new Difference(was[o].Block.Id, DifferenceKind.TakenOut, stands.Division, Id.None, stands.Block, null, edited)
                );
            }
        return new Comparison(differences, asNow);
    }

    private static Block? Merged(string based, string mine, string newer) =>
        BlockMerge.Merge(based, mine, newer) is { } merged ? BlockReader.Parse(merged.Body) : null;

    /// <summary>The newer version's blocks, and for each the earlier one that it is a version of, or −1. A chapter that is new brings
    /// its title as a head, for it comes into the division before it.</summary>
    /// <param name="titles">of the chapters that came in</param>
    private static (IReadOnlyList<Block> Blocks, int[] Partner) Matched(
        IReadOnlyList<BroughtInBlock> was,
        IReadOnlyList<Division> now,
        IReadOnlySet<string> titles,
        CancellationToken cancel
    )
    {
        var blocks = now.SelectMany(d =>
                d.Title.Length == 0 || titles.Contains(d.Title) ? d.Blocks : d.Blocks.Prepend(BroughtInBlock.TitleOf(d.Id, d.Title).Block)
            )
            .ToArray();
        var partner = Likeness.Match(
            was.Select(b => Likeness.TextOf(b.Block)).ToArray(),
            blocks.Select(Likeness.TextOf).ToArray(),
            (o, n) => was[o].Block.GetType() == blocks[n].GetType(),
            cancel
        );
        return (blocks, partner);
    }
}
