using System.Globalization;
using System.Xml.Linq;
using Kivren.Core.Content;
using Kivren.Core.Listings;
using static Kivren.Formats.Flowing.Xhtml;

namespace Kivren.Formats.Flowing;

/// <summary>Lines of program text as XHTML: what they are is told by weight and slope as well as by colour.</summary>
internal static class ListingMarkup
{
    public static XElement Of(Listing listing, XAttribute id, object?[]? caption)
    {
        var lines = listing.Text.ReplaceLineEndings("\n").TrimEnd('\n').Split('\n');
        var tokens = ListingTokens.Of(lines, listing.Language);
        var code = El("code");
        for (var l = 0; l < lines.Length; l++)
        {
            var line = El("span", A("class", listing.Marked.Contains(l + 1) ? "line marked" : "line"));
            if (listing.LineNumbers)
                line.Add(A("data-line", (l + 1).ToString(CultureInfo.InvariantCulture)));
            foreach (var token in tokens[l])
                line.Add(
                    Clean(lines[l][token.Start..token.End]) is var words && token.Kind == TokenKind.Plain
                        ? new XText(words)
                        : El("span", A("class", "is-" + token.Kind.ToString().ToLowerInvariant()), words)
                );
            code.Add(line, new XText("\n"));
        }
        return El(
            "figure",
            A("class", listing.LineNumbers ? "listing numbered" : "listing"),
            id,
            caption is null ? null : El("figcaption", caption),
            El(
                "pre",
                A("tabindex", "0"),
                A("role", "group"),
                A("aria-label", listing.Caption.PlainText() is { Length: > 0 } words2 ? words2 : "Listing"),
                code
            )
        );
    }
}
