using Kivren.Core.Content;
using Kivren.Core.Indexing;
using Kivren.Core.Lists;
using Kivren.Core.Looks;
using Kivren.Core.Numbering;

namespace Kivren.Core.Composition;

/// <summary>What a division's lists say in a pass.</summary>
internal sealed record Generated(Dictionary<Id, List<ContentsEntry>>? Contents, List<IndexLine>? Index);

/// <summary>Stacks the blocks of a stretch to a galley: run-in heads go into their paragraph, asides beside theirs, page breaks
/// before what they stand before, whatever that is.</summary>
internal sealed class Stacking(
    Look look,
    CompositionCaches caches,
    DivisionNumbers[] divisions,
    SettingContext[] contexts,
    Generated[] generated,
    PageMaster page,
    Holds? holds
)
{
    private readonly List<SetBlock> _set = [];
    private readonly Dictionary<int, BreakTo> _forced = [];
    private readonly List<int> _openings = [];

    /// <summary>A page break that was met and stands before nothing yet.</summary>
    private BreakTo? _force;

    private long _enough,
        _stacked;

    /// <param name="enough">height after which no more is set</param>
    public Galley Stack(long enough = long.MaxValue)
    {
        _enough = enough;
        for (var d = 0; d < divisions.Length; d++)
        {
            _openings.Add(_set.Count);
            Division(divisions[d], contexts[d], generated[d]);
            // A division that prints nothing still has a place.
            if (_set.Count == _openings[^1])
                Add(BlockSetter.Opening(contexts[d], divisions[d]).Emptied());
        }
        return Galley.Stack(
            _set,
            holds,
            NumberOf,
            _forced,
            _openings,
            [.. divisions.Select(d => look.OpeningDepth(d.Division.Kind, page))],
            page
        );
    }

    private string NumberOf(Id id)
    {
        foreach (var division in divisions)
            if (division.ById.TryGetValue(id, out var target))
                return target.Number;
        return "";
    }

    /// <summary>What comes next in the galley; a page break that waits stands before it.</summary>
    private void Add(SetBlock block)
    {
        if (_force is { } to)
            _forced[_set.Count] = to;
        _force = null;
        _set.Add(block);
        if (_enough < long.MaxValue)
            foreach (ref readonly var piece in block.Pieces.AsSpan())
                _stacked += piece.Height + piece.Space;
    }

    private void Division(DivisionNumbers numbers, SettingContext context, Generated lists)
    {
        var division = numbers.Division;
        var kept = caches.Blocks(division);
        kept.Begin();
        if (look.SequenceOf(division.Kind).Opens)
            Add(caches.Opening(context, numbers));
        SetBlock One(Block block, Head? runIn, bool flush, int least = 0)
        {
            var set = kept.Of(block)
                .Set(context, numbers, flush, runIn, caches.Generation, () => BlockSetter.Set(context, numbers, block, flush, runIn));
            // A paragraph held at more lines than it has is loosened, so that no white follows.
            return block is Paragraph && set.Pieces.Length < least
                ? BlockSetter.Set(context, numbers, block, flush, runIn, least - set.Pieces.Length)
                : set;
        }
        Block? before = null;
        Head? runIn = null;
        Aside? beside = null;
        var width = WidthOf(division);
        for (var b = 0; b < division.Blocks.Count; b++)
        {
            if (_stacked > _enough)
                break;
            var block = division.Blocks[b];
            if (block is PageBreak page)
            {
                _force = !look.Sided && page.To is BreakTo.Recto or BreakTo.Verso ? BreakTo.Page : page.To;
                continue;
            }
            if (block is Aside { Folds: Folding.No } aside && runIn is null && StandsBeside(division.Blocks, b))
            {
                beside = aside;
                continue;
            }
            if (block is Head { Printed: true } head && head.Level == look.RunIn)
            {
                if (runIn is not null)
                    Add(One(runIn, null, false));
                runIn = head;
                continue;
            }
            if (runIn is not null && block is not Paragraph)
            {
                Add(One(runIn, null, false));
                before = runIn;
                runIn = null;
            }
            Add(
                block switch
                {
                    ContentsList list => GeneratedLists.Contents(
                        list,
                        look.List(list.List),
                        lists.Contents![list.Id],
                        look,
                        width,
                        caches.Lines
                    ),
                    IndexList => GeneratedLists.Index(block.Id, lists.Index!, look, width, caches.Lines),
                    Paragraph p when beside is { } at => kept.Of(p)
                        .Set(context, numbers, false, at, caches.Generation, () => BlockSetter.SetBeside(context, numbers, p, at)),
                    _ => One(block, runIn, flush: before is not Paragraph, holds?.Least(_set.Count) ?? 0),
                }
            );
            runIn = null;
            beside = null;
            // Figures and tables may come to stand elsewhere: the text about them is set as if they had not been there.
            if (block is not (Figure or Content.Table))
                before = block;
        }
        if (runIn is not null)
            Add(One(runIn, null, false));
        if (look.Notes == NotePlace.EndOfDivision && caches.Reads(division).Notes is { Length: > 0 } notes)
            Add(BlockSetter.EndNotes(context, numbers, notes));
    }

    private bool StandsBeside(IReadOnlyList<Block> blocks, int aside) =>
        look.AsideBeside.Millipoints > 0 && aside + 1 < blocks.Count && blocks[aside + 1] is Paragraph { Role: "body" };

    private int WidthOf(Division division)
    {
        var own = caches.Reads(division).HasIndex ? look.IndexPage(division.Kind) : look.MasterOf(division.Kind);
        return own.ColumnWidth(own.Columns, own.Gutter);
    }
}
