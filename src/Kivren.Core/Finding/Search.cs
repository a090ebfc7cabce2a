using System.Text;
using System.Text.RegularExpressions;
using Kivren.Core.Content;

namespace Kivren.Core.Finding;

public enum FoundIn
{
    Text,
    Note,
    IndexEntry,
    Listing,
    Title,
    Variable,
}

/// <summary>One place where the words stand.</summary>
/// <param name="Inner">the innermost block, item, row or cell with them</param>
/// <param name="Ordinal">which of the places in its block of the division it is, from 0</param>
/// <param name="Before">words before it in the same line of thought, some thirty letters; <paramref name="After"/> as many behind</param>
public sealed record FoundPlace(Id Inner, int Ordinal, FoundIn In, string Before, string Match, string After);

/// <summary>More would be put in than a manual can hold.</summary>
public sealed class ReplacesTooMuchException() : Exception("This would put in more words than a manual can hold. Replace less at a time.");

/// <summary>Finds words in blocks, across roles and marks, and puts others in their place.</summary>
public sealed class Search
{
    /// <summary>Stands for what prints but is not typed here: a reference, a variable, a picture. Nothing found reaches over it.</summary>
    private const char Atom = '\uFFFC';
    private const int Around = 34;

    /// <summary>Letters that one search may put in: groups named over and over in many places would fill any memory.</summary>
    public const long MostPutIn = 8_000_000;
    private long _putIn;

    private readonly Regex _expression;
    private readonly bool _pattern;
    private readonly SoughtPlace _where;

    private Search(Regex expression, Sought sought) =>
        (_expression, _pattern, _where) = (expression, sought.Pattern, sought.Where ?? SoughtPlace.Anywhere);

    /// <param name="why">why it cannot be looked for</param>
    public static Search? For(Sought sought, out string why) =>
        sought.Expression(out why) is { } expression ? new Search(expression, sought) : null;

    /// <summary>Any of several phrases, as whole words, whatever their capitals and the spaces between their words.</summary>
    public static Search ForPhrases(IReadOnlyList<string> phrases)
    {
        static string Edge(char letter) => char.IsLetterOrDigit(letter) ? @"\b" : "";
        var said = phrases
            .OrderByDescending(p => p.Length)
            .Select(p => Edge(p[0]) + Regex.Escape(p).Replace(@"\ ", @"[ \u00A0\n]+", StringComparison.Ordinal) + Edge(p[^1]));
        var options = RegexOptions.CultureInvariant | RegexOptions.NonBacktracking | RegexOptions.IgnoreCase;
        return new Search(new Regex(string.Join('|', said), options), new Sought(phrases[0]));
    }

    public IReadOnlyList<FoundPlace> In(Block block)
    {
        var walk = new Pass(this, null, _ => false);
        walk.Block(block);
        return walk.Found;
    }

    /// <summary>Places in the text of a variable, which stands in no block.</summary>
    public IReadOnlyList<FoundPlace> InVariable(string text)
    {
        var walk = new Pass(this, null, _ => false);
        walk.String(text, FoundIn.Variable);
        return walk.Found;
    }

    public IReadOnlyList<FoundPlace> InTitle(Id division, string title)
    {
        var walk = new Pass(this, null, _ => false) { Inner = division };
        walk.String(title, FoundIn.Title);
        return walk.Found;
    }

    /// <summary>The block with other words in the chosen places; where they stand in several roles they take the first one's.</summary>
    /// <param name="with">may name groups ($1) when a pattern is sought</param>
    /// <param name="chosen">by ordinal</param>
    /// <returns>the very block when nothing was put in</returns>
    /// <exception cref="ReplacesTooMuchException">with what was put in before, it is more than <see cref="MostPutIn"/></exception>
    public Block Replaced(Block block, string with, Func<int, bool> chosen, out int count)
    {
        var walk = new Pass(this, with, chosen);
        var replaced = walk.Block(block);
        count = walk.Replaced;
        return count == 0 ? block : replaced;
    }

    /// <summary>The block with atoms put before and behind places in its text; words stay as they are.</summary>
    /// <param name="atoms">of a place, by its ordinal</param>
    public Block Marked(Block block, Func<int, (IReadOnlyList<Inline> Before, IReadOnlyList<Inline> Behind)> atoms) =>
        new Pass(this, null, _ => false) { Atoms = atoms }.Block(block);

