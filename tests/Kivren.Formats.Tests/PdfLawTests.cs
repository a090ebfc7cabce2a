using System.Diagnostics;
using CsCheck;
using Kivren.Core;
using Kivren.Core.Composition;
using Kivren.Core.Content;
using Kivren.Core.Display;
using Kivren.Core.Looks;
using Kivren.Core.Tests;
using Kivren.Formats.Pdf;
using UglyToad.PdfPig;
using UglyToad.PdfPig.Tokens;

namespace Kivren.Formats.Tests;

/// <summary>What holds of every PDF, whatever the manual holds, judged by other people's readers.</summary>
public sealed class PdfLawTests
{
    private static readonly Look[] Looks = [.. ShippedLooks.All];

    private static readonly byte[] Drawing = (
        "<svg xmlns='http://www.w3.org/2000/svg' viewBox='0 0 70 40'><path d='M0 0 L70 40 Z' stroke='#222'/></svg>"u8
    ).ToArray();

    private static (ComposedManual Composed, byte[] Bytes) Write(Manual manual, Look look, PdfKind kind = PdfKind.Screen)
    {
        var composed = Composer.Compose(manual, manual.EditionNamed(null), look);
        using var output = new MemoryStream();
        PdfWriter.Write(
            composed,
            name => name.EndsWith(".svg", StringComparison.Ordinal) ? Drawing : null,
            output,
            options: new PdfOptions(kind)
        );
        return (composed, output.ToArray());
    }

    /// <summary>What the checker says of it; empty when it finds no fault.</summary>
    private static string Faults(byte[] bytes)
    {
        var file = Path.Combine(Path.GetTempPath(), $"kivren-{Guid.NewGuid():N}.pdf");
        File.WriteAllBytes(file, bytes);
        using var process = Process.Start(
            new ProcessStartInfo("qpdf", ["--check", file]) { RedirectStandardOutput = true, RedirectStandardError = true }
        )!;
        var output = process.StandardOutput.ReadToEnd() + process.StandardError.ReadToEnd();
        process.WaitForExit();
        File.Delete(file);
        return process.ExitCode == 0 && !output.Contains("WARNING", StringComparison.Ordinal) ? "" : output;
    }

    [Fact]
    public void Every_glyph_is_in_the_file_once_in_order_and_where_it_was_set()
    {
        Rich.Manuals.Sample(
            seeds =>
            {
                var look = Looks[seeds.Sum(s => s.Blocks.Count) % Looks.Length];
                var (composed, bytes) = Write(Rich.Make(seeds), look);
                Assert.Equal("", Faults(bytes));
                using var pdf = PdfDocument.Open(bytes);
                Assert.Equal(composed.Pages.Count, pdf.NumberOfPages);
                for (var sheet = 0; sheet < composed.Pages.Count; sheet++)
                {
                    var display = DisplayList.Of(composed.Pages[sheet], look);
                    var page = pdf.GetPage(sheet + 1);
                    Assert.Equal(display.Width / 1000.0, page.Width, 3);
                    Assert.Equal(display.Height / 1000.0, page.Height, 3);
                    // Spaces and leaders are added by the painter; what is no wider than nothing the reader tells or not.
                    static bool Shows(string characters, int advance) => characters is not (" " or ".") && advance > 0;
                    var letters = page.Letters.Where(l => Shows(l.Value, (int)(l.Width * 1000))).ToList();
                    var at = 0;
                    foreach (var word in display.Items.OfType<WordItem>())
                    {
                        long x = word.X;
                        for (var g = word.Word.From; g < word.Word.To; g++)
                        {
                            var characters = word.Word.Word.Characters(g, g + 1).ToString();
                            if (Shows(characters, word.Word.Word.Advances[g]))
                            {
                                Assert.True(at < letters.Count, $"page {sheet + 1} ends before {word}");
                                var letter = letters[at++];
                                var dx = word.Word.Word.OffsetsX?[g] ?? 0;
                                Assert.True(
                                    Math.Abs(letter.StartBaseLine.X - (x + word.Word.Style.Scale(dx)) / 1000.0) < .03
                                        && Math.Abs(page.Height - letter.StartBaseLine.Y - word.Y / 1000.0) < .02,
                                    $"page {sheet + 1}, {word}: {letter.Value} stands at {letter.StartBaseLine}, not at {x}, {word.Y}"
                                );
                            }
                            x += word.Word.Style.Scale(word.Word.Word.Advances[g]) + word.Word.Tracking;
                        }
                        if (word.Word.Hyphen)
                            at++;
                    }
                    Assert.Equal(letters.Count, at);
                }
            },
            iter: 60,
            threads: 2
        );
    }

