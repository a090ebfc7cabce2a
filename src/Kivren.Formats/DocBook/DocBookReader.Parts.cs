using System.Text;
using System.Text.RegularExpressions;
using System.Xml;
using System.Xml.Linq;
using AngleSharp.Html;
using Kivren.Formats.Import;

namespace Kivren.Formats.DocBook;

// The file as XML: its encoding, its entities, the files that it draws in.
public sealed partial class DocBookReader
{
    private XElement Parse(string name, byte[] bytes, int depth)
    {
        var text = Text(bytes);
        var settings = new XmlReaderSettings
        {
            DtdProcessing = DtdProcessing.Parse,
            MaxCharactersFromEntities = MostFromEntities,
            XmlResolver = new Beside(_beside, Undeclared(text), _drawn),
        };
        // Names of characters need a document type to be declared in; one that an example shows is none.
        if (!HasType().IsMatch(text) && Reference().IsMatch(text))
        {
            var at = text.StartsWith("<?xml", StringComparison.Ordinal) ? text.IndexOf("?>", StringComparison.Ordinal) + 2 : 0;
            var root = Regex.Match(text[at..], @"<([A-Za-z_][\w.\-]*)");
            if (root.Success)
                text = text[..at] + $"<!DOCTYPE {root.Groups[1].Value} SYSTEM \"{Beside.Names}\">" + text[at..];
        }
        // A document type of its own declarations alone is asked for no others.
        else
            text = InternalOnly().Replace(text, $"<!DOCTYPE $1 SYSTEM \"{Beside.Names}\" $2", 1);
        try
        {
            XElement root;
            try
            {
                root = Tree(text, settings, name);
            }
            catch (XmlException e) when (e.Message.Contains("multiple root", StringComparison.Ordinal))
            {
                // A piece that another file draws in may hold several elements side by side.
                var begins = Regex
                    .Match(text, @"^(\s*<\?xml[^>]*\?>|\s*<!DOCTYPE[^\[>]*(\[.*?\]\s*)?>|\s*<!--.*?-->)*", RegexOptions.Singleline)
                    .Length;
                root = Tree(
                    text[..begins].Replace("<!DOCTYPE ", "<!DOCTYPE set-of-", StringComparison.Ordinal)
                        + "<set>"
                        + text[begins..]
                        + "</set>",
                    settings,
                    name
                );
            }
            Include(root, depth);
            return root;
        }
        catch (XmlException e)
        {
            throw new SourceFormatException(
                e.Message.Contains("MaxCharactersFromEntities", StringComparison.Ordinal)
                    ? $"{name}, line {e.LineNumber}: its entities unfold to more than {MostFromEntities / 1_000_000} million "
                        + $"characters; it is not read."
                    : $"{name}, line {e.LineNumber}: {e.Message}"
            );
        }
        catch (FileNotFoundException e)
        {
            throw new SourceFormatException($"{name} draws on another file: {e.Message}. Bring it in together with this one.");
        }
    }

    [GeneratedRegex(@"<!DOCTYPE\s+([\w.:\-]+)\s*(\[|>)")]
    private static partial Regex InternalOnly();

    private static XElement Tree(string text, XmlReaderSettings settings, string name)
    {
        using (var depth = XmlReader.Create(new StringReader(text), settings, "file:///brought-in/" + name))
            NestingGuard.Xml(name, depth);
        using var reader = XmlReader.Create(new StringReader(text), settings, "file:///brought-in/" + name);
        return XDocument.Load(reader, LoadOptions.SetLineInfo | LoadOptions.PreserveWhitespace).Root
            ?? throw new SourceFormatException($"{name} holds nothing.");
    }

    private static string Text(byte[] bytes)
    {
        // The declaration says which encoding it is; without one it is UTF-8.
        var start = Encoding.Latin1.GetString(bytes, 0, Math.Min(200, bytes.Length));
        if (bytes.AsSpan().StartsWith((ReadOnlySpan<byte>)[0xFF, 0xFE]))
            return Encoding.Unicode.GetString(bytes, 2, bytes.Length - 2);
        if (bytes.AsSpan().StartsWith((ReadOnlySpan<byte>)[0xFE, 0xFF]))
            return Encoding.BigEndianUnicode.GetString(bytes, 2, bytes.Length - 2);
        var named = Regex.Match(start, "encoding=[\"']([\\w\\-]+)[\"']");
        Encoding encoding = Encoding.UTF8;
        if (named.Success)
            try
            {
                encoding = CodePages.Named(named.Groups[1].Value);
            }
            catch (ArgumentException)
            {
                // Not known here: UTF-8 shows what it can.
            }
        return encoding.GetString(bytes).TrimStart('\uFEFF');
    }

    [GeneratedRegex(@"&([A-Za-z][\w.\-]*);")]
    private static partial Regex Reference();

