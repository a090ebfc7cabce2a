using System.Buffers.Binary;
using System.Text.Json.Nodes;
using Kivren.Core.Composition;
using Kivren.Core.Content;
using Kivren.Core.Looks;
using Kivren.Core.LooseEnds;
using Kivren.Core.Type;
using Kivren.Formats.Fonts;
using Kivren.Formats.Package;
using Kivren.Formats.Pdf;

namespace Kivren.Formats.Tests;

/// <summary>Font files of a house: read, judged by the rights their makers give, carried with the look, put into files.</summary>
public class HouseFaceTests
{
    /// <summary>A face that ships, as a house's own file: with other rights, and so with another hash.</summary>
    private static byte[] File(int rights, int mark = 0)
    {
        var bytes = (byte[])FaceLibrary.SansBold.Bytes.Clone();
        for (var t = 0; t < BinaryPrimitives.ReadUInt16BigEndian(bytes.AsSpan(4)); t++)
        {
            var entry = bytes.AsSpan(12 + 16 * t, 16);
            var at = (int)BinaryPrimitives.ReadUInt32BigEndian(entry[8..]);
            if (entry[..4].SequenceEqual("OS/2"u8))
                BinaryPrimitives.WriteUInt16BigEndian(bytes.AsSpan(at + 8), (ushort)rights);
            // The checksum of the whole stands for nothing that is read.
            else if (entry[..4].SequenceEqual("head"u8))
                BinaryPrimitives.WriteInt32BigEndian(bytes.AsSpan(at + 8), mark);
        }
        return bytes;
    }

    private static Look Wearing(string text) =>
        LookFile.Read(text, out var faults) is { } look && faults.Count == 0
            ? look
            : throw new Xunit.Sdk.XunitException(string.Join('\n', faults));

    private static string LookOf(FontFile file)
    {
        var look = JsonNode.Parse(LookFile.Write(ShippedLooks.Workshop))!.AsObject();
        look["name"] = "House";
        look["faces"] = new JsonArray(
            new JsonObject
            {
                ["name"] = "House Sans",
                ["regular"] = new JsonObject { ["hash"] = file.Hash, ["called"] = file.Called },
                ["standIns"] = new JsonArray("sans"),
            }
        );
        look["heads"]![0]!["face"] = "House Sans";
        return look.ToJsonString();
    }

    private static readonly Manual Text = new(
        new Id("m"),
        "House",
        [
            new Division(
                new Id("a"),
                DivisionKind.Chapter,
                "Winch",
                [
                    new Head(new Id("h"), HeadLevel.A, [new TextRun("Bänder ⚓ Ω")]),
                    new Paragraph(new Id("p"), "body", [new TextRun("Text.")]),
                ]
            ),
        ]
    );

    [Theory]
    [InlineData(0x0002, "does not allow it to be put into documents")]
    [InlineData(0x0200, "allows pictures of its letters alone")]
    public void What_its_maker_forbids_is_refused(int rights, string says) =>
        Assert.Contains(
            says,
            Assert.Throws<FontFormatException>(() => FontReader.Read("f.ttf", File(rights, rights))).Message,
            StringComparison.Ordinal
        );

    [Fact]
    public void What_is_no_font_that_can_be_used_is_refused_with_why()
    {
        static string Why(byte[] bytes) => Assert.Throws<FontFormatException>(() => FontReader.Read("x.ttf", bytes)).Message;
        var whole = File(0, 77);
        Assert.Contains("no font file", Why([]), StringComparison.Ordinal);
        Assert.Contains("no font file", Why("This is text and no font."u8.ToArray()), StringComparison.Ordinal);
        Assert.Contains("packed for the web", Why([.. "wOF2"u8, .. new byte[60]]), StringComparison.Ordinal);
        Assert.Contains("several faces", Why([.. "ttcf"u8, .. new byte[60]]), StringComparison.Ordinal);
        Assert.Contains("larger than", Why(new byte[FontReader.MostBytes + 1]), StringComparison.Ordinal);
        foreach (var length in new[] { 20, 400, 5_000, whole.Length / 2 })
            Assert.StartsWith("x.ttf: ", Why(whole[..length]), StringComparison.Ordinal);
        // Whatever stands in it, it is read or refused; nothing else happens.
        var random = new Random(5);
        for (var n = 0; n < 60; n++)
        {
            var damaged = (byte[])whole.Clone();
            for (var k = 0; k < 40; k++)
                damaged[random.Next(damaged.Length)] = (byte)random.Next(256);
            try
            {
                FontReader.Read("x.ttf", damaged);
            }
            catch (FontFormatException) { }
        }
    }

