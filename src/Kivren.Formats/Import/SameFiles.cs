using Kivren.Formats.Import.Sites;

namespace Kivren.Formats.Import;

/// <summary>One file under several names, as sites have it: a first page that is a link to another, a copy.</summary>
internal static class SameFiles
{
    /// <returns>each text once, in their order; and the names of the others by the name that stays</returns>
    public static (IReadOnlyList<SourceDocument> Documents, IReadOnlyDictionary<string, string> Others) Once(
        IReadOnlyList<SourceDocument> documents
    )
    {
        var others = new Dictionary<string, string>(StringComparer.Ordinal);
        var once = new List<SourceDocument>();
        foreach (
            var alike in documents.GroupBy(d =>
                (d.Blocks.Count, d.Blocks.Words(), string.Join('\n', d.Pictures.Keys.Order(StringComparer.Ordinal)))
            )
        )
        {
            // Pages that send their readers to different places may say so in the same words.
            if (string.IsNullOrWhiteSpace(alike.Key.Item2) || alike.Any(d => d.Site is { SendsTo.Length: > 0 }))
            {
                once.AddRange(alike);
                continue;
            }
            var kept = alike.FirstOrDefault(d => SiteTree.IsFirstPage(d.File)) ?? alike.First();
            var names = alike.Select(d => d.File).Where(f => f != kept.File).ToList();
            foreach (var name in names)
                others[name] = kept.File;
            once.Add(
                names.Count == 0
                    ? kept
                    : kept with
                    {
                        Met =
                        [
                            .. kept.Met,
                            .. names.Select(n => new ReportLine(
                                ReportKind.Changed,
                                kept.File,
                                "Another file says the same; it came in once, and links to either lead to it.",
                                n
                            )),
                        ],
                    }
            );
        }
        return (once, others);
    }
}
