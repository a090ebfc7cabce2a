using Kivren.Core.Composition;
using Kivren.Core.Content;
using Kivren.Core.Looks;
using Kivren.Core.Selection;

namespace Kivren.Core.LooseEnds;

/// <summary>What of a look can be worn and yet would come out badly in this manual: with the place to mend it.</summary>
public static class LookDoubts
{
    /// <summary>Letters of a line that is still read well; and how wide a letter is on average, in hundredths of its size.</summary>
    private const int FewestLetters = 35,
        MostLetters = 90,
        LetterWidth = 46;

    /// <summary>Lighter greys than this keep black letters at a contrast of 4.5 (WCAG 2.2, 1.4.3).</summary>
    private const int DarkestTint = 46;

    public static IReadOnlyList<LookFault> Of(ComposedManual composed)
    {
        var found = new List<LookFault>();
        var (look, text) = (composed.Look, composed.Text);
        var used = composed.Pages.Select(p => p.Master.Name).ToHashSet(StringComparer.Ordinal);
        Layouts(found, look, text, used);
        Dresses(found, look, text);
        foreach (
            var (place, tint) in new[]
            {
                ("blocks.boxTint", look.Blocks.BoxTint),
                ("blocks.markedTint", look.Blocks.MarkedTint),
                ("table.groupTint", look.Table.GroupTint),
            }
        )
            if (tint < DarkestTint)
                found.Add(
                    new LookFault(place, $"Black letters on a grey of {tint} are hard to read; {DarkestTint} or lighter is read well.")
                );
        return found;
    }

    private static void Layouts(List<LookFault> found, Look look, SelectedText text, HashSet<string> used)
    {
        for (var m = 0; m < look.Masters.Count; m++)
        {
            var (place, master) = ($"masters[{m}]", look.Masters[m]);
            if (!used.Contains(master.Name))
                continue;
            var letters = master.ColumnWidth(master.Columns, master.Gutter) * 100L / ((long)look.Body.Size.Millipoints * LetterWidth);
            if (letters is < FewestLetters or > MostLetters)
                found.Add(
                    new LookFault(
                        place,
                        $"A line of text has about {letters} letters; between {FewestLetters} and {MostLetters} are read well. "
                            + (
                                letters < FewestLetters
                                    ? "Give it more width, or smaller letters."
                                    : "Give it larger margins, larger letters or columns."
                            )
                    )
                );
            for (var f = 0; f < master.Fields.Count; f++)
                foreach (var name in VariablesIn(master.Fields[f].Pattern))
                    if (text.Variable(name) is null)
                        found.Add(
                            new LookFault(
                                $"{place}.fields[{f}].pattern",
                                $"The manual has no variable “{name}”: nothing is printed where it should stand."
                            )
                        );
        }
    }

    private static IEnumerable<string> VariablesIn(string pattern)
    {
        for (var at = 0; (at = pattern.IndexOf("{variable:", at, StringComparison.Ordinal)) >= 0; at++)
            if (pattern.IndexOf('}', at) is var end and > 0)
                yield return pattern[(at + "{variable:".Length)..end];
    }

    private static void Dresses(List<LookFault> found, Look look, SelectedText text)
    {
        var roles = text
            .Divisions.SelectMany(d => d.Blocks)
            .SelectMany(b => b.WithInner())
            .OfType<Paragraph>()
            .Select(p => p.Role)
            .Concat(text.Manual.Roles.Select(r => r.Name))
            // Roles that setting gives to blocks by itself, such as items.
            .Concat(ShippedLooks.All.SelectMany(l => l.Dresses).Select(d => d.Role))
            .ToHashSet(StringComparer.OrdinalIgnoreCase);
        for (var r = 0; r < look.Dresses.Count; r++)
        {
            var rule = look.Dresses[r];
            if (rule.Dress.Leading < rule.Dress.Size)
                found.Add(
                    new LookFault(
                        $"dresses[{r}].dress.leading",
                        $"Lines of “{rule}” stand {rule.Dress.Leading.InPoints:0.##} points apart, closer than their letters are high."
                    )
                );
            if (rule.Role != "body" && !roles.Contains(rule.Role) && !OwnRole.Foundations.Contains(rule.Role))
                found.Add(new LookFault($"dresses[{r}]", $"No paragraph of this manual has the role “{rule.Role}”."));
        }
        for (var h = 0; h < look.Heads.Count; h++)
            if (look.Heads[h].Leading < look.Heads[h].Size)
                found.Add(
                    new LookFault($"heads[{h}].leading", $"Lines of {(HeadLevel)(h + 1)} heads stand closer than their letters are high.")
                );
    }
}
