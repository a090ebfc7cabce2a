using System.Text.RegularExpressions;
using Kivren.Formats.Import;

namespace Kivren.Formats.Markdown;

/// <summary>A paragraph beside a table that begins with “Table:” or a colon is its caption.</summary>
internal static partial class MarkdownCaptions
{
    [GeneratedRegex(@"^(?:Table)?\s*:\s*", RegexOptions.CultureInvariant)]
    private static partial Regex Begins();

    public static IEnumerable<SourceBlock> Taken(IEnumerable<SourceBlock> blocks)
    {
        var all = blocks.ToList();
        for (var at = 0; at < all.Count; at++)
            if (all[at] is SourceTable { Caption.Count: 0 } table)
                // What stands behind it is nearer than what stands before: that may be the one of the table before.
                foreach (var beside in (ReadOnlySpan<int>)[at + 1, at - 1])
                    if (beside >= 0 && beside < all.Count && CaptionOf(all[beside]) is { } caption)
                    {
                        all[at] = table with { Caption = caption };
                        all.RemoveAt(beside);
                        break;
                    }
        return all;
    }

    private static List<SourceSpan>? CaptionOf(SourceBlock block)
    {
        if (
            block is not SourceParagraph { Spans: [SourceRun first, ..] spans }
            || Begins().Match(first.Text) is not { Success: true } begun
        )
            return null;
        return [first with { Text = first.Text[begun.Length..] }, .. spans.Skip(1)];
    }
}
