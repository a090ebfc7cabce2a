using Kivren.Core.Content;
using Kivren.Core.Reuse;
using Kivren.Formats.Package;

namespace Kivren.Desk;

/// <summary>One block of a batch on its way into a draft: checked, merged with what others wrote since, or refused.</summary>
internal sealed class WrittenBlock(
    DeskState state,
    Draft draft,
    Known known,
    ReadChange read,
    List<Accepted> accepted,
    List<Refused> refused
)
{
    private readonly BlockChange _change = read.Change;

    private void Refuse(string why, Block? theirs = null, int version = 0) =>
        refused.Add(new Refused(_change.Id, why, theirs is null ? null : BlockWriter.ToJson(theirs), version));

    public void Do()
    {
        var now = draft.Find(_change.Id);
        if (!draft.HasDivision(_change.Division))
        {
            Refuse("The division this block stands in was taken out.", now?.Block, now?.Version ?? 0);
            return;
        }
        if (read.Fault is { } fault)
        {
            Refuse(fault, now?.Block, now?.Version ?? 0);
            return;
        }
        var block = read.Block;
        if (
            block is not null
            && state.Division(_change.Division)?.Division is { Kind: DivisionKind.Passage } passage
            && Uses.WouldHoldItself(state.Manual, passage.Title, block)
        )
        {
            Refuse($"The passage “{passage.Title}” would contain itself.", now?.Block, now?.Version ?? 0);
            return;
        }
        if (now is null)
        {
            New(block);
            return;
        }
        var stands = now.Value;
        if (stands.Block.FixedBy is { } pattern && (_change.Deleted || (block is not null && !Says(block, stands.Block))))
        {
            Refuse($"This text is fixed by the pattern “{pattern}”; it changes only there.", stands.Block, stands.Version);
            return;
        }
        // A batch that comes a second time after its answer was lost finds what it made itself.
        var others = stands.Version != _change.BasedOn && !(block is not null && Says(block, stands.Block));
        if (_change.Deleted)
        {
            if (others)
                Refuse("This block was changed elsewhere since.", stands.Block, stands.Version);
            else
            {
                draft.TakeOut(_change.Id);
                accepted.Add(new Accepted(_change.Id, 0, null));
            }
            return;
        }
        string? merged = null;
        var both = false;
        if (others && block is not null)
        {
            var based = known.Bodies.GetValueOrDefault((_change.Id, _change.BasedOn));
            if (based is null || BlockMerge.Merge(based, _change.Body!, BlockWriter.ToJson(stands.Block)) is not { } result)
            {
                Refuse("This block was changed in two places.", stands.Block, stands.Version);
                return;
            }
            try
            {
                block = BlockReader.Parse(result.Body);
            }
            catch (BlockFormatException)
            {
                Refuse("This block was changed in two places.", stands.Block, stands.Version);
                return;
            }
            merged = BlockWriter.ToJson(block);
            both = result.Both;
        }
        // The same words are the same object: then nothing is written.
        var next = block is null || Says(block, stands.Block) ? stands.Block : block;
        if (_change.After is not null || stands.Division != _change.Division)
            draft.Put(_change.Division, next, _change.After);
        else if (!ReferenceEquals(next, stands.Block))
            draft.Put(_change.Division, next, null);
        accepted.Add(new Accepted(_change.Id, 0, merged, both));
    }

    private void New(Block? block)
    {
        if (_change.BasedOn > 0)
        {
            // Taken out here and there is taken out.
            if (_change.Deleted)
                accepted.Add(new Accepted(_change.Id, 0, null));
            else
                Refuse("This block was taken out elsewhere.");
            return;
        }
        if (block is null || _change.Deleted)
        {
            if (_change.Deleted)
                accepted.Add(new Accepted(_change.Id, 0, null));
            else
                Refuse("There is no such block.");
            return;
        }
        if (known.Blocks.TryGetValue(_change.Id, out var gone) && gone.Manual != state.Manual.Id.Value)
        {
            Refuse("This block belongs to another manual.");
            return;
        }
        draft.Put(_change.Division, block, _change.After);
        accepted.Add(new Accepted(_change.Id, 0, null));
    }

    private static bool Says(Block a, Block b) => ReferenceEquals(a, b) || BlockWriter.ToJson(a) == BlockWriter.ToJson(b);
}
