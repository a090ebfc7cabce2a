using System.Globalization;
using System.Text;
using System.Text.RegularExpressions;
using AngleSharp.Dom;
using Kivren.Formats.Import.Sites;

namespace Kivren.Formats.Html;

/// <summary>The pictures of a page: images, objects and frames that show a picture file, drawings within the page; and the files that
/// each may be.</summary>
internal static partial class PagePictures
{
    /// <summary>A drawing within the page that is smaller is a sign of its layout, not a figure; user units.</summary>
    private const double LeastDrawing = 64;

    private static readonly string[] Endings = [".svg", ".png", ".jpg", ".jpeg", ".gif", ".webp", ".bmp", ".emf", ".wmf"];

    /// <summary>Whether it shows a picture itself; what stands within an object for those who cannot show it does not.</summary>
    public static bool IsPicture(INode node) =>
        node is IElement element
        && element.LocalName switch
        {
            "img" => Outer(element) is null,
            "object" or "embed" or "iframe" => SourcesOf(element).Any(IsPictureFile) && Outer(element) is null,
            "svg" => IsDrawing(element) && Outer(element) is null,
            _ => false,
        };

    /// <summary>A picture to press that only leads on (an arrow to the next page) is the words that it stands for.</summary>
    public static void SayWays(IDocument page)
    {
        foreach (var picture in page.QuerySelectorAll("a[href] img").ToList())
            if (
                picture.Closest("a") is { } link
                && !HasWords(link)
                && AlternativeOf(picture) is var words
                && (SiteFurniture.IsWayWord(words) || IsArrow(words))
            )
                picture.Replace(page.CreateTextNode(words));
    }

    /// <summary>Signs and no letter: “->”, “&lt;&lt;”.</summary>
    private static bool IsArrow(string words) => words.Length is > 0 and < 5 && !words.Any(char.IsLetterOrDigit);

    private static IElement? Outer(IElement element)
    {
        for (var at = element.ParentElement; at is not null; at = at.ParentElement)
            if (at.LocalName == "object" && SourcesOf(at).Any(IsPictureFile))
                return at;
        return null;
    }

    public static List<IElement> In(IElement element) => [.. element.QuerySelectorAll("img, object, embed, iframe, svg").Where(IsPicture)];

    /// <summary>The picture that stands here with no word beside it, be it within a link or the like; null where there is none.</summary>
    /// <param name="isBlock">what ends the line that it stands on</param>
    public static IElement? Alone(INode node, Func<IElement, bool> isBlock)
    {
        if (node is not IElement element)
            return null;
        var picture =
            IsPicture(element) ? element
            : element.LocalName is "a" or "span" or "picture" or "font" && In(element) is [var only] && !HasWords(element) ? only
            : null;
        if (picture is null)
            return null;
        foreach (var forward in (bool[])[false, true])
            for (var at = Next(node, forward); at is not null && !(at is IElement e && isBlock(e)); at = Next(at, forward))
                if (IsWord(at))
                    return null;
        return picture;
    }

    private static INode? Next(INode node, bool forward) => forward ? node.NextSibling : node.PreviousSibling;

    /// <summary>Words beside those that stand for a picture.</summary>
    /// <param name="but">a child whose words do not count</param>
    public static bool HasWords(IElement element, IElement? but = null) =>
        element.ChildNodes.Any(n => !ReferenceEquals(n, but) && IsWord(n));

    private static bool IsWord(INode node) =>
        node is IText text
            ? !string.IsNullOrWhiteSpace(text.Data)
            : node is IElement inner && !IsPicture(inner) && inner.LocalName is not ("script" or "style" or "noscript") && HasWords(inner);

    /// <summary>What it says in words.</summary>
    public static string AlternativeOf(IElement picture) =>
        picture.LocalName switch
        {
            "img" => picture.GetAttribute("alt") ?? "",
            "svg" => picture.GetAttribute("aria-label") ?? picture.QuerySelector("title")?.TextContent ?? "",
            _ => picture.GetAttribute("aria-label")
                ?? picture.GetAttribute("title")
                ?? picture.QuerySelector("img")?.GetAttribute("alt")
                ?? picture.TextContent,
        };

