using Kivren.Core.Composition;
using Kivren.Core.Looks;
using Kivren.Core.LooseEnds;

namespace Kivren.Server.Looks;

/// <summary>A look to be seen on a manual, and which of its pages: those about a sheet, or a page of a division.</summary>
/// <param name="File">the look; null for the one that the manual wears</param>
/// <param name="Division">its id; then <paramref name="Page"/> counts from its first page</param>
[GenerateSerializer, Immutable]
public sealed record TrialOrder(string? File, string? Division, int Page);

/// <summary>A stretch of a page and what of the look made it; points from the upper left.</summary>
[GenerateSerializer, Immutable]
public sealed record SeenPart(string Place, double X, double Y, double Width, double Height);

/// <summary>A page as it comes out, with its frame; points.</summary>
/// <param name="Layout">name of its page layout</param>
/// <param name="Left">of the text; its hung numbers stand <paramref name="Side"/> further left</param>
[GenerateSerializer, Immutable]
public sealed record SeenPage(
    int Sheet,
    string Folio,
    string Svg,
    string Layout,
    bool Turned,
    double Width,
    double Height,
    double Left,
    double Top,
    double Measure,
    double Depth,
    double Side,
    int Columns,
    double Gutter,
    SeenPart[] Parts
)
{
    public static SeenPage Of(ComposedManual composed, ComposedPage page, Look look, string svg)
    {
        static double Points(int millipoints) => millipoints / 1000.0;
        var master = page.Master;
        var frame = page.Cut is { Galley.Page: var set } && !page.IsTurned ? set : master;
        return new SeenPage(
            page.Sheet,
            page.Folio,
            svg,
            master.Name,
            page.IsTurned,
            master.Width.InPoints,
            master.Height.InPoints,
            master.Left(page.IsRecto).InPoints,
            master.Top.InPoints,
            master.Measure.InPoints,
            master.Depth.InPoints,
            (master.SideColumn + master.SideGap).InPoints,
            frame.Columns,
            frame.Gutter.InPoints,
            [
                .. PagePart
                    .Of(page, look, composed.Text.Divisions[page.Division])
                    .Select(p => new SeenPart(p.Place, Points(p.X), Points(p.Y), Points(p.Width), Points(p.Height))),
            ]
        );
    }
}

/// <summary>The pages in sight, or why the look cannot be worn.</summary>
[GenerateSerializer, Immutable]
public sealed record Glimpsed(SaidFault[] Faults, SeenPage[] Pages);

/// <summary>A division on the page axis in a look that is tried.</summary>
[GenerateSerializer, Immutable]
public sealed record TriedDivision(string Id, int FirstSheet, int Pages);

/// <summary>A manual as it settled in a look that is tried, beside what it is now.</summary>
/// <param name="Doubts">what can be worn and yet would come out badly in this manual</param>
/// <param name="Changes">what the look says otherwise than the one worn, in words</param>
/// <param name="Come">loose ends that there were not, up to a hundred</param>
[GenerateSerializer, Immutable]
public sealed record TriedLook(
    SaidFault[] Doubts,
    SeenPage[] Pages,
    int PageCount,
    int PagesWorn,
    TriedDivision[] Divisions,
    TriedDivision[] DivisionsWorn,
    string[] Changes,
    TriedEnd[] Come,
    int CameCount,
    int GoneCount
)
{
    private const int MostTold = 100;

    public static TriedLook Of(ComposedManual now, ComposedManual tried, Look worn, Look look, SeenPage[] pages)
    {
        static (LooseEndKind, string, string) Known(LooseEnd end) => (end.Kind, end.Block.Value, end.KnownBy);
        var before = now.LooseEnds.Select(Known).ToHashSet();
        var after = tried.LooseEnds.Select(Known).ToHashSet();
        var come = tried.LooseEnds.Where(l => !before.Contains(Known(l))).ToList();
        return new TriedLook(
            [.. LookDoubts.Of(tried).Select(f => new SaidFault(f.Place, f.Says))],
            pages,
            tried.Pages.Count,
            now.Pages.Count,
            On(tried),
            On(now),
            [.. LookDifference.Between(worn, look).Select(d => LookDifference.Say([d]))],
            [
                .. come.Take(MostTold)
                    .Select(l => new TriedEnd(l.Message, (tried.FindIn(l.Division, l.Block) ?? tried.Find(l.Block))?.Sheet)),
            ],
            come.Count,
            now.LooseEnds.Count(l => !after.Contains(Known(l)))
        );
    }

    private static TriedDivision[] On(ComposedManual composed) =>
        [.. composed.Divisions.Select(d => new TriedDivision(d.Numbers.Division.Id.Value, d.FirstSheet, d.End - d.First))];
}

/// <summary>A loose end of a look that is tried, and the sheet that it is on where it is on one.</summary>
[GenerateSerializer, Immutable]
public sealed record TriedEnd(string Message, int? Sheet);
