using System.Xml.Linq;
using Kivren.Core.Content;
using Kivren.Formats.Import;

namespace Kivren.Formats.DocBook;

// Divisions, paragraphs and what holds blocks.
public sealed partial class DocBookReader
{
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
}
