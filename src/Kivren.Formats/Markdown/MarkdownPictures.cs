using Kivren.Formats.Import.Sites;
using Markdig.Syntax.Inlines;

namespace Kivren.Formats.Markdown;

/// <summary>Picture files that a text names.</summary>
/// <param name="found">files beside the text, by their path from it</param>
internal sealed class MarkdownPictures(string file, IReadOnlyDictionary<string, byte[]> found)
{
    /// <summary>Those that were named, by the name that a picture of the manual gets.</summary>
    public Dictionary<string, byte[]> Taken { get; } = new(StringComparer.Ordinal);

    public IReadOnlyDictionary<string, byte[]> Found => found;

    public static string PathOf(string? url)
    {
        var path = (url ?? "").Split('?', '#')[0];
        try
        {
            return Uri.UnescapeDataString(path);
        }
        catch (UriFormatException)
        {
            return path;
        }
    }

    /// <returns>the name of the picture; null where its file is not there</returns>
    public string? Of(string? url)
    {
        var path = PathOf(url);
        if (
            path.Length == 0
            || !(
                found.TryGetValue(path, out var bytes)
                || found.TryGetValue(SitePage.Resolved(file, path), out bytes)
                || found.TryGetValue(Path.GetFileName(path), out bytes)
            )
        )
            return null;
        var name = Path.GetFileName(path);
        Taken[name] = bytes;
        return name;
    }

    /// <summary>The name under which a figure waits for its file; null for a picture that is elsewhere on the web, or says
    /// nothing.</summary>
    public static string? Waiting(LinkInline image) =>
        MarkdownWords.Plain(image).Length > 0 && !Uri.TryCreate(image.Url, UriKind.Absolute, out _)
            ? Path.GetFileName(PathOf(image.Url))
            : null;
}
