using System.Globalization;
using System.Reflection;
using System.Text;

namespace Kivren.Core.Type;

/// <summary>Direction of text: Unicode Standard Annex #9, version 15.0, with the bracket pairs of its rule N0. Levels are
/// of UTF-16 units; even ones run left to right.</summary>
public static class Bidi
{
    private enum C : byte
    {
        L,
        R,
        AL,
        EN,
        ES,
        ET,
        AN,
        CS,
        NSM,
        BN,
        B,
        S,
        WS,
        ON,
        LRE,
        LRO,
        RLE,
        RLO,
        PDF,
        LRI,
        RLI,
        FSI,
        PDI,
    }

    /// <summary>The level of what rule X9 takes out.</summary>
    public const byte Removed = 255;
    private const int MostDepth = 125;

    private static readonly Lazy<(int From, int To, C Class)[]> Classes = new(() =>
        Lines("bidi:classes")
            .Select(parts =>
            {
                var range = parts[0].Split("..");
                return (Hex(range[0]), Hex(range[^1]), Enum.Parse<C>(parts[1]));
            })
            .ToArray()
    );

    /// <summary>Each bracket's partner and whether it opens; partners of the canonical equivalents count as one.</summary>
    private static readonly Lazy<Dictionary<int, (int Pair, bool Opens)>> Brackets = new(() =>
        Lines("bidi:brackets").ToDictionary(p => Hex(p[0]), p => (Hex(p[1]), p[2] == "o"))
    );

    private static IEnumerable<string[]> Lines(string resource)
    {
        using var reader = new StreamReader(Assembly.GetExecutingAssembly().GetManifestResourceStream(resource)!);
        while (reader.ReadLine() is { } line)
            yield return line.Split(';');
    }

    private static int Hex(string s) => int.Parse(s, NumberStyles.HexNumber, CultureInfo.InvariantCulture);

    private static C ClassOf(int point)
    {
        var table = Classes.Value;
        int low = 0,
            high = table.Length - 1;
        while (low <= high)
        {
            var middle = (low + high) / 2;
            if (point < table[middle].From)
                high = middle - 1;
            else if (point > table[middle].To)
                low = middle + 1;
            else
                return table[middle].Class;
        }
        return C.L;
    }

    /// <summary>Whether any character runs from right to left or sets a direction: without one every level is that of the
    /// paragraph. Quick for Latin text.</summary>
    public static bool IsNeeded(ReadOnlySpan<char> text)
    {
        foreach (var c in text)
            if (
                c >= 0x0590
                && (
                    c
                    is <= '\u08FF'
                        or (>= '\u200E' and <= '\u200F')
                        or (>= '\u202A' and <= '\u202E')
                        or (>= '\u2066' and <= '\u2069')
                        or (>= '\uFB1D' and <= '\uFDFF')
                        or (>= '\uFE70' and <= '\uFEFF')
                        or (>= '\uD802' and <= '\uD83B')
                )
            )
                return true;
        return false;
    }

    /// <summary>Rules P2 and P3: the level of a paragraph by its first strong character; 0 when it has none.</summary>
    public static byte ParagraphLevel(ReadOnlySpan<char> text)
    {
        var classes = ClassesOf(text);
        return Strong(classes, 0, classes.Length) == 1 ? (byte)1 : (byte)0;
    }

    private static C[] ClassesOf(ReadOnlySpan<char> text)
    {
        var classes = new C[text.Length];
        for (var i = 0; i < text.Length; )
        {
            Rune.DecodeFromUtf16(text[i..], out var rune, out var length);
            var c = ClassOf(rune.Value);
            classes[i] = c;
            // The second half of a pair goes with the first as if it were not there.
            for (var k = 1; k < length; k++)
                classes[i + k] = C.BN;
            i += length;
        }
        return classes;
    }

    private static int Strong(C[] classes, int from, int end)
    {
        var isolates = 0;
        for (var i = from; i < end; i++)
            switch (classes[i])
            {
                case C.LRI or C.RLI or C.FSI:
                    isolates++;
                    break;
                case C.PDI when isolates > 0:
                    isolates--;
                    break;
                case C.PDI when from > 0:
                    return -1;
                case C.L when isolates == 0:
                    return 0;
                case C.R or C.AL when isolates == 0:
                    return 1;
            }
        return -1;
    }

