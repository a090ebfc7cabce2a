using System.Text.RegularExpressions;
using Kivren.Core.Content;

namespace Kivren.Core.Looks;

/// <summary>What no single setting tells: settings that are well each by itself and cannot be together.</summary>
internal static partial class LookChecks
{
    /// <summary>Narrower text than this holds no words; lower, no lines. Points.</summary>
    private const int LeastMeasure = 60,
        LeastColumn = 40,
        LeastLines = 4;

    public static IEnumerable<LookFault> Of(Look look)
    {
        if (look.Masters.Count == 0)
        {
            yield return new LookFault("masters", "A look has at least one page layout.");
            yield break;
        }
        if (look.Name.Trim().Length == 0)
            yield return new LookFault("name", "A look has a name.");
        if (look.Heads.Count != 4)
            yield return new LookFault("heads", $"There are four levels of heads, A to D, not {look.Heads.Count}.");
        if (!look.Dresses.Any(r => r.Role == "body" && r.Weight == 0))
            yield return new LookFault("dresses", "The role “body” has a dress wherever it stands; all other roles build on it.");
        else
            foreach (var fault in Room(look))
                yield return fault;
        foreach (var fault in Named(look).Concat(Called(look)))
            yield return fault;
        if (look.Index.Columns > 1 && look.IndexPage(DivisionKind.Index) is var index && IsNarrow(index))
            yield return new LookFault("index.columns", $"{look.Index.Columns} columns are each under {LeastColumn} points wide.");
        foreach (var (place, field) in Fields(look.Masters))
        foreach (var source in Sources().Matches(field.Pattern).Select(m => m.Groups["source"].Value))
            if (!KnownSources.Contains(source))
                yield return new LookFault(
                    place,
                    $"There is no source {{{source}}}. There are {string.Join(", ", KnownSources.Select(s => $"{{{s}}}"))}."
                );
        foreach (var (place, field) in Fields(look.Masters))
            if (field.Picture is null && field.Pattern.Contains("{picture", StringComparison.Ordinal))
                yield return new LookFault(place, "A picture stands by itself in its piece, by its name: {picture:NAME}.");
        foreach (
            var (place, names) in new[]
            {
                ("masters", look.Masters.Select(m => m.Name)),
                ("lists", look.Lists.Select(l => l.Name)),
                ("colours", look.Colours.Select(c => c.Name)),
                ("spans", look.Spans.Select(s => s.Role)),
                ("referenceForms", look.ReferenceForms.Select(f => f.Name)),
            }
        )
        foreach (var twice in names.GroupBy(n => n).Where(g => g.Count() > 1))
            yield return new LookFault(place, $"“{twice.Key}” stands here twice.");
        if (look.ReferenceForms.Count == 0)
            yield return new LookFault("referenceForms", "A look has at least one form of cross-references.");
        if (look.Numbering.CaptionsBy == CountScope.Page)
            yield return new LookFault("numbering.captionsBy", "Captions count by division, by part or through the manual.");
        if (look.Numbering.NotesBy == CountScope.Part)
            yield return new LookFault("numbering.notesBy", "Notes count by page, by division or through the manual.");
        if (look.RunIn is { } level && look.Numbering is { Clauses: true, HeadsTo: { } to } && level <= to)
            yield return new LookFault(
                "runIn",
                $"{level} heads carry numbers here, and so do paragraphs: a head cannot be set into the paragraph behind it."
            );
        if (look.Bullets.Count == 0)
            yield return new LookFault("bullets", "A look has at least one bullet.");
        for (var l = 0; l < look.Lists.Count; l++)
            if (look.Lists[l].Lines.Count == 0)
                yield return new LookFault($"lists[{l}].lines", "A list has at least one level.");
    }

    /// <summary>Whether text fits between the margins, upright and turned.</summary>
    private static IEnumerable<LookFault> Room(Look look)
    {
        var lines = look.Body.Leading.InPoints * LeastLines;
        for (var m = 0; m < look.Masters.Count; m++)
        {
            var (place, master) = ($"masters[{m}]", look.Masters[m]);
            if (master.Measure.InPoints < LeastMeasure)
                yield return new LookFault(
                    place,
                    $"Between the margins {Points(master.Measure)} points are left for a line; it takes {LeastMeasure} at least."
                );
            else if (master.Columns > 1 && IsNarrow(master))
                yield return new LookFault($"{place}.columns", $"{master.Columns} columns are each under {LeastColumn} points wide.");
            if (master.Depth.InPoints < lines)
                yield return new LookFault(
                    place,
                    $"Between the margins {Points(master.Depth)} points are left for text; {LeastLines} of its lines take {lines:0.##}."
                );
            var turned = master.Turned();
            if (turned.Measure.InPoints < LeastMeasure || turned.Depth.InPoints < lines)
                yield return new LookFault(place, "Turned to landscape its margins leave no room for a table.");
        }
    }

