using System.Xml.Linq;
using Kivren.Core;
using Kivren.Core.Composition;
using Kivren.Core.Content;
using Kivren.Core.Indexing;
using Kivren.Core.Lists;
using Kivren.Core.Looks;
using Kivren.Core.Numbering;
using Kivren.Core.Type;
using static Kivren.Formats.Docx.Writing.Ooxml;

namespace Kivren.Formats.Docx.Writing;

/// <summary>An edition as a word-processing file (ECMA-376): roles as styles, references, contents, index, captions and notes as
/// fields that hold what they come to in print, and can be computed anew.</summary>
public sealed class WordWriter
{
    private readonly ComposedManual _composed;
    private readonly WordPackage _package;
    private readonly WordSpans _spans;
    private readonly List<XElement> _body = [];
    private DivisionNumbers _numbers = null!;
    private Division _division = null!;

    private WordWriter(ComposedManual composed, Func<string, byte[]?> pictures)
    {
        _composed = composed;
        _package = new WordPackage(composed.Text.Manual, pictures);
        _spans = new WordSpans(composed, _package);
    }

    /// <param name="composed">in an edition for paper</param>
    /// <param name="template">that it is put into, or null</param>
    /// <param name="roles">styles of the template for roles</param>
    /// <returns>what of the template could not be done as it was asked for</returns>
    public static IReadOnlyList<string> Write(
        ComposedManual composed,
        Func<string, byte[]?> pictures,
        Stream output,
        Action<int>? told = null,
        WordTemplate? template = null,
        IReadOnlyList<RoleStyle>? roles = null,
        CancellationToken cancel = default
    )
    {
        var writer = new WordWriter(composed, pictures);
        writer.Foretell();
        for (var d = 0; d < composed.Text.Divisions.Count; d++)
        {
            cancel.ThrowIfCancellationRequested();
            writer.Division(d);
            told?.Invoke(d + 1);
        }
        writer._body.AddRange([El("p", writer._package.EndAll()), writer.Section(composed.Text.Divisions.Count - 1)]);
        // The pages are bound as the whole is read.
        if (Core.Type.Writing.Of(composed.Text.Manual.Language).RightToLeft)
        {
            FromRight.Turn(writer._body.SelectMany(b => b.DescendantsAndSelf(W + "sectPr")));
            FromRight.Turn(writer._package.Notes);
        }
        var document = El(
            "document",
            new XAttribute(XNamespace.Xmlns + "w", W),
            new XAttribute(XNamespace.Xmlns + "r", R),
            new XAttribute(XNamespace.Xmlns + "m", M),
            new XAttribute(XNamespace.Xmlns + "wp", Wp),
            new XAttribute(XNamespace.Xmlns + "a", Dml),
            new XAttribute(XNamespace.Xmlns + "pic", Pic),
            El("body", writer._body)
        );
        var said = new List<string>();
        writer._package.Write(
            output,
            document,
            WordStyleSheet.Of(composed.Look, composed.Text.Manual),
            composed.Text.Variable("title") ?? composed.Text.Manual.Title,
            template,
            roles,
            said
        );
        return said;
    }

    /// <summary>What will be pointed at, before the first word is written that points.</summary>
    private void Foretell()
    {
        foreach (var division in _composed.Numbers.Divisions)
        foreach (var target in division.Targets)
        {
            if (
                target.Kind
                is TargetKind.Division
                    or TargetKind.Head
                    or TargetKind.Figure
                    or TargetKind.Table
                    or TargetKind.Listing
                    or TargetKind.Example
                    or TargetKind.Anchor
            )
                _package.WillMark(WordSpans.TitleMark(target.Id));
            if (
                target.Number.Length > 0
                && target.Kind
                    is TargetKind.Division
                        or TargetKind.Head
                        or TargetKind.Figure
                        or TargetKind.Table
                        or TargetKind.Listing
                        or TargetKind.Example
                        or TargetKind.Equation
            )
                _package.WillMark(WordSpans.NumberMark(target.Id));
        }
        foreach (var block in _composed.Text.Divisions.SelectMany(d => d.Blocks))
        foreach (var entry in block.Inlines().OfType<IndexEntry>())
            if (entry.Kind == EntryKind.RangeEnd)
                _package.WillEndRange(entry.Id);
    }

