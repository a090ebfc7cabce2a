using System.Text;
using System.Text.RegularExpressions;
using System.Xml;
using System.Xml.Linq;
using AngleSharp.Html;
using Kivren.Core.Content;
using Kivren.Formats.Import;
using Kivren.Formats.Import.Sites;

namespace Kivren.Formats.DocBook;

/// <summary>Reads DocBook 5 (and 4, whose elements have the same names).</summary>
public sealed partial class DocBookReader
{
    private const int MostDepth = 60;
    private const int MostFromEntities = 20_000_000;

    private static readonly HashSet<string> Divisions =
    [
        "part",
        "chapter",
        "appendix",
        "preface",
        "article",
        "reference",
        "refentry",
        "dedication",
        "acknowledgements",
        "colophon",
        "glossary",
        "bibliography",
    ];
    private static readonly HashSet<string> Sections =
    [
        "section",
        "sect1",
        "sect2",
        "sect3",
        "sect4",
        "sect5",
        "simplesect",
        "refsect1",
        "refsect2",
        "refsect3",
        "refsection",
        "refsynopsisdiv",
        "bridgehead",
        "topic",
        "glossdiv",
        "bibliodiv",
    ];
    private static readonly HashSet<string> Formal =
    [
        "title",
        "titleabbrev",
        "info",
        "bookinfo",
        "articleinfo",
        "chapterinfo",
        "sectioninfo",
        "refmeta",
        "refentryinfo",
    ];
    private static readonly HashSet<string> Admonitions = ["danger", "warning", "caution", "important", "note", "tip"];
    private static readonly HashSet<string> Listings =
    [
        "programlisting",
        "screen",
        "literallayout",
        "synopsis",
        "classsynopsis",
        "address",
    ];
    private static readonly HashSet<string> BlockNames =
    [
        "para",
        "simpara",
        "formalpara",
        "itemizedlist",
        "orderedlist",
        "variablelist",
        "simplelist",
        "procedure",
        "segmentedlist",
        "calloutlist",
        "qandaset",
        "glosslist",
        "table",
        "informaltable",
        "figure",
        "informalfigure",
        "mediaobject",
        "screenshot",
        "example",
        "informalexample",
        "sidebar",
        "blockquote",
        "epigraph",
        "equation",
        "informalequation",
        "cmdsynopsis",
        "abstract",
        "bibliolist",
        "revhistory",
        "index",
        "toc",
        "lot",
        .. Admonitions,
        .. Listings,
    ];

    private readonly string _file;
    private readonly IReadOnlyDictionary<string, byte[]> _beside;
    private readonly CancellationToken _cancel;
    private readonly List<ReportLine> _met = [];
    private readonly Dictionary<string, byte[]> _pictures = new(StringComparer.Ordinal);
    private readonly Dictionary<string, StyleFacts> _styles = new(StringComparer.Ordinal);
    private readonly List<SourceSpan> _carried = [];
    private readonly Dictionary<string, string> _titles = new(StringComparer.Ordinal);
    private readonly HashSet<string> _drawn = new(StringComparer.Ordinal);
    private readonly HashSet<string> _ends = new(StringComparer.Ordinal);
    private int _place;

    private DocBookReader(string file, IReadOnlyDictionary<string, byte[]> beside, CancellationToken cancel)
    {
        _file = file;
        _beside = beside;
        _cancel = cancel;
        foreach (
            var (kind, role) in new[]
            {
                ("part", "part"),
                ("reference", "part"),
                ("legal page", "legal"),
                ("chapter", "chapter"),
                ("article", "chapter"),
                ("refentry", "chapter"),
                ("appendix", "appendix"),
                ("glossary", "appendix"),
                ("bibliography", "appendix"),
                ("colophon", "appendix"),
                ("preface", "preface"),
                ("dedication", "preface"),
                ("acknowledgements", "preface"),
            }
        )
            _styles[$"title of {kind}"] = new StyleFacts(Role: role);
        for (var level = 1; level <= 6; level++)
            _styles[$"title of section {level}"] = new StyleFacts(level);
        _styles["para"] = new StyleFacts(Role: ImportRole.Body);
        _styles["title of book"] = new StyleFacts(Role: ImportRole.Title);
        _styles["procedure"] = new StyleFacts(Role: ImportRole.Steps);
        _styles["important"] = new StyleFacts(Role: "notice");
        foreach (var (kind, role) in InlineNames.Roles)
            _styles[kind] = new StyleFacts(Role: role);
    }

    /// <param name="beside">files that the text may name, by their path from it</param>
    /// <exception cref="SourceFormatException">it is no well-formed XML, or its entities unfold beyond all bounds</exception>
    public static SourceDocument Read(
        string file,
        byte[] bytes,
        IReadOnlyDictionary<string, byte[]> beside,
        CancellationToken cancel = default
    ) => new DocBookReader(file, beside, cancel).Document(bytes);

