using System.IO.Hashing;
using System.Runtime.InteropServices;
using System.Text;
using Kivren.Core.Content;
using Kivren.Core.Indexing;
using Kivren.Core.Looks;
using Kivren.Core.LooseEnds;
using Kivren.Core.Numbering;
using Kivren.Core.Type;

namespace Kivren.Core.Composition;

/// <summary>Sets one top-level block of a division in pieces (composition.md 1, 2 and the block rules of 4).</summary>
internal sealed class BlockSetter
{
    private readonly SettingContext _context;
    private readonly Look _look;
    private readonly DivisionNumbers _numbers;
    private readonly Hyphenator? _hyphenator;
    private readonly PieceStack _stack;
    private readonly List<string> _missing = [];

    private BlockSetter(SettingContext context, DivisionNumbers numbers, Id block)
    {
        _context = context;
        _look = context.Look;
        _numbers = numbers;
        _hyphenator = Hyphenator.For(numbers.Division.Language);
        _stack = new PieceStack(block);
    }

    /// <param name="flush">the paragraph opens a text: no first-line indent</param>
    /// <param name="runIn">a head set into this paragraph's first line, or null</param>
    /// <param name="key">what the block reads, for its content hash</param>
    public static SetBlock Set(SettingContext context, DivisionNumbers numbers, Block block, bool flush, Head? runIn, string key)
    {
        var setter = new BlockSetter(context, numbers, block.Id);
        var (before, after) = setter.Top(block, flush, runIn);
        return setter.Finish(block, before, after, runIn, key);
    }

    public static SetBlock Opening(SettingContext context, DivisionNumbers numbers)
    {
        var setter = new BlockSetter(context, numbers, numbers.Division.Id);
        setter.SetOpening();
        return setter.Finish(null, 0, context.Look.AfterTitle.Millipoints, null, numbers.Division.Title);
    }

    private SetBlock Finish(Block? block, int before, int after, Head? runIn, string key)
    {
        foreach (var characters in _missing.Distinct())
            Loose(LooseEndKind.MissingCharacter, characters, $"No face has “{characters}”; it prints as a box. Write it another way.");
        var pieces = _stack.ToArray();
        return new SetBlock
        {
            Pieces = pieces,
            Marks = [.. _stack.Marks],
            Headers = [.. _stack.Headers],
            LooseEnds = [.. _stack.LooseEnds],
            Before = before,
            After = after,
            Called = Called(block, runIn),
            LeadsIn = block is Paragraph p && p.Content.LastOrDefault(i => i is TextRun) is TextRun { Text: var last } && last.TrimEnd().EndsWith(':'),
            Head = block as Head ?? runIn,
            ContentHash = Hash(block, key),
        };
    }

    /// <summary>Of all that makes this block's pieces: the text as printed, with places.</summary>
    private ulong Hash(Block? block, string key)
    {
        var hash = new XxHash64();
        hash.Append(MemoryMarshal.AsBytes(key.AsSpan()));
        hash.Append(MemoryMarshal.AsBytes((block?.Id.Value ?? "").AsSpan()));
        foreach (ref readonly var piece in _stack.ToArray().AsSpan())
            foreach (var drawn in piece.Drawn)
            {
                Append(hash, drawn.X, drawn.Y);
                switch (drawn)
                {
                    case DrawnLine line: Append(hash, line.Line); break;
                    case DrawnRule rule: Append(hash, rule.Width, rule.Height); break;
                    case DrawnPicture picture:
                        Append(hash, picture.Width, picture.Height);
                        hash.Append(MemoryMarshal.AsBytes((_context.Manual.Assets.FirstOrDefault(a => a.Name == picture.Asset)?.Hash ?? picture.Asset).AsSpan()));
                        break;
                }
            }
        return hash.GetCurrentHashAsUInt64();
    }

    internal static void Append(XxHash64 hash, TextLine line)
    {
        foreach (var word in line.Words)
        {
            hash.Append(MemoryMarshal.AsBytes(word.Word.Text.AsSpan()));
            hash.Append(MemoryMarshal.AsBytes((word.Target.Value ?? "").AsSpan()));
            Append(hash, word.From, word.To);
            Append(hash, word.X, word.Style.Size.Millipoints);
            Append(hash, word.Style.Rise.Millipoints, word.Style.Face.Weight + (word.Style.Face.Italic ? 1 : 0) + word.Style.Face.Family.Length * 1024 + (word.Hyphen ? 1 << 20 : 0));
        }
    }

