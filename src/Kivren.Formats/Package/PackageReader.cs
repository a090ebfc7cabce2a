using System.IO.Compression;
using System.Text.Json;
using Kivren.Core.Content;
using Kivren.Core.Looks;
using Kivren.Core.Type;
using Kivren.Formats.Docx.Writing;
using Kivren.Formats.Fonts;
using Kivren.Formats.Pictures;

namespace Kivren.Formats.Package;

/// <summary>What reading met that could not be taken as it was: where, and what became of it.</summary>
public sealed record ReadProblem(string Where, string What);

/// <summary>Reads a .kivren package. What is wrong in one place is told and the rest is read; only a file that is no
/// package at all is refused whole.</summary>
public static class PackageReader
{
    private const long MostBytes = 1L << 30,
        MostEntry = 256L << 20;

    /// <exception cref="PackageFormatException">no package, or none that can be read: what is wrong, and where</exception>
    public static Package Read(Stream input, List<ReadProblem> problems)
    {
        try
        {
            return Sound(ReadZip(input, problems), problems);
        }
        catch (Exception e)
            when (e
                    is InvalidDataException
                        or JsonException
                        or BlockFormatException
                        or InvalidOperationException
                        or EndOfStreamException
                        or NotSupportedException
                        or ArgumentException
                        or OverflowException
                        or IOException
            )
        {
            throw new PackageFormatException($"This package is damaged and cannot be read: {e.Message}");
        }
    }

    /// <summary>Names each thing once: what has the id of another gets one of its own, and it is told.</summary>
    private static Package Sound(Package package, List<ReadProblem> problems)
    {
        var manual = package.Manual;
        var seen = new HashSet<string>(StringComparer.Ordinal);
        var divisions = new List<Division>();
        foreach (var division in manual.Kept())
        {
            Id Own(Id id)
            {
                if (seen.Add(id.Value))
                    return id;
                var n = 2;
                while (!seen.Add($"{id.Value}-{n}"))
                    n++;
                problems.Add(new ReadProblem(division.Title, $"The id {id} stands twice; the second is now {id}-{n}."));
                return new Id($"{id.Value}-{n}");
            }
            var own = Own(division.Id);
            divisions.Add(
                division with
                {
                    Id = own,
                    Blocks = [.. division.Blocks.Select(b => Doubled(b, seen) ? b.Rebuilt(Own, s => s) : Noted(b, seen))],
                }
            );
        }
        if (manual.LookFile is null && !ShippedLooks.All.Any(l => l.Name == manual.Look))
        {
            problems.Add(new ReadProblem("manual.json", $"There is no look “{manual.Look}”; the manual wears {ShippedLooks.All[0].Name}."));
            manual = manual with { Look = ShippedLooks.All[0].Name };
        }
        manual = manual with { Editions = [.. manual.Editions.DistinctBy(e => e.Name).Select(e => InALook(e, problems))] };
        return package with { Manual = manual.WithKept(divisions).WithConditionsInUse() };
    }

    /// <summary>An edition whose own look cannot be worn wears the manual's.</summary>
    private static Edition InALook(Edition edition, List<ReadProblem> problems)
    {
        if (edition.Look is not { } look)
            return edition with { LookFile = null };
        if (edition.LookFile is { } file)
        {
            if (LookFile.Read(file, out var faults) is { } read)
                return edition with { Look = read.Name };
            problems.AddRange(faults.Select(f => new ReadProblem($"edition “{edition.Name}”", f.ToString())));
        }
        else if (ShippedLooks.All.Any(l => l.Name == look))
            return edition;
        else
            problems.Add(new ReadProblem($"edition “{edition.Name}”", $"There is no look “{look}”; it wears that of the manual."));
        return edition with { Look = null, LookFile = null };
    }

    private static IEnumerable<Id> Ids(Block block)
    {
        var ids = new List<Id>();
        block.Rebuilt(
            id =>
            {
                ids.Add(id);
                return id;
            },
            s => s
        );
        return ids;
    }

