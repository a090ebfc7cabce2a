using System.Globalization;
using System.Text;
using Kivren.Core.Content;
using Kivren.Core.Selection;

namespace Kivren.Audit;

/// <summary>A place in the expected text that something is known of.</summary>
/// <param name="At">index of the character that follows it</param>
public sealed record TextPlace(Id Id, int At);

/// <summary>A cross-reference that prints a folio: a wildcard in the expected text.</summary>
public sealed record ExpectedFolio(int At, Id Target, string Words);

/// <summary>Words that may stand apart from the flow: a footnote or a figure's caption.</summary>
public sealed class Apart(string words, int from)
{
    public string Words => words;

    /// <summary>Index in the flow from which on it may appear.</summary>
    public int From => from;
    public int Taken { get; set; }
    public int Page { get; set; } = -1;
    public List<TextPlace> Places { get; } = [];
    public List<ExpectedFolio> Folios { get; } = [];
}

public sealed record ExpectedHead(Id Id, HeadLevel Level, string Number, string Title, string? ShortTitle, int At);

public sealed class ExpectedDivision(Division division, string number, int at)
{
    public Division Division => division;
    public string Number => number;
    public int At => at;
    public List<ExpectedHead> Heads { get; } = [];
}

/// <summary>What a finished file must say, told from the manual alone: every word in order, with numbers counted here and
/// not by the engine. Folios are wildcards; generated lists are gaps.</summary>
public sealed class ExpectedText
{
    public const char Folio = '\uE000', GeneratedList = '\uE001';

    private readonly StringBuilder _flow = new();
    private readonly SelectedText _text;
    private readonly Dictionary<Id, (string Name, string Number, string Title)> _targets = [];
    private readonly Dictionary<Id, string> _labels = [];

    public List<ExpectedDivision> Divisions { get; } = [];
    public List<TextPlace> Places { get; } = [];
    public List<ExpectedFolio> Folios { get; } = [];
    public List<Apart> Notes { get; } = [];
    public List<Apart> Captions { get; } = [];
    public List<(IndexEntry Entry, int At, Apart? In)> Entries { get; } = [];
    public string Flow { get; }

    public ExpectedText(SelectedText text)
    {
        _text = text;
        Count();
        foreach (var (division, number) in _numbers)
        {
            var expected = new ExpectedDivision(division, number, _flow.Length);
            Divisions.Add(expected);
            Places.Add(new TextPlace(division.Id, _flow.Length));
            if (division.Kind is not (DivisionKind.TitlePage or DivisionKind.Legal))
            {
                if (KindName(division.Kind) is { Length: > 0 } name) Add(name + number);
                Add(division.Title);
            }
            Head? runIn = null;
            foreach (var block in division.Blocks)
            {
                if (block is Head { Level: HeadLevel.C } c)
                {
                    if (runIn is not null) Block(runIn, expected);
                    runIn = c;
                    continue;
                }
                if (runIn is not null) Block(runIn, expected);
                runIn = null;
                Block(block, expected);
            }
            if (runIn is not null) Block(runIn, expected);
        }
        Flow = _flow.ToString();
    }

    /// <summary>The identity that now stands for this one.</summary>
    public Id Resolve(Id id)
    {
        for (var i = 0; i < 32 && !_targets.ContainsKey(id) && _text.Manual.Aliases.TryGetValue(id, out var other); i++) id = other;
        return id;
    }

    private static string KindName(DivisionKind kind) => kind switch { DivisionKind.Part => "Part", DivisionKind.Chapter => "Chapter", DivisionKind.Appendix => "Appendix", _ => "" };

    // ---- counting ----

    private readonly List<(Division, string)> _numbers = [];

