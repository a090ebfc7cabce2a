using System.Xml.Linq;
using Kivren.Core.Content;
using Kivren.Formats.Import;

namespace Kivren.Formats.DocBook;

// Lists of points and steps, of terms, of segments.
public sealed partial class DocBookReader
{
    /// <summary>A list's name waits for its first words; its title is a line in bold over it.</summary>
    private void NameAndTitle(XElement element, int at, List<SourceBlock> blocks)
    {
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
    }

    private void List(XElement element, List<SourceBlock> blocks, int section, int depth)
    {
        var at = Line(element);
        var name = element.Name.LocalName;
        NameAndTitle(element, at, blocks);
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
        NameAndTitle(element, at, blocks);
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
}
