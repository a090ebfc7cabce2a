using Kivren.Core.Composition;
using Kivren.Core.Content;
using Kivren.Core.Looks;
using Kivren.Core.LooseEnds;
using Kivren.Formats.Generator;
using Kivren.Formats.Pdf;

namespace Kivren.Audit.Tests;

/// <summary>Finished files in looks that a designer changed: every one is right, and composed with what was kept as from nothing.</summary>
public sealed class ChangedLookTests : IDisposable
{
    private readonly string _file = Path.GetTempFileName();

    public void Dispose() => File.Delete(_file);

    /// <summary>How often each look is changed, one change upon the other.</summary>
    private const int Changes = 25;

    /// <summary>Whether the writer was told that this comes out wrong in this look.</summary>
    private static bool IsTold(string check, ComposedManual composed) =>
        composed.LooseEnds.Any(l =>
            l.Kind
            == check switch
            {
                "running heads" or "no text over other text" => LooseEndKind.RunningHeadsMeet,
                "text inside its frame" => LooseEndKind.OverfullLine,
                "no head at a page's foot" => LooseEndKind.KeepGivenUp,
                _ => LooseEndKind.NotSettled,
            }
        );

    [Theory]
    [InlineData("tarn6", 0)]
    [InlineData("cf2", 0)]
    [InlineData("cf2", 1)]
    [InlineData("cf2", 2)]
    public void After_each_change_of_a_look_the_file_is_right(string demo, int shipped)
    {
        var read = ListAndIndexTests.Demo(demo);
        var edition = read.Manual.EditionNamed(null);
        var random = new Random(7 + shipped);
        var look = ShippedLooks.All[shipped] with
        {
            Colours = [new NamedColour("sea", "#1f3a5f"), new NamedColour("sand", "#e8dcc0") { Print = 90 }],
            Spans = [new SpanDress("control") { Colour = "sea" }, new SpanDress("code")],
        };
        var caches = new CompositionCaches();
        var done = new List<string>();
        for (var change = 0; change < Changes; change++)
        {
            look = RandomLook.Changed(look, random, out var said);
            done.Add(said);
            var composed = Composer.Compose(read.Manual, edition, look, caches);
            var fresh = Composer.Compose(read.Manual, edition, look);
            Assert.True(
                composed.Pages.Select(p => p.Key).SequenceEqual(fresh.Pages.Select(p => p.Key)),
                string.Join('\n', done.Append("the pages are not those of a composition from nothing"))
            );
            using (var output = File.Create(_file))
                PdfWriter.Write(composed, read.Pictures.GetValueOrDefault, output);
            var failed = Auditor
                .Audit(_file, read.Manual, edition, LookFile.Write(look))
                .Checks.Where(c => c.Failures.Count > 0 && !IsTold(c.Check, composed))
                .Select(c => $"{c.Check}: {c.Failures.Count} of {c.Tried}\n  {string.Join("\n  ", c.Failures.Take(4))}")
                .ToList();
            Assert.True(failed.Count == 0, string.Join('\n', done.Concat(failed)));
        }
    }
}