    public string ReplacedTitle(string title, string with, Func<int, bool> chosen, out int count) =>
        ReplacedIn(title, FoundIn.Title, with, chosen, out count);

    public string ReplacedVariable(string text, string with, Func<int, bool> chosen, out int count) =>
        ReplacedIn(text, FoundIn.Variable, with, chosen, out count);

    private string ReplacedIn(string text, FoundIn where, string with, Func<int, bool> chosen, out int count)
    {
        var walk = new Pass(this, with, chosen);
        var replaced = walk.String(text, where);
        count = walk.Replaced;
        return replaced;
    }

    /// <summary>One way through a block, in an order that finding and replacing share: so an ordinal means the same to both.</summary>
    private sealed class Pass(Search search, string? with, Func<int, bool> chosen)
    {
        public List<FoundPlace> Found { get; } = [];
        public int Replaced { get; private set; }
        public Id Inner { get; init; }

        /// <summary>What is put beside a place; null to put in nothing.</summary>
        public Func<int, (IReadOnlyList<Inline> Before, IReadOnlyList<Inline> Behind)>? Atoms { get; init; }
        private Id _inner;

        /// <summary>Where each place found begins in its spans, in letters.</summary>
        private readonly List<int> _at = [];

        /// <summary>The block that is walked is a head, or of the role that is sought.</summary>
        private bool _isHead,
            _hasRole;

        public Block Block(Block block)
        {
            _isHead = block is Head;
            var own = search._where.OwnRole is { } role
                ? block.WithInner().Where(b => b.OwnRole == role).Select(b => b.Id).ToHashSet()
                : [];
            return block.Rebuilt(
                id =>
                {
                    _inner = id;
                    _hasRole = own.Contains(block.Id) || own.Contains(id);
                    return id;
                },
                spans => Spans(spans, FoundIn.Text),
                program: text => String(text, FoundIn.Listing)
            );
        }

        public string String(string text, FoundIn where)
        {
            var hits = Hits(text, where);
            if (hits.Count == 0)
                return text;
            var made = new StringBuilder();
            var at = 0;
            foreach (var (match, words) in hits)
            {
                made.Append(text, at, match.Index - at).Append(words);
                at = match.Index + match.Length;
            }
            return made.Append(text, at, text.Length - at).ToString();
        }

        /// <summary>What is found in a text; of it, what is to be replaced and by what.</summary>
        /// <param name="isMeant">whether letters from an index on, so many, are where words are looked for</param>
        private List<(Match Match, string With)> Hits(string text, FoundIn where, Func<int, int, bool>? isMeant = null)
        {
            var hits = new List<(Match, string)>();
            if (!search._where.Takes(where) || (search._where.Heads && !_isHead && where != FoundIn.Title))
                return hits;
            foreach (Match match in search._expression.Matches(text))
            {
                if (match.Length == 0 || match.ValueSpan.Contains(Atom) || isMeant?.Invoke(match.Index, match.Length) == false)
                    continue;
                var ordinal = Found.Count;
                _at.Add(match.Index);
                var behind = match.Index + match.Length;
                var (from, end) = WordsAround.Of(text, match.Index, behind, Around);
                Found.Add(
                    new FoundPlace(
                        Inner.IsNone ? _inner : Inner,
                        ordinal,
                        where,
                        Shown(text[from..match.Index]),
                        match.Value,
                        Shown(text[behind..end])
                    )
                );
                if (with is null || !chosen(ordinal))
                    continue;
                var words = search._pattern ? match.Result(with) : with;
                if ((search._putIn += words.Length) > MostPutIn)
                    throw new ReplacesTooMuchException();
                hits.Add((match, words));
                Replaced++;
            }
            return hits;
        }

        private static string Shown(string text) => text.Replace(Atom, '…');

