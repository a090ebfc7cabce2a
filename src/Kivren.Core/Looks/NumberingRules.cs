using Kivren.Core.Content;

namespace Kivren.Core.Looks;

/// <summary>Within what numbers count.</summary>
public enum CountScope
{
    Division,
    Part,
    Manual,
    Page,
}

/// <summary>The signs that a kind of division is counted in.</summary>
public enum NumberSigns
{
    Decimal,
    RomanCapitals,
    Letters,
    None,
}

/// <summary>What carries numbers and how they run (composition.md 6).</summary>
public sealed record NumberingRules
{
    /// <summary>Heads of this level and above carry numbers; null for none.</summary>
    public HeadLevel? HeadsTo { get; init; } = HeadLevel.A;

    /// <summary>Figures, tables, listings, equations, examples; the number of what they count by stands before theirs, with this sign
    /// between.</summary>
    public CountScope CaptionsBy { get; init; }
    public string CaptionSign { get; init; } = "-";

    /// <summary>Between the number of a division and that of its heads, of heads and their clauses.</summary>
    public string HeadSign { get; init; } = ".";
    public NumberSigns Parts { get; init; } = NumberSigns.RomanCapitals;
    public NumberSigns Chapters { get; init; } = NumberSigns.Decimal;
    public NumberSigns Appendices { get; init; } = NumberSigns.Letters;

    /// <summary>Chapters begin at 1 again in each part.</summary>
    public bool ChaptersByPart { get; init; }
    public CountScope NotesBy { get; init; }

    /// <summary>Body paragraphs after the first head carry numbers below that of their head.</summary>
    public bool Clauses { get; init; }

    /// <summary>Notes alone are NOTE, several in a run NOTE 1, NOTE 2.</summary>
    public bool NotesInSeries { get; init; }
    public bool Glossary { get; init; }

    /// <summary>An appendix without others still has its letter.</summary>
    public bool LoneAppendixLettered { get; init; } = true;

    /// <summary>What divisions are called before their number; "" sets the number alone.</summary>
    public string Part { get; init; } = "Part";
    public string Chapter { get; init; } = "Chapter";
    public string Appendix { get; init; } = "Appendix";

    /// <summary>What a head is called in references.</summary>
    public string Section { get; init; } = "Section";

    public string KindName(DivisionKind kind) =>
        kind switch
        {
            DivisionKind.Part => Part,
            DivisionKind.Chapter => Chapter,
            DivisionKind.Appendix => Appendix,
            _ => "",
        };
}
