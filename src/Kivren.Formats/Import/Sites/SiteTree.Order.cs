using System.Text.RegularExpressions;
using Kivren.Core.Content;

namespace Kivren.Formats.Import.Sites;

public sealed partial record SiteTree
{
    // The order of pages that no contents page lists: by what they say of each other, by numbers, folders and names.
    private sealed partial class Reading
    {
        /// <summary>The pages in the order in which each names the next; as deep as what they name above them.</summary>
        private int? ByNext()
        {
            var next = Enumerable.Range(0, documents.Count).Select(d => byName.GetValueOrDefault(Site(d).Next, -1)).ToArray();
            var isNamed = next.Where(n => n >= 0).ToHashSet();
            var first = Taken.FirstOrDefault(d => next[d] >= 0 && !isNamed.Contains(d), -1);
            if (first < 0)
                return null;
            var order = new List<int>();
            var met = new HashSet<int>();
            for (var at = first; at >= 0 && met.Add(at); at = next[at])
                order.Add(at);
            if (order.Count * 100 < LeastNamed * _pages)
                return null;
            int DepthOf(int file)
            {
                var depth = 0;
                for (var at = file; depth < 12 && byName.GetValueOrDefault(Site(at).Up, -1) is var up && up >= 0 && up != at; at = up)
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
            var numbered = Taken.Select(d => (File: d, Number: NumberOf(FirstHead(documents[d])))).Where(d => d.Number.Length > 0).ToList();
            if (numbered.Count * 100 < LeastNamed * _pages || numbered.All(n => n.Number.Length == 1))
                return false;
            foreach (var (file, number) in numbered.OrderBy(n => n.Number, Comparer<int[]>.Create(Compare)))
            {
                _placed.Add(file);
                Place(file, number.Length - 1, NameOf(file), "");
            }
            return true;
        }

        /// <summary>The files by the folders that they lie in: a folder's first page holds its others; a folder without one is a part by
        /// its name.</summary>
        /// <returns>the first page of the whole, -1 where there is none; null where all lie in one folder</returns>
        private int? ByFolders()
        {
            var folders = Enumerable
                .Range(0, documents.Count)
                .Where(d => !_placed.Contains(d))
                .GroupBy(d => FolderOf(documents[d].File))
                .ToList();
            if (folders.Count < 2)
                return null;
            int FirstOf(IEnumerable<int> files) => files.FirstOrDefault(d => IsFirstPage(documents[d].File), -1);
            var root = folders.FirstOrDefault(f => f.Key.Length == _outermost) is { } outermost ? FirstOf(outermost) : -1;
            if (root >= 0)
                _placed.Add(root);
            // A folder's own files before its folders, and folders of one file, which are chapters, before the parts.
            foreach (
                var folder in folders
                    .OrderByDescending(f => f.Key.Length <= _outermost)
                    .ThenByDescending(f => f.Count() == 1)
                    .ThenBy(f => f.Key + "/", StringComparer.OrdinalIgnoreCase)
            )
            {
                var files = folder.Where(d => d != root).ToList();
                if (files.Count == 0)
                    continue;
                var depth = folder.Key.Length <= _outermost || folder.Count() == 1 ? 0 : 1;
                var first = depth > 0 ? FirstOf(files) : -1;
                if (first >= 0)
                {
                    _placed.Add(first);
                    _places.Add(new TreePlace(first, 0, TreePlace.Chapter, NameOf(first)));
                }
                else if (depth > 0)
                    _places.Add(new TreePlace(-1, 0, TreePlace.Part, Spoken(folder.Key[_outermost..])));
                foreach (
                    var file in files
                        .Where(f => f != first)
                        .OrderByDescending(f => IsFirstPage(documents[f].File))
                        .ThenBy(f => Counted(documents[f].File), StringComparer.OrdinalIgnoreCase)
                )
                {
                    _placed.Add(file);
                    _places.Add(new TreePlace(file, depth, KindOf(NameOf(file), "", TreePlace.Chapter), NameOf(file)));
                }
            }
            return root;
        }

        /// <summary>The files as they came, the first page before them.</summary>
        /// <returns>the first page, -1 where there is none</returns>
        private int ByNames()
        {
            var files = Enumerable.Range(0, documents.Count).Where(d => !_placed.Contains(d)).ToList();
            var root = files.Where(d => IsFirstPage(documents[d].File)).DefaultIfEmpty(-1).First();
            foreach (var file in files.Where(f => f != root))
                _places.Add(
                    new TreePlace(file, 0, KindOf(NameOf(file), CalledAt(file, "", TreePlace.Chapter), TreePlace.Chapter), NameOf(file))
                );
            _placed.UnionWith(files);
            return root;
        }

        /// <summary>A name that stands in the order its numbers count: “2-brake” before “10-hull”.</summary>
        private static string Counted(string file) => Figures().Replace(file, m => m.Value.PadLeft(9, '0'));

        /// <summary>The name of a folder as words: “op-guide” is “Op guide”.</summary>
        private static string Spoken(string folder)
        {
            var words = string.Join(": ", folder.Split('/', StringSplitOptions.RemoveEmptyEntries))
                .Replace('-', ' ')
                .Replace('_', ' ')
                .Trim();
            return words.Length == 0 ? folder : char.ToUpperInvariant(words[0]) + words[1..];
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
            TypedNumber.Match(head) is { Success: true } typed
                ?
                [
                    .. LabelWords
                        .Plain(typed.Groups["n"].Value)
                        .Split('.', StringSplitOptions.RemoveEmptyEntries)
                        .Select(n =>
                            int.TryParse(n, System.Globalization.CultureInfo.InvariantCulture, out var number) ? number : 1000 + n[0]
                        ),
                ]
                : [];
    }
}
