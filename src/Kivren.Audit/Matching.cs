using System.Text.RegularExpressions;

namespace Kivren.Audit;

/// <summary>Lays the lines of the finished file against the expected text: each line must be the next words of the flow,
/// of a note whose call has passed, or of a caption. Says on which page every character stands.</summary>
public sealed partial class Matching
{
    private readonly ExpectedText _expected;
    private readonly AuditReport _report;

    /// <summary>For each character of the flow the page it stands on, or -1.</summary>
    public int[] PageOf { get; }

    /// <summary>Lines of each generated list, in order: contents, index.</summary>
    public List<List<(PrintedLine Line, int Page)>> Lists { get; } = [];

    /// <summary>Folios printed by references: index in the flow (or in words apart) to what was printed.</summary>
    public Dictionary<(Apart? In, int At), string> PrintedFolios { get; } = [];

    private int _cursor;

    public Matching(ExpectedText expected, IReadOnlyList<PrintedPage> pages, AuditReport report)
    {
        _expected = expected;
        _report = report;
        PageOf = new int[expected.Flow.Length + 1];
        Array.Fill(PageOf, -1);
        foreach (var page in pages)
            for (var l = 0; l < page.Lines.Count; l++)
            {
                report.Tried("every word once and in order");
                if (!Take(page.Lines[l], page, first: l == 0)) Lost(page.Lines[l], page);
            }
        SkipLists();
        if (_cursor < expected.Flow.Length) report.Failed("every word once and in order", $"The file ends before “{Around(_cursor)}”.");
        foreach (var apart in expected.Notes.Concat(expected.Captions))
            if (apart.Taken < apart.Words.Length) report.Failed("every word once and in order", $"“{Short(apart.Words)}” (a note or caption) is not in the file, or not whole.");
    }

    private void SkipLists()
    {
        while (_cursor < _expected.Flow.Length && _expected.Flow[_cursor] == ExpectedText.GeneratedList)
        {
            Lists.Add([]);
            _cursor++;
        }
    }

    [GeneratedRegex(@"\G([A-Z]?\d{1,5}|[ivxlcdm]{1,9})")]
    private static partial Regex FolioForm();

    /// <summary>The end in the expected text after taking this line from <paramref name="at"/>, or -1.</summary>
    private static int Match(string expected, int at, string line, int from, List<(int At, string Folio)> folios)
    {
        while (from < line.Length)
        {
            if (at >= expected.Length) return -1;
            if (expected[at] == ExpectedText.Folio)
            {
                var form = FolioForm().Match(line, from);
                if (!form.Success) return -1;
                for (var length = form.Length; length > 0; length--)
                {
                    var tried = new List<(int, string)>();
                    var end = Match(expected, at + 1, line, from + length, tried);
                    if (end < 0) continue;
                    folios.Add((at, line.Substring(from, length)));
                    folios.AddRange(tried);
                    return end;
                }
                return -1;
            }
            if (expected[at] != line[from]) return -1;
            at++;
            from++;
        }
        return at;
    }

    private bool Take(PrintedLine line, PrintedPage page, bool first)
    {
        // A caption or a note that has begun goes on first.
        foreach (var begun in _expected.Captions.Where(c => c.Taken > 0 && c.Taken < c.Words.Length))
            if (TakeApart(begun, line, page)) return true;
        var noteOpen = _expected.Notes.FirstOrDefault(n => n.Taken > 0 && n.Taken < n.Words.Length);
        if (noteOpen is not null && line.Size < 9 && TakeApart(noteOpen, line, page)) return true;
        if (_cursor < _expected.Flow.Length && _expected.Flow[_cursor] == ExpectedText.GeneratedList)
        {
            // A list's lines are judged apart; it ends where a page begins with what follows it.
            var after = _cursor;
            while (after < _expected.Flow.Length && _expected.Flow[after] == ExpectedText.GeneratedList) after++;
            if (!(first && after < _expected.Flow.Length && Match(_expected.Flow, after, line.Words, 0, []) >= 0 && Lists.Count > 0 && _listOpen))
            {
                if (!_listOpen)
                {
                    Lists.Add([]);
                    _listOpen = true;
                }
                Lists[^1].Add((line, page.Index));
                return true;
            }
            _cursor = after;
            _listOpen = false;
        }
        var folios = new List<(int, string)>();
        var end = Match(_expected.Flow, _cursor, line.Words, 0, folios);
        if (end >= 0)
        {
            for (var i = _cursor; i < end; i++) PageOf[i] = page.Index;
            foreach (var (at, folio) in folios) PrintedFolios[(null, at)] = folio;
            _cursor = end;
            return true;
        }
        foreach (var caption in _expected.Captions.Where(c => c.Taken == 0))
            if (TakeApart(caption, line, page)) return true;
        foreach (var note in _expected.Notes.Where(n => n.Taken == 0 && n.From <= _cursor + 1))
            if (TakeApart(note, line, page)) return true;
        return noteOpen is not null && TakeApart(noteOpen, line, page);
    }

    private bool _listOpen;

    private bool TakeApart(Apart apart, PrintedLine line, PrintedPage page)
    {
        var folios = new List<(int, string)>();
        var end = Match(apart.Words, apart.Taken, line.Words, 0, folios);
        if (end < 0) return false;
        if (apart.Page < 0) apart.Page = page.Index;
        apart.Taken = end;
        foreach (var (at, folio) in folios) PrintedFolios[(apart, at)] = folio;
        return true;
    }

    /// <summary>A line that is not the next words: told, and the flow is picked up again where the line is found.</summary>
    private void Lost(PrintedLine line, PrintedPage page)
    {
        _report.Failed("every word once and in order", $"Page {page.Label}: “{Short(line.Words)}” stands where the text says “{Around(_cursor)}”.");
        var reach = Math.Min(_expected.Flow.Length, _cursor + 6000);
        for (var at = _cursor + 1; at < reach && line.Words.Length > 8; at++)
        {
            var end = Match(_expected.Flow, at, line.Words, 0, []);
            if (end < 0) continue;
            for (var i = at; i < end; i++) PageOf[i] = page.Index;
            _cursor = end;
            return;
        }
    }

    private string Around(int at) => Short(at < _expected.Flow.Length ? _expected.Flow[at..Math.Min(_expected.Flow.Length, at + 60)].Replace(ExpectedText.Folio, '#') : "(the end)");

    private static string Short(string words) => words.Length > 50 ? words[..50] + "…" : words;

    /// <summary>The pages on which the words on both sides of a place stand.</summary>
    public (int Before, int After) Around(Apart? apart, int at)
    {
        if (apart is not null) return (apart.Page, apart.Page);
        int before = -1, after = -1;
        for (var i = at - 1; i >= 0 && before < 0; i--) before = PageOf[i];
        for (var i = at; i < PageOf.Length && after < 0; i++) after = PageOf[i];
        return (before, after);
    }

    public int Page(int at) => Around(null, at).After;
}
