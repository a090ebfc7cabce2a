namespace Kivren.Core.Type;

/// <summary>How a run of characters is set.</summary>
/// <param name="Face">its face</param>
/// <param name="Size">the em</param>
/// <param name="Rise">how far its baseline stands above that of the line</param>
/// <param name="Tracking">space added after each glyph</param>
public sealed record TextStyle(Face Face, Length Size, Length Rise = default, Length Tracking = default)
{
    public Features Features { get; init; }

    public Tone Ink { get; init; }

    /// <summary>Letters of a word that stand before a hyphen, and behind it, at least.</summary>
    public int LettersBefore { get; init; } = Hyphenator.Before;
    public int LettersAfter { get; init; } = Hyphenator.After;

    /// <summary>Whether a word may be divided with so many letters on either side. A word that the writer divides by hand may have fewer
    /// than is usual, as long as the look asks for no more.</summary>
    public bool DividesAt(int before, int after) =>
        (LettersBefore <= Hyphenator.Before || before >= LettersBefore) && (LettersAfter <= Hyphenator.After || after >= LettersAfter);

    /// <summary>Asked in order for characters that its face lacks.</summary>
    public IReadOnlyList<Face> StandIns { get; init; } = [];

    /// <summary>Words that stand out from those around them: what a script without italic says by weight.</summary>
    public bool StandsOut { get; init; }

    /// <summary>They are emphasized and nothing more: languages that have dots for it tell it by these, not by weight.</summary>
    public bool Dotted { get; init; }

    /// <summary>The dots that its characters in squares have.</summary>
    public EmphasisDots Dots => Dotted ? Writing.Dots : EmphasisDots.None;

    /// <summary>How the language of what it is worn by is written, where the text itself does not say.</summary>
    public Writing Writing { get; init; } = Writing.Plain;

    /// <summary>A measure in font units at this size.</summary>
    public int Scale(long units) =>
        (int)((units * Size.Millipoints + (units >= 0 ? Face.UnitsPerEm / 2 : -Face.UnitsPerEm / 2)) / Face.UnitsPerEm);

    public ShapedWord Word(ReadOnlySpan<char> text, bool rightToLeft = false) => Face.Word(text, Features, rightToLeft);

    /// <summary>Width of the text on one line, word by word as it is set.</summary>
    public int WidthOf(string text)
    {
        long units = 0;
        var glyphs = 0;
        foreach (var word in text.Split(' '))
        {
            var shaped = Word(word);
            units += shaped.Width + Face.Space + shaped.KernAfter + shaped.KernBefore;
            glyphs += shaped.Glyphs.Length + 1;
        }
        return Scale(units - Face.Space) + Tracking.Millipoints * Math.Max(0, glyphs - 1);
    }
}
