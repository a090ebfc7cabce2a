using System.Diagnostics;
using Kivren.Core;
using Kivren.Core.Composition;
using Kivren.Core.Content;
using Kivren.Core.Display;
using Kivren.Core.Looks;
using Kivren.Formats.Generator;
using Kivren.Formats.Pdf;
using Kivren.Formats.Svg;
using UglyToad.PdfPig;

namespace Kivren.Formats.Tests;

public sealed class PdfTests : IDisposable
{
    private readonly string _file = Path.Combine(Path.GetTempPath(), $"kivren-{Guid.NewGuid():N}.pdf");

    public void Dispose() => File.Delete(_file);

    private (ComposedManual Composed, byte[] Bytes) Write(Package.Package package)
    {
        var composed = Composer.Compose(package.Manual, Edition.Whole, ShippedLooks.Workshop);
        using var output = new MemoryStream();
        PdfWriter.Write(composed, package.Picture, output);
        File.WriteAllBytes(_file, output.ToArray());
        return (composed, output.ToArray());
    }

    private static (int Code, string Output) Run(string program, params string[] arguments)
    {
        using var process = Process.Start(
            new ProcessStartInfo(program, arguments) { RedirectStandardOutput = true, RedirectStandardError = true }
        )!;
        var output = process.StandardOutput.ReadToEnd() + process.StandardError.ReadToEnd();
        process.WaitForExit();
        return (process.ExitCode, output);
    }

    private static Package.Package One(params Block[] blocks) =>
        new(
            new Manual(new Id("m"), "One & only", [new Division(new Id("d"), DivisionKind.Chapter, "Winch", blocks)]),
            new Dictionary<string, byte[]>()
        );

    [Fact]
    public void Other_peoples_checker_finds_no_fault()
    {
        Write(ManualGenerator.Make(30, 3));
        var (code, output) = Run("qpdf", "--check", _file);
        Assert.True(code == 0, output);
        Assert.DoesNotContain("WARNING", output, StringComparison.OrdinalIgnoreCase);
        var (_, painted) = Run("pdftoppm", "-r", "20", "-l", "6", "-png", _file, _file + "-p");
        foreach (var png in Directory.GetFiles(Path.GetTempPath(), Path.GetFileName(_file) + "-p*"))
            File.Delete(png);
        Assert.Equal("", painted);
    }

    [Fact]
    public void The_same_composition_gives_the_same_bytes()
    {
        Assert.Equal(Write(ManualGenerator.Make(25, 2)).Bytes, Write(ManualGenerator.Make(25, 2)).Bytes);
    }

    [Fact]
    public void A_reader_finds_every_word_as_wide_and_where_it_was_set()
    {
        var words =
            "The first efficient officer in the field office finds difficult configurations of maintenance and measurement "
            + "satisfactorily reconfigured. ";
        var (composed, bytes) = Write(One(new Paragraph(new Id("p"), "body", [new TextRun(string.Concat(Enumerable.Repeat(words, 9)))])));
        using var pdf = PdfDocument.Open(bytes);
        var page = pdf.GetPage(1);
        var set = DisplayList.Of(composed.Pages[0], composed.Look).Items.OfType<WordItem>().Where(w => w.Block.Value == "p").ToList();
        Assert.Contains(set, w => w.Word.Tracking > 0);
        Assert.Contains(set, w => w.Word.Tracking < 0);
        foreach (var word in set)
        {
            var line = page.Letters.Where(l => Math.Abs(page.Height - l.StartBaseLine.Y - word.Y / 1000.0) < .01).ToList();
            Assert.Contains(line, l => Math.Abs(l.StartBaseLine.X - word.X / 1000.0) < .02);
            Assert.Contains(line, l => Math.Abs(l.EndBaseLine.X - (word.X + word.Word.Width - word.Word.Tracking) / 1000.0) < .03);
        }
    }

