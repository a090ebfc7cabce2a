using Kivren.Core.Content;
using Kivren.Formats.Outputs;
using Kivren.Server.Manuals;
using Kivren.Store;

namespace Kivren.Server.Produce;

/// <summary>What is to be produced.</summary>
/// <param name="Edition">null for all editions with all that they go out as; by itself an edition with all</param>
/// <param name="Kind">printPdf, screenPdf, epub, site; null for all that the edition goes out as</param>
public sealed record OutputAsked(string? Edition, string? Kind, bool All = false)
{
    public string? Problem() =>
        Edition is not null && !Checks.IsText(Edition, 200) ? "This is no edition."
        : Kind is not null && KindOf(Kind) is null ? $"There is no output “{Kind}”."
        : null;

    private static OutputKind? KindOf(string kind) =>
        Enum.TryParse<OutputKind>(kind, ignoreCase: true, out var known) && Enum.IsDefined(known) ? known : null;

    /// <summary>The outputs that wait to be made; of a manual without editions its PDF for screens.</summary>
    internal IReadOnlyList<OutputRow> Rows(string manual, IReadOnlyList<Edition> editions, DateTimeOffset now)
    {
        IEnumerable<Edition> asked =
            All ? editions
            : Edition is null ? [editions.Count > 0 ? editions[0] : Core.Content.Edition.Whole]
            : editions.Where(e => e.Name == Edition);
        if (Edition == Core.Content.Edition.Whole.Name && editions.Count == 0)
            asked = [Core.Content.Edition.Whole];
        return
        [
            .. asked
                .SelectMany(e => KindsOf(e).Select(k => (e.Name, k)))
                .Select(
                    (a, i) =>
                        new OutputRow
                        {
                            Id = Guid.CreateVersion7().ToString("N"),
                            ManualId = manual,
                            Edition = a.Name,
                            Kind = a.k.ToString(),
                            // One after another, in the order of the editions.
                            AskedAt = now.AddTicks(i * 10),
                        }
                ),
        ];
    }

    private IEnumerable<OutputKind> KindsOf(Edition edition) =>
        Kind is not null ? [KindOf(Kind)!.Value]
        : edition.GoesOutAs.Count == 0 ? [OutputKind.ScreenPdf]
        : All || Edition is not null ? edition.GoesOutAs.Select(o => o.Kind)
        : [edition.GoesOutAs[0].Kind];
}

/// <summary>An output as the browser sees it, without its bytes.</summary>
/// <param name="Kind">printPdf, screenPdf, epub, site</param>
/// <param name="FileName">empty until it is made</param>
/// <param name="Bytes">of its file; 0 where it is no longer kept</param>
/// <param name="Act">the last act in the text that it was made from</param>
/// <param name="Wrong">loose ends by which a page says something wrong</param>
public sealed record OutputView(
    string Id,
    string Edition,
    string Kind,
    string State,
    string Stage,
    int Done,
    int Total,
    int Pages,
    int LooseEnds,
    int Wrong,
    string FileName,
    long Bytes,
    long Act,
    string[] Since,
    string? Problem,
    DateTimeOffset AskedAt
)
{
    public static OutputView Of(OutputRow row) =>
        new(
            row.Id,
            row.Edition,
            char.ToLowerInvariant(row.Kind[0]) + row.Kind[1..],
            row.State.ToString(),
            row.Stage,
            row.Done,
            row.Total,
            row.Pages,
            row.LooseEnds,
            OutputReport.Parse(row.Report)?.Wrong ?? 0,
            row.FileName,
            row.Bytes,
            row.Act,
            row.Since?.Split('\n', StringSplitOptions.RemoveEmptyEntries) ?? [],
            row.Problem,
            row.AskedAt
        );
}

/// <summary>The report of an output.</summary>
/// <param name="Notes">what could not be made as it was asked for</param>
/// <param name="Since">what changed since the output of this kind before it; null where there was none</param>
public sealed record ReportView(
    OutputView Output,
    int Passes,
    string[] Faces,
    int Pictures,
    CoarsePicture[] Coarse,
    OutputWarning[] Warnings,
    int MoreWarnings,
    string[]? Since,
    string[] Notes
)
{
    internal static ReportView Of(OutputRow row, OutputReport report) =>
        new(
            OutputView.Of(row),
            report.Passes,
            [.. report.Faces],
            report.Pictures,
            [.. report.Coarse],
            [.. report.Warnings],
            report.MoreWarnings,
            row.Since is null ? null : OutputView.Of(row).Since,
            [.. report.Notes]
        );
}
