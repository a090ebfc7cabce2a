using Kivren.Core.Content;

namespace Kivren.Core.Selection;

/// <summary>What paper says of the web address that words link to.</summary>
public enum PrintedAddresses
{
    Nothing,

    /// <summary>In brackets behind the words, once in each division.</summary>
    Behind,

    /// <summary>In a footnote, once in each division.</summary>
    Note,
}

/// <summary>What of a look changes the text itself, not only its dress.</summary>
/// <param name="OpensWith">the contents list that stands under the title of divisions of a kind; null for none</param>
/// <param name="LeavesOutRepeatedTitles">a head that says the same as the title right above it is left out</param>
public sealed record TextRules(
    Func<DivisionKind, string?>? OpensWith = null,
    bool LeavesOutRepeatedTitles = false,
    PrintedAddresses Addresses = PrintedAddresses.Nothing
)
{
    public static readonly TextRules None = new();
}
