using System.Text.RegularExpressions;
using Kivren.Core.Content;
using Kivren.Core.Selection;

namespace Kivren.Audit;

/// <summary>Judges a finished file from outside (testing.md, The audit): it knows the PDF and the manual and nothing of
/// how the one was made of the other.</summary>
public static class Auditor
{
    private const string Contents = "contents lines", References = "cross-references", Index = "index locators", RunningHeads = "running heads", Folios = "folios", Notes = "footnotes under their call";

    public static AuditReport Audit(string pdf, Manual manual, Edition edition)
    {
        var report = new AuditReport();
        var expected = new ExpectedText(Selector.Select(manual, edition));
        var pages = FinishedFile.Read(pdf);
        var matching = new Matching(expected, pages, report);
        var audit = new Run(expected, pages, matching, report);
        audit.JudgeReferences();
        audit.JudgeLists();
        audit.JudgeFolios();
        audit.JudgeRunningHeads();
        audit.JudgeNotes();
        return report;
    }

    private sealed class Run(ExpectedText expected, IReadOnlyList<PrintedPage> pages, Matching matching, AuditReport report)
    {
        private readonly Dictionary<Id, (Apart? In, int At)> _places = Places(expected);

        private static Dictionary<Id, (Apart?, int)> Places(ExpectedText expected)
        {
            var places = new Dictionary<Id, (Apart?, int)>();
            foreach (var place in expected.Places) places.TryAdd(place.Id, (null, place.At));
            foreach (var apart in expected.Notes.Concat(expected.Captions))
                foreach (var place in apart.Places) places.TryAdd(place.Id, (apart, place.At));
            return places;
        }

        private string Label(int page) => page >= 0 ? pages[page].Label : "?";

        private string? LabelOf(Id id) => _places.TryGetValue(id, out var at) ? Label(matching.Around(at.In, at.At).After) : null;

        private static string Plain(string label) => FinishedFile.Normal(label);

        public void JudgeReferences()
        {
            foreach (var (apart, folio) in expected.Folios.Select(f => ((Apart?)null, f)).Concat(expected.Notes.Concat(expected.Captions).SelectMany(a => a.Folios.Select(f => ((Apart?)a, f)))))
            {
                var printed = matching.PrintedFolios.GetValueOrDefault((apart, folio.At));
                var label = LabelOf(folio.Target);
                report.Judge(References, printed is not null && label is not null && printed == Plain(label),
                    () => $"The reference to “{folio.Words}” prints page {printed ?? "(nothing)"}; it stands on page {label ?? "(nowhere)"}.");
            }
        }

        public void JudgeLists()
        {
            var list = 0;
            foreach (var division in expected.Divisions)
                foreach (var block in division.Division.Blocks)
                {
                    if (block is not (ContentsList or IndexList)) continue;
                    var lines = list < matching.Lists.Count ? matching.Lists[list] : [];
                    list++;
                    if (block is ContentsList) JudgeContents(lines);
                    else new IndexAudit(expected, matching, report, Index, Label, pages.Select(p => Plain(p.Label)).ToHashSet()).Judge(string.Concat(lines.Select(l => l.Line.Words)));
                }
        }

        private void JudgeContents(List<(PrintedLine Line, int Page)> lines)
        {
            var printed = string.Concat(lines.Select(l => l.Line.Words));
            var at = 0;
            foreach (var division in expected.Divisions)
            {
                if (division.Division.Kind is DivisionKind.TitlePage or DivisionKind.Legal or DivisionKind.Contents) continue;
                Line(division.Number, division.Division.Title, division.At);
                foreach (var head in division.Heads)
                {
                    var listed = (Head)division.Division.Blocks.First(b => b.Id == head.Id);
                    if (listed.Listed == Listed.Always || (listed.Listed == Listed.ByLook && head.Level == HeadLevel.A)) Line(head.Number, head.Title, head.At);
                }
            }
            report.Judge(Contents, at == printed.Length, () => $"The contents list goes on with “{printed[at..Math.Min(printed.Length, at + 60)]}”, which names nothing in the text.");

            void Line(string number, string title, int place)
            {
                var words = FinishedFile.Normal(number + title);
                var label = Plain(Label(matching.Page(place)));
                var right = string.CompareOrdinal(printed, at, words + label, 0, words.Length + label.Length) == 0;
                report.Judge(Contents, right, () => $"“{title}” stands on page {label}; the contents list says “{printed[Math.Min(at, printed.Length)..Math.Min(printed.Length, at + words.Length + 6)]}”.");
                // Go on after this line, whatever it says.
                var found = printed.IndexOf(words, Math.Min(at, printed.Length), StringComparison.Ordinal);
                if (right) at += words.Length + label.Length;
                else if (found >= 0) at = found + words.Length + Regex.Match(printed[(found + words.Length)..], "^([A-Z]?\\d+|[ivxlcdm]+)").Length;
            }
        }

