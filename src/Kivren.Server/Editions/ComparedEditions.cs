using Kivren.Core.Composition;
using Kivren.Core.Editions;
using Kivren.Server.Pointing;

namespace Kivren.Server.Editions;

/// <summary>A block that one of two editions has alone, or that reads otherwise in it.</summary>
[GenerateSerializer, Immutable]
public sealed record ComparedBlock(string Division, string Title, string Block, string Words);

/// <summary>Some of what differs, and how much there is of it.</summary>
[GenerateSerializer, Immutable]
public sealed record ComparedBlocks(int Count, ComparedBlock[] First);

/// <summary>Two editions beside each other.</summary>
/// <param name="Pages">of the first and of the second</param>
/// <param name="LooseEnds">of the first and of the second</param>
/// <param name="OtherOrder">what both have stands in another order</param>
[GenerateSerializer, Immutable]
public sealed record ComparedEditions(
    int[] Pages,
    int[] LooseEnds,
    ComparedBlocks OnlyFirst,
    ComparedBlocks OnlySecond,
    ComparedBlocks Otherwise,
    bool OtherOrder
)
{
    /// <summary>More are counted, not told.</summary>
    private const int MostTold = 200;

    public static ComparedEditions Of(ComposedManual first, ComposedManual second)
    {
        static ComparedBlocks Some(IReadOnlyList<DifferingBlock> blocks) =>
            new(
                blocks.Count,
                [.. blocks.Take(MostTold).Select(b => new ComparedBlock(b.Division.Value, b.Title, Places.Kept(b.Block).Value, b.Words))]
            );
        var difference = EditionDifference.Between(first, second);
        return new ComparedEditions(
            [first.Pages.Count, second.Pages.Count],
            [first.LooseEnds.Count, second.LooseEnds.Count],
            Some(difference.OnlyFirst),
            Some(difference.OnlySecond),
            Some(difference.Otherwise),
            difference.OtherOrder
        );
    }
}
