using System.IO.Compression;
using System.Text;
using System.Text.Json.Nodes;
using Kivren.Core.Content;
using Kivren.Core.Looks;
using Kivren.Core.Selection;
using Kivren.Formats.Generator;
using Kivren.Formats.Package;
using Kivren.Formats.Pictures;

namespace Kivren.Formats.Tests;

public class PackageTests
{
    private static byte[] Bytes(Package.Package package)
    {
        using var output = new MemoryStream();
        PackageWriter.Write(package, output);
        return output.ToArray();
    }

    private static Package.Package Read(byte[] bytes, List<ReadProblem>? problems = null) =>
        PackageReader.Read(new MemoryStream(bytes), problems ?? []);

    /// <summary>The package with some of its files changed, added or (null) taken out.</summary>
    private static byte[] Changed(byte[] bytes, params (string Path, string? Text)[] changes)
    {
        using var output = new MemoryStream();
        output.Write(bytes);
        using (var zip = new ZipArchive(output, ZipArchiveMode.Update, leaveOpen: true))
            foreach (var (path, text) in changes)
            {
                zip.GetEntry(path)?.Delete();
                if (text is null)
                    continue;
                using var writer = new StreamWriter(zip.CreateEntry(path).Open());
                writer.Write(text);
            }
        return output.ToArray();
    }

    private static string Text(byte[] bytes, string path)
    {
        using var zip = new ZipArchive(new MemoryStream(bytes));
        using var reader = new StreamReader(zip.GetEntry(path)!.Open());
        return reader.ReadToEnd();
    }

    private static readonly byte[] Sample = Bytes(ManualGenerator.Make(12, 9));

    [Fact]
    public void Export_import_export_gives_the_same_bytes()
    {
        var problems = new List<ReadProblem>();
        Assert.Equal(Sample, Bytes(Read(Sample, problems)));
        Assert.Empty(problems);
    }

    [Fact]
    public void A_look_of_its_own_goes_with_a_manual_and_one_with_a_fault_is_told()
    {
        var own = LookFile.Write(ShippedLooks.Pocket).Replace("\"Pocket\"", "\"Ours\"", StringComparison.Ordinal);
        var worn = Bytes(Read(Sample) with { Manual = Read(Sample).Manual.Wearing(LookFile.Read(own, out _)!) });
        var problems = new List<ReadProblem>();
        var read = Read(worn, problems);
        Assert.Empty(problems);
        Assert.Equal(("Ours", own), (read.Manual.Look, read.Manual.LookFile));
        Assert.Equal("Ours", WornLook.Of(read.Manual).Name);
        Assert.Same(WornLook.Of(read.Manual), WornLook.Of(read.Manual with { Title = "Another" }));
        Assert.Equal(worn, Bytes(read));
        // Back in one that ships it carries no file.
        Assert.Null(read.Manual.Wearing(ShippedLooks.Code).LookFile);

        var broken = Read(Changed(worn, ("look.kivrenlook", own.Replace("105 mm", "wide", StringComparison.Ordinal))), problems);
        Assert.Contains(problems, p => p.Where == "look.kivrenlook" && p.What.StartsWith("masters[0].width", StringComparison.Ordinal));
        Assert.Equal(("Workshop, A5", null), (broken.Manual.Look, broken.Manual.LookFile));
    }

