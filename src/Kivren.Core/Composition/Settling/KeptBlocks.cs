using Kivren.Core.Content;
using Kivren.Core.Numbering;

namespace Kivren.Core.Composition;

/// <summary>One block with what it reads and how it came out for what it read in the passes of the last compositions.</summary>
internal sealed class KeptBlock
{
    private readonly List<Outcome> _outcomes = [];

    private sealed class Outcome
    {
        public required bool Flush { get; init; }
        public required Block? Joined { get; init; }
        public required SetBlock Set { get; init; }
        public int Used { get; set; }
    }

    /// <param name="joined">a head set into the block, or an aside beside it</param>
    /// <param name="generation">of the composition; what the last two did not use is dropped</param>
    public SetBlock Set(SettingContext context, DivisionNumbers numbers, bool flush, Block? joined, int generation, Func<SetBlock> make)
    {
        foreach (var outcome in _outcomes)
            if (outcome.Flush == flush && ReferenceEquals(outcome.Joined, joined) && Readings.Hold(outcome.Set.Reads, context, numbers))
            {
                outcome.Used = generation;
                return outcome.Set;
            }
        _outcomes.RemoveAll(o => o.Used < generation - 1);
        var set = make();
        _outcomes.Add(
            new Outcome
            {
                Flush = flush,
                Joined = joined,
                Set = set,
                Used = generation,
            }
        );
        return set;
    }

    /// <summary>Forgets how it came out: the look or what all blocks read is another.</summary>
    public void Forget() => _outcomes.Clear();
}

/// <summary>The blocks of one division. Held by plain reference, division by division: tens of thousands of weak handles
/// would make every collection of garbage ten times as long.</summary>
internal sealed class KeptBlocks
{
    private Dictionary<Block, KeptBlock> _now = new(ReferenceEqualityComparer.Instance);
    private Dictionary<Block, KeptBlock> _before = new(ReferenceEqualityComparer.Instance);

    /// <summary>The division is stacked again: what is not asked for up to the next time is dropped.</summary>
    public void Begin() => (_before, _now) = (_now, new Dictionary<Block, KeptBlock>(_now.Count, ReferenceEqualityComparer.Instance));

    public KeptBlock Of(Block block)
    {
        if (_now.TryGetValue(block, out var kept))
            return kept;
        if (!_before.Remove(block, out kept))
            kept = new KeptBlock();
        _now.Add(block, kept);
        return kept;
    }

    public void Forget()
    {
        foreach (var kept in _now.Values)
            kept.Forget();
        _before.Clear();
    }
}
