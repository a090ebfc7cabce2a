using Kivren.Core.Content;

namespace Kivren.Formats.Import;

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
/// <param name="EditedHere">the writer changed the block since it came in: taking the difference keeps that only where the
/// source did not change it</param>
public sealed record Difference(Id Id, DifferenceKind Kind, Id Division, Id After, Block? Before, Block? Becomes, bool EditedHere);

/// <summary>A block as it came in, kept to be compared with a newer version.</summary>
public sealed record BroughtInBlock(Id Division, Block Block);

/// <param name="AsNow">the newer version's blocks with the identities that they have in the manual: what a still newer one
/// is compared with</param>
public sealed record Comparison(IReadOnlyList<Difference> Differences, IReadOnlyList<BroughtInBlock> AsNow);

/// <summary>Compares a newer version of a source document with what was brought in from the earlier one. Blocks are matched
/// by likeness, so what is unchanged keeps its identity, entries, references and conditions.</summary>
public static class NewerVersion
{
    /// <summary>Blocks less alike than this are two blocks, not one that changed.</summary>
    private const double Alike = .45;

    /// <param name="was">the blocks as they came in</param>
    /// <param name="now">the newer version, shaped with the same mapping</param>
    /// <param name="manual">the manual as it stands</param>
    public static Comparison Compare(
        IReadOnlyList<BroughtInBlock> was,
        IReadOnlyList<Division> now,
        Manual manual,
        CancellationToken cancel = default
    )
    {
        var here = new Dictionary<Id, (Block Block, Id Division)>();
        foreach (var d in manual.Divisions)
        foreach (var block in d.Blocks)
            here[block.Id] = (block, d.Id);
        var blocks = now.SelectMany(d => d.Blocks).ToArray();
        var partner = Match(
            was.Select(b => TextOf(b.Block)).ToArray(),
            blocks.Select(TextOf).ToArray(),
            (o, n) => was[o].Block.GetType() == blocks[n].GetType(),
            cancel
        );
        var differences = new List<Difference>();
        var asNow = new List<BroughtInBlock>();
        var renamed = new Dictionary<Id, Id>();
        for (var n = 0; n < blocks.Length; n++)
            if (partner[n] >= 0)
                Rename(blocks[n], was[partner[n]].Block, renamed);
        var division =
            was.Count > 0 ? was[0].Division
            : manual.Divisions.Count > 0 ? manual.Divisions[^1].Id
            : Id.None;
        var after = new Id("");
        for (var n = 0; n < blocks.Length; n++)
        {
            var block = Renamed(blocks[n], renamed);
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
            if (TextOf(old.Block) == TextOf(block))
                continue;
            var becomes = Transplant.Into(stands.Block, block);
            if (TextOf(becomes) == TextOf(stands.Block))
                continue; // the writer made the same change
            differences.Add(
                new Difference(
                    old.Block.Id,
                    DifferenceKind.Changed,
                    division,
                    Id.None,
                    stands.Block,
                    becomes,
                    TextOf(stands.Block) != TextOf(old.Block)
                )
            );
        }
        var kept = partner.Where(p => p >= 0).ToHashSet();
        for (var o = 0; o < was.Count; o++)
            if (!kept.Contains(o) && here.TryGetValue(was[o].Block.Id, out var stands))
                differences.Add(
                    new Difference(
                        was[o].Block.Id,
                        DifferenceKind.TakenOut,
                        stands.Division,
                        Id.None,
                        stands.Block,
                        null,
                        TextOf(stands.Block) != TextOf(was[o].Block)
                    )
                );
        return new Comparison(differences, asNow);
    }

    /// <summary>The manual with the chosen differences taken.</summary>
    public static Manual Take(Manual manual, IReadOnlyList<Difference> differences, IReadOnlySet<string> chosen)
    {
        var taken = differences.Where(d => chosen.Contains(d.Id.Value)).ToList();
        return manual with
        {
            Divisions = manual
                .Divisions.Select(division =>
                {
                    var own = taken.Where(d => d.Division == division.Id).ToList();
                    if (own.Count == 0)
                        return division;
                    var changed = own.Where(d => d.Kind == DifferenceKind.Changed).ToDictionary(d => d.Id, d => d.Becomes!);
                    var gone = own.Where(d => d.Kind == DifferenceKind.TakenOut).Select(d => d.Id).ToHashSet();
                    var blocks = division.Blocks.Where(b => !gone.Contains(b.Id)).Select(b => changed.GetValueOrDefault(b.Id, b)).ToList();
                    foreach (var added in own.Where(d => d.Kind == DifferenceKind.Added))
                    {
                        // What it stands after may be a difference that was left: then the nearest before that one.
                        var after = added.After;
                        while (after.Value.Length > 0 && blocks.FindIndex(b => b.Id == after) < 0)
                            after = differences.FirstOrDefault(d => d.Id == after)?.After ?? new Id("");
                        blocks.Insert(after.Value.Length == 0 ? 0 : blocks.FindIndex(b => b.Id == after) + 1, added.Becomes!);
                    }
                    return division with { Blocks = blocks };
                })
                .ToArray(),
        };
    }