    /// <summary>Whether every layout that is named is there, and all of one sequence hold the same text.</summary>
    private static IEnumerable<LookFault> Named(Look look)
    {
        var choices = look
            .Sequences.OrderBy(s => s.Key)
            .Where(s => s.Value.Pages is not null)
            .Select(s => (Place: $"sequences.{LookPart.InFile(s.Key.ToString())}.pages", Choice: s.Value.Pages!))
            .Prepend((Place: "pages", Choice: look.Pages));
        foreach (var (place, choice) in choices)
        {
            var recto = look.Masters.FirstOrDefault(m => m.Name == choice.Recto);
            foreach (var (side, name) in choice.Named())
                if (look.Masters.FirstOrDefault(m => m.Name == name) is not { } master)
                    yield return new LookFault(
                        $"{place}.{side}",
                        $"There is no page layout “{name}”. There are {string.Join(", ", look.Masters.Select(m => m.Name))}."
                    );
                else if (side == "landscape" ? master.Columns > 1 : recto is not null && !master.HoldsTextOf(recto, side == "opening"))
                    yield return new LookFault(
                        $"{place}.{side}",
                        side == "landscape"
                            ? $"A landscape page has one column; “{name}” has {master.Columns}."
                            : $"The text of “{name}” is {Size(master)}, that of “{choice.Recto}” {Size(recto!)}. "
                                + "Pages that text runs through have one width and depth of text, and as many columns; "
                                + "where it stands on the paper may differ, and in one column the depth of the first page of a division."
                    );
        }
    }

    /// <summary>Lists, faces and colours that are named, and whether each is what it says.</summary>
    private static IEnumerable<LookFault> Called(Look look)
    {
        foreach (var (kind, sequence) in look.Sequences.OrderBy(s => s.Key))
            if (sequence.Contents is { } list && look.List(list) is null)
                yield return new LookFault(
                    $"sequences.{LookPart.InFile(kind.ToString())}.contents",
                    $"There is no contents list “{list}”. There are {string.Join(", ", look.Lists.Select(l => l.Name))}."
                );
        var named = FaceSet.Shipped.Select(f => f.Name).ToHashSet(StringComparer.Ordinal);
        for (var f = 0; f < look.Faces.Count; f++)
        {
            var (place, face) = ($"faces[{f}]", look.Faces[f]);
            foreach (var name in face.StandIns.Where(n => !named.Contains(n)))
                yield return new LookFault(
                    $"{place}.standIns",
                    $"There is no face “{name}” before this one. There are {string.Join(", ", named)}."
                );
            foreach (var name in face.Names.Where(n => !named.Add(n)))
                yield return new LookFault($"{place}.name", $"There is a face “{name}” already.");
            foreach (
                var file in face.Files.Where(f => f.Hash.Length != 64 || f.Hash.Any(c => c is not (>= '0' and <= '9' or >= 'a' and <= 'f')))
            )
                yield return new LookFault(place, $"“{file.Called}” has no hash of a file.");
        }
        for (var c = 0; c < look.Colours.Count; c++)
            if (!NamedColour.IsColour(look.Colours[c].Screen))
                yield return new LookFault(
                    $"colours[{c}].screen",
                    $"A colour of screens is # and six digits of 0 to f, not “{look.Colours[c].Screen}”."
                );
    }

    private static string Size(PageMaster master) =>
        $"{Points(master.Measure)} × {Points(master.Depth)} points" + (master.Columns > 1 ? $" in {master.Columns} columns" : "");

    private static string Points(Length length) => length.InPoints.ToString("0.#", System.Globalization.CultureInfo.InvariantCulture);

    private static bool IsNarrow(PageMaster page) => page.ColumnWidth(page.Columns, page.Gutter) < LeastColumn * 1_000;

    private static IEnumerable<(string Place, RunningField Field)> Fields(IReadOnlyList<PageMaster> masters) =>
        masters.SelectMany((master, m) => master.Fields.Select((f, i) => ($"masters[{m}].fields[{i}].pattern", f)));

    private static readonly string[] KnownSources =
    [
        "division",
        "section",
        "head",
        "term",
        "folio",
        "total",
        "manual",
        "edition",
        "number",
        "title",
        "designation",
        "date",
        "picture",
        "variable",
    ];

    [GeneratedRegex(@"\{(?<source>[^}:]*)[^}]*\}")]
    private static partial Regex Sources();
}
