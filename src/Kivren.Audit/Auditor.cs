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
        Folios = "folios",
        Notes = "footnotes under their call";

    /// <param name="look">the file of the look that it was composed in</param>
    public static AuditReport Audit(string pdf, Manual manual, Edition edition, string look)
    {
        var report = new AuditReport();
        var rules = HouseRules.Of(look, edition.Language ?? manual.Language);
        var text = Selector.Select(manual, edition, rules: rules.Selecting);
        var expected = new ExpectedText(text, rules);
        var pages = FinishedFile.Read(pdf);
        var matching = new Matching(expected, pages, rules, report);
        var audit = new Run(expected, pages, matching, rules, report);
        audit.JudgeReferences();
        audit.JudgeLists();
        audit.JudgeFolios();
        new RunningHeadAudit(expected, text, pages, matching, rules, report).Judge();
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
                return Normal("onThisPage");
            if (rules.Page(DivisionKind.Chapter).Mirrored)
            {
                if (there == (here % 2 == 0 ? here - 1 : here + 1))
                    return Normal("onFacingPage");
                if (here % 2 == 0 && there == here + 1)
                    return Normal("overleaf");
            }
            return Normal("onPage") + Plain(Label(there));
        }

        private string Normal(string word) => FinishedFile.Normal(rules.Words[word]);

        public void JudgeLists()
        {
            for (var list = 0; list < expected.Lists.Count; list++)
            {
                var lines = list < matching.Lists.Count ? matching.Lists[list] : [];
                if (!expected.Lists[list].IsIndex)
                    JudgeContents(lines, expected.Lists[list]);
                else
                    new IndexAudit(expected, matching, report, Index, Label, pages.Select(p => Plain(p.Label)).ToHashSet(), rules).Judge(
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

        public void JudgeFolios()
        {
            var began = new Dictionary<string, int>(StringComparer.Ordinal);
            var last = new Dictionary<string, (int Page, int Number)>(StringComparer.Ordinal);
            var (before, formatBefore) = ("", "");
            var number = 0;
            for (var d = 0; d < expected.Divisions.Count; d++)
            {
                var division = expected.Divisions[d];
                var first = matching.Page(division.At);
                if (first < 0)
                    continue;
                var (begins, name, format, count) = rules.Sequence(division.Division.Kind);
                var own = division.Division.Begins == Begins.ByLook ? begins : division.Division.Begins.ToString();
                // A page has one folio: what runs on counts with what it runs on from, and has its form.
                if (d > 0 && own.Equals("runsOn", StringComparison.OrdinalIgnoreCase) && RunsOn(d))
                    (count, format, name) = ("continues", formatBefore, before);
                if (rules.Sided && own.Equals("recto", StringComparison.OrdinalIgnoreCase))
                    report.Judge(Folios, first % 2 == 0, () => $"“{division.Division.Title}” begins on page {Label(first)}, a verso.");
                var isNew = !began.ContainsKey(name);
                began.TryAdd(name, first);
                // The number of the division's first page.
                var from = count switch
                {
                    "eachDivision" => 1,
                    "through" => first - began[name] + 1,
                    "restarts" when isNew => 1,
                    // Back after other pages it goes on from its own last number.
                    "restarts" => last[name].Number + (before == name ? first - last[name].Page : 1),
                    // On the page where the one before ends, or on the next.
                    _ => number + (first - (last.Count == 0 ? -1 : last.Values.Max(l => l.Page))),
                };
                for (var p = first; p < End(d); p++)
                {
                    var page = pages[p];
                    number = from + p - first;
                    last[name] = (p, number);
                    var should =
                        format == "roman" ? FinishedFile.Roman(number)
                        : format == "byDivision" && division.Number.Length > 0 ? $"{division.Number}-{number}"
                        : format == "alpha" ? Letters(number)
                        : $"{number}";
                    if (page.Lines.Count > 0)
                        report.Judge(Folios, page.Label == should, () =>
                            $"The page after {(p > 0 ? pages[p - 1].Label : "the cover")} is labelled {page.Label}; it should be {should}."
                        );
                }
                (before, formatBefore) = (name, format);
            }
        }

        /// <summary>Whether a division begins below the end of the one before it: then both are of one layout.</summary>
        private bool RunsOn(int d) =>
            rules.Page(expected.Divisions[d].Division.Kind) == rules.Page(expected.Divisions[d - 1].Division.Kind);

        private static string Letters(int number)
        {
            var letters = "";
            for (; number > 0; number = (number - 1) / 26)
                letters = (char)('a' + (number - 1) % 26) + letters;
            return letters;
        }

        /// <summary>The page after the division's last.</summary>
        private int End(int d)
        {
            for (var next = d + 1; next < expected.Divisions.Count; next++)
                if (matching.Page(expected.Divisions[next].At) is var page and >= 0 && page > matching.Page(expected.Divisions[d].At))
                    return page;
            return pages.Count;
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
