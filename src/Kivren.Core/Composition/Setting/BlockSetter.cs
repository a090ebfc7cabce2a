using System.IO.Hashing;
using System.Runtime.InteropServices;
using Kivren.Core.Content;
using Kivren.Core.Indexing;
using Kivren.Core.Looks;
using Kivren.Core.LooseEnds;
using Kivren.Core.Numbering;
using Kivren.Core.Type;

namespace Kivren.Core.Composition;

/// <summary>Where a block is set: its left edge and width in the measure, and what it stands in.</summary>
internal readonly record struct Frame(int Left, int Width, Dress Dress, string Within)
{
    /// <summary>Narrower than this no text can be read: what is nested deeper stands in the same measure.</summary>
    private const int Least = 60_000;

    /// <summary>Whether there is room to take so much away.</summary>
    public bool Gives(int by) => Width - by >= Math.Min(Least, Width);

    /// <summary>Indented, as long as there is room.</summary>
    public Frame Indented(int by) => Gives(by) ? this with { Left = Left + by, Width = Width - by } : this;

    /// <summary>Narrower on both sides, as long as there is room.</summary>
    public Frame Inset(int by) => Gives(2 * by) ? this with { Left = Left + by, Width = Width - 2 * by } : this;
}

/// <summary>Sets one top-level block of a division in pieces (composition.md 1, 2 and the block rules of 4). What is peculiar
/// to a kind of block stands in the setter of that kind.</summary>
internal sealed class BlockSetter
{
    private readonly List<string> _missing = [];
    private readonly SpanSetter _spans;

    private BlockSetter(SettingContext context, DivisionNumbers numbers, Id block)
    {
        Look = context.Look;
        Manual = context.Manual;
        Reads = new Readings(context, numbers);
        _division = numbers.Division.Id;
        Stack = new PieceStack(block);
        Page = Look.MasterOf(Reads.Kind);
        Full = Page.Measure.Millipoints;
        _depth = Page.Depth.Millipoints;
        Measure = Page.ColumnWidth(Page.Columns, Page.Gutter);
        _spans = new SpanSetter(Reads, Manual, Measure, (kind, words, message, subject) => Loose(kind, words, message, subject));
    }

    private int _longer;

    /// <summary>Of the page that it must fit on.</summary>
    private int _depth;

    /// <summary>The block's own division, by which its loose ends are found; blocks are kept by division.</summary>
    private readonly Id _division;

    public Look Look { get; }
    public Manual Manual { get; }

    /// <summary>All that setting learns beside the block and its look.</summary>
    public Readings Reads { get; }
    public PieceStack Stack { get; }

    /// <summary>Width of a column of text, and of the page's text over all columns.</summary>
    public int Measure { get; }
    public int Full { get; }

    /// <summary>The layout of the pages that it will stand on.</summary>
    public PageMaster Page { get; }
    public int Columns => Page.Columns;

    public Standing Standing(string within = "") => new(Reads.Kind, within);

    /// <param name="flush">the paragraph opens a text: no first-line indent</param>
    /// <param name="runIn">a head set into this paragraph's first line, or null</param>
    /// <param name="longer">a paragraph is set in so many lines more, where it can be done well</param>
    public static SetBlock Set(SettingContext context, DivisionNumbers numbers, Block block, bool flush, Head? runIn, int longer = 0)
    {
        var setter = new BlockSetter(context, numbers, block.Id) { _longer = longer };
        var (before, after) = setter.Top(block, flush, runIn);
        return setter.Finish(block, before, after, runIn);
    }

    /// <summary>An aside with the paragraph that runs round it; one above the other where the paragraph is too short.</summary>
    public static SetBlock SetBeside(SettingContext context, DivisionNumbers numbers, Paragraph paragraph, Aside aside)
    {
        var setter = new BlockSetter(context, numbers, paragraph.Id);
        var dress = BesideSetter.Set(setter, paragraph, aside);
        return setter.Finish(paragraph, dress.Before.Millipoints, dress.After.Millipoints, null);
    }

