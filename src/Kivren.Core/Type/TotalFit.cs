using System.Runtime.InteropServices;

namespace Kivren.Core.Type;

public enum LineItemKind : byte
{
    Box,
    Glue,
    Penalty,
}

/// <summary>One item of a paragraph. Widths in millipoints.</summary>
[StructLayout(LayoutKind.Auto)]
public struct LineItem
{
    public LineItemKind Kind;
    public bool Flagged;
    public int Width,
        Stretch,
        Shrink,
        Penalty;

    /// <param name="stretch">how much wider its letters may be set</param>
    /// <param name="shrink">how much closer</param>
    public static LineItem Box(int width, int stretch = 0, int shrink = 0) =>
        new()
        {
            Kind = LineItemKind.Box,
            Width = width,
            Stretch = stretch,
            Shrink = shrink,
        };

    public static LineItem Glue(int width, int stretch, int shrink) =>
        new()
        {
            Kind = LineItemKind.Glue,
            Width = width,
            Stretch = stretch,
            Shrink = shrink,
        };

    public static LineItem Break(int penalty, int width = 0, bool flagged = false) =>
        new()
        {
            Kind = LineItemKind.Penalty,
            Width = width,
            Penalty = penalty,
            Flagged = flagged,
        };
}

/// <summary>How lines are weighed.</summary>
/// <param name="Width">the measure, millipoints</param>
/// <param name="Ragged">stretch of every line's open side, or 0 when lines are justified</param>
/// <param name="ShortLast">a last line shorter than this is avoided</param>
/// <param name="NarrowLines">so many first lines run round something beside them</param>
/// <param name="NarrowWidth">the measure of those lines</param>
/// <param name="Longer">looseness: so many lines more than the best has, where it can be done without gaping lines</param>
public readonly record struct Fitting(int Width, int Ragged, int ShortLast, int NarrowLines = 0, int NarrowWidth = 0, int Longer = 0)
{
    public int WidthOf(int line) => line < NarrowLines ? NarrowWidth : Width;
}

/// <summary>A line found: it ends at item <paramref name="Break"/>; Overfull when even shrunk it is wider than the measure.</summary>
public readonly record struct FoundBreak(int Break, bool Overfull);

/// <summary>Total-fit line breaking (D. E. Knuth and M. F. Plass, Breaking Paragraphs into Lines, 1981), in whole
/// numbers throughout. Holds scratch space: one instance a thread.</summary>
public sealed class TotalFit
{
    public const int Never = 1_000_000,
        Must = -1_000_000;
    private const long LinePenalty = 10,
        HyphensInARow = 8_000,
        ThirdHyphen = 100_000_000,
        HyphenBeforeLast = 20_000,
        FitnessJump = 4_000,
        ShortLastLine = 30_000;

    private struct Node
    {
        public int Break,
            Previous;
        public byte Fitness;

        /// <summary>How many lines up to this one end in a hyphen, counted to two.</summary>
        public byte Hyphens;
        public bool Overfull;

        /// <summary>Lines before this break, counted no further than the narrow ones.</summary>
        public int Line;
        public long Width,
            Stretch,
            Shrink;
        public long Demerits;
    }

    private Node[] _nodes = new Node[256];
    private int _count;
    private readonly List<int> _active = [];
    private long[] _width = [],
        _stretch = [],
        _shrink = [];

    [ThreadStatic]
    private static TotalFit? t_own;
    public static TotalFit OfThread => t_own ??= new TotalFit();

    /// <summary>The breaks of least demerits. The items end with a forced break. Tried first without hyphens, then with
    /// them, then with ever looser lines, then with a third hyphen in a row; only when nothing fits is a line let out over
    /// its measure.</summary>
    /// <param name="however">a line may be as loose as it must: only what no line can hold is let out</param>
    public void Find(ReadOnlySpan<LineItem> items, in Fitting fitting, List<FoundBreak> breaks, bool however = false)
    {
        breaks.Clear();
        Sum(items);
        if (
            !Try(items, fitting, tolerance: 50, hyphens: false, emergency: 0, force: false, breaks)
            && !Try(items, fitting, tolerance: 200, hyphens: true, emergency: 0, force: false, breaks)
            && !Try(items, fitting, tolerance: 800, hyphens: true, emergency: 0, force: false, breaks)
            && !Try(items, fitting, tolerance: 6_400, hyphens: true, emergency: 0, force: false, breaks)
            && !Try(items, fitting, tolerance: 800, hyphens: true, emergency: 0, force: false, breaks, thirdHyphen: true)
        )
            Try(
                items,
                fitting,
                tolerance: however ? Loosest : 10_000,
                hyphens: true,
                emergency: fitting.Width / 8,
                force: true,
                breaks,
                thirdHyphen: true
            );
        if (fitting.Longer != 0 && fitting.NarrowLines == 0)
            Loosen(items, fitting, breaks);
    }