        private string Folio(PrintedPage page) => page.Furniture.Select(f => f.Words).FirstOrDefault(w => w == Plain(page.Label)) ?? "";

        public void JudgeFolios()
        {
            var front = true;
            var body = -1;
            for (var d = 0; d < expected.Divisions.Count; d++)
            {
                var division = expected.Divisions[d];
                var first = matching.Page(division.At);
                if (first < 0) continue;
                if (front && division.Division.Matter != Matter.Front)
                {
                    front = false;
                    body = first;
                    report.Judge(Folios, first % 2 == 0, () => $"The body begins on page {Label(first)}, a verso.");
                }
                if (division.Division.Kind != DivisionKind.Legal) report.Judge(Folios, first % 2 == 0, () => $"“{division.Division.Title}” begins on page {Label(first)}, a verso.");
                for (var p = first; p < End(d); p++)
                {
                    var page = pages[p];
                    var should = division.Division.Matter == Matter.Front ? FinishedFile.Roman(p + 1)
                        : division.Division.Kind == DivisionKind.Appendix ? $"{division.Number}-{p - first + 1}" : $"{p - body + 1}";
                    if (page.Lines.Count > 0) report.Judge(Folios, page.Label == should, () => $"The page after {(p > 0 ? pages[p - 1].Label : "the cover")} is labelled {page.Label}; it should be {should}.");
                    if (page.Lines.Count > 0 && division.Division.Kind is not (DivisionKind.TitlePage or DivisionKind.Legal))
                        report.Judge(Folios, Folio(page).Length > 0, () => $"Page {page.Label} does not print its folio; at its edge stands “{string.Join(" / ", page.Furniture.Select(f => f.Words))}”.");
                }
            }
        }

        /// <summary>The page after the division's last.</summary>
        private int End(int d)
        {
            for (var next = d + 1; next < expected.Divisions.Count; next++)
                if (matching.Page(expected.Divisions[next].At) is var page and >= 0 && page > matching.Page(expected.Divisions[d].At)) return page;
            return pages.Count;
        }

        public void JudgeRunningHeads()
        {
            for (var d = 0; d < expected.Divisions.Count; d++)
            {
                var division = expected.Divisions[d];
                if (division.Division.Kind is DivisionKind.TitlePage or DivisionKind.Legal) continue;
                var first = matching.Page(division.At);
                for (var p = first + 1; p > 0 && p < End(d); p++)
                {
                    var page = pages[p];
                    if (page.Lines.Count == 0) continue;
                    var (number, title) = (division.Number, division.Division.ShortTitle ?? division.Division.Title);
                    if (p % 2 == 0 && division.Heads.LastOrDefault(h => h.Level == HeadLevel.A && matching.Page(h.At) is var at && at >= 0 && at <= p) is { } head)
                        (number, title) = (head.Number, head.ShortTitle ?? head.Title);
                    var should = FinishedFile.Normal(number + title);
                    var top = page.Furniture.Where(f => f.Y > page.Height * 0.9).Select(f => f.Words).ToList();
                    var folio = Plain(page.Label);
                    var said = top.Where(t => t != folio).ToList();
                    var right = said.Any(t => Same(t, should));
                    report.Judge(RunningHeads, right, () => $"Page {page.Label} is headed “{string.Join(" / ", top)}”; the rule says “{should}”.");
                }
            }
            static bool Same(string said, string should) => said == should || (said.EndsWith('…') && should.StartsWith(said[..^1], StringComparison.Ordinal));
        }

        public void JudgeNotes()
        {
            foreach (var note in expected.Notes)
                report.Judge(Notes, note.Page >= 0 && note.Page == matching.Around(null, note.From - 1).After, () => $"The note “{note.Words[..Math.Min(40, note.Words.Length)]}” is on page {Label(note.Page)}, its call on page {Label(matching.Around(null, note.From - 1).After)}.");
        }
    }
}
