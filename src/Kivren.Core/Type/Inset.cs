using Kivren.Core.Content;

namespace Kivren.Core.Type;

/// <summary>Something set in a line of text like a letter: an equation, a small picture.</summary>
/// <param name="Height">above the baseline, millipoints</param>
/// <param name="Depth">below the baseline</param>
/// <param name="Drawn">places from the left end of the baseline</param>
/// <param name="Alternative">what it says in words</param>
public sealed record Inset(Id Id, int Width, int Height, int Depth, IReadOnlyList<Drawn> Drawn, string Alternative);