    // ---- divisions and sections ----

    private void Division(int d)
    {
        (_division, _numbers) = (_composed.Text.Divisions[d], _composed.Numbers.Divisions[d]);
        if (d > 0 && BeginsSection(d))
            _body.Add(El("p", El("pPr", Section(d - 1))));
        var begun = _body.Count;
        if (_composed.Look.SequenceOf(_division.Kind).Opens)
            Opening();
        foreach (var block in _division.Blocks)
            Block(block, 0, null);
        if (Core.Type.Writing.Of(_division.Language).RightToLeft)
            FromRight.Turn(_body.Skip(begun));
    }

    /// <summary>Whether pages change from a division to the next: their layout, or how their folios count.</summary>
    private bool BeginsSection(int d) => KeyOf(d) != KeyOf(d - 1);

    private string KeyOf(int d)
    {
        var kind = _composed.Text.Divisions[d].Kind;
        var sequence = _composed.Look.SequenceOf(kind);
        return $"{sequence.Format} {sequence.Opens} {IsIndex(d)} {_composed.Look.MasterOf(kind).Name}";
    }

    private bool IsIndex(int d) => _composed.Text.Divisions[d].Blocks.Any(b => b is IndexList);

    private readonly HashSet<string> _counted = new(StringComparer.Ordinal);

    /// <summary>The pages up to here, in the layout of a division.</summary>
    private XElement Section(int d)
    {
        var kind = _composed.Text.Divisions[d].Kind;
        var look = _composed.Look;
        var (master, sequence) = (look.MasterOf(kind), look.SequenceOf(kind));
        var format = sequence.Format == FolioFormat.Roman ? "lowerRoman" : "decimal";
        var begins = _counted.Add(format);
        return El(
            "sectPr",
            sequence.Opens ? Running() : null,
            Val("type", "nextPage"),
            El("pgSz", At("w", Twips(master.Width)), At("h", Twips(master.Height))),
            El(
                "pgMar",
                At("top", Twips(master.Top)),
                At("right", Twips(master.Outer)),
                At("bottom", Twips(master.Foot)),
                At("left", Twips(master.Inner)),
                At("header", Twips(master.HeadTop)),
                At("footer", Twips(master.FootBaseline)),
                At("gutter", "0")
            ),
            El("pgNumType", At("fmt", format), begins ? At("start", "1") : null),
            IsIndex(d) ? El("cols", At("num", N(look.Index.Columns)), At("space", Twips(look.Index.Gutter))) : null
        );
    }

    private (string Head, string Foot)? _running;

    /// <summary>The division's title over each page, the folio under it: both follow the text.</summary>
    private XElement[] Running()
    {
        if (_running is null)
        {
            XElement Root(string name, params object[] content) =>
                El(
                    name,
                    new XAttribute(XNamespace.Xmlns + "w", W),
                    El("p", El("pPr", Val("pStyle", WordStyleSheet.Header.Id), Val("jc", "center")), content)
                );
            _running = (
                _package.Part(
                    "header",
                    "header.xml",
                    "header",
                    Root("hdr", Field("STYLEREF \"heading 1\"", [Run(_composed.Text.Manual.Title)]).ToArray())
                ),
                _package.Part("footer", "footer.xml", "footer", Root("ftr", Field("PAGE", [Run("1")]).ToArray()))
            );
        }
        var (head, foot) = _running.Value;
        XElement Names(string name, string type, string relation) => El(name, At("type", type), new XAttribute(R + "id", relation));
        return
        [
            Names("headerReference", "even", head),
            Names("headerReference", "default", head),
            Names("footerReference", "even", foot),
            Names("footerReference", "default", foot),
        ];
    }