    /// <summary>The level of each character of one paragraph set as one line (rules X1 to I2 and L1).</summary>
    public static byte[] Levels(ReadOnlySpan<char> text, byte paragraph)
    {
        var original = ClassesOf(text);
        var classes = (C[])original.Clone();
        var levels = new byte[text.Length];
        var match = Isolates(original);
        Explicit(original, classes, levels, paragraph, match);
        var embedding = (byte[])levels.Clone();
        foreach (var sequence in Sequences(original, embedding, match))
            Resolve(text, original, classes, embedding, levels, paragraph, sequence, match);
        // L1: separators and white space before them or at the end take the level of the paragraph.
        var trailing = true;
        for (var i = text.Length - 1; i >= 0; i--)
        {
            if (IsRemoved(original[i]))
                continue;
            if (original[i] is C.B or C.S)
                trailing = true;
            else if (original[i] is not (C.WS or C.LRI or C.RLI or C.FSI or C.PDI))
                trailing = false;
            if (trailing)
                levels[i] = paragraph;
        }
        for (var i = 0; i < text.Length; i++)
            if (IsRemoved(original[i]))
                levels[i] = Removed;
        return levels;
    }

    private static bool IsRemoved(C c) => c is C.BN or C.LRE or C.LRO or C.RLE or C.RLO or C.PDF;

    private static bool IsInitiator(C c) => c is C.LRI or C.RLI or C.FSI;

    /// <summary>BD9: each isolate initiator's PDI and each PDI's initiator, or -1.</summary>
    private static int[] Isolates(C[] classes)
    {
        var match = new int[classes.Length];
        Array.Fill(match, -1);
        var open = new Stack<int>();
        for (var i = 0; i < classes.Length; i++)
            if (IsInitiator(classes[i]))
                open.Push(i);
            else if (classes[i] == C.PDI && open.Count > 0)
            {
                match[i] = open.Pop();
                match[match[i]] = i;
            }
        return match;
    }

    private static void Explicit(C[] original, C[] classes, byte[] levels, byte paragraph, int[] match)
    {
        var stack = new Stack<(byte Level, int Override, bool Isolate)>();
        stack.Push((paragraph, -1, false));
        int overIsolates = 0,
            overEmbeddings = 0,
            validIsolates = 0;
        for (var i = 0; i < original.Length; i++)
        {
            var c = original[i];
            byte Next(bool rtl) => (byte)(rtl ? (stack.Peek().Level + 1) | 1 : (stack.Peek().Level + 2) & ~1);
            switch (c)
            {
                case C.LRE or C.LRO or C.RLE or C.RLO:
                {
                    levels[i] = stack.Peek().Level;
                    var next = Next(c is C.RLE or C.RLO);
                    if (next <= MostDepth && overIsolates == 0 && overEmbeddings == 0)
                        stack.Push(
                            (
                                next,
                                c switch
                                {
                                    C.LRO => 0,
                                    C.RLO => 1,
                                    _ => -1,
                                },
                                false
                            )
                        );
                    else if (overIsolates == 0)
                        overEmbeddings++;
                    break;
                }
                case C.LRI or C.RLI or C.FSI:
                {
                    levels[i] = stack.Peek().Level;
                    if (stack.Peek().Override >= 0)
                        classes[i] = stack.Peek().Override == 0 ? C.L : C.R;
                    var rtl = c == C.RLI || (c == C.FSI && Strong(original, i + 1, match[i] >= 0 ? match[i] : original.Length) == 1);
                    var next = Next(rtl);
                    if (next <= MostDepth && overIsolates == 0 && overEmbeddings == 0)
                    {
                        validIsolates++;
                        stack.Push((next, -1, true));
                    }
                    else
                        overIsolates++;
                    break;
                }
                case C.PDI:
                    if (overIsolates > 0)
                        overIsolates--;
                    else if (validIsolates > 0)
                    {
                        overEmbeddings = 0;
                        while (!stack.Peek().Isolate)
                            stack.Pop();
                        stack.Pop();
                        validIsolates--;
                    }
                    levels[i] = stack.Peek().Level;
                    if (stack.Peek().Override >= 0)
                        classes[i] = stack.Peek().Override == 0 ? C.L : C.R;
                    break;
                case C.PDF:
                    levels[i] = stack.Peek().Level;
                    if (overIsolates > 0)
                        break;
                    if (overEmbeddings > 0)
                        overEmbeddings--;
                    else if (!stack.Peek().Isolate && stack.Count >= 2)
                        stack.Pop();
                    break;
                case C.B:
                    levels[i] = paragraph;
                    break;
                case C.BN:
                    levels[i] = stack.Peek().Level;
                    break;
                default:
                    levels[i] = stack.Peek().Level;
                    if (stack.Peek().Override >= 0)
                        classes[i] = stack.Peek().Override == 0 ? C.L : C.R;
                    break;
            }
        }
    }

