using System.Diagnostics;
using Kivren.Core.Content;
using Kivren.Core.Looks;
using Kivren.Formats.Generator;
using Kivren.Formats.Outputs;
using Kivren.Formats.Package;
using Kivren.Formats.Pdf;
using UglyToad.PdfPig;

namespace Kivren.Formats.Tests;

/// <summary>A cover as printers take it, the ink that lies on a sheet, and what files are called.</summary>
public sealed class CoverTests : IDisposable
{
    private readonly string _file = Path.GetTempFileName();

    public void Dispose() => File.Delete(_file);

    private static Package.Package Book(int pages)
    {
        var book = ManualGenerator.Make(pages, 5);
        return book with
        {
            Manual = book.Manual with
            {
                Divisions =
                [
                    new Division(
                        new Id("t"),
                        DivisionKind.TitlePage,
                        "Title",
                        [new Paragraph(new Id("tp"), "title", [new TextRun("Frontwords")])]
                    ),
                    .. book.Manual.Divisions.Where(d => d.Kind != DivisionKind.TitlePage),
                    new Division(
                        new Id("c"),
                        DivisionKind.Colophon,
                        "Colophon",
                        [new Paragraph(new Id("cp"), "body", [new TextRun("Backwords")])]
                    ),
                ],
                Variables = [new NamedText("title", "Spinewords")],
            },
        };
    }

    private OutputReport Made(Package.Package package, OutputChoice choice, Edition? edition = null)
    {
        using var file = File.Create(_file);
        return OutputMaker.Make(package.Manual, edition ?? Edition.Whole, choice, package.Picture, OutputMaker.NoMoment, file).Report;
    }

    [Theory]
    [InlineData(100)]
    [InlineData(300)]
    public void A_cover_is_one_sheet_of_back_spine_and_front_whose_spine_is_as_thick_as_the_book(int leaf)
    {
        var package = Book(120);
        var book = Made(package, new OutputChoice(OutputKind.PrintPdf));
        var master = WornLook.Of(package.Manual).Master;
        var (width, around) = (master.Width.InPoints, 2 * (master.Bleed.InPoints + 20));
        var report = Made(package, new OutputChoice(OutputKind.CoverPdf) { Leaf = leaf, Back = "c" });
        using var document = PdfDocument.Open(_file);
        Assert.Equal(1, document.NumberOfPages);
        var page = document.GetPage(1);
        var spine = (book.Pages + 1) / 2 * leaf / 1000.0 * 72 / 25.4;
        Assert.Equal(master.Height.InPoints + around, page.CropBox.Bounds.Height, .1);
        Assert.Equal(2 * width + spine + around, page.CropBox.Bounds.Width, .1);
        double At(string word) => page.GetWords().First(w => w.Text.Contains(word, StringComparison.OrdinalIgnoreCase)).BoundingBox.Left;
        Assert.True(At("Frontwords") > width + spine, "the front stands at the right");
        Assert.True(At("Backwords") < width, "the back stands at the left");
        // A narrow spine bears no words, and that is said.
        Assert.Equal(spine >= 14, page.Text.Contains("Spinewords", StringComparison.Ordinal));
        Assert.Equal(spine < 14, report.Notes.Any(n => n.Contains("too narrow", StringComparison.Ordinal)));
        Assert.Contains(report.Notes, n => n.StartsWith("The spine is ", StringComparison.Ordinal));
        using var check = Process.Start(new ProcessStartInfo("qpdf", ["--check", _file]) { RedirectStandardOutput = true })!;
        var said = check.StandardOutput.ReadToEnd();
        check.WaitForExit();
        Assert.True(check.ExitCode == 0, said);
    }

    [Fact]
    public void What_a_cover_shows_need_not_be_in_the_book_and_what_is_gone_is_said()
    {
        var package = Book(12);
        var without = new Edition("Bare") { LeavesOut = [new Id("t"), new Id("c")] };
        Assert.Contains(
            "choose the division",
            Assert.Throws<OutputException>(() => Made(package, new OutputChoice(OutputKind.CoverPdf), without)).Message,
            StringComparison.Ordinal
        );
        var report = Made(package, new OutputChoice(OutputKind.CoverPdf) { Front = "t", Back = "gone" }, without);
        Assert.Contains(report.Notes, n => n.Contains("the back is bare", StringComparison.Ordinal));
        using var document = PdfDocument.Open(_file);
        Assert.Contains("Frontwords", document.GetPage(1).Text, StringComparison.Ordinal);
    }

    [Fact]
    public void The_ink_on_one_spot_is_said_of_drawings_and_by_the_profile_of_photographs()
    {
        // A dark blue: red and green go into three inks with the grey part in black.
        var svg =
            "<svg xmlns=\"http://www.w3.org/2000/svg\" viewBox=\"0 0 10 10\"><path d=\"M0 0h9v9z\" fill=\"#000080\"/></svg>"u8.ToArray();
        var manual = new Manual(
            new Id("m"),
            "Ink",
            [new Division(new Id("d"), DivisionKind.Chapter, "Ink", [new Figure(new Id("f"), "a.svg", [new TextRun("A")], "A")])]
        )
        {
            Assets = [Pictures.PictureReader.Describe("a.svg", svg)],
        };
        var note = Assert.Single(
            Made(
                new Package.Package(manual, new Dictionary<string, byte[]> { ["a.svg"] = svg }),
                new OutputChoice(OutputKind.PrintPdf)
            ).Notes
        );
        // 1 − 128/255 in black, cyan and magenta whole.
        Assert.Contains("up to 250 % of a solid", note, StringComparison.Ordinal);
        // The profile that ships was made for a limit of 300.
        Assert.InRange(ColourProfile.Coated.MostInk!.Value, 250, 310);
    }

    [Theory]
    [InlineData("{manual} {date}", OutputKind.Epub, "Ferry: winch 2026-03-31.epub")]
    [InlineData("TW-{number}", OutputKind.ScreenPdf, "TW-7, screen.pdf")]
    [InlineData("TW-{number} {output}", OutputKind.ScreenPdf, "TW-7 screen.pdf")]
    [InlineData("a/b?{what}", OutputKind.Epub, "a-b-{what}.epub")]
    [InlineData("", OutputKind.Epub, "Ferry: winch – E.epub")]
    [InlineData("CON", OutputKind.Epub, "CON-.epub")]
    public void Files_are_called_by_the_rule_of_the_edition(string rule, OutputKind kind, string name)
    {
        var manual = new Manual(new Id("m"), "Ferry: winch", []) { Variables = [new NamedText("number", "7")] };
        var edition = new Edition("E")
        {
            FilesCalled = rule,
            GoesOutAs = [new OutputChoice(OutputKind.PrintPdf), new OutputChoice(OutputKind.ScreenPdf), new OutputChoice(OutputKind.Epub)],
        };
        var moment = new DateTimeOffset(2026, 3, 31, 23, 0, 0, TimeSpan.Zero);
        Assert.Equal(name.Replace(':', '-'), OutputName.Of(manual, edition, kind, moment));
    }

    [Fact]
    public void An_EPUB_is_read_by_its_validator_where_that_is_asked_for()
    {
        var package = ManualGenerator.Make(6, 3);
        Assert.Empty(Made(package, new OutputChoice(OutputKind.Epub)).Notes);
        Assert.Equal(
            "EPUBCheck read it and found nothing.",
            Assert.Single(Made(package, new OutputChoice(OutputKind.Epub) { Checked = true }).Notes)
        );
    }
}
