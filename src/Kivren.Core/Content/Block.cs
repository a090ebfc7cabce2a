namespace Kivren.Core.Content;

/// <summary>A block of a division. Every block has an identity at every depth.</summary>
public abstract record Block(Id Id)
{
    public AppliesTo AppliesTo { get; init; } = AppliesTo.Always;

    /// <summary>A role of the manual's own, founded on what this block is; null for none.</summary>
    public string? OwnRole { get; init; }

    /// <summary>The pattern that this block comes from and is fixed by: it changes only there. Null for the writer's own text.</summary>
    public string? FixedBy { get; init; }
}

/// <summary>Text in one of the paragraph roles: body, lead, quotation, title, subtitle, imprint, result.</summary>
public sealed record Paragraph(Id Id, string Role, IReadOnlyList<Inline> Content) : Block(Id)
{
    /// <summary>Index entries, anchors and notes among writers, and no words: it makes no line, and takes no number.</summary>
    public bool IsMarksAlone =>
        Content.Count > 0 && Content.All(i => i is IndexEntry or Anchor or WriterNote or TextRun { Text.Length: 0 });

    /// <summary>All of its words are strong: on one line it reads as a head of what follows.</summary>
    public bool IsBold =>
        Content.OfType<TextRun>().Any(r => r.Text.Trim().Length > 0)
        && Content.OfType<TextRun>().All(r => r.Roles.HasFlag(SpanRoles.Strong) || r.Text.Trim().Length == 0);
}

public enum HeadLevel
{
    A = 1,
    B,
    C,
    D,
}

public enum Listed
{
    ByLook,
    Always,
    Never,
}

public sealed record Head(Id Id, HeadLevel Level, IReadOnlyList<Inline> Content) : Block(Id)
{
    public string? ShortTitle { get; init; }
    public bool Numbered { get; init; } = true;
    public Listed Listed { get; init; }

    /// <summary>False for a head whose words are drawn in a picture: it counts, is listed and referred to, and prints
    /// nothing where it stands.</summary>
    public bool Printed { get; init; } = true;
}

public enum AdmonitionKind
{
    Danger,
    Warning,
    Caution,
    Notice,
    Note,
    Tip,
}

public sealed record Admonition(Id Id, AdmonitionKind Kind, IReadOnlyList<Block> Blocks) : Block(Id);

/// <summary>Whether a boxed text folds open on screens, and what of it is printed.</summary>
public enum Folding
{
    No,

    /// <summary>Printed open.</summary>
    Open,

    /// <summary>Of it only the title is printed.</summary>
    Title,
}

/// <summary>A boxed text beside the argument.</summary>
public sealed record Aside(Id Id, IReadOnlyList<Inline> Title, IReadOnlyList<Block> Blocks) : Block(Id)
{
    public Folding Folds { get; init; }
}

/// <summary>A formal example: numbered, with a title.</summary>
public sealed record Example(Id Id, IReadOnlyList<Inline> Title, IReadOnlyList<Block> Blocks) : Block(Id);

public enum FigurePlacement
{
    Here,
    Top,
    Foot,
    OwnPage,
}

/// <summary>A picture with caption and alternative text; <paramref name="Asset"/> names a file of the manual.</summary>
public sealed record Figure(Id Id, string Asset, IReadOnlyList<Inline> Caption, string Alternative) : Block(Id)
{
    /// <summary>It has words of its own, and with them a number: without, it is a picture in the text.</summary>
    public bool IsCaptioned => Caption.Any(i => i is not FigureArea);

    public FigurePlacement Placement { get; init; }

    /// <summary>Width in hundredths of the measure.</summary>
    public int Width { get; init; } = 100;

    /// <summary>The web address of the film or sound that this picture stands for: screens play it, print shows the picture and says
    /// the address. Null for a picture alone.</summary>
    public string? Plays { get; init; }
}

/// <summary>Lines of program text or a terminal's output.</summary>
public sealed record Listing(Id Id, string Language, string Text, IReadOnlyList<Inline> Caption) : Block(Id)
{
    public bool LineNumbers { get; init; }

    /// <summary>Lines set apart, counted from 1.</summary>
    public IReadOnlyList<int> Marked { get; init; } = [];
}

/// <summary>A displayed equation in the linear notation of docs/equations.md.</summary>
public sealed record Equation(Id Id, string Source, string Alternative) : Block(Id)
{
    public bool Numbered { get; init; } = true;
}

/// <summary>A generated list; never typed. <paramref name="List"/> names a definition of the look: contents, brief,
/// figures, tables, listings, division.</summary>
public sealed record ContentsList(Id Id, string List = "contents") : Block(Id);

/// <summary>The generated index; never typed.</summary>
public sealed record IndexList(Id Id) : Block(Id);

public enum BreakTo
{
    Page,
    Recto,
    Verso,
    Column,
}

public sealed record PageBreak(Id Id, BreakTo To = BreakTo.Page) : Block(Id);

/// <summary>A use of a passage: its blocks are composed here, under the path of this use.</summary>
public sealed record PassageUse(Id Id, string Passage) : Block(Id);
