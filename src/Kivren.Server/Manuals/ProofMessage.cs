using System.Diagnostics;
using Kivren.Core.Composition;
using Kivren.Core.Content;
using Kivren.Core.LooseEnds;
using Kivren.Core.Numbering;
using Kivren.Server.Pointing;

namespace Kivren.Server.Manuals;

/// <summary>One page as the browser needs it: the key of its drawing, its folio and division.</summary>
[GenerateSerializer, Immutable]
public sealed record ProofPage(string Key, string Folio, int Division)
{
    internal static ProofPage Of(ComposedPage page) => new(ProofMessage.KeyOf(page), page.Folio, page.Division);
}

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
)
{
    /// <summary>Two divisions that say the same.</summary>
    internal static readonly IEqualityComparer<ProofDivision> Alike = EqualityComparer<ProofDivision>.Create(
        (a, b) => ReferenceEquals(a, b) || (a! with { Heads = b!.Heads }).Equals(b) && a.Heads.SequenceEqual(b.Heads)
    );
}

[GenerateSerializer, Immutable]
public sealed record ProofHead(string Id, string Level, string Number, string Title, int Sheet, string Folio);

[GenerateSerializer, Immutable]
public sealed record ProofLooseEnd(string Kind, string Division, string Block, string Words, string Message, int Sheet)
{
    /// <summary>The reference, the entry, the definition that it is about; empty for the block itself.</summary>
    [Id(0)]
    public string Subject { get; init; } = "";

    /// <summary>The heading that it should be or name instead; null where none is likely.</summary>
    [Id(2)]
    public string? Instead { get; init; }

    /// <summary>Why a writer let it be; null where none did.</summary>
    [Id(1)]
    public string? Aside { get; init; }
}

/// <summary>What the last change did to the pages.</summary>
[GenerateSerializer, Immutable]
public sealed record Effect(int Pages, int HeadsMoved, int ReferencesRenumbered, int TextPages, int ReflowedPages, int NumberPages);

