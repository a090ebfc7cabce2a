namespace Kivren.Formats.Import.Sites;

/// <summary>A line of a contents list on a page of a site, that leads to another file.</summary>
/// <param name="File">where it leads, from where the files lie</param>
/// <param name="Depth">of its list within lists, 1 for the outermost</param>
/// <param name="Words">what it says</param>
/// <param name="Kind">what the page's markup calls it (chapter, appendix, part …); "" where it does not say</param>
/// <param name="Group">the words over its list, as a site names its parts; ""</param>
/// <param name="IsText">it stands in the page's own text, not in the navigation round it</param>
/// <param name="IsWithin">it names a place in the file, not the file as a whole</param>
/// <param name="IsExplained">it says more than what it leads to is called</param>
public sealed record ContentsLine(
    string File,
    int Depth,
    string Words,
    string Kind,
    string Group,
    bool IsText,
    bool IsWithin,
    bool IsExplained
);

/// <summary>What a page says of its place among the files it came with.</summary>
/// <param name="Next">the file that it names as the one behind it; ""</param>
/// <param name="Up">the file that it names as the one above it; ""</param>
public sealed record SitePage(IReadOnlyList<ContentsLine> Contents, string Next, string Up)
{
    public static readonly SitePage None = new([], "", "");

    /// <summary>The file that it names as the contents list of the whole; "".</summary>
    public string ContentsPage { get; init; } = "";

    /// <summary>The file that it names as the index of the whole; "".</summary>
    public string IndexPage { get; init; } = "";

    /// <summary>What its markup calls the whole of it (part, chapter, appendix …); "" where it does not say.</summary>
    public string Kind { get; init; } = "";

    /// <summary>The place in another file that the page does nothing but send its reader to, as a link names it; "".</summary>
    public string SendsTo { get; init; } = "";

    /// <summary>It asks its reader for words: to search, to write to somebody.</summary>
    public bool IsForm { get; init; }

    /// <summary>What a reader's window shows over the page; "".</summary>
    public string WindowTitle { get; init; } = "";

    /// <summary>A path that a file names, from where the files lie: relative to the file's own folder, without what leads back.</summary>
    public static string Resolved(string file, string named)
    {
        var path = named.Split('#', '?')[0];
        if (path.Length == 0)
            return file;
        var parts = new List<string>();
        var folder = file.LastIndexOf('/') is var cut and >= 0 ? file[..cut] : "";
        foreach (var part in (path.StartsWith('/') ? path : $"{folder}/{path}").Split('/', StringSplitOptions.RemoveEmptyEntries))
            if (part == ".." && parts.Count > 0)
                parts.RemoveAt(parts.Count - 1);
            else if (part is not ("." or ".."))
                parts.Add(part);
        return string.Join('/', parts);
    }
}
