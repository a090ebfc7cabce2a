using System.Globalization;
using System.Text.RegularExpressions;
using Kivren.Core.Content;
using Kivren.Core.Looks;
using Kivren.Core.LooseEnds;
using Kivren.Core.Numbering;
using Kivren.Core.Selection;

namespace Kivren.Core.Composition;

/// <summary>Running heads and feet (composition.md 5): each field's pattern with the words that its sources have on the
/// page; too long, the short title, then cut at a word with an ellipsis and a loose end. One for each stretch, asked page
/// by page: no head is in force when it begins.</summary>
internal sealed partial class RunningMatter
{
    /// <summary>A field may take so much of the measure, in hundredths.</summary>
    private const int Share = 75;

    private readonly Look _look;
    private readonly SelectedText _text;
    private readonly IReadOnlyList<DivisionPages> _divisions;
    private readonly int _first,
        _total;
    private readonly List<LooseEnd> _loose;
    private readonly HashSet<Id> _saidNoHead = [];

    /// <summary>Heads in force by level, and the division in force, carried from page to page of a stretch.</summary>
    private readonly GalleyHead?[] _inForce = new GalleyHead?[5];
    private int _division;

    /// <param name="first">index of the stretch's first division</param>
    /// <param name="total">pages of the whole</param>
    public RunningMatter(
        Look look,
        SelectedText text,
        IReadOnlyList<DivisionPages> divisions,
        int first,
        int total,
        List<LooseEnd> loose
    ) => (_look, _text, _divisions, _first, _division, _total, _loose) = (look, text, divisions, first, first, total, loose);

    /// <summary>Patterns cut into their words and sources, once for all pages.</summary>
    private static readonly System.Collections.Concurrent.ConcurrentDictionary<
        string,
        (string Words, string Source, string Argument, bool First)[]
    > Patterns = new(StringComparer.Ordinal);

    private static (string Words, string Source, string Argument, bool First)[] Parts(string pattern) =>
        Patterns.GetOrAdd(pattern, static p =>
        {
            var parts = new List<(string, string, string, bool)>();
            var at = 0;
            foreach (Match match in Source().Matches(p))
            {
                parts.Add(
                    (
                        p[at..match.Index],
                        match.Groups["source"].Value,
                        match.Groups["argument"].Value,
                        match.Groups["which"].Value == "first"
                    )
                );
                at = match.Index + match.Length;
            }
            parts.Add((p[at..], "", "", false));
            return [.. parts];
        });

    [GeneratedRegex(@"\{(?<source>[a-z-]+)(?::(?<argument>(?!first\}|last\})[^}:]+))?(?::(?<which>first|last))?\}")]
    private static partial Regex Source();

    /// <param name="page">index of the page in its cut</param>
    public Furniture? Of(CutPage body, Cut cut, int page, int division, PageMaster master, bool recto, string folio)
    {
        var heads = body.HeadCount == 0 ? [] : cut.Galley.Heads.AsSpan(body.FirstHead, body.HeadCount).ToArray();
        int firstDivision = -1,
            lastDivision = -1;
        for (var d = division; d < _divisions.Count && ReferenceEquals(_divisions[d].Cut, cut); d++)
            if (_divisions[d].First == page)
            {
                if (firstDivision < 0)
                    firstDivision = d;
                lastDivision = d;
            }
        // A division that begins ends the sections of the one before it.
        if (lastDivision >= 0 && lastDivision != _division)
        {
            var opening = cut.Galley.Openings[lastDivision - _first];
            for (var level = 1; level <= 4; level++)
                if (_inForce[level] is { } old && old.Piece < opening)
                    _inForce[level] = null;
        }
        var before = (GalleyHead?[])_inForce.Clone();
        var was = _division;
        foreach (var head in heads)
        {
            _inForce[(int)head.Level] = head;
            for (var below = (int)head.Level + 1; below <= 4; below++)
                _inForce[below] = null;
        }
        if (lastDivision >= 0)
            _division = lastDivision;
        if (lastDivision >= 0 && heads.Length > 0 && _inForce[1] is { } a && a.Piece < cut.Galley.Openings[lastDivision - _first])
            _inForce[1] = null;
        if (master.Fields.Count == 0)
            return null;
        var fields = new List<FurnitureField>();
        foreach (var field in master.Fields)
        {
            if (field.Picture is { } picture)
            {
                if (_text.Manual.Assets.FirstOrDefault(a => a.Name == picture) is { } asset)
                    fields.Add(new FurnitureField(field, "") { Picture = asset });
                continue;
            }
            var (words, block, key) = Text(field.Pattern, folio, heads, before, firstDivision < 0 ? was : firstDivision, cut, page);
            fields.Add(new FurnitureField(field, Fitted(words, field, master, folio, block, key)));
        }
        fields.RemoveAll(f => f.Text.Length == 0 && f.Picture is null);
        Meet(fields, master, recto, folio);
        return new Furniture(fields, fields.Exists(f => f.Edge == PageEdge.Head), fields.Exists(f => f.Edge == PageEdge.Foot));
    }