    private SourceDocument Document(byte[] bytes)
    {
        var root = Parse(_file, bytes, 0);
        static bool IsOfBooks(string name) => Divisions.Contains(name) || Sections.Contains(name) || BlockNames.Contains(name);
        if (!root.DescendantsAndSelf().Any(e => IsOfBooks(e.Name.LocalName)))
            throw new SourceFormatException($"{_file} is XML, but no DocBook: its outermost element is <{root.Name.LocalName}>.");
        foreach (var named in root.DescendantsAndSelf())
        {
            if (IdOf(named) is { } id && (Child(named, "title") ?? Child(Child(named, "info"), "title")) is { } title)
                _titles[id] = Words(title);
            if (named.Name.LocalName == "footnote" && IdOf(named) is { } note)
                _noteElements.TryAdd(note, named);
            if (
                named.Name.LocalName == "indexterm"
                && named.Attribute("class")?.Value == "endofrange"
                && named.Attribute("startref")?.Value is { } start
            )
                _ends.Add(start);
        }
        var blocks = new List<SourceBlock>();
        var info = Child(root, "info") ?? Child(root, root.Name.LocalName + "info");
        var bookTitle = Child(root, "title") ?? Child(info, "title");
        if (root.Name.LocalName is "book" or "set")
        {
            if (bookTitle is not null)
                blocks.Add(new SourceParagraph(Line(bookTitle), "title of book", SpansOf(bookTitle)));
            if ((Child(root, "subtitle") ?? Child(info, "subtitle")) is { } subtitle)
                blocks.Add(new SourceParagraph(Line(subtitle), "subtitle", SpansOf(subtitle)));
            Legal(info, blocks);
            Children(root, blocks, 0, 0);
        }
        else
            Block(root, blocks, 0, 0);
        foreach (var text in UnsaidWords.Of(root, blocks, _met.Select(m => m.Words)).ToList())
            _met.Add(
                ReportLine.At(
                    ReportKind.LeftOut,
                    _file,
                    "line",
                    Math.Max(1, Line(text.Parent!)),
                    $"Words in a <{text.Parent!.Name.LocalName}> have no place where they stand, and were left out.",
                    Space().Replace(text.Value, " ").Trim()
                )
            );
        return new SourceDocument(_file, blocks)
        {
            Title = bookTitle is null ? "" : Words(bookTitle),
            Language = root.Attributes().FirstOrDefault(a => a.Name.LocalName == "lang")?.Value is { Length: > 1 } language ? language : "",
            Styles = _styles,
            Pictures = _pictures,
            Met = _met,
            DrawsIn = [.. _drawn.Select(name => SitePage.Resolved(_file, name))],
        };
    }

    // ---- XML ----

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

    private static XElement? Child(XElement? element, string name) => element?.Elements().FirstOrDefault(e => e.Name.LocalName == name);

    private static string? IdOf(XElement element) => element.Attributes().FirstOrDefault(a => a.Name.LocalName == "id")?.Value;

    private static string Words(XElement element) =>
        string.Join(' ', element.Value.Split((char[]?)null, StringSplitOptions.RemoveEmptyEntries));

    private static string LanguageAt(XElement element) =>
        element.AncestorsAndSelf().SelectMany(e => e.Attributes()).FirstOrDefault(a => a.Name.LocalName == "lang")?.Value ?? "";

    private int Line(XElement element)
    {
        if (element is IXmlLineInfo info && info.HasLineInfo())
            _place = info.LineNumber;
        return _place;
    }

    private void Tell(ReportKind kind, string what, string words = "") =>
        _met.Add(ReportLine.At(kind, _file, "line", Math.Max(1, _place), what, words));

    /// <summary>Who wrote a book and who may use it stands on its legal page.</summary>
    private void Legal(XElement? info, List<SourceBlock> blocks)
    {
        if (info is null)
            return;
        var parts = BookRecord.Parts(info).ToArray();
        if (parts.Length == 0)
            return;
        blocks.Add(new SourceParagraph(Line(info), "title of legal page", [new SourceRun("Legal page")]));
        foreach (var part in parts)
        {
            // Paragraphs stand by themselves; what else a part says, as a person's name, is a line above them.
            static bool IsOwn(XElement e) => IsBlock(e) && e.Name.LocalName is not ("address" or "legalnotice" or "abstract");
            if (!IsOwn(part) && BookRecord.Line(part, IsOwn) is { Length: > 0 } words)
                blocks.Add(new SourceParagraph(Line(part), "imprint", [new SourceRun(words)]));
            foreach (
                var own in part.DescendantsAndSelf().Where(e => IsOwn(e) && !e.Ancestors().TakeWhile(a => a != info).Any(IsOwn)).ToList()
            )
            {
                var inner = new List<SourceBlock>();
                Children(new XElement(info.Name, own), inner, 0, 1);
                blocks.AddRange(inner.Select(b => b is SourceParagraph { Style: "para" } p ? p with { Style = "imprint" } : b));
            }
        }
    }

    private static string SpacedWords(XElement element) =>
        string.Join(' ', element.DescendantNodes().OfType<XText>().Select(t => t.Value.Trim()).Where(t => t.Length > 0));

    private void InfoWords(XElement? info)
    {
        if (info is null)
            return;
        Line(info);
        foreach (var part in info.Elements().Where(e => e.Name.LocalName is not ("title" or "titleabbrev")))
            if (SpacedWords(part) is { Length: > 0 } words)
                Tell(
                    ReportKind.LeftOut,
                    $"The {part.Name.LocalName} of the document's own record was left out; put it on the title or legal page.",
                    words
                );
    }

    // ---- blocks ----

    private List<SourceSpan> Carried()
    {
        var carried = _carried.ToList();
        _carried.Clear();
        return carried;
    }

