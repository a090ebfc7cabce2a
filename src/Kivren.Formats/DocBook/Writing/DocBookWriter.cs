using System.Globalization;
using System.IO.Compression;
using System.Text;
using System.Xml;
using System.Xml.Linq;
using Kivren.Core.Composition;
using Kivren.Core.Content;
using Kivren.Formats.Flowing;
using Kivren.Formats.Package;
using static Kivren.Formats.DocBook.Writing.DocBookElements;

namespace Kivren.Formats.DocBook.Writing;

/// <summary>An edition as DocBook 5.1 for other tools, with its pictures beside it in one archive. Numbers, contents and index are left to
/// whoever reads it: they are computed there as here.</summary>
public sealed class DocBookWriter
{
    private const string Version = "5.1";

    private readonly ComposedManual _composed;
    private readonly BookPictures _pictures;
    private readonly DocBookSpans _spans;

    private DocBookWriter(ComposedManual composed, Func<string, byte[]?> pictures)
    {
        _composed = composed;
        _pictures = new BookPictures(composed.Text.Manual, pictures);
        var targets = composed.Numbers.Divisions.SelectMany(d => d.Targets).Select(t => t.Id).ToHashSet();
        _spans = new DocBookSpans(composed, _pictures.Address, targets);
    }

    public static void WriteZip(
        ComposedManual composed,
        Func<string, byte[]?> pictures,
        Stream output,
        Action<int>? told = null,
        CancellationToken cancel = default
    )
    {
        var writer = new DocBookWriter(composed, pictures);
        var book = writer.Book(told, cancel);
        using var zip = new ZipArchive(output, ZipArchiveMode.Create, leaveOpen: true);
        using var bytes = new MemoryStream();
        using (var xml = XmlWriter.Create(bytes, new XmlWriterSettings { Encoding = new UTF8Encoding(false), NewLineChars = "\n" }))
            new XDocument(book).Save(xml);
        zip.Put("book.xml", bytes.ToArray());
        foreach (var (_, address, picture) in writer._pictures.Files)
            zip.Put(address, picture);
    }

    // ---- divisions ----

    private XElement Book(Action<int>? told, CancellationToken cancel)
    {
        var manual = _composed.Text.Manual;
        var info = El("info", El("title", Xhtml.Clean(_composed.Text.Variable("title") ?? manual.Title)));
        var book = El(
            "book",
            new XAttribute("version", Version),
            new XAttribute(XNamespace.Xmlns + "xlink", XLink),
            new XAttribute(XNamespace.Xml + "lang", manual.Language),
            info
        );
        XElement? part = null;
        var done = 0;
        foreach (var division in _composed.Text.Divisions)
        {
            cancel.ThrowIfCancellationRequested();
            switch (division.Kind)
            {
                case DivisionKind.HalfTitle:
                    break;
                case DivisionKind.TitlePage or DivisionKind.Legal:
                    Front(info, division);
                    break;
                case DivisionKind.Part:
                    book.Add(part = Made("part", division));
                    break;
                default:
                    if (division.Matter != Matter.Body)
                        part = null;
                    (part ?? book).Add(Of(division));
                    break;
            }
            told?.Invoke(++done);
        }
        // A part without chapters, or a book without anything, is none to DocBook.
        foreach (var empty in book.Descendants(Db + "part").Where(p => !p.Elements().Any(e => IsDivision(e.Name.LocalName))).ToList())
        {
            empty.Name = Db + "chapter";
            if (empty.Element(Db + "partintro") is { } intro)
                intro.ReplaceWith(intro.Elements());
            Filled(empty);
        }
        if (!book.Elements().Skip(1).Any())
            book.Add(El("chapter", El("title"), El("para")));
        return book;
    }

    private static bool IsDivision(string name) => name is "chapter" or "appendix" or "preface" or "glossary" or "index";

