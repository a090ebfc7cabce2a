using System.Text.RegularExpressions;

namespace Kivren.Formats.Html;

/// <summary>Pages in XHTML that are read as HTML. An element that is closed where it opens, as in an anchor of nothing but an id, would
/// stay open over all that follows, and a caption would stand in it and not in its table.</summary>
internal static partial class XhtmlTags
{
    /// <summary>A page says within its first lines that it is XHTML.</summary>
    private const int Beginning = 1000;

    /// <summary>The page with every element that closes itself closed by a tag of its own, on the same line; as it is where it is no XHTML.
    /// </summary>
    public static string Closed(string page) =>
        Says().IsMatch(page[..Math.Min(page.Length, Beginning)]) ? ClosesItself().Replace(page, "<$1$2></$1>") : page;

    [GeneratedRegex(@"^\s*<\?xml|DTD XHTML|xmlns=[""']http://www\.w3\.org/1999/xhtml", RegexOptions.CultureInvariant)]
    private static partial Regex Says();

    /// <summary>But for elements that hold nothing in HTML (13.1.2 of its standard), which have no end tag.</summary>
    [GeneratedRegex(
        @"<((?!(?:area|base|br|col|embed|hr|img|input|link|meta|param|source|track|wbr)\b)[A-Za-z][A-Za-z0-9]*)(\s[^<>]*)?/>",
        RegexOptions.IgnoreCase | RegexOptions.CultureInvariant
    )]
    private static partial Regex ClosesItself();
}
