using Kivren.Core.Content;
using Kivren.Core.Type;

namespace Kivren.Core.Composition;

/// <summary>Listings: lines of program text beside a bar, with numbers and marked lines.</summary>
internal static class ListingSetter
{
    /// <summary>A listing may break over pages with at least this many lines on each side.</summary>
    private const int EachSide = 3;

    public static void Set(BlockSetter at, Listing listing, Frame frame)
    {
        var dress = at.Look.ListingText;
        var blocks = at.Look.Blocks;
        if (!blocks.ListingCaptionBelow)
            CaptionSetter.Above(at, listing.Id, listing.Caption, frame, notesBelow: false);
        var indent = Math.Min(blocks.ListingIndent.Millipoints, frame.Width / 10);
        var source = listing
            .Text.Replace("\t", "    ", StringComparison.Ordinal)
            .ReplaceLineEndings("\n")
            .TrimEnd('\n')
            .Split('\n')
            .Select(l => l.TrimEnd())
            .ToArray();
        var numbers = listing.LineNumbers
            ? BlockSetter.Label(source.Length.ToString(System.Globalization.CultureInfo.InvariantCulture), dress).Width + indent
            : 0;
        var missing = new List<string>();
        var lines = ListingLines.Of(source, listing.Language, dress, frame.Width - indent - numbers, missing);
        foreach (var characters in missing.Distinct())
            at.Loose(
                LooseEnds.LooseEndKind.MissingCharacter,
                characters,
                $"No face has “{characters}”; it prints as a box. Write it another way."
            );
        var leading = dress.Leading.Millipoints;
        // The lines are told from the caption by the end of their id.
        var own = new Id(listing.Id.Value + "⟨lines⟩");
        var marked = listing.Marked.ToHashSet();
        for (var i = 0; i < lines.Count; i++)
        {
            var (line, number, continued) = lines[i];
            if (i > 0 && (i < EachSide || i > lines.Count - EachSide))
                at.Stack.KeepNext(Keep.Widow);
            var drawn = new List<Drawn>();
            if (marked.Contains(number))
                drawn.Add(new DrawnRule(frame.Left, 0, frame.Width, leading, blocks.MarkedTint));
            drawn.Add(new DrawnRule(frame.Left, 0, blocks.ListingBar.Millipoints, leading, blocks.ListingBarTint));
            if (listing.LineNumbers && !continued)
            {
                var label = BlockSetter.Label(number.ToString(System.Globalization.CultureInfo.InvariantCulture), dress);
                drawn.Add(new DrawnLine(label, frame.Left + numbers - label.Width, dress.Baseline.Millipoints, Id.None));
            }
            drawn.Add(new DrawnLine(line, frame.Left + indent + numbers, dress.Baseline.Millipoints, own));
            at.Stack.Add(leading, drawn);
        }
        if (blocks.ListingCaptionBelow)
            CaptionSetter.Below(at, listing.Id, listing.Caption, frame, notesBelow: false);
    }
}
