namespace Kivren.Core.Content;

/// <summary>A block of a division. Every block has an identity at every depth.</summary>
public abstract record Block(Id Id)
{
    public AppliesTo AppliesTo { get; init; } = AppliesTo.Always;
}

/// <summary>Text in one of the paragraph roles: body, lead, quotation, title, subtitle, imprint.</summary>
public sealed record Paragraph(Id Id, string Role, IReadOnlyList<Inline> Content) : Block(Id);

public enum HeadLevel { A = 1, B, C, D }
public enum Listed { ByLook, Always, Never }

public sealed record Head(Id Id, HeadLevel Level, IReadOnlyList<Inline> Content) : Block(Id)
{
    public string? ShortTitle { get; init; }
    public bool Numbered { get; init; } = true;
    public Listed Listed { get; init; }
}

public enum ListKind { Unordered, Decimal, Alpha, Roman }

public sealed record ItemList(Id Id, ListKind Kind, int Start, IReadOnlyList<Item> Items) : Block(Id);

public sealed record Item(Id Id, IReadOnlyList<Block> Blocks);

/// <summary>Numbered steps; <paramref name="Continues"/> carries on the numbering of the steps before it.</summary>
public sealed record Steps(Id Id, bool Continues, IReadOnlyList<Item> Items) : Block(Id);

public enum AdmonitionKind { Danger, Warning, Caution, Notice, Note, Tip }

public sealed record Admonition(Id Id, AdmonitionKind Kind, IReadOnlyList<Block> Blocks) : Block(Id);

public enum CellAlignment { Left, Centre, Right }

/// <summary>A table with <paramref name="HeaderRows"/> rows that repeat on every page it reaches.</summary>
public sealed record Table(Id Id, int HeaderRows, IReadOnlyList<CellAlignment> Columns, IReadOnlyList<Inline> Caption,
    IReadOnlyList<Row> Rows) : Block(Id);

public sealed record Row(Id Id, IReadOnlyList<Cell> Cells);

public sealed record Cell(Id Id, IReadOnlyList<Inline> Content);

public enum FigurePlacement { Here, Top }

/// <summary>A picture with caption and alternative text; <paramref name="Asset"/> names a file of the manual.</summary>
public sealed record Figure(Id Id, string Asset, IReadOnlyList<Inline> Caption, string Alternative) : Block(Id)
{
    public FigurePlacement Placement { get; init; }

    /// <summary>Width in hundredths of the measure.</summary>
    public int Width { get; init; } = 100;
}

public sealed record Listing(Id Id, string Language, string Text, IReadOnlyList<Inline> Caption) : Block(Id);

/// <summary>A generated list of heads; never typed.</summary>
public sealed record ContentsList(Id Id) : Block(Id);

/// <summary>The generated index; never typed.</summary>
public sealed record IndexList(Id Id) : Block(Id);

public sealed record PageBreak(Id Id) : Block(Id);
