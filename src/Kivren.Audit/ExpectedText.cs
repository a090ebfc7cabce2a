using System.Text;
using Kivren.Core.Content;
using Kivren.Core.Selection;

namespace Kivren.Audit;

/// <summary>A place in the expected text that something is known of.</summary>
/// <param name="At">index of the character that follows it</param>
public sealed record TextPlace(Id Id, int At);

/// <summary>A cross-reference that prints a folio or a page phrase: a wildcard in the expected text.</summary>
public sealed record ExpectedFolio(int At, Id Target, string Words);

/// <summary>A stretch of the flow [From, To) of one kind.</summary>
public sealed record TextRange(Block Block, int From, int To);

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

public sealed record ExpectedHead(Id Id, HeadLevel Level, string Number, string Title, string? ShortTitle, Listed Listed, int At);

public sealed class ExpectedDivision(Division division, string number, int at)
{
    public Division Division => division;
    public string Number => number;
    public int At => at;
    public List<ExpectedHead> Heads { get; } = [];
}

/// <summary>A list that is made from the text.</summary>
public sealed record ExpectedList(bool IsIndex, IReadOnlyList<ContentsLine> Lines, bool Sorted = false)
{
    /// <summary>Its words, with wildcards for the folios.</summary>
    public string Words { get; } = string.Concat(Lines.Select(l => l.With(ExpectedText.Folio.ToString())));
}

/// <summary>What a finished file must say, told from the manual alone: every word in order. Folios and page phrases are
/// wildcards; generated lists are gaps; equations are judged by what the file says of them in words.</summary>
public sealed class ExpectedText
{
    public const char Folio = '\uE000',
        GeneratedList = '\uE001',
        Phrase = '\uE002';

    private readonly StringBuilder _flow = new();
    private readonly SelectedText _text;
    public Manual Manual => _text.Manual;
    private readonly HouseRules _rules;

    public ExpectedNumbers Numbers { get; }
    public List<ExpectedDivision> Divisions { get; } = [];
    public List<TextPlace> Places { get; } = [];
    public List<ExpectedFolio> Folios { get; } = [];
    public List<Apart> Notes { get; } = [];
    public List<Apart> Captions { get; } = [];

    /// <summary>Tables, which may stand on pages of their own while the text flows on; and paragraphs and heads.</summary>
    public List<TextRange> Tables { get; } = [];

    public List<TextRange> Paragraphs { get; } = [];
    public List<(IndexEntry Entry, int At, Apart? In)> Entries { get; } = [];

    /// <summary>The generated lists in order: what a contents list must say; an index is judged apart.</summary>
    public IReadOnlyList<ExpectedList> Lists { get; }

    /// <summary>What must be said in words: figures and equations.</summary>
    public List<string> Alternatives { get; } = [];
    public string Flow { get; }

    public ExpectedText(SelectedText text, HouseRules rules)
    {
        _text = text;
        _rules = rules;
        Numbers = new ExpectedNumbers(text, rules);
        foreach (var (division, number) in Numbers.Divisions)
        {
            var expected = new ExpectedDivision(division, number, _flow.Length);
            Divisions.Add(expected);
            Places.Add(new TextPlace(division.Id, _flow.Length));
            if (rules.Opens(division.Kind))
            {
                var name = rules.KindName(division);
                if (name.Length > 0 || (rules.NumberInSide && number.Length > 0))
                    Add(LanguageWords.Numbered(name, number));
                Add(division.Title);
            }
            Head? runIn = null;
            foreach (var block in division.Blocks)
            {
                if (block is Head { Printed: true } head && head.Level == rules.RunIn)
                {
                    if (runIn is not null)
                        Block(runIn, expected);
                    runIn = head;
                    continue;
                }
                if (runIn is not null)
                    Block(runIn, expected);
                runIn = null;
                Block(block, expected);
            }
            if (runIn is not null)
                Block(runIn, expected);
        }
        Flow = _flow.ToString();
        Lists =
        [
            .. Divisions.SelectMany(
                d => d.Division.Blocks.Where(b => b is ContentsList or IndexList),
                (d, block) =>
                    block is ContentsList contents
                        ? ContentsLines.Named(text.Manual, rules, contents.List) is { } list
                            ? new ExpectedList(false, [.. ContentsLines.Of(this, rules, d, list)], list.Sorted)
                            : new ExpectedList(false, [])
                        : new ExpectedList(true, [])
            ),
        ];
    }

