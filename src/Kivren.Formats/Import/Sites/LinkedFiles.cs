namespace Kivren.Formats.Import.Sites;

/// <summary>Links of files to one another that do not name them as they are called: without an ending, with the ending of the page that is
/// made of a file, by their folder; and names of places that stand in another file than the one that names them.</summary>
internal sealed class LinkedFiles
{
    private static readonly string[] Endings = [".md", ".markdown", ".html", ".htm"],
        FirstFiles = ["index", "README", "readme", "_index"];

    private readonly HashSet<string> _files;

    /// <summary>Names of places in each file, by themselves and by their letters alone.</summary>
    private readonly Dictionary<string, HashSet<string>> _places;
    private readonly Dictionary<string, Dictionary<string, string>> _byLetters = [];

    /// <summary>The file of a place that one file alone has.</summary>
    private readonly Dictionary<string, string> _fileOf;

    /// <summary>Heads by the places in them.</summary>
    private readonly Dictionary<string, string> _heads = new(StringComparer.Ordinal);

    /// <summary>Other names of files.</summary>
    private readonly IReadOnlyDictionary<string, string> _others;

    private LinkedFiles(IReadOnlyList<SourceDocument> documents, IReadOnlyDictionary<string, string> others)
    {
        _others = others;
        _files = documents.Select(d => d.File).ToHashSet(StringComparer.OrdinalIgnoreCase);
        _places = documents
            .GroupBy(d => d.File)
            .ToDictionary(
                g => g.Key,
                g =>
                    g.SelectMany(d => SourceWalk.Spans(d.Blocks).OfType<SourceBookmark>())
                        .Select(b => b.Name)
                        .ToHashSet(StringComparer.Ordinal)
            );
        // A name that a writer gave goes before one made of a head's words, which several files may have.
        _fileOf = documents
            .SelectMany(d => Named(d).Select(n => (n.Name, n.IsGiven, d.File)))
            .Distinct()
            .GroupBy(n => n.Name, StringComparer.Ordinal)
            .Select(g => g.Where(n => n.IsGiven).ToList() is { Count: > 0 } given ? given : [.. g])
            .Where(g => g.Count == 1)
            .ToDictionary(g => g[0].Name, g => g[0].File, StringComparer.Ordinal);
        foreach (var document in documents)
        foreach (var head in document.Blocks.OfType<SourceParagraph>())
            if (document.Styles.GetValueOrDefault(head.Style)?.Level is not null)
                foreach (var place in head.Spans.OfType<SourceBookmark>())
                    _heads.TryAdd($"{document.File}#{place.Name}", head.Spans.Words().Trim());
    }

    private static IEnumerable<(string Name, bool IsGiven)> Named(SourceDocument document) =>
        SourceWalk
            .Blocks(document.Blocks)
            .SelectMany(b => SourceWalk.Texts(b).Select(spans => (Block: b, Spans: spans)))
            .SelectMany(t =>
                t.Spans.OfType<SourceBookmark>()
                    .Select(b =>
                        (
                            b.Name,
                            t.Block is not SourceParagraph p
                                || document.Styles.GetValueOrDefault(p.Style)?.Level is null
                                || Bare(b.Name) != Bare(p.Spans.Words())
                        )
                    )
            );

    /// <param name="others">other names of files, by which links may call them</param>
    public static IReadOnlyList<SourceDocument> Found(IReadOnlyList<SourceDocument> documents, IReadOnlyDictionary<string, string> others)
    {
        if (documents.Count < 2 && others.Count == 0)
            return documents;
        var files = new LinkedFiles(documents, others);
        return [.. documents.Select(files.Linked)];
    }

    private SourceDocument Linked(SourceDocument document) =>
        document with
        {
            Blocks =
            [
                .. document.Blocks.Select(b =>
                    SourceWalk.Spans([b]).Any(s => s is SourceReference)
                        ? SourceWalk.WithSpans(b, spans => [.. spans.Select(s => s is SourceReference r ? Linked(document, r) : s)])
                        : b
                ),
            ],
            Site = document.Site is null
                ? null
                : document.Site with
                {
                    Contents = [.. document.Site.Contents.Select(l => l with { File = FileOf(l.File) })],
                    Next = FileOf(document.Site.Next),
                    Up = FileOf(document.Site.Up),
                    ContentsPage = FileOf(document.Site.ContentsPage),
                    IndexPage = FileOf(document.Site.IndexPage),
                },
        };

    private SourceReference Linked(SourceDocument document, SourceReference reference)
    {
        var target = TargetOf(document, reference.Target);
        // What has no words but the name of a place is called as its head is, where no reference can stand.
        var words =
            reference.Form == "title" && reference.Words == reference.Target
                ? _heads.GetValueOrDefault(document.Full(target), reference.Words)
                : reference.Words;
        return reference with { Target = target, Words = words };
    }

    private string FileOf(string named) =>
        named.Length == 0 || _files.Contains(named) ? named
        : _others.TryGetValue(named, out var file) ? file
        : Candidates(named).FirstOrDefault(_files.Contains) ?? named;

    private string TargetOf(SourceDocument document, string target)
    {
        var mark = target.IndexOf('#', StringComparison.Ordinal);
        if (mark < 0)
            return !_places[document.File].Contains(target) && _fileOf.TryGetValue(target, out var other) ? $"{other}#{target}" : target;
        var file = FileOf(target[..mark]);
        var place = target[(mark + 1)..];
        // What looks like a file may be the name of a place.
        if (place.Length == 0 && !_files.Contains(file) && Path.GetFileName(file) is var name && _fileOf.TryGetValue(name, out var holder))
            return $"{holder}#{name}";
        // Names are made of the letters of heads in more than one way.
        if (place.Length > 0 && _places.TryGetValue(file, out var names) && !names.Contains(place))
            place = ByLetters(file, names).GetValueOrDefault(Bare(place), place);
        return $"{file}#{place}";
    }

    private Dictionary<string, string> ByLetters(string file, HashSet<string> names)
    {
        if (!_byLetters.TryGetValue(file, out var byLetters))
            _byLetters[file] = byLetters = names.DistinctBy(Bare).ToDictionary(Bare);
        return byLetters;
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
