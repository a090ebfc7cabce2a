using System.Globalization;
using Kivren.Core.Content;
using Kivren.Core.Selection;

namespace Kivren.Audit;

/// <summary>What a reference can name: its name, number and title.</summary>
public sealed record ExpectedTarget(string Name, string Number, string Title);

/// <summary>Every number of the text, counted here and not by the engine.</summary>
public sealed class ExpectedNumbers
{
    private readonly HouseRules _rules;
    private readonly Dictionary<string, int> _counts = new(StringComparer.Ordinal);
    private Division _division = null!;
    private string _part = "",
        _number = "",
        _headNumber = "";
    private int _steps,
        _clauses;
    private readonly int[] _heads = new int[4];
    private readonly Dictionary<ListKind, int> _lists = [];

    public List<(Division Division, string Number)> Divisions { get; } = [];
    public Dictionary<Id, ExpectedTarget> Targets { get; } = [];
    public Dictionary<Id, string> Labels { get; } = [];

    public ExpectedNumbers(SelectedText text, HouseRules rules)
    {
        _rules = rules;
        int parts = 0,
            chapters = 0,
            appendices = 0;
        foreach (var division in text.Divisions)
        {
            _division = division;
            string In(DivisionKind kind, int n) =>
                rules.CountedIn[kind] switch
                {
                    "romanCapitals" => FinishedFile.Roman(n).ToUpperInvariant(),
                    "letters" => Letters(n),
                    "none" => "",
                    _ => Digits(n),
                };
            if (division.Kind == DivisionKind.Part && rules.ChaptersByPart)
                chapters = 0;
            _number =
                division.Kind == DivisionKind.Part ? In(DivisionKind.Part, ++parts)
                : division.Kind == DivisionKind.Chapter || (rules.Clauses && division.Kind == DivisionKind.Glossary)
                    ? In(DivisionKind.Chapter, ++chapters)
                : division.Kind == DivisionKind.Appendix ? In(DivisionKind.Appendix, ++appendices)
                : "";
            if (division.Kind == DivisionKind.Part)
                _part = _number;
            Divisions.Add((division, _number));
            Targets[division.Id] = new ExpectedTarget(_number.Length > 0 ? rules.KindName(division) : "", _number, division.Title);
            if (rules.CaptionsBy == "division" || (rules.CaptionsBy == "part" && division.Kind == DivisionKind.Part))
                _counts.Clear();
            (_steps, _clauses, _headNumber) = (0, 0, "");
            Array.Clear(_heads);
            _lists.Clear();
            for (var b = 0; b < division.Blocks.Count; b++)
                Count(division.Blocks[b], 0, division.Blocks, b, top: true);
        }
    }

    /// <summary>The definitions of a glossary list in the order of the alphabet, accents and case passed over.</summary>
    public static IEnumerable<Definition> Sorted(DefinitionList list) =>
        list.Glossary
            ? list.Definitions.OrderBy(
                d => d.Term.PlainText(),
                StringComparer.Create(CultureInfo.InvariantCulture, CompareOptions.IgnoreCase | CompareOptions.IgnoreNonSpace)
            )
            : list.Definitions;

    public static IEnumerable<ReferredDocument> Sorted(ReferenceList list) =>
        list.Documents.OrderBy(d => d.Designation, StringComparer.Create(CultureInfo.InvariantCulture, CompareOptions.IgnoreCase));

    internal static string Digits(int n) => n.ToString(CultureInfo.InvariantCulture);

    internal static string Letters(int n)
    {
        var text = "";
        for (; n > 0; n = (n - 1) / 26)
            text = (char)('A' + (n - 1) % 26) + text;
        return text;
    }

    private int Next(string what) => _counts[what] = _counts.GetValueOrDefault(what) + 1;

    private string Word(string name) => LanguageWords.Of(_division.Language)[name];

    private void Captioned(Id id, string name, IReadOnlyList<Inline> caption)
    {
        var own = Digits(Next(name));
        var within = _rules.CaptionsBy switch
        {
            "manual" => "",
            "part" => _part,
            _ => _number,
        };
        Targets[id] = new ExpectedTarget(Word(name), within.Length == 0 ? own : within + _rules.CaptionSign + own, caption.PlainText());
    }