    private void Opening()
    {
        var number = _numbers.Number;
        var name = _composed.Look.KindName(_division);
        var words = new List<XElement>();
        if (number.Length > 0)
        {
            var (before, behind) = LanguageWords.Around(name);
            words.Add(Run(before));
            words.AddRange(_spans.Marked(WordSpans.NumberMark(_division.Id), [Run(number)]));
            words.Add(Run(behind + "\u2003"));
        }
        words.AddRange(_spans.Marked(WordSpans.TitleMark(_division.Id), [Run(_division.Title)]));
        _body.Add(
            El(
                "p",
                El(
                    "pPr",
                    Val("pStyle", (_division.Kind == DivisionKind.Part ? WordStyleSheet.Part : WordStyleSheet.Division).Id),
                    _composed.Look.BeginsOf(_division) == Begins.RunsOn ? null : El("pageBreakBefore")
                ),
                words
            )
        );
    }

    // ---- blocks ----

    /// <summary>Where a block stands: in a list at a level, whose number its first paragraph carries.</summary>
    private sealed record Standing(int Level, int? List, WordStyle? Style);

    private XElement Paragraph(WordStyle style, IEnumerable<XElement> words, Block? block, Standing? at, params object?[] properties)
    {
        var own = block?.OwnRole is { } role ? WordStyleSheet.OwnStyle(role) : null;
        return El(
            "p",
            El(
                "pPr",
                Val("pStyle", (own ?? at?.Style ?? style).Id),
                at is { List: { } list } ? El("numPr", Val("ilvl", N(Math.Min(at.Level, 8))), Val("numId", N(list))) : null,
                properties,
                at is { List: null, Level: >= 0 } ? El("ind", At("left", N(360 * (at.Level + 1)))) : null
            ),
            words
        );
    }

    private void Block(Block block, int depth, Standing? at)
    {
        switch (block)
        {
            case Paragraph p:
                var number = _numbers.Label(p.Id);
                _body.Add(
                    Paragraph(
                        WordStyleSheet.RoleStyle(p.Role),
                        number.Length > 0 ? _spans.Of(p.Content).Prepend(Run(number + "\u2003")) : _spans.Of(p.Content),
                        p,
                        p.Role == "body" ? at
                            : at is null ? null
                            : at with { Style = null }
                    )
                );
                break;
            case Head { Printed: true } h:
                Head(h);
                break;
            case Head h:
                _body.Add(El("p", _spans.Marked(WordSpans.TitleMark(h.Id), [])));
                break;
            case ItemList l:
                Items(
                    l.Items,
                    ListOf(l),
                    WordStyleSheet.Items[
                        l.Kind switch
                        {
                            ListKind.Unordered => 0,
                            ListKind.Alpha or ListKind.Roman => 2,
                            _ => 1,
                        }
                    ],
                    depth
                );
                break;
            case Steps s:
                Items(s.Items, _package.List(WordLists.Steps, Start(s.Id)), WordStyleSheet.Items[3], depth);
                break;
            case DefinitionList d:
                foreach (var definition in d.InOrder(_division.Language))
                {
                    _body.Add(
                        Paragraph(
                            WordStyleSheet.Term,
                            _spans.Marked(WordSpans.TitleMark(definition.Id), _spans.Of(definition.Term)),
                            d,
                            null
                        )
                    );
                    foreach (var inner in definition.Blocks)
                        Block(inner, depth, new Standing(-1, null, WordStyleSheet.Definition));
                }
                break;
            case ReferenceList r:
                foreach (var document in r.InOrder(_division.Language))
                    _body.Add(
                        Paragraph(
                            WordStyleSheet.Body,
                            _spans.Of(document.Title).Prepend(Run(document.Designation + ", ", El("b"))),
                            r,
                            null
                        )
                    );
                break;
            case Admonition a:
                Boxed(
                    WordStyleSheet.Of(a.Kind),
                    _numbers.Label(a.Id) is { Length: > 0 } said ? said : LanguageWords.Of(_division.Language).Signal(a.Kind),
                    a.Blocks,
                    depth
                );
                break;
            case Aside a:
                if (a.Title.Count > 0)
                    _body.Add(Paragraph(WordStyleSheet.AsideTitle, _spans.Of(a.Title), a, null));
                foreach (var inner in a.Blocks)
                    Block(inner, depth, new Standing(-1, null, WordStyleSheet.Aside));
                break;
            case Example e:
                _body.Add(Captioned(WordStyleSheet.Example, e, e.Title));
                foreach (var inner in e.Blocks)
                    Block(inner, depth, at);
                break;
            case Table t:
                if (t.Caption.Count > 0)
                    _body.Add(Captioned(WordStyleSheet.Caption, t, t.Caption, El("keepNext")));
                Table(t);
                break;
            case Figure f:
                Figure(f);
                break;
            case Listing l:
                if (l.Caption.Count > 0)
                    _body.Add(Captioned(WordStyleSheet.Caption, l, l.Caption, El("keepNext")));
                _body.Add(Paragraph(WordStyleSheet.Listing, [Run(l.Text.ReplaceLineEndings("\n").TrimEnd('\n'))], l, null));
                break;
            case Equation e:
                Equation(e);
                break;
            case ContentsList c:
                Contents(c);
                break;
            case IndexList:
                Index();
                break;
            case PageBreak b:
                _body.Add(El("p", El("r", El("br", At("type", b.To == BreakTo.Column ? "column" : "page")))));
                break;
        }
    }

