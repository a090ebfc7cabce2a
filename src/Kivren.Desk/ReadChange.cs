using Kivren.Core.Content;
using Kivren.Formats.Package;

namespace Kivren.Desk;

/// <summary>A change with its body read: what is the same whatever the state, so that it is done before the act's turn.</summary>
/// <param name="Block">null when there is no body, or none that can be read</param>
/// <param name="Fault">why the body cannot be read, or null</param>
public sealed record ReadChange(BlockChange Change, Block? Block, string? Fault)
{
    public static IReadOnlyList<ReadChange> Of(IEnumerable<BlockChange> changes) => [.. changes.Select(Of)];

    private static ReadChange Of(BlockChange change)
    {
        if (change.Body is null)
            return new ReadChange(change, null, null);
        try
        {
            var block = BlockReader.Parse(change.Body);
            return block.Id.Value == change.Id
                ? new ReadChange(change, block, null)
                : new ReadChange(change, null, $"Block {change.Id} names itself {block.Id}.");
        }
        catch (BlockFormatException e)
        {
            return new ReadChange(change, null, e.Message);
        }
    }
}
