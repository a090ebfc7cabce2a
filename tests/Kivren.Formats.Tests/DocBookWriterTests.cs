using System.Diagnostics;
using System.IO.Compression;
using Kivren.Core.Content;
using Kivren.Formats.DocBook;
using Kivren.Formats.Generator;
using Kivren.Formats.Import;
using Kivren.Formats.Outputs;
using Kivren.Formats.Package;

namespace Kivren.Formats.Tests;

/// <summary>Editions as DocBook: valid by its own schema, and whole when they are brought in again.</summary>
public sealed class DocBookWriterTests : IDisposable
{
    private const string Jing = "/usr/share/java/jing.jar",
        Schema = "/usr/share/xml/docbook/schema/rng/5.0/docbook.rng";

    private readonly string _folder = Directory.CreateTempSubdirectory("kivren-docbook-").FullName;

    public void Dispose() => Directory.Delete(_folder, recursive: true);

    internal static byte[] Made(Package.Package package, Edition edition, OutputKind kind)
    {
        using var file = new MemoryStream();
        OutputMaker.Make(package.Manual, edition, new OutputChoice(kind), package.Picture, OutputMaker.NoMoment, file);
        return file.ToArray();
    }

    internal static byte[] In(byte[] zip, string name)
    {
        using var archive = new ZipArchive(new MemoryStream(zip));
        using var stream = archive.GetEntry(name)!.Open();
        using var copy = new MemoryStream();
        stream.CopyTo(copy);
        return copy.ToArray();
    }

    /// <summary>What stands beside the text in the archive.</summary>
    internal static Dictionary<string, byte[]> Beside(byte[] zip)
    {
        using var archive = new ZipArchive(new MemoryStream(zip));
        return archive.Entries.Where(e => e.FullName.Contains('/')).ToDictionary(e => e.FullName, e => In(zip, e.FullName));
    }

    private void IsValid(IEnumerable<byte[]> zips)
    {
        var files = zips.Select((zip, n) => Path.Combine(_folder, $"{n}.xml") is var path && Put(path, In(zip, "book.xml")) ? path : "")
            .ToList();
        using var process = Process.Start(
            new ProcessStartInfo("java", ["-jar", Jing, Schema, .. files]) { RedirectStandardOutput = true, RedirectStandardError = true }
        )!;
        var errors = process.StandardError.ReadToEndAsync();
        var said = process.StandardOutput.ReadToEnd();
        process.WaitForExit();
        Assert.True(process.ExitCode == 0, string.Join('\n', (said + errors.Result).Split('\n').Take(12)));
    }

    private static bool Put(string path, byte[] bytes)
    {
        File.WriteAllBytes(path, bytes);
        return true;
    }

    [Fact]
    public void Every_edition_of_the_demos_and_of_any_manual_is_valid()
    {
        var zips = new List<byte[]>();
        foreach (var demo in new[] { "tarn6", "cf2" })
        {
            var package = WordWriterTests.Demo(demo);
            foreach (var edition in package.Manual.Editions.DefaultIfEmpty(Edition.Whole))
                zips.Add(Made(package, edition, OutputKind.DocBook));
            Assert.Equal(zips[^1], Made(package, package.Manual.Editions.LastOrDefault() ?? Edition.Whole, OutputKind.DocBook));
        }
        for (var seed = 1; seed <= 8; seed++)
        {
            var package = ManualGenerator.Make(25, seed);
            package = package with { Manual = RandomEdit.Apply(package.Manual, seed, 15) };
            try
            {
                zips.Add(
                    Made(package, seed % 2 == 0 ? Edition.Whole : RandomEdition.Of(package.Manual, new Random(seed)), OutputKind.DocBook)
                );
            }
            catch (OutputException e)
            {
                Assert.Contains("takes nothing", e.Message, StringComparison.Ordinal);
            }
        }
        IsValid(zips);
    }

    [Theory]
    [InlineData("tarn6")]
    [InlineData("cf2")]
    public void Brought_in_again_everything_comes_back(string demo)
    {
        var package = WordWriterTests.Demo(demo);
        var edition = package.Manual.EditionNamed(null).For(Medium.Flowing);
        var text = Core.Selection.Selector.Select(package.Manual, edition);
        // Title pages become what is said of the book.
        bool IsText(Division d) =>
            d.Kind is not (DivisionKind.Index or DivisionKind.TitlePage or DivisionKind.Legal or DivisionKind.HalfTitle);
        var written = package.Manual with { Divisions = [.. text.Divisions.Where(IsText)] };
        var zip = Made(package, edition, OutputKind.DocBook);
        var file = In(zip, "book.xml");
        var shaped = Shaper.Shape(new ShapeRequest([DocBookReader.Read("book.xml", file, Beside(zip))], ImportMapping.None, "s"));
        var again = written with { Divisions = [.. shaped.Divisions.Where(IsText)] };
        Assert.Equal(WordWriterTests.Counts(written), WordWriterTests.Counts(again));
        Assert.Equal(
            written.Divisions.Where(d => d.Kind is DivisionKind.Part or DivisionKind.Chapter).Select(d => (d.Kind, d.Title)),
            again.Divisions.Where(d => d.Kind is DivisionKind.Part or DivisionKind.Chapter).Select(d => (d.Kind, d.Title))
        );
    }
}
