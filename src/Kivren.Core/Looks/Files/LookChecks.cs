using System.Text.RegularExpressions;

namespace Kivren.Core.Looks;

/// <summary>What no single setting tells: settings that are well each by itself and cannot be together.</summary>
internal static partial class LookChecks
{
    /// <summary>Narrower text than this holds no words; lower, no lines. Points.</summary>
    private const int LeastMeasure = 60,
        LeastColumn = 40,
        LeastLines = 4;

    public static IEnumerable<LookFault> Of(Look look)
    {
        if (look.Name.Trim().Length == 0)
            yield return new LookFault("name", "A look has a name.");
        if (look.Heads.Count != 4)
            yield return new LookFault("heads", $"There are four levels of heads, A to D, not {look.Heads.Count}.");
        if (!look.Dresses.Any(r => r.Role == "body" && r.Weight == 0))
            yield return new LookFault("dresses", "The role “body” has a dress wherever it stands; all other roles build on it.");
        else
            foreach (var fault in Room(look))
                yield return fault;
        foreach (var (kind, sequence) in look.Sequences.OrderBy(s => s.Key))
            if (sequence.Columns > 1 && Column(look, sequence.Columns) < LeastColumn)
                yield return new LookFault(
                    $"sequences.{LookPart.InFile(kind.ToString())}.columns",
                    $"{sequence.Columns} columns are each under {LeastColumn} points wide."
                );
        if (look.Index.Columns > 1 && Column(look, look.Index.Columns) < LeastColumn)
            yield return new LookFault("index.columns", $"{look.Index.Columns} columns are each under {LeastColumn} points wide.");
        foreach (var (place, field) in Fields(look.Running))
        foreach (var source in Sources().Matches(field.Pattern).Select(m => m.Groups["source"].Value))
            if (!KnownSources.Contains(source))
                yield return new LookFault(
                    place,
                    $"There is no source {{{source}}}. There are {string.Join(", ", KnownSources.Select(s => $"{{{s}}}"))}."
                );
        foreach (
            var (place, names) in new[]
            {
                ("lists", look.Lists.Select(l => l.Name)),
                ("referenceForms", look.ReferenceForms.Select(f => f.Name)),
            }
        )
        foreach (var twice in names.GroupBy(n => n).Where(g => g.Count() > 1))
            yield return new LookFault(place, $"“{twice.Key}” stands here twice.");
        if (look.ReferenceForms.Count == 0)
            yield return new LookFault("referenceForms", "A look has at least one form of cross-references.");
        if (look.Bullets.Count == 0)
            yield return new LookFault("bullets", "A look has at least one bullet.");
        for (var l = 0; l < look.Lists.Count; l++)
            if (look.Lists[l].Lines.Count == 0)
                yield return new LookFault($"lists[{l}].lines", "A list has at least one level.");
    }

    /// <summary>Whether text fits between the margins, upright and turned.</summary>
    private static IEnumerable<LookFault> Room(Look look)
    {
        var lines = look.Body.Leading.InPoints * LeastLines;
        if (look.Master.Measure.InPoints < LeastMeasure)
            yield return new LookFault(
                "master",
                $"Between the margins {Points(look.Master.Measure)} points are left for a line; it takes {LeastMeasure} at least."
            );
        if (look.Master.Depth.InPoints < lines)
            yield return new LookFault(
                "master",
                $"Between the margins {Points(look.Master.Depth)} points are left for text; {LeastLines} of its lines take {lines:0.##}."
            );
        var turned = look.Master.Turned();
        if (turned.Measure.InPoints < LeastMeasure || turned.Depth.InPoints < lines)
            yield return new LookFault("master", "Turned to landscape its margins leave no room for a table.");
    }

    private static string Points(Length length) => length.InPoints.ToString("0.#", System.Globalization.CultureInfo.InvariantCulture);

    private static double Column(Look look, int columns) => (look.Master.Measure - look.Index.Gutter * (columns - 1)).InPoints / columns;

    private static IEnumerable<(string Place, RunningField Field)> Fields(RunningLines running) =>
        new[] { ("first", running.First), ("verso", running.Verso), ("recto", running.Recto) }.SelectMany(z =>
            z.Item2.Select((f, i) => ($"running.{z.Item1}[{i}].pattern", f))
        );

    private static readonly string[] KnownSources =
    [
        "division",
        "section",
        "head",
        "term",
        "folio",
        "total",
        "manual",
        "designation",
        "variable",
    ];

    [GeneratedRegex(@"\{(?<source>[^}:]*)[^}]*\}")]
    private static partial Regex Sources();
}