    /// <summary>What stands before the text is said of the book.</summary>
    private void Front(XElement info, Division division)
    {
        var rest = new List<Block>();
        foreach (var block in division.Blocks)
            if (block is Paragraph { Role: "title" } && division.Kind == DivisionKind.TitlePage)
                continue;
            else if (block is Paragraph { Role: "subtitle" } p && info.Element(Db + "subtitle") is null)
                info.Element(Db + "title")!.AddAfterSelf(El("subtitle", _spans.Of(p.Content)));
            else
                rest.Add(block);
        var made = Blocks(rest).ToList();
        if (made.Count > 0)
            info.Add(El("legalnotice", A("role", division.Kind == DivisionKind.Legal ? "legal" : "titlePage"), made));
    }

    private XElement Of(Division division)
    {
        var only = division.Blocks.Where(b => b is not (PageBreak or Paragraph { IsMarksAlone: true })).ToList();
        if (division.Kind == DivisionKind.Contents || only is [ContentsList])
            return El("toc", IdOf(division.Id), El("title", Xhtml.Clean(division.Title)));
        if (only.Exists(b => b is IndexList) && only.All(b => b is IndexList or Paragraph))
            return El(
                "index",
                IdOf(division.Id),
                El("title", Xhtml.Clean(division.Title)),
                only.OfType<Paragraph>().Select(p => El("para", _spans.Of(p.Content)))
            );
        return Made(
            division.Kind switch
            {
                DivisionKind.Preface => "preface",
                DivisionKind.Chapter => "chapter",
                DivisionKind.Colophon => "colophon",
                _ => "appendix",
            },
            division,
            division.Kind == DivisionKind.Glossary ? "glossary" : null
        );
    }

    private XElement Made(string name, Division division, string? role = null)
    {
        var made = El(
            name,
            IdOf(division.Id),
            role is null ? null : A("role", role),
            division.Language == _composed.Text.Manual.Language ? null : new XAttribute(XNamespace.Xml + "lang", division.Language),
            El("title", Xhtml.Clean(division.Title)),
            division.ShortTitle is { Length: > 0 } shorter ? El("titleabbrev", Xhtml.Clean(shorter)) : null
        );
        Sections(name == "part" ? Intro(made) : made, division.Blocks);
        return made;
    }

    /// <summary>The text of a part stands before its chapters.</summary>
    private static XElement Intro(XElement part)
    {
        var intro = El("partintro");
        part.Add(intro);
        return intro;
    }

    /// <summary>Heads become sections within one another, by their levels.</summary>
    private void Sections(XElement within, IReadOnlyList<Block> blocks)
    {
        var open = new Stack<(HeadLevel Level, XElement Section)>();
        foreach (var block in blocks)
            if (block is Head { Printed: true } head)
            {
                while (open.Count > 0 && open.Peek().Level >= head.Level)
                    open.Pop();
                var section = El(
                    "section",
                    IdOf(head.Id),
                    Own(head),
                    El("title", _spans.Of(head.Content)),
                    head.ShortTitle is { Length: > 0 } shorter ? El("titleabbrev", Xhtml.Clean(shorter)) : null
                );
                (open.Count > 0 ? open.Peek().Section : within).Add(section);
                open.Push((head.Level, section));
            }
            else
                (open.Count > 0 ? open.Peek().Section : within).Add(Blocks([block]));
        if (within.Name.LocalName == "partintro" && !within.HasElements)
            within.Remove();
        // A section has text; one that has none yet has an empty paragraph.
        foreach (
            var empty in within
                .DescendantsAndSelf()
                .Where(e => e.Name.LocalName is "section" or "chapter" or "appendix" or "preface")
                .ToList()
        )
            Filled(empty);
    }

    private static void Filled(XElement within)
    {
        if (within.Elements().All(e => e.Name.LocalName is "title" or "titleabbrev"))
            within.Add(El("para"));
    }

    // ---- blocks ----

    private static XAttribute? Own(Block block) => block.OwnRole is { } own ? A("role", own) : null;

    private static XAttribute? Role(Paragraph p) => Own(p) ?? (p.Role == "body" ? null : A("role", p.Role));

    private IEnumerable<XElement> Blocks(IEnumerable<Block> blocks) => blocks.SelectMany(Of);

