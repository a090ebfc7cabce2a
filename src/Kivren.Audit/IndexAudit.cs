using System.Text.RegularExpressions;
using Kivren.Core.Content;

namespace Kivren.Audit;

/// <summary>Judges the printed index against the entries of the text: each heading there, each locator true, none missing.</summary>
internal sealed partial class IndexAudit(
    ExpectedText expected,
    Matching matching,
    AuditReport report,
    string check,
    Func<int, string> label,
    IReadOnlySet<string> labels,
    HouseRules rules
)
{
    private sealed class Heading(string words, string text)
    {
        public string Words => words;
        public string Text => text;
        public List<Heading> Under { get; } = [];

        /// <summary>Places: the pages that may be named for each (words on either side of the atom), and where a range ends.</summary>
        public List<((int, int) From, (int, int)? To)> Places { get; } = [];
        public SortedSet<string> See { get; } = new(StringComparer.Ordinal);
        public SortedSet<string> SeeAlso { get; } = new(StringComparer.Ordinal);
        public bool Found { get; set; }

        /// <summary>Another heading reads the same when hyphens are passed over, as they are in a finished file: which is which cannot
        /// be told, and their places are not judged.</summary>
        public bool IsVague { get; set; }
    }

    /// <summary>Folios of headings of which nothing is left when hyphens are passed over: they stand behind the heading before.</summary>
    private readonly HashSet<string> _unheaded = new(StringComparer.Ordinal);

    private string Plain(int page) => FinishedFile.Normal(label(page));

    [GeneratedRegex(@"\G([A-Z]?\d+|[ivxlcdm]+)")]
    private static partial Regex FolioForm();

    /// <summary>A folio at this place: the longest that is a page of the file, for the next heading follows without a gap.
    /// The end of a range may have lost the digits it shares with its start.</summary>
    private string? Folio(string printed, int at, string? start = null)
    {
        var form = FolioForm().Match(printed, at);
        for (var length = form.Length; form.Success && length > 0; length--)
        {
            var folio = printed.Substring(at, length);
            if (
                labels.Contains(folio)
                || (start is not null && length < start.Length && labels.Contains(start[..(start.Length - length)] + folio))
            )
                return folio;
        }
        return null;
    }

    public void Judge(string printed)
    {
        var root = Tree();
        var at = 0;
        var path = new Stack<Heading>();
        path.Push(root);
        while (at < printed.Length)
        {
            var next = Next(printed, ref at, path);
            // Subheadings that run on stand after a colon and between semicolons; a heading may begin with either.
            if (next is null && printed[at] is ':' or ';' && path.Count > 1)
            {
                at++;
                next = Next(printed, ref at, path);
            }
            if (next is null)
            {
                report.Failed(
                    check,
                    $"The index says “{printed[at..Math.Min(printed.Length, at + 50)]}”, which no entry of the text asks for there."
                );
                return;
            }
            Locators(printed, ref at, next, string.Join(" › ", path.Reverse().Skip(1).Append(next).Select(h => h.Text)));
            next.Found = true;
            path.Push(next);
        }
        Missing(root, "");
    }

    private Heading Tree()
    {
        var root = new Heading("", "");
        var ends = expected
            .Entries.Where(e => e.Entry.Kind == EntryKind.RangeEnd)
            .GroupBy(e => e.Entry.Id)
            .ToDictionary(g => g.Key, g => g.First());
        var sees = new ExpectedSees(expected);
        foreach (var (entry, at, apart) in expected.Entries)
        {
            if (entry.Kind == EntryKind.RangeEnd)
                continue;
            var points = entry.See is { Length: > 0 } || entry.SeeAlso is { Length: > 0 };
            var (see, also) = (sees.Said(entry.See), sees.Said(entry.SeeAlso));
            if (points && see is null && also is null)
                continue;
            if (entry.Headings.Any(h => FinishedFile.Normal(h).Length == 0))
            {
                var (from, to) = matching.Around(apart, at);
                _unheaded.Add(Plain(from));
                _unheaded.Add(Plain(to));
                continue;
            }
            var heading = root;
            foreach (var text in entry.Headings)
            {
                var words = FinishedFile.Normal(text);
                var under = heading.Under.Find(h => h.Words == words);
                if (under is null)
                    heading.Under.Add(under = new Heading(words, text));
                under.IsVague |= under.Text != text;
                heading = under;
            }
            if (see is not null)
                heading.See.Add(see);
            if (also is not null)
                heading.SeeAlso.Add(also);
            if (!points)
                heading.Places.Add(
                    (
                        matching.Around(apart, at),
                        entry.Kind == EntryKind.RangeStart
                        && ends.TryGetValue(entry.Id, out var end)
                        && (end.In is not null || apart is not null || end.At >= at)
                            ? matching.Around(end.In, end.At)
                            : null
                    )
                );
        }
        return root;
    }

    /// <summary>The heading printed here: a subheading of the open one, or one beside it or beside what it stands under;
    /// of several that fit the longest.</summary>
    private static Heading? Next(string printed, ref int at, Stack<Heading> path)
    {
        for (var skip = 0; skip <= 7; skip++)
        {
            var from = at + skip;
            // A group head may stand before a heading of the first level: a letter, “0–9” or “Symbols”.
            if (
                skip > 0
                && !(
                    (skip == 1 && char.IsLetter(printed[at]))
                    || printed.AsSpan(at, Math.Min(skip, printed.Length - at)) is "0–9" or "Symbols"
                )
            )
                continue;
            Heading? best = null;
            var depth = 0;
            var level = 0;
            foreach (var open in path)
            {
                if (skip == 0 || open.Words.Length == 0)
                    foreach (var under in open.Under)
                        if (
                            (!under.Found || under.IsVague)
                            && from + under.Words.Length <= printed.Length
                            && string.CompareOrdinal(printed, from, under.Words, 0, under.Words.Length) == 0
                            && IsWhole(printed, from + under.Words.Length, under)
                            && (best is null || under.Words.Length > best.Words.Length)
                        )
                            (best, depth) = (under, level);
                level++;
            }
            if (best is null)
                continue;
            for (; depth > 0; depth--)
                path.Pop();
            at = from + best.Words.Length;
            return best;
        }
        return null;
    }

    /// <summary>A heading with places of its own is followed by them: of “0–9” the digit is none; one without by what stands under it:
    /// of “Phase I, Installing” the next I is none of the heading's.</summary>
    private static bool IsWhole(string printed, int end, Heading heading) =>
        heading.Places.Count > 0
            ? end < printed.Length && printed[end] == ','
            : heading.Under.Count == 0
                || heading.See.Count + heading.SeeAlso.Count > 0
                || heading.Under.Exists(u => StartsAt(printed, end < printed.Length && printed[end] == ':' ? end + 1 : end, u.Words));

    private void Locators(string printed, ref int at, Heading heading, string name)
    {
        var said = new List<(string From, string To)>();
        // A reference may begin like a folio: “voir” like v.
        bool Sends(int from) =>
            (heading.See.Count > 0 && StartsAt(printed, from, Word("see")))
            || (heading.SeeAlso.Count > 0 && StartsAt(printed, from, Word("seeAlso")));
        while (at < printed.Length && printed[at] == ',' && !Sends(at + 1) && Folio(printed, at + 1) is { } from)
        {
            at += 1 + from.Length;
            var to = from;
            if (at < printed.Length && printed[at] == '–' && Folio(printed, at + 1, from) is { } end)
            {
                at += 1 + end.Length;
                // An elided end takes its first digits from the start.
                to =
                    end.Length < from.Length && from.All(char.IsAsciiDigit) && end.All(char.IsAsciiDigit)
                        ? from[..(from.Length - end.Length)] + end
                        : end;
            }
            said.Add((from, to));
        }
        foreach (var (from, to) in heading.IsVague ? [] : heading.Places)
        {
            bool Names((int, int) pages, string folio) => Plain(pages.Item1) == folio || Plain(pages.Item2) == folio;
            bool Between((string From, string To) s, (int, int) pages) =>
                int.TryParse(s.From, out var a)
                && int.TryParse(s.To, out var b)
                && int.TryParse(Plain(pages.Item2), out var x)
                && x >= a
                && x <= b;
            var right = said.Any(s =>
                (Names(from, s.From) && (to is null || Names(to.Value, s.To) || Between(s, to.Value)))
                || (Between(s, from) && (to is null || Between(s, to.Value)))
            );
            report.Judge(check, right, () =>
                $"{name}: the entry stands on page {Plain(from.Item2)}{(to is { } t ? $" to {Plain(t.Item2)}" : "")}; the index "
                + $"says "
                + $"{(said.Count == 0 ? "no page" : string.Join(", ", said.Select(s => s.From == s.To ? s.From : s.From + "–" + s.To)))}."
            );
        }
        foreach (var s in said)
            report.Judge(
                check,
                heading.IsVague
                    || _unheaded.Contains(s.From)
                    || heading.Places.Any(p => Plain(p.From.Item1) == s.From || Plain(p.From.Item2) == s.From || p.To is not null),
                () => $"{name}: the index names page {s.From}, where no entry stands."
            );
        foreach (var (words, word) in new[] { (heading.See, Word("see")), (heading.SeeAlso, Word("seeAlso")) })
        {
            if (words.Count == 0)
                continue;
            var stop = at < printed.Length && printed[at] == '.';
            if (stop || (at < printed.Length && printed[at] == ','))
                at++;
            // A sentence of its own begins with a capital.
            var should = (stop ? char.ToUpperInvariant(word[0]) + word[1..] : word) + FinishedFile.Normal(string.Join("; ", words));
            var right = string.CompareOrdinal(printed, at, should, 0, should.Length) == 0;
            report.Judge(check, right, () => $"{name}: “{should}” is missing.");
            if (right)
                at += should.Length;
        }
    }

    private static bool StartsAt(string printed, int at, string words) => string.CompareOrdinal(printed, at, words, 0, words.Length) == 0;

    private string Word(string name) => FinishedFile.Normal(rules.Words[name]);

    private void Missing(Heading heading, string path)
    {
        foreach (var under in heading.Under)
        {
            var name = path.Length == 0 ? under.Text : path + " › " + under.Text;
            if (!under.Found)
                report.Failed(check, $"{name}: the heading is not in the index.");
            else
                Missing(under, name);
        }
    }
}