    /// <summary>X10: the isolating run sequences, each as the indices of its characters without what X9 takes out.</summary>
    private static List<List<int>> Sequences(C[] original, byte[] levels, int[] match)
    {
        var runs = new List<List<int>>();
        var runOf = new int[original.Length];
        foreach (var i in Enumerable.Range(0, original.Length).Where(i => !IsRemoved(original[i])))
        {
            if (runs.Count == 0 || levels[runs[^1][^1]] != levels[i])
                runs.Add([]);
            runs[^1].Add(i);
            runOf[i] = runs.Count - 1;
        }
        var sequences = new List<List<int>>();
        foreach (var run in runs)
        {
            if (original[run[0]] == C.PDI && match[run[0]] >= 0)
                continue;
            var sequence = new List<int>(run);
            while (IsInitiator(original[sequence[^1]]) && match[sequence[^1]] is var pdi and >= 0)
                sequence.AddRange(runs[runOf[pdi]]);
            sequences.Add(sequence);
        }
        return sequences;
    }

    private static void Resolve(
        ReadOnlySpan<char> text,
        C[] original,
        C[] classes,
        byte[] embedding,
        byte[] levels,
        byte paragraph,
        List<int> at,
        int[] match
    )
    {
        var level = embedding[at[0]];
        byte Beside(int index, int step)
        {
            for (index += step; index >= 0 && index < original.Length; index += step)
                if (!IsRemoved(original[index]))
                    return embedding[index];
            return paragraph;
        }
        static C Of(int level) => level % 2 == 0 ? C.L : C.R;
        var sos = Of(Math.Max(level, Beside(at[0], -1)));
        var last = at[^1];
        var eos = Of(Math.Max(level, IsInitiator(original[last]) && match[last] < 0 ? paragraph : Beside(last, 1)));
        var n = at.Count;
        var c = new C[n];
        for (var i = 0; i < n; i++)
            c[i] = classes[at[i]];
        // W1 to W7.
        var previous = sos;
        for (var i = 0; i < n; i++)
        {
            if (c[i] == C.NSM)
                c[i] = previous is C.LRI or C.RLI or C.FSI or C.PDI ? C.ON : previous;
            previous = c[i];
        }
        var strong = sos;
        for (var i = 0; i < n; i++)
        {
            if (c[i] is C.L or C.R or C.AL)
                strong = c[i];
            else if (c[i] == C.EN && strong == C.AL)
                c[i] = C.AN;
        }
        for (var i = 0; i < n; i++)
            if (c[i] == C.AL)
                c[i] = C.R;
        for (var i = 1; i + 1 < n; i++)
            if (c[i] is C.ES or C.CS && c[i - 1] == c[i + 1] && (c[i - 1] == C.EN || (c[i] == C.CS && c[i - 1] == C.AN)))
                c[i] = c[i - 1];
        for (var i = 0; i < n; i++)
        {
            if (c[i] != C.ET)
                continue;
            var end = i;
            while (end < n && c[end] == C.ET)
                end++;
            if ((i > 0 && c[i - 1] == C.EN) || (end < n && c[end] == C.EN))
                Array.Fill(c, C.EN, i, end - i);
            i = end - 1;
        }
        for (var i = 0; i < n; i++)
            if (c[i] is C.ES or C.ET or C.CS)
                c[i] = C.ON;
        strong = sos;
        for (var i = 0; i < n; i++)
        {
            if (c[i] is C.L or C.R)
                strong = c[i];
            else if (c[i] == C.EN && strong == C.L)
                c[i] = C.L;
        }
        Pairs(text, original, c, at, sos, Of(level));
        // N1, N2.
        static C Side(C c) => c is C.EN or C.AN ? C.R : c;
        static bool IsNeutral(C c) => c is C.B or C.S or C.WS or C.ON or C.LRI or C.RLI or C.FSI or C.PDI;
        for (var i = 0; i < n; i++)
        {
            if (!IsNeutral(c[i]))
                continue;
            var end = i;
            while (end < n && IsNeutral(c[end]))
                end++;
            var before = i > 0 ? Side(c[i - 1]) : sos;
            var after = end < n ? Side(c[end]) : eos;
            Array.Fill(c, before == after ? before : Of(level), i, end - i);
            i = end - 1;
        }
        // I1, I2.
        for (var i = 0; i < n; i++)
            levels[at[i]] = (byte)(
                level % 2 == 0
                    ? level
                        + (
                            c[i] == C.R ? 1
                            : c[i] is C.AN or C.EN ? 2
                            : 0
                        )
                    : level + (c[i] is C.L or C.EN or C.AN ? 1 : 0)
            );
    }

