using Kivren.Core.Content;
using Kivren.Core.Planning;

namespace Kivren.Core.References;

/// <summary>Does acts on references and anchors as pure functions of the manual.</summary>
public static class Referring
{
    public const int LongestName = 200,
        LongestPrinted = 1_000;

    public static PlanResult Apply(Manual manual, ReferenceAct act) =>
        act switch
        {
            ReferenceAct.PointAt point => PointAt(manual, [.. point.References], point.Target),
            ReferenceAct.SetForm set => Change(
                manual,
                set.References,
                r => r with { Form = set.Form },
                n => $"Changing the form of {References(n)}"
            ),
            ReferenceAct.MakePlain plain => MakePlain(manual, plain.Printed),
            ReferenceAct.TakeOut takeOut => Change(manual, takeOut.References, _ => null, n => $"Taking out {References(n)}"),
            ReferenceAct.AddAnchor add => AddAnchor(manual, add.Block, add.Name.Trim(), add.New),
            ReferenceAct.RenameAnchor rename => RenameAnchor(manual, rename.Anchor, rename.Name.Trim()),
            ReferenceAct.TakeOutAnchors takeOut => TakeOutAnchors(manual, [.. takeOut.Anchors]),
            _ => PlanResult.No("This act is not known."),
        };

    private static string References(int count) => count == 1 ? "one reference" : $"{count} references";

    private static PlanResult Change(Manual manual, IReadOnlyList<Id> ids, Func<CrossReference, Inline?> change, Func<int, string> words)
    {
        var wanted = ids.ToHashSet();
        var found = 0;
        var next = manual.WithInlines(inline =>
        {
            if (inline is not CrossReference reference || !wanted.Contains(reference.Id))
                return null;
            found++;
            return change(reference) is { } changed ? [changed] : [];
        });
        return found == 0
            ? PlanResult.No(ids.Count == 1 ? "This reference was taken out meanwhile." : "These references were taken out meanwhile.")
            : FixedText.Kept(manual, next, words(found));
    }

    private static PlanResult PointAt(Manual manual, List<Id> references, Id target)
    {
        if (!Exists(manual, target))
            return PlanResult.No("What it was to point at was taken out meanwhile. Choose another place.");
        // A reference in its own target would only lead to itself.
        return Change(manual, references, r => r with { Target = target, Other = null }, n => $"Pointing {References(n)} elsewhere");
    }

    private static bool Exists(Manual manual, Id id)
    {
        if (manual.Aliases.ContainsKey(id) || manual.Divisions.Any(d => d.Id == id))
            return true;
        var found = false;
        foreach (var block in manual.Kept().SelectMany(d => d.Blocks))
        {
            block.Renamed(
                own =>
                {
                    found |= own == id;
                    return own;
                },
                t => t
            );
            if (found)
                return true;
        }
        return false;
    }

    private static PlanResult MakePlain(Manual manual, IReadOnlyDictionary<Id, string> printed)
    {
        if (printed.Values.Any(p => p.Length > LongestPrinted || p.Any(char.IsControl)))
            return PlanResult.No($"A reference prints up to {LongestPrinted} letters.");
        return Change(
            manual,
            [.. printed.Keys],
            r => printed[r.Id] is { Length: > 0 } words ? new TextRun(words) : null,
            n => $"Making {References(n)} plain text"
        );
    }

    // ---- anchors ----

    private static string? Fault(Manual manual, string name, Id except) =>
        name.Length is 0 or > LongestName || name.Any(char.IsControl) ? $"An anchor has a name of up to {LongestName} letters."
        : manual
            .Kept()
            .SelectMany(d => d.Blocks)
            .SelectMany(b => b.Inlines())
            .Any(i => i is Anchor a && a.Id != except && a.Name.Equals(name, StringComparison.OrdinalIgnoreCase))
            ? $"There is an anchor “{name}” already."
        : null;

    private static PlanResult AddAnchor(Manual manual, Id block, string name, Id made)
    {
        if (Fault(manual, name, Id.None) is { } why)
            return PlanResult.No(why);
        var done = false;
        IReadOnlyList<Inline> Begun(IReadOnlyList<Inline> spans)
        {
            if (done)
                return spans;
            done = true;
            return [new Anchor(made, name), .. spans];
        }
        var next = manual.WithBlocks(top =>
        {
            if (done || !Holds(top, block))
                return top;
            var here = Id.None;
            return top.Rebuilt(
                id =>
                {
                    here = id;
                    return id;
                },
                spans => here == block ? Begun(spans) : spans
            );
        });
        return done
            ? FixedText.Kept(manual, next, $"Naming a place “{name}”")
            : PlanResult.No("The text that was to be named was taken out meanwhile.");
    }

    private static bool Holds(Block top, Id id)
    {
        var holds = false;
        top.Rebuilt(
            own =>
            {
                holds |= own == id;
                return own;
            },
            s => s
        );
        return holds;
    }

    private static PlanResult RenameAnchor(Manual manual, Id anchor, string name)
    {
        if (Fault(manual, name, anchor) is { } why)
            return PlanResult.No(why);
        var next = manual.WithInlines(i => i is Anchor a && a.Id == anchor ? [a with { Name = name }] : null);
        return ReferenceEquals(next, manual)
            ? PlanResult.No("This anchor was taken out meanwhile.")
            : FixedText.Kept(manual, next, $"Renaming an anchor to “{name}”");
    }

    private static PlanResult TakeOutAnchors(Manual manual, HashSet<Id> anchors)
    {
        var pointed = manual
            .Kept()
            .SelectMany(d => d.Blocks)
            .SelectMany(b => b.Inlines())
            .OfType<CrossReference>()
            .Count(r => anchors.Contains(r.Target));
        if (pointed > 0)
            return PlanResult.No($"{References(pointed)} {(pointed == 1 ? "points" : "point")} there still.");
        var next = manual.WithInlines(i => i is Anchor a && anchors.Contains(a.Id) ? [] : null);
        return ReferenceEquals(next, manual)
            ? PlanResult.No("These anchors were taken out meanwhile.")
            : FixedText.Kept(manual, next, $"Taking out {(anchors.Count == 1 ? "an anchor" : $"{anchors.Count} anchors")}");
    }
}
