using Kivren.Core.Content;

namespace Kivren.Audit;

/// <summary>A line that a contents list must have.</summary>
/// <param name="Number">with the name of what it numbers where the list gives it; empty where it gives none</param>
/// <param name="At">where its target stands in the flow; null for a caption, which <paramref name="Target"/> finds</param>
/// <param name="Kind">the level that takes it</param>
public sealed record ContentsLine(string Number, string Title, int? At, Id Target, ListedKind Kind)
{
    /// <summary>Stands before it where lines run on in one paragraph.</summary>
    public string Lead { get; init; } = "";
    public string Words { get; } = FinishedFile.Normal(Number + Title);

    /// <summary>All that is printed, with this folio.</summary>
    public string With(string folio) =>
        Lead
        + Kind.Folio switch
        {
            FolioPlace.Before => folio + Words,
            FolioPlace.After => Words + FinishedFile.Normal(Kind.Separator) + folio,
            _ => Words,
        };
}

/// <summary>What a contents list must say, told from the manual and the look's rules alone.</summary>
public static class ContentsLines
{
    /// <summary>The manual's own list of a name, else what the look promises of it; null where neither has one.</summary>
    public static ListedList? Named(Manual manual, HouseRules rules, string name) =>
        manual.Lists.FirstOrDefault(l => l.Name == name) is { } own
            ? new ListedList([.. own.Lines.Select(Of)], own.Scope) { Sorted = own.Sorted }
            : rules.Lists.GetValueOrDefault(name);

    private static ListedKind Of(OwnListLine line) =>
        new(
            line.Takes switch
            {
                Listable.Division => "division",
                Listable.Head => "head",
                var other => other.ToString(),
            },
            line.Divisions.Count > 0 ? line.Divisions : null,
            line.Level,
            line.Named
        )
        {
            Numbered = line.Numbered,
            Folio = line.Folio,
            Separator = line.Leader && !line.RunIn ? "" : line.Separator,
            RunsOn = line.RunIn,
        };

    public static IEnumerable<ContentsLine> Of(ExpectedText expected, HouseRules rules, ExpectedDivision at, ListedList list)
    {
        ContentsLine? last = null;
        foreach (var line in Found(expected, rules, at, list))
        {
            var own = line.Kind.RunsOn && last is not null && ReferenceEquals(last.Kind, line.Kind) ? line with { Lead = "–" } : line;
            yield return last = own;
        }
    }

    private static IEnumerable<ContentsLine> Found(ExpectedText expected, HouseRules rules, ExpectedDivision at, ListedList list)
    {
        string Number(ListedKind kind, string name, string number) =>
            !kind.Numbered ? "" : LanguageWords.Numbered(kind.Named ? name : "", number);
        foreach (var division in Within(expected.Divisions, at, list.Scope))
        {
            var kind = division.Division.Kind;
            var lists =
                kind == DivisionKind.Contents && division.Division.Blocks.Any(b => b is ContentsList { List: "contents" or "brief" });
            if (
                division != at
                && !lists
                && kind is not (DivisionKind.HalfTitle or DivisionKind.TitlePage or DivisionKind.Legal)
                && list.Kinds.FirstOrDefault(k => k.What == "division" && (k.Divisions is null || k.Divisions.Contains(kind))) is { } own
            )
                yield return new ContentsLine(
                    Number(own, rules.KindName(division.Division), division.Number),
                    division.Division.Title,
                    division.At,
                    division.Division.Id,
                    own
                );
            var heads = division.Heads.ToDictionary(h => h.Id);
            foreach (var block in division.Division.Blocks.SelectMany(b => b.WithInner()))
                switch (block)
                {
                    case Head h:
                        if (
                            h.Listed != Listed.Never
                            && heads.TryGetValue(h.Id, out var head)
                            && list.Kinds.FirstOrDefault(k =>
                                k.What == "head" && (k.Level is null || k.Level == h.Level || h.Listed == Listed.Always)
                            )
                                is { } level
                        )
                            yield return new ContentsLine(
                                Number(level, rules.Words.Said(rules.Section), head.Number),
                                head.Title,
                                head.At,
                                h.Id,
                                level
                            );
                        break;
                    case Figure { IsCaptioned: true }
                    or Table { Caption.Count: > 0 }
                    or Listing { Caption.Count: > 0 }
                    or Equation { Numbered: true }
                    or Example:
                        if (list.Kinds.FirstOrDefault(k => k.What == block.GetType().Name) is { } taken)
                            yield return new ContentsLine(
                                Number(taken, block.GetType().Name, expected.Numbers.Targets[block.Id].Number),
                                expected.Numbers.Targets[block.Id].Title,
                                null,
                                block.Id,
                                taken
                            );
                        break;
                }
        }
    }

    private static IEnumerable<ExpectedDivision> Within(List<ExpectedDivision> all, ExpectedDivision at, ListScope scope)
    {
        if (scope == ListScope.Division)
            return [at];
        if (scope == ListScope.Manual)
            return all;
        var from = all.IndexOf(at);
        while (from > 0 && all[from].Division.Kind != DivisionKind.Part)
            from--;
        return all.Skip(from)
            .TakeWhile((d, i) => i + from <= all.IndexOf(at) || d.Division is { Kind: not DivisionKind.Part, Matter: Matter.Body });
    }
}
