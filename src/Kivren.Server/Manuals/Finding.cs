using Kivren.Core.Composition;
using Kivren.Core.Content;
using Kivren.Core.Finding;
using Kivren.Desk;
using Kivren.Server.Gates;
using Kivren.Store;
using Microsoft.EntityFrameworkCore;

namespace Kivren.Server.Manuals;

/// <summary>What a writer looks for.</summary>
/// <param name="Division">the only one; null for the whole manual</param>
/// <param name="Where">the only places, as <see cref="SoughtPlace.Parse"/> has them; null for all</param>
[GenerateSerializer, Immutable]
public sealed record Looking(string Words, bool WholeWords, bool SameCase, bool Pattern, string? Division, string? Where = null)
{
    public Sought ToSought() => new(Words, WholeWords, SameCase, Pattern, SoughtPlace.Parse(Where));
}

/// <summary>One place with the words.</summary>
/// <param name="Division">empty for the text of a variable, which stands in none</param>
/// <param name="Block">of the division, the division itself for its title, or the variable</param>
/// <param name="Inner">the innermost block, item, row or cell</param>
[GenerateSerializer, Immutable]
public sealed record FoundWords(
    string Division,
    string Block,
    int Version,
    string Inner,
    int Ordinal,
    string In,
    string Before,
    string Match,
    string After,
    string Folio
);

/// <param name="Places">the first of them, in the order of the text</param>
/// <param name="Total">how many there are</param>
/// <param name="Refused">why nothing can be looked for, or null</param>
[GenerateSerializer, Immutable]
public sealed record FoundAll(FoundWords[] Places, int Total, string? Refused)
{
    /// <summary>More places than anybody looks through are counted, not shown.</summary>
    public const int Most = 1_000;

    /// <param name="composed">for the folios; null before the first composition</param>
    public static FoundAll In(DeskState state, ComposedManual? composed, Looking looking)
    {
        if (Search.For(looking.ToSought(), out var why) is not { } search)
            return new FoundAll([], 0, why);
        var found = new List<FoundWords>();
        var total = 0;
        foreach (var division in state.Divisions.Where(d => looking.Division is null || d.Id == looking.Division))
        {
            if (division.Division.Kind != DivisionKind.Passage)
                Add(division.Id, division.Version, search.InTitle(division.Division.Id, division.Division.Title));
            foreach (var block in division.Blocks)
                Add(block.Id, block.Version, search.In(block.Block));
            void Add(string block, int version, IReadOnlyList<FoundPlace> places)
            {
                total += places.Count;
                foreach (var place in places.Take(Most - found.Count))
                    found.Add(
                        new FoundWords(
                            division.Id,
                            block,
                            version,
                            place.Inner.Value,
                            place.Ordinal,
                            place.In.ToString(),
                            place.Before,
                            place.Match,
                            place.After,
                            Folio(composed, place.Inner) ?? Folio(composed, new Id(block)) ?? ""
                        )
                    );
            }
        }
        if (looking.Division is null)
            foreach (var variable in state.Manual.Variables)
            {
                var places = search.InVariable(variable.Text);
                total += places.Count;
                var at = Replacing.Variable(variable.Name);
                foreach (var place in places.Take(Most - found.Count))
                    found.Add(
                        new FoundWords("", at, 0, at, place.Ordinal, place.In.ToString(), place.Before, place.Match, place.After, "")
                    );
            }
        return new FoundAll([.. found], total, null);
    }

    private static string? Folio(ComposedManual? composed, Id id) => composed?.Find(id) is { } at ? composed.Pages[at.Sheet].Folio : null;
}

/// <summary>What one manual has of the words.</summary>
public sealed record FoundManual(string Id, string Title, FoundAll Found);

/// <param name="Unseen">manuals that were not reached</param>
public sealed record FoundInAll(FoundManual[] Manuals, int Unseen, string? Refused);

/// <summary>Places of one block that are to get other words, as they stood at a version.</summary>
[GenerateSerializer, Immutable]
public sealed record ChosenWords(string Block, int Version, int[] Ordinals);