    private readonly HashSet<string> _saidMeet = new(StringComparer.Ordinal);

    /// <summary>Tells, once for each layout, where pieces at one edge stand over one another, or over the text.</summary>
    private void Meet(List<FurnitureField> fields, PageMaster master, bool recto, string folio)
    {
        if (_saidMeet.Contains(master.Name))
            return;
        string? how = null;
        foreach (var edge in new[] { PageEdge.Head, PageEdge.Foot })
        {
            // Closer than an em they are read as one.
            var placed = fields
                .Where(f => f.Edge == edge)
                .Select(f => (Said: f.Picture?.Name ?? f.Text, f.Dress.Size, At: Display.DisplayList.Placed(f, master, recto)))
                .OrderBy(f => f.At.X)
                .ToList();
            for (var i = 1; i < placed.Count; i++)
                if (placed[i].At.X < placed[i - 1].At.X + placed[i - 1].At.Width + placed[i].Size.Millipoints)
                    how ??= $"“{placed[i - 1].Said}” and “{placed[i].Said}” meet";
        }
        if (fields.Exists(f => f.Edge == PageEdge.Head && master.HeadTop + f.Dress.Leading > master.Top + f.Dress.Leading.Scale(1, 4)))
            how ??= "the running head stands in the text";
        if (fields.Exists(f => f.Edge == PageEdge.Foot && master.FootBaseline + f.Dress.Size.Scale(7, 10) > master.Foot))
            how ??= "the running foot stands in the text";
        if (how is null || !_saidMeet.Add(master.Name))
            return;
        var id = _divisions[_division].Numbers.Division.Id;
        _loose.Add(
            new LooseEnd(
                LooseEndKind.RunningHeadsMeet,
                id,
                id,
                master.Name,
                $"On page {folio} {how}. Move one of them in the page layout “{master.Name}”, or give it less to say."
            )
        );
    }

