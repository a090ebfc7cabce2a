using Kivren.Core.Composition;
using Kivren.Core.Content;
using Kivren.Core.Lists;
using Kivren.Core.Looks;
using Kivren.Formats.Generator;
using Kivren.Formats.Package;
using Kivren.Formats.Pdf;

namespace Kivren.Audit.Tests;

/// <summary>Contents lists and indexes of every dress, of whole manuals and of editions that leave some out: what the finished
/// file says is judged from the text alone.</summary>
public sealed class ListAndIndexTests : IDisposable
{
    private readonly string _file = Path.GetTempFileName();

    public void Dispose() => File.Delete(_file);

    internal static Package Demo(string name)
    {
        var at = AppContext.BaseDirectory;
        while (!File.Exists(Path.Combine(at, "Kivren.slnx")))
            at = Path.GetDirectoryName(at)!;
        using var file = File.OpenRead(Path.Combine(at, "demo", name + ".kivren"));
        var problems = new List<ReadProblem>();
        var package = PackageReader.Read(file, problems);
        Assert.Empty(problems);
        return package;
    }

    private void Judge(Manual manual, Package of, Edition edition, string? look = null)
    {
        look ??= manual.Look;
        var composed = Composer.Compose(manual, edition, ShippedLooks.Named(look));
        Assert.DoesNotContain(composed.LooseEnds, l => l.Kind == Kivren.Core.LooseEnds.LooseEndKind.NotSettled);
        using (var output = File.Create(_file))
            PdfWriter.Write(composed, of.Pictures.GetValueOrDefault, output);
        var report = Auditor.Audit(_file, manual, edition, LookFile.Write(ShippedLooks.Named(look)));
        Assert.Contains(report.Checks, c => c.Tried > 0);
        var failed = report.Checks.Where(c => c.Failures.Count > 0).SelectMany(c => c.Failures.Take(4).Select(f => $"{c.Check}: {f}"));
        Assert.True(!failed.Any(), string.Join('\n', failed));
    }

    [Theory]
    [InlineData("tarn6")]
    [InlineData("cf2")]
    public void Both_demo_manuals_in_every_edition_and_in_every_look(string name)
    {
        var demo = Demo(name);
        foreach (var edition in demo.Manual.Editions.DefaultIfEmpty(Edition.Whole))
            Judge(demo.Manual, demo, edition);
        foreach (var look in ShippedLooks.All)
            Judge(demo.Manual, demo, demo.Manual.EditionNamed(null), look.Name);
        // An edition without one chapter: what the index sends a reader to there is not said.
        var chapter = demo.Manual.Divisions.Where(d => d.Kind == DivisionKind.Chapter).ElementAt(2);
        Judge(demo.Manual, demo, Edition.Whole with { LeavesOut = [chapter.Id] });
    }

    [Fact]
    public void Headings_of_signs_and_digits_alone()
    {
        var n = 0;
        Block Of(string heading) =>
            new Paragraph(
                new Id($"p{++n}"),
                "body",
                [new TextRun($"The sign number {n} stands here."), new IndexEntry(new Id($"e{n}"), [heading])]
            );
        var blocks = new[] { "_", "-", "$", "$-", "0", "$0", "!", "--", "a-b", "ab", "winch" }.SelectMany(h => new[] { Of(h), Of(h) });
        var manual = new Manual(
            new Id("m"),
            "Signs",
            [
                new Division(new Id("d"), DivisionKind.Chapter, "Signs", [.. blocks]),
                new Division(new Id("x"), DivisionKind.Index, "Index", [new IndexList(new Id("i"))]),
            ]
        )
        {
            Look = "Pocket",
        };
        foreach (var look in ShippedLooks.All)
            Judge(manual, Demo("tarn6"), Edition.Whole, look.Name);
    }

    [Fact]
    public void Headings_that_begin_like_others_end_and_headings_that_begin_with_the_sign_before_a_subheading()
    {
        var n = 0;
        Block Of(params string[] headings) =>
            new Paragraph(
                new Id($"p{++n}"),
                "body",
                [new TextRun($"The heading number {n} stands here."), new IndexEntry(new Id($"e{n}"), [.. headings])]
            );
        Block[] blocks =
        [
            Of("Phase I", "Installing"),
            Of("Phase II", "Installing"),
            Of("Phase II"),
            Of(":> file"),
            Of("; alone"),
            Of("! as a limit"),
            Of("“Ready”"),
            Of("-v"),
            Of("winch", "oil"),
            Of("winch", "; alone"),
        ];
        var manual = new Manual(
            new Id("m"),
            "Signs",
            [
                new Division(new Id("d"), DivisionKind.Chapter, "Signs", [.. blocks]),
                new Division(new Id("x"), DivisionKind.Index, "Index", [new IndexList(new Id("i"))]),
            ]
        )
        {
            Look = "Pocket",
        };
        foreach (var look in ShippedLooks.All)
            Judge(manual, Demo("tarn6"), Edition.Whole, look.Name);
    }