    private static bool Doubled(Block block, HashSet<string> seen)
    {
        var own = Ids(block).ToList();
        return own.Any(id => seen.Contains(id.Value)) || own.Distinct().Count() != own.Count;
    }

    private static Block Noted(Block block, HashSet<string> seen)
    {
        foreach (var id in Ids(block))
            seen.Add(id.Value);
        return block;
    }

    private static Package ReadZip(Stream input, List<ReadProblem> problems)
    {
        ZipArchive zip;
        try
        {
            zip = new ZipArchive(input, ZipArchiveMode.Read, leaveOpen: true);
        }
        catch (InvalidDataException)
        {
            throw new PackageFormatException("This file is no package: it is not a zip archive, or it is cut short.");
        }
        using (zip)
        {
            long total = 0;
            foreach (var entry in zip.Entries)
            {
                total += entry.Length;
                if (total > MostBytes || entry.Length > MostEntry)
                    throw new PackageFormatException(
                        $"The package unpacks to more than {MostBytes >> 20} MB ({entry.FullName}); it is not read."
                    );
            }
            using var described = Described(zip);
            var root = described.RootElement;
            var schema = BlockReader.Number(root, "schema", 0);
            if (schema is < 1 or > PackageWriter.SchemaVersion)
                throw new PackageFormatException(
                    $"manual.json: schema {schema} is not known; this version reads schema {PackageWriter.SchemaVersion}."
                );
            var divisions = new List<Division>();
            foreach (var path in Strings(root, "divisions"))
            {
                if (Climbs(path))
                {
                    problems.Add(new ReadProblem(path, "The path leads out of the package; the division is left out."));
                    continue;
                }
                try
                {
                    using var file = Json(zip, path);
                    if (file is null)
                        problems.Add(new ReadProblem(path, "The file is missing from the package; the division is left out."));
                    else
                        divisions.Add(ReadDivision(file.RootElement, path, problems));
                }
                catch (Exception e) when (e is JsonException or BlockFormatException or InvalidDataException)
                {
                    problems.Add(new ReadProblem(path, $"The division cannot be read and is left out: {e.Message}"));
                }
            }
            var (assets, pictures) = Pictures(zip, root, problems);
            var aliases = new Dictionary<Id, Id>();
            if (root.TryGetProperty("aliases", out var a) && a.ValueKind == JsonValueKind.Object)
                foreach (var alias in a.EnumerateObject())
                    if (alias.Value.ValueKind == JsonValueKind.String)
                        aliases[new Id(alias.Name)] = new Id(BlockReader.Whole(alias.Value));
            var look = LookIn(zip, problems);
            var manual = new Manual(
                new Id(BlockReader.Text(root, "id") ?? "manual"),
                BlockReader.Text(root, "title") ?? "Untitled",
                divisions
            )
            {
                Language = BlockReader.Text(root, "language") ?? "en-GB",
                Look = look?.Name ?? BlockReader.Text(root, "look") ?? ShippedLooks.Workshop.Name,
                LookFile = look is null ? null : LookFile.Write(look),
                Variables = EditionForm.ReadVariables(root),
                Conditions =
                    root.TryGetProperty("conditions", out var conditions) && conditions.ValueKind == JsonValueKind.Object
                        ? BlockReader.ReadAxes(conditions)
                        : [],
                Editions = root.TryGetProperty("editions", out var editions) ? EditionForm.Read(editions, problems) : [],
                HyphenationExceptions = Strings(root, "hyphenation").ToArray(),
                AcceptedWords = Strings(root, "acceptedWords").ToArray(),
                PassedOver = OwnListForm.Read<PassedOver>(root, "passedOver", problems),
                PutAside = OwnListForm.Read<PutAside>(root, "putAside", problems),
                Lists = OwnListForm.Read<OwnList>(root, "lists", problems),
                ChapterContents = BlockReader.Text(root, "chapterContents") is { Length: > 0 and <= OwnList.LongestName } opens
                    ? opens
                    : null,
                TermsLead = BlockReader.Flag(root, "termsLead", false),
                IndexDress = root.TryGetProperty("indexDress", out var dress)
                    ? OwnListForm.ReadOne<OwnIndexDress>(dress, "indexDress", problems)
                    : null,
                Roles = root.TryGetProperty("roles", out var roles) ? OwnRoleForm.Read(roles) : [],
                Passages = Passages(root, problems),
                Assets = assets,
                Aliases = aliases,
            };
            return new Package(manual, pictures);
        }
    }

