using Kivren.Core.Content;

namespace Kivren.Core.Type;

/// <summary>Something at a place of a piece; X and Y in millipoints from the piece's left and top.</summary>
public abstract record Drawn(int X, int Y);

/// <summary>A line of text; Y is its baseline.</summary>
public sealed record DrawnLine(TextLine Line, int X, int Y, Id Block) : Drawn(X, Y);

/// <summary>A filled bar.</summary>
public sealed record DrawnRule(int X, int Y, int Width, int Height, Tone Tone = default) : Drawn(X, Y);

/// <summary>Spaced points from X to <paramref name="To"/> on the baseline Y.</summary>
public sealed record DrawnLeader(int X, int To, int Y, TextStyle Style) : Drawn(X, Y);

public sealed record DrawnPicture(string Asset, string Alternative, int X, int Y, int Width, int Height, Id Block) : Drawn(X, Y);
