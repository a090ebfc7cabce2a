using System.Text.RegularExpressions;
using Kivren.Core.Content;

namespace Kivren.Formats.Import.Sites;

public sealed partial record SiteTree
{
    // Which page is the contents page, and what its lines say.
    private sealed partial class Reading
    {
        /// <summary>Lines that most pages have: the site's own menu, not what a page says.</summary>
        private HashSet<(string File, string Words, bool IsText)> Everywhere =>
            field ??= Taken
                .SelectMany(d => Site(d).Contents.Select(l => (l.File, l.Words, l.IsText)).Distinct())
                .GroupBy(line => line)
                .Where(g => g.Count() * 2 > documents.Count - _others.Count)
                .Select(g => g.Key)
                .ToHashSet();

        /// <summary>The file from whose contents lists, and those of the files they name, most others are come to; of those that lead to
        /// about as many the one that is called the first, or that names most by itself. -1 where none leads to enough.</summary>
        /// <param name="within">lines that name places in files count, too</param>
        /// <param name="explained">lines that say more than their link count, too</param>
        private int Root(bool within, bool explained = false)
        {
            var files = Enumerable.Range(0, documents.Count).Where(d => !_placed.Contains(d)).ToList();
            var direct = files.ToDictionary(
                d => d,
                d => Lines(d, textOnly: false, within, explained).Select(l => l.File).Distinct().ToList()
            );
            var below = files.ToDictionary(
                d => d,
                d => Lines(d, textOnly: true, explained: explained).Select(l => l.File).Distinct().ToList() is { Count: > 1 } own ? own : []
            );
            int Reach(int first, Dictionary<int, List<int>> by)
            {
                var met = new HashSet<int>(by[first]) { first };
                var open = new Stack<int>(by[first]);
                while (open.TryPop(out var at))
                    foreach (var next in below.GetValueOrDefault(at) ?? [])
                        if (met.Add(next))
                            open.Push(next);
                return met.Count - 1;
            }
            var index = Called(s => s.IndexPage);
            var reached = files
                .Where(d => direct[d].Count > 1 && (d != index || IsFirst(d)))
                .Select(d => (File: d, Count: Reach(d, direct)))
                .ToList();
            // What most pages name as the contents list is it, where it leads to them.
            if (
                Called(s => s.ContentsPage) is >= 0 and var contents
                && reached.Exists(r => r.File == contents && IsEnough(r.Count, LeastNamed))
            )
                return contents;
            // So is the first page of all, where what it says itself leads to them: other pages may lead there by the site's menu.
            var first = reached
                .Where(r => FolderOf(documents[r.File].File).Length == _outermost && IsFirst(r.File))
                .Select(r => (r.File, Count: Reach(r.File, below)))
                .Where(r => IsEnough(r.Count, LeastNamed))
                .ToList();
            if (first.Count > 0)
                return first.Where(r => r.Count * 10 >= first.Max(f => f.Count) * 9).MaxBy(r => below[r.File].Count).File;
            var most = reached.Select(r => r.Count).DefaultIfEmpty(0).Max();
            // A first page that has its list called the contents names what is in the book, however many notes lie beside it.
            var called = reached.Where(r => IsFirstPage(documents[r.File].File) && HasContents(r.File)).ToList();
            var least = called.Count > 0 && called.Max(r => r.Count) == most ? LeastCalled : LeastNamed;
            if (!IsEnough(most, least))
                return -1;
            var among = reached.Where(r => r.Count * 10 >= most * 9).ToList();
            // Where no first page is among them, the site's menu says less than what a page says itself.
            if (
                !among.Exists(r => IsFirst(r.File))
                && reached.Select(r => (r.File, Count: Reach(r.File, below))).MaxBy(r => (r.Count, -r.File)) is var own
                && IsEnough(own.Count, LeastNamed)
            )
                return own.File;
            return among
                .OrderByDescending(r => IsFirst(r.File))
                .ThenBy(r => IsAlphabet(r.File))
                .ThenByDescending(r => direct[r.File].Count)
                .ThenBy(r => r.File)
                .First()
                .File;
        }

        private bool IsEnough(int reached, int least) => reached * 100 >= least * (_pages - 1);

        /// <summary>The file that most pages call so; -1.</summary>
        private int Called(Func<SitePage, string> by) =>
            Taken.Select(d => by(Site(d))).GroupBy(f => f).MaxBy(g => g.Count()) is { Key.Length: > 0 } most && most.Count() * 2 > _pages
                ? byName.GetValueOrDefault(most.Key, -1)
                : -1;

        /// <summary>One of its heads says that what follows is the contents list.</summary>
        private bool HasContents(int file) =>
            documents[file]
                .Blocks.OfType<SourceParagraph>()
                .Where(p => documents[file].Styles.GetValueOrDefault(p.Style)?.Level is not null)
                .Any(p => LabelWords.Is(p.Spans.Words().Trim(), LabelWords.Contents));

        /// <summary>A list of all pages by their names is no order to read them in.</summary>
        private bool IsAlphabet(int file)
        {
            const int most = 20;
            if (IndexPages.IsIndexName(FirstHead(documents[file])) || IndexPages.IsIndexName(documents[file].Title))
                return true;
            var words = Lines(file, textOnly: false).Select(l => l.Words).ToList();
            var rising = words.Zip(words.Skip(1)).Count(w => string.Compare(w.First, w.Second, StringComparison.OrdinalIgnoreCase) <= 0);
            return words.Count > most && rising * 10 >= words.Count * 9;
        }

        private bool IsFirst(int file) =>
            IsFirstPage(documents[file].File) || LabelWords.Is(FirstHead(documents[file]), LabelWords.Contents);

        private sealed record Line(int File, int Depth, string Words, string Kind, string Group);

        /// <summary>Lines that lead to other files of the site: those of the page's own text, where it has any.</summary>
        /// <param name="within">lines that name places in files count, too: the first of each file</param>
        /// <param name="explained">lines that say more than their link count, too</param>
        private List<Line> Lines(int file, bool textOnly, bool within = false, bool explained = false)
        {
            List<Line> Of(Func<ContentsLine, bool> which) =>
                [
                    .. Site(file)
                        .Contents.Where(l => which(l) && (within || !l.IsWithin) && (explained || !l.IsExplained))
                        .Select(l => new Line(byName.GetValueOrDefault(l.File, -1), l.Depth, l.Words, l.Kind, l.Group))
                        .Where(l => l.File >= 0 && l.File != file && Site(l.File).SendsTo.Length == 0),
                ];
            // The site's menu says it first; what the page says for itself may name the same.
            var menu = new HashSet<(string, string)>();
            var text = Of(l => l.IsText && !(Everywhere.Contains((l.File, l.Words, true)) && menu.Add((l.File, l.Words))));
            return textOnly || text.Select(l => l.File).Distinct().Count() * 100 >= LeastNamed * (_pages - 1) ? text
                : Of(_ => true) is { } all && all.Select(l => l.File).Distinct().Count() > text.Select(l => l.File).Distinct().Count() * 2
                    ? all
                : text;
        }
    }
}