    [Fact]
    public void A_print_files_boxes_stand_within_one_another_and_hold_the_same_page()
    {
        foreach (var look in Looks)
        {
            var (composed, bytes) = Write(
                Rich.Make([new Rich.Division(4, 0, [new(14, 4, 1, []), new(0, 60, 0, [])])]),
                look,
                PdfKind.Print
            );
            Assert.Equal("", Faults(bytes));
            using var pdf = PdfDocument.Open(bytes);
            foreach (var page in pdf.GetPages())
            {
                var dictionary = page.Dictionary;
                double[] Box(string name) => [.. ((ArrayToken)dictionary.Data[name]).Data.Cast<NumericToken>().Select(n => n.Double)];
                double[] trim = Box("TrimBox"),
                    bleed = Box("BleedBox"),
                    media = Box("MediaBox");
                var display = DisplayList.Of(composed.Pages[page.Number - 1], look);
                Assert.Equal([0, 0, display.Width / 1000.0, display.Height / 1000.0], trim);
                Assert.True(bleed[0] <= trim[0] && bleed[1] <= trim[1] && bleed[2] >= trim[2] && bleed[3] >= trim[3]);
                Assert.True(media[0] < bleed[0] && media[1] < bleed[1] && media[2] > bleed[2] && media[3] > bleed[3]);
            }
        }
    }

    private static readonly Gen<string> Nasty = Gen.OneOf(
            Gen.String,
            Gen.OneOf(
                new[]
                {
                    ")",
                    "(",
                    "\\",
                    "\\)",
                    "<</A",
                    ">>",
                    "]",
                    "% remark",
                    "/Name",
                    "#20",
                    "\r\nendobj",
                    "ä€漢",
                    "\ud83d\ude00",
                    "\0",
                    " ",
                }
                    .Select(Gen.Const)
                    .ToArray()
            )
        )
        .Array[1, 4]
        .Select(parts => string.Concat(parts));

    [Fact]
    public void Whatever_names_and_addresses_hold_the_file_stays_whole()
    {
        Gen.Select(Nasty, Nasty, Nasty, Nasty)
            .Sample(
                (title, words, address, id) =>
                {
                    var manual = new Manual(
                        new Id("m"),
                        "T" + title,
                        [
                            new Division(
                                new Id("d"),
                                DivisionKind.Chapter,
                                "Winch",
                                [
                                    new Head(new Id("h"), HeadLevel.A, [new TextRun("A" + words)]),
                                    new Figure(new Id("f"), "a.svg", [new TextRun("Winch")], words),
                                    new Paragraph(
                                        new Id("p"),
                                        "body",
                                        [
                                            new TextRun("See"),
                                            new Footnote(new Id("n" + id), [new TextRun("Note.")]),
                                            new TextRun(" the works", SpanRoles.None, "https://works.example/" + address),
                                        ]
                                    ),
                                ]
                            )
                            {
                                Language = "e" + id,
                            },
                        ]
                    )
                    {
                        Language = "en" + title,
                        Assets = [new Asset("a.svg", "image/svg+xml", 70, 40, "")],
                    };
                    foreach (var kind in Enum.GetValues<PdfKind>())
                    {
                        var (_, bytes) = Write(manual, ShippedLooks.Workshop, kind);
                        Assert.Equal("", Faults(bytes));
                        using var pdf = PdfDocument.Open(bytes);
                        Assert.True(pdf.NumberOfPages > 0);
                        if (kind == PdfKind.Screen && WebAddress.Leads("https://works.example/" + address))
                            Assert.Contains(pdf.GetPages().SelectMany(p => p.GetAnnotations()), a =>
                                a.AnnotationDictionary.ContainsKey(NameToken.Create("A"))
                            );
                    }
                },
                iter: 40,
                threads: 2
            );
    }

