using System.Globalization;
using Kivren.Core.Content;
using Kivren.Core.Numbering;
using Kivren.Core.Selection;
using Kivren.Core.Type;

namespace Kivren.Formats.Pdf;

/// <summary>What a run of marked content belongs to: a block's words or its picture, within a link, within an equation.</summary>
internal readonly record struct ContentMark(Id Block, bool Picture, int Link, Inset? Within);

/// <summary>The structure of a text in the standard types of PDF 1.7 as PDF/UA-1 (ISO 14289-1) wants them: built from the
/// content, filled while pages are written; what got no content is left out.</summary>
internal sealed class StructureTree
{
    private readonly PdfFile _file;
    private readonly StructureElement _document = new("Document", null);
    private readonly Dictionary<Id, StructureElement> _of = [];
    private readonly Dictionary<Id, StructureElement> _pictures = [];
    private readonly Dictionary<(Id, Inset), StructureElement> _equations = [];

    /// <summary>Of lines of generated lists and of listings, made when they are met.</summary>
    private readonly Dictionary<Id, StructureElement> _lines = [];

    /// <summary>For each page the owner of each run of marked content, in order.</summary>
    private readonly SortedDictionary<int, StructureElement[]> _pages = [];
    private readonly List<StructureElement> _annotations = [];
    private readonly int _pageCount;

    /// <summary>Level of the head written last.</summary>
    private int _level;

    public StructureTree(SelectedText text, PdfFile file, int pageCount)
    {
        _file = file;
        _pageCount = pageCount;
        foreach (var division in text.Divisions)
        {
            _language = division.Language;
            var section = _document.Add(
                "Sect",
                division.Language == text.Manual.Language ? null : new PdfDictionary { { "Lang", PdfValue.Ascii(division.Language) } }
            );
            _of.TryAdd(division.Id, section.Add("H1"));
            foreach (var block in division.Blocks)
                Add(block, section);
        }
    }

    // ---- from the content ----

    private StructureElement For(Id id, StructureElement element)
    {
        _of.TryAdd(id, element);
        return element;
    }

    private static PdfDictionary Alternative(string words) => new() { { "Alt", PdfValue.Text(words.Length > 0 ? words : "Picture") } };

    /// <summary>Of the division that is being told.</summary>
    private string _language = "";

    private void Add(Block block, StructureElement parent)
    {
        switch (block)
        {
            case Paragraph p:
                Spans(p.Content, For(p.Id, parent.Add(p.Role == "quotation" ? "BlockQuote" : "P")));
                break;
            case Head h:
                Spans(h.Content, For(h.Id, parent.Add("H" + ((int)h.Level + 1).ToString(CultureInfo.InvariantCulture))));
                break;
            case ItemList l:
                Items(
                    l.Items,
                    parent.Add(
                        "L",
                        Numbering(
                            l.Kind switch
                            {
                                ListKind.Decimal => "Decimal",
                                ListKind.Alpha => "LowerAlpha",
                                ListKind.Roman => "LowerRoman",
                                _ => "Disc",
                            }
                        )
                    )
                );
                break;
            case Steps s:
                Items(s.Items, parent.Add("L", Numbering("Decimal")));
                break;
            case DefinitionList d:
                var list = parent.Add("L", Numbering("None"));
                foreach (var definition in d.InOrder(_language))
                {
                    var item = list.Add("LI");
                    Spans(definition.Term, For(definition.Id, item.Add("Lbl")));
                    var body = item.Add("LBody");
                    foreach (var inner in definition.Blocks)
                        Add(inner, body);
                }
                break;
            case ReferenceList r:
                foreach (var document in r.InOrder(_language))
                    Spans(document.Title, For(document.Id, parent.Add("P")));
                break;
            case Admonition a:
                Box(a.Id, [], a.Blocks, parent);
                break;
            case Aside a:
                Box(a.Id, a.Title, a.Blocks, parent);
                break;
            case Example e:
                Box(e.Id, e.Title, e.Blocks, parent);
                break;
            case Table t:
                Rows(t, parent);
                break;
            case Figure f:
                var figure = parent.Add("Figure", Alternative(f.Alternative));
                _pictures.TryAdd(f.Id, figure);
                if (f.Caption.Count > 0 || f.Plays is not null)
                    Spans(f.Caption, For(f.Id, figure.Add("Caption")));
                break;
            case Listing l:
                Spans(l.Caption, For(l.Id, parent.Add("P")));
                For(new Id(l.Id.Value + "⟨lines⟩"), parent.Add("P").Add("Code"));
                break;
            case Equation e:
                For(e.Id, parent.Add("P"));
                break;
            case ContentsList c:
                For(c.Id, parent.Add("TOC"));
                break;
            case IndexList i:
                For(i.Id, parent.Add("Index"));
                break;
        }
    }