    private static void Append(XxHash64 hash, int a, int b)
    {
        ReadOnlySpan<int> both = [a, b];
        hash.Append(MemoryMarshal.AsBytes(both));
    }

    private string Called(Block? block, Head? runIn) => block switch
    {
        null => $"the title “{_numbers.Division.Title}”",
        Head h => $"the {h.Level} head “{h.Content.PlainText()}”",
        _ when runIn is not null => $"the {runIn.Level} head “{runIn.Content.PlainText()}”",
        Table t => t.Caption.Count > 0 ? $"Table {_numbers.ById[t.Id].Number}" : "the table",
        Figure f => $"Figure {_numbers.ById[f.Id].Number}",
        Listing l => "the listing" + Words(l.Text),
        Steps s => "the steps" + Words(s.Items.FirstOrDefault()?.Blocks.FirstOrDefault()?.OwnSpans().FirstOrDefault()?.PlainText() ?? ""),
        ItemList s => "the list" + Words(s.Items.FirstOrDefault()?.Blocks.FirstOrDefault()?.OwnSpans().FirstOrDefault()?.PlainText() ?? ""),
        Admonition a => $"the {a.Kind.ToString().ToLowerInvariant()}" + Words(a.Blocks.FirstOrDefault()?.OwnSpans().FirstOrDefault()?.PlainText() ?? ""),
        _ => "the paragraph" + Words(block.OwnSpans().FirstOrDefault()?.PlainText() ?? ""),
    };

    private static string Words(string text)
    {
        text = text.Trim();
        if (text.Length == 0) return "";
        if (text.Length <= 32) return $" “{text}”";
        var cut = text.LastIndexOf(' ', 32);
        return $" “{text[..(cut > 8 ? cut : 32)]} …”";
    }

    private void Loose(LooseEndKind kind, string words, string message) =>
        _stack.LooseEnds.Add(new LooseEnd(kind, _numbers.Division.Id, _stack.Block, words, message));

    // ---- blocks ----

    private (int Before, int After) Top(Block block, bool flush, Head? runIn)
    {
        var measure = _look.Master.Measure.Millipoints;
        _stack.Mark(block.Id);
        switch (block)
        {
            case Paragraph p:
                {
                    var dress = _look.ParagraphDress(p.Role);
                    var styled = new StyledText();
                    if (runIn is not null)
                    {
                        _stack.Mark(runIn.Id);
                        var headDress = _look.HeadDress(runIn.Level);
                        AddSpans(styled, runIn.Content, headDress, hyphenates: false);
                        styled.Add("\u00A0 ", headDress.Plain, false);
                    }
                    AddSpans(styled, p.Content, dress, dress.Hyphenates);
                    Lines(styled, dress, dress.Left.Millipoints, measure - dress.Left.Millipoints, flush || runIn is not null ? 0 : dress.FirstIndent.Millipoints, p.Id);
                    var before = runIn is null ? dress.Before : _look.HeadDress(runIn.Level).Before;
                    return (before.Millipoints, dress.After.Millipoints);
                }
            case Head h:
                return SetHead(h, measure);
            case Listing l:
                SetListing(l, 0, measure);
                return (_look.ListingText.Before.Millipoints, _look.ListingText.After.Millipoints);
            case Table t:
                SetTable(t, measure);
                return (13_000, 13_000);
            case Figure f:
                SetFigure(f, measure, floats: true);
                return (11_000, 13_000);
            case Admonition a:
                SetAdmonition(a, 0, measure);
                return (_look.AdmonitionText.Before.Millipoints, _look.AdmonitionText.After.Millipoints);
            case Steps or ItemList:
                SetInner(block, 0, measure, _look.ListText);
                return (_look.ListText.Before.Millipoints, _look.ListText.After.Millipoints);
            default:
                return (0, 0);
        }
    }

