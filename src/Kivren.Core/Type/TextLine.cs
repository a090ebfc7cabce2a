using Kivren.Core.Content;

namespace Kivren.Core.Type;

/// <summary>A word, or the part of one before or after a hyphen, at its place in a line.</summary>
/// <param name="From">first glyph of the word taken</param>
/// <param name="To">glyph after the last one taken</param>
/// <param name="X">from the left of the measure, millipoints</param>
/// <param name="Width">millipoints</param>
/// <param name="Hyphen">a hyphen is drawn after it that the text does not have</param>
/// <param name="SpaceAfter">a word space follows in the text (at a line's end too)</param>
public readonly record struct LineWord(ShapedWord Word, int From, int To, TextStyle Style, int X, int Width, bool Hyphen, bool SpaceAfter, Id Target, string? Web)
{
    /// <summary>What stands here instead of letters, or null.</summary>
    public Inset? Inset { get; init; }

    /// <summary>What this line adds after each glyph beside the style's own tracking, so that its word spaces come out
    /// even; millipoints, part of the width.</summary>
    public int Give { get; init; }

    /// <summary>All that is added after each glyph.</summary>
    public int Tracking => Style.Tracking.Millipoints + Give;
}

/// <summary>One set line. Characters [Start, End) of its text stand on it.</summary>
public sealed record TextLine(LineWord[] Words, int Start, int End, int Width)
{
    public bool Overfull { get; init; }
    public bool EndsInHyphen => Words.Length > 0 && Words[^1].Hyphen;
}
