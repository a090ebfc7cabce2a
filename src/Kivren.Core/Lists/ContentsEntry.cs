using Kivren.Core.Content;
using Kivren.Core.Looks;
using Kivren.Core.Numbering;

namespace Kivren.Core.Lists;

public enum ContentsLevel { Part, Division, Head }

/// <summary>One line of a contents list.</summary>
public readonly record struct ContentsEntry(Id Target, ContentsLevel Level, string Number, string Title, string Folio)
{
    /// <summary>The entries of the manual's contents list: divisions but title page, legal page and the list itself, and
    /// the heads that the look or the writer takes in.</summary>
    public static List<ContentsEntry> Of(ManualNumbers numbers, Func<Id, string> folio)
    {
        var entries = new List<ContentsEntry>();
        foreach (var division in numbers.Divisions)
        {
            var kind = division.Division.Kind;
            if (kind is DivisionKind.TitlePage or DivisionKind.Legal or DivisionKind.Contents) continue;
            foreach (var target in division.Targets)
            {
                if (target.Kind == TargetKind.Division)
                    entries.Add(new ContentsEntry(target.Id, kind == DivisionKind.Part ? ContentsLevel.Part : ContentsLevel.Division, target.Number, target.Title, folio(target.Id)));
                else if (target.Kind == TargetKind.Head && target.Listed)
                    entries.Add(new ContentsEntry(target.Id, ContentsLevel.Head, target.Number, target.Title, folio(target.Id)));
            }
        }
        return entries;
    }
}
