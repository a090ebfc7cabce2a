using CsCheck;
using Kivren.Core.Content;
using Kivren.Core.Tests;
using Kivren.Formats.Docx;
using Kivren.Formats.Generator;
using Kivren.Formats.Import;
using Kivren.Formats.Package;

namespace Kivren.Desk.Tests;

public class NewerVersionTests
{
    private static IReadOnlyList<Division> Shaped(string seed, WordFile file) =>
        Shaper.Shape(new ShapeRequest([WordReader.Read("n.docx", file.ToBytes())], ImportMapping.None, seed)).Divisions;

    private static WordFile First() =>
        new WordFile()
            .P("Oil", "Heading 1")
            .P("The case holds 1.4 litres of oil, drained while it is warm.")
            .P("The sieve is washed in spirit.")
            .P("1. Lock the drum.")
            .P("2. Turn the crank.")
            .P("Only the first series has hand cranks to take off.");

    private static (Manual Manual, BroughtInBlock[] Was) BroughtIn()
    {
        var divisions = Shaped("one", First());
        return (new Manual(new Id("m"), "M", divisions), divisions.SelectMany(BroughtInBlock.Of).ToArray());
    }

    private static WordFile Second() =>
        new WordFile()
            .P("Oil", "Heading 1")
            .P("The case holds 1.6 litres of oil, drained while it is warm.")
            .P("The copper washer is never used twice.")
            .P("The sieve is washed in spirit.")
            .P("1. Lock the drum.")
            .P("2. Mark the bolts.")
            .P("3. Turn the crank.");

    [Fact]
    public void The_same_document_differs_in_nothing()
    {
        var (manual, was) = BroughtIn();
        Assert.Empty(NewerVersion.Compare(was, Shaped("two", First()), manual).Differences);
    }

    [Fact]
    public void Changed_added_and_taken_out_blocks_are_told_apart()
    {
        var (manual, was) = BroughtIn();
        var differences = NewerVersion.Compare(was, Shaped("two", Second()), manual).Differences;
        Assert.Equal(
            [DifferenceKind.Changed, DifferenceKind.Added, DifferenceKind.Changed, DifferenceKind.TakenOut],
            differences.Select(d => d.Kind)
        );
        Assert.Equal(was[1].Block.Id, differences[0].Id);
    }

    [Fact]
    public void What_is_taken_keeps_ids_entries_and_conditions_and_what_is_left_stays()
    {
        var (manual, was) = BroughtIn();
        // The writer indexed a word of the paragraph and said to whom it applies.
        var entry = new IndexEntry(new Id("e"), ["oil", "draining"]);
        var text = (Paragraph)manual.Divisions[0].Blocks[0];
        var run = (TextRun)text.Content[0];
        var cut = run.Text.IndexOf(", drained", StringComparison.Ordinal);
        var written = text with
        {
            Content = [run with { Text = run.Text[..cut] }, entry, run with { Text = run.Text[cut..] }],
            AppliesTo = new AppliesTo([new AxisValues("model", ["6E"])]),
        };
        manual = manual with { Divisions = [manual.Divisions[0] with { Blocks = [written, .. manual.Divisions[0].Blocks.Skip(1)] }] };
        var comparison = NewerVersion.Compare(was, Shaped("two", Second()), manual);
        var differences = comparison.Differences;
        var taken = Take(manual, comparison, new HashSet<string> { differences[0].Id.Value, differences[1].Id.Value }).Divisions[0].Blocks;
        var now = (Paragraph)taken[0];
        Assert.Equal((text.Id, false), (now.Id, now.AppliesTo.IsAlways));
        Assert.Equal("The case holds 1.6 litres of oil, drained while it is warm.", now.Content.PlainText());
        Assert.Equal("The case holds 1.6 litres of oil", ((TextRun)now.Content[0]).Text);
        Assert.Equal(entry.Id, Assert.IsType<IndexEntry>(now.Content[1]).Id);
        Assert.Equal("The copper washer is never used twice.", taken[1].OwnSpans().Single().PlainText());
        Assert.Contains(taken, b =>
            b is Paragraph p && p.Content.PlainText().StartsWith("Only the first series", StringComparison.Ordinal)
        );
        Assert.Equal(2, taken.OfType<Steps>().Single().Items.Count);
    }