/// <param name="Chosen">null for every place</param>
[GenerateSerializer, Immutable]
public sealed record ReplaceOrder(string Id, string Writer, Looking Looking, string With, ChosenWords[]? Chosen)
{
    public Replacing ToReplacing() =>
        new(
            Looking.ToSought(),
            With,
            Looking.Division,
            Chosen
                ?.GroupBy(c => c.Block)
                .ToDictionary(
                    g => g.Key,
                    g => new ChosenPlaces(g.First().Version, g.SelectMany(c => c.Ordinals).ToHashSet()),
                    StringComparer.Ordinal
                )
        );
}

/// <summary>Finding and replacing over HTTP.</summary>
internal static class FindingEndpoints
{
    private const int LongestWith = 2_000;

    /// <summary>So long all manuals are looked through; what was not reached is told.</summary>
    private static readonly TimeSpan Longest = TimeSpan.FromSeconds(20);

    public static void MapFinding(this IEndpointRouteBuilder app)
    {
        app.MapPost("/api/find", FindInAll);
        var manual = app.MapGroup("/api/manuals/{id}");
        manual.MapPost("/find", async (string id, Looking looking, IGrainFactory grains, HttpContext http) =>
            Problem(looking) is { } why
                ? Refusal.Bad(why)
                : ManualEndpoints.Found(
                    await ManualEndpoints.Of(grains, id).Find(looking).WaitAsync(http.RequestAborted),
                    "There is no such manual."
                )
        );
        manual.MapPost("/replace", async (string id, ReplaceOrder order, IGrainFactory grains) =>
            Problem(order) is { } why ? Refusal.Bad(why) : Answered.Ok(await ManualEndpoints.Of(grains, id).Replace(order))
        );
    }

    /// <summary>Looks through every manual of the shelf, the one worked on last first. Those that are not open are read, not
    /// composed: their places have no folios.</summary>
    private static async Task<Answered<FoundInAll>> FindInAll(
        Looking looking,
        ShelfContext db,
        IGrainFactory grains,
        OpenManuals open,
        TimeProvider clock,
        HttpContext http
    )
    {
        if (Problem(looking) is { } why)
            return Refusal.Bad(why);
        if (Search.For(looking.ToSought(), out var none) is null)
            return new FoundInAll([], 0, none);
        var manuals = await db
            .Manuals.AsNoTracking()
            .Where(m => m.DeletedAt == null)
            .OrderByDescending(m => m.WorkedOn)
            .Select(m => new { m.Id, m.Title })
            .ToListAsync(http.RequestAborted);
        var found = new List<FoundManual>();
        var begun = clock.GetTimestamp();
        var (seen, left) = (0, FoundAll.Most);
        foreach (var manual in manuals)
        {
            if (clock.GetElapsedTime(begun) > Longest || left <= 0)
                break;
            seen++;
            var all =
                open.Has(manual.Id) ? await ManualEndpoints.Of(grains, manual.Id).Find(looking).WaitAsync(http.RequestAborted)
                : await ManualReader.Read(db, manual.Id, http.RequestAborted) is { } state ? FoundAll.In(state, null, looking)
                : null;
            if (all is not { Total: > 0 })
                continue;
            found.Add(new FoundManual(manual.Id, manual.Title, all with { Places = [.. all.Places.Take(left)] }));
            left -= all.Places.Length;
        }
        return Answered.Ok(new FoundInAll([.. found], manuals.Count - seen, null));
    }

    private static string? Problem(Looking? looking) =>
        looking is null
        || !Checks.IsText(looking.Words, Sought.LongestWords)
        || (looking.Division is not null && !Checks.IsId(looking.Division))
            ? $"Say what to look for, in up to {Sought.LongestWords} letters."
        : SoughtPlace.Parse(looking.Where) is null ? "There are no such places to look in."
        : null;

    private static string? Problem(ReplaceOrder order) =>
        !Checks.IsId(order.Id) || !Checks.IsId(order.Writer) ? "An act needs an id and its writer."
        : !Checks.IsText(order.With, LongestWith) || order.With.Any(char.IsControl)
            ? $"Words to put in are one line of up to {LongestWith} letters."
        : order.Chosen?.Any(c => c is null || !Checks.IsText(c.Block, Checks.LongestTitle) || c.Ordinals is null) == true
            ? "A chosen place needs its block."
        : order.Chosen?.Length > FoundAll.Most ? $"Up to {FoundAll.Most} blocks can be chosen one by one."
        : Problem(order.Looking);
}