    [GeneratedRegex(@"<!ENTITY\s+(?:%\s+)?[\w.\-]+\s+(?:SYSTEM|PUBLIC\s+(?:""[^""]*""|'[^']*'))\s+(?:""([^""]*)""|'([^']*)')")]
    private static partial Regex Part();

    /// <summary>The text with the files that its entities draw in.</summary>
    private List<string> WithParts(string text)
    {
        var all = new List<string> { text };
        var met = new HashSet<string>(StringComparer.Ordinal);
        for (var i = 0; i < all.Count; i++)
            foreach (Match part in Part().Matches(all[i]))
            {
                var name = part.Groups[1].Value + part.Groups[2].Value;
                if (met.Add(name) && (_beside.TryGetValue(name, out var bytes) || _beside.TryGetValue(Path.GetFileName(name), out bytes)))
                    all.Add(Text(bytes));
            }
        return all;
    }

    [GeneratedRegex(@"\A\s*(<\?.*?\?>\s*|<!--.*?-->\s*)*<!DOCTYPE", RegexOptions.Singleline)]
    private static partial Regex HasType();

    /// <summary>Declarations of the characters that the text and its parts name and do not declare themselves.</summary>
    private string Undeclared(string text)
    {
        var all = WithParts(text);
        var declared = all.SelectMany(t => Regex.Matches(t, @"<!ENTITY\s+([\w.\-]+)"))
            .Select(m => m.Groups[1].Value)
            .Concat(["amp", "lt", "gt", "quot", "apos"])
            .ToHashSet(StringComparer.Ordinal);
        var names = new StringBuilder();
        var named = all.SelectMany(t => Reference().Matches(t)).Select(m => m.Groups[1].Value).Distinct();
        foreach (var name in named.Where(n => !declared.Contains(n)))
            if (CommonEntities.Of(name) is { } markup)
            {
                names.Append($"<!ENTITY {name} \"{markup}\">");
                Tell(ReportKind.Changed, $"“&{name};” is declared nowhere in these files; it was read as manuals commonly mean it.");
            }
            else if (HtmlEntityProvider.Resolver.GetSymbol(name + ";") is not { Length: > 0 } symbol)
            {
                // A name that another file declares: it stands as words, so that the rest can be read.
                names.Append($"<!ENTITY {name} \"[{name}]\">");
                Tell(ReportKind.Look, $"“&{name};” is declared nowhere in these files; it stands as [{name}].");
            }
            else
                names.Append($"<!ENTITY {name} \"{string.Concat(symbol.EnumerateRunes().Select(r => $"&#{r.Value};"))}\">");
        return names.ToString();
    }

    /// <summary>Gives the parser what was brought in with the file, and nothing else: no file of the machine, no network.</summary>
    private sealed class Beside(IReadOnlyDictionary<string, byte[]> files, string names, HashSet<string> drawn) : XmlResolver
    {
        public const string Names = "names-of-characters";

        public override object GetEntity(Uri absoluteUri, string? role, Type? ofObjectToReturn)
        {
            var path = Uri.UnescapeDataString(absoluteUri.AbsolutePath)
                .Replace("/brought-in/", "", StringComparison.Ordinal)
                .TrimStart('/');
            if (files.TryGetValue(path, out var bytes) || files.TryGetValue(Path.GetFileName(path), out bytes))
            {
                drawn.Add(path);
                return new MemoryStream(bytes);
            }
            if (path.EndsWith(".dtd", StringComparison.OrdinalIgnoreCase) || path.EndsWith(Names, StringComparison.Ordinal))
                return new MemoryStream(Encoding.UTF8.GetBytes(names));
            if (path.EndsWith(".ent", StringComparison.OrdinalIgnoreCase) || path.EndsWith(".mod", StringComparison.OrdinalIgnoreCase))
                return new MemoryStream();
            throw new FileNotFoundException(Path.GetFileName(path));
        }
    }

    private void Include(XElement root, int depth)
    {
        foreach (
            var include in root.Descendants()
                .Where(e => e.Name.LocalName == "include" && e.Name.NamespaceName.Contains("XInclude", StringComparison.Ordinal))
                .ToList()
        )
        {
            var href = include.Attribute("href")?.Value ?? "";
            if (depth < 8 && (_beside.TryGetValue(href, out var bytes) || _beside.TryGetValue(Path.GetFileName(href), out bytes)))
            {
                _drawn.Add(href);
                include.ReplaceWith(
                    include.Attribute("parse")?.Value == "text" ? new XText(Encoding.UTF8.GetString(bytes)) : Parse(href, bytes, depth + 1)
                );
            }
            else
            {
                _place = ((IXmlLineInfo)include).LineNumber;
                Tell(ReportKind.LeftOut, $"The text draws on {href}, which was not brought in with it.");
            }
        }
    }
}
