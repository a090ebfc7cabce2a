using System.Runtime.CompilerServices;
using System.Text.RegularExpressions;
using Kivren.Core.Content;
using Kivren.Core.Indexing;

namespace Kivren.Core.LooseEnds;

/// <summary>One term, one form: what the text spells in two ways, and what it spells otherwise than the glossary.</summary>
internal static partial class TermLooseEnds
{
    [GeneratedRegex(@"(?<![\p{L}\p{N}-])\p{L}{2,}(?:-\p{L}{2,})+(?![\p{L}\p{N}-])", RegexOptions.CultureInvariant)]
    private static partial Regex WithHyphen();

    [GeneratedRegex(@"(?<![\p{L}\p{N}-])\p{L}{5,}(?![\p{L}\p{N}-])", RegexOptions.CultureInvariant)]
    private static partial Regex Unbroken();

    /// <summary>A word with a hyphen, where it stands.</summary>
    private readonly record struct Standing(Id Block, string Word);

    /// <summary>What of a block or a division matters here, found once for each.</summary>
    /// <param name="Named">words in the role of a term, outside glossaries</param>
    private sealed record Words(
        Standing[] Hyphenated,
        Dictionary<string, int> Plain,
        string[] Terms,
        (Id Block, string Text)[] Texts,
        Standing[] Named
    )
    {
        private static readonly ConditionalWeakTable<Division, Words> Known = [];

        /// <summary>An edit makes one block anew: the words of all others are known.</summary>
        private static readonly ConditionalWeakTable<Block, Words> KnownBlocks = [];

        public static Words Of(Division division) => Known.GetValue(division, Together);

        private static Words Together(Division division)
        {
            var blocks = division.Blocks.Select(b => KnownBlocks.GetValue(b, Found)).ToList();
            var plain = new Dictionary<string, int>(StringComparer.Ordinal);
            foreach (var (word, count) in blocks.SelectMany(b => b.Plain))
                plain[word] = plain.GetValueOrDefault(word) + count;
            return new Words(
                [.. blocks.SelectMany(b => b.Hyphenated)],
                plain,
                [.. blocks.SelectMany(b => b.Terms)],
                [.. blocks.SelectMany(b => b.Texts)],
                [.. blocks.SelectMany(b => b.Named)]
            );
        }

        private static Words Found(Block top)
        {
            var hyphenated = new List<Standing>();
            var plain = new Dictionary<string, int>(StringComparer.Ordinal);
            var terms = new List<string>();
            var texts = new List<(Id, string)>();
            var named = new List<Standing>();
            foreach (var block in top.WithInner())
            {
                var isGlossary = block is DefinitionList { Glossary: true };
                if (block is DefinitionList { Glossary: true } glossary)
                    terms.AddRange(glossary.Definitions.Select(d => d.Term.PlainText().Trim()).Where(t => t.Length is > 3 and < 60));
                foreach (var spans in block.OwnSpans())
                {
                    var text = ProseText.Of(spans);
                    foreach (var match in Unbroken().EnumerateMatches(text))
                    {
                        var word = Folded(text.Substring(match.Index, match.Length));
                        plain[word] = plain.GetValueOrDefault(word) + 1;
                    }
                    if (isGlossary)
                        continue;
                    texts.Add((block.Id, text));
                    foreach (var run in spans.OfType<TextRun>().Where(r => r.Roles.HasFlag(SpanRoles.Term)))
                        if (run.Text.Trim() is { Length: > 1 } word)
                            named.Add(new Standing(block.Id, word));
                    foreach (var match in WithHyphen().EnumerateMatches(text))
                        hyphenated.Add(new Standing(block.Id, text.Substring(match.Index, match.Length)));
                }
            }
            return new Words([.. hyphenated], plain, [.. terms], [.. texts], [.. named]);
        }
    }

    private static readonly ConditionalWeakTable<Division, Tuple<string, LooseEnd[]>> AgainstGlossary = [];

    private static string Folded(string word) => word.ToLowerInvariant();

    private static string Closed(string word) =>
        Folded(word.Replace("-", "", StringComparison.Ordinal).Replace(" ", "", StringComparison.Ordinal));

