using Kivren.Core.Content;
using Kivren.Core.Looks;
using Kivren.Core.LooseEnds;
using Kivren.Core.Numbering;
using Kivren.Core.Type;

namespace Kivren.Core.Composition;

/// <summary>Tables (composition.md 4): columns by content, spans, header rows that repeat under a caption that says so,
/// decimal alignment, notes under the table, landscape pages for what is wider than its measure.</summary>
internal sealed class TableSetter
{
    /// <summary>Tables of no more body rows than this stand whole.</summary>
    private const int ShortTable = 9;

    /// <summary>A row set: its cells' lines, not yet placed.</summary>
    private sealed record SetRow(Row Row, bool IsHeader, int Height, List<SetCell> Cells);

    private sealed record SetCell(GridCell Place, List<TextLine> Lines, int X, int[]? Shifts, Dress Dress, IReadOnlyList<TextMark> Marks);

    private readonly BlockSetter _at;
    private readonly Table _table;
    private readonly Frame _frame;
    private readonly TableDress _dress;
    private readonly List<GridCell> _cells;
    private readonly int _columns;

    /// <summary>Cells over several rows.</summary>
    private readonly List<GridCell> _spanning;
    private readonly List<Footnote> _notes = [];

    /// <summary>Left edges of the columns, and the right edge of the last.</summary>
    private int[] _lefts = [];

    private TableSetter(BlockSetter at, Table table, Frame frame)
    {
        (_at, _table, _frame, _dress) = (
            at,
            table.HeaderRows <= table.Rows.Count ? table : table with { HeaderRows = table.Rows.Count },
            frame,
            at.Look.Table
        );
        (_cells, _columns) = TableGrid.Of(_table);
        _spanning = _cells.Where(c => c.Rows > 1).ToList();
    }

    /// <summary>Tables of so many columns stand across all columns of the page.</summary>
    private const int ColumnsAcross = 4;

    /// <summary>A table stays upright for the sake of long words in so many of its cells, and in so many of a hundred.</summary>
    private const int DividedCells = 2,
        DividedInHundred = 8;

    public static void Set(BlockSetter at, Table table, Frame frame, bool top)
    {
        var setter = new TableSetter(at, table, frame);
        var columns = setter.Columns(frame.Width);
        var fits = columns.Least <= frame.Width;
        if (top && at.Columns > 1 && (!fits || setter._columns >= ColumnsAcross))
        {
            // Of many columns, or of words too wide for one column of the page, it stands across all of them.
            setter = setter.In(frame with { Left = 0, Width = at.Full });
            columns = setter.Columns(at.Full);
            if (!setter.Divides(columns, at.Full))
                setter.TooWide("than the page's text");
            var start = at.Stack.Count;
            setter.Upright(columns.Widths);
            at.Stack.Across(start);
            return;
        }
        if (fits || setter.Divides(columns, frame.Width))
        {
            setter.Upright(columns.Widths);
            return;
        }
        if (top && table.MayTurn && at.Columns == 1)
        {
            var turned = at.Look.MasterOf(at.Reads.Kind, new PagePlace(true, Turned: true));
            setter = setter.In(frame with { Left = 0, Width = turned.Measure.Millipoints });
            columns = setter.Columns(turned.Measure.Millipoints);
            if (!setter.Divides(columns, turned.Measure.Millipoints))
                setter.TooWide("even turned to a landscape page");
            setter.Landscape(columns.Widths, turned.Depth.Millipoints);
            return;
        }
        setter.TooWide("than its measure");
        setter.Upright(columns.Widths);
    }

    /// <summary>A long word alone does not turn a table: it is divided.</summary>
    private bool Divides(TableColumns columns, int width) =>
        columns.LeastDivided <= width && columns.Divided <= Math.Max(DividedCells, _cells.Count * DividedInHundred / 100);

    /// <summary>The same table in another frame.</summary>
    private TableSetter In(Frame frame) => new(_at, _table, frame) { _words = _words };

    private void TooWide(string than) =>
        _at.Loose(
            LooseEndKind.TableTooWide,
            _table.Caption.PlainText(),
            $"The table is wider {than}: its longest words do not fit side by side. Shorten them, or divide the table.",
            instead: _table.MayTurn ? null : "landscape"
        );