    private void Children(XElement parent, List<SourceBlock> blocks, int section, int depth)
    {
        _cancel.ThrowIfCancellationRequested();
        if (depth > MostDepth)
        {
            if (Words(parent) is { Length: > 0 } words)
            {
                Tell(ReportKind.Changed, $"What is nested more than {MostDepth} deep stands as one paragraph.");
                blocks.Add(new SourceParagraph(Line(parent), "para", [new SourceRun(words)]));
            }
            return;
        }
        var loose = new List<SourceSpan>();
        void Close()
        {
            if (loose.Words().Trim().Length > 0)
                blocks.Add(new SourceParagraph(Line(parent), "para", [.. Carried(), .. loose]));
            else
                _carried.AddRange(loose.Where(s => s is SourceBookmark or SourceAtom { Inline: IndexEntry }));
            loose.Clear();
        }
        foreach (var node in parent.Nodes())
            if (node is XElement element && (IsBlock(element) || Formal.Contains(element.Name.LocalName)))
            {
                Close();
                if (!Formal.Contains(element.Name.LocalName))
                    Block(element, blocks, section, depth + 1);
            }
            else
                Spans(node, loose, SpanRoles.None, null, null);
        Close();
    }

    private static bool IsBlock(XElement e) =>
        BlockNames.Contains(e.Name.LocalName)
        || Divisions.Contains(e.Name.LocalName)
        || Sections.Contains(e.Name.LocalName)
        || e.Name.LocalName
            is "listitem"
                or "step"
                or "substeps"
                or "refnamediv"
                or "partintro"
                or "answer"
                or "question"
                or "glossentry"
                or "bibliomixed"
                or "biblioentry"
                or "legalnotice"
                or "highlights"
                or "segtitle";

    private void Titled(XElement element, string style, List<SourceBlock> blocks)
    {
        if (IdOf(element) is { } id)
            _carried.Add(new SourceBookmark(id));
        var info = Child(element, "info") ?? Child(element, element.Name.LocalName + "info");
        if ((Child(element, "title") ?? Child(info, "title")) is { } title)
        {
            if (IdOf(title) is { } own)
                _carried.Add(new SourceBookmark(own));
            blocks.Add(new SourceParagraph(Line(title), style, [.. Carried(), .. SpansOf(title)]));
            if (Child(Child(element, "refmeta"), "refentrytitle") is { } other)
                Tell(ReportKind.LeftOut, "A second title of a reference page was left out.", Words(other));
        }
        else if (style.StartsWith("title of", StringComparison.Ordinal))
        {
            var name = element.Name.LocalName;
            var words = name switch
            {
                "refsynopsisdiv" => "Synopsis",
                "glossary" or "preface" => LanguageWords.Of(LanguageAt(element))[name],
                "bibliography" => "Bibliography",
                "dedication" => "Dedication",
                "colophon" => "Colophon",
                _ => "",
            };
            // A page of a reference is titled by what it names.
            if (name == "refentry")
                words =
                    Child(Child(element, "refmeta"), "refentrytitle") is { } named ? Words(named)
                    : element.Descendants().FirstOrDefault(e => e.Name.LocalName == "refname") is { } refname ? Words(refname)
                    : "";
            if (words.Length > 0)
                blocks.Add(new SourceParagraph(Line(element), style, [.. Carried(), new SourceRun(words)]));
        }
        InfoWords(info);
    }