    /// <summary>The identity that now stands for this one.</summary>
    public Id Resolve(Id id)
    {
        for (var i = 0; i < 32 && !Numbers.Targets.ContainsKey(id) && _text.Manual.Aliases.TryGetValue(id, out var other); i++)
            id = other;
        return id;
    }

    private void Add(string words) => _flow.Append(FinishedFile.Normal(words));

    private static bool IsLabelled(Block block) => block is Figure f && (f.Caption.Count > 0 || f.Plays is not null);

    private string Label(Id id) => Numbers.Labels.GetValueOrDefault(id, "");

    private void Block(Block block, ExpectedDivision division)
    {
        // A figure stands where its caption or its key does; one of no words where the text is.
        if (!IsLabelled(block))
            Places.Add(new TextPlace(block.Id, _flow.Length));
        var from = _flow.Length;
        switch (block)
        {
            case Paragraph p:
                Add(Label(p.Id));
                Spans(p.Content);
                Paragraphs.Add(new TextRange(p, from, _flow.Length));
                break;
            case Head h:
                division.Heads.Add(
                    new ExpectedHead(
                        h.Id,
                        h.Level,
                        Numbers.Targets[h.Id].Number,
                        h.Content.PlainText(),
                        h.ShortTitle,
                        h.Listed,
                        _flow.Length
                    )
                );
                if (!h.Printed)
                    break;
                Add(Numbers.Targets[h.Id].Number);
                Spans(h.Content);
                if (h.Level != _rules.RunIn)
                    Paragraphs.Add(new TextRange(h, from, _flow.Length));
                break;
            case Steps s:
                Items(s.Items, division);
                break;
            case ItemList l:
                Items(l.Items, division);
                break;
            case DefinitionList list:
                foreach (var definition in ExpectedNumbers.Sorted(list))
                {
                    Places.Add(new TextPlace(definition.Id, _flow.Length));
                    Add(Label(definition.Id));
                    Spans(definition.Term);
                    foreach (var inner in definition.Blocks)
                        Block(inner, division);
                }
                break;
            case ReferenceList list:
                foreach (var document in ExpectedNumbers.Sorted(list))
                {
                    Places.Add(new TextPlace(document.Id, _flow.Length));
                    Add(document.Designation + ",");
                    Spans(document.Title);
                }
                break;
            case Admonition a:
                Add(Label(a.Id) is { Length: > 0 } label ? label : LanguageWords.Of(division.Division.Language).Signal(a.Kind));
                foreach (var inner in a.Blocks)
                    Block(inner, division);
                break;
            case Aside a:
                Spans(a.Title);
                foreach (var inner in a.Blocks)
                    Block(inner, division);
                break;
            case Example e:
                Add(Numbered(Numbers.Targets[e.Id]));
                Spans(e.Title);
                foreach (var inner in e.Blocks)
                    Block(inner, division);
                break;
            case Equation e:
                Alternatives.Add(e.Alternative);
                if (e.Numbered)
                    Add($"({Numbers.Targets[e.Id].Number})");
                break;
            case Table t:
                if (!_rules.TableCaptionBelow)
                    Caption(t.Id, t.Caption, noteBelow: true);
                foreach (var cell in t.Rows.SelectMany(r => r.Cells))
                {
                    Places.Add(new TextPlace(cell.Id, _flow.Length));
                    Spans(cell.Content, noteBelow: true);
                }
                if (_rules.TableCaptionBelow)
                    Caption(t.Id, t.Caption, noteBelow: true);
                foreach (var note in t.Rows.SelectMany(r => r.Cells).SelectMany(c => c.Content).Concat(t.Caption).OfType<Footnote>())
                {
                    Add(Label(note.Id));
                    Spans(note.Content);
                }
                Tables.Add(new TextRange(t, from, _flow.Length));
                break;
            case Listing l:
                if (!_rules.ListingCaptionBelow)
                    Caption(l.Id, l.Caption);
                Add(l.Text);
                if (_rules.ListingCaptionBelow)
                    Caption(l.Id, l.Caption);
                break;
            case Figure f:
            {
                Alternatives.Add(f.Alternative);
                if (!IsLabelled(f))
                    break;
                var caption = Separate(sink =>
                {
                    if (f.IsCaptioned)
                        sink.Append(FinishedFile.Normal(Numbered(Numbers.Targets[f.Id])));
                    IReadOnlyList<Inline> played = f.Plays is { } address ? [new TextRun(" " + address)] : [];
                    return [.. f.Caption.Where(i => i is not FigureArea), .. f.Areas(), .. played];
                });
                caption.Places.Add(new TextPlace(f.Id, 0));
                Captions.Add(caption);
                break;
            }
            case ContentsList or IndexList:
                _flow.Append(GeneratedList);
                break;
        }
    }