    private int Start(Id list) =>
        _numbers.Label(list).TrimEnd(')') is { Length: > 0 } label
            ? int.TryParse(label, System.Globalization.CultureInfo.InvariantCulture, out var n)
                ? n
                : label.All(char.IsAsciiLetterLower)
                    ? label.Aggregate(0, (a, c) => a * 26 + (c - 'a' + 1))
                    : 1
            : 1;

    private int ListOf(ItemList list) =>
        list.Kind switch
        {
            ListKind.Unordered => _package.List(WordLists.Bullets, 1),
            ListKind.Alpha => _package.List(WordLists.Letters, Start(list.Id)),
            ListKind.Roman => _package.List(WordLists.Roman, list.Start),
            _ => _package.List(WordLists.Numbers, Start(list.Id)),
        };

    /// <summary>The first paragraph of an item carries its number, what follows stands under it.</summary>
    private void Items(IReadOnlyList<Item> items, int list, WordStyle style, int depth)
    {
        foreach (var item in items)
        {
            var numbered = false;
            foreach (var inner in item.Blocks)
            {
                var first = !numbered && inner is Paragraph;
                Block(inner, depth + 1, new Standing(depth, first ? list : null, first ? style : null));
                numbered |= first;
            }
        }
    }

    private void Boxed(WordStyle style, string word, IReadOnlyList<Block> blocks, int depth)
    {
        var isFirst = true;
        foreach (var inner in blocks)
        {
            if (isFirst && inner is Paragraph p)
                _body.Add(Paragraph(style, _spans.Of(p.Content).Prepend(Run(word + "\u2003", El("b"))), p, null));
            else
                Block(inner, depth, new Standing(-1, null, style));
            isFirst = false;
        }
    }

    private void Head(Head h)
    {
        var words = new List<XElement>();
        if (_numbers.ById.GetValueOrDefault(h.Id) is { Number: { Length: > 0 } number })
        {
            words.AddRange(_spans.Marked(WordSpans.NumberMark(h.Id), [Run(number)]));
            words.Add(Run("\u2003"));
        }
        words.AddRange(_spans.Marked(WordSpans.TitleMark(h.Id), _spans.Of(h.Content)));
        _body.Add(Paragraph(WordStyleSheet.HeadOf(h.Level), words, h, null));
    }

    /// <summary>A caption whose number counts by itself: what stands before its last part is the division's.</summary>
    private XElement Captioned(WordStyle style, Block block, IReadOnlyList<Inline> caption, params object?[] properties)
    {
        var words = new List<XElement>();
        if (_numbers.ById.GetValueOrDefault(block.Id) is { Number: { Length: > 0 } number } target)
        {
            var (before, behind) = LanguageWords.Around(target.Name);
            words.Add(Run(before));
            var cut = number.LastIndexOfAny(['-', '.', '–']) + 1;
            var counted = new List<XElement>();
            if (cut > 0)
                counted.Add(Run(number[..cut]));
            // A reader that does not count by divisions begins anew where it is told.
            var anew = cut > 0 && number[cut..] == "1" ? " \\r 1" : "";
            counted.AddRange(
                Field($"SEQ {LanguageWords.Numbered(target.Name, "")} \\* ARABIC{(cut > 0 ? " \\s 1" : "")}{anew}", [Run(number[cut..])])
            );
            words.AddRange(_spans.Marked(WordSpans.NumberMark(block.Id), counted));
            words.Add(Run(behind + "\u2003"));
        }
        words.AddRange(_spans.Marked(WordSpans.TitleMark(block.Id), _spans.Of([.. caption.Where(i => i is not FigureArea)])));
        return Paragraph(style, words, block, null, properties);
    }

