using DocumentFormat.OpenXml;
using DocumentFormat.OpenXml.Packaging;
using DocumentFormat.OpenXml.Wordprocessing;
using Kivren.Core.Content;
using Kivren.Core.Looks;
using Kivren.Formats.Docx;
using Kivren.Formats.Import;

namespace Kivren.Formats.Tests;

/// <summary>A look taken from a word-processor template.</summary>
public class DocumentLookTests
{
    private static byte[] Template(Action<MainDocumentPart>? more = null, string section = "")
    {
        using var stream = new MemoryStream();
        using (var document = WordprocessingDocument.Create(stream, WordprocessingDocumentType.Template))
        {
            var main = document.AddMainDocumentPart();
            main.Document = new Document(new Body());
            var styles = main.AddNewPart<StyleDefinitionsPart>();
            styles.Styles = new Styles(
                """
                <w:styles xmlns:w="http://schemas.openxmlformats.org/wordprocessingml/2006/main">
                  <w:docDefaults><w:rPrDefault><w:rPr><w:sz w:val="21"/></w:rPr></w:rPrDefault></w:docDefaults>
                  <w:style w:type="paragraph" w:default="1" w:styleId="Normal"><w:name w:val="Normal"/>
                    <w:pPr><w:spacing w:line="260" w:lineRule="exact" w:after="120"/><w:jc w:val="both"/></w:pPr>
                    <w:rPr><w:rFonts w:ascii="Fjordskrift"/></w:rPr></w:style>
                  <w:style w:type="paragraph" w:styleId="H1"><w:name w:val="heading 1"/><w:basedOn w:val="Normal"/>
                    <w:pPr><w:jc w:val="center"/></w:pPr><w:rPr><w:rFonts w:ascii="Fjordgrotesk"/><w:b/><w:sz w:val="48"/></w:rPr></w:style>
                  <w:style w:type="paragraph" w:styleId="H2"><w:name w:val="heading 2"/><w:basedOn w:val="H1"/>
                    <w:pPr><w:spacing w:before="400"/></w:pPr><w:rPr><w:sz w:val="32"/></w:rPr></w:style>
                  <w:style w:type="paragraph" w:styleId="Round"><w:name w:val="caption"/><w:basedOn w:val="Round"/>
                    <w:rPr><w:i/></w:rPr></w:style>
                </w:styles>
                """
            );
            var fonts = main.AddNewPart<FontTablePart>();
            fonts.Fonts = new DocumentFormat.OpenXml.Wordprocessing.Fonts(
                """
                <w:fonts xmlns:w="http://schemas.openxmlformats.org/wordprocessingml/2006/main">
                  <w:font w:name="Fjordskrift"><w:family w:val="roman"/></w:font>
                  <w:font w:name="Fjordgrotesk"><w:family w:val="swiss"/></w:font>
                </w:fonts>
                """
            );
            main.Document.Body!.Append(
                new SectionProperties(
                    $"""
                    <w:sectPr xmlns:w="http://schemas.openxmlformats.org/wordprocessingml/2006/main"
                              xmlns:r="http://schemas.openxmlformats.org/officeDocument/2006/relationships">{section}
                      <w:pgSz w:w="9978" w:h="14173"/>
                      <w:pgMar w:top="1134" w:bottom="1417" w:left="1134" w:right="850" w:header="567" w:footer="567" w:gutter="0"/>
                    </w:sectPr>
                    """
                )
            );
            more?.Invoke(main);
        }
        return stream.ToArray();
    }

    [Fact]
    public void Paper_margins_and_styles_become_layouts_and_dress()
    {
        var (look, report, _) = DocumentLook.Take("house.dotx", Template(), "House");
        Assert.Equal("House", look.Name);
        Assert.Equal((498.9, 708.65), (look.Master.Width.InPoints, look.Master.Height.InPoints));
        Assert.Equal((56.7, 42.5), (look.Master.Inner.InPoints, look.Master.Outer.InPoints));
        Assert.Equal((10.5, 13, 6), (look.Body.Size.InPoints, look.Body.Leading.InPoints, look.Body.After.InPoints));
        Assert.Equal(Kivren.Core.Type.Alignment.Justified, look.Body.Alignment);
        Assert.Equal((24, 16), (look.DivisionTitle.Size.InPoints, look.HeadDress(HeadLevel.A).Size.InPoints));
        Assert.Equal(Kivren.Core.Type.Alignment.Centred, look.DivisionTitle.Alignment);
        Assert.Equal(20, look.HeadDress(HeadLevel.A).Before.InPoints);
        // Of a style that is founded on itself the rest is as the document has it.
        Assert.Equal(10.5, look.Caption.Size.InPoints);
        Assert.Contains(report, r => r.Contains("the serif face for “Fjordskrift”", StringComparison.Ordinal));
        Assert.Contains(report, r => r.StartsWith("Division titles: the sans face for “Fjordgrotesk”", StringComparison.Ordinal));
        Assert.Equal(LookFile.Write(look), LookFile.Write(LookFile.Read(LookFile.Write(look), out _)!));
    }

