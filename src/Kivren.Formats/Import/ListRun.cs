using Kivren.Core.Content;

namespace Kivren.Formats.Import;

/// <summary>Puts paragraphs that follow one another as items together to a list with lists in it, and carries numbering on
/// over what interrupts it.</summary>
internal sealed class ListRun
{
    /// <param name="Key">entries of one numbering share it</param>
    /// <param name="Number">the number the source gives it; 0 for none</param>
    public readonly record struct Entry(string Key, int Level, ListKind Kind, bool Steps, int Number, Item Item);

    private sealed class Open
    {
        public required Id Id;
        public required Entry First;
        public required bool Continues;
        public readonly List<Item> Items = [];
    }

    private readonly List<Open> _open = [];

    /// <summary>The last number of each numbering of the outermost level, to carry it on.</summary>
    private readonly Dictionary<string, int> _last = new(StringComparer.Ordinal);

    /// <summary>The outermost list that is open counts by numbers.</summary>
    public bool IsNumbered => _open.Count > 0 && _open[0].First.Kind == ListKind.Decimal;

    public bool IsOpen => _open.Count > 0;

    public bool Add(Entry entry, Func<Id> fresh)
    {
        // A deeper list ends where a less deep item comes.
        while (_open.Count > 1 && entry.Level < _open[^1].First.Level)
            Fold();
        if (_open.Count == 0 || entry.Level > _open[^1].First.Level)
        {
            var carries = _open.Count == 0 && entry.Number > 1 && _last.GetValueOrDefault(entry.Key) == entry.Number - 1;
            _open.Add(
                new Open
                {
                    Id = fresh(),
                    First = entry,
                    Continues = carries,
                }
            );
        }
        else if (!Fits(_open[^1], entry))
        {
            if (_open.Count == 1)
                return false;
            Fold();
            _open.Add(
                new Open
                {
                    Id = fresh(),
                    First = entry,
                    Continues = false,
                }
            );
        }
        _open[^1].Items.Add(entry.Item);
        if (_open.Count == 1 && entry.Number > 0)
            _last[entry.Key] = entry.Number;
        return true;
    }

    private static bool Fits(Open open, Entry entry) =>
        open.First.Kind == entry.Kind
        && open.First.Steps == entry.Steps
        // A numbering that begins again is another list.
        && !(entry.Kind != ListKind.Unordered && entry.Number == 1 && open.Items.Count > 0 && open.First.Number > 0);

    /// <summary>A block that belongs to the last item.</summary>
    public void CarryOn(Block block)
    {
        while (_open.Count > 1)
            Fold();
        Into(_open[0], block);
    }

    private void Fold()
    {
        var inner = Made(_open[^1]);
        _open.RemoveAt(_open.Count - 1);
        Into(_open[^1], inner);
    }

    private static void Into(Open open, Block block) => open.Items[^1] = open.Items[^1] with { Blocks = [.. open.Items[^1].Blocks, block] };

    private static Block Made(Open open) =>
        open.First.Steps
            ? new Steps(open.Id, open.Continues, open.Items.ToArray())
            : new ItemList(
                open.Id,
                open.First.Kind,
                open.First.Kind == ListKind.Unordered || open.Continues ? 1 : Math.Max(1, open.First.Number),
                open.Items.ToArray()
            )
            {
                Continues = open.Continues,
            };

    /// <summary>The list that was open, or null.</summary>
    public Block? Close()
    {
        if (_open.Count == 0)
            return null;
        while (_open.Count > 1)
            Fold();
        var made = Made(_open[0]);
        _open.Clear();
        return made;
    }
}
