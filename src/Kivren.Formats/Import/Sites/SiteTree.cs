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

    /// <summary>Why a file is left out; "" where it is no text, or a contents list that the manual makes itself.</summary>
    public string Why { get; init; } = "";

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
    private const int LeastNamed = 40,
        LeastCalled = 15;

    /// <summary>Pages with fewer words that no list names are no text: a search form, a page of errors.</summary>
    private const int FewWords = 60;

    /// <summary>No page stands deeper.</summary>
    private const int MostUps = 12;

    /// <summary>Longer pages are no notes.</summary>
    private const int NoteWords = 250;

    /// <summary>What most heads begin with and is no part of their titles: the name of the whole.</summary>
    internal string OverHeads { get; init; } = "";

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
        // A file of another kind among the pages does not make them less of a site.
        if (documents.Count(d => d.Site is not null) is var pages && (pages < Fewest || pages * 2 < documents.Count))
            return null;
        var byName = new Dictionary<string, int>(StringComparer.OrdinalIgnoreCase);
        for (var d = 0; d < documents.Count; d++)
            byName.TryAdd(documents[d].File, d);
        return new Reading(documents, byName).Tree();
    }

    private sealed partial class Reading(IReadOnlyList<SourceDocument> documents, Dictionary<string, int> byName)
    {
        private readonly List<TreePlace> _places = [];
        private readonly HashSet<int> _placed = [];

        /// <summary>What the contents page calls the whole.</summary>
        private HashSet<string> _titles = [];

        /// <summary>Files that are pages with words of their own.</summary>
        private int _pages;

        private readonly IReadOnlyDictionary<int, string> _others = OtherLanguages.In(documents);

        /// <summary>Files of the language that the book is in.</summary>
        private IEnumerable<int> Taken => Enumerable.Range(0, documents.Count).Where(d => !_others.ContainsKey(d));

        private SitePage Site(int file) => documents[file].Site ?? SitePage.None;

        public SiteTree? Tree()
        {
            var sending = Enumerable.Range(0, documents.Count).Where(d => Site(d).SendsTo.Length > 0).ToList();
            _placed.UnionWith(sending);
            _placed.UnionWith(_others.Keys);
            _pages = Taken.Count(d => documents[d].Site is null || SiteFurniture.IsPage(documents[d]));
            var root = Root(within: false);
            var within = root < 0;
            if (within)
                root = Root(within: true);
            // Lines that say more than what they lead to may be a list as well, where no other is.
            if (root < 0)
                root = Root(within: true, explained: true);
            string from;
            var isGuess = false;
            if (root >= 0)
            {
                _placed.Add(root);
                _titles = [FirstHead(documents[root]), documents[root].Title];
                Contents(Lines(root, textOnly: false, within, explained: true), 0, top: true);
                // One part alone parts nothing.
                if (_places.Count(p => p.File < 0) == 1)
                    for (var i = _places.FindIndex(p => p.File < 0); i >= 0 && i < _places.Count; i++)
                        if (_places[i].File < 0)
                            _places.RemoveAt(i--);
                        else if (_places[i].Depth > 0)
                            _places[i] = _places[i] with { Depth = _places[i].Depth - 1 };
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
            else if (ByFolders() is { } page)
            {
                root = page;
                isGuess = true;
                from = "the folders of its files";
            }
            else
            {
                root = ByNames();
                isGuess = true;
                from = "the names of its files";
            }
            var title = "";
            if (root >= 0)
            {
                title = TitleOf(root, isGuess);
                // What the first page says besides its contents list is a preface; the page itself is no chapter.
                var says = documents[root].Blocks.Where(b => b is not SourceGenerated).Words();
                if (_places.All(p => p.File != root))
                    _places.Insert(
                        0,
                        IsAmong(root)
                            ? new TreePlace(root, 0, TreePlace.LeftOut, title) { Why = SaysOnceMore }
                            : new TreePlace(root, 0, IsText(says) && !IsLinks(documents[root]) ? "preface" : TreePlace.LeftOut, title)
                    );
            }
            var listed = _places.Count;
            Rest(root);
            Further(listed);
            Letter();
            // What holds chapters is a part.
            for (var i = 0; i + 1 < _places.Count; i++)
                if (
                    _places[i] is { Kind: TreePlace.Chapter, Depth: 0 } above
                    && _places.Skip(i + 1).TakeWhile(p => p.Depth > 0).Any(p => p is { Depth: 1, Kind: TreePlace.Chapter })
                )
                    _places[i] = above with { Kind = TreePlace.Part };
            _places.AddRange(
                sending.Select(d => new TreePlace(d, 0, TreePlace.LeftOut, NameOf(d))
                {
                    Why = "The page only leads to another; links to it lead there.",
                })
            );
            _places.AddRange(
                _others.Select(o => new TreePlace(o.Key, 0, TreePlace.LeftOut, NameOf(o.Key))
                {
                    Why = $"The page is there in several languages; this one is “{o.Value}”. Bring that language's files in by themselves.",
                })
            );
            return new SiteTree(_places, title, from) { OverHeads = OverHeads };
        }

        /// <summary>Chapters that no list names, behind parts, are no chapters of the last part: they are a part of their own.</summary>
        /// <param name="listed">places before what no list names</param>
        private void Further(int listed)
        {
            var first = _places.FindIndex(Math.Min(listed, _places.Count), p => p is { Depth: 0, Kind: TreePlace.Chapter });
            if (first < 0 || !_places.Take(first).Any(p => p is { Depth: 0, Kind: TreePlace.Part }))
                return;
            var language = documents.GroupBy(d => d.Language).MaxBy(g => g.Count())?.Key ?? "";
            var further = new List<TreePlace> { new(-1, 0, TreePlace.Part, LanguageWords.Of(language)["furtherPages"]) };
            var others = new List<TreePlace>();
            var isChapter = false;
            foreach (var place in _places.Skip(first))
            {
                isChapter = place.Depth == 0 ? place.Kind == TreePlace.Chapter : isChapter;
                (isChapter ? further : others).Add(isChapter ? place with { Depth = place.Depth + 1 } : place);
            }
            _places.RemoveRange(first, _places.Count - first);
            _places.AddRange(further.Concat(others));
        }

        /// <summary>Chapters called A, B, C … behind numbered ones are appendices.</summary>
        private void Letter()
        {
            var chapters = Enumerable.Range(0, _places.Count).Where(i => _places[i].Kind == TreePlace.Chapter).ToList();
            var begins = chapters.FindIndex(i => HasLetter(_places[i].Title, 0));
            if (begins < 1 || TypedNumber.Match(_places[chapters[begins - 1]].Title) is not { Success: true })
                return;
            var lettered = chapters.Skip(begins).TakeWhile((i, n) => HasLetter(_places[i].Title, n)).ToList();
            if (lettered.Count > 1)
                foreach (var i in lettered)
                    _places[i] = _places[i] with { Kind = "appendix" };
        }

        /// <summary>Places the files that nothing above names: behind the others, and those that name files of their own before
        /// these.</summary>
        private void Rest(int root)
        {
            var there = new SaidBefore();
            var seen = new HashSet<int>();
            // What the contents lists name more than once under several names, once.
            void See()
            {
                for (var i = 0; i < _places.Count; i++)
                    if (_places[i] is { File: >= 0, Kind: not TreePlace.LeftOut } place && seen.Add(place.File))
                    {
                        if (there.Has(documents[place.File].Blocks))
                            _places[i] = place with { Kind = TreePlace.LeftOut, Why = SaysOnceMore };
                        there.Add(documents[place.File].Blocks);
                    }
            }
            foreach (var place in _places.Where(p => p.File >= 0 && p.Kind != TreePlace.LeftOut).ToList())
                Below(place.File, explained: true);
            Notes(root);
            See();
            var rest = Enumerable.Range(0, documents.Count).Where(d => !_placed.Contains(d)).ToList();
            var named = rest.Where(d => !IsAlphabet(d))
                .SelectMany(d => Lines(d, textOnly: true, within: true).Select(l => l.File))
                .ToHashSet();
            // What stands above others comes before them.
            int Ups(int d)
            {
                var ups = 0;
                for (var at = d; ups < MostUps && byName.TryGetValue(Site(at).Up, out var up) && !_placed.Contains(up); at = up)
                    ups++;
                return ups;
            }
            foreach (
                var d in rest.Select(d => (File: d, Ups: Ups(d)))
                    .OrderBy(d => named.Contains(d.File))
                    .ThenBy(d => d.Ups)
                    .Select(d => d.File)
            )
            {
                if (!_placed.Add(d))
                    continue;
                var isText = IsText(documents[d].Blocks.Where(b => b is not SourceGenerated).Words());
                if (there.Has(documents[d].Blocks))
                {
                    _places.Add(new TreePlace(d, 0, TreePlace.LeftOut, NameOf(d)) { Why = SaysOnceMore });
                    continue;
                }
                var up = UpPage(d, root);
                var above = up >= 0 ? up : FolderPage(d);
                if (above >= 0 && (isText || IsShortText(d)))
                {
                    var depth = _places[above].Depth + 1;
                    // Behind the page before it, where that stands there as well; else behind all that stands there.
                    var before =
                        up >= 0 && Before(d) is >= 0 and var last ? _places.FindIndex(p => p.File == last && p.Depth == depth) : -1;
                    var end = Math.Max(above, before) + 1;
                    while (end < _places.Count && _places[end].Depth >= (before > above ? depth + 1 : depth))
                        end++;
                    var usual = _places[above].Kind == TreePlace.Part ? TreePlace.Chapter : TreePlace.Section;
                    _places.Insert(end, new TreePlace(d, depth, usual, NameOf(d)));
                    Below(d, within: true);
                    See();
                    continue;
                }
                // The first page says what the book is, where another page has its contents list.
                if (root >= 0 && IsFirstPage(documents[d].File) && FolderOf(documents[d].File).Length == _outermost)
                {
                    _places.Insert(0, new TreePlace(d, 0, isText ? "preface" : TreePlace.LeftOut, NameOf(d)));
                    See();
                    continue;
                }
                var begun = _places.Count;
                _places.Add(
                    new TreePlace(
                        d,
                        0,
                        isText ? KindOf(NameOf(d), CalledAt(d, "", TreePlace.Chapter), TreePlace.Chapter) : TreePlace.LeftOut,
                        NameOf(d)
                    )
                );
                Below(d, within: true);
                // Pages stand below a page that is in the book.
                if (!isText && _places.Count > begun + 1)
                    _places[begun] = _places[begun] with { Kind = TreePlace.Chapter };
                See();
            }
        }

        /// <summary>The place of the page that a file says it stands below; -1 where it says none, or the first of all.</summary>
        private int UpPage(int file, int root) =>
            byName.TryGetValue(Site(file).Up, out var up) && up != root && up != file
                ? _places.FindIndex(p => p.File == up && p.Kind is not (TreePlace.LeftOut or "preface"))
                : -1;

        /// <summary>The file that says that this one is next; -1.</summary>
        private int Before(int file) => (_before ??= NextOnes()).GetValueOrDefault(file, -1);

        private Dictionary<int, int>? _before;

        private Dictionary<int, int> NextOnes()
        {
            var before = new Dictionary<int, int>();
            foreach (var d in Taken)
                if (byName.TryGetValue(Site(d).Next, out var next))
                    before.TryAdd(next, d);
            return before;
        }

        /// <summary>The place of the first page of a file's folder, or of a folder that holds this one; -1 where none has a place. The
        /// outermost folder is the book.</summary>
        private int FolderPage(int file)
        {
            var folder = FolderOf(documents[file].File);
            for (; folder.Length > _outermost; folder = FolderOf(folder))
            {
                var at = _places.FindIndex(p =>
                    p.File >= 0
                    && p.File != file
                    && p.Kind != TreePlace.LeftOut
                    && FolderOf(documents[p.File].File) == folder
                    && IsFirstPage(documents[p.File].File)
                );
                if (at >= 0)
                    return at;
            }
            return -1;
        }

        /// <summary>Letters of the folder that holds all files.</summary>
        private readonly int _outermost = documents.Select(d => FolderOf(d.File)).Distinct().Aggregate(Common).Length;

        private static string Common(string one, string other)
        {
            while (one.Length > 0 && other != one && !other.StartsWith(one + "/", StringComparison.Ordinal))
                one = FolderOf(one);
            return one;
        }

        private static string FolderOf(string file) => file.LastIndexOf('/') is >= 0 and var cut ? file[..cut] : "";

        /// <summary>Words of its own, though few, under a head.</summary>
        private bool IsShortText(int file) =>
            !IsForm(file)
            && FirstHead(documents[file]).Length > 0
            && !IsLinks(documents[file])
            && documents[file].Blocks.Where(b => b is not SourceGenerated).Words().Trim().Length > FirstHead(documents[file]).Length;

        /// <summary>A short page that one other page leads to, and no list names, stands below that: a note, a longer
        /// description.</summary>
        /// <param name="root">the first page, which leads anywhere: to a search form as well</param>
        private void Notes(int root)
        {
            var from = new Dictionary<int, HashSet<int>>();
            foreach (var place in _places.Where(p => p.File >= 0 && p.File != root && p.Kind != TreePlace.LeftOut))
            foreach (var link in SourceWalk.Spans(documents[place.File].Blocks).OfType<SourceReference>())
                if (byName.TryGetValue(link.Target.Split('#')[0], out var to) && !_placed.Contains(to))
                    if (from.TryGetValue(to, out var places))
                        places.Add(place.File);
                    else
                        from[to] = [place.File];
            foreach (var (note, places) in from.Where(f => f.Value.Count == 1).OrderBy(f => f.Key))
            {
                if (SourceText.CountOfWords(documents[note].Blocks.Words()) > NoteWords || !_placed.Add(note))
                    continue;
                var at = _places.FindIndex(p => p.File == places.First());
                var depth = _places[at].Depth + 1;
                while (at + 1 < _places.Count && _places[at + 1].Depth >= depth)
                    at++;
                _places.Insert(at + 1, new TreePlace(note, depth, TreePlace.Section, NameOf(note)));
            }
        }

        /// <summary>The first page shows what one of the files says: that is a chapter of its own.</summary>
        private bool IsAmong(int root)
        {
            var page = documents[root].Blocks.Words();
            return page.Length > 0 && _places.Any(p => p.File >= 0 && documents[p.File].Blocks.Words() == page);
        }

        private const string SaysOnceMore = "The page says once more what other pages say.";

        /// <summary>A field to search in that every page has makes none of them a form.</summary>
        private bool IsForm(int file) => Site(file).IsForm && _forms * 2 < _pages;

        private readonly int _forms = documents.Count(d => d.Site is { IsForm: true });

        /// <summary>A form and hardly a word besides, as a search is.</summary>
        private bool IsBareForm(int file) => IsForm(file) && SourceText.CountOfWords(documents[file].Blocks.Words()) < FewWords;

        private static bool IsText(string words) => SourceText.CountOfWords(words) >= FewWords;

        /// <summary>Most of its words lead elsewhere.</summary>
        private static bool IsLinks(SourceDocument document)
        {
            var linked = SourceWalk.Spans(document.Blocks).OfType<SourceReference>().Sum(r => r.Words.Length);
            return linked * 2 > document.Blocks.Where(b => b is not SourceGenerated).Words().Length;
        }

        /// <summary>Places the files that lines name, in their order, each as deep as its line.</summary>
        /// <param name="under">depth of what they stand under</param>
        private void Contents(List<Line> lines, int under, bool top)
        {
            var fresh = lines.Where(l => !_placed.Contains(l.File) && !IsBareForm(l.File)).ToList();
            var least = fresh.Select(l => l.Depth).DefaultIfEmpty(1).Min();
            // Lists under heads of their own are parts; not under the title of the whole, and appendices are what they are.
            bool IsPart(Line line) =>
                line.Group.Length > 0
                && !_titles.Contains(line.Group)
                && (!IsAppendixName(line.Group) || NumberedAppendix.IsMatch(line.Group))
                && !LabelWords.Is(line.Group, LabelWords.Contents);
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
                        _places.Add(new TreePlace(-1, 0, KindOfGroup(group), group));
                }
                var kind =
                    line.Kind.Length > 0 ? line.Kind
                    : top && line.Depth == least && shift == 0 && IsAppendixName(line.Group) ? "appendix"
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
            _places.Add(new TreePlace(file, depth, KindOf(words, CalledAt(file, kind, usual), usual), words));
        }

        /// <summary>What the line calls a file, else its own markup. Chapter is what a book's pages are called by those that know of no
        /// other kind, and so may a chapter's sections be.</summary>
        private string CalledAt(int file, string kind, string usual) =>
            kind.Length > 0 || usual == TreePlace.Section || Site(file).Kind is TreePlace.Chapter ? kind : Site(file).Kind;

        /// <summary>What a page's own contents list names stands below it.</summary>
        private void Below(int file, bool within = false, bool explained = false)
        {
            var at = _places.FindIndex(p => p.File == file);
            var all = Lines(file, textOnly: true, within, explained);
            var lines = all.Where(l => !_placed.Contains(l.File)).ToList();
            if (lines.Count == 0)
                return;
            // Where some that the list names have their place, the others stand by these.
            if (all.Exists(l => Stands(l.File, under: at)))
            {
                foreach (var place in Among(file, all))
                    Below(place, within, explained);
                return;
            }
            var end = at + 1;
            while (end < _places.Count && _places[end].Depth > _places[at].Depth)
                end++;
            var behind = _places.Skip(end).ToList();
            _places.RemoveRange(end, behind.Count);
            Contents(lines, _places[at].Depth + 1, top: false);
            var added = _places.Skip(end).ToList();
            _places.AddRange(behind);
            foreach (var place in added)
                Below(place.File, within, explained);
        }

        /// <summary>A file has its place below another.</summary>
        private bool Stands(int file, int under) =>
            _places.FindIndex(p => p.File == file) is var found
            && found > under
            && _places.Skip(under + 1).Take(found - under).All(p => p.Depth > _places[under].Depth);

        /// <summary>Places the fresh files of a list of which some have a place: each below the line that it stands under in the list,
        /// behind the line before it.</summary>
        /// <returns>the files that were placed</returns>
        private List<int> Among(int file, List<Line> all)
        {
            var placed = new List<int>();
            var above = new Stack<Line>();
            var before = new Dictionary<int, int>();
            foreach (var line in all)
            {
                while (above.TryPeek(out var last) && last.Depth >= line.Depth)
                    above.Pop();
                var under = above.TryPeek(out var holder) ? holder.File : file;
                if (_placed.Add(line.File))
                {
                    var at = _places.FindIndex(p => p.File == under);
                    var depth = at < 0 ? 0 : _places[at].Depth + 1;
                    // Behind the one before it and all that stands below that; one that stands elsewhere in the book says nothing.
                    if (at >= 0 && before.TryGetValue(under, out var sibling) && Stands(sibling, under: at))
                        for (at = _places.FindIndex(p => p.File == sibling); at + 1 < _places.Count && _places[at + 1].Depth > depth; )
                            at++;
                    var usual = _places.Take(at + 1).LastOrDefault(p => p.Depth < depth) is null or { Kind: TreePlace.Part }
                        ? TreePlace.Chapter
                        : TreePlace.Section;
                    _places.Insert(
                        at + 1,
                        new TreePlace(line.File, depth, KindOf(line.Words, CalledAt(line.File, line.Kind, usual), usual), line.Words)
                    );
                    placed.Add(line.File);
                }
                before[under] = line.File;
                above.Push(line);
            }
            return placed;
        }
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

    /// <summary>The letter of the appendix of this number from 0 stands before a title, with no sign behind it.</summary>
    private static bool HasLetter(string title, int number) =>
        number < 26 && title.Length > 2 && title[0] == 'A' + number && title[1] is ' ' or '\u00A0' && !char.IsWhiteSpace(title[2]);

    /// <summary>Its appendices have letters typed before their titles with no sign behind them, as is seen where they follow one
    /// another.</summary>
    public bool HasBareLetters =>
        Places.Where(p => p.Kind == "appendix").ToList() is { Count: > 1 } appendices
        && HasLetter(appendices[0].Title, 0)
        && HasLetter(appendices[1].Title, 1);

    /// <summary>What a file is, by what the markup calls it, else by its first word.</summary>
    private static string KindOf(string words, string kind, string usual) =>
        kind is "part" or "chapter" or "appendix" or "preface" or "glossary" ? kind
        : usual == TreePlace.Section ? usual
        : IsPartName(words) ? TreePlace.Part
        : IsAppendixName(words) ? "appendix"
        : LabelWords.Begins(words, LabelWords.Preface) ? "preface"
        : LabelWords.Is(words, LabelWords.Glossary) ? "glossary"
        : usual;

    /// <summary>A file named as the first page of a site or a folder is.</summary>
    internal static bool IsFirstPage(string file) => FirstPage().IsMatch(file);

    [GeneratedRegex(
        @"(^|/)(_?index|contents|toc|readme|summary|book-?toc|home|start)(\.[a-z]{2}([-_][a-z]{2,4})?)?\.[a-z]+$",
        RegexOptions.IgnoreCase | RegexOptions.CultureInvariant
    )]
    private static partial Regex FirstPage();

    [GeneratedRegex(@"[0-9]+", RegexOptions.CultureInvariant)]
    private static partial Regex Figures();

    [GeneratedRegex(@"\s[—–|·»-]\s|(?<=\p{L}):\s", RegexOptions.CultureInvariant)]
    private static partial Regex SiteNameMark();

    private static readonly Regex TypedNumber = new(
        @"^\W*(?:"
            + LabelWords.Labels(LabelWords.OfDivision, LabelWords.Chapter, LabelWords.Section, LabelWords.Appendix, LabelWords.Annex)
            + @"|(?<n>(?:\d{1,3}|[A-Z](?=\.))(?:\.\d{1,3})*)\.?[\s:.])",
        RegexOptions.IgnoreCase | RegexOptions.CultureInvariant
    );

    /// <summary>A title with a chapter's or an appendix's number typed before it.</summary>
    internal static bool IsChapterName(string words) => NumberedChapter.IsMatch(words);

    private static readonly Regex NumberedChapter = new(
        @"^\W*(?:" + LabelWords.Labels(LabelWords.OfDivision, LabelWords.Chapter, LabelWords.Appendix, LabelWords.Annex) + ")",
        RegexOptions.IgnoreCase | RegexOptions.CultureInvariant
    );

    /// <summary>Where the name of a whole may end at the beginning of a head: at a sign, or before “Chapter 4”.</summary>
    [GeneratedRegex(@"\s*[:|·]\s+|\s+[–—-]\s+|\s+(?=\p{L}+\s+[0-9]{1,3}\b)", RegexOptions.CultureInvariant)]
    private static partial Regex Beginnings();

    /// <summary>What a list under a head of its own is: a part, unless the head says that it is a chapter or an appendix.</summary>
    private static string KindOfGroup(string head) =>
        NumberedAppendix.IsMatch(head) ? "appendix"
        : NumberedChapter.IsMatch(head) ? TreePlace.Chapter
        : TreePlace.Part;

    private static readonly Regex NumberedAppendix = new(
        @"^\W*(?:" + LabelWords.Labels(@"(?<n>[A-Z]\b|\d+)", LabelWords.Appendix, LabelWords.Annex) + ")",
        RegexOptions.IgnoreCase | RegexOptions.CultureInvariant
    );

    private static bool IsPartName(string words) => NumberedPart.IsMatch(words);

    private static readonly Regex NumberedPart = new(
        @"^\W*(?:" + LabelWords.Labels(@"(?<n>[IVX]+|\d+|[一二三四五六七八九十]+)", LabelWords.Part) + ")",
        RegexOptions.IgnoreCase | RegexOptions.CultureInvariant
    );

    private static bool IsAppendixName(string words) =>
        LabelWords.Begins(words, LabelWords.Appendix) || LabelWords.Begins(words, LabelWords.Annex) || Lettered().IsMatch(words);

    /// <summary>A letter typed before a title, as appendices have it.</summary>
    [GeneratedRegex(@"^[A-H]\.\s+\p{L}", RegexOptions.CultureInvariant)]
    private static partial Regex Lettered();
}
