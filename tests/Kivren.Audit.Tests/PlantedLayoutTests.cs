using Kivren.Core.Composition;
using Kivren.Core.Content;
using Kivren.Core.Looks;
using Kivren.Formats.Pdf;

namespace Kivren.Audit.Tests;

/// <summary>Faults of layout and structure planted in a composition before its file is written, or in what it is judged
/// against.</summary>
public sealed class PlantedLayoutTests : IDisposable
{
    private readonly string _file = Path.GetTempFileName();

    public void Dispose() => File.Delete(_file);

    private static Paragraph Words(string id, int count, params Inline[] more) =>
        new(
            new Id(id),
            "body",
            [
                new TextRun($"Paragraph {id} begins. " + string.Join(' ', Enumerable.Range(0, count).Select(n => $"word{n}{id}"))),
                .. more,
                new TextRun("."),
            ]
        );

    private static readonly Figure Lamp = new(
        new Id("f"),
        "lamp.svg",
        [new TextRun("The lamps on the mast")],
        "Three lamps one above the other"
    )
    {
        Placement = FigurePlacement.Foot,
    };

    private static Manual Sound() =>
        new(
            new Id("m"),
            "Test manual",
            [
                new Division(
                    new Id("one"),
                    DivisionKind.Chapter,
                    "The ferry",
                    [
                        Words("a1", 60, new TextRun(" See "), new CrossReference(new Id("x"), new Id("f"), "phrase")),
                        Lamp,
                        new Equation(new Id("e"), "T = F/2", "T is half of F"),
                        Words("a2", 30),
                        new Paragraph(new Id("last"), "body", [new TextRun("Casting off by night")]),
                        new PageBreak(new Id("pb")),
                        Words("a3", 40),
                        new Table(
                            new Id("t"),
                            1,
                            [CellAlignment.Left, CellAlignment.Left],
                            [new TextRun("Limits")],
                            Enumerable
                                .Range(0, 60)
                                .Select(n => new Row(
                                    new Id($"r{n}"),
                                    [
                                        new Cell(new Id($"ca{n}"), [new TextRun(n == 0 ? "Quantity" : $"Pull{n}")]),
                                        new Cell(new Id($"cb{n}"), [new TextRun(n == 0 ? "Limit" : $"Newton{n}")]),
                                    ]
                                ))
                                .ToArray()
                        ),
                        Words("a4", 60),
                    ]
                ),
            ]
        )
        {
            Assets = [new Asset("lamp.svg", "image/svg+xml", 200, 80, "hash")],
        };

    private static readonly byte[] Picture = (
        "<svg xmlns=\"http://www.w3.org/2000/svg\" viewBox=\"0 0 200 80\"><circle cx=\"40\" cy=\"40\" r=\"20\" "u8
        + "fill=\"#111\"/></svg>"u8
    ).ToArray();

    /// <param name="tamper">changes the pages of the composition before they are written</param>
    private string[] FailuresOf(
        Func<Manual, Manual>? made = null,
        Func<CutPage, CutPage>? tamper = null,
        Func<Manual, Manual>? judged = null,
        PdfKind kind = PdfKind.Screen
    )
    {
        var manual = made is null ? Sound() : made(Sound());
        var composed = Composer.Compose(manual, Edition.Whole, ShippedLooks.Workshop);
        if (tamper is not null)
            composed = new ComposedManual
            {
                Text = composed.Text,
                Look = composed.Look,
                Numbers = composed.Numbers,
                Index = composed.Index,
                Pages = composed.Pages.Select(p => p.Body is null ? p : p with { Body = tamper(p.Body) }).ToList(),
                Divisions = composed.Divisions,
                LooseEnds = [],
                LetBe = [],
                Passes = 1,
                Held = 0,
                Places = composed.Places,
            };
        using (var file = File.Create(_file))
            PdfWriter.Write(composed, _ => Picture, file, options: new PdfOptions(kind));
        var against = judged is null ? Sound() : judged(Sound());
        return
        [
            .. Auditor
                .Audit(_file, against, Edition.Whole, WornLook.FileOf(against))
                .Checks.Where(c => c.Failures.Count > 0)
                .Select(c => c.Check),
        ];
    }

    private static CutPage Changed(CutPage page, PlacedPiece[]? pieces = null, PlacedHeader[]? headers = null) =>
        new()
        {
            Pieces = pieces ?? page.Pieces,
            Notes = page.Notes,
            NoteRules = page.NoteRules,
            Headers = headers ?? page.Headers,
            Reason = page.Reason,
            BodyKey = page.BodyKey,
            FirstHead = page.FirstHead,
            HeadCount = page.HeadCount,
        };

    private static Manual With(Manual m, Func<Block, Block> change) =>
        m with
        {
            Divisions = [.. m.Divisions.Select(d => d with { Blocks = [.. d.Blocks.Select(change)] })],
        };