    private void Block(XElement element, List<SourceBlock> blocks, int section, int depth)
    {
        var name = element.Name.LocalName;
        var at = Line(element);
        if (Divisions.Contains(name))
        {
            Titled(element, $"title of {name}", blocks);
            if (
                name == "refentry"
                && Child(element, "refmeta") is { } meta
                && Words(meta) is { Length: > 0 } words
                && Child(meta, "manvolnum") is not null
            )
                Tell(
                    ReportKind.LeftOut,
                    "The volume of a reference page was left out.",
                    string.Join(' ', meta.Elements().Where(e => e.Name.LocalName != "refentrytitle").Select(Words))
                );
            Children(element, blocks, 0, depth);
            return;
        }
        if (name == "bridgehead")
        {
            blocks.Add(
                new SourceParagraph(at, $"title of section {Math.Clamp(section + 1, 1, 6)}", [.. Named(element), .. SpansOf(element)])
            );
            return;
        }
        if (Sections.Contains(name))
        {
            Titled(element, $"title of section {Math.Clamp(section + 1, 1, 6)}", blocks);
            Children(element, blocks, section + 1, depth);
            return;
        }
        if (Admonitions.Contains(name) || name is "sidebar" or "blockquote" or "epigraph")
        {
            Group(element, name == "epigraph" ? "blockquote" : name, blocks, section, depth);
            return;
        }
        if (Listings.Contains(name) || name == "cmdsynopsis")
        {
            if (element.Elements().Any(IsBlock))
            {
                Children(element, blocks, section, depth);
                return;
            }
            blocks.Add(
                new SourceListing(
                    at,
                    element.Attribute("language")?.Value ?? "",
                    name == "cmdsynopsis" ? Synopsis(element) : Verbatim(element)
                )
                {
                    Caption = Named(element),
                }
            );
            return;
        }
        switch (name)
        {
            case "para" or "simpara" or "segtitle":
                Paragraph(element, "para", blocks, section, depth);
                break;
            case "formalpara":
                if (Child(element, "title") is { } runIn)
                    blocks.Add(
                        new SourceParagraph(
                            at,
                            "para",
                            [
                                .. Named(element),
                                .. SpansOf(runIn).Select(s => s is SourceRun r ? r with { Roles = r.Roles | SpanRoles.Strong } : s),
                            ]
                        )
                    );
                Children(element, blocks, section, depth);
                break;
            case "refnamediv":
                blocks.Add(
                    new SourceParagraph(
                        at,
                        "para",
                        [
                            .. Named(element),
                            new SourceRun(
                                string.Join(", ", element.Elements().Where(e => e.Name.LocalName == "refname").Select(Words)),
                                SpanRoles.Code
                            ),
                            new SourceRun(
                                " – " + string.Join(' ', element.Elements().Where(e => e.Name.LocalName == "refpurpose").Select(Words))
                            ),
                        ]
                    )
                );
                break;
            case "itemizedlist" or "orderedlist" or "simplelist" or "procedure" or "substeps" or "calloutlist":
                List(element, blocks, section, depth);
                break;
            case "variablelist" or "glosslist" or "qandaset":
                Definitions(element, blocks, section, depth);
                break;
            case "segmentedlist":
                Segmented(element, blocks, section, depth);
                break;
            case "table" or "informaltable":
                Table(element, blocks, section, depth);
                break;
            case "figure" or "informalfigure" or "mediaobject" or "screenshot":
                Figure(element, blocks, section, depth);
                break;
            case "equation" or "informalequation":
                if (element.Descendants().FirstOrDefault(e => e.Name.LocalName == "math") is { } math)
                    blocks.Add(new SourceEquation(at, LinearEquation.From(math), Child(element, "alt") is { } alt ? Words(alt) : ""));
                else
                    Children(element, blocks, section, depth);
                break;
            case "example":
                var title = Child(element, "title") is { } t ? SpansOf(t) : [];
                var inner = new List<SourceBlock>();
                Children(element, inner, section, depth);
                // A listing with a title is a listing with a caption.
                if (inner is [SourceListing only])
                    blocks.Add(only with { Caption = [.. Named(element), .. title] });
                else
                    blocks.Add(new SourceGroup(at, "example", inner) { Title = [.. Named(element), .. title] });
                break;
            case "index" or "toc" or "lot":
                blocks.Add(
                    new SourceGenerated(
                        at,
                        name == "index" ? Generated.Index
                            : name == "toc" ? Generated.Contents
                            : Generated.ListOfFigures,
                        Words(element)
                    )
                );
                break;
            default:
                _carried.AddRange(Named(element, take: false));
                Children(element, blocks, section, depth);
                break;
        }
    }

    /// <summary>The element's own name, with names that wait for a block to stand in.</summary>
    private List<SourceSpan> Named(XElement element, bool take = true)
    {
        var named = take ? Carried() : [];
        if (IdOf(element) is { } id)
            named.Add(new SourceBookmark(id));
        return named;
    }

    /// <summary>A paragraph; the blocks inside it stand after the words before them.</summary>
    private void Paragraph(XElement element, string style, List<SourceBlock> blocks, int section, int depth)
    {
        var at = Line(element);
        var spans = Named(element);
        foreach (var node in element.Nodes())
            if (node is XElement inner && IsBlock(inner))
            {
                if (spans.Words().Trim().Length > 0)
                    blocks.Add(new SourceParagraph(at, style, spans));
                else
                    _carried.AddRange(spans.Where(s => s is SourceBookmark or SourceAtom { Inline: IndexEntry }));
                spans = [];
                Block(inner, blocks, section, depth + 1);
                at = _place;
            }
            else
                Spans(node, spans, SpanRoles.None, null, null);
        if (spans.Words().Trim().Length > 0 || spans.Any(s => s is SourceAtom))
            blocks.Add(new SourceParagraph(at, style, spans));
        else
            _carried.AddRange(spans.Where(s => s is SourceBookmark));
    }

    private void Group(XElement element, string style, List<SourceBlock> blocks, int section, int depth)
    {
        var at = Line(element);
        var title = Child(element, "title") is { } t ? SpansOf(t) : [];
        var named = Named(element);
        var inner = new List<SourceBlock>();
        Children(element, inner, section, depth);
        if (element.Elements().FirstOrDefault(e => e.Name.LocalName == "attribution") is { } by)
        {
            // Who said it stands under what was said.
            if (inner.Count > 1 && inner[0] is SourceParagraph first && first.Spans.Words().Trim() == Words(by))
                inner.RemoveAt(0);
            inner.Add(new SourceParagraph(Line(by), "para", [new SourceRun("— "), .. SpansOf(by)]));
        }
        if (named.Count > 0 && inner.OfType<SourceParagraph>().FirstOrDefault() is { } p)
            inner[inner.IndexOf(p)] = p with { Spans = [.. named, .. p.Spans] };
        blocks.Add(new SourceGroup(at, style, inner) { Title = title });
    }

