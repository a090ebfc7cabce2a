using Kivren.Core.Composition;
using Kivren.Core.Content;
using Kivren.Core.Lists;
using Kivren.Core.Looks;
using Kivren.Core.Numbering;

namespace Kivren.Formats.Pdf;

/// <summary>The document outline, of the same definition as the contents list (ISO 32000-1, 12.3.3).</summary>
internal static class Outline
{
    /// <param name="depth">levels that it has</param>
    /// <param name="destination">where a target stands, as the file writes it</param>
    /// <returns>the number of its root object, or 0 when there is nothing to list</returns>
    public static int Write(ComposedManual manual, PdfFile file, int depth, Func<Id, PdfValue> destination)
    {
        var look = manual.Look;
        var entries =
            look.Lists.Count == 0
                ? []
                : ContentsEntry.Of(look.Lists[0] with { Scope = ListScope.Manual, Sorted = false }, manual.Numbers, -1, _ => "");
        var all = Parents(manual, entries);
        int Level(int i) => i < 0 ? 0 : 1 + Level(all[i]);
        entries = [.. entries.Where((_, i) => Level(i) <= depth)];
        if (entries.Count == 0)
            return 0;
        var root = file.Allocate();
        var ids = entries.Select(_ => file.Allocate()).ToArray();
        var parents = Parents(manual, entries);
        PdfValue To(int i) => PdfValue.To(ids[i]);
        var children = Enumerable.Range(0, entries.Count).ToLookup(i => parents[i]);
        for (var i = 0; i < entries.Count; i++)
        {
            var siblings = children[parents[i]].ToList();
            var at = siblings.IndexOf(i);
            var own = children[i].ToList();
            var text = entries[i].Number.Length > 0 ? entries[i].Number + "  " + entries[i].Title : entries[i].Title;
            var item = new PdfDictionary
            {
                { "Title", PdfValue.Text(text) },
                { "Parent", PdfValue.To(parents[i] < 0 ? root : ids[parents[i]]) },
                { "Dest", destination(entries[i].Target) },
            };
            if (at > 0)
                item.Add("Prev", To(siblings[at - 1]));
            if (at + 1 < siblings.Count)
                item.Add("Next", To(siblings[at + 1]));
            if (own.Count > 0)
                item.Add(
                    new PdfDictionary
                    {
                        { "First", To(own[0]) },
                        { "Last", To(own[^1]) },
                        { "Count", -own.Count },
                    }
                );
            file.Object(ids[i], item);
        }
        var top = children[-1].ToList();
        file.Object(
            root,
            new PdfDictionary("Outlines")
            {
                { "First", To(top[0]) },
                { "Last", To(top[^1]) },
                { "Count", top.Count },
            }
        );
        return root;
    }

    /// <summary>Chapters stand under their part, heads under their division or the head above; what follows the last part
    /// stands beside it.</summary>
    private static int[] Parents(ComposedManual manual, List<ContentsEntry> entries)
    {
        var parents = new int[entries.Count];
        var part = -1;
        var open = new int[6];
        for (var i = 0; i < entries.Count; i++)
        {
            var (target, d) = manual.Numbers.Find(entries[i].Target)!.Value;
            var kind = manual.Numbers.Divisions[d].Division.Kind;
            if (target.Kind == TargetKind.Division)
            {
                parents[i] = kind == DivisionKind.Chapter ? part : -1;
                if (kind == DivisionKind.Part)
                    part = i;
                Array.Fill(open, i);
                continue;
            }
            var level = (int)(target.Level ?? HeadLevel.A);
            parents[i] = open[level - 1];
            for (var l = level; l < open.Length; l++)
                open[l] = i;
        }
        return parents;
    }
}
