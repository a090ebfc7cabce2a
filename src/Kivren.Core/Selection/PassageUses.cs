using Kivren.Core.Content;

namespace Kivren.Core.Selection;

/// <summary>A reference to a block of a passage that is used in two places equally near.</summary>
public sealed record AmbiguousReference(Id Division, Id Block, Id Reference);

/// <summary>Passages in their places: the blocks of a use carry the path of the use before their id, so that they are
/// told apart; a reference to a block of a passage takes the nearest use.</summary>
internal static class PassageUses
{
    private const char Path = '/';

    /// <summary>The blocks with every use replaced by its passage; the list itself when none is used.</summary>
    public static IReadOnlyList<Block> Expand(IReadOnlyList<Block> blocks, IReadOnlyList<Passage> passages)
    {
        if (passages.Count == 0 || !blocks.Any(b => b.WithInner().Any(i => i is PassageUse)))
            return blocks;
        var room = MostUnfolded;
        return Expand(blocks, passages, [], ref room);
    }

    /// <summary>Blocks that the passages of one division unfold to; what would come after that is not unfolded, and is a loose
    /// end.</summary>
    private const int MostUnfolded = 50_000;

    private static List<Block> Expand(IReadOnlyList<Block> blocks, IReadOnlyList<Passage> passages, List<string> within, ref int room)
    {
        var expanded = new List<Block>(blocks.Count);
        foreach (var block in blocks)
            if (block is PassageUse use)
            {
                // A passage that uses itself would never end; the inner use prints nothing and is a loose end.
                if (within.Contains(use.Passage) || room <= 0 || passages.FirstOrDefault(p => p.Name == use.Passage) is not { } passage)
                {
                    expanded.Add(use);
                    continue;
                }
                within.Add(use.Passage);
                var own = Ids(passage.Blocks);
                foreach (var inner in Expand(passage.Blocks, passages, within, ref room))
                {
                    room--;
                    var placed = inner.Renamed(
                        id => new Id(use.Id.Value + Path + id.Value),
                        target => own.Contains(target) ? new Id(use.Id.Value + Path + target.Value) : target
                    );
                    expanded.Add(
                        use.AppliesTo.IsAlways
                            ? placed
                            : placed with
                            {
                                AppliesTo = new AppliesTo([.. use.AppliesTo.Axes, .. placed.AppliesTo.Axes]),
                            }
                    );
                }
                within.RemoveAt(within.Count - 1);
            }
            else if (block.WithInner().Any(b => b is PassageUse))
            {
                var left = room;
                expanded.Add(Inside(block, inner => Expand(inner, passages, within, ref left)));
                room = left;
            }
            else
                expanded.Add(block);
        return expanded;
    }

    private static HashSet<Id> Ids(IReadOnlyList<Block> blocks)
    {
        var ids = new HashSet<Id>();
        foreach (var block in blocks)
            block.Renamed(
                id =>
                {
                    ids.Add(id);
                    return id;
                },
                t => t
            );
        return ids;
    }

    /// <summary>References from outside a passage to a block in it, aimed at the use nearest to them.</summary>
    /// <param name="keep">gives back the division aimed before, when its references lead to the same uses</param>
    public static (IReadOnlyList<Division>, IReadOnlyList<AmbiguousReference>) Aim(
        Manual manual,
        List<Division> divisions,
        Func<Division, string, Func<Division>, Division> keep
    )
    {
        var inPassages = manual.Passages.SelectMany(p => Ids(p.Blocks)).ToHashSet();
        if (inPassages.Count == 0)
            return (divisions, []);
        var places = new Dictionary<Id, List<(Id Placed, int At)>>();
        var at = 0;
        foreach (var division in divisions)
        foreach (var block in division.Blocks)
        {
            at++;
            if (
                block.Id.Value.Contains(Path, StringComparison.Ordinal)
                || block.WithInner().Any(b => b.Id.Value.Contains(Path, StringComparison.Ordinal))
            )
                foreach (var id in Ids([block]))
                    if (
                        id.Value.LastIndexOf(Path) is var slash and >= 0
                        && new Id(id.Value[(slash + 1)..]) is var plain
                        && inPassages.Contains(plain)
                    )
                        (places.TryGetValue(plain, out var known) ? known : places[plain] = []).Add((id, at));
        }
        var ambiguous = new List<AmbiguousReference>();
        at = 0;
        for (var d = 0; d < divisions.Count; d++)
        {
            var (division, started) = (divisions[d], at);
            var aims = new System.Text.StringBuilder();
            for (var b = 0; b < divisions[d].Blocks.Count; b++)
            {
                at++;
                var block = divisions[d].Blocks[b];
                if (!block.Inlines().Any(i => i is CrossReference r && places.ContainsKey(r.Target)))
                    continue;
                foreach (var reference in block.Inlines().OfType<CrossReference>())
                {
                    aims.Append(Nearest(reference.Target, at, places)?.Value).Append('\u001f');
                    if (
                        places.TryGetValue(reference.Target, out var uses)
                        && uses.GroupBy(u => Math.Abs(u.At - at)).OrderBy(g => g.Key).First().Select(u => u.At).Distinct().Count() > 1
                    )
                        ambiguous.Add(new AmbiguousReference(division.Id, block.Id, reference.Id));
                }
            }
            if (aims.Length == 0)
                continue;
            divisions[d] = keep(division, aims.ToString(), () =>
                division with
                {
                    Blocks = division
                        .Blocks.Select(
                            (block, b) =>
                                block.Inlines().Any(i => i is CrossReference r && places.ContainsKey(r.Target))
                                    ? block.Renamed(id => id, target => Nearest(target, started + b + 1, places) ?? target)
                                    : block
                        )
                        .ToArray(),
                }
            );
        }
        return (divisions, ambiguous);
    }

    private static Id? Nearest(Id target, int at, Dictionary<Id, List<(Id Placed, int At)>> places) =>
        places.TryGetValue(target, out var uses) ? uses.MinBy(u => Math.Abs(u.At - at)).Placed : null;

    /// <summary>The block with the blocks directly inside it changed.</summary>
    private static Block Inside(Block block, Func<IReadOnlyList<Block>, IReadOnlyList<Block>> change) =>
        block switch
        {
            ItemList l => l with { Items = l.Items.Select(i => i with { Blocks = change(i.Blocks) }).ToArray() },
            Steps s => s with { Items = s.Items.Select(i => i with { Blocks = change(i.Blocks) }).ToArray() },
            DefinitionList d => d with { Definitions = d.Definitions.Select(x => x with { Blocks = change(x.Blocks) }).ToArray() },
            Admonition a => a with { Blocks = change(a.Blocks) },
            Aside a => a with { Blocks = change(a.Blocks) },
            Example e => e with { Blocks = change(e.Blocks) },
            _ => block,
        };
}