    [Fact]
    public void Running_heads_become_fields_with_their_sources()
    {
        var bytes = Template(
            main =>
            {
                var header = main.AddNewPart<HeaderPart>("rIdH");
                header.Header = new Header(
                    """
                    <w:hdr xmlns:w="http://schemas.openxmlformats.org/wordprocessingml/2006/main"><w:p>
                      <w:r><w:t>Lake {ferries}</w:t></w:r><w:r><w:tab/></w:r><w:r><w:tab/></w:r>
                      <w:r><w:fldChar w:fldCharType="begin"/></w:r><w:r><w:instrText> STYLEREF "heading 2" </w:instrText></w:r>
                      <w:r><w:fldChar w:fldCharType="separate"/></w:r><w:r><w:t>old words</w:t></w:r>
                      <w:r><w:fldChar w:fldCharType="end"/></w:r>
                    </w:p></w:hdr>
                    """
                );
                var footer = main.AddNewPart<FooterPart>("rIdF");
                footer.Footer = new Footer(
                    """
                    <w:ftr xmlns:w="http://schemas.openxmlformats.org/wordprocessingml/2006/main"><w:p><w:pPr><w:jc w:val="center"/></w:pPr>
                      <w:fldSimple w:instr=" PAGE "><w:r><w:t>7</w:t></w:r></w:fldSimple><w:r><w:t xml:space="preserve"> of </w:t></w:r>
                      <w:fldSimple w:instr="NUMPAGES"><w:r><w:t>9</w:t></w:r></w:fldSimple>
                    </w:p></w:ftr>
                    """
                );
            },
            """<w:headerReference w:type="default" r:id="rIdH"/><w:footerReference w:type="default" r:id="rIdF"/>"""
        );
        var look = DocumentLook.Take("house.dotx", bytes, "House").Look;
        Assert.Equal(
            [
                (PageEdge.Head, FieldPlace.Left, "Lake (ferries)"),
                (PageEdge.Head, FieldPlace.Right, "{head:A}"),
                (PageEdge.Foot, FieldPlace.Centre, "{folio} of {total}"),
            ],
            look.Master.Fields.Select(f => (f.Edge, f.Place, f.Pattern))
        );
    }

    [Fact]
    public void What_cannot_be_worn_stays_as_it_was_and_is_told()
    {
        var bytes = Template(main =>
            main.StyleDefinitionsPart!.Styles!.Elements<Style>().First(s => s.StyleId == "H1").StyleRunProperties!.FontSize!.Val = "900"
        );
        var (look, report, _) = DocumentLook.Take("house.dotx", bytes, "House");
        Assert.Equal(ShippedLooks.Workshop.DivisionTitle.Size, look.DivisionTitle.Size);
        Assert.Contains(report, r => r.StartsWith("Not taken: division titles.", StringComparison.Ordinal));
    }

    private const string HouseStyles = """
        <w:styles xmlns:w="http://schemas.openxmlformats.org/wordprocessingml/2006/main">
          <w:style w:type="paragraph" w:customStyle="1" w:styleId="LfBody"><w:name w:val="Fjord Main"/>
            <w:pPr><w:keepLines/></w:pPr><w:rPr><w:rFonts w:ascii="Fjordskrift"/><w:sz w:val="19"/></w:rPr></w:style>
          <w:style w:type="paragraph" w:customStyle="1" w:styleId="Rig"><w:name w:val="Rigger’s margin"/>
            <w:pPr><w:pBdr><w:top w:val="single" w:sz="8" w:space="3" w:color="1F3A5F"/></w:pBdr><w:shd w:fill="E8DCC0"/></w:pPr>
            <w:rPr><w:caps/><w:color w:val="1F3A5F"/><w:spacing w:val="10"/><w:sz w:val="18"/></w:rPr></w:style>
          <w:style w:type="paragraph" w:customStyle="1" w:styleId="Warn"><w:name w:val="Fjord Warning"/>
            <w:rPr><w:sz w:val="17"/></w:rPr></w:style>
          <w:style w:type="character" w:customStyle="1" w:styleId="Panel"><w:name w:val="Panel words"/>
            <w:rPr><w:color w:val="8A1F1F"/></w:rPr></w:style>
          <w:style w:type="character" w:customStyle="1" w:styleId="Knot"><w:name w:val="Knot name"/>
            <w:rPr><w:smallCaps/></w:rPr></w:style>
        </w:styles>
        """;

    private static byte[] House(Action<MainDocumentPart>? more = null) =>
        Template(main =>
        {
            foreach (var style in new Styles(HouseStyles).Elements<Style>())
                main.StyleDefinitionsPart!.Styles!.Append(style.CloneNode(true));
            more?.Invoke(main);
        });

