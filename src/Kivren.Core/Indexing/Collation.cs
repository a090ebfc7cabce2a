using System.Collections.Concurrent;
using System.Globalization;
using System.Reflection;
using System.Text;

namespace Kivren.Core.Indexing;

/// <summary>Sorting by the default Unicode collation (UTS #10, root order, which English, German and French share for
/// headings), word by word: a space comes before every letter. Needs no culture of the machine.</summary>
public static class Collation
{
    private readonly record struct Element(ushort Primary, ushort Secondary, ushort Tertiary);

    private static readonly Lazy<Dictionary<int, Element[]>> Table = new(Load);
    private static readonly ConcurrentDictionary<string, byte[]> Keys = new(StringComparer.Ordinal);

    private static Dictionary<int, Element[]> Load()
    {
        var table = new Dictionary<int, Element[]>();
        using var reader = new StreamReader(Assembly.GetExecutingAssembly().GetManifestResourceStream("collation:elements")!);
        while (reader.ReadLine() is { } line)
        {
            var semicolon = line.IndexOf(';', StringComparison.Ordinal);
            table[Hex(line[..semicolon])] = line[(semicolon + 1)..].Split(' ').Select(e => e.Split('.')).Select(e => new Element((ushort)Hex(e[0]), (ushort)Hex(e[1]), (ushort)Hex(e[2]))).ToArray();
        }
        return table;
    }

    private static int Hex(string s) => int.Parse(s, NumberStyles.HexNumber, CultureInfo.InvariantCulture);

    public static int Compare(string a, string b)
    {
        var byKey = Key(a).AsSpan().SequenceCompareTo(Key(b));
        return byKey != 0 ? byKey : string.CompareOrdinal(a, b);
    }

    /// <summary>Three levels: letters, then accents, then case, each big-endian, divided by zeros.</summary>
    public static byte[] Key(string text) => Keys.GetOrAdd(text, static text =>
    {
        var elements = new List<Element>(text.Length);
        foreach (var rune in text.EnumerateRunes())
        {
            if (Table.Value.TryGetValue(rune.Value, out var found)) elements.AddRange(found);
            else elements.Add(new Element((ushort)(0xFB40 + (rune.Value >> 15)), 0x20, 2));
        }
        var key = new List<byte>(elements.Count * 5);
        foreach (var level in (ReadOnlySpan<int>)[0, 1, 2])
        {
            foreach (var e in elements)
            {
                var weight = level switch { 0 => e.Primary, 1 => e.Secondary, _ => e.Tertiary };
                if (weight == 0) continue;
                key.Add((byte)(weight >> 8));
                key.Add((byte)weight);
            }
            key.Add(0);
            key.Add(0);
        }
        return key.ToArray();
    });

    /// <summary>The group head a heading stands under: its first letter without accent in capitals, "0–9" for numerals,
    /// "Symbols" for the rest.</summary>
    public static string Group(string text)
    {
        foreach (var rune in text.EnumerateRunes())
        {
            if (Rune.IsDigit(rune)) return "0–9";
            if (!Rune.IsLetter(rune)) continue;
            var primary = Table.Value.TryGetValue(rune.Value, out var e) ? e[0].Primary : 0;
            for (var c = 'A'; c <= 'Z'; c++)
                if (Table.Value[c][0].Primary == primary) return c.ToString();
            return Rune.ToUpperInvariant(rune).ToString();
        }
        return "Symbols";
    }
}
