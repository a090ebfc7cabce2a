using System.Collections.Concurrent;
using Kivren.Core.Composition;
using Kivren.Core.Content;
using Kivren.Core.Display;
using Kivren.Core.Numbering;
using Kivren.Core.Type;
using Kivren.Formats.Svg;
using Kivren.Server.Desk;
using Kivren.Server.Shelf;
using Kivren.Store;
using Microsoft.EntityFrameworkCore;

namespace Kivren.Server.Proof;

/// <summary>Where a composed page begins in the manuscript.</summary>
/// <param name="Block">the innermost block that its first line is of</param>
/// <param name="At">how many typed characters of that block stand before the page</param>
public sealed record PageTurn(int Sheet, string Folio, string Block, int At, string Reason);

/// <summary>What the open division prints now: page turns, numbers of its blocks, words of its references, loose ends.</summary>
public sealed record DivisionMarks(int Composition, IReadOnlyList<PageTurn> Turns, IReadOnlyDictionary<string, string> Numbers, IReadOnlyDictionary<string, string> Printed, IReadOnlyDictionary<string, int> PointedAt);

/// <summary>Something a cross-reference can point at, with how each form would read.</summary>
public sealed record TargetChoice(string Id, string Kind, string Name, string Number, string Title, string Folio, IReadOnlyList<Reading> Readings);
public sealed record Reading(string Form, string Label, string Text);

public sealed record HeadingChoice(IReadOnlyList<string> Headings, string Locators);

/// <summary>The live proof: pages by content hash, reasons, marks for the manuscript, what can be pointed at.</summary>
public static class ProofEndpoints
{
    private static readonly ConcurrentDictionary<(string Manual, string Key), string> Painted = new();
    private const int MostPainted = 4_000;

    public static void MapProof(this IEndpointRouteBuilder app)
    {
        var proof = app.MapGroup("/api/manuals/{id}");
        proof.MapGet("/proof", async (string id, IGrainFactory grains, ProofRooms rooms) =>
            await Current(id, grains, rooms) is { } c ? Results.Ok(ProofMessage.Whole(c)) : Results.NotFound(new Problem("There is no such manual.")));

        proof.MapGet("/pages/{key}.svg", async (string id, string key, IGrainFactory grains, ProofRooms rooms, ShelfContext db, HttpContext http) =>
        {
            if (!Painted.TryGetValue((id, key), out var svg))
            {
                if (await Current(id, grains, rooms) is null) return Results.NotFound(new Problem("There is no such manual."));
                if (rooms.Room(id).Page(key) is not { } found) return Results.NotFound(new Problem("This page is not of the present composition."));
                svg = await Paint(found.Page, found.Composed, id, db);
                if (Painted.Count > MostPainted) Painted.Clear();
                Painted[(id, key)] = svg;
            }
            http.Response.Headers.CacheControl = key == "blank" ? "no-cache" : "private, max-age=31536000, immutable";
            return Results.Text(svg, "image/svg+xml");
        });

        proof.MapGet("/divisions/{division}/marks", async (string id, string division, IGrainFactory grains, ProofRooms rooms) =>
            await Current(id, grains, rooms) is { } c && c.Composed.Divisions.FirstOrDefault(d => d.Numbers.Division.Id.Value == division) is { } pages
                ? Results.Ok(Marks(c, pages)) : Results.NotFound(new Problem("There is no such division in this edition.")));

        proof.MapGet("/sheets/{sheet:int}", async (string id, int sheet, IGrainFactory grains, ProofRooms rooms) =>
            await Current(id, grains, rooms) is { } c && sheet >= 0 && sheet < c.Composed.Pages.Count
                ? Results.Ok(new { c.Composed.Pages[sheet].Folio, c.Composed.Pages[sheet].Reason }) : Results.NotFound(new Problem("There is no such page.")));

        proof.MapGet("/targets", async (string id, string? words, IGrainFactory grains, ProofRooms rooms) =>
            await Current(id, grains, rooms) is { } c ? Results.Ok(Targets(c.Composed, words ?? "")) : Results.NotFound(new Problem("There is no such manual.")));

        proof.MapGet("/headings", async (string id, string? words, IGrainFactory grains, ProofRooms rooms) =>
            await Current(id, grains, rooms) is { } c ? Results.Ok(Headings(c.Composed, words ?? "")) : Results.NotFound(new Problem("There is no such manual.")));

        proof.MapGet("/pictures/{name}", async (string id, string name, ShelfContext db) =>
            await db.Assets.AsNoTracking().Where(a => a.ManualId == id && a.Name == name).Join(db.Pictures, a => a.Hash, p => p.Hash, (a, p) => new { p.Bytes, a.MediaType }).FirstOrDefaultAsync() is { } picture
                ? Results.File(picture.Bytes, picture.MediaType) : Results.NotFound(new Problem("There is no such picture.")));

        app.MapGet("/faces/{name}.ttf", (string name, HttpContext http) =>
        {
            if (FaceLibrary.All.FirstOrDefault(f => f.Name == name) is not { } face) return Results.NotFound();
            http.Response.Headers.CacheControl = "public, max-age=31536000, immutable";
            return Results.File(face.Bytes, "font/ttf");
        });
        app.MapGet("/api/faces", () => FaceLibrary.All.OrderBy(f => f.Name, StringComparer.Ordinal).Select(f => new { f.Name, Family = SvgPainter.Family(f) }));
    }

