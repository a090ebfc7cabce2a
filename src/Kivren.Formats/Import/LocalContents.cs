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
                if (document.Styles.GetValueOrDefault(p.Style)?.Level is not null)
                    foreach (var name in waiting)
                        heads.TryAdd(document.Full(name), Bare(p.Spans.Words()));
                if (p.Spans.Words().Trim().Length > 0)
                    waiting.Clear();
            }
        bool Is(SourceReference link, string words) => heads.TryGetValue(document.Full(link.Target), out var head) && Bare(words) == head;
        // Letters over an index or a glossary, side by side.
        bool IsRowOfHeads(SourceBlock block) =>
            block is SourceParagraph or SourceTable
            && SourceWalk.Spans([block]).ToList() is var spans
            && spans.OfType<SourceReference>().ToList() is { Count: >= FewestInARow } links
            && links.TrueForAll(l => Is(l, l.Words))
            && !spans.Where(s => s is not SourceReference).ToList().Words().Any(char.IsLetterOrDigit);
        bool IsListOfHeads(SourceBlock block) =>
            IsRowOfHeads(block)
            || block is SourceList { Items.Count: >= Fewest } list && list.Items.All(i => i.Blocks.Count > 0 && i.Blocks.All(IsLine));
        bool IsLine(SourceBlock block) =>
            block is SourceList { Items.Count: > 0 } inner
                ? inner.Items.All(i => i.Blocks.All(IsLine))
                : block is SourceParagraph p && p.Spans.OfType<SourceReference>().ToList() is [var only] && Is(only, p.Spans.Words());
        return heads.Count == 0 || !document.Blocks.Any(IsListOfHeads)
            ? document
            : document with
            {
                Blocks =
                [
                    .. document.Blocks.Select(b =>
                        IsListOfHeads(b) ? new SourceGenerated(b.Place, Generated.Contents, new[] { b }.Words()) : b
                    ),
                ],
            };
    }

    /// <summary>A title without its typed number, in letters alone.</summary>
    private static string Bare(string title)
    {
        var words = title.Trim();
        return string.Concat(words[LookAlike.TypedHeadNumber(words)..].Where(char.IsLetterOrDigit)).ToLowerInvariant();
    }
}
