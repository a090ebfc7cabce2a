using System.Text;
using CsCheck;
using Kivren.Core.Composition;
using Kivren.Core.Content;
using Kivren.Core.Display;
using Kivren.Core.Looks;
using Kivren.Core.Type;
using Kivren.Formats.Generator;
using static Kivren.Core.Tests.Build;

namespace Kivren.Core.Tests;

public class SettlingTests
{
    /// <summary>Everything that is printed, with places: equal strings are equal pages to the millipoint.</summary>
    private static string Print(ComposedManual composed)
    {
        var all = new StringBuilder();
        foreach (var page in composed.Pages)
        {
            all.Append('[')
                .Append(page.Folio)
                .Append('|')
                .Append(page.Key)
                .Append('|')
                .Append(page.Reason)
                .Append('|')
                .Append(page.Furniture)
                .Append(']');
            foreach (var item in DisplayList.Of(page, composed.Look).Items)
                if (item is WordItem word)
                    all.Append(word.Word.Word.Characters(word.Word.From, word.Word.To))
                        .Append('@')
                        .Append(word.X)
                        .Append(',')
                        .Append(word.Y)
                        .Append(' ');
                else
                    all.Append(item.GetType().Name).Append('@').Append(item.X).Append(',').Append(item.Y).Append(' ');
        }
        foreach (var loose in composed.LooseEnds)
            all.Append('\n').Append(loose);
        return all.ToString();
    }

    [Fact]
    public void A_composition_with_caches_equals_one_from_nothing_after_any_edits()
    {
        Gen.Int[0, 1_000_000]
            .Sample(
                seed =>
                {
                    var random = new Random(seed);
                    var manual = ManualGenerator.Make(14, seed % 7).Manual;
                    var caches = new CompositionCaches();
                    for (var edit = 0; edit < 6; edit++)
                    {
                        var cached = Compose(manual, caches);
                        if (Print(cached) != Print(Compose(manual)))
                            return false;
                        manual = RandomEdit.Apply(manual, random);
                    }
                    return true;
                },
                iter: 14,
                threads: 2
            );
    }

    private static readonly Gen<(int Division, int Block, int Kind)> Edits = Gen.Select(Gen.Int[0, 9], Gen.Int[0, 99], Gen.Int[0, 13]);

    /// <summary>One change that leaves every other object as it was.</summary>
    private static Manual Edited(Manual manual, (int Division, int Block, int Kind) edit)
    {
        var at = edit.Division % manual.Divisions.Count;
        var division = manual.Divisions[at];
        var blocks = division.Blocks.ToList();
        if (blocks.Count == 0)
            return manual;
        var b = edit.Block % blocks.Count;
        switch (edit.Kind)
        {
            case 0:
                blocks.RemoveAt(b);
                break;
            case 1:
                blocks.Insert(b, new PassageUse(new Id($"use{edit.Block}-{edit.Division}"), "Safety"));
                break;
            case 2:
                return manual with { Variables = [new NamedText("product", "Ferry " + edit.Block)] };
            case 3:
                division = division with { Language = edit.Block % 2 == 0 ? "de" : "en-GB" };
                break;
            case 4:
                division = division with { Kind = edit.Block % 2 == 0 ? DivisionKind.Appendix : DivisionKind.Chapter };
                break;
            case 5:
                return manual with
                {
                    Editions = [new Edition("One") { Chosen = [new AxisValues("model", [edit.Block % 2 == 0 ? "6" : "6E"])] }],
                };
            case 6:
                return manual with { Aliases = new Dictionary<Id, Id> { [new Id("old")] = blocks[b].Id } };
            case 7:
                blocks.Insert(b, Head($"h{edit.Block}-{edit.Division}", (HeadLevel)(1 + edit.Block % 4), "A new head"));
                break;
            case 8:
                blocks.Insert(b, new PageBreak(new Id($"b{edit.Block}-{edit.Division}")));
                break;
            case 11:
                blocks = blocks.ConvertAll(own => Renamed(own, edit.Block));
                break;
            case 12:
                blocks[b] = blocks[b].WithSpans(s => [.. s, new TextRun(" zq")]);
                break;
            case 13:
                blocks[b] = blocks[b].WithSpans(s => [.. s, new IndexEntry(new Id($"e{edit.Block}-{edit.Division}"), ["New"])]);
                break;
            case 9:
                (blocks[b], blocks[0]) = (blocks[0], blocks[b]);
                break;
            default:
                blocks.Insert(
                    b,
                    Text(
                        $"p{edit.Block}-{edit.Division}",
                        new TextRun("New words "),
                        new CrossReference(new Id($"r{edit.Block}-{edit.Division}"), new Id("pa-anchor"), "page")
                    )
                );
                break;
        }
        return manual with { Divisions = manual.Divisions.Select((d, i) => i == at ? division with { Blocks = blocks } : d).ToArray() };
    }

