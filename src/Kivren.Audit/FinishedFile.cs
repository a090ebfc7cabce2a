using System.Globalization;
using System.Text;
using UglyToad.PdfPig;
using UglyToad.PdfPig.Content;
using UglyToad.PdfPig.Core;
using UglyToad.PdfPig.Tokens;

namespace Kivren.Audit;

/// <summary>A line as it stands on a finished page, in the file's reading order.</summary>
/// <param name="Words">its characters without white space and hyphens, which line breaking may add or move</param>
public sealed record PrintedLine(string Words, double X, double Y, double Size)
{
    public double End { get; init; }

    /// <summary>It runs down the page; its place is counted along it from the head, and from the right.</summary>
    public bool Turned { get; init; }

    /// <summary>The number of the cell of a table that it is of, in reading order; 0 for none.</summary>
    public int Cell { get; init; }
}

/// <summary>A page of a finished file: what its text is, what its furniture is, what its label is.</summary>
public sealed record PrintedPage(
    int Index,
    string Label,
    IReadOnlyList<PrintedLine> Lines,
    IReadOnlyList<PrintedLine> Furniture,
    double Width,
    double Height
)
{
    /// <summary>Letters that are neither text, nor furniture, nor part of a picture: nobody can tell what they are.</summary>
    public int Untagged { get; init; }
}

/// <summary>Reads a finished PDF with another reader's eyes: text with positions, labels, what is furniture and what is a
/// picture.</summary>
public static class FinishedFile
{
    public static IReadOnlyList<PrintedPage> Read(string path)
    {
        var bytes = File.ReadAllBytes(path);
        string[] labels;
        using (var document = PdfDocument.Open(bytes))
            labels = Labels(document);
        var pages = new PrintedPage[labels.Length];
        // A document is read by one thread alone; several readings of the same file go side by side.
        var readers = Math.Clamp(pages.Length / FewestPages, 1, Environment.ProcessorCount);
        Parallel.For(0, readers, r =>
        {
            using var document = PdfDocument.Open(bytes);
            var cells = new TaggedCells(document);
            for (var n = pages.Length * r / readers; n < pages.Length * (r + 1) / readers; n++)
                pages[n] = Read(document.GetPage(n + 1), labels[n], cells);
        });
        return pages;
    }

    /// <summary>For fewer pages it does not pay to open the file once more.</summary>
    private const int FewestPages = 40;

    private static PrintedPage Read(Page page, string label, TaggedCells cells)
    {
        var furniture = new HashSet<Letter>(ReferenceEqualityComparer.Instance);
        var pictures = new HashSet<Letter>(ReferenceEqualityComparer.Instance);
        var actual = new Dictionary<Letter, string>(ReferenceEqualityComparer.Instance);
        var tagged = new Dictionary<Letter, MarkedContentElement>(ReferenceEqualityComparer.Instance);
        foreach (var marked in page.GetMarkedContents())
        {
            Gather(marked, furniture, pictures, actual);
            foreach (var letter in All(marked))
                tagged[letter] = marked;
        }
        var text = page.Letters.Where(l => !furniture.Contains(l) && !pictures.Contains(l));
        return new PrintedPage(
            page.Number - 1,
            label,
            Lines(text, actual, tagged, mark => cells.CellOf(page, mark)),
            Lines(page.Letters.Where(furniture.Contains), actual, tagged, _ => 0),
            page.Width,
            page.Height
        )
        {
            Untagged = page.Letters.Count(l => !tagged.ContainsKey(l)),
        };
    }

    private static void Gather(
        MarkedContentElement element,
        HashSet<Letter> furniture,
        HashSet<Letter> pictures,
        Dictionary<Letter, string> actual
    )
    {
        // A run may say what its glyphs cannot: its words stand for those of all its letters.
        if (element.ActualText is { Length: > 0 } words)
            for (var l = 0; l < element.Letters.Count; l++)
                actual[element.Letters[l]] = l == 0 ? words : "";
        if (element.IsArtifact || element.Tag == "Artifact")
            furniture.UnionWith(All(element));
        else if (element.Tag is "Figure" or "Formula")
            pictures.UnionWith(All(element));
        foreach (var child in element.Children)
            Gather(child, furniture, pictures, actual);
    }

