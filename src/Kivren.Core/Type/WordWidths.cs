namespace Kivren.Core.Type;

/// <summary>How wide the words of a text are: enough to tell, before anything is set, how many lines they take in any width.
/// Millipoints.</summary>
public sealed class WordWidths
{
    /// <summary>Stands for a line that ends because the text says so.</summary>
    internal const int LineEnd = -1;

    private readonly int[] _words,
        _spaces;
    private readonly int _lines = 1;

    /// <param name="words">each as far as no space parts it</param>
    /// <param name="spaces">the space before each</param>
    /// <param name="part">the widest part that no break opportunity divides, hyphens among them</param>
    internal WordWidths(int[] words, int[] spaces, int part)
    {
        (_words, _spaces, Part) = (words, spaces, part);
        var line = 0;
        for (var w = 0; w < words.Length; w++)
        {
            if (words[w] == LineEnd)
            {
                _lines++;
                line = 0;
                continue;
            }
            line += (line > 0 ? spaces[w] : 0) + words[w];
            Longest = Math.Max(Longest, words[w]);
            Widest = Math.Max(Widest, line);
        }
    }

    /// <summary>The widest line when none is turned, the longest word, and what is left of that when it is divided wherever it
    /// may be.</summary>
    public int Widest { get; }
    public int Longest { get; }
    public int Part { get; }

    /// <summary>How many of its words are divided in this width.</summary>
    public int WiderThan(long width) => width >= Longest ? 0 : _words.Count(w => w > width);

    public int LinesIn(long width)
    {
        if (width >= Widest)
            return _lines;
        var lines = 1;
        long used = 0;
        for (var w = 0; w < _words.Length; w++)
        {
            if (_words[w] == LineEnd || (used > 0 && used + _spaces[w] + _words[w] > width))
            {
                lines++;
                used = 0;
            }
            if (_words[w] == LineEnd)
                continue;
            used += (used > 0 ? _spaces[w] : 0) + _words[w];
            // A word wider than the line is divided.
            if (used > width && width > 0)
            {
                lines += (int)((used - 1) / width);
                used %= width;
            }
        }
        return lines;
    }
}
