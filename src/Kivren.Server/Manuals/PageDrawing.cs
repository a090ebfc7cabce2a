using Kivren.Core.Composition;
using Kivren.Core.Display;
using Kivren.Formats.Svg;
using Kivren.Store;
using Microsoft.EntityFrameworkCore;

namespace Kivren.Server.Manuals;

/// <summary>Draws pages of a manual, each once as long as its drawing is kept. Safe from several threads.</summary>
public sealed class PageDrawing(string manual, IDbContextFactory<ShelfContext> shelf, PageStore pages)
{
    public string? Kept(string key) => pages.Find(manual, key);

    public async Task<string> Draw(ComposedManual composed, ComposedPage page)
    {
        var key = ProofMessage.KeyOf(page);
        if (Kept(key) is { } kept)
            return kept;
        var display = await Task.Run(() => DisplayList.Of(page, composed.Look));
        var names = display.Items.OfType<PictureItem>().Select(p => p.Asset).ToHashSet(StringComparer.Ordinal);
        var assets = composed.Text.Manual.Assets.Where(a => names.Contains(a.Name)).ToArray();
        Dictionary<string, byte[]> bytes = [];
        if (assets.Length > 0)
        {
            await using var db = await shelf.CreateDbContextAsync();
            bytes = await ManualReader.Pictures(db, assets);
        }
        var types = assets.ToDictionary(a => a.Name, a => a.MediaType, StringComparer.Ordinal);
        var svg = await Task.Run(() => SvgPainter.Paint(display, name => bytes.TryGetValue(name, out var b) ? (b, types[name]) : null));
        pages.Keep(manual, key, svg);
        return svg;
    }

    public void Forget() => pages.Forget(manual);
}