    private static IEnumerable<Letter> All(MarkedContentElement element) => element.Letters.Concat(element.Children.SelectMany(All));

    /// <summary>What is compared: letters and signs without white space, hyphens and the mark of a listing's turned line.</summary>
    public static string Normal(string text)
    {
        var normal = new StringBuilder(text.Length);
        foreach (var c in text)
            if (
                !char.IsWhiteSpace(c)
                && c is not ('-' or '\u00AD' or '\u2010' or '\u2011' or '\u2060' or '\u200B' or '↳' or '\uFFFD' or '\0' or '\u2028')
            )
                normal.Append(c);
        return normal.ToString();
    }

    private static List<PrintedLine> Lines(
        IEnumerable<Letter> letters,
        Dictionary<Letter, string> actual,
        Dictionary<Letter, MarkedContentElement> tagged,
        Func<MarkedContentElement, int> cellOf
    )
    {
        var lines = new List<PrintedLine>();
        var text = new StringBuilder();
        double x = 0,
            y = 0,
            size = 0,
            end = 0,
            inked = 0;
        MarkedContentElement? mark = null;
        var cell = 0;
        var turned = false;
        var turnedRound = new Stack<string>();
        double lastAt = 0;
        void Unturn()
        {
            while (turnedRound.TryPop(out var said))
                text.Append(said);
        }
        void Close()
        {
            Unturn();
            var words = Normal(text.ToString());
            // The space that parts a line's last word from the next line's first takes no room.
            if (words.Length > 0)
                lines.Add(
                    new PrintedLine(words, x, y, size)
                    {
                        End = inked,
                        Cell = cell,
                        Turned = turned,
                    }
                );
            text.Clear();
        }
        var all = letters.ToList();
        var rights = Rights(all);
        var mixed = HasRightToLeft(all, actual);
        for (var n = 0; n < all.Count; n++)
        {
            var letter = all[n];
            var down = letter.TextOrientation is not (TextOrientation.Horizontal or TextOrientation.Other);
            var at = Along(letter.StartBaseLine, down);
            var marked = tagged.GetValueOrDefault(letter);
            var own =
                marked == mark ? cell
                : marked is null ? 0
                : cellOf(marked);
            // A part that only stands over or under its letter says nothing.
            var said = actual.GetValueOrDefault(letter, letter.Value).Trim('\u200B');
            var ends = Along(letter.EndBaseLine, down).X;
            // A run that says what it is hangs together, whatever stands above or below its letters.
            var joined = text.Length + turnedRound.Count > 0 && said.Length == 0 && marked == mark;
            var room = size * (marked == mark ? 3 : 0.8);
            var fromRight = mixed[n];
            // A raised note call is still of its line; what stands far off on the same baseline is not, nor what is of another cell.
            if (
                text.Length + turnedRound.Count > 0
                && !joined
                && (
                    own != cell
                    || down != turned
                    || Math.Abs(at.Y - y) > size * 0.5
                    || (fromRight ? rights[n] < x - 2 * room || at.X > inked + 2 * room : at.X < end - size || at.X > end + room)
                )
            )
                Close();
            (mark, cell, turned) = (marked, own, down);
            if (text.Length + turnedRound.Count == 0)
                (x, y, size, inked) = (at.X, at.Y, letter.PointSize, at.X);
            // Letters of a word that is read from the right stand in the order of sight.
            if (
                said.Length > 0
                && said.Any(c => IsReadFromRight(c) || (fromRight && IsMark(c)))
                && (turnedRound.Count == 0 || at.X >= lastAt - size)
            )
                turnedRound.Push(said);
            else if (said.Length > 0)
            {
                Unturn();
                if (said.Any(c => IsReadFromRight(c)))
                    turnedRound.Push(said);
                else
                    text.Append(said);
            }
            lastAt = at.X;
            end = ends;
            if (!string.IsNullOrWhiteSpace(letter.Value))
                (x, inked) = (Math.Min(x, at.X), Math.Max(inked, end));
        }
        Close();
        return lines;
    }