    private static PdfDictionary Numbering(string kind) =>
        Attributes("List", new PdfDictionary { { "ListNumbering", PdfValue.Name(kind) } });

    /// <param name="owner">which of the standard attributes they are (14.8.5)</param>
    private static PdfDictionary Attributes(string owner, PdfDictionary attributes) =>
        new()
        {
            {
                "A",
                new PdfDictionary { { "O", PdfValue.Name(owner) }, attributes }
            },
        };

    private void Items(IReadOnlyList<Item> items, StructureElement list)
    {
        foreach (var item in items)
        {
            var element = list.Add("LI");
            For(item.Id, element.Add("Lbl"));
            var body = element.Add("LBody");
            foreach (var inner in item.Blocks)
                Add(inner, body);
        }
    }

    /// <summary>A box with its signal word or title as a paragraph of its own.</summary>
    private void Box(Id id, IReadOnlyList<Inline> title, IReadOnlyList<Block> blocks, StructureElement parent)
    {
        var box = parent.Add("Div");
        Spans(title, For(id, box.Add("P")));
        foreach (var inner in blocks)
            Add(inner, box);
    }

    private void Rows(Table table, StructureElement parent)
    {
        var element = parent.Add("Table");
        Spans(table.Caption, For(table.Id, element.Add("Caption")));
        for (var r = 0; r < table.Rows.Count; r++)
        {
            var row = element.Add("TR");
            for (var c = 0; c < table.Rows[r].Cells.Count; c++)
            {
                var cell = table.Rows[r].Cells[c];
                string? heads =
                    r < table.HeaderRows ? "Column"
                    : (table.HeaderColumn && c == 0) || table.Rows[r].Group ? "Row"
                    : null;
                var reach = new PdfDictionary
                {
                    { "Scope", heads is null ? null : PdfValue.Name(heads) },
                    { "ColSpan", cell.ColumnSpan > 1 ? cell.ColumnSpan : null },
                    { "RowSpan", cell.RowSpan > 1 ? cell.RowSpan : null },
                };
                Spans(cell.Content, For(cell.Id, row.Add(heads is null ? "TD" : "TH", reach.IsEmpty ? null : Attributes("Table", reach))));
            }
        }
    }

    /// <summary>Notes and equations stand in what they belong to, where they are called.</summary>
    private void Spans(IReadOnlyList<Inline> spans, StructureElement owner)
    {
        foreach (var inline in spans)
            if (inline is Footnote note)
                _of.TryAdd(note.Id, new StructureElement("Note", owner, new PdfDictionary { { "ID", PdfValue.Ascii(note.Id.Value) } }));
            else if (inline is InlinePicture picture)
                _pictures.TryAdd(picture.Id, new StructureElement("Figure", owner, Alternative(picture.Alternative)));
    }

    // ---- while pages are written ----

    /// <summary>The type that a run of marked content names, or null for what is no part of the text. Safe from several
    /// threads, also while <see cref="Take"/> runs: it reads what the text has made alone.</summary>
    public string? TypeOf(in ContentMark mark)
    {
        if (mark.Within is not null)
            return Base(mark.Block) is null ? null : "Formula";
        if (mark.Picture)
            return _pictures.ContainsKey(mark.Block) ? "Figure" : null;
        if (mark.Block.IsNone)
            return null;
        if (mark.Link >= 0)
            return Base(mark.Block) is null ? null : "Link";
        if (_of.TryGetValue(mark.Block, out var element))
            return element.Type;
        return Base(mark.Block) is { } list ? LineType(list) : null;
    }

    private static string LineType(StructureElement list) => list.Type == "TOC" ? "TOCI" : "P";

    /// <summary>The element of a block, or the generated list that one of its lines belongs to.</summary>
    private StructureElement? Base(Id block)
    {
        if (_of.TryGetValue(block, out var element))
            return element;
        var cut = block.Value.IndexOf('⟨', StringComparison.Ordinal);
        return cut > 0 ? _of.GetValueOrDefault(new Id(block.Value[..cut])) : null;
    }

    private StructureElement Owner(Id block)
    {
        if (_of.TryGetValue(block, out var element) || _lines.TryGetValue(block, out element))
            return element;
        var list = Base(block)!;
        return _lines[block] = list.Add(LineType(list));
    }

