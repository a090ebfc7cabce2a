using System.Reflection;

namespace Kivren.Core.Type;

/// <summary>Where lines of Thai may end: between its words, which it writes without spaces (class SA of UAX #14 asks for a dictionary).
/// Of all ways to read a run as words the one with the fewest is taken; what is in no word is never divided.</summary>
public static class ThaiWords
{
    private const int UnknownCost = 4;
    private static readonly Lazy<(HashSet<string> Words, int Longest)> Dictionary = new(Load);

    private static (HashSet<string>, int) Load()
    {
        var words = new HashSet<string>(StringComparer.Ordinal);
        using var reader = new StreamReader(Assembly.GetExecutingAssembly().GetManifestResourceStream("breaks:thai")!);
        while (reader.ReadLine() is { } line)
            if (line.Length > 0 && line[0] != '#')
                words.Add(line);
        return (words, words.Max(w => w.Length));
    }

    private static bool IsThai(char c) => c is >= '\u0E01' and <= '\u0E4E';

    /// <summary>Whether a word can begin with it: no vowel or mark on, under or after a letter, no sign of repetition.</summary>
    private static bool Begins(char c) =>
        c is (>= '\u0E01' and <= '\u0E2E') or '\u0E24' or '\u0E26' or (>= '\u0E40' and <= '\u0E44') && c != '\u0E2F';

    /// <summary>Marks in <paramref name="before"/> where words begin.</summary>
    public static void Open(string text, Span<byte> before)
    {
        for (var at = 0; at < text.Length; at++)
        {
            if (!IsThai(text[at]))
                continue;
            var end = at;
            while (end < text.Length && IsThai(text[end]))
                end++;
            Open(text.AsSpan(at, end - at), before[at..end]);
            at = end;
        }
    }

    private static void Open(ReadOnlySpan<char> run, Span<byte> before)
    {
        var (words, longest) = Dictionary.Value;
        var known = words.GetAlternateLookup<ReadOnlySpan<char>>();
        // For each place the cost of the best way there, and where its last word begins; less than zero for a letter in no word.
        var cost = new int[run.Length + 1];
        var from = new int[run.Length + 1];
        Array.Fill(cost, int.MaxValue, 1, run.Length);
        for (var at = 0; at < run.Length; at++)
        {
            if (cost[at] == int.MaxValue)
                continue;
            if (Begins(run[at]))
                for (var end = at + 1; end <= Math.Min(run.Length, at + longest); end++)
                    if (
                        cost[at] + 1 < cost[end]
                        && (end == run.Length || Begins(run[end]) || run[end] is '\u0E46' or '\u0E2F')
                        && known.Contains(run[at..end])
                    )
                        (cost[end], from[end]) = (cost[at] + 1, at);
            if (cost[at] + UnknownCost < cost[at + 1])
                (cost[at + 1], from[at + 1]) = (cost[at] + UnknownCost, -1);
        }
        var wasWord = false;
        for (var end = run.Length; end > 0; )
        {
            var isWord = from[end] >= 0;
            if (end < run.Length && (isWord || wasWord) && Begins(run[end]))
                before[end] = LineBreaks.May;
            wasWord = isWord;
            end = isWord ? from[end] : end - 1;
        }
    }
}
