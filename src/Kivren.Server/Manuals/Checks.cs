using Kivren.Desk;

namespace Kivren.Server.Manuals;

/// <summary>What may come in at the edge: every text has a length and every list an end, and nothing holds what the database
/// cannot.</summary>
public static class Checks
{
    public const int LongestTitle = 1_000;
    private const int LongestId = 64,
        LongestLabel = 200,
        LongestBody = 8 << 20,
        MostBlocks = 20_000,
        MostRows = 2_000;

    public static bool IsId(string? id) => id is { Length: > 0 and <= LongestId } && IsText(id, LongestId);

    /// <summary>Whether a text is short enough and holds no half characters and no character zero.</summary>
    public static bool IsText(string? text, int longest)
    {
        if (text is null || text.Length > longest || text.Contains('\0', StringComparison.Ordinal))
            return false;
        for (var i = 0; i < text.Length; i++)
        {
            if (!char.IsSurrogate(text[i]))
                continue;
            if (!char.IsHighSurrogate(text[i]) || i + 1 == text.Length || !char.IsLowSurrogate(text[++i]))
                return false;
        }
        return true;
    }

    private static bool IsMissingOrText(string? text, int longest) => text is null || IsText(text, longest);

    /// <summary>What is wrong with a batch as a whole, or null. What is wrong with one block of it is answered for that block.</summary>
    public static string? Problem(Batch batch)
    {
        if (!IsId(batch.Id))
            return "A batch needs an id of up to 64 letters.";
        if (!IsId(batch.Writer))
            return "A batch needs its writer.";
        if (!IsText(batch.Label, LongestLabel))
            return $"A batch needs a label of up to {LongestLabel} letters.";
        if (batch.Blocks is null)
            return "A batch needs blocks.";
        if (batch.Blocks.Length > MostBlocks)
            return $"A batch holds at most {MostBlocks} blocks.";
        foreach (var block in batch.Blocks)
        {
            if (block is null || !IsId(block.Id) || !IsId(block.Division))
                return "A block of the batch has no id or no division.";
            if (block.After is { Length: > 0 } && !IsId(block.After))
                return $"Block {block.Id} stands after something that is no id.";
            if (block.Body is { Length: > LongestBody })
                return $"Block {block.Id} is longer than {LongestBody >> 20} MB.";
        }
        return batch.Joined?.FirstOrDefault(j => !IsId(j.Key) || !IsId(j.Value)) is { Key: not null } ? "A joined id is no id." : null;
    }

    public static string? Problem(PlanOrder order)
    {
        if (order.Rows is null || order.Rows.Length > MostRows)
            return $"An act on the plan needs up to {MostRows} rows.";
        if (!order.Rows.All(IsId))
            return "A row of the plan is no id.";
        if (!IsMissingOrText(order.Do, LongestId) || !IsMissingOrText(order.By, LongestId) || !IsMissingOrText(order.At, LongestId))
            return "This is no act on the plan.";
        if (!IsMissingOrText(order.Text, LongestTitle))
            return $"A title has up to {LongestTitle} letters.";
        return null;
    }

    public static string? Problem(Presence presence) =>
        IsId(presence.Writer) && IsText(presence.Division, LongestId) && IsText(presence.Block, LongestId) ? null : "This is no place.";
}