    [Fact]
    public void Hyphenated_words_and_ligatures_read_as_the_writers_text()
    {
        var words =
            "The first efficient officer in the field office finds difficult configurations of maintenance and measurement "
            + "satisfactorily reconfigured notwithstanding characteristically uncomfortable refurbishment circumstances. ";
        Write(One(new Paragraph(new Id("p"), "body", [new TextRun(string.Concat(Enumerable.Repeat(words, 6)))])));
        var (_, text) = Run("pdftotext", "-raw", _file, "-");
        // Readers take the soft hyphen of a divided word for what it is.
        var read = string.Join(
            ' ',
            text.Replace("\u00AD\n", "", StringComparison.Ordinal)
                .Replace("\u00AD ", "", StringComparison.Ordinal)
                .Replace("\u00AD", "", StringComparison.Ordinal)
                .Split((char[]?)null, StringSplitOptions.RemoveEmptyEntries)
        );
        Assert.Contains(string.Concat(Enumerable.Repeat(words, 6)).Trim(), read, StringComparison.Ordinal);
    }

    [Fact]
    public void The_pdf_has_outline_labels_title_language_and_links()
    {
        var (composed, _) = Write(ManualGenerator.Make(40, 1));
        using var document = PdfDocument.Open(_file);
        Assert.Equal(composed.Pages.Count, document.NumberOfPages);
        Assert.Equal("Generated Ferry Manual", document.Information.Title);
        Assert.True(document.TryGetBookmarks(out var bookmarks));
        Assert.Equal(
            composed.Numbers.Divisions.Sum(d => d.Targets.Count(t => t.Kind == Core.Numbering.TargetKind.Head && t.Level == HeadLevel.A))
                + composed.Numbers.Divisions.Count
                - 2,
            bookmarks.GetNodes().Count()
        );
        Assert.True(document.Structure.Catalog.CatalogDictionary.ContainsKey(UglyToad.PdfPig.Tokens.NameToken.Create("PageLabels")));
        Assert.True(document.GetPage(3).GetAnnotations().Count() > 10);
    }

    [Fact]
    public void Letters_stand_where_the_composition_put_them()
    {
        var (composed, _) = Write(ManualGenerator.Make(12, 4));
        using var document = PdfDocument.Open(_file);
        foreach (var sheet in new[] { composed.Divisions[4].FirstSheet, composed.Divisions[4].FirstSheet + 1 })
        {
            var words = DisplayList.Of(composed.Pages[sheet], composed.Look).Items.OfType<WordItem>().ToList();
            var letters = document.GetPage(sheet + 1).Letters.Where(l => l.Value.Trim().Length > 0).ToList();
            var height = composed.Look.Master.Height.InPoints;
            foreach (var word in words.Where(w => w.Word.Word.Text.Length > 3 && !w.Word.Hyphen))
                Assert.True(
                    letters.Any(l =>
                        Math.Abs(l.StartBaseLine.X - word.X / 1000.0) < 0.05
                        && Math.Abs(height - l.StartBaseLine.Y - word.Y / 1000.0) < 0.05
                    ),
                    $"page {sheet + 1}: {word}"
                );
        }
    }

    [Fact]
    public void Pictures_of_all_kinds_are_embedded_and_a_missing_one_leaves_a_frame()
    {
        var png = Convert.FromBase64String(
            "iVBORw0KGgoAAAANSUhEUgAAAAIAAAACCAYAAABytg0kAAAAEklEQVR42mP8z8BQz0AEYBxVSF+FAP5FAv5VH0YIAAAAAElFTkSuQmCC"
        );
        var svg = (
            "<svg xmlns='http://www.w3.org/2000/svg' viewBox='0 0 100 50'><g transform='translate(5 5) rotate(10)'><rect "u8
            + "width='40' height='20' rx='3' fill='#eee' stroke='#111'/><path d='M0 0 A 10 10 0 0 1 20 20 Q 30 0 40 20 Z'/></g>"u8
            + "<text x='50' y='25' text-anchor='middle' font-weight='600'>drum</text></svg>"u8
        ).ToArray();
        var assets = new[] { Pictures.PictureReader.Describe("a.svg", svg), Pictures.PictureReader.Describe("b.png", png) };
        var package = One(
            new Figure(new Id("f1"), "a.svg", [new TextRun("Vector")], "x"),
            new Figure(new Id("f2"), "b.png", [new TextRun("Pixels")], "x"),
            new Figure(new Id("f3"), "gone.png", [new TextRun("Gone")], "x")
        );
        package = package with
        {
            Manual = package.Manual with { Assets = assets },
            Pictures = new Dictionary<string, byte[]> { ["a.svg"] = svg, ["b.png"] = png },
        };
        var (composed, _) = Write(package);
        Assert.Contains(composed.LooseEnds, l => l.Kind == Core.LooseEnds.LooseEndKind.PictureMissing);
        Assert.Equal(0, Run("qpdf", "--check", _file).Code);
        Assert.Contains("drum", Run("pdftotext", _file, "-").Output, StringComparison.Ordinal);
    }

