using System.Text.RegularExpressions;
using Kivren.Core.Content;

namespace Kivren.Formats.Import;

/// <summary>Gives every paragraph its line of the mapping and its role, before anything is shaped: what a paragraph
/// becomes depends on its style, on what it looks like, and on the levels of all heads together.</summary>
internal sealed partial class RolePlan
{
    public sealed record Planned(string Key, string Role, LookAlike? Looks);

    /// <summary>Where a division at this level would be shorter than some pages, its head stays a head.</summary>
    private const int DivisionWords = 1200;

    /// <summary>A text of some ten pages and more is a book of such chapters, however short they are.</summary>
    private const int BookWords = 4000,
        FewestChapters = 4;
    private static readonly StyleFacts NoFacts = new();

    private sealed class Line
    {
        public required string Key,
            Label;
        public int Count;
        public string Sample = "";
        public required Proposals.Proposal Proposal;
        public string Role = "";
    }

    private readonly Dictionary<SourceBlock, Planned> _planned = new(ReferenceEqualityComparer.Instance);
    private readonly Dictionary<string, Line> _lines = new(StringComparer.Ordinal);
    private readonly Dictionary<(string, int), Proposals.Proposal> _styles = [];
    private readonly IReadOnlyList<SourceDocument> _documents;
    private readonly ImportMapping _mapping;
    private readonly bool _isBook;

    /// <param name="exceptions">roles of single paragraphs, by file number and place</param>
    /// <param name="isBook">the files have their places in one book: their divisions are known</param>
    public RolePlan(
        IReadOnlyList<SourceDocument> documents,
        ImportMapping mapping,
        IReadOnlyDictionary<(int File, int Place), string> exceptions,
        bool isBook
    )
    {
        _documents = documents;
        _isBook = isBook;
        _mapping = mapping;
        for (var d = 0; d < documents.Count; d++)
            Walk(documents[d].Blocks, d, top: true);
        Propose();
        foreach (var (block, planned) in _planned.ToArray())
            _planned[block] = planned with { Role = _lines[planned.Key].Role };
        if (exceptions.Count > 0)
            for (var d = 0; d < documents.Count; d++)
                foreach (var block in All(documents[d].Blocks))
                    if (exceptions.TryGetValue((d, block.Place), out var role) && _planned.TryGetValue(block, out var planned))
                        _planned[block] = planned with { Role = role };
    }

    public Planned Of(SourceBlock block) =>
        _planned.TryGetValue(block, out var planned) ? planned : new Planned("p:", ImportRole.Body, null);

    /// <summary>The span role of a character style.</summary>
    public SpanRoles Span(string? style) =>
        style is not null && _lines.TryGetValue("c:" + style, out var line) ? ImportRole.SpanOf(line.Role) : SpanRoles.None;

    /// <summary>All lines, most frequent first.</summary>
    public IReadOnlyList<MappingLine> Lines =>
        _lines
            .Values.OrderByDescending(l => l.Count)
            .ThenBy(l => l.Key, StringComparer.Ordinal)
            .Select(l => new MappingLine(
                l.Key,
                l.Label,
                l.Count,
                l.Sample,
                l.Role,
                _mapping.Roles.ContainsKey(l.Key) ? "from the mapping" : l.Proposal.Why,
                l.Proposal.Certain || _mapping.Roles.ContainsKey(l.Key)
            ))
            .ToArray();

    private static IEnumerable<SourceBlock> All(IEnumerable<SourceBlock> blocks)
    {
        foreach (var block in blocks)
        {
            yield return block;
            foreach (var inner in All(Inner(block)))
                yield return inner;
        }
    }

    private static IEnumerable<SourceBlock> Inner(SourceBlock block) =>
        block switch
        {
            SourceList l => l.Items.SelectMany(i => i.Blocks),
            SourceDefinitions d => d.Definitions.SelectMany(x => x.Blocks),
            SourceGroup g => g.Blocks,
            _ => [],
        };

    private Proposals.Proposal Style(string style, int document)
    {
        if (_styles.TryGetValue((style, document), out var known))
            return known;
        return _styles[(style, document)] = Proposals.ForStyle(style, _documents[document].Styles.GetValueOrDefault(style));
    }

