using System.IO.Compression;
using System.Text;
using Kivren.Core.Composition;
using Kivren.Core.Content;
using Kivren.Core.Looks;
using Kivren.Formats.Generator;
using Kivren.Formats.Outputs;
using Kivren.Formats.Package;

namespace Kivren.Audit.Tests;

/// <summary>Word-processing files of editions, judged from outside; and with faults planted, which are found.</summary>
public sealed class WordAuditTests
{
    private static byte[] Made(Package package, Edition edition)
    {
        using var file = new MemoryStream();
        OutputMaker.Make(package.Manual, edition, new OutputChoice(OutputKind.WordDocument), package.Picture, OutputMaker.NoMoment, file);
        return file.ToArray();
    }

    private static AuditReport Judged(byte[] file, Manual manual, Edition edition) =>
        WordAudit.Audit(new MemoryStream(file), manual, edition, LookFile.Write(WornLook.Of(manual, edition)));

    private static string Faults(AuditReport report) => string.Join('\n', report.Checks.SelectMany(c => c.Failures.Take(5)));

    [Theory]
    [InlineData("tarn6")]
    [InlineData("cf2")]
    public void Every_edition_of_the_demos_is_whole_and_in_order(string demo)
    {
        var package = ListAndIndexTests.Demo(demo);
        foreach (var edition in package.Manual.Editions.DefaultIfEmpty(Edition.Whole))
        {
            var report = Judged(Made(package, edition), package.Manual, edition);
            Assert.True(report.Right, $"{edition.Name}\n{Faults(report)}");
        }
    }

    [Theory]
    [InlineData(1)]
    [InlineData(2)]
    [InlineData(3)]
    [InlineData(4)]
    [InlineData(5)]
    [InlineData(6)]
    public void Any_edition_of_any_manual_is_whole_and_in_order(int seed)
    {
        var package = ManualGenerator.Make(30, seed);
        package = package with { Manual = RandomEdit.Apply(package.Manual, seed, 10) };
        var edition = RandomEdition.Of(package.Manual, new Random(seed));
        if (Composer.Compose(package.Manual, edition.For(Medium.Paper), WornLook.Of(package.Manual, edition)).Pages.Count == 0)
            return;
        var report = Judged(Made(package, edition), package.Manual, edition);
        Assert.True(report.Right, Faults(report));
    }

    // ---- faults that are planted are found ----

    private static readonly Package Tarn = ListAndIndexTests.Demo("tarn6");
    private static readonly Edition Planted = Tarn.Manual.EditionNamed(null);
    private static readonly byte[] Sound = Made(Tarn, Planted);

    [Theory]
    [InlineData("once and in order", "word/document.xml", "Shake the guard rail", "Take the guard rail")]
    [InlineData("once and in order", "word/document.xml", "<w:body>", "<w:body><w:p/>", "moved")]
    [InlineData("fields and links", "word/document.xml", " REF ", " REF gone")]
    [InlineData("notes", "word/footnotes.xml", "fresh water", "salt water")]
    [InlineData("tables", "word/document.xml", "<w:tblHeader />", "")]
    [InlineData("pictures", "word/document.xml", "descr=\"", "descr=\"Another ")]
    public void A_fault_that_is_planted_is_found(string check, string part, string from, string to, string how = "")
    {
        using var file = new MemoryStream();
        file.Write(Sound);
        using (var zip = new ZipArchive(file, ZipArchiveMode.Update, leaveOpen: true))
        {
            var entry = zip.GetEntry(part)!;
            string text;
            using (var reader = new StreamReader(entry.Open()))
                text = reader.ReadToEnd();
            var changed = how == "moved" ? LastFirst(text) : text.Replace(from, to, StringComparison.Ordinal);
            Assert.NotEqual(text, changed);
            using var stream = entry.Open();
            stream.SetLength(0);
            stream.Write(Encoding.UTF8.GetBytes(changed));
        }
        var report = Judged(file.ToArray(), Tarn.Manual, Planted);
        Assert.Contains(report.Checks, c => c.Check.Contains(check, StringComparison.Ordinal) && c.Failures.Count > 0);
    }

    /// <summary>The paragraph that stands in the middle of the text, at its beginning.</summary>
    private static string LastFirst(string text)
    {
        var from = text.IndexOf("<w:p>", text.Length / 2, StringComparison.Ordinal);
        var end = text.IndexOf("</w:p>", from, StringComparison.Ordinal) + "</w:p>".Length;
        var moved = text[from..end];
        var without = text.Remove(from, moved.Length);
        return without.Insert(without.IndexOf("<w:body>", StringComparison.Ordinal) + "<w:body>".Length, moved);
    }

    [Fact]
    public void What_is_left_out_and_stands_there_all_the_same_is_found()
    {
        var less = Planted with { LeavesOut = [Tarn.Manual.Divisions.First(d => d.Title == "Hull").Id] };
        var report = Judged(Sound, Tarn.Manual, less);
        Assert.Contains(report.Checks, c => c.Check == "what is left out" && c.Failures.Count > 0);
    }
}
