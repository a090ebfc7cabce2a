using Kivren.Core.Content;
using Kivren.Core.Indexing;
using Kivren.Core.Looks;
using Kivren.Core.Numbering;

namespace Kivren.Core.Lists;

/// <summary>One entry of a contents list.</summary>
/// <param name="Line">index of the definition's line that took it</param>
public readonly record struct ContentsEntry(Id Target, int Line, string Name, string Number, string Title, string Folio)
{
    /// <summary>The entries of a list: what its definition takes, in the order of the text or sorted.</summary>
    /// <param name="at">index of the division that the list stands in, or -1 for one outside the text</param>
    public static List<ContentsEntry> Of(ContentsDefinition definition, ManualNumbers numbers, int at, Func<Id, string> folio)
    {
        var (from, end) = Range(definition.Scope, numbers, at);
        var entries = new List<ContentsEntry>();
        for (var d = from; d < end; d++)
            entries.AddRange(OfDivision(definition, numbers.Divisions[d], d == at, folio));
        return Ordered(entries, definition, numbers, at);
    }

    internal static List<ContentsEntry> Ordered(List<ContentsEntry> entries, ContentsDefinition definition, ManualNumbers numbers, int at)
    {
        if (definition.Sorted)
            entries.Sort((a, b) => Collation.Of(numbers.Divisions[at].Division.Language).Compare(a.Title, b.Title));
        return entries;
    }

    /// <summary>What the list takes of one division.</summary>
    /// <param name="own">the list stands in it</param>
    internal static List<ContentsEntry> OfDivision(
        ContentsDefinition definition,
        DivisionNumbers division,
        bool own,
        Func<Id, string> folio
    )
    {
        var entries = new List<ContentsEntry>();
        foreach (var target in division.Listable)
        {
            // A list does not list itself.
            if (
                target.Kind == TargetKind.Division
                && (
                    own
                    || division.Division.Kind is DivisionKind.HalfTitle or DivisionKind.TitlePage or DivisionKind.Legal
                    || IsMainContents(division.Division)
                )
            )
                continue;
            for (var l = 0; l < definition.Lines.Count; l++)
                if (definition.Lines[l].Takes(target, division.Division.Kind))
                {
                    var page = definition.Lines[l].Folio == FolioPlace.None ? "" : folio(target.Id);
                    entries.Add(new ContentsEntry(target.Id, l, target.Name, target.Number, target.Title, page));
                    break;
                }
        }
        return entries;
    }

    private static bool IsMainContents(Division division) =>
        division.Kind == DivisionKind.Contents && division.Blocks.Any(b => b is ContentsList { List: "contents" or "brief" });

    internal static (int From, int End) Range(ListScope scope, ManualNumbers numbers, int at)
    {
        if (scope == ListScope.Division)
            return (at, at + 1);
        if (scope == ListScope.Manual)
            return (0, numbers.Divisions.Count);
        var from = at;
        while (from > 0 && numbers.Divisions[from].Division.Kind != DivisionKind.Part)
            from--;
        var end = at + 1;
        while (end < numbers.Divisions.Count && numbers.Divisions[end].Division is { Kind: not DivisionKind.Part, Matter: Matter.Body })
            end++;
        return (from, end);
    }
}