    [Fact]
    public void The_proof_paints_the_same_words_at_the_same_places_as_the_composition()
    {
        var package = ManualGenerator.Make(12, 5);
        var composed = Composer.Compose(package.Manual, Edition.Whole, ShippedLooks.Workshop);
        var display = DisplayList.Of(composed.Pages[composed.Divisions[4].FirstSheet], composed.Look);
        var svg = System.Xml.Linq.XDocument.Parse(SvgPainter.Paint(display, _ => null));
        var words = svg.Descendants().Where(e => e.Name.LocalName == "tspan").Select(e => (X: e.Attribute("x")!.Value, e.Value)).ToList();
        Assert.Equal(
            display
                .Items.OfType<WordItem>()
                .Select(w =>
                    (
                        (w.X / 1000m).ToString("0.###", System.Globalization.CultureInfo.InvariantCulture),
                        w.Word.Word.Characters(w.Word.From, w.Word.To).ToString() + (w.Word.Hyphen ? "-" : "")
                    )
                ),
            words
        );
    }

    private (int Code, string Output) Structure(params Block[] blocks)
    {
        Write(One(blocks));
        return Run("pdfinfo", "-struct-text", _file);
    }

    [Fact]
    public void The_structure_says_what_each_part_is()
    {
        var (_, said) = Structure(
            new Head(new Id("h"), HeadLevel.A, [new TextRun("Lamps")]),
            new ItemList(
                new Id("l"),
                ListKind.Decimal,
                1,
                [new Item(new Id("i"), [new Paragraph(new Id("ip"), "body", [new TextRun("First lamp")])])]
            ),
            new Table(
                new Id("t"),
                1,
                [],
                [new TextRun("Signals")],
                [
                    new Row(new Id("r1"), [new Cell(new Id("c1"), [new TextRun("Lamp")])]),
                    new Row(new Id("r2"), [new Cell(new Id("c2"), [new TextRun("red")])]),
                ]
            ),
            new Paragraph(
                new Id("p"),
                "body",
                [
                    new TextRun("It burns"),
                    new Footnote(new Id("n"), [new TextRun("At night.")]),
                    new TextRun(" and see "),
                    new CrossReference(new Id("x"), new Id("h"), "number"),
                    new TextRun(", by "),
                    new InlineEquation(new Id("e"), "a/b", "a over b"),
                    new TextRun("."),
                ]
            )
        );
        foreach (
            var type in new[] { "H1", "H2", "L ", "LI", "Lbl", "LBody", "Table", "TR", "TH", "TD", "Caption", "Note", "Link", "Formula" }
        )
            Assert.Contains(type.TrimEnd(), said, StringComparison.Ordinal);
        Assert.Matches("TH[\\s\\S]{0,160}?\"Lamp", said);
        Assert.Matches("Note[\\s\\S]{0,160}?At night", said);
    }

    [Fact]
    public void Heads_never_skip_a_level()
    {
        var (_, said) = Structure(
            new Head(new Id("h"), HeadLevel.D, [new TextRun("Deep")]),
            new Paragraph(new Id("p"), "body", [new TextRun("x")])
        );
        Assert.Contains("H2", said, StringComparison.Ordinal);
        Assert.DoesNotContain("H5", said, StringComparison.Ordinal);
    }

    [Fact]
    public void A_paragraph_over_two_pages_is_one_element()
    {
        var words = string.Join(' ', Enumerable.Repeat("The band brake holds the drum when the crank is let go.", 60));
        var (_, said) = Structure(new Paragraph(new Id("p"), "body", [new TextRun(words)]));
        Assert.Single(
            System.Text.RegularExpressions.Regex.Matches(said, @"^\s+P\b", System.Text.RegularExpressions.RegexOptions.Multiline)
        );
    }

