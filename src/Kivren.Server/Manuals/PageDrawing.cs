using Kivren.Core.Composition;
using Kivren.Core.Content;
using Kivren.Core.Display;
using Kivren.Core.Looks;
using Kivren.Formats.Svg;
using Kivren.Store;
using Microsoft.EntityFrameworkCore;

namespace Kivren.Server.Manuals;

/// <summary>Draws pages of a manual, each once as long as its drawing is kept. Safe from several threads.</summary>
public sealed class PageDrawing(string id, IDbContextFactory<ShelfContext> shelf, PageStore pages)
{
    public string? Kept(string key) => pages.Find(id, key);

    public Task<string> Draw(ComposedManual composed, ComposedPage page) => Draw(composed.Text.Manual, composed.Look, page);

    /// <param name="look">that the page was made in</param>
    public async Task<string> Draw(Manual manual, Look look, ComposedPage page)
    {
        var key = ProofMessage.KeyOf(page);
        if (Kept(key) is { } kept)
            return kept;
        var display = await Task.Run(() => DisplayList.Of(page, look));
        var names = display.Items.OfType<PictureItem>().Select(p => p.Asset).ToHashSet(StringComparer.Ordinal);
        var assets = manual.Assets.Where(a => names.Contains(a.Name)).ToArray();
        Dictionary<string, byte[]> bytes = [];
        if (assets.Length > 0)
        {
            await using var db = await shelf.CreateDbContextAsync();
            bytes = await ManualReader.Pictures(db, assets);
        }
        var types = assets.ToDictionary(a => a.Name, a => a.MediaType, StringComparer.Ordinal);
        var svg = await Task.Run(() => SvgPainter.Paint(display, name => bytes.TryGetValue(name, out var b) ? (b, types[name]) : null));
        pages.Keep(id, key, svg);
        return svg;
    }

    public void Forget() => pages.Forget(id);
}
