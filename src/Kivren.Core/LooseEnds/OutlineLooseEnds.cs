using Kivren.Core.Content;

namespace Kivren.Core.LooseEnds;

/// <summary>What is amiss in the outline of a division: a level skipped, a head repeated among its like, a section with
/// nothing in it.</summary>
internal static class OutlineLooseEnds
{
    public static IEnumerable<LooseEnd> Find(Division division)
    {
        var id = division.Id;
        if (division.Blocks.Count == 0 && division.Kind is DivisionKind.Chapter or DivisionKind.Appendix)
            yield return new LooseEnd(
                LooseEndKind.SectionEmpty,
                id,
                id,
                division.Title,
                "There is nothing in this division but its title. Write it, or take it out."
            );
        var above = 0;
        var titles = new Stack<(HeadLevel Level, HashSet<string> Met)>();
        titles.Push((HeadLevel.A, new HashSet<string>(StringComparer.OrdinalIgnoreCase)));
        for (var b = 0; b < division.Blocks.Count; b++)
        {
            if (division.Blocks[b] is not Head head)
                continue;
            var words = head.Content.PlainText().Trim();
            if ((int)head.Level > above + 1)
                yield return new LooseEnd(
                    LooseEndKind.LevelSkipped,
                    id,
                    head.Id,
                    words,
                    $"This {head.Level} head stands under "
                        + $"{(above == 0 ? "the title" : above == 1 ? "an A head" : $"a {(HeadLevel)above} head")}: a level is skipped. "
                        + $"Lift it, or put a head between."
                );
            if (
                words.Length > 0
                && b > 0
                && division.Blocks[b - 1] is Head over
                && over.Level < head.Level
                && over.Content.PlainText().Trim().Equals(words, StringComparison.OrdinalIgnoreCase)
            )
                yield return new LooseEnd(
                    LooseEndKind.RepeatedTitle,
                    id,
                    head.Id,
                    words,
                    "This head repeats the one over it, so the contents list names it twice. Take it out, or reword it."
                );
            above = (int)head.Level;
            while (titles.Count > 1 && titles.Peek().Level > head.Level)
                titles.Pop();
            if (titles.Peek().Level < head.Level)
                titles.Push((head.Level, new HashSet<string>(StringComparer.OrdinalIgnoreCase)));
            if (words.Length > 0 && !titles.Peek().Met.Add(words))
                yield return new LooseEnd(
                    LooseEndKind.HeadRepeated,
                    id,
                    head.Id,
                    words,
                    $"“{words}” heads two sections side by side. A reader cannot tell them apart in the contents list; word one of "
                        + $"them otherwise."
                );
            if (head.Printed && (b + 1 == division.Blocks.Count || (division.Blocks[b + 1] is Head next && next.Level <= head.Level)))
                yield return new LooseEnd(
                    LooseEndKind.SectionEmpty,
                    id,
                    head.Id,
                    words,
                    "There is nothing under this head. Write it, or take it out."
                );
        }
    }
}
