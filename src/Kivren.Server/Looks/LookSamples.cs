using System.Collections.Concurrent;
using System.Globalization;
using System.Text;
using Kivren.Core.Composition;
using Kivren.Core.Content;
using Kivren.Core.Display;
using Kivren.Core.Looks;
using Kivren.Formats.Package;
using Kivren.Formats.Svg;
using Kivren.Server.Manuals;
using Kivren.Server.Shelf;

namespace Kivren.Server.Looks;

/// <summary>Small spreads of the sample manual, each in a look, as one drawing; kept as long as few others were asked for since.</summary>
public sealed class LookSamples(ShelfSettings settings, CompositionGate gate)
{
    private const int MostKept = 60;
    private readonly ConcurrentDictionary<string, string> _kept = new(StringComparer.Ordinal);
    private Package? _sample;

    public async Task<string> Of(string file, Look look, CancellationToken cancel)
    {
        if (_kept.TryGetValue(file, out var kept))
            return kept;
        var drawn = await gate.Run(() => Draw(look), cancel);
        if (_kept.Count >= MostKept)
            _kept.Clear();
        return _kept[file] = drawn;
    }

    private string Draw(Look look)
    {
        var sample = _sample ??= Read();
        var composed = Composer.Compose(sample.Manual, Edition.Whole, look);
        // An opening and the page behind it.
        var opening = composed.Divisions.First(d => d.Numbers.Division.Kind == DivisionKind.Chapter);
        var pages = composed.Pages.Skip(opening.FirstSheet).Take(2).ToList();
        var types = sample.Manual.Assets.ToDictionary(a => a.Name, a => a.MediaType, StringComparer.Ordinal);
        var (x, height) = (0.0, 0.0);
        var inner = new StringBuilder();
        foreach (var page in pages)
        {
            var display = DisplayList.Of(page, look);
            var svg = SvgPainter.Paint(display, name => sample.Pictures.TryGetValue(name, out var bytes) ? (bytes, types[name]) : null);
            var (w, h) = (display.Width / 1000.0, display.Height / 1000.0);
            inner.Append(
                CultureInfo.InvariantCulture,
                $"<rect x=\"{x:0.##}\" width=\"{w:0.##}\" height=\"{h:0.##}\" fill=\"#fff\" stroke=\"#bbb\"/>"
            );
            // Pictures inside it are drawings of their own, at their own places.
            var placed = string.Create(CultureInfo.InvariantCulture, $"<svg x=\"{x:0.##}\" width=\"{w:0.##}\" height=\"{h:0.##}\" ");
            inner.Append(placed).Append(svg.AsSpan("<svg ".Length));
            x += w;
            height = Math.Max(height, h);
        }
        return string.Create(
            CultureInfo.InvariantCulture,
            $"<svg xmlns=\"http://www.w3.org/2000/svg\" viewBox=\"0 0 {x:0.##} {height:0.##}\">{inner}</svg>"
        );
    }

    /// <summary>A chapter of the sample manual: as much as a spread takes.</summary>
    private Package Read()
    {
        using var file = File.OpenRead(settings.Demo);
        var package = PackageReader.Read(file, []);
        var longest = package.Manual.Divisions.Where(d => d.Kind == DivisionKind.Chapter).MaxBy(d => d.Blocks.Count);
        return package with { Manual = package.Manual with { Divisions = longest is null ? [] : [longest] } };
    }
}
