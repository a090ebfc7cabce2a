using Kivren.Core.Content;
using Kivren.Core.LooseEnds;
using Kivren.Formats.Docx;
using Kivren.Formats.Generator;
using Kivren.Formats.Import;
using Kivren.Formats.Package;
using Kivren.Formats.Patterns;

namespace Kivren.Formats.Tests;

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
        return (
            new Manual(new Id("m"), "M", divisions),
            divisions.SelectMany(d => d.Blocks.Select(b => new BroughtInBlock(d.Id, b))).ToArray()
        );
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
        Assert.Equal(was[0].Block.Id, differences[0].Id);
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
        var differences = NewerVersion.Compare(was, Shaped("two", Second()), manual).Differences;
        var taken = NewerVersion
            .Take(manual, differences, new HashSet<string> { differences[0].Id.Value, differences[1].Id.Value })
            .Divisions[0]
            .Blocks;
        var now = (Paragraph)taken[0];
        Assert.Equal((text.Id, false), (now.Id, now.AppliesTo.IsAlways));
        Assert.Equal("The case holds 1.6 litres of oil, drained while it is warm.", now.Content.PlainText());
        Assert.Equal("The case holds 1.6 litres of oil", ((TextRun)now.Content[0]).Text);
        Assert.Equal(entry, now.Content[1]);
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
        var differences = NewerVersion.Compare(was, Shaped("two", Second()), manual).Differences;
        var after = NewerVersion
            .Take(manual, differences, differences.Select(d => d.Id.Value).ToHashSet())
            .Divisions[0]
            .Blocks.OfType<Steps>()
            .Single();
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
        var now = NewerVersion.Take(manual, second.Differences, second.Differences.Select(d => d.Id.Value).ToHashSet());
        Assert.Empty(NewerVersion.Compare(second.AsNow.ToArray(), Shaped("three", Second()), now).Differences);
    }

    // ---- patterns ----

    public static TheoryData<string> Names() => [.. ShippedPatterns.All.Select(p => p.Name)];

    [Theory]
    [MemberData(nameof(Names))]
    public void A_manual_from_a_pattern_has_its_own_ids_the_texts_given_and_no_loose_ends(string name)
    {
        var pattern = ShippedPatterns.All.Single(p => p.Name == name);
        var n = 0;
        var made = pattern
            .NewManual("Landing stages", pattern.Asks.ToDictionary(a => a.Name, a => "given " + a.Name), () => "n" + ++n)
            .Manual;
        Assert.Equal("Landing stages", made.Title);
        Assert.All(made.Variables, v => Assert.Equal("given " + v.Name, v.Text));
        Assert.Empty(
            made.Divisions.SelectMany(d => d.Blocks)
                .SelectMany(b => b.WithInner())
                .Select(b => b.Id)
                .Intersect(pattern.Package.Manual.Divisions.SelectMany(d => d.Blocks).SelectMany(b => b.WithInner()).Select(b => b.Id))
        );
        Assert.Contains(made.Divisions.SelectMany(d => d.Blocks), b => b.FixedBy == name);
        var composed = Core.Composition.Composer.Compose(made, Edition.Whole, Core.Looks.ShippedLooks.Named(made.Look));
        Assert.Equal([], composed.LooseEnds.Select(l => $"{l.Kind}: {l.Words}"));
    }

    [Fact]
    public void What_is_new_in_the_model_survives_a_package_to_the_byte()
    {
        var manual = new Manual(
            new Id("m"),
            "M",
            [
                new Division(
                    new Id("d"),
                    DivisionKind.Chapter,
                    "Winch",
                    [
                        new Paragraph(
                            new Id("p"),
                            "body",
                            [
                                new TextRun("LW-2207", SpanRoles.PartNumber) { OwnRole = "spare" },
                                new WriterNote(new Id("w"), "Ida", "Eight?"),
                            ]
                        )
                        {
                            FixedBy = "Code",
                            OwnRole = "pilot’s remark",
                        },
                    ]
                )
                {
                    State = WorkState.Final,
                },
            ]
        )
        {
            Roles = [new OwnRole("spare", "partNumber"), new OwnRole("pilot’s remark", "body")],
        };
        byte[] Bytes(Package.Package package)
        {
            using var stream = new MemoryStream();
            PackageWriter.Write(package, stream);
            return stream.ToArray();
        }
        var first = Bytes(new Package.Package(manual, new Dictionary<string, byte[]>()));
        using var again = new MemoryStream(first);
        var read = PackageReader.Read(again, []);
        Assert.Equal(first, Bytes(read));
        Assert.Equal(
            (WorkState.Final, "Code", "pilot’s remark"),
            (read.Manual.Divisions[0].State, read.Manual.Divisions[0].Blocks[0].FixedBy, read.Manual.Divisions[0].Blocks[0].OwnRole)
        );
        Assert.Equal(manual.Roles, read.Manual.Roles);
    }
}
