using Kivren.Core.Content;

namespace Kivren.Core.Composition;

/// <summary>What stands at the head and foot of a page.</summary>
/// <param name="HeadLeft">running head at the left, or null</param>
/// <param name="FootFolio">the folio stands at the foot: an opening page</param>
public sealed record Furniture(string? HeadLeft, string? HeadRight, bool FolioLeft, string Folio, bool FootFolio);

/// <summary>A page of a composition: a body from its stretch and the furniture of its place.</summary>
public sealed record ComposedPage
{
    /// <summary>Index in the composition; even sheets are rectos.</summary>
    public required int Sheet { get; init; }
    public required string Folio { get; init; }

    /// <summary>Index of its division in the selected text; a blank page belongs to the division before it.</summary>
    public required int Division { get; init; }

    /// <summary>Null for a blank page.</summary>
    public required CutPage? Body { get; init; }
    public required Cut? Cut { get; init; }
    public required Furniture? Furniture { get; init; }
    public required string Reason { get; init; }
    public bool IsRecto => Sheet % 2 == 0;
    public bool IsBlank => Body is null;

    /// <summary>Equal for pages that are drawn alike, in every process and composition.</summary>
    public required string Key { get; init; }
    public ulong BodyKey => Body?.BodyKey ?? 0;
}
