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
        var composed = Composer.Compose(
            package.Manual,
            Inputs.Edition(package.Manual, arguments.Option("--edition")),
            Inputs.Look(package.Manual, arguments.Option("--look"))
        );
        lines.AddRange(composed.LooseEnds.Select(l => Line(l, composed)));
        lines.Add(composed.LooseEnds.Count == 0 ? "No loose ends." : $"{composed.LooseEnds.Count} loose ends.");
        var json = new JsonArray();
        foreach (var l in composed.LooseEnds)
            json.Add(
                new JsonObject
                {
                    ["kind"] = l.Kind.ToString(),
                    ["division"] = l.Division.Value,
                    ["block"] = l.Block.Value,
                    ["words"] = l.Words,
                    ["message"] = l.Message,
                    ["folio"] = FolioOf(l, composed),
                }
            );
        return new Report(composed.LooseEnds.Count == 0 && lines.Count == 1, lines, new JsonObject { ["looseEnds"] = json });
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
