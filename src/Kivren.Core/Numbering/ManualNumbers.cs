using System.Runtime.CompilerServices;
using Kivren.Core.Content;
using Kivren.Core.Looks;
using Kivren.Core.Selection;

namespace Kivren.Core.Numbering;

/// <summary>The numbers of the whole selected text, and where each identity stands.</summary>
public sealed class ManualNumbers
{
    private Dictionary<Id, int> _divisionOf = [];

    public required IReadOnlyList<DivisionNumbers> Divisions { get; init; }
    public required IReadOnlyDictionary<Id, Id> Aliases { get; init; }

    public static ManualNumbers Of(SelectedText text, Look look, NumberingCache? cache)
    {
        var rules = look.Numbering;
        int parts = 0,
            chapters = 0,
            appendices = 0;
        var part = "";
        var letters = rules.LoneAppendixLettered || text.Printed.Count(d => d.Kind == DivisionKind.Appendix) > 1;
        // Where divisions are numbered clauses, a glossary among them is one of them.
        bool IsChapter(Division d) => d.Kind == DivisionKind.Chapter || (d.Kind == DivisionKind.Glossary && rules.Clauses);
        var divisions = new List<DivisionNumbers>(text.Printed.Count);
        Counts counts = default;
        foreach (var division in text.Printed)
        {
            if (division.Kind == DivisionKind.Part && rules.ChaptersByPart)
                chapters = 0;
            var number =
                division.Kind == DivisionKind.Part ? NumberFormat.In(rules.Parts, ++parts)
                : IsChapter(division) ? NumberFormat.In(rules.Chapters, ++chapters)
                : division.Kind == DivisionKind.Appendix ? (letters ? NumberFormat.In(rules.Appendices, ++appendices) : "")
                : "";
            if (division.Kind == DivisionKind.Part)
                part = number;
            var within = rules.CaptionsBy switch
            {
                CountScope.Manual => "",
                CountScope.Part => part,
                _ => number,
            };
            if (division.Kind == DivisionKind.Part && rules.CaptionsBy == CountScope.Part)
                counts = new Counts { Notes = counts.Notes };
            if (rules.CaptionsBy == CountScope.Division)
                counts = new Counts { Notes = counts.Notes };
            if (rules.NotesBy != CountScope.Manual)
                counts = counts with { Notes = 0 };
            var own = cache?.Get(division, number, within, look, counts) ?? DivisionNumbers.Of(division, number, within, look, counts);
            counts = own.Counted;
            divisions.Add(own);
        }
        var numbers = new ManualNumbers { Divisions = divisions, Aliases = text.Manual.Aliases };
        if (cache?.Last is { } last && last.Divisions.Count == divisions.Count && last.SameTargets(divisions))
            numbers._divisionOf = last._divisionOf;
        else
            for (var d = 0; d < divisions.Count; d++)
                foreach (var target in divisions[d].Targets)
                    numbers._divisionOf.TryAdd(target.Id, d);
        if (cache is not null)
            cache.Last = numbers;
        return numbers;
    }

    private bool SameTargets(List<DivisionNumbers> divisions)
    {
        for (var d = 0; d < divisions.Count; d++)
        {
            var (before, now) = (Divisions[d].Targets, divisions[d].Targets);
            if (ReferenceEquals(before, now))
                continue;
            if (before.Count != now.Count)
                return false;
            for (var t = 0; t < now.Count; t++)
                if (before[t].Id != now[t].Id)
                    return false;
        }
        return true;
    }

    /// <summary>The identity that now stands for <paramref name="id"/>: itself, or the block it was joined to.</summary>
    public Id Resolve(Id id)
    {
        for (var i = 0; i < 32 && !_divisionOf.ContainsKey(id) && Aliases.TryGetValue(id, out var other); i++)
            id = other;
        return id;
    }

    /// <summary>What <paramref name="id"/> points at and the index of its division, or null when nothing is there.</summary>
    public (Target Target, int Division)? Find(Id id)
    {
        id = Resolve(id);
        return _divisionOf.TryGetValue(id, out var d) ? (Divisions[d].ById[id], d) : null;
    }
}

/// <summary>Keeps each division's numbers while division, number, counts before it and look are the same.</summary>
public sealed class NumberingCache
{
    private readonly ConditionalWeakTable<Division, Tuple<string, string, Look, Counts, DivisionNumbers>> _kept = [];

    /// <summary>Of the last composition.</summary>
    internal ManualNumbers? Last { get; set; }

    internal DivisionNumbers Get(Division division, string number, string within, Look look, Counts before)
    {
        if (
            _kept.TryGetValue(division, out var kept)
            && kept.Item1 == number
            && kept.Item2 == within
            && ReferenceEquals(kept.Item3, look)
            && kept.Item4 == before
        )
            return kept.Item5;
        var numbers = DivisionNumbers.Of(division, number, within, look, before);
        _kept.AddOrUpdate(division, Tuple.Create(number, within, look, before, numbers));
        return numbers;
    }
}
