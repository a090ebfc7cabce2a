using System.Xml.Linq;
using Kivren.Core.Composition;
using Kivren.Core.Content;
using Kivren.Core.Mathematics;
using Kivren.Formats.Flowing;
using static Kivren.Formats.DocBook.Writing.DocBookElements;

namespace Kivren.Formats.DocBook.Writing;

/// <summary>Names and elements of DocBook 5.</summary>
internal static class DocBookElements
{
    public static readonly XNamespace Db = "http://docbook.org/ns/docbook",
        XLink = "http://www.w3.org/1999/xlink";

    public static XElement El(string name, params object?[] content) => new(Db + name, content);

    public static XAttribute A(string name, string value) => new(name, Xhtml.Clean(value));

    public static XAttribute IdOf(Id id) => new(XNamespace.Xml + "id", FlowingBook.NameOf(id));
}

/// <summary>Text with its roles as DocBook: what words are is said by elements, and by roles where DocBook has none.</summary>
/// <param name="pictures">the address of a picture in the book's folder</param>
/// <param name="targets">what can be pointed at in the book</param>
internal sealed class DocBookSpans(ComposedManual composed, Func<string, string> pictures, IReadOnlySet<Id> targets)
{
    public IEnumerable<XNode> Of(IEnumerable<Inline> spans) => spans.SelectMany(Of);

    private IEnumerable<XNode> Of(Inline inline)
    {
        switch (inline)
        {
            case TextRun { Text.Length: > 0 } run:
                yield return Run(run);
                break;
            case CrossReference reference when reference is { Other: null, Instead: null } && targets.Contains(reference.Target):
                yield return El("xref", A("linkend", FlowingBook.NameOf(reference.Target)), A("xrefstyle", reference.Form));
                break;
            case CrossReference reference:
                yield return new XText(Xhtml.Clean(composed.Print(reference)));
                break;
            case VariableUse variable:
                yield return new XText(Xhtml.Clean(composed.Text.Variable(variable.Name) ?? $"[no variable {variable.Name}]"));
                break;
            case Footnote note:
                yield return El("footnote", IdOf(note.Id), El("para", Of(note.Content)));
                break;
            case IndexEntry entry:
                yield return Term(entry);
                break;
            case Anchor anchor:
                yield return El("anchor", IdOf(anchor.Id));
                break;
            case InlineEquation equation:
                yield return El("inlineequation", IdOf(equation.Id), Equation(equation.Source, equation.Alternative));
                break;
            case InlinePicture picture:
                yield return El("inlinemediaobject", Picture(picture.Asset, picture.Alternative));
                break;
            case LineBreak:
                yield return new XProcessingInstruction("linebreak", "");
                yield return new XText("\n");
                break;
        }
    }

    public IEnumerable<XElement> Picture(string asset, string alternative)
    {
        yield return El("imageobject", El("imagedata", A("fileref", pictures(asset))));
        if (alternative.Length > 0)
            yield return El("textobject", El("phrase", Xhtml.Clean(alternative)));
    }

    /// <summary>In words, then in MathML; an equation that cannot be read as its source.</summary>
    public static IEnumerable<XNode> Equation(string source, string alternative)
    {
        if (alternative.Length > 0)
            yield return El("alt", Xhtml.Clean(alternative));
        XElement? math = null;
        try
        {
            math = MathMl.Of(source, "", false);
            math.Attribute("alttext")?.Remove();
        }
        catch (NotationException) { }
        yield return math ?? El("mathphrase", Xhtml.Clean(source));
    }

    private static XElement Term(IndexEntry entry)
    {
        if (entry.Kind == EntryKind.RangeEnd)
            return El("indexterm", A("class", "endofrange"), A("startref", FlowingBook.NameOf(entry.Id)));
        var names = new[] { "primary", "secondary", "tertiary" };
        return El(
            "indexterm",
            IdOf(entry.Id),
            entry.Kind == EntryKind.RangeStart ? A("class", "startofrange") : null,
            entry.Principal ? A("significance", "preferred") : null,
            entry
                .Headings.Take(names.Length)
                .Select(
                    (heading, h) => El(names[h], h == 0 && entry.FilesUnder is { } under ? A("sortas", under) : null, Xhtml.Clean(heading))
                ),
            entry.See is { } see ? El("see", Xhtml.Clean(see)) : null,
            entry.SeeAlso is { } also ? El("seealso", Xhtml.Clean(also)) : null
        );
    }

    private static readonly (SpanRoles Role, string Element, string? Said)[] Elements =
    [
        (SpanRoles.Sub, "subscript", null),
        (SpanRoles.Sup, "superscript", null),
        (SpanRoles.Code, "code", null),
        (SpanRoles.Key, "keycap", null),
        (SpanRoles.Control, "guilabel", null),
        (SpanRoles.PartNumber, "phrase", "partNumber"),
        (SpanRoles.Product, "productname", null),
        (SpanRoles.Term, "firstterm", null),
        (SpanRoles.Foreign, "foreignphrase", null),
        (SpanRoles.SmallCaps, "phrase", "smallCaps"),
        (SpanRoles.NoBreak, "phrase", "noBreak"),
        (SpanRoles.Emphasis, "emphasis", null),
        (SpanRoles.Strong, "emphasis", "strong"),
    ];

    /// <summary>Elements that hold plain words alone: they stand innermost.</summary>
    private XNode Run(TextRun run)
    {
        XNode node = new XText(Xhtml.Clean(run.Text));
        foreach (var (role, element, said) in Elements)
            if (run.Roles.HasFlag(role))
                node = El(element, said is null ? null : A("role", said), node);
        if (run.OwnRole is { } own)
            node = El("phrase", A("role", own), node);
        if (run.Web is { } web && WebAddress.Leads(web))
            return El("link", new XAttribute(XLink + "href", Xhtml.Clean(web)), node);
        return !run.LeadsTo.IsNone && targets.Contains(run.LeadsTo)
            ? El("link", A("linkend", FlowingBook.NameOf(run.LeadsTo)), node)
            : node;
    }
}