    /// <summary>A block inside an item, an admonition or the like, in the dress of what it stands in.</summary>
    private void SetInner(Block block, int left, int width, Dress dress)
    {
        switch (block)
        {
            case Paragraph p:
                {
                    _stack.Mark(p.Id);
                    var styled = new StyledText();
                    AddSpans(styled, p.Content, dress, dress.Hyphenates);
                    Lines(styled, dress, left, width, 0, p.Id);
                    break;
                }
            case Head h:
                {
                    _stack.Mark(h.Id);
                    var styled = new StyledText();
                    AddSpans(styled, h.Content, _look.Heads[3], hyphenates: false);
                    Lines(styled, _look.Heads[3], left, width, 0, h.Id);
                    _stack.KeepNext(Keep.Head);
                    break;
                }
            case Steps s:
                _stack.Mark(s.Id);
                SetItems(s.Items, left, width, dress, _look.StepNumber, keepUpTo: 4, labelRight: true);
                break;
            case ItemList l:
                _stack.Mark(l.Id);
                SetItems(l.Items, left, width, dress, l.Kind == ListKind.Unordered ? dress : _look.StepNumber, keepUpTo: 3, labelRight: l.Kind is ListKind.Decimal or ListKind.Roman);
                break;
            case Admonition a:
                _stack.Mark(a.Id);
                _stack.Space(_look.AdmonitionText.Before.Millipoints);
                SetAdmonition(a, left, width);
                _stack.Space(_look.AdmonitionText.After.Millipoints);
                break;
            case Figure f:
                _stack.Mark(f.Id);
                _stack.Space(6_500);
                SetFigure(f, width, floats: false, left);
                _stack.Space(6_500);
                break;
            case Listing l:
                _stack.Mark(l.Id);
                _stack.Space(4_000);
                SetListing(l, left, width);
                _stack.Space(4_000);
                break;
            case Table t:
                _stack.Mark(t.Id);
                _stack.Space(6_500);
                SetTable(t, width, left);
                _stack.Space(6_500);
                break;
        }
    }

    private void SetItems(IReadOnlyList<Item> items, int left, int width, Dress dress, Dress labelDress, int keepUpTo, bool labelRight)
    {
        var hang = _look.ListHang.Millipoints;
        var first = true;
        foreach (var item in items)
        {
            if (!first) _stack.Space(3_250);
            first = false;
            _stack.Mark(item.Id);
            var start = _stack.Count;
            var inFirst = true;
            foreach (var block in item.Blocks)
            {
                if (!inFirst && block is Paragraph) _stack.Space(3_250);
                inFirst = false;
                SetInner(block, left + hang, width - hang, dress);
            }
            if (_stack.Count == start) _stack.Add(dress.Leading.Millipoints, []);
            var label = Label(_numbers.Label(item.Id), labelDress);
            var x = labelRight ? left + hang - 6_000 - label.Width : left + hang - Math.Max(label.Width + 3_600, 10_000);
            _stack.Extend(start, 0, 0, [new DrawnLine(label, Math.Max(left, x), dress.Baseline.Millipoints, item.Id)]);
            if (_stack.Count - start <= keepUpTo) _stack.KeepTogether(start, Keep.Together);
        }
    }

    private (int, int) SetHead(Head head, int measure)
    {
        var dress = _look.HeadDress(head.Level);
        var number = _numbers.ById[head.Id].Number;
        if (head.Content.PlainText().Trim().Length == 0) Loose(LooseEndKind.EmptyHead, "", $"{(head.Level == HeadLevel.A ? "An" : "A")} {head.Level} head without words. Write it or take it out.");
        var styled = new StyledText();
        AddSpans(styled, head.Content, dress, hyphenates: false);
        var hang = 0;
        TextLine? label = null;
        if (number.Length > 0)
        {
            label = Label(number, dress);
            hang = label.Width + dress.Size.Scale(85, 100).Millipoints;
        }
        var from = _stack.Count;
        Lines(styled, dress, hang, measure - hang, 0, head.Id);
        if (label is not null) _stack.Extend(from, 0, 0, [new DrawnLine(label, 0, dress.Baseline.Millipoints, head.Id)]);
        _stack.KeepTogether(from, Keep.Whole);
        return (dress.Before.Millipoints, dress.After.Millipoints);
    }