    [Fact]
    public void Every_kind_of_block_and_span_goes_through_unchanged()
    {
        Inline[] spans =
        [
            new TextRun("a"),
            new TextRun("b", SpanRoles.Emphasis | SpanRoles.Term),
            new TextRun("c", SpanRoles.None, "https://example.org/x"),
            new CrossReference(new Id("x"), new Id("t"), "title"),
            new IndexEntry(new Id("r"), ["a", "b", "c"], EntryKind.RangeStart)
            {
                Principal = true,
                FilesUnder = "f",
                See = "s",
                SeeAlso = "sa",
            },
            new VariableUse("v"),
            new Anchor(new Id("an"), "name"),
            new Footnote(new Id("fn"), [new TextRun("note")]),
            LineBreak.Instance,
            new TextRun("d", SpanRoles.Key | SpanRoles.Sup | SpanRoles.NoBreak)
            {
                AppliesTo = new AppliesTo([new AxisValues("model", ["6E"])]),
            },
            new TextRun("e", SpanRoles.PartNumber | SpanRoles.SmallCaps),
            new InlineEquation(new Id("eq"), "F/2", "half of F"),
            new InlinePicture(new Id("ipc"), "a.svg", "a lamp"),
            new IndexEntry(new Id("r"), ["a"], EntryKind.RangeEnd),
        ];
        Block[] blocks =
        [
            new Paragraph(new Id("p"), "lead", spans) { AppliesTo = new AppliesTo([new AxisValues("model", ["6", "6E"])]) },
            new Head(new Id("h"), HeadLevel.C, spans)
            {
                ShortTitle = "s",
                Numbered = false,
                Listed = Listed.Always,
            },
            new ItemList(
                new Id("l"),
                ListKind.Roman,
                4,
                [
                    new Item(new Id("i"), [new Paragraph(new Id("ip"), "body", [])])
                    {
                        AppliesTo = new AppliesTo([new AxisValues("model", ["6"])]),
                    },
                ]
            )
            {
                Continues = true,
            },
            new Head(new Id("h2"), HeadLevel.A, []) { Printed = false },
            new Aside(new Id("as"), spans, [new Paragraph(new Id("asp"), "body", [])]) { Folds = Folding.Title },
            new Figure(
                new Id("fa"),
                "p.svg",
                [
                    new TextRun("Areas"),
                    new FigureArea(new Id("fa1"), new AreaBox(1, 2, 3, 4), [new CrossReference(new Id("fa2"), new Id("h"), "page")]),
                ],
                "x"
            )
            {
                Plays = "https://example.org/film",
            },
            new Paragraph(new Id("pop"), "body", [new Footnote(new Id("pop1"), [new TextRun("Up")]) { Shown = NoteShown.PopUpOnly }]),
            new Example(new Id("ex"), [new TextRun("t")], [new Paragraph(new Id("exp"), "body", [])]),
            new DefinitionList(new Id("dl"), [new Definition(new Id("d1"), spans, [new Paragraph(new Id("dp"), "body", [])])])
            {
                Glossary = true,
            },
            new ReferenceList(new Id("rl"), [new ReferredDocument(new Id("rd"), "CF-1", [new TextRun("Words")])]),
            new Equation(new Id("equ"), "a = b", "a is b") { Numbered = false },
            new PassageUse(new Id("pu"), "lamps"),
            new ContentsList(new Id("cl2"), "figures"),
            new PageBreak(new Id("pb2"), BreakTo.Recto),
            new Listing(new Id("li2"), "ini", "a = 1", []) { LineNumbers = true, Marked = [1, 3] },
            new Table(
                new Id("t2"),
                1,
                [CellAlignment.Decimal],
                [],
                [
                    new Row(
                        new Id("t2r"),
                        [
                            new Cell(new Id("t2c"), [])
                            {
                                ColumnSpan = 2,
                                RowSpan = 3,
                                Alignment = CellAlignment.Centre,
                            },
                        ]
                    )
                    {
                        Group = true,
                    },
                ]
            )
            {
                Widths = [ColumnWidth.ByContent, new ColumnWidth(WidthKind.Share, 2), new ColumnWidth(WidthKind.Fixed, 1500)],
                HeaderColumn = true,
                MayTurn = false,
            },
            new Steps(new Id("s"), true, [new Item(new Id("si"), [new Paragraph(new Id("sp"), "body", spans)])]),
            new Admonition(new Id("a"), AdmonitionKind.Danger, [new Paragraph(new Id("ap"), "body", [])]),
            new Table(
                new Id("t"),
                1,
                [CellAlignment.Right],
                [new TextRun("cap")],
                [new Row(new Id("r1"), [new Cell(new Id("c1"), spans)]), new Row(new Id("r2"), [new Cell(new Id("c2"), [])])]
            ),
            new Figure(new Id("f"), "x.svg", [new TextRun("cap")], "alt") { Placement = FigurePlacement.Top, Width = 60 },
            new Listing(new Id("li"), "ini", "a = 1\n  b = 2", [new TextRun("cap")]),
            new ContentsList(new Id("cl")),
            new IndexList(new Id("il")),
            new PageBreak(new Id("pb")),
        ];
        foreach (var block in blocks)
        {
            var json = BlockWriter.ToJson(block);
            Assert.Equal(json, BlockWriter.ToJson(BlockReader.Parse(json)));
        }
    }