    [Fact]
    public void Links_say_where_they_lead_and_belong_to_the_structure()
    {
        Write(
            One(
                new Head(new Id("h"), HeadLevel.A, [new TextRun("Lamps")]),
                new Paragraph(
                    new Id("p"),
                    "body",
                    [
                        new TextRun("See "),
                        new CrossReference(new Id("x"), new Id("h"), "title"),
                        new TextRun(" or "),
                        new TextRun("the works", SpanRoles.None, "https://works.example/"),
                        new TextRun("."),
                    ]
                )
            )
        );
        using var document = PdfDocument.Open(_file);
        var links = document.GetPage(1).GetAnnotations().ToList();
        Assert.Equal(2, links.Count);
        Assert.All(links, l => Assert.False(string.IsNullOrEmpty(l.Content)));
        Assert.All(links, l => Assert.True(l.AnnotationDictionary.ContainsKey(UglyToad.PdfPig.Tokens.NameToken.Create("StructParent"))));
    }

    private string Inflated(Package.Package package, PdfOptions options)
    {
        var composed = Composer.Compose(package.Manual, Edition.Whole, ShippedLooks.Workshop);
        using (var output = File.Create(_file))
            PdfWriter.Write(composed, package.Picture, output, options: options);
        Run("qpdf", "--qdf", "--object-streams=disable", "--static-id", _file, _file + ".qdf");
        var text = System.Text.Encoding.Latin1.GetString(File.ReadAllBytes(_file + ".qdf"));
        File.Delete(_file + ".qdf");
        return text;
    }

    [Fact]
    public void A_print_file_has_trim_bleed_marks_and_black_alone()
    {
        var svg = (
            "<svg xmlns=\"http://www.w3.org/2000/svg\" viewBox=\"0 0 10 10\"><circle cx=\"5\" cy=\"5\" r=\"4\" fill=\"#111\" "u8
            + "stroke=\"#cc2200\"/></svg>"u8
        ).ToArray();
        var package = One(
            new Paragraph(
                new Id("p"),
                "body",
                [new TextRun("Black words and "), new TextRun("the works", SpanRoles.None, "https://works.example/")]
            ),
            new Figure(new Id("f"), "a.svg", [new TextRun("A lamp")], "A lamp"),
            new Listing(new Id("l"), "ini", "# remark", [])
        );
        package = package with
        {
            Manual = package.Manual with { Assets = [Pictures.PictureReader.Describe("a.svg", svg)] },
            Pictures = new Dictionary<string, byte[]> { ["a.svg"] = svg },
        };
        var text = Inflated(package, new PdfOptions(PdfKind.Print) { PageMultiple = 4 });
        Assert.Contains("/TrimBox", text, StringComparison.Ordinal);
        Assert.Contains("/BleedBox", text, StringComparison.Ordinal);
        Assert.Contains("/GTS_PDFX", text, StringComparison.Ordinal);
        Assert.DoesNotContain("/Annots", text, StringComparison.Ordinal);
        Assert.DoesNotMatch(@"[\d.]+ [\d.]+ [\d.]+ (rg|RG)\b", text);
        Assert.DoesNotMatch(@"(?m)^[\d.]+ g\b", text);
        Assert.Contains("0 0 0 1 k", text, StringComparison.Ordinal);
        Assert.Contains("/Count 4", text, StringComparison.Ordinal);
        Assert.Equal(0, Run("qpdf", "--check", _file).Code);
    }