    /// <summary>The settled composition of the manual; opens its desk and waits for the first.</summary>
    internal static async Task<NumberedComposition?> Current(string id, IGrainFactory grains, ProofRooms rooms)
    {
        if (rooms.Find(id) is { } open) return await open.First();
        return await grains.GetGrain<IDesk>(id).Open() is null ? null : await rooms.Room(id).First();
    }

    private static async Task<string> Paint(ComposedPage page, ComposedManual composed, string id, ShelfContext db)
    {
        var display = DisplayList.Of(page, composed.Look);
        var names = display.Items.OfType<PictureItem>().Select(p => p.Asset).ToList();
        var pictures = names.Count == 0 ? [] : await db.Assets.AsNoTracking().Where(a => a.ManualId == id && names.Contains(a.Name))
            .Join(db.Pictures, a => a.Hash, p => p.Hash, (a, p) => new { a.Name, a.MediaType, p.Bytes }).ToDictionaryAsync(p => p.Name);
        return SvgPainter.Paint(display, name => pictures.TryGetValue(name, out var p) ? (p.Bytes, p.MediaType) : null);
    }

    private static DivisionMarks Marks(NumberedComposition c, DivisionPages pages)
    {
        var composed = c.Composed;
        var turns = new List<PageTurn>();
        var blocks = pages.Numbers.Division.Blocks.SelectMany(b => b.WithInner()).ToList();
        var typed = new Dictionary<Id, IReadOnlyList<Inline>>();
        foreach (var block in blocks)
        {
            typed.TryAdd(block.Id, block.OwnSpans().FirstOrDefault() ?? []);
            if (block is Table table)
                foreach (var cell in table.Rows.SelectMany(r => r.Cells)) typed.TryAdd(cell.Id, cell.Content);
        }
        for (var p = pages.First; p < pages.End; p++)
        {
            var page = composed.Pages[pages.StretchSheet + p];
            var first = pages.Cut.Pages[p].Pieces.Where(x => !pages.Cut.Galley.Pieces[x.Piece].Floats).Select(x => pages.Cut.Galley.Pieces[x.Piece]).FirstOrDefault(x => x.Drawn is not null && x.Drawn.Any(d => d is DrawnLine));
            var line = first.Drawn?.OfType<DrawnLine>().FirstOrDefault(l => typed.ContainsKey(l.Block));
            turns.Add(new PageTurn(page.Sheet, page.Folio, line?.Block.Value ?? "", line is null ? 0 : Typed(typed[line.Block], line.Line.Start, composed, pages.Numbers), page.Reason));
        }
        var numbers = new Dictionary<string, string>(StringComparer.Ordinal);
        foreach (var target in pages.Numbers.Targets)
            if (target.Number.Length > 0 && target.Kind != TargetKind.Division) numbers[target.Id.Value] = target.Kind is TargetKind.Figure or TargetKind.Table or TargetKind.Listing or TargetKind.Equation or TargetKind.Example ? $"{target.Name} {target.Number}" : target.Number;
        var printed = new Dictionary<string, string>(StringComparer.Ordinal);
        foreach (var block in pages.Numbers.Division.Blocks)
            foreach (var inline in block.Inlines())
                if (inline is CrossReference reference) printed[reference.Id.Value] = composed.Print(reference);
                else if (inline is VariableUse variable) printed["variable:" + variable.Name] = composed.Text.Variable(variable.Name) ?? $"[no variable {variable.Name}]";
        var own = pages.Numbers.ById;
        var pointed = composed.Text.Divisions.SelectMany(d => d.Blocks).SelectMany(b => b.Inlines()).OfType<CrossReference>().Select(r => composed.Numbers.Resolve(r.Target)).Where(own.ContainsKey).GroupBy(t => t.Value).ToDictionary(g => g.Key, g => g.Count());
        return new DivisionMarks(c.Number, turns, numbers, printed, pointed);
    }

