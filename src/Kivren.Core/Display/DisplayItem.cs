using Kivren.Core.Content;
using Kivren.Core.Type;

namespace Kivren.Core.Display;

/// <summary>What an item is in the reading order; furniture is no part of the text.</summary>
public enum ReadingRole
{
    Text,
    Label,
    Furniture,
    Note,
    Caption,
}

/// <summary>Something drawn on a page. Places in millipoints from the trim's top left; a painter only draws.</summary>
public abstract record DisplayItem(int X, int Y, Id Block, ReadingRole Role);

/// <summary>One word on its baseline.</summary>
/// <param name="LineEnd">the last word of its line</param>
public sealed record WordItem(LineWord Word, int X, int Y, Id Block, ReadingRole Role, bool LineEnd) : DisplayItem(X, Y, Block, Role)
{
    /// <summary>The equation this glyph is part of, with what it says in words; or null.</summary>
    public Inset? Within { get; init; }

    /// <summary>It runs down the page, turned a quarter to the right about its place.</summary>
    public bool Turned { get; init; }
}

/// <summary>A filled bar.</summary>
public sealed record RuleItem(int X, int Y, int Width, int Height, Tone Tone, Id Block) : DisplayItem(X, Y, Block, ReadingRole.Furniture)
{
    /// <summary>A stroke of an equation, part of what it says.</summary>
    public Inset? Within { get; init; }
}

/// <summary>A round dot about its place: that a character below or above it is emphasized.</summary>
public sealed record DotItem(int X, int Y, int Radius, Tone Tone) : DisplayItem(X, Y, Id.None, ReadingRole.Furniture);

/// <summary>Spaced points on a baseline.</summary>
public sealed record LeaderItem(int X, int To, int Y, TextStyle Style) : DisplayItem(X, Y, Id.None, ReadingRole.Furniture);

public sealed record PictureItem(string Asset, string Alternative, int X, int Y, int Width, int Height, Id Block)
    : DisplayItem(X, Y, Block, ReadingRole.Caption)
{
    /// <summary>It is turned a quarter to the right about its upper left corner.</summary>
    public bool Turned { get; init; }
}

/// <summary>An area that leads to a target in the manual or to a web address; no drawing.</summary>
/// <param name="Words">the words that lead there</param>
public sealed record LinkArea(int X, int Y, int Width, int Height, Id Target, string? Web, string Words);

/// <summary>A page ready to paint, items in reading order.</summary>
public sealed record DisplayPage(int Width, int Height, IReadOnlyList<DisplayItem> Items, IReadOnlyList<LinkArea> Links);
