using Kivren.Core.Composition;

namespace Kivren.Server.Manuals;

/// <summary>Pages that stand side by side and are others than in the composition before.</summary>
/// <param name="From">which page of the composition before is the first that went, from 0</param>
/// <param name="Removed">how many went; those inserted stand in their place</param>
[GenerateSerializer, Immutable]
public sealed record PageRun(int From, int Removed, IReadOnlyList<ProofPage> Inserted)
{
    /// <summary>All that changed between two compositions, in order. Writers in several divisions change pages far apart: what stands
    /// between them and shows what it showed is not told.</summary>
    public static List<PageRun> Between(ComposedManual? before, ComposedManual now)
    {
        if (before is null)
            return [new PageRun(0, 0, [.. now.Pages.Select(ProofPage.Of)])];
        var runs = new List<PageRun>();
        if (before.Divisions.Select(d => d.Numbers.Division.Id).SequenceEqual(now.Divisions.Select(d => d.Numbers.Division.Id)))
        {
            int a = 0,
                b = 0;
            for (var division = 0; division < now.Divisions.Count; division++)
            {
                var (a0, b0) = (a, b);
                while (a < before.Pages.Count && before.Pages[a].Division == division)
                    a++;
                while (b < now.Pages.Count && now.Pages[b].Division == division)
                    b++;
                Add(runs, before, now, (a0, a), (b0, b));
            }
        }
        else
            Add(runs, before, now, (0, before.Pages.Count), (0, now.Pages.Count));
        return runs;
    }

    private static bool Same(ComposedPage x, ComposedPage y) => x.Key == y.Key && x.Folio == y.Folio && x.Division == y.Division;

    private static void Add(List<PageRun> runs, ComposedManual before, ComposedManual now, (int From, int To) a, (int From, int To) b)
    {
        bool SameAt(int x, int y) => Same(before.Pages[x], now.Pages[y]);
        while (a.From < a.To && b.From < b.To && SameAt(a.From, b.From))
            (a.From, b.From) = (a.From + 1, b.From + 1);
        while (a.From < a.To && b.From < b.To && SameAt(a.To - 1, b.To - 1))
            (a.To, b.To) = (a.To - 1, b.To - 1);
        PageRun Run(int from, int removed, int at, int inserted) =>
            new(from, removed, [.. now.Pages.Skip(at).Take(inserted).Select(ProofPage.Of)]);
        if (a.To - a.From != b.To - b.From)
        {
            runs.Add(Run(a.From, a.To - a.From, b.From, b.To - b.From));
            return;
        }
        for (int from = 0, count = a.To - a.From; from < count; )
        {
            var length = 0;
            while (from + length < count && !SameAt(a.From + from + length, b.From + from + length))
                length++;
            if (length > 0)
                runs.Add(Run(a.From + from, length, b.From + from, length));
            from += Math.Max(1, length);
        }
    }
}