    /// <summary>How many typed characters stand before a place in the text as it was set, where references and variables
    /// stand printed.</summary>
    private static int Typed(IReadOnlyList<Inline> spans, int at, ComposedManual composed, DivisionNumbers numbers)
    {
        int set = 0, typed = 0;
        foreach (var inline in spans)
        {
            var (printed, own) = inline switch
            {
                TextRun run => (run.Text.Length, run.Text.Length),
                CrossReference reference => (composed.Print(reference).Length, 0),
                VariableUse variable => ((composed.Text.Variable(variable.Name) ?? $"[no variable {variable.Name}]").Length, 0),
                Footnote note => (numbers.Label(note.Id).Length, 0),
                InlineEquation or InlinePicture => (1, 0),
                LineBreak => (1, 0),
                _ => (0, 0),
            };
            if (set + printed >= at) return typed + Math.Min(own, at - set);
            set += printed;
            typed += own;
        }
        return typed;
    }

    private static List<TargetChoice> Targets(ComposedManual composed, string words)
    {
        var asked = words.Trim();
        return composed.Numbers.Divisions.SelectMany(d => d.Targets)
            .Where(t => t.Kind is not (TargetKind.Block or TargetKind.Item) || asked.Length > 2)
            .Select(t => (Target: t, Score: Score(t, asked)))
            .Where(t => t.Score > 0).OrderByDescending(t => t.Score).Take(40)
            .Select(t =>
            {
                var folio = composed.Find(t.Target.Id) is { } at ? composed.Pages[at.Sheet].Folio : "";
                return new TargetChoice(t.Target.Id.Value, t.Target.Kind.ToString(), t.Target.Name, t.Target.Number, t.Target.Title, folio,
                    composed.Look.ReferenceForms.Select(f => new Reading(f.Name, f.Label, Core.References.ReferenceText.Of(new CrossReference(default, t.Target.Id, f.Name), t.Target, composed.Look, composed.Places))).ToList());
            }).ToList();
    }

    private static int Score(Target target, string asked)
    {
        if (asked.Length == 0) return target.Kind is TargetKind.Division or TargetKind.Head ? 10 : target.Kind is TargetKind.Figure or TargetKind.Table or TargetKind.Anchor ? 5 : 0;
        var label = $"{target.Name} {target.Number}".Trim();
        if (label.Equals(asked, StringComparison.OrdinalIgnoreCase) || target.Number.Equals(asked, StringComparison.OrdinalIgnoreCase)) return 100;
        if (target.Title.StartsWith(asked, StringComparison.OrdinalIgnoreCase)) return 60 - (int)target.Kind;
        if (label.StartsWith(asked, StringComparison.OrdinalIgnoreCase)) return 50 - (int)target.Kind;
        return asked.Split(' ', StringSplitOptions.RemoveEmptyEntries).All(w => target.Title.Contains(w, StringComparison.OrdinalIgnoreCase) || label.Contains(w, StringComparison.OrdinalIgnoreCase)) ? 30 - (int)target.Kind : 0;
    }

    private static List<HeadingChoice> Headings(ComposedManual composed, string words)
    {
        var found = new List<HeadingChoice>();
        void Add(Core.Indexing.IndexHeading heading, List<string> path)
        {
            var own = path.Append(heading.Text).ToList();
            if (words.Length == 0 || own.Any(h => h.Contains(words, StringComparison.OrdinalIgnoreCase)))
                found.Add(new HeadingChoice(own, string.Join(", ", heading.Places.Select(p => composed.FindIn(p.Division, p.Start)).Where(p => p is not null).Select(p => composed.Pages[p!.Value.Sheet].Folio).Distinct())));
            foreach (var under in heading.Under) Add(under, own);
        }
        foreach (var heading in composed.Index.Headings) Add(heading, []);
        return found.OrderByDescending(h => h.Headings[^1].StartsWith(words, StringComparison.OrdinalIgnoreCase)).Take(40).ToList();
    }
}