    public static SetBlock Opening(SettingContext context, DivisionNumbers numbers)
    {
        var setter = new BlockSetter(context, numbers, numbers.Division.Id);
        setter._depth = Math.Min(setter._depth, context.Look.OpeningDepth(numbers.Division.Kind, setter.Page));
        OpeningSetter.Set(setter, numbers);
        return setter.Finish(
            null,
            context.Look.DivisionTitle.Before.Millipoints,
            context.Look.AfterTitle.Millipoints,
            null,
            $"the title “{numbers.Division.Title}”"
        );
    }

    /// <summary>The notes of a division gathered at its end, where the look puts them there.</summary>
    public static SetBlock EndNotes(SettingContext context, DivisionNumbers numbers, IReadOnlyList<Footnote> notes)
    {
        var setter = new BlockSetter(context, numbers, new Id(numbers.Division.Id.Value + "⟨notes⟩"));
        var look = context.Look;
        var hang = look.Blocks.NoteHang.Millipoints;
        foreach (var note in notes)
        {
            var set = setter.SetNote(note, setter.Measure);
            for (var l = 0; l < set.Lines.Count; l++)
            {
                if (l == 0)
                    setter.Stack.Mark(EndNoteOf(note.Id));
                setter.Stack.Add(
                    set.Leading,
                    l == 0
                        ? [new DrawnLine(set.Label, 0, set.Baseline, note.Id), new DrawnLine(set.Lines[l], hang, set.Baseline, note.Id)]
                        : [new DrawnLine(set.Lines[l], hang, set.Baseline, note.Id)]
                );
            }
            setter.Stack.Space(look.Blocks.EndNoteGap.Millipoints);
        }
        if (setter.Stack.Count > 0)
            setter.Stack.Extend(
                0,
                look.Blocks.EndNoteRuleGap.Millipoints,
                0,
                [new DrawnRule(0, 0, look.NoteRule.Millipoints, look.Blocks.HairRule.Millipoints, look.HairTone)]
            );
        return setter.Finish(null, look.Blocks.EndNotesBefore.Millipoints, 0, null, "the notes");
    }

    /// <summary>The key of a note's text at the end of the division, where it is not on the page of its call.</summary>
    public static Id EndNoteOf(Id note) => new(note.Value + "⟨text⟩");

    private SetBlock Finish(Block? block, int before, int after, Head? runIn, string? called = null)
    {
        foreach (var characters in _missing.Distinct())
            Loose(LooseEndKind.MissingCharacter, characters, $"No face has “{characters}”; it prints as a box. Write it another way.");
        Stack.FitTo(_depth);
        var pieces = Stack.ToArray();
        if (pieces.Any(p => p.Height > _depth))
            Loose(
                LooseEndKind.TooTall,
                block?.OwnSpans().FirstOrDefault()?.PlainText() ?? "",
                "Something here is taller than a page and cannot be divided. Make it smaller."
            );
        var own = block switch
        {
            Paragraph of => DressOf(of, Look.DressOf(of.Role, Standing())),
            Head head => DressOf(head, Look.HeadDress(head.Level)),
            _ => null,
        };
        var reads = Reads.Noted();
        return new SetBlock
        {
            Pieces = pieces,
            Marks = [.. Stack.Marks],
            Headers = [.. Stack.Headers],
            LooseEnds = [.. Stack.LooseEnds],
            Before = before,
            After = after,
            Called = called ?? BlockCall.Of(block, runIn, Reads),
            LeadsIn =
                block is Paragraph p
                && p.Content.LastOrDefault(i => i is TextRun) is TextRun { Text: var last }
                && last.TrimEnd().EndsWith(':'),
            Head = block as Head ?? runIn,
            IsText = block is Paragraph,
            IsLedIn = block is Table { Caption.Count: 0 } or Figure { IsCaptioned: false },
            KeepsNext = block is Paragraph text && (own is { KeepsNext: true } || (pieces.Length == 1 && text.IsBold)),
            Stretch = own?.Stretch ?? Dress.UsualStretch,
            Reads = reads,
            ContentHash = PieceHash.Of(pieces, block, string.Join('\u001f', reads.Select(r => r.Said)), Manual.Assets),
        };
    }

    public void Loose(LooseEndKind kind, string words, string message, Id subject = default, string? instead = null) =>
        Stack.LooseEnds.Add(new LooseEnd(kind, _division, Stack.Block, words, message) { Subject = subject, Instead = instead });

    // ---- blocks ----

