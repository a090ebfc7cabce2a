using System.Text.Json.Nodes;
using Kivren.Core.Content;
using Kivren.Formats.Markdown;
using Kivren.Formats.Package;

namespace Kivren.Cli;

/// <summary>kivren import: Markdown into a package, with what was met on the way.</summary>
internal static class ImportCommand
{
    private static readonly string[] PictureEndings = [".png", ".jpg", ".jpeg", ".svg"];

    public static Report Run(Arguments arguments)
    {
        var target = arguments.Required("-o");
        if (arguments.Files.Count == 0) throw new UsageException("Name the files to import.");
        var problems = new List<ReadProblem>();
        Package? whole = null;
        foreach (var file in arguments.Files)
        {
            if (!File.Exists(file)) throw new UsageException($"There is no file {file}.");
            if (Path.GetExtension(file) is not (".md" or ".markdown")) throw new UsageException($"{file}: only Markdown (.md) is read so far.");
            var folder = Path.GetDirectoryName(Path.GetFullPath(file))!;
            var pictures = Directory.EnumerateFiles(folder, "*", new EnumerationOptions { RecurseSubdirectories = true, MaxRecursionDepth = 2 })
                .Where(f => PictureEndings.Contains(Path.GetExtension(f).ToLowerInvariant()))
                .ToDictionary(f => Path.GetRelativePath(folder, f).Replace('\\', '/'), File.ReadAllBytes, StringComparer.Ordinal);
            var read = MarkdownReader.Read(Path.GetFileName(file), File.ReadAllBytes(file), pictures, () => Guid.CreateVersion7().ToString("N"), problems);
            whole = whole is null ? read : Together(whole, read);
        }
        using (var output = File.Create(target)) PackageWriter.Write(whole!, output);
        var lines = whole!.Manual.Divisions.Select(d => $"{d.Kind}: {d.Title} ({d.Blocks.Count} blocks)").Concat(problems.Select(p => $"{p.Where}: {p.What}")).ToList();
        return new Report(true, lines, new JsonObject
        {
            ["divisions"] = whole.Manual.Divisions.Count,
            ["blocks"] = whole.Manual.Divisions.Sum(d => d.Blocks.Sum(b => b.WithInner().Count())),
            ["problems"] = new JsonArray([.. problems.Select(p => (JsonNode)new JsonObject { ["where"] = p.Where, ["what"] = p.What })]),
        });
    }

    /// <summary>Several files become divisions of one manual, in the order given.</summary>
    private static Package Together(Package first, Package next) => new(
        first.Manual with
        {
            Divisions = [.. first.Manual.Divisions, .. next.Manual.Divisions.Where(d => d.Kind is not (DivisionKind.TitlePage or DivisionKind.Contents))],
            Assets = [.. first.Manual.Assets, .. next.Manual.Assets.Where(a => first.Manual.Assets.All(b => b.Name != a.Name))],
        },
        first.Pictures.Concat(next.Pictures.Where(p => !first.Pictures.ContainsKey(p.Key))).ToDictionary(p => p.Key, p => p.Value));
}