    private void List(XElement element, List<SourceBlock> blocks, int section, int depth)
    {
        var at = Line(element);
        var name = element.Name.LocalName;
        if (IdOf(element) is { } id)
            _carried.Add(new SourceBookmark(id));
        if (Child(element, "title") is { } title)
            blocks.Add(
                new SourceParagraph(
                    at,
                    "para",
                    [.. Carried(), .. SpansOf(title).Select(s => s is SourceRun r ? r with { Roles = r.Roles | SpanRoles.Strong } : s)]
                )
            );
        var items = new List<SourceItem>();
        foreach (var child in element.Elements())
        {
            if (child.Name.LocalName is not ("listitem" or "member" or "step" or "callout" or "stepalternatives"))
            {
                if (items.Count == 0 && IsBlock(child))
                    Block(child, blocks, section, depth + 1);
                continue;
            }
            var inner = new List<SourceBlock>();
            if (IdOf(child) is { } own)
                _carried.Add(new SourceBookmark(own));
            Children(child, inner, section, depth + 1);
            if (inner.Count > 0)
                items.Add(new SourceItem(inner));
        }
        if (items.Count == 0)
            return;
        var kind = name is "orderedlist" or "procedure" or "substeps"
            ? (element.Attribute("numeration")?.Value ?? (name == "substeps" ? "loweralpha" : "")) switch
            {
                "loweralpha" or "upperalpha" => ListKind.Alpha,
                "lowerroman" or "upperroman" => ListKind.Roman,
                _ => ListKind.Decimal,
            }
            : ListKind.Unordered;
        blocks.Add(
            new SourceList(
                at,
                name is "substeps" ? "procedure"
                    : name is "simplelist" or "calloutlist" ? "itemizedlist"
                    : name,
                kind,
                1,
                items
            )
            {
                Continues = element.Attribute("continuation")?.Value == "continues",
            }
        );
    }

    private void Definitions(XElement element, List<SourceBlock> blocks, int section, int depth)
    {
        var at = Line(element);
        if (IdOf(element) is { } id)
            _carried.Add(new SourceBookmark(id));
        if (Child(element, "title") is { } title)
            blocks.Add(
                new SourceParagraph(
                    at,
                    "para",
                    [.. Carried(), .. SpansOf(title).Select(s => s is SourceRun r ? r with { Roles = r.Roles | SpanRoles.Strong } : s)]
                )
            );
        var definitions = new List<SourceDefinition>();
        foreach (
            var entry in element
                .Descendants()
                .Where(e =>
                    e.Name.LocalName is "varlistentry" or "glossentry" or "qandaentry"
                    && ReferenceEquals(e.Ancestors().First(a => a.Name.LocalName is "variablelist" or "glosslist" or "qandaset"), element)
                )
        )
        {
            var term = Named(entry);
            var first = true;
            foreach (var named in entry.Elements().Where(e => e.Name.LocalName is "term" or "glossterm" or "question"))
            {
                if (!first)
                    term.Add(new SourceRun(", "));
                first = false;
                term.AddRange(Named(named));
                term.AddRange(named.Name.LocalName == "question" ? named.Elements().SelectMany(SpansOf) : SpansOf(named));
            }
            var inner = new List<SourceBlock>();
            foreach (var text in entry.Elements().Where(e => e.Name.LocalName is "listitem" or "glossdef" or "answer"))
                Children(text, inner, section, depth + 1);
            definitions.Add(new SourceDefinition(Line(entry), term, inner));
        }
        if (definitions.Count > 0)
            blocks.Add(new SourceDefinitions(at, element.Name.LocalName, definitions));
    }

    private void Segmented(XElement element, List<SourceBlock> blocks, int section, int depth)
    {
        var at = Line(element);
        SourceCell Cell(XElement e)
        {
            var inner = new List<SourceBlock>();
            Children(e, inner, section, depth + 1);
            return new SourceCell(inner);
        }
        var titles = element.Elements().Where(e => e.Name.LocalName == "segtitle").Select(Cell).ToList();
        var rows = element
            .Elements()
            .Where(e => e.Name.LocalName == "seglistitem")
            .Select(r => new SourceRow(r.Elements().Where(e => e.Name.LocalName == "seg").Select(Cell).ToList()))
            .ToList();
        if (titles.Count > 0)
            rows.Insert(0, new SourceRow(titles));
        if (rows.Count > 0)
            blocks.Add(new SourceTable(at, titles.Count > 0 ? 1 : 0, rows) { Caption = Named(element) });
    }

    private void Table(XElement element, List<SourceBlock> blocks, int section, int depth)
    {
        var at = Line(element);
        List<SourceSpan> caption =
        [
            .. Named(element),
            .. (Child(element, "title") ?? Child(element, "caption")) is { } title ? SpansOf(title) : [],
        ];
        var rows = new List<SourceRow>();
        var headers = 0;
        var columns = new Dictionary<string, int>(StringComparer.Ordinal);
        var spans = new Dictionary<string, (string, string)>(StringComparer.Ordinal);
        foreach (var column in element.Descendants().Where(e => e.Name.LocalName == "colspec"))
            if (column.Attribute("colname")?.Value is { } named)
                columns.TryAdd(named, columns.Count);
        foreach (var spec in element.Descendants().Where(e => e.Name.LocalName == "spanspec"))
            if (spec.Attribute("spanname")?.Value is { } named)
                spans[named] = (spec.Attribute("namest")?.Value ?? "", spec.Attribute("nameend")?.Value ?? "");
        foreach (
            var row in element
                .Descendants()
                .Where(e =>
                    e.Name.LocalName is "row" or "tr"
                    && ReferenceEquals(e.Ancestors().First(a => a.Name.LocalName is "table" or "informaltable" or "entrytbl"), element)
                )
        )
        {
            var cells = new List<SourceCell>();
            foreach (var entry in row.Elements().Where(e => e.Name.LocalName is "entry" or "td" or "th" or "entrytbl"))
            {
                var inner = new List<SourceBlock>();
                Children(entry, inner, section, depth + 1);
                var (from, to) =
                    entry.Attribute("spanname")?.Value is { } s && spans.TryGetValue(s, out var spec)
                        ? spec
                        : (entry.Attribute("namest")?.Value ?? "", entry.Attribute("nameend")?.Value ?? "");
                var wide =
                    columns.TryGetValue(from, out var a) && columns.TryGetValue(to, out var b) && b > a
                        ? b - a + 1
                        : Number(entry, "colspan", 1);
                cells.Add(
                    new SourceCell(inner)
                    {
                        ColumnSpan = wide,
                        RowSpan = Number(entry, "rowspan", Number(entry, "morerows", 0) + 1),
                        Alignment = entry.Attribute("align")?.Value switch
                        {
                            "right" => CellAlignment.Right,
                            "center" => CellAlignment.Centre,
                            "char" => CellAlignment.Decimal,
                            _ => null,
                        },
                    }
                );
            }
            if (cells.Count == 0)
                continue;
            if (row.Parent!.Name.LocalName == "thead")
                headers++;
            rows.Add(new SourceRow(cells));
        }
        if (rows.Count > 0)
            blocks.Add(new SourceTable(at, headers, rows) { Caption = caption });
    }

