using System.Globalization;
using System.Text;
using Kivren.Core.Composition;
using Kivren.Core.Content;
using Kivren.Core.Looks;
using Kivren.Core.Selection;
using Kivren.Core.Type;

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
        Faces(found, look, text);
        Listings(found, look, text);
        Colours(found, look);
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
            {
                var (at, pattern) = ($"{place}.fields[{f}].pattern", master.Fields[f].Pattern);
                if (RunsOff(master, master.Fields[f]) is { } inward)
                    found.Add(
                        new LookFault(
                            $"{place}.fields[{f}].place",
                            $"On one of two facing pages this piece runs off the paper: give it the place *{inward}*."
                        )
                    );
                if (master.Fields[f].Picture is { } picture && text.Manual.Assets.All(a => a.Name != picture))
                    found.Add(new LookFault(at, $"The manual has no picture “{picture}”: nothing is printed where it should stand."));
                if (pattern.Contains("{date}", StringComparison.Ordinal) && text.Variable("date") is null)
                    found.Add(
                        new LookFault(
                            at,
                            "The manual has no variable “date”, which says its date: nothing is printed where it should stand."
                        )
                    );
                foreach (var name in VariablesIn(pattern))
                    if (text.Variable(name) is null)
                        found.Add(new LookFault(at, $"The manual has no variable “{name}”: nothing is printed where it should stand."));
                foreach (var (source, never) in Never(text))
                    if (pattern.Contains(source, StringComparison.Ordinal))
                        found.Add(new LookFault(at, $"{never}: nothing is printed where it should stand."));
            }
        }
    }

    /// <summary>A free piece is measured from the fold: one that runs to the same side on both of two facing pages leaves the paper on
    /// one of them when it begins near its edge. The place that it should have, or null.</summary>
    private static string? RunsOff(PageMaster master, RunningField field) =>
        (master.Mirrored, field.Edge, field.Place) switch
        {
            (true, PageEdge.Free, FieldPlace.Left) when field.X.Millipoints < master.Inner.Millipoints * 2L => "inner",
            (true, PageEdge.Free, FieldPlace.Right)
                when field.X.Millipoints > (master.Width.Millipoints - (master.Outer.Millipoints * 2L)) => "outer",
            _ => null,
        };

    /// <summary>Sources of running heads that never stand for anything in this manual.</summary>
    private static IEnumerable<(string Source, string Never)> Never(SelectedText text)
    {
        var levels = text.Divisions.SelectMany(d => d.Blocks).OfType<Head>().Select(h => h.Level).ToHashSet();
        foreach (var level in Enum.GetValues<HeadLevel>())
            if (!levels.Contains(level))
                yield return ($"{{head:{level}", $"The manual has no {level} heads");
        if (!text.Divisions.SelectMany(d => d.Blocks).Any(b => b is DefinitionList))
            yield return ("{term", "The manual defines no terms");
    }

    /// <summary>More letters that a face lacks than this are counted, not shown.</summary>
    private const int MostShown = 8;

    private static void Faces(List<LookFault> found, Look look, SelectedText text)
    {
        HashSet<Rune>? used = null;
        for (var f = 0; f < look.Faces.Count; f++)
        {
            var (place, face) = ($"faces[{f}]", look.Faces[f]);
            foreach (var file in face.Files.Where(file => FaceFiles.Find(file.Hash) is null))
                found.Add(
                    new LookFault(place, $"The file “{file.Called}” of “{face.Name}” is not here; another face stands in. Choose it again.")
                );
            if (FaceFiles.Find(face.Regular.Hash) is not { } regular)
                continue;
            used ??= [.. Letters(text)];
            var lacks = used.Where(r => !regular.Covers(r.Value)).OrderBy(r => r.Value).ToList();
            if (lacks.Count > 0)
                found.Add(
                    new LookFault(
                        place,
                        $"“{face.Name}” lacks {string.Join(' ', lacks.Take(MostShown))}"
                            + (lacks.Count > MostShown ? $" and {lacks.Count - MostShown} more signs" : "")
                            + " that this manual uses; its stand-ins are set for them."
                    )
                );
        }
    }

    /// <summary>Columns of a listing stand under one another only in a face whose letters are all of one width.</summary>
    private static void Listings(List<LookFault> found, Look look, SelectedText text)
    {
        var face = look.ListingText.Plain.Face;
        if (
            face.Word("i").Width == face.Word("M").Width
            || !text.Divisions.SelectMany(d => d.Blocks.SelectMany(b => b.WithInner())).Any(b => b is Listing)
        )
            return;
        found.Add(
            new LookFault(
                "listingText.face",
                $"Letters of “{look.ListingText.Faces.Name}” are of different widths: what stands in columns in a listing does "
                    + "not stand so here. Choose a face of one width."
            )
        );
    }

    private static IEnumerable<Rune> Letters(SelectedText text) =>
        text
            .Divisions.SelectMany(d =>
                d.Blocks.SelectMany(b => b.WithInner()).SelectMany(b => b.OwnSpans()).Select(s => s.PlainText()).Append(d.Title)
            )
            .SelectMany(t => t.EnumerateRunes())
            .Where(r => !Rune.IsWhiteSpace(r) && !Rune.IsControl(r));

    /// <summary>Letters in a colour are read well at a contrast of 4.5 to the paper (WCAG 2.2, 1.4.3).</summary>
    private const double LeastContrast = 4.5;

    private static void Colours(List<LookFault> found, Look look)
    {
        var ofLetters = look
            .Dresses.Select(d => d.Dress)
            .Concat(look.Heads)
            .Concat([look.DivisionTitle, look.DivisionLabel, look.ListText, look.Caption, look.CaptionLabel, look.SignalWord, look.Term])
            .Select(d => d.Colour)
            .Concat(look.Spans.Select(s => s.Colour))
            .ToHashSet();
        for (var c = 0; c < look.Colours.Count; c++)
        {
            var colour = look.Colours[c];
            if (!ofLetters.Contains(colour.Name))
                continue;
            if (colour.Tone.Screen is { } screen && 1.05 / (Luminance(screen) + .05) is var contrast and < LeastContrast)
                found.Add(
                    new LookFault(
                        $"colours[{c}].screen",
                        $"Letters in “{colour.Name}” stand out from the page by "
                            + $"{contrast.ToString("0.0", CultureInfo.InvariantCulture)}; 4.5 or more is read well."
                    )
                );
            if (colour.Print > 100 - DarkestTint)
                found.Add(
                    new LookFault(
                        $"colours[{c}].print",
                        $"In print letters in “{colour.Name}” are a grey of {colour.Print}, hard to read on paper."
                    )
                );
        }
    }

    /// <summary>Relative luminance (WCAG 2.2).</summary>
    private static double Luminance(int rgb)
    {
        static double Linear(int value) => value / 255.0 is var v && v <= .04045 ? v / 12.92 : Math.Pow((v + .055) / 1.055, 2.4);
        return .2126 * Linear(rgb >> 16 & 255) + .7152 * Linear(rgb >> 8 & 255) + .0722 * Linear(rgb & 255);
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
        foreach (var own in text.Manual.Roles.Where(o => look.Dresses.All(d => d.Role != o.Name) && look.Spans.All(s => s.Role != o.Name)))
            found.Add(
                new LookFault(
                    "dresses",
                    $"The role “{own.Name}” of this manual has no dress of its own; it looks as “{own.Foundation}” does."
                )
            );
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