    private (int Before, int After) Top(Block block, bool flush, Head? runIn)
    {
        Stack.Mark(block.Id);
        var body = Look.DressOf("body", Standing());
        switch (block)
        {
            case Paragraph p:
            {
                var dress = DressOf(p, Look.DressOf(p.Role, Standing()));
                var styled = new StyledText();
                // A number that hangs nowhere stands before the text.
                var clause = Reads.Label(p.Id);
                if (clause.Length > 0 && !Look.NumbersInSide)
                    styled.Add(clause + "\u00A0 ", Look.DressOf("clause", Standing()).Plain, false);
                if (runIn is not null)
                {
                    Stack.Mark(runIn.Id);
                    var headDress = DressOf(runIn, Look.HeadDress(runIn.Level));
                    if (Reads.Target(runIn.Id) is { Number.Length: > 0 } numbered)
                        styled.Add(numbered.Number + "\u00A0 ", headDress.Plain, false);
                    Spans(styled, runIn.Content, headDress, hyphenates: false);
                    styled.Add("\u00A0 ", headDress.Plain, false);
                }
                Spans(styled, p.Content, dress, dress.Hyphenates);
                // Index entries and anchors alone make no line: they stand where the next text stands.
                if (p.IsMarksAlone && runIn is null)
                {
                    foreach (var mark in styled.Marks)
                        Stack.Mark(mark.Id);
                    return (0, 0);
                }
                var from = Stack.Count;
                var inset = dress.HasTint ? dress.TintInset.Millipoints : 0;
                Lines(
                    styled,
                    dress,
                    dress.Left.Millipoints + inset,
                    WidthOf(dress) - dress.Left.Millipoints - 2 * inset,
                    FirstIndent(dress, flush, runIn is not null),
                    p.Id
                );
                Surround(dress, from, dress.Left.Millipoints, WidthOf(dress) - dress.Left.Millipoints);
                if (clause.Length > 0)
                    HangNumber(clause, Look.DressOf("clause", Standing()), dress, from, p.Id);
                var before = runIn is null ? dress.Before : Look.HeadDress(runIn.Level).Before;
                return (before.Millipoints, dress.After.Millipoints);
            }
            case Head h:
                return HeadSetter.Set(this, h);
            case Listing l:
                ListingSetter.Set(this, l, new Frame(0, Measure, body, ""));
                return (Look.ListingText.Before.Millipoints, Look.ListingText.After.Millipoints);
            case Table t:
                TableSetter.Set(this, t, new Frame(0, Measure, body, ""), top: true);
                return (Look.Blocks.TableBefore.Millipoints, Look.Blocks.TableAfter.Millipoints);
            case Figure f:
                FigureSetter.Set(this, f, new Frame(0, Measure, body, ""), top: true);
                return (Look.Blocks.FigureBefore.Millipoints, Look.Blocks.FigureAfter.Millipoints);
            case Equation e:
                DisplaySetter.Set(this, e, new Frame(0, Measure, body, ""));
                return (Look.Blocks.EquationBefore.Millipoints, Look.Blocks.EquationAfter.Millipoints);
            case Admonition a:
                AdmonitionSetter.Set(this, a, new Frame(0, Measure, body, ""));
                return About(DressOf(a, Look.AdmonitionText));
            case Aside a:
                BoxSetter.Set(this, a, null, a.Title, a.Blocks, new Frame(0, Measure, body, ""));
                return About(DressOf(a, Look.AsideText));
            case Example e:
                BoxSetter.Set(this, e, Reads.Target(e.Id), e.Title, e.Blocks, new Frame(0, Measure, body, ""));
                return About(DressOf(e, Look.AsideText));
            case Steps or ItemList:
                var list = DressOf(block, Look.ListText);
                Inner(block, new Frame(0, Measure, list, "list"));
                return About(list);
            case DefinitionList d:
                DefinitionSetter.Set(this, d, new Frame(0, Measure, body, "definition"));
                var gap = Look.Blocks.DefinitionsAfter - body.After;
                return (
                    Math.Max(body.Before.Millipoints, gap.Millipoints),
                    Math.Max(body.After.Millipoints, Look.Blocks.DefinitionsAfter.Millipoints)
                );
            case ReferenceList r:
                DefinitionSetter.Set(this, r, new Frame(0, Measure, body, ""));
                return (body.Before.Millipoints, Math.Max(body.After.Millipoints, Look.Blocks.DefinitionsAfter.Millipoints));
            case PassageUse use:
                Loose(
                    LooseEndKind.PassageMissing,
                    use.Passage,
                    Reads.HasPassage(use.Passage)
                        ? $"The passage “{use.Passage}” uses itself. Take the inner use out."
                        : $"There is no passage “{use.Passage}”. Bring it in, or take its use out."
                );
                return (0, 0);
            default:
                return (0, 0);
        }
    }

