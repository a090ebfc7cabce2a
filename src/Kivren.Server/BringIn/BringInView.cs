using Kivren.Core.Content;
using Kivren.Core.LooseEnds;
using Kivren.Desk;
using Kivren.Formats.Import;
using Kivren.Formats.Import.Sites;
using Kivren.Formats.Package;

namespace Kivren.Server.BringIn;

public sealed record ViewedFile(string Name, string Becomes, int Divisions, int Words, string? Problem);

/// <summary>The book that the files are.</summary>
/// <param name="From">what it was read from, in words</param>
public sealed record ViewedTree(string From, IReadOnlyList<ViewedTreePlace> Places);

/// <param name="File">its number; -1 for a part that is only named</param>
/// <param name="Name">of the file; "" for such a part</param>
/// <param name="Kind">part, chapter, appendix, preface, glossary, section, leftOut</param>
public sealed record ViewedTreePlace(int File, string Name, string Title, int Depth, string Kind, int Words);

public sealed record ViewedLine(
    string Key,
    string Label,
    int Count,
    string Sample,
    string Role,
    string RoleLabel,
    string Why,
    bool Certain,
    bool Span,
    bool Chosen
);

public sealed record ViewedCleaning(string Name, string Label, string Does, int Count, bool On);

public sealed record ViewedPage(string Key, string Folio, int Division);

public sealed record ViewedReport(string Kind, string What, int Count, IReadOnlyList<ViewedPlace> Places);

/// <param name="Block">the block that it is about, or the last before it, by its number in <see cref="ViewedBlocks"/>; -1 for
/// none</param>
public sealed record ViewedPlace(string Where, string Words, int Block);

public sealed record ViewedBlock(string Id, string Division, string Body, string Line, int File, int Place, int Sheet);

public sealed record ViewedBlocks(IReadOnlyList<ViewedBlock> Blocks, int Total);

public sealed record ViewedDifference(string Id, string Kind, string Division, string? Before, string? Becomes, bool EditedHere);

public sealed record ViewedRole(string Name, string Label, bool Span);

public sealed record ViewedMapping(string Name, int Fits);

public sealed record ViewedCounts(
    int Pages,
    int Divisions,
    int Heads,
    int Figures,
    int Tables,
    int Notes,
    int Blocks,
    int ToChoose,
    int NoAlternative,
    int ToNothing
);

