using Kivren.Core.Content;
using Kivren.Formats.Import;

namespace Kivren.Desk;

/// <summary>Names of pictures that come into a manual: a picture that is there under whatever name keeps that name, so that equal
/// names show equal pictures; one whose name is taken by another gets a free one.</summary>
public sealed record PictureNames(IReadOnlyList<Division> Divisions, IReadOnlyList<Asset> New, IReadOnlyDictionary<string, string> Names)
{
    public static PictureNames Of(Shaped shaped, IReadOnlyList<Asset> there)
    {
        var taken = there.Select(a => a.Name).ToHashSet(StringComparer.Ordinal);
        var byHash = there.GroupBy(a => a.Hash).ToDictionary(g => g.Key, g => g.First().Name, StringComparer.Ordinal);
        var coming = shaped.Assets.Select(a => a.Name).ToHashSet(StringComparer.Ordinal);
        var names = new Dictionary<string, string>(StringComparer.Ordinal);
        var added = new List<Asset>();
        foreach (var asset in shaped.Assets)
        {
            var same = there.FirstOrDefault(a => a.Name == asset.Name && a.Hash == asset.Hash)?.Name
                ?? byHash.GetValueOrDefault(asset.Hash);
            names[asset.Name] = same
                ?? (taken.Contains(asset.Name) ? Free(asset.Name, n => taken.Contains(n) || coming.Contains(n)) : asset.Name);
            if (same is not null)
                continue;
            byHash[asset.Hash] = names[asset.Name];
            taken.Add(names[asset.Name]);
            added.Add(asset with { Name = names[asset.Name] });
        }
        if (names.All(n => n.Key == n.Value))
            return new PictureNames(shaped.Divisions, added, names);
        var divisions = shaped.Divisions.Select(d =>
            d with
            {
                Blocks = d.Blocks.Select(b => b.WithPictures(n => names.GetValueOrDefault(n, n))).ToArray(),
            }
        );
        return new PictureNames([.. divisions], added, names);
    }

    private static string Free(string name, Func<string, bool> taken)
    {
        for (var n = 2; ; n++)
            if ($"{Path.GetFileNameWithoutExtension(name)}-{n}{Path.GetExtension(name)}" is var free && !taken(free))
                return free;
    }
}