    private void Items(IReadOnlyList<Item> items, ExpectedDivision division)
    {
        foreach (var item in items)
        {
            Places.Add(new TextPlace(item.Id, _flow.Length));
            Add(Label(item.Id));
            foreach (var inner in item.Blocks)
                Block(inner, division);
        }
    }

    private void Caption(Id id, IReadOnlyList<Inline> caption, bool noteBelow = false)
    {
        if (caption.Count == 0)
            return;
        Add(Numbered(Numbers.Targets[id]));
        Spans(caption, noteBelow);
    }

    private void Spans(IReadOnlyList<Inline> spans, bool noteBelow = false)
    {
        var (from, first) = (_flow.Length, Places.Count);
        Spans(spans, _flow, Places, Folios, null, noteBelow);
        // What is marked behind the last word stands on the page of that word.
        for (var p = first; p < Places.Count && _flow.Length > from; p++)
            if (Places[p].At == _flow.Length)
                Places[p] = Places[p] with { At = _flow.Length - 1 };
    }

    private Apart Separate(Func<StringBuilder, IReadOnlyList<Inline>> make)
    {
        var sink = new StringBuilder();
        var places = new List<TextPlace>();
        var folios = new List<ExpectedFolio>();
        var entries = new List<(IndexEntry, int)>();
        var content = make(sink);
        Spans(content, sink, places, folios, entries, false);
        var apart = new Apart(sink.ToString(), _flow.Length);
        apart.Places.AddRange(places);
        apart.Folios.AddRange(folios);
        foreach (var (entry, at) in entries)
            Entries.Add((entry, at, apart));
        return apart;
    }

    /// <param name="noteBelow">notes stand under the table that calls them, in the flow</param>
    private void Spans(
        IReadOnlyList<Inline> spans,
        StringBuilder sink,
        List<TextPlace> places,
        List<ExpectedFolio> folios,
        List<(IndexEntry, int)>? apart,
        bool noteBelow
    )
    {
        foreach (var inline in spans)
            switch (inline)
            {
                case TextRun run:
                    sink.Append(FinishedFile.Normal(run.Text));
                    break;
                case VariableUse v:
                    sink.Append(FinishedFile.Normal(_text.Variable(v.Name) ?? $"[no variable {v.Name}]"));
                    break;
                case Anchor a:
                    places.Add(new TextPlace(a.Id, sink.Length));
                    break;
                case InlineEquation e:
                    Alternatives.Add(e.Alternative);
                    break;
                case InlinePicture p:
                    Alternatives.Add(p.Alternative);
                    break;
                case IndexEntry e:
                    if (apart is not null)
                        apart.Add((e, sink.Length));
                    else
                        Entries.Add((e, sink.Length, null));
                    break;
                case FigureArea area:
                    // The key under the caption: its number, then its words.
                    sink.Append(Label(area.Id));
                    Spans(area.Content, sink, places, folios, apart, noteBelow);
                    break;
                case Footnote note:
                    sink.Append(Label(note.Id));
                    places.Add(new TextPlace(note.Id, sink.Length - 1));
                    if (noteBelow)
                        break;
                    Notes.Add(
                        Separate(to =>
                        {
                            to.Append(Label(note.Id));
                            return note.Content;
                        })
                    );
                    break;
                case CrossReference x:
                    Reference(x, sink, places, folios);
                    break;
            }
    }

