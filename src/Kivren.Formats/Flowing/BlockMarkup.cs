using System.Globalization;
using System.Xml.Linq;
using Kivren.Core.Content;
using Kivren.Core.Numbering;
using static Kivren.Formats.Flowing.Xhtml;

namespace Kivren.Formats.Flowing;

/// <summary>The blocks of a page as XHTML: what they are is said by elements, roles of DPUB-ARIA 1.1 and, for reading systems,
/// the structural semantics of EPUB; how they look by classes alone.</summary>
internal sealed class BlockMarkup
{
    private readonly FlowingBook _book;
    private readonly int _page;
    private readonly MarkupDialect _dialect;
    private readonly Func<string, string> _pictures;
    private readonly InlineMarkup _spans;
    private readonly DivisionNumbers _numbers;
    private readonly Division _division;

    /// <summary>The levels of the heads that the text stands under.</summary>
    private readonly Stack<HeadLevel> _under = [];

    /// <summary>The level of the element over the page's heads.</summary>
    private readonly int _over;

    /// <param name="pictures">the address of a picture of the manual from this page</param>
    public BlockMarkup(FlowingBook book, int page, MarkupDialect dialect, Func<string, string> pictures)
    {
        (_book, _page, _dialect, _pictures) = (book, page, dialect, pictures);
        _spans = new InlineMarkup(book, page, dialect, pictures);
        var own = book.Pages[page];
        (_numbers, _division) = (book.NumbersOf(own), book.DivisionOf(own));
        _over = own.Opens ? 1 : 0;
    }

    private static XAttribute IdOf(Id id) => A("id", FlowingBook.NameOf(id));

    /// <summary>The page's section with all that stands on it.</summary>
    public XElement Section()
    {
        var own = _book.Pages[_page];
        var section = El(
            "section",
            A("class", ClassOf(_division.Kind)),
            own.Opens ? IdOf(_division.Id) : null,
            A("lang", _division.Language),
            _dialect.Types ? new XAttribute(XNamespace.Xml + "lang", _division.Language) : null,
            LanguageWords.IsFromRight(_division.Language) ? A("dir", "rtl") : null,
            TypeOf(_division.Kind) is var (type, role) ? new object?[] { _dialect.Type(type), role is null ? null : A("role", role) } : null
        );
        if (own.Opens)
            section.Add(Opening());
        section.Add(Blocks(own.Blocks));
        section.Add(Notes(_spans.TakeNotes()));
        // A section is told by its head; what has none is no more than a part of the page.
        if (!section.Elements().Any(e => e.Name.LocalName is ['h', >= '1' and <= '6']))
            section.Name = section.Name.Namespace + "div";
        return section;
    }

    private static string ClassOf(DivisionKind kind) => "division " + char.ToLowerInvariant(kind.ToString()[0]) + kind.ToString()[1..];

    private static (string Type, string? Role)? TypeOf(DivisionKind kind) =>
        kind switch
        {
            DivisionKind.HalfTitle => ("halftitlepage", null),
            DivisionKind.TitlePage => ("titlepage", null),
            DivisionKind.Legal => ("copyright-page", null),
            DivisionKind.Preface => ("preface", "doc-preface"),
            DivisionKind.Part => ("part", "doc-part"),
            DivisionKind.Chapter => ("chapter", "doc-chapter"),
            DivisionKind.Appendix => ("appendix", "doc-appendix"),
            DivisionKind.Glossary => ("glossary", null),
            DivisionKind.Index => ("index", "doc-index"),
            DivisionKind.Colophon => ("colophon", "doc-colophon"),
            _ => null,
        };

    /// <summary>Title pages say their title by a paragraph of that role; all others have it over their text.</summary>
    private XElement? Opening()
    {
        if (!_book.Composed.Look.SequenceOf(_division.Kind).Opens)
            return null;
        var name = _book.Composed.Look.KindName(_division);
        var number = _numbers.Number;
        return El(
            "h1",
            name.Length > 0 || number.Length > 0
                ? new object[] { El("span", A("class", "label"), Clean(LanguageWords.Numbered(name, number, " ").Trim())), new XText(" ") }
                : null,
            El("span", A("class", "title"), Clean(_division.Title))
        );
    }