    private void SetOpening()
    {
        var division = _numbers.Division;
        var measure = _look.Master.Measure.Millipoints;
        _stack.Mark(division.Id);
        var drawn = new List<Drawn>();
        var y = division.Kind == DivisionKind.Part ? _look.Sink.Millipoints * 3 : _look.Sink.Millipoints;
        var name = Look.KindName(division.Kind);
        if (name.Length > 0)
        {
            drawn.Add(new DrawnLine(Label($"{name} {_numbers.Number}", _look.DivisionLabel), 0, y + _look.DivisionLabel.Baseline.Millipoints, division.Id));
            y += (_look.DivisionLabel.Leading + _look.DivisionLabel.After).Millipoints;
        }
        var styled = new StyledText();
        styled.Add(division.Title, _look.DivisionTitle.Plain, false);
        foreach (var line in SetLines(styled, _look.DivisionTitle, measure, 0))
        {
            drawn.Add(new DrawnLine(line, 0, y + _look.DivisionTitle.Baseline.Millipoints, division.Id));
            y += _look.DivisionTitle.Leading.Millipoints;
        }
        _stack.Add(y, drawn);
    }

    private void SetAdmonition(Admonition admonition, int left, int width)
    {
        var dress = _look.AdmonitionText;
        var from = _stack.Count;
        var column = Math.Min(_look.SignalColumn.Millipoints, width / 3);
        var inFirst = true;
        foreach (var block in admonition.Blocks)
        {
            if (!inFirst) _stack.Space(4_000);
            inFirst = false;
            SetInner(block, left + column, width - column, dress);
        }
        if (_stack.Count == from) _stack.Add(dress.Leading.Millipoints, []);
        var signal = Label(admonition.Kind.ToString().ToUpperInvariant(), _look.SignalWord);
        const int above = 6_200, below = 6_600;
        _stack.Extend(from, above, 0, [new DrawnRule(left, 0, width, 1_200), new DrawnLine(signal, left, above + dress.Baseline.Millipoints, admonition.Id)]);
        var last = _stack.Count - 1;
        var depth = _stack.HeightOf(last);
        _stack.Extend(last, 0, below, [new DrawnRule(left, depth + below - 400, width, 400)]);
        if (_stack.Count - from <= 10) _stack.KeepTogether(from, Keep.Short);
    }

    private void SetFigure(Figure figure, int measure, bool floats, int left = 0)
    {
        var asset = _context.Manual.Assets.FirstOrDefault(a => a.Name == figure.Asset);
        if (figure.Alternative.Length == 0)
            Loose(LooseEndKind.NoAlternativeText, figure.Caption.PlainText(), "The figure has no alternative text. Say in words what it shows.");
        if (asset is null)
            Loose(LooseEndKind.PictureMissing, figure.Asset, $"The picture “{figure.Asset}” is not in the manual. Bring it in, or point the figure at another.");
        var captionLines = CaptionLines(figure.Id, "Figure", figure.Caption, measure, figure.Id, out var notes, out var marks);
        var width = (int)((long)measure * Math.Clamp(figure.Width, 5, 100) / 100);
        long height = asset is null || asset.Width <= 0 ? 60_000 : (long)width * asset.Height / asset.Width;
        var most = _look.Master.Depth.Millipoints - captionLines.Count * _look.Caption.Leading.Millipoints - 24_000;
        if (height > most)
        {
            width = (int)(width * most / height);
            height = most;
        }
        const int rule = 400, above = 8_000, below = 5_000;
        var drawn = new List<Drawn> { new DrawnRule(left, 0, measure, rule) };
        var y = rule + above;
        drawn.Add(new DrawnPicture(figure.Asset, figure.Alternative, left + (measure - width) / 2, y, width, (int)height, figure.Id));
        y += (int)height + below;
        foreach (var line in captionLines)
        {
            drawn.Add(new DrawnLine(line, left, y + _look.Caption.Baseline.Millipoints, figure.Id));
            y += _look.Caption.Leading.Millipoints;
        }
        foreach (var mark in marks) _stack.Mark(mark.Id);
        _stack.Add(y, drawn, notes.Count > 0 ? notes : null, floats: floats);
    }

