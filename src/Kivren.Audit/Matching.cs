using System.Text.RegularExpressions;
using Kivren.Core.Content;

namespace Kivren.Audit;

/// <summary>Lays the lines of the finished file against the expected text: each line must be the next words of the flow,
/// of a table on pages of its own, of a note whose call has passed, or of a caption. Says on which page every character
/// stands.</summary>
public sealed partial class Matching
{
    public const string EveryWord = "every word once and in order";

    private readonly ExpectedText _expected;
    private readonly AuditReport _report;

    /// <summary>For each character of the flow the page it stands on, or -1.</summary>
    public int[] PageOf { get; }

    /// <summary>The lines of the flow: page, and from which character up to which.</summary>
    public List<(int Page, int From, int To)> FlowLines { get; } = [];

    /// <summary>Lines of each generated list, in order: contents, index.</summary>
    public List<List<(PrintedLine Line, int Page)>> Lists { get; } = [];

    /// <summary>Folios and phrases printed by references: index in the flow (or in words apart) to what was printed.</summary>
    public Dictionary<(Apart? In, int At), string> PrintedFolios { get; } = [];

    /// <summary>Tables that the flow went on before, with how far they are read: they stand on pages of their own.</summary>
    private readonly List<(TextRange Table, int Read)> _waiting = [];
    private readonly Dictionary<int, TextRange> _tables = [];
    private int _cursor;
    private bool _listOpen;

    /// <summary>How far the open list has said what it must.</summary>
    private int _listRead;

    public Matching(ExpectedText expected, IReadOnlyList<PrintedPage> pages, HouseRules rules, AuditReport report)
    {
        _expected = expected;
        _report = report;
        _phrases = [.. new[] { "onThisPage", "onFacingPage", "overleaf" }.Select(w => FinishedFile.Normal(rules.Words[w]))];
        var (before, behind) = LanguageWords.Around(rules.Words["onPage"]);
        _onPage = FinishedFile.Normal(before);
        _phraseForm = new Regex(
            $@"\G({string.Join('|', _phrases.Select(Regex.Escape))}|"
                + $@"{Regex.Escape(_onPage)}([A-Z]?\d{{1,5}}|[ivxlcdm]{{1,9}}){Regex.Escape(FinishedFile.Normal(behind))})",
            RegexOptions.CultureInvariant
        );
        PageOf = new int[expected.Flow.Length + 1];
        Array.Fill(PageOf, -1);
        foreach (var table in expected.Tables)
            if (table.To > table.From)
                _tables.TryAdd(table.From, table);
        foreach (var (line, page) in InOrder(pages))
        {
            report.Tried(EveryWord);
            if (!Take(line, page, first: line == page.Lines[0]))
                Lost(line, page);
        }
        SkipLists();
        if (_cursor < expected.Flow.Length)
            report.Failed(EveryWord, $"The file ends before “{Around(_cursor)}”.");
        foreach (var (table, read) in _waiting)
            if (read < table.To)
                report.Failed(EveryWord, $"“{Around(read)}” (a table) is not in the file, or not whole.");
        foreach (var apart in expected.Notes.Concat(expected.Captions))
            if (apart.Taken < apart.Words.Length)
                report.Failed(EveryWord, $"“{Short(apart.Words)}” (a note or caption) is not in the file, or not whole.");
    }

    /// <summary>All lines as they are read: where cells follow one another they are read in the order of the table, each to its
    /// end, on whatever pages their lines stand.</summary>
    private static IEnumerable<(PrintedLine Line, PrintedPage Page)> InOrder(IReadOnlyList<PrintedPage> pages)
    {
        var lines = pages.SelectMany(p => p.Lines, (page, line) => (Line: line, Page: page)).ToList();
        for (var at = 0; at < lines.Count; )
        {
            var end = at + 1;
            while (end < lines.Count && lines[at].Line.Cell > 0 && lines[end].Line.Cell > 0)
                end++;
            foreach (var line in lines[at..end].OrderBy(l => l.Line.Cell))
                yield return line;
            at = end;
        }
    }

    private bool AtList => _cursor < _expected.Flow.Length && _expected.Flow[_cursor] == ExpectedText.GeneratedList;

    private void SkipLists()
    {
        while (AtList)
            CloseList();
    }

    private void OpenList()
    {
        if (_listOpen)
            return;
        Lists.Add([]);
        (_listOpen, _listRead) = (true, 0);
    }

    private void CloseList()
    {
        OpenList();
        _listOpen = false;
        _cursor++;
    }

