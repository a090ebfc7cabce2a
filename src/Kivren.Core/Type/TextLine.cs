using Kivren.Core.Content;

namespace Kivren.Core.Type;

/// <summary>What few words of a line have: where they lead, or what stands instead of letters.</summary>
public sealed record WordTie(Id Target, string? Web, Inset? Inset = null);

/// <summary>A word, or the part of one before or after a hyphen, at its place in a line. A manual has hundreds of thousands
/// of them: it is kept small.</summary>
public readonly record struct LineWord
{
    private readonly ushort _from,
        _to;
    private readonly short _give;

    /// <param name="from">first glyph of the word taken</param>
    /// <param name="to">glyph after the last one taken</param>
    /// <param name="x">from the left of the measure, millipoints</param>
    /// <param name="width">millipoints</param>
    public LineWord(ShapedWord word, int from, int to, TextStyle style, int x, int width) =>
        (Word, _from, _to, Style, X, Width) = (word, (ushort)from, (ushort)to, style, x, width);

    public static LineWord Whole(ShapedWord word, TextStyle style, int x) =>
        new(word, 0, word.Glyphs.Length, style, x, style.Scale(word.Width));

    public ShapedWord Word { get; init; }
    public TextStyle Style { get; init; }
    public WordTie? Tie { get; init; }
    public int X { get; init; }
    public int Width { get; init; }
    public int From => _from;
    public int To
    {
        get => _to;
        init => _to = (ushort)value;
    }

    /// <summary>What this line adds after each glyph beside the style's own tracking, so that its word spaces come out
    /// even; millipoints, part of the width.</summary>
    public int Give
    {
        get => _give;
        init => _give = (short)value;
    }

    /// <summary>A hyphen is drawn after it that the text does not have.</summary>
    public bool Hyphen { get; init; }

    /// <summary>A word space follows in the text (at a line's end too).</summary>
    public bool SpaceAfter { get; init; }

    public Id Target => Tie?.Target ?? default;
    public string? Web => Tie?.Web;

    /// <summary>What stands here instead of letters, or null.</summary>
    public Inset? Inset => Tie?.Inset;

    /// <summary>All that is added after each glyph.</summary>
    public int Tracking => Style.Tracking.Millipoints + Give;
}

/// <summary>One set line. Characters [Start, End) of its text stand on it.</summary>
public sealed record TextLine(LineWord[] Words, int Start, int End, int Width)
{
    public bool Overfull { get; init; }

    /// <summary>The measure that its words have their places in. On pages that are read from the right it stands where the line does,
    /// and the words in it as they are.</summary>
    public int Measure { get; init; } = Width;

    /// <summary>It ends within something that was wider than the measure and gave no place to divide it.</summary>
    public bool IsBroken { get; init; }
    public bool EndsInHyphen => Words.Length > 0 && Words[^1].Hyphen;
}
