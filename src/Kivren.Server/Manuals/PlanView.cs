using Kivren.Core.Composition;
using Kivren.Core.Content;
using Kivren.Core.Numbering;

namespace Kivren.Server.Manuals;

/// <summary>A row of the plan: a division or a head, on the page axis.</summary>
/// <param name="Depth">0 for parts and what stands outside them, 1 for chapters in a part, then one more for each level of heads</param>
/// <param name="Sheet">sheet on which it begins, −1 when it is not in this edition</param>
/// <param name="Pages">pages that it reaches over</param>
/// <param name="Begins">on what page a division begins; ByLook where only the look says so</param>
/// <param name="Words">words of its own and all beneath</param>
[GenerateSerializer, Immutable]
public sealed record PlanRow(
    string Id,
    string Kind,
    string Division,
    int Depth,
    string Number,
    string Title,
    int Sheet,
    string Folio,
    int Pages,
    int Words,
    string State,
    Dictionary<string, string[]> AppliesTo,
    int LooseEnds,
    bool Generated,
    string Begins,
    string Language
);

/// <summary>The whole plan, as of one composition.</summary>
/// <param name="Language">of the manual</param>
[GenerateSerializer, Immutable]
public sealed record PlanView(int Composition, int PageCount, string Language, IReadOnlyList<PlanRow> Rows, IReadOnlyList<AxisMark> Axis)
{
    public static PlanView Of(NumberedComposition settled, bool text)
    {
        var composed = settled.Composed;
        var loose = composed.LooseEnds.GroupBy(l => l.Block).ToDictionary(g => g.Key, g => g.Count());
        var looseIn = composed.LooseEnds.GroupBy(l => l.Division).ToDictionary(g => g.Key, g => g.ToList());
        var rows = new List<PlanRow>();
        var inPart = false;
        foreach (var pages in composed.Divisions)
        {
            var division = pages.Numbers.Division;
            if (division.Kind == DivisionKind.Part)
                inPart = true;
            else if (division.Matter != Matter.Body)
                inPart = false;
            var depth = inPart && division.Kind != DivisionKind.Part ? 1 : 0;
            var at = rows.Count;
            var words = division.Blocks.Select(Words).ToArray();
            rows.Add(
                new PlanRow(
                    division.Id.Value,
                    division.Kind.ToString(),
                    division.Id.Value,
                    depth,
                    pages.Numbers.Number,
                    division.Title,
                    pages.FirstSheet,
                    Folio(composed, pages.FirstSheet),
                    Math.Max(1, pages.End - pages.First),
                    Words(division.Title) + words.Sum(),
                    division.State.ToString(),
                    Conditions(division.AppliesTo),
                    looseIn.TryGetValue(division.Id, out var own) ? own.Count : 0,
                    division.Blocks.Any(b => b is ContentsList or IndexList),
                    division.Begins.ToString(),
                    division.Language
                )
            );
            // Heads by their numbers' targets, which stand in the order of the text.
            var targets = pages.Numbers.ById;
            var under = depth;
            for (var b = 0; b < division.Blocks.Count; b++)
            {
                if (division.Blocks[b] is not Head head)
                {
                    if (text && Shown(division.Blocks[b]) is { Length: > 0 } shown)
                        rows.Add(
                            new PlanRow(
                                division.Blocks[b].Id.Value,
                                "Text",
                                division.Id.Value,
                                under + 1,
                                "",
                                shown,
                                -1,
                                "",
                                0,
                                words[b],
                                "",
                                Conditions(division.Blocks[b].AppliesTo),
                                loose.GetValueOrDefault(division.Blocks[b].Id),
                                false,
                                "",
                                division.Language
                            )
                        );
                    continue;
                }
                under = depth + (int)head.Level;
                var end = b + 1;
                while (end < division.Blocks.Count && !(division.Blocks[end] is Head h && h.Level <= head.Level))
                    end++;
                var sheet = pages.Cut.Places.TryGetValue(head.Id, out var place) ? pages.StretchSheet + place.Page : pages.FirstSheet;
                var last =
                    end < division.Blocks.Count && pages.Cut.Places.TryGetValue(division.Blocks[end].Id, out var next)
                        ? pages.StretchSheet + next.Page
                        : pages.EndSheet - 1;
                var inside = 0;
                for (var i = b; i < end; i++)
                    inside += loose.GetValueOrDefault(division.Blocks[i].Id);
                rows.Add(
                    new PlanRow(
                        head.Id.Value,
                        $"Head{head.Level}",
                        division.Id.Value,
                        depth + (int)head.Level,
                        targets.TryGetValue(head.Id, out var target) ? target.Number : "",
                        head.Content.PlainText(),
                        sheet,
                        Folio(composed, sheet),
                        Math.Max(1, last - sheet + 1),
                        words[b..end].Sum(),
                        "",
                        Conditions(head.AppliesTo),
                        inside,
                        false,
                        "",
                        division.Language
                    )
                );
            }
        }
        return new PlanView(settled.Number, composed.Pages.Count, composed.Text.Manual.Language, rows, AxisOf(composed));
    }

