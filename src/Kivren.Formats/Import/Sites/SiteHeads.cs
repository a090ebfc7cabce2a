using Kivren.Core.Content;

namespace Kivren.Formats.Import.Sites;

/// <summary>Heads of the files of a site at the levels that they have in the book: the first head of a file is what the file is, and
/// those below it follow.</summary>
internal static class SiteHeads
{
    private const int MostLevels = 6;

    private static readonly Dictionary<string, StyleFacts> Styles = new[] { "part", "chapter", "appendix", "preface", "glossary" }
        .Select(kind => (Name: kind + " title", Facts: new StyleFacts(Role: kind)))
        .Concat(Enumerable.Range(2, MostLevels).Select(level => (Name: "h" + level, Facts: new StyleFacts(level))))
        .ToDictionary(s => s.Name, s => s.Facts);

    public static IReadOnlyList<SourceDocument> Ranked(IReadOnlyList<SourceDocument> documents, SiteTree tree)
    {
        var ranked = documents.ToArray();
        var sections = 0;
        var division = 0;
        for (var i = 0; i < tree.Places.Count; i++)
        {
            var place = tree.Places[i];
            if (place.IsDivision)
                division = place.Depth;
            sections = Math.Max(0, place.Depth - division);
            if (place.File >= 0 && place.File < ranked.Length)
            {
                // The first page may list all others.
                var below = tree.Places.Skip(i + 1).TakeWhile(p => i == 0 || p.Depth > place.Depth).Where(p => p.File >= 0);
                ranked[place.File] = WithoutContents(
                    Ranked(
                        WithoutName(
                            i == 0 ? documents[place.File] : WithoutBanner(documents[place.File], tree.Title, place.Title),
                            tree.OverHeads
                        ),
                        place,
                        sections
                    ),
                    [.. below.Select(p => documents[p.File].File)]
                );
            }
        }
        return ranked;
    }

    /// <summary>What the whole is called, over the page's own title, is not what the page is called.</summary>
    /// <param name="called">as the contents list calls the page: its title where it has none of its own</param>
    private static SourceDocument WithoutBanner(SourceDocument document, string whole, string called)
    {
        bool IsHead(SourceBlock block) =>
            block is SourceParagraph p
            && p.Spans.Words().Trim().Length > 0
            && document.Styles.GetValueOrDefault(p.Style)?.Level is not null;
        var first = document.Blocks.ToList().FindIndex(b => Words(b).Length > 0);
        if (
            whole.Length == 0
            || first < 0
            || !IsHead(document.Blocks[first])
            || !Words(document.Blocks[first]).Equals(whole, StringComparison.OrdinalIgnoreCase)
        )
            return document;
        if (document.Blocks.Skip(first + 1).FirstOrDefault(b => Words(b).Length > 0) is { } next && IsHead(next))
            return document with { Blocks = [.. document.Blocks.Where((_, at) => at != first)] };
        var banner = (SourceParagraph)document.Blocks[first];
        return called.Length > 0 && !called.Equals(whole, StringComparison.OrdinalIgnoreCase)
            ? document with
            {
                Blocks =
                [
                    .. document.Blocks.Select(
                        (b, at) =>
                            at == first ? banner with { Spans = [.. banner.Spans.OfType<SourceBookmark>(), new SourceRun(called)] } : b
                    ),
                ],
            }
            : document;
    }

    /// <summary>What the whole is called, in front of a page's own title, is not what the page is called.</summary>
    private static SourceDocument WithoutName(SourceDocument document, string over)
    {
        var at = document
            .Blocks.ToList()
            .FindIndex(b => b is SourceParagraph p && document.Styles.GetValueOrDefault(p.Style)?.Level is not null);
        if (over.Length == 0 || at < 0 || document.Blocks[at] is not SourceParagraph head)
            return document;
        // Breaks and spaces count alike.
        var met = 0;
        var spans = new List<SourceSpan>();
        foreach (var span in head.Spans)
            if (met < over.Length && span is SourceRun { Tracked: not Tracked.Deleted } run)
            {
                var from = 0;
                for (; from < run.Text.Length && met < over.Length; from++)
                    if (char.IsWhiteSpace(run.Text[from]))
                        met += over[met] == ' ' ? 1 : 0;
                    else if (run.Text[from] == over[met])
                        met++;
                    else
                        return document;
                spans.Add(run with { Text = run.Text[from..] });
            }
            else if (met < over.Length && span is SourceAtom { Inline: LineBreak })
                met += over[met] == ' ' ? 1 : 0;
            else
                spans.Add(span);
        if (met < over.Length)
            return document;
        return document with { Blocks = [.. document.Blocks.Select((b, n) => n == at ? head with { Spans = spans } : b)] };
    }

    /// <summary>A list of nothing but the files that stand below a file is its contents list, which the manual makes itself.</summary>
    private static SourceDocument WithoutContents(SourceDocument document, HashSet<string> below)
    {
        if (!document.Blocks.Any(b => IsListOf(document, b, below)))
            return document;
        return document with
        {
            Blocks = WithoutBareHeads(
                document,
                [
                    .. document.Blocks.Select(b =>
                        IsListOf(document, b, below) ? new SourceGenerated(b.Place, Generated.Contents, new[] { b }.Words()) : b
                    ),
                ]
            ),
        };
    }

    /// <summary>A list, or a table of lines, of what stands below a page or in it.</summary>
    private static bool IsListOf(SourceDocument document, SourceBlock block, HashSet<string> below) =>
        block switch
        {
            SourceList or SourceDefinitions => LeadsOnlyTo(block, below),
            SourceTable { Rows: { Count: > 1 } rows } => rows.All(r => r.Cells.Sum(c => LinksOf(c.Blocks).Count) is 1)
                && LeadsOnlyTo(block, [.. below, document.File]),
            _ => false,
        };

