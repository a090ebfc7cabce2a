using Kivren.Core.Content;
using Kivren.Core.Looks;

namespace Kivren.Core.Numbering;

/// <summary>The numbers of all that is numbered in one division. They depend on the division, its own number, what was
/// counted before it and the look, so they are kept until one of these changes.</summary>
public sealed class DivisionNumbers
{
    private readonly Dictionary<Id, Target> _targets = [];
    private readonly Dictionary<Id, string> _labels = [];
    private readonly Dictionary<Id, int> _order = [];

    private DivisionNumbers(Division division, string number)
    {
        Division = division;
        Number = number;
    }

    public Division Division { get; }
    public string Number { get; }

    /// <summary>Everything that can be pointed at, in reading order; the division itself first.</summary>
    public List<Target> Targets { get; } = [];
    public IReadOnlyDictionary<Id, Target> ById => _targets;

    /// <summary>Those of them that a contents list may take.</summary>
    public List<Target> Listable { get; } = [];

    /// <summary>How far was counted when the division ends.</summary>
    public Counts Counted { get; private set; }

    /// <summary>The number printed before a step, a list item or a note, or before a step list's first step; the signal
    /// word of a note in a series.</summary>
    public string Label(Id id) => _labels.GetValueOrDefault(id, "");

    /// <summary>The place of a target or cross-reference in the order of reading, or -1.</summary>
    public int Order(Id id) => _order.GetValueOrDefault(id, -1);

    /// <param name="within">the number that stands before those of captions; empty for none</param>
    public static DivisionNumbers Of(Division division, string number, string within, Look look, Counts before = default)
    {
        var numbers = new DivisionNumbers(division, number);
        numbers.Add(
            new Target(division.Id, TargetKind.Division, number.Length > 0 ? look.KindName(division) : "", number, division.Title)
            {
                ShortTitle = division.ShortTitle,
            }
        );
        var count = new Count(numbers, within, look, before);
        count.Blocks(division.Blocks, 0, top: true);
        numbers.Counted = count.Reached;
        return numbers;
    }

    private void Add(Target target)
    {
        Targets.Add(target);
        if (
            target.Kind
            is TargetKind.Division
                or TargetKind.Head
                or TargetKind.Figure
                or TargetKind.Table
                or TargetKind.Listing
                or TargetKind.Equation
                or TargetKind.Example
        )
            Listable.Add(target);
        if (_targets.TryAdd(target.Id, target))
            _order.TryAdd(target.Id, _order.Count);
    }

    private sealed class Count(DivisionNumbers numbers, string within, Look look, Counts before)
    {
        private readonly NumberingRules _rules = look.In(numbers.Division.Language).Numbering;
        private readonly LanguageWords _words = LanguageWords.Of(numbers.Division.Language);
        private readonly int[] _heads = new int[4];
        private string _headNumber = "";
        private int _clauses,
            _lastStep;
        private readonly Dictionary<ListKind, int> _lastItem = [];
        private Counts _counts = before;

        public Counts Reached => _counts;