    public static IEnumerable<LooseEnd> Find(IReadOnlyList<Division> divisions)
    {
        var read = new Words[divisions.Count];
        Parallel.For(0, read.Length, d => read[d] = Words.Of(divisions[d]));
        List<(Division Division, Words Words)> all = [.. divisions.Zip(read)];
        var terms = all.SelectMany(d => d.Words.Terms).Distinct(StringComparer.OrdinalIgnoreCase).ToList();
        var otherForms = OtherForms(terms);
        var settled = terms.Select(Closed).ToHashSet(StringComparer.Ordinal);
        var key = string.Join('\n', otherForms.Select(f => f.Other + '=' + f.Term));
        foreach (var (division, words) in all)
        {
            if (!AgainstGlossary.TryGetValue(division, out var known) || known.Item1 != key)
                AgainstGlossary.AddOrUpdate(division, known = Tuple.Create(key, Otherwise(division, words, otherForms).ToArray()));
            foreach (var end in known.Item2)
                yield return end;
        }
        if (terms.Count > 0)
            foreach (var end in Defined(all, terms))
                yield return end;
        // Two spellings where no glossary says which: the rarer one is told.
        var twoSpellings = all.SelectMany(d => d.Words.Hyphenated.Select(h => (d.Division, Standing: h)))
            .GroupBy(h => Closed(h.Standing.Word), StringComparer.Ordinal)
            .Where(g => !settled.Contains(g.Key));
        foreach (var group in twoSpellings)
        {
            var closed = all.Sum(d => d.Words.Plain.GetValueOrDefault(group.Key));
            if (closed == 0)
                continue;
            var places = closed == 1 ? "another place" : $"{closed} other places";
            foreach (var (division, standing) in group)
                yield return new LooseEnd(
                    LooseEndKind.TwoSpellings,
                    division.Id,
                    standing.Block,
                    standing.Word,
                    $"“{standing.Word}” here, and “{group.Key}” in {places}. Choose one."
                );
        }
    }

    private static readonly ConditionalWeakTable<Words, Tuple<string, HashSet<string>>> UsedTerms = [];

    /// <summary>Words that are marked as terms and that no glossary has; terms of a glossary that the text never uses.</summary>
    private static IEnumerable<LooseEnd> Defined(List<(Division Division, Words Words)> all, List<string> terms)
    {
        var known = terms.Select(HeadingWords.Bare).ToHashSet(StringComparer.Ordinal);
        var told = new HashSet<string>(StringComparer.Ordinal);
        foreach (var (division, words) in all)
        foreach (var named in words.Named)
            if (HeadingWords.Bare(named.Word) is var bare && !known.Contains(bare) && told.Add(bare))
                yield return new LooseEnd(
                    LooseEndKind.TermUndefined,
                    division.Id,
                    named.Block,
                    named.Word,
                    $"“{named.Word}” is marked as a term, and the glossary does not say what it means. Define it, or take the role away."
                );
        var key = string.Join('\n', terms);
        var used = new HashSet<string>(StringComparer.Ordinal);
        foreach (var (_, words) in all)
        {
            if (!UsedTerms.TryGetValue(words, out var own) || own.Item1 != key)
                UsedTerms.AddOrUpdate(words, own = Tuple.Create(key, Used(words, terms)));
            used.UnionWith(own.Item2);
        }
        foreach (var (division, _) in all)
        foreach (var glossary in division.Blocks.OfType<DefinitionList>().Where(l => l.Glossary))
        foreach (var definition in glossary.Definitions)
            if (definition.Term.PlainText().Trim() is { Length: > 3 and < 60 } term && !used.Contains(term))
                yield return new LooseEnd(
                    LooseEndKind.TermUnused,
                    division.Id,
                    glossary.Id,
                    term,
                    $"The glossary says what “{term}” means, and no text uses it. Use it, or take it out."
                )
                {
                    Subject = definition.Id,
                };
    }

    private static HashSet<string> Used(Words words, List<string> terms)
    {
        var used = new HashSet<string>(StringComparer.Ordinal);
        foreach (var term in terms)
        {
            var stem = HeadingWords.Singular(term, "en") ?? term;
            if (words.Texts.Any(t => t.Text.Contains(stem, StringComparison.OrdinalIgnoreCase)))
                used.Add(term);
        }
        return used;
    }

    /// <summary>Forms of glossary terms that are not the glossary's own.</summary>
    private static List<(string Other, string Term)> OtherForms(List<string> terms)
    {
        var own = terms.Select(Folded).ToHashSet(StringComparer.Ordinal);
        var forms = new List<(string, string)>();
        foreach (var term in terms.Order(StringComparer.Ordinal))
            if (term.AsSpan().IndexOfAny(' ', '-') > 0 && term.All(c => char.IsLetter(c) || c is ' ' or '-'))
                foreach (var other in (string[])[term.Replace('-', ' '), term.Replace(' ', '-'), Closed(term)])
                    if (!own.Contains(Folded(other)))
                        forms.Add((other, term));
        return forms;
    }

    private static IEnumerable<LooseEnd> Otherwise(Division division, Words words, List<(string Other, string Term)> forms)
    {
        foreach (var (other, term) in forms)
        foreach (var (block, text) in words.Texts)
            for (var at = 0; (at = text.IndexOf(other, at, StringComparison.OrdinalIgnoreCase)) >= 0; at += other.Length)
            {
                if (Goes(text, at - 1) || Goes(text, at + other.Length))
                    continue;
                var said = text.Substring(at, other.Length);
                yield return new LooseEnd(
                    LooseEndKind.TermOtherwise,
                    division.Id,
                    block,
                    said,
                    $"The glossary has “{term}”; this says “{said}”. Write it as the glossary does, or change it there."
                );
            }
    }

    private static bool Goes(string text, int at) => at >= 0 && at < text.Length && (char.IsLetterOrDigit(text[at]) || text[at] == '-');
}
