using System.Runtime.CompilerServices;
using Kivren.Core.Content;

namespace Kivren.Core.Selection;

/// <summary>A division without the heads that only repeat the title right above them, with no text between: what stands under them
/// moves up to it, and who refers to the head arrives at that title.</summary>
/// <param name="Division">the division itself where no title repeats</param>
/// <param name="LeftOut">each head left out, with the title that stands for it</param>
internal sealed record RepeatedTitles(Division Division, IReadOnlyList<(Id Head, Id Title)> LeftOut)
{
    private static readonly ConditionalWeakTable<Division, RepeatedTitles> Known = [];

    public static RepeatedTitles Of(Division division) => Known.GetValue(division, Found);

    private static RepeatedTitles Found(Division division)
    {
        var kept = new List<Block>(division.Blocks.Count);
        var leftOut = new List<(Id, Id)>();
        // Levels of heads left out, under which others are lifted; the title above, while no text came between.
        var lifted = new Stack<HeadLevel>();
        (Id Id, string Words)? above = (division.Id, division.Title);
        // Index entries and anchors of a head left out go on in what follows it.
        IReadOnlyList<Inline> atoms = [];
        for (var b = 0; b < division.Blocks.Count; b++)
        {
            var block = division.Blocks[b];
            if (block is not Head head)
            {
                if (block is not ContentsList)
                    above = null;
                kept.Add(
                    block is Paragraph paragraph && atoms.Count > 0 ? paragraph with { Content = [.. atoms, .. paragraph.Content] } : block
                );
                atoms = [];
                continue;
            }
            while (lifted.TryPeek(out var level) && head.Level <= level)
                lifted.Pop();
            var words = head.Content.PlainText();
            IReadOnlyList<Inline> own = [.. atoms, .. head.Content.Where(i => i is not TextRun)];
            if (
                above is { } title
                && Same(title.Words, words)
                && (own.Count == 0 || (b + 1 < division.Blocks.Count && division.Blocks[b + 1] is Head or Paragraph))
            )
            {
                leftOut.Add((head.Id, title.Id));
                lifted.Push(head.Level);
                atoms = own;
                continue;
            }
            kept.Add(
                head with
                {
                    Level = (HeadLevel)Math.Max(1, (int)head.Level - lifted.Count),
                    Content = atoms.Count > 0 ? [.. atoms, .. head.Content] : head.Content,
                }
            );
            atoms = [];
            above = (head.Id, words);
        }
        return new RepeatedTitles(leftOut.Count == 0 ? division : division with { Blocks = kept }, leftOut);
    }

    private static bool Same(string title, string words) =>
        words.Trim().Length > 0 && string.Equals(title.Trim(), words.Trim(), StringComparison.OrdinalIgnoreCase);
}