    [Fact]
    public void A_print_file_says_all_that_its_standard_wants_and_what_page_it_is()
    {
        var png = new SkiaSharp.SKBitmap(4, 4).Encode(SkiaSharp.SKEncodedImageFormat.Png, 100).ToArray();
        var package = One(new Figure(new Id("f"), "a.png", [new TextRun("A lamp")], "A lamp"));
        package = package with
        {
            Manual = package.Manual with { Assets = [Pictures.PictureReader.Describe("a.png", png)] },
            Pictures = new Dictionary<string, byte[]> { ["a.png"] = png },
        };
        var options = new PdfOptions(PdfKind.Print) { Moment = new DateTimeOffset(2026, 11, 29, 8, 30, 0, TimeSpan.Zero) };
        var text = Inflated(package, options);
        // The condition is in the file, and colours of photographs are said by a profile.
        Assert.Contains("/DestOutputProfile", text, StringComparison.Ordinal);
        Assert.Contains("Kivren coated offset", text, StringComparison.Ordinal);
        Assert.Contains("/ICCBased", text, StringComparison.Ordinal);
        Assert.DoesNotContain("/DeviceRGB", text, StringComparison.Ordinal);
        Assert.Contains("D:20261129083000Z", text, StringComparison.Ordinal);
        foreach (var said in new[] { "pdf:Trapped", "xmp:CreateDate", "xmp:ModifyDate", "xmp:MetadataDate", "xmpMM:DocumentID", "PDF/X-4" })
            Assert.Contains(said, text, StringComparison.Ordinal);
        using (var document = PdfDocument.Open(_file))
        {
            Assert.Contains("sheet 1 of ", string.Concat(document.GetPage(1).Letters.Select(l => l.Value)), StringComparison.Ordinal);
        }
        var bare = Inflated(package, options with { Marks = false });
        using var without = PdfDocument.Open(_file);
        Assert.DoesNotContain("sheet 1 of", string.Concat(without.GetPage(1).Letters.Select(l => l.Value)), StringComparison.Ordinal);
        Assert.Equal(bare, Inflated(package, options with { Marks = false }));
    }

    [Fact]
    public void A_printers_profile_is_one_of_the_four_inks()
    {
        var coated = ColourProfile.Coated.Bytes;
        Assert.Equal("Kivren coated offset", ColourProfile.OfPrinter("own.icc", coated).Name);
        string Refused(byte[] bytes) => Assert.Throws<ColourProfileException>(() => ColourProfile.OfPrinter("own.icc", bytes)).Message;
        Assert.Contains("no colour profile", Refused([1, 2, 3]), StringComparison.Ordinal);
        Assert.Contains("cut short", Refused(coated[..1000]), StringComparison.Ordinal);
        var screens = coated.ToArray();
        "RGB "u8.CopyTo(screens.AsSpan(16));
        Assert.Contains("a profile of RGB", Refused(screens), StringComparison.Ordinal);
        var random = new Random(5);
        for (var n = 0; n < 200; n++)
        {
            var broken = coated.ToArray();
            for (var b = 0; b < 8; b++)
                broken[random.Next(128, 600)] = (byte)random.Next(256);
            Assert.NotEmpty(ColourProfile.OfPrinter("own.icc", broken).Name);
        }
    }