    /// <param name="flush">what stands before it sets it apart</param>
    private int FirstIndent(Dress dress, bool flush, bool leadsIn) =>
        leadsIn ? 0
        : dress.FirstIndent.Millipoints > 0 && Reads.Writing.IndentSquares is > 0 and var squares ? squares * dress.Plain.Size.Millipoints
        : flush ? 0
        : dress.FirstIndent.Millipoints;

    private static (int Before, int After) About(Dress dress) => (dress.Before.Millipoints, dress.After.Millipoints);

    /// <summary>A number beside the first line of a block that is set already: in the side column, or before the text.</summary>
    public void HangNumber(string number, Dress dress, Dress of, int piece, Id block)
    {
        if (!Look.NumbersInSide || piece >= Stack.Count)
            return;
        var label = Label(number, dress);
        Stack.Extend(piece, 0, 0, [new DrawnLine(label, -(Page.SideColumn + Page.SideGap).Millipoints, of.Baseline.Millipoints, block)]);
    }

    /// <summary>A block inside an item, an admonition or the like, in the dress of what it stands in.</summary>
    public void Inner(Block block, Frame at)
    {
        var leading = at.Dress.Leading.Millipoints;
        switch (block)
        {
            case Paragraph p:
            {
                Stack.Mark(p.Id);
                var dress = DressOf(p, DressIn(p.Role, at), at.Within);
                var styled = new StyledText();
                Spans(styled, p.Content, dress, dress.Hyphenates);
                var from = Stack.Count;
                var inside = dress.HasTint ? at.Inset(dress.TintInset.Millipoints) : at;
                Lines(styled, dress, inside.Left, inside.Width, 0, p.Id);
                Surround(dress, from, at.Left, at.Width);
                if (dress.KeepsNext || (Stack.Count == from + 1 && p.IsBold))
                    Stack.KeepNext(Keep.Head);
                break;
            }
            case Head h:
            {
                Stack.Mark(h.Id);
                var styled = new StyledText();
                Spans(styled, h.Content, Look.Heads[3], hyphenates: false);
                Lines(styled, Look.Heads[3], at.Left, at.Width, 0, h.Id, title: true);
                Stack.KeepNext(Keep.Head);
                break;
            }
            case Steps s:
                Stack.Mark(s.Id);
                ListSetter.Set(this, s.Items, at with { Within = "list" }, Look.StepNumber, keepUpTo: 4, labelRight: true);
                break;
            case ItemList l:
                Stack.Mark(l.Id);
                ListSetter.Set(
                    this,
                    l.Items,
                    at with
                    {
                        Within = "list",
                    },
                    l.Kind == ListKind.Unordered ? Look.DressOf("bullet", Standing()) : Look.StepNumber,
                    keepUpTo: 3,
                    labelRight: l.Kind is ListKind.Decimal or ListKind.Roman
                );
                break;
            case Admonition a:
                Spaced(a.Id, Look.AdmonitionText.Before.Millipoints, Look.AdmonitionText.After.Millipoints, () =>
                    AdmonitionSetter.Set(this, a, at)
                );
                break;
            case Aside a:
                Spaced(a.Id, leading / 2, leading / 2, () => BoxSetter.Set(this, a, null, a.Title, a.Blocks, at));
                break;
            case Example e:
                Spaced(e.Id, leading / 2, leading / 2, () => BoxSetter.Set(this, e, Reads.Target(e.Id), e.Title, e.Blocks, at));
                break;
            case Figure f:
                Spaced(f.Id, Look.Blocks.FigureWithin, () => FigureSetter.Set(this, f, at, top: false));
                break;
            case Listing l:
                Spaced(l.Id, Look.Blocks.ListingWithin, () => ListingSetter.Set(this, l, at));
                break;
            case Table t:
                Spaced(t.Id, Look.Blocks.TableWithin, () => TableSetter.Set(this, t, at, top: false));
                break;
            case Equation e:
                Spaced(e.Id, Look.Blocks.EquationWithin, () => DisplaySetter.Set(this, e, at));
                break;
            case DefinitionList d:
                Spaced(d.Id, Look.Blocks.DefinitionsWithin, () => DefinitionSetter.Set(this, d, at));
                break;
            case ReferenceList r:
                Spaced(r.Id, Look.Blocks.DefinitionsWithin, () => DefinitionSetter.Set(this, r, at));
                break;
        }
    }