    private List<TextLine> CaptionLines(Id id, string name, IReadOnlyList<Inline> caption, int width, Id block, out List<SetNote> notes, out List<TextMark> marks)
    {
        var styled = new StyledText();
        if (_numbers.ById.TryGetValue(id, out var target) && target.Number.Length > 0)
        {
            styled.Add($"{name}\u00A0{target.Number}", _look.CaptionLabel.Plain, false);
            if (caption.Count > 0) styled.Add("\u00A0 ", _look.CaptionLabel.Plain, false);
        }
        AddSpans(styled, caption, _look.Caption, hyphenates: false);
        notes = styled.Notes.Select(n => SetNote(n.Note)).ToList();
        marks = styled.Marks;
        return SetLines(styled, _look.Caption, width, 0);
    }

    /// <summary>Tables of no more body rows than this stand whole.</summary>
    private const int ShortTable = 9;

    private void SetTable(Table table, int measure, int left = 0)
    {
        var start = _stack.Count;
        var columns = TableColumns.Widths(table, measure, cell => Natural(cell.Content, _look.TableText));
        if (table.Caption.Count > 0)
        {
            var lines = CaptionLines(table.Id, "Table", table.Caption, measure, table.Id, out var notes, out var marks);
            foreach (var mark in marks) _stack.Mark(mark.Id);
            for (var i = 0; i < lines.Count; i++)
            {
                _stack.Add(_look.Caption.Leading.Millipoints, [new DrawnLine(lines[i], left, _look.Caption.Baseline.Millipoints, table.Id)], i == 0 && notes.Count > 0 ? notes : null);
                _stack.KeepNext(Keep.Whole);
            }
            _stack.Space(4_000);
            _stack.KeepNext(Keep.Whole);
        }
        var headerIndex = -1;
        var headerDrawn = new List<Drawn>();
        var headerHeight = 0;
        var bodyRows = table.Rows.Count - table.HeaderRows;
        for (var r = 0; r < table.Rows.Count; r++)
        {
            var isHeader = r < table.HeaderRows;
            var (height, drawn, notes, marks) = Row(table.Rows[r], table, columns, left, isHeader ? _look.TableHead : _look.TableText);
            if (r == 0)
            {
                drawn.Insert(0, new DrawnRule(left, 0, measure, 800));
            }
            var lastHeader = r == table.HeaderRows - 1;
            var last = r == table.Rows.Count - 1;
            if (last) drawn.Add(new DrawnRule(left, height - 800, measure, 800));
            else if (lastHeader) drawn.Add(new DrawnRule(left, height - 400, measure, 400));
            else if (!isHeader) drawn.Add(new DrawnRule(left, height - 250, measure, 250, 55));
            foreach (var mark in marks) _stack.Mark(mark.Id);
            if (isHeader)
            {
                headerDrawn.AddRange(drawn.Select(d => d with { Y = d.Y + headerHeight }));
                headerHeight += height;
                if (lastHeader)
                {
                    headerIndex = _stack.Headers.Count;
                    _stack.Headers.Add(new HeaderRows(headerHeight, headerDrawn));
                }
            }
            else if (r == table.HeaderRows) { if (r > 0) _stack.KeepNext(Keep.Whole); }
            else if (bodyRows > 2 && (r == table.HeaderRows + 1 || last)) _stack.KeepNext(Keep.RowStart);
            if (isHeader && r > 0) _stack.KeepNext(Keep.Whole);
            if (height > _look.Master.Depth.Millipoints - headerHeight)
                Loose(LooseEndKind.TooTall, table.Rows[r].Cells.FirstOrDefault()?.Content.PlainText() ?? "", "This row is taller than a page. Divide it into several rows.");
            _stack.Add(height, drawn, notes.Count > 0 ? notes : null, header: isHeader ? -1 : headerIndex);
        }
        if (bodyRows <= ShortTable) _stack.KeepTogether(start, Keep.Short);
    }

