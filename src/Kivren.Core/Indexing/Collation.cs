using System.Collections.Concurrent;
using System.Globalization;
using System.Reflection;
using System.Text;

namespace Kivren.Core.Indexing;

/// <summary>Sorting as a language sorts: the default Unicode collation (UTS #10, root order, which English, German, French, Italian
/// and Dutch share for headings), with the letters that a language has of its own where its alphabet has them (CLDR's
/// tailorings). Word by word: a space comes before every letter. Needs no culture of the machine.</summary>
public sealed class Collation
{
    /// <param name="Primary">the root's weight with room for a language's own letters behind it</param>
    private readonly record struct Element(int Primary, ushort Secondary, ushort Tertiary);

    /// <summary>Room behind each letter of the root for letters of a language.</summary>
    private const int Room = 16;
    private const int MostKeys = 50_000;

    private static readonly Lazy<Dictionary<int, Element[]>> Table = new(Load);
    private static readonly ConcurrentDictionary<string, Collation> Languages = new(StringComparer.Ordinal);

    public static Collation Root { get; } = new("");

    private readonly ConcurrentDictionary<string, byte[]> _keys = new(StringComparer.Ordinal);

    /// <summary>Letters of the language's own, with their accents as one character, and what each stands behind.</summary>
    private readonly Dictionary<int, Element[]> _own = [];
    private readonly Dictionary<int, string> _groups = [];

    private Collation(string language)
    {
        switch (language)
        {
            case "sv" or "fi":
                After('z', ["åÅ", "äÄæÆ", "öÖøØ"]);
                With('y', "üÜ");
                break;
            case "da" or "nb" or "nn" or "no":
                After('z', ["æÆäÄ", "øØöÖ", "åÅ"]);
                With('y', "üÜ");
                break;
            case "es":
                After('n', ["ñÑ"]);
                break;
            case "et":
                After('w', ["õÕ", "äÄ", "öÖ", "üÜ"]);
                break;
            case "pl":
                foreach (var pair in (ReadOnlySpan<string>)["aąĄ", "cćĆ", "eęĘ", "lłŁ", "nńŃ", "oóÓ", "sśŚ"])
                    After(pair[0], [pair[1..]]);
                After('z', ["źŹ", "żŻ"]);
                break;
        }
    }

    /// <summary>The collation of a language, by its code (sv, es-MX …).</summary>
    public static Collation Of(string language) =>
        Languages.GetOrAdd(language.Split('-')[0].ToLowerInvariant(), static l => new Collation(l));

    /// <param name="letters">in order; the characters of one string are one letter, small and capital by turns</param>
    private void After(char letter, string[] letters)
    {
        for (var n = 0; n < letters.Length; n++)
        for (var c = 0; c < letters[n].Length; c++)
        {
            _own[letters[n][c]] =
            [
                new Element(Table.Value[letter][0].Primary + n + 1, (ushort)(0x20 + c / 2), (ushort)(c % 2 == 0 ? 2 : 8)),
            ];
            _groups[letters[n][c]] = letters[n][1].ToString();
        }
    }

    /// <summary>A letter that stands with another, as with an accent of it.</summary>
    /// <param name="small">with its capital behind it</param>
    private void With(char letter, string small)
    {
        for (var c = 0; c < small.Length; c++)
        {
            _own[small[c]] = [new Element(Table.Value[letter][0].Primary, 0x21, (ushort)(c == 0 ? 2 : 8))];
            _groups[small[c]] = char.ToUpperInvariant(letter).ToString();
        }
    }

    private static Dictionary<int, Element[]> Load()
    {
        var table = new Dictionary<int, Element[]>();
        using var reader = new StreamReader(Assembly.GetExecutingAssembly().GetManifestResourceStream("collation:elements")!);
        while (reader.ReadLine() is { } line)
        {
            var semicolon = line.IndexOf(';', StringComparison.Ordinal);
            table[Hex(line[..semicolon])] = line[(semicolon + 1)..]
                .Split(' ')
                .Select(e => e.Split('.'))
                .Select(e => new Element(Hex(e[0]) * Room, (ushort)Hex(e[1]), (ushort)Hex(e[2])))
                .ToArray();
        }
        return table;
    }

    private static int Hex(string s) => int.Parse(s, NumberStyles.HexNumber, CultureInfo.InvariantCulture);