    /// <summary>Every index entry of a block says another thing.</summary>
    private static Block Renamed(Block block, int to)
    {
        Inline Other(Inline inline) =>
            inline switch
            {
                IndexEntry e => e with { Headings = [$"Other {to}"], Principal = !e.Principal, See = null },
                Holding h => h with { Content = h.Content.Select(Other).ToArray() },
                _ => inline,
            };
        return block.WithSpans(s => s.Select(Other).ToArray());
    }

    [Fact]
    public void What_an_index_entry_says_makes_nothing_but_the_index_anew() =>
        Gen.Select(Rich.Manuals, Gen.Int[0, 99])
            .Sample(
                (seeds, to) =>
                {
                    var manual = Rich.Make(seeds);
                    var caches = new CompositionCaches();
                    var before = Compose(manual, caches);
                    var other = manual with
                    {
                        Divisions = manual
                            .Divisions.Select(d => d with { Blocks = d.Blocks.Select(b => Renamed(b, to)).ToArray() })
                            .ToArray(),
                    };
                    var now = Compose(other, caches);
                    Assert.Equal(Print(Compose(other)), Print(now));
                    for (var d = 0; d < now.Divisions.Count; d++)
                    {
                        Assert.Same(before.Numbers.Divisions[d], now.Numbers.Divisions[d]);
                        if (now.Numbers.Divisions[d].Division.Kind == DivisionKind.Chapter)
                            Assert.Same(before.Divisions[d].Cut, now.Divisions[d].Cut);
                    }
                },
                iter: 60,
                threads: 2
            );

    [Fact]
    public void A_composition_with_caches_equals_one_from_nothing_whatever_the_blocks_and_whatever_is_edited() =>
        Gen.Select(Rich.Manuals, Edits.List[1, 5], Gen.Int[0, 2])
            .Sample(
                (seeds, edits, look) =>
                {
                    var manual = Rich.Make(seeds);
                    var caches = new CompositionCaches();
                    Look Wears() => ShippedLooks.All[look];
                    Composer.Compose(manual, manual.EditionNamed(null), Wears(), caches);
                    foreach (var edit in edits)
                    {
                        manual = Edited(manual, edit);
                        var cached = Composer.Compose(manual, manual.EditionNamed(null), Wears(), caches);
                        Assert.Equal(Print(Composer.Compose(manual, manual.EditionNamed(null), Wears())), Print(cached));
                    }
                },
                iter: 150,
                threads: 2
            );

    [Fact]
    public void A_settled_composition_prints_the_page_it_names()
    {
        for (var seed = 1; seed < 5; seed++)
        {
            var composed = Compose(ManualGenerator.Make(40, seed).Manual);
            foreach (var division in composed.Text.Divisions)
            foreach (var block in division.Blocks)
            foreach (var reference in block.Inlines().OfType<CrossReference>().Where(r => r.Form == "page"))
            {
                var target = composed.Find(reference.Target)!.Value;
                Assert.Equal("page\u00A0" + composed.Pages[target.Sheet].Folio, composed.Print(reference));
            }
        }
    }

