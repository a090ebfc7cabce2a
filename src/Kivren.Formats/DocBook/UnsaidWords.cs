using System.Text.RegularExpressions;
using System.Xml.Linq;
using Kivren.Core.Content;
using Kivren.Formats.Import;

namespace Kivren.Formats.DocBook;

/// <summary>The last look at a file that was read: which of its text came into no block and was not told of. Whatever an element means, and
/// wherever it stands, none of its words goes in silence.</summary>
internal static partial class UnsaidWords
{
    [GeneratedRegex(@"[\p{L}\p{N}]+", RegexOptions.CultureInvariant)]
    private static partial Regex Word();

    /// <summary>Texts that are in none of the blocks and lines, in the order of the file.</summary>
    public static IEnumerable<XText> Of(XElement root, IEnumerable<SourceBlock> blocks, IEnumerable<string> told)
    {
        var there = new Dictionary<string, int>(StringComparer.Ordinal);
        var letters = new System.Text.StringBuilder();
        void Say(string text)
        {
            letters.Append(Blank().Replace(text, "")).Append(' ');
            foreach (var word in Word().EnumerateMatches(text))
                System.Runtime.InteropServices.CollectionsMarshal.GetValueRefOrAddDefault(
                    there,
                    text.Substring(word.Index, word.Length),
                    out _
                )++;
        }
        foreach (var line in told)
            Say(line);
        foreach (var text in Said([.. blocks]))
            Say(text);
        // How many more times each word stands in the file than it was said.
        var texts = root.DescendantNodes()
            .OfType<XText>()
            .Select(t => (Text: t, Words: Word().Matches(t.Value).Select(m => m.Value).ToList()))
            .Where(t => t.Words.Count > 0)
            .ToList();
        var lacks = new Dictionary<string, int>(StringComparer.Ordinal);
        foreach (var word in texts.SelectMany(t => t.Words))
            System.Runtime.InteropServices.CollectionsMarshal.GetValueRefOrAddDefault(lacks, word, out _)++;
        foreach (var word in lacks.Keys.ToList())
            lacks[word] -= there.GetValueOrDefault(word);
        bool IsLacking(List<string> words) => words.TrueForAll(w => lacks[w] > 0);
        // Of several texts with the same words those are it whose element is not said elsewhere either.
        var share = texts
            .GroupBy(t => t.Text.Parent!.Name.LocalName, StringComparer.Ordinal)
            .ToDictionary(g => g.Key, g => g.Count(t => IsLacking(t.Words)) * 1000 / g.Count(), StringComparer.Ordinal);
        var all = letters.ToString();
        foreach (
            var (text, words) in texts.Where(t => IsLacking(t.Words)).OrderByDescending(t => share[t.Text.Parent!.Name.LocalName]).ToList()
        )
        {
            // Words that were joined to others on their way are there as letters.
            var joined =
                share[text.Parent!.Name.LocalName] < Never && all.Contains(Blank().Replace(text.Value, ""), StringComparison.Ordinal);
            if (joined || !IsLacking(words))
                continue;
            foreach (var word in words)
                lacks[word]--;
            yield return text;
        }
    }

    /// <summary>An element of which so many texts in a thousand are not said says nothing at all.</summary>
    private const int Never = 900;

    [GeneratedRegex(@"\s+", RegexOptions.CultureInvariant)]
    private static partial Regex Blank();

    private static IEnumerable<string> Said(IReadOnlyList<SourceBlock> blocks)
    {
        var all = SourceWalk.Spans(blocks).ToList();
        var notes = all.OfType<SourceNote>().SelectMany(n => n.Blocks);
        return SourceWalk.Blocks(blocks.Concat(notes)).SelectMany(SaidBy).Concat(all.SelectMany(SaidBy));
    }

    /// <summary>What a block says besides its spans.</summary>
    private static IEnumerable<string> SaidBy(SourceBlock block) =>
        block switch
        {
            SourcePicture p => [p.Alternative],
            SourceListing l => [l.Text],
            SourceEquation e => [e.Source, e.Alternative],
            SourceGenerated g => [g.Words],
            _ => [],
        };

    private static IEnumerable<string> SaidBy(SourceSpan span) =>
        span switch
        {
            SourceRun run => [run.Text],
            SourceReference reference => [reference.Words],
            SourceComment comment => [comment.Text],
            SourceAtom { Inline: IndexEntry entry } => [.. entry.Headings, entry.See ?? "", entry.SeeAlso ?? ""],
            SourceAtom { Inline: InlineEquation equation } => [equation.Source, equation.Alternative],
            SourceAtom { Inline: InlinePicture picture } => [picture.Alternative],
            _ => [],
        };
}