    [Fact]
    public void A_houses_face_is_set_and_what_it_lacks_in_its_stand_in_and_both_are_said()
    {
        var file = FontReader.Read("Firm.ttf", File(4, 1));
        var look = Wearing(LookOf(file));
        var composed = Composer.Compose(Text, Edition.Whole, look);
        var faces = composed
            .Pages.SelectMany(p => Core.Display.DisplayList.Of(p, look).Items)
            .OfType<Core.Display.WordItem>()
            .Where(w => w.Block.Value == "h")
            .Select(w => w.Word.Style.Face)
            .Distinct()
            .ToList();
        Assert.Contains(FaceFiles.Find(file.Hash), faces);
        Assert.Contains(FaceLibrary.Symbols, faces);
        var doubt = Assert.Single(LookDoubts.Of(composed), d => d.Place == "faces[0]");
        Assert.Contains("⚓", doubt.Says, StringComparison.Ordinal);
        Assert.DoesNotContain("ä", doubt.Says, StringComparison.Ordinal);
    }

    [Fact]
    public void A_file_that_is_not_here_has_its_stand_in_until_it_comes()
    {
        var bytes = File(8, 2);
        var file = new FontFile(Convert.ToHexStringLower(System.Security.Cryptography.SHA256.HashData(bytes)), "Later.ttf");
        var text = LookOf(file);
        var manual = Text with { Look = "House", LookFile = text };
        Assert.Equal(FaceLibrary.Sans, WornLook.Of(manual).Heads[0].Plain.Face);
        Assert.Contains(LookDoubts.Of(Composer.Compose(manual, Edition.Whole, WornLook.Of(manual))), d =>
            d.Says.Contains("“Later.ttf” of “House Sans” is not here", StringComparison.Ordinal)
        );
        FontReader.Read("Later.ttf", bytes);
        Assert.Equal(FaceFiles.Find(file.Hash), WornLook.Of(manual).Heads[0].Plain.Face);
    }

    /// <param name="rights">0x100 forbids to cut the file down</param>
    [Theory]
    [InlineData(0, true)]
    [InlineData(0x100, false)]
    public void It_goes_into_files_cut_down_where_that_is_allowed(int rights, bool cut)
    {
        var file = FontReader.Read("Firm.ttf", File(rights, 3));
        var composed = Composer.Compose(Text, Edition.Whole, Wearing(LookOf(file)));
        using var output = new MemoryStream();
        PdfWriter.Write(composed, _ => null, output);
        using var pdf = UglyToad.PdfPig.PdfDocument.Open(output.ToArray());
        var names = pdf.GetPages().SelectMany(p => p.Letters).Select(l => l.FontName!).Distinct().ToList();
        var name = Assert.Single(names, n => n.Contains("SourceSans3-700", StringComparison.Ordinal));
        Assert.Equal(cut, name.Contains('+', StringComparison.Ordinal));
        Assert.Contains("Bänder", string.Join(' ', pdf.GetPages().Select(p => p.Text)), StringComparison.Ordinal);
    }

    [Fact]
    public void A_package_and_a_look_that_is_given_away_have_the_file_in_them()
    {
        var file = FontReader.Read("Firm.ttf", File(0, 4));
        var look = Wearing(LookOf(file));
        using var package = new MemoryStream();
        PackageWriter.Write(new Package.Package(Text.Wearing(look), new Dictionary<string, byte[]>()), package);
        using (var zip = new System.IO.Compression.ZipArchive(package, System.IO.Compression.ZipArchiveMode.Read, leaveOpen: true))
            Assert.NotNull(zip.GetEntry($"fonts/{file.Hash}.font"));
        package.Position = 0;
        var problems = new List<ReadProblem>();
        Assert.Equal("House", PackageReader.Read(package, problems).Manual.Look);
        Assert.Empty(problems);

        var parcel = LookParcel.Pack(look);
        var told = new List<string>();
        Assert.Equal(LookFile.Write(look), LookFile.Write(Wearing(LookParcel.Open(parcel, told))));
        Assert.Empty(told);
        // Not a font in it: told by its name, and the look is read all the same.
        var bad = parcel.Replace(Convert.ToBase64String(FaceFiles.Find(file.Hash)!.Bytes), "AAAA", StringComparison.Ordinal);
        Wearing(LookParcel.Open(bad, told));
        Assert.Contains("Firm.ttf", Assert.Single(told), StringComparison.Ordinal);
        Assert.Equal("no look", LookParcel.Open("no look", told));
    }
}
