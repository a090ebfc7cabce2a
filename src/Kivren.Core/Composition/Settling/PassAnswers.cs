using Kivren.Core.Content;
using Kivren.Core.Numbering;
using Kivren.Core.Selection;

namespace Kivren.Core.Composition;

/// <summary>What a galley's readings came from: the divisions they asked, with the stamps these had.</summary>
/// <param name="Everywhere">what was asked of the manual as a whole, by identity</param>
/// <param name="Asked">null when something was asked that no division holds: then it must be asked again</param>
internal sealed record AnsweredBy(object[] Everywhere, (int Division, long Stamp)[]? Asked);

/// <summary>What can be asked in one pass, division by division. A division's stamp is the same as long as everything that it can be
/// asked is answered the same; so of most galleys it is known without asking that what they read still holds, and what an edit costs
/// does not grow with the manual.</summary>
internal sealed class PassAnswers(SelectedText text, ManualNumbers numbers, long[] stamps)
{
    private readonly object[] _everywhere =
    [
        text.Edition,
        text.Manual.Aliases,
        text.Manual.Variables,
        text.Ambiguous.Count == 0 ? Array.Empty<AmbiguousReference>() : text.Ambiguous,
    ];

    /// <summary>Of each division.</summary>
    public long[] Stamps => stamps;

    /// <param name="from">index of the stretch's first division</param>
    public AnsweredBy By(Galley galley, int from, int count)
    {
        var asked = new SortedSet<int>(Enumerable.Range(from, count));
        foreach (var (_, read) in galley.Reads)
            if (read.Of is CrossReference { Other: null } reference)
            {
                if (numbers.Find(reference.Target) is not { } found)
                    return new AnsweredBy(_everywhere, null);
                asked.Add(found.Division);
            }
        return new AnsweredBy(_everywhere, [.. asked.Select(d => (d, stamps[d]))]);
    }

    /// <summary>Whether all that a galley read is answered as it was. Asked again is only what stands in divisions that changed
    /// since.</summary>
    /// <param name="from">index of the stretch's first division</param>
    public bool Hold(Galley galley, AnsweredBy by, int from, SettingContext[] contexts, DivisionNumbers[] own)
    {
        if (AreThoseOf(by))
            return true;
        if (!IsAsBefore(by, d => d >= from && d < from + own.Length))
            return galley.Holds(contexts, own);
        var was = by.Asked!.ToDictionary(a => a.Division, a => a.Stamp);
        foreach (var (division, read) in galley.Reads)
            if (
                read.Of is CrossReference { Other: null } reference
                && !(
                    numbers.Find(reference.Target) is { } found
                    && was.TryGetValue(found.Division, out var stamp)
                    && stamps[found.Division] == stamp
                )
                && !Readings.Holds(read, contexts[division], own[division])
            )
                return false;
        return true;
    }

    /// <summary>Whether everything asked is answered by what answered it then.</summary>
    public bool AreThoseOf(AnsweredBy by) => IsAsBefore(by, _ => true);

    /// <summary>Whether the manual as a whole, and these divisions, answer as they did.</summary>
    private bool IsAsBefore(AnsweredBy by, Func<int, bool> these)
    {
        if (by.Asked is null)
            return false;
        for (var i = 0; i < _everywhere.Length; i++)
            if (!ReferenceEquals(_everywhere[i], by.Everywhere[i]))
                return false;
        foreach (var (division, stamp) in by.Asked)
            if (these(division) && (division >= stamps.Length || stamps[division] != stamp))
                return false;
        return true;
    }
}

/// <summary>Gives the same stamp to a division that stands where and as it stood, in this composition and the one before.</summary>
internal sealed class DivisionStamps
{
    private readonly record struct Standing(int Index, DivisionNumbers Numbers, Cut? Cut, int Sheet, FolioScheme.Numbering Folios);

    private Dictionary<Standing, long> _known = [],
        _before = [];
    private long _last;

    /// <summary>Called once a composition: what the last two did not meet is dropped.</summary>
    public void NextGeneration() => (_before, _known) = (_known, []);

    /// <param name="divisions">as the pass before had them; null in the first</param>
    public long[] Of(ManualNumbers numbers, IReadOnlyList<DivisionPages>? divisions, FolioScheme? scheme)
    {
        var stamps = new long[numbers.Divisions.Count];
        for (var d = 0; d < stamps.Length; d++)
        {
            var standing = new Standing(
                d,
                numbers.Divisions[d],
                divisions?[d].Cut,
                divisions?[d].StretchSheet ?? 0,
                scheme?.Divisions[d] ?? default
            );
            if (!_known.TryGetValue(standing, out stamps[d]))
                _known[standing] = stamps[d] = _before.TryGetValue(standing, out var was) ? was : ++_last;
        }
        return stamps;
    }
}
