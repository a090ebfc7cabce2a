using System.Runtime.CompilerServices;
using System.Text;
using Kivren.Core.Content;

namespace Kivren.Core.Selection;

/// <summary>References of an edition whose target the manual has and the edition leaves out: they say what the edition chose for
/// them. References to what the manual has nowhere stay as they are.</summary>
internal static class LeftOutReferences
{
    /// <summary>What of a division matters to references, found once for each division.</summary>
    private sealed record Facts(HashSet<Id> Ids, CrossReference[] References)
    {
        private static readonly ConditionalWeakTable<Division, Facts> Known = [];

        public static Facts Of(Division division) => Known.GetValue(division, Found);

        private static Facts Found(Division division)
        {
            var ids = new HashSet<Id> { division.Id };
            foreach (var block in division.Blocks)
                block.Renamed(
                    id =>
                    {
                        ids.Add(id);
                        return id;
                    },
                    target => target
                );
            return new Facts(ids, [.. division.Blocks.SelectMany(b => b.Inlines()).OfType<CrossReference>().Where(r => r.Other is null)]);
        }
    }

    /// <param name="keep">gives back the division made before, when its references say the same</param>
    public static List<Division> Say(
        Manual manual,
        Edition edition,
        List<Division> taken,
        Func<Division, string, Func<Division>, Division> keep
    )
    {
        var here = taken.Select(Facts.Of).ToArray();
        bool IsHere(Id id) => Array.Exists(here, f => f.Ids.Contains(id));
        var all = manual.Kept().ToList();
        var manualTitle = Instead(manual, edition);
        Dictionary<Id, string?> said = [];
        string? Says(Id target)
        {
            if (said.TryGetValue(target, out var known))
                return known;
            var resolved = target;
            for (var i = 0; i < 32 && !IsHere(resolved) && manual.Aliases.TryGetValue(resolved, out var other); i++)
                resolved = other;
            return said[target] =
                IsHere(resolved) || all.Find(d => Facts.Of(d).Ids.Contains(resolved)) is not { } division ? null
                : edition.LeftOut == LeftOutReads.Words ? Words(division, resolved)
                : manualTitle;
        }
        var result = new List<Division>(taken.Count);
        for (var d = 0; d < taken.Count; d++)
        {
            StringBuilder? key = null;
            foreach (var reference in here[d].References)
                if (Says(reference.Target) is { } words)
                    (key ??= new StringBuilder()).Append(reference.Target.Value).Append('\u001f').Append(words).Append('\u001f');
            var division = taken[d];
            result.Add(key is null ? division : keep(division, key.ToString(), () => Saying(division, Says)));
        }
        return result;
    }

    private static string Instead(Manual manual, Edition edition) => edition.LeftOut == LeftOutReads.Manual ? $"“{manual.Title}”" : "";

    private static Division Saying(Division division, Func<Id, string?> says) =>
        division with
        {
            Blocks =
            [
                .. division.Blocks.Select(b =>
                    b.WithSpans(spans =>
                        [
                            .. spans.Select(s =>
                                s is Holding h ? h with { Content = [.. h.Content.Select(i => Said(i, says))] } : Said(s, says)
                            ),
                        ]
                    )
                ),
            ],
        };

    private static Inline Said(Inline inline, Func<Id, string?> says) =>
        inline is CrossReference { Other: null } reference && says(reference.Target) is { } words
            ? reference with
            {
                Instead = words,
            }
            : inline;

    /// <summary>The words by which a reader of the whole manual would find it.</summary>
    private static string Words(Division division, Id target)
    {
        var section = division.Title;
        foreach (var block in division.Blocks)
        {
            if (block is Head head)
                section = head.Content.PlainText();
            foreach (var inner in block.WithInner())
            {
                if (inner.Id == target && Caption(inner) is { Length: > 0 } own)
                    return $"“{own}”";
                if (Holds(inner, target))
                    return $"“{section}”";
            }
        }
        return $"“{division.Title}”";
    }

    private static string Caption(Block block) =>
        block switch
        {
            Head h => h.Content.PlainText(),
            Figure f => f.Caption.PlainText(),
            Table t => t.Caption.PlainText(),
            Listing l => l.Caption.PlainText(),
            Example e => e.Title.PlainText(),
            Aside a => a.Title.PlainText(),
            Equation e => e.Alternative,
            _ => "",
        };

    /// <summary>Whether the block itself, a part of it or an atom in its words is the target; blocks inside are asked by
    /// themselves.</summary>
    private static bool Holds(Block block, Id target) =>
        block.Id == target
        || block switch
        {
            ItemList l => l.Items.Any(i => i.Id == target),
            Steps s => s.Items.Any(i => i.Id == target),
            DefinitionList d => d.Definitions.Any(x => x.Id == target),
            ReferenceList r => r.Documents.Any(x => x.Id == target),
            Table t => t.Rows.Any(r => r.Id == target || r.Cells.Any(c => c.Id == target)),
            _ => false,
        }
        || block.OwnSpans().SelectMany(Walk.Flat).Any(i => Walk.IdOf(i) == target);
}