    [Fact]
    public void A_division_with_a_climbing_or_missing_path_is_told_and_the_rest_is_read()
    {
        var manual = JsonNode.Parse(Text(Sample, "manual.json"))!;
        var divisions = manual["divisions"]!.AsArray();
        var count = divisions.Count;
        divisions.Add("../../etc/passwd");
        divisions.Add("divisions/999-gone.json");
        var problems = new List<ReadProblem>();
        var read = Read(Changed(Sample, ("manual.json", manual.ToJsonString())), problems);
        Assert.Equal(count, read.Manual.Divisions.Count);
        Assert.Contains(problems, p => p.Where == "../../etc/passwd" && p.What.Contains("leads out", StringComparison.Ordinal));
        Assert.Contains(problems, p => p.Where == "divisions/999-gone.json" && p.What.Contains("missing", StringComparison.Ordinal));
    }

    [Fact]
    public void An_unknown_block_keeps_its_words_and_is_told_with_its_place()
    {
        var path = JsonNode.Parse(Text(Sample, "manual.json"))!["divisions"]![2]!.GetValue<string>();
        var division = JsonNode.Parse(Text(Sample, path))!;
        division["blocks"]!
            .AsArray()
            .Insert(
                0,
                new JsonObject
                {
                    ["type"] = "hologram",
                    ["attrs"] = new JsonObject { ["id"] = "odd" },
                    ["content"] = new JsonArray(new JsonObject { ["type"] = "text", ["text"] = "kept words" }),
                }
            );
        var problems = new List<ReadProblem>();
        var read = Read(Changed(Sample, (path, division.ToJsonString())), problems);
        Assert.Equal("kept words", ((Paragraph)read.Manual.Divisions[2].Blocks[0]).Content.PlainText());
        var problem = Assert.Single(problems);
        Assert.Equal($"{path}, block 1", problem.Where);
        Assert.Contains("hologram", problem.What, StringComparison.Ordinal);
    }

