using System.Text.Json.Nodes;
using Kivren.Core;
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

    /// <summary>Each setting alone that moves what stands on a page, or what it prints.</summary>
    public static TheoryData<string, Func<Look, Look>> Said =>
        new()
        {
            { "heads, running heads and table heads in capitals", look => Changed(look, root =>
                    {
                        foreach (var head in root["heads"]!.AsArray())
                            head!["capitals"] = true;
                        foreach (var piece in root["masters"]![0]!["fields"]!.AsArray())
                            piece!["dress"]!["capitals"] = true;
                        root["table"]!["head"]!["capitals"] = true;
                        root["spans"] = JsonNode.Parse("""[{ "role": "control", "capitals": true }]""");
                    }) },
            {
                "captions under tables and listings",
                look => look with { Blocks = look.Blocks with { TableCaptionBelow = true, ListingCaptionBelow = true } }
            },
            { "spaces that give much", look => Changed(look, root => root["heads"]![0]!["stretch"] = 300) with { Feet = Feet.Feathered } },
            {
                "spaces that give nothing",
                look => Changed(look, root => root["dresses"]![0]!["dress"]!["stretch"] = 0) with { Feet = Feet.Feathered }
            },
            { "a chapter that opens lower", look => Opening(look, 140) },
            { "a chapter that opens higher", look => Opening(look, -18) },
            {
                "heads and feet that stay where they are on turned pages",
                look => look with { Masters = [.. look.Masters.Select(m => m with { FurnitureStays = true })] }
            },
        };

    private static Look Changed(Look look, Action<JsonNode> change)
    {
        var root = JsonNode.Parse(LookFile.Write(look))!;
        change(root);
        return LookFile.Read(root.ToJsonString(), out var faults) ?? throw new InvalidOperationException(faults[0].ToString());
    }

    private static Look Opening(Look look, double lower)
    {
        var opening = look.Masters[0] with { Name = "Lower", BasedOn = null, Top = look.Masters[0].Top + Length.Points(lower) };
        return look with
        {
            Masters = [.. look.Masters, opening],
            Sequences = look.Sequences.ToDictionary(
                s => s.Key,
                s =>
                    s.Key == DivisionKind.Chapter
                        ? s.Value with
                        {
                            Pages = (s.Value.Pages ?? look.Pages) with { Opening = "Lower" },
                        }
                        : s.Value
            ),
        };
    }

    [Theory]
    [MemberData(nameof(Said), DisableDiscoveryEnumeration = true)]
    public void A_look_that_says_this_comes_out_right(string said, Func<Look, Look> change)
    {
        foreach (var (demo, shipped) in new[] { ("tarn6", 0), ("cf2", 1) })
        {
            var read = ListAndIndexTests.Demo(demo);
            var edition = read.Manual.EditionNamed(null);
            var look = change(ShippedLooks.All[shipped]);
            var composed = Composer.Compose(read.Manual, edition, look);
            using (var output = File.Create(_file))
                PdfWriter.Write(composed, read.Pictures.GetValueOrDefault, output);
            var failed = Auditor
                .Audit(_file, read.Manual, edition, LookFile.Write(look))
                .Checks.Where(c => c.Failures.Count > 0 && !IsTold(c.Check, composed))
                .Select(c => $"{c.Check}: {c.Failures.Count} of {c.Tried}\n  {string.Join("\n  ", c.Failures.Take(4))}")
                .ToList();
            Assert.True(failed.Count == 0, string.Join('\n', failed.Prepend($"{demo}, {said}")));
        }
    }

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
