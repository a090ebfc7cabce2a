using System.Diagnostics;
using System.Text.Json;
using Kivren.Core.Composition;
using Kivren.Core.Content;
using Kivren.Core.Looks;
using Kivren.Formats.Generator;
using Kivren.Formats.Package;

namespace Kivren.Bench;

/// <summary>Whole commands, package to PDF, against headless Chromium printing the same text as HTML; in turn, so that what slows the
/// machine slows all. Medians of three, in milliseconds.</summary>
/// <param name="Native">the command as machine code; null where it was not made</param>
/// <param name="Composing">what of the usual command composing took, in a process that had composed nothing before</param>
public sealed record CommandRace(int Pages, double Usual, double? Native, double Theirs, double Composing)
{
    public static List<CommandRace> All(string root, int pages) => [.. new[] { 100, 300, pages }.Select(p => Of(root, p))];

    private static CommandRace Of(string root, int pages)
    {
        var folder = Directory.CreateTempSubdirectory("kivren-bench-").FullName;
        try
        {
            var made = ManualGenerator.Make(pages, 1);
            var file = Path.Combine(folder, "manual.kivren");
            using (var stream = File.Create(file))
                PackageWriter.Write(made, stream);
            File.WriteAllText(
                Path.Combine(folder, "manual.html"),
                PlainHtml.Of(made.Manual, Path.Combine(root, "src/Kivren.Core/Type/Faces"))
            );
            File.WriteAllBytes(Path.Combine(folder, "windows.svg"), made.Pictures["windows.svg"]);
            string[] compose = ["compose", file, "-o", Path.Combine(folder, "ours.pdf"), "--json"];
            var machine = Path.Combine(root, ".build/native/kivren");
            var (usual, native, theirs, composing) = (new List<double>(), new List<double>(), new List<double>(), new List<double>());
            for (var round = 0; round < 3; round++)
            {
                usual.Add(Timed(out var said, "dotnet", [Path.Combine(root, ".build/kivren/kivren.dll"), .. compose]));
                composing.Add(StepsBeforeWriting(said));
                if (File.Exists(machine))
                    native.Add(Timed(out _, machine, compose));
                theirs.Add(
                    Timed(
                        out _,
                        "chromium",
                        "--headless",
                        "--no-sandbox",
                        "--disable-gpu",
                        "--allow-file-access-from-files",
                        "--no-pdf-header-footer",
                        "--print-to-pdf=" + Path.Combine(folder, "theirs.pdf"),
                        "file://" + Path.Combine(folder, "manual.html")
                    )
                );
            }
            var count = Composer.Compose(made.Manual, Edition.Whole, ShippedLooks.Workshop).Pages.Count;
            return new CommandRace(count, Median(usual), native.Count > 0 ? Median(native) : null, Median(theirs), Median(composing));
        }
        finally
        {
            Directory.Delete(folder, recursive: true);
        }
    }

    private static double Median(List<double> times) => times.Order().ElementAt(times.Count / 2);

    private static double StepsBeforeWriting(string said) =>
        JsonDocument
            .Parse(said)
            .RootElement.GetProperty("steps")
            .EnumerateObject()
            .Where(s => s.Name != "write")
            .Sum(s => s.Value.GetDouble());

    private static double Timed(out string said, string command, params string[] arguments)
    {
        var clock = Stopwatch.StartNew();
        using var process = Process.Start(
            new ProcessStartInfo(command, arguments) { RedirectStandardOutput = true, RedirectStandardError = true }
        )!;
        process.ErrorDataReceived += (_, _) => { };
        process.BeginErrorReadLine();
        said = process.StandardOutput.ReadToEnd();
        process.WaitForExit();
        return process.ExitCode == 0
            ? clock.Elapsed.TotalMilliseconds
            : throw new InvalidOperationException($"{command} ended with {process.ExitCode}.");
    }
}
