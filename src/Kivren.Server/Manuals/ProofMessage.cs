using System.Diagnostics;
using Kivren.Core.Composition;
using Kivren.Core.Content;
using Kivren.Core.LooseEnds;
using Kivren.Core.Numbering;

namespace Kivren.Server.Manuals;

/// <summary>One page as the browser needs it: the key of its drawing, its folio and division.</summary>
[GenerateSerializer, Immutable]
public sealed record ProofPage(string Key, string Folio, int Division);

/// <summary>A division on the page axis, with its heads.</summary>
[GenerateSerializer, Immutable]
public sealed record ProofDivision(
    string Id,
    string Kind,
    string Title,
    string Number,
    int FirstSheet,
    int Pages,
    IReadOnlyList<ProofHead> Heads
);

[GenerateSerializer, Immutable]
public sealed record ProofHead(string Id, string Level, string Number, string Title, int Sheet, string Folio);

[GenerateSerializer, Immutable]
public sealed record ProofLooseEnd(string Kind, string Division, string Block, string Words, string Message, int Sheet);

/// <summary>What the last change did to the pages.</summary>
[GenerateSerializer, Immutable]
public sealed record Effect(int Pages, int HeadsMoved, int ReferencesRenumbered, int TextPages, int ReflowedPages, int NumberPages);

/// <summary>Told to every browser on the manual when a composition has settled. Pages are told as what is new between a
/// common beginning and a common end; a browser that holds another number asks for all of them. The act is the last one
/// of the journal that is in these pages.</summary>
[GenerateSerializer, Immutable]
public sealed record ProofMessage(
    int Number,
    int Before,
    long Act,
    double Milliseconds,
    int Passes,
    int PageCount,
    int From,
    int Removed,
    IReadOnlyList<ProofPage> Inserted,
    IReadOnlyList<ProofDivision> Divisions,
    IReadOnlyList<ProofLooseEnd> LooseEnds,
    Effect Effect,
    string? Problem
)
{
    public static ProofMessage Failure(int number, long act, string problem) =>
        new(number, number, act, 0, 0, 0, 0, 0, [], [], [], new Effect(0, 0, 0, 0, 0, 0), problem);

    /// <summary>All pages of a composition, for a browser that comes new.</summary>
    public static ProofMessage Whole(NumberedComposition c) =>
        c.Message with
        {
            Before = 0,
            From = 0,
            Removed = 0,
            Inserted = c.Composed.Pages.Select(Page).ToList(),
        };

    private static ProofPage Page(ComposedPage p) => new(KeyOf(p), p.Folio, p.Division);

    /// <summary>Names the program that draws: a mended painter draws under other keys, so no browser goes on showing what the
    /// old one drew.</summary>
    private static readonly string Painter = (
        typeof(ComposedPage).Module.ModuleVersionId.ToString("N")[..6]
        + typeof(Formats.Svg.SvgPainter).Module.ModuleVersionId.ToString("N")[..6]
    );

    /// <summary>The address of a page: what it shows, and who draws it.</summary>
    public static string KeyOf(ComposedPage page) => page.Key + "-" + Painter;

    public static ProofMessage Of(ComposedManual? before, ComposedManual now, int number, long act, Stopwatch clock)
    {
        var (from, removed, inserted) = Difference(before, now);
        var (divisions, looseEnds, effect) = (DivisionsOf(now), now.LooseEnds.Select(l => Of(l, now)).ToList(), EffectOf(before, now));
        return new ProofMessage(
            number,
            before is null ? 0 : number - 1,
            act,
            Math.Round(clock.Elapsed.TotalMilliseconds, 1),
            now.Passes,
            now.Pages.Count,
            from,
            removed,
            inserted,
            divisions,
            looseEnds,
            effect,
            null
        );
    }

    private static (int, int, List<ProofPage>) Difference(ComposedManual? before, ComposedManual now)
    {
        if (before is null)
            return (0, 0, now.Pages.Select(Page).ToList());
        int a = before.Pages.Count,
            b = now.Pages.Count,
            from = 0,
            tail = 0;
        bool Same(ComposedPage x, ComposedPage y) => x.Key == y.Key && x.Folio == y.Folio && x.Division == y.Division;
        while (from < a && from < b && Same(before.Pages[from], now.Pages[from]))
            from++;
        while (tail < a - from && tail < b - from && Same(before.Pages[a - 1 - tail], now.Pages[b - 1 - tail]))
            tail++;
        return (from, a - from - tail, now.Pages.Skip(from).Take(b - from - tail).Select(Page).ToList());
    }

    private static List<ProofDivision> DivisionsOf(ComposedManual now) =>
        now
            .Divisions.Select(d => new ProofDivision(
                d.Numbers.Division.Id.Value,
                d.Numbers.Division.Kind.ToString(),
                d.Numbers.Division.Title,
                d.Numbers.Number,
                d.FirstSheet,
                d.End - d.First,
                d.Numbers.Targets.Where(t => t.Kind == TargetKind.Head && t.Level <= HeadLevel.B)
                    .Select(t =>
                    {
                        var sheet = d.Cut.Places.TryGetValue(t.Id, out var place) ? d.StretchSheet + place.Page : d.FirstSheet;
                        return new ProofHead(
                            t.Id.Value,
                            t.Level.ToString()!,
                            t.Number,
                            t.Title,
                            sheet,
                            now.Pages[Math.Min(sheet, now.Pages.Count - 1)].Folio
                        );
                    })
                    .ToList()
            ))
            .ToList();

    private static ProofLooseEnd Of(LooseEnd l, ComposedManual now) =>
        new(
            l.Kind.ToString(),
            l.Division.Value,
            l.Block.Value,
            l.Words,
            l.Message,
            (now.FindIn(l.Division, l.Block) ?? now.FindIn(l.Division, l.Division))?.Sheet ?? -1
        );

    private static Effect EffectOf(ComposedManual? before, ComposedManual now)
    {
        if (before is null)
            return new Effect(0, 0, 0, 0, 0, 0);
        var moved = 0;
        foreach (var division in now.Divisions)
        foreach (var target in division.Numbers.Targets)
            if (
                target.Kind is TargetKind.Head or TargetKind.Division
                && before.Find(target.Id) is { } was
                && now.Find(target.Id) is { } at
                && before.Pages[was.Sheet].Folio != now.Pages[at.Sheet].Folio
            )
                moved++;
        var renumbered = 0;
        foreach (var division in now.Text.Divisions)
        foreach (var reference in division.Blocks.SelectMany(b => b.Inlines()).OfType<CrossReference>())
            if (before.Numbers.Find(reference.Target) is not null && before.Print(reference) != now.Print(reference))
                renumbered++;
        int text = 0,
            reflowed = 0,
            numbers = 0;
        var bodies = before.Pages.Select(p => p.BodyKey).ToHashSet();
        var keys = before.Pages.Select(p => p.Key).ToHashSet(StringComparer.Ordinal);
        var blocks = before.Divisions.SelectMany(d => d.Cut.Galley.Blocks).Select(b => b.ContentHash).ToHashSet();
        foreach (var page in now.Pages)
        {
            if (keys.Contains(page.Key) || page.Body is null)
                continue;
            if (bodies.Contains(page.BodyKey))
                numbers++;
            else if (page.Body.Pieces.All(p => blocks.Contains(page.Cut!.Galley.Blocks[page.Cut.Galley.BlockOf[p.Piece]].ContentHash)))
                reflowed++;
            else
                text++;
        }
        return new Effect(now.Pages.Count - before.Pages.Count, moved, renumbered, text, reflowed, numbers);
    }
}
