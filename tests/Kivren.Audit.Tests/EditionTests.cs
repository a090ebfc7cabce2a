using System.IO.Compression;
using System.Text;
using Kivren.Core.Composition;
using Kivren.Core.Content;
using Kivren.Core.Looks;
using Kivren.Formats.Generator;
using Kivren.Formats.Outputs;
using Kivren.Formats.Package;

namespace Kivren.Audit.Tests;

/// <summary>Outputs of editions, judged from outside: of the demos, of generated manuals in editions from a seed, and with faults
/// planted, which are found.</summary>
public sealed class EditionTests
{
    private static readonly Package Tarn = ListAndIndexTests.Demo("tarn6");

    private static byte[] Made(Package package, Edition edition, OutputChoice choice)
    {
        using var file = new MemoryStream();
        OutputMaker.Make(package.Manual, edition, choice, package.Picture, OutputMaker.NoMoment, file);
        return file.ToArray();
    }

    private static AuditReport Judged(byte[] file, Manual manual, Edition edition)
    {
        var look = LookFile.Write(WornLook.Of(manual, edition));
        using var stream = new MemoryStream(file);
        return FlowingAudit.Audit(stream, manual, edition, look);
    }

    private static string Faults(AuditReport report) => string.Join('\n', report.Checks.SelectMany(c => c.Failures.Take(5)));

    [Theory]
    [InlineData("tarn6", OutputKind.Epub, SplitAt.Division)]
    [InlineData("tarn6", OutputKind.Epub, SplitAt.HeadB)]
    [InlineData("tarn6", OutputKind.Site, SplitAt.HeadA)]
    [InlineData("tarn6", OutputKind.Site, SplitAt.Nowhere)]
    [InlineData("cf2", OutputKind.Epub, SplitAt.Division)]
    [InlineData("cf2", OutputKind.Site, SplitAt.Division)]
    public void Every_edition_of_the_demos_is_whole_and_leads_where_it_says(string demo, OutputKind kind, SplitAt splits)
    {
        var package = ListAndIndexTests.Demo(demo);
        foreach (var edition in package.Manual.Editions.DefaultIfEmpty(Edition.Whole))
        {
            var file = Made(package, edition, new OutputChoice(kind) { Splits = splits });
            var report = Judged(file, package.Manual, edition);
            Assert.True(report.Right, Faults(report));
            Assert.Equal(file, Made(package, edition, new OutputChoice(kind) { Splits = splits }));
        }
    }

    [Theory]
    [InlineData(1)]
    [InlineData(2)]
    [InlineData(3)]
    [InlineData(4)]
    [InlineData(5)]
    [InlineData(6)]
    [InlineData(7)]
    [InlineData(8)]
    [InlineData(9)]
    [InlineData(10)]
    public void An_edition_of_any_choice_is_right_in_every_output(int seed)
    {
        var random = new Random(seed);
        var package = seed % 2 == 0 ? Tarn : ManualGenerator.Make(40, seed);
        package = package with { Manual = RandomEdit.Apply(package.Manual, seed, 10) };
        var edition = RandomEdition.Of(package.Manual, random);
        if (Composer.Compose(package.Manual, edition.For(Medium.Flowing), WornLook.Of(package.Manual, edition)).Pages.Count == 0)
        {
            Assert.Throws<OutputException>(() => Made(package, edition, new OutputChoice(OutputKind.Epub)));
            return;
        }
        foreach (var kind in new[] { OutputKind.Epub, OutputKind.Site })
        {
            var report = Judged(
                Made(package, edition, new OutputChoice(kind) { Splits = (SplitAt)random.Next(4) }),
                package.Manual,
                edition
            );
            Assert.True(report.Right, $"{kind}: {Faults(report)}");
        }
        var path = Path.GetTempFileName();
        try
        {
            File.WriteAllBytes(path, Made(package, edition, new OutputChoice(OutputKind.ScreenPdf)));
            var look = WornLook.Of(package.Manual, edition).For(Medium.Screen);
            var report = Auditor.Audit(path, package.Manual, edition.For(Medium.Screen), LookFile.Write(look));
            Assert.True(report.Right, Faults(report));
        }
        finally
        {
            File.Delete(path);
        }
    }

    // ---- faults that are planted are found ----