    private static string Folio(ComposedManual composed, int sheet) =>
        sheet >= 0 && sheet < composed.Pages.Count ? composed.Pages[sheet].Folio : "";

    private static Dictionary<string, string[]> Conditions(AppliesTo applies) =>
        applies.Axes.ToDictionary(a => a.Axis, a => a.Values.ToArray(), StringComparer.Ordinal);

    /// <summary>The beginning of a block's words.</summary>
    private static string Shown(Block block)
    {
        var words = string.Join(
            ' ',
            block
                .WithInner()
                .SelectMany(b => b is Listing l ? [l.Text.Split('\n')[0]] : b.OwnSpans().Select(s => s.PlainText()))
                .Where(w => w.Length > 0)
                .Take(4)
        );
        return words.Length <= 160 ? words : words[..157].TrimEnd() + " …";
    }

    private static int Words(Block block)
    {
        var words = 0;
        foreach (var inline in block.Inlines())
            if (inline is TextRun run)
                words += Words(run.Text);
        return words;
    }

    private static int Words(string text)
    {
        var words = 0;
        var inside = false;
        foreach (var c in text)
        {
            if (!char.IsWhiteSpace(c) && !inside)
                words++;
            inside = !char.IsWhiteSpace(c);
        }
        return words;
    }

    /// <summary>Some eight folios that tell where on the axis a page is: the first page, page 1 and round numbers.</summary>
    private static List<AxisMark> AxisOf(ComposedManual composed)
    {
        var pages = composed.Pages;
        var step = 1;
        foreach (var round in (ReadOnlySpan<int>)[1, 2, 5, 10, 20, 50, 100, 200, 500])
        {
            step = round;
            if (round * 7 >= pages.Count)
                break;
        }
        var marks = new List<AxisMark>();
        for (var s = 0; s < pages.Count; s++)
        {
            var number = int.TryParse(pages[s].Folio, System.Globalization.CultureInfo.InvariantCulture, out var n) ? n : 0;
            // Where the appendices begin, their letter stands.
            var appendix =
                pages[s].Folio.EndsWith("-1", StringComparison.Ordinal) && char.IsLetter(pages[s].Folio[0]) ? pages[s].Folio[..^2] : null;
            if (appendix is null && s != 0 && number != 1 && (number == 0 || number % step != 0))
                continue;
            // Two labels too near to be read: the later says more.
            if (marks.Count > 0 && (s - marks[^1].Sheet) * 30 < pages.Count)
                marks.RemoveAt(marks.Count - 1);
            marks.Add(new AxisMark(s, appendix ?? pages[s].Folio));
        }
        return marks;
    }
}

/// <summary>A folio that the page axis shows.</summary>
[GenerateSerializer, Immutable]
public sealed record AxisMark(int Sheet, string Folio);
