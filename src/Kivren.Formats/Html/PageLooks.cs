using System.Text;
using System.Text.RegularExpressions;
using AngleSharp.Dom;
using Kivren.Core.Content;

namespace Kivren.Formats.Html;

/// <summary>What words without a meaning of their own look like: bold, sloped, of one width, raised or lowered, by the page's own styles
/// (CSS 2.1, font-weight, font-style, font-family, vertical-align).</summary>
internal sealed partial class PageLooks
{
    /// <summary>More rules are the styles of a whole site, not what a writer set in the page.</summary>
    private const int MostRules = 300,
        MostLetters = 200_000;

    private static readonly HashSet<string> Dressed = ["span", "font"];

    private readonly Dictionary<IElement, SpanRoles> _ofRules = [];

    public PageLooks(IDocument page)
    {
        if (page.QuerySelector("span[class], font[class]") is null)
            return;
        var rules = 0;
        foreach (var sheet in page.QuerySelectorAll("style").Select(s => s.TextContent).Where(s => s.Length <= MostLetters))
        foreach (Match rule in Rule().Matches(WithoutComments(sheet)))
        {
            var roles = Of(rule.Groups["declarations"].Value);
            if (roles == SpanRoles.None || rules++ >= MostRules)
                continue;
            try
            {
                foreach (
                    var element in page.QuerySelectorAll(rule.Groups["selectors"].Value.Trim()).Where(e => Dressed.Contains(e.LocalName))
                )
                    _ofRules[element] = _ofRules.GetValueOrDefault(element) | roles;
            }
            catch (DomException)
            {
                // What is no selector chooses nothing.
            }
        }
    }

    public SpanRoles Of(IElement element) =>
        !Dressed.Contains(element.LocalName)
            ? SpanRoles.None
            : _ofRules.GetValueOrDefault(element)
                | Of(element.GetAttribute("style") ?? "")
                | OfFaces(element.LocalName == "font" ? element.GetAttribute("face") ?? "" : "");

    private static SpanRoles Of(string declarations)
    {
        var roles = SpanRoles.None;
        foreach (var declaration in declarations.Split(';'))
        {
            if (declaration.IndexOf(':', StringComparison.Ordinal) is not (> 0 and var colon))
                continue;
            var value = declaration[(colon + 1)..].Replace("!important", "", StringComparison.OrdinalIgnoreCase).Trim().ToLowerInvariant();
            roles |= declaration[..colon].Trim().ToLowerInvariant() switch
            {
                "font-weight" when value is "bold" or "bolder" or "600" or "700" or "800" or "900" => SpanRoles.Strong,
                "font-style" when value is "italic" or "oblique" => SpanRoles.Emphasis,
                "font-family" => OfFaces(value),
                "vertical-align" when value is "super" => SpanRoles.Sup,
                "vertical-align" when value is "sub" => SpanRoles.Sub,
                _ => SpanRoles.None,
            };
        }
        return roles;
    }

    private static SpanRoles OfFaces(string faces) => OneWidth().IsMatch(faces) ? SpanRoles.Code : SpanRoles.None;

    [GeneratedRegex(@"monospace|courier|consolas|menlo|\bmonaco\b|lucida console|\bmono\b", RegexOptions.IgnoreCase)]
    private static partial Regex OneWidth();

    // Rules within others (at-rules) are of other media.
    [GeneratedRegex(@"(?<=^|\}|-->|<!--)(?<selectors>[^{}@<>;]+)\{(?<declarations>[^{}]*)\}")]
    private static partial Regex Rule();

    private static string WithoutComments(string sheet)
    {
        var kept = new StringBuilder();
        var at = 0;
        while (sheet.IndexOf("/*", at, StringComparison.Ordinal) is >= 0 and var opens)
        {
            kept.Append(sheet, at, opens - at);
            var closes = sheet.IndexOf("*/", opens + 2, StringComparison.Ordinal);
            if (closes < 0)
                return kept.ToString();
            at = closes + 2;
        }
        return kept.Append(sheet, at, sheet.Length - at).ToString();
    }
}
