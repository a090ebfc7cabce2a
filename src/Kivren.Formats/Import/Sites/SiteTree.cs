using System.Text.RegularExpressions;
using Kivren.Core.Content;

namespace Kivren.Formats.Import.Sites;

/// <summary>The place of a file in the book that a site is.</summary>
/// <param name="File">its number from 0; -1 for a part that is only named</param>
/// <param name="Depth">0 for the outermost</param>
/// <param name="Kind">part, chapter, appendix, preface, glossary; section where it stands in the division above it; leftOut</param>
/// <param name="Title">of a part that is only named; else as the contents list calls the file</param>
public sealed record TreePlace(int File, int Depth, string Kind, string Title)
{
    public const string Section = "section",
        LeftOut = "leftOut",
        Part = "part",
        Chapter = "chapter";

    public bool IsDivision => Kind is not (Section or LeftOut);
}

/// <summary>A site or a folder of files as one book: in which order the files stand, and what each is. Read from its contents page, then
/// from what pages say of the next and of the one above, then from the numbers typed before their heads.</summary>
/// <param name="Title">of the manual; "" where none is known</param>
/// <param name="From">what it was read from, in words</param>
public sealed partial record SiteTree(IReadOnlyList<TreePlace> Places, string Title, string From)
{
    /// <summary>Fewer files are no site.</summary>
    private const int Fewest = 4;

    /// <summary>A contents page names at least this share of the files, in hundredths.</summary>
    private const int LeastNamed = 40;

    /// <summary>Pages with fewer words that no list names are no text: a search form, a page of errors.</summary>
    private const int FewWords = 60;

    /// <summary>What a tree that the writer made is read from.</summary>
    public const string Chosen = "your choice";

    public static bool IsKind(string? kind) =>
        kind is TreePlace.Part or TreePlace.Chapter or "appendix" or "preface" or "glossary" or TreePlace.Section or TreePlace.LeftOut;

    /// <summary>A tree as it can be shaped: files that it does not name are left out, and it has a title.</summary>
    internal SiteTree? Completed(IReadOnlyList<SourceDocument> documents) =>
        Places.Count == 0
            ? null
            : this with
            {
                Places =
                [
                    .. Places,
                    .. Enumerable
                        .Range(0, documents.Count)
                        .Where(d => Places.All(p => p.File != d))
                        .Select(d => new TreePlace(d, 0, TreePlace.LeftOut, "")),
                ],
                Title = Title.Length > 0 ? Title : Propose(documents)?.Title ?? "",
            };

    /// <returns>null where the files are not one book</returns>
    public static SiteTree? Propose(IReadOnlyList<SourceDocument> documents)
    {
        if (documents.Count < Fewest || documents.Any(d => d.Site is null))
            return null;
        var byName = new Dictionary<string, int>(StringComparer.OrdinalIgnoreCase);
        for (var d = 0; d < documents.Count; d++)
            byName.TryAdd(documents[d].File, d);
        return new Reading(documents, byName).Tree();
    }

    private sealed class Reading(IReadOnlyList<SourceDocument> documents, Dictionary<string, int> byName)
    {
        private readonly List<TreePlace> _places = [];
        private readonly HashSet<int> _placed = [];

        /// <summary>What the contents page calls the whole.</summary>
        private HashSet<string> _titles = [];