    /// <summary>Of each cell.</summary>
    private WordWidths[]? _words;

    private TableColumns Columns(int measure) =>
        TableColumns.Of(_table, _cells, _words ??= [.. _cells.Select(WordsOf)], _columns, measure, _dress.ColumnGap.Millipoints);

    private Dress DressOf(GridCell cell) =>
        cell.Row < _table.HeaderRows || (_table.HeaderColumn && cell.Column == 0) || _table.Rows[cell.Row].Group
            ? _dress.Head
            : _dress.Text;

    private WordWidths WordsOf(GridCell cell)
    {
        var styled = new StyledText();
        var loose = _at.Stack.LooseEnds.Count;
        _at.Spans(styled, cell.Cell.Content, DressOf(cell), hyphenates: true);
        // Spans are resolved again when the cell is set; what is wrong in them is told then.
        _at.Stack.LooseEnds.RemoveRange(loose, _at.Stack.LooseEnds.Count - loose);
        return LineSetter.OfThread.Widths(styled, _at.Reads.Hyphenator, _at.Reads.Writing);
    }

    // ---- rows ----

    private List<SetRow> Rows(int[] widths)
    {
        var lefts = _lefts = new int[_columns + 1];
        for (var c = 0; c < _columns; c++)
            lefts[c + 1] = lefts[c] + widths[c];
        var gap = _dress.ColumnGap.Millipoints;
        var decimals = Decimals(widths);
        var rows = new List<SetRow>(_table.Rows.Count);
        var byRow = _cells.ToLookup(c => c.Row);
        var heights = new int[_table.Rows.Count];
        var pad = (_dress.Above + _dress.Below).Millipoints;
        for (var r = 0; r < _table.Rows.Count; r++)
        {
            var set = new List<SetCell>();
            heights[r] = pad + _dress.Text.Leading.Millipoints;
            foreach (var place in byRow[r])
            {
                var end = Math.Min(_columns, place.Column + place.Columns);
                var width = Math.Max(1_000, lefts[end] - lefts[place.Column] - (end == _columns ? 0 : gap));
                var styled = new StyledText();
                var dress = DressOf(place);
                _at.Spans(styled, place.Cell.Content, dress, hyphenates: false);
                foreach (var note in styled.Notes)
                    _notes.Add(note.Note);
                var alignment = place.Cell.Alignment
                    ?? (place.Column < _table.Columns.Count ? _table.Columns[place.Column] : CellAlignment.Left);
                // A head over several columns stands in their middle.
                if (r < _table.HeaderRows && place.Columns > 1 && place.Cell.Alignment is null)
                    alignment = CellAlignment.Centre;
                // Numbers align; the head over them stands to the right, where they do.
                if (alignment == CellAlignment.Decimal && (place.Columns > 1 || r < _table.HeaderRows || decimals[place.Column] is null))
                    alignment = CellAlignment.Right;
                var lines = _at.SetLines(
                    styled,
                    new Shape(
                        new Length(width),
                        default,
                        alignment switch
                        {
                            CellAlignment.Right => Alignment.RaggedLeft,
                            CellAlignment.Centre => Alignment.Centred,
                            _ => Alignment.Ragged,
                        },
                        WideOnly: true
                    ),
                    hyphenates: true
                );
                int[]? shifts = null;
                if (alignment == CellAlignment.Decimal && decimals[place.Column] is { } column)
                    shifts = lines.Select(l => l.Words.Length == 0 ? 0 : Math.Max(0, width - column.After - WidthBeforeSign(l))).ToArray();
                set.Add(new SetCell(place, lines, lefts[place.Column], shifts, dress, styled.Marks));
                if (place.Rows == 1)
                    heights[r] = Math.Max(heights[r], pad + lines.Count * dress.Leading.Millipoints);
            }
            rows.Add(new SetRow(_table.Rows[r], r < _table.HeaderRows, 0, set));
        }
        // What a cell over several rows needs beyond them is given to the last of them.
        foreach (var cell in rows.SelectMany(r => r.Cells).Where(c => c.Place.Rows > 1))
        {
            var need = pad + cell.Lines.Count * cell.Dress.Leading.Millipoints;
            var have = 0;
            for (var r = cell.Place.Row; r < cell.Place.Row + cell.Place.Rows; r++)
                have += heights[r];
            if (need > have)
                heights[cell.Place.Row + cell.Place.Rows - 1] += need - have;
        }
        return rows.Select((row, r) => row with { Height = heights[r] }).ToList();
    }

