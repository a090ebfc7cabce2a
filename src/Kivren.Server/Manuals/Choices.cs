using Kivren.Core.Composition;
using Kivren.Core.Content;
using Kivren.Core.Numbering;

namespace Kivren.Server.Manuals;

/// <summary>Something a cross-reference can point at, with how each form would read.</summary>
[GenerateSerializer, Immutable]
public sealed record TargetChoice(
    string Id,
    string Kind,
    string Name,
    string Number,
    string Title,
    string Folio,
    IReadOnlyList<Reading> Readings
)
{
    public static TargetChoice[] Find(ComposedManual composed, string words)
    {
        var asked = words.Trim();
        return composed
            .Numbers.Divisions.SelectMany(d => d.Targets)
            .Where(t => t.Kind is not (TargetKind.Block or TargetKind.Item) || asked.Length > 2)
            .Select(t => (Target: t, Score: Score(t, asked)))
            .Where(t => t.Score > 0)
            .OrderByDescending(t => t.Score)
            .Take(40)
            .Select(t =>
            {
                var folio = composed.Find(t.Target.Id) is { } at ? composed.Pages[at.Sheet].Folio : "";
                return new TargetChoice(
                    t.Target.Id.Value,
                    t.Target.Kind.ToString(),
                    t.Target.Name,
                    t.Target.Number,
                    t.Target.Title,
                    folio,
                    composed
                        .Look.ReferenceForms.Select(f => new Reading(
                            f.Name,
                            f.Label,
                            Core.References.ReferenceText.Of(
                                new CrossReference(default, t.Target.Id, f.Name),
                                t.Target,
                                composed.Look,
                                composed.Places
                            )
                        ))
                        .ToList()
                );
            })
            .ToArray();
    }

    private static int Score(Target target, string asked)
    {
        if (asked.Length == 0)
            return target.Kind is TargetKind.Division or TargetKind.Head ? 10
                : target.Kind is TargetKind.Figure or TargetKind.Table or TargetKind.Anchor ? 5
                : 0;
        var label = $"{target.Name} {target.Number}".Trim();
        if (label.Equals(asked, StringComparison.OrdinalIgnoreCase) || target.Number.Equals(asked, StringComparison.OrdinalIgnoreCase))
            return 100;
        if (target.Title.StartsWith(asked, StringComparison.OrdinalIgnoreCase))
            return 60 - (int)target.Kind;
        if (label.StartsWith(asked, StringComparison.OrdinalIgnoreCase))
            return 50 - (int)target.Kind;
        return asked
            .Split(' ', StringSplitOptions.RemoveEmptyEntries)
            .All(w => target.Title.Contains(w, StringComparison.OrdinalIgnoreCase) || label.Contains(w, StringComparison.OrdinalIgnoreCase))
            ? 30 - (int)target.Kind
            : 0;
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
