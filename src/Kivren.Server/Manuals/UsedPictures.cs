using Kivren.Core.Content;
using Kivren.Core.Looks;
using Kivren.Core.Reuse;
using Kivren.Desk;

namespace Kivren.Server.Manuals;

/// <summary>A picture of the manual, with who shows it.</summary>
/// <param name="Width">in pixels, or in a drawing's own units</param>
/// <param name="PerInch">pixels to the inch where it is printed widest; 0 for a drawing, and for one that stands nowhere</param>
[GenerateSerializer, Immutable]
public sealed record UsedPicture(string Name, string MediaType, int Width, int Height, int PerInch, UsePlace[] Uses);

/// <summary>What points at a block.</summary>
internal static class Pointing
{
    public static UsePlace[] At(DeskState state, string target)
    {
        const int Most = 200;
        bool Points(Block block) =>
            block
                .Inlines()
                .Any(i =>
                    i is CrossReference r && (r.Target.Value == target || state.Manual.Aliases.GetValueOrDefault(r.Target).Value == target)
                );
        return
        [
            .. state
                .Divisions.SelectMany(d => d.Division.Blocks.Where(Points).Select(b => (Division: d, Block: b)))
                .Take(Most)
                .Select(p => new UsePlace(p.Division.Id, p.Division.Division.Title, p.Block.Id.Value, KeptOnce.FirstWords(p.Block))),
        ];
    }
}

internal static class UsedPictures
{
    public static UsedPicture[] Of(DeskState state)
    {
        var manual = state.Manual;
        var measure = WornLook.Of(manual).Master.Measure.InPoints;
        var uses = manual.Assets.ToDictionary(a => a.Name, _ => new List<UsePlace>(), StringComparer.Ordinal);
        var widest = new Dictionary<string, int>(StringComparer.Ordinal);
        foreach (var division in state.Divisions)
        foreach (var block in division.Division.Blocks)
        foreach (
            var (name, width) in block
                .WithInner()
                .OfType<Figure>()
                .Select(f => (f.Asset, f.Width))
                .Concat(block.Inlines().OfType<InlinePicture>().Select(p => (p.Asset, 0)))
        )
            if (uses.TryGetValue(name, out var places))
            {
                places.Add(new UsePlace(division.Id, division.Division.Title, block.Id.Value, KeptOnce.FirstWords(block)));
                widest[name] = Math.Max(widest.GetValueOrDefault(name), Math.Min(width, 100));
            }
        return
        [
            .. manual
                .Assets.Where(a => a.IsPicture)
                .OrderBy(a => a.Name, StringComparer.Ordinal)
                .Select(a => new UsedPicture(
                    a.Name,
                    a.MediaType,
                    a.Width,
                    a.Height,
                    PerInch(a, widest.GetValueOrDefault(a.Name), measure),
                    [.. uses[a.Name]]
                )),
        ];
    }

    private static int PerInch(Asset picture, int hundredths, double measure) =>
        picture.MediaType == "image/svg+xml" || hundredths == 0 ? 0 : (int)(picture.Width * 72 / (measure * hundredths / 100));
}
