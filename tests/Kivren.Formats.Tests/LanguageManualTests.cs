using System.Diagnostics;
using System.Text;
using System.Xml.Linq;
using Kivren.Core.Composition;
using Kivren.Core.Content;
using Kivren.Core.Looks;
using Kivren.Formats.Docx.Writing;
using Kivren.Formats.Import;
using Kivren.Formats.Markdown;
using Kivren.Formats.Pdf;

namespace Kivren.Formats.Tests;

/// <summary>The small manuals in nine languages: read, composed, and read back by another program.</summary>
public class LanguageManualTests
{
    private static string Folder()
    {
        var at = AppContext.BaseDirectory;
        while (!File.Exists(Path.Combine(at, "Kivren.slnx")))
            at = Path.GetDirectoryName(at)!;
        return Path.Combine(at, "demo", "languages");
    }

    public static TheoryData<string> Languages =>
        [.. Directory.GetFiles(Folder(), "*.md").Select(f => Path.GetFileNameWithoutExtension(f)).Order(StringComparer.Ordinal)];

    private static ComposedManual Compose(string language)
    {
        var n = 0;
        var file = language + ".md";
        var read = MarkdownReader.Read(file, File.ReadAllBytes(Path.Combine(Folder(), file)), new Dictionary<string, byte[]>());
        var manual = Shaper.Shape(new ShapeRequest([read], ImportMapping.None, "s")).ToManual(() => new Id("m" + ++n), "Workshop, A5");
        return Composer.Compose(manual, manual.EditionNamed(null), ShippedLooks.Workshop);
    }

    [Theory]
    [MemberData(nameof(Languages))]
    public void A_manual_comes_in_with_its_language_its_admonitions_and_its_captions(string language)
    {
        var composed = Compose(language);
        Assert.Equal(language, composed.Text.Manual.Language);
        Assert.Empty(composed.LooseEnds);
        var blocks = composed.Text.Manual.Divisions.SelectMany(d => d.Blocks).ToList();
        Assert.NotEmpty(blocks.OfType<Admonition>());
        Assert.All(blocks.OfType<Table>(), t => Assert.NotEmpty(t.Caption));
        Assert.InRange(composed.Pages.Count, 9, 16);
    }

    [Theory]
    [MemberData(nameof(Languages))]
    public void A_word_processing_file_is_read_from_the_side_of_its_language(string language)
    {
        var composed = Compose(language);
        using var file = new MemoryStream();
        WordWriter.Write(composed, _ => null, file);
        WordWriterTests.IsSound(file.ToArray());
        using var zip = new System.IO.Compression.ZipArchive(file);
        using var text = zip.GetEntry("word/document.xml")!.Open();
        var document = XDocument.Load(text);
        XNamespace w = "http://schemas.openxmlformats.org/wordprocessingml/2006/main";
        var fromRight = language is "ar" or "he";
        bool Has(XElement element, string properties, string name) => element.Element(w + properties)?.Element(w + name) is not null;
        Assert.All(document.Descendants(w + "p").Where(p => p.Elements(w + "r").Any()), p =>
            Assert.Equal(fromRight, Has(p, "pPr", "bidi"))
        );
        Assert.All(document.Descendants(w + "tbl"), t => Assert.Equal(fromRight, Has(t, "tblPr", "bidiVisual")));
        Assert.All(document.Descendants(w + "sectPr"), s => Assert.Equal(fromRight, s.Element(w + "bidi") is not null));
        foreach (var run in document.Descendants(w + "r"))
        {
            var words = string.Concat(run.Elements(w + "t").Select(t => t.Value));
            if (words.Any(char.IsLetter))
                Assert.Equal(words.Any(c => c is >= '\u0590' and < '\u0800'), Has(run, "rPr", "rtl"));
        }
        using var styles = zip.GetEntry("word/styles.xml")!.Open();
        var sheet = XDocument.Load(styles);
        var emphasis = sheet.Descendants(w + "style").Single(s => s.Attribute(w + "styleId")!.Value == "Emphasis").Element(w + "rPr")!;
        Assert.Equal(
            language is "ja" ? "dot"
                : language is "zh-Hans" ? "underDot"
                : null,
            emphasis.Element(w + "em")?.Attribute(w + "val")!.Value
        );
        Assert.Equal(language is not ("ja" or "zh-Hans"), emphasis.Element(w + "i") is not null);
        var fonts = sheet.Descendants(w + "docDefaults").Descendants(w + "rFonts").Single();
        Assert.Equal(fromRight, fonts.Attribute(w + "cs")!.Value != fonts.Attribute(w + "ascii")!.Value);
        Assert.Equal(language is "ja" or "zh-Hans", fonts.Attribute(w + "eastAsia") is not null);
    }

    [Theory]
    [MemberData(nameof(Languages))]
    public void Another_program_reads_the_words_back_from_the_pages(string language)
    {
        var composed = Compose(language);
        var file = Path.GetTempFileName();
        try
        {
            using (var pdf = File.Create(file))
                PdfWriter.Write(composed, _ => null, pdf);
            var start = new ProcessStartInfo("pdftotext", [file, "-"])
            {
                RedirectStandardOutput = true,
                StandardOutputEncoding = Encoding.UTF8,
            };
            using var process = Process.Start(start)!;
            var printed = Bare(process.StandardOutput.ReadToEnd());
            process.WaitForExit();
            Assert.Equal(0, process.ExitCode);
            var words = composed
                .Text.Manual.Divisions.SelectMany(d => d.Blocks)
                .OfType<Paragraph>()
                .SelectMany(p => p.Content)
                .OfType<TextRun>()
                .SelectMany(r => r.Text.Split(' ', StringSplitOptions.RemoveEmptyEntries))
                .Select(Bare)
                .Where(w => w.Length > 1)
                .Distinct()
                .ToList();
            Assert.True(words.Count > 5);
            var lost = words.Where(w => !printed.Contains(w, StringComparison.Ordinal)).ToList();
            // A word that is divided over a page or a note's number stands apart from its other half.
            Assert.True(lost.Count <= words.Count / 50, $"{lost.Count} of {words.Count}: {string.Join(" ", lost.Take(20))}");
        }
        finally
        {
            File.Delete(file);
        }
    }

    /// <summary>Letters alone: lines, hyphens and signs are the page's, and in which order the marks of a letter come is the other
    /// program's.</summary>
    private static string Bare(string text) => string.Concat(text.Normalize(NormalizationForm.FormKC).Where(char.IsLetterOrDigit));
}
