namespace Kivren.Formats.Import.Sites;

/// <summary>Links of files to one another that do not name them as they are called: without an ending, with the ending of the page that is
/// made of a file, by their folder; and names of places that stand in another file than the one that names them.</summary>
internal static class LinkedFiles
{
    private static readonly string[] Endings = [".md", ".markdown", ".html", ".htm"],
        FirstFiles = ["index", "README", "readme", "_index"];

    public static IReadOnlyList<SourceDocument> Found(IReadOnlyList<SourceDocument> documents)
    {
        if (documents.Count < 2)
            return documents;
        var files = documents.Select(d => d.File).ToHashSet(StringComparer.OrdinalIgnoreCase);
        // Places by their names alone, where one file alone has them.
        var places = documents
            .SelectMany(d => SourceWalk.Spans(d.Blocks).OfType<SourceBookmark>().Select(b => (b.Name, d.File)))
            .Distinct()
            .GroupBy(b => b.Name, StringComparer.Ordinal)
            .ToDictionary(g => g.Key, g => g.Count() == 1 ? g.First().File : "", StringComparer.Ordinal);
        var own = documents
            .GroupBy(d => d.File)
            .ToDictionary(
                g => g.Key,
                g => g.SelectMany(d => SourceWalk.Spans(d.Blocks).OfType<SourceBookmark>()).Select(b => b.Name).ToHashSet()
            );
        var byLetters = new Dictionary<string, Dictionary<string, string>>();
        string? PlaceLike(string file, string place)
        {
            if (!byLetters.TryGetValue(file, out var names))
                byLetters[file] = names = own[file].DistinctBy(Bare).ToDictionary(Bare);
            return names.GetValueOrDefault(Bare(place));
        }
        string FileOf(string named) =>
            named.Length == 0 || files.Contains(named) ? named : Candidates(named).FirstOrDefault(files.Contains) ?? named;
        string TargetOf(SourceDocument document, string target)
        {
            var mark = target.IndexOf('#', StringComparison.Ordinal);
            if (mark < 0)
                return !own[document.File].Contains(target) && places.GetValueOrDefault(target) is { Length: > 0 } other
                    ? $"{other}#{target}"
                    : target;
            var file = FileOf(target[..mark]);
            var place = target[(mark + 1)..];
            // Names are made of the letters of heads in more than one way.
            if (place.Length > 0 && own.TryGetValue(file, out var names) && !names.Contains(place))
                place = PlaceLike(file, place) ?? place;
            return $"{file}#{place}";
        }
        return
        [
            .. documents.Select(d =>
                d with
                {
                    Blocks =
                    [
                        .. d.Blocks.Select(b =>
                            SourceWalk.Spans([b]).Any(s => s is SourceReference)
                                ? SourceWalk.WithSpans(b, spans =>
                                    [.. spans.Select(s => s is SourceReference r ? r with { Target = TargetOf(d, r.Target) } : s)]
                                )
                                : b
                        ),
                    ],
                    Site = d.Site is null
                        ? null
                        : d.Site with
                        {
                            Contents = [.. d.Site.Contents.Select(l => l with { File = FileOf(l.File) })],
                            Next = FileOf(d.Site.Next),
                            Up = FileOf(d.Site.Up),
                        },
                }
            ),
        ];
    }

    private static IEnumerable<string> Candidates(string named)
    {
        var ending = Path.GetExtension(named).ToLowerInvariant();
        var stem = Endings.Contains(ending) ? named[..^ending.Length] : named;
        foreach (var other in Endings)
            yield return stem + other;
        foreach (var first in FirstFiles)
        foreach (var other in Endings)
            yield return $"{named}/{first}{other}";
        // The page of a folder of its own, made of one file.
        if (Path.GetFileNameWithoutExtension(named) == "index" && named.LastIndexOf('/') is > 0 and var cut)
            foreach (var other in Endings)
                yield return named[..cut] + other;
    }

    private static string Bare(string name) => string.Concat(name.Where(char.IsLetterOrDigit)).ToLowerInvariant();
}