    private void Count()
    {
        int parts = 0, chapters = 0, appendices = 0;
        foreach (var division in _text.Divisions)
        {
            var number = division.Kind switch
            {
                DivisionKind.Part => FinishedFile.Roman(++parts).ToUpperInvariant(),
                DivisionKind.Chapter => Digits(++chapters),
                DivisionKind.Appendix => Letters(++appendices),
                _ => "",
            };
            _numbers.Add((division, number));
            _targets[division.Id] = (KindName(division.Kind), number, division.Title);
            int heads = 0, figures = 0, tables = 0, listings = 0, notes = 0, steps = 0;
            void Walk(Block block, int depth)
            {
                switch (block)
                {
                    case Head h:
                        var own = h.Level == HeadLevel.A && h.Numbered && number.Length > 0 && division.Kind != DivisionKind.Part ? number + "." + Digits(++heads) : "";
                        _targets[h.Id] = ("Section", own, h.Content.PlainText());
                        break;
                    case Figure f: Captioned(f.Id, "Figure", ++figures, f.Caption); break;
                    case Table { Caption.Count: > 0 } t: Captioned(t.Id, "Table", ++tables, t.Caption); break;
                    case Listing { Caption.Count: > 0 } l: Captioned(l.Id, "Listing", ++listings, l.Caption); break;
                    case Steps s:
                        var n = s.Continues && depth == 0 ? steps : 0;
                        foreach (var item in s.Items)
                        {
                            n++;
                            _labels[item.Id] = depth % 2 == 0 ? Digits(n) : Letters(n).ToLowerInvariant();
                            _targets[item.Id] = ("step", _labels[item.Id], "");
                            foreach (var inner in item.Blocks) Walk(inner, depth + 1);
                        }
                        if (depth == 0) steps = n;
                        break;
                    case ItemList list:
                        var i = list.Start;
                        foreach (var item in list.Items)
                        {
                            _labels[item.Id] = list.Kind switch { ListKind.Decimal => Digits(i), ListKind.Alpha => Letters(i).ToLowerInvariant() + ")", ListKind.Roman => FinishedFile.Roman(i), _ => depth == 0 ? "–" : "·" };
                            i++;
                            foreach (var inner in item.Blocks) Walk(inner, depth + 1);
                        }
                        break;
                    case Admonition a:
                        foreach (var inner in a.Blocks) Walk(inner, depth);
                        break;
                }
                _targets.TryAdd(block.Id, ("", "", block.OwnSpans().FirstOrDefault()?.PlainText() ?? ""));
                foreach (var inline in block.OwnSpans().SelectMany(Core.Content.Walk.Flat))
                    if (inline is Footnote note)
                    {
                        _labels[note.Id] = Digits(++notes);
                        _targets[note.Id] = ("note", _labels[note.Id], note.Content.PlainText());
                    }
                    else if (inline is Anchor anchor) _targets[anchor.Id] = ("", "", anchor.Name);
            }
            void Captioned(Id id, string name, int n, IReadOnlyList<Inline> caption) => _targets[id] = (name, number.Length > 0 ? $"{number}-{n}" : Digits(n), caption.PlainText());
            foreach (var block in division.Blocks) Walk(block, 0);
        }
    }

    private static string Digits(int n) => n.ToString(CultureInfo.InvariantCulture);

    private static string Letters(int n)
    {
        var text = "";
        for (; n > 0; n = (n - 1) / 26) text = (char)('A' + (n - 1) % 26) + text;
        return text;
    }

    // ---- words ----

    private void Add(string words) => _flow.Append(FinishedFile.Normal(words));

    private void Block(Block block, ExpectedDivision division)
    {
        // A figure stands where its caption does.
        if (block is not Figure) Places.Add(new TextPlace(block.Id, _flow.Length));
        switch (block)
        {
            case Paragraph p: Spans(p.Content); break;
            case Head h:
                division.Heads.Add(new ExpectedHead(h.Id, h.Level, _targets[h.Id].Number, h.Content.PlainText(), h.ShortTitle, _flow.Length));
                Add(_targets[h.Id].Number);
                Spans(h.Content);
                break;
            case Steps s: Items(s.Items, division); break;
            case ItemList l: Items(l.Items, division); break;
            case Admonition a:
                Add(a.Kind.ToString().ToUpperInvariant());
                foreach (var inner in a.Blocks) Block(inner, division);
                break;
            case Table t:
                if (t.Caption.Count > 0)
                {
                    Add("Table" + _targets[t.Id].Number);
                    Spans(t.Caption);
                }
                foreach (var cell in t.Rows.SelectMany(r => r.Cells)) Spans(cell.Content);
                break;
            case Listing l:
                if (l.Caption.Count > 0)
                {
                    Add("Listing" + _targets[l.Id].Number);
                    Spans(l.Caption);
                }
                Add(l.Text);
                break;
            case Figure f:
                {
                    var caption = Aside(sink =>
                    {
                        sink.Append(FinishedFile.Normal("Figure" + _targets[f.Id].Number));
                        return f.Caption;
                    });
                    caption.Places.Add(new TextPlace(f.Id, 0));
                    Captions.Add(caption);
                    break;
                }
            case ContentsList or IndexList: _flow.Append(GeneratedList); break;
        }
    }

