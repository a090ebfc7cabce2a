using Kivren.Core.Content;

namespace Kivren.Audit;

/// <summary>Judges where things stand: inside their frame, not over each other, heads with their text, header rows again on
/// every page that a table reaches.</summary>
internal sealed class LayoutAudit(
    ExpectedText expected,
    IReadOnlyList<PrintedPage> pages,
    Matching matching,
    HouseRules rules,
    AuditReport report
)
{
    private const string Frames = "text inside its frame",
        Overlaps = "no text over other text",
        HeadsAtFoot = "no head at a page's foot",
        Headers = "header rows repeat",
        FiguresAfter = "figures after their first mention";

    private const string Opening = "‘“〈《「『【〔（［｛",
        Closing = "’”〉》」』】〕）］｝、。，．";

    public void Judge()
    {
        foreach (var page in pages)
        {
            InFrame(page);
            Apart(page);
        }
        Foots();
        HeaderRows();
        Figures();
    }

    private void InFrame(PrintedPage page)
    {
        var division = expected.Divisions.FindLast(d => matching.Page(d.At) is var begun && begun >= 0 && begun <= page.Index);
        // All layouts that a page of this kind may take: which one is judged by what stands at its edges.
        var kind = division?.Division.Kind ?? DivisionKind.Chapter;
        var recto = page.Index % 2 == 0;
        var layouts = new[] { (false, false), (true, false), (false, true) }
            .Select(at => rules.Page(kind, recto, at.Item1, at.Item2))
            .ToList();
        // A turned page has the paper's other sides; only its edges are judged.
        var turned = (page.Width > page.Height) != (layouts[0].Width > layouts[0].Height);
        var left = turned ? 0 : layouts.Min(l => l.Frame(recto).Left);
        var right = turned ? page.Width : layouts.Max(l => l.Frame(recto).Right);
        foreach (var line in page.Lines)
        {
            report.Judge(Frames, InkStart(line) >= left - .6 && InkEnd(line) <= right + .6, () =>
                $"Page {page.Label}: “{Short(line.Words)}” reaches from {line.X:0.#} to {line.End:0.#} pt; its frame is {left:0.#} "
                + $"to {right:0.#}."
            );
            if (!turned)
                report.Judge(Frames, line.Y <= page.Height - layouts.Min(l => l.Top) && line.Y >= layouts.Min(l => l.Foot) - 1, () =>
                    $"Page {page.Label}: “{Short(line.Words)}” stands outside the text's depth."
                );
        }
    }

    // The white half of a bracket's or a point's square is no ink.
    private static double InkStart(PrintedLine line) =>
        line.X + (Opening.Contains(line.Words[0], StringComparison.Ordinal) ? line.Size / 2 : 0);

    private static double InkEnd(PrintedLine line) =>
        line.End - (Closing.Contains(line.Words[^1], StringComparison.Ordinal) ? line.Size / 2 : 0);

    private void Apart(PrintedPage page)
    {
        var lines = page
            .Lines.Concat(page.Furniture.Where(f => !f.Turned && f.Words.Any(c => c != '.')))
            .OrderByDescending(l => l.Y)
            .ToArray();
        for (var i = 0; i < lines.Length; i++)
        {
            report.Tried(Overlaps);
            for (var k = i + 1; k < lines.Length && lines[i].Y - lines[k].Y < lines[i].Size; k++)
            {
                var (a, b) = (lines[i], lines[k]);
                var over = Math.Min(InkEnd(a), InkEnd(b)) - Math.Max(InkStart(a), InkStart(b));
                if (over > 1.5 && Math.Abs(a.Y - b.Y) < Math.Min(a.Size, b.Size) * .5)
                    report.Failed(Overlaps, $"Page {page.Label}: “{Short(a.Words)}” and “{Short(b.Words)}” stand over each other.");
            }
        }
    }

    private void Foots()
    {
        // The last line of the flow on each page.
        foreach (var last in matching.FlowLines.GroupBy(l => l.Page).Select(g => g.MaxBy(l => l.To)))
        {
            var head = expected.Paragraphs.FirstOrDefault(p => p.Block is Head && p.From < last.To && last.To <= p.To && p.To > p.From);
            var goesOn =
                head is not null
                && expected.Divisions.Any(d => d.At == head.To) is false
                && matching.FlowLines.Any(l => l.From >= head.To && l.Page > last.Page);
            // A head that a figure or table follows on its page is not alone; one at the end of a division has nothing to keep.
            var alone =
                goesOn
                && !(expected.Captions.Any(c => c.From == head!.To && c.Page == last.Page) || expected.Tables.Any(t => t.From == head!.To));
            report.Judge(HeadsAtFoot, !alone, () =>
                $"Page {pages[last.Page].Label} ends in the head “{Short(expected.Flow[head!.From..head.To])}”."
            );
        }
    }

    private void HeaderRows()
    {
        var places = expected.Places.GroupBy(p => p.Id).ToDictionary(g => g.Key, g => g.First().At);
        foreach (var range in expected.Tables)
        {
            var table = (Table)range.Block;
            if (table.HeaderRows == 0)
                continue;
            var header = table
                .Rows[0]
                .Cells.Select(c => FinishedFile.Normal(c.Content.PlainText()))
                .Where(words => words.Length > 0)
                .ToArray();
            if (header.Length == 0)
                continue;
            // Notes under the table are no rows, and a cell without words is nowhere.
            var cells = table.Rows.SelectMany(r => r.Cells).Where(c => c.Content.PlainText().Trim().Length > 0).Select(c => places[c.Id]);
            var reached = cells.Select(matching.Page).Where(p => p >= 0).Distinct().Order().ToArray();
            foreach (var p in reached.Skip(1))
                report.Judge(Headers, pages[p].Furniture.Any(f => Begins(header, f.Words)), () =>
                    $"“{table.Caption.PlainText()}” goes on on page {pages[p].Label} without its header row."
                );
        }
    }

    /// <summary>Whether a line is the first of a header row: how its cells begin, one after another, as many as stand close; in narrow
    /// columns they have several lines.</summary>
    private static bool Begins(IEnumerable<string> cells, string line)
    {
        var ends = new HashSet<int> { 0 };
        foreach (var cell in cells)
        {
            ends = [.. ends.SelectMany(end => Enumerable.Range(end + 1, line.AsSpan(end).CommonPrefixLength(cell)))];
            if (ends.Contains(line.Length))
                return true;
        }
        return false;
    }

    private void Figures()
    {
        foreach (var division in expected.Divisions)
        foreach (var figure in division.Division.Blocks.OfType<Figure>().Where(f => f.IsCaptioned))
        {
            var caption = expected.Captions.First(c => c.Places.Any(p => p.Id == figure.Id));
            var mention = expected.Flow.IndexOf(
                FinishedFile.Normal("Figure" + expected.Numbers.Targets[figure.Id].Number),
                division.At,
                Math.Max(0, caption.From - division.At),
                StringComparison.Ordinal
            );
            if (mention >= 0)
                report.Judge(FiguresAfter, caption.Page >= matching.Page(mention), () =>
                    $"“{figure.Caption.PlainText()}” stands on page {pages[Math.Max(0, caption.Page)].Label}, before it is mentioned."
                );
        }
    }

    private static string Short(string words) => words.Length > 40 ? words[..40] + "…" : words;
}