    public IEnumerable<XElement> Blocks(IReadOnlyList<Block> blocks) => blocks.SelectMany(Of);

    private IEnumerable<XElement> Of(Block block)
    {
        var made = Made(block).ToList();
        if (block.OwnRole is { } own && made.Count > 0)
            made[0].SetAttributeValue("class", $"{made[0].Attribute("class")?.Value} {Xhtml.ClassOf(own)}".Trim());
        return made;
    }

    private IEnumerable<XElement> Made(Block block)
    {
        switch (block)
        {
            case Paragraph { IsMarksAlone: false } p:
                yield return Paragraph(p);
                break;
            case Paragraph p:
                yield return El("div", A("class", "marks"), IdOf(p.Id), _spans.Of(p.Content));
                break;
            case Head { Printed: true } h:
                yield return Head(h);
                break;
            case Head h:
                yield return El("div", A("class", "marks"), IdOf(h.Id));
                break;
            case ItemList l:
                yield return Items(l);
                break;
            case Steps s:
                yield return El("ol", A("class", "steps"), IdOf(s.Id), Start(Label(s.Id)), TypeOfSteps(s), s.Items.Select(Item));
                break;
            case DefinitionList d:
                yield return Definitions(d);
                break;
            case ReferenceList r:
                yield return Documents(r);
                break;
            case Admonition a:
                yield return Admonition(a);
                break;
            case Aside a:
                yield return Aside(a);
                break;
            case Example e:
                yield return El(
                    "div",
                    A("class", "example"),
                    IdOf(e.Id),
                    _dialect.Type("example"),
                    A("role", "doc-example"),
                    El("p", A("class", "box-title"), Caption(e.Id, e.Title)),
                    Blocks(e.Blocks)
                );
                break;
            case Table t:
                foreach (var element in TableMarkup.Of(t, _spans, IdOf(t.Id), () => Caption(t.Id, t.Caption), Notes))
                    yield return element;
                break;
            case Figure f:
                yield return Figure(f);
                break;
            case Listing l:
                yield return ListingMarkup.Of(l, IdOf(l.Id), l.Caption.Count > 0 ? Caption(l.Id, l.Caption) : null);
                break;
            case Equation e:
                yield return El(
                    "div",
                    A("class", "equation"),
                    IdOf(e.Id),
                    InlineMarkup.Equation(e.Source, e.Alternative, display: true),
                    Target(e.Id) is { Number.Length: > 0 } target ? El("span", A("class", "number"), $"({target.Number})") : null
                );
                break;
            case ContentsList c:
                yield return ListMarkup.Contents(c, _book, _page, _dialect, IdOf(c.Id));
                break;
            case IndexList i:
                yield return ListMarkup.Index(_book, _page, _dialect, IdOf(i.Id));
                break;
        }
    }

    private string Label(Id id) => _numbers.Label(id);

    private Target? Target(Id id) => _numbers.ById.GetValueOrDefault(id);

    private XElement Paragraph(Paragraph p)
    {
        var number = Label(p.Id);
        var name =
            p.Role == "quotation" ? "blockquote"
            // The title of a page that has no opening is its head.
            : p.Role == "title" && !_book.Composed.Look.SequenceOf(_division.Kind).Opens ? "h1"
            : "p";
        var words = _spans.Of(p.Content).ToList();
        return El(
            name,
            p.Role == "body" ? null : A("class", p.Role),
            IdOf(p.Id),
            number.Length > 0 ? new object[] { El("span", A("class", "number"), number), new XText(" ") } : null,
            name == "blockquote" ? El("p", words) : words
        );
    }

    private XElement Head(Head h)
    {
        var number = Target(h.Id)?.Number ?? "";
        // Elements go down by one level at a time, whatever levels the heads pass over.
        while (_under.Count > 0 && _under.Peek() >= h.Level)
            _under.Pop();
        _under.Push(h.Level);
        return El(
            "h" + Math.Min(_over + _under.Count, 6).ToString(CultureInfo.InvariantCulture),
            A("class", "head-" + char.ToLowerInvariant(h.Level.ToString()[0])),
            IdOf(h.Id),
            number.Length > 0 ? new object[] { El("span", A("class", "number"), number), new XText(" ") } : null,
            _spans.Of(h.Content)
        );
    }