        public SiteTree? Tree()
        {
            var (root, named) = Root();
            string from;
            if (named * 100 >= LeastNamed * (documents.Count - 1))
            {
                _placed.Add(root);
                _titles = [FirstHead(documents[root]), documents[root].Title];
                var lines = Lines(root, textOnly: false);
                Contents(lines, 0, top: true);
                foreach (var place in _places.ToList())
                    if (place.File >= 0)
                        Below(place.File);
                from = $"its contents page, {documents[root].File}";
            }
            else if (ByNext() is { } first)
            {
                root = first;
                from = "what its pages say of the next and of the one above";
            }
            else if (ByNumbers())
            {
                root = -1;
                from = "the numbers typed before its heads";
            }
            else
                return null;
            var title = "";
            if (root >= 0)
            {
                title = FirstHead(documents[root]) is { Length: > 0 } head ? head : documents[root].Title;
                // What the first page says besides its contents list is a preface; the page itself is no chapter.
                var says = documents[root].Blocks.Where(b => b is not SourceGenerated).Words();
                if (_places.All(p => p.File != root))
                    _places.Insert(
                        0,
                        new TreePlace(root, 0, IsText(says) && !IsLinks(documents[root]) ? "preface" : TreePlace.LeftOut, title)
                    );
            }
            for (var d = 0; d < documents.Count; d++)
                if (_placed.Add(d))
                    _places.Add(
                        new TreePlace(
                            d,
                            0,
                            IsText(documents[d].Blocks.Where(b => b is not SourceGenerated).Words())
                                ? KindOf(NameOf(d), "", TreePlace.Chapter)
                                : TreePlace.LeftOut,
                            NameOf(d)
                        )
                    );
            return new SiteTree(_places, title, from);
        }

        private static bool IsText(string words) => words.AsSpan().Count(' ') >= FewWords;

        /// <summary>Most of its words lead elsewhere.</summary>
        private static bool IsLinks(SourceDocument document)
        {
            var linked = SourceWalk.Spans(document.Blocks).OfType<SourceReference>().Sum(r => r.Words.Length);
            return linked * 2 > document.Blocks.Where(b => b is not SourceGenerated).Words().Length;
        }

        private string NameOf(int file) => FirstHead(documents[file]) is { Length: > 0 } head ? head : documents[file].Title;

        /// <summary>The file whose contents lists name most others, and how many.</summary>
        private (int File, int Named) Root()
        {
            var best = (File: -1, Named: 0);
            for (var d = 0; d < documents.Count; d++)
            {
                var named = Lines(d, textOnly: false).Select(l => l.File).Distinct().Count(f => f != d);
                if (
                    named > best.Named
                    || (named == best.Named && named > 0 && IsFirst(documents[d].File) && !IsFirst(documents[best.File].File))
                )
                    best = (d, named);
            }
            return best;
        }

        private static bool IsFirst(string file) => FirstPage().IsMatch(file);

        private sealed record Line(int File, int Depth, string Words, string Kind, string Group);

        /// <summary>Lines that lead to other files of the site: those of the page's own text, where it has any.</summary>
        private List<Line> Lines(int file, bool textOnly)
        {
            List<Line> Of(Func<ContentsLine, bool> which) =>
                [
                    .. documents[file]
                        .Site!.Contents.Where(which)
                        .Select(l => new Line(byName.GetValueOrDefault(l.File, -1), l.Depth, l.Words, l.Kind, l.Group))
                        .Where(l => l.File >= 0 && l.File != file),
                ];
            var text = Of(l => l.IsText);
            return textOnly || text.Select(l => l.File).Distinct().Count() * 100 >= LeastNamed * (documents.Count - 1) ? text
                : Of(_ => true) is { } all && all.Select(l => l.File).Distinct().Count() > text.Select(l => l.File).Distinct().Count() * 2
                    ? all
                : text;
        }

        /// <summary>Places the files that lines name, in their order, each as deep as its line.</summary>
        /// <param name="under">depth of what they stand under</param>
        private void Contents(List<Line> lines, int under, bool top)
        {
            var fresh = lines.Where(l => !_placed.Contains(l.File)).ToList();
            var least = fresh.Select(l => l.Depth).DefaultIfEmpty(1).Min();
            // Lists under heads of their own are parts; not under the title of the whole, and appendices are what they are.
            bool IsPart(Line line) =>
                line.Group.Length > 0
                && !_titles.Contains(line.Group)
                && !AppendixWord().IsMatch(line.Group)
                && !ContentsWord().IsMatch(line.Group);
            var parts = fresh.Where(l => l.Depth == least && IsPart(l)).Select(l => l.Group).Distinct().Count();
            var group = "";
            var shift = 0;
            foreach (var line in fresh)
            {
                if (!_placed.Add(line.File))
                    continue;
                if (top && parts > 1 && line.Depth == least && line.Group != group)
                {
                    group = line.Group;
                    shift = IsPart(line) ? 1 : 0;
                    if (shift > 0)
                        _places.Add(new TreePlace(-1, 0, TreePlace.Part, group));
                }
                var kind =
                    line.Kind.Length > 0 ? line.Kind
                    : top && line.Depth == least && AppendixWord().IsMatch(line.Group) ? "appendix"
                    : "";
                Place(line.File, under + line.Depth - least + shift, line.Words, kind);
            }
        }

