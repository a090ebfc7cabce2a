using HarfBuzzSharp;

namespace Kivren.Core.Type;

/// <summary>Forms of letters and figures that a style asks of its face; a face that lacks one sets the plain form.</summary>
[Flags]
public enum Features
{
    None = 0,
    SmallCaps = 1,
    OldStyle = 2,
    Tabular = 4,

    /// <summary>Small letters print as large ones; the text stays as it is written.</summary>
    Capitals = 8,

    /// <summary>Signs that stand in a square take the half of it that they fill.</summary>
    HalfWidth = 16,
    All = 31,
}

internal static class OpenType
{
    private static readonly Feature[][] Sets = [.. Enumerable.Range(0, (int)Features.All + 1).Select(n => Make((Features)n))];

    public static Feature[] Of(Features features) => Sets[(int)features];

    /// <summary>OpenType feature tags: smcp, onum, tnum with lnum, halt.</summary>
    private static Feature[] Make(Features features)
    {
        var set = new List<Feature>();
        void Add(string tag) => set.Add(new Feature(Tag.Parse(tag), 1, 0, uint.MaxValue));
        if (features.HasFlag(Features.SmallCaps))
            Add("smcp");
        if (features.HasFlag(Features.OldStyle))
            Add("onum");
        if (features.HasFlag(Features.Tabular))
        {
            Add("tnum");
            Add("lnum");
        }
        if (features.HasFlag(Features.HalfWidth))
            Add("halt");
        return [.. set];
    }
}