    [Fact]
    public void Items_that_did_not_change_keep_their_identities()
    {
        var (manual, was) = BroughtIn();
        var before = manual.Divisions[0].Blocks.OfType<Steps>().Single();
        var comparison = NewerVersion.Compare(was, Shaped("two", Second()), manual);
        var after = Take(manual, comparison).Divisions[0].Blocks.OfType<Steps>().Single();
        Assert.Equal((before.Id, before.Items[0].Id, before.Items[1].Id), (after.Id, after.Items[0].Id, after.Items[2].Id));
    }

    [Fact]
    public void Where_the_writer_changed_the_block_too_it_is_said()
    {
        var (manual, was) = BroughtIn();
        var edited = manual with
        {
            Divisions =
            [
                manual.Divisions[0] with
                {
                    Blocks = manual
                        .Divisions[0]
                        .Blocks.Select(
                            (b, i) =>
                                i == 0
                                    ? ((Paragraph)b) with
                                    {
                                        Content =
                                        [
                                            new TextRun("The case holds 1.4 litres of oil, drained while it is warm, into the drum."),
                                        ],
                                    }
                                    : b
                        )
                        .ToArray(),
                },
            ],
        };
        Assert.True(NewerVersion.Compare(was, Shaped("two", Second()), edited).Differences[0].EditedHere);
    }

    [Fact]
    public void A_third_version_is_compared_with_the_second()
    {
        var (manual, was) = BroughtIn();
        var second = NewerVersion.Compare(was, Shaped("two", Second()), manual);
        var now = Take(manual, second);
        Assert.Empty(NewerVersion.Compare(second.AsNow.ToArray(), Shaped("three", Second()), now).Differences);
    }

    // ---- laws, over manuals of every kind of block ----

    /// <summary>The blocks of a manual as they came in from a source.</summary>
    private static BroughtInBlock[] CameIn(Manual manual) => manual.Divisions.SelectMany(BroughtInBlock.Of).ToArray();

    /// <summary>The same content as it comes from another reading: every identity is another.</summary>
    /// <param name="before">the version before it: what points at what is gone since knows no identity of that one</param>
    private static Division[] ReadAgain(Manual manual, Manual? before = null)
    {
        static HashSet<Id> Own(Manual manual) =>
            manual
                .Divisions.SelectMany(d => d.Blocks)
                .SelectMany(b => b.Inlines().Select(Walk.IdOf).Concat(Ids(b)))
                .Where(id => !id.IsNone)
                .ToHashSet();
        var own = Own(manual);
        var then = before is null ? [] : Own(before);
        Id Again(Id id) => own.Contains(id) || then.Contains(id) ? new Id("again-" + id) : id;
        return
        [
            .. manual.Divisions.Select(d =>
                d with
                {
                    Id = new Id("again-" + d.Id),
                    Blocks = d.Blocks.Select(b => b.Renamed(id => new Id("again-" + id), Again)).ToArray(),
                }
            ),
        ];
    }

    private static List<Id> Ids(Block block)
    {
        var ids = new List<Id>();
        block.Rebuilt(
            id =>
            {
                ids.Add(id);
                return id;
            },
            spans => spans
        );
        return ids;
    }