    private static XAttribute? Start(string label) =>
        int.TryParse(label, NumberStyles.None, CultureInfo.InvariantCulture, out var first) && first > 1
            ? A("start", first.ToString(CultureInfo.InvariantCulture))
            : null;

    private XAttribute? TypeOfSteps(Steps steps) => Label(steps.Id) is [>= 'a' and <= 'z', ..] ? A("type", "a") : null;

    private XElement Items(ItemList list)
    {
        var type = list.Kind switch
        {
            ListKind.Alpha => "a",
            ListKind.Roman => "i",
            _ => null,
        };
        return list.Kind == ListKind.Unordered
            ? El("ul", IdOf(list.Id), list.Items.Select(Item))
            : El("ol", IdOf(list.Id), Maybe("type", type), StartOf(list), list.Items.Select(Item));
    }

    private XAttribute? StartOf(ItemList list)
    {
        var first = Label(list.Id).TrimEnd(')');
        var start =
            list.Kind == ListKind.Decimal && int.TryParse(first, NumberStyles.None, CultureInfo.InvariantCulture, out var n) ? n
            : list.Kind == ListKind.Alpha ? first.Aggregate(0, (a, c) => a * 26 + (c - 'a' + 1))
            : list.Start;
        return start > 1 ? A("start", start.ToString(CultureInfo.InvariantCulture)) : null;
    }

    private XElement Item(Item item) => El("li", IdOf(item.Id), Blocks(item.Blocks));

    /// <summary>A list; a term that stands in it twice begins another, for in one list each is said once.</summary>
    private XElement Definitions(DefinitionList list)
    {
        XElement List()
        {
            var made = El("dl");
            if (list.Glossary)
                made.Add(A("class", "glossary"), _dialect.Type("glossary"));
            return made;
        }
        var lists = new List<XElement> { List() };
        var said = new HashSet<string>(StringComparer.Ordinal);
        foreach (var definition in list.InOrder(_division.Language))
        {
            if (!said.Add(definition.Term.PlainText().Trim()))
            {
                lists.Add(List());
                said = [definition.Term.PlainText().Trim()];
            }
            var number = Label(definition.Id);
            lists[^1]
                .Add(
                    El(
                        "dt",
                        IdOf(definition.Id),
                        list.Glossary ? _dialect.Type("glossterm") : null,
                        number.Length > 0 ? new object[] { El("span", A("class", "number"), number), new XText(" ") } : null,
                        El("dfn", _spans.Of(definition.Term))
                    ),
                    El("dd", list.Glossary ? _dialect.Type("glossdef") : null, Blocks(definition.Blocks))
                );
        }
        if (lists.Count > 1)
            return El("div", IdOf(list.Id), lists);
        lists[0].Add(IdOf(list.Id));
        return lists[0];
    }

    private XElement Documents(ReferenceList list) =>
        El(
            "ul",
            A("class", "documents"),
            IdOf(list.Id),
            list.InOrder(_division.Language)
                .Select(document =>
                    El(
                        "li",
                        IdOf(document.Id),
                        El("strong", Clean(document.Designation)),
                        new XText(", "),
                        El("cite", _spans.Of(document.Title))
                    )
                )
        );

    private XElement Admonition(Admonition a)
    {
        var word = Label(a.Id) is { Length: > 0 } label ? label : LanguageWords.Of(_division.Language).Signal(a.Kind);
        return El(
            "div",
            A("class", "admonition " + a.Kind.ToString().ToLowerInvariant()),
            IdOf(a.Id),
            A("role", "note"),
            El("p", A("class", "signal"), word),
            Blocks(a.Blocks)
        );
    }

    private XElement Aside(Aside a) =>
        a.Folds == Folding.No
            ? El(
                "aside",
                A("class", "box"),
                IdOf(a.Id),
                a.Title.Count > 0 ? El("p", A("class", "box-title"), _spans.Of(a.Title)) : null,
                Blocks(a.Blocks)
            )
            : El(
                "details",
                A("class", "box"),
                IdOf(a.Id),
                a.Folds == Folding.Open ? A("open", "open") : null,
                El("summary", A("class", "box-title"), _spans.Of(a.Title)),
                Blocks(a.Blocks)
            );

