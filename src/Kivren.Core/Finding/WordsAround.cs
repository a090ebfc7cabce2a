namespace Kivren.Core.Finding;

/// <summary>The words about a place, for lists of places: as many letters as there is room for, cut between words where one ends near.
/// </summary>
public static class WordsAround
{
    /// <param name="from">where the place begins; <paramref name="to"/> where it ends</param>
    /// <param name="room">letters on each side</param>
    /// <returns>where the words before it begin, and where those behind it end</returns>
    public static (int Begin, int End) Of(string text, int from, int to, int room)
    {
        var (begin, end) = (Math.Max(0, from - room), Math.Min(text.Length, to + room));
        if (begin > 0 && text[begin - 1] != ' ' && text.IndexOf(' ', begin, from - begin) is >= 0 and var space)
            begin = space + 1;
        if (end < text.Length && text[end] != ' ' && text.LastIndexOf(' ', end - 1, end - to) is >= 0 and var last)
            end = last;
        return (begin, end);
    }
}