    private static JsonDocument Described(ZipArchive zip)
    {
        try
        {
            var described = Json(zip, "manual.json") ?? throw new PackageFormatException("This file is no package: it has no manual.json.");
            return described.RootElement.ValueKind == JsonValueKind.Object
                ? described
                : throw new PackageFormatException("manual.json holds no manual.");
        }
        catch (Exception e) when (e is JsonException or InvalidDataException)
        {
            throw new PackageFormatException($"manual.json cannot be read: {e.Message}");
        }
    }

    /// <summary>The look that the package carries; one with faults is told and left out.</summary>
    private static Look? LookIn(ZipArchive zip, List<ReadProblem> problems)
    {
        // Faces are there before the looks that name them.
        foreach (var font in zip.Entries.Where(e => e.FullName.StartsWith("fonts/", StringComparison.Ordinal)).Take(MostFonts))
            ReadFont(font, problems);
        if (zip.GetEntry(PackageWriter.LookEntry) is not { } entry)
            return null;
        using var reader = new StreamReader(entry.Open());
        var look = LookFile.Read(reader.ReadToEnd(), out var faults);
        problems.AddRange(faults.Select(f => new ReadProblem(PackageWriter.LookEntry, f.ToString())));
        foreach (var missing in look?.FontFiles.Where(f => FaceFiles.Find(f.Hash) is null) ?? [])
            problems.Add(
                new ReadProblem(PackageWriter.LookEntry, $"The font file “{missing.Called}” is not in the package; another face stands in.")
            );
        return look;
    }

    private const int MostFonts = 100;

    private static void ReadFont(ZipArchiveEntry entry, List<ReadProblem> problems)
    {
        if (entry.Length > FontReader.MostBytes)
        {
            problems.Add(new ReadProblem(entry.FullName, "The font file is too large and is left out."));
            return;
        }
        using var stream = entry.Open();
        var bytes = new byte[entry.Length];
        stream.ReadExactly(bytes);
        try
        {
            FontReader.Read(entry.FullName, bytes);
        }
        catch (FontFormatException e)
        {
            problems.Add(new ReadProblem(entry.FullName, e.Message));
        }
    }

    private static JsonDocument? Json(ZipArchive zip, string path)
    {
        if (zip.GetEntry(path) is not { } entry)
            return null;
        using var stream = entry.Open();
        return JsonDocument.Parse(stream, new JsonDocumentOptions { MaxDepth = 128 });
    }

    private static bool Climbs(string path) =>
        path.StartsWith('/') || path.Contains('\\', StringComparison.Ordinal) || path.Split('/').Any(p => p is ".." or "." or "");

    internal static IEnumerable<string> Strings(JsonElement node, string name) =>
        node.ValueKind == JsonValueKind.Object && node.TryGetProperty(name, out var list) && list.ValueKind == JsonValueKind.Array
            ? list.EnumerateArray().Where(v => v.ValueKind == JsonValueKind.String).Select(BlockReader.Whole)
            : [];

    private static Passage[] Passages(JsonElement root, List<ReadProblem> problems)
    {
        try
        {
            return root.TryGetProperty("passages", out var passages) ? PassageForm.Read(passages) : [];
        }
        catch (BlockFormatException e)
        {
            problems.Add(new ReadProblem("manual.json", $"The passages cannot be read and are left out: {e.Message}"));
            return [];
        }
    }