    /// <summary>N0: bracket pairs take the direction of what stands in them, or before them.</summary>
    private static void Pairs(ReadOnlySpan<char> text, C[] original, C[] c, List<int> at, C sos, C embedding)
    {
        var open = new List<(int Bracket, int At)>();
        var pairs = new List<(int Open, int Close)>();
        for (var i = 0; i < at.Count; i++)
        {
            if (c[i] != C.ON)
                continue;
            Rune.DecodeFromUtf16(text[at[i]..], out var rune, out _);
            var point = Equivalent(rune.Value);
            if (!Brackets.Value.TryGetValue(point, out var bracket))
                continue;
            if (bracket.Opens)
            {
                if (open.Count == 63)
                    break;
                open.Add((bracket.Pair, i));
            }
            else
                for (var o = open.Count - 1; o >= 0; o--)
                    if (open[o].Bracket == point)
                    {
                        pairs.Add((open[o].At, i));
                        open.RemoveRange(o, open.Count - o);
                        break;
                    }
        }
        static C Side(C c) =>
            c switch
            {
                C.L => C.L,
                C.R or C.EN or C.AN => C.R,
                _ => C.ON,
            };
        foreach (var (from, to) in pairs.OrderBy(p => p.Open))
        {
            var found = C.ON;
            for (var i = from + 1; i < to; i++)
            {
                var side = Side(c[i]);
                if (side == embedding)
                {
                    found = side;
                    break;
                }
                if (side != C.ON)
                    found = side;
            }
            if (found == C.ON)
                continue;
            if (found != embedding)
            {
                var before = sos;
                for (var i = from - 1; i >= 0; i--)
                    if (Side(c[i]) is var side and not C.ON)
                    {
                        before = side;
                        break;
                    }
                found = before == found ? found : embedding;
            }
            c[from] = c[to] = found;
            foreach (var bracket in (ReadOnlySpan<int>)[from, to])
                for (var i = bracket + 1; i < at.Count && original[at[i]] == C.NSM; i++)
                    c[i] = found;
        }
    }

    private static int Equivalent(int point) =>
        point switch
        {
            0x2329 => 0x3008,
            0x232A => 0x3009,
            _ => point,
        };

    /// <summary>Rule L2: the indices in the order in which they stand from left to right; what X9 takes out is left out.</summary>
    public static List<int> Visual(ReadOnlySpan<byte> levels)
    {
        var order = new List<int>(levels.Length);
        byte highest = 0,
            lowestOdd = Removed;
        for (var i = 0; i < levels.Length; i++)
        {
            if (levels[i] == Removed)
                continue;
            order.Add(i);
            highest = Math.Max(highest, levels[i]);
            if (levels[i] % 2 == 1)
                lowestOdd = Math.Min(lowestOdd, levels[i]);
        }
        for (int level = highest; level >= lowestOdd && lowestOdd != Removed; level--)
        for (var i = 0; i < order.Count; i++)
        {
            if (levels[order[i]] < level)
                continue;
            var end = i;
            while (end < order.Count && levels[order[end]] >= level)
                end++;
            order.Reverse(i, end - i);
            i = end - 1;
        }
        return order;
    }
}
