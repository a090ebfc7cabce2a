using Kivren.Core.Content;

namespace Kivren.Audit;

/// <summary>What a line of a contents list names: divisions of some kinds, or heads of a level, or what carries captions.</summary>
public sealed record ListedKind(string What, IReadOnlyList<DivisionKind>? Divisions = null, HeadLevel? Level = null, bool Named = false)
{
    public bool Numbered { get; init; } = true;
    public FolioPlace Folio { get; init; }

    /// <summary>Between title and folio.</summary>
    public string Separator { get; init; } = "";

    /// <summary>Lines of this kind stand in one paragraph, with dashes between.</summary>
    public bool RunsOn { get; init; }
}

/// <summary>A contents list: what it takes, and from how much of the manual.</summary>
public sealed record ListedList(IReadOnlyList<ListedKind> Kinds, ListScope Scope = ListScope.Manual)
{
    /// <summary>In the order of the titles: then each line is looked for wherever it stands.</summary>
    public bool Sorted { get; init; }
}

/// <summary>What a shipped look promises, written down a second time: the audit knows nothing of the looks that the engine
/// composes with, so that no mistake is shared.</summary>
public sealed record HouseRules
{
    public HeadLevel? NumberedTo { get; init; } = HeadLevel.A;
    public HeadLevel? RunIn { get; init; }
    public bool CountsThroughManual { get; init; }
    public bool Clauses { get; init; }
    public bool NotesInSeries { get; init; }
    public string Chapter { get; init; } = "Chapter";
    public string Appendix { get; init; } = "Appendix";
    public string Section { get; init; } = "Section";

    /// <summary>The opening prints the number alone where the kind has no name.</summary>
    public bool NumberInSide { get; init; }
    public bool BeginsOnRecto { get; init; }
    public bool NotesAtEnd { get; init; }

    /// <summary>Folios are roman in front, lettered in appendices; else decimal throughout.</summary>
    public bool MixedFolios { get; init; }

    /// <summary>Versos are headed by the division, rectos by the A head in force; else every page by the division.</summary>
    public bool SectionsOnRectos { get; init; }

    /// <summary>Running lines stand on a division's first page too.</summary>
    public bool HeadsOpenings { get; init; }

    /// <summary>Margins in points: the text's left on rectos and versos, its width, top and foot; with what hangs left of it.</summary>
    public double LeftRecto { get; init; }
    public double LeftVerso { get; init; }
    public double Width { get; init; }
    public double Top { get; init; }
    public double Foot { get; init; }
    public double Hangs { get; init; }
    public IReadOnlyDictionary<string, ListedList> Lists { get; init; } = new Dictionary<string, ListedList>();

    public string KindName(DivisionKind kind) =>
        kind switch
        {
            DivisionKind.Part => "Part",
            DivisionKind.Chapter => Chapter,
            DivisionKind.Appendix => Appendix,
            _ => "",
        };

    private static readonly IReadOnlyList<DivisionKind> Chapters = [DivisionKind.Chapter, DivisionKind.Appendix],
        Rest = [DivisionKind.Preface, DivisionKind.Glossary, DivisionKind.Index, DivisionKind.Colophon, DivisionKind.Contents];

    private static readonly HouseRules Workshop = new()
    {
        RunIn = HeadLevel.C,
        BeginsOnRecto = true,
        MixedFolios = true,
        SectionsOnRectos = true,
        LeftRecto = 64,
        LeftVerso = 51,
        Width = 304.53,
        Top = 64,
        Foot = 68,
        Lists = new Dictionary<string, ListedList>
        {
            ["contents"] = new([
                new("division", [DivisionKind.Part]),
                new("division", Chapters),
                new("division", Rest),
                new("head", Level: HeadLevel.A),
            ]),
            ["brief"] = new([new("division", [DivisionKind.Part]), new("division", Chapters)]),
            ["figures"] = new([new("Figure")]),
            ["tables"] = new([new("Table")]),
            ["listings"] = new([new("Listing")]),
            ["division"] = new([new("head", Level: HeadLevel.A)], ListScope.Division),
            ["part"] = new([new("division", [DivisionKind.Chapter])], ListScope.Part),
        },
    };

    private static readonly HouseRules Code = new()
    {
        NumberedTo = HeadLevel.C,
        CountsThroughManual = true,
        Clauses = true,
        NotesInSeries = true,
        Chapter = "",
        Appendix = "Annex",
        Section = "",
        NumberInSide = true,
        HeadsOpenings = true,
        LeftRecto = 170,
        LeftVerso = 170,
        Width = 363.28,
        Top = 92,
        Foot = 84,
        Hangs = 108,
        Lists = new Dictionary<string, ListedList>
        {
            ["contents"] = new([
                new("division", [DivisionKind.Chapter, DivisionKind.Glossary, DivisionKind.Part]),
                new("division", [DivisionKind.Appendix], Named: true),
                new("division", [DivisionKind.Preface, DivisionKind.Index, DivisionKind.Colophon]),
                new("head", Level: HeadLevel.A),
                new("head", Level: HeadLevel.B),
            ]),
            ["brief"] = new([
                new("division", [DivisionKind.Chapter, DivisionKind.Glossary, DivisionKind.Part]),
                new("division", [DivisionKind.Appendix], Named: true),
            ]),
            ["figures"] = new([new("Figure")]),
            ["tables"] = new([new("Table")]),
            ["listings"] = new([new("Listing")]),
            ["division"] = new([new("head", Level: HeadLevel.A)], ListScope.Division),
            ["part"] = new([new("division", [DivisionKind.Chapter])], ListScope.Part),
        },
    };

    private static readonly HouseRules Pocket = new()
    {
        NumberedTo = null,
        NotesAtEnd = true,
        LeftRecto = 34,
        LeftVerso = 28,
        Width = 235.64,
        Top = 36,
        Foot = 40,
        Lists = new Dictionary<string, ListedList>
        {
            ["contents"] = new([
                new("division", [DivisionKind.Part]),
                new("division", Chapters),
                new("division", [DivisionKind.Preface, DivisionKind.Glossary, DivisionKind.Index, DivisionKind.Colophon]),
            ]),
            ["brief"] = new([new("division", Chapters)]),
            ["figures"] = new([new("Figure")]),
            ["tables"] = new([new("Table")]),
            ["listings"] = new([new("Listing")]),
            ["division"] = new([new("head", Level: HeadLevel.A)], ListScope.Division),
            ["part"] = new([new("division", [DivisionKind.Chapter])], ListScope.Part),
        },
    };

    public static HouseRules Of(string look) =>
        look switch
        {
            "Workshop, A5" => Workshop,
            "Code, A4" => Code,
            "Pocket" => Pocket,
            _ => throw new ArgumentException($"There are no rules for a look “{look}”.", nameof(look)),
        };
}
