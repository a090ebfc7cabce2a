using System.Text.Json.Nodes;
using Kivren.Core.Content;
using Kivren.Formats.Generator;
using Kivren.Formats.Package;

namespace Kivren.Cli;

/// <summary>kivren generate: a manual of any length, or a package after random edits.</summary>
internal static class GenerateCommand
{
    public static Report Run(Arguments arguments)
    {
        var target = arguments.Required("-o");
        var seed = arguments.Number("--seed", 1);
        var lines = new List<string>();
        var package = arguments.Option("--of") is { } of
            ? Edited(Inputs.Package(of, lines), seed, arguments.Number("--edits", 50))
            : ManualGenerator.Make(
                arguments.Number("--pages", 100),
                seed,
                arguments.Number("--chapter-pages", 30),
                arguments.Number("--pointing", 1)
            );
        if (target.EndsWith(".docx", StringComparison.OrdinalIgnoreCase))
            File.WriteAllBytes(target, WordFile.From(package).ToBytes());
        else
            using (var file = File.Create(target))
                PackageWriter.Write(package, file);
        var blocks = package.Manual.Divisions.SelectMany(d => d.Blocks).ToList();
        var inlines = blocks.SelectMany(b => b.Inlines()).ToList();
        var counts = new JsonObject
        {
            ["divisions"] = package.Manual.Divisions.Count,
            ["blocks"] = blocks.Count,
            ["words"] = inlines.OfType<TextRun>().Sum(t => t.Text.Split(' ', StringSplitOptions.RemoveEmptyEntries).Length),
            ["references"] = inlines.OfType<CrossReference>().Count(),
            ["indexEntries"] = inlines.OfType<IndexEntry>().Count(),
            ["notes"] = inlines.OfType<Footnote>().Count(),
        };
        return new Report(true, [.. lines, string.Join(", ", counts.Select(c => $"{c.Value} {c.Key}"))], counts);
    }

    private static Package Edited(Package package, int seed, int edits) =>
        package with
        {
            Manual = RandomEdit.Apply(package.Manual, seed, edits),
        };
}
