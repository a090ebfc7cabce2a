using Kivren.Core.Composition;
using Kivren.Core.Content;
using Kivren.Core.Numbering;
using Kivren.Core.Type;

namespace Kivren.Server.Manuals;

/// <summary>Where a composed page begins in the manuscript.</summary>
/// <param name="Block">the innermost block that its first line is of</param>
/// <param name="At">how many typed characters of that block stand before the page</param>
[GenerateSerializer, Immutable]
public sealed record PageTurn(int Sheet, string Folio, string Block, int At, string Reason);

/// <summary>What the open division prints now: page turns, numbers of its blocks, words of its references, loose ends.</summary>
[GenerateSerializer, Immutable]
public sealed record DivisionMarks(
    int Composition,
    IReadOnlyList<PageTurn> Turns,
    IReadOnlyDictionary<string, string> Numbers,
    IReadOnlyDictionary<string, string> Printed,
    IReadOnlyDictionary<string, int> PointedAt
)
{
    public static DivisionMarks Of(NumberedComposition c, DivisionPages pages)
    {
        var composed = c.Composed;
        var turns = new List<PageTurn>();
        var blocks = pages.Numbers.Division.Blocks.SelectMany(b => b.WithInner()).ToList();
        var typed = new Dictionary<Id, IReadOnlyList<Inline>>();
        foreach (var block in blocks)
        {
            typed.TryAdd(block.Id, block.OwnSpans().FirstOrDefault() ?? []);
            if (block is Table table)
                foreach (var cell in table.Rows.SelectMany(r => r.Cells))
                    typed.TryAdd(cell.Id, cell.Content);
        }
        for (var p = pages.First; p < pages.End; p++)
        {
            var page = composed.Pages[pages.StretchSheet + p];
            var first = pages
                .Cut.Pages[p]
                .Pieces.Where(x => !pages.Cut.Galley.Pieces[x.Piece].Floats)
                .Select(x => pages.Cut.Galley.Pieces[x.Piece])
                .FirstOrDefault(x => x.Drawn is not null && x.Drawn.Any(d => d is DrawnLine));
            var line = first.Drawn?.OfType<DrawnLine>().FirstOrDefault(l => typed.ContainsKey(l.Block));
            turns.Add(
                new PageTurn(
                    page.Sheet,
                    page.Folio,
                    line?.Block.Value ?? "",
                    line is null ? 0 : Typed(typed[line.Block], line.Line.Start, composed, pages.Numbers),
                    page.Reason
                )
            );
        }
        var numbers = new Dictionary<string, string>(StringComparer.Ordinal);
        foreach (var target in pages.Numbers.Targets)
            if (target.Number.Length > 0 && target.Kind != TargetKind.Division)
                numbers[target.Id.Value] = target.Kind
                    is TargetKind.Figure
                        or TargetKind.Table
                        or TargetKind.Listing
                        or TargetKind.Equation
                        or TargetKind.Example
                    ? $"{target.Name} {target.Number}"
                    : target.Number;
        var printed = new Dictionary<string, string>(StringComparer.Ordinal);
        foreach (var block in pages.Numbers.Division.Blocks)
        foreach (var inline in block.Inlines())
            if (inline is CrossReference reference)
                printed[reference.Id.Value] = composed.Print(reference);
            else if (inline is VariableUse variable)
                printed["variable:" + variable.Name] = composed.Text.Variable(variable.Name) ?? $"[no variable {variable.Name}]";
        var own = pages.Numbers.ById;
        var pointed = composed
            .Text.Divisions.SelectMany(d => d.Blocks)
            .SelectMany(b => b.Inlines())
            .OfType<CrossReference>()
            .Select(r => composed.Numbers.Resolve(r.Target))
            .Where(own.ContainsKey)
            .GroupBy(t => t.Value)
            .ToDictionary(g => g.Key, g => g.Count());
        return new DivisionMarks(c.Number, turns, numbers, printed, pointed);
    }

    /// <summary>How many typed characters stand before a place in the text as it was set, where references and variables
    /// stand printed.</summary>
    private static int Typed(IReadOnlyList<Inline> spans, int at, ComposedManual composed, DivisionNumbers numbers)
    {
        int set = 0,
            typed = 0;
        foreach (var inline in spans)
        {
            var (printed, own) = inline switch
            {
                TextRun run => (run.Text.Length, run.Text.Length),
                CrossReference reference => (composed.Print(reference).Length, 0),
                VariableUse variable => ((composed.Text.Variable(variable.Name) ?? $"[no variable {variable.Name}]").Length, 0),
                Footnote note => (numbers.Label(note.Id).Length, 0),
                InlineEquation or InlinePicture => (1, 0),
                LineBreak => (1, 0),
                _ => (0, 0),
            };
            if (set + printed >= at)
                return typed + Math.Min(own, at - set);
            set += printed;
            typed += own;
        }
        return typed;
    }
}
