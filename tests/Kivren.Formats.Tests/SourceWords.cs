using System.IO.Compression;
using System.Net;
using System.Text;
using System.Text.RegularExpressions;
using System.Xml;
using Kivren.Core.Content;
using Kivren.Formats.Import;

namespace Kivren.Formats.Tests;

/// <summary>Judges an import from outside: reads the words of the raw source by means of its own, and asks where each of
/// them is, in the manual or in the report.</summary>
internal static partial class SourceWords
{
    [GeneratedRegex(@"[\p{L}\p{N}]+")]
    private static partial Regex Word();

    private static IEnumerable<string> Split(string text) => Word().Matches(text.Normalize(NormalizationForm.FormKC)).Select(m => m.Value);

    /// <summary>Words of the source that stand nowhere. Words that were put together from pieces, or taken apart, count as
    /// there when their letters are.</summary>
    public static IReadOnlyList<string> Missing(string file, byte[] source, Shaped shaped)
    {
        var there = new Dictionary<string, int>(StringComparer.Ordinal);
        foreach (var word in Split(Of(shaped)))
            there[word] = there.GetValueOrDefault(word) + 1;
        var missing = new List<string>();
        foreach (var word in Split(Raw(file, source)))
            if (there.TryGetValue(word, out var n) && n > 0)
                there[word] = n - 1;
            else
                missing.Add(word);
        if (missing.Count is > 0 and < 40)
        {
            var letters = there
                .Where(t => t.Value > 0)
                .SelectMany(t => string.Concat(Enumerable.Repeat(t.Key, Math.Min(t.Value, 50))))
                .GroupBy(c => c)
                .ToDictionary(g => g.Key, g => g.Count());
            // Only words whose pieces are extra in the manual.
            missing.RemoveAll(word =>
            {
                var pieces = there
                    .Where(t =>
                        t.Value > 0 && t.Key.Length > word.Length && t.Key.Contains(word, StringComparison.Ordinal)
                        || t.Value > 0 && word.Contains(t.Key, StringComparison.Ordinal) && t.Key.Length > 1
                    )
                    .Select(t => t.Key)
                    .ToArray();
                return pieces.Length > 0 && word.All(letters.ContainsKey);
            });
        }
        return missing;
    }

    private static string Of(Shaped shaped)
    {
        var text = new StringBuilder(shaped.Title).Append(' ');
        foreach (var line in shaped.Report)
            text.Append(line.Words).Append(' ');
        foreach (var division in shaped.Divisions)
        {
            text.Append(division.Title).Append(' ');
            foreach (var block in division.Blocks.SelectMany(b => b.WithInner()))
            {
                foreach (var spans in block.OwnSpans())
                {
                    // Runs of one stretch of text stand together: a word may change its role in the middle.
                    Spans(spans, text);
                    text.Append(' ');
                }
                if (block is Listing listing)
                    text.Append(listing.Language).Append(' ').Append(listing.Text).Append(' ');
                if (block is Equation equation)
                    text.Append(equation.Source).Append(' ');
                if (block is Figure figure)
                    text.Append(figure.Alternative).Append(' ');
            }
        }
        return text.ToString();
    }

    private static void Spans(IReadOnlyList<Inline> spans, StringBuilder text)
    {
        var after = new StringBuilder();
        foreach (var inline in spans)
            switch (inline)
            {
                case TextRun run:
                    text.Append(run.Text);
                    if (run.Web is not null)
                        after.Append(' ').Append(run.Web);
                    break;
                case LineBreak:
                    text.Append(' ');
                    break;
                case Footnote note:
                    after.Append(' ');
                    Spans(note.Content, after);
                    break;
                case IndexEntry entry:
                    after
                        .Append(' ')
                        .Append(string.Join(' ', entry.Headings))
                        .Append(' ')
                        .Append(entry.See)
                        .Append(' ')
                        .Append(entry.SeeAlso);
                    break;
                case WriterNote note:
                    after.Append(' ').Append(note.Text);
                    break;
                case InlineEquation equation:
                    after.Append(' ').Append(equation.Source);
                    break;
                case InlinePicture picture:
                    after.Append(' ').Append(picture.Alternative);
                    break;
                case CrossReference:
                    text.Append(' ');
                    break;
            }
        text.Append(after);
    }

    private static string Raw(string file, byte[] source) =>
        Path.GetExtension(file).ToLowerInvariant() switch
        {
            ".docx" => Word(source),
            ".html" or ".htm" => Html(Encoding.UTF8.GetString(source)),
            ".xml" => Xml(source),
            _ => Markdown(Encoding.UTF8.GetString(source)),
        };

