using Kivren.Formats.Import;

namespace Kivren.Formats.Tests;

/// <summary>Documents that nobody here wrote, read from a folder that KIVREN_SAMPLES names; without it the project's own
/// untidy samples are read alone.</summary>
public class RealSampleTests
{
    public static TheoryData<string> Files()
    {
        var files = new TheoryData<string>();
        foreach (var folder in new[] { Path.Combine(Root(), "demo", "import"), Environment.GetEnvironmentVariable("KIVREN_SAMPLES") })
            if (folder is not null && Directory.Exists(folder))
                foreach (
                    var file in Directory
                        .EnumerateFiles(folder, "*", SearchOption.AllDirectories)
                        .Where(f => DocumentReader.IsDocument(f) && !Path.GetFileName(f).StartsWith("README", StringComparison.Ordinal))
                        .Order(StringComparer.Ordinal)
                )
                    files.Add(file);
        return files;
    }

    private static string Root()
    {
        var at = AppContext.BaseDirectory;
        while (!File.Exists(Path.Combine(at, "Kivren.slnx")))
            at = Path.GetDirectoryName(at)!;
        return at;
    }

    [Theory]
    [MemberData(nameof(Files))]
    public void Every_word_of_the_source_is_in_the_manual_or_in_the_report(string path)
    {
        var bytes = File.ReadAllBytes(path);
        var folder = Path.GetDirectoryName(path)!;
        var beside = Directory
            .EnumerateFiles(folder, "*", SearchOption.AllDirectories)
            .Where(f => DocumentReader.IsBeside(f) && f != path)
            .Select(f => new SourceFile(Path.GetRelativePath(folder, f), File.ReadAllBytes(f)))
            .ToArray();
        var document = DocumentReader.Read(new SourceFile(Path.GetFileName(path), bytes), beside);
        var shaped = Shaper.Shape(new ShapeRequest([document], ImportMapping.None, "s"));
        var missing = SourceWords.Missing(path, bytes, shaped);
        Assert.True(missing.Count == 0, $"{missing.Count} words are lost: {string.Join(' ', missing.Take(30))}");
    }
}