    [Fact]
    public void Artwork_of_a_master_bleeds_and_is_no_part_of_the_text()
    {
        var svg = "<svg xmlns=\"http://www.w3.org/2000/svg\" viewBox=\"0 0 10 10\"><rect width=\"10\" height=\"10\"/></svg>"u8.ToArray();
        var look = ShippedLooks.Workshop;
        look = look with
        {
            Masters =
            [
                .. look.Masters.Select(m =>
                    m.Name switch
                    {
                        "Left" => m with
                        {
                            Artwork =
                            [
                                new Artwork(Length.Points(-8), Length.Points(-8), Length.Points(20), Length.Points(30)) { Grey = 70 },
                            ],
                        },
                        "Opening" => m with
                        {
                            Artwork =
                            [
                                new Artwork(Length.Points(380), Length.Points(100), Length.Points(20), Length.Points(20))
                                {
                                    Picture = "mark.svg",
                                },
                            ],
                        },
                        _ => m,
                    }
                ),
            ],
        };
        var package = One(
            Enumerable
                .Range(0, 40)
                .Select(n => new Paragraph(new Id($"p{n}"), "body", [new TextRun(string.Concat(Enumerable.Repeat("many words ", 20)))]))
                .ToArray<Block>()
        );
        Assert.Contains(Composer.Compose(package.Manual, Edition.Whole, look).LooseEnds, l =>
            l.Message.Contains("mark.svg", StringComparison.Ordinal)
        );
        package = package with
        {
            Manual = package.Manual with { Assets = [Pictures.PictureReader.Describe("mark.svg", svg)] },
            Pictures = new Dictionary<string, byte[]> { ["mark.svg"] = svg },
        };
        var composed = Composer.Compose(package.Manual, Edition.Whole, look);
        Assert.Empty(composed.LooseEnds);
        // The opening page has the picture, the verso the tint at its inner edge, the next recto neither.
        Assert.Equal(["mark.svg"], DisplayList.Of(composed.Pages[0], look).Items.OfType<PictureItem>().Select(i => i.Asset));
        Assert.DoesNotContain(DisplayList.Of(composed.Pages[0], look).Items, i => i is RuleItem { Tone.Grey: 70 });
        var tint = Assert.Single(DisplayList.Of(composed.Pages[1], look).Items.OfType<RuleItem>(), r => r.Tone.Grey == 70);
        Assert.Equal(look.Master.Width.Millipoints + 8_000, tint.X + tint.Width);
        Assert.DoesNotContain(DisplayList.Of(composed.Pages[2], look).Items, i => i is PictureItem or RuleItem { Tone.Grey: 70 });
        using var output = new MemoryStream();
        PdfWriter.Write(composed, package.Picture, output);
        File.WriteAllBytes(_file, output.ToArray());
        using var document = PdfDocument.Open(_file);
        Assert.DoesNotContain(document.GetPage(1).GetMarkedContents(), m => m.Tag == "Figure");
        Assert.Equal(0, Run("qpdf", "--check", _file).Code);
    }

    [Fact]
    public void Words_from_right_to_left_are_copied_as_they_were_written()
    {
        Write(One(new Paragraph(new Id("p"), "body", [new TextRun("The sign says שלום here.")])));
        // Its letters stand in the order of sight, which readers turn round.
        Assert.Contains("שלום", Run("pdftotext", _file, "-").Output, StringComparison.Ordinal);
    }

    [Fact]
    public void Glyphs_without_a_character_are_drawn_as_outlines_in_the_proof()
    {
        var composed = Composer.Compose(
            One(new Equation(new Id("e"), "[a; b; c; d; e; f]", "a column")).Manual,
            Edition.Whole,
            ShippedLooks.Workshop
        );
        var svg = SvgPainter.Paint(DisplayList.Of(composed.Pages[0], composed.Look), _ => null);
        Assert.True(svg.Split("<path transform").Length > 4);
    }

    /// <summary>A photograph of this size whose upper left quarter is red, stored as it lies, with the tag that says how it is turned
    /// (Exif 2.32, Orientation).</summary>
    private static byte[] Photograph(int width, int height, byte orientation)
    {
        using var bitmap = new SkiaSharp.SKBitmap(width, height);
        bitmap.Erase(SkiaSharp.SKColors.White);
        for (var y = 0; y < height / 2; y++)
        for (var x = 0; x < width / 2; x++)
            bitmap.SetPixel(x, y, SkiaSharp.SKColors.Red);
        var plain = bitmap.Encode(SkiaSharp.SKEncodedImageFormat.Jpeg, 95).ToArray();
        byte[] exif =
        [
            0xFF,
            0xE1,
            0x00,
            0x22,
            .. "Exif"u8,
            0,
            0,
            .. "MM"u8,
            0,
            0x2A,
            0,
            0,
            0,
            8,
            0,
            1,
            0x01,
            0x12,
            0,
            3,
            0,
            0,
            0,
            1,
            0,
            orientation,
            0,
            0,
            0,
            0,
            0,
            0,
        ];
        return [.. plain[..2], .. exif, .. plain[2..]];
    }

