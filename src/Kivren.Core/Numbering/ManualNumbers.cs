using System.Runtime.CompilerServices;
using Kivren.Core.Content;
using Kivren.Core.Looks;
using Kivren.Core.Selection;

namespace Kivren.Core.Numbering;

/// <summary>The numbers of the whole selected text, and where each identity stands.</summary>
public sealed class ManualNumbers
{
    private readonly Dictionary<Id, int> _divisionOf = [];

    public required IReadOnlyList<DivisionNumbers> Divisions { get; init; }
    public required IReadOnlyDictionary<Id, Id> Aliases { get; init; }

    public static ManualNumbers Of(SelectedText text, Look look, NumberingCache? cache)
    {
        int parts = 0, chapters = 0, appendices = 0;
        var divisions = new List<DivisionNumbers>(text.Divisions.Count);
        foreach (var division in text.Divisions)
        {
            var number = division.Kind switch
            {
                DivisionKind.Part => NumberFormat.Roman(++parts).ToUpperInvariant(),
                DivisionKind.Chapter => NumberFormat.Decimal(++chapters),
                DivisionKind.Appendix => NumberFormat.Alpha(++appendices),
                _ => "",
            };
            divisions.Add(cache?.Get(division, number, look) ?? DivisionNumbers.Of(division, number, look));
        }
        var numbers = new ManualNumbers { Divisions = divisions, Aliases = text.Manual.Aliases };
        for (var d = 0; d < divisions.Count; d++)
            foreach (var target in divisions[d].Targets)
                numbers._divisionOf.TryAdd(target.Id, d);
        return numbers;
    }

    /// <summary>The identity that now stands for <paramref name="id"/>: itself, or the block it was joined to.</summary>
    public Id Resolve(Id id)
    {
        for (var i = 0; i < 32 && !_divisionOf.ContainsKey(id) && Aliases.TryGetValue(id, out var other); i++) id = other;
        return id;
    }

    /// <summary>What <paramref name="id"/> points at and the index of its division, or null when nothing is there.</summary>
    public (Target Target, int Division)? Find(Id id)
    {
        id = Resolve(id);
        return _divisionOf.TryGetValue(id, out var d) ? (Divisions[d].ById[id], d) : null;
    }
}

/// <summary>Keeps each division's numbers while division, number and look are the same.</summary>
public sealed class NumberingCache
{
    private readonly ConditionalWeakTable<Division, Tuple<string, Look, DivisionNumbers>> _kept = [];

    internal DivisionNumbers Get(Division division, string number, Look look)
    {
        if (_kept.TryGetValue(division, out var kept) && kept.Item1 == number && ReferenceEquals(kept.Item2, look)) return kept.Item3;
        var numbers = DivisionNumbers.Of(division, number, look);
        _kept.AddOrUpdate(division, Tuple.Create(number, look, numbers));
        return numbers;
    }
}