    /// <summary>For each column of decimals the widest part after (and with) the sign.</summary>
    private (int After, int Before)?[] Decimals(int[] widths)
    {
        var found = new (int After, int Before)?[_columns];
        foreach (var cell in _cells)
        {
            if (
                cell.Columns > 1
                || cell.Row < _table.HeaderRows
                || (cell.Cell.Alignment ?? (cell.Column < _table.Columns.Count ? _table.Columns[cell.Column] : CellAlignment.Left))
                    != CellAlignment.Decimal
            )
                continue;
            var styled = new StyledText();
            styled.Add(cell.Cell.Content.PlainText(), DressOf(cell).Plain, false);
            var line = LineSetter.OfThread.Set(styled, Shape.OneLine, null)[0];
            var before = WidthBeforeSign(line);
            var known = found[cell.Column] ?? (0, 0);
            found[cell.Column] = (Math.Max(known.Item1, line.Width - before), Math.Max(known.Item2, before));
        }
        // A column too narrow for its numbers cannot align them.
        for (var c = 0; c < _columns; c++)
            if (found[c] is { } f && f.After + f.Before > widths[c])
                found[c] = null;
        return found;
    }

    private static int WidthBeforeSign(TextLine line)
    {
        if (line.Words.Length == 0)
            return 0;
        var first = line.Words[0];
        var sign = first.Word.Text.AsSpan().IndexOfAny('.', ',');
        if (sign < 0)
            return first.X + first.Width;
        var glyph = first.Word.GlyphAt(sign);
        return glyph < 0 ? first.X + first.Width : first.X + first.Style.Scale(first.Word.WidthOf(0, glyph));
    }

    private List<Drawn> Draw(SetRow row, int index, int count)
    {
        var drawn = new List<Drawn>();
        var (left, measure) = (_frame.Left, _frame.Width);
        if (row.Row.Group)
            drawn.Add(new DrawnRule(left, 0, measure, row.Height, _at.Look.Palette.Tone(_dress.GroupColour, _dress.GroupTint)));
        else if (row.IsHeader && (_dress.HeaderTint < 100 || _dress.HeaderColour is not null))
            drawn.Add(new DrawnRule(left, 0, measure, row.Height, _at.Look.Palette.Tone(_dress.HeaderColour, _dress.HeaderTint)));
        if (index == 0)
            drawn.Add(new DrawnRule(left, 0, measure, _dress.Outer.Millipoints, RuleTone));
        foreach (var cell in row.Cells)
        {
            var y = _dress.Above.Millipoints;
            for (var l = 0; l < cell.Lines.Count; l++)
            {
                drawn.Add(
                    new DrawnLine(
                        cell.Lines[l],
                        left + cell.X + (cell.Shifts?[l] ?? 0),
                        y + cell.Dress.Baseline.Millipoints,
                        cell.Place.Cell.Id
                    )
                );
                y += cell.Dress.Leading.Millipoints;
            }
        }
        Under(drawn, row, index, count);
        return drawn;
    }

    private Tone RuleTone => _at.Look.Palette.Tone(_dress.RuleColour, 0);

