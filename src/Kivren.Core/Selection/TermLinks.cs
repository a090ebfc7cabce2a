using System.Runtime.CompilerServices;
using System.Text.RegularExpressions;
using Kivren.Core.Content;
using Kivren.Core.Indexing;

namespace Kivren.Core.Selection;

/// <summary>In each division the first use of a term leads to what the glossary says of it (<see cref="Manual.TermsLead"/>). Words
/// print as ever; only where they lead is new.</summary>
internal sealed class TermLinks
{
    /// <summary>Letters that a term of a glossary has at least and at most to be looked for.</summary>
    private const int Shortest = 3,
        Longest = 60;

    private readonly string _key;
    private readonly Regex? _expression;
    private readonly Dictionary<string, Id> _terms = new(StringComparer.Ordinal);
    private readonly ConditionalWeakTable<Division, Division> _led = [];
    private readonly ConditionalWeakTable<Block, Id[]> _found = [];
    private readonly ConditionalWeakTable<Block, Tuple<string, Block>> _linked = [];

    private TermLinks(List<(string Term, Id Id)> terms, string key, string language)
    {
        _key = key;
        var forms = new HashSet<string>(StringComparer.OrdinalIgnoreCase);
        foreach (var (term, id) in terms)
        foreach (var form in new[] { term, HeadingWords.Plural(term, language) })
            if (form is not null && _terms.TryAdd(form.ToLowerInvariant(), id))
                forms.Add(form);
        if (forms.Count > 0)
            _expression = new Regex(
                @"\b(?:" + string.Join('|', forms.OrderByDescending(f => f.Length).Select(Regex.Escape)) + @")\b",
                RegexOptions.CultureInvariant | RegexOptions.NonBacktracking | RegexOptions.IgnoreCase
            );
    }

    /// <summary>The divisions with their terms leading; a division whose terms lead as before stays the same object.</summary>
    /// <param name="last">what led before; it goes on while the glossary says the same</param>
    public static List<Division> Lead(IReadOnlyList<Division> divisions, string language, ref TermLinks? last)
    {
        var terms = divisions
            .SelectMany(d => d.Blocks)
            .OfType<DefinitionList>()
            .Where(l => l.Glossary)
            .SelectMany(l => l.Definitions)
            .Select(d => (Term: d.Term.PlainText().Trim(), d.Id))
            .Where(t => t.Term.Length is >= Shortest and <= Longest && char.IsLetterOrDigit(t.Term[0]) && char.IsLetterOrDigit(t.Term[^1]))
            .ToList();
        var key = language + '\n' + string.Join('\n', terms.Select(t => t.Term + '\t' + t.Id.Value));
        if (last?._key != key)
            last = new TermLinks(terms, key, language);
        var links = last;
        return [.. divisions.Select(d => links._led.GetValue(d, links.Led))];
    }

    private Division Led(Division division)
    {
        if (_expression is null || division.Kind is not (DivisionKind.Chapter or DivisionKind.Appendix or DivisionKind.Preface))
            return division;
        var seen = new HashSet<Id>();
        Block[]? blocks = null;
        for (var b = 0; b < division.Blocks.Count; b++)
        {
            var block = division.Blocks[b];
            Id[] first = [.. _found.GetValue(block, Found).Where(seen.Add)];
            if (first.Length == 0)
                continue;
            var asked = string.Join('\n', first.Select(i => i.Value));
            if (!_linked.TryGetValue(block, out var kept) || kept.Item1 != asked)
                _linked.AddOrUpdate(block, kept = Tuple.Create(asked, Linked(block, [.. first])));
            (blocks ??= [.. division.Blocks])[b] = kept.Item2;
        }
        return blocks is null ? division : division with { Blocks = blocks };
    }

    private static bool MayLead(TextRun run) =>
        run is { Web: null, AppliesTo.IsAlways: true } && (run.Roles & (SpanRoles.Code | SpanRoles.Control | SpanRoles.Key)) == 0;

    /// <summary>The terms that a block's paragraphs have, each once, in their order.</summary>
    private Id[] Found(Block block) =>
        [
            .. Paragraphs(block)
                .SelectMany(p => p.Content.OfType<TextRun>())
                .Where(MayLead)
                .SelectMany(r => _expression!.Matches(r.Text))
                .Select(m => _terms[m.Value.ToLowerInvariant()])
                .Distinct(),
        ];

    /// <summary>In the order of the text; what a glossary says of a term leads nowhere.</summary>
    private static IEnumerable<Paragraph> Paragraphs(Block block) =>
        block switch
        {
            Paragraph p => [p],
            DefinitionList { Glossary: true } => [],
            _ => block.InnerBlocks().SelectMany(Paragraphs),
        };

    private Block Linked(Block block, HashSet<Id> terms) =>
        block switch
        {
            Paragraph p => p with { Content = [.. p.Content.SelectMany(i => i is TextRun run && MayLead(run) ? Parted(run, terms) : [i])] },
            DefinitionList { Glossary: true } => block,
            _ => block.WithInnerBlocks(blocks => [.. blocks.Select(b => Linked(b, terms))]),
        };

    /// <summary>The run in parts, so that the first use of each of the terms is one that leads.</summary>
    private IEnumerable<Inline> Parted(TextRun run, HashSet<Id> terms)
    {
        var at = 0;
        foreach (var match in _expression!.Matches(run.Text).Cast<Match>())
        {
            var term = _terms[match.Value.ToLowerInvariant()];
            if (!terms.Remove(term))
                continue;
            if (match.Index > at)
                yield return run with
                {
                    Text = run.Text[at..match.Index],
                };
            yield return run with
            {
                Text = match.Value,
                LeadsTo = term,
            };
            at = match.Index + match.Length;
        }
        if (at == 0)
            yield return run;
        else if (at < run.Text.Length)
            yield return run with
            {
                Text = run.Text[at..],
            };
    }
}