    [Fact]
    public void Styles_of_the_house_dress_roles_and_make_roles_of_their_own()
    {
        var (look, report, _) = DocumentLook.Take("house.dotx", House(), "House");
        var own = look.Dresses.Single(d => d.Role == "Rigger’s margin").Dress;
        Assert.Equal((9, 1, 3, .5), (own.Size.InPoints, own.RuleAbove.InPoints, own.RuleGap.InPoints, own.Tracking.InPoints));
        Assert.True(own.Features.HasFlag(Kivren.Core.Type.Features.Capitals));
        Assert.Equal("#1f3a5f", look.Colours.Single(c => c.Name == own.Colour).Screen);
        Assert.Equal((own.Colour, "#e8dcc0"), (own.RuleColour, look.Colours.Single(c => c.Name == own.TintColour).Screen));
        Assert.Equal(8.5, look.AdmonitionText.Size.InPoints);
        Assert.Equal("#8a1f1f", look.Colours.Single(c => c.Name == look.Spans.Single(s => s.Role == "control").Colour).Screen);
        Assert.True(look.Spans.Single(s => s.Role == "Knot name").SmallCapitals);
        Assert.Contains(report, r => r.StartsWith("The role Rigger’s margin: ", StringComparison.Ordinal));
        // Nothing is known of this style: it is a role of its own too, and not the text.
        Assert.Contains(look.Dresses, d => d.Role == "Fjord Main");
        Assert.Equal(10.5, look.Body.Size.InPoints);
    }

    [Fact]
    public void The_mapping_that_knows_most_of_its_styles_says_what_they_are()
    {
        var other = new ImportMapping("Other") { Roles = new Dictionary<string, string> { ["p:Strange"] = "body" } };
        var mapping = new ImportMapping("Fjord")
        {
            Roles = new Dictionary<string, string>
            {
                ["p:Fjord Main"] = "body",
                ["p:Rigger’s margin"] = "aside",
                ["c:Knot name"] = "term",
            },
        };
        var (look, report, _) = DocumentLook.Take("house.dotx", House(), "House", other, mapping);
        Assert.Equal(9.5, look.Body.Size.InPoints);
        Assert.True(look.Body.Together);
        Assert.Equal(9, look.AsideText.Size.InPoints);
        Assert.True(look.Spans.Single(s => s.Role == "term").SmallCapitals);
        Assert.DoesNotContain(look.Dresses, d => d.Role is "Rigger’s margin" or "Fjord Main");
        Assert.Contains(report, r => r.Contains("“Fjord”", StringComparison.Ordinal));
    }

    /// <summary>A font file as documents hide it (ISO/IEC 29500-1, 17.8.1).</summary>
    private static void Embed(MainDocumentPart main, string font, byte[] bytes)
    {
        var key = new Guid("5D2F6A10-7C41-4E0B-9A3D-1B2C3D4E5F60");
        var hidden = bytes.ToArray();
        var digits = Convert.FromHexString(key.ToString("N")).Reverse().ToArray();
        for (var i = 0; i < 32; i++)
            hidden[i] ^= digits[i % 16];
        var part = main.FontTablePart!.AddNewPart<FontPart>("application/vnd.openxmlformats-officedocument.obfuscatedFont", "rIdF1");
        part.FeedData(new MemoryStream(hidden));
        var entry = main.FontTablePart.Fonts!.Elements<Font>().First(f => f.Name == font);
        entry.Append(new EmbedRegularFont { Id = "rIdF1", FontKey = key.ToString("B").ToUpperInvariant() });
    }

    [Fact]
    public void A_font_file_that_came_along_is_a_face_of_the_house()
    {
        var bytes = Kivren.Core.Type.FaceLibrary.Sans.Bytes;
        var (look, _, fonts) = DocumentLook.Take("house.dotx", Template(main => Embed(main, "Fjordskrift", bytes)), "House");
        var face = Assert.Single(look.Faces);
        Assert.Equal("Fjordskrift", face.Name);
        Assert.Equal(Convert.ToHexStringLower(System.Security.Cryptography.SHA256.HashData(bytes)), Assert.Single(fonts).Hash);
        Assert.Equal(("Fjordskrift", true), (look.Body.Faces.Name, look.Body.Plain.Face.IsOfHouse));
        Assert.Equal(["serif"], face.StandIns);
    }

    [Fact]
    public void A_font_file_that_cannot_be_read_is_told_and_another_face_stands_in()
    {
        var (look, report, fonts) = DocumentLook.Take("house.dotx", Template(main => Embed(main, "Fjordskrift", new byte[4_000])), "House");
        Assert.Empty(look.Faces);
        Assert.Empty(fonts);
        Assert.Equal("serif", look.Body.Faces.Name);
        Assert.Contains(report, r => r.StartsWith("Not taken: the font file of “Fjordskrift”.", StringComparison.Ordinal));
    }

    [Theory]
    [InlineData("D0CF11E0", "protected")]
    [InlineData("00010203", "")]
    [InlineData("", "")]
    public void What_is_no_document_is_told(string bytes, string says)
    {
        var e = Assert.Throws<SourceFormatException>(() => DocumentLook.Take("x.docx", Convert.FromHexString(bytes), "X"));
        Assert.Contains(says, e.Message, StringComparison.Ordinal);
    }
}
