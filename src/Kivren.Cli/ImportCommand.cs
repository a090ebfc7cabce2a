using System.Text.Json.Nodes;
using Kivren.Core.Content;
using Kivren.Formats.Import;
using Kivren.Formats.Package;

namespace Kivren.Cli;

/// <summary>kivren import: source documents into a package, with the roles given and why, and what was left out.</summary>
internal static class ImportCommand
{
    public static Report Run(Arguments arguments)
    {
        var target = arguments.Required("-o");
        if (arguments.Files.Count == 0)
            throw new UsageException("Name the files to import.");
        var mapping = arguments.Option("--roles") is { } roles ? Inputs.Mapping(roles) : ImportMapping.None;
        var seed = Guid.CreateVersion7().ToString("N");
        var documents = new List<SourceDocument>();
        foreach (var name in arguments.Files)
        {
            if (!File.Exists(name))
                throw new UsageException($"There is no file {name}.");
            var folder = Path.GetDirectoryName(Path.GetFullPath(name))!;
            try
            {
                documents.Add(DocumentReader.Read(new SourceFile(Path.GetFileName(name), File.ReadAllBytes(name)), Beside(folder, name)));
            }
            catch (SourceFormatException e)
            {
                throw new UsageException(e.Message);
            }
        }
        var shaped = Shaper.Shape(new ShapeRequest(documents, mapping, seed));
        var count = 0;
        var manual = shaped.ToManual(() => new Id($"{seed}-m{++count}"), "Workshop, A5");
        using (var output = File.Create(target))
            PackageWriter.Write(new Package(manual, shaped.Pictures), output);
        var lines = shaped
            .Divisions.Select(d => $"{d.Kind}: {d.Title} ({d.Blocks.Count} blocks)")
            .Concat(shaped.Lines.Select(l => $"{l.Count, 6} × {l.Label} → {ImportRole.LabelFor(l.Role)} ({l.Why})"))
            .Concat(
                shaped
                    .Cleaned.Where(c => c.Value > 0)
                    .Select(c => $"{c.Value, 6} × {CleaningWords(c.Key)}{(mapping.Off.Contains(c.Key) ? ", kept" : "")}")
            )
            .Concat(shaped.Report.Select(r => $"{r.Where}: {r.What}{(r.Words.Length > 0 ? $" “{Shortened(r.Words)}”" : "")}"))
            .ToList();
        return new Report(
            true,
            lines,
            new JsonObject
            {
                ["divisions"] = manual.Divisions.Count,
                ["blocks"] = manual.Divisions.Sum(d => d.Blocks.Sum(b => b.WithInner().Count())),
                ["roles"] = new JsonArray([
                    .. shaped.Lines.Select(l =>
                        (JsonNode)
                            new JsonObject
                            {
                                ["key"] = l.Key,
                                ["label"] = l.Label,
                                ["count"] = l.Count,
                                ["role"] = l.Role,
                                ["why"] = l.Why,
                                ["sample"] = l.Sample,
                            }
                    ),
                ]),
                ["cleaned"] = new JsonObject(shaped.Cleaned.Select(c => KeyValuePair.Create(c.Key.ToString(), (JsonNode?)c.Value))),
                ["report"] = new JsonArray([
                    .. shaped.Report.Select(r =>
                        (JsonNode)
                            new JsonObject
                            {
                                ["kind"] = r.Kind.ToString(),
                                ["where"] = r.Where,
                                ["what"] = r.What,
                                ["words"] = r.Words,
                            }
                    ),
                ]),
            }
        );
    }

    /// <summary>Pictures and parts in the document's folder and the folders in it.</summary>
    private static SourceFile[] Beside(string folder, string document) =>
        Directory
            .EnumerateFiles(folder, "*", new EnumerationOptions { RecurseSubdirectories = true, MaxRecursionDepth = 2 })
            .Where(f => DocumentReader.IsBeside(f) && Path.GetFullPath(f) != Path.GetFullPath(document))
            .Select(f => new SourceFile(Path.GetRelativePath(folder, f).Replace('\\', '/'), File.ReadAllBytes(f)))
            .ToArray();

    private static string CleaningWords(Cleaning cleaning) =>
        cleaning switch
        {
            Cleaning.EmptyParagraphs => "empty paragraphs taken out",
            Cleaning.PageBreaks => "page breaks by hand taken out",
            Cleaning.Spaces => "runs of spaces closed up",
            Cleaning.TabTables => "tabs and spaces turned into tables",
            Cleaning.TypedNumbers => "numbers typed before heads taken out",
            Cleaning.GeneratedLists => "contents lists and indexes left to the manual",
            Cleaning.TrackedChanges => "tracked changes accepted",
            _ => "comments kept as notes",
        };

    private static string Shortened(string words) => words.Length <= 60 ? words : words[..57] + " …";
}