    /// <summary>Takes up a page's runs of marked content, in order. Called page by page.</summary>
    /// <param name="links">the annotation object of each link of the page, or 0</param>
    /// <returns>for each link the key of its annotation in the parent tree, or -1</returns>
    public int[] Take(int page, IReadOnlyList<ContentMark> marks, int[] links)
    {
        var owners = new StructureElement[marks.Count];
        var linked = new StructureElement?[links.Length];
        for (var m = 0; m < marks.Count; m++)
        {
            var mark = marks[m];
            StructureElement owner;
            if (mark.Picture)
            {
                owner = _pictures[mark.Block];
                Within(owner);
            }
            else
            {
                owner = Owner(mark.Block);
                if (owner.Type == "Note")
                    Within(owner);
                if (mark.Within is { } inset)
                {
                    if (!_equations.TryGetValue((mark.Block, inset), out var formula))
                        _equations.Add((mark.Block, inset), formula = owner.Add("Formula", Alternative(inset.Alternative)));
                    owner = formula;
                }
                else if (mark.Link >= 0)
                    owner = linked[mark.Link] ??= owner.Add("Link");
            }
            owner.Use(_file);
            owner.Kids.Add(new StructureElement.Kid(null, page, m, 0));
            owners[m] = owner;
        }
        _pages[page] = owners;
        var keys = new int[links.Length];
        for (var l = 0; l < links.Length; l++)
        {
            keys[l] = -1;
            if (links[l] == 0 || linked[l] is not { } link)
                continue;
            link.Kids.Add(new StructureElement.Kid(null, page, -1, links[l]));
            keys[l] = _pageCount + _annotations.Count;
            _annotations.Add(link);
        }
        return keys;
    }

    /// <summary>Puts a note or small picture among the kids of what it stands in, the first time it is met.</summary>
    private static void Within(StructureElement element)
    {
        if (element.Object == 0 && element.Parent is { } parent && !parent.Kids.Any(k => ReferenceEquals(k.Element, element)))
            parent.Kids.Add(new StructureElement.Kid(element, -1, -1, 0));
    }

    // ---- at the end ----

    /// <summary>Writes all elements with content; the number of the tree's root object.</summary>
    public int Write(int[] pageIds)
    {
        var root = _file.Allocate();
        _document.Use(_file);
        Write(_document, root, pageIds);
        var parents = new List<PdfValue>();
        foreach (var (page, owners) in _pages)
            parents.AddRange([page, PdfValue.To(_file.Object(PdfValue.Array(owners.Select(o => PdfValue.To(o.Object)))))]);
        for (var a = 0; a < _annotations.Count; a++)
            parents.AddRange([_pageCount + a, PdfValue.To(_annotations[a].Object)]);
        _file.Object(
            root,
            new PdfDictionary("StructTreeRoot")
            {
                { "K", PdfValue.To(_document.Object) },
                { "ParentTree", PdfValue.To(_file.Object(new PdfDictionary { { "Nums", PdfValue.Array(parents) } })) },
                { "ParentTreeNextKey", _pageCount + _annotations.Count },
            }
        );
        return root;
    }

    private void Write(StructureElement element, int parent, int[] pageIds)
    {
        var type = element.Type;
        if (type.Length == 2 && type[0] == 'H' && char.IsAsciiDigit(type[1]))
        {
            // Levels are not skipped, whatever levels the writer skips.
            _level = Math.Min(type[1] - '0', _level + 1);
            type = "H" + _level.ToString(CultureInfo.InvariantCulture);
        }
        // Most elements have all their content on one page: then its pieces are named by their number alone.
        var page = element.Kids.Where(k => k.Page >= 0).Select(k => k.Page).DefaultIfEmpty(-1).First();
        var kids = element.Kids.Where(k => k.Element is not { Object: 0 }).Select(k => Written(k, page, pageIds));
        _file.Object(
            element.Object,
            new PdfDictionary
            {
                { "S", PdfValue.Name(type) },
                { "P", PdfValue.To(parent) },
                { "Pg", page >= 0 ? PdfValue.To(pageIds[page]) : null },
                element.Attributes,
                { "K", PdfValue.Array(kids) },
            }
        );
        foreach (var kid in element.Kids)
            if (kid.Element is { Object: > 0 } child)
                Write(child, element.Object, pageIds);
    }

    /// <param name="page">the page that the element names, or -1</param>
    private static PdfValue Written(StructureElement.Kid kid, int page, int[] pageIds)
    {
        if (kid.Element is { } child)
            return PdfValue.To(child.Object);
        PdfValue? elsewhere = kid.Page == page ? null : PdfValue.To(pageIds[kid.Page]);
        if (kid.Annotation > 0)
            return new PdfDictionary("OBJR") { { "Obj", PdfValue.To(kid.Annotation) }, { "Pg", elsewhere } };
        return elsewhere is null ? kid.Content : new PdfDictionary("MCR") { { "Pg", elsewhere }, { "MCID", kid.Content } };
    }
}
