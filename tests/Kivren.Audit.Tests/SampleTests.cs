using Kivren.Core.Composition;
using Kivren.Core.Content;
using Kivren.Core.Looks;
using Kivren.Formats.Import;
using Kivren.Formats.Pdf;

namespace Kivren.Audit.Tests;

/// <summary>Documents that nobody here wrote, in every look: judged from the finished file, each word of the manual is on paper
/// exactly once and no check fails. Read from a folder that KIVREN_SAMPLES names, each folder of pages being one manual; without
/// it the project's own untidy samples and manuals in nine languages are taken alone.</summary>
public sealed class SampleTests
{
    public static TheoryData<string, string> Sets()
    {
        var sets = new TheoryData<string, string>();
        foreach (
            var root in new[]
            {
                Path.Combine(Root(), "demo", "import"),
                Path.Combine(Root(), "demo", "languages"),
                Environment.GetEnvironmentVariable("KIVREN_SAMPLES"),
            }
        )
        {
            if (root is null || !Directory.Exists(root))
                continue;
            foreach (
                var set in Directory
                    .EnumerateFiles(root, "*", SearchOption.AllDirectories)
                    .Where(f => DocumentReader.IsDocument(f) && !Path.GetFileName(f).StartsWith("README", StringComparison.Ordinal))
                    .GroupBy(Key, StringComparer.Ordinal)
                    .Select(g => g.Key)
                    .Order(StringComparer.Ordinal)
            )
            foreach (var look in ShippedLooks.All)
                sets.Add(set, look.Name);
        }
        return sets;
    }

    /// <summary>Pages of HTML and parts of DocBook belong together.</summary>
    private static string Key(string file) => Path.GetExtension(file) is ".html" or ".docbook" ? Path.GetDirectoryName(file)! : file;

    private static string Root()
    {
        var at = AppContext.BaseDirectory;
        while (!File.Exists(Path.Combine(at, "Kivren.slnx")))
            at = Path.GetDirectoryName(at)!;
        return at;
    }

    private static Manual Read(string set, out Dictionary<string, byte[]> pictures)
    {
        var files = Directory.Exists(set)
            ? Directory.EnumerateFiles(set).Where(DocumentReader.IsDocument).Order(StringComparer.Ordinal).ToArray()
            : [set];
        // Of a manual in parts the one that names the others is read.
        if (files.Length > 1 && files.FirstOrDefault(f => Path.GetFileName(f) == "index.docbook") is { } whole)
            files = [whole];
        var folder = Path.GetDirectoryName(files[0])!;
        var beside = Directory
            .EnumerateFiles(folder, "*", SearchOption.AllDirectories)
            .Where(DocumentReader.IsBeside)
            .Select(f => new SourceFile(Path.GetRelativePath(folder, f), File.ReadAllBytes(f)))
            .ToArray();
        var documents = files
            .Select(f =>
                DocumentReader.Read(
                    new SourceFile(Path.GetFileName(f), File.ReadAllBytes(f)),
                    beside.Where(b => b.Name != Path.GetFileName(f)).ToArray()
                )
            )
            .ToArray();
        var shaped = Shaper.Shape(new ShapeRequest(documents, ImportMapping.None, "s"));
        pictures = new(shaped.Pictures);
        var count = 0;
        return shaped.ToManual(() => new Id($"m{++count}"), ShippedLooks.All[0].Name);
    }

    [Theory]
    [MemberData(nameof(Sets))]
    public void Every_word_is_on_paper_once_and_no_check_raises_a_false_alarm(string set, string look)
    {
        var manual = Read(set, out var pictures);
        var composed = Composer.Compose(manual, manual.EditionNamed(null), ShippedLooks.Named(look));
        var file = Path.GetTempFileName();
        try
        {
            using (var output = File.Create(file))
                PdfWriter.Write(composed, pictures.GetValueOrDefault, output);
            var report = Auditor.Audit(file, manual, manual.EditionNamed(null), LookFile.Write(ShippedLooks.Named(look)));
            var failed = report
                .Checks.Where(c => c.Failures.Count > 0)
                .Select(c => $"{c.Check}: {c.Failures.Count} of {c.Tried}\n  " + string.Join("\n  ", c.Failures.Take(4)))
                .ToList();
            Assert.True(failed.Count == 0, $"{Path.GetFileName(set)} in {look}:\n{string.Join('\n', failed)}");
        }
        finally
        {
            File.Delete(file);
        }
    }
}