    /// <summary>The label of what is numbered, and its words.</summary>
    private object?[] Caption(Id id, IReadOnlyList<Inline> words) =>
        [
            Target(id) is { Number.Length: > 0, Name.Length: > 0 } target
                ? new object[] { El("span", A("class", "label"), LanguageWords.Numbered(target.Name, target.Number)), new XText(" ") }
                : null,
            _spans.Of([.. words.Where(i => i is not FigureArea)]).ToList(),
        ];

    private XElement Figure(Figure f)
    {
        var areas = f.Areas().ToList();
        var picture = El("img", A("src", _pictures(f.Asset)), A("alt", f.Alternative), Size(f.Asset));
        var shown = El("div", A("class", "picture"), picture, areas.Select(Area));
        if (f.Width is > 0 and < 100)
            shown.SetAttributeValue("style", $"max-width: {f.Width.ToString(CultureInfo.InvariantCulture)}%");
        return El(
            "figure",
            f.Plays is null ? null : A("class", "plays"),
            IdOf(f.Id),
            shown,
            f.Plays is { } address && WebAddress.Leads(address)
                ? El(
                    "p",
                    A("class", "play"),
                    El("a", A("href", Uri.TryCreate(address, UriKind.Absolute, out var uri) ? uri.AbsoluteUri : address), Clean(address))
                )
                : null,
            f.Caption.Count == 0
                ? null
                : El(
                    "figcaption",
                    Caption(f.Id, f.Caption),
                    areas.Count > 0 ? El("ol", A("class", "key"), areas.Select(a => El("li", IdOf(a.Id), _spans.Of(a.Content)))) : null
                )
        );
    }

    private object?[]? Size(string asset) =>
        _book.Manual.Assets.FirstOrDefault(a => a.Name == asset) is { Width: > 0, Height: > 0 } known
            ?
            [
                A("width", known.Width.ToString(CultureInfo.InvariantCulture)),
                A("height", known.Height.ToString(CultureInfo.InvariantCulture)),
            ]
            : null;

    /// <summary>A part of the picture leads where its words in the key do.</summary>
    private XElement? Area(FigureArea area)
    {
        var box = area.Box.Inside();
        var leads = Walk.Flat(area.Content).OfType<CrossReference>().FirstOrDefault(r => r.Other is null) is { } reference
            ? _book.Address(reference.Target, _page, _dialect.Ending)
            : Walk.Flat(area.Content).OfType<TextRun>().FirstOrDefault(r => r.Web is { } web && WebAddress.Leads(web))?.Web;
        static string Percent(int thousandths) => (thousandths / 10m).ToString("0.#", CultureInfo.InvariantCulture) + "%";
        return leads is null
            ? null
            : El(
                "a",
                A("class", "area"),
                A("href", leads),
                A(
                    "style",
                    $"left: {Percent(box.Left)}; top: {Percent(box.Top)}; width: {Percent(box.Width)}; height: {Percent(box.Height)}"
                ),
                A("aria-label", string.Concat(area.Content.Select(_book.Composed.Printed))),
                El("span", Label(area.Id))
            );
    }

    /// <summary>Notes where the text that calls them ends.</summary>
    private XElement? Notes(IReadOnlyList<Footnote> notes)
    {
        if (notes.Count == 0)
            return null;
        var made = El("div", A("class", "notes"));
        for (var waiting = notes; waiting.Count > 0; waiting = _spans.TakeNotes())
            foreach (var note in waiting)
                made.Add(
                    El(
                        "aside",
                        IdOf(note.Id),
                        _dialect.Type("footnote"),
                        A("role", "doc-footnote"),
                        El(
                            "p",
                            El(
                                "a",
                                A("class", "note-back"),
                                A("href", "#" + FlowingBook.NameOf(note.Id) + "-call"),
                                A("role", "doc-backlink"),
                                Label(note.Id)
                            ),
                            new XText(" "),
                            _spans.Of(note.Content)
                        )
                    )
                );
        return made;
    }
}