    private void Figure(Figure f)
    {
        var master = _composed.Look.MasterOf(_division.Kind);
        if (
            _package.Picture(
                f.Asset,
                f.Alternative,
                master.Measure.InPoints * Math.Clamp(f.Width, 5, 100) / 100,
                master.Depth.InPoints * .8
            ) is
            { } drawn
        )
            _body.Add(Paragraph(WordStyleSheet.Body, [drawn], null, null, El("keepNext")));
        if (f.IsCaptioned)
            _body.Add(Captioned(WordStyleSheet.Caption, f, f.Caption));
        foreach (var area in f.Areas())
            _body.Add(
                Paragraph(
                    WordStyleSheet.Caption,
                    _spans.Of(area.Content).Prepend(Run(_numbers.Label(area.Id) + "\u2003", El("b"))),
                    null,
                    null
                )
            );
        if (f.Plays is { } address)
            _body.Add(Paragraph(WordStyleSheet.Caption, _spans.Of([new TextRun(address, Web: address)]), null, null));
    }

    private void Equation(Equation e)
    {
        var words = new List<XElement> { WordEquation.Of(e.Source) ?? Run(e.Source) };
        if (_numbers.ById.GetValueOrDefault(e.Id) is { Number: { Length: > 0 } number })
        {
            words.Add(Run("\t("));
            words.AddRange(_spans.Marked(WordSpans.NumberMark(e.Id), [Run(number)]));
            words.Add(Run(")"));
        }
        var right = Twips(_composed.Look.MasterOf(_division.Kind).Measure);
        _body.Add(Paragraph(WordStyleSheet.Body, words, e, null, El("tabs", El("tab", At("val", "right"), At("pos", right)))));
    }

    private void Table(Table table)
    {
        // Two tables with nothing between them would be one.
        if (_body is [.., { Name.LocalName: "tbl" }])
            _body.Add(El("p"));
        var (grid, columns) = TableGrid.Of(table);
        var width = (int)(_composed.Look.MasterOf(_division.Kind).Measure.InPoints * 20) / columns;
        var made = El(
            "tbl",
            El(
                "tblPr",
                Val("tblStyle", "Ruled"),
                El("tblW", At("w", "5000"), At("type", "pct")),
                El(
                    "tblLook",
                    At("val", "0020"),
                    At("firstRow", table.HeaderRows > 0 ? "1" : "0"),
                    At("firstColumn", table.HeaderColumn ? "1" : "0")
                )
            ),
            El("tblGrid", Enumerable.Range(0, columns).Select(_ => El("gridCol", At("w", N(width)))))
        );
        for (var r = 0; r < table.Rows.Count; r++)
        {
            var row = El("tr", El("trPr", El("cantSplit"), r < table.HeaderRows ? El("tblHeader") : null));
            for (var c = 0; c < columns; )
            {
                var place = grid.Where(g => g.Row <= r && r < g.Row + g.Rows && g.Column <= c && c < g.Column + g.Columns)
                    .Select(g => (GridCell?)g)
                    .FirstOrDefault();
                var span = place is { } at ? at.Column + at.Columns - c : 1;
                row.Add(Cell(table, place, r, c, span, width));
                c += span;
            }
            made.Add(row);
        }
        _body.Add(made);
    }

