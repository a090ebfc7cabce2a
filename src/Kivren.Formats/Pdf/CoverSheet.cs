using Kivren.Core;
using Kivren.Core.Composition;
using Kivren.Core.Content;
using Kivren.Core.Display;
using Kivren.Core.Type;

namespace Kivren.Formats.Pdf;

/// <summary>A cover as printers take it: back, spine and front beside each other on one sheet.</summary>
/// <param name="Front">a page as it is composed</param>
/// <param name="Back">null for one that stays bare</param>
/// <param name="Spine">its width</param>
public sealed record CoverSheet(DisplayPage Front, DisplayPage? Back, Length Spine, string Words, TextStyle Style)
{
    /// <summary>A spine less wide than this bears no words: the fold is not so exact.</summary>
    public static readonly Length LeastSpine = Length.Points(14);

    public bool SpineHasWords => Spine >= LeastSpine && Words.Length > 0;

    /// <param name="leaf">thickness of a leaf, in thousandths of a millimetre</param>
    public static Length SpineOf(int pages, int leaf) => Length.Points((pages + 1) / 2 * leaf / 1000.0 * 72 / 25.4);

    /// <summary>Where the sheet is folded, from its left edge.</summary>
    internal int[] Folds => [Front.Width, Front.Width + Spine.Millipoints];

    /// <summary>The whole sheet.</summary>
    public DisplayPage Page
    {
        get
        {
            var across = Front.Width + Spine.Millipoints;
            return new DisplayPage(
                Front.Width * 2 + Spine.Millipoints,
                Front.Height,
                [.. Back?.Items ?? [], .. SpineWords(), .. Front.Items.Select(i => Moved(i, across))],
                []
            );
        }
    }

    /// <summary>The title runs down the spine, so that it reads upright where the book lies on its back.</summary>
    private IEnumerable<DisplayItem> SpineWords()
    {
        if (!SpineHasWords)
            return [];
        var size = Math.Min(Style.Size.Millipoints, Spine.Millipoints * 6 / 10);
        var styled = new StyledText();
        styled.Add(Words, Style with { Size = new Length(size) }, false);
        var line = LineSetter.OfThread.Set(
            styled,
            new Shape(new Length(Math.Max(60_000, Front.Height * 8 / 10)), default, Alignment.Ragged),
            null
        )[0];
        // Capitals stand in the middle of the spine; they are about seven tenths of the size.
        var baseline = Front.Width + Spine.Millipoints / 2 - size * 35 / 100;
        return line.Words.Select(
            (word, w) =>
                new WordItem(word, baseline, Front.Height / 10 + word.X, Id.None, ReadingRole.Furniture, w == line.Words.Length - 1)
                {
                    Turned = true,
                }
        );
    }

    private static DisplayItem Moved(DisplayItem item, int by) =>
        item is LeaderItem leader ? leader with { X = leader.X + by, To = leader.To + by } : item with { X = item.X + by };
}