    private static Manual Take(Manual manual, Comparison comparison, IReadOnlySet<string>? chosen = null)
    {
        chosen ??= comparison.Differences.Select(d => d.Id.Value).ToHashSet();
        var divisions = manual.Divisions.ToDictionary(d => d.Id, d => d.Blocks.ToList());
        var picked = comparison.Chosen(chosen, manual.Divisions.SelectMany(d => d.Blocks).Select(b => b.Id));
        foreach (var (difference, after) in picked)
        {
            var blocks = divisions[difference.Division];
            if (difference.Kind == DifferenceKind.Added)
                blocks.Insert(after.Value.Length == 0 ? 0 : blocks.FindIndex(b => b.Id == after) + 1, difference.Becomes!);
            else if (difference.Kind == DifferenceKind.Changed)
                blocks[blocks.FindIndex(b => b.Id == difference.Id)] = difference.Becomes!;
        }
        foreach (var (difference, _) in picked.Where(p => p.Difference.Kind == DifferenceKind.TakenOut))
            divisions[difference.Division].RemoveAll(b => b.Id == difference.Id);
        return manual with { Divisions = [.. manual.Divisions.Select(d => d with { Blocks = divisions[d.Id] })] };
    }

    /// <summary>Blocks as text, with identities numbered in the order they come: what is equal says the same.</summary>
    private static string Said(IEnumerable<Block> blocks)
    {
        var numbers = new Dictionary<Id, Id>();
        var list = blocks.ToList();
        foreach (var id in list.SelectMany(b => Ids(b).Concat(b.Inlines().Select(Walk.IdOf))).Where(id => !id.IsNone))
            numbers.TryAdd(id, new Id("#" + numbers.Count));
        return string.Join(
            '\n',
            list.Select(b => BlockWriter.ToJson(b.Renamed(id => numbers[id], id => numbers.GetValueOrDefault(id, id))))
        );
    }

    [Fact]
    public void What_was_only_read_again_differs_in_nothing() =>
        Check.Sample(
            Rich.Manuals,
            seeds =>
            {
                var manual = Rich.Make(seeds);
                Assert.Empty(NewerVersion.Compare(CameIn(manual), ReadAgain(manual), manual).Differences);
            },
            iter: 100
        );

    /// <summary>A manual and a newer version of it: blocks taken out, put in, exchanged and reworded by chance.</summary>
    private static readonly Gen<(List<Rich.Division> Old, List<(int At, int What, Rich.Seed New)> Changes)> Versions = Gen.Select(
        Rich.Manuals,
        Gen.Select(Gen.Int[0, 30], Gen.Int[0, 5], Rich.Seeds, (at, what, seed) => (at, what, seed)).List[0, 6],
        (old, changes) => (old, changes)
    );

    private static Manual Changed(Manual manual, List<(int At, int What, Rich.Seed New)> changes)
    {
        var divisions = manual.Divisions.Select(d => d with { Blocks = d.Blocks.ToList() }).ToList();
        var more = 0;
        foreach (var (at, what, seed) in changes)
        {
            var blocks = (List<Block>)divisions[at % divisions.Count].Blocks;
            // Made in a manual of its own, so that its words and identities are new.
            var n = ++more;
            var made = Rich.Make([new Rich.Division(4, 3, [seed])])
                .Divisions[0]
                .Blocks.Select(b => b.Renamed(id => new Id($"more{n}-{id}"), id => new Id($"more{n}-{id}")));
            if (what == 0 || blocks.Count == 0)
                blocks.InsertRange(Math.Min(at, blocks.Count), made);
            else if (what == 1)
                blocks.RemoveAt(at % blocks.Count);
            else if (what == 2)
                blocks.Reverse();
            else
                blocks[at % blocks.Count] = blocks[at % blocks.Count]
                    .WithSpans(spans =>
                        spans
                            .Select(
                                (s, i) =>
                                    s is TextRun r && i % what == 0
                                        ? r with
                                        {
                                            Text = what == 3 ? "newly " + r.Text : r.Text,
                                            Roles = what == 4 ? r.Roles ^ SpanRoles.Strong : r.Roles,
                                            Web = what == 5 ? "https://works.example/" + at : r.Web,
                                        }
                                        : s
                            )
                            .ToArray()
                    );
        }
        return manual with { Divisions = divisions };
    }

