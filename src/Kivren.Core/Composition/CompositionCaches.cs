using System.Runtime.CompilerServices;
using Kivren.Core.Content;
using Kivren.Core.Indexing;
using Kivren.Core.Looks;
using Kivren.Core.Numbering;
using Kivren.Core.Selection;

namespace Kivren.Core.Composition;

/// <summary>Results of the steps, each under all that it read. There is no second algorithm for edits: a composition
/// with caches replays the same passes and finds nearly everything done. Content is immutable, so the identity of an
/// object stands for what it holds.</summary>
public sealed class CompositionCaches
{
    internal SelectionCache Selection { get; } = new();
    internal NumberingCache Numbering { get; } = new();
    internal EntriesCache Entries { get; } = new();

    private readonly ConditionalWeakTable<Division, List<GalleyEntry>> _galleys = [];
    private readonly ConditionalWeakTable<Block, List<BlockEntry>> _blocks = [];
    private readonly ConditionalWeakTable<Galley, Cut> _cuts = [];
    private readonly ConditionalWeakTable<DivisionNumbers, SetBlock> _openings = [];
    private readonly ConditionalWeakTable<Division, DivisionReads> _reads = [];
    private readonly ConditionalWeakTable<Block, BlockReads> _blockReads = [];
    private int _generation;

    private sealed record GalleyEntry(DivisionNumbers Numbers, Look Look, IReadOnlyList<Asset> Assets, string[] Reads, Galley Galley)
    {
        public int Used { get; set; }
    }

    private sealed record BlockEntry(string Key, bool Flush, Head? RunIn, Look Look, IReadOnlyList<Asset> Assets, SetBlock Set)
    {
        public int Used { get; set; }
    }

    /// <summary>Called once a composition: what the last two did not use is dropped.</summary>
    internal void NextGeneration() => _generation++;

    internal DivisionReads Reads(Division division) => _reads.GetValue(division, DivisionReads.Of);

    internal BlockReads Reads(Block block) => _blockReads.GetValue(block, BlockReads.Of);

    internal SetBlock Opening(SettingContext context, DivisionNumbers numbers) => _openings.GetValue(numbers, n => BlockSetter.Opening(context, n));

    internal Cut Cut(Galley galley, Look look) => _cuts.GetValue(galley, g => PageCutter.Cut(g, look));

    /// <summary>The galley of the division for what it reads now; <paramref name="make"/> when it is not known.</summary>
    internal Galley Galley(DivisionNumbers numbers, Look look, IReadOnlyList<Asset> assets, string[] reads, Func<Galley> make)
    {
        var entries = _galleys.GetOrCreateValue(numbers.Division);
        foreach (var entry in entries)
            if (ReferenceEquals(entry.Numbers, numbers) && ReferenceEquals(entry.Look, look) && ReferenceEquals(entry.Assets, assets) && entry.Reads.AsSpan().SequenceEqual(reads))
            {
                entry.Used = _generation;
                return entry.Galley;
            }
        entries.RemoveAll(e => e.Used < _generation - 1);
        var galley = make();
        entries.Add(new GalleyEntry(numbers, look, assets, reads, galley) { Used = _generation });
        return galley;
    }

    internal SetBlock Block(Block block, string key, bool flush, Head? runIn, Look look, IReadOnlyList<Asset> assets, Func<SetBlock> make)
    {
        var entries = _blocks.GetOrCreateValue(block);
        foreach (var entry in entries)
            if (entry.Flush == flush && ReferenceEquals(entry.RunIn, runIn) && ReferenceEquals(entry.Look, look) && entry.Key == key && (block is not Figure || ReferenceEquals(entry.Assets, assets)))
            {
                entry.Used = _generation;
                return entry.Set;
            }
        entries.RemoveAll(e => e.Used < _generation - 1);
        var set = make();
        entries.Add(new BlockEntry(key, flush, runIn, look, assets, set) { Used = _generation });
        return set;
    }
}

/// <summary>What a division prints of other places: its cross-references and variables, in order.</summary>
internal sealed record DivisionReads(CrossReference[] References, string[] Variables)
{
    public static DivisionReads Of(Division division)
    {
        var references = new List<CrossReference>();
        var variables = new List<string>();
        foreach (var block in division.Blocks)
            foreach (var inline in block.Inlines())
                if (inline is CrossReference reference) references.Add(reference);
                else if (inline is VariableUse variable) variables.Add(variable.Name);
        return new DivisionReads([.. references], [.. variables]);
    }
}

/// <summary>What one block prints of other places and of numbering.</summary>
internal sealed record BlockReads(CrossReference[] References, string[] Variables, Id[] Numbered, Id[] Labelled)
{
    private static readonly BlockReads Nothing = new([], [], [], []);

    public static BlockReads Of(Block block)
    {
        var references = new List<CrossReference>();
        var variables = new List<string>();
        var numbered = new List<Id>();
        var labelled = new List<Id>();
        foreach (var inner in block.WithInner())
        {
            if (inner is Head or Figure or Table or Listing) numbered.Add(inner.Id);
            if (inner is Steps steps) labelled.Add(steps.Id);
            foreach (var spans in inner.OwnSpans())
                foreach (var inline in Walk.Flat(spans))
                    switch (inline)
                    {
                        case CrossReference reference: references.Add(reference); break;
                        case VariableUse variable: variables.Add(variable.Name); break;
                        case Footnote note: labelled.Add(note.Id); break;
                    }
        }
        return references.Count + variables.Count + numbered.Count + labelled.Count == 0 ? Nothing : new BlockReads([.. references], [.. variables], [.. numbered], [.. labelled]);
    }

    /// <summary>All that is read, as one string; empty for most blocks.</summary>
    public string Key(SettingContext context, DivisionNumbers numbers)
    {
        if (References.Length + Variables.Length + Numbered.Length + Labelled.Length == 0) return "";
        var key = new System.Text.StringBuilder();
        foreach (var id in Numbered) key.Append(numbers.ById.TryGetValue(id, out var target) ? target.Number : "").Append('\u001f');
        foreach (var id in Labelled) key.Append(numbers.Label(id)).Append('\u001f');
        foreach (var name in Variables) key.Append(context.Variable(name) ?? "\u0000").Append('\u001f');
        foreach (var reference in References) key.Append(context.Print(reference)).Append('\u001e').Append(context.TargetOf(reference).Value).Append('\u001f');
        return key.ToString();
    }
}
