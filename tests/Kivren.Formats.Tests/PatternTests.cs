using Kivren.Core.Content;
using Kivren.Formats.Package;
using Kivren.Formats.Patterns;

namespace Kivren.Formats.Tests;

public class PatternTests
{
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
