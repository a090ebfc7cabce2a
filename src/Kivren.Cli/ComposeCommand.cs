using System.Diagnostics;
using System.Globalization;
using System.Text.Json.Nodes;
using Kivren.Core.Composition;
using Kivren.Core.Content;
using Kivren.Core.Display;
using Kivren.Core.Looks;
using Kivren.Formats.Package;
using Kivren.Formats.Pdf;
using Kivren.Formats.Svg;

namespace Kivren.Cli;

/// <summary>kivren compose: into a PDF, or into a folder of SVG pages.</summary>
internal static class ComposeCommand
{
    public static Report Run(Arguments arguments)
    {
        var lines = new List<string>();
        var package = Inputs.Package(arguments.File(0, "a package to compose"), lines);
        var target = arguments.Required("-o");
        var edition = Inputs.Edition(package.Manual, arguments);
        if (arguments.Option("--print") is not null)
            edition = Inputs.Named(package.Manual, arguments.Option("--edition")).For(Medium.Paper);
        var steps = new JsonObject();
        var clock = Stopwatch.StartNew();
        var last = 0.0;
        void Step(string name)
        {
            var now = clock.Elapsed.TotalMilliseconds;
            steps[name] = Math.Round((steps[name]?.GetValue<double>() ?? 0) + now - last, 1);
            last = now;
        }
        var composed = Composer.Compose(
            package.Manual,
            edition,
            Inputs.Look(package.Manual, edition, arguments.Option("--look")),
            null,
            Step
        );
        var media = package.Manual.Assets.ToDictionary(a => a.Name, a => a.MediaType, StringComparer.Ordinal);
        switch (Path.GetExtension(target))
        {
            case ".pdf":
                using (var file = File.Create(target))
                    PdfWriter.Write(composed, package.Picture, file, options: OptionsOf(arguments));
                break;
            case ".svg":
                WriteSvg(composed, package, media, target);
                break;
            default:
                throw new UsageException($"The ending of {target} says nothing about what to write: use .pdf or .svg.");
        }
        Step("write");
        lines.Add(
            $"{composed.Pages.Count} pages, {composed.Passes} passes{(composed.Held > 0 ? $", {composed.Held} blocks held" : "")}, "
                + $"{composed.LooseEnds.Count} loose ends, "
                + $"{clock.Elapsed.TotalMilliseconds.ToString("0", CultureInfo.InvariantCulture)} ms"
        );
        lines.Add(string.Join(", ", steps.Select(s => $"{s.Key} {s.Value} ms")));
        lines.AddRange(composed.LooseEnds.Select(l => CheckCommand.Line(l, composed)));
        return new Report(
            true,
            lines,
            new JsonObject
            {
                ["pages"] = composed.Pages.Count,
                ["passes"] = composed.Passes,
                ["held"] = composed.Held,
                ["looseEnds"] = composed.LooseEnds.Count,
                ["milliseconds"] = Math.Round(clock.Elapsed.TotalMilliseconds, 1),
                ["steps"] = steps,
                ["file"] = target,
            }
        );
    }

    private static PdfOptions OptionsOf(Arguments arguments) =>
        arguments.Option("--print") is null
            ? new PdfOptions()
            : new PdfOptions(PdfKind.Print)
            {
                PageMultiple = arguments.Number("--multiple", 1),
                Profile = arguments.Option("--profile") is { } profile ? Inputs.Profile(profile) : ColourProfile.Coated,
            };

    /// <summary>FILE.svg becomes a folder FILE with one file a page.</summary>
    private static void WriteSvg(ComposedManual composed, Package package, Dictionary<string, string> media, string target)
    {
        var folder = target[..^4];
        Directory.CreateDirectory(folder);
        foreach (var page in composed.Pages)
            File.WriteAllText(
                Path.Combine(folder, $"{page.Sheet + 1:0000}.svg"),
                SvgPainter.Paint(DisplayList.Of(page, composed.Look), name =>
                    package.Picture(name) is { } bytes ? (bytes, media[name]) : null
                )
            );
    }
}
