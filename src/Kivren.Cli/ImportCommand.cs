using System.IO.Enumeration;
using System.Text.Json.Nodes;
using System.Text.RegularExpressions;
using Kivren.Core.Content;
using Kivren.Core.Editions;
using Kivren.Core.Looks;
using Kivren.Desk;
using Kivren.Formats.Import;
using Kivren.Formats.Import.Sites;
using Kivren.Formats.Package;

namespace Kivren.Cli;

/// <summary>kivren import: source documents into a package, with the roles given and why, and what was left out.</summary>
internal static partial class ImportCommand
{
    public static Report Run(Arguments arguments)
    {
        var target = arguments.Required("-o");
        if (arguments.Files.Count == 0)
            throw new UsageException("Name the files to import, or a folder of them.");
        var mapping = arguments.Option("--roles") is { } roles ? Inputs.Mapping(roles) : ImportMapping.None;
        var language = arguments.Option("--language");
        if (language is not null && !EditionEditing.IsLanguage(language))
            throw new UsageException($"“{language}” is no language: name it as in “en-GB”.");
        if (arguments.Option("--look") is { } worn && ShippedLooks.All.All(l => l.Name != worn))
            throw new UsageException(
                $"There is no look “{worn}”; there are {string.Join(", ", ShippedLooks.All.Select(l => $"“{l.Name}”"))}."
            );
        if (arguments.Option("--newer") is { } standing)
            return NewerVersionInto(standing, target, arguments, mapping, language);
        var seed = Guid.CreateVersion7().ToString("N");
        var unread = new List<string>();
        var documents = Documents(arguments.Files, language, unread);
        SiteTree? tree = null;
        try
        {
            if (arguments.Option("--tree") is { } path)
                tree = TreeFile.Read(path, File.ReadAllText(path), documents);
        }
        catch (SourceFormatException e)
        {
            throw new UsageException(e.Message);
        }
        var shaped = Shaper.Shape(new ShapeRequest(documents, mapping, seed) { Tree = tree });
        var count = 0;
        var manual = shaped.ToManual(() => new Id($"{seed}-m{++count}"), arguments.Option("--look") ?? "Workshop, A5");
        if (language is not null)
            manual = manual with { Language = language };
        if (arguments.Option("--title") is { Length: > 0 } title)
            manual = manual with { Title = title };
        using (var output = File.Create(target))
            PackageWriter.Write(new Package(manual, shaped.Pictures), output);
        var lines = unread
            .Concat(Tree(shaped, documents))
            .Concat(shaped.Divisions.Select(d => $"{d.Kind}: {d.Title} ({d.Blocks.Count} blocks)"))
            .Concat(shaped.Lines.Select(l => $"{l.Count, 6} × {l.Label} → {ImportRole.LabelFor(l.Role)} ({l.Why})"))
            .Concat(
                shaped
                    .Cleaned.Where(c => c.Value > 0)
                    .Select(c => $"{c.Value, 6} × {CleaningWords(c.Key)}{(mapping.Off.Contains(c.Key) ? ", kept" : "")}")
            )
            .Concat(Grouped(shaped.Report))
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

    /// <summary>What a newer version of documents changed, taken into the manual that the earlier ones came into: blocks keep their
    /// identities, and what was written since stays.</summary>
    private static Report NewerVersionInto(string standing, string target, Arguments arguments, ImportMapping mapping, string? language)
    {
        var lines = new List<string>();
        var package = Inputs.Package(standing, lines);
        var was = arguments.Option("--was")
            ?? throw new UsageException("Name with --was the file or folder that was brought in before, so that it can be compared.");
        var blocks = package.Manual.Divisions.SelectMany(d => d.Blocks).Select(b => b.Id.Value).ToHashSet(StringComparer.Ordinal);
        // What the earlier documents became is found again under the seed that its ids begin with.
        var seed = blocks
            .Select(b => IdOfImport().Match(b))
            .Where(m => m.Success)
            .GroupBy(m => m.Groups[1].Value, StringComparer.Ordinal)
            .OrderByDescending(g => g.Count())
            .FirstOrDefault()
            ?.Key;
        var earlier = seed is null ? null : Shaper.Shape(new ShapeRequest(Documents([was], language, []), mapping, seed));
        if (earlier is null || !earlier.Divisions.SelectMany(d => d.Blocks).Any(b => blocks.Contains(b.Id.Value)))
            throw new UsageException($"Nothing in {standing} came from {was}. Name the same files that were brought in, in the same way.");
        var newer = Shaper.Shape(
            new ShapeRequest(Documents(arguments.Files, language, lines), mapping, Guid.CreateVersion7().ToString("N"))
        );
        var names = PictureNames.Of(newer, package.Manual.Assets);
        var there = PictureNames.Of(earlier, package.Manual.Assets);
        var comparison = NewerVersion.Compare([.. there.Divisions.SelectMany(BroughtInBlock.Of)], names.Divisions, package.Manual);
        var manual = comparison.AllTakenInto(package.Manual) with { Assets = [.. package.Manual.Assets, .. names.New] };
        var pictures = new Dictionary<string, byte[]>(package.Pictures, StringComparer.Ordinal);
        foreach (var asset in names.New)
            pictures[asset.Name] = newer.Pictures[names.Names.First(n => n.Value == asset.Name).Key];
        using (var output = File.Create(target))
            PackageWriter.Write(package with { Manual = manual, Pictures = pictures }, output);
        string Words(Difference d) => Shortened(string.Join(' ', (d.Becomes ?? d.Before)!.OwnSpans().Select(s => s.PlainText())));
        return new Report(
            true,
            [
                .. lines,
                $"{comparison.Differences.Count} differences taken.",
                .. comparison.Differences.Select(d =>
                    d.Kind switch
                    {
                        DifferenceKind.Added => $"added: {Words(d)}",
                        DifferenceKind.TakenOut => $"taken out{(d.EditedHere ? ", changed here since" : "")}: {Words(d)}",
                        _ => $"changed{(d.EditedHere ? ", together with what was changed here" : "")}: {Words(d)}",
                    }
                ),
            ],
            new JsonObject
            {
                ["added"] = comparison.Differences.Count(d => d.Kind == DifferenceKind.Added),
                ["changed"] = comparison.Differences.Count(d => d.Kind == DifferenceKind.Changed),
                ["takenOut"] = comparison.Differences.Count(d => d.Kind == DifferenceKind.TakenOut),
                ["editedHere"] = comparison.Differences.Count(d => d.EditedHere),
            }
        );
    }

    /// <summary>The seed, the file's number and the place that the id of a block is made of.</summary>
    [GeneratedRegex(@"^(.{8,64})-\d+-\d+(-\d+)?$")]
    private static partial Regex IdOfImport();

    /// <summary>The documents named, and those of folders named, by their paths from where all of them lie.</summary>
    /// <param name="unread">told what of a folder could not be read; a file that was named must be readable</param>
    private static IReadOnlyList<SourceDocument> Documents(IReadOnlyList<string> named, string? language, List<string> unread)
    {
        var paths = new List<string>();
        foreach (var name in named)
            if (Directory.Exists(name))
                paths.AddRange(
                    FilesIn(name).Where(f => DocumentReader.IsDocument(f)).Select(Path.GetFullPath).Order(StringComparer.Ordinal)
                );
            else if (File.Exists(name))
                paths.Add(Path.GetFullPath(name));
            else
                throw new UsageException($"There is no file {name}.");
        if (paths.Count == 0)
            throw new UsageException("No file in the folder is of a kind that is read.");
        var root = Path.GetDirectoryName(paths[0])!;
        while (paths.Any(p => !p.StartsWith(root.TrimEnd('/') + "/", StringComparison.Ordinal)))
            root = Path.GetDirectoryName(root)!;
        string Named(string path) => Path.GetRelativePath(root, path).Replace('\\', '/');
        var beside = FilesIn(root).Where(DocumentReader.IsBeside).SelectMany(f => Beside(f, Named(f))).ToList();
        paths = [.. paths.Distinct()];
        var read = new (SourceDocument? Document, string Fault)[paths.Count];
        Parallel.For(0, read.Length, i =>
        {
            var name = Named(paths[i]);
            try
            {
                read[i].Document = DocumentReader.Read(
                    new SourceFile(name, File.ReadAllBytes(paths[i])),
                    [.. beside.Where(b => b.Name != name)]
                );
            }
            catch (Exception e) when (e is SourceFormatException or IOException or UnauthorizedAccessException)
            {
                read[i].Fault = e.Message;
            }
        });
        var documents = new List<SourceDocument>();
        foreach (var (path, (document, fault)) in paths.Zip(read))
            if (document is not null)
                documents.Add(language is null ? document : document with { Language = language });
            else if (named.Any(n => Path.GetFullPath(n) == path))
                throw new UsageException(fault);
            else
                unread.Add(fault);
        if (documents.Count == 0)
            throw new UsageException(string.Join("\n", unread));
        return DocumentReader.Together(documents);
    }

    /// <summary>A picture or part, where it can be read: what names one that cannot tells so itself. A link may lead to nothing.</summary>
    private static IEnumerable<SourceFile> Beside(string path, string name)
    {
        try
        {
            return [new SourceFile(name, File.ReadAllBytes(path))];
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException)
        {
            return [];
        }
    }

    private static readonly EnumerationOptions Deep = new() { RecurseSubdirectories = true, MaxRecursionDepth = 6 };

    /// <summary>The files of a folder. A link to another folder is not followed: what it names would come in twice, or without
    /// end.</summary>
    private static FileSystemEnumerable<string> FilesIn(string folder) =>
        new(folder, (ref FileSystemEntry entry) => entry.ToSpecifiedFullPath(), Deep)
        {
            ShouldIncludePredicate = (ref FileSystemEntry entry) => !entry.IsDirectory,
            ShouldRecursePredicate = (ref FileSystemEntry entry) => (entry.Attributes & FileAttributes.ReparsePoint) == 0,
        };

    private static IEnumerable<string> Tree(Shaped shaped, IReadOnlyList<SourceDocument> documents) =>
        shaped.Tree is not { } tree
            ? []
            :
            [
                $"One book, read from {tree.From}; put these lines into a file, change them, and name it with --tree:",
                .. TreeFile.Write(tree, documents).TrimEnd('\n').Split('\n').Select(l => "  " + l),
            ];

    /// <summary>What was found, grave things first; many of one kind are one line with the first few of their places.</summary>
    private static IEnumerable<string> Grouped(IReadOnlyList<ReportLine> report)
    {
        const int shown = 3;
        foreach (var group in report.GroupBy(r => (r.Kind, r.What)).OrderBy(g => Gravity(g.Key.Kind)))
        {
            var all = group.ToList();
            if (all.Count <= shown)
                foreach (var line in all)
                    yield return $"{line.Where}: {line.What}{(line.Words.Length > 0 ? $" “{Shortened(line.Words)}”" : "")}";
            else
                yield return $"{all.Count} places: {group.Key.What} "
                    + string.Join("; ", all.Take(shown).Select(l => l.Where + (l.Words.Length > 0 ? $" “{Shortened(l.Words)}”" : "")))
                    + "; …";
        }
    }

    private static int Gravity(ReportKind kind) =>
        kind switch
        {
            ReportKind.Look => 0,
            ReportKind.LeftOut => 1,
            ReportKind.Changed => 2,
            _ => 3,
        };

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
            Cleaning.Furniture => "bars and lines that recur on pages left out",
            _ => "comments kept as notes",
        };

    private static string Shortened(string words) => words.Length <= 60 ? words : words[..57] + " …";
}
