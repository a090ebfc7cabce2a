namespace Kivren.Core.Content;

public enum ListKind
{
    Unordered,
    Decimal,
    Alpha,
    Roman,
}

public sealed record ItemList(Id Id, ListKind Kind, int Start, IReadOnlyList<Item> Items) : Block(Id)
{
    /// <summary>Carries on the numbering of the list of its kind before it.</summary>
    public bool Continues { get; init; }
}

public sealed record Item(Id Id, IReadOnlyList<Block> Blocks)
{
    public AppliesTo AppliesTo { get; init; } = AppliesTo.Always;
}

/// <summary>Numbered steps; <paramref name="Continues"/> carries on the numbering of the steps before it.</summary>
public sealed record Steps(Id Id, bool Continues, IReadOnlyList<Item> Items) : Block(Id);

/// <summary>Terms with what they mean.</summary>
public sealed record DefinitionList(Id Id, IReadOnlyList<Definition> Definitions) : Block(Id)
{
    /// <summary>A glossary list: sorted when composed, numbered if the look says so.</summary>
    public bool Glossary { get; init; }
}

public sealed record Definition(Id Id, IReadOnlyList<Inline> Term, IReadOnlyList<Block> Blocks)
{
    public AppliesTo AppliesTo { get; init; } = AppliesTo.Always;
}

/// <summary>Documents that the text refers to: sorted by designation when composed; each must be cited.</summary>
public sealed record ReferenceList(Id Id, IReadOnlyList<ReferredDocument> Documents) : Block(Id);

public sealed record ReferredDocument(Id Id, string Designation, IReadOnlyList<Inline> Title)
{
    public AppliesTo AppliesTo { get; init; } = AppliesTo.Always;
}