    /// <summary>Where the word of each letter ends at the right: what is read from the right begins with its last.</summary>
    private static double[] Rights(List<Letter> letters)
    {
        var rights = new double[letters.Count];
        for (var n = letters.Count - 1; n >= 0; n--)
        {
            var (here, next) = (letters[n], n + 1 < letters.Count ? letters[n + 1] : null);
            rights[n] =
                next is not null
                && Math.Abs(next.StartBaseLine.Y - here.StartBaseLine.Y) < here.PointSize / 2
                && next.StartBaseLine.X >= here.StartBaseLine.X - .1
                && next.StartBaseLine.X <= here.EndBaseLine.X + here.PointSize / 10
                    ? Math.Max(here.EndBaseLine.X, rights[n + 1])
                    : here.EndBaseLine.X;
        }
        return rights;
    }

    /// <summary>For each letter whether something on its line is read from the right.</summary>
    private static bool[] HasRightToLeft(List<Letter> letters, Dictionary<Letter, string> actual)
    {
        var has = new bool[letters.Count];
        for (var from = 0; from < letters.Count; )
        {
            var to = from;
            var found = false;
            for (
                ;
                to < letters.Count && Math.Abs(letters[to].StartBaseLine.Y - letters[from].StartBaseLine.Y) < letters[from].PointSize;
                to++
            )
                found |= actual.GetValueOrDefault(letters[to], letters[to].Value).Any(IsReadFromRight);
            Array.Fill(has, found, from, to - from);
            from = to;
        }
        return has;
    }

    /// <summary>Letters of Hebrew, Arabic and their neighbours.</summary>
    private static bool IsReadFromRight(char c) => c is (>= '\u0590' and <= '\u08FF') or (>= '\uFB1D' and <= '\uFEFC');

    private static bool IsMark(char c) => char.GetUnicodeCategory(c) == System.Globalization.UnicodeCategory.NonSpacingMark;

    /// <summary>Of what runs down a page: how far along it, and from which side.</summary>
    private static (double X, double Y) Along(PdfPoint at, bool down) => down ? (-at.Y, at.X) : (at.X, at.Y);

    private static string[] Labels(PdfDocument document)
    {
        var labels = new string[document.NumberOfPages];
        var ranges = new List<(int From, string Style, string Prefix, int Start)>();
        if (
            document.Structure.Catalog.CatalogDictionary.TryGet(NameToken.Create("PageLabels"), out var token)
            && Resolve(document, token) is DictionaryToken tree
            && tree.TryGet(NameToken.Create("Nums"), out var nums)
            && Resolve(document, nums) is ArrayToken array
        )
            for (var i = 0; i + 1 < array.Data.Count; i += 2)
                if (array.Data[i] is NumericToken from && Resolve(document, array.Data[i + 1]) is DictionaryToken range)
                    ranges.Add(
                        (
                            from.Int,
                            range.TryGet(NameToken.Create("S"), out var s) && s is NameToken style ? style.Data : "",
                            range.TryGet(NameToken.Create("P"), out var p)
                                ? p switch
                                {
                                    StringToken t => t.Data,
                                    HexToken h => h.Data,
                                    _ => "",
                                }
                                : "",
                            range.TryGet(NameToken.Create("St"), out var st) && st is NumericToken start ? start.Int : 1
                        )
                    );
        for (var i = 0; i < labels.Length; i++)
        {
            var (from, style, prefix, start) = ranges.LastOrDefault(r => r.From <= i);
            var number = start + i - from;
            labels[i] =
                prefix
                + style switch
                {
                    "r" => Roman(number),
                    "a" => new string((char)('a' + (number - 1) % 26), (number - 1) / 26 + 1),
                    "D" => number.ToString(CultureInfo.InvariantCulture),
                    _ => "",
                };
        }
        return labels;
    }

    private static IToken Resolve(PdfDocument document, IToken token) =>
        token is IndirectReferenceToken reference ? document.Structure.GetObject(reference.Data).Data : token;

    internal static string Roman(int n)
    {
        var text = "";
        foreach (
            var (value, sign) in new[]
            {
                (1000, "m"),
                (900, "cm"),
                (500, "d"),
                (400, "cd"),
                (100, "c"),
                (90, "xc"),
                (50, "l"),
                (40, "xl"),
                (10, "x"),
                (9, "ix"),
                (5, "v"),
                (4, "iv"),
                (1, "i"),
            }
        )
            for (; n >= value; n -= value)
                text += sign;
        return text;
    }
}
