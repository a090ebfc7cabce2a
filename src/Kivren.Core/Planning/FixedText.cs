using Kivren.Core.Content;

namespace Kivren.Core.Planning;

/// <summary>Text that a pattern fixed changes only in the pattern.</summary>
public static class FixedText
{
    /// <summary>What an act comes to, unless it would change fixed text.</summary>
    public static PlanResult Kept(Manual manual, Manual next, string words)
    {
        foreach (var (was, now) in manual.Kept().Zip(next.Kept()))
            if (!ReferenceEquals(was, now))
                foreach (var (a, b) in was.Blocks.Zip(now.Blocks))
                    if (!ReferenceEquals(a, b) && a.FixedBy is { } pattern)
                        return PlanResult.No(
                            $"A part of this stands in text that is fixed by the pattern “{pattern}”; it changes only there."
                        );
        return new PlanResult(next, words, null);
    }
}