    /// <summary>A list's lines are judged apart. A contents list ends when it has said what it must and the text goes on; one
    /// that says something else, and an index, end where a page begins with what follows.</summary>
    private bool TakeList(PrintedLine line, PrintedPage page, bool first)
    {
        OpenList();
        var list = _expected.Lists[Lists.Count - 1];
        var read = list.IsIndex ? -1 : Match(list.Words, _listRead, line.Words, 0, []);
        if (read < 0)
        {
            var follows =
                _cursor + 1 < _expected.Flow.Length
                && (
                    _expected.Flow[_cursor + 1] == ExpectedText.GeneratedList
                        ? _listRead == list.Words.Length
                        : Match(_expected.Flow, _cursor + 1, line.Words, 0, []) >= 0
                );
            if (follows && (first || (!list.IsIndex && _listRead == list.Words.Length)))
            {
                CloseList();
                return AtList && TakeList(line, page, first);
            }
        }
        else
            _listRead = read;
        Lists[^1].Add((line, page.Index));
        // The list stands where it begins.
        if (PageOf[_cursor] < 0)
            PageOf[_cursor] = page.Index;
        return true;
    }

    [GeneratedRegex(@"\G([A-Z]?\d{1,5}|[ivxlcdm]{1,9})")]
    private static partial Regex FolioForm();

    /// <summary>How a page is spoken of, in the language of the manual: its words alone, and those before a folio.</summary>
    private readonly string[] _phrases;
    private readonly string _onPage;
    private readonly Regex _phraseForm;

    /// <summary>The end in the expected text after taking this line from <paramref name="at"/>, or -1.</summary>
    private int Match(string expected, int at, string line, int from, List<(int At, string Folio)> folios)
    {
        while (from < line.Length)
        {
            if (at >= expected.Length)
                return -1;
            if (expected[at] is ExpectedText.Folio or ExpectedText.Phrase)
            {
                var form = expected[at] == ExpectedText.Folio ? FolioForm().Match(line, from) : _phraseForm.Match(line, from);
                if (!form.Success)
                    return expected[at] == ExpectedText.Phrase ? Divided(expected, at, line, from) : -1;
                for (var length = form.Length; length > 0; length--)
                {
                    var tried = new List<(int, string)>();
                    var end = Match(expected, at + 1, line, from + length, tried);
                    if (end < 0)
                        continue;
                    folios.Add((at, line.Substring(from, length)));
                    folios.AddRange(tried);
                    return end;
                }
                return -1;
            }
            if (expected[at] != line[from])
                return -1;
            at++;
            from++;
        }
        return at;
    }

    /// <summary>A phrase that goes on in the next line: it is judged no further, for half of it says nothing wrong.</summary>
    private int Divided(string expected, int at, string line, int from)
    {
        foreach (var phrase in _phrases.Append(_onPage).Where(p => p.Length > 0))
            if (phrase.StartsWith(line[from..], StringComparison.Ordinal))
                return at;
        return -1;
    }

    private bool Take(PrintedLine line, PrintedPage page, bool first)
    {
        if (_pendingPhrase && PhraseTail(line) is { } rest)
        {
            _pendingPhrase = false;
            if (rest.Words.Length == 0)
                return true;
            line = rest;
        }
        // A caption or a note that has begun goes on first.
        foreach (var begun in _expected.Captions.Where(c => c.Taken > 0 && c.Taken < c.Words.Length))
            if (TakeApart(begun, line, page))
                return true;
        var noteOpen = _expected.Notes.FirstOrDefault(n => n.Taken > 0 && n.Taken < n.Words.Length);
        if (noteOpen is not null && line.Size < 9 && TakeApart(noteOpen, line, page))
            return true;
        for (var t = 0; t < _waiting.Count; t++)
            if (_waiting[t].Read > _waiting[t].Table.From && TakeWaiting(t, line, page))
                return true;
        if (AtList && TakeList(line, page, first))
            return true;
        if (TakeFlow(line, page))
            return true;
        if (_tables.TryGetValue(_cursor, out var table))
        {
            // The text flows on before a table that has pages of its own.
            var back = _cursor;
            _cursor = table.To;
            if (TakeFlow(line, page) || TakeAnyApart(line, page))
            {
                _waiting.Add((table, table.From));
                return true;
            }
            _waiting.Add((table, table.From));
            if (TakeWaiting(_waiting.Count - 1, line, page))
                return true;
            _waiting.RemoveAt(_waiting.Count - 1);
            _cursor = back;
        }
        for (var t = 0; t < _waiting.Count; t++)
            if (TakeWaiting(t, line, page))
                return true;
        return TakeAnyApart(line, page) || (noteOpen is not null && TakeApart(noteOpen, line, page));
    }