/// <summary>Documents on their way in, as the screen shows them.</summary>
public sealed record BringInView(
    string Id,
    string State,
    double Progress,
    string Doing,
    double Milliseconds,
    string? Problem,
    string? Manual,
    string ManualTitle,
    string After,
    int Version,
    IReadOnlyList<ViewedFile> Files,
    ViewedTree? Tree,
    IReadOnlyList<ViewedLine> Lines,
    IReadOnlyList<ViewedCleaning> Cleaning,
    IReadOnlyList<ViewedReport> Report,
    IReadOnlyList<ViewedRole> Roles,
    string Language,
    string Mapping,
    IReadOnlyList<ViewedMapping> Mappings,
    IReadOnlyList<ViewedPage> Pages,
    ViewedCounts? Counts,
    IReadOnlyList<ViewedDifference>? Differences
)
{
    private static readonly (Cleaning Cleaning, string Label, string Does)[] Cleanings =
    [
        (Formats.Import.Cleaning.EmptyParagraphs, "Empty paragraphs", "taken out"),
        (Formats.Import.Cleaning.PageBreaks, "Page breaks by hand", "taken out"),
        (Formats.Import.Cleaning.Spaces, "Runs of spaces", "closed up"),
        (Formats.Import.Cleaning.TabTables, "Tabs and spaces as tables", "turned into tables"),
        (Formats.Import.Cleaning.TypedNumbers, "Numbers typed before heads", "taken out"),
        (Formats.Import.Cleaning.GeneratedLists, "Contents list, index", "made by the manual"),
        (Formats.Import.Cleaning.TrackedChanges, "Tracked changes", "accepted"),
        (Formats.Import.Cleaning.Comments, "Comments", "kept as notes"),
        (Formats.Import.Cleaning.Furniture, "What recurs on pages of a site", "left out"),
    ];

    private static readonly ViewedRole[] AllRoles = ImportRole
        .All.Select(r => new ViewedRole(r.Name, r.Label, r.Use == RoleUse.Span))
        .ToArray();

    /// <summary>Places of one kind of report line shown; the rest are counted.</summary>
    private const int MostPlaces = 200;

    public static BringInView Of(Delivery room, Standing now, IReadOnlyList<ImportMapping> mappings)
    {
        var unread = now.Unread.Select(u => new ViewedFile(u.File, "", 0, 0, u.Problem));
        if (now.Shaped is not { } shaped || now.Composed is not { } composed)
            return new BringInView(
                room.Id,
                now.State.ToString(),
                now.Progress,
                now.Doing,
                now.Milliseconds,
                now.Problem,
                room.Manual,
                room.ManualTitle,
                room.After,
                0,
                [.. unread],
                null,
                [],
                [],
                [],
                AllRoles,
                "",
                "",
                [],
                [],
                null,
                null
            );
        var mapping = now.Mapping(now.Chosen.MappingName);
        var blocks = shaped.Divisions.SelectMany(d => d.Blocks).SelectMany(b => b.WithInner()).ToList();
        var files = now
            .Ordered.Select(
                (d, i) =>
                    new ViewedFile(
                        d.Document.File,
                        now.Chosen.Becomes[i] ?? "chapter",
                        shaped.FileOf.Count(f => f == i),
                        d.Document.Blocks.Words().Split(' ').Length,
                        null
                    )
            )
            .Concat(unread);
        var lines = shaped
            .Lines.Select(l => new ViewedLine(
                l.Key,
                l.Label,
                l.Count,
                l.Sample,
                l.Role,
                ImportRole.LabelFor(l.Role),
                l.Why,
                l.Certain,
                l.Use == RoleUse.Span,
                mapping.Roles.ContainsKey(l.Key)
            ))
            .ToArray();
        var places = new IncomingPlaces(shaped, [.. now.Ordered.Select(d => d.Document.File)]);
        var report = shaped
            .Report.GroupBy(r => (r.Kind, r.What))
            .OrderBy(g => g.Key.Kind == ReportKind.Look ? 0 : 1)
            .ThenBy(g => g.Key.Kind)
            .Select(g => new ViewedReport(
                g.Key.Kind.ToString(),
                g.Key.What,
                g.Count(),
                g.Take(MostPlaces).Select(r => new ViewedPlace(r.Where, r.Words, places.BlockOf(r))).ToArray()
            ))
            .ToArray();
        var counts = new ViewedCounts(
            composed.Pages.Count,
            shaped.Divisions.Count,
            blocks.Count(b => b is Head),
            blocks.Count(b => b is Figure),
            blocks.Count(b => b is Table),
            shaped.Divisions.SelectMany(d => d.Blocks).SelectMany(b => b.Inlines()).Count(i => i is Footnote),
            blocks.Count,
            lines.Count(l => !l.Certain),
            composed.LooseEnds.Count(l => l.Kind == LooseEndKind.NoAlternativeText),
            composed.LooseEnds.Count(l => l.Kind == LooseEndKind.ReferenceToNothing)
                + shaped.Report.Count(r =>
                    r.Kind == ReportKind.Look && r.What.StartsWith("A reference leads to nothing", StringComparison.Ordinal)
                )
        );
        var titles = shaped.Divisions.ToDictionary(d => d.Id, d => d.Title);
        return new BringInView(
            room.Id,
            now.State.ToString(),
            now.Progress,
            now.Doing,
            now.Milliseconds,
            now.Problem,
            room.Manual,
            room.ManualTitle,
            room.After,
            now.Version,
            [.. files],
            TreeOf(shaped, [.. now.Ordered.Select(d => d.Document)]),
            lines,
            Cleanings
                .Select(c => new ViewedCleaning(
                    BlockWriter.Name(c.Cleaning),
                    c.Label,
                    c.Does,
                    shaped.Cleaned[c.Cleaning],
                    !now.Chosen.Off.Contains(c.Cleaning)
                ))
                .ToArray(),
            report,
            AllRoles,
            shaped.Language,
            now.Chosen.MappingName,
            mappings.Select(m => new ViewedMapping(m.Name, m.Fits(shaped.Lines))).OrderByDescending(m => m.Fits).ToArray(),
            composed.Pages.Select(p => new ViewedPage(p.Key, p.Folio, p.Division)).ToArray(),
            counts,
            now.Comparison?.Differences.Select(d => new ViewedDifference(
                    d.Id.Value,
                    d.Kind.ToString(),
                    d.Division.Value,
                    d.Before is null ? null : BlockWriter.ToJson(d.Before),
                    d.Becomes is null ? null : BlockWriter.ToJson(d.Becomes),
                    d.EditedHere
                ))
                .ToArray()
        );
    }

    private static ViewedTree? TreeOf(Shaped shaped, IReadOnlyList<SourceDocument> documents) =>
        shaped.Tree is not { } tree
            ? null
            : new ViewedTree(
                tree.From,
                [
                    .. tree.Places.Select(p =>
                        p.File < 0
                            ? new ViewedTreePlace(-1, "", p.Title, p.Depth, p.Kind, 0)
                            : new ViewedTreePlace(
                                p.File,
                                documents[p.File].File,
                                SiteTree.FirstHead(documents[p.File]) is { Length: > 0 } head ? head : p.Title,
                                p.Depth,
                                p.Kind,
                                documents[p.File].Blocks.Words().AsSpan().Count(' ')
                            )
                    ),
                ]
            );

    /// <summary>Some of the blocks as they would come in; a division's title stands first among its own, as a head of level 0.</summary>
    public static ViewedBlocks Blocks(Standing now, int from, int count)
    {
        if (now.Shaped is not { } shaped || now.Composed is not { } composed)
            return new ViewedBlocks([], 0);
        var all = IncomingPlaces.Listed(shaped).ToList();
        var viewed = new List<ViewedBlock>();
        foreach (var (division, file, block) in all.Skip(Math.Max(0, from)).Take(Math.Clamp(count, 0, 400)))
        {
            var id = block?.Id ?? division.Id;
            var origin = IncomingPlaces.OriginOf(block, id, shaped);
            var sheet = (composed.FindIn(division.Id, id) ?? composed.Find(id))?.Sheet ?? -1;
            var body = block is null
                ? $$"""{"type":"title","text":{{System.Text.Json.JsonSerializer.Serialize(division.Title)}}}"""
                : BlockWriter.ToJson(block);
            viewed.Add(
                new ViewedBlock(
                    id.Value,
                    division.Id.Value,
                    body,
                    origin.Line ?? "",
                    origin.Line is null ? file : origin.File,
                    origin.Place,
                    sheet
                )
            );
        }
        return new ViewedBlocks(viewed, all.Count);
    }
}