    private void Reference(CrossReference x, StringBuilder sink, List<TextPlace> places, List<ExpectedFolio> folios)
    {
        places.Add(new TextPlace(x.Id, sink.Length));
        if (x.Instead is { } instead)
        {
            sink.Append(FinishedFile.Normal(instead));
            return;
        }
        if (x.Other is { } other)
        {
            sink.Append(FinishedFile.Normal(InOther(_rules.Form(x.Form), other)));
            return;
        }
        if (!Numbers.Targets.TryGetValue(Resolve(x.Target), out var target))
        {
            sink.Append(FinishedFile.Normal("[reference to nothing]"));
            return;
        }
        var numbered = target.Number.Length > 0 ? Numbered(target) : Quoted(target.Title);
        var words = _rules.Form(x.Form) switch
        {
            "number" => target.Number.Length > 0 ? target.Number : numbered,
            "title" => Quoted(target.Title),
            "name-number" => numbered,
            "number-title" => target.Number.Length > 0 ? $"{target.Number}, {Quoted(target.Title)}" : numbered,
            "caption" => target.Number.Length > 0 ? $"{numbered}, {target.Title}" : numbered,
            "title-page" => $"{Quoted(target.Title)} {LanguageWords.Numbered(_rules.Words["onPage"], $"{Folio}")}",
            "phrase" => numbered + Phrase,
            "title-phrase" => Quoted(target.Title) + Phrase,
            "direction" => numbered + _rules.Words[IsAbove(x) ? "above" : "below"],
            _ => LanguageWords.Numbered(_rules.Words["page"], $"{Folio}"),
        };
        if (_rules.PageAfterReferences && !words.Contains(Folio) && !words.Contains(Phrase))
            words += $"({LanguageWords.Numbered(_rules.Words["page"], $"{Folio}")})";
        foreach (var c in FinishedFile.Normal(words))
        {
            if (c is Folio or Phrase)
                folios.Add(new ExpectedFolio(sink.Length, Resolve(x.Target), target.Title));
            sink.Append(c);
        }
    }

    /// <summary>A reference into another manual prints what was taken from there, and that manual's title.</summary>
    private string InOther(string form, OtherPlace place)
    {
        var counted = place.Number.Length > 0;
        var named = counted ? LanguageWords.Numbered(place.Name, place.Number) : Quoted(place.Title);
        var said = form switch
        {
            "number" when counted => place.Number,
            "title" => Quoted(place.Title),
            "number-title" when counted => $"{place.Number}, {Quoted(place.Title)}",
            "caption" when counted => $"{named}, {place.Title}",
            "title-page" or "title-phrase" => $"{Quoted(place.Title)} {LanguageWords.Numbered(_rules.Words["onPage"], place.Folio)}",
            "phrase" => $"{named} {LanguageWords.Numbered(_rules.Words["onPage"], place.Folio)}",
            "number" or "name-number" or "number-title" or "caption" or "direction" => named,
            _ => LanguageWords.Numbered(_rules.Words["page"], place.Folio),
        };
        return $"{said}, {Quoted(place.ManualTitle)}";
    }

    private static string Numbered(ExpectedTarget target) => LanguageWords.Numbered(target.Name, target.Number);

    private string Quoted(string title) => _rules.Words["openQuote"] + title + _rules.Words["closeQuote"];

    /// <summary>Whether the target has been met when this reference is read.</summary>
    private bool IsAbove(CrossReference x)
    {
        var target = Resolve(x.Target);
        return Places.Any(p => p.Id == target)
            || Captions.Any(c => c.Places.Any(p => p.Id == target))
            || Notes.Any(n => n.Places.Any(p => p.Id == target));
    }
}
