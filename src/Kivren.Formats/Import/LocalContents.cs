namespace Kivren.Formats.Import;

/// <summary>Lists that a page has of its own heads, under its title or under a chapter's: the manual makes them itself.</summary>
internal static class LocalContents
{
    private const int Fewest = 2,
        FewestInARow = 4;

    public static SourceDocument LeftOut(SourceDocument document)
    {
        var heads = new Dictionary<string, string>(StringComparer.OrdinalIgnoreCase);
        var waiting = new List<string>();
        foreach (var block in document.Blocks)
            if (block is SourceParagraph p)
            {
                waiting.AddRange(p.Spans.OfType<SourceBookmark>().Select(b => b.Name));
                if (IsHead(p))
                    foreach (var name in waiting)
                        heads.TryAdd(document.Full(name), Bare(p.Spans.Words()));
                if (p.Spans.Words().Trim().Length > 0)
                    waiting.Clear();
            }
        bool Is(SourceReference link, string words) => heads.TryGetValue(document.Full(link.Target), out var head) && Bare(words) == head;
        // Letters over an index or a glossary, side by side; lines one below the other behind a word that says what they are.
        bool IsRowOfHeads(SourceBlock block) =>
            block is SourceParagraph or SourceTable
            && SourceWalk.Spans([block]).ToList() is var spans
            && spans.OfType<SourceReference>().ToList() is { Count: >= Fewest } links
            && links.TrueForAll(l => Is(l, l.Words))
            && spans.Where(s => s is not SourceReference).ToList().Words().Trim() is var besides
            && (LabelWords.Is(besides, LabelWords.Contents) || (links.Count >= FewestInARow && !besides.Any(char.IsLetterOrDigit)));
        bool IsListOfHeads(SourceBlock block) =>
            IsRowOfHeads(block)
            || block is SourceList { Items.Count: >= Fewest } list && list.Items.All(i => i.Blocks.Count > 0 && i.Blocks.All(IsLine));
        bool IsHead(SourceParagraph p) => document.Styles.GetValueOrDefault(p.Style)?.Level is not null;
        bool LeadsToHead(SourceParagraph p) =>
            p.Spans.OfType<SourceReference>().ToList() is [var only]
            && heads.ContainsKey(document.Full(only.Target))
            && !p.Spans.Where(s => s is not SourceReference).ToList().Words().Any(char.IsLetter);
        bool IsLine(SourceBlock block) =>
            block is SourceList { Items.Count: > 0 } inner
                ? inner.Items.All(i => i.Blocks.All(IsLine))
                : block is SourceParagraph p && p.Spans.OfType<SourceReference>().ToList() is [var only] && Is(only, p.Spans.Words());
        // In a run of lines one may leave out what stands over it: “Basic features: Logging” is “Logging” under “Basic features”.
        bool IsNearly(SourceBlock block) =>
            block is SourceParagraph p
            && p.Spans.OfType<SourceReference>().ToList() is [var only]
            && heads.TryGetValue(document.Full(only.Target), out var head)
            && Bare(only.Words) is { Length: > 0 } words
            && (head.EndsWith(words, StringComparison.Ordinal) || words.EndsWith(head, StringComparison.Ordinal));
        if (heads.Count == 0)
            return document;
        var blocks = new List<SourceBlock>();
        var found = false;
        for (var i = 0; i < document.Blocks.Count; )
        {
            // Lines one below the other, each with its number in it or before it; a few may say their heads in other words.
            var run = document
                .Blocks.Skip(i)
                .TakeWhile(b => b is SourceParagraph p && !IsHead(p) && (LeadsToHead(p) || IsNumber(p)))
                .ToList();
            if (run.Count(IsNearly) is var lines && (lines < FewestInARow || lines * 4 < run.Count(b => !IsNumber(b)) * 3))
            {
                run = [.. run, .. document.Blocks.Skip(i + run.Count).Take(1)];
                blocks.AddRange(
                    run.Select(b => IsListOfHeads(b) ? new SourceGenerated(b.Place, Generated.Contents, new[] { b }.Words()) : b)
                );
                found |= run.Exists(IsListOfHeads);
            }
            else
            {
                blocks.Add(new SourceGenerated(run[0].Place, Generated.Contents, run.Words()));
                found = true;
            }
            i += run.Count;
        }
        return found ? document with { Blocks = blocks } : document;
    }

    /// <summary>Nothing but the number of a title: 4, 4.1, A.2.</summary>
    private static bool IsNumber(SourceBlock block)
    {
        const int longest = 12;
        return block is SourceParagraph p
            && p.Spans.Words().Trim() is { Length: > 0 and <= longest } words
            && words
                .TrimEnd('.')
                .Split('.')
                .All(part => part.Length > 0 && (part.Length == 1 ? char.IsLetterOrDigit(part[0]) : part.All(char.IsDigit)));
    }

    /// <summary>A title without its typed number, in letters alone.</summary>
    private static string Bare(string title)
    {
        var words = title.Trim();
        return string.Concat(words[LookAlike.TypedHeadNumber(words)..].Where(char.IsLetterOrDigit)).ToLowerInvariant();
    }
}