    private static List<SourceReference> LinksOf(IEnumerable<SourceBlock> blocks) =>
        [.. SourceWalk.Spans(blocks).OfType<SourceReference>()];

    /// <summary>A head over nothing but a contents list goes with the list.</summary>
    private static List<SourceBlock> WithoutBareHeads(SourceDocument document, List<SourceBlock> blocks)
    {
        int? LevelOf(SourceBlock block) => block is SourceParagraph p ? document.Styles.GetValueOrDefault(p.Style)?.Level : null;
        var kept = new List<SourceBlock>(blocks.Count);
        // The first is what the page itself is called.
        var first = blocks.FindIndex(b => LevelOf(b) is not null);
        for (var i = 0; i < blocks.Count; i++)
        {
            if (LevelOf(blocks[i]) is not null && i > first)
            {
                var next = blocks.FindIndex(i + 1, b => b is not SourceGenerated);
                if (next != i + 1 && (next < 0 || (LevelOf(blocks[next]) is { } level && level <= LevelOf(blocks[i]))))
                    continue;
            }
            kept.Add(blocks[i]);
        }
        return kept;
    }

    private static bool LeadsOnlyTo(SourceBlock block, HashSet<string> files)
    {
        var links = LinksOf([block]);
        return links.Count > 0
            && links.All(l => files.Contains(l.Target.Split('#')[0]))
            && links.Sum(l => l.Words.Length) * 10 >= new[] { block }.Words().Trim().Length * 8;
    }

    /// <param name="level">0 where the file is a division, else the level of its first head</param>
    private static SourceDocument Ranked(SourceDocument document, TreePlace place, int level)
    {
        int? LevelOf(SourceBlock block) =>
            block is SourceParagraph p && !string.IsNullOrWhiteSpace(p.Spans.Words())
                ? document.Styles.GetValueOrDefault(p.Style)?.Level
                : null;
        var heads = document.Blocks.Where(b => LevelOf(b) is not null).ToList();
        var top = heads.Select(h => LevelOf(h)!.Value).DefaultIfEmpty(1).Min();
        var tops = heads.Where(h => LevelOf(h) == top).Select(h => Words(h)).ToList();
        // Of several heads of the highest level the first is the file's own where it is called so; else all stand below its name.
        var isCalled = tops.Count > 0 && LevelOf(heads[0]) == top && IsName(tops[0], document, place);
        var preceded = heads.Count > 0 && document.Blocks.TakeWhile(b => !ReferenceEquals(b, heads[0])).Any(b => Words(b).Length > 0);
        var several = (tops.Count > 1 && !tops.TrueForAll(SiteTree.IsChapterName)) || (preceded && tops.Count > 0 && !isCalled);
        var lowered = several ? heads.Skip(isCalled ? 1 : 0).ToHashSet<object>(ReferenceEqualityComparer.Instance) : [];
        string StyleOf(int own) =>
            level == 0 && own == top && place.IsDivision
                ? place.Kind + " title"
                : "h" + Math.Clamp(own - top + Math.Max(level, place.IsDivision ? 0 : 1) + 1, 2, MostLevels + 1);
        var blocks = document
            .Blocks.Select(b =>
                LevelOf(b) is { } own ? ((SourceParagraph)b) with { Style = StyleOf(own + (lowered.Contains(b) ? 1 : 0)) } : b
            )
            .ToList();
        // What stands before the file's own head belongs to it, not to what stands before the file.
        if (preceded && isCalled)
        {
            var own = document.Blocks.TakeWhile(b => !ReferenceEquals(b, heads[0])).Count();
            blocks.Insert(0, blocks[own]);
            blocks.RemoveAt(own + 1);
        }
        // A file without a head of its own is called as the list calls it, else as the page calls itself.
        if (heads.Count == 0 || LevelOf(heads[0]) != top || (several && !isCalled))
        {
            var title =
                place.Title.Length > 0 && place.Title != tops.FirstOrDefault() ? place.Title
                : document.Title.Length > 0 ? document.Title
                : document.Site?.WindowTitle ?? "";
            if (title.Length > 0)
                blocks.Insert(
                    0,
                    new SourceParagraph(document.Blocks.Count > 0 ? document.Blocks[0].Place : 0, StyleOf(top), [new SourceRun(title)])
                );
        }
        return document with { Blocks = blocks, Title = "", Styles = Merged(document.Styles) };
    }

    private static string Words(SourceBlock block) =>
        string.Join(' ', new[] { block }.Words().Split((char[]?)null, StringSplitOptions.RemoveEmptyEntries));

    /// <summary>Whether a head says what the list or the reader's window calls the file, but for a typed number.</summary>
    private static bool IsName(string head, SourceDocument document, TreePlace place)
    {
        static string Bare(string title) => title[LookAlike.TypedHeadNumber(title)..].Trim();
        var bare = Bare(head);
        return bare.Length > 0
            && (
                Bare(place.Title).Equals(bare, StringComparison.OrdinalIgnoreCase)
                || (document.Site?.WindowTitle ?? "").Contains(bare, StringComparison.OrdinalIgnoreCase)
                || Bare(document.Title).Equals(bare, StringComparison.OrdinalIgnoreCase)
            );
    }

    private static Dictionary<string, StyleFacts> Merged(IReadOnlyDictionary<string, StyleFacts> own)
    {
        var all = new Dictionary<string, StyleFacts>(own, StringComparer.Ordinal);
        foreach (var (name, facts) in Styles)
            all[name] = facts;
        return all;
    }
}
