using System.Net;
using System.Text;
using Kivren.Core.Content;

namespace Kivren.Bench;

/// <summary>The same text as one HTML page on the same paper in the same faces, for a browser to print: what our speed is
/// compared with. Numbers, references, index and contents list are left out, which favours the browser.</summary>
internal static class PlainHtml
{
    private const string Style = """
        @page { size: 148mm 210mm; margin: 18mm 15mm 20mm 20mm }
        body { font: 9.5pt/12.5pt "Source Serif 4", serif; text-align: justify; hyphens: auto; widows: 2; orphans: 2; margin: 0 }
        h1, h2, h3, h4 { font-family: "Source Sans 3", sans-serif; text-align: left; break-after: avoid } h1 { break-before: right }
        figure { margin: 12pt 0; break-inside: avoid } img { width: 60% } table { width: 100%; border-collapse: collapse }
        tr { break-inside: avoid }
        pre { font: 8pt/11pt "Source Code Pro", monospace; text-align: left; break-inside: avoid }
        aside { border-left: 2pt solid; padding-left: 8pt; break-inside: avoid }
        """;

    /// <param name="faces">the folder of the faces that ship with the core</param>
    public static string Of(Manual manual, string faces)
    {
        var html = new StringBuilder("<!doctype html><html lang=en-GB><meta charset=utf-8><style>");
        foreach (
            var (family, file, weight, style) in new[]
            {
                ("Source Serif 4", "SourceSerif4_400Regular", 400, "normal"),
                ("Source Serif 4", "SourceSerif4_400Regular_Italic", 400, "italic"),
                ("Source Serif 4", "SourceSerif4_600SemiBold", 600, "normal"),
                ("Source Sans 3", "SourceSans3_400Regular", 400, "normal"),
                ("Source Sans 3", "SourceSans3_600SemiBold", 600, "normal"),
                ("Source Code Pro", "SourceCodePro_400Regular", 400, "normal"),
            }
        )
            html.Append(
                System.Globalization.CultureInfo.InvariantCulture,
                $"@font-face{{font-family:\"{family}\";font-weight:{weight};font-style:{style};src:url(\"file://{faces}/{file}.ttf\")}}"
            );
        html.Append(Style).Append("</style>");
        foreach (var division in manual.Divisions)
        {
            html.Append("<h1>").Append(WebUtility.HtmlEncode(division.Title)).Append("</h1>");
            foreach (var block in division.Blocks)
                Write(html, block);
        }
        return html.ToString();
    }

    private static void Write(StringBuilder html, Block block)
    {
        switch (block)
        {
            case Paragraph p:
                Element(html, "p", p.Content);
                break;
            case Head h:
                Element(html, "h" + ((int)h.Level + 1), h.Content);
                break;
            case ItemList list:
                Items(html, list.Kind == ListKind.Unordered ? "ul" : "ol", list.Items);
                break;
            case Steps steps:
                Items(html, "ol", steps.Items);
                break;
            case Admonition admonition:
                html.Append("<aside>");
                foreach (var inner in admonition.Blocks)
                    Write(html, inner);
                html.Append("</aside>");
                break;
            case Table table:
                html.Append("<table>");
                Element(html, "caption", table.Caption);
                for (var r = 0; r < table.Rows.Count; r++)
                {
                    html.Append(
                        r == 0 ? "<thead><tr>"
                        : r == 1 ? "</thead><tr>"
                        : "<tr>"
                    );
                    foreach (var cell in table.Rows[r].Cells)
                        Element(html, r == 0 ? "th" : "td", cell.Content);
                }
                html.Append("</table>");
                break;
            case Figure figure:
                html.Append("<figure><img src=\"").Append(figure.Asset).Append("\">");
                Element(html, "figcaption", figure.Caption);
                html.Append("</figure>");
                break;
            case Aside aside:
                Boxed(html, aside.Title, aside.Blocks);
                break;
            case Example example:
                Boxed(html, example.Title, example.Blocks);
                break;
            case Equation equation:
                html.Append("<p>").Append(WebUtility.HtmlEncode(equation.Source)).Append("</p>");
                break;
            case DefinitionList definitions:
                html.Append("<dl>");
                foreach (var definition in definitions.Definitions)
                {
                    Element(html, "dt", definition.Term);
                    html.Append("<dd>");
                    foreach (var inner in definition.Blocks)
                        Write(html, inner);
                    html.Append("</dd>");
                }
                html.Append("</dl>");
                break;
            case Listing listing:
                html.Append("<pre>").Append(WebUtility.HtmlEncode(listing.Text)).Append("</pre>");
                break;
        }
    }

    private static void Boxed(StringBuilder html, IReadOnlyList<Inline> title, IReadOnlyList<Block> blocks)
    {
        html.Append("<aside>");
        Element(html, "b", title);
        foreach (var inner in blocks)
            Write(html, inner);
        html.Append("</aside>");
    }

    private static void Items(StringBuilder html, string tag, IReadOnlyList<Item> items)
    {
        html.Append('<').Append(tag).Append('>');
        foreach (var item in items)
        {
            html.Append("<li>");
            foreach (var inner in item.Blocks)
                Write(html, inner);
        }
        html.Append("</").Append(tag).Append('>');
    }

    private static void Element(StringBuilder html, string tag, IReadOnlyList<Inline> content)
    {
        html.Append('<').Append(tag).Append('>');
        Run(html, content);
        html.Append("</").Append(tag).Append('>');
    }

    private static void Run(StringBuilder html, IReadOnlyList<Inline> content)
    {
        foreach (var inline in content)
            switch (inline)
            {
                case TextRun { Roles: SpanRoles.None } text:
                    html.Append(WebUtility.HtmlEncode(text.Text));
                    break;
                case TextRun text:
                    html.Append("<b>").Append(WebUtility.HtmlEncode(text.Text)).Append("</b>");
                    break;
                case InlineEquation equation:
                    html.Append(WebUtility.HtmlEncode(equation.Source));
                    break;
                case Footnote note:
                    html.Append("<small>");
                    Run(html, note.Content);
                    html.Append("</small>");
                    break;
            }
    }
}
