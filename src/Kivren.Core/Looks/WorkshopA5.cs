using Kivren.Core.Content;
using Kivren.Core.Type;

namespace Kivren.Core.Looks;

/// <summary>Workshop, A5: for operating and maintenance manuals. One grid of 13 points for text, heads and spaces.</summary>
public static class WorkshopA5
{
    private static readonly Length Grid = Length.Points(13);
    private static readonly Length Half = Length.Points(6.5);

    public static readonly Look Look = Make();

    private static Look Make()
    {
        var body = new Dress(FaceSet.Serif, 9.6, 13) { Alignment = Alignment.Justified, Hyphenates = true, FirstIndent = Grid };
        var flush = new Dress(FaceSet.Serif, 9.6, 13) { Alignment = Alignment.Justified, Hyphenates = true };
        return new Look("Workshop, A5")
        {
            Master = new PageMaster(Length.Millimetres(148), Length.Millimetres(210), Length.Points(64), Length.Points(51), Length.Points(64), Length.Points(68)),
            Body = body,
            Paragraphs = new Dictionary<string, Dress>(StringComparer.Ordinal)
            {
                ["flush"] = flush,
                ["lead"] = new Dress(FaceSet.Serif, 9.6, 13) { Alignment = Alignment.Justified, Hyphenates = true, After = Half },
                ["quotation"] = new Dress(FaceSet.SerifItalic, 9.6, 13) { Alignment = Alignment.Justified, Hyphenates = true, Left = Grid, Before = Half, After = Half },
                ["title"] = new Dress(FaceSet.SansStrong, 26, 32.5) { After = Grid, Before = Grid * 8 },
                ["subtitle"] = new Dress(FaceSet.Sans, 13.5, 19.5) { After = Grid },
                ["imprint"] = new Dress(FaceSet.Sans, 8.6, 13) { Before = Half },
            },
            Heads =
            [
                new Dress(FaceSet.SansStrong, 13.5, 19.5) { Before = Length.Points(19.5), After = Length.Points(6.5) },
                new Dress(FaceSet.SansStrong, 10.6, 13) { Before = Grid },
                new Dress(FaceSet.SerifItalic, 9.6, 13) { Before = Half },
                new Dress(FaceSet.SerifItalic, 9.6, 13) { Before = Half },
            ],
            RunIn = HeadLevel.C,
            DivisionLabel = new Dress(FaceSet.Sans, 11, 13, 0.22) { After = Half },
            DivisionTitle = new Dress(FaceSet.SansStrong, 22, 26),
            Sink = Grid * 4,
            AfterTitle = Grid * 3,
            ListText = new Dress(FaceSet.Serif, 9.6, 13) { Alignment = Alignment.Justified, Hyphenates = true, Before = Half, After = Half },
            StepNumber = new Dress(FaceSet.SansStrong, 9, 13),
            ListHang = Length.Points(18),
            AdmonitionText = new Dress(FaceSet.Sans, 9.2, 12) { Before = Length.Points(9), After = Length.Points(9) },
            SignalWord = new Dress(FaceSet.Sans with { Plain = FaceLibrary.SansBold }, 8.6, 12, 0.43),
            SignalColumn = Length.Points(64),
            TableText = new Dress(FaceSet.Sans, 8.6, 11),
            TableHead = new Dress(FaceSet.SansStrong, 8.6, 11),
            Caption = new Dress(FaceSet.Sans, 8.4, 11),
            CaptionLabel = new Dress(FaceSet.SansStrong, 8.4, 11),
            ListingText = new Dress(FaceSet.Code_, 7.6, 10) { Before = Length.Points(9), After = Length.Points(9) },
            NoteText = new Dress(FaceSet.Serif, 8, 10) { Alignment = Alignment.Justified, Hyphenates = true },
            NoteRule = Length.Points(48),
            RunningHead = new Dress(FaceSet.Sans, 8, 10),
            Folio = new Dress(FaceSet.SansStrong, 8, 10),
            RunningHeadTop = Length.Points(36),
            OpeningFolioFoot = Length.Points(38),
            ContentsPart = new Dress(FaceSet.SansStrong, 9.6, 13) { Before = Grid },
            ContentsDivision = new Dress(FaceSet.SansStrong, 9.2, 13) { Before = Half },
            ContentsHead = new Dress(FaceSet.Serif, 9.2, 13),
            IndexText = new Dress(FaceSet.Serif, 8.4, 10.8),
            IndexGroup = new Dress(FaceSet.SansStrong, 8.8, 10.8) { Before = Length.Points(10.8) },
            IndexGutter = Length.Points(18),
            IndexIndent = Length.Points(9),
            ReferenceForms =
            [
                new ReferenceForm("name-number", "Name and number", "{name}\u00A0{number}"),
                new ReferenceForm("number", "Number", "{number}"),
                new ReferenceForm("title", "Title", "“{title}”"),
                new ReferenceForm("page", "Page", "page\u00A0{folio}"),
                new ReferenceForm("title-page", "Title and page", "“{title}” on page\u00A0{folio}"),
            ],
        };
    }
}

/// <summary>The looks that ship, by name.</summary>
public static class ShippedLooks
{
    public static readonly IReadOnlyList<Look> All = [WorkshopA5.Look];

    public static Look Named(string name) => All.FirstOrDefault(l => l.Name == name) ?? All[0];
}