    /// <summary>All text elements of every part that has text, paragraphs apart.</summary>
    private static string Word(byte[] source)
    {
        var text = new StringBuilder();
        using var zip = new ZipArchive(new MemoryStream(source));
        foreach (
            var entry in zip.Entries.Where(e =>
                Regex.IsMatch(e.FullName, @"^word/(document|footnotes|endnotes|comments|header\d*|footer\d*)\.xml$")
            )
        )
        {
            using var stream = entry.Open();
            using var copy = new StreamReader(stream);
            var xml = Regex.Replace(copy.ReadToEnd(), @"/\s+>", "/>");
            using var reader = XmlReader.Create(new StringReader(xml));
            var fallback = 0;
            while (reader.Read())
            {
                if (reader.NodeType == XmlNodeType.Element && reader.LocalName == "Fallback" && !reader.IsEmptyElement)
                    fallback++;
                if (reader.NodeType == XmlNodeType.EndElement && reader.LocalName == "Fallback")
                    fallback--;
                if (fallback > 0)
                    continue;
                if (reader.NodeType == XmlNodeType.Element && reader.LocalName is "p" or "tab" or "br" or "tc" or "cr")
                    text.Append(' ');
                if (
                    reader.NodeType == XmlNodeType.Element
                    && reader.LocalName == "t"
                    && !reader.IsEmptyElement
                    && !reader.NamespaceURI.EndsWith("/math", StringComparison.Ordinal)
                )
                    text.Append(Inner(reader));
            }
        }
        return text.ToString();
    }

    private static string Inner(XmlReader reader)
    {
        var text = new StringBuilder();
        while (reader.Read() && reader.NodeType != XmlNodeType.EndElement)
            text.Append(reader.Value);
        return text.ToString();
    }

    /// <summary>What is left when all tags are taken away.</summary>
    private static string Html(string source)
    {
        var body = source[Math.Max(0, source.IndexOf("<body", StringComparison.OrdinalIgnoreCase))..];
        body = Regex.Replace(
            body,
            @"<(script|style|noscript|select|textarea)\b.*?</\1>|<!--.*?-->",
            " ",
            RegexOptions.Singleline | RegexOptions.IgnoreCase
        );
        body = Regex.Replace(
            body,
            @"</?(p|div|li|ul|ol|dl|dt|dd|td|th|tr|table|h\d|pre|blockquote|section|br|figure|figcaption)\b[^>]*>",
            " ",
            RegexOptions.IgnoreCase
        );
        return WebUtility.HtmlDecode(Regex.Replace(body, "<[^>]*>", ""));
    }

    private static string Xml(byte[] source)
    {
        var text = new StringBuilder();
        // Characters named but not declared stand as themselves, other names as their names.
        var xml = Encoding.UTF8.GetString(source);
        var declared = Regex
            .Matches(xml, @"<!ENTITY\s+([\w.\-]+)")
            .Select(m => m.Groups[1].Value)
            .Concat(["amp", "lt", "gt", "quot", "apos"])
            .ToHashSet();
        xml = Regex.Replace(xml, @"&([A-Za-z][\w.\-]*);", m => declared.Contains(m.Groups[1].Value) ? m.Value
            : WebUtility.HtmlDecode(m.Value) is var c && c != m.Value ? c
            : m.Groups[1].Value);
        using var reader = XmlReader.Create(
            new StringReader(xml),
            new XmlReaderSettings
            {
                DtdProcessing = DtdProcessing.Parse,
                XmlResolver = null,
                ConformanceLevel = xml.Contains("<!DOCTYPE", StringComparison.Ordinal)
                    ? ConformanceLevel.Document
                    : ConformanceLevel.Fragment,
            }
        );
        while (reader.Read())
        {
            if (reader.NodeType == XmlNodeType.EntityReference)
                reader.ResolveEntity();
            if (reader.NodeType is XmlNodeType.Element or XmlNodeType.EndElement && Apart(reader.LocalName))
                text.Append(' ');
            if (reader.NodeType is XmlNodeType.Text or XmlNodeType.CDATA or XmlNodeType.SignificantWhitespace or XmlNodeType.Whitespace)
                text.Append(reader.Value);
        }
        return text.ToString();
    }

    /// <summary>Elements whose words do not run on into those around them.</summary>
    private static bool Apart(string name) =>
        name
            is "para"
                or "title"
                or "entry"
                or "term"
                or "listitem"
                or "seg"
                or "segtitle"
                or "member"
                or "screen"
                or "programlisting"
                or "keycap"
                or "guimenu"
                or "guimenuitem"
                or "footnote"
                or "refname"
                or "refpurpose"
                or "manvolnum"
                or "refentrytitle"
                or "firstname"
                or "surname"
                or "email"
                or "contrib"
                or "year"
                or "holder"
                or "arg"
                or "attribution"
                or "question"
                or "answer"
                or "phrase"
                or "personname"
                or "author"
                or "subtitle"
                or "sbr"
                or "group"
                or "indexterm"
                or "primary"
                or "secondary"
                or "tertiary"
                or "see"
                or "seealso";

    private static string Markdown(string source) =>
        Regex.Replace(
            source,
            @"^\[\^?[^\]]*\]:\s*|\[\^[^\]]*\]|^(-{3,}|title:.*)$|\[![A-Z]+\]|\]\(#[^)]*\)|^\s*\d+[.)]",
            " ",
            RegexOptions.Multiline
        );
}