    private static int Number(XElement element, string name, int otherwise) =>
        int.TryParse(element.Attribute(name)?.Value, out var n) ? Math.Clamp(n, 1, 100_000) : otherwise;

    private void Figure(XElement element, List<SourceBlock> blocks, int section, int depth)
    {
        var at = Line(element);
        List<SourceSpan> caption = [.. Named(element), .. Child(element, "title") is { } title ? SpansOf(title) : []];
        var media = element.DescendantsAndSelf().Where(e => e.Name.LocalName is "mediaobject" or "inlinemediaobject").ToList();
        if (media.Count == 0)
        {
            _carried.AddRange(caption.OfType<SourceBookmark>());
            var inner = new List<SourceBlock>();
            Children(element, inner, section, depth);
            if (inner is [SourceListing listing])
                inner[0] = listing with { Caption = caption };
            else if (caption.Words().Length > 0)
                inner.Add(new SourceParagraph(at, "caption", caption));
            blocks.AddRange(inner);
            return;
        }
        for (var i = 0; i < media.Count; i++)
        {
            var own = i == media.Count - 1 ? caption : [];
            if (Child(media[i], "caption") is { } under)
                own = [.. own, .. own.Words().Length > 0 ? [new SourceRun(". ")] : Array.Empty<SourceSpan>(), .. SpansOf(under)];
            var texts = media[i]
                .Elements()
                .Concat(element.Elements())
                .Distinct()
                .Where(e => e.Name.LocalName is "textobject" or "alt")
                .Select(SpacedWords)
                .Where(w => w.Length > 0)
                .ToArray();
            var alternative = texts.FirstOrDefault() ?? "";
            foreach (var more in texts.Skip(1))
                Tell(
                    ReportKind.LeftOut,
                    "A second text that stands for the picture was left out: a figure has one alternative text.",
                    more
                );
            if (Asset(media[i], out var named) is { } asset)
                blocks.Add(new SourcePicture(at, asset, alternative) { Caption = own });
            // A figure stays one without its file: the frame waits for it.
            else if (named.Length > 0)
                blocks.Add(new SourcePicture(at, Path.GetFileName(named), alternative) { Caption = own });
            else if (own.Words().Trim().Length > 0 && alternative.Length > 0)
            {
                Tell(ReportKind.LeftOut, "The alternative text of a picture without a file was left out.", alternative);
                blocks.Add(new SourceParagraph(at, "caption", own));
            }
            else if (own.Words().Trim().Length > 0 || alternative.Length > 0)
                blocks.Add(new SourceParagraph(at, "caption", own.Words().Trim().Length > 0 ? own : [new SourceRun(alternative)]));
        }
    }

    /// <summary>The file that a picture is, or null when it is not there.</summary>
    /// <param name="missing">the file that it names then; "" when it names none</param>
    private string? Asset(XElement media, out string missing)
    {
        missing = "";
        var named = media
            .Descendants()
            .Where(e => e.Name.LocalName == "imagedata")
            .Select(e => e.Attribute("fileref")?.Value)
            .OfType<string>()
            .ToList();
        // The drawing before the raster, when a picture is given in several forms.
        named.AddRange(
            named
                .SelectMany(n =>
                    new[] { Path.ChangeExtension(n, ".svg"), Path.ChangeExtension(n, ".png"), Path.ChangeExtension(n, ".jpg") }
                )
                .Except(named)
                .ToArray()
        );
        foreach (var reference in named.OrderByDescending(n => n.EndsWith(".svg", StringComparison.OrdinalIgnoreCase)))
            if (_beside.TryGetValue(reference, out var bytes) || _beside.TryGetValue(Path.GetFileName(reference), out bytes))
            {
                var name = Path.GetFileName(reference);
                _pictures[name] = bytes;
                return name;
            }
        missing = named.Count > 0 ? named[0] : "";
        return null;
    }

    // ---- spans ----

    private List<SourceSpan> SpansOf(XElement element)
    {
        var spans = new List<SourceSpan>();
        foreach (var node in element.Nodes())
            Spans(node, spans, SpanRoles.None, null, null);
        return spans;
    }

    [GeneratedRegex("[ \t\r\n]+")]
    private static partial Regex Space();