    /// <summary>The best breaks of so many lines more (or fewer); those of least demerits stay where none are good enough.</summary>
    private void Loosen(ReadOnlySpan<LineItem> items, in Fitting fitting, List<FoundBreak> breaks)
    {
        var lines = breaks.Count + fitting.Longer;
        var best = breaks.ToArray();
        // Ways are told apart by how many lines they have so far, as they are where lines differ.
        var told = fitting with { NarrowLines = lines + 1, NarrowWidth = fitting.Width };
        foreach (var tolerance in (ReadOnlySpan<long>)[200, 800])
        {
            breaks.Clear();
            if (Try(items, told, tolerance, hyphens: true, emergency: 0, force: false, breaks, lines: lines) && breaks.Count == lines)
                return;
        }
        breaks.Clear();
        breaks.AddRange(best);
    }

    private void Sum(ReadOnlySpan<LineItem> items)
    {
        if (_width.Length < items.Length + 1)
        {
            var size = Math.Max(items.Length + 1, _width.Length * 2);
            _width = new long[size];
            _stretch = new long[size];
            _shrink = new long[size];
        }
        long w = 0,
            y = 0,
            z = 0;
        for (var i = 0; i < items.Length; i++)
        {
            _width[i] = w;
            _stretch[i] = y;
            _shrink[i] = z;
            ref readonly var item = ref items[i];
            if (item.Kind == LineItemKind.Penalty)
                continue;
            w += item.Width;
            y += item.Stretch;
            z += item.Shrink;
        }
        _width[items.Length] = w;
        _stretch[items.Length] = y;
        _shrink[items.Length] = z;
    }

