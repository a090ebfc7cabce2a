using System.Text.RegularExpressions;

namespace Kivren.Formats.Import;

/// <summary>Lines that tabs or runs of spaces hold apart into columns: a table that was never made one.</summary>
internal static class TabTable
{
    private const int MostColumns = 12;
    private static readonly Regex Gap = new(@"\t+| {3,}", RegexOptions.CultureInvariant);

    /// <summary>The table that begins with the block at <paramref name="from"/> and how many blocks it takes; null for none.
    /// Two lines at least, with equally many columns.</summary>
    public static (SourceTable Table, int Lines)? At(IReadOnlyList<SourceBlock> blocks, int from, Func<SourceBlock, bool> isBody)
    {
        var rows = new List<SourceRow>();
        var columns = 0;
        for (var i = from; i < blocks.Count; i++)
        {
            if (blocks[i] is not SourceParagraph { List: null } p || !isBody(p) || Row(p) is not { } row)
                break;
            if (columns == 0)
                columns = row.Cells.Count;
            if (row.Cells.Count != columns)
                break;
            rows.Add(row);
        }
        return rows.Count < 2 ? null : (new SourceTable(blocks[from].Place, StrongRows.Heads(rows), rows), rows.Count);
    }

    private static SourceRow? Row(SourceParagraph p)
    {
        var cells = new List<List<SourceSpan>> { new() };
        var began = false;
        var gap = false;
        foreach (var span in p.Spans)
            if (span is SourceTab)
                gap = began;
            else if (span is SourceRun run)
            {
                var at = 0;
                foreach (Match match in Gap.Matches(run.Text))
                {
                    Take(run.Text[at..match.Index], run);
                    gap = began;
                    at = match.Index + match.Length;
                }
                Take(run.Text[at..], run);
            }
            else
                cells[^1].Add(span);
        // Only gaps between words make columns; one at the end makes none.
        if (cells.Count is < 2 or > MostColumns || cells.Any(c => c.Words().Length > 120))
            return null;
        return new SourceRow(cells.Select(c => new SourceCell([new SourceParagraph(p.Place, "", c)])).ToArray());

        void Take(string text, SourceRun run)
        {
            if (text.Length == 0)
                return;
            if (gap && text.Trim().Length > 0)
            {
                cells.Add([]);
                gap = false;
            }
            if (text.Trim().Length > 0)
                began = true;
            cells[^1].Add(run with { Text = text });
        }
    }
}