    /// <summary>All words of a block, with its kind and the shape of what is in it: equal texts need no change.</summary>
    internal static string TextOf(Block block)
    {
        var text = new System.Text.StringBuilder();
        foreach (var inner in block.WithInner())
        {
            text.Append(inner.GetType().Name).Append('\u001e');
            if (inner is Head h)
                text.Append(h.Level);
            if (inner is Listing l)
                text.Append(l.Text);
            if (inner is Equation e)
                text.Append(e.Source);
            if (inner is Figure f)
                text.Append(f.Asset);
            if (inner is Admonition a)
                text.Append(a.Kind);
            foreach (var spans in inner.OwnSpans())
            {
                foreach (var span in Walk.Flat(spans))
                    if (span is TextRun run)
                        text.Append(run.Text);
                    else if (span is InlineEquation q)
                        text.Append(q.Source);
                    else if (span is InlinePicture p)
                        text.Append(p.Asset);
                text.Append('\u001f');
            }
        }
        return text.ToString();
    }

    /// <summary>Gaps of more pairs than this are tried only near their diagonal: the work stays linear in their length.</summary>
    private const int MostPairs = 40_000,
        Band = 60;

    /// <summary>For each new text the old one that it is a version of, or −1: equal ones in order first, then the likest
    /// between their matched neighbours.</summary>
    internal static int[] Match(
        IReadOnlyList<string> was,
        IReadOnlyList<string> now,
        Func<int, int, bool> may,
        CancellationToken cancel = default
    )
    {
        var partner = new int[now.Count];
        Array.Fill(partner, -1);
        EqualRuns.Of(was, now, partner, cancel);
        // Between two matched neighbours the rest are tried by likeness, best first.
        for (var n = 0; n < now.Count; )
        {
            if (partner[n] >= 0)
            {
                n++;
                continue;
            }
            var end = n;
            while (end < now.Count && partner[end] < 0)
                end++;
            var low = n > 0 ? partner[n - 1] + 1 : 0;
            var high = end < now.Count ? partner[end] : was.Count;
            Likest(was, now, may, partner, (n, end), (low, high), cancel);
            n = end;
        }
        return partner;
    }

    private static void Likest(
        IReadOnlyList<string> was,
        IReadOnlyList<string> now,
        Func<int, int, bool> may,
        int[] partner,
        (int From, int End) news,
        (int From, int End) olds,
        CancellationToken cancel
    )
    {
        int height = news.End - news.From,
            width = olds.End - olds.From;
        if (width == 0)
            return;
        var whole = (long)height * width <= MostPairs;
        var pairs = new List<(double Like, int Old, int New)>();
        for (var i = news.From; i < news.End; i++)
        {
            cancel.ThrowIfCancellationRequested();
            var middle = olds.From + (int)((long)(i - news.From) * width / height);
            var (from, to) = whole ? olds : (Math.Max(olds.From, middle - Band), Math.Min(olds.End, middle + Band));
            for (var o = from; o < to; o++)
                if (may(o, i) && Likeness(was[o], now[i]) is var like and >= Alike)
                    pairs.Add((like, o, i));
        }
        // Matched so far, in the order of the new texts; their old ones must rise with them.
        var matched = new SortedList<int, int>();
        foreach (var (_, o, i) in pairs.OrderByDescending(p => p.Like).ThenBy(p => p.New).ThenBy(p => p.Old))
        {
            if (partner[i] >= 0)
                continue;
            var at = Place(matched.Keys, i);
            if ((at > 0 && matched.Values[at - 1] >= o) || (at < matched.Count && matched.Values[at] <= o))
                continue;
            partner[i] = o;
            matched.Add(i, o);
        }
    }

    /// <summary>How many of these rising numbers are below one.</summary>
    private static int Place(IList<int> numbers, int number)
    {
        int low = 0,
            high = numbers.Count;
        while (low < high)
        {
            var middle = (low + high) / 2;
            if (numbers[middle] < number)
                low = middle + 1;
            else
                high = middle;
        }
        return low;
    }

    /// <summary>How alike two texts are, 0 to 1: the share of their words that they have in common (Dice's coefficient).</summary>
    internal static double Likeness(string a, string b)
    {
        if (a == b)
            return 1;
        var counts = new Dictionary<string, int>(StringComparer.Ordinal);
        int left = 0,
            right = 0,
            common = 0;
        foreach (var word in Words(a))
        {
            counts[word] = counts.GetValueOrDefault(word) + 1;
            left++;
        }
        foreach (var word in Words(b))
        {
            right++;
            if (counts.TryGetValue(word, out var n) && n > 0)
            {
                counts[word] = n - 1;
                common++;
            }
        }
        return left + right == 0 ? 1 : 2.0 * common / (left + right);
    }

    private static string[] Words(string text) =>
        text.Split([' ', '\u001e', '\u001f', '\u2028', ',', '.', ';', ':'], StringSplitOptions.RemoveEmptyEntries);

    private static void Rename(Block now, Block was, Dictionary<Id, Id> renamed)
    {
        renamed[now.Id] = was.Id;
        var (a, b) = (now.InnerBlocks().ToArray(), was.InnerBlocks().ToArray());
        for (var i = 0; i < a.Length && i < b.Length && a[i].GetType() == b[i].GetType(); i++)
            Rename(a[i], b[i], renamed);
    }

    private static Block Renamed(Block block, Dictionary<Id, Id> renamed)
    {
        IReadOnlyList<Inline> Spans(IReadOnlyList<Inline> spans) =>
            spans
                .Select(s =>
                    s switch
                    {
                        CrossReference r => r with { Target = renamed.GetValueOrDefault(r.Target, r.Target) },
                        Footnote f => f with { Content = Spans(f.Content) },
                        _ => s,
                    }
                )
                .ToArray();
        return block.Rebuilt(id => renamed.GetValueOrDefault(id, id), Spans);
    }
}
