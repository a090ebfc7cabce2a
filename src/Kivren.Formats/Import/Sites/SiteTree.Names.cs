using System.Text.RegularExpressions;
using Kivren.Core.Content;

namespace Kivren.Formats.Import.Sites;

public sealed partial record SiteTree
{
    // What the whole and its pages are called.
    private sealed partial class Reading
    {
        /// <summary>What the whole is called: by the head of its first page, unless that only says what the page is.</summary>
        /// <param name="isGuess">no list and no page says that it is the first</param>
        private string TitleOf(int root, bool isGuess)
        {
            static bool Tells(string words) =>
                words.Length > 0
                && !LabelWords.Is(words, LabelWords.Contents)
                && !LabelWords.Is(words[(words.LastIndexOf(' ') + 1)..], LabelWords.Contents)
                && !LabelWords.Is(words, LabelWords.Introduction);
            var head = FirstHead(documents[root]);
            // A page that only happens to be the first is not what the whole is called.
            if (isGuess && (SameTitle.Length > 0 ? SameTitle : SiteName) is { Length: > 0 } site)
                return site;
            return Tells(head) ? (OverHeads is { Length: > 0 } over && head.StartsWith(over, StringComparison.Ordinal) ? Bare(over) : head)
                : SiteName is { Length: > 0 } name ? name
                : Enumerable
                    .Range(0, documents.Count)
                    .Where(d => IsFirstPage(documents[d].File))
                    .Select(d => FirstHead(documents[d]))
                    .Concat(
                        Enumerable.Range(0, documents.Count).Where(d => IsFirstPage(documents[d].File)).Select(d => Site(d).WindowTitle)
                    )
                    .FirstOrDefault(Tells)
                    ?? (documents[root].Title.Length > 0 ? documents[root].Title : head);
        }

        /// <summary>What most pages have behind their own title, or before it, in the line that a reader's window shows; "".</summary>
        private string SiteName =>
            field ??= documents
                .Where(d => d.Site is { SendsTo.Length: 0 })
                .SelectMany(d => AroundMarks(d.Site!.WindowTitle).Distinct())
                .GroupBy(name => name)
                .OrderByDescending(g => g.Count())
                .ThenByDescending(g => g.Key.Length)
                .Where(g => g.Count() * 2 > _pages)
                .Select(g => g.Key)
                .FirstOrDefault("");

        /// <summary>What most pages' heads begin with, the sign behind it included: what the whole is called, as the first page says,
        /// too. "" where they begin with nothing but their own names.</summary>
        private string OverHeads
        {
            get
            {
                return field ??= Find();
                string Find()
                {
                    var first = Enumerable
                        .Range(0, documents.Count)
                        .Where(d => IsFirstPage(documents[d].File))
                        .SelectMany(d => new[] { FirstHead(documents[d]), Site(d).WindowTitle })
                        .ToList();
                    var heads = Taken.Select(d => FirstHead(documents[d])).Where(h => h.Length > 0).ToList();
                    return heads
                        .SelectMany(h => Beginnings().Matches(h).Select(m => h[..(m.Index + m.Length)]).Where(b => b.Length < h.Length))
                        .GroupBy(b => b)
                        .Where(g => g.Count() >= Fewest && g.Count() * 2 > heads.Count)
                        .Where(g => first.Exists(f => f.Contains(Bare(g.Key), StringComparison.OrdinalIgnoreCase)))
                        .OrderByDescending(g => g.Key.Length)
                        .Select(g => g.Key)
                        .FirstOrDefault("");
                }
            }
        }

        private static string Bare(string beginning) => beginning.TrimEnd(' ', ':', '-', '–', '—', '|', '·');

        /// <summary>What the reader's window shows over most pages alike; "".</summary>
        private string SameTitle =>
            field ??= documents
                .Where(d => d.Site is { SendsTo.Length: 0, WindowTitle.Length: > 0 })
                .GroupBy(d => d.Site!.WindowTitle)
                .Where(g => g.Count() * 2 > _pages)
                .Select(g => g.Key)
                .FirstOrDefault("");

        private static IEnumerable<string> AroundMarks(string title) =>
            SiteNameMark()
                .Matches(title)
                .SelectMany(m => new[] { title[(m.Index + m.Length)..].Trim(), title[..m.Index].Trim() })
                .Where(name => name.Length > 0);

        private string NameOf(int file) => FirstHead(documents[file]) is { Length: > 0 } head ? head : OwnTitle(documents[file].Title);

        /// <summary>What a reader's window shows over a page, without the name of the site before or behind it.</summary>
        private string OwnTitle(string title)
        {
            foreach (Match mark in SiteNameMark().Matches(title))
            {
                var (before, behind) = (title[..mark.Index].Trim(), title[(mark.Index + mark.Length)..].Trim());
                if (behind.Length > 0 && before == SiteName)
                    return behind;
                if (before.Length > 0 && behind == SiteName)
                    return before;
            }
            return title;
        }
    }
}