    /// <summary>What an element holds that must hold something.</summary>
    private IEnumerable<XElement> Some(IReadOnlyList<Block> blocks) => Blocks(blocks).DefaultIfEmpty(El("para"));

    private IEnumerable<XElement> Of(Block block)
    {
        switch (block)
        {
            case Paragraph { Role: "quotation" } p:
                yield return El("blockquote", IdOf(p.Id), El("para", _spans.Of(p.Content)));
                break;
            case Paragraph p:
                yield return El("para", IdOf(p.Id), Role(p), _spans.Of(p.Content));
                break;
            case Head h:
                yield return El("bridgehead", IdOf(h.Id), A("renderas", "sect" + N((int)h.Level)), _spans.Of(h.Content));
                break;
            case ItemList { Kind: ListKind.Unordered } l:
                yield return El("itemizedlist", IdOf(l.Id), Own(l), l.Items.Select(Item));
                break;
            case ItemList l:
                yield return El(
                    "orderedlist",
                    IdOf(l.Id),
                    Own(l),
                    A(
                        "numeration",
                        l.Kind switch
                        {
                            ListKind.Alpha => "loweralpha",
                            ListKind.Roman => "lowerroman",
                            _ => "arabic",
                        }
                    ),
                    l.Continues ? A("continuation", "continues")
                        : l.Start > 1 ? A("startingnumber", N(l.Start))
                        : null,
                    l.Items.Select(Item)
                );
                break;
            case Steps s:
                yield return El(
                    "procedure",
                    IdOf(s.Id),
                    s.Continues ? A("role", "continues") : Own(s),
                    s.Items.Select(i => El("step", IdOf(i.Id), Step(i.Blocks)))
                );
                break;
            case DefinitionList d:
                yield return Definitions(d);
                break;
            case ReferenceList r:
                yield return El(
                    "bibliolist",
                    IdOf(r.Id),
                    r.Documents.Select(d =>
                        El("bibliomixed", IdOf(d.Id), El("abbrev", Xhtml.Clean(d.Designation)), " ", El("citetitle", _spans.Of(d.Title)))
                    )
                );
                break;
            case Admonition a:
                yield return El(
                    a.Kind switch
                    {
                        AdmonitionKind.Danger => "warning",
                        AdmonitionKind.Notice => "important",
                        _ => a.Kind.ToString().ToLowerInvariant(),
                    },
                    IdOf(a.Id),
                    a.Kind == AdmonitionKind.Danger ? A("role", "danger") : Own(a),
                    Some(a.Blocks)
                );
                break;
            case Aside a:
                yield return El("sidebar", IdOf(a.Id), Own(a), a.Title.Count > 0 ? El("title", _spans.Of(a.Title)) : null, Some(a.Blocks));
                break;
            case Example e:
                yield return El("example", IdOf(e.Id), El("title", _spans.Of(e.Title)), Some(e.Blocks));
                break;
            case Figure f:
                yield return Figure(f);
                break;
            case Listing l:
                var lines = El(
                    "programlisting",
                    l.Caption.Count > 0 ? null : IdOf(l.Id),
                    l.Language.Length > 0 ? A("language", l.Language) : null,
                    A("linenumbering", l.LineNumbers ? "numbered" : "unnumbered"),
                    Xhtml.Clean(l.Text.ReplaceLineEndings("\n").TrimEnd('\n'))
                );
                yield return l.Caption.Count > 0
                    ? El("example", IdOf(l.Id), A("role", "listing"), El("title", _spans.Of(l.Caption)), lines)
                    : lines;
                break;
            case Equation e:
                yield return El(e.Numbered ? "equation" : "informalequation", IdOf(e.Id), DocBookSpans.Equation(e.Source, e.Alternative));
                break;
            case Table t:
                yield return Table(t);
                break;
        }
    }

    private static string N(int number) => number.ToString(CultureInfo.InvariantCulture);

    private XElement Item(Item item) => El("listitem", IdOf(item.Id), Some(item.Blocks));