    /// <summary>The lit quarter lies upper left in the file; turned upright it is where the tag puts it, in the PDF as another
    /// program shows it.</summary>
    [Theory]
    [InlineData(1, 0, 0)]
    [InlineData(2, 1, 0)]
    [InlineData(3, 1, 1)]
    [InlineData(4, 0, 1)]
    [InlineData(5, 0, 0)]
    [InlineData(6, 1, 0)]
    [InlineData(7, 1, 1)]
    [InlineData(8, 0, 1)]
    public void A_photograph_stands_the_right_way_up(byte orientation, int column, int row)
    {
        var bytes = Pictures.PictureReader.Printable(Photograph(200, 120, orientation));
        var asset = Pictures.PictureReader.Describe("p.jpg", bytes);
        Assert.Equal(orientation >= 5 ? (120, 200) : (200, 120), (asset.Width, asset.Height));
        var package = One(new Figure(new Id("f"), "p.jpg", [], "x") { Width = 50 });
        package = package with
        {
            Manual = package.Manual with { Assets = [asset] },
            Pictures = new Dictionary<string, byte[]> { ["p.jpg"] = bytes },
        };
        Write(package);
        var page = _file + "-page";
        Assert.Equal(0, Run("pdftoppm", "-r", "72", "-png", "-singlefile", _file, page).Code);
        using var shown = SkiaSharp.SKBitmap.Decode(page + ".png");
        File.Delete(page + ".png");
        var red = new List<(int X, int Y)>();
        for (var y = 0; y < shown.Height; y++)
        for (var x = 0; x < shown.Width; x++)
            if (shown.GetPixel(x, y) is { Red: > 200, Green: < 80 })
                red.Add((x, y));
        Assert.NotEmpty(red);
        using var document = PdfDocument.Open(_file);
        var box = document.GetPage(1).GetImages().Single().BoundingBox;
        var (left, top) = (box.Left, document.GetPage(1).Height - box.Top);
        Assert.Equal(left + box.Width * (.25 + column * .5), red.Average(p => p.X + .5), 3.0);
        Assert.Equal(top + box.Height * (.25 + row * .5), red.Average(p => p.Y + .5), 3.0);
    }

    /// <summary>However large the units of a drawing, it is as wide on the page as it was set.</summary>
    [Theory]
    [InlineData(.004)]
    [InlineData(1)]
    [InlineData(2.5)]
    [InlineData(10)]
    [InlineData(300)]
    [InlineData(29_700)]
    [InlineData(297_000)]
    [InlineData(900_000)]
    [InlineData(40_000_000)]
    public void A_drawing_of_any_scale_is_as_wide_as_it_was_set(double units)
    {
        var (width, height) = (Points(units), Points(units / 2));
        var svg = System.Text.Encoding.UTF8.GetBytes(
            $"<svg xmlns='http://www.w3.org/2000/svg' viewBox='0 0 {width} {height}'><rect width='{width}' height='{height}'/></svg>"
        );
        static string Points(double number) => number.ToString("0.######", System.Globalization.CultureInfo.InvariantCulture);
        var package = One(new Figure(new Id("f"), "a.svg", [], "x") { Width = 80 });
        package = package with
        {
            Manual = package.Manual with { Assets = [Pictures.PictureReader.Describe("a.svg", svg)] },
            Pictures = new Dictionary<string, byte[]> { ["a.svg"] = svg },
        };
        var (composed, _) = Write(package);
        var set = DisplayList.Of(composed.Pages[0], composed.Look).Items.OfType<PictureItem>().Single();
        var page = _file + "-page";
        Assert.Equal(0, Run("pdftoppm", "-r", "144", "-gray", "-png", "-singlefile", _file, page).Code);
        using var shown = SkiaSharp.SKBitmap.Decode(page + ".png");
        File.Delete(page + ".png");
        var dark = new List<(int X, int Y)>();
        for (var y = 0; y < shown.Height; y++)
        for (var x = 0; x < shown.Width; x++)
            if (shown.GetPixel(x, y).Red < 60)
                dark.Add((x, y));
        // The head is dark too, but never so far down as the middle of the drawing.
        var middle = (int)((set.Y + set.Height / 2) / 500.0);
        var line = dark.Where(p => p.Y == middle).Select(p => p.X).ToList();
        Assert.Equal(set.Width / 500.0, line.Max() - line.Min() + 1, 2.0);
        Assert.Equal(set.X / 500.0, line.Min(), 1.5);
        Assert.Equal(.5, (double)set.Height / set.Width, .001);
    }
}