    private bool Try(
        ReadOnlySpan<LineItem> items,
        in Fitting fitting,
        long tolerance,
        bool hyphens,
        int emergency,
        bool force,
        List<FoundBreak> breaks,
        bool thirdHyphen = false,
        int lines = 0
    )
    {
        _count = 0;
        _active.Clear();
        _active.Add(
            Add(
                new Node
                {
                    Break = -1,
                    Previous = -1,
                    Fitness = 1,
                }
            )
        );
        // The best way to each kind of break: by fitness, by a run of hyphens, and by line while lines differ.
        const int kinds = 8;
        var narrow = fitting.NarrowLines;
        var size = kinds * (narrow + 1);
        Span<long> best = size <= 512 ? stackalloc long[size] : new long[size];
        Span<int> bestFrom = size <= 512 ? stackalloc int[size] : new int[size];
        for (var b = 0; b < items.Length; b++)
        {
            ref readonly var item = ref items[b];
            var legal = item.Kind switch
            {
                LineItemKind.Glue => b > 0 && items[b - 1].Kind == LineItemKind.Box,
                LineItemKind.Penalty => item.Penalty < Never && (hyphens || !item.Flagged),
                _ => false,
            };
            if (!legal)
                continue;
            var penalty = item.Kind == LineItemKind.Penalty ? item.Penalty : 0;
            var must = penalty == Must;
            var last = b == items.Length - 1;
            best.Fill(long.MaxValue);
            var kept = 0;
            int overfullFrom = -1;
            var overfullShortest = long.MaxValue;
            for (var n = 0; n < _active.Count; n++)
            {
                var from = _active[n];
                ref var node = ref _nodes[from];
                var width = _width[b] - node.Width + (item.Kind == LineItemKind.Penalty ? item.Width : 0);
                var short_ = fitting.WidthOf(node.Line) - width;
                long badness;
                byte fitness;
                var dies = false;
                if (short_ >= 0)
                {
                    var stretch = _stretch[b] - node.Stretch + fitting.Ragged + emergency;
                    badness =
                        stretch > 0 ? Bad(short_, stretch)
                        : short_ == 0 ? 0
                        : Loosest;
                    fitness =
                        badness <= 12 ? (byte)1
                        : badness <= 99 ? (byte)2
                        : (byte)3;
                }
                else
                {
                    var shrink = _shrink[b] - node.Shrink;
                    if (-short_ > shrink)
                    {
                        badness = long.MaxValue;
                        fitness = 0;
                        dies = true;
                        if (-short_ < overfullShortest)
                        {
                            overfullShortest = -short_;
                            overfullFrom = from;
                        }
                    }
                    else
                    {
                        badness = Bad(-short_, shrink);
                        fitness = badness > 12 ? (byte)0 : (byte)1;
                    }
                }
                if (badness <= tolerance && (thirdHyphen || !item.Flagged || node.Hyphens < 2))
                {
                    var demerits = (LinePenalty + badness) * (LinePenalty + badness);
                    if (penalty > 0)
                        demerits += (long)penalty * penalty;
                    if (item.Flagged && node.Hyphens > 0)
                        demerits += node.Hyphens > 1 ? ThirdHyphen : HyphensInARow;
                    if (last)
                    {
                        if (node.Hyphens > 0)
                            demerits += HyphenBeforeLast;
                        if (width < fitting.ShortLast && node.Break >= 0)
                            demerits += ShortLastLine;
                    }
                    if (Math.Abs(fitness - node.Fitness) > 1)
                        demerits += FitnessJump;
                    demerits += node.Demerits;
                    var kind = Math.Min(node.Line + 1, narrow) * kinds + (item.Flagged && node.Hyphens > 0 ? 4 : 0) + fitness;
                    if (demerits < best[kind])
                    {
                        best[kind] = demerits;
                        bestFrom[kind] = from;
                    }
                }
                if (!dies && !must)
                    _active[kept++] = from;
            }
            _active.RemoveRange(kept, _active.Count - kept);
            var found = false;
            for (var kind = 0; kind < size; kind++)
            {
                if (best[kind] == long.MaxValue)
                    continue;
                found = true;
                _active.Add(AddAfter(items, b, bestFrom[kind], (byte)(kind & 3), item.Flagged, narrow, best[kind], overfull: false));
            }
            if (!found && _active.Count == 0)
            {
                if (!force)
                    return false;
                var from = overfullFrom >= 0 ? overfullFrom : _count - 1;
                _active.Add(AddAfter(items, b, from, 1, item.Flagged, narrow, _nodes[from].Demerits + 1_000_000_000, overfull: true));
            }
        }
        var end = _active[0];
        foreach (var candidate in _active)
        {
            var (off, offBest) = lines > 0 ? (Math.Abs(_nodes[candidate].Line - lines), Math.Abs(_nodes[end].Line - lines)) : (0, 0);
            if (off < offBest || (off == offBest && _nodes[candidate].Demerits < _nodes[end].Demerits))
                end = candidate;
        }
        for (var n = end; _nodes[n].Break >= 0; n = _nodes[n].Previous)
            breaks.Add(new FoundBreak(_nodes[n].Break, _nodes[n].Overfull));
        breaks.Reverse();
        return true;
    }

    /// <summary>100 r³ for the ratio r of what is wanted to what gives.</summary>
    /// <summary>The badness of a line that nothing can fill.</summary>
    private const long Loosest = 100_000;

    private static long Bad(long wanted, long gives)
    {
        var r = wanted * 1024 / gives;
        return r > 8192 ? Loosest : 100 * r * r / 1024 * r / (1024L * 1024);
    }

    private int AddAfter(
        ReadOnlySpan<LineItem> items,
        int b,
        int from,
        byte fitness,
        bool flagged,
        int narrow,
        long demerits,
        bool overfull
    )
    {
        var next = b;
        while (
            next < items.Length
            && (
                items[next].Kind == LineItemKind.Glue
                || (items[next].Kind == LineItemKind.Penalty && (next == b || items[next].Penalty > Must))
            )
        )
            next++;
        return Add(
            new Node
            {
                Break = b,
                Previous = from,
                Fitness = fitness,
                Hyphens = flagged ? (byte)Math.Min(2, _nodes[from].Hyphens + 1) : (byte)0,
                Line = Math.Min(_nodes[from].Line + 1, narrow),
                Overfull = overfull,
                Width = _width[next],
                Stretch = _stretch[next],
                Shrink = _shrink[next],
                Demerits = demerits,
            }
        );
    }

    private int Add(in Node node)
    {
        if (_count == _nodes.Length)
            Array.Resize(ref _nodes, _count * 2);
        _nodes[_count] = node;
        return _count++;
    }
}