    private void Spans(XNode node, List<SourceSpan> spans, SpanRoles roles, string? style, string? web)
    {
        if (node is XText text)
        {
            if (text.Value.Length > 0)
                spans.Add(new SourceRun(Space().Replace(text.Value, " "), roles, style, web));
            return;
        }
        if (node is not XElement element)
            return;
        void Inner(string? own, string? address = null)
        {
            foreach (var child in element.Nodes())
                Spans(child, spans, roles, own ?? style, address ?? web);
        }
        var name = element.Name.LocalName;
        if (IdOf(element) is { } id && name is not "footnote")
            spans.Add(new SourceBookmark(id));
        switch (name)
        {
            case "anchor":
                break;
            case "emphasis":
                Emphasis(element, spans, roles, web);
                break;
            case "quote":
                spans.Add(new SourceRun("“", roles, style, web));
                Inner(null);
                spans.Add(new SourceRun("”", roles, style, web));
                break;
            case "footnote" or "footnoteref" when _inNote:
                // A manual's notes hold no notes, and one that calls itself would never end.
                spans.Add(new SourceRun(name == "footnote" ? " (" + element.Value.Trim() + ")" : "*", roles, style, web));
                Tell(ReportKind.Look, "A note stands in a note; its words stand in brackets.");
                break;
            case "footnote":
                _inNote = true;
                var blocks = new List<SourceBlock>();
                var carried = _carried.ToList();
                _carried.Clear();
                Children(element, blocks, 0, 1);
                _carried.Clear();
                _carried.AddRange(carried);
                _inNote = false;
                if (IdOf(element) is { } note)
                    _notes[note] = blocks;
                spans.Add(new SourceNote(blocks));
                break;
            case "footnoteref":
                FootnoteAgain(element, spans);
                break;
            case "xref":
                var end = element.Attribute("linkend")?.Value ?? "";
                spans.Add(new SourceReference(end, "", _titles.GetValueOrDefault(end, "")));
                break;
            case "link" when element.Attribute("linkend")?.Value is { } to:
                spans.Add(
                    new SourceReference(
                        to,
                        "",
                        element.Nodes().Any() ? Space().Replace(element.Value, " ") : _titles.GetValueOrDefault(to, ""),
                        roles
                    )
                );
                break;
            case "link" or "ulink":
                var address = element.Attribute("url")?.Value
                    ?? element.Attributes().FirstOrDefault(a => a.Name.LocalName == "href")?.Value
                    ?? "";
                if (element.Nodes().Any())
                    Inner(null, Uri.TryCreate(address, UriKind.Absolute, out _) ? address : null);
                else if (address.Length > 0)
                    spans.Add(new SourceRun(address, roles, style, Uri.TryCreate(address, UriKind.Absolute, out _) ? address : null));
                break;
            case "indexterm":
                IndexTerm(element, spans);
                break;
            case "menuchoice" or "keycombo":
                // Bare words between the elements are parts as well: a key that is not marked up is still pressed.
                var parts = element
                    .Nodes()
                    .Where(n => n is XElement { Name.LocalName: not "shortcut" } || (n is XText t && !string.IsNullOrWhiteSpace(t.Value)))
                    .ToList();
                for (var i = 0; i < parts.Count; i++)
                {
                    if (i > 0)
                        spans.Add(new SourceRun(name == "keycombo" ? "+" : " › "));
                    if (parts[i] is XElement part)
                        Spans(part, spans, roles, style, web);
                    else
                        spans.Add(
                            new SourceRun(
                                ((XText)parts[i]).Value.Trim().TrimStart('+').TrimEnd('+').Trim(),
                                roles | (name == "keycombo" ? SpanRoles.Key : SpanRoles.Control)
                            )
                        );
                }
                if (Child(element, "shortcut") is { } shortcut && Words(shortcut).Length > 0)
                {
                    spans.Add(new SourceRun(" ("));
                    foreach (var child in shortcut.Elements())
                        Spans(child, spans, roles, style, web);
                    spans.Add(new SourceRun(")"));
                }
                break;
            case "inlinemediaobject":
                var alternative = element.Elements().Where(e => e.Name.LocalName == "textobject").Select(Words).FirstOrDefault() ?? "";
                if (Asset(element, out var named) is { } asset)
                    spans.Add(new SourceAtom(new InlinePicture(Id.None, asset, alternative)));
                else
                {
                    if (named.Length > 0)
                        Tell(ReportKind.LeftOut, "A picture was not found beside the text. Bring it in together with the text.", named);
                    if (alternative.Length > 0)
                        spans.Add(new SourceRun(alternative, roles, style, web));
                }
                break;
            case "inlineequation":
                if (element.Descendants().FirstOrDefault(e => e.Name.LocalName == "math") is { } math)
                    spans.Add(new SourceAtom(new InlineEquation(Id.None, LinearEquation.From(math), "")));
                else
                    Inner(null);
                break;
            case "sbr":
                spans.Add(new SourceAtom(LineBreak.Instance));
                break;
            case "optional":
                spans.Add(new SourceRun("[", roles, style, web));
                Inner(null);
                spans.Add(new SourceRun("]", roles, style, web));
                break;
            case "remark":
                spans.Add(new SourceComment(element.Attribute("role")?.Value ?? "", Words(element)));
                break;
            case "citerefentry":
                Inner(null);
                break;
            case "manvolnum":
                spans.Add(new SourceRun("(" + element.Value.Trim() + ")", roles, style, web));
                break;
            default:
                Inner(InlineNames.Roles.ContainsKey(name) ? name : null);
                break;
        }
    }