    private bool _pendingPhrase;
    private string _phrase = "";
    private int _phraseAt;

    /// <summary>The rest of a phrase that the line before began.</summary>
    private PrintedLine? PhraseTail(PrintedLine line)
    {
        var form = _phraseForm.Match(_phrase + line.Words, 0);
        if (!form.Success)
            return null;
        PrintedFolios[(null, _phraseAt)] = form.Value;
        _cursor = _phraseAt + 1;
        return line with { Words = (_phrase + line.Words)[form.Length..] };
    }

    private bool TakeFlow(PrintedLine line, PrintedPage page)
    {
        var folios = new List<(int, string)>();
        var end = Match(_expected.Flow, _cursor, line.Words, 0, folios);
        if (end < 0)
            return false;
        for (var i = _cursor; i < end; i++)
            PageOf[i] = page.Index;
        foreach (var (at, folio) in folios)
            PrintedFolios[(null, at)] = folio;
        FlowLines.Add((page.Index, _cursor, end));
        if (end < _expected.Flow.Length && _expected.Flow[end] == ExpectedText.Phrase && end - _cursor < line.Words.Length)
        {
            _pendingPhrase = true;
            _phraseAt = end;
            _phrase = line.Words[^(line.Words.Length - Taken(_cursor, end))..];
        }
        _cursor = end;
        return true;

        // Characters of the line that the flow up to the phrase took: wildcards took what they printed.
        int Taken(int from, int to)
        {
            var taken = 0;
            for (var i = from; i < to; i++)
                taken += PrintedFolios.TryGetValue((null, i), out var folio) ? folio.Length : 1;
            return taken;
        }
    }

    private bool TakeWaiting(int index, PrintedLine line, PrintedPage page)
    {
        var (table, read) = _waiting[index];
        if (read >= table.To)
            return false;
        var folios = new List<(int, string)>();
        var end = Match(_expected.Flow, read, line.Words, 0, folios);
        if (end < 0 || end > table.To)
            return false;
        for (var i = read; i < end; i++)
            PageOf[i] = page.Index;
        foreach (var (at, folio) in folios)
            PrintedFolios[(null, at)] = folio;
        _waiting[index] = (table, end);
        return true;
    }

    private bool TakeAnyApart(PrintedLine line, PrintedPage page)
    {
        foreach (var caption in _expected.Captions.Where(c => c.Taken == 0))
            if (TakeApart(caption, line, page))
                return true;
        foreach (var note in _expected.Notes.Where(n => n.Taken == 0 && n.From <= _cursor + 1))
            if (TakeApart(note, line, page))
                return true;
        return false;
    }

    private bool TakeApart(Apart apart, PrintedLine line, PrintedPage page)
    {
        var folios = new List<(int, string)>();
        var end = Match(apart.Words, apart.Taken, line.Words, 0, folios);
        if (end < 0)
            return false;
        if (apart.Page < 0)
            apart.Page = page.Index;
        apart.Taken = end;
        foreach (var (at, folio) in folios)
            PrintedFolios[(apart, at)] = folio;
        return true;
    }

    /// <summary>A line that is not the next words: told, and the flow is picked up again where the line is found.</summary>
    private void Lost(PrintedLine line, PrintedPage page)
    {
        _report.Failed(EveryWord, $"Page {page.Label}: “{Short(line.Words)}” stands where the text says “{Around(_cursor)}”.");
        var reach = Math.Min(_expected.Flow.Length, _cursor + 6000);
        for (var at = _cursor + 1; at < reach && line.Words.Length > 8; at++)
        {
            var end = Match(_expected.Flow, at, line.Words, 0, []);
            if (end < 0)
                continue;
            for (var i = at; i < end; i++)
                PageOf[i] = page.Index;
            _cursor = end;
            return;
        }
    }

    private string Around(int at) =>
        Short(
            at < _expected.Flow.Length
                ? _expected.Flow[at..Math.Min(_expected.Flow.Length, at + 60)].Replace(ExpectedText.Folio, '#')
                : "(the end)"
        );

    private static string Short(string words) => words.Length > 50 ? words[..50] + "…" : words;

    /// <summary>The pages on which the words on both sides of a place stand.</summary>
    public (int Before, int After) Around(Apart? apart, int at)
    {
        if (apart is not null)
            return (apart.Page, apart.Page);
        int before = -1,
            after = -1;
        for (var i = at - 1; i >= 0 && before < 0; i--)
            before = PageOf[i];
        for (var i = at; i < PageOf.Length && after < 0; i++)
            after = PageOf[i];
        return (before, after);
    }

    public int Page(int at) => Around(null, at).After;
}