    [Fact]
    public void Settling_ends_even_where_numbers_and_lines_chase_each_other()
    {
        // Each paragraph is full to its last line with folios of targets that its own length pushes over a page turn.
        for (var n = 0; n < 30; n++)
        {
            var inline = new List<Inline> { new TextRun(Words("w", 300 + n).Content.PlainText()) };
            for (var r = 0; r < 40; r++)
            {
                inline.Add(new TextRun(" "));
                inline.Add(new CrossReference(new Id($"x{r}"), new Id($"t{r}"), r % 2 == 0 ? "page" : "title-page"));
            }
            var blocks = new List<Block> { Text("refs", [.. inline]) };
            for (var r = 0; r < 40; r++)
                blocks.AddRange([
                    Head($"t{r}", HeadLevel.B, r % 3 == 0 ? "Target" : "A longer target head"),
                    Words($"p{r}", 40 + r * n % 60),
                ]);
            var composed = Compose(Manual(Chapter("a", "Chase", [.. blocks])));
            Assert.InRange(composed.Passes, 2, 60);
            foreach (var reference in blocks[0].Inlines().OfType<CrossReference>().Where(r => r.Form == "page"))
                Assert.Contains(
                    composed.Print(reference).Replace('\u00A0', ' '),
                    string.Concat(composed.Pages.SelectMany(p => p.Lines())).Replace('\u00A0', ' '),
                    StringComparison.Ordinal
                );
        }
    }

    [Fact]
    public void Holds_only_grow()
    {
        static Piece P(int height) => new() { Height = height, Drawn = [] };
        var holds = new Holds();
        holds.Hold(0, [P(13), P(13), P(13)]);
        Assert.Equal(3, holds.Apply(0, [P(13), P(20)])!.Length);
        var again = holds.Apply(0, [P(13)])!;
        Assert.Equal([13, 20, 13], again.Select(p => p.Height));
        Assert.Null(holds.Apply(1, [P(13)]));
    }

    [Theory]
    [InlineData(1)]
    [InlineData(2)]
    [InlineData(3)]
    public void Every_word_is_on_the_pages_once_and_in_order(int seed)
    {
        var look = ShippedLooks.All[seed % ShippedLooks.All.Count];
        var composed = Composer.Compose(ManualGenerator.Make(30, seed).Manual, Edition.Whole, look);
        foreach (var stretch in composed.Divisions.GroupBy(d => d.Cut))
        {
            var printed = new StringBuilder();
            var notes = new List<Id>();
            var blocks = stretch.SelectMany(d => d.Numbers.Division.Blocks).ToList();
            foreach (var page in stretch.Key.Pages)
            {
                foreach (var placed in page.Pieces)
                foreach (
                    var line in stretch
                        .Key.Galley.Pieces[placed.Piece]
                        .Drawn.OfType<DrawnLine>()
                        .Where(l => blocks.Any(b => b is Paragraph && b.Id == l.Block))
                )
                foreach (var word in line.Line.Words)
                    printed.Append(word.Word.Characters(word.From, word.To));
                notes.AddRange(page.Notes.Where(n => n.To == n.Note.Lines.Count).Select(n => n.Note.Id));
            }
            foreach (var paragraph in blocks.OfType<Paragraph>())
            foreach (var run in paragraph.Content.OfType<TextRun>())
                Assert.Contains(run.Text.Replace(" ", "", StringComparison.Ordinal), printed.ToString(), StringComparison.Ordinal);
            // Notes of tables stand under their table.
            var called = blocks
                .SelectMany(b => b.WithInner())
                .Where(b => b is not Table)
                .SelectMany(b => b.OwnSpans())
                .SelectMany(Walk.Flat)
                .OfType<Footnote>()
                .Select(n => n.Id);
            if (look.Notes == NotePlace.Foot)
                Assert.Equal(called, notes);
        }
    }

    [Fact]
    public void A_cancelled_composition_stops()
    {
        using var cancel = new CancellationTokenSource();
        cancel.Cancel();
        var manual = ManualGenerator.Make(20, 1).Manual;
        Assert.ThrowsAny<OperationCanceledException>(() =>
            Composer.Compose(manual, Edition.Whole, ShippedLooks.Workshop, cancel: cancel.Token)
        );
    }

    private static Look AnyLook(Random random) => ShippedLooks.All[random.Next(ShippedLooks.All.Count)];

