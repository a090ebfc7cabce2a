using System.Text.Json.Nodes;
using Kivren.Core.Composition;
using Kivren.Core.LooseEnds;

namespace Kivren.Cli;

/// <summary>kivren check: the loose ends alone.</summary>
internal static class CheckCommand
{
    public static Report Run(Arguments arguments)
    {
        var lines = new List<string>();
        var package = Inputs.Package(arguments.File(0, "a package to check"), lines);
        var edition = Inputs.Edition(package.Manual, arguments);
        var composed = Composer.Compose(package.Manual, edition, Inputs.Look(package.Manual, edition, arguments.Option("--look")));
        var (told, aside) = (composed.LooseEnds, composed.LetBe.Count);
        foreach (var group in told.GroupBy(l => l.Kind.Sort().Group).OrderBy(g => g.Key))
            lines.AddRange(group.OrderBy(l => l.Kind.Sort().Gravity).Select(l => Line(l, composed)));
        lines.Add(
            (
                told.Count == 0 ? "No loose ends"
                : told.Count == 1 ? "1 loose end"
                : $"{told.Count} loose ends"
            ) + (aside == 0 ? "." : $"; {aside} put aside with a reason.")
        );
        var json = new JsonArray();
        foreach (var l in composed.LooseEnds.Concat(composed.LetBe))
        {
            var sort = l.Kind.Sort();
            json.Add(
                new JsonObject
                {
                    ["kind"] = l.Kind.ToString(),
                    ["name"] = sort.Name,
                    ["group"] = sort.Group.ToString(),
                    ["gravity"] = sort.Gravity.ToString(),
                    ["division"] = l.Division.Value,
                    ["block"] = l.Block.Value,
                    ["words"] = l.Words,
                    ["message"] = l.Message,
                    ["why"] = sort.Why,
                    ["folio"] = FolioOf(l, composed),
                    ["aside"] = l.Aside,
                }
            );
        }
        return new Report(told.Count == 0 && lines.Count == 1, lines, new JsonObject { ["looseEnds"] = json });
    }

    private static string? FolioOf(LooseEnd l, ComposedManual composed) =>
        composed.FindIn(l.Division, l.Block) is { } at ? composed.Pages[at.Sheet].Folio : null;

    public static string Line(LooseEnd l, ComposedManual composed)
    {
        var division = composed.Numbers.Find(l.Division)?.Target.Title ?? l.Division.Value;
        var folio = FolioOf(l, composed);
        return $"{division}{(folio is null ? "" : $", page {folio}")}: "
            + $"{l.Message}{(l.Words.Length > 0 ? $" (“{(l.Words.Length > 60 ? l.Words[..60] + "…" : l.Words)}”)" : "")}";
    }
}
