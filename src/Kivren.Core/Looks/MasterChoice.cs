namespace Kivren.Core.Looks;

/// <summary>Which masters the pages of a sequence take, by their names. What is not named is as on rectos.</summary>
/// <param name="Recto">right-hand pages, and all that nothing else is said of</param>
public sealed record MasterChoice(string Recto)
{
    public string? Verso { get; init; }

    /// <summary>The page that a division begins on.</summary>
    public string? Opening { get; init; }

    /// <summary>The last page of a division, when it is not its first.</summary>
    public string? Last { get; init; }

    /// <summary>Pages turned for a wide table; the recto's paper turned when none is named.</summary>
    public string? Landscape { get; init; }

    /// <summary>All that are named.</summary>
    public IEnumerable<(string Place, string Name)> Named()
    {
        yield return ("recto", Recto);
        foreach (var (place, name) in new[] { ("verso", Verso), ("opening", Opening), ("last", Last), ("landscape", Landscape) })
            if (name is not null)
                yield return (place, name);
    }
}

/// <summary>Where in a division a page stands.</summary>
public readonly record struct PagePlace(bool Recto, bool Opens = false, bool Ends = false, bool Turned = false);

/// <summary>The masters of one kind of division, found.</summary>
internal sealed class SequenceMasters
{
    public SequenceMasters(IReadOnlyList<PageMaster> masters, MasterChoice choice)
    {
        PageMaster? Named(string? name) => name is null ? null : masters.FirstOrDefault(m => m.Name == name);
        Recto = Named(choice.Recto) ?? masters[0];
        Verso = Named(choice.Verso) ?? Recto;
        (Opening, Last) = (Named(choice.Opening), Named(choice.Last));
        var landscape = Named(choice.Landscape) ?? Recto.Turned();
        Landscape =
            landscape.FurnitureStays && landscape.Width == Recto.Height && landscape.Height == Recto.Width
                ? landscape with
                {
                    Upright = Recto with { Fields = landscape.Fields },
                }
                : landscape;
    }

    public PageMaster Recto { get; }
    public PageMaster Verso { get; }
    public PageMaster? Opening { get; }
    public PageMaster? Last { get; }
    public PageMaster Landscape { get; }

    public PageMaster At(PagePlace place) =>
        place.Turned ? Landscape
        : place.Opens && Opening is { } opening ? opening
        : place.Ends && !place.Opens && Last is { } last ? last
        : place.Recto ? Recto
        : Verso;
}
