using System.Globalization;
using System.Runtime.CompilerServices;
using Kivren.Core.Content;

namespace Kivren.Core.LooseEnds;

/// <summary>Slips of the keyboard: a word twice, a bracket that is not closed.</summary>
internal static class WordLooseEnds
{
    /// <summary>Words that stand twice in sound sentences, by the first part of a language's tag.</summary>
    private static readonly Dictionary<string, string[]> Rightly = new(StringComparer.Ordinal)
    {
        ["en"] = ["that", "had"],
        ["de"] = ["der", "die", "das", "den", "dem", "sie"],
        ["fr"] = ["nous", "vous"],
        ["nl"] = ["die", "dat"],
    };

    /// <summary>An edit makes one block anew: what was found in all others, in this division and language, is known.</summary>
    private static readonly ConditionalWeakTable<Block, Tuple<Id, string, LooseEnd[]>> Known = [];

    public static IEnumerable<LooseEnd> Find(Division division)
    {
        foreach (var block in division.Blocks)
        {
            if (!Known.TryGetValue(block, out var known) || known.Item1 != division.Id || known.Item2 != division.Language)
                Known.AddOrUpdate(block, known = Tuple.Create(division.Id, division.Language, In(block, division).ToArray()));
            foreach (var end in known.Item3)
                yield return end;
        }
    }

    private static IEnumerable<LooseEnd> In(Block top, Division division)
    {
        var rightly = Rightly.GetValueOrDefault(division.Language.Split('-')[0], []);
        foreach (var block in top.WithInner())
        foreach (var spans in block.OwnSpans())
        {
            var text = ProseText.Of(spans);
            foreach (var (begin, length, end) in Twice(text))
            {
                var word = text.Substring(begin, length);
                if (!rightly.Contains(word, StringComparer.OrdinalIgnoreCase))
                    yield return new LooseEnd(
                        LooseEndKind.WordTwice,
                        division.Id,
                        block.Id,
                        text[begin..end],
                        $"“{word}” stands twice here. Take one out."
                    );
            }
            if (Unclosed(text) is { } at)
                yield return new LooseEnd(
                    LooseEndKind.BracketUnclosed,
                    division.Id,
                    block.Id,
                    text[at..Math.Min(text.Length, at + 40)],
                    "This bracket is opened and not closed in its paragraph. Close it, or take it out."
                );
        }
    }

    /// <summary>Words of two letters or more that only spaces part from the same word: where the first begins, its length, and
    /// where the second ends. Read letter by letter: an expression that looks back for the same word in either case is slow.
    /// </summary>
    private static List<(int At, int Length, int End)> Twice(string text)
    {
        List<(int, int, int)> found = [];
        var (before, beforeEnd) = (0, 0);
        for (var i = 0; i < text.Length; i++)
        {
            if (!GoesOn(text[i]))
                continue;
            var at = i;
            var letters = true;
            for (; i < text.Length && GoesOn(text[i]); i++)
                letters &= char.IsLetter(text[i]);
            if (!letters || i - at < 2)
                continue;
            if (
                i - at == beforeEnd - before
                && text.AsSpan(beforeEnd, at - beforeEnd).IndexOfAnyExcept(' ', '\u00a0') < 0
                && text.AsSpan(before, beforeEnd - before).Equals(text.AsSpan(at, i - at), StringComparison.OrdinalIgnoreCase)
            )
            {
                found.Add((before, i - at, i));
                (before, beforeEnd) = (0, 0);
            }
            else
                (before, beforeEnd) = (at, i);
        }
        return found;
    }

    /// <summary>Whether a character belongs to the word beside it.</summary>
    private static bool GoesOn(char c) =>
        char.IsLetterOrDigit(c)
        || c is '\'' or '’' or '-'
        || char.GetUnicodeCategory(c) is UnicodeCategory.NonSpacingMark or UnicodeCategory.SpacingCombiningMark;

    /// <summary>The first bracket that is still open at the end; one that closes nothing, as in “a)”, is no fault.</summary>
    private static int? Unclosed(string text)
    {
        if (text.AsSpan().IndexOfAny('(', '[') < 0)
            return null;
        var open = new Stack<int>();
        for (var i = 0; i < text.Length; i++)
            if (text[i] is '(' or '[')
                open.Push(i);
            else if (text[i] is ')' or ']')
                open.TryPop(out _);
        return open.Count == 0 ? null : open.Last();
    }
}

/// <summary>The words of a run of spans as prose: program text and atoms are one strange character each.</summary>
internal static class ProseText
{
    public const char Atom = '\ufffc';

    public static string Of(IReadOnlyList<Inline> spans)
    {
        if (spans is [TextRun only] && !only.Roles.HasFlag(SpanRoles.Code))
            return only.Text;
        var text = new System.Text.StringBuilder();
        foreach (var inline in spans)
            switch (inline)
            {
                case TextRun run when !run.Roles.HasFlag(SpanRoles.Code):
                    text.Append(run.Text);
                    break;
                case LineBreak:
                    text.Append('\n');
                    break;
                case IndexEntry or Anchor or WriterNote:
                    break;
                default:
                    text.Append(Atom);
                    break;
            }
        return text.ToString();
    }
}