    private (string Words, Id Block, string Key) Text(
        string pattern,
        string folio,
        GalleyHead[] heads,
        GalleyHead?[] before,
        int firstDivision,
        Cut cut,
        int page
    )
    {
        var block = Id.None;
        var key = "";
        var printed = new System.Text.StringBuilder();
        foreach (var (literal, source, argument, which) in Parts(pattern))
            printed.Append(literal).Append(Value(source, argument, which));
        return (printed.ToString().Trim('\u2002', ' '), block, key);

        string Value(string source, string argument, bool earliest)
        {
            switch (source)
            {
                case "":
                    return "";
                case "folio":
                    return folio;
                case "total":
                    return _total.ToString(CultureInfo.InvariantCulture);
                case "manual":
                    return _text.Manual.Title;
                case "designation":
                    return _text.Variable("designation") ?? "";
                case "date":
                    return _text.Variable("date") ?? "";
                case "variable":
                    return _text.Variable(argument) ?? "";
                case "edition":
                    return _text.Edition.Name;
                case "number":
                    return _divisions[_division].Numbers.Number;
                case "title":
                    (block, key) = (Id.None, "title");
                    return Name(_division);
                case "division":
                    (block, key) = (Id.None, "title");
                    return Title(earliest ? firstDivision : _division);
                case "section" when argument.Length == 0 && _inForce[1] is null:
                    (block, key) = (Id.None, "title");
                    NoHead(folio);
                    return Title(_division);
                case "section" or "head":
                {
                    var level = argument.Length == 1 && Enum.TryParse<HeadLevel>(argument, out var named) ? named : HeadLevel.A;
                    // The first (last) of its level that begins on this page, else the latest before it.
                    GalleyHead? head = earliest
                        ? heads.Where(h => h.Level == level).Select(h => (GalleyHead?)h).FirstOrDefault() ?? before[(int)level]
                        : _inForce[(int)level];
                    if (head is not { } found)
                        return "";
                    (block, key) = (found.Id, "head");
                    var title = found.ShortTitle is { Length: > 0 } shortTitle ? shortTitle : found.Title;
                    return found.Number.Length > 0 ? found.Number + "\u2002" + title : title;
                }
                case "term":
                    return Term(cut, page, earliest);
                default:
                    return $"{{{source}}}";
            }
        }
    }

    private string Title(int d) =>
        d < 0 ? ""
        : _divisions[d].Numbers.Number is { Length: > 0 } number ? number + "\u2002" + Name(d)
        : Name(d);

    private string Name(int d) =>
        _divisions[d].Numbers.Division is { ShortTitle: { Length: > 0 } shortTitle } ? shortTitle : _divisions[d].Numbers.Division.Title;

    private void NoHead(string folio)
    {
        var numbers = _divisions[_division].Numbers;
        var id = numbers.Division.Id;
        if (
            numbers.Division.Kind is not (DivisionKind.Chapter or DivisionKind.Appendix)
            || !numbers.Targets.Any(t => t.Level == HeadLevel.B)
            || !_saidNoHead.Add(id)
        )
            return;
        _loose.Add(
            new LooseEnd(
                LooseEndKind.NoHeadInForce,
                id,
                id,
                folio,
                $"Page {folio} has no A head to show in its running head; it shows the division's title. Give the division an A "
                    + $"head before its B heads."
            )
        );
    }

    /// <summary>The first or last term that stands on the page, else the latest before it.</summary>
    private string Term(Cut cut, int page, bool earliest)
    {
        string? found = null,
            latest = null;
        foreach (var division in _divisions.Where(d => ReferenceEquals(d.Cut, cut)))
        foreach (var target in division.Numbers.Targets)
            if (target.Kind == TargetKind.Definition && cut.Places.TryGetValue(target.Id, out var place))
            {
                if (place.Page < page)
                    latest = target.Title;
                if (place.Page == page && (found is null || !earliest))
                    found = target.Title;
            }
        return found ?? latest ?? "";
    }

    /// <summary>More letters than a running head ever has room for: what a title has beyond them is not measured.</summary>
    private const int MostLetters = 400;

    private string Fitted(string words, RunningField field, PageMaster master, string folio, Id block, string key)
    {
        var room = master.Measure.Millipoints * Share / 100;
        var style = field.Dress.Plain;
        if (key.Length == 0 || (words.Length <= MostLetters && style.WidthOf(words) <= room))
            return words;
        var whole = words;
        if (words.Length > MostLetters)
            words = words[..MostLetters];
        while (words.Length > 1 && style.WidthOf(words + "…") > room)
        {
            var space = words.LastIndexOf(' ');
            words = space > 0 ? words[..space] : words[..^1];
        }
        // Half of a letter's pair prints nothing.
        if (char.IsHighSurrogate(words[^1]))
            words = words[..^1];
        var id = _divisions[_division].Numbers.Division.Id;
        _loose.Add(
            new LooseEnd(
                LooseEndKind.RunningHeadTooLong,
                id,
                block.IsNone ? id : block,
                whole,
                $"The running head on page {folio} is too long and was cut. Give the {key} a short title."
            )
        );
        return words + "…";
    }
}
