using System.Text;
using Kivren.Core.Composition;
using Kivren.Core.Content;
using Kivren.Core.Selection;

namespace Kivren.Core.Editions;

/// <summary>A block that one of two editions has and the other has not, or has otherwise.</summary>
/// <param name="Words">its first words, as the one edition that has it prints them; the first edition's where both do</param>
public sealed record DifferingBlock(Id Division, string Title, Id Block, string Words);

/// <summary>What two editions of a manual have of each other: the text that only one has, what reads otherwise, and what each comes to.
/// </summary>
/// <param name="OtherOrder">what both have stands in another order</param>
public sealed record EditionDifference(
    IReadOnlyList<DifferingBlock> OnlyFirst,
    IReadOnlyList<DifferingBlock> OnlySecond,
    IReadOnlyList<DifferingBlock> Otherwise,
    bool OtherOrder
)
{
    private const int FirstWords = 80;

    public static EditionDifference Between(ComposedManual first, ComposedManual second)
    {
        var (a, b) = (Blocks(first.Text), Blocks(second.Text));
        var (inA, inB) = (a.Select(x => x.Known).ToHashSet(), b.ToDictionary(x => x.Known));
        var both = a.Where(x => inB.ContainsKey(x.Known)).ToList();
        return new EditionDifference(
            [.. a.Where(x => !inB.ContainsKey(x.Known)).Select(x => x.Said)],
            [.. b.Where(x => !inA.Contains(x.Known)).Select(x => x.Said)],
            [.. both.Where(x => inB[x.Known].Text != x.Text).Select(x => x.Said)],
            !both.Select(x => x.Known).SequenceEqual(b.Select(x => x.Known).Where(inA.Contains))
        );
    }

    private sealed record Met(Id Known, string Text, DifferingBlock Said);

    /// <summary>All that an edition prints, block by block, and each division by its title. A block that a passage brings twice is met
    /// where it stands first.</summary>
    private static List<Met> Blocks(SelectedText text)
    {
        var met = new List<Met>();
        var known = new HashSet<Id>();
        foreach (var division in text.Divisions)
        {
            void Add(Id id, string words)
            {
                var shown = words.ReplaceLineEndings(" ").Trim();
                if (shown.Length > FirstWords)
                    shown = shown[..(char.IsHighSurrogate(shown[FirstWords - 1]) ? FirstWords - 1 : FirstWords)] + "…";
                if (known.Add(id))
                    met.Add(new Met(id, words, new DifferingBlock(division.Id, division.Title, id, shown)));
            }
            Add(division.Id, division.Title);
            foreach (var block in division.Blocks)
                if (TextOf(block, text) is { Length: > 0 } words)
                    Add(block.Id, words);
        }
        return met;
    }

    private static string TextOf(Block block, SelectedText text)
    {
        var words = new StringBuilder();
        foreach (var inner in block.WithInner())
        {
            if (inner is Listing listing)
                words.Append(listing.Text).Append('\n');
            foreach (var inline in inner.OwnSpans().SelectMany(Walk.Flat))
                words.Append(
                    inline switch
                    {
                        TextRun run => run.Text,
                        VariableUse variable => text.Variable(variable.Name) ?? "",
                        CrossReference { Instead: { } instead } => instead,
                        _ => "",
                    }
                );
            words.Append(' ');
        }
        return words.ToString().Trim();
    }
}