    [Theory]
    [InlineData("javascript:alert(1)")]
    [InlineData("JaVaScRiPt:alert(1)")]
    [InlineData(" javascript:alert(1)")]
    [InlineData("java\nscript:alert(1)")]
    [InlineData("vbscript:x")]
    [InlineData("data:text/html,<script>alert(1)</script>")]
    [InlineData("file:///etc/passwd")]
    [InlineData("https://works.example/\u0001")]
    [InlineData("//works.example")]
    public void What_is_no_address_of_a_page_is_printed_as_words_leads_nowhere_and_is_told(string address)
    {
        var manual = Build.Manual(
            Build.Chapter(
                "d",
                "Winch",
                Build.Text("p", new TextRun("See "), new TextRun("the works", SpanRoles.None, address), new TextRun("."))
            )
        );
        var (composed, bytes) = Write(manual, ShippedLooks.Workshop);
        Assert.Contains(composed.LooseEnds, l => l.Message.Contains("is no address", StringComparison.Ordinal));
        Assert.Empty(DisplayList.Of(composed.Pages[0], composed.Look).Links);
        using var pdf = PdfDocument.Open(bytes);
        Assert.Empty(pdf.GetPage(1).GetAnnotations());
        Assert.Contains("the works", pdf.GetPage(1).Text, StringComparison.Ordinal);
        var svg = Svg.SvgPainter.Paint(DisplayList.Of(composed.Pages[0], composed.Look), _ => null);
        Assert.DoesNotContain("href", svg, StringComparison.Ordinal);
    }

    [Fact]
    public void What_a_header_row_shows_again_is_said_once()
    {
        var rows = Enumerable.Range(0, 90).Select(n => new Row(new Id($"r{n}"), [new Cell(new Id($"c{n}"), [new TextRun("red lamp")])]));
        var header = new Row(
            new Id("r"),
            [new Cell(new Id("c"), [new InlineEquation(new Id("e"), "a/b", "a over b"), new InlinePicture(new Id("p"), "a.svg", "a lamp")])]
        );
        var manual = Build.Manual(
            Build.Chapter("d", "Winch", new Table(new Id("t"), 1, [], [new TextRun("Lamps")], [header, .. rows]))
        ) with
        {
            Assets = [new Asset("a.svg", "image/svg+xml", 70, 40, "")],
        };
        var (composed, bytes) = Write(manual, ShippedLooks.Workshop);
        Assert.True(composed.Pages.Count > 2);
        using var pdf = PdfDocument.Open(bytes);
        var said = pdf.GetPages().Select(p => p.GetMarkedContents().Select(m => m.Tag).ToList()).ToList();
        Assert.Contains("Formula", said[0]);
        Assert.Contains("Figure", said[0]);
        Assert.DoesNotContain(said.Skip(1), tags => tags.Contains("Formula") || tags.Contains("Figure"));
    }

    [Fact]
    public void A_picture_whose_pixels_cannot_be_had_leaves_a_frame_and_the_rest_goes_on()
    {
        var png = Convert.FromBase64String(
            "iVBORw0KGgoAAAANSUhEUgAAAAIAAAACCAYAAABytg0kAAAAEklEQVR42mP8z8BQz0AEYBxVSF+FAP5FAv5VH0YIAAAAAElFTkSuQmCC"
        );
        for (var cut = 0; cut < png.Length; cut++)
        {
            var manual = Build.Manual(Build.Chapter("d", "Winch", new Figure(new Id("f"), "b.png", [new TextRun("Pixels")], "x"))) with
            {
                Assets = [new Asset("b.png", "image/png", 2, 2, "")],
            };
            var composed = Composer.Compose(manual, Edition.Whole, ShippedLooks.Workshop);
            using var output = new MemoryStream();
            PdfWriter.Write(composed, _ => png[..cut], output);
            Assert.Equal("", Faults(output.ToArray()));
        }
    }
}