        private void Place(int file, int depth, string words, string kind)
        {
            var above = _places.LastOrDefault(p => p.Depth < depth);
            // A line may skip a level: nothing stands deeper than one below what is above it.
            depth = above is null ? 0 : Math.Min(depth, above.Depth + 1);
            above = _places.LastOrDefault(p => p.Depth < depth);
            var usual = above is null || above.Kind == TreePlace.Part ? TreePlace.Chapter : TreePlace.Section;
            _places.Add(new TreePlace(file, depth, KindOf(words, kind, usual), words));
        }

        /// <summary>What a page's own contents list names stands below it.</summary>
        private void Below(int file)
        {
            var at = _places.FindIndex(p => p.File == file);
            var lines = Lines(file, textOnly: true).Where(l => !_placed.Contains(l.File)).ToList();
            if (lines.Count == 0)
                return;
            var end = at + 1;
            while (end < _places.Count && _places[end].Depth > _places[at].Depth)
                end++;
            var behind = _places.Skip(end).ToList();
            _places.RemoveRange(end, behind.Count);
            Contents(lines, _places[at].Depth + 1, top: false);
            var added = _places.Skip(end).ToList();
            _places.AddRange(behind);
            foreach (var place in added)
                Below(place.File);
        }

        /// <summary>The pages in the order in which each names the next; as deep as what they name above them.</summary>
        private int? ByNext()
        {
            var next = documents.Select(d => byName.GetValueOrDefault(d.Site!.Next, -1)).ToArray();
            var isNamed = next.Where(n => n >= 0).ToHashSet();
            var first = Enumerable.Range(0, documents.Count).FirstOrDefault(d => next[d] >= 0 && !isNamed.Contains(d), -1);
            if (first < 0)
                return null;
            var order = new List<int>();
            var met = new HashSet<int>();
            for (var at = first; at >= 0 && met.Add(at); at = next[at])
                order.Add(at);
            if (order.Count * 100 < LeastNamed * documents.Count)
                return null;
            int DepthOf(int file)
            {
                var depth = 0;
                for (
                    var at = file;
                    depth < 12 && byName.GetValueOrDefault(documents[at].Site!.Up, -1) is var up && up >= 0 && up != at;
                    at = up
                )
                    depth++;
                return depth;
            }
            var depths = order.Select(DepthOf).ToList();
            var least = depths.Skip(1).DefaultIfEmpty(0).Min();
            for (var i = 0; i < order.Count; i++)
            {
                _placed.Add(order[i]);
                if (i > 0)
                    Place(order[i], depths[i] - least, NameOf(order[i]), "");
            }
            return first;
        }

        /// <summary>The pages by the numbers typed before their first heads: 4.1 stands in 4.</summary>
        private bool ByNumbers()
        {
            var numbered = Enumerable
                .Range(0, documents.Count)
                .Select(d => (File: d, Number: NumberOf(FirstHead(documents[d]))))
                .Where(d => d.Number.Length > 0)
                .ToList();
            if (numbered.Count * 100 < LeastNamed * documents.Count || numbered.All(n => n.Number.Length == 1))
                return false;
            foreach (var (file, number) in numbered.OrderBy(n => n.Number, Comparer<int[]>.Create(Compare)))
            {
                _placed.Add(file);
                Place(file, number.Length - 1, NameOf(file), "");
            }
            return true;
        }

        private static int Compare(int[]? a, int[]? b)
        {
            for (var i = 0; i < Math.Min(a!.Length, b!.Length); i++)
                if (a[i] != b[i])
                    return a[i].CompareTo(b[i]);
            return a!.Length.CompareTo(b!.Length);
        }

