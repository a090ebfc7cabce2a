namespace Kivren.Core.Looks;

/// <summary>What of a look is otherwise where pages are read on screens.</summary>
public sealed record ScreenRules
{
    /// <summary>Divisions wait for their side of the sheet on screens too, with blank pages before them.</summary>
    public bool Sided { get; init; } = true;

    /// <summary>Margins are the same on all pages.</summary>
    public bool OneMargin { get; init; }

    /// <summary>References name pages on screens too, where their form has a page; else they lead without it.</summary>
    public bool PageWords { get; init; } = true;
}