    private void Count(Block block, int depth, IReadOnlyList<Block> among, int at, bool top)
    {
        void Inside(IReadOnlyList<Block> blocks, int d)
        {
            for (var b = 0; b < blocks.Count; b++)
                Count(blocks[b], d, blocks, b, top: false);
        }
        switch (block)
        {
            case Head h:
                var level = (int)h.Level - 1;
                if (h.Numbered)
                    _heads[level]++;
                for (var below = level + 1; below < 4; below++)
                    _heads[below] = 0;
                _headNumber =
                    h.Numbered && h.Level <= _rules.NumberedTo && _number.Length > 0 && _division.Kind != DivisionKind.Part
                        ? _number + _rules.HeadSign + string.Join(_rules.HeadSign, _heads.Take(level + 1).Select(Digits))
                        : "";
                _clauses = 0;
                Targets[h.Id] = new ExpectedTarget(
                    LanguageWords.Of(_division.Language).Said(_rules.Section),
                    _headNumber,
                    h.Content.PlainText()
                );
                break;
            case Paragraph { Role: "body", IsMarksAlone: false } p when top && _rules.Clauses && _headNumber.Length > 0:
                Labels[p.Id] = _headNumber + _rules.HeadSign + Digits(++_clauses);
                Targets[p.Id] = new ExpectedTarget("", Labels[p.Id], p.Content.PlainText());
                break;
            case Figure { IsCaptioned: true } f:
                Captioned(f.Id, "figure", f.Caption);
                break;
            case Table { Caption.Count: > 0 } t:
                Captioned(t.Id, "table", t.Caption);
                break;
            case Listing { Caption.Count: > 0 } l:
                Captioned(l.Id, "listing", l.Caption);
                break;
            case Equation { Numbered: true } e:
                Captioned(e.Id, "equation", [new TextRun(e.Alternative)]);
                break;
            case Example e:
                Captioned(e.Id, "example", e.Title);
                Inside(e.Blocks, depth);
                break;
            case Steps s:
                var n = s.Continues && depth == 0 ? _steps : 0;
                foreach (var item in s.Items)
                {
                    n++;
                    Labels[item.Id] = depth % 2 == 0 ? Digits(n) : Letters(n).ToLowerInvariant();
                    Targets[item.Id] = new ExpectedTarget("step", Labels[item.Id], "");
                    Inside(item.Blocks, depth + 1);
                }
                if (depth == 0)
                    _steps = n;
                break;
            case ItemList list:
                var i = list.Continues ? _lists.GetValueOrDefault(list.Kind) : list.Start - 1;
                foreach (var item in list.Items)
                {
                    i++;
                    Labels[item.Id] = list.Kind switch
                    {
                        ListKind.Decimal => Digits(i),
                        ListKind.Alpha => Letters(i).ToLowerInvariant() + ")",
                        ListKind.Roman => FinishedFile.Roman(i),
                        _ => depth == 0 ? "–" : "·",
                    };
                    Targets[item.Id] = new ExpectedTarget("", list.Kind == ListKind.Unordered ? "" : Labels[item.Id], "");
                    Inside(item.Blocks, depth + 1);
                }
                if (depth == 0)
                    _lists[list.Kind] = i;
                break;
            case DefinitionList definitions:
                var d = 0;
                foreach (var definition in Sorted(definitions))
                {
                    d++;
                    Labels[definition.Id] =
                        definitions.Glossary && _rules.TermsNumbered && _number.Length > 0
                            ? (_headNumber.Length > 0 ? _headNumber : _number) + _rules.HeadSign + Digits(d)
                            : "";
                    Targets[definition.Id] = new ExpectedTarget("", Labels[definition.Id], definition.Term.PlainText());
                    Inside(definition.Blocks, depth);
                }
                break;
            case ReferenceList references:
                foreach (var document in references.Documents)
                    Targets[document.Id] = new ExpectedTarget("", document.Designation, document.Title.PlainText());
                break;
            case Admonition a:
                if (_rules.NotesInSeries && a.Kind == AdmonitionKind.Note)
                {
                    int first = at,
                        last = at;
                    while (first > 0 && among[first - 1] is Admonition { Kind: AdmonitionKind.Note })
                        first--;
                    while (last + 1 < among.Count && among[last + 1] is Admonition { Kind: AdmonitionKind.Note })
                        last++;
                    Labels[a.Id] = first == last ? Word("note") : Word("note") + " " + Digits(at - first + 1);
                }
                Inside(a.Blocks, depth);
                break;
            case Aside a:
                Inside(a.Blocks, depth);
                break;
        }
        Targets.TryAdd(block.Id, new ExpectedTarget("", "", block.OwnSpans().FirstOrDefault()?.PlainText() ?? ""));
        var areas = 0;
        var lettered = 0;
        foreach (var inline in block.OwnSpans().SelectMany(Walk.Flat))
            if (inline is Footnote note)
            {
                // Notes in a table are lettered by themselves and stand under it.
                Labels[note.Id] = block is Table ? Letters(++lettered).ToLowerInvariant() : Digits(Next("note"));
                Targets[note.Id] = new ExpectedTarget("note", Labels[note.Id], note.Content.PlainText());
            }
            else if (inline is FigureArea area)
                Labels[area.Id] = Digits(++areas);
            else if (inline is Anchor anchor)
                Targets[anchor.Id] = new ExpectedTarget("", "", anchor.Name);
    }
}