        private IReadOnlyList<Inline> Spans(IReadOnlyList<Inline> spans, FoundIn where)
        {
            var text = new StringBuilder();
            foreach (var span in spans)
                text.Append(Typed(span));
            var before = Found.Count;
            var hits = Hits(
                text.ToString(),
                where,
                search._where.AsksForRuns && !_hasRole ? (from, count) => AreMeant(spans, from, count) : null
            );
            if (Atoms is not null)
                return WithAtoms(spans, before);
            var made = new List<Inline>(spans.Count);
            int at = 0,
                next = 0;
            foreach (var span in spans)
            {
                if (span is TextRun run)
                {
                    var rest = new StringBuilder();
                    var end = at + run.Text.Length;
                    // A hit may begin in this run, or reach into it from one before, where its words stand already.
                    for (var letter = at; letter < end; )
                    {
                        while (next < hits.Count && hits[next].Match.Index + hits[next].Match.Length <= letter)
                            next++;
                        var hit = next < hits.Count ? hits[next].Match : null;
                        if (hit is null || hit.Index > letter)
                        {
                            var until = hit is null ? end : Math.Min(end, hit.Index);
                            rest.Append(run.Text, letter - at, until - letter);
                            letter = until;
                            continue;
                        }
                        if (hit.Index == letter)
                            rest.Append(hits[next].With);
                        letter = Math.Min(end, hit.Index + hit.Length);
                    }
                    if (rest.Length > 0)
                        made.Add(hits.Count == 0 ? run : run with { Text = rest.ToString() });
                }
                else
                    made.Add(Inside(span));
                at += Typed(span).Length;
            }
            return made;
        }

        /// <param name="first">the ordinal of the first place found in these spans</param>
        private IReadOnlyList<Inline> WithAtoms(IReadOnlyList<Inline> spans, int first)
        {
            // What is put in, by the letter it stands before.
            var put = new List<(int At, IReadOnlyList<Inline> Atoms)>();
            for (var ordinal = first; ordinal < Found.Count; ordinal++)
            {
                var (before, behind) = Atoms!(ordinal);
                put.Add((_at[ordinal], before));
                put.Add((_at[ordinal] + Found[ordinal].Match.Length, behind));
            }
            put.RemoveAll(p => p.Atoms.Count == 0);
            var made = new List<Inline>(spans.Count + put.Count);
            int at = 0,
                next = 0;
            foreach (var span in spans)
            {
                var length = Typed(span).Length;
                // What stands behind words stands close by them, before other atoms there.
                for (; next < put.Count && put[next].At <= at; next++)
                    made.AddRange(put[next].Atoms);
                if (span is TextRun run)
                {
                    var letter = 0;
                    for (; next < put.Count && put[next].At < at + length; next++)
                    {
                        made.Add(run with { Text = run.Text[letter..(put[next].At - at)] });
                        made.AddRange(put[next].Atoms);
                        letter = put[next].At - at;
                    }
                    made.Add(letter == 0 ? run : run with { Text = run.Text[letter..] });
                }
                else
                    made.Add(Inside(span));
                at += length;
            }
            for (; next < put.Count; next++)
                made.AddRange(put[next].Atoms);
            return made;
        }

        /// <summary>Whether all letters of a place stand in runs that are looked at.</summary>
        private bool AreMeant(IReadOnlyList<Inline> spans, int from, int count)
        {
            var at = 0;
            foreach (var span in spans)
            {
                var end = at + Typed(span).Length;
                if (end > from && at < from + count && !(span is TextRun run && search._where.Takes(run)))
                    return false;
                at = end;
            }
            return true;
        }

        private static string Typed(Inline span) =>
            span switch
            {
                TextRun run => run.Text,
                LineBreak => "\n",
                CrossReference or VariableUse or InlineEquation or InlinePicture => Atom.ToString(),
                _ => "",
            };

        private Inline Inside(Inline span) =>
            span switch
            {
                Footnote note => note with { Content = Spans(note.Content, FoundIn.Note) },
                FigureArea area => area with { Content = Spans(area.Content, FoundIn.Text) },
                IndexEntry entry => entry with
                {
                    Headings = [.. entry.Headings.Select(h => String(h, FoundIn.IndexEntry))],
                    See = entry.See is null ? null : String(entry.See, FoundIn.IndexEntry),
                    SeeAlso = entry.SeeAlso is null ? null : String(entry.SeeAlso, FoundIn.IndexEntry),
                },
                _ => span,
            };
    }
}