    private (int Height, List<Drawn> Drawn, List<SetNote> Notes, List<TextMark> Marks) Row(Row row, Table table, int[] columns, int left, Dress dress)
    {
        const int above = 3_400, below = 3_600, gap = 6_000;
        var drawn = new List<Drawn>();
        var notes = new List<SetNote>();
        var marks = new List<TextMark> { new(0, row.Id) };
        int x = left, tallest = dress.Leading.Millipoints;
        for (var c = 0; c < columns.Length; c++)
        {
            if (c < row.Cells.Count)
            {
                var cell = row.Cells[c];
                marks.Add(new TextMark(0, cell.Id));
                var styled = new StyledText();
                AddSpans(styled, cell.Content, dress, hyphenates: false);
                marks.AddRange(styled.Marks);
                notes.AddRange(styled.Notes.Select(n => SetNote(n.Note)));
                var alignment = c < table.Columns.Count ? table.Columns[c] : CellAlignment.Left;
                var width = Math.Max(1_000, columns[c] - (c == columns.Length - 1 ? 0 : gap));
                var lines = LineSetter.OfThread.Set(styled, new Shape(new Length(width), default, alignment switch { CellAlignment.Right => Alignment.RaggedLeft, CellAlignment.Centre => Alignment.Centred, _ => Alignment.Ragged }), null, _missing);
                var y = above;
                foreach (var line in lines)
                {
                    CheckOverfull(line, cell.Content);
                    drawn.Add(new DrawnLine(line, x, y + dress.Baseline.Millipoints, cell.Id));
                    y += dress.Leading.Millipoints;
                }
                tallest = Math.Max(tallest, y - above);
            }
            x += columns[c];
        }
        return (above + tallest + below, drawn, notes, marks);
    }

    private (int Widest, int Longest) Natural(IReadOnlyList<Inline> content, Dress dress)
    {
        var styled = new StyledText();
        AddSpans(styled, content, dress, hyphenates: false);
        var lines = LineSetter.OfThread.Set(styled, new Shape(Length.Points(20_000), default, Alignment.Ragged), null);
        var widest = lines.Max(l => l.Width);
        var longest = lines.SelectMany(l => l.Words).Select(w => w.Width).DefaultIfEmpty(0).Max();
        return (widest, longest);
    }

    private void SetListing(Listing listing, int left, int width)
    {
        var dress = _look.ListingText;
        if (listing.Caption.Count > 0)
        {
            var caption = CaptionLines(listing.Id, "Listing", listing.Caption, width, listing.Id, out var notes, out var marks);
            foreach (var mark in marks) _stack.Mark(mark.Id);
            foreach (var line in caption)
            {
                _stack.Add(_look.Caption.Leading.Millipoints, [new DrawnLine(line, left, _look.Caption.Baseline.Millipoints, listing.Id)], notes.Count > 0 ? notes : null);
                _stack.KeepNext(Keep.Whole);
                notes = [];
            }
            _stack.Space(4_000);
            _stack.KeepNext(Keep.Whole);
        }
        var indent = Math.Min(6_000, width / 10);
        var lines = ListingLines.Of(listing.Text, dress.Plain, width - indent, _missing);
        for (var i = 0; i < lines.Count; i++)
        {
            if (i is 1 or 2 || (i > 0 && i >= lines.Count - 2)) _stack.KeepNext(Keep.Widow);
            _stack.Add(dress.Leading.Millipoints, [new DrawnRule(left, 0, 1_200, dress.Leading.Millipoints, 70), new DrawnLine(lines[i], left + indent, dress.Baseline.Millipoints, listing.Id)]);
        }
    }

    // ---- lines ----

    private void CheckOverfull(TextLine line, IReadOnlyList<Inline> content)
    {
        if (line.Overfull) Loose(LooseEndKind.OverfullLine, content.PlainText(), "A line here is wider than its measure. Reword it, or give the long word a place to break.");
    }

    private List<TextLine> SetLines(StyledText styled, Dress dress, int width, int firstIndent)
    {
        var lines = LineSetter.OfThread.Set(styled, new Shape(new Length(width), new Length(firstIndent), dress.Alignment), _hyphenator, _missing);
        foreach (var line in lines)
            if (line.Overfull) Loose(LooseEndKind.OverfullLine, styled.ToString()[line.Start..line.End], "This line is wider than its measure. Reword it, or give the long word a place to break.");
        return lines;
    }