    private readonly Dictionary<string, XElement> _noteElements = new(StringComparer.Ordinal);
    private readonly Dictionary<string, List<SourceBlock>> _notes = new(StringComparer.Ordinal);

    private bool _inNote;

    private void FootnoteAgain(XElement element, List<SourceSpan> spans)
    {
        if (element.Attribute("linkend")?.Value is not { } to)
            return;
        if (!_notes.TryGetValue(to, out var blocks) && _noteElements.TryGetValue(to, out var later) && to.Length > 0)
        {
            blocks = [];
            _inNote = true;
            Children(later, blocks, 0, 1);
            _inNote = false;
            _carried.Clear();
        }
        if (blocks is not null)
        {
            spans.Add(new SourceNote(blocks));
            Tell(ReportKind.Changed, "A note that is called twice came in twice.");
        }
        else
            Tell(ReportKind.Look, $"A call leads to the note “{to}”, which is not in the text.");
    }

    private void Emphasis(XElement element, List<SourceSpan> spans, SpanRoles roles, string? web)
    {
        var strong = element.Attribute("role")?.Value is "strong" or "bold";
        foreach (var child in element.Nodes())
            Spans(child, spans, roles | (strong ? SpanRoles.Strong : SpanRoles.Emphasis), null, web);
    }

    private void IndexTerm(XElement element, List<SourceSpan> spans)
    {
        var kind = element.Attribute("class")?.Value;
        if (kind == "endofrange")
        {
            if (element.Attribute("startref")?.Value is { } start)
                spans.Add(new SourceAtom(new IndexEntry(new Id(start), [], EntryKind.RangeEnd)));
            return;
        }
        var headings = new[] { "primary", "secondary", "tertiary" }
            .Select(n => Child(element, n))
            .OfType<XElement>()
            .Select(Words)
            .Where(w => w.Length > 0)
            .ToArray();
        if (headings.Length == 0)
            return;
        var entry = new IndexEntry(Id.None, headings)
        {
            See = Child(element, "see") is { } see ? Words(see) : null,
            SeeAlso = Child(element, "seealso") is { } also ? Words(also) : null,
            FilesUnder = Child(element, "primary")?.Attribute("sortas")?.Value,
            Principal = element.Attribute("significance")?.Value == "preferred",
        };
        if (kind == "startofrange" && IdOf(element) is { } range)
        {
            if (_ends.Contains(range))
                entry = entry with { Id = new Id(range), Kind = EntryKind.RangeStart };
            else
                Tell(ReportKind.Look, $"The index range “{headings[0]}” never ends; it came in as one place.");
        }
        spans.Add(new SourceAtom(entry));
    }

    private string Verbatim(XElement element)
    {
        var text = new StringBuilder();
        void Walk(XNode node)
        {
            if (node is XText t)
                text.Append(t.Value);
            else if (node is XElement { Name.LocalName: "inlinemediaobject" or "mediaobject" } media)
                text.Append(string.Join(' ', media.Elements().Where(e => e.Name.LocalName == "textobject").Select(Words)));
            else if (node is XElement { Name.LocalName: "footnote" } note)
            {
                Tell(ReportKind.Changed, "A note in a listing stands in brackets now.");
                text.Append(" (").Append(Words(note)).Append(')');
            }
            else if (node is XElement { Name.LocalName: "sbr" })
                text.Append('\n');
            else if (node is XElement { Name.LocalName: "optional" } optional)
            {
                text.Append('[');
                foreach (var child in optional.Nodes())
                    Walk(child);
                text.Append(']');
            }
            else if (node is XElement e)
                foreach (var child in e.Nodes())
                    Walk(child);
        }
        foreach (var node in element.Nodes())
            Walk(node);
        return text.ToString().Trim('\n', '\r');
    }

    private static string Synopsis(XElement element)
    {
        var text = new StringBuilder();
        void Walk(XElement parent)
        {
            foreach (var node in parent.Nodes())
                if (node is XText t)
                    text.Append(string.IsNullOrWhiteSpace(t.Value) ? "" : Space().Replace(t.Value, " "));
                else if (node is XElement e)
                    switch (e.Name.LocalName)
                    {
                        case "arg" or "group":
                            var choice = e.Attribute("choice")?.Value ?? "opt";
                            var (open, close) = choice switch
                            {
                                "req" => ("{", "}"),
                                "plain" => ("", ""),
                                _ => ("[", "]"),
                            };
                            if (text.Length > 0 && text[^1] is not (' ' or '\n' or '[' or '{' or '|'))
                                text.Append(' ');
                            text.Append(open);
                            if (e.Name.LocalName == "group")
                            {
                                var first = true;
                                foreach (var arg in e.Elements())
                                {
                                    if (!first)
                                        text.Append(" | ");
                                    first = false;
                                    Walk(new XElement("one", arg.Nodes()));
                                }
                            }
                            else
                                Walk(e);
                            text.Append(close);
                            if (e.Attribute("rep")?.Value == "repeat")
                                text.Append('…');
                            break;
                        case "sbr":
                            text.Append('\n');
                            break;
                        default:
                            if (text.Length > 0 && text[^1] is not (' ' or '\n' or '[' or '{' or '|'))
                                text.Append(e.Name.LocalName == "command" ? " " : "");
                            Walk(e);
                            break;
                    }
        }
        Walk(element);
        return text.ToString().Trim();
    }
}