    [Fact]
    public void All_taken_is_the_newer_version_none_is_no_change_and_a_second_look_finds_nothing() =>
        Check.Sample(
            Versions,
            versions =>
            {
                var manual = Rich.Make(versions.Old);
                var newer = ReadAgain(Changed(manual, versions.Changes), manual);
                var comparison = NewerVersion.Compare(CameIn(manual), newer, manual);
                Assert.Empty(comparison.Chosen(new HashSet<string>(), []));
                var taken = Take(manual, comparison);
                Assert.Empty(ManualCheck.Problems(taken));
                // The title of a chapter stands before its blocks, as a head where it is new.
                var text = comparison.AsNow.Where(b => !(b.Block is Head h && h.Id == b.Division)).Select(b => b.Block).ToList();
                Assert.Equal(Said(newer.SelectMany(d => d.Blocks)), Said(text.Where(b => !newer.Any(d => d.Id == b.Id))));
                Assert.Equal(Said(text), Said(taken.Divisions.SelectMany(d => d.Blocks)));
                Assert.Empty(NewerVersion.Compare([.. comparison.AsNow], newer, taken).Differences);
            },
            iter: 300
        );

    /// <summary>What the writer put into a block stays when the block's newer version is taken, and a block that the writer alone
    /// changed is no difference.</summary>
    [Fact]
    public void Entries_and_conditions_of_the_writer_outlive_every_newer_version() =>
        Check.Sample(
            Versions,
            versions =>
            {
                var came = Rich.Make(versions.Old);
                var marked = 0;
                var manual = came with
                {
                    Divisions =
                    [
                        .. came.Divisions.Select(d =>
                            d with
                            {
                                Blocks = d
                                    .Blocks.Select(b =>
                                        b.WithSpans(s =>
                                            s.Count > 0 ? [s[0], new IndexEntry(new Id("own" + ++marked), ["own"]), .. s.Skip(1)] : s
                                        ) with
                                        {
                                            // A condition that no source has: what a newer version drops is the source's own.
                                            AppliesTo = new AppliesTo([new AxisValues("reader", ["crew"])]),
                                        }
                                    )
                                    .ToArray(),
                            }
                        ),
                    ],
                };
                Assert.Empty(NewerVersion.Compare(CameIn(came), ReadAgain(came), manual).Differences);
                var comparison = NewerVersion.Compare(CameIn(came), ReadAgain(Changed(came, versions.Changes)), manual);
                var taken = Take(manual, comparison);
                Assert.Empty(ManualCheck.Problems(taken));
                var after = taken.Divisions.SelectMany(d => d.Blocks).ToDictionary(b => b.Id);
                foreach (var block in manual.Divisions.SelectMany(d => d.Blocks))
                {
                    if (!after.TryGetValue(block.Id, out var now))
                        continue;
                    Assert.Equal(block.AppliesTo.IsAlways, now.AppliesTo.IsAlways);
                    // Parts that the source took out take their entries along.
                    var ids = Ids(now).ToHashSet();
                    if (Ids(block).All(ids.Contains))
                        Assert.Subset(
                            now.Inlines().OfType<IndexEntry>().Select(e => e.Id).ToHashSet(),
                            block
                                .Inlines()
                                .OfType<IndexEntry>()
                                .Where(e => e.Id.Value.StartsWith("own", StringComparison.Ordinal))
                                .Select(e => e.Id)
                                .ToHashSet()
                        );
                }
            },
            iter: 300
        );

    [Fact]
    public void A_chapter_that_is_new_brings_its_title_as_a_head()
    {
        var (manual, was) = BroughtIn();
        Division[] newer =
        [
            .. Shaped("two", First()),
            new Division(new Id("more"), DivisionKind.Chapter, "Washers", [new Paragraph(new Id("w"), "body", [new TextRun("Copper.")])]),
        ];
        var comparison = NewerVersion.Compare(was, newer, manual);
        var taken = Take(manual, comparison);
        Assert.Equal(["Washers", "Copper."], taken.Divisions[^1].Blocks.TakeLast(2).Select(b => b.OwnSpans().Single().PlainText()));
        Assert.Empty(NewerVersion.Compare([.. comparison.AsNow], newer, taken).Differences);
    }
}