    /// <summary>The files that it may be, the best first: a drawing, the largest of several sizes, the one that it names.</summary>
    public static IReadOnlyList<string> SourcesOf(IElement picture)
    {
        var named = new List<(double Size, string Name)>();
        void Add(string? name, double size)
        {
            if (!string.IsNullOrWhiteSpace(name))
                named.Add((size, name.Trim()));
        }
        void AddSet(string? set)
        {
            foreach (var part in (set ?? "").Split(',', StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries))
            {
                var words = part.Split(' ', StringSplitOptions.RemoveEmptyEntries);
                var size =
                    words.Length > 1 && double.TryParse(words[1].TrimEnd('w', 'x'), CultureInfo.InvariantCulture, out var given)
                        ? given * (words[1].EndsWith('x') ? 1_000 : 1)
                        : 1;
                Add(words[0], size);
            }
        }
        switch (picture.LocalName)
        {
            case "img":
                AddSet(picture.GetAttribute("srcset") ?? picture.GetAttribute("data-srcset"));
                if (picture.ParentElement is { LocalName: "picture" } choice)
                    foreach (var source in choice.Children.Where(c => c.LocalName == "source"))
                        AddSet(source.GetAttribute("srcset"));
                Add(picture.GetAttribute("data-src"), .5);
                Add(picture.GetAttribute("src"), 0);
                break;
            case "object":
                Add(picture.GetAttribute("data"), 1);
                Add(picture.QuerySelector("img")?.GetAttribute("src"), 0);
                break;
            default:
                Add(picture.GetAttribute("src"), 0);
                break;
        }
        return
        [
            .. named
                .OrderByDescending(n => PathEndsWith(n.Name, ".svg"))
                .ThenByDescending(n => n.Size)
                .Select(n => n.Name)
                .Distinct(StringComparer.Ordinal),
        ];
    }

    private static bool IsPictureFile(string name) =>
        Endings.Any(e => PathEndsWith(name, e)) || name.StartsWith("data:image/", StringComparison.OrdinalIgnoreCase);

    private static bool PathEndsWith(string name, string ending) =>
        name.Split('#', '?')[0].EndsWith(ending, StringComparison.OrdinalIgnoreCase);

    /// <summary>A drawing within the page, as a file of its own; null for a small sign of the page's layout.</summary>
    public static byte[]? DrawingOf(IElement svg)
    {
        if (!IsDrawing(svg))
            return null;
        var markup = svg.OuterHtml;
        if (!markup.Contains("xmlns=", StringComparison.Ordinal))
            markup = markup.Insert(4, " xmlns=\"http://www.w3.org/2000/svg\"");
        if (markup.Contains("xlink:", StringComparison.Ordinal) && !markup.Contains("xmlns:xlink", StringComparison.Ordinal))
            markup = markup.Insert(4, " xmlns:xlink=\"http://www.w3.org/1999/xlink\"");
        return Encoding.UTF8.GetBytes(markup.Replace("&nbsp;", "\u00A0", StringComparison.Ordinal));
    }

    private static bool IsDrawing(IElement svg)
    {
        static double Number(string? text) =>
            double.TryParse(Digits().Match(text ?? "").Value, CultureInfo.InvariantCulture, out var number) ? number : 0;
        var box = (svg.GetAttribute("viewBox") ?? "").Split([' ', ','], StringSplitOptions.RemoveEmptyEntries);
        var width =
            svg.GetAttribute("width") is { } w && !w.EndsWith('%') ? Number(w)
            : box.Length == 4 ? Number(box[2])
            : 0;
        return width >= LeastDrawing && svg.Children.Length > 0;
    }

    [GeneratedRegex(@"^\s*[\d.]+")]
    private static partial Regex Digits();

    /// <summary>A picture's name without its folder, its ending, and what tells its sizes apart: equal for all files of one
    /// picture.</summary>
    public static string StemOf(string path)
    {
        var stem = Path.GetFileNameWithoutExtension(path).ToLowerInvariant();
        return Sizes().Replace(stem, "") is { Length: > 0 } bare ? bare : stem;
    }

    [GeneratedRegex(@"([-_.]?\d{2,5}x\d{2,5}|@[23]x|[-_.](small|medium|large|thumb|thumbnail|full|orig|original|scaled|\d{2,4}w))+$")]
    private static partial Regex Sizes();
}
