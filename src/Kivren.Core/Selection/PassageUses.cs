using System.Runtime.CompilerServices;
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
                expanded.Add(block.WithInnerBlocks(inner => Expand(inner, passages, within, ref left)));
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

    /// <summary>The passages that blocks use, and those that these use in turn, each once; the list stays the same while none of them
    /// changes.</summary>
    public static List<Passage> UsedBy(Division division, IReadOnlyList<Passage> passages)
    {
        var used = new List<Passage>();
        var waiting = new Queue<string>(Facts.Of(division).Uses);
        while (waiting.TryDequeue(out var name))
            if (passages.FirstOrDefault(p => p.Name == name) is { } passage && !used.Contains(passage))
            {
                used.Add(passage);
                foreach (var inner in passage.Blocks.SelectMany(b => b.WithInner()).OfType<PassageUse>())
                    waiting.Enqueue(inner.Passage);
            }
        return used;
    }

    /// <summary>What of a division matters to passages, found once for each division.</summary>
    private sealed record Facts(
        string[] Uses,
        (Id Placed, Id Plain, int Block)[] Placed,
        (CrossReference Reference, int Block)[] References
    )
    {
        private static readonly ConditionalWeakTable<Division, Facts> Known = [];

        public static Facts Of(Division division) => Known.GetValue(division, Found);

        private static Facts Found(Division division)
        {
            var uses = new List<string>();
            var placed = new List<(Id, Id, int)>();
            var references = new List<(CrossReference, int)>();
            for (var b = 0; b < division.Blocks.Count; b++)
            {
                var block = division.Blocks[b];
                var within = block.WithInner().ToList();
                uses.AddRange(within.OfType<PassageUse>().Select(u => u.Passage));
                if (within.Exists(i => i.Id.Value.Contains(Path, StringComparison.Ordinal)))
                    placed.AddRange(
                        Ids([block])
                            .Where(id => id.Value.Contains(Path, StringComparison.Ordinal))
                            .Select(id => (id, new Id(id.Value[(id.Value.LastIndexOf(Path) + 1)..]), b))
                    );
                references.AddRange(block.Inlines().OfType<CrossReference>().Select(r => (r, b)));
            }
            return new Facts([.. uses.Distinct(StringComparer.Ordinal)], [.. placed], [.. references]);
        }
    }

    /// <summary>References from outside a passage to a block in it, aimed at the use nearest to them.</summary>
    /// <param name="keep">gives back the division aimed before, when its references lead to the same uses</param>
    public static (IReadOnlyList<Division>, IReadOnlyList<AmbiguousReference>) Aim(
        List<Division> divisions,
        Func<Division, string, Func<Division>, Division> keep
    )
    {
        var places = new Dictionary<Id, List<(Id Placed, int At)>>();
        var before = 0;
        foreach (var division in divisions)
        {
            foreach (var (placed, plain, block) in Facts.Of(division).Placed)
                (places.TryGetValue(plain, out var known) ? known : places[plain] = []).Add((placed, before + block + 1));
            before += division.Blocks.Count;
        }
        if (places.Count == 0)
            return (divisions, []);
        var ambiguous = new List<AmbiguousReference>();
        before = 0;
        for (var d = 0; d < divisions.Count; d++)
        {
            var (division, started) = (divisions[d], before);
            before += division.Blocks.Count;
            var aims = new System.Text.StringBuilder();
            foreach (var (reference, b) in Facts.Of(division).References)
            {
                if (!places.TryGetValue(reference.Target, out var uses))
                    continue;
                var at = started + b + 1;
                aims.Append(Nearest(reference.Target, at, places)?.Value).Append('\u001f');
                if (uses.GroupBy(u => Math.Abs(u.At - at)).OrderBy(g => g.Key).First().Select(u => u.At).Distinct().Count() > 1)
                    ambiguous.Add(new AmbiguousReference(division.Id, division.Blocks[b].Id, reference.Id));
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
}