    private void Items(IReadOnlyList<Item> items, ExpectedDivision division)
    {
        foreach (var item in items)
        {
            Places.Add(new TextPlace(item.Id, _flow.Length));
            Add(_labels[item.Id]);
            foreach (var inner in item.Blocks) Block(inner, division);
        }
    }

    private void Spans(IReadOnlyList<Inline> spans) => Spans(spans, _flow, Places, Folios, null);

    private Apart Aside(Func<StringBuilder, IReadOnlyList<Inline>> make)
    {
        var sink = new StringBuilder();
        var places = new List<TextPlace>();
        var folios = new List<ExpectedFolio>();
        var entries = new List<(IndexEntry, int)>();
        var content = make(sink);
        Spans(content, sink, places, folios, entries);
        var apart = new Apart(sink.ToString(), _flow.Length);
        apart.Places.AddRange(places);
        apart.Folios.AddRange(folios);
        foreach (var (entry, at) in entries) Entries.Add((entry, at, apart));
        return apart;
    }

    private void Spans(IReadOnlyList<Inline> spans, StringBuilder sink, List<TextPlace> places, List<ExpectedFolio> folios, List<(IndexEntry, int)>? apart)
    {
        foreach (var inline in spans)
            switch (inline)
            {
                case TextRun run: sink.Append(FinishedFile.Normal(run.Text)); break;
                case VariableUse v: sink.Append(FinishedFile.Normal(_text.Variable(v.Name) ?? $"[no variable {v.Name}]")); break;
                case Anchor a: places.Add(new TextPlace(a.Id, sink.Length)); break;
                case IndexEntry e:
                    if (apart is not null) apart.Add((e, sink.Length));
                    else Entries.Add((e, sink.Length, null));
                    break;
                case Footnote note:
                    sink.Append(_labels[note.Id]);
                    places.Add(new TextPlace(note.Id, sink.Length - 1));
                    Notes.Add(Aside(to =>
                    {
                        to.Append(_labels[note.Id]);
                        return note.Content;
                    }));
                    break;
                case CrossReference x:
                    if (!_targets.TryGetValue(Resolve(x.Target), out var target))
                    {
                        sink.Append(FinishedFile.Normal("[reference to nothing]"));
                        break;
                    }
                    var pattern = x.Form switch
                    {
                        "number" => "{n}",
                        "title" => "“{t}”",
                        "name-number" => "{k}{n}",
                        "title-page" => "“{t}” on page {f}",
                        _ => "page {f}",
                    };
                    if (x.Form == "page") pattern = "page {f}";
                    if (target.Number.Length == 0 && pattern.Contains("{n}", StringComparison.Ordinal)) pattern = "“{t}”";
                    pattern = pattern.Replace("{k}", target.Name, StringComparison.Ordinal).Replace("{n}", target.Number, StringComparison.Ordinal).Replace("{t}", target.Title, StringComparison.Ordinal);
                    var folio = pattern.IndexOf("{f}", StringComparison.Ordinal);
                    sink.Append(FinishedFile.Normal(folio < 0 ? pattern : pattern[..folio]));
                    if (folio >= 0)
                    {
                        folios.Add(new ExpectedFolio(sink.Length, Resolve(x.Target), target.Title));
                        sink.Append(Folio);
                    }
                    break;
            }
    }
}
