// Times the engine inside one process and the whole command against a browser printing the same text; prints one JSON
// object. See bench/run, which adds what is measured in the browser and writes results.md.
using System.Diagnostics;
using System.Text.Json;
using Kivren.Bench;
using Kivren.Core.Composition;
using Kivren.Core.Content;
using Kivren.Core.Looks;
using Kivren.Formats.Generator;
using Kivren.Formats.Package;
using Kivren.Formats.Pdf;

var root = args[0];
var pages = int.Parse(args[1], System.Globalization.CultureInfo.InvariantCulture);
var folder = Directory.CreateTempSubdirectory("kivren-bench-").FullName;
var package = ManualGenerator.Make(pages, 1);
var packageFile = Path.Combine(folder, "manual.kivren");
using (var file = File.Create(packageFile)) PackageWriter.Write(package, file);
File.WriteAllText(Path.Combine(folder, "manual.html"), PlainHtml.Of(package.Manual, Path.Combine(root, "src/Kivren.Core/Type/Faces")));
File.WriteAllBytes(Path.Combine(folder, "windows.svg"), package.Pictures["windows.svg"]);

// Whole commands in turn, so that what slows the machine slows both.
var (ours, theirs) = (new List<double>(), new List<double>());
for (var round = 0; round < 3; round++)
{
    ours.Add(Timed("dotnet", Path.Combine(root, "src/Kivren.Cli/bin/Release/net10.0/kivren.dll"), "compose", packageFile, "-o", Path.Combine(folder, "ours.pdf")));
    theirs.Add(Timed("chromium", "--headless", "--no-sandbox", "--disable-gpu", "--allow-file-access-from-files", "--no-pdf-header-footer", "--print-to-pdf=" + Path.Combine(folder, "theirs.pdf"), "file://" + Path.Combine(folder, "manual.html")));
}

var look = ShippedLooks.Named(package.Manual.Look);
var cold = new List<double>();
ComposedManual composed = null!;
for (var round = 0; round < 3; round++) cold.Add(Milliseconds(() => composed = Composer.Compose(package.Manual, package.Manual.EditionNamed(null), look)));

var pdf = new List<double>();
long bytes = 0;
for (var round = 0; round < 3; round++)
{
    using var output = new MemoryStream();
    pdf.Add(Milliseconds(() => PdfWriter.Write(composed, package.Picture, output)));
    bytes = output.Length;
}

var caches = new CompositionCaches();
Composer.Compose(package.Manual, package.Manual.EditionNamed(null), look, caches);
var edits = new List<double>();
var random = new Random(50);
var manual = package.Manual;
for (var n = 0; n < 50; n++)
{
    manual = OneParagraph.Edited(manual, random);
    edits.Add(Milliseconds(() => composed = Composer.Compose(manual, manual.EditionNamed(null), look, caches)));
}

Console.WriteLine(JsonSerializer.Serialize(new
{
    pages = composed.Pages.Count,
    wholeCommand = ours,
    browserPrint = theirs,
    ratio = Median(ours) / Median(theirs),
    firstInProcess = cold[0],
    fromNothing = Median(cold),
    editMedian = Median(edits),
    editWorst = edits.Max(),
    pdfMilliseconds = Median(pdf),
    pdfBytes = bytes,
}));
Directory.Delete(folder, recursive: true);
return;

static double Median(List<double> times) => times.Order().ElementAt(times.Count / 2);

static double Milliseconds(Action act)
{
    GC.Collect();
    var clock = Stopwatch.StartNew();
    act();
    return clock.Elapsed.TotalMilliseconds;
}

static double Timed(string command, params string[] arguments)
{
    var clock = Stopwatch.StartNew();
    using var process = Process.Start(new ProcessStartInfo(command, arguments) { RedirectStandardOutput = true, RedirectStandardError = true })!;
    process.ErrorDataReceived += (_, _) => { };
    process.BeginErrorReadLine();
    process.StandardOutput.ReadToEnd();
    process.WaitForExit();
    return process.ExitCode == 0 ? clock.Elapsed.TotalMilliseconds : throw new InvalidOperationException($"{command} ended with {process.ExitCode}.");
}
