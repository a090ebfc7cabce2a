using Markdig.Syntax;
using Markdig.Syntax.Inlines;

namespace Kivren.Formats.Markdown;

internal static class MarkdownWords
{
    /// <summary>What a reader of the text sees, without marks.</summary>
    public static string Plain(ContainerInline? inline) =>
        inline is null
            ? ""
            : string.Concat(
                    inline
                        .Descendants()
                        .Select(d =>
                            d switch
                            {
                                LiteralInline l => l.Content.ToString(),
                                CodeInline c => c.Content,
                                LineBreakInline => " ",
                                HtmlEntityInline e => e.Transcoded.ToString(),
                                _ => "",
                            }
                        )
                )
                .Trim();
}