    /// <summary>Steps within a step are its substeps.</summary>
    private IEnumerable<XElement> Step(IReadOnlyList<Block> blocks) =>
        blocks
            .SelectMany(b =>
                b is Steps inner ? [El("substeps", IdOf(inner.Id), inner.Items.Select(i => El("step", IdOf(i.Id), Step(i.Blocks))))] : Of(b)
            )
            .DefaultIfEmpty(El("para"));

    private XElement Definitions(DefinitionList list) =>
        list.Glossary
            ? El(
                "glosslist",
                IdOf(list.Id),
                list.Definitions.Select(d =>
                    El("glossentry", IdOf(d.Id), El("glossterm", _spans.Of(d.Term)), El("glossdef", Some(d.Blocks)))
                )
            )
            : El(
                "variablelist",
                IdOf(list.Id),
                list.Definitions.Select(d => El("varlistentry", IdOf(d.Id), El("term", _spans.Of(d.Term)), El("listitem", Some(d.Blocks))))
            );

    private XElement Figure(Figure f)
    {
        var areas = f.Caption.OfType<FigureArea>().ToList();
        var media = El(
            "mediaobject",
            f.Plays is { } film ? El("videoobject", El("videodata", A("fileref", film))) : null,
            _spans.Picture(f.Asset, f.Alternative),
            areas.Count > 0 ? El("caption", El("orderedlist", areas.Select(a => El("listitem", El("para", _spans.Of(a.Content)))))) : null
        );
        media.Descendants(Db + "imagedata").First().SetAttributeValue("width", N(Math.Clamp(f.Width, 1, 100)) + "%");
        var words = f.Caption.Where(i => i is not FigureArea).ToList();
        return f.IsCaptioned ? El("figure", IdOf(f.Id), El("title", _spans.Of(words)), media) : El("informalfigure", IdOf(f.Id), media);
    }

    // ---- tables ----

    private static string AlignmentOf(CellAlignment alignment) =>
        alignment switch
        {
            CellAlignment.Centre => "center",
            CellAlignment.Right => "right",
            CellAlignment.Decimal => "char",
            _ => "left",
        };

    private XElement Table(Table t)
    {
        var (grid, columns) = TableGrid.Of(t);
        var byRow = grid.ToLookup(c => c.Row);
        XElement Row(int r) =>
            El(
                "row",
                t.Rows[r].Group ? A("role", "group") : null,
                byRow[r].OrderBy(c => c.Column).Select(c => Cell(c)).DefaultIfEmpty(El("entry", El("para")))
            );
        var heads = Math.Min(t.HeaderRows, Math.Max(0, t.Rows.Count - 1));
        var group = El(
            "tgroup",
            A("cols", N(Math.Max(1, columns))),
            Enumerable
                .Range(0, columns)
                .Select(c =>
                    El(
                        "colspec",
                        A("colname", "c" + N(c + 1)),
                        A("align", AlignmentOf(c < t.Columns.Count ? t.Columns[c] : CellAlignment.Left)),
                        c < t.Columns.Count && t.Columns[c] == CellAlignment.Decimal ? A("char", ".") : null
                    )
                ),
            heads > 0 ? El("thead", Enumerable.Range(0, heads).Select(Row)) : null,
            El(
                "tbody",
                t.Rows.Count > heads ? Enumerable.Range(heads, t.Rows.Count - heads).Select(Row) : [El("row", El("entry", El("para")))]
            )
        );
        var column = t.HeaderColumn ? A("rowheader", "firstcol") : null;
        return t.Caption.Count > 0
            ? El("table", IdOf(t.Id), column, El("title", _spans.Of(t.Caption)), group)
            : El("informaltable", IdOf(t.Id), column, group);
    }

    private XElement Cell(GridCell place) =>
        El(
            "entry",
            place.Columns > 1
                ? new[] { A("namest", "c" + N(place.Column + 1)), A("nameend", "c" + N(place.Column + place.Columns)) }
                : null,
            place.Rows > 1 ? A("morerows", N(place.Rows - 1)) : null,
            place.Cell.Alignment is { } alignment ? A("align", AlignmentOf(alignment)) : null,
            _spans.Of(place.Cell.Content)
        );
}