    [Fact]
    public void In_every_look_a_cached_composition_equals_one_from_nothing()
    {
        Gen.Int[0, 1_000_000]
            .Sample(
                seed =>
                {
                    var random = new Random(seed);
                    var manual = ManualGenerator.Make(10, seed % 11).Manual;
                    var caches = new CompositionCaches();
                    for (var edit = 0; edit < 5; edit++)
                    {
                        // The look changes under way: nothing kept for another may be used.
                        var look = AnyLook(random);
                        if (
                            Print(Composer.Compose(manual, Edition.Whole, look, caches))
                            != Print(Composer.Compose(manual, Edition.Whole, look))
                        )
                            return false;
                        manual = RandomEdit.Apply(manual, random);
                    }
                    return true;
                },
                iter: 8,
                threads: 2
            );
    }

    [Fact]
    public void Every_piece_stands_on_the_pages_once_and_in_order_and_inside_its_depth()
    {
        Gen.Int[0, 1_000_000]
            .Sample(
                seed =>
                {
                    var look = AnyLook(new Random(seed));
                    var composed = Composer.Compose(ManualGenerator.Make(12, seed % 17).Manual, Edition.Whole, look);
                    foreach (var cut in composed.Divisions.Select(d => d.Cut).Distinct())
                    {
                        var seen = new int[cut.Galley.Pieces.Length];
                        var last = -1;
                        foreach (var page in cut.Pages)
                        {
                            foreach (var placed in page.Pieces)
                            {
                                seen[placed.Piece]++;
                                if (cut.Galley.Pieces[placed.Piece].Floats)
                                    continue;
                                if (placed.Piece <= last)
                                    return false;
                                last = placed.Piece;
                                if (
                                    placed.Y + cut.Galley.Pieces[placed.Piece].Height > look.Master.Depth.Millipoints
                                    && cut.Galley.Pieces[placed.Piece].Height <= look.Master.Depth.Millipoints
                                )
                                    return false;
                            }
                            if (page.PlateOf >= 0 && ReferenceEquals(page.Plate, cut.Galley.Pieces[page.PlateOf].Plates![0]))
                                seen[page.PlateOf]++;
                            // Notes stand below the text, in the order of their calls.
                            foreach (var note in page.Notes)
                                if (note.Y < 0 || note.Y + (note.To - note.From) * note.Note.Leading > look.Master.Depth.Millipoints + 1)
                                    return false;
                        }
                        if (seen.Any(n => n != 1))
                            return false;
                    }
                    return true;
                },
                iter: 20,
                threads: 2
            );
    }

    [Fact]
    public void No_line_passes_its_measure_without_a_loose_end()
    {
        Gen.Int[0, 1_000_000]
            .Sample(
                seed =>
                {
                    var look = AnyLook(new Random(seed));
                    var composed = Composer.Compose(ManualGenerator.Make(10, seed % 13).Manual, Edition.Whole, look);
                    var told = composed
                        .LooseEnds.Where(l => l.Kind is LooseEnds.LooseEndKind.OverfullLine or LooseEnds.LooseEndKind.TableTooWide)
                        .Select(l => l.Block)
                        .ToHashSet();
                    return composed
                        .Divisions.Select(d => d.Cut.Galley)
                        .Distinct()
                        .All(g =>
                            g.Pieces.Where(p => !told.Contains(p.Block))
                                .SelectMany(p => p.Drawn)
                                .OfType<DrawnLine>()
                                .All(l => l.X + l.Line.Width <= look.Master.Measure.Millipoints + 2_000)
                        );
                },
                iter: 12,
                threads: 2
            );
    }

    [Fact]
    public void Each_cut_is_never_worse_than_cutting_page_by_page()
    {
        Gen.Int[0, 1_000_000]
            .Sample(
                seed =>
                {
                    var look = AnyLook(new Random(seed));
                    var composed = Composer.Compose(ManualGenerator.Make(12, seed % 19).Manual, Edition.Whole, look);
                    return composed
                        .Divisions.Where(d => d.Cut.Galley.Columns == 1)
                        .All(d => d.Cut.Cost <= PageCutter.PageByPage(d.Cut.Galley, look, d.StretchSheet % 2 == 0).Cost);
                },
                iter: 12,
                threads: 2
            );
    }
}
