using System.Xml.Linq;
using Kivren.Core.Content;
using Kivren.Core.Mathematics;
using Kivren.Core.Numbering;
using Kivren.Core.References;
using static Kivren.Formats.Flowing.Xhtml;

namespace Kivren.Formats.Flowing;

/// <summary>Words and the atoms between them as XHTML.</summary>
internal sealed class InlineMarkup(FlowingBook book, int page, MarkupDialect dialect, Func<string, string> pictures)
{
    private readonly List<Footnote> _notes = [];
    private readonly DivisionNumbers _numbers = book.NumbersOf(book.Pages[page]);

    /// <summary>Notes called since the last time they were taken, in order.</summary>
    public IReadOnlyList<Footnote> TakeNotes()
    {
        var notes = _notes.ToArray();
        _notes.Clear();
        return notes;
    }

    /// <summary>Notes that wait for the page's end, taken before a table's own were told apart.</summary>
    public void PutBack(IReadOnlyList<Footnote> notes) => _notes.InsertRange(0, notes);

    public IEnumerable<XNode> Of(IReadOnlyList<Inline> spans)
    {
        foreach (var inline in spans)
        foreach (var node in Of(inline))
            yield return node;
    }

    private IEnumerable<XNode> Of(Inline inline)
    {
        switch (inline)
        {
            case TextRun { Text.Length: > 0 } run:
                yield return Run(run);
                break;
            case CrossReference reference:
                yield return Reference(reference);
                break;
            case VariableUse variable:
                yield return new XText(Clean(book.Composed.Text.Variable(variable.Name) ?? $"[no variable {variable.Name}]"));
                break;
            case Footnote note:
                yield return Call(note);
                break;
            case IndexEntry { Kind: not EntryKind.RangeEnd } entry:
                yield return Place(entry.Id);
                break;
            case Anchor anchor:
                yield return Place(anchor.Id);
                break;
            case InlineEquation equation:
                yield return Equation(equation.Source, equation.Alternative, display: false);
                break;
            case InlinePicture picture:
                yield return El("img", A("class", "in-line"), A("src", pictures(picture.Asset)), A("alt", picture.Alternative));
                break;
            case LineBreak:
                yield return El("br");
                break;
        }
    }

    private static XElement Place(Id id) => El("span", A("id", FlowingBook.NameOf(id)));

    /// <summary>An equation, or its source where it cannot be read.</summary>
    public static XElement Equation(string source, string alternative, bool display)
    {
        try
        {
            return MathMl.Of(source, alternative.Length > 0 ? alternative : source, display);
        }
        catch (NotationException)
        {
            return El("code", Clean(source));
        }
    }

    private XElement Call(Footnote note)
    {
        _notes.Add(note);
        return El(
            "a",
            A("class", "note-call"),
            A("id", FlowingBook.NameOf(note.Id) + "-call"),
            A("href", "#" + FlowingBook.NameOf(note.Id)),
            dialect.Type("noteref"),
            A("role", "doc-noteref"),
            _numbers.Label(note.Id)
        );
    }

    private XNode Reference(CrossReference reference)
    {
        var words = Clean(book.Composed.Print(reference));
        return reference is { Other: null, Instead: null } && book.Address(reference.Target, page, dialect.Ending) is { } address
            ? El("a", A("class", "ref"), A("id", FlowingBook.NameOf(reference.Id)), A("href", address), words)
            : new XText(words);
    }

    private static readonly (SpanRoles Role, string Element, string? Class)[] Elements =
    [
        (SpanRoles.Code, "code", null),
        (SpanRoles.Key, "kbd", null),
        (SpanRoles.Control, "b", "control"),
        (SpanRoles.PartNumber, "span", "part-number"),
        (SpanRoles.Product, "span", "product"),
        (SpanRoles.Term, "i", "term"),
        (SpanRoles.Foreign, "i", "foreign"),
        (SpanRoles.Emphasis, "em", null),
        (SpanRoles.Strong, "strong", null),
        (SpanRoles.SmallCaps, "span", "small-caps"),
        (SpanRoles.NoBreak, "span", "no-break"),
        (SpanRoles.Sub, "sub", null),
        (SpanRoles.Sup, "sup", null),
    ];

    private XNode Run(TextRun run)
    {
        XNode node = new XText(Clean(run.Text));
        foreach (var (role, element, kind) in Elements)
            if (run.Roles.HasFlag(role))
                node = El(element, kind is null ? null : A("class", kind), node);
        if (run.OwnRole is { } own)
            node = El("span", A("class", ClassOf(own)), node);
        if (run.Web is { } web && WebAddress.Leads(web))
            node = El("a", A("class", "web"), A("href", Uri.TryCreate(web, UriKind.Absolute, out var uri) ? uri.AbsoluteUri : web), node);
        else if (!run.LeadsTo.IsNone && book.Address(run.LeadsTo, page, dialect.Ending) is { } address)
            node = El("a", A("class", "to-term"), A("href", address), node);
        return node;
    }
}
