using System.Runtime.CompilerServices;
using Kivren.Core.Content;
using Kivren.Core.Looks;
using Kivren.Core.Numbering;
using Kivren.Core.Selection;

namespace Kivren.Core.Indexing;

/// <summary>What is known of an index: the entries of each division, the tree while no entry changes, and the lines while
/// no entry changes its page. Most edits change neither.</summary>
public sealed class IndexCache
{
    /// <summary>Passes of the last compositions whose lines are kept.</summary>
    private const int MostLines = 6;

    private readonly ConditionalWeakTable<Division, List<GatheredEntry>> _gathered = [];
    private readonly List<PrintedIndex> _printed = [];
    private int _made;
    private (List<GatheredEntry>[] Entries, List<GatheredEntry>[]? Whole, bool LetterByLetter, string Language, IndexTree Tree)? _last;

    internal IndexTree Tree(SelectedText text, bool letterByLetter)
    {
        List<GatheredEntry>[] Gathered(IReadOnlyList<Division> divisions) =>
            [.. divisions.Select(d => _gathered.GetValue(d, IndexTree.Gather))];
        static bool AllSame(List<GatheredEntry>[] a, List<GatheredEntry>[] b)
        {
            var same = a.Length == b.Length;
            for (var d = 0; d < a.Length && same; d++)
                same = ReferenceEquals(a[d], b[d]) || Same(a[d], b[d]);
            return same;
        }
        var entries = Gathered(text.Divisions);
        var whole = text.IsManual ? null : Gathered(text.Manual.Divisions);
        if (
            _last is { } last
            && last.LetterByLetter == letterByLetter
            && last.Language == text.Manual.Language
            && AllSame(last.Entries, entries)
            && (last.Whole is null ? whole is null : whole is not null && AllSame(last.Whole, whole))
        )
            return last.Tree;
        var tree = IndexTree.Of(entries, letterByLetter, text.Manual.Language, whole);
        _last = (entries, whole, letterByLetter, text.Manual.Language, tree);
        return tree;
    }

    private static bool Same(List<GatheredEntry> a, List<GatheredEntry> b)
    {
        if (a.Count != b.Count)
            return false;
        for (var i = 0; i < a.Count; i++)
        {
            if (a[i].Division != b[i].Division || a[i].Block != b[i].Block || a[i].In != b[i].In)
                return false;
            var (x, y) = (a[i].Entry, b[i].Entry);
            if (
                !ReferenceEquals(x, y)
                && !(x with { Headings = y.Headings } == y && x.Headings.SequenceEqual(y.Headings, StringComparer.Ordinal))
            )
                return false;
        }
        return true;
    }

    /// <summary>The lines for the places found; the same object when it says the same as one of the last.</summary>
    /// <param name="numbers">of this pass, with the stamps of its divisions: under one stamp everything in a division stands where it
    /// stood</param>
    internal PrintedIndex Lines(
        IndexTree tree,
        IndexDefinition definition,
        Func<Id, Id, LocatedPage> locate,
        ManualNumbers numbers,
        long[] stamps
    )
    {
        lock (_printed)
        {
            PrintedIndex? like = null;
            // The last is the likest.
            for (var p = _printed.Count - 1; p >= 0; p--)
                if (ReferenceEquals(_printed[p].Tree, tree) && ReferenceEquals(_printed[p].Definition, definition))
                {
                    if (SaysTheSame(_printed[p]))
                        return _printed[p];
                    like ??= _printed[p];
                }
            var places = tree.Places(locate);
            var made = new PrintedIndex(
                tree,
                definition,
                places,
                IndexLine.Of(tree, definition, places, like?.Places, like?.Lines),
                ++_made
            )
            {
                Stamps = stamps,
            };
            if (_printed.Count == MostLines)
                _printed.RemoveAt(0);
            _printed.Add(made);
            return made;
        }

        bool SaysTheSame(PrintedIndex printed)
        {
            if (printed.Stamps.Length != stamps.Length)
                return false;
            for (var d = 0; d < stamps.Length; d++)
                if (stamps[d] != printed.Stamps[d] && !tree.StandsAsBefore(numbers.Divisions[d].Division.Id, printed.Places, locate))
                    return false;
            printed.Stamps = stamps;
            return true;
        }
    }
}

/// <summary>An index with the pages that one pass found.</summary>
/// <param name="Serial">tells it from every other of its cache</param>
internal sealed record PrintedIndex(IndexTree Tree, IndexDefinition Definition, LocatedPage[] Places, List<IndexLine> Lines, int Serial)
{
    /// <summary>Of the divisions, in the pass that said so last.</summary>
    public required long[] Stamps { get; set; }
}