    /// <summary>Most special wins: a rule of the look for this role in this place, else the dress of what it stands in.</summary>
    /// <summary>A role that the manual gave it itself, where the look dresses that, before the one it is founded on.</summary>
    public Dress DressOf(Block block, Dress usual, string within = "") => Look.OwnRule(block, Standing(within))?.Dress ?? usual;

    private Dress DressIn(string role, Frame at)
    {
        var rule = Look.RuleFor(role, Standing(at.Within));
        return rule.Role == role && (rule.Within is not null || role != "body") ? rule.Dress : at.Dress;
    }

    private void Spaced(Id id, Length about, Action set) => Spaced(id, about.Millipoints, about.Millipoints, set);

    private void Spaced(Id id, int before, int after, Action set)
    {
        Stack.Mark(id);
        Stack.Space(before);
        set();
        Stack.Space(after);
    }

    // ---- lines ----

    public void Spans(StyledText styled, IReadOnlyList<Inline> spans, Dress dress, bool hyphenates) =>
        _spans.Add(styled, spans, dress, hyphenates);

    public void CheckEquation(Mathematics.SetEquation set, string source) => _spans.Problems(set, source);

    /// <param name="title">it is broken at sense</param>
    public List<TextLine> SetLines(StyledText styled, Dress dress, int width, int firstIndent, bool title = false)
    {
        var lines = LineSetter.OfThread.Set(
            styled,
            new Shape(new Length(width), new Length(firstIndent), dress.Alignment, Longer: _longer, AtSense: title, WideOnly: title),
            dress.Hyphenates || title ? Reads.Hyphenator : null,
            _missing,
            Reads.Writing
        );
        OverfullLines.Tell(lines, styled, this);
        return lines;
    }

    /// <summary>Lines in a cell or another place of its own shape.</summary>
    public List<TextLine> SetLines(StyledText styled, Shape shape, bool hyphenates = false)
    {
        var lines = LineSetter.OfThread.Set(styled, shape, hyphenates ? Reads.Hyphenator : null, _missing, Reads.Writing);
        OverfullLines.Tell(lines, styled, this);
        return lines;
    }

    /// <summary>The lines of a paragraph as pieces, with its keeps, marks and notes.</summary>
    /// <param name="title">it is broken at sense</param>
    public void Lines(StyledText styled, Dress dress, int left, int width, int firstIndent, Id block, bool title = false)
    {
        var tabbed = styled.ToString().Contains('\t', StringComparison.Ordinal);
        var lines = tabbed ? TabbedLines.Set(styled, dress, width, _missing) : SetLines(styled, dress, width, firstIndent, title);
        // What does not fit between its tab stops is set as text.
        if (tabbed && lines.Exists(l => l.Overfull))
            lines = SetLines(styled, dress, width, 0);
        Put(styled, lines, dress, left, block);
    }

    /// <summary>Set lines as pieces.</summary>
    public void Put(StyledText styled, List<TextLine> lines, Dress dress, int left, Id block)
    {
        int mark = 0,
            note = 0;
        for (var i = 0; i < lines.Count; i++)
        {
            var line = lines[i];
            var isLast = i == lines.Count - 1;
            if (i > 0)
            {
                if (i < dress.LinesAtTurn)
                    Stack.KeepNext(Keep.Orphan);
                if (i > lines.Count - dress.LinesAtTurn)
                    Stack.KeepNext(Keep.Widow);
                if (lines[i - 1].EndsInHyphen)
                    Stack.KeepNext(Keep.Hyphen);
            }
            for (; mark < styled.Marks.Count && (styled.Marks[mark].At < line.End || isLast); mark++)
                Stack.Mark(styled.Marks[mark].Id);
            List<SetNote>? notes = null;
            for (; note < styled.Notes.Count && (styled.Notes[note].At <= line.End || isLast); note++)
                TakeNote(styled.Notes[note].Note, ref notes);
            var (above, below) = Beyond(line, dress);
            Stack.Add(
                dress.Leading.Millipoints + above + below,
                [new DrawnLine(line, left, above + dress.Baseline.Millipoints, block)],
                notes,
                onGrid: above + below == 0 && dress.Leading == Look.Body.Leading
            );
        }
    }

