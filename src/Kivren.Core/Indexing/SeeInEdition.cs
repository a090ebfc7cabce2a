using Kivren.Core.Content;

namespace Kivren.Core.Indexing;

/// <summary>A <i>see</i> or <i>see also</i> to a heading that this edition leaves out.</summary>
/// <param name="Instead">what it says here; null when it says nothing</param>
public sealed record SeeLeftOut(GatheredEntry Entry, string See, string? Instead);

/// <summary>What <i>see</i> and <i>see also</i> say in an edition that leaves out some of the manual: a heading of the manual that
/// the edition has no entry of is named by what it stands under, or not at all (composition.md 8).</summary>
internal sealed class SeeInEdition
{
    private readonly HashSet<string> _here;
    private readonly HashSet<string> _manual;

    public List<SeeLeftOut> LeftOut { get; } = [];

    /// <param name="manual">the entries of every division, whatever the edition takes</param>
    public SeeInEdition(IReadOnlyList<GatheredEntry> here, IReadOnlyList<List<GatheredEntry>> manual)
    {
        _manual = Names(manual.SelectMany(e => e));
        // A heading that has nothing but a see to what is left out goes too, and what points at it then.
        var taken = here;
        while (true)
        {
            _here = Names(taken);
            LeftOut.Clear();
            foreach (var entry in here)
            foreach (var see in new[] { entry.Entry.See, entry.Entry.SeeAlso })
                if (see is { Length: > 0 } && !IsHere(see))
                    LeftOut.Add(new SeeLeftOut(entry, see, Under(see)));
            var gone = LeftOut.Where(l => l.Instead is null).Select(l => l.Entry).ToHashSet();
            var left = here.Where(e => !gone.Contains(e)).ToList();
            if (left.Count == taken.Count)
                return;
            taken = left;
        }
    }

    /// <summary>What is printed for a see of the text; null for nothing.</summary>
    public string? Says(string see) => IsHere(see) ? see : Under(see);

    /// <summary>A heading that the manual has nowhere is printed as it is written: another loose end tells of it.</summary>
    private bool IsHere(string see) =>
        _here.Contains(see) || !(_manual.Contains(see) || (Under(see) is null && _manual.Contains(First(see))));

    private string? Under(string see) => First(see) is var first && first != see && _here.Contains(first) ? first : null;

    private static string First(string see) => see.Split(',')[0];

    /// <summary>All that a see can name: headings of the first level, and those below with commas between.</summary>
    private static HashSet<string> Names(IEnumerable<GatheredEntry> entries)
    {
        var names = new HashSet<string>(StringComparer.OrdinalIgnoreCase);
        foreach (var e in entries)
            for (var level = 1; level <= e.Entry.Headings.Count; level++)
                names.Add(string.Join(", ", e.Entry.Headings.Take(level)));
        return names;
    }
}
