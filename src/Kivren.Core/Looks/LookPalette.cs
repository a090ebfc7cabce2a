using Kivren.Core.Type;

namespace Kivren.Core.Looks;

/// <summary>What a look gives names to, and what its dresses mean by them: faces, colours, words of span roles.</summary>
internal sealed record LookPalette(
    IReadOnlyList<HouseFace> HouseFaces,
    IReadOnlyList<NamedColour> Colours,
    IReadOnlyList<SpanDress> Spans,
    string? Links = null
)
{
    /// <summary>How the language that the look is worn in is written.</summary>
    public Writing Writing { get; init; } = Writing.Plain;

    public static readonly LookPalette Bare = new([], [], []);

    public FaceSet? Face(string name) => Looks.HouseFaces.Named(HouseFaces, name);

    /// <summary>The colour of this name; the grey where none is named.</summary>
    public Tone Tone(string? colour, int grey)
    {
        if (colour is not null)
            foreach (var named in Colours)
                if (named.Name == colour)
                    return named.Tone;
        return grey;
    }
}
