using System.Xml;

namespace Kivren.Formats.Import;

/// <summary>Looks at how deep a file nests before anything builds a tree of it: what is nested thousands deep is no text that a
/// person wrote, and would exhaust time and stack of whatever reads it.</summary>
internal static class NestingGuard
{
    /// <summary>Deeper than any book: readers give up nesting long before, so nothing real is lost.</summary>
    private const int MostMarkup = 2_000,
        MostMarkdown = 60;

    /// <summary>Elements that need no end, or that the next of their kind ends.</summary>
    private static readonly HashSet<string> Endless = new(StringComparer.OrdinalIgnoreCase)
    {
        "area",
        "base",
        "br",
        "col",
        "embed",
        "hr",
        "img",
        "input",
        "link",
        "meta",
        "param",
        "source",
        "track",
        "wbr",
        "p",
        "li",
        "dt",
        "dd",
        "tr",
        "td",
        "th",
        "thead",
        "tbody",
        "tfoot",
        "option",
        "optgroup",
        "colgroup",
        "rt",
        "rp",
        "html",
        "head",
        "body",
    };

    /// <summary>What is drawn within a page ends its elements as XML does, with a stroke: none of these nests.</summary>
    private static readonly HashSet<string> Strokes = new(StringComparer.OrdinalIgnoreCase)
    {
        "path",
        "rect",
        "circle",
        "ellipse",
        "line",
        "polyline",
        "polygon",
        "use",
        "stop",
        "image",
        "animate",
        "mspace",
    };

    /// <exception cref="SourceFormatException">nested deeper than is read</exception>
    public static void Html(string file, ReadOnlySpan<byte> text)
    {
        var depth = 0;
        for (var i = 0; i + 1 < text.Length; i++)
        {
            if (text[i] != '<')
                continue;
            var ends = text[i + 1] == '/';
            var from = ends ? i + 2 : i + 1;
            var to = from;
            while (to < text.Length && to - from < 20 && char.IsAsciiLetterOrDigit((char)text[to]))
                to++;
            if (to == from || !char.IsAsciiLetter((char)text[from]))
                continue;
            var name = System.Text.Encoding.ASCII.GetString(text[from..to]);
            if (Endless.Contains(name))
                continue;
            // Where it stands in no drawing the stroke ends nothing; the parser itself nests such elements no deeper than 512.
            if (
                !ends
                && Strokes.Contains(name)
                && text[to..] is var rest
                && rest.IndexOf((byte)'>') is > 0 and var close
                && rest[close - 1] == '/'
            )
                continue;
            depth = ends ? Math.Max(0, depth - 1) : depth + 1;
            if (depth > MostMarkup)
                throw Refused(file, MostMarkup);
            i = to - 1;
        }
    }

    /// <exception cref="SourceFormatException">nested deeper than is read</exception>
    /// <exception cref="XmlException">not well formed</exception>
    public static void Xml(string file, XmlReader reader)
    {
        while (reader.Read())
            if (reader.Depth > MostMarkup)
                throw Refused(file, MostMarkup);
    }

    /// <summary>Quotation and list marks at the beginning of a line, and brackets left open in one paragraph.</summary>
    public static void Markdown(string file, string text)
    {
        var open = 0;
        foreach (var line in text.AsSpan().EnumerateLines())
        {
            int marks = 0,
                spaces = 0,
                at = 0;
            for (; at < line.Length; at++)
            {
                var c = line[at];
                if (c is ' ')
                    spaces++;
                else if (c is '\t')
                    spaces += 4;
                else if (c is '>' || (c is '-' or '*' or '+' && at + 1 < line.Length && line[at + 1] is ' ' or '\t'))
                    marks++;
                else if (char.IsAsciiDigit(c))
                    continue;
                else if (c is '.' or ')' && at > 0 && char.IsAsciiDigit(line[at - 1]))
                    marks++;
                else
                    break;
            }
            if (marks > MostMarkdown || (at < line.Length && spaces > MostMarkdown * 8))
                throw Refused(file, MostMarkdown);
            if (line.IsWhiteSpace())
                open = 0;
            foreach (var c in line)
            {
                if (c == '[')
                    open++;
                else if (c == ']')
                    open = Math.Max(0, open - 1);
                if (open > MostMarkup)
                    throw Refused(file, MostMarkup);
            }
        }
    }

    private static SourceFormatException Refused(string file, int most) =>
        new($"{file} is nested more than {most} deep; no text that a person wrote is. It is not read.");
}
