using Kivren.Core.Content;

namespace Kivren.Formats.Import;

/// <summary>Header rows of tables whose markup names none.</summary>
internal static class StrongRows
{
    /// <summary>How many first rows are headers because all their words are bold and those below are not.</summary>
    public static int Heads(IReadOnlyList<SourceRow> rows) =>
        rows.Count > 1 && rows[0].Cells.Count > 1 && IsStrong(rows[0]) && !rows.Skip(1).All(IsStrong)
            // Cells of the first row that reach down make the rows they reach headers too.
            ? Math.Min(rows.Count - 1, rows[0].Cells.Max(c => c.RowSpan))
            : 0;

    private static bool IsStrong(SourceRow row)
    {
        var full = row.Cells.Where(c => c.Blocks.Words().Trim().Length > 0).ToList();
        return full.Count * 2 >= row.Cells.Count
            && full.Count > 0
            && full.All(c =>
                c.Blocks.OfType<SourceParagraph>()
                    .SelectMany(p => p.Spans)
                    .OfType<SourceRun>()
                    .Where(r => r.Text.Trim().Length > 0)
                    .All(r => r.Roles.HasFlag(SpanRoles.Strong))
            );
    }
}
