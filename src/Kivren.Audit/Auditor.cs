using System.Text.RegularExpressions;
using Kivren.Core.Content;
using Kivren.Core.Selection;

namespace Kivren.Audit;

/// <summary>Judges a finished file from outside (testing.md, The audit): it knows the PDF and the manual and nothing of
/// how the one was made of the other.</summary>
public static class Auditor
{
    private const string Contents = "contents lines",
        References = "cross-references",
        Index = "index locators",
        RunningHeads = "running heads",
        Folios = "folios",
        Notes = "footnotes under their call";

    /// <param name="look">the name of the look it was composed in, or null for the manual's own</param>
    public static AuditReport Audit(string pdf, Manual manual, Edition edition, string? look = null)
    {
        var report = new AuditReport();
        var rules = HouseRules.Of(look ?? manual.Look);
        var expected = new ExpectedText(Selector.Select(manual, edition), rules);
        var pages = FinishedFile.Read(pdf);
        var matching = new Matching(expected, pages, report);
        var audit = new Run(expected, pages, matching, rules, report);
        audit.JudgeReferences();
        audit.JudgeLists();
        audit.JudgeFolios();
        audit.JudgeRunningHeads();
        audit.JudgeNotes();
        new LayoutAudit(expected, pages, matching, rules, report).Judge();
        StructureAudit.Judge(pdf, expected, pages, report);
        return report;
    }