    /// <summary>The measure of what is dressed so: a column's, or that of all of them.</summary>
    public int WidthOf(Dress dress) => dress.Across ? Full : Measure;

    /// <summary>The rules and the tint of a paragraph or head, about its pieces from one on; and how they keep and stand.</summary>
    public void Surround(Dress dress, int from, int left, int width)
    {
        if (Stack.Count == from)
            return;
        if (dress.Across && Columns > 1)
            Stack.Across(from);
        if (dress.Together)
            Stack.KeepTogether(from, Keep.Short);
        var last = Stack.Count - 1;
        // The tint reaches over each piece and the space above it, so that the page may turn within.
        if (dress.HasTint)
            for (var p = from; p <= last; p++)
            {
                var above = p == from ? dress.TintInset.Millipoints : Stack.TakeSpace(p);
                var below = p == last ? dress.TintInset.Millipoints : 0;
                Stack.Extend(p, above, below, [new DrawnRule(left, 0, width, Stack.HeightOf(p) + above + below, dress.TintTone)]);
            }
        var (over, under) = (dress.RuleAbove.Millipoints, dress.RuleBelow.Millipoints);
        var gap = dress.HasTint ? 0 : dress.RuleGap.Millipoints;
        if (over > 0)
            Stack.Extend(from, over + gap, 0, [new DrawnRule(left, 0, width, over, dress.RuleTone)]);
        if (under > 0)
            Stack.Extend(last, 0, gap + under, [new DrawnRule(left, Stack.HeightOf(last) + gap, width, under, dress.RuleTone)]);
        // What is moved down in its piece no longer stands on the grid with the piece.
        if (over > 0 || dress.HasTint)
            Stack.OffGrid(from);
    }

    /// <summary>What a tall inset needs above and below the line's own height.</summary>
    private static (int Above, int Below) Beyond(TextLine line, Dress dress)
    {
        int above = 0,
            below = 0;
        foreach (var word in line.Words)
            if (word.Inset is { } inset)
            {
                above = Math.Max(above, inset.Height + 1_000 - dress.Baseline.Millipoints);
                below = Math.Max(below, inset.Depth + 1_000 - (dress.Leading - dress.Baseline).Millipoints);
            }
        return (above, below);
    }

    /// <summary>A note goes with the piece that calls it; what stands in the note stands on the page of its call.</summary>
    /// <param name="width">of what the note stands in; null for the whole measure</param>
    public void TakeNote(Footnote note, ref List<SetNote>? notes, int? width = null)
    {
        foreach (var inner in Walk.Flat(note.Content))
            if (inner is Anchor a)
                Stack.Mark(a.Id);
            else if (inner is CrossReference r)
                Stack.Mark(r.Id);
            else if (inner is IndexEntry e)
                Stack.Mark(e.Kind == EntryKind.RangeEnd ? IndexTree.EndOf(e.Id) : e.Id);
        Stack.Mark(note.Id);
        if (Look.Notes == NotePlace.Foot)
            (notes ??= []).Add(SetNote(note, width ?? Measure));
    }

    private SetNote SetNote(Footnote note, int width)
    {
        var dress = Look.NoteText;
        var styled = new StyledText();
        Spans(styled, note.Content, dress, dress.Hyphenates);
        var lines = SetLines(styled, dress, Math.Max(1, width - Look.Blocks.NoteHang.Millipoints), 0);
        var number = Reads.NoteLabel(note.Id);
        return new SetNote(note.Id, number, lines, Label(number, dress), dress.Leading.Millipoints, dress.Baseline.Millipoints);
    }

    public static TextLine Label(string text, Dress dress)
    {
        var styled = new StyledText();
        styled.Add(text.Replace(' ', '\u00A0'), dress.Plain, false);
        return LineSetter.OfThread.Set(styled, Shape.OneLine, null)[0];
    }
}
