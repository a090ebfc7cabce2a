using System.Collections.Concurrent;
using System.Reflection;
using System.Text;

namespace Kivren.Core.Type;

/// <summary>Hyphenation by Liang's patterns (F. M. Liang, Word Hy-phen-a-tion by Com-put-er, 1983).</summary>
public sealed class Hyphenator
{
    /// <summary>Letters kept before and after a hyphen.</summary>
    public const int Before = 2,
        After = 3;

    private static readonly ConcurrentDictionary<string, Hyphenator?> Languages = new(StringComparer.Ordinal);
    private readonly Dictionary<string, byte[]> _patterns = new(StringComparer.Ordinal);
    private readonly Dictionary<string, byte[]>.AlternateLookup<ReadOnlySpan<char>> _bySpan;
    private readonly ConcurrentDictionary<string, byte[]> _known = new(StringComparer.Ordinal);
    private readonly int _longest;

    private Hyphenator(TextReader reader)
    {
        while (reader.ReadLine() is { } line)
        {
            if (line.Length == 0 || line[0] is '#' or '%' || char.IsUpper(line[0]) || line.Contains('/', StringComparison.Ordinal))
                continue;
            var letters = new StringBuilder();
            var values = new List<byte> { 0 };
            foreach (var c in line.Trim())
            {
                if (char.IsAsciiDigit(c))
                    values[^1] = (byte)(c - '0');
                else
                {
                    letters.Append(c);
                    values.Add(0);
                }
            }
            _patterns[letters.ToString()] = [.. values];
            _longest = Math.Max(_longest, letters.Length);
        }
        _bySpan = _patterns.GetAlternateLookup<ReadOnlySpan<char>>();
    }

    private Hyphenator(Hyphenator of, IEnumerable<string> exceptions)
    {
        (_patterns, _bySpan, _longest) = (of._patterns, of._bySpan, of._longest);
        foreach (var word in exceptions)
        {
            var points = new List<byte>();
            var letters = new StringBuilder();
            foreach (var c in word.ToLowerInvariant())
                if (c is '-' or '\u00AD')
                    points.Add((byte)letters.Length);
                else
                    letters.Append(c);
            if (letters.Length < 60)
                _known[letters.ToString()] = [.. points];
        }
    }

    /// <summary>Languages with patterns, by the beginning of their tag; English without a country is British.</summary>
    private static readonly (string Tag, string File)[] Shipped =
    [
        ("en-US", "hyph_en_US"),
        ("en", "hyph_en_GB"),
        ("de", "hyph_de"),
        ("fr", "hyph_fr"),
        ("es", "hyph_es"),
        ("nl", "hyph_nl"),
        ("it", "hyph_it"),
        ("sv", "hyph_sv"),
        ("ca", "hyph_ca"),
        ("cs", "hyph_cs"),
        ("da", "hyph_da"),
        ("el", "hyph_el"),
        ("et", "hyph_et"),
        ("fi", "hyph_fi"),
        ("hr", "hyph_hr"),
        ("hu", "hyph_hu"),
        ("lt", "hyph_lt"),
        ("nb", "hyph_nb"),
        ("nn", "hyph_nb"),
        ("no", "hyph_nb"),
        ("pl", "hyph_pl"),
        ("pt", "hyph_pt"),
        ("ro", "hyph_ro"),
        ("ru", "hyph_ru"),
        ("sk", "hyph_sk"),
        ("sl", "hyph_sl"),
        ("tr", "hyph_tr"),
        ("uk", "hyph_uk"),
        // Latin words among these scripts are mostly English.
        ("ja", "hyph_en_US"),
        ("zh", "hyph_en_US"),
        ("ko", "hyph_en_US"),
        ("th", "hyph_en_US"),
        ("hi", "hyph_en_US"),
    ];

    /// <summary>The patterns of a language tag, or null where none ship; then no word is hyphenated.</summary>
    public static Hyphenator? For(string language) => Languages.GetOrAdd(language, static tag =>
        {
            var file = Shipped
                .FirstOrDefault(s =>
                    tag.StartsWith(s.Tag, StringComparison.OrdinalIgnoreCase) && (tag.Length == s.Tag.Length || tag[s.Tag.Length] == '-')
                )
                .File;
            if (file is null)
                return null;
            using var stream = Assembly.GetExecutingAssembly().GetManifestResourceStream("hyphens:" + file)!;
            using var reader = new StreamReader(stream, Encoding.UTF8);
            return new Hyphenator(reader);
        });

    /// <summary>These patterns with words that the writer divides otherwise: "fer-ry", or "ferry" for one never divided.</summary>
    public Hyphenator With(IEnumerable<string> exceptions) => new(this, exceptions);

    /// <summary>Where a word of letters may be divided: indices of the letters that would begin the next line.</summary>
    public byte[] Points(ReadOnlySpan<char> word)
    {
        if (word.Length < Before + After || word.Length > 60)
            return [];
        Span<char> lower = stackalloc char[word.Length];
        word.ToLowerInvariant(lower);
        var lookup = _known.GetAlternateLookup<ReadOnlySpan<char>>();
        return lookup.TryGetValue(lower, out var points) ? points : _known.GetOrAdd(lower.ToString(), Find(lower));
    }

    private byte[] Find(ReadOnlySpan<char> word)
    {
        Span<char> dotted = stackalloc char[word.Length + 2];
        dotted[0] = dotted[^1] = '.';
        word.CopyTo(dotted[1..]);
        Span<byte> levels = stackalloc byte[dotted.Length + 1];
        levels.Clear();
        for (var start = 0; start < dotted.Length; start++)
        for (var length = 1; length <= Math.Min(_longest, dotted.Length - start); length++)
            if (_bySpan.TryGetValue(dotted.Slice(start, length), out var values))
                for (var i = 0; i < values.Length; i++)
                    levels[start + i] = Math.Max(levels[start + i], values[i]);
        var found = new List<byte>();
        for (var at = Before; at <= word.Length - After; at++)
            if ((levels[at + 1] & 1) == 1)
                found.Add((byte)at);
        return [.. found];
    }
}
