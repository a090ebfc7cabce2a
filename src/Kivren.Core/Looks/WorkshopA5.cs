using Kivren.Core.Content;
using Kivren.Core.Numbering;
using Kivren.Core.Type;

namespace Kivren.Core.Looks;

/// <summary>Workshop, A5: for operating and maintenance manuals. One grid of 13 points for text, heads and spaces.</summary>
public static class WorkshopA5
{
    private static readonly Length Grid = Length.Points(13);
    private static readonly Length Half = Length.Points(6.5);

    public static readonly Look Look = Make();

    /// <summary>A bar from the text's left edge that bleeds off the outer edge.</summary>
    private static Artwork Bar(double y) => new(Length.Points(64), Length.Points(y), Length.Points(364), Length.Points(7));

    private static Dress Justified(
        FaceSet faces,
        double size,
        double leading,
        Length before = default,
        Length after = default,
        Length left = default,
        Length indent = default
    ) =>
        new(faces, size, leading)
        {
            Alignment = Alignment.Justified,
            Hyphenates = true,
            Before = before,
            After = after,
            Left = left,
            FirstIndent = indent,
        };

    private static Look Make()
    {
        var list = Justified(FaceSet.Serif, 9.6, 13, Half, Half);
        var listSmall = Justified(FaceSet.Serif, 9, 12, Half, Half);
        var folio = new Dress(FaceSet.SansStrong, 8, 10);
        var running = new Dress(FaceSet.Sans, 8, 10);
        var contentsHead = new Dress(FaceSet.Serif, 9.2, 13, features: Features.Tabular);
        var contentsDivision = new Dress(FaceSet.SansStrong, 9.2, 13) { Before = Half };
        var listed = new Dress(FaceSet.Serif, 9.2, 13, features: Features.Tabular) { Before = Length.Points(2) };
        return new Look("Workshop, A5")
        {
            Master = new PageMaster(
                Length.Millimetres(148),
                Length.Millimetres(210),
                Length.Points(64),
                Length.Points(51),
                Length.Points(64),
                Length.Points(68)
            ),
            Sequences = new Dictionary<DivisionKind, PageSequence>
            {
                [DivisionKind.HalfTitle] = new("front", Begins.Recto, FolioFormat.Roman, FolioCount.Restarts)
                {
                    Furniture = false,
                    Opens = false,
                },
                [DivisionKind.TitlePage] = new("front", Begins.Recto, FolioFormat.Roman, FolioCount.Restarts)
                {
                    Furniture = false,
                    Opens = false,
                    Artwork = [Bar(44)],
                },
                [DivisionKind.Legal] = new("front", Begins.NewPage, FolioFormat.Roman, FolioCount.Restarts)
                {
                    Furniture = false,
                    Opens = false,
                },
                [DivisionKind.Contents] = new("front", Begins.Recto, FolioFormat.Roman, FolioCount.Restarts),
                [DivisionKind.Preface] = new("front", Begins.Recto, FolioFormat.Roman, FolioCount.Restarts),
                [DivisionKind.Part] = new("body", Begins.Recto, FolioFormat.Decimal, FolioCount.Through)
                {
                    Artwork = [Bar(200) with { On = ArtworkOn.Opening }],
                },
                [DivisionKind.Chapter] = new("body", Begins.Recto, FolioFormat.Decimal, FolioCount.Through),
                [DivisionKind.Appendix] = new("appendices", Begins.Recto, FolioFormat.ByDivision, FolioCount.EachDivision),
                [DivisionKind.Glossary] = new("body", Begins.Recto, FolioFormat.Decimal, FolioCount.Through),
                [DivisionKind.Index] = new("body", Begins.Recto, FolioFormat.Decimal, FolioCount.Through),
                [DivisionKind.Colophon] = new("body", Begins.Recto, FolioFormat.Decimal, FolioCount.Through),
            },
            Running = new RunningLines
            {
                First = [new(PageEdge.Foot, FieldPlace.Outer, "{folio}", folio)],
                Verso =
                [
                    new(PageEdge.Head, FieldPlace.Outer, "{folio}", folio),
                    new(PageEdge.Head, FieldPlace.Inner, "{division}", running),
                ],
                Recto =
                [
                    new(PageEdge.Head, FieldPlace.Inner, "{section}", running),
                    new(PageEdge.Head, FieldPlace.Outer, "{folio}", folio),
                ],
                HeadTop = Length.Points(36),
                FootBaseline = Length.Points(38),
                HeadRuleGap = Length.Points(3.5),
            },
            LevelFacing = true,
            Dresses =
            [
                new("body", Justified(FaceSet.Serif, 9.6, 13, indent: Grid)),
                new("lead", Justified(FaceSet.Serif, 9.6, 13, after: Half)),
                new("quotation", Justified(FaceSet.SerifItalic, 9.6, 13, Half, Half, Grid)),
                new("title", new Dress(FaceSet.SansStrong, 26, 32.5) { After = Grid, Before = Grid * 8 }),
                new("subtitle", new Dress(FaceSet.Sans, 13.5, 19.5) { After = Grid }),
                new("imprint", new Dress(FaceSet.Sans, 8.6, 13) { Before = Half }),
                new("result", Justified(FaceSet.SerifItalic, 9.6, 13), "list"),
                new("bullet", list),
                new("bullet", listSmall, Division: DivisionKind.Appendix),
                new("body", listSmall, "list", DivisionKind.Appendix),
            ],
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
            ListText = list,
            StepNumber = new Dress(FaceSet.SansStrong, 9, 13, features: Features.Tabular),
            ListHang = Length.Points(18),
            AdmonitionText = new Dress(FaceSet.Sans, 9.2, 12) { Before = Length.Points(9), After = Length.Points(9) },
            SignalWord = new Dress(FaceSet.Sans with { Plain = FaceLibrary.SansBold }, 8.6, 12, 0.43),
            SignalColumn = Length.Points(64),
            AsideText = new Dress(FaceSet.Sans, 8.8, 12) { Before = Grid, After = Grid },
            AsideTitle = new Dress(FaceSet.SansStrong, 9.6, 13) { After = Length.Points(3) },
            Table = new TableDress(new Dress(FaceSet.Sans, 8.6, 11, features: Features.Tabular), new Dress(FaceSet.SansStrong, 8.6, 11))
            {
                BetweenRows = Length.Points(.25),
                ColumnGap = Length.Points(9),
            },
            Caption = new Dress(FaceSet.Sans, 8.4, 11),
            CaptionLabel = new Dress(FaceSet.SansStrong, 8.4, 11),
            ListingText = new Dress(FaceSet.Code_, 7.6, 10) { Before = Length.Points(9), After = Length.Points(9) },
            NoteText = Justified(FaceSet.Serif, 8, 10),
            NoteRule = Length.Points(48),
            Term = new Dress(FaceSet.SansStrong, 9.2, 13),
            Lists =
            [
                new(
                    "contents",
                    ListScope.Manual,
                    [
                        new(TargetKind.Division, new Dress(FaceSet.SansStrong, 9.6, 13) { Before = Grid })
                        {
                            Divisions = [DivisionKind.Part],
                            NumberColumn = Length.Points(24),
                            Leader = false,
                            LeadsOn = true,
                        },
                        new(TargetKind.Division, contentsDivision)
                        {
                            Divisions = [DivisionKind.Chapter, DivisionKind.Appendix],
                            NumberColumn = Length.Points(18),
                            LeadsOn = true,
                        },
                        new(TargetKind.Division, contentsDivision)
                        {
                            Divisions =
                            [
                                DivisionKind.Preface,
                                DivisionKind.Glossary,
                                DivisionKind.Index,
                                DivisionKind.Colophon,
                                DivisionKind.Contents,
                            ],
                        },
                        new(TargetKind.Head, contentsHead)
                        {
                            Level = HeadLevel.A,
                            Indent = Length.Points(18),
                            NumberColumn = Length.Points(24),
                        },
                    ]
                ),
                new(
                    "brief",
                    ListScope.Manual,
                    [
                        new(TargetKind.Division, contentsDivision)
                        {
                            Divisions = [DivisionKind.Part],
                            NumberColumn = Length.Points(24),
                            Leader = false,
                            LeadsOn = true,
                        },
                        new(TargetKind.Division, contentsHead)
                        {
                            Divisions = [DivisionKind.Chapter, DivisionKind.Appendix],
                            NumberColumn = Length.Points(24),
                        },
                    ]
                ),
                new("figures", ListScope.Manual, [new(TargetKind.Figure, listed) { NumberColumn = Length.Points(30) }]),
                new("tables", ListScope.Manual, [new(TargetKind.Table, listed) { NumberColumn = Length.Points(30) }]),
                new("listings", ListScope.Manual, [new(TargetKind.Listing, listed) { NumberColumn = Length.Points(30) }]),
                new(
                    "division",
                    ListScope.Division,
                    [new(TargetKind.Head, contentsHead) { Level = HeadLevel.A, NumberColumn = Length.Points(24) }]
                ),
                new(
                    "part",
                    ListScope.Part,
                    [new(TargetKind.Division, contentsHead) { Divisions = [DivisionKind.Chapter], NumberColumn = Length.Points(24) }]
                ),
            ],
            Index = new IndexDefinition(
                new Dress(FaceSet.Serif, 8.4, 10.8, features: Features.Tabular),
                new Dress(FaceSet.SansStrong, 8.8, 10.8) { Before = Length.Points(10.8) }
            )
            {
                Gutter = Length.Points(18),
                Indent = Length.Points(9),
            },
            ReferenceForms = ReferenceForm.Usual,
        };
    }
}

/// <summary>The looks that ship, by name.</summary>
public static class ShippedLooks
{
    public static readonly IReadOnlyList<Look> All = [WorkshopA5.Look, CodeA4.Look, Pocket.Look];

    /// <exception cref="ArgumentException">there is no such look: never another in its place</exception>
    public static Look Named(string name) =>
        All.FirstOrDefault(l => l.Name == name)
        ?? throw new ArgumentException($"There is no look “{name}”; there are {string.Join("; ", All.Select(l => l.Name))}.", nameof(name));
}