    private void Under(List<Drawn> drawn, SetRow row, int index, int count)
    {
        void Rule(Length thick, int left, int width, int grey = 0)
        {
            if (thick.Millipoints > 0)
                drawn.Add(
                    new DrawnRule(_frame.Left + left, row.Height - thick.Millipoints, width, thick.Millipoints, grey == 0 ? RuleTone : grey)
                );
        }
        if (index == count - 1)
            Rule(_dress.Outer, 0, _frame.Width);
        else if (row.IsHeader && index == _table.HeaderRows - 1)
            Rule(_dress.UnderHeader, 0, _frame.Width);
        else if (row.IsHeader)
        {
            // A head over several columns is ruled off from what stands under it.
            foreach (var cell in row.Cells.Where(c => c.Place.Columns > 1 && c.Place.Rows == 1))
                Rule(
                    _dress.UnderHeader,
                    cell.X,
                    _lefts[Math.Min(_columns, cell.Place.Column + cell.Place.Columns)]
                        - cell.X
                        - (cell.Place.Column + cell.Place.Columns < _columns ? _dress.ColumnGap.Millipoints : 0)
                );
        }
        else
        {
            // A rule does not run through a cell that reaches over it.
            for (var c = 0; c < _columns; )
            {
                var end = c;
                while (end < _columns && !Reaches(end))
                    end++;
                if (end > c)
                    Rule(_dress.BetweenRows, _lefts[c], _lefts[end] - _lefts[c], 55);
                c = end + 1;
            }
        }
        bool Reaches(int column) =>
            _spanning.Any(c => c.Row <= index && c.Row + c.Rows - 1 > index && c.Column <= column && column < c.Column + c.Columns);
    }

    private void MarkRow(SetRow row)
    {
        _at.Stack.Mark(row.Row.Id);
        foreach (var cell in row.Cells)
        {
            _at.Stack.Mark(cell.Place.Cell.Id);
            foreach (var mark in cell.Marks)
                _at.Stack.Mark(mark.Id);
        }
    }

    // ---- on the text's own pages ----

    private void Upright(int[] widths)
    {
        var stack = _at.Stack;
        var start = stack.Count;
        if (!CaptionBelow)
            CaptionSetter.Above(_at, _table.Id, _table.Caption, _frame, notesBelow: true);
        foreach (var note in Captioned())
            _notes.Add(note);
        var rows = Rows(widths);
        var header = Header(rows);
        var headerIndex = -1;
        if (header is not null)
        {
            headerIndex = stack.Headers.Count;
            stack.Headers.Add(header);
        }
        var depth = _at.Page.Depth.Millipoints - (header?.Height ?? 0);
        var bodyRows = rows.Count - _table.HeaderRows;
        for (var r = 0; r < rows.Count; )
        {
            var end = Joined(rows, r);
            var need = 0;
            for (var k = r; k < end; k++)
                need += rows[k].Height;
            if (need > depth && end - r > 1)
            {
                // Rows that a cell joins, and no page can take: one drawing, which is divided between its lines.
                Keeps(rows, r, bodyRows);
                var drawn = new List<Drawn>();
                var y = 0;
                for (var k = r; k < end; k++)
                {
                    MarkRow(rows[k]);
                    drawn.AddRange(Draw(rows[k], k, rows.Count).Select(d => d with { Y = d.Y + y }));
                    y += rows[k].Height;
                }
                stack.Add(need, drawn, header: rows[r].IsHeader ? -1 : headerIndex);
            }
            else
                for (var k = r; k < end; k++)
                {
                    MarkRow(rows[k]);
                    Keeps(rows, k, bodyRows);
                    if (k > r)
                        stack.KeepNext(Keep.Whole);
                    stack.Add(rows[k].Height, Draw(rows[k], k, rows.Count), header: rows[k].IsHeader ? -1 : headerIndex);
                }
            r = end;
        }
        if (CaptionBelow)
            CaptionSetter.Below(_at, _table.Id, _table.Caption, _frame, notesBelow: true);
        NotesBelow();
        if (bodyRows <= ShortTable)
            stack.KeepTogether(start, Keep.Short);
    }

    /// <summary>What a row keeps with.</summary>
    private void Keeps(List<SetRow> rows, int r, int bodyRows)
    {
        var stack = _at.Stack;
        var row = rows[r];
        // Weaker than what holds joined rows: of a header too tall for its first row, that row is parted, never a cell.
        if (row.IsHeader ? r > 0 : r == _table.HeaderRows && r > 0)
            stack.KeepNext(Keep.Head);
        else if (!row.IsHeader && bodyRows > 2 && (r == _table.HeaderRows + 1 || r == rows.Count - 1))
            stack.KeepNext(Keep.RowStart);
        if (r > _table.HeaderRows && _table.Rows[r - 1].Group)
            stack.KeepNext(Keep.Head);
    }

