namespace Kivren.Core.Content;

/// <summary>Ways to change inlines and blocks over a whole manual; what does not change stays the same object.</summary>
public static class WholeManual
{
    public static Manual WithBlocks(this Manual manual, Func<Block, Block> change)
    {
        var changed = false;
        var kept = manual
            .Kept()
            .Select(d =>
            {
                Block[]? blocks = null;
                for (var b = 0; b < d.Blocks.Count; b++)
                    if (change(d.Blocks[b]) is var next && !ReferenceEquals(next, d.Blocks[b]))
                        (blocks ??= [.. d.Blocks])[b] = next;
                changed |= blocks is not null;
                return blocks is null ? d : d with { Blocks = blocks };
            })
            .ToArray();
        return changed ? manual.WithKept(kept) : manual;
    }

    /// <param name="change">what stands instead of an inline; null to leave it</param>
    public static Manual WithInlines(this Manual manual, Func<Inline, IReadOnlyList<Inline>?> change)
    {
        IReadOnlyList<Inline> Spans(IReadOnlyList<Inline> spans)
        {
            List<Inline>? made = null;
            for (var i = 0; i < spans.Count; i++)
            {
                var inline = spans[i];
                var next = change(inline);
                if (
                    next is null
                    && inline is Holding holding
                    && Spans(holding.Content) is var inside
                    && !ReferenceEquals(inside, holding.Content)
                )
                    next = [holding with { Content = inside }];
                if (next is not null)
                    made ??= [.. spans.Take(i)];
                made?.AddRange(next ?? [inline]);
            }
            return made is null ? spans : Joined(made);
        }
        return manual.WithBlocks(block => Changed(block, Spans));
    }

    /// <summary>The very block where no spans changed.</summary>
    private static Block Changed(Block block, Func<IReadOnlyList<Inline>, IReadOnlyList<Inline>> spans)
    {
        if (!block.Inlines().Any(i => i is not TextRun))
            return block;
        var changed = false;
        var next = block.WithSpans(s =>
        {
            var now = spans(s);
            changed |= !ReferenceEquals(now, s);
            return now;
        });
        return changed ? next : block;
    }

    /// <summary>Runs alike that an atom parted are one run again.</summary>
    private static List<Inline> Joined(List<Inline> spans)
    {
        for (var i = spans.Count - 1; i > 0; i--)
            if (spans[i] is TextRun b && spans[i - 1] is TextRun a && a with { Text = b.Text } == b)
            {
                spans[i - 1] = a with { Text = a.Text + b.Text };
                spans.RemoveAt(i);
            }
        return spans;
    }
}
