using Kivren.Core.Composition;
using Kivren.Core.Content;
using Kivren.Core.Numbering;

namespace Kivren.Server.Manuals;

/// <summary>What a cross-reference is to point at, as it is asked for.</summary>
/// <param name="Pointed">id of a target that comes first whatever the words, for a reference that points there; "" for none</param>
/// <param name="Near">the division of the reference: without words its own figures and heads come before all others; "" for none</param>
/// <param name="Recent">targets that were chosen lately: without words they come first</param>
[GenerateSerializer, Immutable]
public sealed record SoughtTarget(string Words, string Pointed, string Near, string[] Recent)
{
    public const int MostRecent = 8;
}

/// <summary>Something a cross-reference can point at, with how each form would read.</summary>
/// <param name="Division">in which it stands</param>
/// <param name="Pointed">what was asked for is pointed at already</param>
[GenerateSerializer, Immutable]
public sealed record TargetChoice(
    string Id,
    string Division,
    bool Pointed,
    string Kind,
    string Name,
    string Number,
    string Title,
    string Folio,
    IReadOnlyList<Reading> Readings
)
{
    /// <summary>For one in another manual: what a reference to it keeps.</summary>
    [Id(0)]
    public PlaceThere? Other { get; init; }

    private const int Most = 40;

    /// <summary>What fits the words best: the very label or title first, then what begins with them, then what holds them; text of the
    /// manual itself only behind all that has a name.</summary>
    public static TargetChoice[] Find(ComposedManual composed, SoughtTarget sought)
    {
        var (asked, pointed) = (sought.Words.Trim(), sought.Pointed);
        var recent = sought.Recent.Select((id, at) => (Id: composed.Numbers.Resolve(new Id(id)), at)).ToLookup(r => r.Id, r => r.at);
        int Likely(Id division, Target target) =>
            asked.Length > 0 ? Fit(target, asked)
            : recent.Contains(target.Id) ? 1_000 - recent[target.Id].First()
            : Fit(target, asked) is > 0 and var fit && division.Value == sought.Near ? fit + 10
            : Fit(target, asked);
        var all = composed.Numbers.Divisions.SelectMany(d => d.Targets.Select(t => (Division: d.Division.Id, Target: t)));
        var first = pointed.Length == 0 ? default : composed.Numbers.Resolve(new Id(pointed));
        return all.Select(t =>
                (t.Division, t.Target, Fit: pointed.Length > 0 && t.Target.Id == first ? int.MaxValue : Likely(t.Division, t.Target))
            )
            .Where(t => t.Fit > 0)
            .OrderByDescending(t => t.Fit)
            .ThenBy(t => t.Target.Kind)
            .Take(Most)
            .Select(t => Of(composed, t.Division, t.Target, t.Fit == int.MaxValue))
            .ToArray();
    }

    private static TargetChoice Of(ComposedManual composed, Id division, Target target, bool pointed)
    {
        var readings = composed.Look.ReferenceForms.Select(f => new Reading(
            f.Name,
            f.Label,
            Core.References.ReferenceText.Of(new CrossReference(default, target.Id, f.Name), target, composed.Look, composed.Places)
        ));
        // A paragraph or an item has no name but its own words: it is not printed whole unless that is asked for.
        if (IsText(target))
            readings = readings.OrderBy(r => target.Title.Length > 0 && r.Text.Contains(target.Title, StringComparison.Ordinal));
        return new TargetChoice(
            target.Id.Value,
            division.Value,
            pointed,
            target.Kind == TargetKind.Block ? "Text" : target.Kind.ToString(),
            target.Name,
            target.Number,
            target.Title,
            FolioOf(composed, target),
            [.. readings]
        );
    }

    /// <summary>What is said of these places, by their ids.</summary>
    public static Dictionary<string, PlaceThere> Places(ComposedManual composed, string manual, IEnumerable<string> targets)
    {
        var places = new Dictionary<string, PlaceThere>(StringComparer.Ordinal);
        foreach (var id in targets)
            if (composed.Numbers.Find(new Id(id)) is { Target: var target })
                places[id] = new PlaceThere(
                    manual,
                    composed.Text.Manual.Title,
                    target.Name,
                    target.Number,
                    target.Title,
                    FolioOf(composed, target)
                );
        return places;
    }

    private static string FolioOf(ComposedManual composed, Target target) =>
        composed.Find(target.Id) is { } at ? composed.Pages[at.Sheet].Folio : "";

    private static bool IsText(Target target) => target.Kind is TargetKind.Block or TargetKind.Item or TargetKind.Step or TargetKind.Note;

    /// <returns>0 for what does not fit; more for what fits better</returns>
    private static int Fit(Target target, string asked)
    {
        if (asked.Length == 0)
            return target.Kind switch
            {
                TargetKind.Division or TargetKind.Head => 2,
                TargetKind.Figure or TargetKind.Table or TargetKind.Anchor => 1,
                _ => 0,
            };
        // Two letters stand in every paragraph.
        if (target.Kind is TargetKind.Block or TargetKind.Item && asked.Length < 3)
            return 0;
        var label = $"{target.Name} {target.Number}".Trim();
        bool Is(string text) => text.Equals(asked, StringComparison.OrdinalIgnoreCase);
        bool Begins(string text) => text.StartsWith(asked, StringComparison.OrdinalIgnoreCase);
        bool Holds(string word) =>
            target.Title.Contains(word, StringComparison.OrdinalIgnoreCase) || label.Contains(word, StringComparison.OrdinalIgnoreCase);
        var fit =
            Is(label) || Is(target.Number) || Is(target.Title) ? 5
            : Begins(target.Title) ? 4
            : Begins(label) ? 3
            : Holds(asked) ? 2
            : asked.Split(' ', StringSplitOptions.RemoveEmptyEntries).All(Holds) ? 1
            : 0;
        return fit > 0 && !IsText(target) ? fit + 5 : fit;
    }
}

[GenerateSerializer, Immutable]
public sealed record Reading(string Form, string Label, string Text);

/// <summary>A heading of the index as it stands, with its locators.</summary>
[GenerateSerializer, Immutable]
public sealed record HeadingChoice(IReadOnlyList<string> Headings, string Locators)
{
    public static HeadingChoice[] Find(ComposedManual composed, string words)
    {
        var found = new List<HeadingChoice>();
        void Add(Core.Indexing.IndexHeading heading, List<string> path)
        {
            var own = path.Append(heading.Text).ToList();
            if (words.Length == 0 || own.Any(h => h.Contains(words, StringComparison.OrdinalIgnoreCase)))
                found.Add(
                    new HeadingChoice(
                        own,
                        string.Join(
                            ", ",
                            heading
                                .Places.Select(p => composed.FindIn(p.Division, p.Start))
                                .Where(p => p is not null)
                                .Select(p => composed.Pages[p!.Value.Sheet].Folio)
                                .Distinct()
                        )
                    )
                );
            foreach (var under in heading.Under)
                Add(under, own);
        }
        foreach (var heading in composed.Index.Headings)
            Add(heading, []);
        return found.OrderByDescending(h => h.Headings[^1].StartsWith(words, StringComparison.OrdinalIgnoreCase)).Take(40).ToArray();
    }
}
