namespace Kivren.Core.Content;

/// <summary>What applies to some readers only, at every depth of a block.</summary>
public static class Conditions
{
    /// <summary>Every condition that stands in the block, with the id of what carries it; of a run of words the block it stands
    /// in.</summary>
    public static IEnumerable<(Id Carrier, AppliesTo AppliesTo)> ConditionsIn(this Block block)
    {
        foreach (var inner in block.WithInner())
        {
            foreach (var (carrier, applies) in Own(inner))
                if (!applies.IsAlways)
                    yield return (carrier, applies);
            foreach (var run in inner.OwnSpans().SelectMany(Walk.Flat).OfType<TextRun>())
                if (!run.AppliesTo.IsAlways)
                    yield return (inner.Id, run.AppliesTo);
        }
    }

    private static IEnumerable<(Id, AppliesTo)> Own(Block block) =>
        block switch
        {
            ItemList l => l.Items.Select(i => (i.Id, i.AppliesTo)),
            Steps s => s.Items.Select(i => (i.Id, i.AppliesTo)),
            DefinitionList d => d.Definitions.Select(x => (x.Id, x.AppliesTo)),
            ReferenceList r => r.Documents.Select(x => (x.Id, x.AppliesTo)),
            Table t => t.Rows.Select(r => (r.Id, r.AppliesTo)),
            _ => Enumerable.Empty<(Id, AppliesTo)>(),
        }
            is var parts
            ? parts.Prepend((block.Id, block.AppliesTo))
            : [];

    /// <summary>The block with every condition in it changed; the block itself when none is another.</summary>
    public static Block WithConditions(this Block block, Func<AppliesTo, AppliesTo> change)
    {
        if (block.ConditionsIn().All(c => ReferenceEquals(change(c.AppliesTo), c.AppliesTo)))
            return block;
        IReadOnlyList<Inline> Spans(IReadOnlyList<Inline> spans) =>
            [
                .. spans.Select(s =>
                    s switch
                    {
                        TextRun run => run with { AppliesTo = change(run.AppliesTo) },
                        Holding h => h with { Content = Spans(h.Content) },
                        _ => s,
                    }
                ),
            ];
        return Changed(block.WithSpans(Spans), change);
    }

    private static Block Changed(Block block, Func<AppliesTo, AppliesTo> change)
    {
        Item Item(Item item) => item with { AppliesTo = change(item.AppliesTo) };
        var own = block switch
        {
            ItemList l => l with { Items = [.. l.Items.Select(Item)] },
            Steps s => s with { Items = [.. s.Items.Select(Item)] },
            DefinitionList d => d with { Definitions = [.. d.Definitions.Select(x => x with { AppliesTo = change(x.AppliesTo) })] },
            ReferenceList r => r with { Documents = [.. r.Documents.Select(x => x with { AppliesTo = change(x.AppliesTo) })] },
            Table t => t with { Rows = [.. t.Rows.Select(r => r with { AppliesTo = change(r.AppliesTo) })] },
            _ => block,
        };
        return own.WithInnerBlocks(inner => [.. inner.Select(b => Changed(b, change))]) with { AppliesTo = change(block.AppliesTo) };
    }

    /// <summary>What applies, as it is told: “model 6 or 6E; medium print”. Empty for what applies always.</summary>
    public static string InWords(this AppliesTo appliesTo) =>
        string.Join("; ", appliesTo.Axes.Select(a => $"{a.Axis} {string.Join(" or ", a.Values)}"));

    /// <summary>The manual with every axis and value that its text and editions name among its conditions.</summary>
    public static Manual WithConditionsInUse(this Manual manual)
    {
        var axes = manual.Conditions.Select(c => c.Axis).ToList();
        var values = manual.Conditions.ToDictionary(c => c.Axis, c => c.Values.ToList(), StringComparer.Ordinal);
        var known = values.Sum(v => v.Value.Count);
        var kept = manual.Kept();
        foreach (
            var named in kept.SelectMany(d => d.AppliesTo.Axes)
                .Concat(kept.SelectMany(d => d.Blocks).SelectMany(b => b.ConditionsIn()).SelectMany(c => c.AppliesTo.Axes))
                .Concat(manual.Editions.SelectMany(e => e.Chosen))
        )
        {
            if (!values.TryGetValue(named.Axis, out var own))
            {
                axes.Add(named.Axis);
                values[named.Axis] = own = [];
            }
            own.AddRange(named.Values.Where(v => !own.Contains(v)));
        }
        return axes.Count == manual.Conditions.Count && values.Sum(v => v.Value.Count) == known
            ? manual
            : manual with
            {
                Conditions = [.. axes.Select(a => new AxisValues(a, values[a]))],
            };
    }
}