    private void Lines(StyledText styled, Dress dress, int left, int width, int firstIndent, Id block)
    {
        var lines = SetLines(styled, dress, width, firstIndent);
        int mark = 0, note = 0;
        for (var i = 0; i < lines.Count; i++)
        {
            var line = lines[i];
            var isLast = i == lines.Count - 1;
            if (i > 0)
            {
                if (i == 1) _stack.KeepNext(Keep.Orphan);
                if (isLast) _stack.KeepNext(Keep.Widow);
                if (lines[i - 1].EndsInHyphen) _stack.KeepNext(Keep.Hyphen);
            }
            for (; mark < styled.Marks.Count && (styled.Marks[mark].At < line.End || isLast); mark++) _stack.Mark(styled.Marks[mark].Id);
            List<SetNote>? notes = null;
            for (; note < styled.Notes.Count && (styled.Notes[note].At <= line.End || isLast); note++)
            {
                (notes ??= []).Add(SetNote(styled.Notes[note].Note));
                // What stands in the note stands on the page of its call.
                foreach (var inner in Walk.Flat(styled.Notes[note].Note.Content))
                    if (inner is Anchor a) _stack.Mark(a.Id);
                    else if (inner is IndexEntry e) _stack.Mark(e.Kind == EntryKind.RangeEnd ? IndexTree.EndOf(e.Id) : e.Id);
                _stack.Mark(styled.Notes[note].Note.Id);
            }
            _stack.Add(dress.Leading.Millipoints, [new DrawnLine(line, left, dress.Baseline.Millipoints, block)], notes);
        }
    }

    private SetNote SetNote(Footnote note)
    {
        var dress = _look.NoteText;
        var styled = new StyledText();
        AddSpans(styled, note.Content, dress, dress.Hyphenates);
        const int hang = 9_000;
        var lines = LineSetter.OfThread.Set(styled, new Shape(_look.Master.Measure - new Length(hang), default, dress.Alignment), _hyphenator, _missing);
        var number = _numbers.Label(note.Id);
        return new SetNote(note.Id, number, lines, Label(number, dress), dress.Leading.Millipoints, dress.Baseline.Millipoints);
    }

    private static TextLine Label(string text, Dress dress)
    {
        var styled = new StyledText();
        styled.Add(text.Replace(' ', '\u00A0'), dress.Plain, false);
        return LineSetter.OfThread.Set(styled, new Shape(Length.Points(2000), default, Alignment.Ragged), null)[0];
    }

    private void AddSpans(StyledText styled, IReadOnlyList<Inline> spans, Dress dress, bool hyphenates)
    {
        foreach (var inline in spans)
        {
            switch (inline)
            {
                case TextRun run:
                    var divides = hyphenates && (run.Roles & (SpanRoles.Code | SpanRoles.Control | SpanRoles.Key | SpanRoles.PartNumber)) == 0 && run.Web is null;
                    styled.Add(run.Text, dress.Style(run.Roles), divides, default, run.Web, run.Roles.HasFlag(SpanRoles.NoBreak));
                    break;
                case CrossReference reference:
                    styled.Mark(reference.Id);
                    var printed = _context.Print(reference);
                    if (!_context.Exists(reference))
                        Loose(LooseEndKind.ReferenceToNothing, styled.ToString(), "This cross-reference points at nothing: its target was taken out or is not in this edition. Point it at another place, or take it out.");
                    styled.Add(printed, dress.Plain, hyphenates, _context.Exists(reference) ? _context.TargetOf(reference) : default);
                    break;
                case VariableUse variable:
                    var text = _context.Variable(variable.Name);
                    if (text is null) Loose(LooseEndKind.UnknownVariable, variable.Name, $"There is no variable “{variable.Name}”. Define it, or write the words.");
                    styled.Add(text ?? $"[no variable {variable.Name}]", dress.Plain, hyphenates);
                    break;
                case Footnote note:
                    styled.Note(note);
                    styled.Add(_numbers.Label(note.Id), dress.Raised, false, note.Id);
                    break;
                case IndexEntry entry:
                    styled.Mark(entry.Kind == EntryKind.RangeEnd ? IndexTree.EndOf(entry.Id) : entry.Id);
                    break;
                case Anchor anchor:
                    styled.Mark(anchor.Id);
                    break;
                case LineBreak:
                    styled.Add("\u2028", dress.Plain, false);
                    break;
            }
        }
    }
}
