using Kivren.Core.Content;

namespace Kivren.Formats.Generator;

/// <summary>Editions that a writer could choose, from a seed: for tests of everything that an edition reaches.</summary>
public static class RandomEdition
{
    public static Edition Of(Manual manual, Random random)
    {
        T Any<T>(IReadOnlyList<T> of) => of[random.Next(of.Count)];
        bool Often(int hundredths) => random.Next(100) < hundredths;
        var takes = new List<TakenDivision>();
        if (Often(70))
        {
            foreach (var division in manual.Divisions.Where(_ => Often(60)))
            {
                var heads = division.Blocks.OfType<Head>().Select(h => h.Id).ToList();
                takes.Add(
                    new TakenDivision(
                        division.Id,
                        heads.Count > 0 && Often(40)
                            ? [.. Enumerable.Range(0, random.Next(1, 4)).Select(_ => Often(20) ? division.Id : Any(heads)).Distinct()]
                            : []
                    )
                );
            }
            if (Often(50))
                random.Shuffle(System.Runtime.InteropServices.CollectionsMarshal.AsSpan(takes));
        }
        return new Edition("random")
        {
            Takes = takes,
            LeavesOut =
            [
                .. manual.Divisions.Where(_ => Often(5)).Select(d => d.Id),
                .. manual.Divisions.SelectMany(d => d.Blocks).OfType<Head>().Where(_ => Often(5)).Select(h => h.Id),
            ],
            Chosen = [.. manual.Conditions.Where(_ => Often(50)).Select(c => new AxisValues(c.Axis, [Any(c.Values)]))],
            Without = [.. new[] { "contents", "brief", "figures", "tables", Edition.Index }.Where(_ => Often(15))],
            LeftOut = (LeftOutReads)random.Next(3),
            Look = Often(50) ? Any(Core.Looks.ShippedLooks.All).Name : null,
        };
    }
}