        /// <param name="depth">lists that the blocks stand in</param>
        /// <param name="top">the blocks are the division's own</param>
        public void Blocks(IReadOnlyList<Block> blocks, int depth, bool top = false)
        {
            for (var b = 0; b < blocks.Count; b++)
            {
                var block = blocks[b];
                switch (block)
                {
                    case Head head:
                        Head(head);
                        break;
                    case Paragraph { Role: "body", IsMarksAlone: false } p when top && _rules.Clauses && _headNumber.Length > 0:
                        Clause(p);
                        break;
                    case Figure { IsCaptioned: true } f:
                        Captioned(
                            f.Id,
                            TargetKind.Figure,
                            _words["figure"],
                            Next(c => c with { Figures = c.Figures + 1 }).Figures,
                            f.Caption
                        );
                        break;
                    case Table t when t.Caption.Count > 0:
                        Captioned(t.Id, TargetKind.Table, _words["table"], Next(c => c with { Tables = c.Tables + 1 }).Tables, t.Caption);
                        break;
                    case Listing l when l.Caption.Count > 0:
                        Captioned(
                            l.Id,
                            TargetKind.Listing,
                            _words["listing"],
                            Next(c => c with { Listings = c.Listings + 1 }).Listings,
                            l.Caption
                        );
                        break;
                    case Equation { Numbered: true } e:
                        Captioned(
                            e.Id,
                            TargetKind.Equation,
                            _words["equation"],
                            Next(c => c with { Equations = c.Equations + 1 }).Equations,
                            [new TextRun(e.Alternative)]
                        );
                        break;
                    case Example e:
                        Captioned(
                            e.Id,
                            TargetKind.Example,
                            _words["example"],
                            Next(c => c with { Examples = c.Examples + 1 }).Examples,
                            e.Title
                        );
                        Blocks(e.Blocks, depth);
                        break;
                    case Steps steps:
                        Steps(steps, depth);
                        break;
                    case ItemList list:
                        Items(list, depth);
                        break;
                    case DefinitionList list:
                        Definitions(list, depth);
                        break;
                    case ReferenceList list:
                        foreach (var document in list.InOrder(numbers.Division.Language))
                            numbers.Add(new Target(document.Id, TargetKind.Document, "", document.Designation, document.Title.PlainText()));
                        break;
                    case Admonition a:
                        if (_rules.NotesInSeries && a.Kind == AdmonitionKind.Note)
                            numbers._labels[a.Id] = InSeries(blocks, b);
                        numbers.Add(
                            new Target(
                                a.Id,
                                TargetKind.Block,
                                "",
                                numbers.Label(a.Id),
                                a.Blocks.OfType<Paragraph>().FirstOrDefault()?.Content.PlainText() ?? ""
                            )
                        );
                        Blocks(a.Blocks, depth);
                        break;
                    case Aside a:
                        numbers.Add(new Target(a.Id, TargetKind.Block, "", "", a.Title.PlainText()));
                        Blocks(a.Blocks, depth);
                        break;
                    default:
                        numbers.Add(new Target(block.Id, TargetKind.Block, "", "", Words(block)));
                        break;
                }
                if (block is Table table)
                    TableNotes(table);
                else
                    foreach (var span in block.OwnSpans())
                        Atoms(span);
            }
        }

        private Counts Next(Func<Counts, Counts> step) => _counts = step(_counts);

        private static string Words(Block block) => block.OwnSpans().FirstOrDefault()?.PlainText() ?? "";

        /// <summary>NOTE alone; NOTE 1, NOTE 2 when several stand in a run.</summary>
        private string InSeries(IReadOnlyList<Block> blocks, int at)
        {
            static bool Is(Block b) => b is Admonition { Kind: AdmonitionKind.Note };
            int first = at,
                last = at;
            while (first > 0 && Is(blocks[first - 1]))
                first--;
            while (last + 1 < blocks.Count && Is(blocks[last + 1]))
                last++;
            return first == last ? _words["note"] : _words["note"] + " " + NumberFormat.Decimal(at - first + 1);
        }

        private void Head(Head head)
        {
            var level = (int)head.Level - 1;
            var number = "";
            if (head.Numbered)
            {
                _heads[level]++;
                if (head.Level <= _rules.HeadsTo && numbers.Number.Length > 0 && numbers.Division.Kind != DivisionKind.Part)
                    number = string.Join(_rules.HeadSign, _heads.Take(level + 1).Select(NumberFormat.Decimal).Prepend(numbers.Number));
            }
            for (var below = level + 1; below < 4; below++)
                _heads[below] = 0;
            _headNumber = number;
            _clauses = 0;
            numbers.Add(
                new Target(head.Id, TargetKind.Head, _rules.Section, number, head.Content.PlainText())
                {
                    Level = head.Level,
                    ShortTitle = head.ShortTitle,
                    Listed = head.Listed == Listed.Always || (head.Listed == Listed.ByLook && look.ListsHead(head.Level)),
                }
            );
        }

        private void Clause(Paragraph paragraph)
        {
            _clauses++;
            var number = _headNumber + _rules.HeadSign + NumberFormat.Decimal(_clauses);
            numbers._labels[paragraph.Id] = number;
            numbers.Add(new Target(paragraph.Id, TargetKind.Clause, "", number, paragraph.Content.PlainText()));
        }