    public static TheoryData<string> Dresses() =>
        ["run in", "sorted", "before", "separated", "numberless", "without folios", "chapters", "terms", "everything"];

    [Theory]
    [MemberData(nameof(Dresses))]
    public void Contents_lists_of_the_manuals_own(string dress)
    {
        var demo = Demo("tarn6");
        var contents = ShippedLooks.Workshop.List("contents")!.ToOwn();
        OwnList Each(Func<OwnListLine, OwnListLine> change) => contents with { Lines = [.. contents.Lines.Select(change)] };
        var manual = demo.Manual;
        manual = dress switch
        {
            "run in" => manual with { Lists = [Each(l => l with { RunIn = l.Takes == Listable.Head, Leader = false, Separator = " " })] },
            "sorted" => manual with { Lists = [contents with { Sorted = true }] },
            "before" => manual with { Lists = [Each(l => l with { Folio = FolioPlace.Before })] },
            "separated" => manual with { Lists = [Each(l => l with { Leader = false, Separator = ", " })] },
            "numberless" => manual with { Lists = [Each(l => l with { Numbered = false })] },
            "without folios" => manual with { Lists = [Each(l => l with { Folio = FolioPlace.None })] },
            "chapters" => manual with { ChapterContents = "division" },
            "terms" => manual with { TermsLead = true },
            _ => WithAllLists(manual),
        };
        Judge(manual, demo, Edition.Whole);
    }

    /// <summary>A list of everything that can be listed, each in its own division.</summary>
    private static Manual WithAllLists(Manual manual)
    {
        foreach (var name in (string[])["figures", "tables", "listings", "equations", "examples", "brief"])
        {
            var id = new Id("all-" + name);
            var listed = manual.WithList(name);
            var list = new Division(id, DivisionKind.Contents, "All " + name, [new ContentsList(new Id(id.Value + "-1"), name)]);
            manual = listed with { Divisions = [.. listed.Divisions.Take(3), list, .. listed.Divisions.Skip(3)] };
        }
        return manual;
    }

    public static TheoryData<int> Indexes() => [1, 2, 3, 4];

    [Theory]
    [MemberData(nameof(Indexes))]
    public void Indexes_of_the_manuals_own_dress(int columns)
    {
        var demo = Demo("tarn6");
        var dress = ShippedLooks.Workshop.Index!.ToOwn() with
        {
            Columns = columns,
            RunIn = columns % 2 == 0,
            Joins = columns < 3,
            Elision = (Elision)(columns % 3),
            LetterByLetter = columns == 2,
            GroupHeads = columns != 3,
            PrincipalBold = columns != 1,
        };
        Judge(demo.Manual with { IndexDress = dress }, demo, Edition.Whole);
    }

    [Theory]
    [InlineData(0)]
    [InlineData(1)]
    [InlineData(2)]
    [InlineData(3)]
    public void Twenty_generated_manuals(int quarter)
    {
        for (var seed = quarter * 5; seed < quarter * 5 + 5; seed++)
        {
            var made = ManualGenerator.Make(24, 500 + seed, 8);
            var manual = made.Manual with
            {
                ChapterContents = seed % 2 == 0 ? "division" : null,
                TermsLead = seed % 3 == 0,
                Lists = seed % 4 == 0 ? [ShippedLooks.Workshop.List("figures")!.ToOwn() with { Sorted = true }] : [],
            };
            var left = manual.Divisions.Where(d => d.Kind == DivisionKind.Chapter).ElementAt(seed % 2).Id;
            var edition = seed % 5 == 0 ? Edition.Whole with { LeavesOut = [left] } : Edition.Whole;
            Judge(manual with { Look = ShippedLooks.All[seed % 2 == 0 ? 0 : seed % ShippedLooks.All.Count].Name }, made, edition);
        }
    }
}
