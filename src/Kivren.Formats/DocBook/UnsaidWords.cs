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
        Blocks(blocks, Say);
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

    private static void Blocks(IEnumerable<SourceBlock> blocks, Action<string> say)
    {
        foreach (var block in blocks)
            switch (block)
            {
                case SourceParagraph p:
                    Spans(p.Spans, say);
                    break;
                case SourceList l:
                    Blocks(l.Items.SelectMany(i => i.Blocks), say);
                    break;
                case SourceDefinitions d:
                    foreach (var definition in d.Definitions)
                    {
                        Spans(definition.Term, say);
                        Blocks(definition.Blocks, say);
                    }
                    break;
                case SourceTable t:
                    Spans(t.Caption, say);
                    Blocks(t.Rows.SelectMany(r => r.Cells).SelectMany(c => c.Blocks), say);
                    break;
                case SourcePicture p:
                    Spans(p.Caption, say);
                    say(p.Alternative);
                    break;
                case SourceListing l:
                    Spans(l.Caption, say);
                    say(l.Text);
                    break;
                case SourceEquation e:
                    say(e.Source);
                    say(e.Alternative);
                    break;
                case SourceGroup g:
                    Spans(g.Title, say);
                    Blocks(g.Blocks, say);
                    break;
                case SourceGenerated g:
                    say(g.Words);
                    break;
            }
    }

    private static void Spans(IEnumerable<SourceSpan> spans, Action<string> say)
    {
        foreach (var span in spans)
            switch (span)
            {
                case SourceRun run:
                    say(run.Text);
                    break;
                case SourceReference reference:
                    say(reference.Words);
                    break;
                case SourceNote note:
                    Blocks(note.Blocks, say);
                    break;
                case SourceComment comment:
                    say(comment.Text);
                    break;
                case SourceAtom { Inline: IndexEntry entry }:
                    foreach (var words in entry.Headings.Append(entry.See ?? "").Append(entry.SeeAlso ?? ""))
                        say(words);
                    break;
                case SourceAtom { Inline: InlineEquation equation }:
                    say(equation.Source);
                    say(equation.Alternative);
                    break;
                case SourceAtom { Inline: InlinePicture picture }:
                    say(picture.Alternative);
                    break;
            }
    }
}
