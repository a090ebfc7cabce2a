using System.Text.RegularExpressions;
using AngleSharp.Dom;
using Kivren.Core.Content;
using Kivren.Formats.Import;
using Kivren.Formats.Import.Sites;

namespace Kivren.Formats.Html;

// Pictures, and the files that they are.
public sealed partial class HtmlReader
{
    private void Picture(IElement image, IReadOnlyList<SourceSpan> caption, List<SourceBlock> blocks)
    {
        var at = Line(image);
        var alternative = WebUtilityText(PagePictures.AlternativeOf(image)).Trim();
        void Stands(string asset) =>
            blocks.Add(
                new SourcePicture(at, asset, alternative)
                {
                    Caption = caption.Count > 0 ? caption : Carried(),
                    SaidWidth = StyledWidth().Match(image.GetAttribute("style") ?? "") is { Success: true } styled
                        ? styled.Groups[1].Value
                        : image.GetAttribute("width") ?? "",
                }
            );
        var href = image.Closest("a[href]")?.GetAttribute("href") ?? "";
        if (Asset(image, out var named) is { } asset)
            Stands(asset);
        // A figure stays one without its file: the frame waits for it.
        else if (named.Length > 0 && (caption.Count > 0 || (alternative.Length > 0 && href.Length == 0 && !IsAddress(named))))
            Stands(Path.GetFileName(PathOf(named)));
        else
        {
            TellMissing(named);
            // What stands instead of a picture that leads somewhere leads there.
            if (caption.Count > 0)
                blocks.Add(new SourceParagraph(at, "caption", caption));
            else if (alternative.Length > 0 && href.Length > 0 && !IsAddress(href))
                blocks.Add(new SourceParagraph(at, "p", [new SourceReference(TargetOf(href), "", alternative)]));
            else if (alternative.Length > 0)
                blocks.Add(new SourceParagraph(at, "caption", [new SourceRun(alternative)]));
        }
    }

    [GeneratedRegex(@"(?:^|;)\s*width\s*:\s*([^;!]+)", RegexOptions.IgnoreCase)]
    private static partial Regex StyledWidth();

    private void TellMissing(string named)
    {
        if (named.Length > 0)
            Tell(ReportKind.LeftOut, "A picture was not found beside the page. Bring it in together with the page.", named);
    }

    /// <summary>The file that a picture of the page is, or null when there is none.</summary>
    /// <param name="named">the file that it names; "" when it is within the page</param>
    private string? Asset(IElement picture, out string named)
    {
        named = "";
        if (picture.LocalName == "svg")
        {
            var drawing = $"drawing-{_pictures.Count + 1}.svg";
            _pictures[drawing] = PagePictures.DrawingOf(picture)!;
            return drawing;
        }
        var sources = PagePictures.SourcesOf(picture);
        foreach (var source in sources)
            if (Named(source) is { } name)
                return name;
        var last = sources.Count > 0 ? sources[^1] : "";
        // A page is often kept with another size of its picture than it names.
        var stem = PagePictures.StemOf(PathOf(last));
        var other = _found
            .Where(f => DocumentReader.IsPicture(f.Key) && PagePictures.StemOf(f.Key) == stem)
            .OrderByDescending(f => f.Key.EndsWith(".svg", StringComparison.OrdinalIgnoreCase))
            .ThenByDescending(f => f.Value.Length)
            .ThenBy(f => f.Key, StringComparer.Ordinal)
            .FirstOrDefault();
        if (stem.Length > 0 && other.Value is not null)
        {
            Tell(ReportKind.Changed, $"The picture “{last}” was not found; “{other.Key}” was taken, which is another size of it.");
            return Taken(other.Key, other.Value);
        }
        named = last.StartsWith("data:", StringComparison.OrdinalIgnoreCase) ? "" : last;
        return null;
    }

    private string Taken(string path, byte[] bytes)
    {
        var name = Path.GetFileName(path);
        _pictures[name] = bytes;
        return name;
    }

    private string? Named(string source)
    {
        if (
            source.StartsWith("data:", StringComparison.OrdinalIgnoreCase)
            && source.IndexOf("base64,", StringComparison.Ordinal) is var comma and > 0
        )
        {
            try
            {
                var kind =
                    source.Contains("svg", StringComparison.Ordinal) ? "svg"
                    : source.Contains("jpeg", StringComparison.Ordinal) ? "jpg"
                    : "png";
                var name = $"picture-{_pictures.Count + 1}.{kind}";
                _pictures[name] = Convert.FromBase64String(source[(comma + 7)..]);
                return name;
            }
            catch (FormatException)
            {
                Tell(ReportKind.LeftOut, "A picture inside the page is damaged and was left out.");
                return null;
            }
        }
        if (
            _found.TryGetValue(PathOf(source), out var bytes)
            || _found.TryGetValue(SitePage.Resolved(_file, PathOf(source)), out bytes)
            || _found.TryGetValue(Path.GetFileName(PathOf(source)), out bytes)
        )
            return Taken(PathOf(source), bytes);
        return null;
    }

    private static string PathOf(string source)
    {
        var path = source.Split('#', '?')[0];
        try
        {
            path = Uri.UnescapeDataString(path);
        }
        catch (UriFormatException)
        {
            // The path stands as it was written.
        }
        return path.StartsWith("./", StringComparison.Ordinal) ? path[2..] : path;
    }
}