    /// <summary>The row after the last that cells join to this one.</summary>
    private static int Joined(List<SetRow> rows, int first)
    {
        var end = first + 1;
        for (var k = first; k < end; k++)
            foreach (var cell in rows[k].Cells)
                end = Math.Max(end, Math.Min(rows.Count, k + cell.Place.Rows));
        return end;
    }

    private bool CaptionBelow => _at.Look.Blocks.TableCaptionBelow;

    private IEnumerable<Footnote> Captioned() => _table.Caption.OfType<Footnote>();

    /// <summary>What stands above the rows of a page that the table reaches: that it goes on, and its header.</summary>
    private HeaderRows? Header(List<SetRow> rows)
    {
        var drawn = new List<Drawn>();
        var height = 0;
        if (_table.Caption.Count > 0 && !CaptionBelow)
        {
            var caption = CaptionSetter.Lines(
                _at,
                _table.Id,
                [],
                _frame.Width,
                out _,
                $" ({LanguageWords.Of(_at.Reads.Language)["continued"]})"
            );
            foreach (var line in caption)
            {
                drawn.Add(new DrawnLine(line, _frame.Left, height + _at.Look.Caption.Baseline.Millipoints, Id.None));
                height += _at.Look.Caption.Leading.Millipoints;
            }
            height += _at.Look.Blocks.CaptionAbove.Millipoints;
        }
        for (var r = 0; r < _table.HeaderRows; r++)
        {
            drawn.AddRange(Draw(rows[r], r, rows.Count).Select(d => d with { Y = d.Y + height }));
            height += rows[r].Height;
        }
        if (_table.HeaderRows == 0 && height > 0)
            drawn.Add(
                new DrawnRule(_frame.Left, height - _dress.UnderHeader.Millipoints, _frame.Width, _dress.UnderHeader.Millipoints, RuleTone)
            );
        // A header that would leave its rows no room stands once, as a row.
        return height == 0 || height > _at.Page.Depth.Millipoints / 3 ? null : new HeaderRows(height, drawn) { InEachColumn = true };
    }

    private void NotesBelow()
    {
        if (_notes.Count == 0)
            return;
        _at.Stack.Space(_at.Look.Blocks.TableNoteGap.Millipoints);
        foreach (var (lines, label, note) in NoteLines())
            for (var l = 0; l < lines.Count; l++)
            {
                _at.Stack.KeepNext(Keep.Short);
                if (l == 0)
                    _at.Stack.Mark(note.Id);
                _at.Stack.Add(_at.Look.Caption.Leading.Millipoints, NoteDrawn(lines[l], l == 0 ? label : null, note, 0));
            }
    }

    private IEnumerable<(List<TextLine> Lines, TextLine Label, Footnote Note)> NoteLines()
    {
        foreach (var note in _notes)
        {
            var styled = new StyledText();
            _at.Spans(styled, note.Content, _at.Look.Caption, hyphenates: false);
            foreach (var mark in styled.Marks)
                _at.Stack.Mark(mark.Id);
            var raised = new StyledText();
            raised.Add(_at.Reads.Label(note.Id), _at.Look.Caption.Raised, false);
            yield return (
                _at.SetLines(styled, _at.Look.Caption, _frame.Width - _at.Look.Blocks.NoteHang.Millipoints, 0),
                LineSetter.OfThread.Set(raised, Shape.OneLine, null)[0],
                note
            );
        }
    }

    private List<Drawn> NoteDrawn(TextLine line, TextLine? label, Footnote note, int y)
    {
        var baseline = y + _at.Look.Caption.Baseline.Millipoints;
        var drawn = new List<Drawn>();
        if (label is not null)
            drawn.Add(new DrawnLine(label, _frame.Left, baseline, note.Id));
        drawn.Add(new DrawnLine(line, _frame.Left + _at.Look.Blocks.NoteHang.Millipoints, baseline, note.Id));
        return drawn;
    }