    private XElement Cell(Table table, GridCell? place, int row, int column, int span, int width)
    {
        var cell = place is { } p && p.Row == row && p.Column == column ? p.Cell : null;
        var isHead = row < table.HeaderRows || (table.HeaderColumn && column == 0) || table.Rows[row].Group;
        var alignment = cell?.Alignment ?? (column < table.Columns.Count ? table.Columns[column] : CellAlignment.Left);
        return El(
            "tc",
            El(
                "tcPr",
                El("tcW", At("w", N(width * span)), At("type", "dxa")),
                span > 1 ? Val("gridSpan", N(span)) : null,
                place is { Rows: > 1 } tall ? (tall.Row == row ? Val("vMerge", "restart") : El("vMerge")) : null
            ),
            El(
                "p",
                El(
                    "pPr",
                    Val("pStyle", (isHead ? WordStyleSheet.CellHead : WordStyleSheet.Cell).Id),
                    alignment is CellAlignment.Left ? null : Val("jc", alignment == CellAlignment.Centre ? "center" : "right")
                ),
                cell is null ? null : _spans.Of(cell.Content)
            )
        );
    }

    // ---- lists that are computed ----

    /// <summary>A field over all lines: begun before the first, ended after the last.</summary>
    private void Generated(string instruction, List<(WordStyle Style, List<XElement> Words)> lines)
    {
        if (lines.Count == 0)
            return;
        var field = Field(instruction, []).ToList();
        lines[0].Words.InsertRange(0, field.Take(3));
        lines[^1].Words.Add(field[3]);
        foreach (var (style, words) in lines)
            _body.Add(El("p", El("pPr", Val("pStyle", style.Id), Tabs()), words));
    }

    private XElement Tabs() =>
        El("tabs", El("tab", At("val", "right"), At("leader", "dot"), At("pos", Twips(_composed.Look.MasterOf(_division.Kind).Measure))));

    private void Contents(ContentsList list)
    {
        if (_composed.Look.List(list.List) is not { } definition)
            return;
        var d = _composed.Text.Divisions.ToList().IndexOf(_division);
        var entries = ContentsEntry.Of(definition, _composed.Numbers, Math.Max(0, d), _composed.Places.Folio);
        var instruction = definition.Lines[0].Kind switch
        {
            TargetKind.Figure => $"TOC \\h \\z \\c \"{_composed.Words["figure"]}\"",
            TargetKind.Table => $"TOC \\h \\z \\c \"{_composed.Words["table"]}\"",
            TargetKind.Listing => $"TOC \\h \\z \\c \"{_composed.Words["listing"]}\"",
            _ => $"TOC \\o \"1-{(definition.Lines.Any(l => l.Kind == TargetKind.Head) ? "3" : "1")}\" \\h \\z",
        };
        Generated(
            instruction,
            [
                .. entries.Select(e =>
                    (
                        WordStyleSheet.ContentsOf(definition.Lines[e.Line].Kind == TargetKind.Head ? 2 : 1),
                        new List<XElement>
                        {
                            El(
                                "hyperlink",
                                At("anchor", WordSpans.TitleMark(e.Target)),
                                Run($"{e.Number}\u2003{e.Title}".TrimStart('\u2003')),
                                e.Folio.Length > 0 ? Run("\t") : null,
                                e.Folio.Length > 0 ? Field($"PAGEREF {WordSpans.TitleMark(e.Target)} \\h", [Run(e.Folio)]) : null
                            ),
                        }
                    )
                ),
            ]
        );
    }

    private void Index()
    {
        var lines = new List<(WordStyle, List<XElement>)>();
        foreach (var line in _composed.IndexLines)
        {
            if (line.Depth < 0)
                continue;
            var words = line.Text;
            if (line.Locators.Count > 0)
                words += ", " + string.Join(", ", line.Locators.Select(l => l.Text));
            if (line.See is { } see)
                words += $", see {see}";
            if (line.SeeAlso is { } also)
                words += $". See also {also}";
            lines.Add((new WordStyle($"Index{Math.Min(line.Depth + 1, 1)}", ""), [Run(new string('\u2003', line.Depth) + words)]));
        }
        Generated($"INDEX \\e \", \" \\c \"{N(_composed.Look.Index.Columns)}\"", lines);
    }
}