/// <summary>Told to every browser on the manual when a composition has settled. Pages are told as the runs that are new;
/// a browser that holds another number asks for all of them. The act is the last one of the journal that is in these pages.</summary>
/// <param name="Divisions">null when they are as in the composition before</param>
/// <param name="LooseEnds">null when they are as in the composition before</param>
[GenerateSerializer, Immutable]
public sealed record ProofMessage(
    int Number,
    int Before,
    long Act,
    double Milliseconds,
    int Passes,
    int PageCount,
    IReadOnlyList<PageRun> Runs,
    IReadOnlyList<ProofDivision>? Divisions,
    IReadOnlyList<ProofLooseEnd>? LooseEnds,
    Effect Effect,
    string? Problem
)
{
    /// <summary>The edition that these pages are of.</summary>
    [Id(1)]
    public string Edition { get; init; } = "";

    /// <summary>Drawings of inserted pages by their key, where they go along.</summary>
    [Id(0)]
    public IReadOnlyDictionary<string, string>? Drawn { get; init; }

    public static ProofMessage Failure(int number, long act, string problem) =>
        new(number, number, act, 0, 0, 0, [], [], [], new Effect(0, 0, 0, 0, 0, 0), problem);

    /// <summary>All pages of a composition, for a browser that comes new.</summary>
    public static ProofMessage Whole(NumberedComposition c) => c.Message with { Before = 0, Runs = PageRun.Between(null, c.Composed) };

    /// <summary>Names the program that draws: a mended painter draws under other keys, so no browser goes on showing what the
    /// old one drew.</summary>
    private static readonly string Painter = (
        typeof(ComposedPage).Module.ModuleVersionId.ToString("N")[..6]
        + typeof(Formats.Svg.SvgPainter).Module.ModuleVersionId.ToString("N")[..6]
    );

    /// <summary>The address of a page: what it shows, and who draws it.</summary>
    public static string KeyOf(ComposedPage page) => page.Key + "-" + Painter;

    /// <summary>All that a composition came to, and what it changed against the one before.</summary>
    public static ProofMessage Of(NumberedComposition? before, ComposedManual now, int number, long act, Stopwatch clock)
    {
        var was = before?.Composed;
        var runs = PageRun.Between(was, now);
        var kept = Kept(was, now, runs);
        var divisions = now.Divisions.Select((d, i) => kept[i] ? before!.Message.Divisions![i] : Of(d, now)).ToList();
        return new ProofMessage(
            number,
            before is null ? 0 : number - 1,
            act,
            Math.Round(clock.Elapsed.TotalMilliseconds, 1),
            now.Passes,
            now.Pages.Count,
            runs,
            divisions,
            [.. now.LooseEnds.Concat(now.LetBe).Select(l => Of(l, now))],
            EffectOf(was, now, kept, runs),
            null
        )
        {
            Edition = now.Text.Edition.Name,
        };
    }

    /// <summary>As it is told to who has the composition before: without what that said already.</summary>
    public ProofMessage After(ProofMessage? before) =>
        before is null
            ? this
            : this with
            {
                Divisions = Divisions!.SequenceEqual(before.Divisions!, ProofDivision.Alike) ? null : Divisions,
                LooseEnds = LooseEnds!.SequenceEqual(before.LooseEnds!) ? null : LooseEnds,
            };

    /// <summary>For each division whether it is numbered, cut and placed as before, on pages that did not change.</summary>
    private static bool[] Kept(ComposedManual? before, ComposedManual now, List<PageRun> runs)
    {
        var kept = new bool[now.Divisions.Count];
        if (before is null)
            return kept;
        var changed = new bool[now.Pages.Count];
        foreach (var sheet in InsertedSheets(runs))
            changed[sheet] = true;
        for (var i = 0; i < Math.Min(kept.Length, before.Divisions.Count); i++)
        {
            var (was, d) = (before.Divisions[i], now.Divisions[i]);
            kept[i] =
                ReferenceEquals(was.Numbers, d.Numbers)
                && ReferenceEquals(was.Cut, d.Cut)
                && (was.StretchSheet, was.FirstSheet, was.First, was.End) == (d.StretchSheet, d.FirstSheet, d.First, d.End)
                && !changed.AsSpan(d.FirstSheet, d.End - d.First).Contains(true);
        }
        return kept;
    }

    /// <summary>The sheets, in the present composition, of all pages that are others than before.</summary>
    private static IEnumerable<int> InsertedSheets(IEnumerable<PageRun> runs)
    {
        var shift = 0;
        foreach (var run in runs)
        {
            for (var n = 0; n < run.Inserted.Count; n++)
                yield return run.From + shift + n;
            shift += run.Inserted.Count - run.Removed;
        }
    }

    private static ProofDivision Of(DivisionPages d, ComposedManual now) =>
        new(
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
        );

    private static ProofLooseEnd Of(LooseEnd l, ComposedManual now) =>
        new(
            l.Kind.ToString(),
            l.Division.Value,
            l.Block.Value,
            l.Words,
            l.Message,
            (now.FindIn(l.Division, l.Block) ?? now.FindIn(l.Division, l.Division))?.Sheet ?? -1
        )
        {
            Subject = Places.Kept(l.Subject).Value ?? "",
            Aside = l.Aside,
            Instead = l.Instead,
        };

    /// <summary>The references of a division's text, kept while it is not changed.</summary>
    private static readonly System.Runtime.CompilerServices.ConditionalWeakTable<Division, CrossReference[]> References = [];

    public static CrossReference[] ReferencesIn(Division division) => References.GetValue(division, ReferencesOf);

    private static CrossReference[] ReferencesOf(Division division) =>
        division.Blocks.SelectMany(b => b.Inlines()).OfType<CrossReference>().ToArray();

    private static Effect EffectOf(ComposedManual? before, ComposedManual now, bool[] kept, List<PageRun> runs)
    {
        if (before is null)
            return new Effect(0, 0, 0, 0, 0, 0);
        var moved = now
            .Divisions.Where((_, i) => !kept[i])
            .SelectMany(d => d.Numbers.Targets)
            .Count(target =>
                target.Kind is TargetKind.Head or TargetKind.Division
                && before.Find(target.Id) is { } was
                && now.Find(target.Id) is { } at
                && before.Pages[was.Sheet].Folio != now.Pages[at.Sheet].Folio
            );
        var renumbered = 0;
        for (var i = 0; i < now.Text.Divisions.Count; i++)
            foreach (var reference in ReferencesIn(now.Text.Divisions[i]))
                if (
                    !(kept[i] && now.Numbers.Find(reference.Target) is { } target && kept[target.Division])
                    && before.Numbers.Find(reference.Target) is not null
                    && before.Print(reference) != now.Print(reference)
                )
                    renumbered++;
        int text = 0,
            reflowed = 0,
            numbers = 0;
        var gone = runs.SelectMany(r => before.Pages.Skip(r.From).Take(r.Removed)).ToList();
        var bodies = gone.Select(p => p.BodyKey).ToHashSet();
        var keys = gone.Select(p => p.Key).ToHashSet(StringComparer.Ordinal);
        var blocks = gone.Select(p => p.Cut)
            .OfType<Cut>()
            .Distinct()
            .SelectMany(c => c.Galley.Blocks)
            .Select(b => b.ContentHash)
            .ToHashSet();
        foreach (var page in InsertedSheets(runs).Select(sheet => now.Pages[sheet]))
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
