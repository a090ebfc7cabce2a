// Times the engine inside one process and the whole command against a browser printing the same text; prints one JSON
// object. See bench/run, which adds what is measured in the browser and writes results.md.
using System.Diagnostics;
using System.Text.Json;
using Kivren.Bench;
using Kivren.Core.Composition;
using Kivren.Core.Content;
using Kivren.Core.Looks;
using Kivren.Formats.Generator;
using Kivren.Formats.Outputs;
using Kivren.Formats.Package;
using Kivren.Formats.Pdf;

var look = ShippedLooks.Workshop;

// --even FILE…: how even the lines of these manuals are, and nothing else.
if (args is ["--even", .. var files])
{
    foreach (var file in files)
    {
        using var opened = File.OpenRead(file);
        Console.WriteLine(
            $"{Path.GetFileName(file)} {JsonSerializer.Serialize(Evenness.Of(Composed(PackageReader.Read(opened, []).Manual)))}"
        );
    }
    return;
}

// --full FILE…: how full the pages of these manuals are in each look that ships, and nothing else.
if (args is ["--full", .. var filled])
{
    foreach (var file in filled)
    foreach (var worn in ShippedLooks.All)
    {
        using var opened = File.OpenRead(file);
        var set = Composer.Compose(PackageReader.Read(opened, []).Manual, Edition.Whole, worn);
        Console.WriteLine($"{Path.GetFileName(file)}, {worn.Name}: {Filling.Of(set, worn)}");
    }
    return;
}

// --against ROOT PAGES: the whole command against the browser, and nothing else.
if (args is ["--against", var place, var size])
{
    foreach (var race in CommandRace.All(place, int.Parse(size, System.Globalization.CultureInfo.InvariantCulture)))
        Console.WriteLine(JsonSerializer.Serialize(race));
    return;
}
var root = args[0];
var pages = int.Parse(args[1], System.Globalization.CultureInfo.InvariantCulture);
using var demo = File.OpenRead(Path.Combine(root, "demo/tarn6.kivren"));
var even = Evenness.Of(Composed(PackageReader.Read(demo, []).Manual));
var races = CommandRace.All(root, pages);

var package = ManualGenerator.Make(pages, 1);

// A server has composed before: what it runs often is compiled at its best by then.
for (var round = 0; round < 8; round++)
    Composed(package.Manual);
var steps = new Dictionary<string, double>(StringComparer.Ordinal);
var (cold, floor) = (new List<double>(), new List<double>());
var words = ShapingFloor.Words(package.Manual);
ComposedManual composed = null!;

// In turn, so that what slows the machine slows both.
for (var round = 0; round < 5; round++)
{
    floor.Add(Milliseconds(() => ShapingFloor.Shape(words)));
    steps.Clear();
    var clock = Stopwatch.StartNew();
    var last = 0.0;
    void Step(string name)
    {
        steps[name] = steps.GetValueOrDefault(name) + clock.Elapsed.TotalMilliseconds - last;
        last = clock.Elapsed.TotalMilliseconds;
    }
    cold.Add(
        Milliseconds(() =>
        {
            clock.Restart();
            last = 0;
            composed = Composer.Compose(package.Manual, Edition.Whole, look, step: Step);
        })
    );
}

var pdf = new List<double>();
long bytes = 0;
for (var round = 0; round < 3; round++)
{
    using var output = new MemoryStream();
    pdf.Add(Milliseconds(() => PdfWriter.Write(composed, package.Picture, output)));
    bytes = output.Length;
}

// Outputs that are made from the text anew, their composition included.
double Output(Package of, Edition edition, OutputChoice choice)
{
    using var output = new MemoryStream();
    return Milliseconds(() => OutputMaker.Make(of.Manual, edition, choice, of.Picture, OutputMaker.NoMoment, output));
}
var outputs = new Dictionary<string, double>(StringComparer.Ordinal);
foreach (var kind in Enum.GetValues<OutputKind>())
    outputs[kind.ToString()] = Median([.. Enumerable.Range(0, 3).Select(_ => Output(package, Edition.Whole, new OutputChoice(kind)))]);
demo.Position = 0;
var tarn = PackageReader.Read(demo, []);
var ofDemo = tarn.Manual.Editions.SelectMany(e => e.GoesOutAs.Select(o => Output(tarn, e, o))).Sum();

var caches = new CompositionCaches();
var manual = package.Manual;
Composer.Compose(manual, Edition.Whole, look, caches);
var edits = new List<double>();
var random = new Random(50);
for (var n = 0; n < 50; n++)
{
    manual = OneParagraph.Edited(manual, random);
    edits.Add(Milliseconds(() => composed = Composer.Compose(manual, Edition.Whole, look, caches)));
}
GC.Collect();
var memory = GC.GetTotalMemory(forceFullCollection: true);

// Growth: the cost of a page in a manual ten times as long.
double PerPage(int size)
{
    var long_ = ManualGenerator.Make(size, 2).Manual;
    var count = Composed(long_).Pages.Count;
    return Enumerable.Range(0, 4).Select(_ => Milliseconds(() => Composed(long_))).Min() / count;
}
var (perPage500, perPage5000) = (PerPage(500), PerPage(5000));

// What an edit costs in a manual five times as long.
var longest = ManualGenerator.Make(5150, 2).Manual;
var longestCaches = new CompositionCaches();
var longestPages = Composer.Compose(longest, Edition.Whole, look, longestCaches).Pages.Count;
var longEdits = new List<double>();
for (var n = 0; n < 30; n++)
{
    longest = OneParagraph.Edited(longest, random);
    longEdits.Add(Milliseconds(() => Composer.Compose(longest, Edition.Whole, look, longestCaches)));
}

Console.WriteLine(
    JsonSerializer.Serialize(
        new
        {
            pages = composed.Pages.Count,
            words = words.Length,
            against = races,
            steps,
            fromNothing = Median(cold),
            inFreshProcess = races[^1].Composing,
            shapingFloor = Median(floor),
            editMedian = Median(edits),
            editWorst = edits.Max(),
            pdfMilliseconds = Median(pdf),
            pdfBytes = bytes,
            outputs,
            ofDemo,
            memoryBytes = memory,
            longestPages,
            longEditMedian = Median(longEdits),
            growth = perPage5000 / perPage500,
            even,
        }
    )
);
return;

ComposedManual Composed(Manual m) => Composer.Compose(m, Edition.Whole, look);

static double Median(List<double> times) => times.Order().ElementAt(times.Count / 2);

static double Milliseconds(Action act)
{
    GC.Collect();
    var clock = Stopwatch.StartNew();
    act();
    return clock.Elapsed.TotalMilliseconds;
}
