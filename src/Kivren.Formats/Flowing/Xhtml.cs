using System.Text;
using System.Text.RegularExpressions;
using System.Xml;
using System.Xml.Linq;

namespace Kivren.Formats.Flowing;

/// <summary>What differs between pages of a book for reading systems and pages of a site.</summary>
/// <param name="Ending">of the pages' files</param>
/// <param name="Types">elements say what they are by the structural semantics of EPUB</param>
internal sealed record MarkupDialect(string Ending, bool Types)
{
    public static readonly XNamespace Ops = "http://www.idpf.org/2007/ops";

    public static readonly MarkupDialect Epub = new(".xhtml", true),
        Site = new(".html", false);

    public XAttribute? Type(string type) => Types ? new XAttribute(Ops + "type", type) : null;
}

/// <summary>Elements of XHTML, and how they are written so that readers of HTML and of XML take them alike.</summary>
internal static partial class Xhtml
{
    public static readonly XNamespace Ns = "http://www.w3.org/1999/xhtml";

    private static readonly HashSet<string> Void = new(StringComparer.Ordinal) { "br", "img", "meta", "link", "hr", "col", "input" };

    public static XElement El(string name, params object?[] content) => new(Ns + name, content);

    public static XAttribute A(string name, string value) => new(name, Clean(value));

    public static XAttribute? Maybe(string name, string? value) => value is null ? null : A(name, value);

    /// <summary>Text without what XML cannot hold.</summary>
    public static string Clean(string text)
    {
        for (var i = 0; i < text.Length; i++)
            if (!IsSound(text, i))
                return Cleaned(text);
        return text;
    }

    private static bool IsSound(string text, int i) =>
        char.IsHighSurrogate(text[i]) ? i + 1 < text.Length && char.IsLowSurrogate(text[i + 1])
        : char.IsLowSurrogate(text[i]) ? i > 0 && char.IsHighSurrogate(text[i - 1])
        : XmlConvert.IsXmlChar(text[i]) && text[i] is not (>= '\u007f' and <= '\u009f');

    private static string Cleaned(string text)
    {
        var clean = new StringBuilder(text.Length);
        for (var i = 0; i < text.Length; i++)
            clean.Append(IsSound(text, i) ? text[i] : '\uFFFD');
        return clean.ToString();
    }

    /// <summary>A name as a class: what is no letter or digit becomes a hyphen.</summary>
    public static string ClassOf(string role) =>
        "own-" + string.Concat(role.Select(c => char.IsAsciiLetterOrDigit(c) ? char.ToLowerInvariant(c) : '-'));

    /// <summary>A whole page, as bytes. Elements that hold nothing and are none of those that never do get an end of their own.</summary>
    public static byte[] Page(XElement html, bool declared)
    {
        foreach (var element in html.Descendants())
            if (element.IsEmpty && element.Name.Namespace == Ns && !Void.Contains(element.Name.LocalName))
                element.Value = "";
        using var bytes = new MemoryStream();
        var settings = new XmlWriterSettings
        {
            Encoding = new UTF8Encoding(false),
            OmitXmlDeclaration = !declared,
            NewLineHandling = NewLineHandling.Entitize,
        };
        using (var xml = XmlWriter.Create(bytes, settings))
        {
            if (declared)
                xml.WriteStartDocument();
            xml.WriteDocType("html", null, null, null);
            html.WriteTo(xml);
        }
        return declared
            ? bytes.ToArray()
            : new UTF8Encoding(false).GetBytes(VoidEnd().Replace(Encoding.UTF8.GetString(bytes.ToArray()), "<$1>"));
    }

    /// <summary>An element of HTML that never holds anything, as XML writes it; within values and words the signs about it are written
    /// otherwise.</summary>
    [GeneratedRegex("<((?:br|img|meta|link|hr|col|input)\\b[^<>]*) />", RegexOptions.CultureInvariant)]
    private static partial Regex VoidEnd();
}