    private void Walk(IReadOnlyList<SourceBlock> blocks, int document, bool top)
    {
        foreach (var block in blocks)
        {
            switch (block)
            {
                case SourceParagraph p:
                    Paragraph(p, document, top);
                    break;
                case SourceGroup g:
                    Count(
                        g,
                        "g:" + g.Style,
                        g.Style,
                        Proposals.ForGroup(g.Style, _documents[document].Styles.GetValueOrDefault(g.Style)),
                        () => g.Blocks.Words()
                    );
                    Spans(g.Title, document);
                    break;
                case SourceList l:
                    var facts = _documents[document].Styles.GetValueOrDefault(l.Style) ?? NoFacts;
                    Count(
                        l,
                        "g:" + l.Style,
                        l.Style,
                        new Proposals.Proposal(
                            facts.Role
                                ?? (
                                    l.Kind switch
                                    {
                                        ListKind.Unordered => ImportRole.Bullets,
                                        ListKind.Alpha => ImportRole.Letters,
                                        _ => ImportRole.Numbers,
                                    }
                                ),
                            "by its kind"
                        ),
                        () => l.Items.SelectMany(i => i.Blocks).Words()
                    );
                    break;
                case SourceDefinitions d:
                    foreach (var definition in d.Definitions)
                        Spans(definition.Term, document);
                    break;
                case SourceTable t:
                    Spans(t.Caption, document);
                    foreach (var cell in t.Rows.SelectMany(r => r.Cells))
                        Cells(cell.Blocks, document);
                    break;
                case SourcePicture f:
                    Spans(f.Caption, document);
                    break;
            }
            Walk(Inner(block).ToArray(), document, top: false);
        }
    }

    /// <summary>A cell holds spans alone: its paragraphs have no roles, its characters have.</summary>
    private void Cells(IReadOnlyList<SourceBlock> blocks, int document)
    {
        foreach (var block in All(blocks))
            if (block is SourceParagraph p)
                Spans(p.Spans, document);
            else if (block is SourceTable t)
                foreach (var cell in t.Rows.SelectMany(r => r.Cells))
                    Cells(cell.Blocks, document);
    }

    private void Paragraph(SourceParagraph p, int document, bool top)
    {
        Spans(p.Spans, document);
        var words = p.Spans.Words();
        if (
            string.IsNullOrWhiteSpace(words) && !p.Spans.Any(s => s is SourceAtom { Inline: InlineEquation or InlinePicture } or SourceNote)
        )
            return;
        var style = Style(p.Style, document);
        // A list that the source numbers says by itself what its paragraphs are, unless their style is that of heads.
        if (p.List is { } list && style.IsPlain && style.Level is null)
        {
            var role = list.Kind switch
            {
                ListKind.Unordered => ImportRole.Bullets,
                ListKind.Alpha when list.Level == 0 => ImportRole.Letters,
                _ => ImportRole.Numbers,
            };
            Count(
                p,
                $"p:{p.Style} ({role})",
                $"{(p.Style.Length > 0 ? p.Style : "Plain")}, {(list.Kind == ListKind.Unordered ? "with bullets" : "numbered")}",
                new Proposals.Proposal(role, "by its list"),
                () => words
            );
            return;
        }
        if (style.IsPlain && LookAlike.Of(p) is { } looks)
        {
            // A line like a head before all other words is what the file is called.
            if (looks.Key is "look:bold" or "look:capitals" && ReferenceEquals(FirstWords(_documents[document].Blocks), p))
                looks = new LookAlike("look:opening", "a line like a head, first of all", ImportRole.Title, "stands first");
            Count(p, looks.Key, looks.Label, new Proposals.Proposal(looks.Proposed, looks.Why), () => words, looks);
            return;
        }
        Count(p, "p:" + p.Style, p.Style.Length > 0 ? p.Style : "Plain", style, () => words);
        if (style.Level is not null)
            _heads.Add((p, document, style.Level.Value, top));
    }

    private readonly List<(SourceParagraph Paragraph, int Document, int Level, bool Top)> _heads = [];

    private void Count(
        SourceBlock block,
        string key,
        string label,
        Proposals.Proposal proposal,
        Func<string> words,
        LookAlike? looks = null
    )
    {
        if (!_lines.TryGetValue(key, out var line))
            _lines[key] = line = new Line
            {
                Key = key,
                Label = label,
                Proposal = proposal,
            };
        line.Count++;
        if (line.Sample.Length == 0)
            line.Sample = Shortened(words());
        _planned[block] = new Planned(key, "", looks);
    }

    private void Spans(IReadOnlyList<SourceSpan> spans, int document)
    {
        foreach (var span in spans)
            if (span is SourceRun { Style: { } style } run && run.Text.Length > 0)
            {
                var key = "c:" + style;
                if (!_lines.TryGetValue(key, out var line))
                    _lines[key] = line = new Line
                    {
                        Key = key,
                        Label = style,
                        Proposal = Proposals.ForSpan(style, _documents[document].Styles.GetValueOrDefault(style)),
                    };
                line.Count++;
                if (line.Sample.Length == 0)
                    line.Sample = Shortened(run.Text);
            }
            else if (span is SourceNote note)
                Cells(note.Blocks, document);
    }

    private static string Shortened(string words)
    {
        var one = string.Join(' ', words.Split((char[]?)null, StringSplitOptions.RemoveEmptyEntries));
        return one.Length <= 60 ? one : one[..57].TrimEnd() + " …";
    }

    // ---- proposing ----

