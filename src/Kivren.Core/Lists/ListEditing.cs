using Kivren.Core.Content;
using Kivren.Core.Planning;

namespace Kivren.Core.Lists;

/// <summary>Does acts on lists as pure functions of the manual.</summary>
public static class ListEditing
{
    public const int MostLists = 40,
        MostPutAside = 2_000,
        LongestReason = 300;

    public static PlanResult Apply(Manual manual, ListAct act) =>
        act switch
        {
            ListAct.Keep keep => Keep(manual, keep.List with { Name = keep.List.Name.Trim() }, keep.Was),
            ListAct.TakeOut takeOut => TakeOut(manual, takeOut.Name),
            ListAct.DressIndex { Dress: var dress } => dress?.Fault() is { } why
                ? PlanResult.No(why)
                : new PlanResult(
                    manual with
                    {
                        IndexDress = dress,
                    },
                    dress is null ? "Setting the index as the look says" : "Dressing the index",
                    null
                ),
            ListAct.OpenChapters open => OpenChapters(manual, open.Name),
            ListAct.LeadTerms { Lead: var lead } => new PlanResult(
                manual with
                {
                    TermsLead = lead,
                },
                lead ? "Leading from terms to the glossary" : "Taking the ways from terms to the glossary out",
                null
            ),
            ListAct.LetBe letBe => LetBe(manual, letBe.Ends),
            _ => PlanResult.No("This act is not known."),
        };

    private static PlanResult Keep(Manual manual, OwnList list, string? was)
    {
        if (list.Fault() is { } why)
            return PlanResult.No(why);
        var name = was ?? list.Name;
        if (list.Name != name && manual.Lists.Any(l => l.Name == list.Name))
            return PlanResult.No($"There is a list “{list.Name}” already.");
        var known = manual.Lists.Any(l => l.Name == name);
        if (!known && manual.Lists.Count >= MostLists)
            return PlanResult.No($"A manual has up to {MostLists} lists of its own.");
        var next = manual with
        {
            Lists = known ? [.. manual.Lists.Select(l => l.Name == name ? list : l)] : [.. manual.Lists, list],
            ChapterContents = manual.ChapterContents == name ? list.Name : manual.ChapterContents,
        };
        if (list.Name != name)
            next = next.WithBlocks(b => b.WithInner().Any(i => i is ContentsList c && c.List == name) ? Renamed(b, name, list.Name) : b);
        return new PlanResult(next, known ? $"Changing the list “{list.Name}”" : $"Keeping the list “{list.Name}”", null);
    }

    private static Block Renamed(Block block, string name, string to) =>
        block is ContentsList list
            ? list.List == name
                ? list with
                {
                    List = to,
                }
                : list
            : block.WithInnerBlocks(blocks => [.. blocks.Select(b => Renamed(b, name, to))]);

    private static PlanResult TakeOut(Manual manual, string name) =>
        manual.Lists.All(l => l.Name != name)
            ? PlanResult.No($"The manual has no list “{name}” of its own.")
            : new PlanResult(manual with { Lists = [.. manual.Lists.Where(l => l.Name != name)] }, $"Taking out the list “{name}”", null);

    private static PlanResult OpenChapters(Manual manual, string? name) =>
        name is { Length: 0 or > OwnList.LongestName }
            ? PlanResult.No($"A list has a name of up to {OwnList.LongestName} letters.")
            : new PlanResult(
                manual with
                {
                    ChapterContents = name,
                    Lists = name is null ? manual.Lists : manual.WithList(name).Lists,
                },
                name is null ? "Taking the contents out of the chapters’ openings" : "Opening each chapter with its contents",
                null
            );

    private static PlanResult LetBe(Manual manual, IReadOnlyList<PutAside> ends)
    {
        if (ends.Any(e => e.Reason.Length > LongestReason || e.Words.Length > Content.PutAside.LongestWords))
            return PlanResult.No($"A reason has up to {LongestReason} letters.");
        static (string, Id, string) Of(PutAside end) => (end.Kind, end.Block, end.Words);
        var spoken = ends.Select(Of).ToHashSet();
        PutAside[] kept = [.. manual.PutAside.Where(p => !spoken.Contains(Of(p))), .. ends.Where(e => e.Reason.Trim().Length > 0)];
        if (kept.Length > MostPutAside)
            return PlanResult.No($"Up to {MostPutAside} loose ends can be put aside.");
        var aside = ends.Any(e => e.Reason.Trim().Length > 0);
        return new PlanResult(
            manual with
            {
                PutAside = kept,
            },
            $"{(aside ? "Putting aside" : "Taking up")} {(ends.Count == 1 ? "a loose end" : $"{ends.Count} loose ends")}",
            null
        );
    }
}