    public int Compare(string a, string b)
    {
        var byKey = Key(a).AsSpan().SequenceCompareTo(Key(b));
        return byKey != 0 ? byKey : string.CompareOrdinal(a, b);
    }

    /// <summary>Three levels: letters, then accents, then case, each big-endian, divided by zeros.</summary>
    public byte[] Key(string text)
    {
        if (_keys.TryGetValue(text, out var known))
            return known;
        if (_keys.Count > MostKeys)
            _keys.Clear();
        return _keys[text] = Make(text);
    }

    private byte[] Make(string text)
    {
        var elements = new List<Element>(text.Length);
        foreach (var rune in Composed(text).EnumerateRunes())
            if (_own.TryGetValue(rune.Value, out var found) || Table.Value.TryGetValue(rune.Value, out found))
                elements.AddRange(found);
            else
            {
                // What the table does not have sorts by its code, in two weights (UTS #10, 10.1.3).
                elements.Add(new Element((0xFBC0 + (rune.Value >> 15)) * Room, 0x20, 2));
                elements.Add(new Element(((rune.Value & 0x7FFF) | 0x8000) * Room, 0, 0));
            }
        var key = new List<byte>(elements.Count * 6);
        foreach (var level in (ReadOnlySpan<int>)[0, 1, 2])
        {
            foreach (var e in elements)
            {
                var weight = level switch
                {
                    0 => e.Primary,
                    1 => e.Secondary,
                    _ => e.Tertiary,
                };
                if (weight == 0)
                    continue;
                if (level == 0)
                    key.Add((byte)(weight >> 16));
                key.Add((byte)(weight >> 8));
                key.Add((byte)weight);
            }
            key.AddRange([0, 0, 0]);
        }
        return [.. key];
    }

    private const string Bases = "aAoOnNuU",
        Rings = "åÅ",
        Dots = "äÄöÖ\0\0üÜ",
        Tildes = "\0\0õÕñÑ\0\0";

    /// <summary>A letter with its mark as one character, for the marks that make letters of their own somewhere.</summary>
    private static string Composed(string text)
    {
        if (!text.AsSpan().ContainsAny("\u030A\u0308\u0303"))
            return text;
        var composed = new StringBuilder(text.Length);
        foreach (var c in text)
        {
            var marked = c switch
            {
                '\u030A' => Rings,
                '\u0308' => Dots,
                '\u0303' => Tildes,
                _ => null,
            };
            var at = marked is null || composed.Length == 0 ? -1 : Bases.IndexOf(composed[^1], StringComparison.Ordinal);
            if (at >= 0 && at < marked!.Length && marked[at] != '\0')
                composed[^1] = marked[at];
            else
                composed.Append(c);
        }
        return composed.ToString();
    }

    /// <summary>A heading as it is filed: without the quotation mark or bracket that its first word stands in.</summary>
    public static string Filed(string text)
    {
        var at = 0;
        while (at < text.Length && IsPassedOver(text[at]))
            at++;
        return at > 0 && at < text.Length && char.IsLetterOrDigit(text, at) ? text[at..] : text;
    }

    private static bool IsPassedOver(char sign) =>
        sign is '"' or '\'' or '¿' or '¡'
        || char.GetUnicodeCategory(sign)
            is UnicodeCategory.OpenPunctuation
                or UnicodeCategory.InitialQuotePunctuation
                or UnicodeCategory.FinalQuotePunctuation;

    /// <summary>The group head a heading stands under: its first letter without accent in capitals, "0–9" for numerals, "Symbols" where
    /// it begins with another sign (“-v”, “$HOME”): it is sorted by that, too.</summary>
    public string Group(string text)
    {
        foreach (var rune in Composed(Filed(text)).EnumerateRunes())
        {
            if (_groups.TryGetValue(rune.Value, out var own))
                return own;
            if (Rune.IsDigit(rune))
                return "0–9";
            if (Rune.IsWhiteSpace(rune))
                continue;
            if (!Rune.IsLetter(rune))
                break;
            var primary = Table.Value.TryGetValue(rune.Value, out var e) ? e[0].Primary : 0;
            for (var c = 'A'; c <= 'Z'; c++)
                if (Table.Value[c][0].Primary == primary)
                    return c.ToString();
            return Rune.ToUpperInvariant(rune).ToString();
        }
        return "Symbols";
    }
}