    internal static Division ReadDivision(JsonElement node, string path, List<ReadProblem> problems)
    {
        if (node.ValueKind != JsonValueKind.Object)
            throw new BlockFormatException("It holds no division.");
        var blocks = new List<Block>();
        if (node.TryGetProperty("blocks", out var list) && list.ValueKind == JsonValueKind.Array)
            foreach (var block in list.EnumerateArray())
            {
                try
                {
                    blocks.Add(BlockReader.Read(block));
                }
                catch (BlockFormatException e)
                {
                    var id =
                        block.ValueKind == JsonValueKind.Object
                        && block.TryGetProperty("attrs", out var attrs)
                        && BlockReader.Text(attrs, "id") is { } given
                            ? new Id(given)
                            : new Id($"{Path.GetFileNameWithoutExtension(path)}-unread-{blocks.Count + 1}");
                    problems.Add(new ReadProblem($"{path}, block {blocks.Count + 1}", $"{e.Message} Its words are kept as a paragraph."));
                    blocks.Add(new Paragraph(id, "body", Words(block) is { Length: > 0 } words ? [new TextRun(words)] : []));
                }
            }
        var kind = Enum.TryParse<DivisionKind>(BlockReader.Text(node, "kind"), true, out var k) ? k : DivisionKind.Chapter;
        return new Division(
            new Id(BlockReader.Text(node, "id") ?? throw new BlockFormatException("The division has no id.")),
            kind,
            BlockReader.Text(node, "title") ?? "",
            blocks
        )
        {
            ShortTitle = BlockReader.Text(node, "shortTitle"),
            Language = BlockReader.Text(node, "language") ?? "en-GB",
            State = Enum.TryParse<WorkState>(BlockReader.Text(node, "state"), true, out var state) ? state : WorkState.Draft,
            Begins = Enum.TryParse<Begins>(BlockReader.Text(node, "begins"), true, out var begins) ? begins : Begins.ByLook,
            AppliesTo =
                node.TryGetProperty("appliesTo", out var applies) && applies.ValueKind == JsonValueKind.Object
                    ? new AppliesTo(BlockReader.ReadAxes(applies))
                    : AppliesTo.Always,
        };
    }

    /// <summary>All text inside a node, whatever it is, so that no word is lost with a block that is not known.</summary>
    private static string Words(JsonElement node) =>
        node.ValueKind switch
        {
            JsonValueKind.Object => (BlockReader.Text(node, "text") ?? "")
                + (node.TryGetProperty("content", out var content) ? Words(content) : ""),
            JsonValueKind.Array => string.Concat(node.EnumerateArray().Select(Words)),
            _ => "",
        };

    private static (List<Asset>, Dictionary<string, byte[]>) Pictures(ZipArchive zip, JsonElement root, List<ReadProblem> problems)
    {
        var assets = new List<Asset>();
        var pictures = new Dictionary<string, byte[]>(StringComparer.Ordinal);
        foreach (var name in Strings(root, "pictures"))
        {
            if (Climbs(name))
            {
                problems.Add(new ReadProblem("pictures/" + name, "The path leads out of the package; the picture is left out."));
                continue;
            }
            if (pictures.ContainsKey(name))
            {
                problems.Add(new ReadProblem("pictures/" + name, "The picture is named twice; it is taken once."));
                continue;
            }
            if (zip.GetEntry("pictures/" + name) is not { } entry)
            {
                problems.Add(new ReadProblem("pictures/" + name, "The picture is missing from the package."));
                continue;
            }
            using var stream = entry.Open();
            using var copy = new MemoryStream();
            stream.CopyTo(copy);
            var bytes = WordTemplate.IsTemplate(name) ? copy.ToArray() : PictureReader.Printable(copy.ToArray());
            try
            {
                assets.Add(WordTemplate.IsTemplate(name) ? WordTemplate.Describe(name, bytes) : PictureReader.Describe(name, bytes));
                pictures[name] = bytes;
            }
            catch (Exception e) when (e is PictureFormatException or Import.SourceFormatException)
            {
                problems.Add(new ReadProblem("pictures/" + name, e.Message));
            }
        }
        return (assets, pictures);
    }
}
