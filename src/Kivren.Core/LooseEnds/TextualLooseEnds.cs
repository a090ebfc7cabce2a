using Kivren.Core.Content;
using Kivren.Core.Indexing;
using Kivren.Core.Numbering;
using Kivren.Core.Selection;

namespace Kivren.Core.LooseEnds;

/// <summary>Loose ends that can be told from the text alone, without setting it.</summary>
internal static class TextualLooseEnds
{
    public static void Find(SelectedText text, ManualNumbers numbers, IndexTree index, List<LooseEnd> found)
    {
        var starts = new Dictionary<Id, GatheredEntry>();
        var ended = new HashSet<Id>();
        var headings = new HashSet<string>(StringComparer.OrdinalIgnoreCase);
        foreach (var e in index.Entries)
            if (e.Entry.Headings.Count > 0 && e.Entry.Kind != EntryKind.RangeEnd) headings.Add(e.Entry.Headings[0]);
        foreach (var e in index.Entries)
        {
            switch (e.Entry.Kind)
            {
                case EntryKind.RangeStart: starts.TryAdd(e.Entry.Id, e); break;
                case EntryKind.RangeEnd when !starts.ContainsKey(e.Entry.Id):
                    found.Add(new LooseEnd(LooseEndKind.RangeUnopened, e.Division, e.Block, string.Join(" › ", e.Entry.Headings), "This index range ends before it begins. Take the end out, or begin the range above it."));
                    break;
                case EntryKind.RangeEnd: ended.Add(e.Entry.Id); break;
            }
            foreach (var see in new[] { e.Entry.See, e.Entry.SeeAlso })
                if (see is { Length: > 0 } && !headings.Contains(see) && !headings.Contains(see.Split(',')[0]))
                    found.Add(new LooseEnd(LooseEndKind.SeeToNothing, e.Division, e.Block, e.Entry.Headings.Count > 0 ? e.Entry.Headings[0] : "", $"“see {see}”: the index has no heading “{see}”. Add it, or name another."));
        }
        foreach (var (id, e) in starts)
            if (!ended.Contains(id))
                found.Add(new LooseEnd(LooseEndKind.RangeUnclosed, e.Division, e.Block, string.Join(" › ", e.Entry.Headings), "This index range is never closed; it prints as one page. Put its end where the subject ends."));
        foreach (var division in numbers.Divisions)
        {
            if (division.Division.Kind == DivisionKind.Index && index.Headings.Count == 0)
                found.Add(new LooseEnd(LooseEndKind.IndexEmpty, division.Division.Id, division.Division.Id, division.Division.Title, "An index is asked for, but the text has no index entries."));
            if (division.Targets.FirstOrDefault(t => t.Kind == TargetKind.Head) is { } first && first.Title == division.Division.Title && first.Level == HeadLevel.A)
                found.Add(new LooseEnd(LooseEndKind.RepeatedTitle, division.Division.Id, first.Id, first.Title, "The division's first head repeats its title, so the contents list names it twice. Take the head out, or reword it."));
        }
    }
}
