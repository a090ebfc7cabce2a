using System.Text;
using Kivren.Core.Composition;
using Kivren.Core.Content;
using Kivren.Core.Finding;

namespace Kivren.Core.Indexing;

/// <summary>The words of the text that carry an entry: why the index names that page.</summary>
/// <param name="Match">the word nearest to the entry that its heading has too; empty where none is near</param>
public sealed record EntryWords(string Before, string Match, string After)
{
    private const int Around = 60;

    public static readonly EntryWords None = new("", "", "");

    /// <param name="place">the entry at that very end of a range</param>
    public static EntryWords Of(ComposedManual composed, GatheredEntry place)
    {
        foreach (var division in composed.Text.Divisions.Where(d => d.Id == place.Division))
        foreach (var block in division.Blocks.SelectMany(b => b.WithInner()).Where(b => b.Id == place.Block))
        foreach (var spans in block.OwnSpans())
            if (In(composed, spans, place.Entry) is { } words)
                return words;
        return None;
    }

    private static EntryWords? In(ComposedManual composed, IReadOnlyList<Inline> spans, IndexEntry entry)
    {
        var text = new StringBuilder();
        var at = -1;
        foreach (var inline in spans)
        {
            if (inline is Holding holding && In(composed, holding.Content, entry) is { } inside)
                return inside;
            if (inline is IndexEntry own && own.Id == entry.Id && own.Kind == entry.Kind)
                at = text.Length;
            text.Append(composed.Printed(inline));
        }
        return at < 0 ? null : Near(text.ToString(), at, entry.Headings);
    }

    private static EntryWords Near(string text, int at, IReadOnlyList<string> headings)
    {
        var from = Math.Max(0, at - Around);
        var to = Math.Min(text.Length, at + Around);
        var (start, length) = (at, 0);
        // The whole of a heading says more than one word of it.
        foreach (var sought in headings.Reverse().Concat(headings.Reverse().SelectMany(h => h.Split(' ', ',').Where(w => w.Length > 3))))
        {
            var stem = HeadingWords.Singular(sought, "en") ?? sought;
            for (var i = text.IndexOf(stem, from, to - from, StringComparison.OrdinalIgnoreCase); i >= 0; )
            {
                if (length == 0 || Math.Abs(i - at) < Math.Abs(start - at))
                {
                    var end = i + stem.Length;
                    while (end < text.Length && char.IsLetter(text[end]))
                        end++;
                    (start, length) = (i, end - i);
                }
                i = i + 1 < to ? text.IndexOf(stem, i + 1, to - i - 1, StringComparison.OrdinalIgnoreCase) : -1;
            }
            if (length > 0)
                break;
        }
        var behind = start + length;
        (from, to) = WordsAround.Of(text, start, behind, Around);
        return new EntryWords(
            (from > 0 ? "…" : "") + text[from..start],
            text[start..behind],
            text[behind..to] + (to < text.Length ? "…" : "")
        );
    }
}