    // ---- on landscape pages ----

    private void Landscape(int[] widths, int depth)
    {
        var rows = Rows(widths);
        foreach (var note in Captioned())
            _notes.Add(note);
        var caption = CaptionSetter.Lines(_at, _table.Id, _table.Caption, _frame.Width, out var styled);
        var leading = _at.Look.Caption.Leading.Millipoints;
        var continued = Header(rows);
        var plates = new List<Plate>();
        var drawn = new List<Drawn>();
        var y = 0;
        void Turn()
        {
            plates.Add(new Plate(true, drawn, []));
            // The header again is no part of the text: its lines belong to no block.
            drawn = continued is null ? [] : [.. continued.Drawn.Select(d => d is DrawnLine l ? l with { Block = Id.None } : d)];
            y = continued?.Height ?? 0;
        }
        void Caption()
        {
            _at.Stack.OnPlate(plates.Count);
            foreach (var mark in styled.Marks)
                _at.Stack.Mark(mark.Id);
            foreach (var line in caption)
            {
                if (y + leading > depth)
                    Turn();
                drawn.Add(new DrawnLine(line, _frame.Left, y + _at.Look.Caption.Baseline.Millipoints, _table.Id));
                y += leading;
            }
        }
        if (!CaptionBelow)
            Caption();
        if (!CaptionBelow && caption.Count > 0)
            y += _at.Look.Blocks.CaptionAbove.Millipoints;
        // A caption that stands under the table takes its last row with it.
        var under = CaptionBelow && caption.Count > 0 ? _at.Look.Blocks.CaptionBelow.Millipoints + caption.Count * leading : 0;
        for (var r = 0; r < rows.Count; )
        {
            // Rows that a cell joins stand on one page; a row that heads a group keeps with the first of it.
            var end = Joined(rows, r);
            while (end < rows.Count && rows[end - 1].Row.Group)
                end = Joined(rows, end);
            var need = 0;
            for (var k = r; k < end; k++)
                need += rows[k].Height;
            var last = end == rows.Count ? under : 0;
            var fresh = continued?.Height ?? 0;
            if (y + need + last > depth && y > fresh && r > _table.HeaderRows && need <= depth - fresh)
                Turn();
            if (y + need <= depth)
                for (var k = r; k < end; k++)
                {
                    _at.Stack.OnPlate(plates.Count);
                    MarkRow(rows[k]);
                    drawn.AddRange(Draw(rows[k], k, rows.Count).Select(d => d with { Y = d.Y + y }));
                    y += rows[k].Height;
                }
            else
            {
                // No page takes them whole: they are divided between their lines.
                var all = new List<Drawn>();
                var at = 0;
                _at.Stack.OnPlate(plates.Count);
                for (var k = r; k < end; k++)
                {
                    MarkRow(rows[k]);
                    all.AddRange(Draw(rows[k], k, rows.Count).Select(d => d with { Y = d.Y + at }));
                    at += rows[k].Height;
                }
                foreach (var slice in Slices.Of(all, need, depth - fresh))
                {
                    if (y + slice.Height > depth && y > fresh)
                        Turn();
                    var top = y;
                    drawn.AddRange(slice.Drawn.Select(d => d with { Y = d.Y + top }));
                    y += slice.Height;
                }
            }
            r = end;
        }
        if (under > 0)
        {
            y += _at.Look.Blocks.CaptionBelow.Millipoints;
            if (y + leading > depth)
                Turn();
        }
        if (CaptionBelow)
            Caption();
        y += _at.Look.Blocks.TableNoteGap.Millipoints;
        foreach (var (lines, label, note) in NoteLines())
            for (var l = 0; l < lines.Count; l++)
            {
                if (y + leading > depth)
                    Turn();
                if (l == 0)
                    _at.Stack.Mark(note.Id);
                drawn.AddRange(NoteDrawn(lines[l], l == 0 ? label : null, note, y));
                y += leading;
            }
        plates.Add(new Plate(true, drawn, []));
        _at.Stack.OnPlate(0);
        _at.Stack.Add(0, [], floating: Floating.OwnPages, plates: plates);
    }
}