    [Fact]
    public void A_picture_that_is_none_is_told_and_the_rest_is_read()
    {
        var problems = new List<ReadProblem>();
        var read = Read(Changed(Sample, ("pictures/windows.svg", "this is no picture")), problems);
        Assert.Empty(read.Manual.Assets);
        Assert.Contains("neither PNG, JPEG nor SVG", Assert.Single(problems).What, StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("<svg xmlns='http://www.w3.org/2000/svg' viewBox='0 0 9 9'><script>1</script></svg>", "script")]
    [InlineData("<svg xmlns='http://www.w3.org/2000/svg' viewBox='0 0 9 9'><image href='http://x/y.png'/></svg>", "another file")]
    [InlineData("<svg xmlns='http://www.w3.org/2000/svg'><rect/></svg>", "how large")]
    [InlineData("<svg xmlns='http://www.w3.org/2000/svg' viewBox='0 0 9 9'><rect></svg>", "line 1")]
    [InlineData(
        "<!DOCTYPE svg [<!ENTITY a 'aaaa'><!ENTITY b '&a;&a;&a;'>]><svg xmlns='http://www.w3.org/2000/svg' viewBox='0 0 9 9'><text>"
            + "&b;</text></svg>",
        "no picture"
    )]
    [InlineData(
        "<svg xmlns='http://www.w3.org/2000/svg' viewBox='0 0 9 9'><g id='a'><use href='#b'/><use href='#b'/></g><g id='b'><use "
            + "href='#a'/><use href='#a'/></g></svg>",
        "uses itself"
    )]
    public void A_picture_with_what_print_cannot_hold_is_refused_in_words(string svg, string words)
    {
        var problem = Assert.Throws<PictureFormatException>(() => PictureReader.Describe("p.svg", Encoding.UTF8.GetBytes(svg)));
        Assert.Contains(words, problem.Message, StringComparison.Ordinal);
    }

    [Fact]
    public void A_drawing_of_a_million_shapes_and_a_picture_of_a_hundred_million_pixels_are_refused_before_they_are_drawn()
    {
        var shapes =
            "<svg xmlns='http://www.w3.org/2000/svg' viewBox='0 0 9 9'>" + string.Concat(Enumerable.Repeat("<g/>", 1_000_000)) + "</svg>";
        Assert.Contains(
            "100,000 elements",
            Assert.Throws<PictureFormatException>(() => PictureReader.Describe("p.svg", Encoding.UTF8.GetBytes(shapes))).Message,
            StringComparison.Ordinal
        );
        using var bitmap = new SkiaSharp.SKBitmap(8, 8);
        var png = bitmap.Encode(SkiaSharp.SKEncodedImageFormat.Png, 100).ToArray();
        // The header alone says that there are 12,000 × 12,000.
        foreach (var at in new[] { 16, 20 })
            System.Buffers.Binary.BinaryPrimitives.WriteInt32BigEndian(png.AsSpan(at), 12_000);
        System.Buffers.Binary.BinaryPrimitives.WriteUInt32BigEndian(png.AsSpan(29), Crc32(png.AsSpan(12, 17)));
        Assert.Contains(
            "12000 × 12000 pixels",
            Assert.Throws<PictureFormatException>(() => PictureReader.Describe("p.png", png)).Message,
            StringComparison.Ordinal
        );
    }

    private static uint Crc32(ReadOnlySpan<byte> bytes) => System.IO.Hashing.Crc32.HashToUInt32(bytes);

    [Theory]
    [InlineData("no zip at all")]
    [InlineData("")]
    public void A_file_that_is_no_package_is_refused(string text) =>
        Assert.Throws<PackageFormatException>(() => Read(Encoding.UTF8.GetBytes(text)));

    [Fact]
    public void A_package_cut_short_is_refused_or_told()
    {
        for (var length = 0; length < Sample.Length; length += Sample.Length / 12)
            Assert.Throws<PackageFormatException>(() => Read(Sample[..length]));
    }

    [Fact]
    public void A_package_damaged_anywhere_is_read_as_far_as_it_goes_or_refused_in_words()
    {
        using var zip = new ZipArchive(new MemoryStream(Sample));
        var texts = zip
            .Entries.Where(e => e.FullName.EndsWith(".json", StringComparison.Ordinal))
            .ToDictionary(e => e.FullName, e => Text(Sample, e.FullName));
        const string signs = "{}[]\",:0x -n";
        var random = new Random(11);
        for (var n = 0; n < 100; n++)
        {
            var (path, text) = texts.ElementAt(random.Next(texts.Count));
            var damaged = new StringBuilder(text);
            for (var k = random.Next(1, 4); k > 0; k--)
                damaged[random.Next(damaged.Length)] = signs[random.Next(signs.Length)];
            var problems = new List<ReadProblem>();
            try
            {
                var read = Read(Changed(Sample, (path, damaged.ToString())), problems);
                // What was read can be composed and kept.
                Read(Bytes(read));
                Core.Composition.Composer.Compose(read.Manual, Edition.Whole, Core.Looks.ShippedLooks.Named(read.Manual.Look));
                Assert.All(problems, p => Assert.NotEmpty(p.What));
            }
            catch (PackageFormatException e)
            {
                Assert.NotEmpty(e.Message);
            }
        }
    }

    [Fact]
    public void A_copy_has_ids_of_its_own_and_its_references_follow()
    {
        var manual = ManualGenerator.Make(30, 9).Manual;
        var n = 0;
        var copy = IdRenewal.Renew(manual, () => "new" + ++n);
        static HashSet<Id> Ids(Manual m) =>
            m
                .Divisions.SelectMany(d => d.Blocks)
                .SelectMany(b => b.WithInner())
                .Select(b => b.Id)
                .Concat(m.Divisions.Select(d => d.Id))
                .ToHashSet();
        Assert.Empty(Ids(manual).Intersect(Ids(copy)));
        var targets = copy
            .Divisions.SelectMany(d => d.Blocks)
            .SelectMany(b => b.Inlines())
            .OfType<CrossReference>()
            .Select(r => r.Target)
            .ToList();
        Assert.NotEmpty(targets);
        Assert.All(targets, t => Assert.Contains(t, Ids(copy)));
    }

    [Fact]
    public void A_copy_of_a_manual_has_editions_that_take_its_own_sections()
    {
        var random = new Random(3);
        var manual = Read(Sample).Manual;
        manual = manual with { Editions = [.. Enumerable.Range(0, 8).Select(_ => RandomEdition.Of(manual, random))] };
        var n = 0;
        var copy = IdRenewal.Renew(manual, () => $"fresh{++n}");
        Assert.Contains(manual.Editions, e => e.Takes.Any(t => t.Sections.Count > 0));
        foreach (var (was, now) in manual.Editions.Zip(copy.Editions))
        {
            var (before, after) = (Selector.Select(manual, was).Divisions, Selector.Select(copy, now).Divisions);
            Assert.Equal(before.Select(d => (d.Title, d.Blocks.Count)), after.Select(d => (d.Title, d.Blocks.Count)));
        }
    }

    [Fact]
    public void An_edition_says_in_a_package_all_that_it_is()
    {
        var edition = new Edition("Pocket")
        {
            Chosen = [new AxisValues("model", ["6"])],
            LeavesOut = [new Id("a")],
            Takes = [new TakenDivision(new Id("b"), [new Id("b2"), new Id("b")]), new TakenDivision(new Id("c"), [])],
            Variables = [new NamedText("product", "Tarn")],
            Look = "Pocket",
            Language = "de",
            Without = ["figures"],
            LeftOut = LeftOutReads.Nothing,
            GoesOutAs =
            [
                new OutputChoice(OutputKind.PrintPdf) { Multiple = 4, Marks = false },
                new OutputChoice(OutputKind.Site) { Splits = SplitAt.HeadB, OwnStyle = "h1 { color: red }" },
            ],
        };
        var json = EditionForm.ToJson([edition]);
        var read = Assert.Single(EditionForm.ParseEditions(json));
        Assert.Equal(json, EditionForm.ToJson([read]));
        Assert.Equal(edition.Takes[0].Sections, read.Takes[0].Sections);
        Assert.Equal(edition.GoesOutAs, read.GoesOutAs);
        Assert.Equal(LeftOutReads.Nothing, read.LeftOut);
    }

    [Theory]
    [InlineData("\"look\": \"Gone\"", "There is no look “Gone”")]
    [InlineData("\"look\": \"Own\", \"lookFile\": \"{ no file\"", "edition")]
    [InlineData("\"goesOutAs\": [{ \"kind\": \"scroll\" }]", "goesOutAs")]
    [InlineData("\"goesOutAs\": [{ \"kind\": \"epub\", \"multiple\": 9000 }]", "multiple of 1 to")]
    public void What_an_edition_cannot_be_is_told_and_the_rest_is_read(string wrong, string told)
    {
        var problems = new List<ReadProblem>();
        var package = Read(
            Changed(
                Sample,
                (
                    "manual.json",
                    Text(Sample, "manual.json")
                        .Replace("\"editions\": []", "\"editions\": [{ \"name\": \"E\", " + wrong + " }]", StringComparison.Ordinal)
                )
            ),
            problems
        );
        Assert.Contains(problems, p => (p.Where + p.What).Contains(told, StringComparison.Ordinal));
        Assert.Equal("E", Assert.Single(package.Manual.Editions).Name);
        Assert.Null(package.Manual.Editions[0].Look);
    }
}
