using Kivren.Core.Content;
using Kivren.Core.Looks;
using Kivren.Formats.Fonts;
using Kivren.Formats.Import;
using Kivren.Formats.Package;
using Kivren.Formats.Pdf;

namespace Kivren.Cli;

/// <summary>Opens what commands work on.</summary>
internal static class Inputs
{
    public static Package Package(string path, List<string> lines)
    {
        if (!File.Exists(path))
            throw new UsageException($"There is no file {path}.");
        using var stream = File.OpenRead(path);
        var problems = new List<ReadProblem>();
        var package = PackageReader.Read(stream, problems);
        lines.AddRange(problems.Select(p => $"{p.Where}: {p.What}"));
        return package;
    }

    /// <summary>The printer's own colour profile.</summary>
    public static ColourProfile Profile(string file)
    {
        if (!File.Exists(file))
            throw new UsageException($"There is no file {file}.");
        try
        {
            return ColourProfile.OfPrinter(file, File.ReadAllBytes(file));
        }
        catch (ColourProfileException e)
        {
            throw new UsageException(e.Message);
        }
    }

    /// <summary>A mapping of styles to roles from its file.</summary>
    public static ImportMapping Mapping(string file)
    {
        if (!File.Exists(file))
            throw new UsageException($"There is no file {file}.");
        try
        {
            return ImportMapping.Parse(File.ReadAllText(file));
        }
        catch (SourceFormatException e)
        {
            throw new UsageException($"{file}: {e.Message}");
        }
    }

    /// <summary>The edition that is asked for, for the medium that is asked for or that it is proofed for.</summary>
    public static Edition Edition(Manual manual, Arguments arguments) =>
        Named(manual, arguments.Option("--edition")) is var edition && arguments.Option("--for") is { } medium
            ? edition.For(
                medium switch
                {
                    "paper" => Medium.Paper,
                    "screen" => Medium.Screen,
                    _ => throw new UsageException($"An edition is composed for paper or screen, not for “{medium}”."),
                }
            )
            : edition.Proofed;

    public static Edition Named(Manual manual, string? name) =>
        name is null
            ? manual.EditionNamed(null)
            : manual.Editions.FirstOrDefault(e => e.Name == name)
                ?? throw new UsageException(
                    $"There is no edition “{name}”; the manual has "
                        + $"{(manual.Editions.Count == 0 ? "none" : string.Join(", ", manual.Editions.Select(e => e.Name)))}."
                );

    /// <summary>The look that is asked for, by name or by its file, or the edition's or manual's own; never another in its place.</summary>
    public static Look Look(Manual manual, Edition edition, string? asked) =>
        asked is not null ? (IsFile(asked) ? LookOf(asked) : ShippedLook(asked))
        : edition is { Look: { } own, LookFile: null } ? ShippedLook(own)
        : edition.Look is not null || manual.LookFile is not null ? WornLook.Of(manual, edition)
        : ShippedLook(manual.Look);

    public static bool IsFile(string look) => look.EndsWith(LookFile.Ending, StringComparison.OrdinalIgnoreCase);

    public static Look ShippedLook(string name) =>
        ShippedLooks.All.FirstOrDefault(l => l.Name == name)
        ?? throw new UsageException($"There is no look “{name}”; there are {string.Join("; ", ShippedLooks.All.Select(l => l.Name))}.");

    /// <summary>The text of a look's file, with the font files that it brings taken up.</summary>
    /// <exception cref="UsageException">one of them cannot be used</exception>
    public static string Opened(string path)
    {
        var problems = new List<string>();
        var text = LookParcel.Open(File.ReadAllText(path), problems);
        return problems.Count == 0 ? text : throw new UsageException(string.Join('\n', problems));
    }

    public static Look LookOf(string path)
    {
        if (!File.Exists(path))
            throw new UsageException($"There is no file {path}.");
        return LookFile.Read(Opened(path), out var faults) ?? throw new UsageException($"{path} is not worn:\n{string.Join('\n', faults)}");
    }
}
