using Kivren.Core.Content;

namespace Kivren.Audit;

/// <summary>A line that a contents list must have.</summary>
/// <param name="Number">with the name of what it numbers where the look gives it</param>
/// <param name="At">where its target stands in the flow; null for a caption, which <paramref name="Target"/> finds</param>
public sealed record ContentsLine(string Number, string Title, int? At, Id Target)
{
    public string Words { get; } = FinishedFile.Normal(Number + Title);
}

/// <summary>What a contents list must say, told from the manual and the look's rules alone.</summary>
public static class ContentsLines
{
    public static IEnumerable<ContentsLine> Of(
        ExpectedText expected,
        HouseRules rules,
        ExpectedDivision at,
        IReadOnlyList<ListedKind> kinds
    )
    {
        foreach (var division in expected.Divisions)
        {
            var kind = division.Division.Kind;
            var lists =
                kind == DivisionKind.Contents && division.Division.Blocks.Any(b => b is ContentsList { List: "contents" or "brief" });
            if (
                division != at
                && !lists
                && kind is not (DivisionKind.HalfTitle or DivisionKind.TitlePage or DivisionKind.Legal)
                && kinds.FirstOrDefault(k => k.What == "division" && k.Divisions!.Contains(kind)) is { } own
            )
                yield return new ContentsLine(
                    (own.Named ? rules.KindName(kind) : "") + division.Number,
                    division.Division.Title,
                    division.At,
                    division.Division.Id
                );
            var heads = division.Heads.ToDictionary(h => h.Id);
            foreach (var block in division.Division.Blocks.SelectMany(b => b.WithInner()))
                switch (block)
                {
                    case Head h:
                        if (
                            h.Listed != Listed.Never
                            && heads.TryGetValue(h.Id, out var head)
                            && kinds.Any(k => k.What == "head" && (k.Level == h.Level || h.Listed == Listed.Always))
                        )
                            yield return new ContentsLine(head.Number, head.Title, head.At, h.Id);
                        break;
                    case Figure or Table { Caption.Count: > 0 } or Listing { Caption.Count: > 0 }:
                        if (kinds.Any(k => k.What == block.GetType().Name))
                            yield return new ContentsLine(
                                expected.Numbers.Targets[block.Id].Number,
                                expected.Numbers.Targets[block.Id].Title,
                                null,
                                block.Id
                            );
                        break;
                }
        }
    }
}