    [Fact]
    public void The_sound_file_passes_and_every_check_was_tried()
    {
        Assert.Empty(FailuresOf());
        var report = Auditor.Audit(_file, Sound(), Edition.Whole, WornLook.FileOf(Sound()));
        foreach (
            var check in new[]
            {
                "text inside its frame",
                "no text over other text",
                "no head at a page's foot",
                "header rows repeat",
                "figures after their first mention",
                "structure for reading aloud",
                "cross-references",
            }
        )
            Assert.Contains(report.Checks, c => c.Check == check && c.Tried > 0);
    }

    [Fact]
    public void Text_over_other_text_fails() =>
        Assert.Contains(
            "no text over other text",
            FailuresOf(tamper: p =>
                p.Pieces.Length < 6 ? p : Changed(p, [.. p.Pieces.Select((x, i) => i == 3 ? x with { Y = p.Pieces[2].Y + 2_000 } : x)])
            )
        );

    [Fact]
    public void Text_below_its_frame_fails() =>
        Assert.Contains(
            "text inside its frame",
            FailuresOf(tamper: p => Changed(p, [.. p.Pieces.Select(x => x with { Y = x.Y + 60_000 })]))
        );

    [Fact]
    public void Text_beyond_its_margin_fails() =>
        Assert.Contains("text inside its frame", FailuresOf(tamper: p => Changed(p, [.. p.Pieces.Select(x => x with { X = 12_000 })])));

    [Fact]
    public void A_missing_header_row_fails() =>
        Assert.Contains("header rows repeat", FailuresOf(tamper: p => p.Headers.Length == 0 ? p : Changed(p, headers: [])));

    /// <summary>The table with a header whose cells are divided in their columns, one with a raised sign behind it.</summary>
    private static Manual WithLongHeader(Manual manual) =>
        With(manual, b =>
            b is Table table
                ? table with
                {
                    Rows =
                    [
                        new Row(
                            new Id("r0"),
                            [
                                new Cell(
                                    new Id("ca0"),
                                    [
                                        new TextRun(string.Join(' ', Enumerable.Repeat("Quantity", 40))),
                                        new TextRun("(1)") { Roles = SpanRoles.Sup },
                                    ]
                                ),
                                new Cell(new Id("cb0"), [new TextRun("Limit of wind and water on the landing stage at dawn")]),
                            ]
                        ),
                        .. table.Rows.Skip(1),
                    ],
                }
                : b
        );

    [Fact]
    public void A_header_row_of_several_lines_is_found_and_missed()
    {
        Assert.Empty(FailuresOf(WithLongHeader, judged: WithLongHeader));
        Assert.Contains(
            "header rows repeat",
            FailuresOf(WithLongHeader, p => p.Headers.Length == 0 ? p : Changed(p, headers: []), WithLongHeader)
        );
    }

    [Fact]
    public void A_head_at_a_pages_foot_fails() =>
        Assert.Contains(
            "no head at a page's foot",
            FailuresOf(judged: m => With(m, b => b.Id.Value == "last" ? new Head(b.Id, HeadLevel.B, ((Paragraph)b).Content) : b))
        );

    [Fact]
    public void A_figure_without_its_words_fails() =>
        Assert.Equal(["structure for reading aloud"], FailuresOf(made: m => With(m, b => b is Figure f ? f with { Alternative = "" } : b)));

    [Fact]
    public void An_equation_that_says_something_else_fails() =>
        Assert.Equal(
            ["structure for reading aloud"],
            FailuresOf(judged: m => With(m, b => b is Equation e ? e with { Alternative = "T is a quarter of F" } : b))
        );

    [Fact]
    public void A_file_without_structure_fails() => Assert.Contains("structure for reading aloud", FailuresOf(kind: PdfKind.Print));

    [Fact]
    public void A_header_cell_that_is_none_fails() =>
        Assert.Contains(
            "structure for reading aloud",
            FailuresOf(judged: m => With(m, b => b is Table t ? t with { HeaderColumn = true } : b))
        );

    [Fact]
    public void A_phrase_that_is_not_true_fails() =>
        Assert.Contains(
            "cross-references",
            FailuresOf(judged: m =>
                With(m, b =>
                    b is Paragraph { Id.Value: "a1" } p
                        ? p with
                        {
                            Content = [.. p.Content.Select(i => i is CrossReference x ? x with { Target = new Id("t") } : i)],
                        }
                        : b
                )
            )
        );

    [Fact]
    public void A_figure_before_its_mention_fails()
    {
        // The manual has the figure after the words that speak of it; the file shows it two pages before them.
        static Manual Early(Manual m) => With(m, b => b switch
                {
                    Paragraph { Id.Value: "a1" } p => p with { Content = [p.Content[0]] },
                    Paragraph { Id.Value: "a4" } p => p with
                    {
                        Content =
                        [
                            p.Content[0],
                            new TextRun(" See "),
                            new CrossReference(new Id("x"), new Id("f"), "name-number"),
                            new TextRun("."),
                        ],
                    },
                    _ => b,
                });
        static Manual Late(Manual m) =>
            Early(m) with
            {
                Divisions = [m.Divisions[0] with { Blocks = [.. Early(m).Divisions[0].Blocks.Where(b => b.Id.Value != "f"), Lamp] }],
            };
        Assert.Equal(["figures after their first mention"], FailuresOf(made: Early, judged: Late));
    }
}
