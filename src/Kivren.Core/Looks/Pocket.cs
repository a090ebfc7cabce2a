using Kivren.Core.Content;
using Kivren.Core.Numbering;
using Kivren.Core.Type;

namespace Kivren.Core.Looks;

/// <summary>Pocket, 105 × 148 mm: for what is carried in a pocket and read with one hand.</summary>
public static class Pocket
{
    public static readonly Look Look = Make();

    private static Dress Ragged(FaceSet faces, double size, double leading, double before = 0, double after = 0) =>
        new(faces, size, leading)
        {
            Hyphenates = true,
            Before = Length.Points(before),
            After = Length.Points(after),
        };

    private static Look Make()
    {
        var running = new Dress(FaceSet.Sans, 7.4, 9);
        var folio = new Dress(FaceSet.SansStrong, 7.4, 9);
        IReadOnlyList<RunningField> every =
        [
            new(PageEdge.Foot, FieldPlace.Outer, "{folio}", folio),
            new(PageEdge.Foot, FieldPlace.Inner, "{division}", running),
        ];
        PageSequence Sequence() => new("all", Begins.NewPage, FolioFormat.Decimal, FolioCount.Continues);
        var bare = Sequence() with { Furniture = false, Opens = false };
        var line = new Dress(FaceSet.Sans, 8.4, 11, features: Features.Tabular) { Before = Length.Points(2) };
        return new Look("Pocket")
        {
            Master = new PageMaster(
                Length.Millimetres(105),
                Length.Millimetres(148),
                Length.Points(34),
                Length.Points(28),
                Length.Points(36),
                Length.Points(40)
            ),
            Sequences = Enum.GetValues<DivisionKind>()
                .ToDictionary(k => k, k => k is DivisionKind.HalfTitle or DivisionKind.TitlePage or DivisionKind.Legal ? bare : Sequence()),
            Running = new RunningLines
            {
                First = [new(PageEdge.Foot, FieldPlace.Outer, "{folio}", folio)],
                Verso = every,
                Recto = every,
                HeadTop = Length.Points(18),
                FootBaseline = Length.Points(20),
            },
            LastPageLines = 3,
            Dresses =
            [
                new("body", Ragged(FaceSet.Sans, 8.4, 11, 0, 3)),
                new("lead", Ragged(FaceSet.Sans, 8.4, 11, 0, 4)),
                new("quotation", Ragged(FaceSet.Sans with { Plain = FaceLibrary.SansItalic }, 8.4, 11, 4, 4)),
                new("title", new Dress(FaceSet.SansStrong, 19, 23) { Before = Length.Points(52), After = Length.Points(9) }),
                new("subtitle", new Dress(FaceSet.Sans, 10.5, 13) { After = Length.Points(9) }),
                new("imprint", new Dress(FaceSet.Sans, 7.4, 9) { Before = Length.Points(4) }),
            ],
            Heads =
            [
                new Dress(FaceSet.SansStrong, 10.5, 13) { Before = Length.Points(11), After = Length.Points(3) },
                new Dress(FaceSet.SansStrong, 8.8, 11) { Before = Length.Points(7) },
                new Dress(FaceSet.Sans with { Plain = FaceLibrary.SansItalic }, 8.4, 11) { Before = Length.Points(4) },
                new Dress(FaceSet.Sans with { Plain = FaceLibrary.SansItalic }, 8.4, 11) { Before = Length.Points(4) },
            ],
            Numbering = new NumberingRules { HeadsTo = null },
            DivisionLabel = new Dress(FaceSet.Sans, 8.4, 11) { After = Length.Points(3) },
            DivisionTitle = new Dress(FaceSet.SansStrong, 15, 18),
            Sink = default,
            AfterTitle = Length.Points(11),
            ListText = Ragged(FaceSet.Sans, 7.8, 10.2, 4, 4),
            StepNumber = new Dress(FaceSet.SansStrong, 7.8, 10.2, features: Features.Tabular),
            ListHang = Length.Points(14),
            ItemGap = Length.Points(2),
            AdmonitionText = new Dress(FaceSet.Sans, 8, 10.4) { Before = Length.Points(6), After = Length.Points(6) },
            SignalWord = new Dress(FaceSet.Sans with { Plain = FaceLibrary.SansBold }, 7.8, 10.4, 0.4),
            Signal = SignalPlace.OwnLine,
            AsideText = new Dress(FaceSet.Sans, 7.8, 10.2) { Before = Length.Points(6), After = Length.Points(6) },
            AsideTitle = new Dress(FaceSet.SansStrong, 8.4, 11),
            Table = new TableDress(new Dress(FaceSet.Sans, 7.6, 9.6, features: Features.Tabular), new Dress(FaceSet.SansStrong, 7.6, 9.6))
            {
                BetweenRows = Length.Points(.25),
                Above = Length.Points(2.4),
                Below = Length.Points(2.6),
            },
            Caption = new Dress(FaceSet.Sans, 7.4, 9.6),
            CaptionLabel = new Dress(FaceSet.SansStrong, 7.4, 9.6),
            ListingText = new Dress(FaceSet.Code_, 6.4, 8.4) { Before = Length.Points(6), After = Length.Points(6) },
            NoteText = Ragged(FaceSet.Sans, 7.4, 9.4),
            NoteRule = Length.Points(36),
            Notes = NotePlace.EndOfDivision,
            Term = new Dress(FaceSet.SansStrong, 8, 11),
            EquationIndent = Length.Points(14),
            Lists =
            [
                new(
                    "contents",
                    ListScope.Manual,
                    [
                        new(TargetKind.Division, new Dress(FaceSet.SansStrong, 8.4, 11) { Before = Length.Points(7) })
                        {
                            Divisions = [DivisionKind.Part],
                            Leader = false,
                            LeadsOn = true,
                        },
                        new(TargetKind.Division, line)
                        {
                            Divisions = [DivisionKind.Chapter, DivisionKind.Appendix],
                            NumberColumn = Length.Points(16),
                        },
                        new(TargetKind.Division, line)
                        {
                            Divisions = [DivisionKind.Preface, DivisionKind.Glossary, DivisionKind.Index, DivisionKind.Colophon],
                        },
                    ]
                )
                {
                    FolioColumn = Length.Points(22),
                },
                new(
                    "brief",
                    ListScope.Manual,
                    [
                        new(TargetKind.Division, line)
                        {
                            Divisions = [DivisionKind.Chapter, DivisionKind.Appendix],
                            NumberColumn = Length.Points(16),
                        },
                    ]
                )
                {
                    FolioColumn = Length.Points(22),
                },
                new("figures", ListScope.Manual, [new(TargetKind.Figure, line) { NumberColumn = Length.Points(24) }]),
                new("tables", ListScope.Manual, [new(TargetKind.Table, line) { NumberColumn = Length.Points(24) }]),
                new("listings", ListScope.Manual, [new(TargetKind.Listing, line) { NumberColumn = Length.Points(24) }]),
                new("division", ListScope.Division, [new(TargetKind.Head, line) { Level = HeadLevel.A }]),
                new(
                    "part",
                    ListScope.Part,
                    [new(TargetKind.Division, line) { Divisions = [DivisionKind.Chapter], NumberColumn = Length.Points(16) }]
                ),
            ],
            Index = new IndexDefinition(
                new Dress(FaceSet.Sans, 7.6, 9.6, features: Features.Tabular),
                new Dress(FaceSet.SansStrong, 8, 9.6) { Before = Length.Points(7) }
            )
            {
                Columns = 1,
                Indent = Length.Points(8),
                Elision = Elision.Changed,
            },
            ReferenceForms = ReferenceForm.Usual,
        };
    }
}
