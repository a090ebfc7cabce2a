using Kivren.Core.Content;
using Kivren.Core.Looks;

namespace Kivren.Core.Numbering;

/// <summary>The numbers of all that is numbered in one division. They depend on the division, its own number and the
/// look alone, so they are kept until one of these changes.</summary>
public sealed class DivisionNumbers
{
    private readonly Dictionary<Id, Target> _targets = [];
    private readonly Dictionary<Id, string> _labels = [];

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

    /// <summary>The number printed before a step, a list item or a note, or before a step list's first step.</summary>
    public string Label(Id id) => _labels.GetValueOrDefault(id, "");

    public static DivisionNumbers Of(Division division, string number, Look look)
    {
        var numbers = new DivisionNumbers(division, number);
        numbers.Add(new Target(division.Id, TargetKind.Division, Look.KindName(division.Kind), number, division.Title) { ShortTitle = division.ShortTitle });
        new Count(numbers, look).Blocks(division.Blocks, 0);
        return numbers;
    }

    private void Add(Target target)
    {
        Targets.Add(target);
        _targets.TryAdd(target.Id, target);
    }

    private sealed class Count(DivisionNumbers numbers, Look look)
    {
        private readonly int[] _heads = new int[4];
        private int _figures, _tables, _listings, _notes, _lastStep;

        public void Blocks(IReadOnlyList<Block> blocks, int depth)
        {
            foreach (var block in blocks)
            {
                switch (block)
                {
                    case Head head: Head(head); break;
                    case Figure f: Captioned(f.Id, TargetKind.Figure, "Figure", ref _figures, f.Caption); break;
                    case Table t when t.Caption.Count > 0: Captioned(t.Id, TargetKind.Table, "Table", ref _tables, t.Caption); break;
                    case Listing l when l.Caption.Count > 0: Captioned(l.Id, TargetKind.Listing, "Listing", ref _listings, l.Caption); break;
                    case Steps steps: Steps(steps, depth); break;
                    case ItemList list: Items(list, depth); break;
                    case Admonition a:
                        numbers.Add(new Target(a.Id, TargetKind.Block, "", "", a.Blocks.OfType<Paragraph>().FirstOrDefault()?.Content.PlainText() ?? ""));
                        Blocks(a.Blocks, depth);
                        break;
                    default: numbers.Add(new Target(block.Id, TargetKind.Block, "", "", Words(block))); break;
                }
                foreach (var span in block.OwnSpans()) Atoms(span, block);
            }
        }

        private static string Words(Block block) => block.OwnSpans().FirstOrDefault()?.PlainText() ?? "";

        private void Head(Head head)
        {
            var level = (int)head.Level - 1;
            _heads[level]++;
            for (var below = level + 1; below < 4; below++) _heads[below] = 0;
            var number = "";
            if (head.Numbered && head.Level <= look.NumberedTo && numbers.Number.Length > 0 && numbers.Division.Kind != DivisionKind.Part)
                number = numbers.Number + "." + string.Join('.', _heads.Take(level + 1).Select(n => n.ToString(System.Globalization.CultureInfo.InvariantCulture)));
            else if (!head.Numbered) _heads[level]--;
            numbers.Add(new Target(head.Id, TargetKind.Head, "Section", number, head.Content.PlainText())
            {
                Level = head.Level,
                ShortTitle = head.ShortTitle,
                Listed = head.Listed == Listed.Always || (head.Listed == Listed.ByLook && head.Level <= look.ContentsTo),
            });
        }

        private void Captioned(Id id, TargetKind kind, string name, ref int count, IReadOnlyList<Inline> caption)
        {
            count++;
            var own = count.ToString(System.Globalization.CultureInfo.InvariantCulture);
            numbers.Add(new Target(id, kind, name, numbers.Number.Length > 0 ? numbers.Number + "-" + own : own, caption.PlainText()));
        }

        private void Steps(Steps steps, int depth)
        {
            var n = steps.Continues && depth == 0 ? _lastStep : 0;
            foreach (var item in steps.Items)
            {
                n++;
                var label = depth % 2 == 0 ? NumberFormat.Decimal(n) : NumberFormat.Alpha(n).ToLowerInvariant();
                numbers._labels[item.Id] = label;
                numbers.Add(new Target(item.Id, TargetKind.Step, "step", label, item.Blocks.OfType<Paragraph>().FirstOrDefault()?.Content.PlainText() ?? ""));
                Blocks(item.Blocks, depth + 1);
            }
            if (depth == 0) _lastStep = n;
            if (steps.Items.Count > 0) numbers._labels[steps.Id] = numbers._labels[steps.Items[0].Id];
        }

        private void Items(ItemList list, int depth)
        {
            var n = list.Start - 1;
            foreach (var item in list.Items)
            {
                n++;
                numbers._labels[item.Id] = list.Kind switch
                {
                    ListKind.Decimal => NumberFormat.Decimal(n),
                    ListKind.Alpha => NumberFormat.Alpha(n).ToLowerInvariant() + ")",
                    ListKind.Roman => NumberFormat.Roman(n),
                    _ => depth == 0 ? "–" : "·",
                };
                Blocks(item.Blocks, depth + 1);
            }
        }

        private void Atoms(IReadOnlyList<Inline> spans, Block block)
        {
            foreach (var inline in spans)
            {
                if (inline is Footnote note)
                {
                    _notes++;
                    numbers._labels[note.Id] = NumberFormat.Decimal(_notes);
                    numbers.Add(new Target(note.Id, TargetKind.Note, "note", NumberFormat.Decimal(_notes), note.Content.PlainText()));
                    Atoms(note.Content, block);
                }
                else if (inline is Anchor anchor) numbers.Add(new Target(anchor.Id, TargetKind.Anchor, "", "", anchor.Name));
            }
        }
    }
}
