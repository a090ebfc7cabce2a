using Kivren.Core.Content;
using Kivren.Core.Looks;
using Kivren.Core.Numbering;

namespace Kivren.Core.Lists;

/// <summary>A contents list with the pages that one pass found.</summary>
/// <param name="Serial">tells it from every other of its cache</param>
internal sealed record PrintedContents(ContentsDefinition Definition, List<ContentsEntry> Entries, int Serial);

/// <summary>The entries of each contents list in the passes of the last compositions: most edits change none.</summary>
internal sealed class ContentsCache
{
    /// <summary>Passes of the last compositions whose entries are kept.</summary>
    private const int MostPasses = 6;

    private readonly Dictionary<Id, List<PrintedContents>> _kept = [];

    /// <summary>What a list takes of a division, by the division's stamp.</summary>
    private readonly Dictionary<(Id List, long Stamp), (ContentsDefinition Definition, List<ContentsEntry> Entries)> _parts = [];
    private int _made;

    /// <summary>What the list says; the same object when it says the same as one of the last.</summary>
    /// <param name="stamps">of the divisions in this pass: under one stamp a division is listed in one way</param>
    public PrintedContents Of(Id list, ContentsDefinition definition, ManualNumbers numbers, int at, Func<Id, string> folio, long[] stamps)
    {
        lock (_kept)
        {
            if (_parts.Count > 12 * (numbers.Divisions.Count + 100))
                _parts.Clear();
            var (from, end) = ContentsEntry.Range(definition.Scope, numbers, at);
            var entries = new List<ContentsEntry>();
            for (var d = from; d < end; d++)
            {
                if (!_parts.TryGetValue((list, stamps[d]), out var part) || !ReferenceEquals(part.Definition, definition))
                    _parts[(list, stamps[d])] = part = (
                        definition,
                        ContentsEntry.OfDivision(definition, numbers.Divisions[d], d == at, folio)
                    );
                entries.AddRange(part.Entries);
            }
            ContentsEntry.Ordered(entries, definition, numbers, at);
            if (!_kept.TryGetValue(list, out var kept))
                _kept.Add(list, kept = []);
            foreach (var printed in kept)
                if (
                    ReferenceEquals(printed.Definition, definition)
                    && System
                        .Runtime.InteropServices.CollectionsMarshal.AsSpan(entries)
                        .SequenceEqual(System.Runtime.InteropServices.CollectionsMarshal.AsSpan(printed.Entries))
                )
                    return printed;
            if (kept.Count == MostPasses)
                kept.RemoveAt(0);
            var made = new PrintedContents(definition, entries, ++_made);
            kept.Add(made);
            return made;
        }
    }
}
