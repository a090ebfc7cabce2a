using System.Xml;
using System.Xml.Linq;
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
}
