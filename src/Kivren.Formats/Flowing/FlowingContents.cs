using System.Xml.Linq;
using Kivren.Core.Content;
using Kivren.Core.Lists;
using Kivren.Core.Looks;
using Kivren.Core.Numbering;
using static Kivren.Formats.Flowing.Xhtml;

namespace Kivren.Formats.Flowing;

/// <summary>A line of the contents that a reader finds the way by, with those beneath it.</summary>
internal sealed record FlowingEntry(Id Target, string Words, List<FlowingEntry> Under);

/// <summary>The contents of a flowing book, of the same definition as the printed list: divisions that it does not list are
/// added, so that every page is found.</summary>
internal static class FlowingContents
{
    public static List<FlowingEntry> Of(FlowingBook book)
    {
        var composed = book.Composed;
        var definition = composed.Look.Lists.Count == 0 ? null : composed.Look.Lists[0] with { Scope = ListScope.Manual, Sorted = false };
        var entries = definition is null ? [] : ContentsEntry.Of(definition, composed.Numbers, -1, _ => "");
        var byDivision = entries.ToLookup(e => composed.Numbers.Find(e.Target)?.Division ?? -1);
        var made = new List<FlowingEntry>();
        FlowingEntry? part = null;
        for (var d = 0; d < composed.Numbers.Divisions.Count; d++)
        {
            var numbers = composed.Numbers.Divisions[d];
            var own = new FlowingEntry(numbers.Division.Id, Words(numbers.ById[numbers.Division.Id]), []);
            var kind = numbers.Division.Kind;
            (kind == DivisionKind.Chapter && part is not null ? part.Under : made).Add(own);
            part =
                kind == DivisionKind.Part ? own
                : kind == DivisionKind.Chapter ? part
                : null;
            var open = new List<(int Level, FlowingEntry Entry)> { (0, own) };
            foreach (var entry in byDivision[d])
            {
                if (composed.Numbers.Find(entry.Target) is not ({ Kind: TargetKind.Head } head, _))
                    continue;
                var level = (int)(head.Level ?? HeadLevel.A);
                var line = new FlowingEntry(entry.Target, Words(head), []);
                open.RemoveAll(o => o.Level >= level);
                open[^1].Entry.Under.Add(line);
                open.Add((level, line));
            }
        }
        return made;
    }

    private static string Words(Target target) =>
        Clean(
            target.Number.Length > 0 ? $"{target.Number} {target.Title}"
            : target.Title.Length > 0 ? target.Title
            : "…"
        );

    public static XElement List(IReadOnlyList<FlowingEntry> entries, Func<FlowingEntry, XElement> line) =>
        El("ol", entries.Select(e => El("li", line(e), e.Under.Count > 0 ? List(e.Under, line) : null)));
}
