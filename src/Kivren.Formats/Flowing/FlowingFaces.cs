using System.Collections.Concurrent;
using System.Globalization;
using Kivren.Core.Content;
using Kivren.Core.Looks;
using Kivren.Core.Type;
using Kivren.Formats.Fonts;

namespace Kivren.Formats.Flowing;

/// <summary>A face as pages that flow name it.</summary>
internal sealed record FlowingFace(string Family, int Weight, bool Italic);

/// <summary>The faces of a look, cut down to the characters of the book. Families have names of our own: what is cut down is no
/// longer the face that its makers named.</summary>
/// <param name="characters">of the book</param>
/// <param name="writing">how its language is written</param>
internal sealed class FlowingFaces(IReadOnlyCollection<int> characters, Writing writing)
{
    /// <summary>Those that ask for a face of their script.</summary>
    private readonly int[] _scripts = [.. characters.Where(c => !FaceLibrary.Serif.Covers(c) || !FaceLibrary.Code.Covers(c))];

    private static readonly string[] Kept =
    [
        "kern",
        "liga",
        "clig",
        "ccmp",
        "locl",
        "mark",
        "mkmk",
        "rlig",
        "init",
        "medi",
        "fina",
        "isol",
        "smcp",
        "onum",
        "lnum",
        "tnum",
        "halt",
        // What the scripts of India and their neighbours are built by.
        "nukt",
        "akhn",
        "rphf",
        "rkrf",
        "pref",
        "blwf",
        "abvf",
        "half",
        "pstf",
        "vatu",
        "cjct",
        "pres",
        "abvs",
        "blws",
        "psts",
        "haln",
        "calt",
        "dist",
        "abvm",
        "blwm",
    ];

    private readonly SortedDictionary<string, (FlowingFace Of, Face Face)> _used = new(StringComparer.Ordinal);

    /// <summary>The face as a rule of style says it; it is taken into the book.</summary>
    public FlowingFace Use(Face face)
    {
        var family = "kv-" + string.Concat(face.Family.ToLowerInvariant().Select(c => char.IsAsciiLetterOrDigit(c) ? c : '-'));
        var of = new FlowingFace(family, face.Weight, face.Italic);
        _used.TryAdd(face.Name, (of, face));
        return of;
    }

    /// <summary>Family names of what stands in where a face lacks a character or did not come.</summary>
    public string FamiliesOf(FaceSet set, TextStyle style)
    {
        var face = style.Face;
        var own = Use(face).Family;
        var scripts = _scripts.Select(c => ScriptFaces.For(c, style, writing)).OfType<Face>().Distinct();
        IEnumerable<Face> standIns = [.. set.StandIns, .. scripts, FaceLibrary.Symbols];
        var generic =
            ReferenceEquals(face, FaceLibrary.Code) || ReferenceEquals(face, FaceLibrary.CodeStrong) ? "monospace"
            : face.Family.Contains("Sans", StringComparison.Ordinal) ? "sans-serif"
            : "serif";
        return string.Join(", ", standIns.Select(f => Use(f).Family).Prepend(own).Distinct().Append(generic));
    }

    private static readonly ConcurrentDictionary<(string Face, string Characters), byte[]> Made = new();
    private const int MostMade = 200;

    /// <summary>The files of the faces with their rules of style.</summary>
    public IEnumerable<(string Name, byte[] Bytes, string Rule)> Files()
    {
        foreach (var (name, (of, face)) in _used)
        {
            var own = characters.Where(face.Covers).Order().ToArray();
            // What only stands in comes only where it is needed.
            if (own.Length == 0 || (ReferenceEquals(face, FaceLibrary.Symbols) && characters.All(FaceLibrary.Serif.Covers)))
                continue;
            if (ReferenceEquals(face, FaceLibrary.Symbols))
                own = [.. own.Where(c => !FaceLibrary.Serif.Covers(c) || !FaceLibrary.Sans.Covers(c) || !FaceLibrary.Code.Covers(c))];
            if (Made.Count > MostMade)
                Made.Clear();
            var bytes = Made.GetOrAdd((name, string.Join(',', own)), _ =>
                Woff2.Pack(face.MayBeCut ? Subsetter.ForText(face, own, Kept) : face.Bytes)
            );
            var file = name.Replace('_', '-').ToLowerInvariant() + ".woff2";
            yield return (
                file,
                bytes,
                $"@font-face {{ font-family: {of.Family}; font-weight: {of.Weight.ToString(CultureInfo.InvariantCulture)}; "
                    + $"font-style: {(of.Italic ? "italic" : "normal")}; font-display: swap; src: url(fonts/{file}) format(\"woff2\"); }}"
            );
        }
    }

    /// <summary>All characters that a book can print.</summary>
    public static HashSet<int> CharactersOf(FlowingBook book)
    {
        var found = new HashSet<int>();
        void Take(string? text)
        {
            foreach (var rune in (text ?? "").EnumerateRunes())
                if (!System.Text.Rune.IsControl(rune))
                    found.Add(rune.Value);
        }
        for (var c = 0x20; c < 0x7F; c++)
            found.Add(c);
        foreach (var c in "\u00A0–—‘’“”…·•→×ﬁﬂ")
            found.Add(c);
        Take(book.Manual.Title);
        foreach (var numbers in book.Composed.Numbers.Divisions)
        foreach (var target in numbers.Targets)
        {
            Take(target.Number);
            Take(target.Title);
        }
        foreach (var division in book.Composed.Text.Divisions)
        {
            Take(division.Title);
            foreach (var block in division.Blocks.SelectMany(b => b.WithInner()))
            {
                if (block is Listing listing)
                    Take(listing.Text);
                if (block is ReferenceList list)
                    foreach (var document in list.Documents)
                        Take(document.Designation);
                foreach (var inline in block.OwnSpans().SelectMany(Walk.Flat))
                {
                    Take(book.Composed.Printed(inline));
                    if (inline is IndexEntry entry)
                        foreach (var heading in entry.Headings)
                            Take(heading);
                }
            }
        }
        return found;
    }
}