    private void Propose()
    {
        // A format that names its divisions (Role) leaves the outline levels below them to be A, B, C, D.
        var named = _isBook || _lines.Values.Any(l => ImportRole.DivisionOf(l.Proposal.Role) is not null);
        var levels = _heads.Where(h => h.Top).Select(h => h.Level).Distinct().Order().ToList();
        if (levels.Count == 0)
            levels = _heads.Select(h => h.Level).Distinct().Order().ToList();
        var (title, division) = named || levels.Count == 0 ? (false, false) : TopLevel(levels);
        // title: the highest level is the title of the whole and the next one begins the chapters.
        var first = (
            title ? 2
            : division ? 1
            : 0
        );
        string OfLevel(int level)
        {
            var rank = levels.Count(l => l < level);
            return title && rank == 0 ? ImportRole.Title
                : rank < first ? "chapter"
                : ImportRole.Head(rank - first + 1);
        }
        var deepest = 0;
        foreach (var line in _lines.Values.Where(l => l.Proposal.Level is not null))
        {
            line.Role = line.Proposal.Role.Length > 0 ? line.Proposal.Role : OfLevel(line.Proposal.Level!.Value);
            deepest = Math.Max(deepest, ImportRole.HeadOf(line.Role) ?? 0);
        }
        var numbered = _lines
            .Values.Where(l => l.Key.StartsWith("look:number", StringComparison.Ordinal))
            .Select(l => ImportRole.HeadOf(l.Proposal.Role) ?? 1)
            .DefaultIfEmpty(0)
            .Max();
        var below = Math.Max(deepest, numbered);
        foreach (var line in _lines.Values.Where(l => l.Proposal.Level is null))
            line.Role = line.Key switch
            {
                "look:capitals" => ImportRole.Head(below + 1),
                "look:bold" => ImportRole.Head(below + (below == 0 && _lines.ContainsKey("look:capitals") ? 2 : 1)),
                _ => line.Proposal.Role,
            };
        foreach (var line in _lines.Values)
            if (_mapping.Roles.TryGetValue(line.Key, out var role))
                line.Role = role;
    }

    /// <summary>Whether the highest outline level is the title of the whole, or begins divisions, or is an A head.</summary>
    private (bool Title, bool Division) TopLevel(List<int> levels)
    {
        var tops = _heads.Where(h => h.Level == levels[0]).ToList();
        var perFile = tops.GroupBy(t => t.Document).ToDictionary(g => g.Key, g => g.ToList());
        var leads = perFile.All(f => f.Value.Count == 1 && ReferenceEquals(FirstWords(_documents[f.Key].Blocks), f.Value[0].Paragraph));
        var words = _documents.Sum(d => SourceText.CountOfWords(d.Blocks.Words()));
        var second = levels.Count > 1 ? _heads.Count(h => h.Level == levels[1]) : 0;
        // One file that is a whole book: its title, or two of them, and below them what its markup or its numbers call chapters.
        var early = _documents.Count == 1 && tops.Count <= 2 && second >= 3 && _heads.FindIndex(h => h.Level == levels[1]) >= tops.Count;
        if (early && ((leads && words / second >= DivisionWords) || AreChapters(levels)))
            return (true, false);
        if (leads)
            return (false, true);
        return (
            false,
            words / Math.Max(1, tops.Count) >= DivisionWords
                || (tops.Count >= FewestChapters && words >= BookWords)
                || (tops.Count > 1 && tops.All(t => _documents[t.Document].PlaceWord == "line"))
        );
    }

    /// <summary>Whether the heads of the second level are called chapters, or are numbered as such: 1, 2, 3 or A, B, above 1.1,
    /// 1.2.</summary>
    private bool AreChapters(List<int> levels)
    {
        var second = _heads.Where(h => h.Level == levels[1]).ToList();
        if (second.Count(h => CalledChapter().IsMatch(h.Paragraph.Style)) * 2 > second.Count)
            return true;
        bool Most(int level, Regex number) =>
            _heads.Where(h => h.Level == level).ToList() is { Count: > 1 } heads
            && heads.Count(h => number.IsMatch(h.Paragraph.Spans.Words())) * 3 > heads.Count * 2;
        return levels.Count > 2 && Most(levels[1], ChapterNumber()) && Most(levels[2], SectionNumber());
    }

    [GeneratedRegex(@"\b(chapter|appendix|kapitel|anhang|chapitre|annexe)\b", RegexOptions.IgnoreCase | RegexOptions.CultureInvariant)]
    private static partial Regex CalledChapter();

    [GeneratedRegex(@"^\W*(\p{L}{4,10}\s+)?(\d{1,3}|[A-Z])[.:]?\s+\p{L}", RegexOptions.CultureInvariant)]
    private static partial Regex ChapterNumber();

    [GeneratedRegex(@"^\W*(\d{1,3}|[A-Z])\.\d{1,3}\.?\s+\S", RegexOptions.CultureInvariant)]
    private static partial Regex SectionNumber();

    private static SourceBlock? FirstWords(IReadOnlyList<SourceBlock> blocks) =>
        blocks.FirstOrDefault(b =>
            b is not (SourceBreak or SourceGenerated) && !(b is SourceParagraph p && string.IsNullOrWhiteSpace(p.Spans.Words()))
        );
}
