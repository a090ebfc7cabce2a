using AngleSharp.Dom;

namespace Kivren.Formats.Html;

/// <summary>A line that begins with a link, of a page whose lines end by breaks.</summary>
/// <param name="Letters">of the whole line</param>
/// <param name="Indent">hard spaces before it</param>
/// <param name="Group">the head over it that is no link itself; ""</param>
internal sealed record BrokenLine(IElement Link, int Letters, int Indent, string Group);

/// <summary>Lines that stand one under another without a list: breaks, paragraphs and heads end them.</summary>
internal static class BrokenLines
{
    /// <summary>Lists are read as what they are; a bar of links is none.</summary>
    private static readonly HashSet<string> Others = ["ul", "ol", "dl", "nav", "header", "footer", "aside", "pre", "form", "script"];

    private static readonly HashSet<string> Ends =
    [
        "p",
        "div",
        "section",
        "article",
        "center",
        "blockquote",
        "br",
        "hr",
        "table",
        "tr",
        "td",
        "th",
    ];

    /// <returns>lines with one link each, which is what they begin with</returns>
    public static List<BrokenLine> In(IElement main)
    {
        var found = new List<BrokenLine>();
        IElement? link = null;
        var (letters, links, indent, group, broken) = (0, 0, 0, "", false);
        IElement? bold = null;
        void End()
        {
            if (link is not null && links == 1)
                found.Add(new BrokenLine(link, letters, indent, group));
            // A line that is bold and nothing else is a head over those below.
            else if (links == 0 && bold is not null && Letters(bold.TextContent) == letters && bold.TextContent.Any(char.IsLetter))
                group = Words(bold.TextContent);
            (link, bold, letters, links, indent) = (null, null, 0, 0, 0);
        }
        void Walk(INode node)
        {
            foreach (var child in node.ChildNodes)
            {
                if (child is IText hard && letters == 0)
                    indent += hard.Data.TakeWhile(char.IsWhiteSpace).Count(c => c == '\u00A0');
                if (child is IText text)
                    letters += Letters(text.Data);
                if (child is not IElement e)
                    continue;
                // A table without breaks is read by its rows.
                if (Others.Contains(e.LocalName) || (e.LocalName == "table" && e.QuerySelector("br") is null))
                {
                    // What stands beside a list in a line is no line by itself.
                    (link, bold, letters, links, indent) = (null, null, 0, 0, 0);
                    continue;
                }
                var isHead = e.LocalName is ['h', >= '1' and <= '6'];
                if (isHead || Ends.Contains(e.LocalName))
                    End();
                broken |= e.LocalName == "br";
                if (isHead && e.QuerySelector("a[href]") is null)
                {
                    group = Words(e.TextContent);
                    continue;
                }
                if (e.LocalName is "b" or "strong" && letters == 0)
                    bold = e;
                if (e.LocalName == "a" && e.HasAttribute("href"))
                {
                    links++;
                    if (letters == 0)
                        link = e;
                }
                Walk(e);
                if (isHead || Ends.Contains(e.LocalName))
                    End();
            }
        }
        Walk(main);
        End();
        return broken ? found : [];
    }

    private static int Letters(string text) => Words(text) is { Length: > 0 } words ? words.Length + 1 : 0;

    private static string Words(string text) => string.Join(' ', text.Split((char[]?)null, StringSplitOptions.RemoveEmptyEntries));
}
