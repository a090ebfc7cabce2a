using Kivren.Core.Content;

namespace Kivren.Core.Looks;

/// <summary>A complete page design: what every role wears and how pages, numbers and lists are made.</summary>
public sealed record Look(string Name)
{
    public required PageMaster Master { get; init; }
    public required Dress Body { get; init; }

    /// <summary>Paragraph roles other than body, by name.</summary>
    public required IReadOnlyDictionary<string, Dress> Paragraphs { get; init; }

    /// <summary>Dress of A to D heads, in order.</summary>
    public required IReadOnlyList<Dress> Heads { get; init; }

    /// <summary>Heads of this level and above carry numbers.</summary>
    public HeadLevel NumberedTo { get; init; } = HeadLevel.A;

    /// <summary>Heads of this level are set into the paragraph that follows; null for none.</summary>
    public HeadLevel? RunIn { get; init; }

    /// <summary>The contents list goes down to heads of this level.</summary>
    public HeadLevel ContentsTo { get; init; } = HeadLevel.A;
    public required Dress DivisionLabel { get; init; }
    public required Dress DivisionTitle { get; init; }

    /// <summary>How far an opening is sunk below the top of the text, and the space after its title.</summary>
    public required Length Sink { get; init; }
    public required Length AfterTitle { get; init; }
    public required Dress ListText { get; init; }
    public required Dress StepNumber { get; init; }
    public required Length ListHang { get; init; }
    public required Dress AdmonitionText { get; init; }
    public required Dress SignalWord { get; init; }
    public required Length SignalColumn { get; init; }
    public required Dress TableText { get; init; }
    public required Dress TableHead { get; init; }
    public required Dress Caption { get; init; }
    public required Dress CaptionLabel { get; init; }
    public required Dress ListingText { get; init; }
    public required Dress NoteText { get; init; }
    public required Length NoteRule { get; init; }
    public required Dress RunningHead { get; init; }
    public required Dress Folio { get; init; }
    public required Length RunningHeadTop { get; init; }
    public required Length OpeningFolioFoot { get; init; }
    public required Dress ContentsPart { get; init; }
    public required Dress ContentsDivision { get; init; }
    public required Dress ContentsHead { get; init; }
    public required Dress IndexText { get; init; }
    public required Dress IndexGroup { get; init; }
    public required Length IndexGutter { get; init; }
    public required Length IndexIndent { get; init; }
    public required IReadOnlyList<ReferenceForm> ReferenceForms { get; init; }

    /// <summary>A last page of a division has at least this many lines.</summary>
    public int LastPageLines { get; init; } = 5;

    public Dress HeadDress(HeadLevel level) => Heads[(int)level - 1];

    public Dress ParagraphDress(string role) => Paragraphs.TryGetValue(role, out var dress) ? dress : Body;

    public ReferenceForm Form(string name) => ReferenceForms.FirstOrDefault(f => f.Name == name) ?? ReferenceForms[0];

    public static string KindName(DivisionKind kind) => kind switch
    {
        DivisionKind.Part => "Part",
        DivisionKind.Chapter => "Chapter",
        DivisionKind.Appendix => "Appendix",
        _ => "",
    };
}
