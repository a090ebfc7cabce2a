using Kivren.Core.Content;
using Kivren.Core.Numbering;
using Kivren.Core.Type;

namespace Kivren.Core.Looks;

/// <summary>Code, A4: for standards, codes and rules. Clauses are numbered to the paragraph, their numbers hung in a side
/// column; divisions run on.</summary>
public static class CodeA4
{
    public static readonly Look Look = Make();

    private static Look Make()
    {
        var gap = Length.Points(7);
        var running = new Dress(FaceSet.Sans, 8.4, 11);
        var designation = new Dress(FaceSet.SansStrong, 8.4, 11);
        var line = new Dress(FaceSet.Sans, 9.6, 14, features: Features.Tabular);
        IReadOnlyList<RunningField> every =
        [
            new(PageEdge.Head, FieldPlace.Inner, "{designation}\u2002{manual}", running),
            new(PageEdge.Head, FieldPlace.Outer, "{division}", running),
            new(PageEdge.Foot, FieldPlace.Inner, "{variable:issue}", running),
            new(PageEdge.Foot, FieldPlace.Outer, "Page {folio} of {total}", running),
        ];
        PageSequence Sequence(Begins begins) => new("all", begins, FolioFormat.Decimal, FolioCount.Continues);
        return new Look("Code, A4")
        {
            Master = new PageMaster(
                Length.Millimetres(210),
                Length.Millimetres(297),
                Length.Points(62),
                Length.Points(62),
                Length.Points(92),
                Length.Points(84)
            )
            {
                Mirrored = false,
                SideColumn = Length.Points(96),
                SideGap = Length.Points(12),
            },
            Sequences = new Dictionary<DivisionKind, PageSequence>
            {
                [DivisionKind.HalfTitle] = Sequence(Begins.NewPage) with { Furniture = false, Opens = false },
                [DivisionKind.TitlePage] = Sequence(Begins.NewPage) with { Furniture = false, Opens = false },
                [DivisionKind.Legal] = Sequence(Begins.NewPage) with { Furniture = false, Opens = false },
                [DivisionKind.Contents] = Sequence(Begins.NewPage),
                [DivisionKind.Preface] = Sequence(Begins.NewPage),
                [DivisionKind.Part] = Sequence(Begins.NewPage),
                [DivisionKind.Chapter] = Sequence(Begins.RunsOn),
                [DivisionKind.Appendix] = Sequence(Begins.NewPage),
                [DivisionKind.Glossary] = Sequence(Begins.RunsOn),
                [DivisionKind.Index] = Sequence(Begins.NewPage),
                [DivisionKind.Colophon] = Sequence(Begins.NewPage),
            },
            Running = new RunningLines
            {
                First = every,
                Verso = every,
                Recto = every,
                HeadTop = Length.Points(44),
                FootBaseline = Length.Points(44),
                FootRuleGap = Length.Points(6),
            },
            Blank = new BlankPage("This page is intentionally left blank", running),
            Dresses =
            [
                new("body", new Dress(FaceSet.Serif, 10.2, 14) { After = gap }),
                new("lead", new Dress(FaceSet.Serif, 10.2, 14) { After = gap }),
                new("quotation", new Dress(FaceSet.SerifItalic, 10.2, 14) { Left = Length.Points(13), After = gap }),
                new("title", new Dress(FaceSet.SansStrong, 28, 34) { Before = Length.Points(120), After = Length.Points(13) }),
                new("subtitle", new Dress(FaceSet.Sans, 14, 20) { After = Length.Points(13) }),
                new("imprint", new Dress(FaceSet.Sans, 9, 13) { Before = gap }),
                new("clause", new Dress(FaceSet.Sans, 9.4, 14, features: Features.Tabular)),
            ],
            Heads =
            [
                new Dress(FaceSet.SansStrong, 11.6, 14) { Before = Length.Points(14), After = Length.Points(4) },
                new Dress(FaceSet.SansStrong, 10.2, 14) { Before = Length.Points(10), After = Length.Points(3) },
                new Dress(FaceSet.SansStrong, 10.2, 14) { Before = Length.Points(7), After = Length.Points(3) },
                new Dress(FaceSet.SerifItalic, 10.2, 14) { Before = Length.Points(7) },
            ],
            NumbersInSide = true,
            Numbering = new NumberingRules
            {
                HeadsTo = HeadLevel.C,
                CaptionsBy = CountScope.Manual,
                NotesBy = CountScope.Manual,
                Clauses = true,
                NotesInSeries = true,
                Glossary = true,
                Chapter = "",
                Appendix = "Annex",
                Section = "",
            },
            DivisionLabel = new Dress(FaceSet.SansStrong, 17, 21),
            DivisionTitle = new Dress(FaceSet.SansStrong, 17, 21) { Before = Length.Points(26) },
            Sink = default,
            AfterTitle = Length.Points(13),
            ListText = new Dress(FaceSet.Serif, 10.2, 14) { After = gap },
            StepNumber = new Dress(FaceSet.Serif, 10.2, 14),
            ListHang = Length.Points(20),
            ItemGap = gap,
            AdmonitionText = new Dress(FaceSet.Sans, 8.8, 12) { After = gap },
            SignalWord = new Dress(FaceSet.Sans with { Plain = FaceLibrary.SansBold }, 8.2, 12, 0.3),
            Signal = SignalPlace.Series,
            SignalColumn = Length.Points(44),
            AsideText = new Dress(FaceSet.Sans, 9, 12) { Before = Length.Points(13), After = Length.Points(13) },
            AsideBeside = Length.Points(132),
            AsideTitle = new Dress(FaceSet.SansStrong, 10.2, 14) { After = Length.Points(3) },
            Table = new TableDress(new Dress(FaceSet.Sans, 9, 12, features: Features.Tabular), new Dress(FaceSet.SansStrong, 9, 12))
            {
                ColumnGap = Length.Points(12),
            },
            Caption = new Dress(FaceSet.Sans, 9, 12),
            CaptionLabel = new Dress(FaceSet.SansStrong, 9, 12),
            FigureRule = false,
            ListingText = new Dress(FaceSet.Code_, 8.4, 11) { Before = Length.Points(9), After = Length.Points(9) },
            NoteText = new Dress(FaceSet.Serif, 8.4, 11),
            NoteRule = Length.Points(48),
            Term = new Dress(FaceSet.SansStrong, 9.8, 14),
            Lists =
            [
                new(
                    "contents",
                    ListScope.Manual,
                    [
                        new(
                            TargetKind.Division,
                            new Dress(FaceSet.SansStrong, 9.6, 14, features: Features.Tabular) { Before = Length.Points(3) }
                        )
                        {
                            NumberColumn = Length.Points(26),
                            Divisions = [DivisionKind.Chapter, DivisionKind.Glossary, DivisionKind.Part],
                        },
                        new(
                            TargetKind.Division,
                            new Dress(FaceSet.SansStrong, 9.6, 14, features: Features.Tabular) { Before = Length.Points(3) }
                        )
                        {
                            Named = true,
                            Divisions = [DivisionKind.Appendix],
                        },
                        new(
                            TargetKind.Division,
                            new Dress(FaceSet.SansStrong, 9.6, 14, features: Features.Tabular) { Before = Length.Points(3) }
                        )
                        {
                            Divisions = [DivisionKind.Preface, DivisionKind.Index, DivisionKind.Colophon],
                        },
                        new(TargetKind.Head, line) { Level = HeadLevel.A, NumberColumn = Length.Points(26) },
                        new(TargetKind.Head, line)
                        {
                            Level = HeadLevel.B,
                            Indent = Length.Points(26),
                            NumberColumn = Length.Points(34),
                        },
                    ]
                ),
                new(
                    "brief",
                    ListScope.Manual,
                    [
                        new(TargetKind.Division, line)
                        {
                            NumberColumn = Length.Points(26),
                            Divisions = [DivisionKind.Chapter, DivisionKind.Glossary, DivisionKind.Part],
                        },
                        new(TargetKind.Division, line) { Named = true, Divisions = [DivisionKind.Appendix] },
                    ]
                ),
                new("figures", ListScope.Manual, [new(TargetKind.Figure, line) { NumberColumn = Length.Points(26) }]),
                new("tables", ListScope.Manual, [new(TargetKind.Table, line) { NumberColumn = Length.Points(26) }]),
                new("listings", ListScope.Manual, [new(TargetKind.Listing, line) { NumberColumn = Length.Points(26) }]),
                new("division", ListScope.Division, [new(TargetKind.Head, line) { Level = HeadLevel.A, NumberColumn = Length.Points(26) }]),
                new(
                    "part",
                    ListScope.Part,
                    [new(TargetKind.Division, line) { Divisions = [DivisionKind.Chapter], NumberColumn = Length.Points(26) }]
                ),
            ],
            Index = new IndexDefinition(
                new Dress(FaceSet.Serif, 9, 12, features: Features.Tabular),
                new Dress(FaceSet.SansStrong, 9.4, 12) { Before = Length.Points(12) }
            )
            {
                Gutter = Length.Points(20),
                Indent = Length.Points(10),
                RunIn = true,
                Elision = Elision.Whole,
            },
            ReferenceForms = ReferenceForm.Usual,
        };
    }
}