    private static readonly Edition Planted = Tarn.Manual.EditionNamed(null);

    private static readonly byte[] Sound = Made(Tarn, Planted, new OutputChoice(OutputKind.Site));

    /// <summary>The site with the text of its pages changed.</summary>
    private static byte[] With(Func<string, string, string> change)
    {
        using var file = new MemoryStream();
        file.Write(Sound);
        using (var zip = new ZipArchive(file, ZipArchiveMode.Update, leaveOpen: true))
            foreach (var entry in zip.Entries.Where(e => e.FullName.EndsWith(".html", StringComparison.Ordinal)).ToList())
            {
                string text;
                using (var reader = new StreamReader(entry.Open()))
                    text = reader.ReadToEnd();
                if (change(entry.FullName, text) is var changed && changed != text)
                {
                    using var stream = entry.Open();
                    stream.SetLength(0);
                    stream.Write(Encoding.UTF8.GetBytes(changed));
                }
            }
        return file.ToArray();
    }

    private static void IsFound(string check, Func<string, string, string> change)
    {
        var report = Judged(With(change), Tarn.Manual, Planted);
        Assert.Contains(report.Checks, c => c.Check.Contains(check, StringComparison.Ordinal) && c.Failures.Count > 0);
    }

    private static string Once(string text, string from, string to)
    {
        var at = text.IndexOf(from, StringComparison.Ordinal);
        return at < 0 ? text : text[..at] + to + text[(at + from.Length)..];
    }

    [Fact]
    public void A_word_that_is_not_there_is_found() =>
        IsFound("once and in order", (_, text) => Once(text, "The winch turns the work of an arm", "The winch turns the arm"));

    [Fact]
    public void Two_blocks_in_the_wrong_order_are_found() => IsFound("once and in order", (name, text) =>
        {
            var from = text.IndexOf("<p id=\"", StringComparison.Ordinal);
            var to = from < 0 ? -1 : text.IndexOf("</p>", from, StringComparison.Ordinal) + 4;
            return name.Contains("winch", StringComparison.Ordinal)
                ? Once(text[..from] + text[to..], "</section>", text[from..to] + "</section>")
                : text;
        });

    [Fact]
    public void A_link_to_nowhere_is_found() => IsFound("links", (_, text) => Once(text, "href=\"#k-", "href=\"#gone-"));

    [Fact]
    public void What_is_fetched_from_elsewhere_is_found() =>
        IsFound("links", (_, text) => Once(text, "src=\"site.js\"", "src=\"https://example.org/site.js\""));

    [Fact]
    public void A_reference_with_a_page_is_found() =>
        IsFound("without pages", (_, text) => Once(text, ">Figure\u00A09-1</a>", ">Figure\u00A09-1 on page 66</a>"));

    [Fact]
    public void What_is_left_out_and_there_is_found()
    {
        var left = Tarn.Manual.Divisions.Last(d => d.Kind == DivisionKind.Chapter);
        var report = Judged(Sound, Tarn.Manual, Planted with { LeavesOut = [left.Id] });
        Assert.Contains(report.Checks, c => c.Check == "what is left out" && c.Failures.Count > 0);
    }

    /// <summary>The words that a manual prints by itself are judged in its language.</summary>
    [Theory]
    [InlineData("de", "Workshop, A5")]
    [InlineData("fr", "Workshop, A5")]
    [InlineData("ru", "Workshop, A5")]
    [InlineData("de", "Code, A4")]
    [InlineData("el", "Bench, A4 two columns")]
    public void A_manual_in_another_language_is_right(string language, string look)
    {
        var manual = Tarn.Manual with
        {
            Language = language,
            Look = look,
            Divisions = [.. Tarn.Manual.Divisions.Select(d => d with { Language = language })],
        };
        var file = Path.GetTempFileName();
        try
        {
            var edition = manual.Editions[0].Proofed;
            var worn = ShippedLooks.Named(look);
            using (var output = File.Create(file))
                Formats.Pdf.PdfWriter.Write(Composer.Compose(manual, edition, worn), Tarn.Pictures.GetValueOrDefault, output);
            var report = Auditor.Audit(file, manual, edition, LookFile.Write(worn));
            Assert.True(report.Right, Faults(report));
        }
        finally
        {
            File.Delete(file);
        }
    }
}