    private sealed class Run(
        ExpectedText expected,
        IReadOnlyList<PrintedPage> pages,
        Matching matching,
        HouseRules rules,
        AuditReport report
    )
    {
        private readonly Dictionary<Id, (Apart? In, int At)> _places = Places(expected);

        private static Dictionary<Id, (Apart?, int)> Places(ExpectedText expected)
        {
            var places = new Dictionary<Id, (Apart?, int)>();
            foreach (var place in expected.Places)
                places.TryAdd(place.Id, (null, place.At));
            foreach (var apart in expected.Notes.Concat(expected.Captions))
            foreach (var place in apart.Places)
                places.TryAdd(place.Id, (apart, place.At));
            return places;
        }

        private string Label(int page) => page >= 0 ? pages[page].Label : "?";

        private int PageOf(Id id) => _places.TryGetValue(id, out var at) ? matching.Around(at.In, at.At).After : -1;

        private static string Plain(string label) => FinishedFile.Normal(label);

        public void JudgeReferences()
        {
            foreach (
                var (apart, folio) in expected
                    .Folios.Select(f => ((Apart?)null, f))
                    .Concat(expected.Notes.Concat(expected.Captions).SelectMany(a => a.Folios.Select(f => ((Apart?)a, f))))
            )
            {
                var printed = matching.PrintedFolios.GetValueOrDefault((apart, folio.At));
                var target = PageOf(folio.Target);
                var words = apart?.Words ?? expected.Flow;
                if (words[folio.At] == ExpectedText.Folio)
                    report.Judge(References, printed is not null && target >= 0 && printed == Plain(Label(target)), () =>
                        $"The reference to “{folio.Words}” prints page {printed ?? "(nothing)"}; it stands on page {Label(target)}."
                    );
                else
                {
                    var (before, after) = matching.Around(apart, folio.At);
                    report.Judge(
                        References,
                        printed is not null && (printed == Phrase(before, target) || printed == Phrase(after, target)),
                        () =>
                            $"The reference to “{folio.Words}” on page {Label(after)} says “{printed ?? "(nothing)"}”; it stands "
                            + $"on page {Label(target)}."
                    );
                }
            }
        }

        /// <summary>How a page is spoken of from another: even indices are rectos, and a recto faces the verso before it.</summary>
        private string Phrase(int here, int there)
        {
            if (here == there)
                return "onthispage";
            if (rules.LeftRecto != rules.LeftVerso)
            {
                if (there == (here % 2 == 0 ? here - 1 : here + 1))
                    return "onthefacingpage";
                if (here % 2 == 0 && there == here + 1)
                    return "overleaf";
            }
            return "onpage" + Plain(Label(there));
        }

        public void JudgeLists()
        {
            for (var list = 0; list < expected.Lists.Count; list++)
            {
                var lines = list < matching.Lists.Count ? matching.Lists[list] : [];
                if (!expected.Lists[list].IsIndex)
                    JudgeContents(lines, expected.Lists[list]);
                else
                    new IndexAudit(expected, matching, report, Index, Label, pages.Select(p => Plain(p.Label)).ToHashSet()).Judge(
                        string.Concat(lines.Select(l => l.Line.Words))
                    );
            }
        }

        private void JudgeContents(List<(PrintedLine Line, int Page)> lines, ExpectedList list)
        {
            var printed = string.Concat(lines.Select(l => l.Line.Words));
            var read = 0;
            string LabelOf(ContentsLine line) => Plain(Label(line.At is { } at ? matching.Page(at) : PageOf(line.Target)));
            if (list.Sorted)
            {
                foreach (var line in list.Lines)
                    report.Judge(Contents, printed.Contains(line.With(LabelOf(line)), StringComparison.Ordinal), () =>
                        $"“{line.Title}” stands on page {LabelOf(line)}; the list does not say so."
                    );
                report.Judge(Contents, printed.Length == list.Lines.Sum(l => l.With(LabelOf(l)).Length), () =>
                    "The list says more than the text has."
                );
                return;
            }
            foreach (var line in list.Lines)
            {
                var label = LabelOf(line);
                var words = line.Words;
                var whole = line.With(label);
                var right = string.CompareOrdinal(printed, read, whole, 0, whole.Length) == 0;
                report.Judge(Contents, right, () =>
                    $"“{line.Title}” stands on page {label}; the contents list says "
                    + $"“{printed[Math.Min(read, printed.Length)..Math.Min(printed.Length, read + words.Length + 6)]}”."
                );
                // Go on after this line, whatever it says.
                var found = printed.IndexOf(words, Math.Min(read, printed.Length), StringComparison.Ordinal);
                if (right)
                    read += whole.Length;
                else if (found >= 0)
                    read = found + words.Length + Regex.Match(printed[(found + words.Length)..], "^([A-Z]?\\d+|[ivxlcdm]+)").Length;
            }
            report.Judge(Contents, read == printed.Length, () =>
                $"The contents list goes on with “{printed[read..Math.Min(printed.Length, read + 60)]}”, which names nothing in the text."
            );
        }

        private bool PrintsFolio(PrintedPage page) =>
            page.Furniture.Any(f => f.Words == Plain(page.Label) || f.Words == $"Page{Plain(page.Label)}of{pages.Count}");

        public void JudgeFolios()
        {
            var body = -1;
            for (var d = 0; d < expected.Divisions.Count; d++)
            {
                var division = expected.Divisions[d];
                var first = matching.Page(division.At);
                if (first < 0)
                    continue;
                var front = division.Division.Matter == Matter.Front;
                if (body < 0 && !front)
                    body = first;
                if (rules.BeginsOnRecto && division.Division.Kind != DivisionKind.Legal)
                    report.Judge(Folios, first % 2 == 0, () => $"“{division.Division.Title}” begins on page {Label(first)}, a verso.");
                for (var p = first; p < End(d); p++)
                {
                    var page = pages[p];
                    var should =
                        !rules.MixedFolios ? $"{p + 1}"
                        : front ? FinishedFile.Roman(p + 1)
                        : division.Division.Kind == DivisionKind.Appendix ? $"{division.Number}-{p - first + 1}"
                        : $"{p - body + 1}";
                    if (page.Lines.Count > 0)
                        report.Judge(Folios, page.Label == should, () =>
                            $"The page after {(p > 0 ? pages[p - 1].Label : "the cover")} is labelled {page.Label}; it should be {should}."
                        );
                    if (
                        page.Lines.Count > 0
                        && division.Division.Kind is not (DivisionKind.HalfTitle or DivisionKind.TitlePage or DivisionKind.Legal)
                    )
                        report.Judge(Folios, PrintsFolio(page), () =>
                            $"Page {page.Label} does not print its folio; at its edge stands "
                            + $"“{string.Join(" / ", page.Furniture.Select(f => f.Words))}”."
                        );
                }
            }
        }

        /// <summary>The page after the division's last.</summary>
        private int End(int d)
        {
            for (var next = d + 1; next < expected.Divisions.Count; next++)
                if (matching.Page(expected.Divisions[next].At) is var page and >= 0 && page > matching.Page(expected.Divisions[d].At))
                    return page;
            return pages.Count;
        }

        public void JudgeRunningHeads()
        {
            for (var d = 0; d < expected.Divisions.Count; d++)
            {
                var division = expected.Divisions[d];
                if (division.Division.Kind is DivisionKind.HalfTitle or DivisionKind.TitlePage or DivisionKind.Legal)
                    continue;
                var first = matching.Page(division.At);
                for (var p = rules.HeadsOpenings ? first : first + 1; p >= 0 && p < End(d) && first >= 0; p++)
                {
                    var page = pages[p];
                    if (page.Lines.Count == 0)
                        continue;
                    // Where divisions run on, the last that begins on the page is in force.
                    var inForce = division;
                    for (
                        var next = d + 1;
                        next < expected.Divisions.Count && matching.Page(expected.Divisions[next].At) is var begun and >= 0 && begun <= p;
                        next++
                    )
                        inForce = expected.Divisions[next];
                    var (number, title) = (inForce.Number, inForce.Division.ShortTitle ?? inForce.Division.Title);
                    if (
                        rules.SectionsOnRectos
                        && p % 2 == 0
                        && division.Heads.LastOrDefault(h => h.Level == HeadLevel.A && matching.Page(h.At) is var at && at >= 0 && at <= p)
                            is { } head
                    )
                        (number, title) = (head.Number, head.ShortTitle ?? head.Title);
                    var should = FinishedFile.Normal(number + title);
                    var edges = page.Furniture.Where(f => f.Y > page.Height - rules.Top || f.Y < rules.Foot).Select(f => f.Words).ToList();
                    report.Judge(RunningHeads, edges.Any(t => Same(t, should)), () =>
                        $"Page {page.Label} is headed “{string.Join(" / ", edges)}”; the rule says “{should}”."
                    );
                }
            }
            static bool Same(string said, string should) =>
                said == should || (said.EndsWith('…') && should.StartsWith(said[..^1], StringComparison.Ordinal));
        }

        public void JudgeNotes()
        {
            foreach (var note in expected.Notes)
            {
                var call = matching.Around(null, note.From - 1).After;
                var division = expected.Divisions.FindLastIndex(d => d.At <= note.From);
                var right = rules.NotesAtEnd ? note.Page >= call && note.Page < End(division) : note.Page == call;
                report.Judge(Notes, note.Page >= 0 && right, () =>
                    $"The note “{note.Words[..Math.Min(40, note.Words.Length)]}” is on page {Label(note.Page)}, its call on page "
                    + $"{Label(call)}."
                );
            }
        }
    }
}
