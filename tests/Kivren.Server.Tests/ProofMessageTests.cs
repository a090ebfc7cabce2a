using System.Diagnostics;
using CsCheck;
using Kivren.Core.Composition;
using Kivren.Core.Content;
using Kivren.Core.Looks;
using Kivren.Core.Numbering;
using Kivren.Core.Selection;
using Kivren.Core.Tests;
using Kivren.Formats.Generator;
using Kivren.Server.Manuals;

namespace Kivren.Server.Tests;

/// <summary>What a browser makes of the messages it is told is what it would read anew.</summary>
public class ProofMessageTests
{
    private static readonly Gen<(List<Rich.Division> Manual, List<(int At, Rich.Seed New)> Edits)> Sessions = Gen.Select(
        Rich.Manuals,
        Gen.Select(Gen.Int[0, 40], Rich.Seeds, (at, seed) => (at, seed)).List[1, 6],
        (manual, edits) => (manual, edits)
    );

    private static Manual Edited(Manual manual, int at, Rich.Seed seed, int n)
    {
        var d = at % manual.Divisions.Count;
        var blocks = manual.Divisions[d].Blocks.ToList();
        if (at % 5 == 0 && blocks.Count > 0)
            blocks.RemoveAt(at % blocks.Count);
        else if (at % 5 < 3)
            blocks.InsertRange(
                Math.Min(at, blocks.Count),
                Rich.Make([new Rich.Division(4, 3, [seed])])
                    .Divisions[0]
                    .Blocks.Select(b => b.Renamed(id => new Id($"e{n}-{id}"), id => id))
            );
        else if (blocks.Count > 0)
            blocks[at % blocks.Count] = blocks[at % blocks.Count]
                .WithSpans(s => [.. s.Select(i => i is TextRun r ? r with { Text = r.Text + " more" } : i)]);
        return manual with { Divisions = [.. manual.Divisions.Select((x, i) => i == d ? x with { Blocks = blocks } : x)] };
    }

    [Fact]
    public void Messages_put_together_are_the_whole_proof_and_their_effect_is_what_changed() =>
        Check.Sample(
            Sessions,
            session =>
            {
                var caches = new CompositionCaches();
                NumberedComposition? before = null;
                List<ProofPage> pages = [];
                IReadOnlyList<ProofDivision> divisions = [];
                IReadOnlyList<ProofLooseEnd> looseEnds = [];
                var manual = Rich.Make(session.Manual);
                for (var n = 0; n <= session.Edits.Count; n++)
                {
                    if (n > 0)
                        manual = Edited(manual, session.Edits[n - 1].At, session.Edits[n - 1].New, n);
                    var composed = Composer.Compose(manual, Edition.Whole, ShippedLooks.Workshop, caches);
                    var message = ProofMessage.Of(before, composed, n + 1, n, new Stopwatch());
                    var told = message.After(before?.Message);
                    if (told.Before == 0)
                        pages = [.. told.Runs.SelectMany(r => r.Inserted)];
                    else
                    {
                        foreach (var run in told.Runs.Reverse())
                        {
                            pages.RemoveRange(run.From, run.Removed);
                            pages.InsertRange(run.From, run.Inserted);
                        }
                    }
                    divisions = told.Divisions ?? divisions;
                    looseEnds = told.LooseEnds ?? looseEnds;
                    var whole = ProofMessage.Whole(
                        new NumberedComposition(1, composed, ProofMessage.Of(null, composed, 1, 0, new Stopwatch()))
                    );
                    Assert.Equal(whole.Runs.Single().Inserted, pages);
                    Assert.Equal(Shown(whole.Divisions!), Shown(divisions));
                    Assert.Equal(whole.LooseEnds!, looseEnds);
                    if (before is not null)
                        Assert.Equal(
                            (Moved(before.Composed, composed), Renumbered(before.Composed, composed)),
                            (message.Effect.HeadsMoved, message.Effect.ReferencesRenumbered)
                        );
                    before = new NumberedComposition(n + 1, composed, message);
                }
            },
            iter: 60
        );

    [Fact]
    public void Of_two_pages_far_apart_nothing_between_them_is_told()
    {
        var caches = new CompositionCaches();
        var manual = ManualGenerator.Make(80, 3, 20).Manual;
        var before = Composer.Compose(manual, Edition.Whole, ShippedLooks.Workshop, caches);
        var chapters = manual.Divisions.Select((d, i) => (d, i)).Where(x => x.d.Kind == DivisionKind.Chapter).Select(x => x.i).ToList();
        foreach (var chapter in new[] { chapters[0], chapters[^1] })
        {
            var blocks = manual.Divisions[chapter].Blocks.ToList();
            var at = blocks.FindIndex(b => b is Paragraph { Role: "body" });
            blocks[at] = ((Paragraph)blocks[at]) with { Content = [.. ((Paragraph)blocks[at]).Content, new TextRun("m")] };
            manual = manual with { Divisions = [.. manual.Divisions.Select((d, i) => i == chapter ? d with { Blocks = blocks } : d)] };
        }
        var now = Composer.Compose(manual, Edition.Whole, ShippedLooks.Workshop, caches);
        Assert.Equal(before.Pages.Count, now.Pages.Count);
        var changed = Enumerable.Range(0, now.Pages.Count).Where(p => before.Pages[p].Key != now.Pages[p].Key).ToList();
        Assert.InRange(changed.Count, 2, now.Pages.Count / 4);
        Assert.True(changed[^1] - changed[0] > now.Pages.Count / 2);

        var told = PageRun.Between(before, now).SelectMany(r => Enumerable.Range(r.From, r.Inserted.Count));

        Assert.Equal(changed, told);
    }

    private static IEnumerable<string> Shown(IReadOnlyList<ProofDivision> divisions) =>
        divisions.Select(d =>
            $"{d with { Heads = [] }} {string.Join(' ', d.Heads)}".Replace("System.Collections", "", StringComparison.Ordinal)
        );

    private static int Moved(ComposedManual before, ComposedManual now) =>
        now
            .Divisions.SelectMany(d => d.Numbers.Targets)
            .Count(t =>
                t.Kind is TargetKind.Head or TargetKind.Division
                && before.Find(t.Id) is { } was
                && now.Find(t.Id) is { } at
                && before.Pages[was.Sheet].Folio != now.Pages[at.Sheet].Folio
            );

    private static int Renumbered(ComposedManual before, ComposedManual now) =>
        now
            .Text.Divisions.SelectMany(d => d.Blocks)
            .SelectMany(b => b.Inlines())
            .OfType<CrossReference>()
            .Count(r => before.Numbers.Find(r.Target) is not null && before.Print(r) != now.Print(r));
}