        /// <summary>Letters of appendices count behind all chapters.</summary>
        private static int[] NumberOf(string head) =>
            TypedNumber().Match(head) is { Success: true } typed
                ?
                [
                    .. typed
                        .Groups[1]
                        .Value.Split('.', StringSplitOptions.RemoveEmptyEntries)
                        .Select(n =>
                            int.TryParse(n, System.Globalization.CultureInfo.InvariantCulture, out var number) ? number : 1000 + n[0]
                        ),
                ]
                : [];
    }

    /// <summary>The words of the first head of a file; "" where it has none.</summary>
    public static string FirstHead(SourceDocument document) =>
        string.Join(
            ' ',
            (
                document
                    .Blocks.OfType<SourceParagraph>()
                    .FirstOrDefault(p => document.Styles.GetValueOrDefault(p.Style)?.Level is not null)
                    ?.Spans.Words()
                ?? ""
            ).Split((char[]?)null, StringSplitOptions.RemoveEmptyEntries)
        );

    /// <summary>What a file is, by what the markup calls it, else by its first word.</summary>
    private static string KindOf(string words, string kind, string usual) =>
        kind is "part" or "chapter" or "appendix" or "preface" or "glossary" ? kind
        : kind.StartsWith("sect", StringComparison.Ordinal) || kind is "refentry" ? TreePlace.Section
        : usual == TreePlace.Section ? usual
        : PartWord().IsMatch(words) ? TreePlace.Part
        : AppendixWord().IsMatch(words) ? "appendix"
        : PrefaceWord().IsMatch(words) ? "preface"
        : GlossaryWord().IsMatch(words) ? "glossary"
        : usual;

    [GeneratedRegex(
        @"(^|/)(index|contents|toc|readme|book-?toc|home|start)\.[a-z]+$",
        RegexOptions.IgnoreCase | RegexOptions.CultureInvariant
    )]
    private static partial Regex FirstPage();

    [GeneratedRegex(
        @"^\W*(?:(?:chapter|section|appendix|part|kapitel|abschnitt|anhang|teil|chapitre|annexe|partie|capítulo|apéndice|hoofdstuk"
            + @"|bijlage)\s+)?((?:\d{1,3}|[A-Z](?=\.))(?:\.\d{1,3})*)\.?[\s:.]",
        RegexOptions.IgnoreCase | RegexOptions.CultureInvariant
    )]
    private static partial Regex TypedNumber();

    [GeneratedRegex(@"^\W*(part|teil|partie|parte|deel|del)\s+([IVX]+|\d+)\b", RegexOptions.IgnoreCase | RegexOptions.CultureInvariant)]
    private static partial Regex PartWord();

    [GeneratedRegex(
        @"^\W*(appendix|appendices|anhang|anhänge|annexe|apéndice|appendice|bijlage|bilaga)\b|^[A-H]\.\s+\p{L}",
        RegexOptions.CultureInvariant | RegexOptions.IgnoreCase
    )]
    private static partial Regex AppendixWord();

    [GeneratedRegex(
        @"^\W*(table of )?contents\W*$|^\W*(inhalt|inhaltsverzeichnis|sommaire|table des matières|índice|indice|inhoud|innehåll)\W*$",
        RegexOptions.IgnoreCase | RegexOptions.CultureInvariant
    )]
    private static partial Regex ContentsWord();

    [GeneratedRegex(
        @"^\W*(preface|foreword|vorwort|préface|avant-propos|prefacio|prefazione|voorwoord|förord)\b",
        RegexOptions.IgnoreCase | RegexOptions.CultureInvariant
    )]
    private static partial Regex PrefaceWord();

    [GeneratedRegex(
        @"^\W*(glossary|glossar|glossaire|glosario|glossario|ordlista|woordenlijst)\W*$",
        RegexOptions.IgnoreCase | RegexOptions.CultureInvariant
    )]
    private static partial Regex GlossaryWord();
}
