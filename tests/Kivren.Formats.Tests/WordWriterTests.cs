using DocumentFormat.OpenXml;
using DocumentFormat.OpenXml.Packaging;
using DocumentFormat.OpenXml.Validation;
using Kivren.Core.Content;
using Kivren.Formats.Docx;
using Kivren.Formats.Generator;
using Kivren.Formats.Import;
using Kivren.Formats.Outputs;
using Kivren.Formats.Package;

namespace Kivren.Formats.Tests;

/// <summary>Editions as word-processing files: sound to the validator of the format, and whole when they are brought in again.</summary>
public class WordWriterTests
{
    private static byte[] Made(Package.Package package, Edition? edition = null)
    {
        using var file = new MemoryStream();
        OutputMaker.Make(
            package.Manual,
            edition ?? Edition.Whole,
            new OutputChoice(OutputKind.WordDocument),
            package.Picture,
            OutputMaker.NoMoment,
            file
        );
        return file.ToArray();
    }

    internal static void IsSound(byte[] file)
    {
        using var document = WordprocessingDocument.Open(new MemoryStream(file), false);
        var found = new OpenXmlValidator(FileFormatVersions.Office2019).Validate(document).Take(12).ToList();
        Assert.True(
            found.Count == 0,
            string.Join(
                '\n',
                found.Select(f =>
                    $"{f.Part?.Uri} {f.Path?.XPath}: {f.Description} {f.Node?.OuterXml[..Math.Min(160, f.Node.OuterXml.Length)]}"
                )
            )
        );
    }

    [Theory]
    [InlineData("tarn6")]
    [InlineData("cf2")]
    public void The_demos_are_sound_in_every_edition(string demo)
    {
        var package = Demo(demo);
        foreach (var edition in package.Manual.Editions.DefaultIfEmpty(Edition.Whole))
        {
            var file = Made(package, edition);
            IsSound(file);
            Assert.Equal(file, Made(package, edition));
        }
    }

    [Theory]
    [InlineData(1)]
    [InlineData(2)]
    [InlineData(3)]
    [InlineData(4)]
    [InlineData(5)]
    [InlineData(6)]
    public void Any_edition_of_any_manual_is_sound(int seed)
    {
        var package = ManualGenerator.Make(25, seed);
        package = package with { Manual = RandomEdit.Apply(package.Manual, seed, 15) };
        try
        {
            IsSound(Made(package, RandomEdition.Of(package.Manual, new Random(seed))));
        }
        catch (OutputException e)
        {
            Assert.Contains("takes nothing", e.Message, StringComparison.Ordinal);
        }
    }

    /// <summary>What of a manual can be counted, and comes back.</summary>
    internal static Dictionary<string, int> Counts(Manual manual)
    {
        var blocks = manual.Divisions.SelectMany(d => d.Blocks).SelectMany(b => b.WithInner()).ToList();
        var inlines = manual.Divisions.SelectMany(d => d.Blocks).SelectMany(b => b.Inlines()).ToList();
        return new Dictionary<string, int>(StringComparer.Ordinal)
        {
            ["tables"] = blocks.OfType<Table>().Count(),
            ["rows"] = blocks.OfType<Table>().Sum(t => t.Rows.Count),
            ["figures"] = blocks.OfType<Figure>().Count(),
            ["steps"] = blocks.OfType<Steps>().Sum(s => s.Items.Count),
            ["definitions"] = blocks.OfType<DefinitionList>().Sum(d => d.Definitions.Count),
            ["admonitions"] = blocks.OfType<Admonition>().Count(),
            ["notes"] = inlines.OfType<Footnote>().Count(),
            ["index entries"] = inlines.OfType<IndexEntry>().Count(e => e.Kind != EntryKind.RangeEnd),
            ["equations"] = blocks.OfType<Equation>().Count() + inlines.OfType<InlineEquation>().Count(),
        };
    }

    [Fact]
    public void Brought_in_again_text_roles_notes_references_and_entries_come_back()
    {
        var package = Demo("tarn6");
        var edition = package.Manual.EditionNamed(null).For(Medium.Paper);
        var text = Core.Selection.Selector.Select(package.Manual, edition);
        var written = package.Manual with { Divisions = [.. text.Divisions.Where(d => d.Kind != DivisionKind.Index)] };
        var shaped = Shaper.Shape(new ShapeRequest([WordReader.Read("again.docx", Made(package, edition))], ImportMapping.None, "s"));
        var again = written with { Divisions = shaped.Divisions };
        Assert.Equal(Counts(written), Counts(again));
        // References stand where they stood and point at what they pointed at, by its words.
        var pointed = again.Divisions.SelectMany(d => d.Blocks).SelectMany(b => b.Inlines()).OfType<CrossReference>().ToList();
        var there = written.Divisions.SelectMany(d => d.Blocks).SelectMany(b => b.Inlines()).OfType<CrossReference>().Count();
        Assert.InRange(pointed.Count, there * 9 / 10, there * 2);
    }

    internal static Package.Package Demo(string name)
    {
        var folder = AppContext.BaseDirectory;
        while (!Directory.Exists(Path.Combine(folder, "demo")))
            folder = Path.GetDirectoryName(folder)!;
        using var file = File.OpenRead(Path.Combine(folder, "demo", name + ".kivren"));
        return PackageReader.Read(file, []);
    }
}
