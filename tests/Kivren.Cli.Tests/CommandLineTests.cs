using System.Text.Json.Nodes;
using Kivren.Core.Content;
using Kivren.Formats.Package;
using Kivren.Formats.Pictures;

namespace Kivren.Cli.Tests;

public sealed class CommandLineTests : IDisposable
{
    private readonly string _folder = Directory.CreateTempSubdirectory("kivren-cli-").FullName;

    public void Dispose() => Directory.Delete(_folder, recursive: true);

    private string In(string name) => Path.Combine(_folder, name);

    private static (int Code, string Output, string Errors) Run(params string[] arguments)
    {
        using var output = new StringWriter();
        using var errors = new StringWriter();
        return (CommandLine.Run(arguments, output, errors), output.ToString(), errors.ToString());
    }

    [Fact]
    public void Called_wrongly_it_says_how_and_exits_2()
    {
        Assert.Equal(2, Run().Code);
        Assert.Contains("There is no command “dance”", Run("dance").Errors, StringComparison.Ordinal);
        Assert.Contains("-o is missing", Run("generate").Errors, StringComparison.Ordinal);
        Assert.Contains("There is no file", Run("check", In("gone.kivren")).Errors, StringComparison.Ordinal);
        Assert.Contains("whole number", Run("generate", "--pages", "many", "-o", In("x.kivren")).Errors, StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("--look", "There is no look “Sunday”")]
    [InlineData("--edition", "There is no edition “Sunday”")]
    public void A_look_or_edition_that_there_is_not_is_refused_by_every_command(string option, string says)
    {
        Run("generate", "--pages", "8", "--seed", "5", "-o", In("g.kivren"));
        Run("compose", In("g.kivren"), "-o", In("g.pdf"));
        foreach (
            var command in new string[][]
            {
                ["compose", In("g.kivren"), "-o", In("no.pdf")],
                ["check", In("g.kivren")],
                ["audit", In("g.pdf"), In("g.kivren")],
                ["explain", In("g.kivren"), "--page", "1"],
            }
        )
        {
            var (code, output, errors) = Run([.. command, option, "Sunday"]);
            Assert.Equal((2, ""), (code, output));
            Assert.Contains(says, errors, StringComparison.Ordinal);
        }
        Assert.False(File.Exists(In("no.pdf")));
    }

    [Fact]
    public void A_look_is_given_to_a_file_changed_there_and_worn()
    {
        Run("generate", "--pages", "8", "--seed", "5", "-o", In("g.kivren"));
        Assert.Equal(0, Run("look", "Pocket", "-o", In("own.kivrenlook")).Code);
        Assert.Equal(0, Run("compose", In("g.kivren"), "--look", "Pocket", "-o", In("shipped.pdf")).Code);
        Assert.Equal(0, Run("compose", In("g.kivren"), "--look", In("own.kivrenlook"), "-o", In("same.pdf")).Code);
        Assert.Equal(File.ReadAllBytes(In("shipped.pdf")), File.ReadAllBytes(In("same.pdf")));
        var text = File.ReadAllText(In("own.kivrenlook"));
        File.WriteAllText(In("own.kivrenlook"), text.Replace("\"105 mm\"", "\"120 mm\"", StringComparison.Ordinal));
        Assert.Equal(0, Run("check", In("g.kivren"), "--look", In("own.kivrenlook"), "--json").Code & ~1);
        Run("compose", In("g.kivren"), "--look", In("own.kivrenlook"), "-o", In("wider.pdf"));
        Assert.NotEqual(File.ReadAllBytes(In("shipped.pdf")), File.ReadAllBytes(In("wider.pdf")));
        // Put on, the manual carries it.
        File.Copy(In("g.kivren"), In("worn.kivren"));
        Assert.Equal(0, Run("look", In("own.kivrenlook"), "--on", In("worn.kivren")).Code);
        Assert.Equal(0, Run("compose", In("worn.kivren"), "-o", In("worn.pdf")).Code);
        Assert.Equal(File.ReadAllBytes(In("wider.pdf")), File.ReadAllBytes(In("worn.pdf")));
        Assert.Equal(0, Run("audit", In("worn.pdf"), In("worn.kivren")).Code);
        Assert.Equal(0, Run("look", "Pocket", "--on", In("worn.kivren")).Code);
        Run("compose", In("worn.kivren"), "-o", In("back.pdf"));
        Assert.Equal(File.ReadAllBytes(In("shipped.pdf")), File.ReadAllBytes(In("back.pdf")));
        Assert.Equal(2, Run("look", "Pocket", "--on", In("gone.kivren")).Code);
        // A look that cannot be worn is told, with every place, and nothing is written.
        File.WriteAllText(
            In("own.kivrenlook"),
            text.Replace("\"105 mm\"", "\"wide\"", StringComparison.Ordinal).Replace("\"bullets\"", "\"pellets\"", StringComparison.Ordinal)
        );
        var (code, output, _) = Run("look", In("own.kivrenlook"));
        Assert.Equal(1, code);
        Assert.Contains("masters[0].width", output, StringComparison.Ordinal);
        var refused = Run("compose", In("g.kivren"), "--look", In("own.kivrenlook"), "-o", In("no.pdf"));
        Assert.Equal(2, refused.Code);
        Assert.Contains("masters[0].width", refused.Errors, StringComparison.Ordinal);
        Assert.False(File.Exists(In("no.pdf")));
        Assert.Equal(2, Run("look", In("gone.kivrenlook")).Code);
        Assert.Equal(2, Run("audit", In("shipped.pdf"), In("g.kivren"), "--look", In("own.kivrenlook")).Code);
    }

    [Fact]
    public void Generate_and_compose_print_what_they_did_as_one_object()
    {
        Assert.Equal(0, Run("generate", "--pages", "20", "--seed", "5", "-o", In("g.kivren")).Code);
        var (code, output, _) = Run("compose", In("g.kivren"), "-o", In("g.pdf"), "--json");
        Assert.Equal(0, code);
        var report = JsonNode.Parse(output)!;
        Assert.InRange(report["pages"]!.GetValue<int>(), 15, 40);
        Assert.Equal(0, Run("compose", In("g.kivren"), "-o", In("pages.svg")).Code);
        Assert.Equal(report["pages"]!.GetValue<int>(), Directory.GetFiles(In("pages")).Length);
        Assert.Contains("The division ends here.", Run("explain", In("g.kivren"), "--page", "i").Output, StringComparison.Ordinal);
    }

    private static string Demo
    {
        get
        {
            for (var folder = new DirectoryInfo(AppContext.BaseDirectory); folder is not null; folder = folder.Parent)
                if (File.Exists(Path.Combine(folder.FullName, "Kivren.slnx")))
                    return Path.Combine(folder.FullName, "demo", "tarn6.kivren");
            throw new FileNotFoundException("demo/tarn6.kivren");
        }
    }

    [Fact]
    public void The_demo_audits_clean_with_the_three_loose_ends_it_was_left()
    {
        var told = Run("check", Demo).Output.Trim();
        Assert.EndsWith("3 loose ends.", told, StringComparison.Ordinal);
        Assert.All(["“stopper” is marked as a term", "“tow line”", "“tail chain” and “Tail chain”"], m =>
            Assert.Contains(m, told, StringComparison.Ordinal)
        );
        Run("compose", Demo, "-o", In("t.pdf"));
        var (code, output, errors) = Run("audit", In("t.pdf"), Demo);
        Assert.True(code == 0, output + errors);
    }

    [Fact]
    public void No_line_of_the_demo_s_drawings_goes_through_its_words()
    {
        using var opened = File.OpenRead(Demo);
        var demo = PackageReader.Read(opened, []);
        var words = 0;
        foreach (var asset in demo.Manual.Assets.Where(a => a.MediaType == "image/svg+xml"))
        {
            var drawing = SvgDrawing.Read(asset.Name, demo.Picture(asset.Name)!);
            var lines = drawing
                .Items.OfType<OutlineItem>()
                .Where(o => o.Stroke is not null && o.Fill is null)
                .SelectMany(o => o.Segments.Zip(o.Segments.Skip(1)))
                .Where(s => s.Second.Kind == 'L')
                .ToList();
            foreach (var label in drawing.Items.OfType<WordsItem>())
            {
                words += label.Words.Count;
                var first = label.Place.Map(label.Words[0].X, 0);
                var end = label.Place.Map(label.Words[^1].X + label.Words[^1].Word.Width * label.Size / label.Face.UnitsPerEm, 0);
                // What the eye takes for the words: from just above the baseline to the height of small letters.
                var (top, foot) = (first.Y - label.Size * .45, first.Y - label.Size * .05);
                foreach (var (from, to) in lines)
                    for (var step = 0; step <= 400; step++)
                    {
                        var (x, y) = (from.X1 + (to.X1 - from.X1) * step / 400, from.Y1 + (to.Y1 - from.Y1) * step / 400);
                        Assert.False(
                            x > first.X + 1 && x < end.X - 1 && y > top && y < foot,
                            $"{asset.Name}: a line goes through “{string.Join(' ', label.Words.Select(w => w.Word.Text))}”."
                        );
                    }
            }
        }
        Assert.True(words > 0);
    }

    [Theory]
    [InlineData("1")]
    [InlineData("2")]
    [InlineData("3")]
    public void The_demo_audits_clean_after_fifty_random_edits(string seed)
    {
        Run("generate", "--of", Demo, "--edits", "50", "--seed", seed, "-o", In("e.kivren"));
        Run("compose", In("e.kivren"), "-o", In("e.pdf"));
        var (code, output, errors) = Run("audit", In("e.pdf"), In("e.kivren"));
        Assert.True(code == 0, output + errors);
    }

    [Fact]
    public void A_sound_manual_audits_clean_and_a_planted_fault_is_caught()
    {
        Run("generate", "--pages", "30", "--seed", "6", "-o", In("a.kivren"));
        Run("generate", "--pages", "30", "--seed", "7", "-o", In("b.kivren"));
        Run("compose", In("a.kivren"), "-o", In("a.pdf"));
        var (code, output, errors) = Run("audit", In("a.pdf"), In("a.kivren"));
        Assert.True(code == 0, output + errors);
        Assert.Equal(1, Run("audit", In("a.pdf"), In("b.kivren")).Code);
    }

    [Theory]
    [InlineData("tarn6.kivren", "Workshop, A5")]
    [InlineData("tarn6.kivren", "Code, A4")]
    [InlineData("tarn6.kivren", "Pocket")]
    [InlineData("cf2.kivren", "Code, A4")]
    [InlineData("cf2.kivren", "Pocket")]
    public void Each_demo_audits_clean_in_each_look(string file, string look)
    {
        var demo = Path.Combine(Path.GetDirectoryName(Demo)!, file);
        Assert.Equal(0, Run("compose", demo, "--look", look, "-o", In("l.pdf")).Code);
        var (code, output, errors) = Run("audit", In("l.pdf"), demo, "--look", look);
        Assert.True(code == 0, output + errors);
        Assert.Contains("structure for reading aloud", output, StringComparison.Ordinal);
    }

    [Theory]
    [InlineData(1, "Code, A4")]
    [InlineData(2, "Pocket")]
    [InlineData(3, "Workshop, A5")]
    [InlineData(4, "Workshop, A5")]
    [InlineData(10, "Code, A4")]
    public void Generated_manuals_of_every_kind_of_block_audit_clean(int seed, string look)
    {
        Run("generate", "--pages", "40", "--seed", $"{seed}", "-o", In("g.kivren"));
        Run("compose", In("g.kivren"), "--look", look, "-o", In("g.pdf"));
        var (code, output, errors) = Run("audit", In("g.pdf"), In("g.kivren"), "--look", look);
        Assert.True(code == 0, output + errors);
    }

    [Fact]
    public void Explain_tells_why_a_locator_is_there_and_how_a_block_is_dressed()
    {
        Assert.Contains("◆", Run("explain", Demo, "--locator", "batteries › charge of").Output, StringComparison.Ordinal);
        Assert.Equal(2, Run("explain", Demo, "--locator", "no such heading").Code);
        Assert.Contains("dressed as: body", Run("explain", Demo, "--block", "tarn6-y-fig-pull").Output, StringComparison.Ordinal);
        Assert.Equal(2, Run("explain", Demo, "--block", "nobody").Code);
        Assert.Contains("<math", Run("explain", Demo, "--block", "tarn6-y-eq-charge").Output, StringComparison.Ordinal);
    }

    [Fact]
    public void A_print_file_is_written_for_the_printer()
    {
        Assert.Equal(0, Run("compose", Demo, "--print", "--multiple", "16", "-o", In("p.pdf")).Code);
        var bytes = File.ReadAllBytes(In("p.pdf"));
        Assert.True(bytes.Length > 100_000);
        Assert.Equal(2, Run("compose", Demo, "--print", "--multiple", "none", "-o", In("q.pdf")).Code);
    }

    [Fact]
    public void Import_gives_roles_by_a_mapping_and_reports_what_it_did()
    {
        var leaflet = Path.Combine(Path.GetDirectoryName(Demo)!, "import", "winch-leaflet.docx");
        File.WriteAllText(In("map.json"), """{"mapping":1,"name":"Halvik","roles":{"look:bold":"headD"},"off":["comments"]}""");
        var (code, output, _) = Run("import", leaflet, "--roles", In("map.json"), "-o", In("l.kivren"), "--json");
        Assert.Equal(0, code);
        var report = JsonNode.Parse(output)!;
        var bold = report["roles"]!.AsArray().Single(r => r!["key"]!.GetValue<string>() == "look:bold")!;
        Assert.Equal(("headD", "from the mapping"), (bold["role"]!.GetValue<string>(), bold["why"]!.GetValue<string>()));
        Assert.Contains(report["report"]!.AsArray(), r =>
            r!["kind"]!.GetValue<string>() == "LeftOut"
            && r["words"]!.GetValue<string>().Contains("plate or on the flange", StringComparison.Ordinal)
        );
        Assert.Equal(0, Run("compose", In("l.kivren"), "-o", In("l.pdf")).Code);
        Assert.Equal(0, Run("audit", In("l.pdf"), In("l.kivren")).Code);
    }

    [Fact]
    public void Import_says_what_it_cannot_read()
    {
        File.WriteAllText(In("map.json"), "{}");
        File.WriteAllText(In("a.md"), "# A");
        Assert.Contains(
            "no mapping",
            Run("import", In("a.md"), "--roles", In("map.json"), "-o", In("x.kivren")).Errors,
            StringComparison.Ordinal
        );
        File.WriteAllBytes(In("cut.docx"), [0x50, 0x4B, 3, 4, 0, 0]);
        var (code, _, errors) = Run("import", In("cut.docx"), "-o", In("x.kivren"));
        Assert.Equal(2, code);
        Assert.Contains("cut.docx is cut short or damaged", errors, StringComparison.Ordinal);
    }

    [Fact]
    public void A_newer_version_comes_into_the_manual_that_the_earlier_one_came_into()
    {
        string[] text = ["# Winch", "", "Grease it in spring.", "", "Look at the lining each week.", "", "Keep the rag dry.", ""];
        File.WriteAllLines(In("a.md"), text);
        Assert.Equal(0, Run("import", In("a.md"), "-o", In("m.kivren"), "--look", "Pocket").Code);
        // The writer changes the end of one paragraph; the supplier its beginning, adds one and takes one out.
        Edit(In("m.kivren"), "Look at the lining each week.", "Look at the lining each week and write it down.");
        File.WriteAllLines(
            In("b.md"),
            ["# Winch", "", "Grease it in spring.", "", "Oil it in autumn, too.", "", "Inspect the lining each week.", ""]
        );
        var (code, output, errors) = Run("import", In("b.md"), "--newer", In("m.kivren"), "--was", In("a.md"), "-o", In("n.kivren"));
        Assert.Equal((0, ""), (code, errors));
        Assert.Contains("taken out: Keep the rag dry.", output, StringComparison.Ordinal);
        var (before, after) = (Blocks(In("m.kivren")), Blocks(In("n.kivren")));
        Assert.Equal(
            ["Grease it in spring.", "Oil it in autumn, too.", "Inspect the lining each week and write it down."],
            after.Select(b => b.Words)
        );
        // What stayed or changed is the same block still.
        Assert.Equal([before[0].Id, before[1].Id], [after[0].Id, after[2].Id]);
        Assert.Contains(
            "Nothing in",
            Run("import", In("b.md"), "--newer", Demo, "--was", In("a.md"), "-o", In("x.kivren")).Errors,
            StringComparison.Ordinal
        );
        Assert.Contains(
            "--was",
            Run("import", In("b.md"), "--newer", In("m.kivren"), "-o", In("x.kivren")).Errors,
            StringComparison.Ordinal
        );
    }

    private static (string Id, string Words)[] Blocks(string file)
    {
        using var input = File.OpenRead(file);
        return
        [
            .. Formats
                .Package.PackageReader.Read(input, [])
                .Manual.Divisions.SelectMany(d => d.Blocks)
                .OfType<Core.Content.Paragraph>()
                .Where(p => p.Role == "body")
                .Select(p => (p.Id.Value, Core.Content.Walk.PlainText(p.Content))),
        ];
    }

    private static void Edit(string file, string words, string into)
    {
        Formats.Package.Package package;
        using (var input = File.OpenRead(file))
            package = Formats.Package.PackageReader.Read(input, []);
        var divisions = package.Manual.Divisions.Select(d =>
            d with
            {
                Blocks =
                [
                    .. d.Blocks.Select(b =>
                        b is Core.Content.Paragraph p && Core.Content.Walk.PlainText(p.Content) == words
                            ? p with
                            {
                                Content = [new Core.Content.TextRun(into)],
                            }
                            : b
                    ),
                ],
            }
        );
        using var output = File.Create(file);
        Formats.Package.PackageWriter.Write(package with { Manual = package.Manual with { Divisions = [.. divisions] } }, output);
    }

    [Fact]
    public void A_link_to_another_folder_brings_nothing_in_twice_and_one_to_a_file_is_followed()
    {
        Directory.CreateDirectory(In("book/pictures"));
        File.WriteAllText(In("book/a.md"), "# Winch\n\n![A drum](pictures/drum.svg)\n\nWords about the winch.\n");
        File.WriteAllText(In("drum.svg"), "<svg xmlns='http://www.w3.org/2000/svg' viewBox='0 0 9 9'><rect width='9' height='9'/></svg>");
        File.CreateSymbolicLink(In("book/pictures/drum.svg"), In("drum.svg"));
        Directory.CreateSymbolicLink(In("book/again"), In("book"));
        var (code, output, _) = Run("import", In("book"), "-o", In("m.kivren"));
        Assert.Equal(0, code);
        Assert.Single(output.Split('\n'), line => line.StartsWith("Chapter: Winch", StringComparison.Ordinal));
        Assert.DoesNotContain("not found", output, StringComparison.Ordinal);
    }

    [Fact]
    public void A_file_of_a_folder_that_cannot_be_read_is_told_and_the_rest_comes_in()
    {
        Directory.CreateDirectory(In("mixed"));
        File.WriteAllText(In("mixed/a.md"), "# Round\n\nWalk round it.\n");
        File.WriteAllText(In("mixed/b.docbook"), "<chapter><title>Winch</title>");
        File.WriteAllText(In("mixed/c.md"), "");
        var (code, output, _) = Run("import", In("mixed"), "-o", In("m.kivren"));
        Assert.Equal(0, code);
        Assert.Contains("b.docbook, line 1", output, StringComparison.Ordinal);
        Assert.Contains("c.md is empty.", output, StringComparison.Ordinal);
        Assert.Contains("Chapter: Round", output, StringComparison.Ordinal);
        // One that is named must be readable; so must something of a folder.
        Assert.Contains("b.docbook, line 1", Run("import", In("mixed/b.docbook"), "-o", In("x.kivren")).Errors, StringComparison.Ordinal);
        File.Delete(In("mixed/a.md"));
        var (refused, _, errors) = Run("import", In("mixed"), "-o", In("x.kivren"));
        Assert.NotEqual(0, refused);
        Assert.Contains("c.md is empty.", errors, StringComparison.Ordinal);
    }

    [Fact]
    public void Generate_writes_a_word_processor_document_that_import_reads()
    {
        Assert.Equal(0, Run("generate", "--pages", "6", "--seed", "2", "-o", In("g.docx")).Code);
        Assert.Equal(0, Run("import", In("g.docx"), "-o", In("g.kivren")).Code);
        Assert.DoesNotContain("points at nothing", Run("check", In("g.kivren")).Output, StringComparison.Ordinal);
    }

    private void Site()
    {
        Directory.CreateDirectory(In("site/use"));
        void Page(string name, string title, string text) =>
            File.WriteAllText(In("site/" + name), $"<html><head><title>{title}</title></head><body><h1>{title}</h1>{text}</body></html>");
        var words = string.Concat(Enumerable.Repeat("<p>Each morning the winch is looked at by hand and by eye.</p>", 8));
        Page(
            "index.html",
            "The ferry",
            "<ul><li><a href='use/a.html'>Use</a></li><li><a href='b.html'>Winch</a></li><li><a href='c.html'>Oil</a></li></ul>"
        );
        Page("use/a.html", "Use", words);
        Page("b.html", "Winch", words);
        Page("c.html", "Oil", words);
        File.WriteAllText(In("site/site.js"), "run()");
    }

    [Fact]
    public void A_folder_of_pages_is_one_book_whose_order_is_printed_changed_and_given_back()
    {
        Site();
        var (code, output, errors) = Run("import", In("site"), "-o", In("m.kivren"));
        Assert.True(code == 0, errors);
        Assert.Contains("  use/a.html\n  b.html\n  c.html\n", output.ReplaceLineEndings("\n"), StringComparison.Ordinal);
        File.WriteAllText(In("order.txt"), "b.html\n  c.html\n- use/a.html\n");
        (code, output, errors) = Run([
            "import",
            In("site"),
            "-o",
            In("m.kivren"),
            "--tree",
            In("order.txt"),
            "--language",
            "de",
            "--look",
            "Code, A4",
            "--title",
            "Fähre",
        ]);
        Assert.True(code == 0, errors);
        Assert.Contains("Chapter: Winch", output, StringComparison.Ordinal);
        Assert.DoesNotContain("Chapter: Use", output, StringComparison.Ordinal);
        using var package = File.OpenRead(In("m.kivren"));
        var manual = Formats.Package.PackageReader.Read(package, []).Manual;
        Assert.Equal(("Fähre", "de", "Code, A4"), (manual.Title, manual.Language, manual.Look));
        Assert.All(manual.Divisions, d => Assert.Equal("de", d.Language));
        Assert.Contains(manual.Divisions, d => d.Title == "Inhalt");
    }

    [Theory]
    [InlineData("--language", "no language at all", "is no language")]
    [InlineData("--look", "Sunday", "There is no look “Sunday”")]
    public void What_an_import_is_told_wrongly_is_refused(string option, string value, string says)
    {
        Site();
        var (code, _, errors) = Run("import", In("site"), "-o", In("m.kivren"), option, value);
        Assert.Equal(2, code);
        Assert.Contains(says, errors, StringComparison.Ordinal);
        Assert.False(File.Exists(In("m.kivren")));
    }

    [Fact]
    public void A_tree_that_says_nothing_is_refused_with_its_line()
    {
        Site();
        File.WriteAllText(In("order.txt"), "b.html\ngone.html\n");
        var (code, _, errors) = Run("import", In("site"), "-o", In("m.kivren"), "--tree", In("order.txt"));
        Assert.Equal(2, code);
        Assert.Contains("line 2: there is no file “gone.html”", errors, StringComparison.Ordinal);
    }

    [Fact]
    public void Files_are_made_on_the_day_that_is_said_and_the_same_day_gives_the_same_bytes()
    {
        Run("generate", "--pages", "8", "--seed", "5", "-o", In("g.kivren"));
        byte[] Made(string folder, string day)
        {
            var (code, _, errors) = Run("produce", In("g.kivren"), "--only", "print", "--out", In(folder), "--date", day);
            Assert.True(code < 2, errors);
            return File.ReadAllBytes(Directory.GetFiles(In(folder)).Single());
        }
        var first = Made("a", "2026-03-31");
        Assert.Equal(first, Made("b", "2026-03-31"));
        Assert.NotEqual(first, Made("c", "2026-04-01"));
        Assert.Contains("is no day", Run("produce", In("g.kivren"), "--out", In("d"), "--date", "soon").Errors, StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("ar", "noto-serif-arabic", "dir=\"rtl\"")]
    [InlineData("ja", "noto-serif-jp", "lang=\"ja\"")]
    [InlineData("hi", "noto-serif-devanagari", "lang=\"hi\"")]
    public void An_EPUB_brings_the_faces_of_its_script_cut_down_and_its_direction(string language, string family, string says)
    {
        Run("import", Path.Combine(Path.GetDirectoryName(Demo)!, "languages", language + ".md"), "-o", In("l.kivren"));
        var (code, _, errors) = Run("produce", In("l.kivren"), "--only", "epub", "--out", In("out"));
        Assert.True(code < 2, errors);
        using var epub = System.IO.Compression.ZipFile.OpenRead(Directory.GetFiles(In("out")).Single());
        string Text(string ending)
        {
            using var reader = new StreamReader(epub.Entries.First(e => e.FullName.EndsWith(ending, StringComparison.Ordinal)).Open());
            return reader.ReadToEnd();
        }
        Assert.Contains($"font-family: kv-source-serif-4, kv-{family}", Text(".css"), StringComparison.Ordinal);
        Assert.Contains("em:lang(ja) { font-style: normal; text-emphasis: dot", Text(".css"), StringComparison.Ordinal);
        Assert.Contains(says, Text(".xhtml"), StringComparison.Ordinal);
        Assert.Contains($">{LanguageWords.Of(language)["partsOfBook"]}<", Text("book/contents.xhtml"), StringComparison.Ordinal);
        var faces = epub.Entries.Where(e => e.Name.StartsWith("noto", StringComparison.Ordinal)).ToList();
        Assert.NotEmpty(faces);
        Assert.All(faces, f => Assert.InRange(f.Length, 1, 200_000));
    }

    [Theory]
    [InlineData("de", "Suchen", "Auf dieser Seite", "Nichts gefunden.")]
    [InlineData("ja", "検索", "次へ", "見つかりませんでした。")]
    [InlineData("ar", "بحث", "التالي", "لم يُعثر على شيء.")]
    public void Web_pages_speak_the_manuals_language(string language, params string[] words)
    {
        Run("import", Path.Combine(Path.GetDirectoryName(Demo)!, "languages", language + ".md"), "-o", In("l.kivren"));
        var (code, _, errors) = Run("produce", In("l.kivren"), "--only", "site", "--out", In("out"));
        Assert.True(code < 2, errors);
        using var site = System.IO.Compression.ZipFile.OpenRead(Directory.GetFiles(In("out"), "*.zip").Single());
        var pages = string.Concat(
            site.Entries.Where(e => e.FullName.EndsWith(".html", StringComparison.Ordinal))
                .Select(e =>
                {
                    using var reader = new StreamReader(e.Open());
                    return reader.ReadToEnd();
                })
        );
        Assert.All(words, w => Assert.Contains(w, pages, StringComparison.Ordinal));
        foreach (var english in new[] { ">Search<", ">Next<", ">On this page<", "Nothing found", ">To the text<" })
            Assert.DoesNotContain(english, pages, StringComparison.Ordinal);
    }
}
