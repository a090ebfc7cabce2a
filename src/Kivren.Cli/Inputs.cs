using Kivren.Core.Content;
using Kivren.Formats.Package;

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

    public static Edition Edition(Manual manual, string? name)
    {
        if (name is null)
            return manual.EditionNamed(null);
        return manual.Editions.FirstOrDefault(e => e.Name == name)
            ?? throw new UsageException(
                $"There is no edition “{name}”; the manual has "
                    + $"{(manual.Editions.Count == 0 ? "none" : string.Join(", ", manual.Editions.Select(e => e.Name)))}."
            );
    }
}