        private void Captioned(Id id, TargetKind kind, string name, int count, IReadOnlyList<Inline> caption)
        {
            var own = NumberFormat.Decimal(count);
            var prefix = within.Length > 0 ? within + _rules.CaptionSign : "";
            numbers.Add(new Target(id, kind, name, prefix + own, caption.PlainText()));
        }

        private void Steps(Steps steps, int depth)
        {
            var n = steps.Continues && depth == 0 ? _lastStep : 0;
            foreach (var item in steps.Items)
            {
                n++;
                var label = depth % 2 == 0 ? NumberFormat.Decimal(n) : NumberFormat.Alpha(n).ToLowerInvariant();
                numbers._labels[item.Id] = label;
                numbers.Add(
                    new Target(
                        item.Id,
                        TargetKind.Step,
                        "step",
                        label,
                        item.Blocks.OfType<Paragraph>().FirstOrDefault()?.Content.PlainText() ?? ""
                    )
                );
                Blocks(item.Blocks, depth + 1);
            }
            if (depth == 0)
                _lastStep = n;
            if (steps.Items.Count > 0)
                numbers._labels[steps.Id] = numbers._labels[steps.Items[0].Id];
        }

        private void Items(ItemList list, int depth)
        {
            var n = list.Continues ? _lastItem.GetValueOrDefault(list.Kind) : list.Start - 1;
            foreach (var item in list.Items)
            {
                n++;
                var number = list.Kind switch
                {
                    ListKind.Decimal => NumberFormat.Decimal(n),
                    ListKind.Alpha => NumberFormat.Alpha(n).ToLowerInvariant() + ")",
                    ListKind.Roman => NumberFormat.Roman(n),
                    _ => "",
                };
                numbers._labels[item.Id] = list.Kind == ListKind.Unordered ? look.Bullets[Math.Min(depth, look.Bullets.Count - 1)] : number;
                numbers.Add(
                    new Target(
                        item.Id,
                        TargetKind.Item,
                        "",
                        number,
                        item.Blocks.OfType<Paragraph>().FirstOrDefault()?.Content.PlainText() ?? ""
                    )
                );
                Blocks(item.Blocks, depth + 1);
            }
            if (depth == 0)
                _lastItem[list.Kind] = n;
            if (list.Items.Count > 0)
                numbers._labels[list.Id] = numbers._labels[list.Items[0].Id];
        }

        private void Definitions(DefinitionList list, int depth)
        {
            var n = 0;
            foreach (var definition in list.InOrder(numbers.Division.Language))
            {
                n++;
                var number =
                    list.Glossary && _rules.Glossary && numbers.Number.Length > 0
                        ? (_headNumber.Length > 0 ? _headNumber : numbers.Number) + _rules.HeadSign + NumberFormat.Decimal(n)
                        : "";
                numbers._labels[definition.Id] = number;
                numbers.Add(new Target(definition.Id, TargetKind.Definition, "", number, definition.Term.PlainText()));
                Blocks(definition.Blocks, depth);
            }
        }

        /// <summary>Notes in a table stand under it and are lettered by themselves.</summary>
        private void TableNotes(Table table)
        {
            var before = _counts.Notes;
            _counts = _counts with { Notes = 0 };
            foreach (var span in table.OwnSpans())
                Atoms(span, lettered: true);
            _counts = _counts with { Notes = before };
        }

        private void Atoms(IReadOnlyList<Inline> spans, bool lettered = false)
        {
            var areas = 0;
            foreach (var inline in spans)
                switch (inline)
                {
                    case FigureArea area:
                        numbers._labels[area.Id] = NumberFormat.Decimal(++areas);
                        Atoms(area.Content);
                        break;
                    case Footnote note:
                        var n = Next(c => c with { Notes = c.Notes + 1 }).Notes;
                        var number = lettered ? NumberFormat.Alpha(n).ToLowerInvariant() : NumberFormat.Decimal(n);
                        numbers._labels[note.Id] = number;
                        numbers.Add(new Target(note.Id, TargetKind.Note, "note", number, note.Content.PlainText()));
                        Atoms(note.Content);
                        break;
                    case Anchor anchor:
                        numbers.Add(new Target(anchor.Id, TargetKind.Anchor, "", "", anchor.Name));
                        break;
                    case CrossReference reference:
                        numbers._order.TryAdd(reference.Id, numbers._order.Count);
                        break;
                }
        }
    }
}
