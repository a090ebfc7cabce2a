using Kivren.Core.Content;
using Kivren.Core.Looks;

namespace Kivren.Core.Composition;

/// <summary>A running head or foot as it reads on one page.</summary>
/// <param name="Text">its words; none for a picture</param>
public sealed record FurnitureField(RunningField Of, string Text)
{
    /// <summary>The picture of the manual that it is, or null, and how wide that stands.</summary>
    public Asset? Picture { get; init; }
    public Length PictureHeight => Of.Height > Length.Zero ? Of.Height : Dress.Leading;
    public int PictureWidth =>
        Picture is { Width: > 0 } picture ? (int)((long)PictureHeight.Millipoints * picture.Width / Math.Max(1, picture.Height)) : 0;

    public PageEdge Edge => Of.Edge;
    public FieldPlace Place => Of.Place;
    public Dress Dress => Of.Dress;
}

/// <summary>What stands at the head and foot of a page.</summary>
/// <param name="HasHead">something stands at the head: its rules are drawn</param>
public sealed record Furniture(IReadOnlyList<FurnitureField> Fields, bool HasHead, bool HasFoot)
{
    /// <summary>The words of a field, or null when the page has none there.</summary>
    public string? At(PageEdge edge, FieldPlace place) => Fields.FirstOrDefault(f => f.Edge == edge && f.Place == place)?.Text;
}

/// <summary>A page of a composition: a body from its stretch and the furniture of its place.</summary>
public sealed record ComposedPage
{
    /// <summary>Index in the composition; even sheets are rectos.</summary>
    public required int Sheet { get; init; }
    public required string Folio { get; init; }

    /// <summary>The form of its folio.</summary>
    public required FolioFormat FolioFormat { get; init; }

    /// <summary>Index in the selected text of the division that the page begins with; a blank page belongs to the division
    /// before it.</summary>
    public required int Division { get; init; }

    /// <summary>Null for a blank page.</summary>
    public required CutPage? Body { get; init; }
    public required Cut? Cut { get; init; }
    public required Furniture? Furniture { get; init; }

    /// <summary>What a blank page says of itself, or null.</summary>
    public BlankPage? Blank { get; init; }
    public required string Reason { get; init; }

    /// <summary>Its layout.</summary>
    public required PageMaster Master { get; init; }
    public bool IsRecto => Sheet % 2 == 0;
    public bool IsBlank => Body is null;
    public bool IsTurned => Body is { IsTurned: true };

    /// <summary>Equal for pages that are drawn alike, in every process and composition.</summary>
    public required string Key { get; init; }
    public ulong BodyKey => Body?.BodyKey ?? 0;
}
